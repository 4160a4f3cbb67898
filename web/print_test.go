package web

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"math"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/hpinc/go3mf"

	"bildhauer/core/print"
	"bildhauer/core/recipe"
	"bildhauer/printer"
)

// rehearsed waits until Release has looked at the print and laid it out.
const rehearsed = "document.body.dataset.printed !== undefined && document.body.dataset.rehearsed !== undefined && " +
	"document.getElementById('busy').hidden && " + kept

// TestReleaseKnowsThePrinter looks at a piece as a printer does: what is found goes by how it
// lies and by the bed, is said with a way out, and is asked for again after each change; each
// change is undone.
func TestReleaseKnowsThePrinter(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	mm := 150.0
	s.change(id, "Width", &recipe.SetSize{MM: &mm})
	w := small(t, s.address+"/pieces/"+id+"/release")
	w.wait(rehearsed + " && document.querySelector('.printing .verdict')")
	before := s.document(id)
	facts := w.text("document.querySelector('.facts').innerText.replace(/\\s+/g, ' ')")
	if !strings.Contains(facts, "150 × 75 mm, 8 mm high") || !strings.Contains(facts, "Layers 40") {
		t.Errorf("facts: %s", facts)
	}
	// The layers, by slider and by key; played, they go on by themselves.
	w.key("l")
	w.wait("document.body.dataset.releaseview === 'layers' && document.body.dataset.layer === '40'")
	line := func() string { return w.text("document.querySelector('[data-layer=text]').textContent") }
	if got := line(); !strings.HasPrefix(got, "40 of 40, 8 mm up") {
		t.Errorf("at the top: %s", got)
	}
	w.key(pageDown)
	w.wait("document.body.dataset.layer === '39'")
	w.js("(f => { f.value = '1'; f.dispatchEvent(new Event('input')); })(document.querySelector('[data-scene=layer]'))")
	w.wait("document.body.dataset.layer === '1' && document.querySelector('.kinds').textContent.includes('skirt')")
	if got := w.text("document.querySelector('.kinds').textContent"); got != "skirtinner perimeterouter perimetersolid" {
		t.Errorf("the first layer has %s", got)
	}
	w.key(" ")
	w.wait("document.body.dataset.laying && Number(document.body.dataset.laid) > 0")
	w.click("[data-act=play-layers]")
	w.wait("!document.body.dataset.laying")
	w.js("document.querySelector('.bedcanvas').dispatchEvent(new WheelEvent('wheel', { deltaY: -200, clientX: 500, clientY: 400, cancelable: true }))")
	w.key("f")
	// Face down the bevel of the front hangs over: a round one begins flat. By key and by
	// button, and back again.
	w.key("c")
	w.key("d")
	w.undone("Face down")
	w.wait(rehearsed + " && document.querySelector('[data-trouble=overhang]')")
	w.click("[data-trouble=overhang] [data-act=show-place]")
	w.wait("document.body.dataset.releaseview === 'layers' && document.body.dataset.layer === '1'")
	w.choose("What is shown", "checks")
	w.takenBack(s, id, "Face down", before)
	w.wait(rehearsed + " && document.querySelector('.printing .verdict')")
	w.choose("What is shown beside", "print")
	w.click("[data-act=face-down]")
	w.undone("Face down")
	w.wait("document.querySelector('[data-act=face-down]').textContent.includes('back again') && " + rehearsed)
	w.takenBack(s, id, "Face down", before)
	// Figures and words: each is one step that is undone.
	for _, c := range []struct{ field, value, label, ready string }{
		{"layer", "0.4 mm", "Layer height", "document.querySelector('.facts').textContent.includes('Layers21')"},
		{"tilt", "90", "Tilt", "document.querySelector('.facts').textContent.includes('75 mm high')"},
		{"turn", "90", "Rotation", "document.querySelector('.facts').innerText.includes('75 × 150 mm')"},
		{"copies", "2", "Copies", "document.body.dataset.rehearsed !== 'failed'"},
		{"density", "100", "Infill density", "document.body.dataset.rehearsed !== 'failed'"},
		{"firstSpeed", "10", "First layer", "document.body.dataset.rehearsed !== 'failed'"},
	} {
		w.set("print."+c.field, c.value)
		w.undone(c.label)
		w.wait(rehearsed)
		if w.text(c.ready) != "true" {
			t.Errorf("%s %s: %s", c.field, c.value, w.text("document.querySelector('.checksview').innerText"))
		}
		w.takenBack(s, id, c.label, before)
		w.wait(rehearsed)
	}
	for name, value := range map[string]string{"material": "ABS", "infill": "grid", "skirt": "brim", "seam": "back", "bed": "256"} {
		w.pick("[data-scene="+name+"]", value)
		w.wait("document.getElementById('undo').title.startsWith('Undo') && " + rehearsed)
		if got := w.text("document.querySelector('[data-scene=" + name + "]').value"); got != value {
			t.Errorf("%s is %s", name, got)
		}
		w.key("z", ctrlKey)
		w.wait(rehearsed + " && document.querySelector('[data-scene=" + name + "]').value !== '" + value + "'")
	}
	w.set("print.layer", "0")
	w.wait("document.querySelector('[data-field=\"print.layer\"]').closest('.field-row').textContent.includes('Between 0.02 mm')")
	// A piece that is too large is said, on a larger bed not; both are kept over a reload.
	mm = 200
	s.change(id, "Wider", &recipe.SetSize{MM: &mm})
	w.undone("Wider")
	w.wait(rehearsed + " && document.querySelector('[data-trouble=\"too large\"]') && document.body.dataset.rehearsed === 'failed'")
	w.reload()
	w.wait(rehearsed + " && document.querySelector('[data-trouble=\"too large\"]')")
	w.choose("What is shown beside", "print")
	w.pick("[data-scene=bed]", "256")
	w.undone("Bed")
	w.wait(rehearsed + " && document.querySelector('.printing .verdict')")
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

// thinSign has a stroke that a nozzle of 0.4 mm can't lay, at a width of 100 mm, and one place
// that Mend would not look for by itself.
const thinSign = `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="60"><path fill="#336699" d="M0 0H100V20H60.3V50H60V20H0Z"/></svg>`

// TestFindingsLeadToMend shows a thin wall in its layer, and opens it in Mend at its place.
func TestFindingsLeadToMend(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("sign.svg", thinSign)
	s.change(id, "Small ones are meant", &recipe.SetMendLimits{Limits: map[string]float64{"thin": 0.1}})
	w := open(t, s.address+"/pieces/"+id+"/release")
	w.wait(rehearsed + " && document.querySelector('[data-trouble=\"thin wall\"]')")
	if got := w.text("document.querySelector('[data-trouble=\"thin wall\"]').textContent"); !strings.Contains(got, "A wall is 0.3 mm wide") {
		t.Errorf("found: %s", got)
	}
	w.click("[data-trouble='thin wall'] [data-act=show-place]")
	w.wait("document.body.dataset.releaseview === 'layers' && document.body.dataset.layer")
	w.choose("What is shown", "checks")
	w.click("[data-trouble='thin wall'] [data-act=to-mend]")
	w.wait("document.body.dataset.step === 'mend' && document.querySelector('.finding.on[data-finding=thin]')")
	w.undone("Findings: smallest width")
	w.key(enterKey)
	w.wait("document.querySelector('.sums')?.textContent && " + kept + " && !document.querySelector('.finding[data-finding=thin]')")
	w.js("document.querySelector('.rail a[data-step=release]').click()")
	w.wait(rehearsed + " && !document.querySelector('[data-trouble=\"thin wall\"]')")
}

// TestThePrinterAtWork sends a piece, follows it layer by layer, pauses it and goes on, loses
// the line, cancels; and says where no printer answers.
func TestThePrinterAtWork(t *testing.T) {
	s := run(t, t.TempDir(), false)
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	address := ln.Addr().String()
	ln.Close()
	s.studio.UsePrinter(address, 5*time.Millisecond)
	id := s.made("plate.svg", disc)
	w := small(t, s.address+"/pieces/"+id+"/release")
	w.wait(rehearsed)
	w.key("p")
	w.wait("document.body.dataset.printer === 'none' && document.querySelector('.machine').textContent.includes('bildhauer printer')")
	w.key(enterKey, ctrlKey)
	w.wait("document.querySelector('.print.sending .reason')?.textContent.includes('does not answer')")
	device := printer.New("Quay", [3]float64{180, 180, 180}, 1)
	if ln, err = net.Listen("tcp", address); err != nil {
		t.Skip("the address was taken meanwhile")
	}
	server := &http.Server{Handler: device.Handler()}
	go server.Serve(ln)
	defer server.Close()
	w.wait("document.body.dataset.printer === 'found' && document.querySelector('.print.heating')")
	device.Pass(70 * time.Second)
	w.wait("document.querySelector('.print.printing')")
	device.Pass(1500 * time.Second)
	w.wait("Number(document.querySelector('.print')?.textContent.match(/layer (\\d+)/)?.[1]) > 1")
	w.wait("document.body.dataset.layer === document.querySelector('.print').textContent.match(/layer (\\d+)/)[1]")
	w.click("[data-print=pause]")
	w.wait("document.querySelector('.print.paused')")
	device.Ask(printer.Trouble{Kind: printer.LostLine, Seconds: 3600})
	w.wait("document.querySelector('.print.lost') && document.body.dataset.printer === 'none'")
	w.reload()
	w.wait("document.body.dataset.releaseview === 'checks'")
	w.key("p")
	w.wait("document.querySelector('.print.lost')")
	device.Ask(printer.Trouble{Kind: printer.LostLine, Seconds: 0})
	w.wait("document.querySelector('.print.paused')")
	w.click("[data-print=resume]")
	w.wait("document.querySelector('.print.printing')")
	w.click("[data-print=cancel]")
	w.wait("document.body.dataset.prints === '[\"cancelled\"]'")
	device.Ask(printer.Trouble{Kind: printer.ColdNozzle, Layer: 3})
	w.click("[data-act=send-print]")
	w.wait("document.body.dataset.prints === '[\"heating\",\"cancelled\"]'")
	device.Pass(time.Hour)
	w.wait("document.querySelector('.print.failed .verdict')?.textContent.includes('165 °C instead of 210')")
	w.click("[data-print=forget]")
	w.wait("document.body.dataset.prints === '[\"cancelled\"]'")
}

// TestColoursByHeightAreListed prints the key tag in three colours, as its parts step up, and
// in other layers when it is laid on its face.
func TestColoursByHeightAreListed(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Pier key tag")
	w := open(t, s.address+"/pieces/"+id+"/release")
	ready := rehearsed
	list := func() string {
		return w.text("[...document.querySelectorAll('[data-ink]')].map(e => e.dataset.ink + ' ' + e.querySelector('b').textContent).join()")
	}
	w.wait(ready + " && document.querySelector('[data-ink]')")
	if text := w.text("document.querySelector('.inks').textContent"); strings.Contains(text, "missed") {
		t.Errorf("layers of 0.2 mm fit: %s", text)
	}
	if got := list(); got != "1 Tag,3 Outline,5 Lettering" {
		t.Errorf("face down: %s", got)
	}
	w.key("d")
	w.undone("Orientation")
	w.wait(ready + " && document.querySelector('[data-ink]').textContent.includes('Lettering')")
	if got := list(); got != "1 Lettering,9 Outline,11 Tag" {
		t.Errorf("face up: %s", got)
	}
	// The archive of all parts is handed out under the names that were asked for.
	data := s.get("/pieces/" + id + "/file/zip?parts=3mf&pattern=%7Bpart%7D")
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil || len(z.File) != 4 || z.File[0].Name != "Tag.3mf" {
		t.Errorf("the archive: %v", err)
	}
}

// TestPrintReports asks the server: figures by hand, the G-code, the note of the 3MF, and what
// there can't be.
func TestPrintReports(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.made("block.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40"><rect width="80" height="40" fill="#336699"/></svg>`)
	none, layer, price := 0.0, 0.1, 40.0
	one := recipe.PartPatch{}
	one.Front.Width, one.Front.Height = &none, &none
	s.change(id, "No bevel", &recipe.EditParts{Parts: map[string]recipe.PartPatch{"c336699": one}}, &recipe.SetPrint{"layer": layer, "price": price})
	var r print.Report
	if err := json.Unmarshal(s.get("/pieces/"+id+"/data/print"), &r); err != nil {
		t.Fatal(err)
	}
	volume := 100.0 * 50 * 8
	mass := volume / 1000 * 1.24
	if math.Abs(r.Volume-volume) > 1 || math.Abs(r.Mass-mass) > 0.01 || math.Abs(r.Cost-mass/1000*40) > 0.001 || r.Layers != 79 ||
		math.Abs(r.Contact-5000) > 0.1 || len(r.Findings) != 0 {
		t.Errorf("%+v", r)
	}
	code := string(s.get("/pieces/" + id + "/file/gcode"))
	if !strings.HasPrefix(code, "; Bildhauer print file 1\n") || strings.Count(code, "\n; layer ") != 79 || !strings.HasSuffix(code, "M2\n") {
		t.Errorf("G-code: %.200s", code)
	}
	copies := 3
	s.change(id, "Copies", &recipe.SetPrint{"copies": copies})
	var laid struct {
		Places [][2]float64
		Layers []struct{ T float64 }
		Time   float64
	}
	err := json.Unmarshal(s.get("/pieces/"+id+"/data/rehearsal"), &laid)
	if err != nil || len(laid.Places) != 3 || len(laid.Layers) != 79 || laid.Time < 3600 {
		t.Errorf("rehearsal: %d places, %d layers, %g s, %v", len(laid.Places), len(laid.Layers), laid.Time, err)
	}
	c := s.client()
	for path, want := range map[string]string{
		"/data/layer?n=79": "no such layer", "/data/layer?n=-1": "no such layer", "/data/layer?n=x": "by its number",
	} {
		if status, said := c.send("GET", "/pieces/"+id+path, "", nil); status != http.StatusUnprocessableEntity || !strings.Contains(said, want) {
			t.Errorf("%s: %d %s", path, status, said)
		}
	}
	status, said := c.post("/pieces/"+id+"/prints/none/pause", "")
	if status != http.StatusUnprocessableEntity || !strings.Contains(said, "no such print") {
		t.Errorf("%d %s", status, said)
	}
	// What is printed in several colours says so in its 3MF.
	data := s.get("/pieces/" + s.id("Pier key tag") + "/file/3mf")
	var model go3mf.Model
	if err := go3mf.NewDecoder(bytes.NewReader(data), int64(len(data))).Decode(&model); err != nil {
		t.Fatal(err)
	}
	note := ""
	for _, m := range model.Metadata {
		if m.Name.Local == "Description" {
			note = m.Value
		}
	}
	if !strings.Contains(note, "to begin with") || !strings.Contains(note, "from layer 5 on, 0.8 mm up") {
		t.Errorf("the 3MF says %q", note)
	}
}

// TestHowItStandsIsCompared compares all ways a piece can stand, by button and by key, takes one and takes it back; shows the ways
// of the nozzle; steps a drawing up by its colours, and takes that back, too.
func TestHowItStandsIsCompared(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="40mm" viewBox="0 0 60 40">`+
		`<rect width="60" height="40" fill="#336699"/>`+
		`<circle cx="20" cy="20" r="12" fill="#a33333"/><circle cx="44" cy="20" r="8" fill="#e0c070"/></svg>`)
	before := s.document(id)
	w := small(t, s.address+"/pieces/"+id+"/release")
	w.wait(rehearsed)
	w.key("s")
	w.wait("document.body.dataset.stands === '6' && document.querySelector('.stands li.best')")
	got := w.text("document.querySelector('.stands li.best').textContent")
	if !strings.Contains(got, "as Size lays it") || !strings.Contains(got, "66.67 cm²") {
		t.Errorf("best is %s", got)
	}
	w.click("[data-stand='on its lower side'] [data-act=take-stand]")
	w.undone("Stand on its lower side")
	lower := `document.querySelector("[data-stand='on its lower side'] button").disabled`
	w.wait(rehearsed + " && document.querySelector('.facts').textContent.includes('66.67 mm high') && " + lower)
	w.takenBack(s, id, "Stand on its lower side", before)
	w.wait(rehearsed + " && !" + lower)
	w.click("[data-act=compare-stands]")
	w.wait("document.querySelector('.stands').hidden && !document.body.dataset.stands")
	// A comparison ends when the piece lies another way by Size: its turns would mean others.
	w.click("[data-act=compare-stands]")
	w.wait("document.body.dataset.stands === '6'")
	w.key("d")
	w.undone("Face down")
	w.wait(rehearsed + " && !document.body.dataset.stands")
	w.takenBack(s, id, "Face down", before)
	w.wait(rehearsed)
	// The ways between, by key and by click.
	w.key("l")
	w.wait("document.body.dataset.layer")
	w.key("w")
	w.wait("document.querySelector('[data-act=ways]').checked")
	w.click("[data-act=ways]")
	w.wait("!document.querySelector('[data-act=ways]').checked")
	w.key("c")
	w.set("heights.colours", "3")
	w.click("[data-act=heights]")
	w.undone("3 colours by height")
	w.wait(rehearsed + " && document.querySelectorAll('[data-ink]').length === 3")
	got = w.text("document.querySelector('.inks').innerText")
	if !strings.Contains(got, "from layer 5 on, 0.8 mm up") || strings.Contains(got, "missed") {
		t.Errorf("the changes: %s", got)
	}
	if sheet := string(s.get("/pieces/" + id + "/sheet")); !strings.Contains(sheet, "Filament 3") || !strings.Contains(sheet, "from layer 7 on") {
		t.Errorf("the sheet does not tell the changes")
	}
	w.takenBack(s, id, "3 colours by height", before)
}
