package web

import (
	"fmt"
	"strings"
	"testing"
)

// shaded is a drawing of twenty shades: ten reds of a hull, ten blues of the sea.
func shaded() string {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="60">`)
	for i := range 10 {
		fmt.Fprintf(&b, `<rect x="%d" width="10" height="30" fill="#%02x2020"/><rect x="%d" y="30" width="10" height="30" fill="#2030%02x"/>`,
			10*i, 0x90+5*i, 10*i, 0x90+5*i)
	}
	return b.String() + `</svg>`
}

// TestColoursAreGathered opens artwork of twenty shades: it begins with twelve colours, all are kept by one
// act, the dialog gathers them to two, moves a shade by hand, takes given colours and keeps these by a
// name; each can be undone.
func TestColoursAreGathered(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("hull.svg", shaded())
	w := small(t, s.address+"/pieces/"+id+"/raise")
	parts := func(n int) {
		t.Helper()
		w.wait(fmt.Sprintf("document.querySelectorAll('.part:not([data-part=\"*\"])').length === %d && %s", n, settled))
	}
	parts(12)
	w.wait("document.querySelector('[data-offer=colours]').textContent.includes('The 20 shades of the artwork are gathered to 12 colours')")
	w.click("[data-act=all-colours]")
	w.undoTells("All colours kept")
	parts(20)
	w.click("#undo")
	parts(12)
	w.click("[data-act=compare-colours]")
	w.wait("document.body.dataset.inks === '12 of 20' && [...document.querySelectorAll('.inks img')].every((i) => i.naturalWidth === 640)")
	w.set("colours", "2")
	w.wait("document.body.dataset.inks === '2 of 20'")
	left := w.text("[...document.querySelectorAll('.inks [data-ink]')].map((e) => e.dataset.ink).join(' ')")
	red, blue, _ := strings.Cut(left, " ")
	if strings.HasPrefix(red, "#20") {
		red, blue = blue, red
	}
	shades := func(ink string) string {
		return "[...document.querySelector('[data-ink=\"" + ink + "\"]').closest('.inkline').querySelectorAll('[data-shade]')].map((e) => e.dataset.shade)"
	}
	w.wait(shades(red) + ".every((h) => h.endsWith('2020')) && " + shades(blue) + ".length === 10")
	w.click(`[data-shade="#902020"]`)
	w.click(`[data-ink="` + blue + `"]`)
	w.wait(shades(blue) + ".includes('#902020')")
	w.click("[data-inks=take]")
	w.undoTells("Colours gathered to 2")
	parts(2)
	if p := s.recipe(id); p.Parts.Palette.Count != 2 || p.Parts.Palette.Moved["#902020"] != blue {
		t.Errorf("the palette: %+v", p.Parts.Palette)
	}
	w.click("#undo")
	parts(12)
	// Given colours: the last but one can't be taken out, and they are kept by a name.
	w.js("delete document.body.dataset.inks")
	w.click("[data-parts=colours]")
	w.wait("document.body.dataset.inks === '12 of 20'")
	w.click(".inks [data-choice=given]")
	w.wait("document.querySelectorAll('.inks [data-given]').length === 12")
	for n := 11; n > 1; n-- {
		w.click(".inks [data-given]")
		w.wait(fmt.Sprintf("document.querySelectorAll('.inks [data-given]').length === %d", n))
	}
	w.js("document.querySelector('[data-inks=name]').value = 'Quay paint'")
	w.click("[data-inks=keep]")
	w.wait("document.querySelector('[data-inks=kept]').value === 'Quay paint'")
	w.click(".inks [data-given]")
	w.wait("document.querySelector('[data-inks=error]').textContent.includes('A palette of one colour makes a single part of all') && document.querySelector('[data-inks=take]').disabled")
	w.pick("[data-inks=kept]", "Quay paint")
	w.wait("document.querySelectorAll('.inks [data-given]').length === 2 && !document.querySelector('[data-inks=take]').disabled")
	w.click("[data-inks=forget]")
	w.wait("document.querySelector('[data-inks=kept]').options.length === 1")
	w.js("[...document.querySelectorAll('#messages button')].find((b) => b.textContent === 'Undo').click()")
	w.wait("document.querySelector('[data-inks=kept]').options.length === 2")
	w.click("[data-inks=cancel]")
	w.wait("!document.querySelector('dialog.inks')")
	parts(12)
	c := s.client()
	for body, want := range map[string]string{
		`{"name":"","colours":["#ff0000","#00ff00"]}`:  "Give the palette a name first",
		`{"name":"One","colours":["#ff0000"]}`:         "Give two colours at least",
		`{"name":"Odd","colours":["#ff0000","green"]}`: "not a colour",
	} {
		if code, text := c.post("/palettes", body); code != 422 || !strings.Contains(text, want) {
			t.Errorf("%s: %d %s", body, code, text)
		}
	}
	if _, text := c.post("/pieces/"+id+"/data/colours", `{"palette":{"count":3,"distance":4}}`); !strings.Contains(text, "not both") {
		t.Errorf("a number and a distance: %s", text)
	}
}
