package mend

import (
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// findEnds finds ends of different open contours that nearly meet.
func findEnds(l *look) []Finding {
	type end struct {
		k, contour, last int
		at               geom.Vec
	}
	var ends []end
	for k := range l.taken {
		l.needed()
		if s := l.shape(k).Stroke; s != nil && len(s.Dashes) > 0 {
			continue
		}
		for i, c := range l.contours(k) {
			if !c.Closed && len(c.Segs) > 0 && c.End() != c.Start {
				ends = append(ends, end{k, i, 0, c.Start}, end{k, i, 1, c.End()})
			}
		}
	}
	far := l.px(l.limits.Gap)
	cells := map[[2]int][]int{}
	cell := func(v geom.Vec) [2]int { return [2]int{int(math.Floor(v.X / far)), int(math.Floor(v.Y / far))} }
	if far > 0 {
		for i, e := range ends {
			cells[cell(e.at)] = append(cells[cell(e.at)], i)
		}
	}
	used := map[int]bool{}
	var out []Finding
	for i, e := range ends {
		best, least := -1, far
		c := cell(e.at)
		met := false
		for x := c[0] - 1; x <= c[0]+1; x++ {
			for y := c[1] - 1; y <= c[1]+1; y++ {
				for _, j := range cells[[2]int{x, y}] {
					o := ends[j]
					d := o.at.Sub(e.at).Len()
					if j == i || l.mmLen(d) > l.limits.Gap {
						continue
					}
					met = met || l.mmLen(d) <= touchingMM
					if j > i && !used[j] && d < least && (o.k != e.k || o.contour != e.contour) && l.alike(e.k, o.k) {
						best, least = j, d
					}
				}
			}
		}
		if best < 0 || met || used[i] || l.mmLen(least) <= touchingMM {
			continue
		}
		used[i], used[best] = true, true
		o := ends[best]
		m := recipe.Mend{Do: "link", Shapes: []string{l.key(e.k)}, Nodes: [][2]int{{e.contour, e.last}, {o.contour, o.last}}}
		if o.k != e.k {
			m.Shapes = append(m.Shapes, l.key(o.k))
		}
		out = append(out, Finding{
			Shapes: m.Shapes, At: e.at.Lerp(o.at, 0.5), Box: geom.EmptyBox().Grow(e.at).Grow(o.at),
			Measure: "gap " + mmOf(l.mmLen(least)), Fixes: []Fix{fix(m, "Join the two ends in the middle of the gap")},
		})
	}
	return out
}

// alike reports whether two shapes are painted the same way: both filled, or
// both lines of one width, of one colour.
func (l *look) alike(j, k int) bool {
	a, b := l.shape(j), l.shape(k)
	if l.Color[l.taken[j]] != l.Color[l.taken[k]] || (a.Stroke == nil) != (b.Stroke == nil) {
		return false
	}
	return a.Stroke == nil || math.Abs(a.Stroke.Width*a.Matrix.MaxScale()-b.Stroke.Width*b.Matrix.MaxScale()) <
		0.05*b.Stroke.Width*b.Matrix.MaxScale()
}

// linkEnds joins two ends of open contours, of one shape or of two. Nodes names
// contour and end (0 the first, 1 the last) of each; a shape whose contour went
// to the other, and that has no other, goes.
func linkEnds(w *Work, m *recipe.Mend) error {
	if len(m.Nodes) != 2 {
		return refuse("choose two ends")
	}
	ai, err := w.first(m)
	if err != nil {
		return err
	}
	bi := ai
	if len(m.Shapes) > 1 {
		if bi = w.Find(m.Shapes[1]); bi < 0 {
			return lost("its shape")
		}
	}
	a, ok := endOf(&w.Sheet.Shapes[ai], m.Nodes[0])
	b, ok2 := endOf(&w.Sheet.Shapes[bi], m.Nodes[1])
	if !ok || !ok2 {
		return lost("an open end")
	}
	list := slices.Clone(w.Sheet.Shapes[ai].Contours)
	if ai == bi && m.Nodes[0][0] == m.Nodes[1][0] {
		if m.Nodes[0][1] == m.Nodes[1][1] {
			return refuse("choose two different ends")
		}
		list[m.Nodes[0][0]] = closed(a, true)
		w.Sheet.Shapes[ai].Contours = list
		return nil
	}
	inv, ok := inverse(w.Sheet.Shapes[ai].Matrix)
	if !ok {
		return lost("an open end")
	}
	b = b.Transform(inv.Mul(w.Sheet.Shapes[bi].Matrix)).Clone()
	a = a.Clone()
	if m.Nodes[0][1] == 0 {
		a = a.Reversed()
	}
	if m.Nodes[1][1] == 1 {
		b = b.Reversed()
	}
	if mid := a.End().Lerp(b.Start, 0.5); a.End() != b.Start {
		moveEnd(&a, true, mid)
		moveEnd(&b, false, mid)
	}
	a.Segs = append(a.Segs, b.Segs...)
	if a.End() == a.Start {
		a.Closed = true
	}
	list[m.Nodes[0][0]] = a
	if ai == bi {
		list = slices.Delete(list, m.Nodes[1][0], m.Nodes[1][0]+1)
		w.Sheet.Shapes[ai].Contours = list
		return nil
	}
	w.Sheet.Shapes[ai].Contours = list
	rest := slices.Clone(w.Sheet.Shapes[bi].Contours)
	rest = slices.Delete(rest, m.Nodes[1][0], m.Nodes[1][0]+1)
	w.Sheet.Shapes[bi].Contours = rest
	return nil
}

// endOf returns the open contour that has an end.
func endOf(sh *artwork.Shape, end [2]int) (geom.Contour, bool) {
	if end[0] < 0 || end[0] >= len(sh.Contours) {
		return geom.Contour{}, false
	}
	c := sh.Contours[end[0]]
	return c, !c.Closed && len(c.Segs) > 0
}

// inverse returns the inverse of a matrix that has one.
func inverse(m geom.Matrix) (geom.Matrix, bool) {
	if m.Det() == 0 {
		return m, false
	}
	inv := m.Inverse()
	return inv, inv.Finite()
}
