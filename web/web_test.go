package web

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"mime/multipart"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/gofiber/fiber/v3"

	"bildhauer/core/mesh"
	"bildhauer/demo"
	"bildhauer/internal/browser"
	"bildhauer/studio"
)

var root context.Context

func TestMain(m *testing.M) {
	ctx, stop, err := browser.Start()
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	root = ctx
	code := m.Run()
	stop()
	os.Exit(code)
}

// site is a running application on a data folder.
type site struct {
	t       testing.TB
	address string
	studio  *studio.Studio
	stop    func()
}

func run(t testing.TB, dir string, fill bool) *site {
	t.Helper()
	st, err := studio.New(dir)
	if err != nil {
		t.Fatal(err)
	}
	if fill {
		if err := demo.Fill(st); err != nil {
			t.Fatal(err)
		}
	}
	app, err := New(st)
	if err != nil {
		t.Fatal(err)
	}
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go app.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	var stopped bool
	s := &site{t: t, address: "http://" + ln.Addr().String(), studio: st}
	s.stop = func() {
		if !stopped {
			stopped = true
			app.ShutdownWithTimeout(time.Second)
			st.Close()
		}
	}
	t.Cleanup(s.stop)
	return s
}

// id returns the piece with a name.
func (s *site) id(name string) string {
	s.t.Helper()
	list, err := s.studio.Pieces()
	if err != nil {
		s.t.Fatal(err)
	}
	for _, p := range list {
		if p.Doc.Name == name {
			return p.ID
		}
	}
	s.t.Fatalf("no piece %q", name)
	return ""
}

// tab is a browser window on a site; console errors fail the test.
type tab struct {
	t   testing.TB
	ctx context.Context
}

func open(t testing.TB, address string) *tab {
	t.Helper()
	ctx, stop, err := browser.Tab(root, 90*time.Second)
	if err != nil {
		t.Fatal(err)
	}
	messages := chromedp.Console(ctx)
	done := make(chan struct{})
	go func() {
		defer close(done)
		for m, err := range messages {
			if err != nil {
				return
			}
			// A refusal (422) is an answer; the browser logs it all the same.
			if m.IsException() || m.Type == "error" && !strings.Contains(m.Text, "status of 422") {
				t.Errorf("console: %s", m)
			}
		}
	}()
	t.Cleanup(func() { stop(); <-done })
	w := &tab{t, ctx}
	w.do(chromedp.Navigate(address))
	return w
}

func (w *tab) do(a ...chromedp.Action[chromedp.Void]) {
	w.t.Helper()
	if err := chromedp.Do(w.ctx, a...); err != nil {
		w.t.Fatal(err)
	}
}

// wait waits until the page has loaded (its modules have run) and the
// expression is true.
func (w *tab) wait(expression string) {
	w.t.Helper()
	expression = "document.readyState === 'complete' && (" + expression + ")"
	ctx, cancel := context.WithTimeout(w.ctx, 30*time.Second)
	defer cancel()
	if err := browser.Wait(ctx, expression); err != nil {
		text, _ := browser.Eval[string](w.ctx, "document.body.innerText.slice(0, 600)")
		w.t.Fatalf("%v; the page says: %s", err, text)
	}
}

func (w *tab) text(expression string) string {
	w.t.Helper()
	s, err := browser.Eval[string](w.ctx, "String("+expression+")")
	if err != nil {
		w.t.Fatal(err)
	}
	return s
}

func (w *tab) js(expression string) { w.t.Helper(); w.text(expression) }

const settled = "document.body.dataset.solids && document.getElementById('busy').hidden && document.getElementById('saved').textContent === 'kept'"

// drop drops a file on the page as a person would.
func (w *tab) drop(name, content string) {
	w.t.Helper()
	raw, _ := json.Marshal([]string{name, content})
	w.js(`((a) => { const d = new DataTransfer(); d.items.add(new File([a[1]], a[0], {type: "image/svg+xml"}));
		for (const k of ["dragenter", "dragover", "drop"]) document.body.dispatchEvent(new DragEvent(k, {dataTransfer: d, bubbles: true, cancelable: true})); })(` + string(raw) + `)`)
}

const frame = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><path fill="#336699" fill-rule="evenodd" d="M0 0H40V20H0ZM10 5V15H30V5Z"/></svg>`

// TestFromDropToDownload walks the whole way: drop a file, see the solid, size
// it, drag the depth, undo, reload, restart, download and read the mesh back.
func TestFromDropToDownload(t *testing.T) {
	dir := t.TempDir()
	s := run(t, dir, false)
	w := open(t, s.address+"/")
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
	w.js(`(f => { f.focus(); f.value = "2 in"; f.dispatchEvent(new Event("input")); f.dispatchEvent(new Event("change")); })(document.querySelector('[data-field=width]'))`)
	w.wait("document.getElementById('m-size').textContent.startsWith('50.8 × 25.4')")

	// Dragging the slider shows the new solid at once and keeps it on release.
	w.do(chromedp.Navigate(base + "/raise"))
	w.wait(settled)
	w.js(`(f => { f.value = "12"; f.dispatchEvent(new Event("input")); })(document.querySelector('[data-slider=depth]'))`)
	w.wait("document.getElementById('m-size').textContent === '50.8 × 25.4 × 12 mm'")
	if p, _ := s.studio.Piece(id); p.Doc.Recipe.Of("#336699").Depth != 8 {
		t.Error("a drag that goes on was kept already")
	}
	w.js(`document.querySelector('[data-slider=depth]').dispatchEvent(new Event("change"))`)
	w.wait("document.getElementById('undo').title.startsWith('Undo: Depth') && " + settled)
	if p, _ := s.studio.Piece(id); p.Doc.Recipe.Of("#336699").Depth != 12 {
		t.Error("the depth was not kept")
	}

	// Undo twice by keyboard, redo once.
	w.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	w.wait("document.getElementById('m-size').textContent === '50.8 × 25.4 × 8 mm' && " + settled)
	w.do(chromedp.KeyEvent("z", chromedp.KeyModifiers(2)))
	w.wait("document.getElementById('m-size').textContent === '100 × 50 × 8 mm' && document.getElementById('undo').disabled && " + settled)
	w.js("document.getElementById('redo').click()")
	w.wait("document.getElementById('m-size').textContent === '50.8 × 25.4 × 8 mm' && " + settled)

	// A restart keeps all of it, and the page that is open goes on.
	s.stop()
	again := run(t, dir, false)
	w.do(chromedp.Navigate(again.address + "/pieces/" + id + "/raise"))
	w.wait("document.getElementById('m-size').textContent === '50.8 × 25.4 × 8 mm' && !document.getElementById('redo').disabled && " + settled)

	// Release checks and hands out a mesh that reads back sound.
	w.do(chromedp.Navigate(again.address + "/pieces/" + id + "/release"))
	w.wait("document.body.dataset.checked")
	if got := w.text("document.querySelector('.verdict').textContent"); !strings.HasPrefix(got, "The part is sound") {
		t.Errorf("verdict %q", got)
	}
	w.js(`(b => { window.given = null; const o = URL.createObjectURL; URL.createObjectURL = (x) => { x.arrayBuffer().then(a => { window.given = a.byteLength; }); return o(x); }; b.click(); })(document.querySelector('[data-format=stl]'))`)
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

func (s *site) get(path string) []byte {
	s.t.Helper()
	r, err := http.Get(s.address + path)
	if err != nil {
		s.t.Fatal(err)
	}
	defer r.Body.Close()
	b, err := io.ReadAll(r.Body)
	if err != nil || r.StatusCode != 200 {
		s.t.Fatalf("%s: %d %v %s", path, r.StatusCode, err, b)
	}
	return b
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
				v[a] = int32(float64(math.Float32frombits(binary.LittleEndian.Uint32(b[84+50*i+12+12*c+4*a:]))) / step)
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

// TestIntake leaves a layer out and takes a hidden shape in.
func TestIntake(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := open(t, s.address+"/pieces/"+s.id("Tide clock")+"/intake")
	w.wait("document.querySelectorAll('.shaperow').length === 15")
	if got := w.text("document.querySelector('.report').innerText"); !strings.Contains(got, "gradient became its mean colour") || !strings.Contains(got, "2 hidden shapes start left out") {
		t.Errorf("report: %s", got)
	}
	w.js("document.querySelector('[aria-label=\"Take in Water\"]').click()")
	w.wait("document.getElementById('undo').title.includes('Leave out Water') && document.querySelectorAll('.outshape').length === 5")
	w.js("document.querySelector('[aria-label^=\"Take in drill-guide\"]').click()")
	w.wait("document.getElementById('undo').title.includes('drill-guide') && document.querySelectorAll('.outshape').length === 4")
	w.do(chromedp.Navigate(s.address + "/pieces/" + s.id("Tide clock") + "/intake"))
	w.wait("document.querySelectorAll('.outshape').length === 4")
	// With all left out the page says so and nobody is locked in.
	id := s.id("Tide clock")
	if err := s.studio.Change(id, "All out", func(d *studio.Doc) error {
		p, err := s.studio.Piece(id)
		if err != nil {
			t.Fatal(err)
		}
		sh, err := s.studio.Sheet(p)
		for i := range sh.Shapes {
			d.Recipe.Choice[sh.Shapes[i].Key] = false
		}
		return err
	}); err != nil {
		t.Fatal(err)
	}
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/raise"))
	w.wait("document.querySelector('.veil:not([hidden])')?.innerText.includes('Every shape is left out')")
	w.js("document.getElementById('undo').click()")
	w.wait("document.querySelector('.veil').hidden && " + settled)
}

// TestSectionGrips drags the depth grip and edits a part by keyboard.
func TestSectionGrips(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	w.js(`document.querySelector('[data-part="#24404f"]').click()`)
	w.wait("document.querySelector('.sidepanel h2').textContent === 'Section, Rings'")
	var box [2]float64
	raw := w.text(`JSON.stringify((r => [r.x + r.width / 2, r.y + r.height / 2])(document.querySelector('[data-grip=depth]').getBoundingClientRect()))`)
	if err := json.Unmarshal([]byte(raw), &box); err != nil {
		t.Fatal(err)
	}
	w.do(chromedp.MouseEvent("mousePressed", box[0], box[1], chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", box[0], box[1]-20, chromedp.Button("left")),
		chromedp.MouseEvent("mouseMoved", box[0], box[1]-48, chromedp.Button("left")),
		chromedp.MouseEvent("mouseReleased", box[0], box[1]-48, chromedp.Button("left")))
	w.wait("document.getElementById('undo').title.startsWith('Undo: Depth of Rings') && " + settled)
	p, err := s.studio.Piece(id)
	if err != nil {
		t.Fatal(err)
	}
	if d := p.Doc.Recipe.Of("#24404f").Depth; d < 6 || d > 8.5 {
		t.Errorf("the grip set a depth of %g", d)
	}
	if d := p.Doc.Recipe.Of("#a9492b").Depth; d != 9 {
		t.Errorf("another part's depth became %g", d)
	}
	// A wrong figure is refused beside its field and nothing is kept.
	w.js(`(f => { f.focus(); f.value = "3 parsec"; f.dispatchEvent(new Event("change")); })(document.querySelector('[data-field=bevelWidth]'))`)
	w.wait("document.querySelector('.field-error:not([hidden])')")
	w.js(`document.querySelector('[data-choice=bevel]').click()`)
	w.wait("document.getElementById('undo').title.startsWith('Undo: Back of Rings') && " + settled)
}

// TestTree renames, recolours, regroups and filters on the Intake page, by
// pointer and keys, and takes all of it back.
func TestTree(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Tide clock")
	w := open(t, s.address+"/pieces/"+id+"/intake")
	row := func(key string) string { return "document.querySelector('[data-id=\"" + key + "\"]')" }
	w.wait(row("smoon"))
	// F2 renames the row; the recipe has the name, the parts' colours stay.
	w.js(row("smoon") + ".focus()")
	w.js(row("smoon") + ".dispatchEvent(new KeyboardEvent('keydown', {key: 'F2', bubbles: true}))")
	w.js("(i => { i.value = 'Crescent'; i.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter', bubbles: true})); })(document.querySelector('input.rename'))")
	w.wait(row("smoon") + ".textContent.includes('Crescent') && document.getElementById('undo').title.includes('Name Crescent')")
	// A group takes a name, too.
	w.js("[...document.querySelectorAll('.grouprow')].find(r => r.textContent.includes('Sky')).dispatchEvent(new MouseEvent('dblclick', {bubbles: true}))")
	w.js("(i => { i.value = 'Night sky'; i.blur(); })(document.querySelector('input.rename'))")
	w.wait("[...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('Night sky'))")
	// Two rows go into a group of their own, then one is dragged to another.
	w.js(row("stide-hand") + ".click()")
	w.js(row("sboss") + ".dispatchEvent(new MouseEvent('click', {bubbles: true, ctrlKey: true}))")
	w.js("[...document.querySelectorAll('.treebar button')].find(b => b.textContent === 'New group').click()")
	w.wait("[...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('Group 1') && r.textContent.includes('2 of 2'))")
	w.js("(() => { const from = " + row("smoon") + ", to = [...document.querySelectorAll('.grouprow')].find(r => r.textContent.includes('Group 1')); const d = new DataTransfer();" +
		"from.dispatchEvent(new DragEvent('dragstart', {dataTransfer: d, bubbles: true})); for (const k of ['dragover', 'drop']) to.dispatchEvent(new DragEvent(k, {dataTransfer: d, bubbles: true, cancelable: true})); })()")
	w.wait("[...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('Group 1') && r.textContent.includes('3 of 3'))")
	// A new colour makes a new part.
	w.js(row("smoon") + ".querySelector('.sw').click()")
	w.js("(i => { i.value = '#e0e4ea'; i.dispatchEvent(new Event('change')); })(document.querySelector('.colorpick'))")
	w.wait("document.getElementById('m-parts').textContent === '7' && " + "document.querySelector('path[data-key=moon]').getAttribute('fill') === '#e0e4ea'")
	p, err := s.studio.Piece(id)
	if err != nil {
		t.Fatal(err)
	}
	if e := p.Doc.Recipe.Edits["moon"]; e.Name != "Crescent" || e.Color != "#e0e4ea" || e.Group != "new1" {
		t.Errorf("kept: %+v", e)
	}
	// Filters, and report entries that select what they are about.
	w.js("document.querySelector('[data-filter=texts]').click()")
	w.wait("document.querySelectorAll('.shaperow').length === 2 && document.querySelector('.shaperow').textContent.includes('HIGH')")
	w.js("[...document.querySelectorAll('.report li')].find(l => l.textContent.includes('gradient')).click()")
	w.wait("document.querySelector('.treerow.picked')?.dataset.id === 'ssea' && document.querySelector('path[data-key=sea]').classList.contains('picked')")
	w.js("[...document.querySelectorAll('.report li')].find(l => l.textContent.includes('strokes')).dispatchEvent(new PointerEvent('pointerenter'))")
	w.wait("document.querySelectorAll('.shape.lit').length === 5")
	// The arrow keys walk, the space bar leaves out.
	w.js("(r => { r.focus(); r.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowDown', bubbles: true})); document.activeElement.dispatchEvent(new KeyboardEvent('keydown', {key: ' ', bubbles: true})); })(" + row("ssea") + ")")
	w.wait("document.getElementById('undo').title.includes('Leave out foam')")
	for range 6 {
		w.js("document.getElementById('undo').click()")
		w.wait("document.getElementById('saved').textContent === 'kept'")
	}
	w.wait("document.getElementById('undo').title === 'Undo: Demo measures (Ctrl+Z)' && " + row("smoon") + ".textContent.includes('moon')")
}

// TestSheets adds a sheet and a font, pastes code, and exchanges a file.
func TestSheets(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/")
	// SVG code from the clipboard becomes a piece.
	code, _ := json.Marshal(frame)
	w.js(`(() => { const d = new DataTransfer(); d.setData("text/plain", ` + string(code) + `); document.body.dispatchEvent(new ClipboardEvent("paste", {clipboardData: d, bubbles: true, cancelable: true})); })()`)
	w.wait("location.pathname.endsWith('/raise') && " + settled)
	id := s.id("Pasted")
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/intake"))
	w.wait("document.querySelectorAll('.shaperow').length === 1")
	// Another file joins it, under its own name.
	w.drop("pier.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><circle id="lamp" cx="20" cy="10" r="3" fill="#a33333"/><text y="15" font-family="Harbour Hand">a</text></svg>`)
	w.wait("document.querySelectorAll('.bigchoice').length === 3")
	w.js("[...document.querySelectorAll('.bigchoice')].find(b => b.textContent.includes('Add to this piece')).click()")
	w.wait("document.querySelectorAll('.shaperow').length === 3 && document.querySelectorAll('.sheetline').length === 2 && [...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('pier.svg'))")
	w.js("document.querySelector('[data-id=\"s2:lamp\"] input').click()")
	w.wait("document.getElementById('undo').title.includes('Leave out lamp')")
	// The changed file keeps the lamp's decision, brings one shape, loses the text.
	w.drop("pier-2.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><circle id="lamp" cx="21" cy="10" r="3" fill="#a33333"/><rect id="post" x="1" y="1" width="2" height="9" fill="#336699"/></svg>`)
	w.wait("document.querySelectorAll('.bigchoice').length === 4")
	w.js("[...document.querySelectorAll('.bigchoice')].find(b => b.textContent.includes('Exchange pier.svg')).click()")
	w.wait("document.querySelector('.comparison')")
	if got := w.text("[...document.querySelectorAll('.was h3')].map(h => h.textContent).join('; ')"); got != "=0 kept as they were; ~1 kept, but look different; +1 new; −1 gone" {
		t.Errorf("summary %q", got)
	}
	w.js("document.querySelector('dialog.ask .button.is-primary').click()")
	w.wait("document.querySelector('[data-id=\"s2:post\"]') && document.querySelector('[data-id=\"s2:lamp\"]').classList.contains('off')")
	w.js("document.getElementById('undo').click()")
	w.wait("!document.querySelector('[data-id=\"s2:post\"]') && document.querySelectorAll('.shaperow').length === 3")
	// A font that comes is used at once.
	if got := w.text("document.querySelector('.report').innerText"); !strings.Contains(got, "text set in Harbour Hand: not embedded") {
		t.Errorf("report before the font: %s", got)
	}
	raw, err := os.ReadFile("../core/read/font/shipped/pacifico-latin-400-normal.woff")
	if err != nil {
		t.Fatal(err)
	}
	if err := s.studio.ChangeSheet(id, 2, "Page 1", func(*studio.SheetRef) {}, false); err != nil {
		t.Fatal(err)
	}
	family, err := s.studio.AddFont(id, studio.File{Name: "hand.woff", Data: raw})
	if err != nil || family != "Pacifico" {
		t.Fatalf("font %q, %v", family, err)
	}
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/intake"))
	w.wait("[...document.querySelectorAll('.sheetline')].some(l => l.textContent.includes('Pacifico'))")
}

// TestFilesAndPages drops two files as one piece, and chooses a page of a file
// with several.
func TestFilesAndPages(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/")
	one, _ := json.Marshal(frame)
	w.js(`(() => { const d = new DataTransfer(); for (const n of ["rim.svg", "rim-back.svg"]) d.items.add(new File([` + string(one) + `], n));
		for (const k of ["dragenter", "dragover", "drop"]) document.body.dispatchEvent(new DragEvent(k, {dataTransfer: d, bubbles: true, cancelable: true})); })()`)
	w.wait("document.querySelectorAll('.bigchoice').length === 2")
	w.js("[...document.querySelectorAll('.bigchoice')].find(b => b.textContent.includes('One piece')).click()")
	w.wait("location.pathname.endsWith('/raise') && " + settled)
	id := s.id("Rim")
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/intake"))
	// Sheets of one size lie over each other; beside each other they are wider.
	w.wait("document.querySelectorAll('.sheetline').length === 2 && document.querySelector('.facts').textContent.includes('10.583 × 5.292')")
	w.js("(p => { p.value = 'beside'; p.dispatchEvent(new Event('change')); })(document.querySelector('.pagepick'))")
	w.wait("document.querySelector('.facts').textContent.includes('22.225 × 5.292')")
	w.js("[...document.querySelectorAll('.sheetline button')].filter(b => b.textContent === 'Take out')[1].click()")
	w.wait("document.querySelectorAll('.sheetline').length === 1 && document.querySelectorAll('.shaperow').length === 1")

	two := "%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R 5 0 R]/Count 2>>endobj\n" +
		"3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 72 72]/Contents 4 0 R>>endobj\n4 0 obj<</Length 15>>stream\n0 0 36 36 re f \nendstream endobj\n" +
		"5 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 72 72]/Contents 6 0 R>>endobj\n6 0 obj<</Length 29>>stream\n0 0 9 9 re f 20 20 30 9 re f  \nendstream endobj\n"
	two += "trailer<</Size 7/Root 1 0 R>>\n%%EOF\n"
	pages, err := s.studio.Create(studio.File{Name: "two-pages.pdf", Data: []byte(two)})
	if err != nil {
		t.Fatal(err)
	}
	w.do(chromedp.Navigate(s.address + "/pieces/" + pages + "/intake"))
	w.wait("document.querySelectorAll('.shaperow').length === 1 && document.querySelector('.pagepick').textContent.includes('Page 2 of 2')")
	w.js("(p => { p.value = '2'; p.dispatchEvent(new Event('change')); })(document.querySelector('.pagepick'))")
	w.wait("document.querySelectorAll('.shaperow').length === 2 && document.getElementById('undo').title.includes('Page 2')")
	w.js("document.getElementById('undo').click()")
	w.wait("document.querySelectorAll('.shaperow').length === 1")
}

// TestHome renames, duplicates, deletes and brings back.
func TestHome(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := open(t, s.address+"/")
	w.wait("document.querySelectorAll('.piececard').length === 5 && [...document.images].every(i => i.complete && i.naturalWidth)")
	id := s.id("Compass badge")
	card := fmt.Sprintf(`document.querySelector('[data-id="%s"]')`, id)
	w.js(card + `.querySelector('[data-act=rename]').click()`)
	w.js(`(f => { f.value = "Badge <b>"; f.dispatchEvent(new KeyboardEvent("keydown", {key: "Enter"})); })(` + card + `.querySelector('input'))`)
	w.wait(card + `.querySelector('.name')?.textContent === 'Badge <b>'`)
	w.js(card + `.querySelector('[data-act=duplicate]').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 6")
	s.id("Badge <b> (copy)")
	w.js(card + `.querySelector('[data-act=delete]').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 5")
	w.js(`[...document.querySelectorAll('.message-line button')].find(b => b.textContent === 'Undo').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 6")
	s.id("Badge <b>")
	// What can't be read says why, and all pieces stay.
	w.drop("notes.txt", "hello")
	w.wait("document.querySelector('.message-line.bad')?.textContent.includes('notes.txt is not an SVG, EPS, AI or PDF file')")
	if list, _ := s.studio.Pieces(); len(list) != 6 {
		t.Errorf("%d pieces", len(list))
	}
}

// TestDefences holds that only the application's own pages reach it.
func TestDefences(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar}
	send := func(method, path string, head map[string]string, body io.Reader) (int, string, http.Header) {
		r, err := http.NewRequest(method, s.address+path, body)
		if err != nil {
			t.Fatal(err)
		}
		for k, v := range head {
			if k == "Host" {
				r.Host = v
			} else {
				r.Header.Set(k, v)
			}
		}
		res, err := client.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		b, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(b), res.Header
	}
	code, page, head := send("GET", "/", nil, nil)
	if code != 200 || !strings.Contains(head.Get("Content-Security-Policy"), "script-src 'self'") || strings.Contains(page, "<script>") || strings.Contains(page, "style=") {
		t.Errorf("home: %d %v", code, head)
	}
	_, token, _ := send("GET", "/token", nil, nil)
	var tok struct{ Token string }
	json.Unmarshal([]byte(token), &tok)
	with := map[string]string{"X-Csrf-Token": tok.Token, "Content-Type": "application/json"}
	undo := "/pieces/" + id + "/undo"
	for _, c := range []struct {
		name string
		head map[string]string
		want int
	}{
		{"no token", map[string]string{}, 403},
		{"wrong token", map[string]string{"X-Csrf-Token": "x"}, 403},
		{"another host", map[string]string{"X-Csrf-Token": tok.Token, "Host": "evil.example"}, 403},
		{"another origin", map[string]string{"X-Csrf-Token": tok.Token, "Origin": "http://evil.example"}, 403},
		{"another site", map[string]string{"X-Csrf-Token": tok.Token, "Sec-Fetch-Site": "cross-site"}, 403},
		{"own page", with, 200},
	} {
		if code, body, _ := send("POST", undo, c.head, nil); code != c.want {
			t.Errorf("%s: %d %s", c.name, code, body)
		}
	}
	// Wrong measures and unknown pieces are refused with a sentence.
	for path, body := range map[string]string{
		"/pieces/" + id + "/change":     `{"parts":{"#24404f":{"depth":1e300}}}`,
		"/pieces/" + id + "/data/solid": `{"part":"#24404f","patch":{"segments":1000}}`,
		"/pieces/nope/change":           `{"name":"x"}`,
	} {
		code, text, _ := send("POST", path, with, strings.NewReader(body))
		if code != 422 && code != 404 || !strings.Contains(text, "error") {
			t.Errorf("%s %s: %d %s", path, body, code, text)
		}
	}
	// An uploaded drawing's markup never comes back.
	evil := `<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script><rect id="&lt;img src=x&gt;" width="5" height="5" onload="alert(2)"/></svg>`
	var form bytes.Buffer
	mw := multipart.NewWriter(&form)
	part, _ := mw.CreateFormFile("file", "evil<b>.svg")
	io.WriteString(part, evil)
	mw.Close()
	code, text, _ := send("POST", "/pieces", map[string]string{"X-Csrf-Token": tok.Token, "Content-Type": mw.FormDataContentType()}, &form)
	var made struct{ ID string }
	if json.Unmarshal([]byte(text), &made); code != 200 || made.ID == "" {
		t.Fatalf("upload: %d %s", code, text)
	}
	for _, p := range []string{"/", "/pieces/" + made.ID + "/intake", "/pieces/" + made.ID + "/thumb.svg", "/pieces/" + made.ID + "/file/svg"} {
		if _, body, _ := send("GET", p, map[string]string{"Accept": "text/html"}, nil); strings.Contains(body, "alert(") || strings.Contains(body, "<img src=x") || strings.Contains(body, "evil<b>") {
			t.Errorf("%s gives markup back:\n%s", p, body)
		}
	}
	if err := LoopbackAddress("0.0.0.0:80"); err == nil {
		t.Error("listens beyond this machine")
	}
}

// TestLargeUploadIsRefused sends 40 MB.
func TestLargeUploadIsRefused(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/")
	big := filepath.Join(t.TempDir(), "big.svg")
	if err := os.WriteFile(big, bytes.Repeat([]byte(" "), 40<<20), 0o644); err != nil {
		t.Fatal(err)
	}
	w.do(chromedp.SetUploadFiles(chromedp.CSS("#file"), []string{big}))
	w.wait("document.querySelector('.message-line.bad')?.textContent.includes('big.svg has 40 MB')")
}
