package print

import (
	"math"
	"strings"
	"testing"
	"time"

	"bildhauer/core/mesh"
	"bildhauer/core/raise"
)

// TestStandsAreCompared stands solids in all ways: the best one is what one would choose, its figures are those of the form,
// and what speaks against others is said.
func TestStandsAreCompared(t *testing.T) {
	// A mushroom lies on its stem; it stands best on its cap.
	mushroom := joined(prism(circle(3, 60), 0, 10, 1), lifted(prism(circle(12, 120), 0, 3, 1), 10))
	for name, c := range map[string]struct {
		solid               *mesh.Mesh
		best                string
		contact, over, tall float64
	}{
		"a plate":    {prism(rect(-20, -10, 40, 20), 0, 4, 1), "as Size lays it", 800, 0, 4},
		"a mushroom": {mushroom, "turned over", math.Pi * 144, 0, 13},
		"a funnel":   {prism(circle(8, 120), 0, 6, 2), "turned over", math.Pi * 256, 0, 6},
		"a letter":   {raised(t, 5, raise.Bevel{}, [][2]float64{{0, 0}, {30, 0}, {30, 8}, {8, 8}, {8, 30}, {0, 30}}), "as Size lays it", 30*8 + 8*22, 0, 5},
	} {
		s := Usual()
		list, err := Stands(t.Context(), c.solid, &s)
		if err != nil {
			t.Fatal(err)
		}
		b := list[0]
		if !b.Best || b.Name != c.best || b.InAir != 0 || !b.Steady || math.Abs(b.Contact/c.contact-1) > 0.02 || math.Abs(b.Tall-c.tall) > 1e-3 ||
			math.Abs(b.Overhang-c.over) > 1 {
			t.Errorf("%s: %+v", name, b)
		}
		for _, d := range list[1:] {
			if d.Best || !strings.HasSuffix(d.Why, " mm high.") {
				t.Errorf("%s: %+v", name, d)
			}
		}
	}
	// On its lower side the letter stands on 30 by 5 mm, and its arm does not hang over.
	letter := raised(t, 5, raise.Bevel{}, [][2]float64{{0, 0}, {30, 0}, {30, 8}, {8, 8}, {8, 30}, {0, 30}})
	s := Usual()
	list, _ := Stands(t.Context(), letter, &s)
	found := false
	for _, d := range list {
		if d.Name == "on its lower side" {
			found = true
			if math.Abs(d.Contact-150) > 1 || d.Overhang > 1 || d.InAir != 0 || math.Abs(d.Tall-30) > 0.01 {
				t.Errorf("on its lower side: %+v", d)
			}
		}
		if d.Name == "on its right side" && d.Overhang < 100 {
			t.Errorf("on its right side nothing hangs over: %+v", d)
		}
	}
	if !found {
		t.Errorf("it is not stood on its lower side: %+v", list)
	}
	// What is too large says so and is not the best.
	list, _ = Stands(t.Context(), prism(rect(-100, -5, 200, 10), 0, 3, 1), &s)
	if list[0].Fits || list[0].Best || !strings.HasPrefix(list[0].Why, "It does not fit the bed") {
		t.Errorf("%+v", list[0])
	}
}

// TestWhatDoesNotFitIsSaidAtOnce looks at a large solid that does not fit: it takes no time.
func TestWhatDoesNotFitIsSaidAtOnce(t *testing.T) {
	s := Usual()
	begun := time.Now()
	err := Fits([3]float64{300, 20, 5}, &s)
	if err == nil || !strings.Contains(err.Error(), "the bed has 180 by 180") || time.Since(begun) > time.Second {
		t.Error(err)
	}
	r := TooBig([3]float64{300, 20, 5}, err)
	if len(r.Findings) != 1 || r.Findings[0].Kind != TooLarge || r.Findings[0].Measure != 300 || r.Findings[0].Way == "" {
		t.Errorf("%+v", r)
	}
}
