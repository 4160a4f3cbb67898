package print

import (
	"math"
	"testing"

	"bildhauer/core/plane"
)

// TestWhatIsLaidFits draws in a plate with a square hole and a bar in it by figures, and measures it: outer sides, the hole and
// the first layer are off by what was asked for, each on its own.
func TestWhatIsLaidFits(t *testing.T) {
	region := regionOf(t, rect(-20, -20, 40, 40), rect(-8, -8, 16, 16), rect(-3, -3, 6, 6))
	for _, c := range [][3]float64{{0, 0, 0}, {0.1, 0, 0}, {0, 0.15, 0}, {0, 0, 0.2}, {0.05, 0.1, 0.15}, {-0.1, -0.05, 0}} {
		s := Usual()
		s.Outline, s.Holes, s.Foot = c[0], c[1], c[2]
		layers, err := Fitted(t.Context(), block(region, 3, 0.2), step, &s)
		if err != nil {
			t.Fatal(err)
		}
		for i, l := range layers {
			foot := 0.0
			if i == 0 {
				foot = s.Foot
			}
			plate := math.Pow(40-2*s.Outline-2*foot, 2)
			hole := math.Pow(16+2*s.Holes+2*foot, 2) - (4-math.Pi)*math.Pow(math.Max(0, s.Holes+foot), 2)
			bar := math.Pow(6-2*s.Outline-2*foot, 2)
			if s.Outline < 0 { // grown with round corners
				plate -= (4 - math.Pi) * s.Outline * s.Outline
				bar -= (4 - math.Pi) * s.Outline * s.Outline
			}
			if got, want := plane.Step(step).Area(l.Area), plate-hole+bar; math.Abs(got-want) > 0.02 {
				t.Errorf("%v, layer %d: %.3f mm2, want %.3f", c, i, got, want)
			}
		}
	}
}

// TestSeamsHide looks for where the first lines of forms with inner corners begin.
func TestSeamsHide(t *testing.T) {
	for name, c := range map[string]struct {
		region plane.Region
		inner  [][2]float64
	}{
		"an angle": {regionOf(t, [][2]float64{{-10, -10}, {10, -10}, {10, 0}, {0, 0}, {0, 10}, {-10, 10}}), [][2]float64{{0, 0}}},
		"a cross": {regionFilled(t, plane.NonZero, rect(-15, -5, 30, 10), rect(-5, -15, 10, 30)),
			[][2]float64{{-5, -5}, {5, -5}, {5, 5}, {-5, 5}}},
	} {
		s := Usual()
		laid, err := Lay(t.Context(), block(c.region, 6, 0.2), step, [2]float64{}, &s)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range laid[2].Paths {
			if p.Kind != Outer {
				continue
			}
			near := math.Inf(1)
			for _, q := range c.inner {
				near = math.Min(near, math.Hypot(float64(p.Points[0][0])-q[0], float64(p.Points[0][1])-q[1]))
			}
			if near > 0.5 {
				t.Errorf("%s: its seam is at %v", name, p.Points[0])
			}
		}
	}
}
