package raise

import (
	"math"
	"math/rand/v2"
	"testing"
)

// TestProfilesAreLines traces every profile at every fineness: facets go on where the one
// before ends, reach the full width, stay within the square, and none is narrower than
// asked for, but where there is only one.
func TestProfilesAreLines(t *testing.T) {
	for _, p := range Profiles {
		for n := 1; n <= 32; n++ {
			for _, least := range []float64{0, 0.001, 0.03, 0.2, 0.7} {
				b := Bevel{Profile: p, Width: 1, Height: 1, Segments: n}
				if p == Custom {
					b.Curve = wave
				}
				list, top := b.facetsFor(least)
				checkFacets(t, string(p), list, top, least)
			}
		}
	}
}

func checkFacets(t *testing.T, name string, list []Facet, top, least float64) {
	t.Helper()
	if len(list) == 0 || list[0].t0 != 0 || list[len(list)-1].t1 != 1 || top < 0 || top > 1 {
		t.Fatalf("%s: from %+v to %g", name, list, top)
	}
	for i, f := range list {
		if i > 0 && f.t0 != list[i-1].t1 {
			t.Errorf("%s: facet %d begins at %g, the one before ends at %g", name, i, f.t0, list[i-1].t1)
		}
		if f.t1 <= f.t0 || len(list) > 1 && f.t1-f.t0 < least {
			t.Errorf("%s: facet %d is %g wide, least %g", name, i, f.t1-f.t0, least)
		}
		for _, v := range []float64{f.f0, f.f1} {
			if v < -1e-12 || v > 1+1e-12 {
				t.Errorf("%s: facet %d reaches %g", name, i, v)
			}
		}
		for _, d := range [][2]float64{f.d0, f.d1} {
			if d[0] < 0 || d == ([2]float64{}) {
				t.Errorf("%s: facet %d leads in the direction %v", name, i, d)
			}
		}
	}
}

// TestCustomProfilesAreTamed draws profiles at random, points back under themselves and out
// of the square among them: what comes out is a profile.
func TestCustomProfilesAreTamed(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	for range 2000 {
		b := Bevel{Profile: Custom, Width: 1, Height: 1, Segments: 1 + r.IntN(12)}
		for range r.IntN(12) {
			b.Curve = append(b.Curve, Knot{3*r.Float64() - 1, 3*r.Float64() - 1, 4*r.Float64() - 2})
		}
		list, top := b.facetsFor(0.01)
		checkFacets(t, "custom", list, top, 0.01)
	}
	for _, c := range []struct {
		curve []Knot
		under bool
	}{{nil, false}, {wave, false}, {[]Knot{{}, {T: 0.5}, {T: 0.4}, {T: 1}}, true}, {[]Knot{{}, {T: 0.5}, {T: 0.5, F: 1}}, false}} {
		if Undercut(c.curve) != c.under {
			t.Errorf("%v: undercut %v", c.curve, !c.under)
		}
	}
}

// TestProfilesFollowTheirCurves compares facets with the curves that they stand for: their
// corners lie on them, and the directions at their ends are those of the curve.
func TestProfilesFollowTheirCurves(t *testing.T) {
	for _, c := range []struct {
		p  Profile
		at func(t float64) float64
	}{
		{Chamfer, func(t float64) float64 { return t }},
		{Round, func(t float64) float64 { return math.Sqrt(1 - (1-t)*(1-t)) }},
		{Cove, func(t float64) float64 { return 1 - math.Sqrt(1-t*t) }},
		{Ogee, func(t float64) float64 {
			if t <= 0.5 {
				return 0.5 - math.Sqrt(0.25-t*t)
			}
			return 0.5 + math.Sqrt(0.25-(1-t)*(1-t))
		}},
	} {
		list, _ := Bevel{Profile: c.p, Width: 1, Height: 1, Segments: 12}.facetsFor(0)
		for i, f := range list {
			if math.Abs(c.at(f.t0)-f.f0) > 1e-9 || math.Abs(c.at(f.t1)-f.f1) > 1e-9 {
				t.Errorf("%s: facet %d runs from %g to %g", c.p, i, f.f0, f.f1)
			}
			const h = 1e-6
			for k, d := range [][2]float64{f.d0, f.d1} {
				at := []float64{f.t0, f.t1}[k]
				if at < 0.01 || at > 0.99 || math.Abs(at-0.5) < 0.01 {
					continue // upright or level
				}
				want := (c.at(at+h) - c.at(at-h)) / (2 * h)
				if got := d[1] / d[0]; math.Abs(got-want) > 1e-3*math.Max(1, want) {
					t.Errorf("%s: facet %d leads with a slope of %g, the curve with %g", c.p, i, got, want)
				}
			}
		}
	}
}

// TestUnknownProfilesAreNamed words what there is.
func TestUnknownProfilesAreNamed(t *testing.T) {
	if err := Profile("wavy").Valid(); err == nil || Round.Valid() != nil {
		t.Errorf("%v, %v", err, Round.Valid())
	}
}
