package demo

import (
	"math"
	"slices"
	"testing"

	"bildhauer/core/plane"
	"bildhauer/studio"
)

// TestTheGaugeIsTrue cuts the fit gauge into layers and measures it: ten pockets of 10 mm, ten plugs that are smaller by a
// twentieth of a millimetre all around more from one to the next, and lettering on all of them.
func TestTheGaugeIsTrue(t *testing.T) {
	s, err := studio.New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	i := slices.IndexFunc(pieces, func(p piece) bool { return p.file == "fit-gauge.svg" })
	data, _ := File("fit-gauge.svg")
	id, err := s.Create(t.Context(), studio.File{Name: "fit-gauge.svg", Data: data})
	if err != nil {
		t.Fatal(err)
	}
	p, err := s.Change(t.Context(), id, studio.Latest, pieces[i].change())
	if err != nil {
		t.Fatal(err)
	}
	made, err := s.Layers(t.Context(), p)
	if err != nil {
		t.Fatal(err)
	}
	l := made.Value
	side := func(loop plane.Loop) [2]float64 {
		lo, hi, _ := plane.Region{{Outer: loop}}.Bounds()
		return [2]float64{float64(hi.X-lo.X) * l.Mesh.Step, float64(hi.Y-lo.Y) * l.Mesh.Step}
	}
	var plugs []float64
	pockets := 0
	for _, q := range l.Layers[9].Area {
		if w := side(q.Outer); w[0] < 20 {
			if math.Abs(w[0]-w[1]) > 1e-3 {
				t.Errorf("a plug of %v mm", w)
			}
			plugs = append(plugs, w[0])
		}
		for _, h := range q.Holes {
			pockets++
			if w := side(h); math.Abs(w[0]-10) > 1e-3 || math.Abs(w[1]-10) > 1e-3 {
				t.Errorf("a pocket of %v mm", w)
			}
		}
	}
	slices.Sort(plugs)
	slices.Reverse(plugs)
	if len(plugs) != 10 || pockets != 10 {
		t.Fatalf("%d plugs, %d pockets", len(plugs), pockets)
	}
	for k, w := range plugs {
		if clearance := (10 - w) / 2; math.Abs(clearance-0.05*float64(k+1)) > 1e-3 {
			t.Errorf("plug %d has a clearance of %.4f mm", k+1, clearance)
		}
	}
	top := l.Layers[len(l.Layers)-1].Area
	if len(top) < 40 || math.Abs(l.Layers[len(l.Layers)-1].Z-4.6) > 1e-3 {
		t.Errorf("%d letters at %g mm", len(top), l.Layers[len(l.Layers)-1].Z)
	}
}
