// Package mend changes the outlines of artwork between reading and sizing:
// deeds, one after the other, on top of a sheet that stays as it is, and
// findings, each with the deed that would put it right.
//
// The guarantees:
//  1. A deed changes no shape that it does not name, but for those it makes,
//     and those below a hole.
//  2. A deed that does not find what it is about, or would leave nothing of a
//     shape, changes nothing and says so (Refusal).
//  3. Curves that a deed does not touch keep their numbers to the bit; where
//     outlines are cut or joined, what is left of a curve is a piece of it.
//  4. Results depend on nothing but the input.
//
// Places are in px of the page, y down; lengths in mm at the final size.
package mend

import (
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/read/font"
)

// Work is a sheet while it is mended. Deeds return a changed copy.
type Work struct {
	Sheet   *artwork.Sheet
	In      []bool          // of each shape: does it take part?
	Color   []artwork.Color // of each shape, as it was decided
	PxPerMM float64         // of the page at the final size
	Origin  geom.Vec        // of the grid, px: the middle of what takes part
	Grid    float64         // px a grid unit
	Fonts   *font.Library   // for lettering; nil for the shipped ones
	Stop    func() bool     // whether nobody waits any more; nil for never
}

// New begins the mending of a sheet.
func New(s *artwork.Sheet, in []bool, color []artwork.Color, pxPerMM float64) *Work {
	box := geom.EmptyBox()
	for i := range s.Shapes {
		if in[i] {
			box = box.Union(s.Shapes[i].Reach())
		}
	}
	w := &Work{Sheet: s, In: in, Color: color, PxPerMM: pxPerMM}
	far := 1e-6
	if !box.Empty() {
		far, w.Origin = math.Max(far, math.Max(box.W(), box.H())/2), box.Center()
	}
	// Within 2^23 units, so that outlines may grow eightfold.
	_, exp := math.Frexp(far / (1 << 23))
	w.Grid = math.Ldexp(1, exp)
	return w
}

// tol returns how far flattened curves depart from the true ones, px: about a
// twenty-thousandth of the artwork, 5 micrometres of 10 cm.
func (w *Work) tol() float64 { return w.Grid * 256 }

// px returns a length of mm on the page, units the same on the grid.
func (w *Work) px(mm float64) float64    { return mm * w.PxPerMM }
func (w *Work) units(mm float64) float64 { return mm * w.PxPerMM / w.Grid }
func (w *Work) mm(units float64) float64 { return units * w.Grid / w.PxPerMM }

// onGrid returns the grid point nearest to a place.
func (w *Work) onGrid(v geom.Vec) plane.Point {
	return plane.Snap([][]geom.Vec{{v}}, w.toGrid)[0][0]
}

func (w *Work) toGrid(v geom.Vec) (x, y float64) {
	return (v.X - w.Origin.X) / w.Grid, (v.Y - w.Origin.Y) / w.Grid
}

// place is the inverse of onGrid.
func (w *Work) place(p plane.Point) geom.Vec {
	return w.fromGrid(vecOf(p))
}

// fromGrid returns the place of a point in grid units.
func (w *Work) fromGrid(v geom.Vec) geom.Vec { return w.Origin.Add(v.Mul(w.Grid)) }

func (w *Work) clone() *Work {
	out := *w
	sheet := *w.Sheet
	sheet.Shapes = slices.Clone(sheet.Shapes)
	out.Sheet = &sheet
	out.In, out.Color = slices.Clone(w.In), slices.Clone(w.Color)
	return &out
}

// Find returns the index of the shape with a key, or -1.
func (w *Work) Find(key string) int {
	return slices.IndexFunc(w.Sheet.Shapes, func(s artwork.Shape) bool { return s.Key == key })
}

// remove takes shapes out, by index.
func (w *Work) remove(which ...int) {
	gone := map[int]bool{}
	for _, i := range which {
		gone[i] = true
	}
	k := 0
	for i := range w.Sheet.Shapes {
		if gone[i] {
			continue
		}
		w.Sheet.Shapes[k], w.In[k], w.Color[k] = w.Sheet.Shapes[i], w.In[i], w.Color[i]
		k++
	}
	w.Sheet.Shapes, w.In, w.Color = w.Sheet.Shapes[:k], w.In[:k], w.Color[:k]
}

// insert puts a shape at an index, painted in its own colour.
func (w *Work) insert(at int, sh artwork.Shape) {
	w.Sheet.Shapes = slices.Insert(w.Sheet.Shapes, at, sh)
	w.In = slices.Insert(w.In, at, true)
	w.Color = slices.Insert(w.Color, at, sh.Color)
}

// setContours makes a shape a plain filled area of the given contours on the
// page.
func (w *Work) setContours(i int, list []geom.Contour) {
	sh := w.Sheet.Shapes[i]
	sh.Contours, sh.Matrix, sh.EvenOdd, sh.Stroke, sh.Clips = list, geom.Identity, false, nil, nil
	w.Sheet.Shapes[i] = sh
}

// setRegion makes a shape the area of a region that was made from the outlines
// in src.
func (w *Work) setRegion(i int, r plane.Region, src *sources) {
	w.setContours(i, w.contours(withoutSlivers(r), src))
}

// withoutSlivers drops pieces and holes that are on the average no wider than a
// few grid units: roundings where outlines run along each other.
func withoutSlivers(r plane.Region) plane.Region {
	var out plane.Region
	for _, p := range r {
		if sliver(p.Outer) {
			continue
		}
		p.Holes = slices.DeleteFunc(slices.Clone(p.Holes), sliver)
		out = append(out, p)
	}
	return out
}

func sliver(l plane.Loop) bool { return thinnerThan(l, 20) }

// thinnerThan reports whether a loop is on the average no wider than so many grid units.
func thinnerThan(l plane.Loop, width float64) bool {
	return math.Abs(float64(l.Area2())) < width*lengthOf(l)
}

// lengthOf returns the length of a loop in grid units.
func lengthOf(l plane.Loop) float64 {
	sum := 0.0
	for i, p := range l {
		sum += vecOf(l[(i+1)%len(l)]).Sub(vecOf(p)).Len()
	}
	return sum
}

// region returns the area of a shape on the grid, clips applied, and notes in
// src, if not nil, which curves it comes from.
func (w *Work) region(i int, src *sources) (plane.Region, error) {
	return w.regionWithin(i, src, w.tol())
}

func (w *Work) regionWithin(i int, src *sources, tol float64) (plane.Region, error) {
	sh := &w.Sheet.Shapes[i]
	layer := plane.Layer{Rule: plane.RuleOf(sh.EvenOdd), Label: 1}
	if sh.Stroke != nil {
		layer.Loops = plane.Snap(sh.Outline(tol), w.toGrid)
	} else {
		layer.Loops = w.loops(sh.Contours, sh.Matrix, src, tol)
	}
	if len(sh.Clips) == 0 {
		if r, ok := plane.FillSimple(layer.Loops, layer.Rule); ok {
			return r, nil
		}
	}
	for _, c := range sh.Clips {
		a := &plane.Area{Outside: c.Outside}
		for _, it := range c.Items {
			loops := w.loops(it.Contours, it.Matrix, src, tol)
			a.Fills = append(a.Fills, plane.AreaFill{Loops: loops, Rule: plane.RuleOf(it.EvenOdd)})
		}
		layer.Clips = append(layer.Clips, a)
	}
	r, err := plane.Stack([]plane.Layer{layer}, w.Stop)
	return r[1], err
}

// loops flattens contours to the grid.
func (w *Work) loops(list []geom.Contour, m geom.Matrix, src *sources, tol float64) []plane.Loop {
	var out []plane.Loop
	for _, c := range list {
		c = c.Transform(m)
		l := plane.Snap([][]geom.Vec{c.Flatten(tol, nil)}, w.toGrid)[0]
		if src != nil {
			src.note(c, l, tol)
		}
		out = append(out, l)
	}
	return out
}

// fill returns the region of loops by the nonzero rule.
func fill(loops []plane.Loop) (plane.Region, error) {
	if r, ok := plane.FillSimple(loops, plane.NonZero); ok {
		return r, nil
	}
	return plane.Fill(loops, plane.NonZero)
}

// boxOf returns the box of a region on the page.
func (w *Work) boxOf(r plane.Region) geom.Box {
	lo, hi, ok := r.Bounds()
	if !ok {
		return geom.EmptyBox()
	}
	return geom.Box{Min: w.place(lo), Max: w.place(hi)}
}

// area returns the area of a region in mm2.
func (w *Work) area(r plane.Region) float64 {
	side := w.Grid / w.PxPerMM
	return float64(r.Area2()) / 2 * side * side
}

func vecOf(p plane.Point) geom.Vec { return geom.Vec{X: float64(p.X), Y: float64(p.Y)} }
