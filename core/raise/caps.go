package raise

import (
	"math"

	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Flat sides are triangulated from their border alone, which is the fewest triangles. For
// deforming they can have points inside as well: staggered, so that triangles are nearly
// equilateral, or in the corners of squares, for quads. Borders longer than the distance
// of these points are divided, too; both areas that share one divide it alike.

// CapGrid says how flat sides are filled.
type CapGrid struct {
	Spacing float64 // mm; 0 for no points inside
	Square  bool    // in squares, not staggered
}

// dividedEdges returns the region with edges no longer than spacing.
func dividedEdges(r plane.Region, spacing plane.Units) plane.Region {
	divide := func(l plane.Loop) plane.Loop {
		var out plane.Loop
		for i, p := range l {
			q := l[(i+1)%len(l)]
			out = append(out, p)
			n := int(math.Ceil(math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y)) / float64(spacing)))
			for k := 1; k < n; k++ {
				at := between(p, q, float64(k)/float64(n))
				if q.Less(p) { // the same points, whichever way one comes
					at = between(q, p, float64(n-k)/float64(n))
				}
				if at != out[len(out)-1] && at != q {
					out = append(out, at)
				}
			}
		}
		return out
	}
	return r.Mapped(divide)
}

// roomy is how far inside points stay from others, in multiples of their distance.
const roomy = 0.6

// fill puts points into the triangles that want says.
func (g *grid) fill(ar *plane.Arrangement, r plane.Region, poll *progress.Poll, want func(k int32) bool) {
	lo, hi, ok := r.Bounds()
	if !ok || g.spacing <= 0 {
		return
	}
	spacing := float64(g.spacing)
	rows := spacing
	if !g.square {
		rows *= math.Sqrt(3) / 2
	}
	// Rows begin at the origin, so that neighbours are in step.
	near := int32(0)
	for j := math.Ceil(float64(lo.Y) / rows); j*rows <= float64(hi.Y); j++ {
		shift := 0.0
		if !g.square && math.Mod(math.Abs(j), 2) == 1 {
			shift = spacing / 2
		}
		for i := math.Ceil((float64(lo.X) - shift) / spacing); i*spacing+shift <= float64(hi.X); i++ {
			poll.Tick()
			p := plane.Point{X: int32(math.Round(i*spacing + shift)), Y: int32(math.Round(j * rows))}
			near = ar.Find(p, near)
			if want(near) && g.roomAt(ar, near, p) {
				ar.Insert(p)
			}
		}
	}
}

// grid is a CapGrid on the grid.
type grid struct {
	spacing plane.Units
	square  bool
}

// roomAt reports whether a point in triangle k is far enough from what is there.
func (g *grid) roomAt(ar *plane.Arrangement, k int32, p plane.Point) bool {
	v, _ := ar.Triangle(k)
	least := roomy * float64(g.spacing)
	for i := range 3 {
		a, b := ar.Point(v[i]), ar.Point(v[(i+1)%3])
		if math.Hypot(float64(a.X-p.X), float64(a.Y-p.Y)) < least {
			return false
		}
		if _, con := ar.Across(k, i); con {
			long := math.Hypot(float64(b.X-a.X), float64(b.Y-a.Y))
			if math.Abs(float64(plane.Orient(a, b, p)))/long < least/2 {
				return false
			}
		}
	}
	return true
}
