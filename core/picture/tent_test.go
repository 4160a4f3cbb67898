package picture

import (
	"context"
	"math"
	"testing"

	"bildhauer/core/geom"
)

// halfPlane is a surface that gives off light, up to a line that is so far from the middle, in pixels of a film 24 wide
// that sees 200 mm, and turned by an angle.
func halfPlane(off, angle, glow float64) *Scene {
	sin, cos := math.Sincos(angle)
	at := func(across, along float64) geom.Vec3 {
		return vec(across*cos-along*sin, across*sin+along*cos, 0)
	}
	edge := off * 200 / 24
	a, b, c, d := at(edge, -2000), at(edge, 2000), at(edge-4000, 2000), at(edge-4000, -2000)
	s := &Scene{Solid: true, Camera: Camera{Eye: vec(0, 0, 100), Focal: 18}}
	s.Surfaces = []Surface{{Corners: [][3]geom.Vec3{{a, b, c}, {a, c, d}}, Mask: 1, Material: Material{Glow: RGB{glow, glow, glow}}}}
	return s
}

// underTent is how much of the tent over a pixel lies on the half plane, by laying a fine grid over it.
func underTent(x, y int, off, angle float64) float64 {
	const n = 200
	sin, cos := math.Sincos(angle)
	in, all := 0.0, 0.0
	for j := range n {
		for i := range n {
			u, v := (float64(i)+0.5)/n*2-1, (float64(j)+0.5)/n*2-1
			w := (1 - math.Abs(u)) * (1 - math.Abs(v))
			all += w
			if right, up := float64(x)+0.5+u-12, 8-(float64(y)+0.5+v); right*cos+up*sin < off {
				in += w
			}
		}
	}
	return in / all
}

// TestPixelsShowTents takes a picture of a straight edge in many ways with quite uneven numbers of samples: each pixel
// shows how much of its tent is covered, light and mask alike, however often its neighbours were looked through. What is
// put together from means and leans differs from a tent by up to 0.04 at an edge, and is as wide.
func TestPixelsShowTents(t *testing.T) {
	for _, angle := range []float64{0, 0.3, math.Pi / 4, 1.2, 2.5, 4} {
		for _, off := range []float64{0, 0.4, -3.7} {
			s := halfPlane(off, angle, 1)
			f := NewFilm(24, 16, 5)
			f.Mask(1)
			if err := s.expose(context.Background(), f, func(i int) int { return 48 << (i * 7 % 5) }); err != nil {
				t.Fatal(err)
			}
			p := f.Picture()
			masks := f.Passes(p, true, "plate")
			for i := range p.Light {
				x, y := i%24, i/24
				if x == 0 || y == 0 || x == 23 || y == 15 {
					continue // beyond the film there is nothing to take from
				}
				want := underTent(x, y, off, angle)
				for name, got := range map[string]float64{"light": p.Light[i][1], "mask": float64(named(masks, "mask.plate")[i])} {
					if math.Abs(got-want) > 0.055 {
						t.Errorf("%s of the pixel %d, %d beside an edge at %g turned by %g: %.3f, want %.3f", name, x, y, off, angle, got, want)
					}
				}
			}
		}
	}
}

func named(passes []Pass, name string) []float32 {
	for _, p := range passes {
		if p.Name == name {
			return p.Values
		}
	}
	return nil
}

// TestTentsShareSamples compares the noise of a few samples with that of the same pixels by themselves, each against its
// own picture of many: tents leave about as much of it as is told.
func TestTentsShareSamples(t *testing.T) {
	made := func(seed uint32, samples int) *Film {
		f := NewFilm(60, 40, seed)
		if err := ridges().Expose(context.Background(), f, samples); err != nil {
			t.Fatal(err)
		}
		return f
	}
	off := func(p, sure *Picture) (sum float64) {
		for i, l := range sure.Light {
			d := p.Light[i].Luma() - l.Luma()
			sum += d * d / (l.Luma()*l.Luma() + seenLeast*seenLeast)
		}
		return sum
	}
	sure, own, shared := made(1, 400), 0.0, 0.0
	for seed := range uint32(4) {
		f := made(10+seed, 4)
		own += off(f.means(), sure.means())
		shared += off(f.Picture(), sure.Picture())
	}
	if k := math.Sqrt(shared / own); math.Abs(k-tentLeaves) > 0.08 {
		t.Errorf("tents leave %.3f of the noise, told %.3f", k, tentLeaves)
	}
}

// TestNoSeamBesideWhatShines looks at what lies beside something a thousand times as bright: no pixel is darker than the
// dark, none is brighter than the bright, in the picture as in the light.
func TestNoSeamBesideWhatShines(t *testing.T) {
	s := halfPlane(0.3, 0.2, 1000)
	s.Backdrop = RGB{0.5, 0.5, 0.5}
	f := NewFilm(24, 16, 5)
	if err := s.Expose(context.Background(), f, 16); err != nil {
		t.Fatal(err)
	}
	for name, p := range map[string]*Picture{"picture": f.Picture(), "filtered": f.Filtered(), "light": f.Whole()} {
		for i, l := range p.Light {
			if v := l.Luma(); v < 0.4999 || v > 1000.001 || math.Abs(p.Alpha[i]-1) > 1e-6 {
				t.Errorf("%s: pixel %d shows %g at alpha %g", name, i, v, p.Alpha[i])
			}
		}
	}
}

// TestMasksAndShadowMakeAlpha puts two balls on a clear ground: what the masks cover and the shadow hides is what the
// picture hides, pixel by pixel, edges included.
func TestMasksAndShadowMakeAlpha(t *testing.T) {
	s := &Scene{Sky: even(0.5), Catch: true, Floor: -30, Camera: Camera{Eye: vec(0, 60, 200), Focal: 40}}
	s.Lights = []Light{&Panel{Mid: vec(80, 120, 40), Across: vec(-20, 0, 20), Up: vec(10, -20, 10), Radiance: RGB{9, 9, 9}}}
	moved := ball(14)
	for i := range moved {
		for k := range moved[i] {
			moved[i][k] = moved[i][k].Times(0.4).Add(vec(35, -18, 10))
		}
	}
	s.Surfaces = []Surface{{Corners: ball(14), Material: white(), Mask: 1}, {Corners: moved, Material: white(), Mask: 2}}
	f := NewFilm(60, 40, 4)
	f.Mask(2)
	if err := s.Make(context.Background(), f, 12, func(int) bool { return true }); err != nil {
		t.Fatal(err)
	}
	p := f.Picture()
	passes := f.Passes(p, true, "large", "small")
	shadow := 0
	for i, a := range p.Alpha {
		dark := named(passes, "shadow.Y")[i]
		if sum := float64(named(passes, "mask.large")[i] + named(passes, "mask.small")[i] + dark); math.Abs(sum-a) > 0.02 {
			t.Errorf("pixel %d: masks and shadow %.3f, alpha %.3f", i, sum, a)
		}
		if dark > 0.2 {
			shadow++
		}
	}
	if shadow < 50 {
		t.Errorf("%d pixels in the shadow", shadow)
	}
}

// TestAsManySamplesAsAreAsked counts them, also where they are too few to tell anything of the noise.
func TestAsManySamplesAsAreAsked(t *testing.T) {
	for n := 1; n <= 9; n++ {
		f := NewFilm(12, 8, 1)
		if err := ridges().Make(context.Background(), f, n, func(int) bool { return true }); err != nil || f.Samples() != n {
			t.Errorf("%d samples, want %d: %v", f.Samples(), n, err)
		}
	}
}
