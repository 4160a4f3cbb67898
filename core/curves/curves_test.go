package curves

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"os"
	"testing"
)

// vector is one call of a function: what it was given, and what it returned.
type vector struct {
	Call string `json:"call"`
	With []any  `json:"with"`
	Gave any    `json:"gave"`
}

var eases = []string{"", "both", "even", "soft in", "soft out", "overshoot", "bounce", "spring", "hold", "drawn"}

// vectors are calls by a fixed draw of numbers, and of what lies at the edges.
func vectors() (out []vector) {
	r := rand.New(rand.NewPCG(28, 1))
	some := func(lo, hi float64) float64 { return math.Round((lo+(hi-lo)*r.Float64())*1e4) / 1e4 }
	for _, ease := range eases {
		for _, s := range []float64{0, 0.01, 0.25, some(0, 1), 0.5, some(0, 1), 0.93, 1} {
			curve := [4]float64{some(0, 1), some(-1, 2), some(0, 1), some(-1, 2)}
			spring := [2]float64{some(0.5, 6), some(1, 9)}
			out = append(out, vector{"eased", []any{ease, curve, spring, s}, Eased(ease, curve, spring, s)})
		}
	}
	for i := range 24 {
		at, aim := Place{some(-90, 90), some(-90, 90), some(-90, 90)}, Place{some(-9, 9), some(-9, 9), some(-9, 9)}
		if i%4 == 1 {
			aim = Place{at[0], some(-200, 200), at[2]} // straight down or up
		}
		if i%12 == 2 {
			aim = at
		}
		wide, high := some(0, 40), some(0, 40)
		out = append(out, vector{"stanceOf", []any{at, aim, wide, high}, StanceOf(at, aim, wide, high)})
	}
	forms := []string{"line", "round", "cove", "stairs"}
	for range 24 {
		var pieces []Piece
		at := 0.0
		for range 1 + r.IntN(3) {
			at = math.Min(1, at+some(0.1, 0.6))
			pieces = append(pieces, Piece{forms[r.IntN(4)], at, some(0, 1), r.IntN(2) == 0})
		}
		n := 1 + r.IntN(7)
		out = append(out, vector{"profile", []any{pieces, n}, Profile(pieces, n)})
	}
	for range 24 {
		knots := make([]Knot, 1+r.IntN(5))
		for i := range knots {
			knots[i] = Knot{some(-0.1, 1.1), some(-0.1, 1.1), some(-1.2, 1.2)}
		}
		n := 1 + r.IntN(6)
		out = append(out, vector{"drawn", []any{knots, n}, Drawn(knots, n)})
	}
	place := func() Place { return Place{some(-50, 50), some(-50, 50), some(-50, 50)} }
	for range 30 {
		points := make([]Point, 2+r.IntN(5))
		for i := range points {
			points[i] = Point{At: place(), Corner: r.IntN(4) == 0}
			if r.IntN(3) == 0 {
				points[i].Lead = place()
			}
			if r.IntN(4) == 0 {
				points[i].Trail = place()
			}
		}
		closed := len(points) > 2 && r.IntN(2) == 0
		out = append(out, vector{"bends", []any{points, closed}, Bends(points, closed)})
		b := Bends(points, closed)[0]
		out = append(out, vector{"onBend", []any{b, 0.3}, OnBend(b, 0.3)})
	}
	return out
}

// TestVectorsAreCurrent holds what pages are tested against (web/checks/curves.test.mjs) to what is computed here;
// BILDHAUER_WRITE=1 writes it anew.
func TestVectorsAreCurrent(t *testing.T) {
	want, err := json.Marshal(vectors())
	if err != nil {
		t.Fatal(err)
	}
	const path = "testdata/vectors.json"
	if os.Getenv("BILDHAUER_WRITE") != "" {
		if err := os.WriteFile(path, append(want, '\n'), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	raw, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	var have, now any
	if json.Unmarshal(raw, &have) != nil || json.Unmarshal(want, &now) != nil {
		t.Fatal("the vectors can't be read")
	}
	if !alike(have, now) {
		t.Error("testdata/vectors.json is not what is computed; BILDHAUER_WRITE=1 go test ./core/curves")
	}
}

// alike compares by what other processors may round otherwise.
func alike(a, b any) bool {
	switch a := a.(type) {
	case float64:
		v, ok := b.(float64)
		return ok && math.Abs(a-v) <= 1e-9*math.Max(1, math.Abs(a))
	case []any:
		v, ok := b.([]any)
		if !ok || len(a) != len(v) {
			return false
		}
		for i := range a {
			if !alike(a[i], v[i]) {
				return false
			}
		}
		return true
	case map[string]any:
		v, ok := b.(map[string]any)
		if !ok || len(a) != len(v) {
			return false
		}
		for k := range a {
			if !alike(a[k], v[k]) {
				return false
			}
		}
		return true
	}
	return a == b
}

// TestEasesLeadFromStartToEnd holds what all easings share: they start at rest at 0 and end at 1, but for the one that stays.
func TestEasesLeadFromStartToEnd(t *testing.T) {
	for _, ease := range eases {
		curve, spring := [4]float64{0.3, 0, 0.3, 1}, [2]float64{3, 6}
		end := 1.0
		if ease == "hold" {
			end = 0
		}
		if a, b := Eased(ease, curve, spring, 0), Eased(ease, curve, spring, 1); math.Abs(a) > 1e-9 || math.Abs(b-end) > 1e-9 {
			t.Errorf("%q goes from %v to %v", ease, a, b)
		}
		// None jumps on its way.
		for i := range 1000 {
			s := float64(i) / 1000
			if d := math.Abs(Eased(ease, curve, spring, s+0.001) - Eased(ease, curve, spring, s)); d > 0.05 {
				t.Errorf("%q jumps by %v at %v", ease, d, s)
			}
		}
	}
}

// TestQuartersLieOnTheirEllipses checks the points of rounds and coves against the equation of an ellipse, and that the
// tangents told for shading are those of the next and the last point.
func TestQuartersLieOnTheirEllipses(t *testing.T) {
	for n := 1; n <= 32; n++ {
		for form, centre := range map[string][2]float64{"round": {1, 0}, "cove": {0, 1}} {
			list := Profile([]Piece{{form, 1, 1, false}}, n)
			if len(list) != n || list[n-1].T != 1 || list[n-1].F != 1 {
				t.Fatalf("%s of %d ends at %+v", form, n, list[len(list)-1])
			}
			for _, f := range list {
				x, y := f.T-centre[0], f.F-centre[1]
				if math.Abs(math.Hypot(x, y)-1) > 1e-12 {
					t.Errorf("%s of %d: %v, %v is not on its circle", form, n, f.T, f.F)
				}
				if along := x*f.D1[0] + y*f.D1[1]; math.Abs(along) > 1e-12 {
					t.Errorf("%s of %d: the tangent at %v, %v is none", form, n, f.T, f.F)
				}
			}
		}
	}
}

// TestPanelsFaceTheirAim holds what a panel is: it faces its aim, stands upright, and is as large as it says.
func TestPanelsFaceTheirAim(t *testing.T) {
	r := rand.New(rand.NewPCG(28, 2))
	dot := func(a, b Place) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
	for range 1000 {
		at, aim := Place{r.NormFloat64(), r.NormFloat64(), r.NormFloat64()}, Place{r.NormFloat64(), r.NormFloat64(), r.NormFloat64()}
		wide, high := 0.01+r.Float64(), 0.01+r.Float64()
		s := StanceOf(at, aim, wide, high)
		if got := plus(s.At, s.Far, s.Way); long(plus(got, -1, aim)) > 1e-12 {
			t.Errorf("from %v it comes to %v, not to %v", at, got, aim)
		}
		for _, side := range []Place{s.Across, s.Up} {
			if math.Abs(dot(side, s.Way)) > 1e-12 {
				t.Errorf("%v is not across %v", side, s.Way)
			}
		}
		if math.Abs(dot(s.Across, s.Up)) > 1e-12 || s.Across[1] != 0 || s.Up[1] < 0 {
			t.Errorf("%v and %v don't stand upright", s.Across, s.Up)
		}
		if math.Abs(2*long(s.Across)-wide) > 1e-12 || math.Abs(2*long(s.Up)-high) > 1e-12 {
			t.Errorf("%g by %g became %g by %g", wide, high, 2*long(s.Across), 2*long(s.Up))
		}
	}
}
