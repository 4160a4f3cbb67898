package truth

import (
	"math"

	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// knots are the corners of a profile's facets: t from the rim inward, f the share of the height.
type knots []vec

// profileOf walks along a rim's profile, as the table of profiles describes it.
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
	if r.Profile == recipe.Custom {
		return drawn(r.Curve, n)
	}
	for _, piece := range terms.ProfileOf(r.Profile).Lines {
		facets := n
		if piece.Half {
			facets = half
		}
		from := out[len(out)-1]
		switch piece.Form {
		case "round", "cove":
			quarter(piece.T, piece.F, facets, piece.Form == "round")
		case "stairs":
			for i := range facets {
				at := func(k int) vec {
					share := float64(k) / float64(facets)
					return vec{from.x + (piece.T-from.x)*share, from.y + (piece.F-from.y)*share}
				}
				out = append(out, vec{at(i + 1).x, at(i).y}, at(i+1))
			}
		default:
			out = append(out, vec{piece.T, piece.F})
		}
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
