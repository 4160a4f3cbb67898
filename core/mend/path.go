package mend

import (
	"math"

	"bildhauer/core/geom"
)

// Path is a contour as a person edits it: nodes with a handle on either side.
// Segment k runs from node k to the next one; a closed path has as many
// segments as nodes, an open one less by one.
type Path struct {
	At       []geom.Vec
	In, Out  []geom.Vec // the handles before and behind each node
	Straight []bool     // of each segment
	Closed   bool
}

// PathOf returns the nodes of a contour. A closed one counts the node that it
// returns to once.
func PathOf(c geom.Contour) Path {
	p := Path{Closed: c.Closed}
	p.push(c.Start)
	at := c.Start
	for i, s := range c.Segs {
		out, in := at, s.To
		switch s.Kind {
		case geom.Quad:
			out, in = at.Lerp(s.C1, 2.0/3), s.To.Lerp(s.C1, 2.0/3)
		case geom.Cubic:
			out, in = s.C1, s.C2
		}
		k := len(p.At) - 1
		p.Out[k] = out
		p.Straight = append(p.Straight, s.Kind == geom.Line)
		if c.Closed && i == len(c.Segs)-1 && s.To == c.Start && i > 0 {
			p.In[0] = in
			return p
		}
		p.push(s.To)
		p.In[k+1] = in
		at = s.To
	}
	if p.Closed {
		p.Straight = append(p.Straight, true)
	}
	return p
}

func (p *Path) push(v geom.Vec) {
	p.At, p.In, p.Out = append(p.At, v), append(p.In, v), append(p.Out, v)
}

// Contour is the inverse of PathOf.
func (p *Path) Contour() geom.Contour {
	c := geom.Contour{Closed: p.Closed}
	if len(p.At) == 0 {
		return c
	}
	c.Start = p.At[0]
	n := len(p.At)
	for k := range p.Straight {
		j := (k + 1) % n
		s := geom.Segment{Kind: geom.Line, To: p.At[j]}
		if !p.Straight[k] {
			s = geom.Segment{Kind: geom.Cubic, C1: p.Out[k], C2: p.In[j], To: p.At[j]}
		}
		c.Segs = append(c.Segs, s)
	}
	return c
}

// segment returns segment k and where it begins.
func (p *Path) segment(k int) (geom.Vec, geom.Segment) {
	c := p.Contour()
	return c.From(k), c.Segs[k]
}

// before returns the node before node k, or -1.
func (p *Path) before(k int) int {
	if k > 0 {
		return k - 1
	}
	if p.Closed {
		return len(p.At) - 1
	}
	return -1
}

// behind returns the node behind node k, or -1.
func (p *Path) behind(k int) int {
	if k+1 < len(p.At) {
		return k + 1
	}
	if p.Closed {
		return 0
	}
	return -1
}

// move moves a node with its handles.
func (p *Path) move(k int, by geom.Vec) {
	p.At[k], p.In[k], p.Out[k] = p.At[k].Add(by), p.In[k].Add(by), p.Out[k].Add(by)
}

// bend makes segment k a curve, in the same place if it was straight.
func (p *Path) bend(k int) {
	if !p.Straight[k] {
		return
	}
	j := (k + 1) % len(p.At)
	p.Straight[k] = false
	p.Out[k], p.In[j] = p.At[k].Lerp(p.At[j], 1.0/3), p.At[j].Lerp(p.At[k], 1.0/3)
}

// straighten makes segment k a line.
func (p *Path) straighten(k int) {
	j := (k + 1) % len(p.At)
	p.Straight[k] = true
	p.Out[k], p.In[j] = p.At[k], p.At[j]
}

// add puts a node at parameter t of segment k; the form stays.
func (p *Path) add(k int, t float64) {
	from, s := p.segment(k)
	straight := p.Straight[k]
	at := s.At(from, t)
	in, out := at, at
	if !straight {
		_, a := s.Sub(from, 0, t)
		_, b := s.Sub(from, t, 1)
		j := (k + 1) % len(p.At)
		p.Out[k], in, out, p.In[j] = a.C1, a.C2, b.C1, b.C2
	}
	insert := func(list []geom.Vec, v geom.Vec) []geom.Vec {
		list = append(list, geom.Vec{})
		copy(list[k+2:], list[k+1:])
		list[k+1] = v
		return list
	}
	p.At, p.In, p.Out = insert(p.At, at), insert(p.In, in), insert(p.Out, out)
	p.Straight = append(p.Straight[:k+1], append([]bool{straight}, p.Straight[k+1:]...)...)
}

// without returns the path without some nodes. Between those that stay the form
// is kept as well as one curve can.
func (p *Path) without(gone map[int]bool) Path {
	n := len(p.At)
	var keep []int
	for k := range n {
		if !gone[k] {
			keep = append(keep, k)
		}
	}
	out := Path{Closed: p.Closed}
	if len(keep) == 0 {
		return out
	}
	for _, k := range keep {
		out.push(p.At[k])
	}
	c := p.Contour()
	last := len(keep)
	if !p.Closed {
		last--
	}
	for i := range last {
		a, b := keep[i], keep[(i+1)%len(keep)]
		j := (i + 1) % len(keep)
		if (a+1)%n == b%n && len(keep) > 1 {
			out.Straight = append(out.Straight, p.Straight[a])
			out.Out[i], out.In[j] = p.Out[a], p.In[b]
			continue
		}
		s := bridgeOver(&c, p, a, b)
		out.Straight = append(out.Straight, s.Kind == geom.Line)
		if s.Kind != geom.Line {
			out.Out[i], out.In[j] = s.C1, s.C2
		}
	}
	return out
}

// bridgeOver returns the one segment that is nearest to those from node a to
// node b.
func bridgeOver(c *geom.Contour, p *Path, a, b int) geom.Segment {
	n := len(p.At)
	run := geom.Contour{Start: p.At[a]}
	for k := a; ; {
		run.Segs = append(run.Segs, c.Segs[k])
		if k = (k + 1) % n; k == b {
			break
		}
	}
	size := run.Box()
	tol := math.Max(math.Max(size.W(), size.H())*1e-4, 1e-9)
	return geom.FitOne(run.Flatten(tol, nil), run.Segs[0].Speed(run.Start, 0),
		run.Segs[len(run.Segs)-1].Speed(run.From(len(run.Segs)-1), 1))
}

// smooth brings the handles of a node into one line; equal makes them equally
// long.
func (p *Path) smooth(k int, equal bool) {
	b, f := p.before(k), p.behind(k)
	if b < 0 || f < 0 {
		return
	}
	p.bend(b)
	p.bend(k)
	in, out := p.In[k].Sub(p.At[k]), p.Out[k].Sub(p.At[k])
	li, lo := in.Len(), out.Len()
	if li == 0 {
		li = p.At[b].Sub(p.At[k]).Len() / 3
	}
	if lo == 0 {
		lo = p.At[f].Sub(p.At[k]).Len() / 3
	}
	dir := out.Unit().Sub(in.Unit()).Unit()
	if dir == (geom.Vec{}) {
		dir = p.At[f].Sub(p.At[b]).Unit()
	}
	if equal {
		li = (li + lo) / 2
		lo = li
	}
	p.In[k], p.Out[k] = p.At[k].Sub(dir.Mul(li)), p.At[k].Add(dir.Mul(lo))
}

// corner turns the handles of a node towards its neighbours.
func (p *Path) corner(k int) {
	if b := p.before(k); b >= 0 && !p.Straight[b] {
		p.In[k] = p.At[k].Lerp(p.At[b], 1.0/3)
	}
	if f := p.behind(k); f >= 0 && !p.Straight[k] {
		p.Out[k] = p.At[k].Lerp(p.At[f], 1.0/3)
	}
}

// setHandle moves a handle. The other one turns along where the node was smooth
// and is as long where they were equal, unless free.
func (p *Path) setHandle(k int, in bool, to geom.Vec, free bool) {
	mine, other := p.Out, p.In
	seg := k
	if in {
		mine, other, seg = p.In, p.Out, p.before(k)
	}
	if seg < 0 || seg >= len(p.Straight) {
		return
	}
	a, b := mine[k].Sub(p.At[k]), other[k].Sub(p.At[k])
	smooth := a.Len() > 0 && b.Len() > 0 && math.Abs(a.Cross(b)) < 1e-3*a.Len()*b.Len() && a.Dot(b) < 0
	equal := smooth && math.Abs(a.Len()-b.Len()) < 1e-3*a.Len()
	p.bend(seg)
	mine[k] = to
	d := to.Sub(p.At[k])
	if free || !smooth || d.Len() == 0 {
		return
	}
	l := b.Len()
	if equal {
		l = d.Len()
	}
	other[k] = p.At[k].Sub(d.Unit().Mul(l))
}

// opened returns a closed path cut open at node k, or an open one in two.
func (p *Path) opened(k int) []Path {
	c := p.Contour()
	if p.Closed {
		out := geom.Contour{Start: c.From(k)}
		out.Segs = append(append(out.Segs, c.Segs[k:]...), c.Segs[:k]...)
		return []Path{PathOf(out)}
	}
	if k == 0 || k == len(p.At)-1 {
		return nil
	}
	a := geom.Contour{Start: c.Start, Segs: c.Segs[:k]}
	b := geom.Contour{Start: c.From(k), Segs: c.Segs[k:]}
	return []Path{PathOf(a), PathOf(b)}
}
