package print

import (
	"bytes"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// TestHeightsAreSharedOut divides heights at random into layers: together they are as tall, the first one is as asked for
// but where there is only that or one more, none is thicker by more than a tenth, and none thinner than a third; of two
// each may be as thick as the first.
func TestHeightsAreSharedOut(t *testing.T) {
	r := rand.New(rand.NewPCG(27, 4))
	for range 20_000 {
		first, height := 0.1+0.25*r.Float64(), 0.05+0.3*r.Float64()
		tall := 0.15 + 12*r.Float64()*r.Float64()
		list, err := heightsOf(tall, first, height)
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		for i, h := range list {
			sum += h
			most, least := height*(1+thicker), height/3
			if i == 0 || len(list) == 2 { // two share what there is
				most, least = math.Max(first, height)*(1+thicker), math.Min(least, math.Min(first, tall)/2)
			}
			if h > most+1e-9 || h < least-1e-9 {
				t.Fatalf("%g by %g and %g: %v", tall, first, height, list)
			}
		}
		if math.Abs(sum-tall) > 1e-9 || len(list) > 2 && list[0] != first {
			t.Fatalf("%g by %g and %g: %v, together %g", tall, first, height, list, sum)
		}
	}
	for tall, want := range map[float64]int{0.21: 1, 1.01: 5, 0.2: 1, 0.31: 2, 2.4: 12} {
		if list, _ := heightsOf(tall, 0.2, 0.2); len(list) != want {
			t.Errorf("%g mm are %v", tall, list)
		}
	}
}

// TestShortLayersTakeTheirTime lays a small block and a large one: layers of the small one take what the material needs to
// set, none is slower than melt can be laid, and the large one is as fast as ever; the fan runs as the material wants it.
func TestShortLayersTakeTheirTime(t *testing.T) {
	square := func(side float64) [][2]float64 {
		h := side / 2
		return [][2]float64{{-h, -h}, {h, -h}, {h, h}, {-h, h}}
	}
	for _, name := range []string{"PLA", "ABS"} {
		s := Usual()
		s.Material = Materials[name]
		small, large := jobOf(t, prism(square(8), 0, 3, 1), s), jobOf(t, prism(square(60), 0, 3, 1), s)
		for i, sec := range small.Times() {
			// Before the sixth the filament is changed, and at the end it goes away: that takes longer.
			if i > 0 && i != 4 && i != 14 && math.Abs(sec-s.Material.Least) > 0.01*s.Material.Least {
				t.Errorf("%s: layer %d of the small block takes %g s, not %g", name, i+1, sec, s.Material.Least)
			}
		}
		for i := range large.slow {
			if large.slow[i] != 1 {
				t.Errorf("%s: layer %d of the large block is laid at %g", name, i+1, large.slow[i])
			}
		}
		small.Moves(4, nowhere, func(m Move) {
			if !m.Empty && m.Speed < Slowest-1e-9 {
				t.Errorf("%s: laid at %g mm/s", name, m.Speed)
			}
		})
		var file bytes.Buffer
		if err := small.GCode(&file); err != nil {
			t.Fatal(err)
		}
		fan := map[string]string{"PLA": "\nM106 S255\n", "ABS": "\nM106 S38\n"}[name]
		if !strings.Contains(file.String(), fan) || strings.Contains(file.String(), "Z0.4 F9000") {
			t.Errorf("%s: its fan or its rise is another", name)
		}
	}
}
