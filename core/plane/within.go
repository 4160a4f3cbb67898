package plane

import "slices"

// Contains reports whether p lies inside the region.
func (r Region) Contains(p Point) bool {
	for _, q := range r {
		if !q.Outer.Contains(p) {
			continue
		}
		if !slices.ContainsFunc(q.Holes, func(h Loop) bool { return h.Contains(p) }) {
			return true
		}
	}
	return false
}

// Within returns a point inside the polygon: on the level line half way between the two
// neighbouring heights of its points that lie farthest apart, the middle of the longest
// piece inside.
func (p Polygon) Within() Point {
	var ys []int32
	loops := append([]Loop{p.Outer}, p.Holes...)
	for _, l := range loops {
		for _, q := range l {
			ys = append(ys, q.Y)
		}
	}
	slices.Sort(ys)
	y, wide := ys[0], int32(0)
	for i := 1; i < len(ys); i++ {
		if d := ys[i] - ys[i-1]; d > wide {
			y, wide = ys[i-1]+d/2, d
		}
	}
	var xs []float64
	for _, l := range loops {
		for i, a := range l {
			if b := l[(i+1)%len(l)]; (a.Y <= y) != (b.Y <= y) {
				s := (float64(y) - float64(a.Y)) / (float64(b.Y) - float64(a.Y))
				xs = append(xs, float64(a.X)+s*(float64(b.X)-float64(a.X)))
			}
		}
	}
	slices.Sort(xs)
	at, long := float64(p.Outer[0].X), 0.0
	for i := 0; i+1 < len(xs); i += 2 {
		if d := xs[i+1] - xs[i]; d > long {
			at, long = (xs[i]+xs[i+1])/2, d
		}
	}
	return Point{int32(at), y}
}
