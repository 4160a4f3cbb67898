package raise

import "bildhauer/core/plane"

// Where a ring is the ring before moved inward as a whole, loop for loop, the
// band between them needs no triangulation of its own: the two loops are closed
// like a zip. That is so for all bands of strokes wider than two bevels.
//
// A zipped band is valid by proof: its triangles all turn the same way, and
// their borders together are two loops that cross nothing, one inside the
// other; a map of a ring into the plane with these properties covers each point
// once.

// zipped is the outer bands of a polygon.
type zipped struct {
	rings []plane.Polygon // the outline first; loops of one place belong together
	tris  [][][3]zipPoint // of each band
}

// zipPoint is a point of a ring: its loop, 0 for the outer one, and its place
// there.
type zipPoint struct {
	ring, loop, at int32
}

// loop returns loop k of a polygon.
func loopAt(p *plane.Polygon, k int) plane.Loop {
	if k == 0 {
		return p.Outer
	}
	return p.Holes[k-1]
}

// add closes the band between the innermost ring and the next one. It reports
// false, and adds nothing, when that does not go through.
func (z *zipped) add(next plane.Polygon) bool {
	r := int32(len(z.rings) - 1)
	last := &z.rings[r]
	if len(next.Holes) != len(last.Holes) {
		return false
	}
	var tris [][3]zipPoint
	for k := range len(next.Holes) + 1 {
		var ok bool
		if tris, ok = closeZip(loopAt(last, k), loopAt(&next, k), r, int32(k), tris); !ok {
			return false
		}
	}
	z.rings = append(z.rings, next)
	z.tris = append(z.tris, tris)
	return true
}

// closeZip appends the triangles between loop a and loop b, which lies to its
// left all along. Each step goes on along the loop that gives the shorter seam.
func closeZip(a, b plane.Loop, ring, loop int32, out [][3]zipPoint) ([][3]zipPoint, bool) {
	n, m := int32(len(a)), int32(len(b))
	at := func(i int32) zipPoint { return zipPoint{ring, loop, i % n} }
	bt := func(j int32) zipPoint { return zipPoint{ring + 1, loop, j % m} }
	j0 := nearest(b, a[0])
	var i, j int32
	for i < n || j < m {
		p, q := a[i%n], b[(j0+j)%m]
		canA, canB := i < n, j < m
		var p1, q1 plane.Point
		if canA {
			p1 = a[(i+1)%n]
			canA = plane.Orient(p, p1, q) > 0
		}
		if canB {
			q1 = b[(j0+j+1)%m]
			canB = plane.Orient(p, q1, q) > 0
		}
		switch {
		case canA && (!canB || distance2(p1, q) <= distance2(p, q1)):
			out = append(out, [3]zipPoint{at(i), at(i + 1), bt(j0 + j)})
			i++
		case canB:
			out = append(out, [3]zipPoint{at(i), bt(j0 + j + 1), bt(j0 + j)})
			j++
		default:
			return nil, false
		}
	}
	return out, true
}

func distance2(p, q plane.Point) int64 {
	dx, dy := int64(p.X-q.X), int64(p.Y-q.Y)
	return dx*dx + dy*dy
}

func nearest(l plane.Loop, p plane.Point) int32 {
	best := int32(0)
	for i := range l {
		if distance2(l[i], p) < distance2(l[best], p) {
			best = int32(i)
		}
	}
	return best
}

// put appends the zipped bands to a plan and returns the numbers of the points
// of the innermost ring.
func (z *zipped) put(p *Plan, levels []float64) map[plane.Point]int32 {
	first := make([][]int32, len(z.rings)) // of each ring and loop: number of its first point
	for r := range z.rings {
		for k := range len(z.rings[r].Holes) + 1 {
			first[r] = append(first[r], int32(len(p.Pts)))
			for _, q := range loopAt(&z.rings[r], k) {
				p.Pts = append(p.Pts, q)
				p.Dist = append(p.Dist, float32(levels[r]))
			}
		}
	}
	id := func(q zipPoint) int32 { return first[q.ring][q.loop] + q.at }
	for r, tris := range z.tris {
		for _, t := range tris {
			p.Tris = append(p.Tris, [3]int32{id(t[0]), id(t[1]), id(t[2])})
			p.Ring = append(p.Ring, uint8(min(r, 255)))
		}
	}
	for k, from := range first[0] {
		n := int32(len(loopAt(&z.rings[0], k)))
		for i := range n {
			p.Rim = append(p.Rim, [2]int32{from + i, from + (i+1)%n})
		}
	}
	last := len(z.rings) - 1
	inner := map[plane.Point]int32{}
	for k, from := range first[last] {
		for i, q := range loopAt(&z.rings[last], k) {
			inner[q] = from + int32(i)
		}
	}
	return inner
}
