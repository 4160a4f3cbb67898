package show

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// lettered sets letters as parts: lines under each other, 20 mm apart, letters 10 mm high and 6 wide with gaps of 1,
// words with 4; those that hang down stand 3 mm lower. Each is called by itself and its place.
func lettered(lines ...string) (out []Spot) {
	for n, l := range lines {
		x := 0.0
		for i, c := range l {
			if c == ' ' {
				x += 3
				continue
			}
			y := -20 * float64(n)
			foot := y
			if strings.ContainsRune("gpqy", c) {
				foot -= 3
			}
			out = append(out, Spot{
				ID: fmt.Sprintf("%c%d.%d", c, n, i), Lo: geom.Vec3{X: x, Y: foot}, Hi: geom.Vec3{X: x + 6, Y: y + 10, Z: 4}, Layer: string(c),
			})
			x += 7
		}
	}
	return out
}

func named(u unit) string {
	out := ""
	for _, p := range u.parts {
		out += p.ID[:1]
	}
	return out
}

// TestLettersStandInWordsAndLines puts letters together, however they are listed.
func TestLettersStandInWordsAndLines(t *testing.T) {
	spots := lettered("high tide", "by the quay", "V")
	for i := range spots { // the other way round
		if j := len(spots) - 1 - i; i < j {
			spots[i], spots[j] = spots[j], spots[i]
		}
	}
	for kind, want := range map[string]string{
		"line": "hightide bythequay V", "word": "high tide by the quay V", "group": "Vyauqehtybedithgih",
		"layer": "V yy a u q ee hhh tt b d ii g",
	} {
		var got []string
		for _, u := range unitsOf(spots, kind) {
			got = append(got, named(u))
		}
		if strings.Join(got, " ") != want {
			t.Errorf("%ss: %v", kind, got)
		}
	}
	if n := len(unitsOf(spots, "part")); n != len(spots) {
		t.Errorf("%d parts of %d", n, len(spots))
	}
}

// TestUnitsMoveAsOne gives words each move about each pivot: at every moment what lies between two letters of a word is
// as it was, but for the turn and the size of the word; the pivot stays where it is while the word only turns or grows.
func TestUnitsMoveAsOne(t *testing.T) {
	spots := lettered("high tide")
	for _, move := range []string{"swing open", "spring out", "unroll from the left", "drop in", "bounce in"} {
		for _, pivot := range append([]string{""}, terms.Names("pivot")...) {
			s := recipe.Scene{}
			a := Act{Move: move, Parts: idsOf(spots), Frames: 40, Order: "left to right", Overlap: 0.75, Unit: "word", Pivot: pivot, Mark: [2]float64{-30, 12}}
			if err := Give(&s, spots, a); err != nil {
				t.Fatal(err)
			}
			r := recipe.New()
			r.Scene.Motion = s.Motion
			if err := r.Check(); err != nil {
				t.Fatal(err)
			}
			for _, u := range unitsOf(spots, "word") {
				for frame := 0.0; frame < 55; frame += 1.7 {
					now := momentOf(&s.Motion, coursesOf(&s.Motion), frame)
					pose := func(p *Spot) func(geom.Vec3) geom.Vec3 {
						q := now.poseOf(p.ID, &box{p.Lo, p.Hi})
						return q.At
					}
					first := pose(&u.parts[0])
					for i := range u.parts[1:] {
						other := pose(&u.parts[i+1])
						for _, v := range []geom.Vec3{u.parts[0].Lo, u.box.hi, {X: 3, Y: 40, Z: -7}} {
							if d := first(v).Sub(other(v)).Len(); d > 1e-6 {
								t.Fatalf("%s about its %s, frame %g: letters of %s are %g mm apart", move, pivot, frame, named(u), d)
							}
						}
					}
					at := u.pivot(pivot)
					if pivot == point {
						whole := unitOf(spots)
						at = whole.box.middle().Add(geom.Vec3{X: -30, Y: 12})
					}
					if pivot != "" && move != "drop in" && move != "bounce in" {
						if d := first(at).Sub(at).Len(); d > 1e-6 {
							t.Fatalf("%s: the %s moves by %g mm", move, pivot, d)
						}
					}
				}
			}
			// The second word begins a quarter of the time later.
			begins := map[string]float64{}
			for _, tr := range s.Motion.Tracks {
				if len(tr.Keys) > 1 {
					begins[tr.Of[:1]] = tr.Keys[0].Frame
				}
			}
			if d := begins["t"] - begins["h"]; math.Abs(d-10) > 1e-9 && move != "drop in" {
				t.Errorf("%s: the second word begins %g frames later", move, d)
			}
		}
	}
}

func idsOf(spots []Spot) (out []string) {
	for _, p := range spots {
		out = append(out, p.ID)
	}
	return out
}

// TestMovesAreGivenToOthers keeps a move that goes along a path and turns, with the camera, and gives it to the letters
// of another piece, twice as large and at another rate: each does the same, twice as far, one after the other, and the
// camera once; the document says the same.
func TestMovesAreGivenToOthers(t *testing.T) {
	m := recipe.Motion{Rate: 25, Reach: 50, Tracks: []recipe.Track{
		{Of: recipe.OfMover, What: "turn", Keys: []recipe.Key{{Ease: "even"}, {Frame: 20, Value: 90}}},
		{Of: recipe.OfMover, What: "up", Keys: []recipe.Key{{Ease: "even"}, {Frame: 50, Value: 8}}},
		{Of: recipe.OfMover, What: recipe.Along, Keys: []recipe.Key{{Ease: "even"}, {Frame: 50, Value: 1}}},
		{Of: recipe.OfCamera, What: "turn", Keys: []recipe.Key{{Value: 3}, {Frame: 50, Value: 9}}},
	}, Paths: []recipe.Path{{Of: recipe.OfMover, Points: []recipe.PathPoint{{At: [3]float64{0, 0, 7}}, {At: [3]float64{30, 0, 7}}}}}}
	doc, err := recipe.Move{Name: "Along", Motion: m}.Document()
	if err != nil {
		t.Fatal(err)
	}
	kept, err := recipe.OpenMove(doc)
	if err != nil || kept.Name != "Along" {
		t.Fatal(kept.Name, err)
	}
	spots := lettered("go")
	whole := unitOf(spots)
	large := whole.box.reach() / 50
	s := recipe.Scene{Motion: recipe.Motion{Rate: 50}}
	if err := Give(&s, spots, Act{Move: "Along", Kept: &kept.Motion, Parts: idsOf(spots), Order: "left to right", Delay: 10, From: 4}); err != nil {
		t.Fatal(err)
	}
	r := recipe.New()
	if r.Scene = s; r.Check() != nil || len(s.Motion.Paths) != 2 || len(s.Motion.Tracks) != 7 {
		t.Fatalf("%v: %+v", r.Check(), s.Motion)
	}
	for i, p := range spots {
		for _, share := range []float64{0, 0.3, 0.4, 1} {
			now := momentOf(&s.Motion, coursesOf(&s.Motion), 4+10*float64(i)+100*share)
			b := &box{p.Lo, p.Hi}
			pose := now.poseOf(p.ID, b)
			want := b.middle().Add(geom.Vec3{X: 30 * share, Y: 8 * share, Z: 7}.Times(large))
			if d := pose.At(b.middle()).Sub(want).Len(); d > 1e-9 {
				t.Errorf("%s at %g: %g mm off", p.ID, share, d)
			}
			sin, cos := math.Sincos(math.Pi / 2 * math.Min(1, share/0.4))
			if d := pose.Turned(geom.Vec3{X: 1}).Sub(geom.Vec3{X: cos, Z: -sin}).Len(); d > 1e-9 {
				t.Errorf("%s at %g is turned by %g too much", p.ID, share, d)
			}
		}
	}
	for _, bad := range []recipe.Move{{Motion: m}, {Name: "None"}, {Name: "Still", Motion: recipe.Motion{Paths: m.Paths}}} {
		if doc, err := bad.Document(); err == nil {
			t.Errorf("kept %s", doc)
		}
	}
}
