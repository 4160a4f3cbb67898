package show

import (
	"math"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// TestKeysLeadFromOneToTheNext reads tracks at and between their keys.
func TestKeysLeadFromOneToTheNext(t *testing.T) {
	for _, ease := range terms.Names("ease") {
		track := recipe.Track{What: "turn", Keys: []recipe.Key{
			{Frame: 10, Value: 2, Ease: ease, Curve: [4]float64{0.3, 0, 0.7, 1}}, {Frame: 20, Value: 6}, {Frame: 30, Value: 0},
		}}
		for frame, want := range map[float64]float64{0: 2, 10: 2, 20: 6, 30: 0, 99: 0} {
			if got := valueAt(&track, frame); math.Abs(got-want) > 1e-9 {
				t.Errorf("%s: %g at frame %g, want %g", ease, got, frame, want)
			}
		}
		if ease == "bounce" || ease == "spring" {
			continue // TestBouncesAndSprings
		}
		last, most := 2.0, 0.0
		for f := 10.0; f < 20; f += 0.01 {
			v := valueAt(&track, f)
			if math.Abs(v-last) > 0.03 {
				t.Fatalf("%s jumps from %g to %g", ease, last, v)
			}
			last, most = v, math.Max(most, v)
		}
		if (most > 6.2) != (ease == "overshoot") {
			t.Errorf("%s reaches %g", ease, most)
		}
		slow, fast := valueAt(&track, 10.1)-2, 6-valueAt(&track, 19.9)
		rest := map[string][2]bool{"both": {true, true}, "soft in": {true, false}, "soft out": {false, true}, "drawn": {true, true}}[ease]
		if (slow < 0.005) != (rest[0] || ease == "hold") || ease != "hold" && ease != "overshoot" && (fast < 0.005) != rest[1] {
			t.Errorf("%s begins with %g and ends with %g", ease, slow, fast)
		}
	}
}

// at makes a moment of figures.
func at(values map[[2]string]float64) moment { return moment{values: values} }

// small is a box of 2 mm around a place.
func small(mid geom.Vec3) *box {
	one := geom.Vec3{X: 1, Y: 1, Z: 1}
	return &box{mid.Sub(one), mid.Add(one)}
}

// TestThingsMoveWhereTheyAreSent poses a part: turned about its own middle, larger, carried;
// swung about its left edge; and finds the way back.
func TestThingsMoveWhereTheyAreSent(t *testing.T) {
	here := small(geom.Vec3{X: 10})
	p := at(map[[2]string]float64{{"p", "turn"}: 90, {"p", "up"}: 5, {"p", "size"}: 2}).poseOf("p", here)
	// A point 1 in front of the middle is 2 to the right of it then, and 5 up.
	if got := p.At(geom.Vec3{X: 10, Z: 1}); got.Sub(geom.Vec3{X: 12, Y: 5}).Len() > 1e-9 {
		t.Errorf("turned to %v", got)
	}
	if got := p.Back(p.At(geom.Vec3{X: 3, Y: 4, Z: 5})); got.Sub(geom.Vec3{X: 3, Y: 4, Z: 5}).Len() > 1e-9 {
		t.Errorf("back at %v", got)
	}
	q := at(map[[2]string]float64{{"p", "swing"}: -90}).poseOf("p", here)
	if got := q.At(geom.Vec3{X: 11}); got.Sub(geom.Vec3{X: 9, Z: 2}).Len() > 1e-9 {
		t.Errorf("swung to %v", got)
	}
	hand := at(map[[2]string]float64{{"p", "lean"}: 90, {"p", "pivot right"}: -10}).poseOf("p", here)
	if got := hand.At(geom.Vec3{X: 10}); got.Sub(geom.Vec3{Y: -10}).Len() > 1e-9 {
		t.Errorf("about its pivot to %v", got)
	}
	both := p.After(q)
	if got, want := both.At(geom.Vec3{Y: 1}), p.At(q.At(geom.Vec3{Y: 1})); got.Sub(want).Len() > 1e-9 {
		t.Errorf("one after the other: %v, not %v", got, want)
	}
	for _, a := range [][3]float64{{30, 0, 0}, {0, 40, 0}, {0, 0, -70}, {20, -30, 140}} {
		r := rotation(a[0], a[1], a[2])
		if math.Abs(r[0].Cross(r[1]).Dot(r[2])-1) > 1e-9 || math.Abs(r[0].Dot(r[1])) > 1e-9 {
			t.Errorf("%v is no rotation: %v", a, r)
		}
	}
	if q := at(nil).poseOf("p", here); q != still {
		t.Errorf("at rest: %+v", q)
	}
	s := recipe.Scene{Motion: recipe.Motion{Tracks: []recipe.Track{{Of: recipe.OfPiece, What: "shown", Keys: []recipe.Key{{Frame: 0}}}}}}
	if out, _ := Of(&s, []Body{plate(t)}, nil, 0); out.Moments[0].Poses[0] == nil || out.Moments[0].Poses[0].Shown {
		t.Error("what is not shown is there")
	}
}

// TestReadyMovesEndAtRest goes through the moves: known ones have keys within the clip, and
// all but the turntable and the camera end where the piece is at rest. Parts follow each
// other by place, and at random the same way for the same seed.
func TestReadyMovesEndAtRest(t *testing.T) {
	var parts []Spot
	for i, x := range []float64{30, -30, 0, 12} {
		b := small(geom.Vec3{X: x})
		parts = append(parts, Spot{ID: string(rune('a' + i)), Lo: b.lo, Hi: b.hi})
	}
	ids := []string{"a", "b", "c", "d"}
	for _, name := range terms.Names("move") {
		r := recipe.New()
		if err := Give(&r.Scene, parts, Act{Move: name, Parts: ids, From: 5, Frames: 100, Order: "in order", Delay: 7}); err != nil {
			t.Fatal(err)
		}
		if err := r.Check(); err != nil || len(r.Scene.Motion.Tracks) == 0 || r.Scene.Motion.Frames != 125 {
			t.Errorf("%s: %v, %+v", name, err, r.Scene.Motion)
		}
		first := map[string]float64{}
		for _, k := range r.Scene.Motion.Tracks {
			if _, ok := first[k.Of]; !ok {
				first[k.Of] = k.Keys[0].Frame
			}
		}
		for i, id := range ids {
			if f, ok := first[id]; ok && math.Abs(f-first["a"]-7*float64(i)) > 1e-9 {
				t.Errorf("%s: %s begins at %g", name, id, f)
			}
		}
		end := momentOf(&r.Scene.Motion, coursesOf(&r.Scene.Motion), 200)
		for _, p := range parts {
			pose := end.poseOf(p.ID, &box{p.Lo, p.Hi})
			if d := pose.At(p.Lo).Sub(p.Lo).Len(); d > 1e-9 || !pose.Shown {
				t.Errorf("%s: %s ends %g mm away", name, p.ID, d)
			}
		}
		// The same move again takes the place of the first one.
		n := len(r.Scene.Motion.Tracks)
		Give(&r.Scene, parts, Act{Move: name, Parts: ids, From: 9, Frames: 50})
		if len(r.Scene.Motion.Tracks) != n {
			t.Errorf("%s twice: %d tracks, not %d", name, len(r.Scene.Motion.Tracks), n)
		}
	}
	for order, want := range map[string]string{"together": "abcd", "left to right": "bcda", "right to left": "adcb", "from the middle": "cdab", "from a point": "bcda"} {
		got := ""
		for _, u := range ordered(unitsOf(parts, ""), order, geom.Vec3{X: -40}, 0) {
			got += u.spot().ID
		}
		if got != want {
			t.Errorf("%s: %s, want %s", order, got, want)
		}
	}
	seen := map[string]bool{}
	for seed := range uint64(12) {
		one, two := "", ""
		units := unitsOf(parts, "")
		for i, u := range ordered(units, "at random", geom.Vec3{}, seed) {
			one, two = one+u.spot().ID, two+ordered(units, "at random", geom.Vec3{}, seed)[i].spot().ID
		}
		if seen[one] = true; one != two {
			t.Errorf("seed %d: %s and %s", seed, one, two)
		}
	}
	if len(seen) < 4 {
		t.Errorf("%d orders of 12 seeds", len(seen))
	}
	for _, bad := range []Act{{Move: "waltz"}, {Move: "rise", Order: "sideways"}, {Move: "rise", From: -1}, {Move: "rise", Frames: -5},
		{Move: "rise", Unit: "sentence"}, {Move: "rise", Pivot: "navel"}, {Move: "rise", Overlap: 2}} {
		s := recipe.Scene{}
		if Give(&s, parts, bad) == nil || len(s.Motion.Tracks) > 0 {
			t.Errorf("%+v was taken", bad)
		}
	}
}

// TestColoursAndGlowMove changes what a part is made of over time, light being mixed.
func TestColoursAndGlowMove(t *testing.T) {
	b := plate(t)
	s := recipe.Scene{Motion: recipe.Motion{Tracks: []recipe.Track{
		{Of: b.Owners[0].ID, What: "colour", Keys: []recipe.Key{{Frame: 0, Color: "#000000", Ease: "even"}, {Frame: 10, Color: "#ffffff"}}},
		{Of: b.Owners[0].ID, What: "glow", Keys: []recipe.Key{{Frame: 0, Value: 3}}},
		{Of: b.Owners[0].ID, What: "depth", Keys: []recipe.Key{{Frame: 0, Value: 0.5, Ease: "even"}, {Frame: 10, Value: 1}}},
	}}}
	m := At(&s, []Body{b}, 4).Material(&b.Owners[0], "front")
	if math.Abs(m.Base[0]-0.4) > 1e-9 || math.Abs(m.Glow[1]-1.2) > 1e-9 {
		t.Errorf("colour %v, glow %v", m.Base, m.Glow)
	}
	if g := Grown(&s.Motion, 4)[b.Owners[0].ID]; math.Abs(g.Depth-0.7) > 1e-9 || g.Bevel != 1 {
		t.Errorf("grown by %v", g)
	}
}

// TestTheCameraStandsStill looks at the scene while the piece turns: camera, lamps and
// backdrop are where they were; and moves them by tracks of their own.
func TestTheCameraStandsStill(t *testing.T) {
	b := []Body{plate(t)}
	s := recipe.Scene{}
	if err := Give(&s, Spots(b), Act{Move: "turntable", Frames: 100}); err != nil {
		t.Fatal(err)
	}
	first, _ := Of(&s, b, nil, 0)
	later, _ := Of(&s, b, nil, 25)
	if first.Camera != later.Camera || len(first.Surfaces) != len(later.Surfaces) {
		t.Error("the camera moved with the piece")
	}
	a := geom.Vec3{X: 20, Y: 3}
	c := later.Moments[0].Poses[0].At(a)
	if first.Moments[0].Poses[0] != nil || math.Abs(a.Y-c.Y) > 1e-9 || a.Sub(c).Len() < 1 {
		t.Errorf("turned from %v to %v", a, c)
	}
	s.Motion.Tracks = []recipe.Track{
		{Of: recipe.OfCamera, What: "distance", Keys: []recipe.Key{{Frame: 0, Value: 30}}},
		{Of: recipe.OfScene, What: "exposure", Keys: []recipe.Key{{Frame: 0, Value: -2}}},
		{Of: "Key", What: "strength", Keys: []recipe.Key{{Frame: 0, Value: 1}}},
	}
	// It looks at a part that rises, and keeps it sharp.
	up := recipe.Scene{Camera: recipe.Camera{Look: b[0].Owners[0].ID, Blur: 2}}
	up.Motion.Tracks = []recipe.Track{{Of: up.Camera.Look, What: "up", Keys: []recipe.Key{{Frame: 0, Ease: "even"}, {Frame: 10, Value: 40}}}}
	for _, frame := range []float64{0, 5, 10} {
		c := At(&up, b, frame).Camera
		want := geom.Vec3{Y: 4 * frame, Z: 2}
		if x, y := c.On(want, 16.0/9); c.Aim.Sub(want).Len() > 1e-4 || math.Abs(x-0.5)+math.Abs(y-0.5) > 1e-6 || math.Abs(c.Focus-want.Sub(c.Eye).Len()) > 1e-4 {
			t.Errorf("frame %g: it aims at %v, %g mm away", frame, c.Aim, c.Focus)
		}
	}
	moved, exposure := Of(&s, b, nil, 3)
	far := func(x geom.Vec3) float64 { return x.Sub(first.Camera.Aim).Len() }
	if d := far(moved.Camera.Eye) - far(first.Camera.Eye); math.Abs(d-30) > 1e-6 || exposure != -2 {
		t.Errorf("%g mm farther, exposure %g", d, exposure)
	}
}

// TestBouncesAndSprings follows both ways: they begin and end where keys are and stand still at the end; what bounces
// never passes the end and touches it between its rebounds, each a quarter as high; a spring passes it as often as
// it is told, weaker each time.
func TestBouncesAndSprings(t *testing.T) {
	for _, k := range []recipe.Key{{Ease: "bounce"}, {Ease: "spring"}, {Ease: "spring", Spring: [2]float64{5, 3}}} {
		if a, b := eased(&k, 0), eased(&k, 1); math.Abs(a) > 1e-9 || math.Abs(b-1) > 1e-9 {
			t.Errorf("%+v goes from %g to %g", k, a, b)
		}
		var turns []float64 // where it turns, by how far it is from the end
		crossings := 0
		const n = 19_997
		last, way := 0.0, 1.0
		for i := 1; i <= n; i++ {
			v := eased(&k, float64(i)/n)
			if math.Abs(v-last) > 60.0/n {
				t.Fatalf("%+v jumps from %g to %g", k, last, v)
			}
			if (v-last)*way < 0 {
				turns, way = append(turns, last-1), -way
			}
			if (v-1)*(last-1) < 0 && i < n {
				crossings++
			}
			last = v
		}
		switch {
		case k.Ease == "bounce":
			want := []float64{0, -0.25, 0, -1. / 16, 0, -1. / 64}
			for i, w := range want {
				if i >= len(turns) || math.Abs(turns[i]-w) > 0.001 {
					t.Errorf("it turns at %v, want %v", turns, want)
					break
				}
			}
		default:
			swings := k.Spring[0]
			if swings == 0 {
				swings = usualSpring[0]
			}
			if math.Abs(float64(crossings)-2*swings) > 1 {
				t.Errorf("%+v passes the end %d times", k, crossings)
			}
			for i := 1; i < len(turns); i++ {
				if math.Abs(turns[i]) > math.Abs(turns[i-1])+1e-9 {
					t.Errorf("%+v turns at %v", k, turns)
					break
				}
			}
		}
	}
}
