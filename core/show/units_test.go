package show

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
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
			out = append(out, Spot{fmt.Sprintf("%c%d.%d", c, n, i), geom.Vec3{X: x, Y: foot}, geom.Vec3{X: x + 6, Y: y + 10, Z: 4}})
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
		for _, pivot := range append([]string{""}, Pivots...) {
			s := recipe.Scene{}
			a := Act{Move: move, Parts: idsOf(spots), Frames: 40, Order: "left to right", Overlap: 0.75, Unit: "word", Pivot: pivot}
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
					now := momentOf(&s.Motion, frame)
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
					if at := u.pivot(pivot); pivot != "" && move != "drop in" && move != "bounce in" {
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
