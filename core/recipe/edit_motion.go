package recipe

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/artwork"
)

// KeyAt names keys: of a track, by their frames; no frames for all.
type KeyAt struct {
	Of     string    `json:"of"`
	What   string    `json:"what"`
	Frames []float64 `json:"frames"`
}

// same is how far two frames are apart that are one.
const same = 1e-6

func near(a, b float64) bool { return math.Abs(a-b) < same }

func (m *Motion) track(of, what string) *Track {
	for i := range m.Tracks {
		if t := &m.Tracks[i]; t.Of == of && t.What == what {
			return t
		}
	}
	return nil
}

// take removes the keys that are named from their tracks and returns them; it fails if
// one is not there any more.
func (m *Motion) take(keys []KeyAt) ([]Track, error) {
	var out []Track
	for _, k := range keys {
		t := m.track(k.Of, k.What)
		if t == nil {
			return nil, errors.New("what these keys belong to does not move any more")
		}
		one := Track{Of: k.Of, What: k.What, Into: t.Into}
		if len(k.Frames) == 0 {
			one.Keys, t.Keys = t.Keys, nil
		}
		for _, f := range k.Frames {
			i := slices.IndexFunc(t.Keys, func(k Key) bool { return near(k.Frame, f) })
			if i < 0 {
				return nil, fmt.Errorf("there is no key at frame %g any more", f)
			}
			one.Keys = append(one.Keys, t.Keys[i])
			t.Keys = slices.Delete(slices.Clone(t.Keys), i, i+1)
		}
		out = append(out, one)
	}
	return out, nil
}

// put adds keys; one at the frame of another replaces it. Tracks without keys go.
func (m *Motion) put(list []Track) {
	for _, add := range list {
		if m.track(add.Of, add.What) == nil {
			m.Tracks = append(m.Tracks, Track{Of: add.Of, What: add.What})
		}
		t := m.track(add.Of, add.What)
		if add.Into != "" {
			t.Into = add.Into
		}
		for _, k := range add.Keys {
			t.Keys = slices.DeleteFunc(slices.Clone(t.Keys), func(o Key) bool { return near(o.Frame, k.Frame) })
			t.Keys = append(t.Keys, k)
		}
		slices.SortStableFunc(t.Keys, func(a, b Key) int {
			if a.Frame < b.Frame {
				return -1
			}
			return 1
		})
	}
	m.Tracks = slices.DeleteFunc(m.Tracks, func(t Track) bool { return len(t.Keys) == 0 })
}

// SetKey adds a key to what moves, or changes the one at its frame.
type SetKey struct {
	Of   string `json:"of"`
	What string `json:"what"`
	Key  Key    `json:"key"`
	Into string `json:"into"` // of Becoming: the part that it turns into; "" for that of before
}

// Apply is part of Edit.
func (e *SetKey) Apply(r *Recipe, _ *artwork.Sheet) error {
	r.Scene.Motion.put([]Track{{Of: e.Of, What: e.What, Into: e.Into, Keys: []Key{e.Key}}})
	return nil
}

// MoveKeys moves keys together by so many frames, or stretches the time between them and
// About by a factor; with Copy the old ones stay.
type MoveKeys struct {
	Keys  []KeyAt `json:"keys"`
	By    float64 `json:"by"`
	About float64 `json:"about"`
	Times float64 `json:"times"` // 0 for 1
	Copy  bool    `json:"copy"`
}

// Apply is part of Edit.
func (e *MoveKeys) Apply(r *Recipe, _ *artwork.Sheet) error {
	m := &r.Scene.Motion
	before := m.clone()
	taken, err := m.take(e.Keys)
	if err != nil {
		return err
	}
	if e.Copy {
		*m = before
	}
	times := e.Times
	if times == 0 {
		times = 1
	}
	if !(times > 0) {
		return errors.New("a span is stretched by a factor above 0")
	}
	for i := range taken {
		taken[i].Keys = slices.Clone(taken[i].Keys)
		for k := range taken[i].Keys {
			key := &taken[i].Keys[k]
			key.Frame = e.About + (key.Frame-e.About)*times + e.By
			if key.Frame < 0 {
				return errors.New("a key can't be before the first frame")
			}
		}
	}
	m.put(taken)
	return nil
}

// EaseKeys tells how keys lead to the next ones.
type EaseKeys struct {
	Keys  []KeyAt    `json:"keys"`
	Ease  string     `json:"ease"`
	Curve [4]float64 `json:"curve"` // of a drawn way
	// Spring is that of a key, of a spring.
	Spring [2]float64 `json:"spring"`
}

// Apply is part of Edit.
func (e *EaseKeys) Apply(r *Recipe, _ *artwork.Sheet) error {
	m := &r.Scene.Motion
	taken, err := m.take(e.Keys)
	if err != nil {
		return err
	}
	for i := range taken {
		taken[i].Keys = slices.Clone(taken[i].Keys)
		for k := range taken[i].Keys {
			one := &taken[i].Keys[k]
			one.Ease, one.Curve, one.Spring = e.Ease, e.Curve, e.Spring
		}
	}
	m.put(taken)
	return nil
}

// DropKeys removes keys.
type DropKeys struct {
	Keys []KeyAt `json:"keys"`
}

// Apply is part of Edit.
func (e *DropKeys) Apply(r *Recipe, _ *artwork.Sheet) error {
	_, err := r.Scene.Motion.take(e.Keys)
	r.Scene.Motion.put(nil)
	return err
}

// Retime changes the whole: another rate keeps the seconds of all keys, another number of
// frames keeps the keys where they are or, with Stretch, stretches them along.
type Retime struct {
	Rate    int  `json:"rate"`   // 0: stays
	Frames  int  `json:"frames"` // 0: stays, or as the rate asks for
	Stretch bool `json:"stretch"`
}

// Apply is part of Edit.
func (e *Retime) Apply(r *Recipe, _ *artwork.Sheet) error {
	m := &r.Scene.Motion
	if e.Rate != 0 {
		k := float64(e.Rate) / float64(m.PerSecond())
		m.scale(k)
		m.Frames = int(math.Round(float64(m.Frames) * k))
		m.Rate = e.Rate
	}
	if e.Frames < 0 {
		return errors.New("a clip has at least one frame")
	}
	if e.Frames > 0 {
		if e.Stretch && m.Frames > 0 {
			m.scale(float64(e.Frames) / float64(m.Frames))
		}
		m.Frames = e.Frames
	}
	return nil
}

// scale stretches the time of all keys.
func (m *Motion) scale(k float64) {
	for i := range m.Tracks {
		for j := range m.Tracks[i].Keys {
			m.Tracks[i].Keys[j].Frame *= k
		}
	}
}
