package raise

import (
	"math"

	"bildhauer/core/plane"
)

// At an inner corner of the outline, where the region turns by more than half a turn, the
// places that lie nearest to the corner itself are a wedge between the normals of its two
// edges. A bevel goes round it as a cone, since distances do, or, mitred, as two planes
// that meet: there the distance is the greater of those from both edges' lines. Corners
// sharper than the limit stay round.

// mitreLimit is how far a mitre may reach, in multiples of the distance: corners of 60
// degrees and more.
const mitreLimit = 2

// mitres knows the corners of what distances are measured from.
type mitres struct {
	index      *plane.SegmentIndex
	a, b       []plane.Point // of each edge, one loop after the other
	prev, next []int32
	outward    bool
}

// newMitres lists the edges of the loops that index was made of.
func newMitres(index *plane.SegmentIndex, loops []plane.Loop, outward bool) *mitres {
	m := &mitres{index: index, outward: outward}
	for _, l := range loops {
		first, n := int32(len(m.a)), int32(len(l))
		for i, p := range l {
			k := int32(i)
			m.a, m.b = append(m.a, p), append(m.b, l[(i+1)%len(l)])
			m.prev, m.next = append(m.prev, first+(k+n-1)%n), append(m.next, first+(k+1)%n)
		}
	}
	return m
}

// distance returns the distance of a place whose nearest point of the outline is f.
func (m *mitres) distance(x, y float64, f plane.Foot) float64 {
	if m == nil || f.Edge < 0 {
		return f.Dist
	}
	e := m.index.Number(f.Edge)
	switch {
	case f.X == float64(m.a[e].X) && f.Y == float64(m.a[e].Y):
		e = m.prev[e]
	case f.X != float64(m.b[e].X) || f.Y != float64(m.b[e].Y):
		return f.Dist
	}
	// The corner lies between edge e and the one after it.
	p, q := m.line(e, x, y), m.line(m.next[e], x, y)
	if m.outward {
		p, q = -p, -q
	}
	if d := math.Max(p, q); d > 0 && m.blunt(e, m.next[e]) {
		return math.Min(d, f.Dist)
	}
	return f.Dist
}

// blunt reports whether the mitre between two edges is within the limit: its length is the
// distance divided by the cosine of half the turn.
func (m *mitres) blunt(e, n int32) bool {
	ux, uy := float64(m.b[e].X-m.a[e].X), float64(m.b[e].Y-m.a[e].Y)
	vx, vy := float64(m.b[n].X-m.a[n].X), float64(m.b[n].Y-m.a[n].Y)
	cos := (ux*vx + uy*vy) / (math.Hypot(ux, uy) * math.Hypot(vx, vy))
	return (1+cos)/2*mitreLimit*mitreLimit >= 1
}

// line returns how far a place lies to the left of the line of an edge.
func (m *mitres) line(e int32, x, y float64) float64 {
	a, b := m.a[e], m.b[e]
	dx, dy := float64(b.X-a.X), float64(b.Y-a.Y)
	return (dx*(y-float64(a.Y)) - dy*(x-float64(a.X))) / math.Hypot(dx, dy)
}

// reachOf returns how far to look for the outline of a place that is at most d away.
func (m *mitres) reachOf(d float64) float64 {
	if m == nil {
		return d
	}
	return d * mitreLimit
}
