package mend

import (
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// closeContours closes the open contours of a shape, or those that Nodes names.
// How tells the way: "join" brings both ends to the middle between them,
// "straight" joins them by a line, "line" makes the shape a line of the width
// MM[0].
func closeContours(w *Work, m *recipe.Mend) error {
	i, err := w.first(m)
	if err != nil {
		return err
	}
	sh := w.Sheet.Shapes[i]
	if m.How == "line" {
		if len(m.MM) == 0 || !(m.MM[0] > 0) {
			return refuse("a line needs a width")
		}
		w.Sheet.Shapes[i].Stroke = &geom.StrokeStyle{
			Width: w.px(m.MM[0]) / sh.Matrix.MaxScale(), Cap: geom.RoundCap, Join: geom.RoundJoin, MiterLimit: 4,
		}
		return nil
	}
	list := slices.Clone(sh.Contours)
	named := contoursNamed(m)
	done := 0
	for k := range list {
		if list[k].Closed || len(list[k].Segs) == 0 || len(named) > 0 && !named[k] {
			continue
		}
		list[k] = closed(list[k], m.How != "straight")
		done++
	}
	if done == 0 {
		return lost("an open contour of " + nameOf(&sh))
	}
	w.Sheet.Shapes[i].Contours = list
	return nil
}

// closed returns a contour closed, its ends brought together in the middle or
// joined by a line.
func closed(c geom.Contour, together bool) geom.Contour {
	c = c.Clone()
	c.Closed = true
	if c.End() == c.Start {
		return c
	}
	if !together || len(c.Segs) < 2 {
		c.Segs = append(c.Segs, geom.Segment{Kind: geom.Line, To: c.Start})
		return c
	}
	mid := c.Start.Lerp(c.End(), 0.5)
	moveEnd(&c, false, mid)
	moveEnd(&c, true, mid)
	return c
}

// moveEnd moves an end of an open contour with its handle.
func moveEnd(c *geom.Contour, last bool, to geom.Vec) {
	n := len(c.Segs) - 1
	if last {
		s := &c.Segs[n]
		by := to.Sub(s.To)
		if s.Kind == geom.Cubic {
			s.C2 = s.C2.Add(by)
		}
		s.To = to
		return
	}
	by := to.Sub(c.Start)
	if c.Segs[0].Kind == geom.Cubic {
		c.Segs[0].C1 = c.Segs[0].C1.Add(by)
	}
	c.Start = to
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

// weldNodes makes nodes nearer than MM[0] one, drops segments without length
// and nodes in the run of a straight line, and makes curves lines whose handles
// lie in their nodes.
func weldNodes(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	for _, i := range which {
		sh := &w.Sheet.Shapes[i]
		tol := w.px(m.MM[0]) / math.Max(sh.Matrix.MaxScale(), 1e-300)
		var list []geom.Contour
		for _, c := range sh.Contours {
			if c, _ = welded(c, tol); len(c.Segs) > 0 {
				list = append(list, c)
			}
		}
		sh.Contours = list
	}
	return nil
}

// welded returns a contour without needless nodes, and how many it lost.
func welded(c geom.Contour, tol float64) (geom.Contour, int) {
	if c.Closed && len(c.Segs) > 1 && c.End() != c.Start && c.End().Sub(c.Start).Len() <= tol {
		// It returns but for a rounding: nobody calls that two nodes.
		c = c.Clone()
		c.Segs[len(c.Segs)-1].To = c.Start
	}
	p := PathOf(c)
	before := len(p.At)
	for k := range p.Straight {
		j := (k + 1) % len(p.At)
		if !p.Straight[k] && p.Out[k] == p.At[k] && p.In[j] == p.At[j] {
			p.Straight[k] = true
		}
	}
	p = p.merged(tol)
	doubled := before - len(p.At)
	// Straight runs.
	gone := map[int]bool{}
	for k := range p.At {
		b, f := p.before(k), p.behind(k)
		if b < 0 || f < 0 || b == f || gone[b] || !p.Straight[b] || !p.Straight[k] {
			continue
		}
		in, on := p.At[k].Sub(p.At[b]), p.At[f].Sub(p.At[k])
		if in.Dot(on) > 0 && math.Abs(in.Cross(on)) <= math.Min(tol, 1e-4*in.Add(on).Len())*in.Add(on).Len()/4 {
			gone[k] = true
		}
	}
	// A single node in a line is no fault.
	if len(gone) > 1 || doubled > 0 {
		p = p.dropped(gone)
	}
	if before == len(p.At) {
		return c, 0
	}
	return p.Contour(), before - len(p.At)
}

// dropped returns the path without nodes in the run of straight lines.
func (p *Path) dropped(gone map[int]bool) Path {
	out := Path{Closed: p.Closed}
	for k := range p.At {
		if gone[k] {
			continue
		}
		out.push(p.At[k])
		n := len(out.At) - 1
		out.In[n], out.Out[n] = p.In[k], p.Out[k]
		if k < len(p.Straight) {
			out.Straight = append(out.Straight, p.Straight[k])
		}
	}
	return out
}

// merged returns the path with nodes nearer than tol, one behind the other,
// made one. Curves that lead somewhere and back stay.
func (p *Path) merged(tol float64) Path {
	out := Path{Closed: p.Closed}
	n := len(p.At)
	short := func(k int) bool {
		j := (k + 1) % n
		return p.At[k].Sub(p.At[j]).Len() <= tol &&
			p.Out[k].Sub(p.At[k]).Len() <= tol && p.In[j].Sub(p.At[j]).Len() <= tol
	}
	for k := 0; k < n; k++ {
		out.push(p.At[k])
		at := len(out.At) - 1
		out.In[at], out.Out[at] = p.In[k], p.Out[k]
		end := k
		for end < len(p.Straight) && end+1 < n && short(end) {
			end++
		}
		if end > k { // the run k..end becomes node k
			out.Out[at] = p.Out[end].Add(p.At[k].Sub(p.At[end]))
			k = end
		}
		if k < len(p.Straight) {
			out.Straight = append(out.Straight, p.Straight[k])
		}
	}
	if m := len(out.At); out.Closed && m > 1 {
		last, first := out.At[m-1], out.At[0]
		if last.Sub(first).Len() <= tol && out.Out[m-1].Sub(last).Len() <= tol && out.In[0].Sub(first).Len() <= tol {
			out.In[0] = out.In[m-1].Add(first.Sub(last))
			out.At, out.In, out.Out, out.Straight = out.At[:m-1], out.In[:m-1], out.Out[:m-1], out.Straight[:m-1]
		}
	}
	if len(out.At) == 1 {
		out.Straight = nil
	}
	return out
}

// refit draws the contours of shapes anew with as few nodes as keep within
// MM[0] of the old ones.
func refit(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	for _, i := range which {
		sh := &w.Sheet.Shapes[i]
		tol := w.px(m.MM[0]) / math.Max(sh.Matrix.MaxScale(), 1e-300)
		list := slices.Clone(sh.Contours)
		for k, c := range list {
			list[k] = refitted(c, tol)
		}
		sh.Contours = list
	}
	return nil
}

// refitted returns a contour drawn anew within tol, or the old one if that has
// no more nodes. A fifth of the deviation is left for flattening.
func refitted(c geom.Contour, tol float64) geom.Contour {
	if len(c.Segs) < 3 {
		return c
	}
	fresh := geom.Fit(c.Flatten(tol/5, nil), c.Closed, tol*0.8)
	if len(fresh.Segs) >= len(c.Segs) || len(fresh.Segs) == 0 {
		return c
	}
	return fresh
}
