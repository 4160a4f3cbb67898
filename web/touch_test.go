package web

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
)

// touch puts fingers on the page: each list of places is where they are next; then all are lifted.
func (w *tab) touch(steps ...[][2]float64) {
	w.t.Helper()
	send := func(kind input.DispatchTouchEventType, at [][2]float64) {
		points := []*input.TouchPoint{}
		for i, p := range at {
			id := float64(i)
			points = append(points, &input.TouchPoint{X: p[0], Y: p[1], ID: &id})
		}
		if _, err := chromedp.Call(w.ctx, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: kind, TouchPoints: points}); err != nil {
			w.t.Fatal(err)
		}
	}
	fingers := 0
	for _, at := range steps {
		kind := input.DispatchTouchEventTypeTouchMove
		if len(at) > fingers {
			kind = input.DispatchTouchEventTypeTouchStart
		}
		fingers = len(at)
		send(kind, at)
	}
	send(input.DispatchTouchEventTypeTouchEnd, nil)
}

// byFingers makes the page one that is worked at with fingers.
func (w *tab) byFingers() {
	w.t.Helper()
	_, err := chromedp.Call(w.ctx, emulation.SetTouchEmulationEnabled, emulation.SetTouchEmulationEnabledParams{Enabled: true, MaxTouchPoints: 5})
	if err != nil {
		w.t.Fatal(err)
	}
	w.reload()
	if got := w.text("matchMedia('(pointer: coarse)').matches"); got != "true" {
		w.t.Fatal("the browser doesn't say that fingers point")
	}
}

// TestByFingers turns, slides and nears views, and drags a grip and a key, by fingers.
func TestByFingers(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := open(t, s.address+"/pieces/"+id+"/size")
	w.showsStep("size")
	w.byFingers()
	w.showsStep("size")
	// Two fingers go twice as far apart about a place of the drawing: it is half as wide, and the place stays.
	seen := func() (v [4]float64) {
		text := w.text("document.querySelector('svg.sheet').getAttribute('viewBox')")
		fmt.Sscan(text, &v[0], &v[1], &v[2], &v[3])
		return v
	}
	at := w.place("document.querySelector('svg.sheet').getBoundingClientRect()")
	before := seen()
	w.touch([][2]float64{{at[0] - 30, at[1]}}, [][2]float64{{at[0] - 30, at[1]}, {at[0] + 30, at[1]}},
		[][2]float64{{at[0] - 45, at[1]}, {at[0] + 45, at[1]}}, [][2]float64{{at[0] - 60, at[1]}, {at[0] + 60, at[1]}})
	after := seen()
	if math.Abs(after[2]-before[2]/2) > before[2]*0.01 {
		t.Errorf("pinched, the drawing is %v, it was %v", after, before)
	}
	for k := range 2 {
		if was, is := before[k]+before[k+2]/2, after[k]+after[k+2]/2; math.Abs(was-is) > before[2]*0.01 {
			t.Errorf("the middle went from %g to %g", was, is)
		}
	}
	// One finger slides it, by as much as it goes.
	w.touch([][2]float64{at}, [][2]float64{{at[0] + 10, at[1]}}, [][2]float64{{at[0] + 50, at[1]}})
	if by := seen()[0] - after[0]; by >= 0 {
		t.Errorf("slid to the right, the drawing went by %g", by)
	}

	w.js("document.querySelector('[data-step=raise]').click()")
	w.showsStep("raise")
	w.wait(settled)
	stand := "document.querySelector('.view canvas')"
	w.wait(stand + ".getAttribute('aria-label').startsWith('Plate: 2 parts, 100 by 50 by 8 mm, watertight. Turned by 32°')")
	at = w.place(stand + ".getBoundingClientRect()")
	w.touch([][2]float64{at}, [][2]float64{{at[0] + 20, at[1]}}, [][2]float64{{at[0] + 120, at[1]}})
	w.wait(stand + ".getAttribute('aria-label').includes('Turned by -')")
	rev := s.revision(id)
	grip := w.place("document.querySelector('[data-grip=depth]').getBoundingClientRect()")
	grip[0] += 14 // a finger comes down beside it
	w.touch([][2]float64{grip}, [][2]float64{{grip[0], grip[1] + 10}}, [][2]float64{{grip[0], grip[1] + 30}})
	w.undone("Depth")
	if now := s.revision(id); now != rev+1 {
		t.Errorf("a grip that is dragged by a finger is %d steps", now-rev)
	}
}

// TestFingersFindTheirTargets measures what can be pressed on each step: 40 px at least, where a finger points.
func TestFingersFindTheirTargets(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	w.byFingers()
	w.wait(settled)
	for i, step := range []string{"intake", "mend", "size", "raise", "show", "release"} {
		w.key(fmt.Sprint(i + 1))
		if step == "intake" {
			w.wait("document.querySelectorAll('.treerow').length > 0")
		} else {
			w.showsStep(step)
		}
		w.wait("document.getElementById('saved').textContent === 'Saved' && document.querySelector('#panel button')")
		raw := w.text(`JSON.stringify([...document.querySelectorAll('button, select, summary, a[href], input:not([type=checkbox], [type=radio])')]
			.filter(e => e.checkVisibility({visibilityProperty: true, opacityProperty: true}) && !e.closest('dialog, #messages, .vh'))
			.map(e => [e, e.getBoundingClientRect()])
			.filter(([e, r]) => r.width > 1 && r.height > 1 && (r.height < 39.5 || r.width < 39.5))
			.map(([e, r]) => e.outerHTML.slice(0, 90) + ' is ' + r.width.toFixed() + ' by ' + r.height.toFixed()))`)
		var small []string
		if err := json.Unmarshal([]byte(raw), &small); err != nil {
			t.Fatal(err)
		}
		if len(small) > 0 {
			t.Errorf("%s: %d targets are too small:\n%s", step, len(small), strings.Join(small, "\n"))
		}
	}
}

// givenUp drags something, presses Escape and lets go: what it shows changes on the way and is as before at
// last, and no step is made.
func (w *tab) givenUp(s *site, id, what string, at, by [2]float64, shows string) {
	w.t.Helper()
	rev, was := s.revision(id), w.text(shows)
	move := func(share float64) chromedp.Action[chromedp.Void] {
		return chromedp.MouseEvent("mouseMoved", at[0]+by[0]*share, at[1]+by[1]*share, chromedp.Button("left"))
	}
	w.do(chromedp.MouseEvent("mousePressed", at[0], at[1], chromedp.Button("left")), move(0.5), move(1))
	w.wait(shows + " !== " + strconv.Quote(was))
	w.key(escapeKey)
	w.wait(shows + " === " + strconv.Quote(was))
	w.do(chromedp.MouseEvent("mouseReleased", at[0]+by[0], at[1]+by[1], chromedp.Button("left")))
	w.wait("document.getElementById('saved').textContent === 'Saved'")
	if now := s.revision(id); now != rev {
		w.t.Errorf("%s: given up, it is %d steps", what, now-rev)
	}
}

// TestADragIsGivenUp presses Escape while a grip or a shape is dragged; what Escape does otherwise is not done.
func TestADragIsGivenUp(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	w.givenUp(s, id, "a grip", w.place("document.querySelector('[data-grip=depth]').getBoundingClientRect()"), [2]float64{0, 40},
		"document.querySelector('.cutview .body').getAttribute('d')")
	w.key("2")
	w.showsStep("mend")
	w.key("s")
	middle := w.place("document.querySelector('svg.sheet').getBoundingClientRect()")
	w.drag(middle, middle)
	w.wait("document.querySelectorAll('svg.sheet .chosen path').length === 1")
	w.givenUp(s, id, "a shape", middle, [2]float64{60, 20},
		"String(document.querySelector('svg.sheet .chosen').getAttribute('transform'))")
	if got := w.text("document.querySelectorAll('svg.sheet .chosen path').length"); got != "1" {
		t.Errorf("Escape that gave up a drag took the selection, too: %s", got)
	}
}

// TestADragInTheSceneIsGivenUp does so with the camera, a lamp and a key.
func TestADragInTheSceneIsGivenUp(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	s.change(id, "Motion", &recipe.SetScene{Motion: &recipe.Motion{Rate: 25, Frames: 100, Tracks: []recipe.Track{
		{Of: "piece", What: "turn", Keys: []recipe.Key{{Frame: 10, Value: 0}, {Frame: 50, Value: 90}}},
	}}})
	w := showing(t, s, id)
	w.choose("What is shown beside", "light")
	w.wait("document.querySelector('[data-plan=Key]') && document.querySelectorAll('.peg').length === 2")
	place := func(selector string) [2]float64 {
		return w.place("document.querySelector(`" + selector + "`).getBoundingClientRect()")
	}
	on := func(selector, attribute string) string {
		return "document.querySelector(`" + selector + "`).getAttribute('" + attribute + "')"
	}
	w.givenUp(s, id, "the camera", place(".showframe canvas"), [2]float64{60, 0}, on("[data-plan=camera]", "transform"))
	w.givenUp(s, id, "a lamp", place("[data-plan=Key]"), [2]float64{20, 10}, on("[data-plan=Key]", "transform"))
	key := `[data-key='piece|turn|50']`
	w.givenUp(s, id, "a key", place(key), [2]float64{40, 0}, on(key, "d"))
}
