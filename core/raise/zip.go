package raise

import (
	"math"
	"slices"

	"bildhauer/core/plane"
)

// Where a ring is the ring before moved inward as a whole, loop for loop, the
// band between them needs no triangulation of its own: the two loops are closed
// like a zip. That is so for all bands of strokes wider than two bevels.
//
// A zipped band is valid by proof: its triangles all turn the same way, and
// their borders together are two loops that cross nothing, one inside the
// other; a map of a ring into the plane with these properties covers each point
// once.

// zipped is the outer bands of a polygon. Points are numbered ring after ring, in
// each the outer loop first, and loop after loop.
type zipped struct {
	rings []plane.Polygon // the outline first; loops of one place belong together
	first []int32         // of each ring: its first point
	pts   []plane.Point
	tris  [][3]int32
	ends  []int // of each band: where its triangles end
}

// newZipped begins with the outline alone.
func newZipped(p plane.Polygon) zipped {
	var z zipped
	z.push(p)
	return z
}

// push adds the points of a ring.
func (z *zipped) push(p plane.Polygon) {
	r := plane.Region{p}
	z.rings = append(z.rings, p)
	z.first = append(z.first, int32(len(z.pts)))
	z.pts = slices.Grow(z.pts, r.Edges())
	r.Loops(func(l plane.Loop) { z.pts = append(z.pts, l...) })
}

// loopAt returns loop k of a polygon, 0 for the outer one.
func loopAt(p *plane.Polygon, k int) plane.Loop {
	if k == 0 {
		return p.Outer
	}
	return p.Holes[k-1]
}

// add closes the band between the innermost ring and the next one, which are by apart, if
// straight slopes between them are off by no more than tol. It reports false, and adds
// nothing, when that does not go through.
func (z *zipped) add(next plane.Polygon, by, tol float64) bool {
	last := &z.rings[len(z.rings)-1]
	if len(next.Holes) != len(last.Holes) {
		return false
	}
	from, to := z.first[len(z.first)-1], int32(len(z.pts))
	kept := len(z.tris)
	// Each step along either ring makes one triangle.
	z.tris = slices.Grow(z.tris, (plane.Region{*last, next}).Edges())
	for k := range len(next.Holes) + 1 {
		a, b := loopAt(last, k), loopAt(&next, k)
		var ok bool
		if z.tris, ok = closeZip(a, b, from, to, by, tol, z.tris); !ok {
			z.tris = z.tris[:kept]
			return false
		}
		from, to = from+int32(len(a)), to+int32(len(b))
	}
	z.push(next)
	z.ends = append(z.ends, len(z.tris))
	return true
}

// closeZip appends the triangles between loop a and loop b, which lies to its
// left all along; their points are numbered from a0 and b0. Each step goes on
// along the loop that gives the shorter seam. An edge that is lost on the way from a to b, or has no
// seam to what became of it, would be sloped to a corner farther off than by: there a ridge is missing.
func closeZip(a, b plane.Loop, a0, b0 int32, by, tol float64, out [][3]int32) ([][3]int32, bool) {
	n, m := int32(len(a)), int32(len(b))
	j0 := nearest(b, a[0])
	var i, j int32
	for i < n || j < m {
		i0, i1, k0, k1 := i%n, (i+1)%n, (j0+j)%m, (j0+j+1)%m
		p, q, p1, q1 := a[i0], b[k0], a[i1], b[k1]
		canA := i < n && plane.Orient(p, p1, q) > 0
		canB := j < m && plane.Orient(p, q1, q) > 0
		switch {
		case canA && (!canB || distance2(p1, q) <= distance2(p, q1)):
			if far := height(p, p1, q); (far-by)*by > tol*far {
				return out, false
			}
			out = append(out, [3]int32{a0 + i0, a0 + i1, b0 + k0})
			i++
		case canB:
			out = append(out, [3]int32{a0 + i0, b0 + k1, b0 + k0})
			j++
		default:
			return out, false
		}
	}
	return out, true
}

// height returns how far r lies from the line of p and q.
func height(p, q, r plane.Point) float64 {
	x, y := float64(q.X-p.X), float64(q.Y-p.Y)
	return math.Abs(x*float64(r.Y-p.Y)-y*float64(r.X-p.X)) / math.Hypot(x, y)
}

func distance2(p, q plane.Point) int64 {
	dx, dy := int64(p.X-q.X), int64(p.Y-q.Y)
	return dx*dx + dy*dy
}

func nearest(l plane.Loop, p plane.Point) int32 {
	best, least := int32(0), distance2(l[0], p)
	for i := range l {
		if d := distance2(l[i], p); d < least {
			best, least = int32(i), d
		}
	}
	return best
}

// put makes the zipped bands the beginning of a plan that will get more points and
// triangles, and returns the numbers of the points of the innermost ring.
func (z *zipped) put(p *Plan, levels []float64, points, tris int) map[plane.Point]int32 {
	p.room(len(z.pts)+points, len(z.tris)+tris)
	p.Pts, p.Tris = append(p.Pts, z.pts...), append(p.Tris, z.tris...)
	p.Dist, p.Ring = p.Dist[:len(z.pts)], p.Ring[:len(z.tris)]
	last := len(z.rings) - 1
	inner := make(map[plane.Point]int32, len(z.pts)-int(z.first[last]))
	for i := z.first[last]; int(i) < len(z.pts); i++ {
		inner[z.pts[i]] = i
	}
	for r := range z.rings {
		to := len(z.pts)
		if r < last {
			to = int(z.first[r+1])
		}
		for i := int(z.first[r]); i < to; i++ {
			p.Dist[i] = float32(levels[r])
		}
	}
	from := 0
	for r, end := range z.ends {
		for ; from < end; from++ {
			p.Ring[from] = Ring(r)
		}
	}
	p.Rim = make([][2]int32, 0, z.first[1])
	at := int32(0)
	plane.Region{z.rings[0]}.Loops(func(l plane.Loop) {
		n := int32(len(l))
		for i := range n {
			p.Rim = append(p.Rim, [2]int32{at + i, at + (i+1)%n})
		}
		at += n
	})
	return inner
}
