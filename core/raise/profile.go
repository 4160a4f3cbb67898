package raise

import (
	"fmt"
	"slices"

	"bildhauer/core/curves"
	"bildhauer/core/terms"
)

// Profile is the form of a bevel, named after mouldings.
type Profile string

// Some of the profiles, by name; all are in terms.Profiles.
const (
	Chamfer Profile = "chamfer"
	Round   Profile = "round"
	Cove    Profile = "cove"
	Ogee    Profile = "ogee"
	Bead    Profile = "bead"
	Step    Profile = "step"
	Pillow  Profile = "pillow"
	Dome    Profile = "dome"
	Custom  Profile = "custom" // as drawn, see Knot
)

// Profiles lists all.
var Profiles = profileNames()

func profileNames() []Profile {
	out := make([]Profile, len(terms.Profiles))
	for i, p := range terms.Profiles {
		out[i] = Profile(p.Name)
	}
	return out
}

// Valid returns an error that names the profiles if p is none of them.
func (p Profile) Valid() error {
	if slices.Contains(Profiles, p) {
		return nil
	}
	return fmt.Errorf("unknown profile %q; there are %v", string(p), Profiles)
}

// Full reports whether the profile is as wide as the part is.
func (p Profile) Full() bool { return terms.ProfileOf(string(p)).Full }

// Knot is a point of a custom profile and how the piece that leads to it bends:
// 0 straight, 1 bulging up as far as it can, -1 hollow. A piece is a quadratic
// Bezier curve whose middle handle moves on the diagonal of the box between its
// ends, so that it never leaves that box. T must not fall from knot to knot; a
// knot that would reach back under the one before stands upright above or below
// it instead (see Undercut).
type Knot struct {
	T    float64 `json:"t"`
	F    float64 `json:"f"`
	Bend float64 `json:"bend,omitempty"`
}

// Undercut reports whether some knot reaches back under the one before.
func Undercut(curve []Knot) bool {
	return !slices.IsSortedFunc(curve, func(a, b Knot) int {
		switch {
		case a.T < b.T:
			return -1
		case a.T > b.T:
			return 1
		}
		return 0
	})
}

// Bevel describes one bevelled rim, lengths in mm.
type Bevel struct {
	Profile  Profile
	Width    float64 // how far it reaches inward, or outward
	Height   float64 // how far it reaches down
	Segments int     // facets across each curve of the profile
	Curve    []Knot  // of Custom
	Mitred   bool    // at inner corners, not round
}

// On reports whether the bevel takes anything away.
func (b Bevel) On() bool { return b.Width > 0 && b.Height > 0 && b.Segments > 0 }

// Facet is one straight piece of a profile between two rings. Upright pieces are
// none: they show as a facet that begins where the one before does not end.
type Facet struct {
	t0, t1 float64    // shares of the width
	f0, f1 float64    // shares of the height
	d0, d1 [2]float64 // directions (t, f) of the true curve at the ends, for shading
}

// trace walks along the profile with n facets a curve and returns the facets, and the share of the height
// that is reached beyond the last. Upright pieces are no facets.
func (b Bevel) trace(n int) (out []Facet, top float64) {
	t := 0.0
	for _, c := range b.line(n) {
		if c.T > t {
			out = append(out, Facet{t, c.T, top, c.F, c.D0, c.D1})
		}
		t, top = c.T, c.F
	}
	return out, top
}

// line is the line of the profile (core/curves). One that is not known is straight.
func (b Bevel) line(n int) []curves.Facet {
	if b.Profile == Custom {
		knots := make([]curves.Knot, len(b.Curve))
		for i, k := range b.Curve {
			knots[i] = curves.Knot{T: k.T, F: k.F, Bend: k.Bend}
		}
		return curves.Drawn(knots, n)
	}
	var pieces []curves.Piece
	for _, p := range terms.ProfileOf(string(b.Profile)).Lines {
		pieces = append(pieces, curves.Piece{Form: p.Form, T: p.T, F: p.F, Half: p.Half})
	}
	if pieces == nil {
		pieces = []curves.Piece{{Form: "line", T: 1, F: 1}}
	}
	return curves.Profile(pieces, n)
}

// facetsFor returns the facets of the profile of which none is narrower than
// least, a share of the width, and the share of the height reached beyond them.
// Curves get fewer facets where they must.
func (b Bevel) facetsFor(least float64) ([]Facet, float64) {
	n := max(1, b.Segments)
	narrow := func(list []Facet) bool {
		return slices.ContainsFunc(list, func(f Facet) bool { return f.t1-f.t0 < least })
	}
	list, top := b.trace(n)
	for ; n > 1 && narrow(list); n-- {
		list, top = b.trace(n - 1)
	}
	return merged(list, least), top
}

// merged joins facets narrower than least with their neighbours.
func merged(list []Facet, least float64) []Facet {
	var out []Facet
	for _, f := range list {
		if k := len(out) - 1; k >= 0 && (out[k].t1-out[k].t0 < least || f.t1 >= 1 && f.t1-f.t0 < least) {
			out[k].t1, out[k].f1, out[k].d1 = f.t1, f.f1, f.d1
			continue
		}
		out = append(out, f)
	}
	return out
}
