// Package curves computes what the program and its pages must draw alike: the line of a bevel's profile,
// the easing between keys, paths in space. It is written in the part of Go that internal/translate turns
// into JavaScript (web/static/js/made/curves.js): functions of numbers, texts, lists and plain structs.
package curves

import "math"

// Piece is one piece of a profile, see terms.Piece.
type Piece struct {
	Form string  `json:"form"`
	T    float64 `json:"t"`
	F    float64 `json:"f"`
	Half bool    `json:"half"`
}

// Knot is a point of a profile of one's own and how the piece that leads to it bends: 0 straight, 1 bulging
// up as far as it can, -1 hollow. A piece is a quadratic Bezier curve whose middle handle moves on the
// diagonal of the box between its ends, so that it never leaves that box.
type Knot struct {
	T    float64 `json:"t"`
	F    float64 `json:"f"`
	Bend float64 `json:"bend"`
}

// Facet leads on to a point of the unit square: T from the rim inward and F up. DT and DF are the direction of the true curve
// where it begins and where it ends, for shading.
type Facet struct {
	T  float64    `json:"t"`
	F  float64    `json:"f"`
	D0 [2]float64 `json:"d0"`
	D1 [2]float64 `json:"d1"`
}

func line(out []Facet, t, f float64) []Facet {
	t0, f0 := endOf(out)
	to := math.Max(t, t0)
	d := [2]float64{to - t0, f - f0}
	return append(out, Facet{T: to, F: f, D0: d, D1: d})
}

func endOf(out []Facet) (float64, float64) {
	if len(out) == 0 {
		return 0, 0
	}
	last := out[len(out)-1]
	return last.T, last.F
}

// quarter goes on along a quarter of an ellipse in n facets: one that starts upright and arrives level, or
// (cove) the other way round.
func quarter(out []Facet, t, f float64, n int, cove bool) []Facet {
	t0, f0 := endOf(out)
	w, h := t-t0, f-f0
	for i := range n {
		a, b := math.Pi/2*float64(i)/float64(n), math.Pi/2*float64(i+1)/float64(n)
		s, k := math.Sin(b), math.Cos(b)
		if i == n-1 {
			s, k = 1, 0
		}
		if cove {
			out = append(out, Facet{T: t0 + w*s, F: f0 + h*(1-k),
				D0: [2]float64{w * math.Cos(a), h * math.Sin(a)}, D1: [2]float64{w * k, h * s}})
		} else {
			out = append(out, Facet{T: t0 + w*(1-k), F: f0 + h*s,
				D0: [2]float64{w * math.Sin(a), h * math.Cos(a)}, D1: [2]float64{w * s, h * k}})
		}
	}
	return out
}

// Handle returns where the middle handle of a piece of one's own profile lies: half way at no bend, in the
// upper left corner of the box at 1.
func Handle(t0, f0, t1, f1, bend float64) [2]float64 {
	up := bend
	if f1 < f0 {
		up = -bend
	}
	return [2]float64{t0 + (t1-t0)*(1-up)/2, f0 + (f1-f0)*(1+up)/2}
}

// bent goes on along a piece of a profile of one's own.
func bent(out []Facet, k Knot, n int) []Facet {
	t0, f0 := endOf(out)
	if k.T <= t0 || math.Abs(k.Bend) < 1e-3 || k.F == f0 {
		return line(out, k.T, k.F)
	}
	h := Handle(t0, f0, k.T, k.F, k.Bend)
	for i := range n {
		a, u := float64(i)/float64(n), float64(i+1)/float64(n)
		v := 1 - u
		out = append(out, Facet{
			T:  v*v*t0 + 2*u*v*h[0] + u*u*k.T,
			F:  v*v*f0 + 2*u*v*h[1] + u*u*k.F,
			D0: [2]float64{(1-a)*(h[0]-t0) + a*(k.T-h[0]), (1-a)*(h[1]-f0) + a*(k.F-h[1])},
			D1: [2]float64{v*(h[0]-t0) + u*(k.T-h[0]), v*(h[1]-f0) + u*(k.F-h[1])},
		})
	}
	return out
}

func unit(v float64) float64 { return math.Max(0, math.Min(1, v)) }

// Drawn walks along a profile of one's own. What lies outside the unit square is brought to its edge, what
// reaches back under the knot before stands upright, and the last knot is brought to the full width.
func Drawn(knots []Knot, n int) []Facet {
	var out []Facet
	for i := range len(knots) {
		t0, _ := endOf(out)
		k := Knot{T: math.Max(t0, unit(knots[i].T)), F: unit(knots[i].F), Bend: math.Max(-1, math.Min(1, knots[i].Bend))}
		if i == 0 {
			k = Knot{T: 0, F: k.F, Bend: 0}
		}
		out = bent(out, k, n)
		if i == len(knots)-1 && k.T < 1 {
			return line(out, 1, k.F)
		}
	}
	t0, _ := endOf(out)
	if t0 < 1 {
		out = line(out, 1, 1)
	}
	return out
}

// Profile walks along a profile from the rim, with n facets a curve.
func Profile(pieces []Piece, n int) []Facet {
	var out []Facet
	for _, p := range pieces {
		facets := n
		if p.Half {
			facets = max(1, (n+1)/2)
		}
		switch p.Form {
		case "round":
			out = quarter(out, p.T, p.F, facets, false)
		case "cove":
			out = quarter(out, p.T, p.F, facets, true)
		case "stairs":
			t0, f0 := endOf(out)
			for i := range facets {
				s, e := float64(i)/float64(facets), float64(i+1)/float64(facets)
				out = line(out, t0+(p.T-t0)*e, f0+(p.F-f0)*s)
				out = line(out, t0+(p.T-t0)*e, f0+(p.F-f0)*e)
			}
		default:
			out = line(out, p.T, p.F)
		}
	}
	return out
}
