package truth

import (
	"math/rand/v2"
	"os"
	"testing"

	"bildhauer/core/plane"
	"bildhauer/core/read"
	"bildhauer/core/stages"
	"bildhauer/demo"
	"bildhauer/studio"
)

// TestDemo judges the demo pieces by what their regions mean: the one of all roles, and all in make bench.
func TestDemo(t *testing.T) {
	s, err := studio.New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if err := demo.Fill(t.Context(), s); err != nil {
		t.Fatal(err)
	}
	list, err := s.Pieces(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range list {
		name := p.Recipe.Sheets.List[0].Name
		if os.Getenv("BILDHAUER_TRUTH") == "" && name != "tide-clock.svg" {
			continue
		}
		data, err := demo.File(name)
		if err != nil {
			t.Fatal(err)
		}
		sheet, err := read.Sheet(name, data)
		if err != nil {
			t.Fatal(err)
		}
		line := &stages.Line{Keep: stages.Direct{}, Recipe: &p.Recipe}
		made, err := line.RegionsOf(t.Context(), stages.Made[*stages.Joined]{Value: &stages.Joined{Sheet: sheet}})
		if err != nil {
			t.Fatal(err)
		}
		d := drawingOf(line, made.Value)
		if got := d.judged(t, rand.New(rand.NewPCG(3, 23)), line, made.Value, vec{}); got.wrong > 0 || got.judged < 1000 {
			t.Errorf("%s: %d of %d places wrong: %s", name, got.wrong, got.judged, got.first)
		}
	}
}

// drawingOf takes regions, of which overlaps are cut already, for the shapes of a drawing.
func drawingOf(line *stages.Line, r *stages.Regions) *drawing {
	parts := &line.Recipe.Parts
	d := &drawing{relief: parts.Relief, spread: parts.Spread, rest: parts.Default.Depth}
	d.given, _ = stages.Levels(r, parts)
	for i := range r.Parts {
		o := &r.Parts[i]
		p := drawnPart{named: o.ID, how: parts.Measures(o.ID), role: parts.RoleOf(o.ID)}
		for _, poly := range o.Region.Value {
			for _, l := range append([]plane.Loop{poly.Outer}, poly.Holes...) {
				var own ring
				for _, q := range l {
					x, y := r.Step.At(q)
					own = append(own, vec{x, y})
				}
				p.shape = append(p.shape, own)
			}
		}
		d.parts = append(d.parts, p)
	}
	return d
}
