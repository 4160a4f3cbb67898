package stages

import (
	"context"
	"errors"
	"math"
	"os"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/parallel"
	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

func sheet(t testing.TB, path string) *artwork.Sheet {
	t.Helper()
	data, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	s, err := read.Sheet(path, data)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// lineOf returns the stages for a sheet that was read.
func lineOf(r *recipe.Recipe) *Line { return &Line{Keep: Direct{}, Recipe: r} }

func joinedOf(s *artwork.Sheet) Made[*Joined] { return Made[*Joined]{Value: &Joined{Sheet: s}} }

func regionsOf(s *artwork.Sheet, r *recipe.Recipe) (*Regions, error) {
	made, err := lineOf(r).RegionsOf(context.Background(), joinedOf(s))
	return made.Value, err
}

func solids(t testing.TB, s *artwork.Sheet, r *recipe.Recipe) []write.Part {
	t.Helper()
	p, err := regionsOf(s, r)
	if err != nil {
		t.Fatal(err)
	}
	var out []write.Part
	for _, b := range Arrangement(p, &r.Parts) {
		made, err := lineOf(r).Body(context.Background(), p, &b, raise.Shaded)
		if err != nil {
			t.Fatal(err)
		}
		o := &p.Parts[b.Index]
		out = append(out, write.Part{Name: Names(r, p)[b.Index], Color: o.Color, Mesh: made.Value.Mesh})
	}
	return out
}

func TestRegionsFollowTheDecisions(t *testing.T) {
	s := sheet(t, "../../demo/tide-clock.svg")
	r := recipe.New()
	p, err := regionsOf(s, &r)
	if err != nil {
		t.Fatal(err)
	}
	if len(p.Parts) != 6 || math.Abs(p.Width-100) > 1e-9 {
		t.Fatalf("%d parts, %g wide", len(p.Parts), p.Width)
	}
	r.Intake.Choice = map[string]bool{"drill-guide+stroke": true, "centre-line+stroke": true}
	if p, err = regionsOf(s, &r); err != nil || len(p.Parts) != 7 {
		t.Errorf("hidden shapes taken in: %d parts, %v", len(p.Parts), err)
	}
	r.Intake.Choice = map[string]bool{}
	for i := range s.Shapes {
		r.Intake.Choice[s.Shapes[i].Key] = false
	}
	var e *Problem
	if _, err = regionsOf(s, &r); !errors.As(err, &e) {
		t.Errorf("all left out: %v", err)
	}
	// With cut overlaps the parts do not cover each other; kept, they do.
	r = recipe.New()
	sum := func() (a float64) {
		p, err := regionsOf(s, &r)
		if err != nil {
			t.Fatal(err)
		}
		for _, part := range p.Parts {
			a += p.Step.Area(part.Region.Value)
		}
		return a
	}
	cut := sum()
	r.Size.Overlap = recipe.Keep
	if keep := sum(); keep < cut*1.1 {
		t.Errorf("cut %g, keep %g mm2", cut, keep)
	}
}

// BenchmarkBadge raises a badge whose strokes are mostly narrower than two
// bevels.
func BenchmarkBadge(b *testing.B) {
	s := sheet(b, "../../demo/compass-badge.svg")
	r := recipe.New()
	p, err := regionsOf(s, &r)
	if err != nil {
		b.Fatal(err)
	}
	// The parts side by side, as the program makes them.
	for b.Loop() {
		list := Arrangement(p, &r.Parts)
		err := parallel.Each(len(list), func(i int) error {
			_, err := lineOf(&r).Body(context.Background(), p, &list[i], raise.Plain)
			return err
		})
		if err != nil {
			b.Fatal(err)
		}
	}
}
