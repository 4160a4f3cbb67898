package print

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// ground is one area of a layer, over which the nozzle moves without drawing the filament back: what drips there is laid
// over or lies within.
type ground struct {
	area  plane.Polygon
	loops []plane.Loop
	rows  [][]edgeOf // the edges that each row of the plane has
	low   float64    // of the first row, grid units
	high  float64    // of a row
	inset float64    // how far ways along an outline stay within it
}

// edgeOf is the i-th edge of a loop.
type edgeOf struct{ loop, i int32 }

// mostRows bounds the rows of a ground.
const mostRows = 256

func newGround(area plane.Polygon, inset float64) *ground {
	g := &ground{area: area, inset: inset}
	lo, hi, _ := plane.Region{area}.Bounds()
	g.low = float64(lo.Y)
	n := min(mostRows, 1+plane.Region{area}.Edges()/8)
	g.high = math.Max(1, float64(hi.Y-lo.Y+1)/float64(n))
	g.rows = make([][]edgeOf, n)
	plane.Region{area}.Loops(func(l plane.Loop) {
		k := int32(len(g.loops))
		g.loops = append(g.loops, l)
		for i, p := range l {
			q := l[(i+1)%len(l)]
			for r := g.row(float64(min(p.Y, q.Y))); r <= g.row(float64(max(p.Y, q.Y))); r++ {
				g.rows[r] = append(g.rows[r], edgeOf{k, int32(i)})
			}
		}
	})
	return g
}

func (g *ground) row(y float64) int { return max(0, min(len(g.rows)-1, int((y-g.low)/g.high))) }

func (g *ground) edge(e edgeOf) (p, q geom.Vec) {
	l := g.loops[e.loop]
	return vecOf(l[e.i]), vecOf(l[(int(e.i)+1)%len(l)])
}

// holds reports whether a place lies on the ground.
func (g *ground) holds(p geom.Vec) bool {
	return plane.Region{g.area}.Contains(plane.Point{X: int32(p.X), Y: int32(p.Y)})
}

// meets calls f for every edge that a way crosses, with the share of the way that is gone there.
func (g *ground) meets(a, b geom.Vec, f func(e edgeOf, at float64)) {
	d := b.Sub(a)
	for r := g.row(math.Min(a.Y, b.Y)); r <= g.row(math.Max(a.Y, b.Y)); r++ {
		for _, e := range g.rows[r] {
			p, q := g.edge(e)
			s, t := p.Sub(a).Cross(d), q.Sub(a).Cross(d)
			if (s > 0) == (t > 0) {
				continue
			}
			x := p.Lerp(q, s/(s-t)).Sub(a).Dot(d) / math.Max(1e-9, d.Dot(d))
			if x > 0 && x < 1 {
				f(e, x)
			}
		}
	}
}

// clear reports whether a way crosses no outline.
func (g *ground) clear(a, b geom.Vec) bool {
	free := true
	g.meets(a, b, func(edgeOf, float64) { free = false })
	return free
}

// mostTurns bounds how often a way goes around something, and farthest how long it may be by its straight length and some
// more: a longer one drips more than is worth it.
const (
	mostTurns = 8
	farthest  = 3.0
)

// way returns the places by which one gets from a to b without crossing an outline, b included; ok is false if there is no
// short one. Where the straight way leaves the ground, it goes along the outline there, whichever way around is shorter, as
// far within it as there is room.
func (g *ground) way(a, b geom.Vec, more float64) (list []geom.Vec, ok bool) {
	for inset := g.inset; inset > g.inset/10; inset /= 3 {
		list, ok = g.around(a, b, inset, deepest)
		if ok {
			return list[1:], length(list) <= farthest*b.Sub(a).Len()+more
		}
	}
	return nil, false
}

// deepest is how often a stretch of a way that is found to cross an outline is itself led around it.
const deepest = 4

// around is way with a distance from the outlines. The list begins with a. What crosses an outline of what is found, as
// corners that are cut do, is led around that in turn, so many times.
func (g *ground) around(a, b geom.Vec, inset float64, deep int) (list []geom.Vec, ok bool) {
	at := a
	for range mostTurns {
		first, share := edgeOf{}, math.Inf(1)
		g.meets(at, b, func(e edgeOf, x float64) {
			if x < share {
				first, share = e, x
			}
		})
		if math.IsInf(share, 1) {
			list = append(append([]geom.Vec{a}, list...), b)
			if list, ok = g.led(list, inset, deep); !ok {
				return nil, false
			}
			return g.pulled(list)
		}
		last, back := first, share
		g.meets(at, b, func(e edgeOf, x float64) {
			if e.loop == first.loop && x > back {
				last, back = e, x
			}
		})
		if last == first {
			return nil, false
		}
		one, other := g.along(first, last, 1, inset), g.along(first, last, -1, inset)
		if length(other) < length(one) {
			one = other
		}
		list = append(list, one...)
		at = one[len(one)-1]
	}
	return nil, false
}

// led leads the stretches of a way around what they cross.
func (g *ground) led(list []geom.Vec, inset float64, deep int) (out []geom.Vec, ok bool) {
	out = list[:1:1]
	for i := range len(list) - 1 {
		if g.clear(list[i], list[i+1]) {
			out = append(out, list[i+1])
			continue
		}
		if deep == 0 || len(list) == 2 {
			return nil, false
		}
		part, ok := g.around(list[i], list[i+1], inset, deep-1)
		if !ok {
			return nil, false
		}
		out = append(out, part[1:]...)
	}
	return out, true
}

// along returns the corners of a loop from one of its edges to another, within it.
func (g *ground) along(from, to edgeOf, dir int, inset float64) (list []geom.Vec) {
	l := g.loops[from.loop]
	n := len(l)
	i, last := int(from.i), int(to.i)
	if dir > 0 {
		i = (i + 1) % n
	} else {
		last = (last + 1) % n
	}
	for {
		list = append(list, cornerOf(l, i, inset))
		if i == last {
			return list
		}
		i = (i + n + dir) % n
	}
}

// cornerOf returns a place beside a corner of a loop, on the ground.
func cornerOf(l plane.Loop, i int, inset float64) geom.Vec {
	n := len(l)
	p := vecOf(l[i])
	u, v := p.Sub(vecOf(l[(i+n-1)%n])).Unit(), vecOf(l[(i+1)%n]).Sub(p).Unit()
	m := u.Left().Add(v.Left())
	if m.Len() < 1e-6 {
		m = u.Left()
	}
	return p.Add(m.Unit().Mul(inset))
}

// pulled leaves out what a taut string would not touch. ok is false if what is left crosses an outline.
func (g *ground) pulled(list []geom.Vec) (out []geom.Vec, ok bool) {
	out = list[:1:1]
	for i := 0; i < len(list)-1; {
		k := min(len(list)-1, i+64)
		for ; !g.clear(list[i], list[k]); k-- {
			if k == i+1 {
				return nil, false
			}
		}
		out = append(out, list[k])
		i = k
	}
	return out, true
}
