package mend

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// eye sees artwork as the standard says: at a point, the topmost shape that winds around it. It shares nothing
// with the areas that effects are worked out from.
type eye struct {
	loops [][][]geom.Vec
	box   []geom.Box
	odd   []bool
	color []artwork.Color
}

func eyeOf(w *Work) *eye {
	e := &eye{}
	for i := range w.Sheet.Shapes {
		sh := &w.Sheet.Shapes[i]
		if !w.In[i] || sh.Stroke != nil {
			continue
		}
		var loops [][]geom.Vec
		for _, c := range sh.Contours {
			var l []geom.Vec
			for k, s := range c.Segs {
				from := c.From(k)
				steps := 32
				if s.Kind == geom.Line {
					steps = 1
				}
				for n := range steps {
					l = append(l, sh.Matrix.Apply(onSegment(from, s, float64(n)/float64(steps))))
				}
			}
			loops = append(loops, append(l, sh.Matrix.Apply(c.End())))
		}
		e.loops, e.odd, e.color = append(e.loops, loops), append(e.odd, sh.EvenOdd), append(e.color, w.Color[i])
		e.box = append(e.box, sh.Box())
	}
	return e
}

func onSegment(from geom.Vec, s geom.Segment, t float64) geom.Vec {
	switch s.Kind {
	case geom.Line:
		return from.Lerp(s.To, t)
	case geom.Quad:
		return from.Lerp(s.C1, t).Lerp(s.C1.Lerp(s.To, t), t)
	}
	a, b, c := from.Lerp(s.C1, t), s.C1.Lerp(s.C2, t), s.C2.Lerp(s.To, t)
	return a.Lerp(b, t).Lerp(b.Lerp(c, t), t)
}

// at returns the colour at a point, none where nothing is.
func (e *eye) at(p geom.Vec) (artwork.Color, bool) {
	for i := len(e.loops) - 1; i >= 0; i-- {
		if b := e.box[i]; p.X < b.Min.X || p.X > b.Max.X || p.Y < b.Min.Y || p.Y > b.Max.Y {
			continue
		}
		winds := 0
		for _, l := range e.loops[i] {
			for k, a := range l {
				b := l[(k+1)%len(l)]
				if a.Y <= p.Y == (b.Y <= p.Y) || a.X+(p.Y-a.Y)/(b.Y-a.Y)*(b.X-a.X) <= p.X {
					continue
				}
				if winds++; b.Y < a.Y {
					winds -= 2
				}
			}
		}
		if winds != 0 && (!e.odd[i] || winds%2 != 0) {
			return e.color[i], true
		}
	}
	return artwork.Color{}, false
}

// differ returns the area in mm2 of a box in which two works look different, the error of that, and the share of
// the box that is covered before.
func differ(rnd *rand.Rand, a, b *Work, box geom.Box, n int) (area, sigma, ink float64) {
	p, q := eyeOf(a), eyeOf(b)
	hits, covered := 0, 0
	for range n {
		at := geom.Vec{X: box.Min.X + rnd.Float64()*box.W(), Y: box.Min.Y + rnd.Float64()*box.H()}
		c, some := p.at(at)
		d, any := q.at(at)
		if some {
			covered++
		}
		if some != any || c != d {
			hits++
		}
	}
	whole := box.W() * box.H() / a.PxPerMM / a.PxPerMM
	share := float64(hits) / float64(n)
	return share * whole, whole * math.Sqrt(math.Max(share, 1/float64(n))/float64(n)), float64(covered) / float64(n) * whole
}

// TestEffectsAreWhatIsSeen tries the proposals of prepared troubles and of muddles: the area that is said to
// change is the one of the points that look different, within 2% and what chance does.
func TestEffectsAreWhatIsSeen(t *testing.T) {
	rnd := rand.New(rand.NewPCG(4, 4))
	tried, changing := 0, 0
	check := func(name string, w *Work) {
		t.Helper()
		if slices.ContainsFunc(w.Sheet.Shapes, func(s artwork.Shape) bool { return s.Stroke != nil }) {
			return
		}
		list, err := Find(context.Background(), w, usual)
		if err != nil {
			t.Fatal(err)
		}
		for i := range list {
			f := &list[i]
			if f.Fails != "" || i > 8 {
				continue
			}
			next, _, err := w.take(f.Fixes[0], counter())
			if err != nil {
				t.Fatal(err)
			}
			trial, err := Try(context.Background(), w, f.Fixes[0].Do)
			if err != nil {
				t.Fatal(err)
			}
			box := f.Box
			for _, c := range trial.Changes {
				box = box.Union(w.boxOf(c.Where))
			}
			d := w.px(1)
			box = geom.Box{Min: box.Min.Sub(geom.Vec{X: d, Y: d}), Max: box.Max.Add(geom.Vec{X: d, Y: d})}
			area, sigma, _ := differ(rnd, w, next, box, 4000)
			// What nobody sees is not counted: a rim of unseenMM along what is near.
			unseen := unseenMM / 2 * 2 * (box.W() + box.H()) / w.PxPerMM
			if math.Abs(area-trial.Area) > 0.02*trial.Area+4*sigma+unseen {
				t.Errorf("%s: %s, %s: %.3f mm² look different (± %.3f), said %.3f (%s)", name, f.Kind, f.Measure, area, sigma, trial.Area, f.Effect.Words())
			}
			if f.Class == Tidy && !f.Copes && area > 4*sigma+unseen {
				t.Errorf("%s: %s, %s is tidy and changes %.3f mm²", name, f.Kind, f.Measure, area)
			}
			tried++
			if trial.Wide > 0 {
				changing++
			}
		}
	}
	for kind, prepare := range faults {
		for seed := range uint64(3) {
			s := &scene{rnd: rand.New(rand.NewPCG(seed, 11)), page: geom.EmptyBox()}
			prepare(s)
			check(kind, s.work())
		}
	}
	for seed := range uint64(6) {
		check("muddle", muddle(seed))
	}
	if tried < 60 || changing < 30 {
		t.Errorf("%d proposals were tried, %d of them change something", tried, changing)
	}
}

// TestTakingAllKeepsThePicture takes all of muddles that is no guess: what was to be decided is still there, and
// no more changes than was said, and may be.
func TestTakingAllKeepsThePicture(t *testing.T) {
	rnd := rand.New(rand.NewPCG(5, 5))
	decided, took := 0, 0
	for seed := range uint64(20) {
		w := muddle(seed)
		if slices.ContainsFunc(w.Sheet.Shapes, func(s artwork.Shape) bool { return s.Stroke != nil }) {
			continue
		}
		before, err := Find(context.Background(), w, usual)
		if err != nil {
			t.Fatal(err)
		}
		said := 0.0
		for i := range before {
			switch before[i].Class {
			case Decide:
				decided++
			case Heal:
				said += before[i].Effect.Share
			}
		}
		taken, err := TakeAll(context.Background(), w, usual, counter(), Choice{})
		if err != nil {
			t.Fatal(err)
		}
		took += len(taken.Mends)
		for _, m := range taken.Mends {
			if m.Do == "hole" || m.Do == "contour" {
				t.Errorf("%d: %s was decided", seed, m.Name)
			}
		}
		box := geom.EmptyBox()
		for i := range w.Sheet.Shapes {
			box = box.Union(w.Sheet.Shapes[i].Box())
		}
		area, sigma, ink := differ(rnd, w, taken.Work, box, 12_000)
		if share := area / ink; share > math.Max(said, mostHealed)+4*sigma/ink {
			t.Errorf("%d: %.2f %% of the picture changed, %.2f %% were said", seed, 100*share, 100*said)
		}
	}
	if decided < 10 || took < 20 {
		t.Errorf("%d findings were to decide, %d mends were taken", decided, took)
	}
}

// TestWhatIsNoTrouble draws what careful people draw: nothing is proposed that would change it, and what the
// engine copes with is told apart.
func TestWhatIsNoTrouble(t *testing.T) {
	look := func(s *scene) []Finding {
		t.Helper()
		list, err := Find(context.Background(), s.work(), usual)
		if err != nil {
			t.Fatal(err)
		}
		return list
	}
	draw := func(f func(s *scene)) []Finding {
		s := &scene{rnd: rand.New(rand.NewPCG(1, 1)), page: geom.EmptyBox()}
		f(s)
		return look(s)
	}
	ring := func(from, to artwork.Color) *artwork.Gradient {
		return &artwork.Gradient{Stops: []artwork.Stop{{At: 0, Color: from, Opacity: 1}, {At: 1, Color: to, Opacity: 1}}}
	}
	// A disc that runs the other way round than its neighbours is seen all the same.
	if list := draw(func(s *scene) {
		s.add(ink, round(0, 0, 30), round(0, 0, 20).Reversed(), round(0, 0, 8).Reversed(), round(-50, 0, 15), round(50, 0, 15).Reversed())
	}); slices.ContainsFunc(list, func(f Finding) bool { return f.Kind == "hole" }) {
		t.Errorf("a disc drawn the other way round: %v", words(list))
	}
	// A stroke along an open outline stays open; its filling is closed already.
	open := geom.Contour{Start: geom.Vec{X: 0.3}, Segs: []geom.Segment{{To: geom.Vec{X: 30}}, {To: geom.Vec{X: 30, Y: 30}}, {To: geom.Vec{Y: 0.2}}}}
	list := draw(func(s *scene) {
		s.add(clay, open)
		s.add(ink, open).Stroke = &geom.StrokeStyle{Width: 2, MiterLimit: 4}
	})
	for _, f := range list {
		if f.Kind == "open" && (!f.Copes || f.Shapes[0] != "s0" || f.Effect.Wide != 0) {
			t.Errorf("an open outline with a stroke along it: %+v", f)
		}
	}
	// Gradients that mirror each other have one mean colour and are two paints.
	mirrored := func(same bool) []Finding {
		return draw(func(s *scene) {
			a, b := s.add(ink, box(0, 0, 30, 20)), s.add(ink, box(26, 0, 30, 20))
			a.Gradient, b.Gradient = ring(snow, clay), ring(clay, snow)
			if same {
				b.Gradient = ring(snow, clay)
			}
			s.shapes[0].Gradient = a.Gradient
		})
	}
	united := func(list []Finding) bool {
		return slices.ContainsFunc(list, func(f Finding) bool { return f.Fixes[0].Do[0].Do == "unite" })
	}
	if united(mirrored(false)) || !united(mirrored(true)) {
		t.Errorf("mirrored gradients: %v, the same one: %v", words(mirrored(false)), words(mirrored(true)))
	}
	// A neighbour that overlaps is trimmed below what lies on it, if at all.
	for _, f := range draw(faults["overlap"]) {
		if f.Fixes[0].Do[0].Do == "subtract" && (!f.Copes || f.Fixes[0].Do[0].Shapes[0] != "s0") {
			t.Errorf("an overlap of neighbours: %+v", f)
		}
	}
	for kind, class := range map[string]string{"pale": Decide, "background": Decide, "hole": Decide, "loose": Decide, "twice": Tidy, "crossing": Tidy} {
		for _, f := range draw(faults[kind]) {
			if f.Kind == kind && f.Class != class {
				t.Errorf("%s, %s is to %s, want %s", kind, f.Measure, f.Class, class)
			}
		}
	}
}

// TestMuchIsAskedFor thickens so many lines that the drawing would be another one: it is asked for, and taken
// when it is.
func TestMuchIsAskedFor(t *testing.T) {
	s := &scene{rnd: rand.New(rand.NewPCG(3, 1)), page: geom.EmptyBox()}
	s.add(clay, box(0, 0, 100, 12))
	for k := range 12 {
		s.add(ink, box(4, 20+6*float64(k), 92, 0.4))
	}
	w := s.work()
	list, err := Find(context.Background(), w, usual)
	if err != nil {
		t.Fatal(err)
	}
	thin := 0
	for _, f := range list {
		if f.Kind == "thin" {
			thin++
			if f.Class != Decide || f.Together < mostHealed {
				t.Errorf("a thin line is to %s, together %.3f", f.Class, f.Together)
			}
		}
	}
	all, err := TakeAll(context.Background(), w, usual, counter(), Choice{})
	if err != nil || thin < 12 || len(all.Mends) > 0 {
		t.Errorf("%d thin lines, taken without being asked: %v, %v", thin, all.Mends, err)
	}
	asked, err := TakeAll(context.Background(), w, usual, counter(), Choice{Kinds: []string{"thin"}, Classes: Classes})
	if err != nil || len(asked.Mends) == 0 || len(asked.Left) > 0 {
		t.Errorf("taken when asked: %v, left %v, %v", asked.Mends, words(asked.Left), err)
	}
	left := Choice{Leave: func(f *Finding) bool { return true }}
	if none, err := TakeAll(context.Background(), muddle(1), usual, counter(), left); err != nil || len(none.Mends) > 0 {
		t.Errorf("what was left was taken: %v, %v", none.Mends, err)
	}
}

// TestLimitsAreSaid draws more scraps than are shown, and a mend whose shape a later one took away.
func TestLimitsAreSaid(t *testing.T) {
	s := &scene{rnd: rand.New(rand.NewPCG(3, 1)), page: geom.EmptyBox()}
	s.add(ink, round(0, 0, 40))
	for k := range mostOfKind + 20 {
		s.add(ink, box(50+float64(k%40), float64(k/40), 0.3, 0.3))
	}
	w := s.work()
	list, err := Find(context.Background(), w, usual, "scrap")
	if err != nil || len(list) != mostOfKind || list[mostOfKind-1].More != 20 || list[0].More != 0 {
		t.Errorf("%d scraps, %d more, %v", len(list), list[len(list)-1].More, err)
	}
	move := &recipe.Mend{ID: "a", Do: "move", Shapes: []string{"s1"}, At: [][2]float64{{1, 1}}}
	drop := &recipe.Mend{ID: "b", Do: "drop", Shapes: []string{"s1"}}
	moved, err := Apply(w, move)
	if err != nil || moved.Overtaken(move) {
		t.Fatalf("a move: %v", err)
	}
	dropped, err := Apply(moved, drop)
	if err != nil || !dropped.Overtaken(move) || dropped.Overtaken(drop) {
		t.Errorf("a move of what was dropped later has its effect: %v", err)
	}
}
