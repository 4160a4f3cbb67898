package web

import (
	"encoding/json"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
	"bildhauer/studio"
)

// TestSectionGrips drags the depth grip and edits a part by keyboard.
func TestSectionGrips(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	w.js(`document.querySelector('[data-part="c24404f"]').click()`)
	w.wait("document.querySelector('.sidepanel h2').textContent === 'Section, Rings'")
	var box [2]float64
	raw := w.text(
		`JSON.stringify((r => [r.x + r.width / 2, r.y + r.height / 2])(document.querySelector('[data-grip=depth]').getBoundingClientRect()))`,
	)
	if err := json.Unmarshal([]byte(raw), &box); err != nil {
		t.Fatal(err)
	}
	// What is tried passes for as closed as what was there, and is looked at once it is kept.
	w.js(`((e) => { window.tight = new Set(); new MutationObserver(() => window.tight.add(e.textContent))` +
		`.observe(e, {childList: true, characterData: true, subtree: true}); })(document.getElementById('m-tight'))`)
	tried := w.text("document.body.dataset.solids")
	w.do(chromedp.MouseEvent("mousePressed", box[0], box[1], chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", box[0], box[1]-20, chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", box[0], box[1]-48, chromedp.Button("left")))
	w.wait("Number(document.body.dataset.solids) > " + tried + " && document.getElementById('m-size').textContent.includes('mm')")
	w.do(chromedp.MouseEvent("mouseReleased", box[0], box[1]-48, chromedp.Button("left")))
	w.wait("document.getElementById('undo').title.startsWith('Undo: Depth of Rings') && document.getElementById('m-tight').textContent === '✓ watertight' && " + settled)
	if seen := w.text("[...window.tight].join()"); strings.Contains(seen, "not closed") {
		t.Errorf("while it was dragged the surface was said to be %s", seen)
	}
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	if d := p.Recipe.Parts.Measures("c24404f").Depth; d < 6 || d > 8.5 {
		t.Errorf("the grip set a depth of %g", d)
	}
	if d := p.Recipe.Parts.Measures("ca9492b").Depth; d != 9 {
		t.Errorf("another part's depth became %g", d)
	}
	// A wrong figure is refused beside its field and nothing is kept.
	w.js(
		`(f => { f.focus(); f.value = "3 parsec"; f.dispatchEvent(new Event("change")); })(document.querySelector('[data-field=bevelWidth]'))`,
	)
	w.wait("document.querySelector('.field-error:not([hidden])')")
	w.js(`document.querySelector('[data-act=back-like]').click()`)
	w.wait("document.getElementById('undo').title.startsWith('Undo: Back like the front of Rings') && " + settled)
	w.wait("document.querySelectorAll('[data-grip]').length === 5") // the back has two grips of its own
}

// click presses what a selector finds.
func (w *tab) click(selector string) {
	w.t.Helper()
	w.wait("document.querySelector(`" + selector + "`)")
	w.js("document.querySelector(`" + selector + "`).click()")
}

// undoTells waits for the last act to be one of these words, done and built.
func (w *tab) undoTells(words string) {
	w.t.Helper()
	w.wait("document.getElementById('undo').title.startsWith('Undo: " + words + "') && " + settled)
}

// choose sets a select.
func (w *tab) pick(selector, value string) {
	w.t.Helper()
	w.js("(s => { s.value = '" + value + "'; s.dispatchEvent(new Event('change')); })(document.querySelector(`" + selector + "`))")
}

// TestFormsOfParts goes through the acts of the panel: each is kept, shown, and taken back
// to the byte.
func TestFormsOfParts(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	w := small(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	before := s.document(id)
	const rings, points, hub = "c24404f", "ca9492b", "cf1e7d3"
	w.click("[data-part=" + rings + "]")
	for _, act := range []struct{ name, selector, undo string }{
		{"a profile", "[data-group=front] [data-profile=ogee]", "Profile of Rings"},
		{"behind", "[data-group=back] [data-profile=step]", "Profile behind of Rings"},
		{"a pillow", "[data-group=front] [data-profile=pillow]", "Profile of Rings"},
		{"a dome", "[data-group=front] [data-profile=dome]", "Profile of Rings"},
		{"outward", "[data-group=walls] [data-choice=outward]", "Bevels of Rings"},
		{"mitred corners", "[data-group=walls] [data-choice=mitred]", "Inner corners of Rings"},
		{"open behind", "[data-open=openBack]", "Open behind of Rings"},
		{"a direction", "[data-group=place] [data-choice=both]", "Direction of Rings"},
	} {
		w.click(act.selector)
		w.undoTells(act.undo)
		w.click("#undo")
		w.wait("!document.getElementById('undo').title.startsWith('Undo: " + act.undo + "') && " + settled)
		if s.document(id) != before {
			t.Errorf("%s was not taken back", act.name)
		}
	}
	w.set("wall", "1")
	w.undoTells("Wall of Rings")
	w.wait("document.querySelector('[data-grip=wall]')")
	// The section is cut through a wall that is as thick as it is said to be everywhere.
	if thick := w.thickness(); math.Abs(thick[0]-1) > 0.03 || thick[1] > 1.5 {
		t.Errorf("the wall is drawn between %.2f and %.2f mm thick, want 1", thick[0], thick[1])
	}
	w.click("#undo")
	w.click("[data-pick=caps] [data-choice=grid]")
	w.undoTells("Caps")
	w.wait("document.querySelector('[data-field=spacing]').value === '2 mm'")
	w.set("crease", "60")
	w.undoTells("Crease angle")
	w.click("[data-pick=fineness] [data-choice=draft]")
	w.undoTells("Fineness")
	// A detail is a face of its host, and the list says so.
	w.click("[data-part=" + hub + "]")
	w.pick("[data-role=kind]", "recess")
	w.undoTells("Role of Hub")
	w.pick("[data-role=on]", points)
	w.wait("document.querySelector('[data-part=" + hub + "] .who span').textContent === '8 mm into Long points' && " + settled)
	w.set("depth", "12")
	w.undoTells("Depth of Hub")
	w.click("[data-part=" + points + "]")
	w.wait("document.querySelector('.limited').textContent.includes('Long points: a recess goes through')")
	// A tube is drawn as wide as it is, until it has the part's own section.
	w.pick("[data-role=kind]", "tube")
	w.undoTells("Role of Long points")
	w.wait("document.querySelectorAll('.cutview .grip').length === 0 && !document.querySelector('[data-pick=tubeSection]').hidden")
	w.click("[data-pick=tubeSection] [data-choice=own]")
	w.undoTells("Section of Long points")
	w.wait("document.querySelector('[data-grip=depth]')")
	w.click("#undo")
	w.undoTells("Role of Long points")
	w.click("#undo")
	w.wait("document.querySelector('[data-role=kind]').value === '' && " + settled)
	// A part of one shape that has several outlines is split into these.
	w.click("[data-part=" + hub + "]")
	w.wait("document.querySelector('[data-parts=split]:not([aria-disabled])')?.title === 'A part of each outline'")
	w.click("[data-parts=split]")
	w.undoTells("Split Hub")
	w.wait("document.querySelectorAll('.part').length === 6 && " + settled)
	w.click("#undo")
	w.wait("document.querySelectorAll('.part').length === 5 && " + settled)
	// Several at once: with Shift from one to the other.
	w.click("[data-part=" + rings + "]")
	w.js("document.querySelector('[data-part=" + points + "]').dispatchEvent(new MouseEvent('click', {bubbles: true, shiftKey: true}))")
	w.wait("document.querySelectorAll('.part.on').length === 3")
	w.set("depth", "6")
	w.undoTells("Depth of 3 parts")
	w.click("[data-parts=join]")
	w.undoTells("Join 3 parts")
	w.wait("document.querySelectorAll('.part:not([data-part=\"*\"])').length === 2")
	w.click("[data-pick=relief] [data-choice=step]")
	w.undoTells("Relief")
	w.set("reliefStep", "1")
	w.undoTells("Relief step")
	w.pick("[data-parts=by]", "shape")
	w.undoTells("Parts by shape")
	s.undoAll(w, id)
}

// thickness returns how thick a wall of 1 mm is drawn in the section at its thinnest and thickest: from
// each point of the inside to the nearest of the front.
func (w *tab) thickness() (mm [2]float64) {
	w.t.Helper()
	raw := w.text(`JSON.stringify((() => {
		const line = document.querySelector(".body[d]").getAttribute("d").slice(1, -1).split("L").map((p) => p.split(" ").map(Number));
		const rim = line.findIndex(([x], i) => i > 1 && x === Math.min(...line.map((p) => p[0])));
		const inside = line.slice(1, rim - 2), scale = line[rim - 1][0] - line[rim][0];
		const front = line.slice(rim);
		const near = ([x, y]) => Math.min(...front.slice(1).map(([bx, by], i) => {
			const [ax, ay] = front[i];
			const k = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2 || 1)));
			return Math.hypot(ax + k * (bx - ax) - x, ay + k * (by - ay) - y);
		}));
		const all = inside.map((p) => near(p) / scale);
		return [Math.min(...all), Math.max(...all)];
	})())`)
	if err := json.Unmarshal([]byte(raw), &mm); err != nil {
		w.t.Fatal(raw, err)
	}
	return mm
}

// TestProfilesAreDrawn draws a profile with the mouse and with keys, keeps it by a name
// and uses it on another part.
func TestProfilesAreDrawn(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	w := small(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	w.click("[data-part=c24404f]")
	w.click("[data-group=front] [data-profile=custom]")
	w.wait("document.querySelectorAll('[data-knot]').length === 3")
	w.js("document.querySelector('[data-knot=\"1\"]').focus()")
	w.key(arrowLeft)
	w.key(arrowUp)
	w.key("b")
	w.click("[data-act=knot-add]")
	w.wait("document.querySelectorAll('[data-knot]').length === 4")
	// Back under itself: said at once, and flattened when it is built.
	w.js("document.querySelector('[data-knot=\"3\"]').focus()")
	for range 14 {
		w.key(arrowLeft)
	}
	w.wait("!document.querySelector('.profiledialog .limited').hidden")
	w.js("document.querySelector('.profilename input').value = 'Quay edge'")
	w.click("[data-act=knot-use]")
	w.undoTells("Profile of Rings")
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	rim := p.Recipe.Parts.Measures("c24404f").Front
	second := recipe.Knot{T: 0.45, F: 0.35}
	if rim.Profile != "custom" || len(rim.Curve) != 4 || rim.Curve[1] != second || rim.Name != "Quay edge" {
		t.Errorf("the rim became %+v", rim)
	}
	w.wait("document.getElementById('m-tight').textContent === '✓ watertight'")
	w.click("[data-part=ca9492b]")
	w.click("[data-group=front] [data-profile=custom]")
	w.wait("document.querySelector('.profilename option[value=\"0\"]')?.textContent === 'Quay edge'")
	w.pick(".profilename select", "0")
	w.click("[data-act=knot-use]")
	w.undoTells("Profile of Long points")
}

// TestLookingAtTheSolid picks parts in the view by a click and a lasso, names the face
// under the pointer, measures between two points, moves a cut through and shows the edges
// of polygons.
func TestLookingAtTheSolid(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := window(t, s.address+"/pieces/"+s.id("Compass badge")+"/raise", 1280, 800, sharp)
	w.wait(settled)
	w.click("[data-view=front]")
	box := w.text("JSON.stringify((r => [r.x, r.y, r.width, r.height])(document.querySelector('.view canvas').getBoundingClientRect()))")
	var r [4]float64
	if err := json.Unmarshal([]byte(box), &r); err != nil {
		t.Fatal(err)
	}
	at := func(x, y float64) [2]float64 { return [2]float64{r[0] + x*r[2], r[1] + y*r[3]} }
	move := func(p [2]float64) { w.do(chromedp.MouseEvent("mouseMoved", p[0], p[1])) }
	press := func(p [2]float64) {
		w.do(chromedp.MouseEvent("mousePressed", p[0], p[1], chromedp.Button("left")),
			chromedp.MouseEvent("mouseReleased", p[0], p[1], chromedp.Button("left")))
	}
	// The north point is a little above the middle.
	north := at(0.505, 0.33)
	move(north)
	w.wait("/^Long points, bevel$/.test(document.querySelector('.viewtag:not([hidden])')?.textContent ?? '')")
	press(north)
	w.wait("document.querySelector('.part.on')?.dataset.part === 'ca9492b'")
	press(at(0.05, 0.3))
	w.wait("document.querySelector('.part.on')?.dataset.part === '*'")
	// A lasso around the whole view takes all of them, as a choice.
	altDown := chromedp.ButtonModifiers(1)
	corners := [][2]float64{at(0.02, 0.02), at(0.98, 0.02), at(0.98, 0.8), at(0.02, 0.8)}
	w.do(chromedp.MouseEvent("mousePressed", corners[0][0], corners[0][1], chromedp.Button("left"), altDown))
	for _, c := range corners[1:] {
		w.do(chromedp.MouseEvent("mouseMoved", c[0], c[1], chromedp.Button("left"), altDown))
	}
	w.do(chromedp.MouseEvent("mouseReleased", corners[3][0], corners[3][1], chromedp.Button("left"), altDown))
	w.wait("document.querySelectorAll('.part.on').length === 4")
	// The distance between the tips of two points is nearly the width.
	w.click("[data-stand=measure]")
	press(north)
	press(at(0.505, 0.66))
	w.wait("/^[\\d.]+ mm$/.test(document.querySelector('.viewlabel.picked:not([hidden])')?.textContent ?? '')")
	w.click("[data-stand=measure]")
	w.click("[data-stand=cut]")
	w.wait("document.querySelector('.cuttools output').textContent === '40 mm'")
	w.js("(i => { i.value = 0.25; i.dispatchEvent(new Event('input')); })(document.querySelector('[data-stand=cut-at]'))")
	w.wait("document.querySelector('.cuttools output').textContent === '20 mm'")
	w.js("(i => { i.value = 'z'; i.dispatchEvent(new Event('change')); })(document.querySelector('[data-stand=cut-axis]'))")
	w.wait("document.querySelector('.cuttools output').textContent !== '20 mm'")
	w.click(".standtools [data-choice=wire]")
	w.wait("!document.querySelector('.hiddenlines').hidden")
	w.click("[data-stand=hidden-lines]")
	w.click("[data-stand=cut]")
	w.wait("document.querySelector('.cuttools span').hidden")
}

// TestRecipesForAnyPiece gives a piece a ready recipe, keeps its own, takes it back from a
// file and forgets it.
func TestRecipesForAnyPiece(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	w := small(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	w.click(`[data-recipe-name="Coin"]`)
	w.undoTells("Coin, all parts")
	coin := s.recipe(id)
	if m := coin.Parts.Measures("c24404f"); m.Depth != 2.4 || m.Back.Profile != "bead" {
		t.Errorf("a coin became %+v", m)
	}
	w.js("document.querySelector('[data-recipe=name]').value = 'Harbour coin'")
	w.click("[data-recipe=keep]")
	w.click(`[data-recipe-name="Harbour coin"]`)
	doc := string(s.get("/recipes/file/Harbour%20coin"))
	if !strings.Contains(doc, `"name": "Harbour coin"`) || !strings.Contains(doc, `"version": 5`) {
		t.Errorf("the file says %s", doc)
	}
	w.click(`[data-recipe-drop="Harbour coin"]`)
	w.wait("!document.querySelector('[data-recipe-name=\"Harbour coin\"]')")
	c := s.client()
	for body, want := range map[string]string{
		`{"document":` + strconv.Quote(doc) + `}`:          "Harbour coin",
		`{"document":"{\"version\":9,\"name\":\"x\"}"}`:    "newer Bildhauer",
		`{"document":"{\"version\":5,\"name\":\"Coin\"}"}`: "comes with the program",
		`{"document":"x"}`:                          "not readable",
		`{"named":{"name":"x","how":{"depth":-3}}}`: "depth",
	} {
		if _, text := c.post("/recipes", body); !strings.Contains(text, want) {
			t.Errorf("%s: %s, want %q", body, text, want)
		}
	}
	s.undoAll(w, id)

}

// TestReliefIsOffered opens artwork of three colours: the offer is taken, taken back, and
// once it was declined it does not come again.
func TestReliefIsOffered(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("flags.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="60">
		<rect width="120" height="60" fill="#336699"/><circle cx="40" cy="30" r="20" fill="#a33333"/>
		<rect x="30" y="25" width="80" height="10" fill="#338855"/></svg>`)
	w := small(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	w.wait("document.querySelector('[data-offer=relief] p').textContent.includes('3 levels, 1 mm apart, 3 mm high. Bevels become 0.5 mm high.')" +
		" && document.querySelectorAll('[data-offer=relief] .across rect').length > 2")
	w.click("[data-act=relief]")
	w.undoTells("Relief of 3 mm")
	if p := s.recipe(id); p.Parts.Relief.Total != 3 || p.Parts.Default.Front.Height != 0.5 {
		t.Errorf("the relief: %+v, a bevel of %g", p.Parts.Relief, p.Parts.Default.Front.Height)
	}
	bar := func(under string) {
		t.Helper()
		w.wait("document.querySelector('[data-offer=relief]').hidden && document.querySelector('[data-part=c338855] .who span').textContent === '" + under + "'")
	}
	bar("level 3, 3 mm")
	w.click("[data-part=c338855]")
	w.click("[data-parts=down]")
	bar("level 2, 3 mm") // of two levels now
	w.undoTells("A level down for Green")
	w.click("[data-parts=up]")
	bar("level 3, 3 mm")
	w.click("[data-parts=reset]")
	w.click("[data-part=c336699]")
	w.js("document.querySelector('[data-part=c338855]').dispatchEvent(new MouseEvent('click', {bubbles: true, ctrlKey: true}))")
	w.click("[data-parts=same]")
	bar("level 1, 1.5 mm")
	w.undoTells("One level for 2 parts")
	w.click("#undo")
	bar("level 3, 3 mm")
	// A part is shown as deep as its level makes it, and made deeper from there; parts of several levels are not.
	w.wait("document.querySelector('[data-field=depth]').closest('.field-row').hidden && !document.querySelector('[data-grip=depth]')")
	w.click("[data-part=c338855]")
	w.wait("document.querySelector('[data-field=depth]').value === '3 mm' && document.querySelector('.cutview').textContent.includes('3 mm')")
	w.set("depth", "2.5")
	bar("level 3, 2.5 mm")
	at := w.place("document.querySelector('[data-grip=depth]').getBoundingClientRect()")
	w.drag(at, [2]float64{at[0], at[1] - 20})
	w.wait("parseFloat(document.querySelector('[data-part=c338855] .who span').textContent.slice(9)) > 2.7")
	w.click("#undo")
	w.click("#undo")
	bar("level 3, 3 mm")
	w.click("[data-pick=relief] [data-choice=step]")
	bar("level 3, 10 mm") // the depth and two steps of a millimetre
	w.set("reliefStep", "0.1")
	w.wait("document.querySelector('[data-group=relief] .warned').textContent.includes('closer than the layers of the print (0.2 mm)')")
	w.click("[data-pick=outlines] [data-choice=highest]")
	w.wait("document.querySelector('[data-group=relief] .relieftold').textContent.includes('3 levels, 0.1 mm apart, 8.2 mm high.')")
	w.click("[data-pick=relief] [data-choice='']")
	bar("8 mm deep")
	s.undoAll(w, id)
	w.wait("!document.querySelector('[data-offer=relief]').hidden")
	w.click("[data-act=no-relief]")
	w.wait("document.querySelector('[data-offer=relief]').hidden")
	w.reload()
	w.wait("document.body.dataset.ready && document.querySelector('[data-offer=relief]')?.hidden && " + settled)
	// What is below a part that was made its host can be cut into from the list alone.
	w.click("[data-part=ca33333]")
	w.pick("[data-role=kind]", "recess")
	w.undoTells("Role of Red")
	// The drawing is turned: dragging down makes it deeper.
	old := s.recipe(id)
	before := old.Parts.Measures("ca33333").Depth
	at = w.place("document.querySelector('[data-grip=depth]').getBoundingClientRect()")
	w.drag(at, [2]float64{at[0], at[1] + 10})
	w.undoTells("Depth of Red")
	after := s.recipe(id)
	if d := after.Parts.Measures("ca33333").Depth; d <= before {
		t.Errorf("a drag down made it %g mm deep, after %g", d, before)
	}
}

// TestNothingLeftInThePage opens a piece of which the wall of one part covers another one as a whole: all
// steps work, and say so.
func TestNothingLeftInThePage(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id, err := s.studio.Create(t.Context(), studio.File{Name: "walls.svg", Data: []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100" ` +
		`height="50"><rect width="3" height="20" x="51" y="10" fill="#993333"/><rect width="50" height="50" fill="#336699"/></svg>`)})
	if err != nil {
		t.Fatal(err)
	}
	yes, wide, width := true, 8.0, 54.0
	s.change(id, "Outward", &recipe.SetSize{MM: &width}, &recipe.EditParts{Parts: map[string]recipe.PartPatch{
		"c336699": {MeasuresPatch: recipe.MeasuresPatch{Outward: &yes, Front: recipe.RimPatch{Width: &wide}}},
	}})
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait("document.getElementById('m-size').textContent.endsWith('× 8 mm') && document.body.innerText.includes('nothing is left of it') && " + settled)
	w.do(chromedp.KeyEvent("5"))
	w.wait("document.body.dataset.step === 'show' && document.body.dataset.shown === 'fine'")
	w.do(chromedp.KeyEvent("6"))
	w.wait("document.body.dataset.checked === '1' && document.body.innerText.includes('nothing left, not written')")
	if bad := w.text("document.querySelectorAll('td span.fail').length"); bad != "0" {
		t.Errorf("%s parts are at fault", bad)
	}
}
