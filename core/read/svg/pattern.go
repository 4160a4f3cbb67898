package svg

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
	"bildhauer/core/read/trace"
)

// maxTiles bounds the copies of a pattern's cell in one shape.
const maxTiles = 2000

// cellOf returns how a paint's pattern finds its attributes: its own, then those of the
// patterns that it refers to; nil if the paint names no pattern.
func (r *reader) cellOf(paint string) (chain []*node, get func(name string) string) {
	p := r.reference(paint)
	if !strings.HasPrefix(paint, "url(") || p == nil || p.name != "pattern" {
		return nil, nil
	}
	for hops := 0; p != nil && hops < 20; hops++ {
		chain = append(chain, p)
		p = r.reference(p.attr("href"))
	}
	return chain, func(name string) string {
		for _, p := range chain {
			if v := p.attr(name); v != "" {
				return v
			}
		}
		return ""
	}
}

// usable returns a paint, or what stands behind it where its pattern has no extent.
func (r *reader) usable(paint string) string {
	_, get := r.cellOf(paint)
	if get == nil {
		return paint
	}
	for _, side := range [...]string{"width", "height"} {
		p := scanner{s: get(side)}
		if v, ok := p.number(); !ok || !(v > 0) {
			_, behind, _ := strings.Cut(paint, ")")
			if behind = trim(behind); behind == "" {
				behind = "none"
			}
			return behind
		}
	}
	return paint
}

// pattern fills a shape with copies of the cell that a paint names, cut to the
// shape. done is false when the paint names no pattern or the copies would be
// too many.
func (r *reader) pattern(
	s artwork.Shape,
	paint string,
	st *style,
	m geom.Matrix,
	box geom.Box,
	opacity float64,
	hidden bool,
	key string,
) (done bool, err error) {
	target := r.reference(paint)
	if !strings.HasPrefix(paint, "url(") || target == nil || target.name != "pattern" || s.Stroke != nil ||
		r.using[target] {
		return false, nil
	}
	chain, get := r.cellOf(paint)
	content := target
	for _, p := range chain {
		if len(p.kids) > 0 {
			content = p
			break
		}
	}
	if c, ok := r.bitmapCell(content); ok && !r.tracing.Pictures {
		r.sheet.Note(artwork.NotePatternMean, content.describe())
		s.Color, s.Opacity = c, opacity
		r.sheet.Shapes = append(r.sheet.Shapes, s)
		return true, nil
	}
	own := get("patternUnits") != "userSpaceOnUse"
	w, h := r.view.W(), r.view.H()
	if own {
		w, h = 1, 1
	}
	x, y := r.length(get("x"), w, st), r.length(get("y"), h, st)
	dx, dy := r.length(get("width"), w, st), r.length(get("height"), h, st)
	if own {
		x, dx = box.Min.X+x*box.W(), dx*box.W()
		y, dy = box.Min.Y+y*box.H(), dy*box.H()
	}
	if !(dx > 0) || !(dy > 0) || math.IsInf(dx+dy, 0) {
		return true, nil // paints nothing
	}
	space := m
	if t := get("patternTransform"); t != "" {
		tm, _ := parseTransform(t)
		space = space.Mul(tm)
	}
	if space.Det() == 0 {
		return false, nil
	}
	area := s.Box().Transform(space.Inverse())
	if area.Empty() {
		return true, nil
	}
	// A cell that begins where the area ends shows nothing.
	i0, i1 := math.Floor((area.Min.X-x)/dx), math.Ceil((area.Max.X-x)/dx)-1
	j0, j1 := math.Floor((area.Min.Y-y)/dy), math.Ceil((area.Max.Y-y)/dy)-1
	inner, err := r.inherited(content)
	if err != nil {
		return false, err
	}
	inner.opacity, inner.markers = opacity, [3]string{}
	outer := r.view
	defer func() { r.view = outer }()
	into := func(cell geom.Matrix) geom.Matrix {
		if vb, ok := viewBox(get("viewBox")); ok {
			r.view = vb
			return cell.Mul(fit(vb, dx, dy, get("preserveAspectRatio")))
		}
		if get("patternContentUnits") == "objectBoundingBox" {
			return cell.Mul(geom.Scale(box.W(), box.H()))
		}
		return cell
	}
	if n := (i1 - i0 + 1) * (j1 - j0 + 1); !(n <= maxTiles) {
		cell := space.Mul(geom.Translate(x, y))
		return r.meanCell(s, target, content, into(cell), inner, geom.Box{Max: geom.Vec{X: dx, Y: dy}}.Transform(cell))
	}
	cut := append(
		s.Clips[:len(s.Clips):len(s.Clips)],
		&artwork.Clip{
			Items: []artwork.ClipItem{{Contours: s.Contours, Matrix: s.Matrix, EvenOdd: s.EvenOdd}},
		},
	)
	r.using[target] = true
	defer delete(r.using, target)
	for j := j0; j <= j1; j++ {
		for i := i0; i <= i1; i++ {
			r.budget.Spend(budget.Copies, 1)
			cell := space.Mul(geom.Translate(x+i*dx, y+j*dy))
			inner.clips = append(
				cut[:len(cut):len(cut)],
				&artwork.Clip{
					Items: []artwork.ClipItem{
						{Contours: rectangle(0, 0, dx, dy, "", "", 0, 0), Matrix: cell},
					},
				},
			)
			if err := r.children(content, into(cell), inner, s.Group, hidden, key); err != nil {
				return true, err
			}
		}
	}
	return true, nil
}

// meanCell paints a shape in the mean colour of a cell that would be copied too often.
func (r *reader) meanCell(s artwork.Shape, target, content *node, m geom.Matrix, st style, box geom.Box) (bool, error) {
	r.using[target] = true
	sub := r.apart()
	sub.tracing.Pictures = true // bitmaps have colours, too
	err := sub.children(content, m, st, -1, false, "cell")
	delete(r.using, target)
	if err != nil {
		return false, err
	}
	c, cover := ink.Mean(sub.sheet.Shapes, box, r.budget)
	if cover == 0 {
		return false, nil
	}
	s.Color, s.Opacity = c, cover
	r.sheet.Note(artwork.NotePatternMean, content.describe())
	r.sheet.Shapes = append(r.sheet.Shapes, s)
	return true, nil
}

// bitmapCell returns the mean colour of a cell that holds one bitmap and nothing else.
func (r *reader) bitmapCell(n *node) (c artwork.Color, ok bool) {
	var only *node
	for _, k := range n.kids {
		switch {
		case k.name == "#text" || notDrawn[k.name]:
		case k.name == "image" && only == nil:
			only = k
		default:
			return c, false
		}
	}
	if only == nil {
		return c, false
	}
	data, inside := dataOf(only.attr("href"))
	if !inside || drawing(data) {
		return c, false
	}
	return trace.Mean(data, r.budget)
}
