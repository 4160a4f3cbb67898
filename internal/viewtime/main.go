// Command viewtime measures how soon a piece of many colours is seen in Raise, in headless Chromium, which
// draws in software: the first bodies, all of them and the engine's own time for the same; how often the
// view is drawn while it is turned; how soon a figure that is dragged is seen on a hundred parts; what the
// page takes of memory.
//
//	go run ./internal/viewtime [-file FILE.svg]
package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"log"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/systeminfo"
	"github.com/chromedp/chromedp"
	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
	"bildhauer/demo"
	"bildhauer/internal/browser"
	"bildhauer/studio"
	"bildhauer/web"
)

func main() {
	file := flag.String("file", "", "an artwork file in the place of the demo's")
	flag.Parse()
	if err := measure(*file); err != nil {
		log.Fatal(err)
	}
}

// artwork returns the file that is measured.
func artwork(path string) (studio.File, error) {
	if path == "" {
		data, err := demo.File("harbour-view.svg")
		return studio.File{Name: "harbour-view.svg", Data: data}, err
	}
	data, err := os.ReadFile(path)
	return studio.File{Name: filepath.Base(path), Data: data}, err
}

func measure(path string) error {
	file, err := artwork(path)
	if err != nil {
		return err
	}
	own, err := engine(file)
	if err != nil {
		return err
	}
	root, stop, err := browser.Start()
	if err != nil {
		return err
	}
	defer stop()
	if err := shown(root, file, own); err != nil {
		return err
	}
	return dragged(root, file)
}

// house is a studio with the piece, served on a port of its own.
type house struct {
	studio *studio.Studio
	app    *fiber.App
	id     string
	url    string
	dir    string
}

func open(file studio.File, palette recipe.Palette) (*house, error) {
	dir, err := os.MkdirTemp("", "bildhauer-viewtime-")
	if err != nil {
		return nil, err
	}
	h := &house{dir: dir}
	if h.studio, err = studio.New(dir); err != nil {
		return nil, err
	}
	ctx := context.Background()
	if h.id, err = h.studio.Create(ctx, file); err != nil {
		return nil, err
	}
	mm, by := 200.0, recipe.Width
	change := recipe.Change{Label: "Colours", Edits: []recipe.Edit{&recipe.SetSize{By: &by, MM: &mm}, &recipe.SetParts{Palette: &palette}}}
	_, err = h.studio.Change(ctx, h.id, studio.Latest, change)
	return h, err
}

func (h *house) serve() error {
	app, err := web.New(h.studio)
	if err != nil {
		return err
	}
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	h.app, h.url = app, "http://"+ln.Addr().String()+"/pieces/"+h.id+"/raise"
	go app.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	return nil
}

// visit opens the piece in a window of its own and waits until its bodies are there.
func (h *house) visit(root context.Context) (context.Context, func(), error) {
	if err := h.serve(); err != nil {
		return nil, nil, err
	}
	// The little picture of a piece is kept since it was last changed.
	r, err := http.Get(strings.TrimSuffix(h.url, "raise") + "thumb.svg")
	if err != nil {
		return nil, nil, err
	}
	r.Body.Close()
	ctx, end, err := browser.Tab(root, 5*time.Minute)
	if err != nil {
		return nil, nil, err
	}
	if err = chromedp.Do(ctx, chromedp.Navigate(h.url)); err == nil {
		err = browser.Wait(ctx, "document.body.dataset.solids && document.getElementById('busy').hidden")
	}
	return ctx, end, err
}

func (h *house) close() {
	if h.app != nil {
		h.app.ShutdownWithTimeout(time.Second)
	}
	h.studio.Close()
	os.RemoveAll(h.dir)
}

// runs is how often what takes a second is measured; the one in the middle counts.
const runs = 5

// engine raises all parts where nobody looks and returns how many ms that takes.
func engine(file studio.File) (float64, error) {
	var took []float64
	var last string
	for range runs {
		ms, triangles, parts, err := raised(file)
		if err != nil {
			return 0, err
		}
		took = append(took, ms)
		last = fmt.Sprintf("engine alone: %d parts, %d triangles", parts, triangles)
	}
	sort.Float64s(took)
	fmt.Printf("%s, %.0f ms (%.0f to %.0f)\n", last, took[runs/2], took[0], took[runs-1])
	return took[runs/2], nil
}

// raised does it once, each part's outlines known already, as they are when the page asks.
func raised(file studio.File) (ms float64, triangles, parts int, err error) {
	h, err := open(file, recipe.Palette{})
	if err != nil {
		return 0, 0, 0, err
	}
	defer h.close()
	p, err := h.studio.Piece(context.Background(), h.id)
	if err != nil {
		return 0, 0, 0, err
	}
	if _, err := h.studio.View(context.Background(), p); err != nil {
		return 0, 0, 0, err
	}
	begun := time.Now()
	list, err := h.studio.Solids(context.Background(), p)
	ms = time.Since(begun).Seconds() * 1000
	for _, s := range list {
		triangles += len(s.Mesh.Tris)
	}
	return ms, triangles, len(list), err
}

// mark returns when the page set a mark, ms.
func mark(ctx context.Context, name string) (float64, error) {
	return browser.Eval[float64](ctx, "performance.getEntriesByName('"+name+"').at(-1).startTime")
}

// shown opens the page and tells how soon bodies were there, then how the view turns and what it takes.
func shown(root context.Context, file studio.File, own float64) error {
	marks := [2]string{"solids first", "solids all"}
	var took [2][]float64
	for i := range runs {
		err := func() error {
			h, err := open(file, recipe.Palette{})
			if err != nil {
				return err
			}
			defer h.close()
			ctx, end, err := h.visit(root)
			if err != nil {
				return err
			}
			defer end()
			begin, err := mark(ctx, "solids asked")
			for k, name := range marks {
				at, wrong := mark(ctx, name)
				err = errors.Join(err, wrong)
				took[k] = append(took[k], at-begin)
			}
			if err != nil || i < runs-1 {
				return err
			}
			return errors.Join(turned(ctx), memory(root))
		}()
		if err != nil {
			return err
		}
	}
	for k, list := range took {
		sort.Float64s(list)
		mid := list[runs/2]
		fmt.Printf("%s there after %.0f ms (%.0f to %.0f), %.2f of the engine's time\n", marks[k], mid, list[0], list[runs-1], mid/own)
	}
	return nil
}

// turned turns the view by its keys for some seconds and counts the pictures, each waited for.
func turned(ctx context.Context) error {
	time.Sleep(3 * time.Second) // what is drawn while it moves is prepared when there is time
	v, err := evalLater[string](ctx, `(async () => {
		const canvas = document.querySelector('#view canvas');
		const gl = canvas.getContext('webgl2');
		const px = new Uint8Array(4);
		const frame = () => new Promise((r) => requestAnimationFrame(() => { gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, px); r(); }));
		const press = () => canvas.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowLeft', bubbles: true}));
		for (let i = 0; i < 6; i++) { press(); await frame(); }
		const times = [];
		const until = performance.now() + 4000;
		while (performance.now() < until) {
			const begun = performance.now();
			press();
			await frame();
			times.push(performance.now() - begun);
		}
		const drawn = document.body.dataset.drawn;
		times.sort((a, b) => a - b);
		const rate = 1000 * times.length / times.reduce((a, b) => a + b, 0);
		return 'drawn while turning: ' + drawn + ', ' + rate.toFixed(1) +
			' pictures a second, the slowest took ' + times.at(-1).toFixed(0) + ' ms';
	})()`)
	fmt.Println(v)
	return err
}

// memory tells what the largest page takes, by what the system says of its process.
func memory(root context.Context) error {
	info, err := cdp.Call(root, chromedp.FromContext(root).Browser, systeminfo.GetProcessInfo, cdp.Empty{})
	if err != nil {
		return err
	}
	largest := 0
	for _, p := range info.ProcessInfo {
		if p.Type != "renderer" {
			continue
		}
		raw, err := os.ReadFile(fmt.Sprintf("/proc/%d/smaps_rollup", p.ID))
		if err != nil {
			continue
		}
		kb, private := 0, 0
		for _, line := range strings.Split(string(raw), "\n") {
			if n, _ := fmt.Sscanf(line, "Private_Dirty: %d kB", &kb); n == 1 {
				private += kb
			}
		}
		largest = max(largest, private)
	}
	fmt.Printf("the page takes %d MB\n", largest/1024)
	return nil
}

// dragged drags the depth of all parts of a piece of about a hundred and waits for each picture.
func dragged(root context.Context, file studio.File) error {
	h, err := open(file, recipe.Palette{Distance: 2.9})
	if err != nil {
		return err
	}
	defer h.close()
	ctx, end, err := h.visit(root)
	if err != nil {
		return err
	}
	defer end()
	time.Sleep(3 * time.Second)
	for _, c := range [][2]string{{"all parts", "*"}, {"one part", ""}} {
		times, err := evalLater[[]float64](ctx, `(async () => {
			const rows = [...document.querySelectorAll('#parts [data-part]')];
			(rows.find((r) => r.dataset.part === '`+c[1]+`') ?? rows[3]).click();
			const canvas = document.querySelector('#view canvas');
			const gl = canvas.getContext('webgl2');
			const px = new Uint8Array(4);
			const slider = document.querySelector('[data-slider=depth]');
			const times = [];
			for (let i = 0; i < 48; i++) {
				const was = document.body.dataset.solids;
				const begun = performance.now();
				slider.value = 6 + 0.1 * i;
				slider.dispatchEvent(new Event('input', {bubbles: true}));
				while (document.body.dataset.solids === was) await new Promise((r) => setTimeout(r, 1));
				await new Promise((r) => requestAnimationFrame(() => { gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, px); r(); }));
				if (i >= 4) times.push(performance.now() - begun);
			}
			return times;
		})()`)
		if err != nil {
			return err
		}
		sort.Float64s(times)
		parts, _ := browser.Eval[string](ctx, "document.querySelector('#parts .part .who span').textContent")
		fmt.Printf("a drag on %s of %s: %.0f ms at the median, %.0f ms at p95\n", c[0], parts, times[len(times)/2], times[len(times)*95/100])
	}
	return nil
}

// evalLater is browser.Eval for what is a promise.
func evalLater[T any](ctx context.Context, expression string) (out T, err error) {
	if _, err = browser.Eval[string](ctx, "window.later = undefined, ("+expression+").then((v) => (window.later = JSON.stringify(v))), ''"); err != nil {
		return out, err
	}
	if err = browser.Wait(ctx, "window.later !== undefined"); err != nil {
		return out, err
	}
	text, err := browser.Eval[string](ctx, "window.later")
	if err == nil {
		err = json.Unmarshal([]byte(text), &out)
	}
	return out, err
}
