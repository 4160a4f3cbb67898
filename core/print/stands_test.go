package print

import (
	"math"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/raise"
)

// TestStandsAreCompared stands solids in all ways: the best one is what one would choose, its figures are those of the form,
// and what speaks against others is said.
func TestStandsAreCompared(t *testing.T) {
	// A mushroom lies on its stem; it stands best on its cap.
	mushroom := joined(prism(circle(3, 60), 0, 10, 1), lifted(prism(circle(12, 120), 0, 3, 1), 10))
	letter := raised(t, 5, raise.Bevel{}, [][2]float64{{0, 0}, {30, 0}, {30, 8}, {8, 8}, {8, 30}, {0, 30}})
	for name, c := range map[string]struct {
		solid               *mesh.Mesh
		best                string
		contact, over, tall float64
	}{
		"a plate":    {prism(rect(-20, -10, 40, 20), 0, 4, 1), "as Size lays it", 800, 0, 4},
		"a mushroom": {mushroom, "turned over", math.Pi * 144, 0, 13},
		"a funnel":   {prism(circle(8, 120), 0, 6, 2), "turned over", math.Pi * 256, 0, 6},
		"a letter":   {letter, "as Size lays it", 30*8 + 8*22, 0, 5},
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

// TestTooManyCopiesAreSaid asks for more copies than there is room for: by their volume before anything is cut, else by their
// outlines.
func TestTooManyCopiesAreSaid(t *testing.T) {
	s := Usual()
	sail := raised(t, 2, raise.Bevel{}, [][2]float64{{-30, -25}, {30, -25}, {-30, 25}})
	for copies, want := range map[int]string{1: "", 8: "", 15: "outlines", 21: "outlines", 22: "volume", 150: "volume"} {
		s.Copies = copies // 21 of 1,500 mm2 are less than the bed
		got := ""
		if err := MayFit(sail, &s); err != nil {
			got = "volume"
			if !strings.HasPrefix(err.Error(), "21 copies fit on the bed at the most") {
				t.Errorf("%d copies: %v", copies, err)
			}
		} else if r, err := Look(t.Context(), sail, sliced(t, sail, 0.2, 0.2), &s); err != nil {
			t.Fatal(err)
		} else if i := slices.IndexFunc(r.Findings, func(f Finding) bool { return f.Kind == TooLarge }); i >= 0 {
			got = "outlines"
			if !strings.Contains(r.Findings[i].Text, "copies fit on the bed beside its skirt") {
				t.Errorf("%d copies: %s", copies, r.Findings[i].Text)
			}
		}
		if got != want {
			t.Errorf("%d copies are too many by %q, want %q", copies, got, want)
		}
	}
}
