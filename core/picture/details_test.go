package picture

import (
	"context"
	"math"
	"testing"

	"bildhauer/core/geom"
)

// TestGlowLightsAsAPanelDoes lights a floor by a glowing square and by a panel in its
// place: both give the same, though one is a surface that rays meet.
func TestGlowLightsAsAPanelDoes(t *testing.T) {
	m := white()
	m.Base = RGB{0.5, 0.5, 0.5}
	a, b, c, d := vec(-20, 40, -20), vec(20, 40, -20), vec(20, 40, 20), vec(-20, 40, 20) // facing down
	glowing := Surface{Corners: [][3]geom.Vec3{{a, b, c}, {a, c, d}}, Material: Material{Glow: RGB{3, 2, 1}, Rough: 1}}
	camera := Camera{Eye: vec(0, 30, 60), Aim: vec(0, 0, 0), Focal: 80}
	lamp := &Scene{Surfaces: []Surface{floor(200, m)}, Camera: camera}
	lamp.Lights = []Light{&Panel{Mid: vec(0, 40, 0), Across: vec(20, 0, 0), Up: vec(0, 0, 20), Radiance: RGB{3, 2, 1}}}
	glow := &Scene{Surfaces: []Surface{floor(200, m), glowing}, Camera: camera}
	want, got := mean(exposed(t, lamp, 64)), mean(exposed(t, glow, 64))
	for i := range want {
		if math.Abs(got[i]-want[i]) > 0.015*want[i] {
			t.Errorf("a glowing square gives %v, a panel %v", got, want)
		}
	}
}

// TestGrainStaysWhereItIs bends normals: as far as grains are steep, along scratches not at
// all, and at a place of the piece the same wherever it has moved.
func TestGrainStaysWhereItIs(t *testing.T) {
	up := vec(0, 0, 1)
	sum, along := 0.0, 0.0
	grains, scratches := Grain{Size: 0.4}, Grain{Size: 0.4, Along: vec(1, 0, 0), Stretch: 40}
	for i := range 4000 {
		at := vec(float64(i)*0.37, float64(i%91)*1.3, 2)
		n := grains.bent(at, up)
		if math.Abs(n.Len()-1) > 1e-9 || n.Z < 0.5 {
			t.Fatalf("bent to %v", n)
		}
		sum += n.X * n.X
		along = math.Max(along, math.Abs(scratches.bent(at, up).X))
	}
	if rms := math.Sqrt(sum / 4000); rms < 0.05 || rms > 0.3 {
		t.Errorf("grains bend normals by %.3f", rms)
	}
	if along > 1e-9 {
		t.Errorf("scratches bend normals along themselves by %g", along)
	}
	pose := &Pose{Rows: [3]geom.Vec3{{Z: 1}, {Y: 1}, {X: -1}}, By: vec(7, 0, 0), Size: 1, Shown: true}
	m := Material{Grain: grains, Drawn: func(at geom.Vec3) RGB { return RGB{at.X, at.Y, at.Z} }}
	f := NewForm([][3]geom.Vec3{{vec(0, 0, 0), vec(9, 0, 0), vec(0, 9, 0)}}, nil, nil)
	for _, rest := range []geom.Vec3{vec(3, 2, 0), vec(1, 4, 0)} {
		var seen [2]place
		for k, moved := range []*Pose{nil, pose} {
			s := &Scene{Bodies: []Body{{Form: f, Looks: []Look{{Material: m}}, Pose: moved}}}
			s.ready()
			w := &path{s: s, m: &s.Moments[0]}
			r := Ray{From: rest.Plus(5, up), Dir: up.Times(-1), Far: math.Inf(1)}
			if moved != nil {
				r.From, r.Dir = pose.At(r.From), pose.Turned(r.Dir)
			}
			if _, ok := w.meet(&r); !ok {
				t.Fatal("nothing was met")
			}
			seen[k] = w.at
			own := *w.at.material
			seen[k].material = &own
		}
		if d := seen[1].normal.Sub(pose.Turned(seen[0].normal)).Len(); d > 1e-5 {
			t.Errorf("the grain moved by %g", d)
		}
		for _, p := range seen {
			if d := p.material.Base.Plus(RGB{-rest.X, -rest.Y, -rest.Z}); d.Max() > 1e-5 || d.Times(-1).Max() > 1e-5 {
				t.Errorf("the drawing is %v at %v", p.material.Base, rest)
			}
		}
	}
}

// TestAmbienceIsWhatFollowingLightFinds compares what is worked out ahead with a matt ball
// and a mirror in the same surroundings.
func TestAmbienceIsWhatFollowingLightFinds(t *testing.T) {
	sky := NewSky(256, 128, 0.4, func(d geom.Vec3) RGB { return RGB{1 + d.Y, 1 + 0.5*d.X, 0.3 + d.Z*d.Z} })
	s := &Scene{Sky: sky}
	a, err := s.Ambience(context.Background(), vec(0, 0, 0))
	if err != nil {
		t.Fatal(err)
	}
	for _, n := range []geom.Vec3{vec(0, 1, 0), vec(1, 0, 0), vec(0, -1, 0), vec(0.6, 0, 0.8), vec(0.48, 0.6, -0.64)} {
		var want RGB
		const m = 20_000
		for k := range m {
			smp := newSampler(5, 1, uint32(k), 9)
			u, v := smp.pair()
			want = want.Plus(sky.Light(cosine(n, u, v)).Times(1. / m))
		}
		got := a.Matt(n)
		for i := range got {
			if math.Abs(got[i]-want[i]) > 0.02 {
				t.Errorf("%v: matt %v, want %v", n, got, want)
			}
		}
		for i, p := range a.Levels[:2] {
			if d := p.Light(n).Plus(sky.Light(n).Times(-1)); math.Abs(d[0])+math.Abs(d[1])+math.Abs(d[2]) > 0.05+0.05*float64(i) {
				t.Errorf("%v: mirror %d is off by %v", n, i, d)
			}
		}
	}
	// Rougher levels lose contrast and keep the mean.
	spread := func(p *Panorama) (low, high, mean float64) {
		low = math.Inf(1)
		all := 0.0
		for i, c := range p.Pix {
			w := math.Sin(math.Pi * (float64(i/p.W) + 0.5) / float64(p.H))
			low, high = math.Min(low, float64(c[0])), math.Max(high, float64(c[0]))
			mean, all = mean+w*float64(c[0]), all+w
		}
		return low, high, mean / all
	}
	_, _, want := spread(a.Levels[0])
	last := math.Inf(1)
	for i, p := range a.Levels {
		low, high, m := spread(p)
		if high-low > last+1e-3 || math.Abs(m-want) > 0.03 {
			t.Errorf("level %d: from %.3f to %.3f, mean %.3f of %.3f", i, low, high, m, want)
		}
		last = high - low
	}
}

// TestPremultipliedEdgesHaveNoFringe lays a picture with a soft edge over black, white and
// red: what is seen of the edge is a mix of both, never darker or lighter than they are.
func TestPremultipliedEdgesHaveNoFringe(t *testing.T) {
	m := Material{Base: RGB{}, Glow: RGB{0.4, 0.2, 0.1}, Rough: 1}
	s := &Scene{Surfaces: []Surface{{Corners: ball(40), Material: m}}}
	s.Camera = Camera{Eye: vec(0, 0, 200), Focal: 80}
	f := NewFilm(48, 32, 1)
	if err := s.Make(context.Background(), f, 16, func(int) bool { return true }); err != nil {
		t.Fatal(err)
	}
	img := f.Filtered().Image(Flat, 0)
	edges := 0
	for _, ground := range []RGB{{}, {1, 1, 1}, {1, 0, 0}} {
		for y := range 32 {
			for x := range 48 {
				c := img.NRGBA64At(x, y)
				a := float64(c.A) / 65535
				if a > 0.02 && a < 0.98 {
					edges++
				}
				for i, v := range [3]uint16{c.R, c.G, c.B} {
					over := Linear(float64(v)/65535)*a + ground[i]*(1-a)
					lo, hi := math.Min(m.Glow[i], ground[i]), math.Max(m.Glow[i], ground[i])
					if a > 0 && (over < lo-0.01 || over > hi+0.01) {
						t.Fatalf("pixel %d, %d over %v: %.3f in channel %d", x, y, ground, over, i)
					}
				}
			}
		}
	}
	if edges < 100 {
		t.Errorf("%d pixels at edges", edges)
	}
}

// TestFilteredEdgesHaveNoFringe looks along the edges of balls in noisy light on a clear ground: the colour of what
// covers a pixel, which is what shows as a fringe over another ground, is nowhere farther from the true one after the
// filter, and for clear things, of which alpha is noisy, much nearer.
func TestFilteredEdgesHaveNoFringe(t *testing.T) {
	for name, c := range map[string]struct {
		m    Material
		most float64 // of what is left, against before the filter
	}{
		"dark":  {Material{Base: RGB{0.02, 0.05, 0.01}, Rough: 0.4}, 1.02},
		"brass": {Material{Base: RGB{0.9, 0.6, 0.2}, Metal: 1, Rough: 0.3}, 1.02},
		"resin": {Material{Base: RGB{1, 1, 1}, Clear: 1}, 0.6},
	} {
		s := &Scene{Surfaces: []Surface{{Corners: ball(40), Normals: roundNormals(40), Material: c.m}}, Sky: even(0.2)}
		s.Lights = []Light{&Panel{Mid: vec(60, 90, 60), Across: vec(-20, 0, 20), Up: vec(10, -20, 10), Radiance: RGB{9, 9, 9}}}
		s.Camera = Camera{Eye: vec(0, 0, 200), Focal: 80}
		made := func(seed uint32, samples int) *Film {
			f := NewFilm(48, 32, seed)
			if err := s.Make(context.Background(), f, samples, func(int) bool { return true }); err != nil {
				t.Fatal(err)
			}
			return f
		}
		sure := made(5, 150).Picture()
		raw, left, edges := 0.0, 0.0, 0
		for seed := range uint32(3) {
			f := made(10+seed, 12)
			before, after := f.Picture(), f.Filtered()
			for i, a := range sure.Alpha {
				if a < 0.05 || a > 0.95 {
					continue
				}
				edges++
				off := func(p *Picture) float64 {
					return math.Abs(p.Light[i].Luma()/math.Max(p.Alpha[i], 0.02) - sure.Light[i].Luma()/a)
				}
				raw, left = raw+off(before), left+off(after)
			}
		}
		if left > c.most*raw || edges < 100 {
			t.Errorf("%s: off by %.4f after the filter, %.4f before, over %d pixels", name, left/float64(edges), raw/float64(edges), edges)
		}
	}
}

// TestRoughPicturesHaveCleanEdges makes pictures of 4 samples a pixel: with samples where edges are, these are off by
// far less than with as many everywhere.
func TestRoughPicturesHaveCleanEdges(t *testing.T) {
	s := &Scene{Surfaces: []Surface{{Corners: ball(40), Normals: roundNormals(40), Material: white()}}, Sky: even(0.7)}
	s.Camera = Camera{Eye: vec(0, 0, 200), Focal: 80}
	exposed := func(seed uint32, samples int) *Film {
		f := NewFilm(96, 64, seed)
		if err := s.Expose(context.Background(), f, samples); err != nil {
			t.Fatal(err)
		}
		return f
	}
	sure := exposed(9, 256).Picture()
	var off [2]float64
	for seed := range uint32(4) {
		made := NewFilm(96, 64, seed)
		if err := s.Make(context.Background(), made, 4, func(int) bool { return true }); err != nil {
			t.Fatal(err)
		}
		for k, f := range [2]*Film{exposed(seed, 4), made} {
			p := f.Filtered()
			for i, a := range sure.Alpha {
				if a > 0.02 && a < 0.98 {
					off[k] += math.Abs(p.Alpha[i] - a)
				}
			}
		}
	}
	if off[1] > 0.65*off[0] {
		t.Errorf("edges are off by %.1f, with as many samples everywhere by %.1f", off[1], off[0])
	}
}

// TestAnOpenShutterSeesAllMoments exposes a film to a square here and there, and keeps
// masks and the shadow apart.
func TestAnOpenShutterSeesAllMoments(t *testing.T) {
	f := floor(10, Material{})
	for i := range f.Corners {
		for k, v := range f.Corners[i] {
			f.Corners[i][k] = vec(v.X, -v.Z, 0) // upright, facing the eye
		}
	}
	s := &Scene{Bodies: []Body{{Form: NewForm(f.Corners, nil, nil), Looks: []Look{{Material{Glow: RGB{1, 1, 1}, Rough: 1}, 1}}}}}
	for k := range 64 { // half of the time here, half there
		p := &Pose{Rows: [3]geom.Vec3{{X: 1}, {Y: 1}, {Z: 1}}, By: vec(-15, 0, 0), Size: 1, Shown: true}
		if k >= 32 {
			p.By.X = 15
		}
		s.Moments = append(s.Moments, Moment{Camera: Camera{Eye: vec(0, 0, 200), Focal: 60}, Poses: []*Pose{p}})
	}
	film := NewFilm(60, 30, 1)
	film.Mask(1)
	if err := s.Expose(context.Background(), film, 64); err != nil {
		t.Fatal(err)
	}
	p := film.Picture()
	for x, want := range map[int]float64{22: 0.5, 37: 0.5, 29: 0, 2: 0} {
		if got := p.Alpha[15*60+x]; math.Abs(got-want) > 0.04 {
			t.Errorf("pixel %d is covered by %g, want %g", x, got, want)
		}
	}
	names := map[string]bool{}
	for _, c := range film.Passes(p, true, "sail") {
		names[c.Name] = true
		if c.Name == "mask.sail" && math.Abs(float64(c.Values[15*60+22])-0.5) > 0.04 {
			t.Errorf("the mask is %g", c.Values[15*60+22])
		}
	}
	if !names["mask.sail"] || !names["shadow.Y"] || !names["Z"] {
		t.Errorf("passes: %v", names)
	}
}

// TestHowFastThingsMoveIsKept sends a wall to the right, up and nearer while the camera rolls: each pixel tells where
// what is seen there is a frame later, on both sides of the wall's middle.
func TestHowFastThingsMoveIsKept(t *testing.T) {
	f := floor(300, Material{})
	for i := range f.Corners {
		for k, v := range f.Corners[i] {
			f.Corners[i][k] = vec(v.X, -v.Z, 0)
		}
	}
	pose := func(x, y, z float64) *Pose {
		return &Pose{Rows: [3]geom.Vec3{{X: 1}, {Y: 1}, {Z: 1}}, By: vec(x, y, z), Size: 1, Shown: true}
	}
	now, later := Camera{Eye: vec(0, 0, 200), Focal: 50}, Camera{Eye: vec(0, 0, 200), Focal: 50, Roll: 0.02}
	s := &Scene{Bodies: []Body{{Form: NewForm(f.Corners, nil, nil), Looks: []Look{{Material: white()}}}}, Sky: even(1)}
	s.Moments = []Moment{{Camera: now, Poses: []*Pose{pose(5, 0, 0)}, Ahead: &Moment{Camera: later, Poses: []*Pose{pose(8, 2, 10)}}}}
	film := NewFilm(60, 40, 1)
	film.Track()
	if err := s.Expose(context.Background(), film, 16); err != nil {
		t.Fatal(err)
	}
	passes := map[string][]float32{}
	for _, c := range film.Passes(film.Picture(), true) {
		passes[c.Name] = c.Values
	}
	for _, p := range [][2]int{{5, 5}, {30, 20}, {50, 33}} {
		half := 18.0 / 50 * 200 // of the film's width at the wall, mm
		x, y := (2*(float64(p[0])+0.5)/60-1)*half, (1-2*(float64(p[1])+0.5)/40)*half*40/60
		x, y = x+3, y+2 // a frame later
		half *= 190.0 / 200
		sin, cos := math.Sincos(-0.02)
		x, y = x*cos-y*sin, x*sin+y*cos
		u, v := (x/half+1)/2*60-float64(p[0])-0.5, (y/(half*40/60)+1)/2*40-(40-float64(p[1])-0.5)
		i := p[1]*60 + p[0]
		if got := [2]float64{float64(passes["velocity.X"][i]), float64(passes["velocity.Y"][i])}; math.Hypot(got[0]-u, got[1]-v) > 0.15 {
			t.Errorf("pixel %v moves by %.2f, want %.2f, %.2f", p, got, u, v)
		}
	}
}

// TestCaughtShadowsAreCalm compares the shadow on a clear ground after a few samples with
// that after many: its noise is gone, its places stay.
func TestCaughtShadowsAreCalm(t *testing.T) {
	s := &Scene{Surfaces: []Surface{{Corners: ball(30), Material: white()}}, Sky: even(0.5), Catch: true, Floor: -30}
	s.Lights = []Light{&Panel{Mid: vec(80, 120, 40), Across: vec(-20, 0, 20), Up: vec(10, -20, 10), Radiance: RGB{9, 9, 9}}}
	s.Camera = Camera{Eye: vec(0, 90, 200), Focal: 40}
	made := func(samples int) *Film {
		f := NewFilm(96, 64, 1)
		if err := s.Make(context.Background(), f, samples, func(int) bool { return true }); err != nil {
			t.Fatal(err)
		}
		return f
	}
	few, many := made(8), made(256).Filtered()
	raw, calm, dark := 0.0, 0.0, 0
	before, after := few.Picture(), few.Filtered()
	for i, a := range many.Alpha {
		raw += math.Abs(a-before.Alpha[i]) / float64(len(many.Alpha))
		calm += math.Abs(a-after.Alpha[i]) / float64(len(many.Alpha))
		if a > 0.3 && a < 0.95 {
			dark++
		}
	}
	if calm > 0.02 || calm > raw/1.25 || dark < 100 {
		t.Errorf("%.4f apart in the mean, %.4f before; %d pixels in the shadow", calm, raw, dark)
	}
}

// TestSmallerKeepsTheLight makes panoramas and pictures smaller: their mean stays, also
// where the size is no multiple, and what is small already stays as it is.
func TestSmallerKeepsTheLight(t *testing.T) {
	p := &Panorama{W: 48, H: 24, Pix: make([][3]float32, 48*24)}
	pic := &Picture{W: 48, H: 24, Light: make([]RGB, 48*24), Alpha: make([]float64, 48*24)}
	for i := range p.Pix {
		v := float64(i%7) + float64(i/48)
		p.Pix[i] = [3]float32{float32(v), 1, 0}
		pic.Light[i], pic.Alpha[i] = RGB{v, 1, 0}, 0.5
	}
	for _, most := range []int{48, 24, 12, 5} {
		q, small := p.Smaller(most), pic.Smaller(most)
		if q.W > most || small.W > most || q.W != small.W || len(q.Pix) != q.W*q.H || len(small.Light) != small.W*small.H {
			t.Fatalf("%d: %d by %d, %d by %d", most, q.W, q.H, small.W, small.H)
		}
		sum := 0.0
		for i, c := range q.Pix {
			if d := float64(c[0]) - small.Light[i][0]; math.Abs(d) > 1e-4 || small.Alpha[i] != 0.5 || c[1] != 1 {
				t.Fatalf("%d: pixel %d is %v and %v", most, i, c, small.Light[i])
			}
			sum += float64(c[0]) / float64(len(q.Pix))
		}
		if want := 3 + 11.5; math.Abs(sum-want) > 1.2 {
			t.Errorf("%d: the mean is %.2f, not %.2f", most, sum, want)
		}
	}
	if p.Smaller(48) != p || pic.Smaller(100) != pic {
		t.Error("what is small enough was copied")
	}
}
