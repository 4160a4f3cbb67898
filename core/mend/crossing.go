package mend

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// maxCrossings bounds how many crossings of a shape are looked at.
const maxCrossings = 400

// flat returns the loops of a shape, one for each contour.
func (l *look) flat(k int) []plane.Loop {
	sh := l.shape(k)
	return l.loops(sh.Contours, sh.Matrix, nil, l.tol)
}

// crossingsOf returns the crossings of a filled shape's contours that are more
// than roundings of outlines that run along each other: a tenth of a millimetre
// further on, the outlines are apart.
func (l *look) crossingsOf(k int) (loops []plane.Loop, out []plane.Crossing) {
	if l.shape(k).Stroke != nil {
		return nil, nil
	}
	loops = l.flat(k)
	if _, ok := plane.FillSimple(loops, plane.NonZero); ok {
		return loops, nil
	}
	var index map[int]*plane.SegmentIndex
	for _, c := range plane.Crossings(loops, maxCrossings) {
		l.needed()
		if index == nil {
			index = map[int]*plane.SegmentIndex{}
		}
		if l.parting(loops, c, index) {
			out = append(out, c)
		}
	}
	return loops, out
}

// parting reports whether the outlines part behind a crossing.
func (l *look) parting(loops []plane.Loop, c plane.Crossing, index map[int]*plane.SegmentIndex) bool {
	far := l.units(2 * dustMM)
	if c.Loop[0] == c.Loop[1] {
		lp := loops[c.Loop[0]]
		return leaves(lp, c, 0, far) && leaves(lp, c, 1, far)
	}
	for side := range 2 {
		other := c.Loop[1-side]
		if index[other] == nil {
			index[other] = plane.NewLoopIndex(loops[other : other+1])
		}
		for _, back := range [2]bool{false, true} {
			p := walk(loops[c.Loop[side]], c.Edge[side], c.At, far, back)
			if d := index[other].Nearest(p.X, p.Y, math.Inf(1)).Dist; d > far/10 {
				return true
			}
		}
	}
	return false
}

// leaves reports whether one of two crossing edges of a loop is, a little
// further on both ways, away from where the other one runs.
func leaves(lp plane.Loop, c plane.Crossing, side int, far float64) bool {
	const steps = 12
	var other []geom.Vec
	for i := -steps; i <= steps; i++ {
		d := 1.5 * far * math.Abs(float64(i)) / steps
		other = append(other, walk(lp, c.Edge[1-side], c.At, d, i < 0))
	}
	for _, back := range [2]bool{false, true} {
		p := walk(lp, c.Edge[side], c.At, far, back)
		near := math.Inf(1)
		for i := 1; i < len(other); i++ {
			near = math.Min(near, geom.ToSegment(p, other[i-1], other[i]))
		}
		if near < far/12 {
			return false
		}
	}
	return true
}

// walk returns the point so far along a loop from a point of one of its edges.
func walk(l plane.Loop, edge int, from plane.Point, far float64, back bool) geom.Vec {
	n := len(l)
	at := vecOf(from)
	for range n {
		to := vecOf(l[(edge+1)%n])
		if back {
			to = vecOf(l[edge])
		}
		d := to.Sub(at).Len()
		if d >= far && d > 0 {
			return at.Lerp(to, far/d)
		}
		far -= d
		at = to
		if back {
			edge = (edge + n - 1) % n
		} else {
			edge = (edge + 1) % n
		}
	}
	return at
}

// findCrossings finds filled shapes whose outline crosses itself, but for holes
// that cross their outer contour.
func findCrossings(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		l.needed()
		loops, list := l.crossingsOf(k)
		var own []plane.Crossing
		for _, c := range list {
			if !l.acrossHole(k, loops, c) {
				own = append(own, c)
			}
		}
		if len(own) == 0 {
			continue
		}
		box := geom.EmptyBox()
		for _, c := range own {
			box = box.Grow(l.place(c.At))
		}
		measure := units.Plural(len(own), "crossing", "crossings")
		if len(list) >= maxCrossings {
			measure += " or more"
		}
		m := recipe.Mend{Do: "resolve", Shapes: []string{l.key(k)}}
		rule := "what the outline winds around stays"
		if l.shape(k).EvenOdd {
			rule = "what it crosses twice stays open"
		}
		out = append(out, Finding{
			Shapes: []string{l.key(k)}, At: l.place(own[0].At), Box: box,
			Measure: measure,
			Fixes:   []Fix{fix(m, "Draw it without crossings: %s", rule)},
		})
	}
	return out
}

// acrossHole reports whether a crossing is that of a hole's contour with its
// outer one: two contours that run against each other, or, where the even-odd
// rule makes holes, one much smaller than the other.
func (l *look) acrossHole(k int, loops []plane.Loop, c plane.Crossing) bool {
	if c.Loop[0] == c.Loop[1] {
		return false
	}
	a, b := loops[c.Loop[0]].Area2(), loops[c.Loop[1]].Area2()
	if l.shape(k).EvenOdd {
		small, large := min(abs64(a), abs64(b)), max(abs64(a), abs64(b))
		return small*2 < large
	}
	return (a > 0) != (b > 0)
}

func abs64(v int64) int64 { return max(v, -v) }
