package mend

import (
	"math"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// tipCutter finds what rounding takes off the tips of one region: what lies beyond the first ball of a radius that
// fits between the sides of a tip.
type tipCutter struct {
	loops  []plane.Loop
	first  []int // number of the first edge of each loop
	index  *plane.SegmentIndex
	radius float64
}

func newTipCutter(r plane.Region, radius float64) *tipCutter {
	c := &tipCutter{loops: gauge.LoopsOf(r), radius: radius}
	c.index = plane.NewLoopIndex(c.loops)
	n := 0
	for _, l := range c.loops {
		c.first = append(c.first, n)
		n += len(l)
	}
	return c
}

// twoSides is where a ball touches both sides of a tip.
type twoSides struct {
	near, across geom.Vec // on the side that was walked along, and on the other one
	edge, other  int      // of the loop, that they lie on
	middle       geom.Vec
}

// farthestTip is how many radii along its sides a tip is looked at: one of 2 degrees is cut 57 radii from its point.
const farthestTip = 80

// cut returns what a ball of the radius leaves over at a vertex; nil if that is no plain tip, with two sides
// between which the ball fits from somewhere on.
func (c *tipCutter) cut(p plane.Point) plane.Region {
	for n, l := range c.loops {
		for k := range l {
			if l[k] != p {
				continue
			}
			there, ok := c.fit(n, k, false)
			if !ok || there.other < 0 {
				return nil
			}
			// The same ball from the other side, or something stands out between.
			back, ok := c.fit(n, k, true)
			if !ok || back.other < 0 || back.near.Sub(there.across).Len() > c.radius/20 || back.across.Sub(there.near).Len() > c.radius/20 {
				return nil
			}
			return plane.Region{{Outer: c.beyond(l, k, there, back)}}
		}
	}
	return nil
}

// station is where a ball may touch a side: a point of an edge, and which way the middle lies.
type station struct {
	at, inward geom.Vec
	edge       int // of the loop
}

// toward returns a station between two, along an edge or around a corner.
func (s station) toward(t station, share float64) station {
	return station{s.at.Lerp(t.at, share), s.inward.Lerp(t.inward, share).Unit(), t.edge}
}

// steps of a ball around a corner, as the sine of the angle: about 3 degrees.
const cornerStep = 0.05

// fit walks along one side of the tip at vertex k until a ball fits that touches the side there.
func (c *tipCutter) fit(loop, k int, back bool) (twoSides, bool) {
	l := c.loops[loop]
	n := len(l)
	far := 0.0
	var was station
	for i := range n {
		edge := (k + i) % n
		if back {
			edge = (k + n - 1 - i) % n
		}
		a, b := vecOf(l[edge]), vecOf(l[(edge+1)%n])
		inward := b.Sub(a).Unit().Left()
		if back {
			a, b = b, a
		}
		begin, end := station{a, inward, edge}, station{b, inward, edge}
		if i > 0 { // a corner that stands out into the area is gone around
			pieces := math.Ceil(was.inward.Sub(inward).Len() / cornerStep)
			if turn := was.inward.Cross(inward); turn < 0 == back {
				pieces = 1
			}
			if u, v, found := c.firstFree(was, begin, pieces); found {
				return c.between(u, v, loop)
			}
		}
		// Long edges are looked at in pieces: the ball may fit in the midst of one and not at its end.
		if u, v, found := c.firstFree(begin, end, math.Ceil(4*b.Sub(a).Len()/c.radius)); found {
			return c.between(u, v, loop)
		}
		if far += b.Sub(a).Len(); far > farthestTip*c.radius {
			break
		}
		was = end
	}
	return twoSides{}, false
}

// firstFree returns the first of some pieces between two stations at the end of which the ball fits.
func (c *tipCutter) firstFree(from, to station, pieces float64) (u, v station, found bool) {
	u = from
	for j := 1.0; j <= pieces; j++ {
		v = from.toward(to, j/pieces)
		if _, free := c.free(v); free {
			return u, v, true
		}
		u = v
	}
	return u, v, false
}

// free reports whether the ball that touches a side at a station crosses no outline, or else where the middle of
// it is nearest to one.
func (c *tipCutter) free(s station) (plane.Foot, bool) {
	m := s.at.Add(s.inward.Mul(c.radius))
	f := c.index.Nearest(m.X, m.Y, c.radius*(1-1e-4)-0.75)
	return f, f.Edge < 0
}

// between finds where between u and v the ball begins to fit.
func (c *tipCutter) between(u, v station, loop int) (twoSides, bool) {
	out := twoSides{edge: v.edge, other: -1}
	for range 40 {
		m := u.toward(v, 0.5)
		f, free := c.free(m)
		if free {
			v = m
		} else {
			u = m
			out.across, out.other = geom.Vec{X: f.X, Y: f.Y}, c.inLoop(loop, int(c.index.Number(f.Edge)))
		}
		if u.at.Sub(v.at).Len() < 0.25 && u.inward.Sub(v.inward).Len()*c.radius < 0.25 {
			break
		}
	}
	out.near, out.middle = v.at, v.at.Add(v.inward.Mul(c.radius))
	return out, true
}

// inLoop returns which edge of a loop one of all edges is, or -1.
func (c *tipCutter) inLoop(loop, edge int) int {
	if k := edge - c.first[loop]; k >= 0 && k < len(c.loops[loop]) {
		return k
	}
	return -1
}

// beyond returns the outline from where the ball touches before the tip to where it touches behind, and back
// around the ball.
func (c *tipCutter) beyond(l plane.Loop, k int, there, back twoSides) plane.Loop {
	n := len(l)
	out := plane.Loop{rounded(back.near)}
	for i := (back.edge + 1) % n; ; i = (i + 1) % n {
		out = append(out, l[i])
		if i == there.edge {
			break
		}
	}
	from, to := there.near.Sub(there.middle), back.near.Sub(there.middle)
	start, turn := math.Atan2(from.Y, from.X), math.Atan2(from.Cross(to), from.Dot(to))
	if tip := vecOf(l[k]).Sub(there.middle); turn > 0 != (from.Cross(tip) > 0) {
		turn -= math.Copysign(2*math.Pi, turn)
	}
	steps := int(math.Ceil(math.Abs(turn) / (2 * math.Acos(1-1.0/1000))))
	for s := range steps {
		y, x := math.Sincos(start + turn*float64(s)/float64(steps))
		out = append(out, rounded(there.middle.Add(geom.Vec{X: x, Y: y}.Mul(c.radius))))
	}
	return out
}

func rounded(v geom.Vec) plane.Point {
	return plane.Point{X: int32(math.Round(v.X)), Y: int32(math.Round(v.Y))}
}
