package web

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
	"bildhauer/studio"
)

// TestIntake leaves a layer out and takes a hidden shape in.
func TestIntake(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := open(t, s.address+"/pieces/"+s.id("Tide clock")+"/intake")
	w.wait("document.querySelectorAll('.shaperow').length === 17")
	if got := w.text("document.querySelector('.report').innerText"); !strings.Contains(
		got,
		"gradient became its mean colour",
	) ||
		!strings.Contains(got, "2 hidden shapes start excluded") {
		t.Errorf("report: %s", got)
	}
	w.js("document.querySelector('[title=\"Include Water\"]').click()")
	w.wait(
		"document.getElementById('undo').title.includes('Exclude Water') && document.querySelectorAll('.outshape').length === 7",
	)
	w.js("document.querySelector('[title^=\"Include drill-guide\"]').click()")
	w.wait(
		"document.getElementById('undo').title.includes('drill-guide') && document.querySelectorAll('.outshape').length === 6",
	)
	w.do(chromedp.Navigate(s.address + "/pieces/" + s.id("Tide clock") + "/intake"))
	w.wait("document.querySelectorAll('.outshape').length === 6")
	// With all left out the page says so and nobody is locked in.
	id := s.id("Tide clock")
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	joined, err := s.studio.Artwork(t.Context(), p)
	if err != nil {
		t.Fatal(err)
	}
	all := map[string]bool{}
	for i := range joined.Sheet.Shapes {
		all[joined.Sheet.Shapes[i].Key] = false
	}
	s.change(id, "All out", &recipe.Choose{Choice: all})
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/raise"))
	w.wait("document.querySelector('.veil:not([hidden])')?.innerText.includes('Every shape is excluded')")
	w.js("document.getElementById('undo').click()")
	w.wait("document.querySelector('.veil').hidden && " + settled)
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
	w.js(
		"(i => { i.value = 'Crescent'; i.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter', bubbles: true}));" +
			" })(document.querySelector('input.rename'))",
	)
	w.wait(
		row(
			"smoon",
		) + ".textContent.includes('Crescent') && document.getElementById('undo').title.includes('Name Crescent')",
	)
	// A group takes a name, too.
	w.js(
		"[...document.querySelectorAll('.grouprow')].find(r => r.textContent.includes('Sky')).dispatchEvent(new MouseEvent('dblclick', {bubbles: true}))",
	)
	w.js("(i => { i.value = 'Night sky'; i.blur(); })(document.querySelector('input.rename'))")
	w.wait("[...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('Night sky'))")
	// Two rows go into a group of their own, then one is dragged to another.
	w.js(row("stide-hand") + ".click()")
	w.js(row("sboss") + ".dispatchEvent(new MouseEvent('click', {bubbles: true, ctrlKey: true}))")
	w.js("[...document.querySelectorAll('.treebar button')].find(b => b.textContent === 'New group').click()")
	w.wait(
		"[...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('Group 1') && r.textContent.includes('2 of 2'))",
	)
	w.js(
		"(() => { const from = " + row(
			"smoon",
		) + ", to = [...document.querySelectorAll('.grouprow')].find(r => r.textContent.includes('Group 1')); const d = new DataTransfer();" +
			"from.dispatchEvent(new DragEvent('dragstart', {dataTransfer: d, bubbles: true})); for (const k of ['dragover', " +
			"'drop']) to.dispatchEvent(new DragEvent(k, {dataTransfer: d, bubbles: true, cancelable: true})); })()",
	)
	w.wait(
		"[...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('Group 1') && r.textContent.includes('3 of 3'))",
	)
	// A new colour makes a new part.
	w.js(row("smoon") + ".querySelector('.sw').click()")
	w.js(
		"(i => { i.value = '#e0e4ea'; i.dispatchEvent(new Event('change')); })(document.querySelector('.colorpick'))",
	)
	w.wait(
		"document.getElementById('m-parts').textContent === '14' && " + "document.querySelector('path[data-key=moon]').getAttribute('fill') === '#e0e4ea'",
	)
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	if e := p.Recipe.Intake.Shapes["moon"]; e.Name != "Crescent" || e.Color != "#e0e4ea" ||
		e.Group != "new1" {
		t.Errorf("kept: %+v", e)
	}
	// Filters, and report entries that select what they are about.
	w.js("document.querySelector('[data-filter=texts]').click()")
	w.wait(
		"document.querySelectorAll('.shaperow').length === 2 && document.querySelector('.shaperow').textContent.includes('HIGH')",
	)
	w.js("[...document.querySelectorAll('.report li')].find(l => l.textContent.includes('gradient')).click()")
	w.wait(
		"document.querySelector('.treerow.picked')?.dataset.id === 'ssea' && document.querySelector('path[data-key=sea]').classList.contains('picked')",
	)
	w.js(
		"[...document.querySelectorAll('.report li')].find(l => l.textContent.includes('strokes')).dispatchEvent(new PointerEvent('pointerenter'))",
	)
	w.wait("document.querySelectorAll('.shape.lit').length === 5")
	// The arrow keys walk, the space bar leaves out.
	w.js(
		"(r => { r.focus(); r.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowDown', bubbles: true})); " +
			"document.activeElement.dispatchEvent(new KeyboardEvent('keydown', {key: ' ', bubbles: true})); })(" + row(
			"ssea",
		) + ")",
	)
	w.wait("document.getElementById('undo').title.includes('Exclude foam')")
	for range 6 {
		w.js("document.getElementById('undo').click()")
		w.wait("document.getElementById('saved').textContent === 'Saved'")
	}
	w.wait(
		"document.getElementById('undo').title === 'Undo: Demo scene (Ctrl+Z)' && " + row(
			"smoon",
		) + ".textContent.includes('moon')",
	)
}

// TestSheets adds a sheet and a font, pastes code, and exchanges a file.
func TestSheets(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/")
	// SVG code from the clipboard becomes a piece.
	code, _ := json.Marshal(frame)
	w.js(
		`(() => { const d = new DataTransfer(); d.setData("text/plain", ` + string(
			code,
		) + `); document.body.dispatchEvent(new ClipboardEvent("paste", {clipboardData: d, bubbles: true, cancelable: true})); })()`,
	)
	w.wait("location.pathname.endsWith('/raise') && " + settled)
	id := s.id("Pasted")
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/intake"))
	w.wait("document.querySelectorAll('.shaperow').length === 1")
	// Another file joins it, under its own name.
	w.drop(
		"pier.svg",
		`<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><circle id="lamp" cx="20" cy="10" r="3" `+
			`fill="#a33333"/><text y="15" font-family="Harbour Hand">a</text></svg>`,
	)
	w.wait("document.querySelectorAll('.bigchoice').length === 3")
	w.js(
		"[...document.querySelectorAll('.bigchoice')].find(b => b.textContent.includes('Add to this piece')).click()",
	)
	w.wait(
		"document.querySelectorAll('.shaperow').length === 3 && document.querySelectorAll('.sheetline').length " +
			"=== 2 && [...document.querySelectorAll('.grouprow')].some(r => r.textContent.includes('pier.svg'))",
	)
	w.js("document.querySelector('[data-id=\"s2:lamp\"] input').click()")
	w.wait("document.getElementById('undo').title.includes('Exclude lamp')")
	// The changed file keeps the lamp's decision, brings one shape, loses the text.
	w.drop(
		"pier-2.svg",
		`<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><circle id="lamp" cx="21" cy="10" r="3" `+
			`fill="#a33333"/><rect id="post" x="1" y="1" width="2" height="9" fill="#336699"/></svg>`,
	)
	w.wait("document.querySelectorAll('.bigchoice').length === 4")
	w.js(
		"[...document.querySelectorAll('.bigchoice')].find(b => b.textContent.includes('Replace pier.svg')).click()",
	)
	w.wait("document.querySelector('.comparison')")
	if got := w.text("[...document.querySelectorAll('.was h3')].map(h => h.textContent).join('; ')"); got != "=0 kept as they were; ~1 kept, but look different; +1 new; −1 gone" {
		t.Errorf("summary %q", got)
	}
	w.js("document.querySelector('dialog.ask .button.is-primary').click()")
	w.wait(
		"document.querySelector('[data-id=\"s2:post\"]') && document.querySelector('[data-id=\"s2:lamp\"]').classList.contains('off')",
	)
	w.js("document.getElementById('undo').click()")
	w.wait(
		"!document.querySelector('[data-id=\"s2:post\"]') && document.querySelectorAll('.shaperow').length === 3",
	)
	// A font that comes is used at once.
	if got := w.text("document.querySelector('.report').innerText"); !strings.Contains(
		got,
		"text set in Harbour Hand: not embedded",
	) {
		t.Errorf("report before the font: %s", got)
	}
	raw, err := os.ReadFile("../core/read/font/shipped/pacifico-latin-400-normal.woff")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.studio.AddFont(t.Context(), id, studio.Latest, studio.File{Name: "hand.woff", Data: raw}); err != nil {
		t.Fatal(err)
	}
	// The window hears of it by itself.
	w.wait("[...document.querySelectorAll('.sheetline')].some(l => l.textContent.includes('Pacifico'))")
}

// TestFilesAndPages drops two files as one piece, and chooses a page of a file
// with several.
func TestFilesAndPages(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/")
	w.drop("rim.svg", frame, "rim-back.svg", frame)
	w.wait("document.querySelectorAll('.bigchoice').length === 3")
	w.js(
		"[...document.querySelectorAll('.bigchoice')].find(b => b.textContent.includes('One piece')).click()",
	)
	w.wait("location.pathname.endsWith('/raise') && " + settled)
	id := s.id("Rim")
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/intake"))
	// Sheets of one size lie over each other; beside each other they are wider.
	w.wait(
		"document.querySelectorAll('.sheetline').length === 2 && document.querySelector('.facts').textContent.includes('10.58 × 5.29')",
	)
	w.js(
		"(p => { p.value = 'beside'; p.dispatchEvent(new Event('change')); })(document.querySelector('.pagepick'))",
	)
	w.wait("document.querySelector('.facts').textContent.includes('22.23 × 5.29')")
	w.js(
		"[...document.querySelectorAll('.sheetline button')].filter(b => b.textContent === 'Delete')[1].click()",
	)
	w.wait(
		"document.querySelectorAll('.sheetline').length === 1 && document.querySelectorAll('.shaperow').length === 1",
	)

	two := "%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R 5 0 R]/Count 2>>endobj\n" +
		"3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 72 72]/Contents 4 0 R>>endobj\n4 0 obj<</Length 15>>stream\n0 0 36 36 re f \nendstream endobj\n" +
		"5 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 72 72]/Contents 6 0 R>>endobj\n6 0 obj<</Length 29>>stream\n0 " +
		"0 9 9 re f 20 20 30 9 re f  \nendstream endobj\n"
	two += "trailer<</Size 7/Root 1 0 R>>\n%%EOF\n"
	pages, err := s.studio.Create(t.Context(), studio.File{Name: "two-pages.pdf", Data: []byte(two)})
	if err != nil {
		t.Fatal(err)
	}
	w.do(chromedp.Navigate(s.address + "/pieces/" + pages + "/intake"))
	w.wait(
		"document.querySelectorAll('.shaperow').length === 1 && document.querySelector('.pagepick').textContent.includes('Page 2 of 2')",
	)
	w.js(
		"(p => { p.value = '2'; p.dispatchEvent(new Event('change')); })(document.querySelector('.pagepick'))",
	)
	w.wait(
		"document.querySelectorAll('.shaperow').length === 2 && document.getElementById('undo').title.includes('Page 2')",
	)
	w.js("document.getElementById('undo').click()")
	w.wait("document.querySelectorAll('.shaperow').length === 1")
}

// TestShineOnThePage finds painted light by its filter and takes it in with one
// click; undo leaves it out again.
func TestShineOnThePage(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := small(t, s.address+"/pieces/"+s.id("Tide clock")+"/intake")
	w.wait("document.querySelectorAll('.shaperow').length === 17")
	w.wait("document.querySelector('.report').innerText.includes('shine or shade')")
	w.js("[...document.querySelectorAll('.chip')].find(c => c.textContent.startsWith('Shine and shade')).click()")
	w.wait("document.querySelectorAll('.shaperow').length === 2 && document.querySelectorAll('.shaperow.off').length === 2")
	w.js("[...document.querySelectorAll('.report .button')].find(b => b.textContent === 'Include it').click()")
	w.wait("document.querySelectorAll('.shaperow.off').length === 0 && document.getElementById('saved').textContent === 'Saved'")
	w.js("document.getElementById('undo').click()")
	w.wait("document.querySelectorAll('.shaperow.off').length === 2")
	// What is pale and lies on brass needs no ground of its own.
	if got := w.text("getComputedStyle(document.querySelector('.sheet .page')).fill"); got != "rgb(255, 255, 255)" {
		t.Errorf("the clock lies on %s", got)
	}
	// White artwork lies on a ground on which it is seen.
	id := s.made("snow.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="20" height="20"><circle cx="10" cy="10" r="9" fill="#fff"/></svg>`)
	pale := small(t, s.address+"/pieces/"+id+"/intake")
	pale.wait("document.querySelector('.sheet .page') !== null")
	if got := pale.text("getComputedStyle(document.querySelector('.sheet .page')).fill"); got == "rgb(255, 255, 255)" {
		t.Errorf("white artwork lies on %s", got)
	}
	if thumb := string(s.get("/pieces/" + id + "/thumb.svg")); !strings.Contains(thumb, "<rect") {
		t.Errorf("the thumbnail has no ground: %s", thumb)
	}
}
