package raise

import (
	"fmt"
	"math"
	"slices"
)

// Profile is the form of a bevel, named after mouldings.
type Profile string

// The profiles. On the unit square t runs from the rim inward and f up.
const (
	Chamfer Profile = "chamfer" // straight
	Round   Profile = "round"   // quarter of an ellipse, upright at the rim, level inside
	Cove    Profile = "cove"    // its hollow counterpart: level at the rim, upright inside
	Ogee    Profile = "ogee"    // a cove that turns into a round half way
	Bead    Profile = "bead"    // a rounded border, set off from the face by a groove
	Step    Profile = "step"    // stairs, one a segment
	Pillow  Profile = "pillow"  // a round that runs all the way to the ridge
	Dome    Profile = "dome"    // the same without an edge on the ridge
	Custom  Profile = "custom"  // as drawn, see Knot
)

// Profiles lists all.
var Profiles = []Profile{Chamfer, Round, Cove, Ogee, Bead, Step, Pillow, Dome, Custom}

// Valid returns an error that names the profiles if p is none of them.
func (p Profile) Valid() error {
	if slices.Contains(Profiles, p) {
		return nil
	}
	return fmt.Errorf("unknown profile %q; there are %v", string(p), Profiles)
}

// Full reports whether the profile is as wide as the part is.
func (p Profile) Full() bool { return p == Pillow || p == Dome }

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

// tracer walks along a profile from the rim.
type tracer struct {
	facets []Facet
	t, f   float64
}

// line goes straight on; straight up or down when t is where it stands.
func (c *tracer) line(t, f float64) {
	if t > c.t {
		d := [2]float64{t - c.t, f - c.f}
		c.facets = append(c.facets, Facet{c.t, t, c.f, f, d, d})
	}
	c.t, c.f = math.Max(t, c.t), f
}

// curve goes on along at(u), u from 0 to 1, in n facets; slope(u) is its direction.
func (c *tracer) curve(n int, at, slope func(u float64) (t, f float64)) {
	for i := range n {
		u0, u1 := float64(i)/float64(n), float64(i+1)/float64(n)
		t, f := at(u1)
		c.line(t, f)
		last := &c.facets[len(c.facets)-1]
		last.d0[0], last.d0[1] = slope(u0)
		last.d1[0], last.d1[1] = slope(u1)
	}
}

// round goes on along a quarter of an ellipse that starts upright.
func (c *tracer) round(t, f float64, n int) {
	w, h, t0, f0 := t-c.t, f-c.f, c.t, c.f
	c.curve(n, func(u float64) (float64, float64) {
		s, k := math.Sincos(math.Pi / 2 * u)
		if u == 1 {
			s, k = 1, 0
		}
		return t0 + w*(1-k), f0 + h*s
	}, func(u float64) (float64, float64) {
		s, k := math.Sincos(math.Pi / 2 * u)
		return w * s, h * k
	})
}

// cove goes on along a quarter of an ellipse that starts level.
func (c *tracer) cove(t, f float64, n int) {
	w, h, t0, f0 := t-c.t, f-c.f, c.t, c.f
	c.curve(n, func(u float64) (float64, float64) {
		s, k := math.Sincos(math.Pi / 2 * u)
		if u == 1 {
			s, k = 1, 0
		}
		return t0 + w*s, f0 + h*(1-k)
	}, func(u float64) (float64, float64) {
		s, k := math.Sincos(math.Pi / 2 * u)
		return w * k, h * s
	})
}

// bend goes on along a piece of a custom profile.
func (c *tracer) bend(k Knot, n int) {
	if k.T <= c.t || math.Abs(k.Bend) < 1e-3 || k.F == c.f {
		c.line(k.T, k.F)
		return
	}
	t0, f0 := c.t, c.f
	// The handle: half way at 0, the upper left corner of the box at 1.
	up := k.Bend
	if k.F < f0 {
		up = -up
	}
	ht, hf := t0+(k.T-t0)*(1-up)/2, f0+(k.F-f0)*(1+up)/2
	c.curve(n, func(u float64) (float64, float64) {
		v := 1 - u
		return v*v*t0 + 2*u*v*ht + u*u*k.T, v*v*f0 + 2*u*v*hf + u*u*k.F
	}, func(u float64) (float64, float64) {
		v := 1 - u
		return v*(ht-t0) + u*(k.T-ht), v*(hf-f0) + u*(k.F-hf)
	})
}

// trace walks along the profile with n facets a curve and returns the facets,
// and the share of the height that is reached beyond the last.
func (b Bevel) trace(n int) ([]Facet, float64) {
	c := &tracer{}
	half := max(1, (n+1)/2)
	switch b.Profile {
	case Round, Pillow, Dome:
		c.round(1, 1, n)
	case Cove:
		c.cove(1, 1, n)
	case Ogee:
		c.cove(0.5, 0.5, half)
		c.round(1, 1, half)
	case Bead:
		c.round(0.5, 1, n)
		c.cove(1, 0.5, n) // down again, level at the top: a cove upside down
		c.line(1, 1)
	case Step:
		for i := range n {
			c.line(float64(i+1)/float64(n), c.f)
			c.line(c.t, float64(i+1)/float64(n))
		}
	case Custom:
		b.traceCurve(c, n)
	default:
		c.line(1, 1) // more facets of one plane would change nothing
	}
	return c.facets, c.f
}

// traceCurve walks along a custom profile. What lies outside the unit square is
// brought to its edge, and the last knot to the full width.
func (b Bevel) traceCurve(c *tracer, n int) {
	unit := func(v float64) float64 { return math.Max(0, math.Min(1, v)) }
	for i, k := range b.Curve {
		k.T, k.F, k.Bend = math.Max(c.t, unit(k.T)), unit(k.F), math.Max(-1, math.Min(1, k.Bend))
		if i == 0 {
			k.T, k.Bend = 0, 0
		}
		if i == len(b.Curve)-1 && k.T < 1 {
			c.bend(k, n)
			c.line(1, k.F)
			return
		}
		c.bend(k, n)
	}
	if c.t < 1 {
		c.line(1, 1)
	}
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
