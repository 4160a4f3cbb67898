package web

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
	"bildhauer/studio"
)

// mended waits until the Mend step shows the latest revision.
const mended = "document.body.dataset.mended !== undefined && document.getElementById('busy').hidden"

// document returns the recipe of a piece as it is stored.
func (s *site) document(id string) string {
	s.t.Helper()
	p, err := s.studio.Piece(s.t.Context(), id)
	if err != nil {
		s.t.Fatal(err)
	}
	raw, err := json.Marshal(p.Recipe)
	if err != nil {
		s.t.Fatal(err)
	}
	return string(raw)
}

// The keys of the keyboard as the browser's protocol names them.
const (
	ctrlKey, shiftKey = 2, 8
	arrowRight        = "\u0303"
	deleteKey         = "\u007f"
)

func (w *tab) key(k string, modifiers ...chromedp.Modifier) {
	w.t.Helper()
	w.do(chromedp.KeyEvent(k, chromedp.KeyModifiers(modifiers...)))
}

// place returns the middle of a rectangle on the page.
func (w *tab) place(rect string) (at [2]float64) {
	w.t.Helper()
	raw := w.text("JSON.stringify((r => [r.x + r.width / 2, r.y + r.height / 2])(" + rect + "))")
	if err := json.Unmarshal([]byte(raw), &at); err != nil {
		w.t.Fatal(err)
	}
	return at
}

// drag drags the pointer from one place to another.
func (w *tab) drag(from, to [2]float64) {
	w.t.Helper()
	mid := [2]float64{(from[0] + to[0]) / 2, (from[1] + to[1]) / 2}
	w.do(chromedp.MouseEvent("mousePressed", from[0], from[1], chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", mid[0], mid[1], chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", to[0], to[1], chromedp.Button("left")),
		chromedp.MouseEvent("mouseReleased", to[0], to[1], chromedp.Button("left")))
}

// TestCrestByKeys mends the gull crest with fewer than ten key presses, and takes
// all of it back.
func TestCrestByKeys(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Gull crest")
	w := open(t, s.address+"/pieces/"+id+"/mend")
	w.wait(mended)
	kinds := `new Set([...document.querySelectorAll('[data-finding]')].map(f => f.dataset.finding)).size`
	if got := w.text(kinds); got < "6" {
		t.Errorf("the crest opens with findings of %s kinds", got)
	}
	w.wait("document.querySelector('.rail a[data-step=mend] i').className === 'open'")
	before := s.document(id)
	presses := 0
	for w.text("document.querySelectorAll('.finding:not(.left)').length") != "0" {
		if presses++; presses == 10 {
			t.Fatalf("ten key presses, and still %s", w.text("document.querySelector('#parts').innerText"))
		}
		had := w.text("document.body.dataset.mended")
		w.key("\r", shiftKey)
		w.wait("document.body.dataset.mended !== '" + had + "' && " + mended)
	}
	w.wait("document.querySelector('.rail a[data-step=mend] i').className === 'good'")
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	checks, err := s.studio.Checks(t.Context(), p)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range checks {
		if !c.Report.Sound() {
			t.Errorf("%s is not sound after mending", c.Name)
		}
	}
	for range presses {
		had := w.text("document.body.dataset.mended")
		w.key("z", ctrlKey)
		w.wait("document.body.dataset.mended !== '" + had + "' && " + mended)
	}
	if after := s.document(id); after != before {
		t.Errorf("undo left\n%s\ninstead of\n%s", after, before)
	}
	// Leaving is remembered, and can be taken back.
	w.key("l")
	w.wait("document.querySelectorAll('.finding.left').length === 1 && " + mended)
	w.do(chromedp.Reload())
	w.wait(mended + " && document.querySelectorAll('.finding.left').length === 1")
	w.js("document.querySelector('.finding.left').click()")
	w.key("l")
	w.wait("document.querySelectorAll('.finding.left').length === 0 && " + mended)
}

const square3 = `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">` +
	`<path id="plate" d="M10 10H90V90H10Z" fill="#336699"/><circle id="dot" cx="30" cy="30" r="8" fill="#a33333"/></svg>`

// TestHandWork chooses, moves and changes shapes and nodes by pointer and by
// keys, adds a hole, and takes all of it back to the byte.
func TestHandWork(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id, err := s.studio.Create(t.Context(), studio.File{Name: "plate.svg", Data: []byte(square3)})
	if err != nil {
		t.Fatal(err)
	}
	before := s.document(id)
	w := open(t, s.address+"/pieces/"+id+"/mend")
	w.wait(mended)
	step := func(what string, act func(), undo string) {
		t.Helper()
		had := w.text("document.body.dataset.mended")
		act()
		w.wait("document.body.dataset.mended !== '" + had + "' && " + mended)
		w.wait(fmt.Sprintf("document.getElementById('undo').title.startsWith(%q)", "Undo: "+undo))
	}
	nodes := func() string { return w.text("document.querySelectorAll('.sums tr:nth-child(3) td')[1].textContent") }
	w.key("s")
	w.wait("document.querySelector('.toolbox').innerText.includes('Choose alike')")
	w.key(".")
	w.key(".")
	w.wait("document.querySelector('.chosenline')?.textContent.startsWith('dot')")
	step("nudge", func() { w.key(arrowRight, shiftKey) }, "Move dot by 1 mm")
	step("hole", func() {
		w.js("[...document.querySelectorAll('.toolbox button')].find(b => b.textContent === 'hole').click()")
	}, "Make dot a hole")
	w.wait("document.querySelector('.holeedge').getAttribute('d').length > 10")
	// Nodes: a new one in the middle of a side, pulled out by the pointer.
	w.key("n")
	w.wait("document.querySelector('.chosenline')?.textContent.includes('nodes')")
	w.key(".")
	w.wait("document.querySelector('.chosenline').textContent.includes('1 chosen')")
	had := nodes()
	step("add", func() { w.key("+") }, "Add a node")
	if nodes() == had {
		t.Errorf("still %s nodes", had)
	}
	w.key(".")
	w.wait("document.querySelector('.nodedots.picked').getAttribute('d') !== ''")
	at := w.place("document.querySelector('.nodedots.picked').getBoundingClientRect()")
	step("drag", func() { w.drag(at, [2]float64{at[0] + 30, at[1] - 24}) }, "Move a node by")
	step("delete", func() { w.key(deleteKey) }, "Drop a node")
	// A hole by figures.
	w.key("a")
	w.js(`(p => { p.value = "punch"; p.dispatchEvent(new Event("change")); })(document.querySelector("[data-add=kind]"))`)
	step("punch", func() { w.js("document.querySelector('[data-add=do]').click()") }, "Add: hanging hole")
	// What was done can be switched off where it stands.
	step("off", func() { w.js("document.querySelector('[data-mend=punch] input[type=checkbox]').click()") }, "Switch off")
	// A fix that would empty a shape is refused and changes nothing.
	kept := s.document(id)
	s.mustRefuse(id, &recipe.AddMends{List: []recipe.Mend{{Do: "grow", Shapes: []string{"plate"}, MM: []float64{-80}}}}, "nothing would be left")
	s.mustRefuse(id, &recipe.AddMends{List: []recipe.Mend{{Do: "lettering", Text: "\u4e2d", MM: []float64{9}, At: [][2]float64{{50, 50}}}}}, "has no letter")
	s.mustRefuse(id, &recipe.AddMends{List: []recipe.Mend{{Do: "melt"}}}, "there is no mend")
	if s.document(id) != kept {
		t.Error("a refused change left something behind")
	}
	for w.text("document.getElementById('undo').disabled") != "true" {
		had := w.text("document.getElementById('redo').title")
		w.key("z", ctrlKey)
		w.wait("document.getElementById('redo').title !== '" + had + "'")
	}
	if after := s.document(id); after != before {
		t.Errorf("undo left\n%s\ninstead of\n%s", after, before)
	}
}

// mustRefuse makes a change that is refused with a sentence that holds want.
func (s *site) mustRefuse(id string, e recipe.Edit, want string) {
	s.t.Helper()
	_, err := s.studio.Change(s.t.Context(), id, -1, recipe.Change{Label: "x", Edits: []recipe.Edit{e}})
	if err == nil || !strings.Contains(strings.ToLower(err.Error()), want) {
		s.t.Errorf("%T: %v, want %q", e, err, want)
	}
}
