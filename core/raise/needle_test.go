package raise

import (
	"encoding/json"
	"os"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// TestNeedle raises an outline with a spike that is three grid units wide and
// twelve thousand long: once its back was left open there.
func TestNeedle(t *testing.T) {
	raw, err := os.ReadFile("testdata/needle.json")
	if err != nil {
		t.Fatal(err)
	}
	var p plane.Polygon
	if err := json.Unmarshal(raw, &p); err != nil {
		t.Fatal(err)
	}
	const step = 1.0 / (1 << 17)
	for _, width := range []float64{0, 0.2, 0.5, 1, 3} {
		b := Bevel{Profile: Round, Width: width, Height: width, Segments: 4}
		form := Form{Depth: 8, Front: b}
		plans, err := NewPlans(t.Context(), plane.Region{p}, form, step)
		if err != nil {
			t.Fatal(err)
		}
		m, err := plans.Solid(t.Context(), form, step, Plain)
		if err != nil {
			t.Fatal(err)
		}
		if c := mesh.Check(m, true); !c.Sound() {
			t.Errorf("bevel %g mm: %+v", width, c)
		}
	}
}
