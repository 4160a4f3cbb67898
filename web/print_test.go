package web

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"math"
	"net/http"
	"strings"
	"testing"

	"bildhauer/core/print"
	"bildhauer/core/recipe"
)

// TestReleaseKnowsThePrinter looks at a piece as a printer does: what is found goes by how it
// lies and by the bed, is said with a way out, and is asked for again after each change.
func TestReleaseKnowsThePrinter(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	mm := 150.0
	s.change(id, "Width", &recipe.SetSize{MM: &mm})
	w := open(t, s.address+"/pieces/"+id+"/release")
	ready := "document.body.dataset.printed !== undefined && document.getElementById('busy').hidden && " + kept
	w.wait(ready + " && document.querySelector('.printing .verdict')")
	before := s.document(id)
	facts := w.text("document.querySelector('.facts').innerText.replace(/\\s+/g, ' ')")
	if !strings.Contains(facts, "150 × 75 mm, 8 mm high") || !strings.Contains(facts, "Layers 40") {
		t.Errorf("facts: %s", facts)
	}
	// The slider goes through the layers, by key, too; the last ones are smaller by the bevel.
	area := func() string { return w.text("document.querySelector('.layerline output').textContent") }
	w.wait("document.body.dataset.layer === '20' && document.querySelector('.layerview .section')")
	if got := area(); !strings.Contains(got, "20 of 40, 4 mm up, 112.5 cm²") {
		t.Errorf("in the middle: %s", got)
	}
	w.js("document.querySelector('[data-scene=layer]').focus()")
	w.key(arrowRight)
	w.wait("document.body.dataset.layer === '21'")
	w.js("(f => { f.value = '40'; f.dispatchEvent(new Event('input')); })(document.querySelector('[data-scene=layer]'))")
	w.wait("document.body.dataset.layer === '40'")
	if got := area(); strings.Contains(got, "112.5") || !strings.Contains(got, "8 mm up") {
		t.Errorf("at the top: %s", got)
	}
	// Face down the bevel of the front hangs over: a round one begins flat.
	w.pick("[data-scene=lying]", "down")
	w.undone("Lying")
	w.wait(ready + " && document.querySelector('[data-trouble=overhang]')")
	w.takenBack(s, id, "Lying", before)
	w.wait(ready + " && document.querySelector('.printing .verdict')")
	// Thicker layers, another material; a layer of no thickness is refused at its field.
	w.set("print.layer", "0.4 mm")
	w.wait(ready + " && document.querySelector('.facts').textContent.includes('Layers21')")
	mass := w.text("document.querySelector('.facts').innerText.match(/([\\d.]+) g/)[1]")
	w.pick("[data-scene=material]", "ABS")
	w.wait(ready + " && document.querySelector('.facts').innerText.match(/([\\d.]+) g/)[1] !== '" + mass + "'")
	w.set("print.layer", "0")
	w.wait("document.querySelector('[data-field=\"print.layer\"]').closest('.field-row').textContent.includes('Between 0.02 mm')")
	// The setup is remembered; a piece that is too large is said.
	mm = 200
	s.change(id, "Wider", &recipe.SetSize{MM: &mm})
	w.undone("Wider")
	w.wait(ready + " && document.querySelector('[data-trouble=\"too large\"]')")
	w.reload()
	w.wait(ready + " && document.querySelector('[data-trouble=\"too large\"]')")
	if got := w.text("document.querySelector('[data-scene=material]').value"); got != "ABS" {
		t.Errorf("after a reload it prints %s", got)
	}
	w.pick("[data-scene=bed]", "256")
	w.wait(ready + " && document.querySelector('.printing .verdict')")
	// A side without a cap can't be printed.
	on := true
	one := recipe.PartPatch{}
	one.OpenBack = &on
	apart := recipe.Apart
	open := &recipe.EditParts{Parts: map[string]recipe.PartPatch{"c336699": one, "ca33333": one}}
	s.change(id, "Open", open, &recipe.SetParts{Fused: &apart})
	w.undone("Open")
	w.wait("document.querySelector('.printing .verdict.bad')?.textContent.includes('not closed')")
}

// TestColoursByHeightAreListed prints the key tag in three colours, as its parts step up, and
// in other layers when it is laid on its face.
func TestColoursByHeightAreListed(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Pier key tag")
	w := open(t, s.address+"/pieces/"+id+"/release")
	ready := "document.body.dataset.printed !== undefined && document.getElementById('busy').hidden && " + kept
	list := func() string {
		return w.text("[...document.querySelectorAll('[data-ink]')].map(e => e.dataset.ink + ' ' + e.querySelector('b').textContent).join()")
	}
	w.wait(ready + " && document.querySelector('[data-ink]')")
	if text := w.text("document.querySelector('.inks').textContent"); strings.Contains(text, "missed") {
		t.Errorf("layers of 0.2 mm fit: %s", text)
	}
	if got := list(); got != "1 Tag,13 Outline,16 Lettering" {
		t.Errorf("face up: %s", got)
	}
	w.pick("[data-scene=lying]", "down")
	w.undone("Lying")
	w.wait(ready + " && document.querySelector('[data-ink]').textContent.includes('Lettering')")
	if got := list(); got != "1 Lettering,4 Outline,7 Tag" {
		t.Errorf("face down: %s", got)
	}
	// The archive of all parts is handed out under the names that were asked for.
	data := s.get("/pieces/" + id + "/file/zip?parts=3mf&pattern=%7Bpart%7D")
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil || len(z.File) != 4 || z.File[0].Name != "Tag.3mf" {
		t.Errorf("the archive: %v", err)
	}
}

// TestPrintReports asks the server: figures by hand, and setups that there can't be.
func TestPrintReports(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("block.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40"><rect width="80" height="40" fill="#336699"/></svg>`)
	none := 0.0
	one := recipe.PartPatch{}
	one.Front.Width, one.Front.Height = &none, &none
	s.change(id, "No bevel", &recipe.EditParts{Parts: map[string]recipe.PartPatch{"c336699": one}})
	c := s.client()
	code, said := c.post("/pieces/"+id+"/data/print", `{"layer":0.1,"price":40}`)
	var r print.Report
	if err := json.Unmarshal([]byte(said), &r); code != http.StatusOK || err != nil {
		t.Fatalf("%d %s", code, said)
	}
	volume := 100.0 * 50 * 8
	mass := volume / 1000 * 1.24
	if math.Abs(r.Volume-volume) > 1 || math.Abs(r.Mass-mass) > 0.01 || math.Abs(r.Cost-mass/1000*40) > 0.001 || r.Layers != 79 ||
		math.Abs(r.Contact-5000) > 0.1 || len(r.Findings) != 0 {
		t.Errorf("%+v", r)
	}
	for body, want := range map[string]string{
		`{"layer":0}`: "between 0.02 and 2 mm", `{"bed":[0,1,1]}`: "up to 10 m", `{"density":-1}`: "above 0", `soup`: "could not be read",
	} {
		if code, said := c.post("/pieces/"+id+"/data/print", body); code != http.StatusUnprocessableEntity || !strings.Contains(said, want) {
			t.Errorf("%s: %d %s", body, code, said)
		}
	}
}
