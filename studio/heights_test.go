package studio

import (
	"math"
	"testing"
)

// TestColoursStepUpByHeight takes drawings of many shades: they come to as many filaments as asked for, each with a height of its own
// that is a whole number of layers, in one change that can be undone; the layers change from one to the next exactly there, and
// in no layer lie two.
func TestColoursStepUpByHeight(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{Name: "flag.svg", Data: []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 120 80">
		<rect width="120" height="80" fill="#20609c"/><rect y="50" width="120" height="30" fill="#2464a0"/>
		<circle cx="60" cy="40" r="26" fill="#f0e0b0"/><circle cx="60" cy="40" r="14" fill="#b02a20"/>
		<rect x="8" y="8" width="16" height="10" fill="#101820"/><rect x="30" y="8" width="6" height="10" fill="#181f26"/></svg>`)})
	before := recipeOf(t, s, id)
	got, err := s.ColoursByHeight(t.Context(), id, Latest, Heights{Colours: 4, Plate: 0.85, Step: 0.37})
	if err != nil {
		t.Fatal(err)
	}
	r, err := s.PrintReport(t.Context(), got)
	if err != nil {
		t.Fatal(err)
	}
	if len(r.Changes) != 4 || math.Abs(r.Size[2]-(0.8+3*0.4)) > 1e-3 {
		t.Fatalf("%d changes on %g mm: %+v", len(r.Changes), r.Size[2], r.Changes)
	}
	for i, c := range r.Changes {
		if want := []float64{0, 0.8, 1.2, 1.6}[i]; math.Abs(c.Z-want) > 1e-3 || c.Off != 0 {
			t.Errorf("change %d is at %g mm, %g off", i+1, c.Z, c.Off)
		}
	}
	if r.Changes[0].Color != "#20609c" && r.Changes[0].Color != "#2464a0" {
		t.Errorf("the lowest is %s", r.Changes[0].Color)
	}
	layered, err := s.Layers(t.Context(), got)
	if err != nil {
		t.Fatal(err)
	}
	heights := map[float64]bool{}
	for _, ink := range layered.Value.Inks {
		heights[math.Round(ink.Hi*1000)] = true
		if ink.Lo != 0 {
			t.Errorf("%s begins at %g mm", ink.Name, ink.Lo)
		}
	}
	if len(heights) != 4 {
		t.Errorf("the colours are %v µm high", heights)
	}
	if err := s.Undo(t.Context(), id, Latest); err != nil || recipeOf(t, s, id) != before {
		t.Errorf("it can't be undone: %v", err)
	}
	for _, h := range []Heights{{1, 1, 1}, {9, 1, 1}, {4, 0, 1}, {4, 1, math.NaN()}} {
		if _, err := s.ColoursByHeight(t.Context(), id, Latest, h); err == nil {
			t.Errorf("%+v is taken", h)
		}
	}
	const plain = `<svg xmlns="http://www.w3.org/2000/svg" width="20" height="20"><rect width="20" height="20" fill="#123456"/></svg>`
	one := made(t, s, File{Name: "one.svg", Data: []byte(plain)})
	if _, err := s.ColoursByHeight(t.Context(), one, Latest, Heights{4, 1, 0.4}); err == nil {
		t.Error("a drawing in one colour is stepped up")
	}
}
