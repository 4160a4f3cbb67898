package web

import (
	"encoding/binary"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/mesh"
)

// TestFromDropToDownload walks the whole way: drop a file, see the solid, size
// it, drag the depth, undo, reload, restart, download and read the mesh back.
func TestFromDropToDownload(t *testing.T) {
	dir := t.TempDir()
	s := run(t, dir, false)
	w := window(t, s.address+"/", 800, 600, sharp)
	w.drop("harbour-frame.svg", frame)
	w.wait("location.pathname.endsWith('/raise') && " + settled)
	if got := w.text("document.getElementById('m-size').textContent"); got != "100 × 50 × 8 mm" {
		t.Errorf("first size %q", got)
	}
	if got := w.text("document.getElementById('m-tight').textContent"); got != "✓ watertight" {
		t.Errorf("surface %q", got)
	}
	id := s.id("Harbour frame")
	base := s.address + "/pieces/" + id

	// Size takes units.
	w.do(chromedp.Navigate(base + "/size"))
	w.wait("document.querySelector('[data-field=width]')?.value === '100 mm'")
	w.js(
		`(f => { f.focus(); f.value = "2 in"; f.dispatchEvent(new Event("input")); f.dispatchEvent(new Event("change"));` +
			` })(document.querySelector('[data-field=width]'))`,
	)
	// What becomes of depths is asked once.
	w.wait("document.querySelector('dialog.measures .bigchoice') !== null")
	w.js("document.querySelector('dialog.measures .bigchoice').click()")
	w.wait("document.getElementById('m-size').textContent.startsWith('50.8 × 25.4')")

	// Dragging the slider shows the new solid at once and keeps it on release.
	w.do(chromedp.Navigate(base + "/raise"))
	w.wait(settled)
	w.js(
		`(f => { f.value = "12"; f.dispatchEvent(new Event("input")); })(document.querySelector('[data-slider=depth]'))`,
	)
	w.wait("document.getElementById('m-size').textContent === '50.8 × 25.4 × 12 mm'")
	if p, _ := s.studio.Piece(t.Context(), id); p.Recipe.Parts.Measures("c336699").Depth != 8 {
		t.Error("a drag that goes on was kept already")
	}
	w.js(`document.querySelector('[data-slider=depth]').dispatchEvent(new Event("change"))`)
	w.wait("document.getElementById('undo').title.startsWith('Undo: Depth') && " + settled)
	if p, _ := s.studio.Piece(t.Context(), id); p.Recipe.Parts.Measures("c336699").Depth != 12 {
		t.Error("the depth was not saved")
	}

	// Undo twice by keyboard, redo once.
	w.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	w.wait("document.getElementById('m-size').textContent === '50.8 × 25.4 × 8 mm' && " + settled)
	w.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	w.wait(
		"document.getElementById('m-size').textContent === '100 × 50 × 8 mm' && document.getElementById('undo').ariaDisabled === 'true' && " + settled,
	)
	w.js("document.getElementById('redo').click()")
	w.wait("document.getElementById('m-size').textContent === '50.8 × 25.4 × 8 mm' && " + settled)

	// A restart keeps all of it. The page is left before: it would look for its server.
	w.do(chromedp.Navigate("about:blank"))
	s.stop()
	again := run(t, dir, false)
	t.Cleanup(func() { w.do(chromedp.Navigate("about:blank")) }) // before this one ends, too
	w.do(chromedp.Navigate(again.address + "/pieces/" + id + "/raise"))
	w.wait(
		"document.getElementById('m-size').textContent === '50.8 × 25.4 × 8 mm' && document.getElementById('redo').ariaDisabled !== 'true' && " + settled,
	)

	// Release checks and hands out a mesh that reads back sound.
	w.do(chromedp.Navigate(again.address + "/pieces/" + id + "/release"))
	w.wait("document.body.dataset.checked")
	if got := w.text("document.querySelector('.verdict').textContent"); !strings.HasPrefix(
		got,
		"The part is sound",
	) {
		t.Errorf("verdict %q", got)
	}
	w.js(
		`(b => { window.given = null; const o = URL.createObjectURL; URL.createObjectURL = (x) => { x.arrayBuffer().then(a ` +
			`=> { window.given = a.byteLength; }); return o(x); }; b.click(); })(document.querySelector('[data-format=stl]'))`,
	)
	w.wait("window.given")
	data := again.get("/pieces/" + id + "/file/stl")
	if got := w.text("window.given"); got != fmt.Sprint(len(data)) {
		t.Errorf("the browser got %s bytes, the server gives %d", got, len(data))
	}
	rep := mesh.Check(joinSTL(data), true)
	want := (50.8*25.4 - 25.4*12.7) * 8
	if !rep.Sound() || rep.VolumeMM3 > want || rep.VolumeMM3 < want*0.93 {
		t.Errorf("downloaded mesh: %+v, want a little under %g mm3", rep, want)
	}
}

// joinSTL reads a binary STL and joins equal corners.
func joinSTL(b []byte) *mesh.Mesh {
	const step = 1.0 / (1 << 19)
	m := &mesh.Mesh{Step: step}
	at := map[[3]int32]int32{}
	for i := range int(binary.LittleEndian.Uint32(b[80:])) {
		var tri [3]int32
		for c := range 3 {
			var v [3]int32
			for a := range 3 {
				v[a] = int32(
					float64(math.Float32frombits(binary.LittleEndian.Uint32(b[84+50*i+12+12*c+4*a:]))) / step,
				)
			}
			n, ok := at[v]
			if !ok {
				n = int32(len(m.Verts))
				at[v] = n
				m.Verts = append(m.Verts, v)
			}
			tri[c] = n
		}
		m.Tris = append(m.Tris, tri)
	}
	m.Group = make([]mesh.Group, len(m.Tris))
	return m
}
