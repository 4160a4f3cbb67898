//go:build unix

package stages

import (
	"context"
	"errors"
	"fmt"
	"math"
	"os"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"bildhauer/core/mend"
	"bildhauer/core/mesh"
	"bildhauer/core/print"
	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/internal/worktime"
)

// watched is a context that notes the longest time in which nobody asked it whether work is still
// wanted, and who asked then.
type watched struct {
	context.Context
	mu    sync.Mutex
	last  time.Duration
	worst time.Duration
	where string
}

func (w *watched) Err() error {
	w.ask(3)
	return nil
}

// ask notes the time since the last question; skip is how many calls lie between it and who asks.
func (w *watched) ask(skip int) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if gap := worktime.Spent() - w.last; gap > w.worst {
		w.worst = gap
		var pcs [12]uintptr
		frames := runtime.CallersFrames(pcs[:runtime.Callers(skip, pcs[:])])
		var list []string
		for f, more := frames.Next(); more; f, more = frames.Next() {
			list = append(list, fmt.Sprintf("%s:%d", f.Function[strings.LastIndexByte(f.Function, '/')+1:], f.Line))
		}
		w.where = strings.Join(list, " < ")
	}
	w.last = worktime.Spent()
}

// patient is a context that is cancelled after so many questions.
type patient struct {
	context.Context
	left atomic.Int64
}

func (p *patient) Err() error {
	if p.left.Add(-1) < 0 {
		return context.Canceled
	}
	return nil
}

// TestCancelledAnywhere cancels the making of a solid at one question after the other, from the
// first to the last: each time it ends with the context's error, and nothing of it stays.
func TestCancelledAnywhere(t *testing.T) {
	s, err := read.Sheet("crowd.svg", crowd(9, 60, 3))
	if err != nil {
		t.Fatal(err)
	}
	made := func(ctx context.Context) (mesh.Report, error) {
		r := recipe.New()
		line := lineOf(&r)
		mended, err := line.MendedOf(ctx, joinedOf(s))
		if err != nil {
			return mesh.Report{}, err
		}
		if _, err := line.Findings(ctx, mended); err != nil {
			return mesh.Report{}, err
		}
		regions, err := line.RegionsOfMended(ctx, mended)
		if err != nil {
			return mesh.Report{}, err
		}
		solid, err := line.Fused(ctx, regions.Value, Arrangement(regions.Value, &r.Parts), raise.Shaded)
		if err != nil {
			return mesh.Report{}, err
		}
		return line.Check(ctx, solid, true)
	}
	want, err := made(t.Context())
	if err != nil || !want.Sound() {
		t.Fatal(want, err)
	}
	ends := 0
	for n := int64(0); ; n += 1 + n/8 {
		p := &patient{Context: t.Context()}
		p.left.Store(n)
		got, err := made(p)
		if err == nil {
			if got != want {
				t.Errorf("after %d questions another solid: %+v", n, got)
			}
			break
		}
		if ends++; !errors.Is(err, context.Canceled) {
			t.Errorf("cancelled at question %d: %v", n, err)
		}
	}
	if ends < 20 {
		t.Errorf("only %d questions were asked", ends)
	}
}

// crowd draws n wobbly discs of so many points each in rows, which reach into each other; each of
// the colours goes to every so many-th of them.
func crowd(n, points, colours int) []byte {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1000 1000">`)
	side := math.Ceil(math.Sqrt(float64(n)))
	pitch := 1000 / side
	for k := range n {
		x, y := (math.Mod(float64(k), side)+0.5)*pitch, (math.Floor(float64(k)/side)+0.5)*pitch
		fmt.Fprintf(&b, `<path fill="#%06x" d="`, 0x102030+k%colours*7)
		for i := range points {
			a := 2 * math.Pi * float64(i) / float64(points)
			r := pitch * (0.52 - 0.06*math.Mod(float64(i*i*31+k*17), 97)/97)
			fmt.Fprintf(&b, "%c%.3f %.3f", "ML"[min(i, 1)], x+r*math.Cos(a), y+r*math.Sin(a))
		}
		b.WriteString(`z"/>`)
	}
	b.WriteString("</svg>")
	return []byte(b.String())
}

// longestWait is how much this process may work without asking whether it is still wanted: 200 ms
// of an idle machine (measured: 190, laying a print), and three times as much for one whose cores are shared.
const longestWait = 600 * time.Millisecond

// TestWorkAsksWhetherItIsWanted goes through all stages with artwork of 20,000 segments in a few
// large pieces, and with a thousand shapes of as many colours, and notes how long each goes on
// without asking. What asks nobody can't be cancelled. BILDHAUER_CROWD=1 takes nine times as much
// and prints what it finds.
func TestWorkAsksWhetherItIsWanted(t *testing.T) {
	if racing {
		t.Skip("it counts how long work takes")
	}
	was := runtime.GOMAXPROCS(1) // so that it is one question after the other
	defer runtime.GOMAXPROCS(was)
	size, most := 1, longestWait/2
	if os.Getenv("BILDHAUER_CROWD") != "" {
		size, most = 18, 3*longestWait
	}
	for name, data := range map[string][]byte{
		"large pieces": crowd(10*size, 1000, 1), "many colours": crowd(500*size, 12, 500*size), "printed": crowd(3*size, 200, 1),
	} {
		w := &watched{Context: t.Context()}
		stage := func(what string, f func() error) {
			t.Helper()
			begun := worktime.Spent()
			w.unasked(most, func() {
				begun = worktime.Spent()
				if err := f(); err != nil {
					t.Fatalf("%s, %s: %v", name, what, err)
				}
			})
			if w.worst > most {
				t.Errorf("%s, %s: nobody was asked for %v, until %s", name, what, w.worst, w.where)
			} else {
				t.Logf("%s, %s: %v, %v without a question", name, what, worktime.Spent()-begun, w.worst)
			}
		}
		goThrough(t, w, data, stage, name == "printed")
	}
	w := &watched{Context: t.Context()}
	sheet, err := read.Sheet("crowd.svg", crowd(2*size, 2000, 1))
	if err != nil {
		t.Fatal(err)
	}
	for name, m := range map[string]recipe.Measures{
		"a pillow":  {Depth: 8, Front: recipe.Rim{Width: 1, Height: 4, Profile: recipe.Pillow, Segments: 4}},
		"a hollow":  {Depth: 8, Wall: 1, Front: recipe.Rim{Width: 2, Height: 2, Profile: recipe.Round, Segments: 4}},
		"a vault":   {Depth: 8, Wall: 3, Front: recipe.Rim{Width: 1, Height: 4, Profile: recipe.Dome, Segments: 8}},
		"a frame":   {Depth: 8, Wall: 1, OpenFront: true, OpenBack: true},
		"a grid":    {Depth: 8},
		"an outset": {Depth: 8, Outward: true, Front: recipe.Rim{Width: 2, Height: 2, Profile: recipe.Round, Segments: 4}},
	} {
		r := recipe.New()
		r.Size.MM, r.Parts.Default = 150, m
		if name == "a grid" {
			r.Parts.Mesh.Caps, r.Parts.Mesh.Spacing = recipe.EvenCaps, 0.5
		}
		line := lineOf(&r)
		regions, err := line.RegionsOf(t.Context(), joinedOf(sheet))
		if err != nil {
			t.Fatal(err)
		}
		w.unasked(2*most, func() {
			if _, err := line.Fused(w, regions.Value, Arrangement(regions.Value, &r.Parts), raise.Shaded); err != nil {
				t.Fatal(err)
			}
		})
		if w.worst > 2*most {
			t.Errorf("%s: nobody was asked for %v, until %s", name, w.worst, w.where)
		} else {
			t.Logf("%s: %v without a question", name, w.worst)
		}
	}
}

// unasked measures work, again where it seems to have worked for longer than most without a question: a
// machine that stops for a while, as one that shares its processors does, counts that as work, but does not
// do so at the same place thrice.
func (w *watched) unasked(most time.Duration, work func()) {
	for range 3 {
		w.last, w.worst, w.where = worktime.Spent(), 0, ""
		work()
		if w.ask(2); w.worst <= most {
			return
		}
	}
}

// goThrough does all that is done to artwork.
func goThrough(t *testing.T, w context.Context, data []byte, stage func(what string, f func() error), printed bool) {
	s, err := read.Sheet("crowd.svg", data)
	if err != nil {
		t.Fatal(err)
	}
	r := recipe.New()
	r.Size.MM = 150
	line := lineOf(&r)
	joined := joinedOf(s)
	var mended *Mended
	var regions Made[*Regions]
	var solid Made[*Solid]
	var layered Made[*Layered]
	stage("mends", func() (err error) { mended, err = line.MendedOf(w, joined); return err })
	stage("looking", func() error { _, _, err := line.Seen(w, mended); return err })
	stage("findings", func() error { _, err := line.Findings(w, mended); return err })
	stage("regions", func() (err error) { regions, err = line.RegionsOfMended(w, mended); return err })
	list := Arrangement(regions.Value, &r.Parts)
	stage("solid", func() (err error) {
		solid, err = line.Fused(w, regions.Value, list, raise.Shaded)
		return err
	})
	stage("check", func() error { _, err := line.Check(w, solid, true); return err })
	if !printed {
		return
	}
	stage("taking", func() error {
		own := line.Recipe.Clone()
		taker := &Line{Keep: line.Keep, Recipe: &own, Open: line.Open}
		_, err := taker.TakeAll(w, joined, mend.Choice{Classes: mend.Classes})
		return err
	})
	var lain Made[*Bedded]
	stage("lying", func() (err error) {
		owners := make([]LayersOwner, len(list))
		lain, err = Bedding.Make(w, Direct{}, BeddingInput{Solids: []Made[*Solid]{solid}, Owners: [][]LayersOwner{owners}})
		return err
	})
	stage("layers", func() (err error) {
		layered, err = Layers.Make(w, Direct{}, LayersInput{Bedded: lain, First: 0.3, Height: 0.3})
		return err
	})
	stage("print", func() error {
		_, err := Print.Make(w, Direct{}, PrintInput{Layered: layered, Setup: print.Usual()})
		return err
	})
	stage("rehearsal", func() error {
		_, err := Rehearsal.Make(w, Direct{}, RehearsalInput{Layered: layered, Name: "Crowd", Setup: print.Usual()})
		return err
	})
}
