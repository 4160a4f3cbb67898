package geom

import (
	"cmp"
	"slices"
)

// Hull returns the convex hull of points, counter-clockwise, without points inside its edges
// (Andrew, Another efficient algorithm for convex hulls in two dimensions, 1979).
func Hull(points []Vec) []Vec {
	p := slices.Clone(points)
	slices.SortFunc(p, func(a, b Vec) int { return cmp.Or(cmp.Compare(a.X, b.X), cmp.Compare(a.Y, b.Y)) })
	p = slices.Compact(p)
	if len(p) < 3 {
		return p
	}
	half := func(each func(func(Vec))) (out []Vec) {
		each(func(v Vec) {
			for n := len(out); n >= 2 && out[n-1].Sub(out[n-2]).Cross(v.Sub(out[n-2])) <= 0; n-- {
				out = out[:n-1]
			}
			out = append(out, v)
		})
		return out[:len(out)-1]
	}
	low := half(func(f func(Vec)) {
		for _, v := range p {
			f(v)
		}
	})
	high := half(func(f func(Vec)) {
		for _, v := range slices.Backward(p) {
			f(v)
		}
	})
	return append(low, high...)
}
