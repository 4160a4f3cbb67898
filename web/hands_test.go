package web

import (
	"fmt"
	"io"
	"net"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/input"
	cdpnet "github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
)

// hold presses a key n times without letting it go, as a keyboard repeats it, and lets it go if
// release says so.
func (w *tab) hold(key, code string, vk int64, n int, modifiers int64, release bool) {
	w.t.Helper()
	send := func(kind input.DispatchKeyEventType, repeat bool, commands ...string) {
		_, err := chromedp.Call(w.ctx, input.DispatchKeyEvent, input.DispatchKeyEventParams{
			Type: kind, Key: key, Code: code, WindowsVirtualKeyCode: vk, Modifiers: modifiers, AutoRepeat: &repeat, Commands: commands,
		})
		if err != nil {
			w.t.Fatal(err)
		}
	}
	for i := range n {
		send(input.DispatchKeyEventTypeRawKeyDown, i > 0)
	}
	if release {
		send(input.DispatchKeyEventTypeKeyUp, false)
	}
}

func (s *site) revision(id string) int64 {
	s.t.Helper()
	rev, err := s.studio.Revision(s.t.Context(), id)
	if err != nil {
		s.t.Fatal(err)
	}
	return rev
}

// TestAHeldKeyIsOneStep holds arrow keys wherever they change something: it is seen at work, and is
// one step when the key is let go, in Mend one mend.
func TestAHeldKeyIsOneStep(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	step := func(what, undo string, before func(), key string, vk int64, n int, modifiers int64) {
		t.Helper()
		before()
		had, was := s.revision(id), s.document(id) // what one undo has to lead to
		w.js("window.held = document.activeElement")
		w.hold(key, key, vk, n, modifiers, false)
		if got := w.text("document.activeElement === window.held"); got != "true" {
			t.Errorf("%s: the focus is lost while the key is held", what)
		}
		if now := s.revision(id); now != had {
			t.Errorf("%s: %d steps while the key is held", what, now-had)
		}
		w.hold(key, key, vk, 0, modifiers, true)
		w.undone(undo)
		w.js("document.activeElement.blur()")
		w.takenBack(s, id, undo, was)
	}
	depth := `document.querySelector('[data-field=depth]')`
	step("a figure", "Depth", func() { w.js(depth + ".focus()") }, "ArrowUp", 38, 40, 0)
	step("a slider", "Depth", func() { w.js("document.querySelector('[data-slider=depth]').focus()") }, "ArrowRight", 39, 12, 0)
	step("a grip", "Depth", func() { w.js("document.querySelector('[data-grip=depth]').focus()") }, "ArrowUp", 38, 25, 0)
	w.key("2")
	w.showsStep("mend")
	w.key("s")
	w.key(".")
	w.wait("document.querySelector('.chosenline')?.textContent")
	step("a shape", "Move", func() { w.key("."); w.key(",") }, "ArrowRight", 39, 30, 0)
	w.hold("ArrowRight", "ArrowRight", 39, 30, 0, true)
	w.undone("Move")
	if list := s.recipe(id).Mends.List; len(list) != 1 {
		t.Errorf("%d mends", len(list))
	} else if mm := list[0].At[0][0] * 25.4 / 96; mm < 0.5 {
		t.Errorf("moved by %g mm only", mm)
	}
	w.key("n")
	w.wait("document.querySelector('.chosenline')?.textContent.includes('nodes')")
	w.key(".")
	w.wait("document.querySelector('.chosenline').textContent.includes('1 chosen')")
	had := len(s.recipe(id).Mends.List)
	w.hold("ArrowUp", "ArrowUp", 38, 50, 0, true)
	w.undone("Move a node by 0 mm, 5 mm")
	if n := len(s.recipe(id).Mends.List); n != had+1 {
		t.Errorf("%d mends of one gesture", n-had)
	}
	w.key("z", ctrlKey)
	w.undone("Move Rectangle")
	w.wait("document.body.dataset.mended === '" + fmt.Sprint(s.revision(id)) + "'")
	// A gesture that is broken off by another act comes first.
	w.hold("ArrowUp", "ArrowUp", 38, 5, 0, false)
	w.key("4")
	w.showsStep("raise")
	w.undone("Move a node by 0 mm, 0.5 mm")
	w.key("5")
	w.wait("document.body.dataset.lit")
	w.click("[data-choice=live]")
	w.wait("document.body.dataset.shown === 'live'")
	step("the camera", "Camera", func() { w.js("document.querySelector('.showframe canvas').focus()") }, "ArrowLeft", 37, 30, 0)
}

// TestActsByKeyHappenOnce holds and repeats the keys of acts.
func TestActsByKeyHappenOnce(t *testing.T) {
	s := run(t, t.TempDir(), false)
	s.studio.UsePrinter("127.0.0.1:1", time.Hour)
	id := s.made("plate.svg", square)
	w := window(t, s.address+"/pieces/"+id+"/show", 960, 560, roughly)
	w.wait("document.body.dataset.lit")
	w.choose("What is shown beside", "results")
	w.set("side", "96 px")
	w.js("document.activeElement.blur()")
	w.hold("Enter", "Enter", 13, 30, ctrlKey, true)
	w.wait("JSON.parse(document.body.dataset.orders ?? '[]').length === 1 || document.querySelectorAll('.orders > li').length === 1")
	w.key("6")
	w.showsStep("release")
	w.hold("Enter", "Enter", 13, 30, ctrlKey, true)
	w.wait("document.body.dataset.prints === '[\"sending\"]'")
	if list, err := s.studio.Prints(t.Context(), id); err != nil || len(list) != 1 {
		t.Errorf("%d prints, %v", len(list), err)
	}
	if list, err := s.studio.Orders(t.Context(), id); err != nil || len(list) != 1 {
		t.Errorf("%d orders, %v", len(list), err)
	}
	// Twice at once.
	w.js("document.querySelector('[data-act=send-print]').click(), document.querySelector('[data-act=send-print]').click()")
	w.wait("document.body.dataset.prints === '[\"sending\",\"sending\"]'")
}

// TestDialogsCarryWork opens a dialog while something works: its Cancel and messages lie above the
// dialog and answer to the mouse; digits and Ctrl Z are not for what lies behind.
func TestDialogsCarryWork(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", square)
	w := open(t, s.address+"/pieces/"+id+"/size")
	w.showsStep("size")
	s.change(id, "Width", &recipe.SetSize{MM: new(42.0)})
	w.undone("Width")
	rev := s.revision(id)
	w.click("#versions")
	w.wait("document.querySelector('dialog.versions')?.dataset.versions === '0'")
	w.js(`import('/static/js/frame/jobs.js').then(({ run }) => run('Carving', (job) => new Promise((done, no) => {
		job.signal.addEventListener('abort', () => {
			window.cut = true;
			no(new DOMException('cut', 'AbortError'));
		});
	}))).catch(() => {})`)
	w.wait("!document.getElementById('busy').hidden && document.querySelector('dialog.versions #busy')")
	hit := func(selector string) {
		t.Helper()
		at := w.place("document.querySelector(`" + selector + "`).getBoundingClientRect()")
		w.do(chromedp.MouseClickXY(at[0], at[1]))
	}
	hit("#cancel")
	w.wait("window.cut && document.getElementById('busy').hidden")
	w.js(`import('/static/js/lib/page.js').then(({ say }) => say('Gulls ahead', { action: 'Look', act: () => (window.looked = true) }))`)
	w.wait("document.querySelector('dialog .message-line .answer')")
	hit(".message-line .answer")
	w.wait("window.looked")
	w.js("document.querySelector('.versionform button').focus()")
	w.key("3")
	w.key("4")
	w.key("z", ctrlKey)
	w.key(escapeKey)
	w.wait("!document.querySelector('dialog') && document.querySelector('#strip #busy') && document.querySelector('body > #messages')")
	if s.revision(id) != rev || w.text("document.body.dataset.step") != "size" {
		t.Error("keys reached what lies behind a dialog")
	}
}

// dialogs answers the browser's own dialogs and counts them.
func (w *tab) dialogs(accept bool) (count func() int) {
	w.t.Helper()
	var mu sync.Mutex
	n := 0
	opened := chromedp.Events(w.ctx, page.JavascriptDialogOpening)
	go func() {
		for _, err := range opened {
			if err != nil {
				return
			}
			mu.Lock()
			n++
			mu.Unlock()
			chromedp.Call(w.ctx, page.HandleJavaScriptDialog, page.HandleJavaScriptDialogParams{Accept: accept})
		}
	}()
	return func() int {
		mu.Lock()
		defer mu.Unlock()
		return n
	}
}

func (w *tab) types(text string) {
	w.t.Helper()
	for _, r := range text {
		w.key(string(r))
	}
}

// TestTypedTextIsNotLost types names and lettering and leaves: one is asked, and what is typed is
// there when one stays. Ctrl Z in a field is the field's.
func TestTypedTextIsNotLost(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := open(t, s.address+"/pieces/"+id+"/mend")
	w.showsStep("mend")
	s.change(id, "Width", &recipe.SetSize{MM: new(42.0)})
	w.undone("Width")
	rev := s.revision(id)
	w.js("document.getElementById('piecename').focus()")
	w.types("Quay")
	w.key("z", ctrlKey)
	w.key("y", ctrlKey)
	if s.revision(id) != rev {
		t.Error("Ctrl Z in the name took the piece back")
	}
	asked := w.dialogs(true)
	w.reload()
	w.showsStep("mend")
	if asked() != 1 {
		t.Errorf("leaving a name that is typed asked %d times", asked())
	}
	w.key("4")
	w.showsStep("raise")
	w.key("2")
	w.showsStep("mend")
	// Lettering, which becomes a mend only when it is added.
	w.key("a")
	w.pick("[data-add=kind]", "lettering")
	w.wait("document.querySelector('textarea.lettering')")
	w.js("document.querySelector('textarea.lettering').focus()")
	w.types("Pier 7")
	w.js("document.querySelector('.rail a[data-step=raise]').click()")
	w.wait("document.querySelector('dialog.unsaved')?.textContent.includes('The lettering, “Pier 7”')")
	w.click("[data-act=stay]")
	w.wait("!document.querySelector('dialog') && document.body.dataset.step === 'mend' && " +
		"document.querySelector('textarea.lettering').value === 'Pier 7'")
	w.js("history.back()")
	w.wait("document.querySelector('dialog.unsaved') && location.pathname.endsWith('/raise')")
	w.click("[data-act=stay]")
	w.wait("!document.querySelector('dialog') && location.pathname.endsWith('/mend')")
	w.click("[data-choice=shapes]")
	w.js("document.querySelector('.rail a[data-step=raise]').click()")
	w.click("[data-act=stay]")
	w.click("[data-choice=add]")
	w.click("[data-add=do]")
	w.undone("Add: lettering")
	w.js("document.querySelector('.rail a[data-step=raise]').click()")
	w.showsStep("raise")
	// A version's name.
	w.click("#versions")
	w.wait("document.querySelector('dialog.versions')?.dataset.versions === '0'")
	w.types("Before")
	w.key(escapeKey)
	w.wait("document.querySelector('dialog.unsaved')")
	w.key(escapeKey) // stays
	w.wait("!document.querySelector('dialog.unsaved') && document.querySelector('.versionform input').value === 'Before'")
	w.js("[...document.querySelectorAll('dialog.versions button')].find(b => b.textContent === 'Close').click()")
	w.click("[data-act=leave]")
	w.wait("!document.querySelector('dialog')")
	if asked() != 1 {
		t.Errorf("the browser asked %d times", asked())
	}
}

// withoutGL makes a window whose browser draws no 3D.
func withoutGL(t *testing.T, address string) *tab {
	t.Helper()
	w := window(t, "about:blank", 1100, 600, roughly) // smaller views are drawn sooner
	w.before(`
		const real = HTMLCanvasElement.prototype.getContext;
		HTMLCanvasElement.prototype.getContext = function (kind, ...a) { return /webgl/.test(kind) ? null : real.call(this, kind, ...a); };`)
	w.do(chromedp.Navigate(address))
	return w
}

// TestWithoutAGraphicsCard goes through all steps in a browser that draws no 3D: the server draws what
// is looked at, and it is what it should be.
func TestWithoutAGraphicsCard(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := withoutGL(t, s.address+"/pieces/"+id+"/intake")
	for i, step := range []string{"intake", "mend", "size", "raise", "show", "release"} {
		w.key(fmt.Sprint(i + 1))
		w.showsStep(step)
	}
	w.wait("document.body.dataset.checked")
	w.key("4")
	w.showsStep("raise")
	w.wait("document.body.dataset.painted")
	// The picture shows the piece in its colours, in the middle of the view.
	painted := func() (red, blue float64) { // shares of the view
		t.Helper()
		raw := w.text(`((c) => {
			const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
			const n = [0, 0];
			for (let i = 0; i < d.length; i += 4) if (d[i + 3] > 250) n[d[i] > d[i + 2] ? 0 : 1] += Math.abs(d[i] - d[i + 2]) > 25;
			return n.map((v) => (4 * v) / d.length).join(' ');
		})(document.querySelector('.view canvas'))`)
		if _, err := fmt.Sscan(raw, &red, &blue); err != nil {
			t.Fatal(raw, err)
		}
		return red, blue
	}
	if red, blue := painted(); red < 0.01 || blue < 0.03 {
		t.Errorf("the red and blue plates cover %g and %g of the view", red, blue)
	}
	n := w.text("document.body.dataset.painted")
	w.key("c") // clay or wire
	w.click(".standtools [data-choice=clay]")
	w.wait("document.body.dataset.painted > " + n)
	if red, blue := painted(); red < 0.05 || blue > 0 {
		t.Errorf("of clay, %g and %g of the view are red and blue", red, blue)
	}
	n = w.text("document.body.dataset.painted")
	w.js("document.querySelector('.view canvas').focus()")
	w.key(arrowLeft)
	w.wait("document.body.dataset.painted > " + n)
	n = w.text("document.body.dataset.painted")
	w.set("depth", "11 mm")
	w.undone("Depth")
	w.wait("document.body.dataset.painted > " + n)
	w.key("5")
	w.wait("document.body.dataset.shown === 'rough' || document.body.dataset.shown === 'fine'")
	w.key("l") // there is no live view, and it is said
	w.wait("document.getElementById('messages').textContent.includes('draws no 3D')")
	w.click("#versions")
	w.wait("document.querySelector('dialog.versions')?.dataset.versions === '0'")
	w.js("document.querySelector('.versionform input').value = 'Then'")
	w.click(".versionform button")
	w.click(".versionlist .acts button")
	w.js("document.querySelector('dialog.versions').close()")
	s.change(id, "Width", &recipe.SetSize{MM: new(42.0)})
	w.undone("Width")
	w.click("#versions")
	w.click(".versionlist .acts button")
	w.wait("document.querySelector('.twins').dataset.drawn === '1'")
}

// TestComparingGivesBack compares again and again: no drawing surface stays behind.
func TestComparingGivesBack(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", square)
	if _, err := s.studio.KeepVersion(t.Context(), id, "Then"); err != nil {
		t.Fatal(err)
	}
	s.change(id, "Width", &recipe.SetSize{MM: new(42.0)})
	w := window(t, "about:blank", 1100, 600, roughly) // smaller views are drawn sooner
	w.before(`
		window.surfaces = [];
		const real = HTMLCanvasElement.prototype.getContext;
		HTMLCanvasElement.prototype.getContext = function (kind, ...a) {
			const c = real.call(this, kind, ...a);
			if (/webgl/.test(kind) && c && !window.surfaces.includes(c)) window.surfaces.push(c);
			return c;
		};`)
	w.do(chromedp.Navigate(s.address + "/pieces/" + id + "/size"))
	w.showsStep("size")
	const alive = "window.surfaces.filter(c => !c.isContextLost()).length"
	for i := range 5 {
		w.click("#versions")
		w.click(".versionlist .acts button")
		if i == 2 { // closed before they are raised
			w.key(escapeKey)
			w.wait("!document.querySelector('dialog') && document.getElementById('busy').hidden")
			continue
		}
		w.wait("document.querySelector('.twins')?.dataset.yaw === '0.55' && document.querySelector('.twins').dataset.drawn > 0")
		if n := w.text(alive); n != "1" {
			t.Errorf("%s surfaces while one is looked at", n)
		}
		if i%2 == 0 {
			w.key(escapeKey)
		} else {
			w.js("document.querySelector('dialog.versions').close()")
		}
		w.wait("!document.querySelector('dialog') && " + alive + " === 0")
	}
}

// TestTheEntryComesInBetween ends the session in the middle of work: the passphrase is asked for on the
// page itself, and what was begun is done.
func TestTheEntryComesInBetween(t *testing.T) {
	address := entered(t)
	w := open(t, address+"/")
	enter := func(form string) {
		t.Helper()
		w.wait("document.querySelector('" + form + " [type=password]')")
		w.js("document.querySelector('" + form + " [type=password]').focus()")
		w.types(secret)
		w.key(enterKey)
	}
	enter("form.entry")
	w.wait("document.body.dataset.ready")
	w.drop("sign.svg", square)
	w.wait("location.pathname.endsWith('/raise') && " + settled)
	path := w.text("location.pathname")
	forget := func() {
		t.Helper()
		if _, err := chromedp.Call(w.ctx, cdpnet.ClearBrowserCookies, cdp.Empty{}); err != nil {
			t.Fatal(err)
		}
	}
	forget()
	w.ignore("status of 401")
	w.js("(f => { f.value = 'Quay'; f.dispatchEvent(new Event('change')); })(document.getElementById('piecename'))")
	w.wait("document.querySelector('dialog.again')")
	w.types("wrong words here")
	w.key(enterKey)
	w.ignore("status of 403")
	w.wait("document.querySelector('dialog.again .verdict').textContent.includes('not the passphrase')")
	enter("dialog.again")
	w.undone("Name")
	if got := w.text("location.pathname"); got != path {
		t.Errorf("the page is %s, it was %s", got, path)
	}
	// Who opens a page without a session comes to it through the entry.
	forget()
	w.do(chromedp.Navigate(address + path))
	enter("form.entry")
	w.wait("location.pathname === '" + path + "' && " + settled)
}

// cable is a line to an address that can be cut.
type cable struct {
	mu    sync.Mutex
	ln    net.Listener
	to    string
	conns []net.Conn
	cut   bool
}

func newCable(t *testing.T, to string) *cable {
	t.Helper()
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	c := &cable{ln: ln, to: to}
	t.Cleanup(func() { c.set(true); ln.Close() })
	go func() {
		for {
			in, err := ln.Accept()
			if err != nil {
				return
			}
			go c.carry(in)
		}
	}()
	return c
}

func (c *cable) carry(in net.Conn) {
	c.mu.Lock()
	out, err := net.Dial("tcp", c.to)
	if c.cut || err != nil {
		c.mu.Unlock()
		in.Close()
		return
	}
	c.conns = append(c.conns, in, out)
	c.mu.Unlock()
	go func() { io.Copy(out, in); out.Close() }()
	io.Copy(in, out)
	in.Close()
}

func (c *cable) set(cut bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.cut = cut
	for _, k := range c.conns {
		k.Close()
	}
	c.conns = nil
}

// TestLostContactIsSaid cuts the line: the page says so, finds it again by itself, and learns what was
// changed meanwhile.
func TestLostContactIsSaid(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", square)
	line := newCable(t, strings.TrimPrefix(s.address, "http://"))
	w := open(t, "http://"+line.ln.Addr().String()+"/pieces/"+id+"/size")
	w.ignore("net::ERR")
	w.showsStep("size")
	w.wait("document.body.dataset.contact === 'found'")
	line.set(true)
	w.wait("document.body.dataset.contact === 'lost' && document.getElementById('saved').textContent === 'No contact'")
	s.change(id, "Width", &recipe.SetSize{MM: new(42.0)})
	line.set(false)
	w.wait("document.body.dataset.contact === 'found' && document.getElementById('saved').textContent === 'Saved'")
	w.undone("Width")
}

// TestMeasuresAreReadAlike reads the measures that the server's reader is tested with, in the page.
func TestMeasuresAreReadAlike(t *testing.T) {
	raw, err := os.ReadFile("../core/units/testdata/measures.json")
	if err != nil {
		t.Fatal(err)
	}
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := showing(t, s, id)
	w.js(`void import('/static/js/lib/length.js').then(({ read }) => {
		const near = (a, b) => Math.abs(a - b) <= 1e-9 * Math.abs(b);
		const v = ` + string(raw) + `;
		const refused = (r, unclear) => Number.isNaN(r.value) && r.why && r.why.includes(' can be ') === !!unclear;
		const wrong = (want, unclear, r) => (want === undefined ? !refused(r, unclear) : !near(r.value, want) || r.why);
		const bad = [
			...v.lengths.filter((l) => wrong(l.mm, l.unclear, read(l.text))),
			...v.figures.filter((f) => wrong(f.value, f.unclear, read(f.text, f.unit))),
		];
		window.said = JSON.stringify({ bad, tried: v.lengths.length + v.figures.length });
	})`)
	w.wait("window.said")
	said := w.text("window.said")
	if !strings.HasPrefix(said, `{"bad":[],"tried":6`) {
		t.Errorf("read otherwise: %s", said)
	}
	// In the fields: a length is no angle, a length in a key's value is one.
	w.click("[data-choice=camera]")
	w.js(`(f => {
		f.focus();
		f.value = '2cm';
		for (const kind of ['input', 'change']) f.dispatchEvent(new Event(kind));
	})(document.querySelector('[data-field="camera.turn"], [data-field=turn]'))`)
	w.wait("[...document.querySelectorAll('.field-error')].some(e => !e.hidden && e.textContent.includes('one with °'))")
	w.js("document.activeElement.blur()")
	w.pick("[data-time=thing]", "piece")
	w.pick("[data-time=what]", "right")
	w.click("[data-time=set-key]")
	w.undone("Key of Piece")
	w.js("(f => { f.value = '2cm'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-key-field=value]'))")
	w.wait("document.querySelector('[data-key-field=value]').value === '20'")
	if got := s.keysOf(id, "piece", "right"); !strings.HasPrefix(got, "0:20") {
		t.Errorf("the key is %s", got)
	}
	w.js("(f => { f.value = '1,000'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-key-field=value]'))")
	w.wait("document.getElementById('messages').textContent.includes('1,000 can be 1.000 or 1000') && " +
		"document.querySelector('[data-key-field=value]').value === '20'")
}
