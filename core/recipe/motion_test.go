package recipe

import (
	"fmt"
	"slices"
	"strings"
	"testing"
)

// clip is a motion with two tracks over five seconds.
func clip() Recipe {
	r := New()
	r.Scene.Motion = Motion{Rate: 25, Frames: 125, Tracks: []Track{
		{Of: OfPiece, What: "turn", Keys: []Key{{Frame: 0, Ease: "even"}, {Frame: 50, Value: 90}, {Frame: 125, Value: 360}}},
		{Of: "p1", What: "up", Keys: []Key{{Frame: 10, Value: -40, Ease: "soft out"}, {Frame: 30}}},
	}}
	return r
}

// times lists the frames of a track's keys.
func times(r *Recipe, of, what string) string {
	var out []string
	if t := r.Scene.Motion.track(of, what); t != nil {
		for _, k := range t.Keys {
			out = append(out, fmt.Sprintf("%g:%g%s", k.Frame, k.Value, k.Ease))
		}
	}
	return strings.Join(out, " ")
}

// TestKeysAreMovedAndStretched makes one edit of the time at a time and reads all keys.
func TestKeysAreMovedAndStretched(t *testing.T) {
	all := []KeyAt{{Of: OfPiece, What: "turn"}, {Of: "p1", What: "up"}}
	one := []KeyAt{{OfPiece, "turn", []float64{50}}}
	const turn, up = "0:0even 50:90 125:360", "10:-40soft out 30:0"
	for name, c := range map[string]struct {
		edit     Edit
		turn, up string
		frames   int
	}{
		"one key moved":    {&MoveKeys{Keys: one, By: 10}, "0:0even 60:90 125:360", up, 125},
		"copied":           {&MoveKeys{Keys: one, By: 10, Copy: true}, "0:0even 50:90 60:90 125:360", up, 125},
		"onto another":     {&MoveKeys{Keys: one, By: 75}, "0:0even 125:90", up, 125},
		"past another":     {&MoveKeys{Keys: one, By: 100}, "0:0even 125:360 150:90", up, 125},
		"several together": {&MoveKeys{Keys: all, By: 5}, "5:0even 55:90 130:360", "15:-40soft out 35:0", 125},
		"a span stretched": {&MoveKeys{Keys: all[1:], About: 10, Times: 2}, turn, "10:-40soft out 50:0", 125},
		"dropped":          {&DropKeys{Keys: one}, "0:0even 125:360", up, 125},
		"a whole track":    {&DropKeys{Keys: all[1:]}, turn, "", 125},
		"eased":            {&EaseKeys{Keys: one, Ease: "hold"}, "0:0even 50:90hold 125:360", up, 125},
		"a key added":      {&SetKey{Of: "p1", What: "up", Key: Key{Frame: 20, Value: 7}}, turn, "10:-40soft out 20:7 30:0", 125},
		"a key changed":    {&SetKey{Of: "p1", What: "up", Key: Key{Frame: 30, Value: 7}}, turn, "10:-40soft out 30:7", 125},
		"another rate":     {&Retime{Rate: 50}, "0:0even 100:90 250:360", "20:-40soft out 60:0", 250},
		"longer":           {&Retime{Frames: 250}, turn, up, 250},
		"longer, together": {&Retime{Frames: 250, Stretch: true}, "0:0even 100:90 250:360", "20:-40soft out 60:0", 250},
	} {
		r, err := Change{Edits: []Edit{c.edit}}.Apply(clip(), nil)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if got := times(&r, OfPiece, "turn"); got != c.turn {
			t.Errorf("%s: turn %s, want %s", name, got, c.turn)
		}
		if got := times(&r, "p1", "up"); got != c.up {
			t.Errorf("%s: up %s, want %s", name, got, c.up)
		}
		if r.Scene.Motion.Frames != c.frames {
			t.Errorf("%s: %d frames", name, r.Scene.Motion.Frames)
		}
	}
	before := clip()
	for want, e := range map[string]Edit{
		"no key at frame 51 any more":   &MoveKeys{Keys: []KeyAt{{OfPiece, "turn", []float64{51}}}, By: 1},
		"does not move any more":        &DropKeys{Keys: []KeyAt{{"p9", "up", nil}}},
		"before the first frame":        &MoveKeys{Keys: all, By: -1},
		"a factor above 0":              &MoveKeys{Keys: all, Times: -1},
		"at least one frame":            &Retime{Frames: -3},
		"frames a second":               &Retime{Rate: 17},
		"The easing can be":             &EaseKeys{Keys: one, Ease: "wobble"},
		"The number of swings must":     &EaseKeys{Keys: one, Ease: "spring", Spring: [2]float64{99, 3}},
		"The height of a drawn curve's": &EaseKeys{Keys: one, Ease: "drawn", Curve: [4]float64{0.2, 30, 0.8, 1}},
		"key 1 of a colour has none":    &SetKey{Of: "p1", What: "colour", Key: Key{}},
		"nothing called \"sideways\"":   &SetKey{Of: "p1", What: "sideways", Key: Key{}},
		"a colour is written #rrggbb":   &SetKey{Of: "p1", What: "colour", Key: Key{Color: "red"}},
		"The frame must be between":     &SetKey{Of: "p1", What: "up", Key: Key{Frame: 1e9}},
		"The share must be between":     &EaseKeys{Keys: one, Ease: "drawn", Curve: [4]float64{-0.2, 0, 0.8, 1}},
		"kept under a name that no":     &SetScene{Cameras: &[]Camera{{Name: "Low"}, {Name: "Low"}}},
		"a material is kept under a n":  &SetScene{Own: &[]Material{{Rough: 0.5}}},
	} {
		r := clip()
		_, err := Change{Edits: []Edit{e}}.Apply(r, nil)
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", want, err)
		}
		if !slices.EqualFunc(r.Scene.Motion.Tracks, before.Scene.Motion.Tracks, func(a, b Track) bool {
			return slices.Equal(a.Keys, b.Keys)
		}) {
			t.Errorf("%q: a refused edit changed the recipe", want)
		}
	}
}
