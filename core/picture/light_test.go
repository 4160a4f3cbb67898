package picture

import (
	"context"
	"math"
	"testing"

	"bildhauer/core/geom"
)

// box returns a closed box.
func boxOf3(lo, hi geom.Vec3, m Material) Surface {
	at := func(i int) geom.Vec3 {
		p := lo
		if i&1 != 0 {
			p.X = hi.X
		}
		if i&2 != 0 {
			p.Y = hi.Y
		}
		if i&4 != 0 {
			p.Z = hi.Z
		}
		return p
	}
	out := Surface{Material: m}
	for _, q := range [][4]int{{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}} {
		out.Corners = append(out.Corners, [3]geom.Vec3{at(q[0]), at(q[1]), at(q[2])}, [3]geom.Vec3{at(q[0]), at(q[2]), at(q[3])})
	}
	return out
}

func glass(base float64) Material { return Material{Base: RGB{base, base, base}, Rough: 0, Clear: 1} }

// twice is what goes through two clear surfaces at the cosine outside, each once.
func twice(cos float64) float64 {
	k := 1 - fresnelOf(usualIndex).at(cos)
	return k * k
}

// near reports whether a figure is within a share of another.
func near(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if !(math.Abs(got-want) <= share*math.Abs(want)) {
		t.Errorf("%s: %.5f, want %.5f", what, got, want)
	}
}

// TestStacksOfClearThingsLoseNothing puts clear bodies of all kinds, one in another and over white ground, into
// even light: nothing of them is seen.
func TestStacksOfClearThingsLoseNothing(t *testing.T) {
	bent := glass(1)
	bent.Index = 1.33
	dense := glass(1)
	dense.Index = 2.4
	frosted := glass(1)
	frosted.Rough = 0.5
	thin := glass(1)
	thin.Thin = true
	milky := glass(1)
	milky.Clear = 0.5
	lacquered := glass(1)
	lacquered.Coat = 1
	brass := Material{Base: RGB{1, 1, 1}, Metal: 1, Rough: 0.12}
	for name, list := range map[string][]Surface{
		"three plates": {
			boxOf3(vec(-40, -40, 0), vec(40, 40, 5), glass(1)), boxOf3(vec(-40, -40, 9), vec(40, 40, 12), bent),
			boxOf3(vec(-40, -40, 20), vec(40, 40, 21), frosted),
		},
		"a plate over white":     {boxOf3(vec(-40, -40, 0), vec(40, 40, 5), glass(1)), boxOf3(vec(-40, -40, -9), vec(40, 40, -1), white())},
		"a white body in resin":  {boxOf3(vec(-40, -40, -20), vec(40, 40, 20), glass(1)), boxOf3(vec(-30, -30, -10), vec(30, 30, 10), white())},
		"brass in resin":         {boxOf3(vec(-40, -40, -20), vec(40, 40, 20), bent), boxOf3(vec(-30, -30, -10), vec(30, 30, 10), brass)},
		"dense":                  {boxOf3(vec(-40, -40, -20), vec(40, 40, 20), dense)},
		"thin":                   {boxOf3(vec(-40, -40, -20), vec(40, 40, 20), thin), {Corners: ball(16), Material: thin}},
		"milky":                  {boxOf3(vec(-40, -40, -20), vec(40, 40, 20), milky)},
		"lacquered":              {boxOf3(vec(-40, -40, -20), vec(40, 40, 20), lacquered)},
		"a ball in front of all": {{Corners: ball(40), Material: glass(1)}, boxOf3(vec(-90, -90, -90), vec(90, 90, -60), white())},
	} {
		s := &Scene{Surfaces: list, Sky: even(1), SkySeen: true, Camera: Camera{Eye: vec(60, 50, 200), Focal: 90}}
		near(t, name, mean(exposed(t, s, 256)).Luma(), 1, 0.01)
	}
}

// TestClearThingsLetLampsThroughOnce lights a matt floor by each kind of lamp, in the open and under a clear
// slab: it loses what the two surfaces reflect, and what the way inside takes.
func TestClearThingsLetLampsThroughOnce(t *testing.T) {
	grey := Material{Base: RGB{0.04, 0.04, 0.04}, Rough: 1} // what comes back from the slab is little
	glow := boxOf3(vec(-12, 60, -12), vec(12, 61, 12), Material{Glow: RGB{9, 9, 9}})
	for name, light := range map[string]Light{
		"panel": &Panel{Mid: vec(0, 60, 0), Across: vec(12, 0, 0), Up: vec(0, 0, 12), Radiance: RGB{9, 9, 9}},
		"sun":   &Sun{From: vec(0, 1, 0), Angle: 0.02, Irradiance: RGB{2, 2, 2}},
		"spot":  &Spot{At: vec(0, 60, 0), Aim: vec(0, -1, 0), Radius: 2, Angle: 1, Soft: 0.2, Intensity: RGB{9000, 9000, 9000}},
		"glow":  nil,
	} {
		lit := func(over ...Surface) float64 {
			s := &Scene{Surfaces: append([]Surface{floor(60, grey)}, over...)}
			if light != nil {
				s.Lights = []Light{light}
			} else {
				s.Surfaces = append(s.Surfaces, glow)
			}
			s.Camera = Camera{Eye: vec(60, 8, 0), Aim: vec(0, 0, 0), Focal: 3600} // from below the slab
			return mean(exposed(t, s, 256)).Luma()
		}
		open := lit()
		tinted := glass(0.5)
		tinted.Deep = 10
		slab := func(m Material) Surface { return boxOf3(vec(-50, 20, -50), vec(50, 30, 50), m) }
		near(t, name+" under a clear slab", lit(slab(glass(1)))/open, twice(0.99), 0.02)
		near(t, name+" under a slab that takes half of it", lit(slab(tinted))/open, twice(0.99)/2, 0.03)
		tinted.Deep = 5
		near(t, name+" under one that takes three quarters", lit(slab(tinted))/open, twice(0.99)/4, 0.03)
		air := glass(1)
		air.Index = 1
		near(t, name+" under air", lit(slab(air))/open, 1, 0.01)
	}
}

// TestLampsOfEqualPowerShineAlike shows a sun, a spot and a panel of the same solid angle and light in metal from
// nearly a mirror to rough: all of the light comes back, and the brightest places are as bright.
func TestLampsOfEqualPowerShineAlike(t *testing.T) {
	const angle, far = 0.12, 1e5
	size := far * math.Tan(angle)
	side := size * math.Sqrt(math.Pi) / 2 // of half a square with the area of the disc
	lamps := map[string]Light{
		"sun":   &Sun{From: vec(0, 0, 1), Angle: angle, Irradiance: RGB{1, 1, 1}},
		"spot":  &Spot{At: vec(0, 0, far), Aim: vec(0, 0, -1), Radius: far * math.Sin(angle), Angle: 1, Soft: 0.1, Intensity: RGB{far * far, far * far, far * far}},
		"panel": &Panel{Mid: vec(0, 0, far), Across: vec(-side, 0, 0), Up: vec(0, side, 0)},
	}
	one := 1 / (4 * side * side) * far * far
	lamps["panel"].(*Panel).Radiance = RGB{one, one, one}
	for _, rough := range []float64{0, 0.12, 0.3, 0.6} {
		m := Material{Base: RGB{1, 1, 1}, Metal: 1, Rough: rough}
		sums := map[string]float64{}
		for name, l := range lamps {
			s := &Scene{Surfaces: []Surface{{Corners: ball(60), Normals: roundNormals(60), Material: m}}, Lights: []Light{l}}
			s.Camera = Camera{Eye: vec(250, 0, 250), Focal: 180}
			for seed := range uint32(8) {
				f := NewFilm(36, 24, seed)
				if err := s.Expose(context.Background(), f, 32); err != nil {
					t.Fatal(err)
				}
				sums[name] += mean(f.Picture()).Luma() / 8
			}
		}
		for name, got := range sums {
			near(t, name, got, (sums["sun"]+sums["spot"]+sums["panel"])/3, 0.03)
		}
		if rough == 0 {
			// A mirror ball of radius r spreads E over 4 pi: r^2/4 E toward each side, as from the focus behind
			// its surface.
			focus := math.Hypot(250, 250) - 30*math.Cos(math.Pi/8) + 15
			wide := 2 * 18.0 / 180 * focus // of the picture, mm there
			want := 30.0 * 30 / 4 / (wide * wide * 24 / 36)
			near(t, "what a mirror ball gives back", sums["sun"], want, 0.05)
		}
	}
}

// roundNormals are those of ball.
func roundNormals(n int) [][3]geom.Vec3 {
	var out [][3]geom.Vec3
	for _, c := range ball(n) {
		out = append(out, [3]geom.Vec3{c[0].Unit(), c[1].Unit(), c[2].Unit()})
	}
	return out
}

// TestWhatIsSeenIsNotCut looks at things that glow, directly and in a mirror, and at the true sun in one.
func TestWhatIsSeenIsNotCut(t *testing.T) {
	for _, glow := range []float64{1, 32, 100, 1000} {
		plate := boxOf3(vec(-20, 0, -21), vec(20, 40, -20), Material{Glow: RGB{glow, glow, glow}})
		s := &Scene{Surfaces: []Surface{floor(100, Material{Base: RGB{1, 1, 1}, Metal: 1}), plate}}
		s.Camera = Camera{Eye: vec(0, 10, 0), Aim: vec(0, 10, -20), Focal: 360}
		near(t, "directly", mean(exposed(t, s, 16)).Luma(), glow, 1e-5)
		s.Camera = Camera{Eye: vec(0, 10, 0), Aim: vec(0, 0, -10), Focal: 360}
		near(t, "in a mirror", mean(exposed(t, s, 64)).Luma(), glow, 0.01)
	}
	sun := &Sun{From: vec(0, 1, 0), Angle: 0.27 * math.Pi / 180, Irradiance: RGB{3, 3, 3}}
	s := &Scene{Surfaces: []Surface{floor(100, Material{Base: RGB{1, 1, 1}, Metal: 1})}, Lights: []Light{sun}}
	s.Camera = Camera{Eye: vec(0, 10, 0), Focal: 1000}
	angle := 18.0 / 1000 // half the picture's width
	want := 3 / (2 * angle * 2 * angle * 16 / 24)
	near(t, "the sun in a mirror", mean(exposed(t, s, 1024)).Luma(), want, 0.03)
	// Rare bright paths are cut where a picture is looked at, and there where it is measured.
	f := NewFilm(1, 1, 1)
	f.add(0, 0, [2]float64{}, &seen{light: RGB{500, 500, 500}, more: RGB{700, 700, 700}})
	f.count[0] = 1
	near(t, "looked at", f.Picture().Light[0].Luma(), 500+firefly, 1e-6)
	near(t, "measured", f.Whole().Light[0].Luma(), 1200, 1e-6)
}

// TestGroundIsSeenThroughClearThings lays a clear plate over every ground: what is behind is seen, in the colour
// that the way inside gives it, and a clear ground stays clear.
func TestGroundIsSeenThroughClearThings(t *testing.T) {
	through := twice(1)
	blue := RGB{0.1, 0.2, 0.8}
	deep := glass(1)
	deep.Base, deep.Deep = RGB{0.5, 1, 1}, 4
	thin := deep
	thin.Thin = true
	air := glass(1)
	air.Index = 1
	for name, c := range map[string]struct {
		m    Material
		want RGB // of a white ground
	}{
		"clear": {glass(1), RGB{through, through, through}}, "air": {air, RGB{1, 1, 1}}, "8 mm": {deep, RGB{through / 4, through, through}},
		"thin": {thin, RGB{through / 4, through, through}},
	} {
		plate := boxOf3(vec(-90, -90, -8), vec(90, 90, 0), c.m)
		for ground, s := range map[string]*Scene{
			"colour":   {Solid: true, Backdrop: blue},
			"gradient": {Solid: true, Backdrop: blue.Times(0.5), Foot: blue.Times(1.5)},
			"sweep":    {Surfaces: []Surface{boxOf3(vec(-900, -900, -60), vec(900, 900, -50), Material{Glow: blue})}},
			"sky":      {Sky: NewSky(16, 8, 0, func(geom.Vec3) RGB { return blue }), SkySeen: true},
			"clear":    {},
		} {
			s.Surfaces = append(s.Surfaces, plate)
			s.Camera = Camera{Eye: vec(0, 0, 400), Focal: 200}
			f := NewFilm(24, 16, 1)
			if err := s.Expose(context.Background(), f, 256); err != nil {
				t.Fatal(err)
			}
			p := f.Picture()
			got, alpha := mean(p), 0.0
			for _, a := range p.Alpha {
				alpha += a / float64(len(p.Alpha))
			}
			if ground == "clear" {
				near(t, name+" over nothing: what stays clear", 1-alpha, c.want.Luma(), 0.02)
				continue
			}
			near(t, name+" over "+ground+": alpha", alpha, 1, 1e-6)
			for i := range got {
				want := blue[i] * c.want[i]
				if ground == "sky" { // which the front mirrors, too
					want += blue[i] * (1 - through) * 0.5
				}
				near(t, name+" over "+ground, got[i], want, 0.05)
			}
		}
	}
}

// TestAGoalIsReached asks for less and less noise: the estimate is about what the error is against a picture of many
// samples, and work is told as far as it has gone.
func TestAGoalIsReached(t *testing.T) {
	s := &Scene{Surfaces: []Surface{{Corners: ball(24), Normals: roundNormals(24), Material: Material{Base: RGB{0.8, 0.5, 0.3}, Rough: 0.4}}}}
	s.Sky, s.SkySeen = NewSky(32, 16, 0, func(d geom.Vec3) RGB { l := 0.3 + 2*math.Pow(math.Max(0, d.X), 8); return RGB{l, l, l} }), true
	s.Lights = []Light{&Panel{Mid: vec(60, 90, 60), Across: vec(-20, 0, 20), Up: vec(10, -20, 10), Radiance: RGB{9, 9, 9}}}
	s.Camera = Camera{Eye: vec(0, 30, 200), Focal: 60}
	made := func(seed uint32, g Goal) *Film {
		f := NewFilm(48, 32, seed)
		last := -1.0
		err := s.MakeTo(context.Background(), f, g, func(have int, share float64) bool {
			if share < last-0.15 || share >= 1 {
				t.Errorf("%d samples: %.2f is done, after %.2f", have, share, last)
			}
			last = math.Max(last, share)
			return true
		})
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	sure := made(9, Goal{Samples: 1024}).Picture()
	last := 0
	for _, noise := range []float64{0.2, 0.1, 0.05} {
		f := made(1, Goal{Noise: noise, Samples: 4096})
		sum := 0.0
		for i, l := range f.Picture().Light {
			m := sure.Light[i].Luma()
			sum += math.Pow(l.Luma()-m, 2) / (m*m + seenLeast*seenLeast)
		}
		if got := math.Sqrt(sum / float64(len(sure.Light))); got > 1.5*noise || got < noise/4 {
			t.Errorf("a goal of %g: the error is %.3f after %d samples", noise, got, f.Samples())
		}
		if f.Samples() <= last && last > 4 {
			t.Errorf("a goal of %g took %d samples, the one before %d", noise, f.Samples(), last)
		}
		last = f.Samples()
	}
}
