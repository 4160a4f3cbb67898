package truth

import (
	"math"

	"bildhauer/core/recipe"
)

// knots are the corners of a profile's facets: t from the rim inward, f the share of the height.
type knots []vec

// profileOf walks along a rim's profile.
func profileOf(r *recipe.Rim) knots {
	n := r.Segments
	half := max(1, (n+1)/2)
	out := knots{{0, 0}}
	// quarter appends a quarter of an ellipse to (t, f), upright first or level first.
	quarter := func(t, f float64, n int, upright bool) {
		from := out[len(out)-1]
		for i := 1; i <= n; i++ {
			s, c := math.Sincos(math.Pi / 2 * float64(i) / float64(n))
			if !upright {
				s, c = 1-c, 1-s
			}
			out = append(out, vec{from.x + (t-from.x)*(1-c), from.y + (f-from.y)*s})
		}
	}
	switch r.Profile {
	case recipe.Round, recipe.Pillow:
		quarter(1, 1, n, true)
	case recipe.Cove:
		quarter(1, 1, n, false)
	case recipe.Ogee:
		quarter(0.5, 0.5, half, false)
		quarter(1, 1, half, true)
	case recipe.Bead:
		quarter(0.5, 1, n, true)
		quarter(1, 0.5, n, false)
		out = append(out, vec{1, 1})
	case recipe.Step:
		for i := range n {
			t := float64(i+1) / float64(n)
			out = append(out, vec{t, float64(i) / float64(n)}, vec{t, t})
		}
	case recipe.Custom:
		out = drawn(r.Curve, n)
	default:
		out = append(out, vec{1, 1})
	}
	return out
}

// drawn walks along a profile that was drawn: each piece a quadratic curve whose handle lies on the
// diagonal of the box between its ends.
func drawn(curve []recipe.Knot, n int) knots {
	out := knots{{0, curve[0].F}}
	for _, k := range curve[1:] {
		from := out[len(out)-1]
		to := vec{math.Max(from.x, k.T), k.F}
		bend := k.Bend
		if to.y < from.y {
			bend = -bend
		}
		mid := vec{from.x + (to.x-from.x)*(1-bend)/2, from.y + (to.y-from.y)*(1+bend)/2}
		steps := n
		if k.Bend == 0 || to.x == from.x || to.y == from.y {
			steps = 1
		}
		for i := 1; i <= steps; i++ {
			u := float64(i) / float64(steps)
			v := 1 - u
			out = append(out, vec{v*v*from.x + 2*u*v*mid.x + u*u*to.x, v*v*from.y + 2*u*v*mid.y + u*u*to.y})
		}
	}
	if last := out[len(out)-1]; last.x < 1 {
		out = append(out, vec{1, last.y})
	}
	return out
}

// at returns the share of the height at t.
func (k knots) at(t float64) float64 {
	for i := range k[1:] {
		if a, b := k[i], k[i+1]; t >= a.x && t < b.x {
			return a.y + (b.y-a.y)*(t-a.x)/(b.x-a.x)
		}
	}
	return k[len(k)-1].y
}
