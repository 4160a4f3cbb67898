package mend

import (
	"fmt"
	"math"
	"sync"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// tipReach is how far from a tip in mm its angle is measured: what the eye and
// the finger take for the tip.
const tipReach = 0.3

// findTips finds corners of what is seen that are sharper than the limit.
func findTips(l *look) []Finding {
	var out []Finding
	owners := l.owners()
	corners := map[int]corners{}
	radius := tipRadius(l.limits)
	poll := progress.NewPoll(l.ctx)
	for i := range l.parts {
		l.parts[i].region.Loops(func(lp plane.Loop) {
			for k, p := range lp {
				poll.Tick()
				n := len(lp)
				a, b := vecOf(lp[(k+n-1)%n]).Sub(vecOf(p)), vecOf(lp[(k+1)%n]).Sub(vecOf(p))
				// Solid lies on the left: a tip turns left by nearly half a turn.
				if b.Cross(a) <= 0 || angleOf(a, b) > 60*math.Pi/180 {
					continue
				}
				far := l.units(tipReach)
				a, b = walk(lp, k, p, far, false).Sub(vecOf(p)), walk(lp, (k+n-1)%n, p, far, true).Sub(vecOf(p))
				angle := degrees(angleOf(a, b))
				if angle >= l.limits.Tip || a.Len() < far/2 || b.Len() < far/2 {
					continue
				}
				l.needed()
				own := owners.of(vecOf(p))
				if own < 0 || l.Color[l.taken[own]] != l.parts[i].color {
					continue
				}
				if corners[own] == nil {
					corners[own] = cornersOf(l.region[own])
				}
				if !corners[own].has(p) {
					continue // made by what lies on top
				}
				out = append(out, l.tip(own, l.place(p), angle, radius))
			}
		})
	}
	return out
}

func angleOf(a, b geom.Vec) float64 { return math.Abs(math.Atan2(a.Cross(b), a.Dot(b))) }

func (l *look) tip(k int, at geom.Vec, angle, radius float64) Finding {
	m := recipe.Mend{Do: "blunt", Shapes: []string{l.key(k)}, MM: []float64{radius}, At: [][2]float64{pair(at)}}
	flat := m
	flat.How = "flat"
	return Finding{
		Shapes: m.Shapes, At: at, Box: l.around(at, 1.5), Measure: fmt.Sprintf("tip %s°", units.Figure(units.Round(angle, 1))),
		Fixes: []Fix{
			fix(m, "Round the tip with a radius of %s", mmOf(radius)),
			fix(flat, "Cut the tip off where it is %s wide", mmOf(2*radius)),
		},
	}
}

// blunt rounds the tips at At with the radius MM[0], or cuts them flat there
// (How "flat").
func blunt(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	radius := w.units(m.MM[0])
	if !(radius > 0) {
		return refuse("a tip is blunted by a radius above nothing")
	}
	left := make([]plane.Point, len(m.At))
	for k, at := range m.At {
		left[k] = w.onGrid(vec(at))
	}
	done := false
	for _, i := range which {
		one, err := w.bluntAll(i, &left, radius, m.How)
		if err != nil {
			return err
		}
		done = done || one
	}
	if !done {
		return lost("the tip")
	}
	return nil
}

// bluntAll blunts the tips of a shape that are among some places, and takes these out of the list.
func (w *Work) bluntAll(i int, places *[]plane.Point, radius float64, how string) (bool, error) {
	src := newSources()
	r, err := w.region(i, src)
	if err != nil {
		return false, err
	}
	own := cornersOf(r)
	var all []plane.Region
	var rest []plane.Point
	cutter := newTipCutter(r, radius)
	narrow := sync.OnceValues(func() (plane.Region, error) { return w.narrowIn(r, radius, len(*places)) })
	for _, p := range *places {
		if w.Stop != nil && w.Stop() {
			return false, plane.ErrStopped
		}
		at, is := own.at(p)
		if !is {
			rest = append(rest, p)
			continue
		}
		off := cutter.cut(at)
		if off == nil {
			if off, err = w.roundedOff(r, at, radius, narrow); err != nil {
				return false, err
			}
		}
		if len(off) == 0 {
			continue
		}
		if how == "flat" {
			if off, err = flatTip(r, off, at, radius); err != nil {
				return false, err
			}
		}
		if off, err = w.rimmed(off); err != nil {
			return false, err
		}
		all = append(all, off)
	}
	met := len(rest) < len(*places)
	if *places = rest; !met {
		return false, nil
	}
	if len(all) == 0 {
		return false, refuse("the tip is blunter than that already")
	}
	off, err := union(all)
	if err != nil {
		return false, err
	}
	left, err := plane.CombineUntil(w.Stop, r, off, plane.Subtract)
	if err != nil {
		return false, err
	}
	if len(left) == 0 {
		return false, refuse("nothing would be left of %s; use a smaller radius", nameOf(&w.Sheet.Shapes[i]))
	}
	w.setRegion(i, left, src)
	return true, nil
}

// roundedOff finds what rounding takes off a tip that is not plain; narrow is asked first.
func (w *Work) roundedOff(r plane.Region, at plane.Point, radius float64, narrow func() (plane.Region, error)) (plane.Region, error) {
	all, err := narrow()
	if err != nil {
		return nil, err
	}
	if off := tipAmong(all, r, at, radius); off != nil {
		return off, nil
	}
	return w.tipBeyond(r, at, radius)
}

// manyTips is from how many tips on a shape is looked at as a whole and not at the surroundings of each.
const manyTips = 6

// narrowIn returns where no ball of the radius reaches, of a region of which many tips are blunted; else nothing.
func (w *Work) narrowIn(r plane.Region, radius float64, tips int) (plane.Region, error) {
	if tips < manyTips {
		return nil, nil
	}
	return w.beyond(r, radius)
}

// beyond returns what of a region lies where no ball of the radius reaches.
func (w *Work) beyond(r plane.Region, radius float64) (plane.Region, error) {
	open, err := w.roughly(r, -radius)
	if err != nil {
		return nil, err
	}
	// A little more than it was thinned by, lest roundings leave slivers
	// along the sides.
	if open, err = w.roughly(open, radius+4); err != nil {
		return nil, err
	}
	return plane.CombineUntil(w.Stop, r, open, plane.Subtract)
}

// tipAmong returns the tip at p among what is narrow, if it ends near to it; nil where it goes on.
func tipAmong(narrow, r plane.Region, p plane.Point, radius float64) plane.Region {
	if narrow == nil {
		return nil
	}
	for i := range narrow {
		one := narrow[i : i+1]
		if !hasPoint(one, p) {
			continue
		}
		lo, hi := reachOf(r, p, radius)
		a, b, _ := one.Bounds()
		if a.X > lo.X && a.Y > lo.Y && b.X < hi.X && b.Y < hi.Y {
			return one
		}
	}
	return nil
}

// corners are the vertices of a region by squares of the grid.
type corners map[[2]int32][]plane.Point

const cornerSquare = 8

func cornersOf(r plane.Region) corners {
	out := corners{}
	r.Loops(func(l plane.Loop) {
		for _, p := range l {
			c := [2]int32{p.X / cornerSquare, p.Y / cornerSquare}
			out[c] = append(out[c], p)
		}
	})
	return out
}

// has is hasPoint of the region.
func (c corners) has(p plane.Point) bool {
	_, is := c.at(p)
	return is
}

// at returns the vertex within a few grid units of a point.
func (c corners) at(p plane.Point) (plane.Point, bool) {
	for x := p.X/cornerSquare - 1; x <= p.X/cornerSquare+1; x++ {
		for y := p.Y/cornerSquare - 1; y <= p.Y/cornerSquare+1; y++ {
			for _, q := range c[[2]int32{x, y}] {
				if abs(q.X-p.X) < cornerSquare && abs(q.Y-p.Y) < cornerSquare {
					return q, true
				}
			}
		}
	}
	return p, false
}

// hasPoint reports whether a region has a vertex within a few grid units of p.
func hasPoint(r plane.Region, p plane.Point) bool {
	found := false
	r.Loops(func(l plane.Loop) {
		for _, q := range l {
			if abs(q.X-p.X) < cornerSquare && abs(q.Y-p.Y) < cornerSquare {
				found = true
			}
		}
	})
	return found
}

func abs(v int32) int32 { return max(v, -v) }

// tipBeyond returns what of a region lies around the tip p and where no ball of
// the radius reaches: opening by the radius, looked at near the tip alone.
func (w *Work) tipBeyond(r plane.Region, p plane.Point, radius float64) (plane.Region, error) {
	lo, hi := reachOf(r, p, radius)
	local, err := cropped(r, lo, hi)
	if err != nil {
		return nil, err
	}
	for _, poly := range local {
		piece := plane.Region{poly}
		if !hasPoint(piece, p) {
			continue
		}
		rest, err := w.beyond(piece, radius)
		if err != nil {
			return nil, err
		}
		for _, q := range rest {
			if hasPoint(plane.Region{q}, p) {
				return plane.Region{q}, nil
			}
		}
	}
	return nil, nil
}

// reachOf returns the box around a tip that is looked at: half more than where a ball of the radius lies in it,
// by the angle a few radii away; a tip of 2 degrees is cut 57 radii from its point.
func reachOf(r plane.Region, p plane.Point, radius float64) (lo, hi plane.Point) {
	far := 80.0
	r.Loops(func(l plane.Loop) {
		for k, q := range l {
			if q != p {
				continue
			}
			a := walk(l, k, p, 4*radius, false).Sub(vecOf(p))
			b := walk(l, (k+len(l)-1)%len(l), p, 4*radius, true).Sub(vecOf(p))
			if angle := angleOf(a, b); angle > 0 {
				far = math.Min(80, math.Max(12, 1.5/math.Sin(angle/2)))
			}
		}
	})
	d := int32(math.Ceil(far * radius))
	return plane.Point{X: p.X - d, Y: p.Y - d}, plane.Point{X: p.X + d, Y: p.Y + d}
}

// flatTip returns what a straight cut takes off a tip, of which off is the part
// that rounding would take: beyond where its sides are two radii apart.
func flatTip(r, off plane.Region, p plane.Point, radius float64) (plane.Region, error) {
	tip := vecOf(p)
	far := 0.0
	for _, q := range off[0].Outer {
		far = math.Max(far, vecOf(q).Sub(tip).Len())
	}
	mid, n := geom.Vec{}, 0.0
	for _, q := range off[0].Outer {
		if vecOf(q).Sub(tip).Len() > far*0.9 {
			mid, n = mid.Add(vecOf(q)), n+1
		}
	}
	dir := mid.Mul(1 / n).Sub(tip).Unit()
	side := dir.Left().Mul(2*radius + far)
	a, back := tip.Add(dir.Mul(far)), tip.Sub(dir.Mul(far))
	box := plane.Loop{}
	for _, v := range [4]geom.Vec{a.Add(side), back.Add(side), back.Sub(side), a.Sub(side)} {
		box = append(box, plane.Point{X: int32(math.Round(v.X)), Y: int32(math.Round(v.Y))})
	}
	if box.Area2() < 0 {
		box = reversed(box)
	}
	cut, err := plane.Combine(r, plane.Region{{Outer: box}}, plane.Intersect)
	if err != nil {
		return nil, err
	}
	for _, q := range cut {
		if hasPoint(plane.Region{q}, p) {
			return plane.Region{q}, nil
		}
	}
	return off, nil
}

// tipRadius is the radius in mm with which tips are rounded.
func tipRadius(l Limits) float64 { return math.Max(l.Thin/4, 0.05) }
