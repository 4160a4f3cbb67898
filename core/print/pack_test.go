package print

import (
	"math"
	"strings"
	"testing"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// TestCopiesArePackedByOutline lays out more copies than rows by boxes have room for: all lie on the bed, none lies nearer to
// another one than the gap, measured from outline to outline, and more fit than by boxes.
func TestCopiesArePackedByOutline(t *testing.T) {
	triangle := [][2]float64{{-30, -25}, {30, -25}, {-30, 25}}
	angle := [][2]float64{{-25, -25}, {25, -25}, {25, -15}, {-15, -15}, {-15, 25}, {-25, 25}}
	for name, c := range map[string]struct {
		outline [][2]float64
		by      int // boxes fit
		fit     int // and by outlines as many at least
	}{
		"a triangle": {triangle, 4, 8}, "an angle": {angle, 9, 14}, "a thin bar": {rect(-60, -5, 120, 10), 10, 12},
	} {
		s := Usual()
		s.Gap = 3
		region := regionOf(t, c.outline)
		layers := block(region, 3, 0.2)
		lo, hi := [3]float64{math.Inf(1), math.Inf(1), 0}, [3]float64{math.Inf(-1), math.Inf(-1), 0.6}
		for _, p := range c.outline {
			for k := range 2 {
				lo[k], hi[k] = math.Min(lo[k], p[k]), math.Max(hi[k], p[k])
			}
		}
		s.Copies = 200
		if _, err := Layout(hi[0]-lo[0], hi[1]-lo[1], &s); err == nil || !strings.Contains(err.Error(), "copies fit") {
			t.Fatalf("%s: %v", name, err)
		}
		s.Copies = c.fit
		places, err := Pack(layers, step, lo, hi, &s)
		if err != nil || len(places) != c.fit || c.fit <= c.by {
			t.Errorf("%s: %d places, %v", name, len(places), err)
			continue
		}
		// Each copy's outline against all others, as a gauge measures it.
		loops := make([]plane.Loop, len(places))
		for i, at := range places {
			for _, p := range c.outline {
				q := at.Put([2]float64{p[0] - (lo[0]+hi[0])/2, p[1] - (lo[1]+hi[1])/2})
				if math.Abs(q[0]) > 90-Margin+1e-6 || math.Abs(q[1]) > 90-Margin+1e-6 {
					t.Fatalf("%s: a corner of copy %d is at %v", name, i, q)
				}
				loops[i] = append(loops[i], plane.Point{X: grid(q[0] / 4), Y: grid(q[1] / 4)})
			}
		}
		for i := range loops {
			g := gauge.New(loops[i : i+1])
			for k := range loops {
				if k == i {
					continue
				}
				for n, a := range loops[k] {
					b := loops[k][(n+1)%len(loops[k])]
					for f := 0.0; f < 1; f += 1.0 / 64 {
						q := geom.Vec{X: float64(a.X) + f*float64(b.X-a.X), Y: float64(a.Y) + f*float64(b.Y-a.Y)}
						inside := plane.Region{{Outer: loops[i]}}.Contains(plane.Point{X: int32(q.X), Y: int32(q.Y)})
						if d := g.Nearest(q) * step * 4; inside || d < s.Gap-0.01 {
							t.Fatalf("%s: copies %d and %d are %.2f mm apart", name, i, k, d)
						}
					}
				}
			}
		}
		s.Copies = 150
		if _, err := Pack(layers, step, lo, hi, &s); err == nil || !strings.Contains(err.Error(), "fit on the bed beside its skirt") {
			t.Errorf("%s: 150 copies: %v", name, err)
		}
	}
}

// TestTurnedCopiesAreLaid paints a print of turned copies: each has what its outline says.
func TestTurnedCopiesAreLaid(t *testing.T) {
	s := Usual()
	s.Copies, s.Gap, s.Density, s.Skirt = 8, 3, 1, NoSkirt
	region := regionOf(t, [][2]float64{{-30, -25}, {30, -25}, {-30, 25}})
	layers := block(region, 2, 0.2)
	laid, err := Lay(t.Context(), layers, step, [2]float64{}, &s)
	if err != nil {
		t.Fatal(err)
	}
	j, err := NewJob("Sail", layers, laid, step, [3]float64{-30, -25, 0}, [3]float64{30, 25, 0.4}, nil, s)
	if err != nil {
		t.Fatal(err)
	}
	turns := map[int]bool{}
	for i, at := range j.Places {
		turns[at.Turn] = true
		// Everything that is laid of a copy lies in its outline.
		one := *j
		one.Places = j.Places[i : i+1]
		one.Moves(1, nowhere, func(m Move) {
			if m.Empty {
				return
			}
			q := [2]float64{m.To[0] - at.At[0], m.To[1] - at.At[1]}
			for range (4 - at.Turn) % 4 {
				q = [2]float64{-q[1], q[0]}
			}
			if !region.Contains(plane.Point{X: grid(q[0]), Y: grid(q[1])}) {
				t.Fatalf("copy %d is laid at %v", i, q)
			}
		})
	}
	if len(turns) < 2 {
		t.Errorf("no copy is turned: %v", j.Places)
	}
}
