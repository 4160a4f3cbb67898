package truth

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"strings"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// svg draws the drawing, a millimetre a unit, and tells the middle of it.
func (d *drawing) svg() (doc string, width float64, mid vec) {
	lo, hi := vec{math.Inf(1), math.Inf(1)}, vec{math.Inf(-1), math.Inf(-1)}
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400" viewBox="-200 -200 400 400">`)
	for _, p := range d.parts {
		if p.wire != nil {
			p.wire.draw(&b, p.color)
			continue
		}
		fmt.Fprintf(&b, `<path fill-rule="evenodd" fill="%s" d="`, p.color)
		for _, r := range p.shape {
			for i, v := range r {
				fmt.Fprintf(&b, "%s%.6f %.6f ", map[bool]string{true: "M", false: "L"}[i == 0], v.x, -v.y)
				lo, hi = vec{math.Min(lo.x, v.x), math.Min(lo.y, v.y)}, vec{math.Max(hi.x, v.x), math.Max(hi.y, v.y)}
			}
			b.WriteString("Z")
		}
		b.WriteString(`"/>`)
	}
	b.WriteString("</svg>")
	return b.String(), hi.x - lo.x, vec{(lo.x + hi.x) / 2, (lo.y + hi.y) / 2}
}

func (w *wire) draw(b *strings.Builder, color string) {
	fmt.Fprintf(b, `<path fill="none" stroke="%s" stroke-width="%.6f" stroke-linejoin="round" stroke-linecap="%s" d="`, color, w.width,
		map[bool]string{true: "round", false: "butt"}[w.round])
	for _, l := range w.lines {
		for i, v := range l {
			fmt.Fprintf(b, "%s%.6f %.6f ", map[bool]string{true: "M", false: "L"}[i == 0], v.x, -v.y)
		}
	}
	b.WriteString(`"/>`)
}

// recipe is the document that says what the drawing does.
func (d *drawing) recipe(width float64) recipe.Recipe {
	r := recipe.New()
	r.Size.MM = width
	r.Parts.Relief, r.Parts.Spread, r.Parts.Clearance = d.relief, d.spread, d.clearance
	if d.rest > 0 {
		r.Parts.Default.Depth = d.rest
	}
	if r.Size.Overlap = recipe.Keep; d.cut {
		r.Size.Overlap = recipe.Cut
	}
	for i := range d.parts {
		p := &d.parts[i]
		r.Parts.List = append(r.Parts.List, recipe.Part{
			ID: p.id(), Takes: recipe.Rule{Colors: []string{p.color}}, Role: p.role, How: &p.how,
		})
	}
	return r
}

// told is what a case came to.
type told struct {
	wrong, judged int
	first         string
}

// resolved takes a drawing to its regions, the middle of which is mid.
func (d *drawing) resolved(t *testing.T) (line *stages.Line, regions *stages.Regions, mid vec) {
	t.Helper()
	doc, width, mid := d.svg()
	r := d.recipe(width)
	sheet, err := read.Sheet("drawing.svg", []byte(doc))
	if err != nil {
		t.Fatal(err)
	}
	line = &stages.Line{Keep: stages.Direct{}, Recipe: &r}
	made, err := line.RegionsOf(t.Context(), stages.Made[*stages.Joined]{Value: &stages.Joined{Sheet: sheet}})
	if err != nil {
		t.Fatal(err)
	}
	return line, made.Value, mid
}

// made raises a drawing apart and fused, and judges both.
func made(t *testing.T, rnd *rand.Rand, d *drawing) (out told) {
	t.Helper()
	line, regions, mid := d.resolved(t)
	return d.judged(t, rnd, line, regions, mid)
}

// near is how close to a surface places are not judged. The first facet of 14 has risen by a ninth of a
// dome's height; a quarter along, it is a quarter of that too low.
func (d *drawing) near() float64 {
	for i := range d.parts {
		if d.parts[i].how.Front.Profile == recipe.Dome {
			return 0.05 + d.parts[i].how.Front.Height/36
		}
	}
	return 0.05
}

// judged raises regions that were made of a drawing, whose middle is mid, apart and fused, and judges both.
func (d *drawing) judged(t *testing.T, rnd *rand.Rand, line *stages.Line, regions *stages.Regions, mid vec) (out told) {
	means := map[string]*body{}
	bodies := d.bodies()
	for _, b := range bodies {
		means[b.id] = b
	}
	const margin = 5
	near := d.near()
	var boxes [][2]vec
	for i := range d.parts {
		if d.parts[i].wire != nil {
			continue
		}
		own := regionOf(d.parts[i].shape.has, d.parts[i].shape)
		lo, hi := own.box()
		boxes = append(boxes, [2]vec{lo.plus(mid, -1).plus(vec{margin, margin}, -1), hi.plus(mid, -1).plus(vec{margin, margin}, 1)})
		boxes = append(boxes, [2]vec{lo.plus(mid, -1), hi.plus(mid, -1)})
	}
	look := func(what string, m *mesh.Mesh, over func(vec) column) {
		over = func(f func(vec) column) func(vec) column { return func(p vec) column { return f(p.plus(mid, 1)) } }(over)
		wrong, judged, first := judge(rnd, m, over, boxes, near)
		if out.wrong += wrong; out.first == "" && first != "" {
			out.first = what + ": " + first
		}
		out.judged += judged
		if rep := mesh.Check(m, true); len(m.Tris) > 0 && !rep.Sound() {
			out.wrong++
			out.first += fmt.Sprintf("; %s is not sound: %+v", what, rep)
		}
	}
	arranged := stages.Arrangement(regions, &line.Recipe.Parts)
	for i := range arranged {
		id := regions.Parts[arranged[i].Index].ID
		m, err := line.Body(t.Context(), regions, &arranged[i], raise.Plain)
		if err != nil {
			return told{1, 1, id + ": " + err.Error()}
		}
		look(id, m.Value.Mesh, means[id].over)
	}
	m, err := line.Fused(t.Context(), regions, arranged, raise.Plain)
	if err != nil {
		return told{1, 1, "fused: " + err.Error()}
	}
	look("fused", m.Value.Mesh, func(p vec) (c column) {
		for _, b := range bodies {
			for _, s := range b.over(p) {
				c = c.plus(s)
			}
		}
		return c
	})
	return out
}

// howMany is what BILDHAUER_TRUTH says, or as many as usual.
func howMany(usual int) int {
	if n, err := strconv.Atoi(os.Getenv("BILDHAUER_TRUTH")); err == nil {
		return n
	}
	return usual
}

// TestTruth judges random drawings and recipes of each kind. BILDHAUER_TRUTH sets how many of each.
func TestTruth(t *testing.T) {
	each := howMany(4)
	for _, kind := range kinds {
		t.Run(kind.name, func(t *testing.T) {
			t.Parallel()
			each, right := each, 0
			if strings.Contains(kind.name, "dome") { // they take long
				each = (each + 1) / 2
			}
			for i := range each {
				rnd := rand.New(rand.NewPCG(uint64(i), 23))
				d := kind.draw(rnd)
				got := made(t, rnd, d)
				if got.wrong == 0 && got.judged > 300 {
					right++
					continue
				}
				t.Errorf("%d: %d of %d places wrong: %s", i, got.wrong, got.judged, got.first)
			}
			t.Logf("%d of %d right", right, each)
		})
	}
}

// TestOnceWrong judges drawings again that were wrong once, by kind and number.
func TestOnceWrong(t *testing.T) {
	for _, c := range []struct {
		kind, what string
		number     uint64
	}{
		{"frame", "beyond the inner corner of a wall no ridge was set", 97},
		{"frame", "the same, with bevels on both sides", 110},
		{"side by side", "a corner of a needle had the height of the needle's tip", 37},
	} {
		for _, kind := range kinds {
			if kind.name != c.kind {
				continue
			}
			rnd := rand.New(rand.NewPCG(c.number, 23))
			if got := made(t, rnd, kind.draw(rnd)); got.wrong > 0 {
				t.Errorf("%s %d (%s): %d of %d places wrong: %s", c.kind, c.number, c.what, got.wrong, got.judged, got.first)
			}
		}
	}
}
