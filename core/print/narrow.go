package print

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
	"bildhauer/core/units"
)

// What is too narrow for a nozzle, by its diameter: a wall or a gap narrower than the nozzle is
// lost or closes; a hole up to twice as wide closes, too, because a line laid around a bend is
// drawn to its inside. A point on the bed is sharp below sharpest: what lies at its end is
// narrower than a nozzle over more than its length, cools at once and curls.
const (
	holesUpTo = 2.0
	sharpest  = 30 * math.Pi / 180
)

// slant is by how much less than half a turn both sides of a narrow place may face each other.
const slant = 30 * math.Pi / 180

// upright is by how much a wall may grow thinner or thicker from a quarter of a layer below
// its middle to a quarter above it, as a share of that height: 10 degrees on both sides. What
// tapers more is a ridge or a bevel that ends, as it should.
const upright = 0.35

// tight is a narrow place of one layer.
type tight struct {
	kind   string
	layer  int
	at     geom.Vec // grid units
	wide   float64  // grid units, or degrees of a point
	number int      // how many places it stands for
}

// narrow looks for walls, gaps and holes that are too narrow for the nozzle in any layer, and
// for sharp points of the first one.
func (r *Report) narrow(ctx context.Context, m *mesh.Mesh, layers []Layer, s *Setup) error {
	_, first := numbered(layers)
	width := s.Nozzle / m.Step
	found := make([][]tight, len(first))
	err := parallel.Each(len(first), func(k int) error {
		i := first[k]
		area, err := thinned(layers[i].Area, plane.Units(math.Max(1, fine/2/m.Step)))
		if err != nil {
			return err
		}
		found[k] = tights(ctx, area, i, width)
		return ctx.Err()
	})
	if err != nil {
		return err
	}
	var all []tight
	for _, list := range found {
		all = append(all, list...)
	}
	if all, err = uprights(ctx, m, layers, all); err != nil {
		return err
	}
	if len(layers) > 0 {
		all = append(all, points(ctx, layers[0].Area, width)...)
	}
	for _, t := range merged(all, 3*width, sameReach/m.Step) {
		r.Findings = append(r.Findings, t.finding(m.Step, layers, s))
	}
	return nil
}

// tights lists the narrow places of one layer.
func tights(ctx context.Context, area plane.Region, layer int, width float64) (out []tight) {
	var loops []plane.Loop
	for _, p := range area {
		loops = append(loops, p.Outer)
		for _, h := range p.Holes {
			if wide, at, ok := smallHole(h, width*holesUpTo); ok {
				out = append(out, tight{Hole, layer, at, wide, 1})
			} else {
				loops = append(loops, h)
			}
		}
	}
	g := gauge.New(loops)
	g.Poll = progress.NewPoll(ctx)
	for _, outside := range []bool{false, true} {
		kind := Wall
		if outside {
			kind = Gap
		}
		for _, spot := range g.Spots(g.Narrow(width*0.995, outside, slant), width*0.6) {
			if b := gauge.Narrowest(spot); gauge.Even(spot) {
				out = append(out, tight{kind, layer, b.Middle, 2 * b.Radius, 1})
			}
		}
	}
	return out
}

// smallHole reports whether no disc of a width fits into a hole that is about as long as wide,
// with the hole's own width and its middle.
func smallHole(h plane.Loop, width float64) (wide float64, at geom.Vec, ok bool) {
	lo, hi, _ := plane.Region{{Outer: h}}.Bounds()
	x, y := float64(hi.X-lo.X), float64(hi.Y-lo.Y)
	at = geom.Vec{X: float64(lo.X) + x/2, Y: float64(lo.Y) + y/2}
	return math.Min(x, y), at, math.Min(x, y) < width*0.995 && math.Max(x, y) < 2*width
}

// uprights leaves out what tapers: it measures each place a quarter of a layer lower and
// higher again.
func uprights(ctx context.Context, m *mesh.Mesh, layers []Layer, list []tight) ([]tight, error) {
	var rows []int
	for _, t := range list {
		if len(rows) == 0 || rows[len(rows)-1] != t.layer {
			rows = append(rows, t.layer)
		}
	}
	slices.Sort(rows)
	rows = slices.Compact(rows)
	lo, _ := m.Box()
	cuts := make([]int64, 0, 2*len(rows))
	for _, i := range rows {
		for _, share := range []float64{0.75, 0.25} {
			z := lo[2] + layers[i].Z - layers[i].Height*share
			cuts = append(cuts, 2*int64(math.Floor(z/m.Step))+1)
		}
	}
	cutter := newCutter(m)
	byCut := cutter.crossing(cuts)
	index := make([]*gauge.Gauge, len(cuts))
	err := parallel.Each(len(cuts), func(i int) error {
		progress.Needed(ctx)
		r, err := cutter.section(byCut[i], cuts[i])
		index[i] = gauge.New(gauge.LoopsOf(r))
		return err
	})
	poll := progress.NewPoll(ctx)
	return slices.DeleteFunc(list, func(t tight) bool {
		poll.Spend(20)
		k := slices.Index(rows, t.layer)
		below, above := 2*index[2*k].Nearest(t.at), 2*index[2*k+1].Nearest(t.at)
		return math.Abs(above-below) > upright*layers[t.layer].Height/2/m.Step
	}), err
}

// points lists the sharp points of an area: seen over a reach of one and a half nozzles both
// sides of the outline are so near to each other, and go on to part.
func points(ctx context.Context, area plane.Region, width float64) (out []tight) {
	reach, poll := 1.5*width, progress.NewPoll(ctx)
	area.Loops(func(l plane.Loop) {
		for i := range l {
			poll.Spend(10)
			p := vecOf(l[i])
			a, b := walk(l, i, reach, 1), walk(l, i, reach, -1)
			chord := a.Sub(b).Len()
			angle := 2 * math.Asin(math.Min(1, chord/2/reach))
			if angle >= sharpest || b.Sub(p).Cross(a.Sub(p)) >= 0 { // or it points into the area
				continue
			}
			if far := walk(l, i, 3*reach, 1).Sub(walk(l, i, 3*reach, -1)).Len(); far < 1.6*chord {
				continue // the end of a thin wall
			}
			out = append(out, tight{Curls, 0, p, angle * 180 / math.Pi, 1})
		}
	})
	return out
}

func vecOf(p plane.Point) geom.Vec { return geom.Vec{X: float64(p.X), Y: float64(p.Y)} }

// walk returns the place of a loop that is so far from its i-th point along it.
func walk(l plane.Loop, i int, far float64, dir int) geom.Vec {
	n := len(l)
	at := vecOf(l[i])
	for range n {
		i = (i + n + dir) % n
		next := vecOf(l[i])
		if d := next.Sub(at).Len(); d >= far {
			return at.Lerp(next, far/d)
		} else {
			far -= d
		}
		at = next
	}
	return at
}

// Places are of one cause if they are of one kind, about as wide as each other, and no farther from one that is of it than
// that: a tube that does not touch its bed by a hundredth of a millimetre has a gap all along it.
const (
	sameWidth = 1.6 // of the narrowest of them
	sameReach = 10  // mm
)

// merged keeps of places of one kind that lie within reach of each other, seen from above, the narrowest; of those that have
// one cause, too, with how many they are; and of all of one kind at most as many as a person would go through.
func merged(list []tight, reach, far float64) (out []tight) {
	const most = 12
	slices.SortStableFunc(list, func(a, b tight) int { return cmp.Or(cmp.Compare(a.wide, b.wide), cmp.Compare(a.layer, b.layer)) })
	list = causes(spread(list, reach), far)
	counts, last := map[string]int{}, map[string]int{}
	for _, t := range list {
		if counts[t.kind]++; counts[t.kind] > most {
			out[last[t.kind]].number += t.number
			continue
		}
		last[t.kind] = len(out)
		out = append(out, t)
	}
	slices.SortStableFunc(out, func(a, b tight) int { return slices.Index(Kinds, a.kind) - slices.Index(Kinds, b.kind) })
	return out
}

// near finds places of a kind by where they are, in squares as wide as they may be from each other.
type near struct {
	cells map[square][]int
	reach float64
}

type square struct {
	kind string
	x, y int
}

func (n *near) square(t *tight, dx, dy int) square {
	return square{t.kind, int(math.Floor(t.at.X/n.reach)) + dx, int(math.Floor(t.at.Y/n.reach)) + dy}
}

func (n *near) put(t *tight, i int) {
	c := n.square(t, 0, 0)
	n.cells[c] = append(n.cells[c], i)
}

// each calls f for all that may lie within reach of a place.
func (n *near) each(t *tight, f func(i int)) {
	for dx := -1; dx <= 1; dx++ {
		for dy := -1; dy <= 1; dy++ {
			for _, i := range n.cells[n.square(t, dx, dy)] {
				f(i)
			}
		}
	}
}

// spread leaves out what lies within reach of one before it.
func spread(list []tight, reach float64) (out []tight) {
	n := near{map[square][]int{}, reach}
	for _, t := range list {
		taken := false
		n.each(&t, func(i int) { taken = taken || out[i].at.Sub(t.at).Len() < reach })
		if !taken {
			n.put(&t, len(out))
			out = append(out, t)
		}
	}
	return out
}

// causes makes one of those that have one cause: the narrowest of them, with their number.
func causes(list []tight, far float64) (out []tight) {
	n := near{map[square][]int{}, far}
	for i := range list {
		n.put(&list[i], i)
	}
	taken := make([]bool, len(list))
	for i := range list { // the narrowest first
		if taken[i] {
			continue
		}
		t := list[i]
		t.number = 0
		taken[i] = true
		for todo := []int{i}; len(todo) > 0; t.number++ {
			at := list[todo[len(todo)-1]]
			todo = todo[:len(todo)-1]
			n.each(&at, func(k int) {
				if !taken[k] && list[k].wide <= t.wide*sameWidth && list[k].at.Sub(at.at).Len() < far {
					taken[k] = true
					todo = append(todo, k)
				}
			})
		}
		out = append(out, t)
	}
	return out
}

// finding words a place.
func (t *tight) finding(step float64, layers []Layer, s *Setup) Finding {
	wide, nozzle := units.Figure(t.wide*step), units.Figure(s.Nozzle)
	l := layers[t.layer]
	f := Finding{
		Kind: t.kind, Measure: t.wide * step, Layer: t.layer + 1, Limit: s.Nozzle,
		At: [3]float64{t.at.X * step, t.at.Y * step, l.Z - l.Height/2},
	}
	switch t.kind {
	case Wall:
		f.Mend = "thin"
		f.Text = fmt.Sprintf("A wall is %s mm wide; a nozzle of %s mm can't lay it, or lays it in drops.", wide, nozzle)
		f.Way = "Thicken it in Mend, make the piece larger, or take a finer nozzle."
	case Gap:
		f.Mend = "slot"
		f.Text = fmt.Sprintf("A gap is %s mm wide: what is laid on both sides of it by a nozzle of %s mm will meet.", wide, nozzle)
		f.Way = "Widen or fill it in Mend, or take a finer nozzle."
	case Hole:
		f.Mend, f.Limit = "slot", holesUpTo*s.Nozzle
		f.Text = fmt.Sprintf("A hole is %s mm wide; below %s mm it closes.", wide, units.Figure(holesUpTo*s.Nozzle))
		f.Way = "Widen or fill it in Mend."
	case Curls:
		f.Mend, f.Limit, f.Measure = "tip", sharpest*180/math.Pi, t.wide
		f.Text = fmt.Sprintf("A point of %s° lies on the bed: it cools at once and curls up.", units.Figure(t.wide))
		f.Way = "Blunt it in Mend, or print with a brim."
	}
	if t.number > 1 {
		f.Text += fmt.Sprintf(" It is about so in %d places.", t.number)
	}
	return f
}
