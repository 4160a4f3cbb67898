package raise

import (
	"encoding/json"
	"math"
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
	checkNeedle(t, p)
	// A hole like a needle beside a large one: the ring of that must keep off it, however thin it is.
	hole := plane.Loop{{X: 0, Y: 0}, {X: -571, Y: 3209}, {X: -2042, Y: 19554}, {X: -2037, Y: 19559}, {X: -571, Y: 7774}}
	large := plane.Loop{{X: -2070, Y: 19845}, {X: -8e4, Y: 4e5}, {X: 8e4, Y: 4e5}}
	plate := plane.Loop{{X: -4e6, Y: -4e6}, {X: 4e6, Y: -4e6}, {X: 4e6, Y: 4e6}, {X: -4e6, Y: 4e6}}
	checkNeedle(t, plane.Polygon{Outer: plate, Holes: []plane.Loop{hole, large}})
}

func checkNeedle(t *testing.T, p plane.Polygon) {
	t.Helper()
	const step = 1.0 / (1 << 17)
	for _, width := range []float64{0, 0.2, 0.5, 1, 2, 3} {
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
		index, q := plane.NewSegmentIndex(plans.Region[0]), plans.Front
		wide := float64(q.Width)
		for v, at := range q.Pts {
			far := index.Nearest(float64(at.X), float64(at.Y), wide).Dist
			if off := math.Abs(math.Min(far, wide) - float64(q.Dist[v])); off > 0.02*wide {
				t.Errorf("bevel %g mm: a point is said to be %g from the outline, and is %g", width, q.Dist[v], far)
			}
		}
	}
}

// TestNeedlesThatMeet fuses two needles that meet in their tips and part at a small angle.
func TestNeedlesThatMeet(t *testing.T) {
	const step = 1.0 / (1 << 18)
	for _, side := range []plane.Loop{
		{{X: 0, Y: 0}, {X: 3158909, Y: 5156}, {X: 3158872, Y: 9567}},
		{{X: 0, Y: 0}, {X: 3158909, Y: 3156}, {X: 3158872, Y: 4567}},
		{{X: 0, Y: 0}, {X: 3158909, Y: -4000}, {X: 3158872, Y: -3500}},
	} {
		var bodies []Body
		for i, l := range []plane.Loop{{{X: 0, Y: 0}, {X: 11586790, Y: -21309}, {X: 9284507, Y: -13062}}, side} {
			f := Form{Depth: 5 - float64(i)}
			plans, err := NewPlans(t.Context(), plane.Region{{Outer: l}}, f, step)
			if err != nil {
				t.Fatal(err)
			}
			bodies = append(bodies, Body{Plans: plans, Form: f, Part: int32(i)})
		}
		m, err := Fused(t.Context(), bodies, step, Plain)
		if err != nil {
			t.Fatal(err)
		}
		if c := mesh.Check(m, true); !c.Sound() {
			t.Errorf("%v: %+v", side, c)
		}
	}
}

// TestRingsThatAddUp plans a thin frame with round corners outside: its rings are made from each other,
// and are off by more than each may be. Once points were put beside them without end.
func TestRingsThatAddUp(t *testing.T) {
	var outer plane.Loop
	for i := range 24 {
		x, y := 3174400.0, 1945600.0
		if q := i / 6; q == 1 || q == 2 {
			x = -x
		}
		if i >= 12 {
			y = -y
		}
		s, c := math.Sincos(math.Pi / 2 * (float64(i/6) + float64(i%6)/5))
		outer = append(outer, plane.Point{X: int32(math.Round(x + 102400*c)), Y: int32(math.Round(y + 102400*s))})
	}
	inner := plane.Loop{
		{X: -3072160, Y: 0}, {X: -3072000, Y: 160}, {X: -3072000, Y: 1843200}, {X: -398189, Y: 1843200}, {X: -398029, Y: 1843360},
		{X: -397869, Y: 1843200}, {X: -160, Y: 1843200}, {X: 0, Y: 1843360}, {X: 160, Y: 1843200}, {X: 3072000, Y: 1843200},
		{X: 3072000, Y: -1843200}, {X: -3072000, Y: -1843200}, {X: -3072000, Y: -160},
	}
	const step = 1.0 / (1 << 16)
	p, err := NewPlan(t.Context(), plane.Region{{Outer: outer, Holes: []plane.Loop{inner}}}, bevel(Cove, 12767*step, 1, 5), step)
	if err != nil {
		t.Fatal(err)
	}
	if p.Ridge > 2000 {
		t.Errorf("%d points on ridges", p.Ridge)
	}
}
