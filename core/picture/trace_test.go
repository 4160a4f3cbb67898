package picture

import (
	"context"
	"math"
	"testing"

	"bildhauer/core/geom"
)

func vec(x, y, z float64) geom.Vec3 { return geom.Vec3{X: x, Y: y, Z: z} }

// floor is a square in the plane y = 0.
func floor(half float64, m Material) Surface {
	a, b, c, d := vec(-half, 0, half), vec(half, 0, half), vec(half, 0, -half), vec(-half, 0, -half)
	return Surface{Corners: [][3]geom.Vec3{{a, b, c}, {a, c, d}}, Material: m}
}

func white() Material { return Material{Base: RGB{1, 1, 1}, Rough: 1} }

func even(l float64) *Sky {
	return NewSky(16, 8, 0, func(geom.Vec3) RGB { return RGB{l, l, l} })
}

// exposed returns the mean light of a small picture.
func exposed(t *testing.T, s *Scene, samples int) *Picture {
	t.Helper()
	f := NewFilm(24, 16, 1)
	if err := s.Expose(context.Background(), f, samples); err != nil {
		t.Fatal(err)
	}
	return f.Picture()
}

func mean(p *Picture) (sum RGB) {
	for _, l := range p.Light {
		sum = sum.Plus(l.Times(1 / float64(len(p.Light))))
	}
	return sum
}

// TestFurnace puts a white ball into white surroundings: it can't be seen.
func TestFurnace(t *testing.T) {
	for name, m := range map[string]Material{
		"matt": white(), "metal": {Base: RGB{1, 1, 1}, Metal: 1, Rough: 0.3}, "lacquered": {Base: RGB{1, 1, 1}, Coat: 1, Rough: 0.5},
		"clear": {Base: RGB{1, 1, 1}, Clear: 1, Rough: 0.1},
	} {
		s := &Scene{Surfaces: []Surface{{Corners: ball(40), Material: m}}, Sky: even(1), SkySeen: true}
		s.Camera = Camera{Eye: vec(0, 0, 200), Focal: 80}
		if got := mean(exposed(t, s, 64)).Luma(); math.Abs(got-1) > 0.01 {
			t.Errorf("%s: %.4f", name, got)
		}
	}
}

// formFactor is how much of the light of a half sphere a rectangle gives to a point below
// one corner of it, on a plane that faces it (Howell, catalogue of configuration factors,
// B-3).
func formFactor(a, b float64) float64 {
	x, y := math.Sqrt(1+a*a), math.Sqrt(1+b*b)
	return (a/x*math.Atan(b/x) + b/y*math.Atan(a/y)) / (2 * math.Pi)
}

// TestLightOfAPanel compares the light of a rectangle on a plane with the formula.
func TestLightOfAPanel(t *testing.T) {
	m := white()
	m.Base = RGB{0.5, 0.5, 0.5}
	s := &Scene{Surfaces: []Surface{floor(50, m)}}
	// The panel 40 above, 60 by 30, facing down; the camera looks at the middle below.
	panel := &Panel{Mid: vec(0, 40, 0), Across: vec(30, 0, 0), Up: vec(0, 0, 15), Radiance: RGB{2, 2, 2}}
	s.Lights = []Light{panel}
	if panel.normal().Y > -0.99 {
		t.Fatalf("it faces %v", panel.normal())
	}
	s.Camera = Camera{Eye: vec(0, 30, 0.1), Focal: 36000}
	want := 2 * 4 * formFactor(30.0/40, 15.0/40)
	e := energyTables()
	matt := (1 - e.lacquer(varnish, 1, 1)) * 0.5
	got := mean(exposed(t, s, 64)).Luma()
	// What is matt of the surface gives that share, its sheen a little more; without the
	// sheen the rest must agree.
	if got < want*matt*0.97 || got > want*0.5*1.12 {
		t.Errorf("%.4f, matt %.4f, all %.4f", got, want*matt, want*0.5)
	}
	// By chance alone, without aiming at the panel, it is the same.
	dir, n := 0.0, 200_000
	for k := range n {
		smp := newSampler(1, 2, uint32(k), 3)
		u, v := smp.pair()
		r := Ray{Dir: cosine(vec(0, 1, 0), u, v), Far: math.Inf(1)}
		if _, c, _, ok := panel.met(&r); ok {
			dir += c.Luma() / float64(n)
		}
	}
	if math.Abs(dir-want) > 0.01*want {
		t.Errorf("by chance %.4f, formula %.4f", dir, want)
	}
	aimed := 0.0
	for k := range n {
		smp := newSampler(1, 2, uint32(k), 4)
		u, v := smp.pair()
		d, _, c, _ := panel.toward(vec(0, 0, 0), u, v)
		aimed += c.Luma() * d.Y / math.Pi / float64(n)
	}
	if math.Abs(aimed-want) > 0.01*want {
		t.Errorf("aimed at it %.4f, formula %.4f", aimed, want)
	}
}

// TestSkiesAreSampledAsTheyShine sums a sky by its own samples and over a grid.
func TestSkiesAreSampledAsTheyShine(t *testing.T) {
	bright := vec(0.3, 0.8, 0.2).Unit()
	sky := NewSky(128, 64, 1, func(d geom.Vec3) RGB {
		l := 0.1 + 20*math.Pow(math.Max(0, d.Dot(bright)), 60)
		return RGB{l, l, l}
	})
	sum, n := 0.0, 100_000
	for k := range n {
		smp := newSampler(3, 2, uint32(k), 3)
		u, v := smp.pair()
		_, pdf, light := sky.sample(u, v, 0)
		sum += light.Luma() / pdf / float64(n)
	}
	want := 4*math.Pi*0.1 + 20*2*math.Pi/61
	if math.Abs(sum-want) > 0.01*want {
		t.Errorf("%.4f, want %.4f", sum, want)
	}
}

// TestMirrorsAndShadows looks at places that geometry tells: what a mirror shows, and where
// a shadow ends.
func TestMirrorsAndShadows(t *testing.T) {
	glow := func(x float64, c RGB) Surface {
		return Surface{Material: Material{Glow: c}, Corners: [][3]geom.Vec3{
			{vec(x, 0, -20), vec(x+10, 0, -20), vec(x+10, 20, -20)}, {vec(x, 0, -20), vec(x+10, 20, -20), vec(x, 20, -20)},
		}}
	}
	mirror := floor(100, Material{Base: RGB{1, 1, 1}, Metal: 1})
	s := &Scene{Surfaces: []Surface{mirror, glow(-10, RGB{1, 0, 0}), glow(0, RGB{0, 1, 0})}}
	// Looking down at the mirror's point (x, 0, -10): it shows the plate at height 10.
	for _, c := range []struct {
		x    float64
		want int
	}{{-5, 0}, {5, 1}, {-0.5, 0}, {0.5, 1}} {
		s.Camera = Camera{Eye: vec(c.x, 10, 0), Aim: vec(c.x, 0, -10), Focal: 36000}
		got := mean(exposed(t, s, 8))
		if got[c.want] < 0.98 || got[1-c.want] > 0.02 {
			t.Errorf("at %g the mirror shows %v", c.x, got)
		}
	}
	plate := Surface{Material: white(), Corners: [][3]geom.Vec3{
		{vec(-10, 10, -10), vec(-10, 10, 10), vec(0, 10, 10)}, {vec(-10, 10, -10), vec(0, 10, 10), vec(0, 10, -10)},
	}}
	s = &Scene{Surfaces: []Surface{floor(100, white()), plate}}
	s.Lights = []Light{&Sun{From: vec(-1, 1, 0).Unit(), Irradiance: RGB{1, 1, 1}}}
	for _, c := range []struct {
		x    float64
		dark bool
	}{{9.9, true}, {10.1, false}, {0.1, true}, {-0.2, false}} { // the shadow goes from 0 to 10
		s.Camera = Camera{Eye: vec(c.x+8, 5, 0), Aim: vec(c.x, 0, 0), Focal: 36000}
		if got := mean(exposed(t, s, 8)).Luma(); (got < 0.1) != c.dark {
			t.Errorf("at %g: %.3f", c.x, got)
		}
	}
}

// TestClearBackgroundsStayClear looks at the edge of a ball over nothing, and at the shadow
// that a clear floor catches.
func TestClearBackgroundsStayClear(t *testing.T) {
	s := &Scene{Surfaces: []Surface{{Corners: ball(40), Material: white()}}, Sky: even(1), Catch: true, Floor: -30}
	s.Lights = []Light{&Sun{From: vec(0.5, 1, 0).Unit(), Irradiance: RGB{3, 3, 3}}}
	s.Camera = Camera{Eye: vec(0, 60, 200), Focal: 40}
	p := exposed(t, s, 64)
	clear, full, between := 0, 0, 0
	for i, a := range p.Alpha {
		switch {
		case a == 0:
			clear++
		case a > 0.999:
			full++
		default:
			between++
		}
		if a == 0 && !p.Light[i].Dark() {
			t.Fatalf("light without alpha: %v", p.Light[i])
		}
	}
	if clear < 20 || full < 20 || between < 20 {
		t.Errorf("%d clear, %d full, %d between", clear, full, between)
	}
}

// TestPicturesDoNotDependOnCores makes one picture on one core and on all.
func TestPicturesDoNotDependOnCores(t *testing.T) {
	make := func(steps ...int) *Picture {
		s := &Scene{Surfaces: []Surface{{Corners: ball(20), Material: Material{Base: RGB{0.8, 0.6, 0.2}, Metal: 1, Rough: 0.3}}}, Sky: even(1)}
		s.Lights = []Light{&Panel{Mid: vec(0, 90, 0), Across: vec(30, 0, 0), Up: vec(0, 0, 30), Radiance: RGB{9, 9, 9}}}
		s.Camera = Camera{Eye: vec(0, 60, 200), Focal: 40}
		f := NewFilm(24, 16, 5)
		for _, n := range steps {
			if err := s.Expose(context.Background(), f, n); err != nil {
				t.Fatal(err)
			}
		}
		return f.Picture()
	}
	a := make(8)
	b := make(8)
	c := make(3, 1, 4)
	for i := range a.Light {
		if a.Light[i] != b.Light[i] {
			t.Fatalf("pixel %d: %v and %v", i, a.Light[i], b.Light[i])
		}
		if math.Abs(a.Light[i].Luma()-c.Light[i].Luma()) > 1e-6 {
			t.Fatalf("pixel %d, in steps: %v and %v", i, a.Light[i], c.Light[i])
		}
	}
}

// TestRefiningSharpensEdges refines a picture: pixels of edges get more samples, those that
// show one thing keep theirs, and it is the same every time.
func TestRefiningSharpensEdges(t *testing.T) {
	refined := func() *Film {
		s := &Scene{Surfaces: []Surface{{Corners: ball(40), Material: white()}}, Sky: even(1)}
		s.Camera = Camera{Eye: vec(0, 0, 200), Focal: 60}
		f := NewFilm(32, 24, 1)
		if err := s.Expose(context.Background(), f, 8); err != nil {
			t.Fatal(err)
		}
		if err := s.Refine(context.Background(), f, 24); err != nil {
			t.Fatal(err)
		}
		return f
	}
	a, b := refined(), refined()
	if a.Samples() != 32 {
		t.Errorf("pixels have %d samples in the mean", a.Samples())
	}
	edges, within, n, m := 0.0, 0.0, 0.0, 0.0
	for i, k := range a.count {
		if k != b.count[i] || a.light[3*i] != b.light[3*i] {
			t.Fatalf("pixel %d differs", i)
		}
		if k < 8 {
			t.Errorf("pixel %d has %d samples", i, k)
		}
		if alpha := a.Picture().Alpha[i]; alpha > 0.2 && alpha < 0.8 {
			edges, n = edges+float64(k), n+1
		} else if alpha == 1 {
			within, m = within+float64(k), m+1
		}
	}
	if n < 20 || m < 20 || edges/n < 2*within/m {
		t.Errorf("%g edges have %.1f samples, %g pixels within %.1f", n, edges/n, m, within/m)
	}
}

// TestStripsFilterAsOne filters a picture that is higher than a strip: there is no seam, and
// it is nearer to the true light than without.
func TestStripsFilterAsOne(t *testing.T) {
	s := &Scene{Surfaces: []Surface{floor(400, white())}, Sky: even(1), SkySeen: true}
	s.Camera = Camera{Eye: vec(0, 200, 60), Focal: 60}
	f := NewFilm(24, 300, 1)
	if err := s.Expose(context.Background(), f, 4); err != nil {
		t.Fatal(err)
	}
	whole, _ := f.filtered()
	strips, _ := f.inStrips()
	raw, calm := f.Picture(), f.Filtered()
	var noise, left float64
	for i := range whole.Light {
		if whole.Light[i] != strips.Light[i] {
			t.Fatalf("row %d: %v in strips, %v at once", i/f.W, strips.Light[i], whole.Light[i])
		}
		noise += math.Pow(raw.Light[i].Luma()-1, 2)
		left += math.Pow(calm.Light[i].Luma()-1, 2)
	}
	if left > noise/4 {
		t.Errorf("of a variance of %.4f there are %.4f left", noise, left)
	}
}
