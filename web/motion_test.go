package web

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"testing"

	"bildhauer/core/recipe"
)

const pathIsOpen = "document.querySelector('.pathbox')"

// pathOf returns the path of something, as it is kept.
func (s *site) pathOf(id, of string) recipe.Path {
	m := s.motionOf(id)
	if p := m.PathOf(of); p != nil {
		return *p
	}
	return recipe.Path{}
}

// TestAPathIsDrawn gives a part a path by key and works at it in the view, on the plan, in the fields and by keys: each
// act changes what it should and is taken back to the byte. What the page draws is where the part goes.
func TestAPathIsDrawn(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := showing(t, s, id)
	const of = "ca33333"
	none := s.document(id)
	w.pick("[data-time=thing]", of)
	w.js("document.activeElement.blur()")
	w.key("w")
	w.wait(pathIsOpen)
	w.undone("Path of Red")
	first := s.pathOf(id, of)
	if len(first.Points) != 3 || first.Points[2].At != [3]float64{} || s.keysOf(id, of, "along") == "" {
		t.Fatalf("it begins as %+v, keys %s", first, s.keysOf(id, of, "along"))
	}
	drawn := "document.body.dataset.shown === 'live' && document.querySelectorAll('.over [data-path-point]').length > 2"
	w.wait(drawn)
	// The server says where the part is at each frame; the page draws a line.
	var live struct {
		Bodies []string
		Frames []struct{ Poses [][13]float64 }
	}
	if err := json.Unmarshal(s.get("/pieces/"+id+"/data/live?from=0&to=124"), &live); err != nil {
		t.Fatal(err)
	}
	raw, _ := json.Marshal(first)
	w.js("import('/static/js/show/paths.js').then((m) => m.line(" + string(raw) + ").map((p) => p.at))" +
		".then((line) => { document.body.dataset.line = JSON.stringify(line); })")
	w.wait("document.body.dataset.line")
	var line [][3]float64
	if err := json.Unmarshal([]byte(w.text("document.body.dataset.line")), &line); err != nil {
		t.Fatal(err)
	}
	for n, f := range live.Frames {
		for i, b := range live.Bodies {
			if b != of {
				continue
			}
			best := math.Inf(1)
			for k := range line[1:] {
				best = math.Min(best, apartFrom([3]float64{f.Poses[i][3], f.Poses[i][7], f.Poses[i][11]}, line[k], line[k+1]))
			}
			if best > 0.05 {
				t.Fatalf("frame %d: the part is %g mm off the line", n, best)
			}
		}
	}
	at := func(selector string) [2]float64 {
		t.Helper()
		w.wait("document.querySelector(`" + selector + "`)")
		return w.place("document.querySelector(`" + selector + "`).getBoundingClientRect()")
	}
	by := func(selector string, dx, dy float64) func() {
		return func() {
			t.Helper()
			p := at(selector)
			w.drag(p, [2]float64{p[0] + dx, p[1] + dy})
		}
	}
	keyed := func(point int, keys ...string) func() {
		return func() {
			w.js(fmt.Sprintf("document.querySelector('[data-plan=\"point %d\"]').focus()", point))
			for _, k := range keys {
				w.key(k)
			}
		}
	}
	chosen := func(point int, then func()) func() {
		return func() {
			keyed(point, " ")()
			w.wait(fmt.Sprintf("document.querySelector('.plan [data-plan=\"point %d\"].picked')", point))
			then()
		}
	}
	s.change(id, "Longer", &recipe.Retime{Frames: 150}) // so that what is taken back has another name than what is left
	w.undone("Longer")
	before := s.document(id)
	was := first.Points
	for _, act := range []struct {
		name  string
		do    func()
		moved func(p recipe.Path) bool
	}{
		{"a point in the view", by(".over [data-path-point='1']", 30, -20), func(p recipe.Path) bool {
			return p.Points[1].At[0] > was[1].At[0]+2 && p.Points[1].At[1] > was[1].At[1]+2
		}},
		{"a point on the plan", by(".plan [data-path-point='1']", 0, 12), func(p recipe.Path) bool {
			return p.Points[1].At[2] > was[1].At[2]+2 && p.Points[1].At[1] == was[1].At[1]
		}},
		{"a point by keys", keyed(1, pageUp), func(p recipe.Path) bool {
			return p.Points[1].At[1] > was[1].At[1] && p.Points[1].At[0] == was[1].At[0]
		}},
		{"a point to the left by key", keyed(2, arrowLeft), func(p recipe.Path) bool { return p.Points[2].At[0] < 0 }},
		{"a handle in the view", chosen(1, by(".over [data-path-handle='1']", 0, 30)), func(p recipe.Path) bool {
			return p.Points[1].Lead != [3]float64{} && p.Points[1].At == was[1].At
		}},
		{"a point added by key", keyed(0, enterKey), func(p recipe.Path) bool {
			return len(p.Points) == 4 && p.Points[2].At == was[1].At && p.Points[1].At[0] > was[0].At[0]
		}},
		{"one added after the last", chosen(2, func() { w.click("[data-path=add]") }), func(p recipe.Path) bool {
			return len(p.Points) == 4 && p.Points[3].At[0] > 0
		}},
		{"a click on the line", func() {
			a, b := at(".plan [data-path-point='0']"), at(".plan [data-path-point='1']")
			mid := [2]float64{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2}
			w.drag(mid, mid)
		}, func(p recipe.Path) bool { return len(p.Points) == 4 && p.Points[2].At == was[1].At }},
		{"a point removed by key", keyed(1, deleteKey), func(p recipe.Path) bool { return len(p.Points) == 2 && p.Points[1].At == was[2].At }},
		{"a field", chosen(1, func() { w.set("path.up", "90 mm") }), func(p recipe.Path) bool { return p.Points[1].At[1] == 90 }},
		{"a corner", chosen(1, func() { w.click("[data-path=corner]") }), func(p recipe.Path) bool { return p.Points[1].Corner }},
		{"closed", func() { w.click("[data-path=closed]") }, func(p recipe.Path) bool {
			w.wait("document.querySelector('[data-time=meets]').textContent === ''") // its end is its start
			return p.Closed
		}},
		{"not as fast everywhere", func() { w.click("[data-path=even]") }, func(p recipe.Path) bool { return !p.Even }},
		{"turning with the way", func() { w.click("[data-path=faces]") }, func(p recipe.Path) bool { return p.Faces }},
	} {
		w.wait(drawn)
		act.do()
		w.undone("Path of Red")
		w.wait("document.getElementById('saved').textContent === 'Saved'")
		if p := s.pathOf(id, of); !act.moved(p) {
			t.Errorf("%s: %+v", act.name, p)
		}
		w.takenBack(s, id, "Path of Red", before)
		w.wait(drawn)
	}
	w.js("document.activeElement.blur()")
	w.key(escapeKey)
	w.wait("!" + pathIsOpen + " && !document.querySelector('.over [data-path-point]')")
	w.key("w")
	w.wait(pathIsOpen)
	w.click("[data-path=drop-path]")
	w.undone("Delete the path of Red")
	if m := s.motionOf(id); len(m.Paths)+len(m.Tracks) != 0 {
		t.Errorf("left: %+v", m)
	}
	w.takenBack(s, id, "Delete the path of Red", before)
	w.key("z", ctrlKey)
	w.undone("Path of Red")
	w.takenBack(s, id, "Path of Red", none)
	// The camera's begins around where it is; the lamp's goes to the other side.
	for _, c := range []struct{ of, name string }{{"camera", "Camera"}, {"Key", "Lamp Key"}} {
		w.wait("document.body.dataset.shown === 'live' && document.getElementById('busy').hidden && " + kept)
		w.pick("[data-time=thing]", c.of)
		w.click("[data-time=path]")
		w.undone("Path of " + c.name)
		w.wait("document.querySelector('.pathbox h2')?.textContent === 'Path of " + c.name + "'")
		if p := s.pathOf(id, c.of); len(p.Points) != 3 {
			t.Errorf("%s: %+v", c.of, p)
		}
	}
}

// apartFrom returns the distance of a place from a piece of a line.
func apartFrom(p, a, b [3]float64) float64 {
	dot, long := 0.0, 0.0
	for k := range p {
		dot += (p[k] - a[k]) * (b[k] - a[k])
		long += (b[k] - a[k]) * (b[k] - a[k])
	}
	s := math.Max(0, math.Min(1, dot/math.Max(long, 1e-12)))
	sum := 0.0
	for k := range p {
		d := a[k] + s*(b[k]-a[k]) - p[k]
		sum += d * d
	}
	return math.Sqrt(sum)
}

// TestMovesAreKept keeps the keys of a part by a name and gives them to another piece, forgets the move and takes that
// back, and picks the point that things turn about in the view.
func TestMovesAreKept(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	s.change(id, "Motion", &recipe.SetScene{Motion: &recipe.Motion{Frames: 50, Tracks: []recipe.Track{
		{Of: "ca33333", What: "up", Keys: []recipe.Key{{Frame: 10, Value: 40, Ease: "bounce"}, {Frame: 30}}},
		{Of: "c336699", What: "turn", Keys: []recipe.Key{{Frame: 5, Value: 40}}},
	}}})
	w := showing(t, s, id)
	w.click(".timename:nth-child(2) button")
	w.key("m")
	w.set("move.from", "0")
	w.js(`document.querySelector('[data-move=name]').value = 'Gull falls'`)
	w.click("[data-move=keep]")
	w.wait("document.querySelector('[data-kept-move=\"Gull falls\"]')")
	if doc := string(s.get("/moves/file/Gull%20falls")); !strings.Contains(doc, `"bounce"`) || strings.Contains(doc, "336699") {
		t.Errorf("it is kept as %s", doc)
	}
	other := s.made("other.svg", disc)
	w = showing(t, s, other)
	before := s.document(other)
	w.js("document.activeElement.blur()")
	w.key("m")
	w.wait("document.querySelector('[data-kept-move=\"Gull falls\"]')")
	w.pick("[data-scene=move-who]", "all")
	w.pick("[data-scene=move-order]", "left to right")
	w.pick("[data-scene=move-pivot]", "point")
	w.set("move.delay", "0.4 s")
	w.click("[data-move-pick=markRight]")
	w.wait("document.querySelector('.picknote')")
	w.key(escapeKey)
	w.wait("!document.querySelector('.picknote') && document.querySelector('dialog[open]')")
	w.click("[data-move-pick=markRight]")
	w.wait("document.querySelector('.picknote')")
	at := w.place("document.querySelector('.showframe').getBoundingClientRect()")
	w.drag([2]float64{at[0] + 40, at[1]}, [2]float64{at[0] + 40, at[1]})
	w.wait("document.querySelector('dialog[open]') && parseFloat(document.querySelector('[data-field=\"move.markRight\"]').value) > 5")
	chosen := "document.querySelector('[data-scene=move-who]').value + document.querySelector('[data-scene=move-order]').value"
	if got := w.text(chosen); got != "allleft to right" {
		t.Errorf("after the point was picked: %s", got)
	}
	w.click("[data-kept-move=\"Gull falls\"]")
	w.undone("Move: Gull falls")
	w.wait("document.body.dataset.playing")
	w.key(" ")
	if a, b := s.keysOf(other, "ca33333", "up"), s.keysOf(other, "c336699", "up"); a != "0:40bounce 20:0 " || b != "10:40bounce 30:0 " {
		t.Errorf("the letters got %s and %s", a, b)
	}
	w.takenBack(s, other, "Move: Gull falls", before)
	w.key("m")
	w.click("[data-move-drop=\"Gull falls\"]")
	w.wait("document.querySelector('.keptmoves').textContent.includes('None yet')")
	w.js("[...document.querySelectorAll('.message-line button')].find((b) => b.textContent === 'Undo').click()")
	w.wait("document.querySelector('[data-kept-move=\"Gull falls\"]')")
}

// TestFormsComeAsTheClipShowsThem writes a part and lets another become it: at every frame the live view looks like the
// traced picture, and nothing like the piece at rest.
func TestFormsComeAsTheClipShowsThem(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("two.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="60">
	<circle cx="30" cy="30" r="30" fill="#336699"/><rect x="60" width="60" height="60" fill="#a33333"/></svg>`)
	even := func(of, what, into string) recipe.Track {
		return recipe.Track{Of: of, What: what, Into: into, Keys: []recipe.Key{{Ease: "even"}, {Frame: 10, Value: 1}}}
	}
	depth := 30.0
	s.change(id, "Deep", &recipe.EditParts{Parts: map[string]recipe.PartPatch{"*": {MeasuresPatch: recipe.MeasuresPatch{Depth: &depth}}}})
	for name, track := range map[string]recipe.Track{
		"written": even("piece", recipe.Written, ""), "becoming": even("c336699", recipe.Becoming, "ca33333"),
	} {
		s.change(id, name, &recipe.SetScene{
			Motion: &recipe.Motion{Frames: 11, Tracks: []recipe.Track{track}}, Camera: &recipe.Camera{Turn: 0.1},
			Backdrop: &recipe.Backdrop{Kind: "colour", Color: "#ffffff"},
		})
		w := shown(t, s, id, sharp)
		w.click("[data-show=time]")
		for _, frame := range []int{4, 9} {
			forms := w.text("Number(document.body.dataset.grown ?? 0)")
			w.js(fmt.Sprintf("((f) => { f.value = %d; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-time=frame]'))", frame))
			w.wait("Number(document.body.dataset.grown) > " + forms + " && !document.body.dataset.growing")
			w.wait("document.body.dataset.shown === 'live' && document.getElementById('busy').hidden && !document.querySelector('.message-line')")
			on, around, n := w.apart(s, id, frame)
			if on > 8 || around > 8 || n[1] < 300 {
				t.Errorf("%s, frame %d: %.1f of 255 apart on the piece, %.1f around it", name, frame, on, around)
			}
			if rest, beside, _ := w.apart(s, id, map[string]int{"written": 10, "becoming": 0}[name]); rest+beside < 2*(on+around) {
				t.Errorf("%s, frame %d looks like the piece at rest, %.1f and %.1f apart", name, frame, rest, beside)
			}
		}
	}
}
