package web

import (
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/dom"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"bildhauer/core/recipe"
	"bildhauer/printer"
)

// hands are somebody who has keys alone.
type hands struct {
	*tab
	s  *site
	id string
}

// to goes to an element by Tab, as often as it takes, and fails where that leads nowhere.
func (h *hands) to(selector string) {
	h.t.Helper()
	at := fmt.Sprintf("!!document.activeElement?.matches(%q)", selector)
	h.wait(fmt.Sprintf("document.querySelector(%q)", selector))
	var passed []string
	for range 220 {
		passed = append(passed, h.text("(document.activeElement.getAttribute('aria-label') ?? document.activeElement.textContent).trim().slice(0, 24)"))
		if h.text(at) == "true" {
			if h.text("document.activeElement.matches(':focus-visible')") != "true" {
				h.t.Errorf("%s has the focus, and nobody sees it", selector)
			}
			return
		}
		h.key(kb.Tab)
	}
	h.t.Fatalf("Tab does not lead to %s, but by %q", selector, passed[:min(80, len(passed))])
}

// press goes to a button and presses it.
func (h *hands) press(selector string) {
	h.t.Helper()
	h.to(selector)
	h.key(enterKey)
}

// write goes to a field and writes into it.
func (h *hands) write(field, text string) {
	h.t.Helper()
	h.to("[data-field='" + field + "']")
	h.do(chromedp.KeyEvent(text))
	h.key(enterKey)
}

func (h *hands) step(key, name string) {
	h.t.Helper()
	h.js("document.activeElement.blur()")
	h.key(key)
	h.wait("document.body.dataset.step === '" + name + "'")
}

// done waits until Undo tells what was done.
func (h *hands) done(label string) {
	h.t.Helper()
	h.wait(fmt.Sprintf("document.getElementById('undo').title.startsWith(%q) && document.getElementById('saved').textContent === 'Saved'", "Undo: "+label))
}

// back takes the last step back by a key.
func (h *hands) back(label string) {
	h.t.Helper()
	h.done(label)
	h.js("document.activeElement.blur()")
	h.key("z", ctrlKey)
	h.wait(fmt.Sprintf("!document.getElementById('undo').title.startsWith(%q) && document.getElementById('saved').textContent === 'Saved'", "Undo: "+label))
}

const twoGroups = `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100">` +
	`<g id="Sign"><path id="board" fill="#336699" d="M0 0H200V100H0Z"/><path id="knob" fill="#c9973f" d="M20 20h20v20h-20z"/></g>` +
	`<g id="Rest"><path id="post" fill="#884433" d="M150 20h20v60h-20z"/><path id="hidden" fill="#222222" d="M60 30L90 30L90 60L61 61L60 30.2"/></g></svg>`

// TestTheWholeJobByKeys goes from a file to a print without a pointer: each act is done by keys, what has the focus is
// seen, and undo is one of them.
func TestTheWholeJobByKeys(t *testing.T) {
	s := run(t, t.TempDir(), false)
	withPrinter(t, s)
	file := filepath.Join(t.TempDir(), "sign.svg")
	if err := os.WriteFile(file, []byte(twoGroups), 0o644); err != nil {
		t.Fatal(err)
	}
	h := &hands{tab: open(t, s.address), s: s}
	h.wait("document.body.dataset.ready")
	h.pickFile(file)
	h.wait("document.body.dataset.step === 'raise' && " + settled)
	h.id = strings.Split(h.text("location.pathname"), "/")[2]
	for _, step := range []func(){h.intake, h.mend, h.size, h.raise, h.show, h.release} {
		step()
		if t.Failed() {
			return
		}
	}
}

// withPrinter gives the application a printer that answers.
func withPrinter(t *testing.T, s *site) {
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	server := &http.Server{Handler: printer.New("Quay", [3]float64{180, 180, 180}, 1).Handler()}
	go server.Serve(ln)
	t.Cleanup(func() { server.Close() })
	s.studio.UsePrinter(ln.Addr().String(), 5*time.Millisecond)
}

// pickFile answers the system's own dialog, which N opens.
func (h *hands) pickFile(file string) {
	h.t.Helper()
	chosen := make(chan error, 1)
	opened := chromedp.Events(h.ctx, page.FileChooserOpened)
	if _, err := chromedp.Call(h.ctx, page.SetInterceptFileChooserDialog, page.SetInterceptFileChooserDialogParams{Enabled: true}); err != nil {
		h.t.Fatal(err)
	}
	go func() {
		for e, err := range opened {
			if err == nil {
				_, err = chromedp.Call(h.ctx, dom.SetFileInputFiles, dom.SetFileInputFilesParams{Files: []string{file}, BackendNodeID: e.BackendNodeID})
			}
			chosen <- err
			return
		}
	}()
	h.key("n")
	if err := <-chosen; err != nil {
		h.t.Fatal(err)
	}
}

func (h *hands) intake() {
	h.step("1", "intake")
	h.to(".treerow")
	for range 4 {
		h.key(kb.ArrowDown)
	}
	h.wait("document.activeElement.dataset.key === 'shidden' || document.activeElement.dataset.key")
	h.key(" ")
	h.back("Exclude")
	h.to(".treerow")
	h.key(kb.F2)
	h.do(chromedp.KeyEvent("Night"))
	h.key(enterKey)
	h.done("Name")
	// A shape goes into the group above.
	row := h.text("[...document.querySelectorAll('.shaperow')].at(-1).dataset.key")
	h.to(".treerow")
	for range 8 {
		h.key(kb.ArrowDown)
	}
	h.wait("document.activeElement.dataset.key === '" + row + "'")
	h.key(kb.ArrowUp, altKey)
	h.back("Move")
}

func (h *hands) mend() {
	h.step("2", "mend")
	h.wait(mended)
	h.key("s")
	h.wait("document.body.dataset.mode === 'shapes'")
	h.key(".")
	h.wait("document.querySelectorAll('.chosen path').length === 1")
	h.key(arrowRight)
	h.back("Move")
	h.wait(mended)
	h.key("n")
	h.wait("document.body.dataset.mode === 'nodes' && document.querySelector('.chosenline')?.textContent.includes('nodes')")
	h.key(".")
	h.key("+")
	h.back("Add a node")
	h.wait(mended)
	h.key("a")
	h.wait("document.body.dataset.mode === 'add'")
	h.key(enterKey)
	h.back("Add")
	h.wait(mended)
	h.key("m")
	h.wait("document.body.dataset.mode === 'findings'")
	if h.text("document.querySelectorAll('.finding').length") != "0" {
		h.key(kb.ArrowDown)
		h.key(enterKey)
		h.wait("document.getElementById('undo').ariaDisabled !== 'true'")
	}
}

func (h *hands) size() {
	h.step("3", "size")
	h.wait("document.querySelector('.dimline')")
	h.key("t")
	for range 5 {
		h.key(arrowLeft, shiftKey)
	}
	h.key(enterKey)
	for range 10 {
		h.key(arrowRight, shiftKey)
	}
	h.key(enterKey)
	h.wait("!document.querySelector('[data-field=distance]').closest('.field-row').hidden")
	h.write("distance", "160mm")
	h.press("dialog .bigchoice")
	h.back("Distance")
	h.write("width", "12cm")
	h.press("dialog .bigchoice")
	h.done("Width")
}

func (h *hands) raise() {
	h.step("4", "raise")
	h.wait(settled)
	h.to(".partpick")
	h.key(kb.ArrowDown)
	h.key(enterKey)
	h.wait("document.querySelector('.sidepanel h2').textContent !== 'Section, all parts'")
	h.write("depth", "6")
	h.done("Depth")
	h.press("[data-profile=ogee]")
	h.back("Profile")
	h.to("[data-grip=depth]")
	h.key(arrowUp)
	h.done("Depth")
	if p := h.s.recipe(h.id); len(p.Parts.List) == 0 || p.Parts.List[len(p.Parts.List)-1].How == nil {
		h.t.Errorf("no part has measures of its own: %+v", p.Parts.List)
	}
	h.key("v")
	h.key("c")
	h.wait("document.querySelector('.shading [aria-pressed=true]').dataset.choice !== 'colours'")
}

func (h *hands) show() {
	h.step("5", "show")
	h.press("[data-material='Polished brass']")
	h.done("Polished brass")
	h.press(".showtabs [data-choice=light]")
	h.wait("document.querySelector('[data-lamp]')")
	h.press("[data-act=add-spot]")
	h.done("Add Spot")
	h.js("document.activeElement.blur()")
	if h.text("document.querySelector('[data-plan=Spot]').getClientRects().length") == "0" {
		h.key("p") // the plan comes with the lamps, unless it was put away
	}
	h.to("[data-plan=Spot]")
	h.key(arrowLeft)
	h.done("Place of Spot")
	// A ready move, a key of it selected and moved in time.
	h.js("document.activeElement.blur()")
	h.key("m")
	h.press("[data-move=turntable]")
	h.wait("document.querySelectorAll('.timerows [data-key]').length > 1 && document.getElementById('saved').textContent === 'Saved'")
	h.to(".timerows")
	h.key(".")
	h.key(".")
	h.key(arrowLeft, altKey)
	h.wait("document.getElementById('saved').textContent === 'Saved'")
	h.js("document.activeElement.blur()")
	h.key("k")
	h.done("Key of")
}

func (h *hands) release() {
	h.step("6", "release")
	h.wait("document.body.dataset.checked")
	h.key("l")
	h.wait("document.body.dataset.layer")
	h.key(pageUp)
	h.press("[data-choice=print]")
	h.write("print.layer", "0.3")
	h.done("Layer height")
	h.js("document.activeElement.blur()")
	h.key(enterKey, ctrlKey)
	h.wait("document.body.dataset.releaseview === 'printer' && document.querySelector('[data-print-state]')")
	if p := h.s.recipe(h.id); p.Print.Layer != 0.3 || p.Size.MM != 120 || p.Size.By != recipe.Width {
		h.t.Errorf("the recipe: %+v %+v", p.Print, p.Size)
	}
}
