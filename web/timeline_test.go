package web

import (
	"fmt"
	"math"
	"testing"
	"time"

	"bildhauer/core/recipe"
	"bildhauer/internal/patience"
)

// motionOf returns the motion of a piece as it is kept.
func (s *site) motionOf(id string) recipe.Motion { return s.recipe(id).Scene.Motion }

// keysOf lists the frames of a track.
func (s *site) keysOf(id, of, what string) string {
	for _, t := range s.motionOf(id).Tracks {
		if t.Of == of && t.What == what {
			out := ""
			for _, k := range t.Keys {
				out += fmt.Sprintf("%g:%g%s ", math.Round(k.Frame*100)/100, k.Value, k.Ease)
			}
			return out
		}
	}
	return ""
}

// TestATurntableInOneAct takes a ready move: it plays at once.
func TestATurntableInOneAct(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := showing(t, s, id)
	w.js("document.activeElement.blur()")
	w.key("m")
	w.click("[data-move=turntable]")
	w.wait("document.body.dataset.playing && Number(document.body.dataset.frame) > 2")
	if got := s.keysOf(id, "piece", "turn"); got != "0:0even 125:360 " {
		t.Errorf("keys %s", got)
	}
	w.wait("document.querySelector('[data-time=meets]').textContent === ''") // once round, the loop meets
	w.key(" ")
	w.wait("!document.body.dataset.playing")
	// Letter by letter: the parts, from left to right.
	w.key("m")
	w.pick("[data-scene=move-who]", "all")
	w.pick("[data-scene=move-order]", "left to right")
	w.set("move.delay", "0.4 s")
	w.set("move.from", "0")
	w.set("move.lasts", "2 s")
	w.click("[data-move='drop in']")
	w.undone("Move: drop in")
	w.wait("document.body.dataset.playing")
	if got := s.keysOf(id, "ca33333", "up"); got[:2] != "0:" {
		t.Errorf("the left part begins with %s", got)
	}
	if got := s.keysOf(id, "c336699", "up"); got[:3] != "10:" {
		t.Errorf("the other part begins with %s", got)
	}
	w.key(" ")
	w.wait("!document.body.dataset.playing")
	w.wait("document.querySelector('[data-time=meets]').textContent === ', jumps'")
	// All as one, about a corner: its parts share the pivot.
	w.key("m")
	w.pick("[data-scene=move-who]", "all")
	w.pick("[data-scene=move-unit]", "group")
	w.pick("[data-scene=move-pivot]", "lower left")
	w.set("move.from", "0")
	w.set("move.lasts", "2 s")
	w.click("[data-move='spring out']")
	w.undone("Move: spring out")
	w.wait("document.body.dataset.playing")
	for _, part := range []string{"ca33333", "c336699"} {
		if size, pivot := s.keysOf(id, part, "size"), s.keysOf(id, part, "pivot right"); size != "0:0spring 50:1 " || pivot == "" {
			t.Errorf("%s: size %q, pivot %q", part, size, pivot)
		}
	}
	w.key(" ")
	w.wait("!document.body.dataset.playing")
	w.key("z", ctrlKey)
	w.wait("document.getElementById('undo').title.startsWith('Undo: Move: drop in') && " + kept)
	// A ghost of the path of the part that is selected.
	w.js("[...document.querySelectorAll('.part')].find((p) => p.textContent.includes('Red')).click()")
	w.wait("document.querySelectorAll('.over .step').length > 20")
	w.key("z", ctrlKey)
	w.key("z", ctrlKey)
	w.wait("document.querySelectorAll('.peg').length === 0 && " + kept)
	if m := s.motionOf(id); m.Frames != 0 || len(m.Tracks) != 0 {
		t.Errorf("left of it: %+v", m)
	}
}

// TestKeysInTheTimeline drags, copies, stretches, eases and removes keys, by mouse and by
// key, and takes each act back.
func TestKeysInTheTimeline(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	s.change(id, "Motion", &recipe.SetScene{Motion: &recipe.Motion{Rate: 25, Frames: 100, Tracks: []recipe.Track{
		{Of: "piece", What: "turn", Keys: []recipe.Key{{Frame: 0, Value: 0, Ease: "even"}, {Frame: 50, Value: 90}}},
		{Of: "ca33333", What: "up", Keys: []recipe.Key{{Frame: 20, Value: 30}, {Frame: 60, Value: 0}}},
	}}})
	w := showing(t, s, id)
	w.wait("document.querySelectorAll('.peg').length === 4")
	before := s.document(id)
	peg := func(key string) [2]float64 {
		t.Helper()
		return w.place("document.querySelector(`[data-key='" + key + "']`).getBoundingClientRect()")
	}
	const turn50, up20, up60 = "piece|turn|50", "ca33333|up|20", "ca33333|up|60"
	frame := (peg(up60)[0] - peg(up20)[0]) / 40 // px
	drag := func(key string, frames float64) {
		at := peg(key)
		w.drag(at, [2]float64{at[0] + frames*frame, at[1]})
	}
	select2 := func() { // both keys of the second row
		w.click(".timename:nth-child(3) button")
		w.wait("document.querySelectorAll('.peg.picked').length === 2")
	}
	focus := func() { w.js("document.querySelector('.timerows').focus()") }
	for _, act := range []struct {
		name     string
		do       func()
		undo     string
		turn, up string // keys after it; "" for as before
	}{
		{"dragged", func() { drag(turn50, 10) }, "Move a key", "0:0even 60:90 ", ""},
		{"by key", func() {
			at := peg(turn50)
			w.drag(at, at)
			focus()
			w.key(arrowRight, 1) // Alt
		}, "Move a key", "0:0even 51:90 ", ""},
		{"two together", func() { select2(); drag(up20, 5) }, "Move 2 keys", "", "25:30 65:0 "},
		{"stretched", func() {
			select2()
			at := w.place("document.querySelector('[data-grip=to]').getBoundingClientRect()")
			w.drag(at, [2]float64{at[0] + 20*frame, at[1]})
		}, "Stretch 2 keys", "", "20:30 80:0 "},
		{"stretched by key", func() { select2(); focus(); w.key(arrowUp, 1) }, "Stretch 2 keys", "", "20:30 61:0 "},
		{"copied here", func() {
			select2()
			w.js("(f => { f.value = '30'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-time=frame]'))")
			w.click("[data-time=copy-here]")
		}, "Copy 2 keys", "", "20:30 30:30 60:0 70:0 "},
		{"eased", func() { select2(); w.pick("[data-key-field=ease]", "overshoot") }, "Easing of 2 keys", "", "20:30overshoot 60:0overshoot "},
		{"drawn", func() {
			select2()
			w.pick("[data-key-field=ease]", "drawn")
		}, "Easing of 2 keys", "", "20:30drawn 60:0drawn "},
		{"sprung", func() { select2(); w.pick("[data-key-field=ease]", "spring") }, "Easing of 2 keys", "", "20:30spring 60:0spring "},
		{"removed", func() { select2(); focus(); w.key(deleteKey) }, "Delete 2 keys", "", ""},
		{"a value", func() {
			at := peg(turn50)
			w.drag(at, at)
			w.js("(f => { f.value = '180'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-key-field=value]'))")
		}, "Key of Piece", "0:0even 50:180 ", ""},
		{"a new one", func() {
			w.js("document.querySelector('[data-time=thing]').value = 'camera', document.querySelector('[data-time=thing]').dispatchEvent(new Event('change'))")
			w.pick("[data-time=what]", "height")
			w.click("[data-time=set-key]")
		}, "Key of Camera", "", ""},
		{"another rate", func() { w.pick("[data-time=rate]", "50") }, "Frame rate", "0:0even 100:90 ", "40:30 120:0 "},
		{"longer", func() {
			w.js("(f => { f.value = '8'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-time=seconds]'))")
		}, "Duration", "", ""},
		{"longer, together", func() {
			w.js("document.querySelector('[data-time=along]').checked = true")
			w.js("(f => { f.value = '8 s'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-time=seconds]'))")
		}, "Duration", "0:0even 100:90 ", "40:30 120:0 "},
		{"a row", func() { w.click(".timename:nth-child(3) .dropkept") }, "Delete Red Y", "", ""},
	} {
		act.do()
		w.undone(act.undo)
		turn, up := s.keysOf(id, "piece", "turn"), s.keysOf(id, "ca33333", "up")
		if act.turn != "" && turn != act.turn || act.turn == "" && turn != "0:0even 50:90 " {
			t.Errorf("%s: turn %s", act.name, turn)
		}
		gone := act.name == "removed" || act.name == "a row"
		want := map[bool]string{true: "20:30 60:0 ", false: act.up}[act.up == ""]
		if gone {
			want = ""
		}
		if up != want {
			t.Errorf("%s: up %s, want %s", act.name, up, want)
		}
		w.js("document.activeElement.blur()")
		w.takenBack(s, id, act.undo, before)
		w.wait("document.querySelectorAll('.peg').length === 4")
		w.js("document.querySelector('.timerows').dispatchEvent(new KeyboardEvent('keydown', {key: 'Escape', bubbles: true}))")
	}
	// The handles of a drawn way by key.
	select2()
	w.pick("[data-key-field=ease]", "drawn")
	w.undone("Easing of 2 keys")
	w.js("document.querySelector('[data-handle=\"0\"]').focus()")
	w.key(arrowUp)
	w.wait("document.activeElement.dataset.handle === '0' && " + kept)
	curve := func() [4]float64 { return s.motionOf(id).Tracks[1].Keys[0].Curve }
	for end := time.Now().Add(patience.Of(t)); curve() != [4]float64{0.3, 0.05, 0.3, 1}; time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("the way is drawn %v", curve())
		}
	}
	w.js("document.activeElement.blur()")
	w.key("z", ctrlKey)
	w.wait("document.getElementById('undo').title.startsWith('Undo: Easing of 2 keys') && " + kept)
	w.key("z", ctrlKey)
	w.wait("!document.getElementById('undo').title.startsWith('Undo: Easing of 2 keys') && " + kept)
	w.js("document.querySelector('.timerows').dispatchEvent(new KeyboardEvent('keydown', {key: 'Escape', bubbles: true}))")
	// How a spring swings is typed.
	select2()
	w.pick("[data-key-field=ease]", "spring")
	w.undone("Easing of 2 keys")
	w.js("(f => { f.value = '5'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-key-field=swings]'))")
	w.wait("document.getElementById('undo').title.startsWith('Undo: Easing of 2 keys') && " + kept)
	for end := time.Now().Add(patience.Of(t)); s.motionOf(id).Tracks[1].Keys[0].Spring != [2]float64{5, 6}; time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatalf("the spring is %v", s.motionOf(id).Tracks[1].Keys[0].Spring)
		}
	}
	w.js("document.activeElement.blur()")
	w.key("z", ctrlKey)
	w.wait("document.querySelector('[data-key-field=swings]').value === '3' && " + kept)
	w.key("z", ctrlKey)
	w.wait("!document.getElementById('undo').title.startsWith('Undo: Easing of 2 keys') && " + kept)
	w.js("document.querySelector('.timerows').dispatchEvent(new KeyboardEvent('keydown', {key: 'Escape', bubbles: true}))")
	// A frame around all keys selects them; the span can be pulled at its end.
	rows := w.place("document.querySelector('.timerows').getBoundingClientRect()")
	left := peg("piece|turn|0")
	w.drag([2]float64{left[0] - 8, left[1] - 6}, [2]float64{left[0] + 90*frame, rows[1] + 34})
	w.wait("document.querySelectorAll('.peg.picked').length === 4")
	// Steps by key, and the ends of the clip.
	focus()
	w.key(arrowRight)
	w.wait("document.body.dataset.frame === '31'")
	w.js("document.querySelector('.timerows').dispatchEvent(new KeyboardEvent('keydown', {key: 'End', bubbles: true}))")
	w.wait("document.body.dataset.frame === '99'")
	// A clip of no time is refused.
	w.js("(f => { f.value = '0'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-time=seconds]'))")
	w.wait("document.getElementById('messages').textContent.includes('at least one frame')")
	if s.document(id) != before {
		t.Error("it changed the piece all the same")
	}
}
