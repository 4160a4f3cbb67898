package web

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"bildhauer/core/recipe"
	"bildhauer/studio"
)

// set types into a field of the panel.
func (w *tab) set(field, value string) {
	w.t.Helper()
	w.js(fmt.Sprintf(
		`(f => { f.focus(); f.value = %q; f.dispatchEvent(new Event("input")); f.dispatchEvent(new Event("change")); f.blur(); })`+
			`(document.querySelector('[data-field="%s"]'))`, value, field))
}

// choose presses a switch of the panel by the label of its row.
func (w *tab) choose(label, choice string) {
	w.t.Helper()
	w.js(fmt.Sprintf(`document.querySelector('[role=group][aria-label="%s"] [data-choice="%s"]').click()`, label, choice))
}

func (w *tab) undone(label string) {
	w.t.Helper()
	w.wait(fmt.Sprintf(
		"document.getElementById('undo').title.startsWith(%q) && document.getElementById('saved').textContent === 'Saved'",
		"Undo: "+label,
	))
}

func (s *site) made(name, text string) string {
	s.t.Helper()
	id, err := s.studio.Create(s.t.Context(), studio.File{Name: name, Data: []byte(text)})
	if err != nil {
		s.t.Fatal(err)
	}
	return id
}

func (s *site) recipe(id string) recipe.Recipe {
	s.t.Helper()
	p, err := s.studio.Piece(s.t.Context(), id)
	if err != nil {
		s.t.Fatal(err)
	}
	return p.Recipe
}

// TestSize works through the Size step: what a change of size does to depths,
// a free ratio, frames, the tape, how the piece lies; and takes all of it back.
func TestSize(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("sign.svg", square3)
	before := s.document(id)
	w := open(t, s.address+"/pieces/"+id+"/size")
	w.showsStep("size")

	// Depths change along when asked so, and nobody is asked twice.
	w.set("width", "20 cm")
	w.wait("document.querySelectorAll('dialog.measures .bigchoice').length === 2")
	w.js("document.querySelectorAll('dialog.measures .bigchoice')[1].click()")
	w.undone("Width")
	if r := s.recipe(id); r.Size.MM != 200 || r.Parts.Default.Depth != 16 || r.Size.Measures != recipe.MeasuresScale {
		t.Errorf("%g mm wide, %g deep", r.Size.MM, r.Parts.Default.Depth)
	}
	w.set("width", "100")
	w.wait("document.querySelector('[data-field=width]').value === '100 mm'")
	w.undone("Width")
	if r := s.recipe(id); r.Parts.Default.Depth != 8 {
		t.Errorf("back at 100 mm the depth is %g", r.Parts.Default.Depth)
	}
	// A figure out of range is said where it stands.
	w.set("width", "0.01")
	w.wait("document.querySelector('.field-error:not([hidden])')?.textContent.startsWith('Between')")
	w.set("width", "100")

	// Free ratio: the height by itself.
	w.choose("Ratio", "free")
	w.set("height", "50")
	w.undone("Height")
	w.wait("document.getElementById('m-size').textContent.startsWith('100 × 50')")
	w.js("document.getElementById('undo').click()")
	w.wait("document.getElementById('m-size').textContent.startsWith('100 × 100')")
	w.choose("Ratio", "locked")

	// A frame, fitted into, kept by name.
	w.js(`(f => { f.value = "4"; f.dispatchEvent(new Event("change")); })(document.querySelector("[data-frame]"))`)
	w.undone("Frame: Door plate")
	w.wait("document.querySelector('.bedframe') && document.querySelector('.bedtext').textContent.includes('150 mm')")
	w.js("[...document.querySelectorAll('.sidepanel button')].find(b => b.textContent === 'Fit into it').click()")
	w.undone("Fit into the frame")
	if r := s.recipe(id); math.Abs(r.Size.MM-48) > 1e-6 {
		t.Errorf("in a plate of 60 mm with 6 mm margin it is %g mm", r.Size.MM)
	}
	w.set("framemargin", "10")
	w.undone("Frame: Door plate")
	w.js(`(f => { f.value = "Quay plate"; f.dispatchEvent(new Event("change")); })(document.querySelector(".framename"))`)
	w.undone("Frame: Quay plate")
	w.js("[...document.querySelectorAll('.sidepanel button')].find(b => b.textContent === 'Save').click()")
	w.undone("Save the frame Quay plate")
	w.wait("[...document.querySelectorAll('[data-frame] option')].some(o => o.textContent.startsWith('Quay plate'))")

	// The tape between two points, made a length.
	w.key("t")
	w.wait("document.querySelector('.sheet').classList.contains('taping')")
	at := w.place("document.querySelector('.sheet').getBoundingClientRect()")
	w.drag([2]float64{at[0] - 60, at[1]}, [2]float64{at[0] - 60, at[1]})
	w.drag([2]float64{at[0] + 60, at[1]}, [2]float64{at[0] + 60, at[1]})
	w.wait("document.querySelector('.tapeline') !== null && document.querySelector('[data-field=distance]').offsetParent !== null")
	w.set("distance", "3 in")
	w.undone("Distance")
	w.wait("document.querySelector('.tape .soft').textContent.startsWith('76.2 mm')")
	if r := s.recipe(id); r.Size.By != recipe.Distance || math.Abs(r.Size.MM-76.2) > 1e-9 || r.Size.Between[0] == r.Size.Between[1] {
		t.Errorf("size %+v", r.Size)
	}
	w.key("\x1b")
	w.wait("document.querySelector('.tapeline') === null")

	// How it leaves.
	for _, c := range [][3]string{{"Orientation", "upright", "Orientation"}, {"Origin", "corner", "Origin"}, {"Up axis", "y", "Up axis"}} {
		w.choose(c[0], c[1])
		w.undone(c[2])
	}
	if r := s.recipe(id); r.Size.Lying != "upright" || r.Size.Origin != "corner" || r.Size.Up != "y" {
		t.Errorf("lies %+v", r.Size)
	}
	s.undoAll(w, id)
	if after := s.document(id); after != before {
		t.Errorf("undo left\n%s\ninstead of\n%s", after, before)
	}
}

// undoAll takes back all that there is, by the keyboard.
func (s *site) undoAll(w *tab, id string) {
	s.t.Helper()
	for w.text("document.getElementById('undo').ariaDisabled") != "true" {
		had := s.document(id)
		w.key("z", ctrlKey)
		for tries := 0; s.document(id) == had; tries++ {
			if tries == 2000 {
				s.t.Fatal("undo changes nothing")
			}
			w.text("document.title")
		}
		w.wait("document.getElementById('saved').textContent === 'Saved'")
	}
}

// TestAbsurdUnits opens artwork that says it is a third of a millimetre wide.
func TestAbsurdUnits(t *testing.T) {
	s := run(t, t.TempDir(), false)
	stay := recipe.MeasuresStay
	id := s.made("tiny.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="0.4mm" height="0.4mm" viewBox="0 0 40 40"><path d="M3 3H37V37H3Z"/></svg>`)
	s.change(id, "Depths stay", &recipe.SetSize{Measures: &stay})
	w := open(t, s.address+"/pieces/"+id+"/size")
	w.wait("document.querySelector('.absurd:not([hidden])')?.textContent.includes('0.34 mm wide')")
	w.wait("document.querySelectorAll('.absurd button').length > 0")
	w.js("[...document.querySelectorAll('.absurd button')].find(b => b.textContent.includes('inches')).click()")
	w.undone("As meant")
	if r := s.recipe(id); math.Abs(r.Size.MM-0.34*25.4) > 0.001 {
		t.Errorf("as inches it is %g mm", r.Size.MM)
	}
	other := s.made("plain.svg", square3)
	w2 := open(t, s.address+"/pieces/"+other+"/size")
	w2.showsStep("size")
	w2.wait("document.querySelector('.absurd').hidden")
}

// TestSheetsAreDragged moves one of two sheets by the pointer and by figures.
func TestSheetsAreDragged(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("one.svg", square3)
	if _, err := s.studio.AddSheet(
		t.Context(),
		id,
		studio.Latest,
		studio.File{Name: "two.svg", Data: []byte(strings.ReplaceAll(square3, "#336699", "#338855"))},
	); err != nil {
		t.Fatal(err)
	}
	stay := recipe.MeasuresStay
	s.change(id, "Depths stay", &recipe.SetSize{Measures: &stay})
	w := open(t, s.address+"/pieces/"+id+"/size")
	w.showsStep("size")
	w.wait("document.querySelectorAll('.sheetframe').length === 2")
	at := w.place("document.querySelector('.sheetframe.loose').getBoundingClientRect()")
	w.drag(at, [2]float64{at[0] + 40, at[1] + 30})
	w.undone("Move two.svg")
	first := s.recipe(id).Sheets.List[1].Shift
	if first[0] <= 0 || first[1] <= 0 {
		t.Errorf("shifted by %v px", first)
	}
	w.wait("document.querySelector('[data-field=sheetx2]') !== null")
	w.set("sheetx2", "0")
	w.undone("Move two.svg")
	w.wait("document.querySelector('[data-field=sheetx2]').value === '0 mm'")
	w.js("document.getElementById('undo').click()")
	w.undone("Move two.svg")
	if again := s.recipe(id).Sheets.List[1].Shift; again != first {
		t.Errorf("undo brought %v, not %v", again, first)
	}
}
