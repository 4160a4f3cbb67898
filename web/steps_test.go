package web

import (
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
	"bildhauer/studio"
)

// counting counts the listeners on window and document that come and go from
// then on: those added less those removed or ended by their signal.
const counting = `
	window.listeners = 0;
	for (const target of [EventTarget.prototype]) {
		const add = target.addEventListener;
		target.addEventListener = function (type, f, options) {
			if (this === window || this === document) {
				window.listeners++;
				options?.signal?.addEventListener("abort", () => { window.listeners--; });
			}
			return add.call(this, type, f, options);
		};
		const remove = target.removeEventListener;
		target.removeEventListener = function (...a) {
			if (this === window || this === document) window.listeners--;
			return remove.apply(this, a);
		};
	}`

// showsStep waits until a step is mounted and has drawn what it shows.
func (w *tab) showsStep(key string) {
	w.t.Helper()
	drawn := map[string]string{
		"intake": "document.querySelectorAll('.shaperow').length > 0", "size": "document.querySelectorAll('.dimtext').length === 2",
		"mend":  "document.body.dataset.mended !== undefined",
		"raise": "document.body.dataset.solids && document.querySelector('.cutview') && document.querySelector('.recipe')", "release": "document.body.dataset.checked",
		"show": "document.querySelector('.showfields')",
	}
	idle := " && document.getElementById('busy').hidden"
	if key == "show" { // its picture gets finer for some seconds
		idle = ""
	}
	w.wait(
		"document.body.dataset.step === '" + key + "' && location.pathname.endsWith('/" + key + "') && " + drawn[key] +
			idle + " && document.querySelector('.rail a[aria-current]').dataset.step === '" + key + "'",
	)
}

// TestStepsComeAndGo walks through all steps ten times, by pointer, key and the
// browser's own buttons, without loading the page again: no listener, no
// drawing surface and no memory stays behind.
func TestStepsComeAndGo(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := small(t, s.address+"/pieces/"+s.id("Gull crest")+"/raise")
	w.showsStep("raise")
	w.js("(() => {" + counting + "})(), window.stayed = true")
	number := func(e string) int {
		t.Helper()
		n, err := strconv.Atoi(w.text(e))
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	round := func(i int) {
		t.Helper()
		for n, key := range []string{"intake", "mend", "show", "size", "release", "raise"} {
			if (i+n)%2 == 0 {
				w.js("document.querySelector('.rail a[data-step=" + key + "]').click()")
			} else {
				w.do(chromedp.KeyEvent(map[string]string{"intake": "1", "mend": "2", "size": "3", "raise": "4", "show": "5", "release": "6"}[key]))
			}
			w.showsStep(key)
		}
	}
	heap := func() int { return number("(window.gc?.(), Math.round(performance.memory.usedJSHeapSize / 1024))") }
	count := func() string {
		return fmt.Sprintf(
			"%d listeners, %d canvases, %d elements",
			number("window.listeners"),
			number("document.querySelectorAll('canvas').length"),
			number("document.body.querySelectorAll('*').length"),
		)
	}
	round(0)
	before, memory := count(), heap()
	for i := range 10 {
		round(i)
	}
	if after := count(); after != before {
		t.Errorf("after ten rounds there are %s, at first %s", after, before)
	}
	if grown := heap() - memory; grown > 12_000 {
		t.Errorf("the memory grew by %d kB", grown)
	}
	// Back and forth through the steps, as the address says.
	w.js("history.back()")
	w.showsStep("release")
	w.js("history.back()")
	w.showsStep("size")
	w.js("history.forward()")
	w.showsStep("release")
	if got := w.text("window.stayed"); got != "true" {
		t.Error("the page was loaded again")
	}
	w.do(chromedp.Reload())
	w.showsStep("release")
	if got := w.text("document.title"); got != "Gull crest · Release · Bildhauer" {
		t.Errorf("title %q", got)
	}
}

// TestKeysOfEveryStep lists them in the help and lets a key of a step that is
// left do nothing.
func TestKeysOfEveryStep(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := small(t, s.address+"/pieces/"+s.id("Gull crest")+"/intake")
	for _, c := range []struct{ step, says string }{{"intake", "rename"}, {"size", "Fit the drawing"}, {"raise", "Next shading"}, {"show", "Make the picture"}, {"release", "Undo"}} {
		w.js("document.querySelector('.rail a[data-step=" + c.step + "]').click()")
		w.showsStep(c.step)
		w.do(chromedp.KeyEvent("?"))
		w.wait("document.querySelector('dialog.helpdialog')?.innerText.includes('" + c.says + "')")
		w.do(chromedp.KeyEvent("\u001b"))
		w.wait("!document.querySelector('dialog.helpdialog')")
	}
	w.js("document.querySelector('.rail a[data-step=raise]').click()")
	w.showsStep("raise")
	w.do(chromedp.KeyEvent("v"))
	w.do(chromedp.KeyEvent("c"))
	w.wait("document.querySelector('.shading [aria-pressed=true]').dataset.choice === 'wire'")
	w.js("document.querySelector('.rail a[data-step=size]').click()")
	w.showsStep("size")
	w.do(chromedp.KeyEvent("c"))
	w.js("document.querySelector('.rail a[data-step=raise]').click()")
	w.showsStep("raise")
	if got := w.text("document.querySelector('.shading [aria-pressed=true]').dataset.choice"); got != "wire" {
		t.Errorf("the shading became %q by a key that was pressed elsewhere", got)
	}
}

// TestTwoWindows changes one piece in two windows: each sees the other's change
// within a second, and none is lost.
func TestTwoWindows(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	base := s.address + "/pieces/" + id
	stay := recipe.MeasuresStay
	s.change(id, "Depths stay", &recipe.SetSize{Measures: &stay})
	one, two := open(t, base+"/raise"), open(t, base+"/size")
	one.wait(settled)
	two.showsStep("size")
	width := func(w *tab, v string) {
		w.js(
			`(f => { f.focus(); f.value = "` + v + `"; f.dispatchEvent(new Event("input")); ` +
				`f.dispatchEvent(new Event("change")); f.blur(); })(document.querySelector('[data-field=width]'))`,
		)
	}
	width(two, "120")
	one.wait(
		"document.getElementById('m-size').textContent.startsWith('120 × 120') && " +
			"document.getElementById('undo').title.startsWith('Undo: Width') && " + settled,
	)
	// Both at once, without looking at each other.
	one.js(`document.querySelector('[data-part=c24404f]').click()`)
	one.js(
		`(f => { f.value = "11"; f.dispatchEvent(new Event("change")); })(document.querySelector('[data-field=depth]'))`,
	)
	width(two, "90")
	both := "document.getElementById('m-size').textContent.startsWith('90 × 90') && " +
		"document.querySelector('[data-part=c24404f]').innerText.includes('11 mm deep')"
	one.wait(both + " && " + settled)
	two.wait(both)
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil || p.Recipe.Size.MM != 90 || p.Recipe.Parts.Measures("c24404f").Depth != 11 {
		t.Errorf("kept: %+v, %v", p.Recipe.Size, err)
	}
	// Two changes in quick succession in one window are both kept.
	two.js(
		`[...document.querySelectorAll('.buttons button')].filter(b => b.textContent === '× 2').forEach(b => ` +
			`b.click()), document.querySelector('[data-choice=keep]').click()`,
	)
	two.wait(
		"document.getElementById('saved').textContent === 'Saved' && document.getElementById('undo').title.startsWith('Undo: Overlaps')",
	)
	if p, _ = s.studio.Piece(t.Context(), id); p.Recipe.Size.MM != 180 ||
		p.Recipe.Size.Overlap != recipe.Keep {
		t.Errorf("of two quick changes: %+v", p.Recipe.Size)
	}
	// Undo in the other window takes back what was done last, wherever.
	one.wait("document.getElementById('undo').title.startsWith('Undo: Overlaps')")
	one.js("document.getElementById('undo').click()")
	two.wait("document.querySelector('[data-choice=cut]').getAttribute('aria-pressed') === 'true'")
}

// TestStandShowsWhatIsThere exchanges a file for one of the same colours and
// undoes a recolour while the stand is shown.
func TestStandShowsWhatIsThere(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id, err := s.studio.Create(t.Context(), studio.File{Name: "frame.svg", Data: []byte(frame)})
	if err != nil {
		t.Fatal(err)
	}
	w := window(t, s.address+"/pieces/"+id+"/raise", 800, 600, sharp)
	w.wait(settled + " && document.getElementById('m-size').textContent === '100 × 50 × 8 mm'")
	triangles := w.text("document.getElementById('m-tris').textContent")
	changed := strings.Replace(frame, "M10 5V15H30V5Z", "M10 5V15H20V5ZM25 5V15H30V5Z", 1)
	w.drop("frame-2.svg", changed)
	w.wait("document.querySelectorAll('.bigchoice').length === 3")
	w.js("document.querySelector('.bigchoice').click()")
	w.wait("document.querySelector('.comparison')")
	w.js("document.querySelector('dialog.ask .button.is-primary').click()")
	w.wait("document.getElementById('m-tris').textContent !== '" + triangles + "' && " + settled)
	w.js("document.getElementById('undo').click()")
	w.wait("document.getElementById('m-tris').textContent === '" + triangles + "' && " + settled)
	// A new colour paints the solid anew, and the old one comes back.
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	joined, err := s.studio.Artwork(t.Context(), p)
	if err != nil {
		t.Fatal(err)
	}
	red := "#aa2200"
	s.change(
		id,
		"Colour",
		&recipe.EditShapes{Shapes: map[string]recipe.ShapePatch{joined.Sheet.Shapes[0].Key: {Color: &red}}},
	)
	w.wait(
		"document.querySelector('[data-part=c336699] .sil path').getAttribute('fill') === '#aa2200' && " + settled,
	)
	w.js("document.getElementById('undo').click()")
	w.wait(
		"document.querySelector('[data-part=c336699] .sil path').getAttribute('fill') === '#336699' && " + settled,
	)
}

// TestLimitsOnTheScreen says what became of a bevel that the depth does not
// allow, and refuses figures out of range beside their field.
func TestLimitsOnTheScreen(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := open(t, s.address+"/pieces/"+s.id("Gull crest")+"/raise")
	w.wait(settled)
	w.js(`document.querySelector('[data-part=c214a6b]').click()`)
	w.wait("document.querySelector('.limited').hidden")
	set := func(field, v string) {
		w.js(
			`(f => { f.value = "` + v + `"; f.dispatchEvent(new Event("change")); })(document.querySelector('[data-field=` + field + `]'))`,
		)
	}
	set("bevelHeight", "30")
	w.wait(
		"document.querySelector('.limited:not([hidden])')?.textContent === 'Shield: the bevel became 6 mm high; the depth allows no more.' && " + settled,
	)
	w.js("document.getElementById('undo').click()")
	w.wait("document.querySelector('.limited').hidden && " + settled)
	for field, want := range map[string]string{"segments": "Between 1 and 32", "depth": "Between 0.01 mm and 100000 mm"} {
		set(field, "0")
		w.wait(
			"document.querySelector('[data-field=" + field + "]').closest('.field-row').querySelector('.field-error').textContent === '" + want + "'",
		)
		set(field, "5")
		w.wait(
			"document.querySelector('[data-field=" + field + "]').closest('.field-row').querySelector('.field-error').hidden && " +
				"document.getElementById('saved').textContent === 'Saved'",
		)
	}
}

// TestReleaseCancels ends a check that runs and offers to begin it again.
func TestReleaseCancels(t *testing.T) {
	s := run(t, t.TempDir(), false)
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400">`)
	for i := range 900 {
		fmt.Fprintf(
			&b,
			`<path fill="#%06x" d="M%d %dl9 1l-3 8q-5 2-6-9zm2 2l3 1l-2 3z"/>`,
			0x101010+i*7,
			13*(i%30),
			13*(i/30),
		)
	}
	id, err := s.studio.Create(
		t.Context(),
		studio.File{Name: "many.svg", Data: []byte(b.String() + "</svg>")},
	)
	if err != nil {
		t.Fatal(err)
	}
	fine := 32 // so that it takes a while
	s.change(id, "All colours kept, and fine", &recipe.SetParts{Palette: &recipe.Palette{}},
		&recipe.EditParts{Parts: map[string]recipe.PartPatch{"*": {MeasuresPatch: recipe.MeasuresPatch{Front: recipe.RimPatch{Segments: &fine}}}}})
	w := small(t, s.address+"/pieces/"+id+"/release")
	w.wait(
		"document.getElementById('busy').hidden === false && !document.getElementById('cancel').hidden && /\\d+ " +
			"of 900/.test(document.getElementById('busytext').textContent)",
	)
	// A tab in the background tells how far it is, and no longer when nothing is at work.
	w.wait("/^\\d+ % .* of 900.* · Many · Release · Bildhauer$/.test(document.title)")
	w.js("document.getElementById('cancel').click()")
	w.wait(
		"document.querySelector('.checks').innerText.includes('The check was cancelled') && document.getElementById('busy').hidden",
	)
	w.wait("document.title === 'Many · Release · Bildhauer'")
	w.js(
		"[...document.querySelectorAll('.checks button')].find(b => b.textContent === 'Check again').click()",
	)
	w.wait(
		"document.body.dataset.checked && document.querySelector('.verdict').textContent.startsWith('All 900 parts are sound')",
	)
}
