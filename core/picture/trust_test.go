package picture

import (
	"context"
	"math"
	"testing"

	"bildhauer/core/geom"
)

// ridges is fine relief in brass: rows of prisms two pixels wide, and a matt ball before them.
func ridges() *Scene {
	var rows [][3]geom.Vec3
	for k := range 24 {
		x := float64(5*k) - 60
		a, b, c := vec(x, -40, 0), vec(x+2.5, -40, 2), vec(x+5, -40, 0)
		up := vec(0, 80, 0)
		for _, e := range [][2]geom.Vec3{{a, b}, {b, c}} {
			rows = append(rows, [3]geom.Vec3{e[0], e[1], e[1].Add(up)}, [3]geom.Vec3{e[0], e[1].Add(up), e[0].Add(up)})
		}
	}
	s := &Scene{Sky: even(0.4), Camera: Camera{Eye: vec(0, 0, 260), Focal: 70}}
	s.Surfaces = []Surface{
		{Corners: rows, Material: Material{Base: RGB{0.95, 0.7, 0.3}, Metal: 1, Rough: 0.15}},
		{Corners: ball(22), Normals: roundNormals(22), Material: Material{Base: RGB{0.6, 0.6, 0.6}, Rough: 0.9}},
	}
	s.Lights = []Light{&Panel{Mid: vec(60, 90, 90), Across: vec(-20, 0, 20), Up: vec(10, -20, 10), Radiance: RGB{30, 30, 30}}}
	return s
}

// TestTheFilterTakesNoiseAndNothingElse compares pictures of fine relief with one that is sure: of few samples the
// filter takes away most of what is wrong; of many it leaves what is there, and never makes it much worse. What is told
// of the noise is what it is.
func TestTheFilterTakesNoiseAndNothingElse(t *testing.T) {
	s := ridges()
	made := func(seed uint32, samples int) *Film {
		f := NewFilm(60, 40, seed)
		if err := s.Make(context.Background(), f, samples, func(int) bool { return true }); err != nil {
			t.Fatal(err)
		}
		return f
	}
	sure := made(77, 700).Picture()
	off := func(p *Picture) float64 {
		sum := 0.0
		for i := range p.Light {
			a, b := p.Light[i].Luma(), sure.Light[i].Luma()
			sum += (a - b) * (a - b) / (b*b + seenLeast*seenLeast)
		}
		return math.Sqrt(sum / float64(len(p.Light)))
	}
	for samples, most := range map[int]float64{6: 0.9, 32: 1.1, 200: 1.25} {
		f := made(1, samples)
		raw, left := off(f.Picture()), off(f.Filtered())
		t.Logf("%d samples: %.3f raw, %.3f filtered, told %.3f", samples, raw, left, f.Noise())
		if left > most*raw {
			t.Errorf("%d samples: off by %.3f after the filter, %.3f before", samples, left, raw)
		}
		if told := f.Noise(); told < 0.6*raw || told > 1.9*raw {
			t.Errorf("%d samples: the noise is told as %.3f, it is %.3f", samples, told, raw)
		}
	}
}

// TestOneTreeSeesTheSame makes a picture of what stands in one tree, and of the same with a tree for each: they differ by
// nothing but which triangle is met first where two meet.
func TestOneTreeSeesTheSame(t *testing.T) {
	one, each := ridges(), ridges()
	for i := range each.Surfaces {
		f := &each.Surfaces[i]
		pose := &Pose{Rows: [3]geom.Vec3{{X: 1}, {Y: 1}, {Z: 1}}, Size: 1, Shown: true}
		each.Bodies = append(each.Bodies, Body{NewForm(f.Corners, f.Normals, nil), []Look{{f.Material, f.Mask}}, pose})
	}
	each.Surfaces = nil
	made := func(s *Scene) *Picture {
		f := NewFilm(60, 40, 3)
		if err := s.Expose(context.Background(), f, 4); err != nil {
			t.Fatal(err)
		}
		return f.Picture()
	}
	p, q := made(one), made(each)
	if len(one.parts) != 1 || len(each.parts) != 2 {
		t.Fatalf("%d and %d trees", len(one.parts), len(each.parts))
	}
	other := 0
	for i := range p.Light {
		if math.Abs(p.Light[i].Luma()-q.Light[i].Luma()) > 1e-4*(1+p.Light[i].Luma()) {
			other++
		}
	}
	if other > len(p.Light)/50 {
		t.Errorf("%d of %d pixels are others", other, len(p.Light))
	}
}
