package web

import (
	"encoding/json"
	"testing"

	"github.com/chromedp/chromedp"
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
	w.do(chromedp.MouseEvent("mousePressed", box[0], box[1], chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", box[0], box[1]-20, chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", box[0], box[1]-48, chromedp.Button("left")),
		chromedp.MouseEvent("mouseReleased", box[0], box[1]-48, chromedp.Button("left")))
	w.wait("document.getElementById('undo').title.startsWith('Undo: Depth of Rings') && " + settled)
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
	w.js(`document.querySelector('[data-choice=bevel]').click()`)
	w.wait("document.getElementById('undo').title.startsWith('Undo: Back of Rings') && " + settled)
}
