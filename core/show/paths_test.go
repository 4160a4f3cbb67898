package show

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// circle is a path around the upright axis by four points, with the handles that come nearest to a circle.
func circle(r float64) recipe.Path {
	h := 0.5522847 * r
	p := recipe.Path{Of: recipe.OfCamera, Closed: true, Even: true}
	for k := range 4 {
		sin, cos := math.Sincos(math.Pi / 2 * float64(k))
		p.Points = append(p.Points, recipe.PathPoint{At: [3]float64{r * sin, 0, r * cos}, Lead: [3]float64{h * cos, 0, -h * sin}})
	}
	return p
}

// TestPathsGoThroughTheirPoints draws paths at random and walks them in small steps: through every point, in their
// order, without a jump; even ones as fast everywhere, others with as much time for each piece; smooth everywhere but
// at corners.
func TestPathsGoThroughTheirPoints(t *testing.T) {
	r := rand.New(rand.NewPCG(26, 1))
	for round := range 60 {
		p := recipe.Path{Closed: round%2 == 0, Even: round%3 > 0}
		for range 2 + r.IntN(6) {
			q := recipe.PathPoint{At: [3]float64{200 * r.Float64(), 200 * r.Float64(), 200 * r.Float64()}}
			switch r.IntN(4) {
			case 0:
				q.Corner = true
			case 1:
				q.Lead = [3]float64{60 * r.Float64(), 60 * r.Float64(), -60 * r.Float64()}
			case 2:
				q.Trail = [3]float64{20 + 60*r.Float64(), 60 * r.Float64(), 60 * r.Float64()}
			}
			p.Points = append(p.Points, q)
		}
		c := courseOf(&p)
		const n = 60_000
		var walk []geom.Vec3
		for i := range n + 1 {
			at, way := c.at(float64(i) / n)
			walk = append(walk, at)
			if math.Abs(way.Len()-1) > 1e-9 {
				t.Fatalf("round %d: the way at %d is %v", round, i, way)
			}
		}
		walked, most := 0.0, 0.0
		for i := range n {
			d := walk[i+1].Sub(walk[i]).Len()
			walked, most = walked+d, math.Max(most, d)
		}
		if math.Abs(walked/c.length()-1) > 1e-4 {
			t.Errorf("round %d: %g mm were walked, it is %g long", round, walked, c.length())
		}
		pieces := len(p.Points) - 1
		if p.Closed {
			pieces++
			if walk[0].Sub(walk[n]).Len() > 1e-6 {
				t.Errorf("round %d: it ends %g mm from its start", round, walk[0].Sub(walk[n]).Len())
			}
		}
		if p.Even && most > 1.002*walked/n {
			t.Errorf("round %d: %g times as fast in a place", round, most*n/walked)
		}
		last := -1
		for k, q := range p.Points {
			at, best := 0, math.Inf(1)
			for i, w := range walk {
				if d := w.Sub(place(q.At)).Len(); d < best && i > last {
					at, best = i, d
				}
			}
			if best > 1.01*walked/n*3 {
				t.Errorf("round %d: it passes point %d by %g mm", round, k, best)
			}
			if last = at; !p.Even && at != k*n/pieces && math.Abs(float64(at)-float64(k)*n/float64(pieces)) > 1 {
				t.Errorf("round %d: point %d is passed at %d", round, k, at)
			}
			inner := k > 0 && k < len(p.Points)-1
			if !inner || q.Corner || q.Trail != [3]float64{} && q.Lead != [3]float64{} {
				continue
			}
			const by = 1e-7
			s := float64(k) / float64(pieces)
			if p.Even {
				s = c.far[k*steps-1] / c.length()
			}
			_, before := c.at(s - by)
			if _, after := c.at(s + by); before.Dot(after) < 0.999 {
				t.Errorf("round %d: a corner at point %d: %v, %v", round, k, before, after)
			}
		}
	}
}

// TestWhatFollowsAPath sends a camera, a part and a lamp round a circle: they are a quarter around it at a quarter of
// the time; the camera keeps looking at what it looks at, or ahead; a part turns its right side the way it goes; and
// beyond the end of an open path it goes on straight.
func TestWhatFollowsAPath(t *testing.T) {
	b := []Body{plate(t)}
	id := b[0].Owners[0].ID
	along := func(of string) recipe.Track {
		return recipe.Track{Of: of, What: recipe.Along, Keys: []recipe.Key{{Ease: "even"}, {Frame: 100, Value: 1}}}
	}
	const r = 200
	camera, part, lamp := circle(r), circle(r), circle(r)
	part.Of, part.Faces, lamp.Of = id, true, "Key"
	s := recipe.Scene{Motion: recipe.Motion{Frames: 100, Paths: []recipe.Path{camera, part, lamp}}}
	s.Motion.Tracks = []recipe.Track{along(recipe.OfCamera), along(id), along("Key")}
	rest := At(&recipe.Scene{}, b, 0)
	for frame := range 100 {
		now := At(&s, b, float64(frame))
		sin, cos := math.Sincos(2 * math.Pi * float64(frame) / 100)
		want := geom.Vec3{X: r * sin, Z: r * cos}
		if d := now.Camera.Eye.Sub(rest.Middle).Sub(want).Len(); d > 0.002*r || now.Camera.Aim != rest.Camera.Aim {
			t.Errorf("frame %d: the camera is %g mm off, aims at %v", frame, d, now.Camera.Aim)
		}
		if math.Abs(now.Camera.Focus-now.Camera.Aim.Sub(now.Camera.Eye).Len()) > 1e-9 {
			t.Errorf("frame %d: it is sharp at %g mm", frame, now.Camera.Focus)
		}
		if d := now.Poses[0].At(rest.Middle).Sub(rest.Middle).Sub(want).Len(); d > 0.002*r {
			t.Errorf("frame %d: the part is %g mm off", frame, d)
		}
		ahead := geom.Vec3{X: cos, Z: -sin}
		if d := now.Poses[0].Turned(geom.Vec3{X: 1}).Sub(ahead).Len(); d > 0.01 {
			t.Errorf("frame %d: its right side is %g off the way", frame, d)
		}
		if d := place(now.Scene.Lamps[0].At).Sub(want).Len(); d > 0.002*r {
			t.Errorf("frame %d: the lamp is %g mm off", frame, d)
		}
	}
	s.Motion.Paths[0].Faces = true
	now := At(&s, b, 0)
	if d := now.Camera.Aim.Sub(now.Camera.Eye).Unit().Sub(geom.Vec3{X: 1}).Len(); d > 1e-6 {
		t.Errorf("it looks %g off the way", d)
	}
	s.Camera.Look = id // what it looks at has moved with its path
	s.Motion.Paths[1] = circle(r / 2)
	s.Motion.Paths[1].Of = id
	now = At(&s, b, 25)
	if d := now.Camera.Aim.Sub(now.Poses[0].At(rest.Middle)).Len(); d > 1e-6 {
		t.Errorf("it aims %g mm beside the part", d)
	}
	open := courseOf(&recipe.Path{Points: []recipe.PathPoint{{}, {At: [3]float64{10, 0, 0}}}})
	if at, _ := open.at(1.3); at.Sub(geom.Vec3{X: 13}).Len() > 1e-9 {
		t.Errorf("beyond the end it is at %v", at)
	}
	into := recipe.Scene{Motion: recipe.Motion{Paths: []recipe.Path{{Of: "Key", Points: []recipe.PathPoint{{}, {At: [3]float64{0, 9, 0}}}}}}}
	for _, l := range At(&into, b, 0).Lights() { // a lamp in what it aims at
		if p, ok := l.(*picture.Panel); ok && !(p.Radiance.Max() < 1e9 && p.Across.Len() > 0) {
			t.Errorf("a lamp shines by %v", p)
		}
	}
}
