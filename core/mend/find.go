package mend

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync"

	"bildhauer/core/artwork"
	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// Finding is something about the artwork that will hurt later, and what can be
// done about it.
type Finding struct {
	Kind    string
	Shapes  []string // keys
	At      geom.Vec // px of the page
	Box     geom.Box // what it is about, px of the page
	Measure string   // "gap 0.12 mm"
	Fixes   []Fix    // the first is the proposal

	Class  string  // Tidy, Heal or Decide
	Effect Effect  // of the proposal
	Bound  float64 // how wide what it changes may be, mm, so that it heals
	// Together is how much of the picture all findings of the kind change, as a share, where that is too much
	// to be healed without being asked.
	Together float64
	Fails    string // why the proposal can't be taken, "" if it can
	More     int    // of the last one of a kind: so many more were found, and come when these are done
	Quiet    bool   // it may well be meant: careful people draw the like
	Copes    bool   // raising does the same by itself: nothing has to be done
}

// Fix is one way to put a finding right.
type Fix struct {
	Will string        // what will happen, as a sentence
	Do   []recipe.Mend // without ids
}

// Kind is one kind of finding.
type Kind struct {
	Name    string
	Title   string                 // of a list of them
	Matters string                 // ForPicture, ForPrint, "" for both, or ForNobody: the engine copes with it
	Harm    int                    // those of the largest harm come first
	guess   bool                   // what was meant is not known
	bound   func(l Limits) float64 // how wide what the proposal changes may be, mm; nil for nothing that is seen
	look    func(l *look) []Finding
}

// Kinds lists all kinds in the order in which their fixes are taken: what is
// left out first, then single outlines, then how shapes lie to each other, then
// what is too small to make.
var Kinds = []Kind{
	{Name: "background", Title: "Backgrounds the size of the page", Harm: 9, guess: true, look: findBackgrounds},
	{Name: "twice", Title: "Shapes that lie twice", Harm: 3, look: findTwice},
	{Name: "scrap", Title: "Scraps", Matters: ForPrint, Harm: 4, bound: Limits.scrap, look: findScraps},
	{Name: "open", Title: "Open outlines", Harm: 6, bound: Limits.gap, look: findOpen},
	{Name: "ends", Title: "Ends that nearly meet", Harm: 6, bound: Limits.gap, look: findEnds},
	{Name: "weld", Title: "Needless nodes", Matters: ForNobody, Harm: 1, look: findWeld},
	{Name: "hole", Title: "Holes out of place", Harm: 8, guess: true, look: findHoles},
	{Name: "crossing", Title: "Outlines that cross", Matters: ForPicture, Harm: 5, look: findCrossings},
	{Name: "pale", Title: "Pale shapes that may be holes", Harm: 8, guess: true, look: findPale},
	{Name: "overlap", Title: "Neighbours that overlap", Matters: ForPicture, Harm: 3, look: findOverlaps},
	{Name: "slit", Title: "Slits between neighbours", Matters: ForPicture, Harm: 5, bound: Limits.gap, look: findSlits},
	{Name: "touch", Title: "Touching in a point", Matters: ForNobody, Harm: 2, bound: Limits.thin, look: findTouches},
	{Name: "tip", Title: "Sharp tips", Matters: ForPicture, Harm: 4, bound: Limits.tip, look: findTips},
	{Name: "thin", Title: "Thin spots", Matters: ForPrint, Harm: 7, bound: Limits.thin, look: findThin},
	{Name: "slot", Title: "Small holes and slots", Matters: ForPrint, Harm: 5, bound: Limits.slot, look: findSlots},
	{Name: "loose", Title: "Loose pieces", Matters: ForPrint, Harm: 8, guess: true, look: findLoose},
	{Name: "nodes", Title: "More nodes than the form needs", Matters: ForNobody, Harm: 1, bound: Limits.refit, look: findNodes},
}

// KindOf returns a kind by its name.
func KindOf(name string) (Kind, bool) {
	i := slices.IndexFunc(Kinds, func(k Kind) bool { return k.Name == name })
	if i < 0 {
		return Kind{}, false
	}
	return Kinds[i], true
}

// Limits are the measures of findings, in mm and degrees.
type Limits struct{ Weld, Gap, Thin, Slot, Tip, Scrap, Refit float64 }

// LimitsOf returns the limits of a recipe.
func LimitsOf(m *recipe.Mends) Limits {
	return Limits{
		Weld: m.Limit("weld"), Gap: m.Limit("gap"), Thin: m.Limit("thin"),
		Slot: m.Limit("slot"), Tip: m.Limit("tip"), Scrap: m.Limit("scrap"),
		Refit: m.Limit("refit"),
	}
}

// mostOfKind bounds the findings of one kind: nobody steps through more.
const mostOfKind = 500

// Find looks for findings of the given kinds, all if none is given.
func Find(ctx context.Context, w *Work, limits Limits, kinds ...string) (out []Finding, err error) {
	return find(ctx, w, limits, newMemory(), kinds...)
}

// Spot looks for findings, as Find does, without working out what their proposals do and of which class they are.
func Spot(ctx context.Context, w *Work, limits Limits) (out []Finding, err error) {
	defer quit(ctx, &err)
	l, err := newLook(ctx, w, limits, newMemory())
	if err != nil || len(l.taken) == 0 {
		return nil, err
	}
	return l.spotAll(nil)
}

// find does it, with what earlier looks left.
func find(ctx context.Context, w *Work, limits Limits, m *memory, kinds ...string) (out []Finding, err error) {
	defer quit(ctx, &err)
	l, err := newLook(ctx, w, limits, m)
	if err != nil || len(l.taken) == 0 {
		return nil, err
	}
	if out, err = l.spotAll(kinds); err != nil {
		return nil, err
	}
	return out, l.judge(out)
}

// spotAll looks for the findings of some kinds, of all if none is given.
func (l *look) spotAll(kinds []string) ([]Finding, error) {
	found := make([][]Finding, len(Kinds))
	err := parallel.Each(len(Kinds), func(i int) error {
		if len(kinds) > 0 && !slices.Contains(kinds, Kinds[i].Name) || l.ctx.Err() != nil {
			return l.ctx.Err()
		}
		list := Kinds[i].look(l)
		for j := range list {
			list[j].Kind = Kinds[i].Name
		}
		if more := len(list) - mostOfKind; more > 0 {
			list = list[:mostOfKind]
			list[mostOfKind-1].More = more
		}
		found[i] = list
		return nil
	})
	if err != nil {
		return nil, err
	}
	return slices.Concat(found...), nil
}

// look is what finders look at.
type look struct {
	*Work
	limits Limits
	ctx    context.Context
	stop   func() bool // whether nobody waits any more
	tol    float64     // of the flattened outlines, px

	taken  []int          // shapes that take part
	region []plane.Region // of each of them, on the grid
	box    []geom.Box     // of each
	parts  []seenPart     // what is seen of each colour
	all    plane.Region   // all together
	owners func() *owners // made when somebody asks first
	memory *memory        // of an earlier look, and for a later one
}

// seenPart is what is seen of the shapes of one colour.
type seenPart struct {
	color  artwork.Color
	region plane.Region
	of     []int // indices in taken
}

func newLook(ctx context.Context, w *Work, limits Limits, m *memory) (*look, error) {
	own := *w
	own.Stop = func() bool { return ctx.Err() != nil }
	w = &own
	l := &look{Work: w, limits: limits, ctx: ctx, stop: own.Stop, tol: w.lookTol(), memory: m}
	m.turn()
	m.within(l.tol)
	l.owners = sync.OnceValue(l.findOwners)
	for i := range w.Sheet.Shapes {
		if w.In[i] {
			l.taken = append(l.taken, i)
		}
	}
	l.region, l.box = make([]plane.Region, len(l.taken)), make([]geom.Box, len(l.taken))
	err := parallel.Each(len(l.taken), func(k int) (err error) {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		a, err := m.area(w, l.taken[k])
		l.region[k], l.box[k] = a.region, a.box
		return err
	})
	if err != nil {
		return nil, err
	}
	return l, l.stack()
}

// lookTol is how far flattened curves may be off for the looking: coarser than deeds look, but not so that arcs
// seem thinner than they are. A hundredth of a millimetre is a hundredth of the usual smallest width.
func (w *Work) lookTol() float64 { return math.Max(w.tol(), math.Min(4*w.tol(), w.px(0.01))) }

// needed ends the looking when nobody waits for it any more.
func (l *look) needed() { progress.Needed(l.ctx) }

// narrow returns the narrow spots of a region, inside or outside, and its gauge. what names what is looked for in
// which part.
func (l *look) narrow(what string, r plane.Region, width float64, outside bool) (*gauge.Gauge, [][]gauge.Ball) {
	g := gauge.New(gauge.LoopsOf(r))
	g.Poll = progress.NewPoll(l.ctx) // ends with the looking
	balls, m := g.NarrowSince(l.memory.measured(what), width, outside, slantOfSpots)
	l.memory.keep(what, m)
	return g, g.Spots(balls, width*0.6)
}

// quit turns the end of what is not needed any more into an error.
func quit(ctx context.Context, err *error) {
	if p := recover(); progress.Caught(p) {
		*err = ctx.Err()
	} else if p != nil {
		panic(p)
	}
}

// stack finds what is seen of each colour, and of all.
func (l *look) stack() error {
	number := map[artwork.Color]int{}
	var seen, one []plane.Layer
	for k, i := range l.taken {
		n, ok := number[l.Color[i]]
		if !ok {
			n = len(l.parts)
			number[l.Color[i]] = n
			l.parts = append(l.parts, seenPart{color: l.Color[i]})
		}
		l.parts[n].of = append(l.parts[n].of, k)
		seen = append(seen, plane.Layer{Loops: gauge.LoopsOf(l.region[k]), Label: int32(n + 1)})
		one = append(one, plane.Layer{Loops: gauge.LoopsOf(l.region[k]), Label: 1})
	}
	var regions, all map[int32]plane.Region
	err := parallel.Do(
		func() (err error) { regions, err = plane.Stack(seen, l.stop); return err },
		func() (err error) {
			if len(l.parts) > 1 {
				all, err = plane.Stack(one, l.stop)
			}
			return err
		},
	)
	if err != nil {
		return err
	}
	for n := range l.parts {
		l.parts[n].region = regions[int32(n+1)]
	}
	l.all = all[1]
	if len(l.parts) == 1 {
		l.all = l.parts[0].region
	}
	return nil
}

func (l *look) shape(k int) *artwork.Shape { return &l.Sheet.Shapes[l.taken[k]] }
func (l *look) key(k int) string           { return l.shape(k).Key }

// keys returns the keys of several shapes, by their indices in taken.
func (l *look) keys(which []int) []string {
	out := make([]string, len(which))
	for i, k := range which {
		out[i] = l.key(k)
	}
	return out
}

// near returns which of some shapes reach within far px of a place, by their
// outlines.
func (l *look) near(which []int, at geom.Vec, far float64) []int {
	p := geom.Box{Min: at.Sub(geom.Vec{X: far, Y: far}), Max: at.Add(geom.Vec{X: far, Y: far})}
	var out []int
	for _, k := range which {
		if !l.box[k].Empty() && l.box[k].Overlaps(p) {
			out = append(out, k)
		}
	}
	return out
}

// around returns the box within far mm of a place.
func (l *look) around(at geom.Vec, far float64) geom.Box {
	d := geom.Vec{X: l.px(far), Y: l.px(far)}
	return geom.Box{Min: at.Sub(d), Max: at.Add(d)}
}

func mmOf(v float64) string { return units.MM(v) }

func pair(v geom.Vec) [2]float64 { return [2]float64{v.X, v.Y} }

// fix words one way with one deed.
func fix(m recipe.Mend, will string, args ...any) Fix {
	m.Name = fmt.Sprintf(will, args...)
	return Fix{m.Name, []recipe.Mend{m}}
}

// mmLen returns a length on the page in mm.
func (l *look) mmLen(px float64) float64 { return px / l.PxPerMM }

// contours returns the contours of a shape on the page.
func (l *look) contours(k int) []geom.Contour {
	sh := l.shape(k)
	out := make([]geom.Contour, len(sh.Contours))
	for i, c := range sh.Contours {
		out[i] = c.Transform(sh.Matrix)
	}
	return out
}

// spotBox returns the box of a spot on the page.
func (l *look) spotBox(spot []gauge.Ball) geom.Box {
	b := geom.EmptyBox()
	for _, s := range spot {
		b = b.Grow(l.fromGrid(s.At)).Grow(l.fromGrid(s.Across))
	}
	return b
}

func degrees(rad float64) float64 { return rad * 180 / math.Pi }
