// Command shots takes the pictures of docs/screenshots from the demo data, and makes those of
// docs/pictures, which show two demo pieces.
//
//	go run ./internal/shots [-o DIR] [-only NAME]
package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"log"
	"net"
	"os"
	"path/filepath"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/gofiber/fiber/v3"

	"bildhauer/core/print"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/demo"
	"bildhauer/internal/browser"
	"bildhauer/printer"
	"bildhauer/studio"
	"bildhauer/web"
)

type shot struct{ name, piece, step, script, ready string }

var shots = []shot{
	{"home", "", "", "", "document.images.length > 2 && [...document.images].every(i => i.complete)"},
	{"intake", "Tide clock", "intake", "", "document.querySelectorAll('.shaperow').length"},
	{"mend", "Gull crest", "mend", "", outcomes},
	{"mend-fur", "Ships cat", "mend", "", "document.querySelector('.findmark.many') && " + outcomes},
	{"mend-change", "Gull crest", "mend", changeScript, outcomes + " && (!document.body.dataset.wanted || document.querySelector('.proposed path'))"},
	{"size", "Compass badge", "size", sizeScript, "document.querySelectorAll('.dimtext').length"},
	{"raise-badge", "Compass badge", "raise", "", "document.body.dataset.solids"},
	{
		"raise-clock",
		"Tide clock",
		"raise",
		"document.querySelector('[data-part=c2f737e]').click()",
		"document.body.dataset.solids",
	},
	{"colours-view", "Harbour view", "raise", gatherScript, gathered},
	{"colours-locker", "Ferry locker", "raise", gatherScript, gathered},
	{"raise-view", "Harbour view", "raise", reliefScript, "document.body.dataset.solids && document.querySelector('[data-group=relief] .across rect')"},
	{"raise-locker", "Ferry locker", "raise", reliefScript, "document.body.dataset.solids && document.querySelector('[data-group=relief] .across rect')"},
	{
		"zebra",
		"Tide clock",
		"raise",
		"document.querySelector('.standtools [data-choice=zebra]').click(), document.querySelector('[data-stand=cut]').click()",
		"document.body.dataset.solids",
	},
	{
		"profile",
		"Gull crest",
		"raise",
		"document.querySelector('[data-part=c214a6b]').click(), document.querySelector('[data-group=front] [data-profile=custom]').click()",
		"document.body.dataset.solids",
	},
	{"show", "Compass badge", "show", foldScript, traced},
	{"show-time", "Tide clock", "show", timeScript, traced},
	{
		"release",
		"Pier key tag",
		"release",
		"document.querySelector('.checksview').scrollTop = 290",
		laid,
	},
	{
		"release-layers",
		"Pier key tag",
		"release",
		layersScript,
		laid + " && (!document.body.dataset.wanted || document.body.dataset.layer === '3')",
	},
	{
		"release-printer",
		"Compass badge",
		"release",
		printerScript,
		laid + ` && (!document.body.dataset.wanted || document.querySelector('.print.printing') && Number(document.body.dataset.layer) > 5
			&& document.querySelector('.print').textContent.includes('layer ' + document.body.dataset.layer + ' of'))`,
	},
}

// gatherScript opens the colours beside the original, gathered waits for them.
const (
	gatherScript = "document.querySelector('[data-parts=colours]').click()"
	gathered     = "document.body.dataset.solids && (!document.querySelector('dialog.inks') || document.body.dataset.inks)"
	reliefScript = "document.querySelector('[data-group=relief]').open = true, document.querySelector('[data-group=relief]').scrollIntoView()"
)

// outcomes waits for both ends of a decision, changeScript holds the key that shows what it changes.
const (
	outcomes     = "document.querySelector('.outcomes')?.dataset.shown === 'true'"
	changeScript = "document.body.dataset.wanted = 'change', ['g', 'c'].forEach((key) => window.dispatchEvent(new KeyboardEvent('keydown', {key})))"
)

// sizeScript draws a frame around the piece.
const sizeScript = "(f => { f.value = '0'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-frame]'))"

// laid waits until the print is laid out.
const laid = "document.body.dataset.rehearsed && document.getElementById('busy').hidden"

// layersScript shows a layer in which the lettering is left open.
const layersScript = `(async () => {
	document.body.dataset.wanted = "3";
	document.querySelector('[data-choice=print]').click();
	document.querySelector('[data-choice=layers]').click();
	const set = (f) => { f.value = "3"; f.dispatchEvent(new Event("input")); };
	while (!document.body.dataset.layer) await new Promise(r => setTimeout(r, 100));
	set(document.querySelector('[data-scene=layer]'));
})()`

// printerScript sends the piece to the printer.
const printerScript = `(async () => {
	document.body.dataset.wanted = "print";
	document.querySelector('[data-choice=print]').click();
	document.querySelector('[data-choice=printer]').click();
	document.querySelector('[data-act=send-print]').click();
})()`

// traced waits until the picture over the live view is as fine as it gets.
const traced = "document.body.dataset.shown === 'fine' && document.getElementById('busy').hidden"

// foldScript leaves more room for the picture.
const foldScript = "document.querySelector('[data-show=time]').click()"

// timeScript goes into the middle of the clip and selects keys.
const timeScript = `(f => {
	f.value = "58";
	f.dispatchEvent(new Event("change"));
	delete document.body.dataset.shown; // of the frame before
	document.querySelector('.timename:nth-child(2) button').click();
})(document.querySelector('[data-time=frame]'))`

func main() {
	out := flag.String("o", "docs/screenshots", "")
	only := flag.String("only", "", "")
	flag.Parse()
	if err := run(*out, *only); err != nil {
		log.Fatal(err)
	}
}

func run(out, only string) error {
	dir, err := os.MkdirTemp("", "bildhauer-shots-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	st, err := studio.New(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := demo.Fill(context.Background(), st); err != nil {
		return err
	}
	device, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	ctx, end := context.WithCancel(context.Background())
	defer end()
	go printer.Serve(ctx, device, printer.New("Quay workshop", print.Beds["180"], 400))
	st.UsePrinter(device.Addr().String(), 300*time.Millisecond)
	app, err := web.New(st)
	if err != nil {
		return err
	}
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	go app.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	defer app.Shutdown()
	list, err := st.Pieces(context.Background())
	if err != nil {
		return err
	}
	ids := map[string]string{}
	for _, p := range list {
		ids[p.Recipe.Name] = p.ID
	}
	if err := clips(st, ids, only); err != nil {
		return err
	}
	if err := pictures(st, ids, only); err != nil {
		return err
	}
	root, stop, err := browser.Start()
	if err != nil {
		return err
	}
	defer stop()
	if err := os.MkdirAll(out, 0o755); err != nil {
		return err
	}
	for _, s := range shots {
		if only != "" && only != s.name {
			continue
		}
		address := "http://" + ln.Addr().String() + "/"
		if s.piece != "" {
			address += "pieces/" + ids[s.piece] + "/" + s.step
		}
		png, err := take(root, address, s)
		if err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
		if err := os.WriteFile(filepath.Join(out, s.name+".png"), png, 0o644); err != nil {
			return err
		}
		fmt.Println(s.name)
	}
	return nil
}

// pictures makes those of docs/pictures.
func pictures(st *studio.Studio, ids map[string]string, only string) error {
	for file, c := range map[string]struct {
		piece string
		frame float64
	}{"tide-clock": {"Tide clock", 124}, "compass-badge": {"Compass badge", 0}} {
		if only != "" && only != file {
			continue
		}
		p, err := st.Piece(context.Background(), ids[c.piece])
		if err != nil {
			return err
		}
		data, err := st.Picture(context.Background(), p, studio.Shot{Width: 560, Height: 420, Samples: 160, Frame: c.frame})
		if err != nil {
			return err
		}
		if err := os.MkdirAll("docs/pictures", 0o755); err != nil {
			return err
		}
		if err := os.WriteFile(filepath.Join("docs/pictures", file+".png"), data, 0o644); err != nil {
			return err
		}
		fmt.Println("picture of", c.piece)
	}
	return nil
}

// clips makes the moving pictures of docs/pictures: the ident of the clock as the demo has it, and the badge, whose
// parts spring out one after the other while the camera goes along a path.
func clips(st *studio.Studio, ids map[string]string, only string) error {
	for file, c := range map[string]struct {
		piece string
		acts  []show.Act
	}{
		"tide-clock-ident": {"Tide clock", nil},
		"compass-badge-springs": {"Compass badge", []show.Act{
			{Move: "spring out", Order: "from the middle", Frames: 50, Overlap: 0.75, Unit: "part"},
			{Move: "past", Kept: &flight, Frames: 124},
		}},
	} {
		if only != "" && only != file {
			continue
		}
		if err := clip(st, ids[c.piece], c.acts, filepath.Join("docs/pictures", file+".png")); err != nil {
			return err
		}
		fmt.Println("clip of", c.piece)
	}
	return nil
}

// flight takes the camera from low on the left past the front to high on the right, as fast everywhere.
var flight = recipe.Motion{
	Tracks: []recipe.Track{{Of: recipe.OfCamera, What: recipe.Along, Keys: []recipe.Key{{Ease: "both"}, {Frame: 124, Value: 1}}}},
	Paths: []recipe.Path{{Of: recipe.OfCamera, Even: true, Points: []recipe.PathPoint{
		{At: [3]float64{-300, -15, 260}}, {At: [3]float64{-40, 60, 330}}, {At: [3]float64{250, 170, 330}},
	}}},
}

// Each fifth frame of 25 a second is enough to see how things move.
const (
	clipStep = 5
	clipRate = 25
)

// apart makes parts of their own of all outlines of parts that have several, raised and painted as these are.
func apart(st *studio.Studio, p *studio.Piece) error {
	ctx := context.Background()
	whole, err := st.Shown(ctx, *p, 0)
	if err != nil {
		return err
	}
	r := &p.Recipe
	for _, id := range whole.MasksOf() {
		keys, err := st.Outlines(ctx, *p, id)
		if err != nil {
			return err
		}
		for n, key := range keys[1:] {
			how := r.Parts.Measures(id)
			one := recipe.Part{ID: fmt.Sprintf("%s-%d", id, n+2), How: &how, Role: r.Parts.RoleOf(id)}
			one.Takes.Outlines = []string{key}
			r.Parts.List = append(r.Parts.List, one)
			for _, paint := range r.Scene.Paints {
				if paint.Part == id {
					paint.Part = one.ID
					r.Scene.Paints = append(r.Scene.Paints, paint)
				}
			}
		}
	}
	return r.Check()
}

// clip writes a piece as it moves.
func clip(st *studio.Studio, id string, acts []show.Act, to string) error {
	ctx := context.Background()
	p, err := st.Piece(ctx, id)
	if err != nil {
		return err
	}
	if acts != nil {
		p.Recipe = p.Recipe.Clone()
		if err := apart(st, &p); err != nil {
			return err
		}
		at, err := st.Shown(ctx, p, 0)
		if err != nil {
			return err
		}
		for _, a := range acts {
			for _, s := range at.Spots() {
				a.Parts = append(a.Parts, s.ID)
			}
			if err := at.Give(&p.Recipe.Scene, a); err != nil {
				return err
			}
		}
	}
	dir, err := os.MkdirTemp("", "clip")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	var frames []string
	for n := 0; n < p.Recipe.Scene.Motion.Frames; n += clipStep {
		data, err := st.Picture(ctx, p, studio.Shot{Width: 200, Height: 150, Samples: 24, Frame: float64(n)})
		if err != nil {
			return err
		}
		frames = append(frames, filepath.Join(dir, fmt.Sprintf("%03d.png", n)))
		if err := os.WriteFile(frames[len(frames)-1], data, 0o600); err != nil {
			return err
		}
	}
	f, err := os.Create(to)
	if err != nil {
		return err
	}
	err = web.WriteClip(bufio.NewWriter(f), frames, clipRate/clipStep, func() (func(), error) { return func() {}, nil })
	return errors.Join(err, f.Close())
}

func take(root context.Context, address string, s shot) ([]byte, error) {
	ctx, stop, err := browser.Tab(root, 10*time.Minute)
	if err != nil {
		return nil, err
	}
	defer stop()
	if err := chromedp.Do(ctx, chromedp.Navigate(address)); err != nil {
		return nil, err
	}
	if err := browser.Wait(ctx, s.ready); err != nil {
		return nil, err
	}
	if s.script != "" {
		if _, err := browser.Eval[bool](ctx, s.script+", true"); err != nil {
			return nil, err
		}
	}
	if err := chromedp.Do(ctx, chromedp.Sleep(1500*time.Millisecond)); err != nil {
		return nil, err
	}
	if err := browser.Wait(ctx, s.ready); err != nil { // what the script has changed is drawn
		return nil, err
	}
	return chromedp.Run(ctx, chromedp.CaptureScreenshot())
}
