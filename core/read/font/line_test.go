package font

import (
	"testing"

	"bildhauer/core/geom"
)

// TestSetLine sets a line in each shipped family: letters one behind the other,
// as wide as it says, and what is missing is told.
func TestSetLine(t *testing.T) {
	lib := &Library{}
	for _, name := range Shipped() {
		f := lib.Find(Want{Families: []string{name}}).Face
		one, a, missing := f.SetLine("H")
		two, b, _ := f.SetLine("HH")
		if missing != 0 || len(one) == 0 || len(two) != 2*len(one) || b < 1.8*a || b > 2.2*a {
			t.Errorf("%s: %d and %d contours, %g and %g em wide, missing %q", name, len(one), len(two), a, b, missing)
		}
		box := geom.EmptyBox()
		for _, c := range two {
			box = box.Union(c.TightBox())
		}
		if box.H() < 0.4 || box.H() > 1.2 || box.Max.X > b+0.3 || box.Min.Y < -0.5 {
			t.Errorf("%s: the letters fill %v", name, box)
		}
	}
	face := lib.Find(Want{Families: []string{"Zilla Slab"}}).Face
	if _, _, missing := face.SetLine("Pier 中"); missing != '中' {
		t.Errorf("missing %q", missing)
	}
	if out, a, missing := face.SetLine(""); len(out) != 0 || a != 0 || missing != 0 {
		t.Errorf("an empty line has %d contours", len(out))
	}
}
