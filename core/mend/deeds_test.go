package mend

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
)

// desk returns artwork for deeds, a px a mm: a plate with a hole, a disc that
// overlaps it, a disc beside it, an open line, and a far bystander.
func desk() *Work {
	s := &scene{rnd: rand.New(rand.NewPCG(1, 1))}
	s.add(ink, box(0, 0, 40, 30), round(10, 15, 0.2).Reversed())
	s.add(clay, round(40, 15, 8))
	s.add(ink, round(60, 15, 5))
	s.add(ink, geom.Contour{Start: geom.Vec{X: 0, Y: 40}, Segs: []geom.Segment{
		{To: geom.Vec{X: 10, Y: 40}}, {Kind: geom.Cubic, C1: geom.Vec{X: 14, Y: 40}, C2: geom.Vec{X: 18, Y: 44}, To: geom.Vec{X: 20, Y: 50}},
	}}, geom.Contour{Start: geom.Vec{X: 20.2, Y: 50}, Segs: []geom.Segment{{To: geom.Vec{X: 30, Y: 50}}}}).
		Stroke = &geom.StrokeStyle{Width: 1, MiterLimit: 4}
	s.add(clay, poly(100, 0, 140, 0.5, 140, 8, 100, 0))
	s.add(ink, box(100, 20, 10, 10))
	// A square of 20 mm that lacks a corner.
	s.add(ink, geom.Contour{Start: geom.Vec{X: 140, Y: 35}, Segs: []geom.Segment{
		{To: geom.Vec{X: 140, Y: 50}}, {To: geom.Vec{X: 120, Y: 50}}, {To: geom.Vec{X: 120, Y: 30}}, {To: geom.Vec{X: 135, Y: 30}},
	}})
	return unturned(s)
}

// unturned begins the mending of a scene as it is.
func unturned(s *scene) *Work {
	in, color := make([]bool, len(s.shapes)), make([]artwork.Color, len(s.shapes))
	for i := range s.shapes {
		in[i], color[i] = true, s.shapes[i].Color
	}
	w := New(&artwork.Sheet{Shapes: s.shapes, Page: geom.Box{Max: geom.Vec{X: 150, Y: 60}}, SourceUnits: geom.Identity}, in, color, 1)
	w.Fonts = &font.Library{}
	return w
}

func keysOf(names string) []string {
	if names == "" {
		return nil
	}
	return strings.Fields(names)
}

// deedCases are all deeds, what they are done to, and the area in mm2 that all
// takes up then, less what it took before.
var deedCases = []struct {
	name, do, shapes string
	more             recipe.Mend
	area             float64
	touched          string // shapes that change or go; the others stay to the bit
}{
	{"close a line", "close", "s3", recipe.Mend{How: "straight", Nodes: [][2]int{{0, 0}}}, 21, "s3"},
	{"extend to a corner", "close", "s6", recipe.Mend{How: "extend"}, 12.5, "s6"},
	{"link ends", "link", "s3", recipe.Mend{Nodes: [][2]int{{0, 1}, {1, 0}}}, 0.255, "s3"},
	{"weld", "weld", "s0", recipe.Mend{MM: []float64{0.01}}, 0, ""},
	{"resolve", "resolve", "s0", recipe.Mend{}, 0, "s0"},
	{"refit", "refit", "s2", recipe.Mend{MM: []float64{0.1}}, 0.443, "s2?"},
	{"drop", "drop", "s2", recipe.Mend{}, -25 * math.Pi, "s2"},
	{"only", "only", "s2", recipe.Mend{}, math.NaN(), "s0 s1 s3 s4 s5 s6"},
	{"shed", "shed", "s2", recipe.Mend{At: [][2]float64{{65, 15}}}, -25 * math.Pi, "s2"},
	{"unite", "unite", "s0 s2", recipe.Mend{}, 0, "s0 s2"},
	{"subtract", "subtract", "s0 s1", recipe.Mend{}, -64 * math.Pi, "s0 s1"},
	{"trim", "subtract", "s0 s1", recipe.Mend{How: "keep"}, 0, "s0"},
	{"intersect", "intersect", "s0 s1", recipe.Mend{}, -(1200 - 0.126), "s0 s1"},
	{"divide", "divide", "s0 s1", recipe.Mend{}, 0, "s0 s1"},
	{"hole", "hole", "s1", recipe.Mend{}, -64 * math.Pi, "s0 s1"},
	{"compound", "compound", "s0 s2", recipe.Mend{}, 0, "s0 s2"},
	{"grow", "grow", "s2", recipe.Mend{MM: []float64{1}}, 11 * math.Pi, "s2"},
	{"thin", "grow", "s5", recipe.Mend{MM: []float64{-1}, How: "mitre"}, -36, "s5"},
	{"ring", "ring", "s2", recipe.Mend{MM: []float64{1}}, -16 * math.Pi, "s2"},
	{"ring outside", "ring", "s5", recipe.Mend{MM: []float64{1}, How: "outside"}, -100 + 44, "s5"},
	{"part", "part", "s5", recipe.Mend{MM: []float64{1}, At: [][2]float64{{110, 30}}}, -math.Pi / 4, "s5"},
	{"blunt", "blunt", "s4", recipe.Mend{MM: []float64{0.5}, At: [][2]float64{{100, 0}}}, -2.33, "s4"},
	{"blunt flat", "blunt", "s4", recipe.Mend{MM: []float64{0.5}, How: "flat", At: [][2]float64{{100, 0}}}, -2.7, "s4"},
	{"thicken", "thicken", "s3", recipe.Mend{MM: []float64{1.4}, At: [][2]float64{{5, 40}}}, 10.74, "s3"},
	{"widen", "widen", "s0", recipe.Mend{MM: []float64{1}, At: [][2]float64{{10, 15}}}, -0.66, "s0"},
	{"plug", "plug", "s0", recipe.Mend{At: [][2]float64{{10, 15}}}, 0.126, "s0"},
	{"bridge", "bridge", "s1 s2", recipe.Mend{MM: []float64{2}, At: [][2]float64{{48, 15}, {55, 15}}}, 14, "s1"},
	{"move", "move", "s2", recipe.Mend{At: [][2]float64{{3, 4}}}, 0, "s2"},
	{"turn", "turn", "s2", recipe.Mend{Turn: 30, At: [][2]float64{{60, 15}}}, 0, "s2"},
	{"mirror", "mirror", "s4", recipe.Mend{How: "level", At: [][2]float64{{120, 4}}}, 0, "s4"},
	{"contour solid", "contour", "s0", recipe.Mend{How: "solid", Nodes: [][2]int{{1, 0}}}, 0.126, "s0"},
	{"contour out", "contour", "s0", recipe.Mend{How: "out", Nodes: [][2]int{{1, 0}}}, 0.126, "s0"},
	{"node", "nodes", "s5", recipe.Mend{How: "move", Nodes: [][2]int{{0, 2}}, At: [][2]float64{{110, 30}, {2, 2}}}, 20, "s5"},
	{
		"plate",
		"plate",
		"",
		recipe.Mend{MM: []float64{20, 10, 2, 2, 2, 2}, How: "round,round,chamfer,chamfer", At: [][2]float64{{80, 45}}},
		200 - 2*4*(1-math.Pi/4) - 4,
		"",
	},
	{"stake", "plate", "", recipe.Mend{MM: []float64{4, 12, 0, 0, 5, 5}, How: "square,square,point,point", At: [][2]float64{{80, 45}}}, 48 - 10, ""},
	{"disc", "disc", "", recipe.Mend{MM: []float64{6, 4}, At: [][2]float64{{80, 45}}}, 5 * math.Pi, ""},
	{"border", "border", "", recipe.Mend{MM: []float64{1}}, 476.3, ""},
	{"strip", "strip", "", recipe.Mend{MM: []float64{2, 1, 0.2}}, 0.8*142 + 1.2*142, "s3?"},
	{"eyelet", "eyelet", "", recipe.Mend{MM: []float64{6, 3}, At: [][2]float64{{105, 35}}}, 27.0 / 4 * math.Pi, "s5?"},
	{"punch", "punch", "", recipe.Mend{MM: []float64{4}, At: [][2]float64{{20, 10}}}, -4 * math.Pi, "s0"},
	{"lettering", "lettering", "", recipe.Mend{MM: []float64{5}, Text: "I", Font: "Zilla Slab", At: [][2]float64{{80, 45}}}, 4.08, ""},
}

func totalArea(t *testing.T, w *Work) float64 {
	t.Helper()
	r, err := w.everything()
	if err != nil {
		t.Fatal(err)
	}
	return w.area(r)
}

// TestDeeds does each deed and holds what it comes to, that the shapes it is not
// about stay as they were, and that doing it leaves the work it began with.
func TestDeeds(t *testing.T) {
	done := map[string]bool{"split": true, "seam": true} // below
	for _, c := range deedCases {
		done[c.do] = true
		m := c.more
		m.ID, m.Do, m.Shapes = "m1", c.do, keysOf(c.shapes)
		before := desk()
		was := fmt.Sprintf("%+v", before.Sheet.Shapes)
		after, err := Apply(before, &m)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		if fmt.Sprintf("%+v", before.Sheet.Shapes) != was {
			t.Errorf("%s changed the work it was applied to", c.name)
		}
		if d := totalArea(t, after) - totalArea(t, before); !math.IsNaN(c.area) && math.Abs(d-c.area) > 0.02*math.Abs(c.area)+0.05 {
			t.Errorf("%s: the area changed by %.3f mm2, want %.3f", c.name, d, c.area)
		}
		for i := range before.Sheet.Shapes {
			sh := &before.Sheet.Shapes[i]
			k := after.Find(sh.Key)
			same := k >= 0 && reflect.DeepEqual(after.Sheet.Shapes[k], *sh)
			if maybe := strings.Contains(c.touched, sh.Key+"?"); !maybe && same == slices.Contains(strings.Fields(c.touched), sh.Key) {
				t.Errorf("%s: %s stayed as it was: %v", c.name, sh.Key, same)
			}
		}
		if len(after.In) != len(after.Sheet.Shapes) || len(after.Color) != len(after.In) {
			t.Errorf("%s: the lists of shapes do not fit", c.name)
		}
		again, err := Apply(desk(), &m)
		if err != nil || !reflect.DeepEqual(again.Sheet.Shapes, after.Sheet.Shapes) {
			t.Errorf("%s came out differently the second time", c.name)
		}
	}
	for name := range deeds {
		if !done[name] {
			t.Errorf("the deed %s is not tried", name)
		}
	}
}

// TestRefusals asks for what can't be done: a sentence, and nothing changed.
func TestRefusals(t *testing.T) {
	at := func(x, y float64) [][2]float64 { return [][2]float64{{x, y}} }
	for want, m := range map[string]recipe.Mend{
		"there is no mend":                    {Do: "melt"},
		"choose at least two shapes":          {Do: "unite", Shapes: []string{"s0"}},
		"choose a shape first":                {Do: "drop"},
		"its shape is not in the artwork":     {Do: "drop", Shapes: []string{"gone:s0"}},
		"a figure or a place is missing":      {Do: "grow", Shapes: []string{"s0"}},
		"nothing would be left of Shape 2":    {Do: "grow", Shapes: []string{"s2"}, MM: []float64{-6}},
		"nothing would be left of Shape 5":    {Do: "subtract", Shapes: []string{"s5", "~"}, MM: nil},
		"the shapes share nothing":            {Do: "intersect", Shapes: []string{"s0", "s2"}},
		"do not overlap":                      {Do: "divide", Shapes: []string{"s0", "s2"}},
		"nothing lies below":                  {Do: "hole", Shapes: []string{"s5"}},
		"too narrow for a ring":               {Do: "ring", Shapes: []string{"s2"}, MM: []float64{9}},
		"is one piece already":                {Do: "split", Shapes: []string{"s2"}},
		"the slit is not in the artwork":      {Do: "seam", Shapes: []string{"s0", "s2"}, MM: []float64{0.5}},
		"the tip is not in the artwork":       {Do: "blunt", Shapes: []string{"s4"}, MM: []float64{1}, At: at(50, 50)},
		"the thin spot is not in the artwork": {Do: "thicken", Shapes: []string{"s5"}, MM: []float64{1}, At: at(105, 25)},
		"the hole is not in the artwork":      {Do: "plug", Shapes: []string{"s5"}, At: at(105, 25)},
		"wholly within the shape":             {Do: "bridge", Shapes: []string{"s0"}, MM: []float64{1}, At: [][2]float64{{20, 20}, {25, 20}}},
		"does not reach from one piece":       {Do: "bridge", Shapes: []string{"s0", "s2"}, MM: []float64{1}, At: [][2]float64{{30, 35}, {30, 29}}},
		"its node is not in the artwork": {
			Do:     "nodes",
			How:    "move",
			Shapes: []string{"s5"},
			Nodes:  [][2]int{{0, 2}},
			At:     [][2]float64{{0, 0}, {1, 1}},
		},
		"an open end is not in the artwork": {Do: "link", Shapes: []string{"s5"}, Nodes: [][2]int{{0, 0}, {0, 1}}},
		"an open contour":                   {Do: "close", Shapes: []string{"s5"}},
		"leave the shape out instead": {
			Do:     "nodes",
			How:    "delete",
			Shapes: []string{"s5"},
			Nodes:  [][2]int{{0, 0}, {0, 1}, {0, 2}, {0, 3}},
			At:     at(100, 20),
		},
		"larger than its sides":       {Do: "plate", MM: []float64{10, 10, 6, 6, 6, 6}, How: "round,round,round,round", At: at(0, 0)},
		"the opening must be smaller": {Do: "disc", MM: []float64{5, 6}, At: at(0, 0)},
		"nothing to cut a hole into":  {Do: "punch", MM: []float64{1}, At: at(70, 50)},
		"has no letter '中'":           {Do: "lettering", MM: []float64{5}, Text: "Pier 中", At: at(0, 0)},
		"write what it shall say":     {Do: "lettering", MM: []float64{5}, Text: " ", At: at(0, 0)},
	} {
		w := desk()
		if strings.Contains(want, "Shape 5") { // a shape wholly under another
			s := &w.Sheet.Shapes[2]
			s.Contours = []geom.Contour{box(90, 10, 40, 40)}
			m.Shapes = []string{"s5", "s2"}
		}
		was := fmt.Sprintf("%+v", w.Sheet.Shapes)
		_, err := Apply(w, &m)
		var no *Refusal
		if !errors.As(err, &no) || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want %q", m.Do, err, want)
			continue
		}
		if no.Lost != strings.HasSuffix(want, "in the artwork") && no.Lost != strings.Contains(want, "an open") {
			t.Errorf("%s: lost is %v", want, no.Lost)
		}
		if fmt.Sprintf("%+v", w.Sheet.Shapes) != was {
			t.Errorf("%s: something changed", want)
		}
	}
}

// A bridge that would run over a hole is refused.
func TestBridgeOverAHole(t *testing.T) {
	s := &scene{rnd: rand.New(rand.NewPCG(1, 1))}
	s.add(ink, round(0, 0, 20), round(0, 0, 15).Reversed())
	w := unturned(s)
	_, err := Apply(w, &recipe.Mend{Do: "bridge", Shapes: []string{"s0"}, MM: []float64{1}, At: [][2]float64{{-16, 0}, {16, 0}}})
	if err == nil || !strings.Contains(err.Error(), "would cross a hole") {
		t.Errorf("%v", err)
	}
}

// TestSplitAndSeam: pieces become shapes, and a slit is closed to its middle.
func TestSplitAndSeam(t *testing.T) {
	s := &scene{rnd: rand.New(rand.NewPCG(1, 1))}
	s.add(ink, box(0, 0, 10, 20), box(10.3, 0, 10, 20))
	w := unturned(s)
	w, err := Apply(w, &recipe.Mend{ID: "m1", Do: "split", Shapes: []string{"s0"}})
	if err != nil || len(w.Sheet.Shapes) != 2 || w.Find(recipe.MendKey("m1", 1)) < 0 {
		t.Fatalf("%d shapes, %v", len(w.Sheet.Shapes), err)
	}
	w, err = Apply(w, &recipe.Mend{
		ID: "m2", Do: "seam", Shapes: []string{recipe.MendKey("m1", 0), recipe.MendKey("m1", 1)}, MM: []float64{0.5},
	})
	if err != nil {
		t.Fatal(err)
	}
	for i := range w.Sheet.Shapes {
		if b := w.Sheet.Shapes[i].Box(); math.Abs(b.W()-10.15) > 0.1 {
			t.Errorf("shape %d is %.3f mm wide, want 10.15", i, b.W())
		}
	}
	if both := totalArea(t, w); math.Abs(both-20.3*20) > 0.05 {
		t.Errorf("together %.3f mm2", both)
	}
}

// hausdorff returns how far the points of one contour lie from another, both
// ways.
func hausdorff(a, b geom.Contour, tol float64) float64 {
	one := func(a, b geom.Contour) float64 {
		far := 0.0
		for _, p := range a.Flatten(tol, nil) {
			_, _, d := b.Nearest(p)
			far = math.Max(far, d)
		}
		return far
	}
	return math.Max(one(a, b), one(b, a))
}

// wavy returns a smooth closed outline of many nodes.
func wavy(rnd *rand.Rand, n int) geom.Contour {
	r, a, b := 10+20*rnd.Float64(), rnd.Float64()*0.3, rnd.Float64()*0.2
	var pts []float64
	for i := range n {
		t := 2 * math.Pi * float64(i) / float64(n)
		d := r * (1 + a*math.Sin(3*t) + b*math.Cos(5*t))
		pts = append(pts, d*math.Cos(t), d*math.Sin(t))
	}
	return poly(pts...)
}

// TestRefitStaysWithin measures the deviation of outlines drawn anew.
func TestRefitStaysWithin(t *testing.T) {
	for seed := range uint64(60) {
		rnd := rand.New(rand.NewPCG(seed, 3))
		tol := 0.005 + 0.1*rnd.Float64()
		old := wavy(rnd, 200+rnd.IntN(800))
		fresh := refitted(old, tol)
		if d := hausdorff(old, fresh, tol/20); d > tol*1.02 {
			t.Errorf("%d: within %.4f asked for, %.4f got", seed, tol, d)
		}
		if len(fresh.Segs)*3 > len(old.Segs) {
			t.Errorf("%d: %d nodes of %d", seed, len(fresh.Segs), len(old.Segs))
		}
	}
	// Corners stay corners.
	star := poly(0, 0, 10, 3, 20, 0, 17, 10, 20, 20, 10, 17, 0, 20, 3, 10)
	var dense []float64
	for i := range star.Segs {
		for k := range 40 {
			p := star.Segs[i].At(star.From(i), float64(k)/40)
			dense = append(dense, p.X, p.Y)
		}
	}
	if fresh := refitted(poly(dense...), 0.02); len(fresh.Segs) != 8 {
		t.Errorf("a star of 8 corners has %d nodes", len(fresh.Segs))
	}
}

// TestNodeEditing turns contours into nodes and back, adds and drops nodes.
func TestNodeEditing(t *testing.T) {
	for seed := range uint64(200) {
		rnd := rand.New(rand.NewPCG(seed, 9))
		c := round(3, 4, 5+10*rnd.Float64())
		if seed%2 == 0 {
			c = wavy(rnd, 12)
		}
		p := PathOf(c)
		if back := p.Contour(); !reflect.DeepEqual(back, c) {
			t.Fatalf("%d: a contour came back as %+v from %+v", seed, back, c)
		}
		k, at := rnd.IntN(len(p.Straight)), 0.2+0.6*rnd.Float64()
		p.add(k, at)
		if d := hausdorff(c, p.Contour(), 0.001); d > 0.002 {
			t.Errorf("%d: adding a node moved the outline by %.4f", seed, d)
		}
		q := p.without(map[int]bool{k + 1: true})
		if d := hausdorff(c, q.Contour(), 0.001); d > 0.02 {
			t.Errorf("%d: dropping it again moved the outline by %.4f", seed, d)
		}
	}
	// Of a round outline every second node can go with little loss.
	p := PathOf(geom.Contour{Start: geom.Vec{X: 10}, Segs: geom.UnitArc(geom.Scale(10, 10), 0, 2*math.Pi), Closed: true})
	if d := hausdorff(p.Contour(), func() geom.Contour { q := p.without(map[int]bool{1: true}); return q.Contour() }(), 0.01); d > 0.3 {
		t.Errorf("a circle of three nodes is off by %.3f of 10", d)
	}
	one := PathOf(round(0, 0, 10))
	one.setHandle(0, false, geom.Vec{X: 10, Y: 9}, false)
	if in := one.In[0]; math.Abs(in.X-10) > 1e-9 || in.Y >= 0 {
		t.Errorf("the other handle of a smooth node went to %v", in)
	}
	one.corner(0)
	one.smooth(0, true)
	if a, b := one.In[0].Sub(one.At[0]).Len(), one.Out[0].Sub(one.At[0]).Len(); math.Abs(a-b) > 1e-9 {
		t.Errorf("handles of %g and %g at a symmetric node", a, b)
	}
}

// TestCutsKeepCurves cuts a disc by a bar: what is left of its curves is pieces
// of them, and untouched curves stay to the bit.
func TestCutsKeepCurves(t *testing.T) {
	s := &scene{rnd: rand.New(rand.NewPCG(1, 1))}
	disc := round(0, 0, 10)
	s.add(ink, disc)
	s.add(clay, box(5, -30, 3, 60))
	w, err := Apply(unturned(s), &recipe.Mend{Do: "subtract", Shapes: []string{"s0", "s1"}})
	if err != nil {
		t.Fatal(err)
	}
	list := w.Sheet.Shapes[0].Contours
	kept := 0
	for _, c := range list {
		for i, seg := range c.Segs {
			if slices.Contains(disc.Segs, seg) {
				kept++
			}
			for k := range 20 {
				p := seg.At(c.From(i), float64(k)/20)
				if seg.Kind != geom.Line && math.Abs(p.Len()-10) > 0.004 {
					t.Fatalf("a point of the curve lies %.4f from the middle", p.Len())
				}
			}
		}
	}
	if len(list) != 2 || kept != 2 {
		t.Errorf("%d contours, %d of 2 curves untouched", len(list), kept)
	}
}

// muddle is artwork with many faults at once.
func muddle(seed uint64) *Work {
	s := &scene{rnd: rand.New(rand.NewPCG(seed, 77)), page: geom.EmptyBox()}
	kinds := []string{"twice", "scrap", "open", "weld", "hole", "crossing", "pale", "overlap", "slit", "touch", "tip", "thin", "slot", "nodes"}
	for range 4 {
		n := len(s.shapes)
		faults[kinds[s.rnd.IntN(len(kinds))]](s)
		m := geom.Translate(s.between(-150, 150), s.between(-150, 150)).Mul(geom.Rotate(s.between(0, 6)))
		for i := n; i < len(s.shapes); i++ {
			s.shapes[i].Matrix = m.Mul(s.shapes[i].Matrix)
		}
	}
	return unturned(s)
}

// every takes what is to be decided, too.
var every = Choice{Classes: Classes}

// TestTakingAllTwice takes all proposals: the second time there is nothing to
// take, no outline crosses itself any more, and what is left is said. BILDHAUER_NASTY takes more.
func TestTakingAllTwice(t *testing.T) {
	left, muddles := 0, 12
	if os.Getenv("BILDHAUER_NASTY") != "" {
		muddles = 40
	}
	for seed := range uint64(muddles) {
		w := muddle(seed)
		taken, err := TakeAll(context.Background(), w, usual, counter(), every)
		if err != nil {
			t.Fatal(err)
		}
		replayed(t, w, &taken)
		said := 0
		for _, f := range taken.Left {
			if f.Copes {
				continue // raising does it
			}
			left++
			said++
			t.Logf("%d: left: %s %s %s", seed, f.Kind, f.Measure, f.Fixes[0].Will)
		}
		again, err := TakeAll(context.Background(), taken.Work, usual, counter(), every)
		if err != nil {
			t.Fatal(err)
		}
		if len(again.Mends) > said { // what came about by the fixes and was left, as more would have changed than was said
			t.Errorf("%d: the second time %d were taken: %v", seed, len(again.Mends), again.Mends)
		}
		for i := range taken.Work.Sheet.Shapes {
			sh := &taken.Work.Sheet.Shapes[i]
			if sh.Stroke != nil {
				continue
			}
			loops := taken.Work.loops(sh.Contours, sh.Matrix, nil, taken.Work.tol())
			if c := plane.Crossings(loops, 1); len(c) > 0 && !w.tiny(c[0], loops) {
				t.Errorf("%d: %s crosses itself at %v", seed, sh.Key, taken.Work.place(c[0].At))
			}
		}
	}
	if left > muddles/4 {
		t.Errorf("%d findings are left in %d muddles", left, muddles)
	}
}

// replayed holds that mends done one after the other lead to what taking them came to, where only those that say
// so are told the size.
func replayed(t *testing.T, w *Work, taken *Taken) {
	t.Helper()
	at := w
	for i := range taken.Mends {
		m := &taken.Mends[i]
		own := *at
		if !Sized(m.Do) {
			own.PxPerMM = 0
		}
		next, err := Apply(&own, m)
		if err != nil {
			t.Errorf("%s of %v was taken, but is refused when it is done again: %v", m.Do, m.Shapes, err)
			continue
		}
		next.PxPerMM = w.PxPerMM
		at = next
	}
	if !reflect.DeepEqual(at.Sheet.Shapes, taken.Work.Sheet.Shapes) {
		t.Error("the mends that were taken lead to other outlines when they are done again")
	}
}

// tiny reports whether a crossing is one of roundings.
func (w *Work) tiny(c plane.Crossing, loops []plane.Loop) bool {
	l := &look{Work: w}
	return !l.parting(loops, c, map[int]*plane.SegmentIndex{})
}

// TestCleanArtworkHasNoFindings draws sound forms: fewer than one finding in
// fifty.
func TestCleanArtworkHasNoFindings(t *testing.T) {
	found := 0
	const n = 150
	for seed := range uint64(n) {
		s := &scene{rnd: rand.New(rand.NewPCG(seed, 21)), page: geom.EmptyBox()}
		switch seed % 4 {
		case 0:
			s.add(ink, wavy(s.rnd, 14).Reversed())
		case 1:
			r := s.between(15, 45)
			s.add(ink, round(0, 0, r), round(0, 0, r*0.6).Reversed())
		case 2:
			s.add(ink, box(0, 0, 30, s.between(10, 40)))
			s.add(clay, round(15, 5, 3))
		default:
			c := geom.Contour{Start: geom.Vec{}, Segs: []geom.Segment{{To: geom.Vec{X: 30, Y: s.between(5, 20)}}}}
			s.add(ink, c).Stroke = &geom.StrokeStyle{Width: s.between(1.5, 4), Cap: geom.RoundCap, MiterLimit: 4}
		}
		list, err := Find(context.Background(), s.work(), usual)
		if err != nil {
			t.Fatal(err)
		}
		if len(list) > 0 {
			found++
			t.Logf("%d: %v", seed, words(list))
		}
	}
	if found*50 > n {
		t.Errorf("%d of %d clean forms have findings", found, n)
	}
}

// BenchmarkFindings looks at a sheet of 20,000 nodes.
func BenchmarkFindings(b *testing.B) {
	s := &scene{rnd: rand.New(rand.NewPCG(4, 4)), page: geom.EmptyBox()}
	for i := range 100 {
		sh := s.add([]artwork.Color{ink, clay}[i%2], wavy(s.rnd, 200))
		sh.Matrix = geom.Translate(float64(i%10)*70, float64(i/10)*70)
	}
	w := unturned(s)
	w.PxPerMM = 7 // 100 mm
	for b.Loop() {
		if _, err := Find(context.Background(), w, usual); err != nil {
			b.Fatal(err)
		}
	}
	b.ReportMetric(float64(w.Sheet.Nodes()), "nodes")
}

// BenchmarkFixes takes the proposal of each kind, the slowest counts.
func BenchmarkFixes(b *testing.B) {
	for _, k := range Kinds {
		b.Run(k.Name, func(b *testing.B) {
			s := &scene{rnd: rand.New(rand.NewPCG(2, 5)), page: geom.EmptyBox()}
			faults[k.Name](s)
			w := s.work()
			list, err := Find(context.Background(), w, usual, k.Name)
			if err != nil || len(list) == 0 {
				b.Fatal(err, len(list))
			}
			for b.Loop() {
				if _, _, err := w.take(list[0].Fixes[0], counter()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
