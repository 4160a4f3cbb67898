package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
	"bildhauer/demo"
	"bildhauer/internal/browser"
	"bildhauer/internal/patience"
	"bildhauer/reader"
	"bildhauer/studio"
)

var root context.Context

func TestMain(m *testing.M) {
	reader.Main()
	ctx, stop, err := browser.Start(browser.Rough)
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	root = ctx
	tryCost = cost{time: 1, memory: 64, threads: 1} // tests enter often
	code := m.Run()
	stop()
	os.Exit(code)
}

// filled is the database of a folder with the demo pieces, which are made once for all tests.
var filled = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "bildhauer-filled-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	st, err := studio.New(dir)
	if err != nil {
		return nil, err
	}
	if err := errors.Join(demo.Fill(context.Background(), st), st.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(dir, "bildhauer.db"))
})

// fillOnce puts the demo pieces into a folder, unless there are some.
func fillOnce(t testing.TB, dir string) {
	t.Helper()
	data, err := filled()
	if err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(dir, "bildhauer.db")
	if _, err := os.Stat(path); err == nil {
		return
	}
	if err := os.WriteFile(path, data, 0o600); err != nil {
		t.Fatal(err)
	}
}

// site is a running application on a data folder.
type site struct {
	t       testing.TB
	address string
	studio  *studio.Studio
	stop    func()
}

func run(t testing.TB, dir string, fill bool, use ...func(*studio.Studio)) *site {
	t.Helper()
	if fill {
		fillOnce(t, dir)
	}
	st, err := studio.New(dir, use...)
	if err != nil {
		t.Fatal(err)
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
			st.EndWindows()
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
	list, err := s.studio.Pieces(s.t.Context())
	if err != nil {
		s.t.Fatal(err)
	}
	for _, p := range list {
		if p.Recipe.Name == name {
			return p.ID
		}
	}
	s.t.Fatalf("no piece %q", name)
	return ""
}

// tab is a browser window on a site; console errors fail the test.
type tab struct {
	t       testing.TB
	ctx     context.Context
	mu      sync.Mutex
	ignored []string // what a test brings about on purpose, see ignore
}

// ignore lets the browser log something that the test is about.
func (w *tab) ignore(text string) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.ignored = append(w.ignored, text)
}

func (w *tab) expected(text string) bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	return slices.ContainsFunc(w.ignored, func(s string) bool { return strings.Contains(text, s) })
}

// Pixels that are drawn for one of the page, along each side. There is no graphics card, and most
// tests look at what the page says: for those the shaders that a page sets up never run.
const (
	roughly = 0.25
	sharp   = 1.0
)

const drawNothing = `for (const f of ["drawArrays", "drawElements", "drawArraysInstanced", "drawElementsInstanced"])
	WebGL2RenderingContext.prototype[f] = () => undefined;`

// open opens a page in a window of the usual size.
func open(t testing.TB, address string) *tab {
	t.Helper()
	return window(t, address, browser.Width, browser.Height, roughly)
}

// small opens a window smaller than those that pages are judged by, for tests that draw much.
func small(t testing.TB, address string) *tab {
	t.Helper()
	return window(t, address, 1024, 640, roughly)
}

// window opens a page in a window of a size, drawn with a number of pixels for one of the page.
func window(t testing.TB, address string, width, height int64, scale float64) *tab {
	t.Helper()
	ctx, stop, err := browser.Tab(root, patience.Of(t))
	if err != nil {
		t.Fatal(err)
	}
	w := &tab{t: t, ctx: ctx}
	messages := chromedp.Console(ctx)
	done := make(chan struct{})
	go func() {
		defer close(done)
		for m, err := range messages {
			if err != nil {
				return
			}
			// A refusal (422) is an answer; the browser logs it all the same.
			if m.IsException() || m.Type == "error" && !strings.Contains(m.Text, "status of 422") && !w.expected(m.Text) {
				t.Errorf("console: %s at %s:%d:%d", m, m.URL, m.Line, m.Column)
			}
		}
	}()
	t.Cleanup(func() { stop(); <-done })
	if scale < sharp {
		w.before(drawNothing)
	}
	w.do(chromedp.EmulateViewport(width, height, chromedp.EmulateScale(scale)), chromedp.Navigate(address))
	return w
}

// before runs a script in each page that is opened from now on, before its own.
func (w *tab) before(script string) {
	w.t.Helper()
	_, err := chromedp.Call(w.ctx, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: script})
	if err != nil {
		w.t.Fatal(err)
	}
}

func (w *tab) do(a ...chromedp.Action[chromedp.Void]) {
	w.t.Helper()
	if err := chromedp.Do(w.ctx, a...); err != nil {
		w.t.Fatal(err)
	}
}

// tellingTime is left of a test's time to say what the page showed instead.
const tellingTime = 5 * time.Second

// wait waits until the page has loaded (its modules have run) and the
// expression is true.
func (w *tab) wait(expression string) {
	w.t.Helper()
	expression = "document.readyState === 'complete' && (" + expression + ")"
	ctx, cancel := context.WithTimeout(w.ctx, patience.Of(w.t)-tellingTime)
	defer cancel()
	if err := browser.Wait(ctx, expression); err != nil {
		text, _ := browser.Eval[string](w.ctx, "document.getElementById('undo')?.title + '; ' + document.body.innerText.slice(0, 600)")
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

// change changes a piece as another window would.
func (s *site) change(id, label string, edits ...recipe.Edit) studio.Piece {
	s.t.Helper()
	p, err := s.studio.Change(s.t.Context(), id, studio.Latest, recipe.Change{Label: label, Edits: edits})
	if err != nil {
		s.t.Fatal(err)
	}
	return p
}

const settled = "document.body.dataset.solids && document.getElementById('busy').hidden && document.getElementById('saved').textContent === 'Saved'"

// drop drops files on the page as a person would: names and contents in turn.
func (w *tab) drop(files ...string) {
	w.t.Helper()
	raw, _ := json.Marshal(files)
	w.js(`((a) => {
		const d = new DataTransfer();
		for (let i = 0; i < a.length; i += 2) d.items.add(new File([a[i + 1]], a[i], {type: "image/svg+xml"}));
		const how = {dataTransfer: d, bubbles: true, cancelable: true};
		for (const k of ["dragenter", "dragover", "drop"]) document.body.dispatchEvent(new DragEvent(k, how));
	})(` + string(raw) + `)`)
}

const frame = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><path fill="#336699" fill-rule="evenodd" ` +
	`d="M0 0H40V20H0ZM10 5V15H30V5Z"/></svg>`

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
