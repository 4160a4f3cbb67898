package stages

import (
	"context"
	"errors"
	"fmt"
	"math"
	"os"
	"runtime"
	"strings"
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
			a += float64(part.Region.Value.Area2()) / 2 * p.Step * p.Step
		}
		return a
	}
	cut := sum()
	r.Size.Overlap = recipe.Keep
	if keep := sum(); keep < cut*1.1 {
		t.Errorf("cut %g, keep %g mm2", cut, keep)
	}
}

// icon is a single-colour icon of some hundred nodes, drawn for this bench:
// a ship's wheel with holes.
func icon() []byte {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64"><path fill-rule="evenodd" d="`)
	ring := func(r float64) {
		fmt.Fprintf(
			&b,
			"M%.2f 32A%.2f %.2f 0 1 1 %.2f 32A%.2f %.2f 0 1 1 %.2f 32Z",
			32-r,
			r,
			r,
			32+r,
			r,
			r,
			32-r,
		)
	}
	ring(22)
	for k := range 12 {
		a := float64(k) * math.Pi / 6
		fmt.Fprintf(
			&b,
			"M%.2f %.2fc2 3 3 3 4 6c-2 1-5 1-6-1c0-2 1-3 2-5z",
			32+14*math.Cos(a),
			30+14*math.Sin(a),
		)
	}
	b.WriteString("M30 2")
	for k := range 40 {
		a0, a1 := (float64(k)-10)*math.Pi/20, (float64(k)-9.5)*math.Pi/20
		fmt.Fprintf(
			&b,
			"L%.2f %.2fQ%.2f %.2f %.2f %.2f",
			32+30*math.Cos(a0),
			32+30*math.Sin(a0),
			32+25*math.Cos(a1),
			32+25*math.Sin(a1),
			32+27*math.Cos(a1),
			32+27*math.Sin(a1),
		)
	}
	b.WriteString(`Z"/></svg>`)
	return []byte(b.String())
}

// BenchmarkIcon reads, resolves and raises one icon, 4 segments.
func BenchmarkIcon(b *testing.B) {
	runtime.GOMAXPROCS(1)
	defer runtime.GOMAXPROCS(runtime.NumCPU())
	data := icon()
	for b.Loop() {
		s, err := read.Sheet("icon.svg", data)
		if err != nil {
			b.Fatal(err)
		}
		r := recipe.New()
		p, err := regionsOf(s, &r)
		if err != nil {
			b.Fatal(err)
		}
		edges := 0
		for _, one := range Arrangement(p, &r.Parts) {
			if _, err := lineOf(&r).Body(context.Background(), p, &one, raise.Plain); err != nil {
				b.Fatal(err)
			}
			edges += p.Parts[one.Index].Region.Value.Edges()
		}
		b.ReportMetric(float64(edges), "segments")
		b.ReportMetric(float64(s.Nodes()), "nodes")
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
