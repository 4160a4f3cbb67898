package mend

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// sources remember from which curves the points of flattened outlines come, so
// that the outlines of a region that was made from them can be drawn with the
// same curves again.
type sources struct {
	curves []curve
	tags   map[plane.Point][]tag
}

// curve is one segment and its points on the grid, evenly spaced by parameter.
type curve struct {
	from geom.Vec
	seg  geom.Segment
	pts  []plane.Point
}

// tag says that a grid point is point k of a curve.
type tag struct{ curve, k int32 }

func newSources() *sources { return &sources{tags: map[plane.Point][]tag{}} }

func (s *sources) clone() *sources {
	out := &sources{slices.Clone(s.curves), make(map[plane.Point][]tag, len(s.tags))}
	for p, t := range s.tags {
		out.tags[p] = slices.Clone(t)
	}
	return out
}

// note takes in a contour and the loop that it was flattened to.
func (s *sources) note(c geom.Contour, l plane.Loop, tol float64) {
	at := 0
	for i, seg := range c.Segs {
		one := geom.Contour{Start: c.From(i), Segs: []geom.Segment{seg}}
		n := one.FlatCount(tol) - 1
		s.add(curve{c.From(i), seg, l[at : at+n+1]})
		at += n
	}
	if c.End() != c.Start {
		s.add(curve{c.End(), geom.Segment{Kind: geom.Line, To: c.Start}, plane.Loop{l[at], l[0]}})
	}
}

func (s *sources) add(c curve) {
	n := int32(len(s.curves))
	s.curves = append(s.curves, c)
	for k, p := range c.pts {
		s.tags[p] = append(s.tags[p], tag{n, int32(k)})
	}
}

// piece is a part of a curve from t0 to t1; curve -1 is none.
type piece struct {
	curve  int32
	t0, t1 float64
}

// along returns of which curve the edge from p to q is a piece.
func (s *sources) along(p, q plane.Point) piece {
	for _, a := range s.tags[p] {
		n := float64(len(s.curves[a.curve].pts) - 1)
		for _, b := range s.tags[q] {
			if a.curve == b.curve && (a.k-b.k == 1 || b.k-a.k == 1) {
				return piece{a.curve, float64(a.k) / n, float64(b.k) / n}
			}
		}
	}
	if f := s.beyond(p, q); f.curve >= 0 {
		return f
	}
	f := s.beyond(q, p)
	return piece{f.curve, f.t1, f.t0}
}

// beyond looks for a chord that begins at p and runs through q.
func (s *sources) beyond(p, q plane.Point) piece {
	for _, a := range s.tags[p] {
		c := &s.curves[a.curve]
		n := float64(len(c.pts) - 1)
		for _, k := range [2]int32{a.k - 1, a.k + 1} {
			if k < 0 || int(k) >= len(c.pts) {
				continue
			}
			r := c.pts[k]
			dx, dy := float64(r.X-p.X), float64(r.Y-p.Y)
			ex, ey := float64(q.X-p.X), float64(q.Y-p.Y)
			l := math.Hypot(dx, dy)
			if l == 0 || math.Abs(dx*ey-dy*ex)/l > 2 {
				continue
			}
			if u := (dx*ex + dy*ey) / (l * l); u > 0 && u < 1 {
				return piece{a.curve, float64(a.k) / n, (float64(a.k) + float64(k-a.k)*u) / n}
			}
		}
	}
	return piece{curve: -1}
}

// node returns the exact place of a point that is the end of a curve.
func (s *sources) node(p plane.Point) (geom.Vec, bool) {
	for _, a := range s.tags[p] {
		c := &s.curves[a.curve]
		if a.k == 0 {
			return c.from, true
		}
		if int(a.k) == len(c.pts)-1 {
			return c.seg.To, true
		}
	}
	return geom.Vec{}, false
}

// contours draws the loops of a region with the curves they come from, and new
// ones where they come from none.
func (w *Work) contours(r plane.Region, src *sources) []geom.Contour {
	if src == nil {
		src = newSources()
	}
	var out []geom.Contour
	r.Loops(func(l plane.Loop) { out = append(out, w.contour(l, src)) })
	return out
}

// contour draws one loop.
func (w *Work) contour(l plane.Loop, src *sources) geom.Contour {
	n := len(l)
	edges := make([]piece, n)
	for i := range l {
		edges[i] = src.along(l[i], l[(i+1)%n])
	}
	// breaks[i]: a run ends at point i.
	breaks := make([]bool, n)
	first := -1
	for i := range l {
		was, is := edges[(i+n-1)%n], edges[i]
		_, node := src.node(l[i])
		breaks[i] = node || was.curve != is.curve || is.curve >= 0 && was.t1 != is.t0
		if breaks[i] && first < 0 {
			first = i
		}
	}
	at := func(p plane.Point) geom.Vec {
		if v, ok := src.node(p); ok {
			return v
		}
		return w.place(p)
	}
	if first < 0 { // nothing of it is known: all new
		pts := make([]geom.Vec, n)
		for i, p := range l {
			pts[i] = w.place(p)
		}
		return geom.Fit(pts, true, w.fitTol())
	}
	out := geom.Contour{Start: at(l[first]), Closed: true}
	for i := 0; i < n; {
		from := (first + i) % n
		e := edges[from]
		i++
		for i < n && !breaks[(first+i)%n] {
			e.t1 = edges[(first+i)%n].t1
			i++
		}
		to := (first + i) % n
		if e.curve < 0 {
			run := []geom.Vec{at(l[from])}
			for k := from; k != to; {
				k = (k + 1) % n
				run = append(run, at(l[k]))
			}
			out.Segs = append(out.Segs, geom.Fit(run, false, w.fitTol()).Segs...)
			continue
		}
		c := &src.curves[e.curve]
		out.Segs = append(out.Segs, c.sub(e, at(l[from]), at(l[to])))
	}
	nodes := map[geom.Vec]bool{}
	for _, p := range l {
		if v, ok := src.node(p); ok {
			nodes[v] = true
		}
	}
	return tidy(out, func(v geom.Vec) bool { return nodes[v] }, w.Grid*2)
}

// sub returns a piece of a curve whose ends are moved to from and to, which lie
// where it was cut within the rounding of the grid.
func (c *curve) sub(e piece, from, to geom.Vec) geom.Segment {
	if c.seg.Kind == geom.Line {
		return geom.Segment{Kind: geom.Line, To: to}
	}
	if e.t0 == 0 && e.t1 == 1 {
		return c.seg
	}
	if e.t0 == 1 && e.t1 == 0 {
		return geom.Contour{Start: c.from, Segs: []geom.Segment{c.seg}}.Reversed().Segs[0]
	}
	a, s := c.seg.Sub(c.from, e.t0, e.t1)
	s.C1, s.C2, s.To = s.C1.Add(from.Sub(a)), s.C2.Add(to.Sub(s.To)), to
	return s
}

// fitTol is how far new curves depart from the outline they are drawn for.
func (w *Work) fitTol() float64 { return 2 * w.tol() }

// tidy drops the points between two lines that run on straight, unless they
// were nodes before.
func tidy(c geom.Contour, node func(geom.Vec) bool, tol float64) geom.Contour {
	straight := func(a, b, d geom.Vec) bool {
		in, on := b.Sub(a), d.Sub(b)
		return in.Dot(on) > 0 && math.Abs(in.Cross(on)) <= tol*d.Sub(a).Len()
	}
	segs := c.Segs[:0:0]
	from := c.Start
	for _, s := range c.Segs {
		if k := len(segs) - 1; k >= 0 && s.Kind == geom.Line && segs[k].Kind == geom.Line {
			if before := from; !node(segs[k].To) && straight(before, segs[k].To, s.To) {
				segs[k].To = s.To
				continue
			}
		}
		if len(segs) > 0 {
			from = segs[len(segs)-1].To
		}
		segs = append(segs, s)
	}
	c.Segs = slices.Clip(segs)
	return c
}
