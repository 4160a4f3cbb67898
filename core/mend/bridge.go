package mend

import (
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// bridge adds a bar of the width MM[0] from At[0] to At[1] to the nearest of
// the shapes. It must join two pieces, or close a touch at a point, and may not
// run over a hole on its way.
func bridge(w *Work, m *recipe.Mend) error {
	which, r, src, err := w.together(m)
	if err != nil {
		return err
	}
	if !(m.MM[0] > 0) {
		return refuse("a bridge needs a width above nothing")
	}
	ax, ay := w.toGrid(vec(m.At[0]))
	bx, by := w.toGrid(vec(m.At[1]))
	a, b := geom.Vec{X: ax, Y: ay}, geom.Vec{X: bx, Y: by}
	bar := plane.Region{{Outer: capsule(a, b, w.units(m.MM[0])/2)}}
	if bar[0].Outer.Area2() < 0 {
		bar[0].Outer = reversed(bar[0].Outer)
	}
	joined, err := plane.Combine(r, bar, plane.Union)
	if err != nil {
		return err
	}
	holes := func(r plane.Region) (n int) {
		for _, p := range r {
			n += len(p.Holes)
		}
		return n
	}
	switch {
	case joined.Area2() == r.Area2():
		return refuse("the bridge lies wholly within the shape; it would change nothing")
	case m.How == "free":
	case len(joined) >= len(r) && holes(joined) >= holes(r) && !touching(r, a, b, w.units(m.MM[0])):
		if holes(joined) > holes(r) {
			return refuse("the bridge would cross a hole; choose ends with nothing but a gap between them")
		}
		return refuse("the bridge does not reach from one piece to another")
	}
	if len(which) == 2 && w.mergeable(which[0], which[1]) {
		top := max(which[0], which[1])
		w.Sheet.Shapes[top], w.Color[top] = w.Sheet.Shapes[which[0]], w.Color[which[0]]
		w.setRegion(top, joined, src)
		w.remove(min(which[0], which[1]))
		return nil
	}
	return w.addTo(which, []extra{{bar, vec(m.At[0])}}, src)
}

// mergeable reports whether two filled shapes of one colour may become one in
// the place of the upper: nothing between them lies on the lower.
func (w *Work) mergeable(i, j int) bool {
	i, j = min(i, j), max(i, j)
	if w.Color[i] != w.Color[j] || w.Sheet.Shapes[i].Stroke != nil || w.Sheet.Shapes[j].Stroke != nil {
		return false
	}
	box := w.Sheet.Shapes[i].Box()
	for k := i + 1; k < j; k++ {
		if w.In[k] && w.Color[k] != w.Color[i] && w.Sheet.Shapes[k].Box().Overlaps(box) {
			return false
		}
	}
	return true
}

// touching reports whether a bar closes a place where outlines touch.
func touching(r plane.Region, a, b geom.Vec, width float64) bool {
	return a.Sub(b).Len() <= width && r.Touches()
}
