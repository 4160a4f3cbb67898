package show

import (
	"math"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// TestKeysLeadFromOneToTheNext reads tracks at and between their keys.
func TestKeysLeadFromOneToTheNext(t *testing.T) {
	for _, ease := range recipe.Eases {
		track := recipe.Track{What: "turn", Keys: []recipe.Key{{Frame: 10, Value: 2, Ease: ease}, {Frame: 20, Value: 6}, {Frame: 30, Value: 0}}}
		for frame, want := range map[float64]float64{0: 2, 10: 2, 20: 6, 30: 0, 99: 0} {
			if got := valueAt(&track, frame); math.Abs(got-want) > 1e-9 {
				t.Errorf("%s: %g at frame %g, want %g", ease, got, frame, want)
			}
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
		rest := map[string][2]bool{"both": {true, true}, "soft in": {true, false}, "soft out": {false, true}}[ease]
		if (slow < 0.005) != (rest[0] || ease == "hold") || ease != "hold" && ease != "overshoot" && (fast < 0.005) != rest[1] {
			t.Errorf("%s begins with %g and ends with %g", ease, slow, fast)
		}
	}
}

// TestThingsMoveWhereTheyAreSent poses a part: turned about its own middle, larger, carried.
func TestThingsMoveWhereTheyAreSent(t *testing.T) {
	m := moment{{"p", "turn"}: 90, {"p", "up"}: 5, {"p", "size"}: 2}
	p := m.poseOf("p", geom.Vec3{X: 10})
	// A point 1 in front of the middle is 2 to the right of it then, and 5 up.
	if got := p.at(geom.Vec3{X: 10, Z: 1}); got.Sub(geom.Vec3{X: 12, Y: 5}).Len() > 1e-9 {
		t.Errorf("turned to %v", got)
	}
	for _, a := range [][3]float64{{30, 0, 0}, {0, 40, 0}, {0, 0, -70}, {20, -30, 140}} {
		r := rotation(a[0], a[1], a[2])
		if math.Abs(r[0].Cross(r[1]).Dot(r[2])-1) > 1e-9 || math.Abs(r[0].Dot(r[1])) > 1e-9 {
			t.Errorf("%v is no rotation: %v", a, r)
		}
	}
	if q := (moment{}).poseOf("p", geom.Vec3{X: 3}); !q.out || !q.shown {
		t.Errorf("at rest: %+v", q)
	}
	if q := (moment{{"p", "shown"}: 0}).poseOf("p", geom.Vec3{}); q.move(surfaces(&recipe.Scene{}, ptr(plate(t)))) != nil {
		t.Error("what is not shown is there")
	}
}

func ptr[T any](v T) *T { return &v }

// TestReadyMovesEndAtRest goes through the moves: known ones have keys within the clip, and
// all but the turntable and the camera end where the piece is at rest.
func TestReadyMovesEndAtRest(t *testing.T) {
	for _, name := range Moves {
		tracks := Move(name, "p1", 100, 50)
		if len(tracks) == 0 {
			t.Errorf("%s moves nothing", name)
		}
		r := recipe.New()
		r.Scene.Motion = recipe.Motion{Frames: 100, Tracks: Delayed([]string{"a", "b"}, 7, func(id string) []recipe.Track {
			return Move(name, id, 100, 50)
		})}
		if err := r.Check(); err != nil {
			t.Errorf("%s: %v", name, err)
		}
		if n := len(r.Scene.Motion.Tracks); n != 2*len(tracks) || r.Scene.Motion.Tracks[n-1].Keys[0].Frame != tracks[len(tracks)-1].Keys[0].Frame+7 {
			t.Errorf("%s: the second part is not later", name)
		}
		p := momentOf(&recipe.Motion{Tracks: tracks}, 100).poseOf("p1", geom.Vec3{})
		v := geom.Vec3{X: 1, Y: 2, Z: 3}
		if p.at(v).Sub(v).Len() > 1e-9 {
			t.Errorf("%s ends at %v", name, p.at(v))
		}
	}
	if Move("waltz", "p1", 100, 50) != nil {
		t.Error("an unknown move moves")
	}
}

// TestTheCameraStandsStill looks at the scene while the piece turns: camera, lamps and
// backdrop are where they were; and moves them by tracks of their own.
func TestTheCameraStandsStill(t *testing.T) {
	b := []Body{plate(t)}
	s := recipe.Scene{Motion: recipe.Motion{Tracks: Move("turntable", recipe.OfPiece, 100, 20)}}
	first, _ := Of(&s, b, 0)
	later, _ := Of(&s, b, 25)
	if first.Camera != later.Camera || len(first.Surfaces) != len(later.Surfaces) {
		t.Error("the camera moved with the piece")
	}
	a, c := first.Surfaces[0].Corners[0][0], later.Surfaces[0].Corners[0][0]
	if math.Abs(a.Y-c.Y) > 1e-9 || a.Sub(c).Len() < 1 {
		t.Errorf("turned from %v to %v", a, c)
	}
	s.Motion.Tracks = []recipe.Track{
		{Of: recipe.OfCamera, What: "distance", Keys: []recipe.Key{{Frame: 0, Value: 30}}},
		{Of: recipe.OfScene, What: "exposure", Keys: []recipe.Key{{Frame: 0, Value: -2}}},
		{Of: "Key", What: "strength", Keys: []recipe.Key{{Frame: 0, Value: 1}}},
	}
	moved, exposure := Of(&s, b, 3)
	far := func(x geom.Vec3) float64 { return x.Sub(first.Camera.Aim).Len() }
	if d := far(moved.Camera.Eye) - far(first.Camera.Eye); math.Abs(d-30) > 1e-6 || exposure != -2 {
		t.Errorf("%g mm farther, exposure %g", d, exposure)
	}
}
