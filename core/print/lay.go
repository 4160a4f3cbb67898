package print

import (
	"context"
	"fmt"
	"math"
	"slices"
	"sync"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Lay finds the paths of all layers: perimeters by offset, solid layers below and above
// whatever is open to the air, infill between them. The middle is that of the piece, mm.
func Lay(ctx context.Context, layers []Layer, step float64, middle [2]float64, s *Setup) ([]Laid, error) {
	b := newBench(plane.Step(step), middle, s)
	b.poll = progress.NewPoll(ctx)
	b.style.Stop = func() bool { return ctx.Err() != nil }
	kinds, first := numbered(layers)
	around := make([]*shell, len(first))
	err := parallel.Each(len(first), func(k int) (err error) {
		around[k], err = b.shell(layers[first[k]].Area)
		if err == nil {
			err = ctx.Err()
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	// What lies within depends on the layers around, on whether it is an even one, and on whether it hangs over the one below.
	windows := map[string]int{}
	which := make([]int, len(layers))
	var begin []int
	for i := range layers {
		w := fmt.Sprint(window(kinds, i, s.Floors), i%2, i > 0 && kinds[i-1] != kinds[i])
		k, ok := windows[w]
		if !ok {
			k = len(begin)
			windows[w] = k
			begin = append(begin, i)
		}
		which[i] = k
	}
	paths := make([][]Path, len(begin))
	err = parallel.Each(len(begin), func(k int) (err error) {
		i := begin[k]
		paths[k], err = b.layer(around, kinds, i)
		if err == nil {
			err = ctx.Err()
		}
		return err
	})
	out := make([]Laid, len(layers))
	for i, l := range layers {
		out[i] = Laid{Z: l.Z, Height: l.Height, Paths: paths[which[i]]}
	}
	if err == nil {
		b.joined(out, around, kinds)
	}
	return out, err
}

// numbered gives layers numbers so that neighbours with one area have one number, and returns the
// first layer of each number.
func numbered(layers []Layer) (kinds, first []int) {
	kinds = make([]int, len(layers))
	for i := range layers {
		if i == 0 || !sameRegion(layers[i].Area, layers[i-1].Area) {
			first = append(first, i)
		}
		kinds[i] = len(first) - 1
	}
	return kinds, first
}

func sameRegion(a, b plane.Region) bool {
	same := func(p, q plane.Loop) bool { return slices.Equal(p, q) }
	return slices.EqualFunc(a, b, func(p, q plane.Polygon) bool {
		return slices.Equal(p.Outer, q.Outer) && slices.EqualFunc(p.Holes, q.Holes, same)
	})
}

// window lists the numbers of the layers around the i-th, -1 for the air below and above.
func window(kinds []int, i, floors int) []int {
	var out []int
	for k := i - floors; k <= i+floors; k++ {
		n := -1
		if k >= 0 && k < len(kinds) {
			n = kinds[k]
		}
		if len(out) == 0 || out[len(out)-1] != n {
			out = append(out, n)
		}
	}
	return out
}

// shell is the lines along the outlines of a layer, island by island.
type shell struct {
	area    plane.Region // roughly
	sketch  plane.Region // more roughly
	within  plane.Region // what the lines along the outlines leave, as roughly
	islands []island
	order   []int // in which the islands are laid
}

// rough is how far areas may be off that only decide what is filled solidly, mm: a twentieth
// of a line.
const rough = 0.02

// sketchy is how far areas may be off that only tell what lies above and below others, mm: what is solid ends a whole line
// beyond that.
const sketchy = 0.06

// island is one area of a layer that hangs together.
type island struct {
	area  plane.Polygon
	paths []Path       // along its outlines
	inner plane.Region // what they leave
	about plane.Region // that roughly
	guess plane.Region // and more roughly
	lies  *ground
	round bool // it is filled along its outlines where it is solid
	full  func() ([]Path, error)
}

func (b *bench) shell(area plane.Region) (*shell, error) {
	tol := max(1, b.step.Units(rough))
	whole, err := thinned(area, tol)
	if err != nil {
		return nil, err
	}
	if area, err = thinned(area, b.style.Simplify); err != nil {
		return nil, err
	}
	out := &shell{area: whole}
	if out.sketch, err = thinned(area, max(1, b.step.Units(sketchy))); err != nil {
		return nil, err
	}
	for _, p := range area {
		b.poll.Look()
		paths, inner, err := b.perimeters(p)
		if err != nil {
			return nil, err
		}
		land := island{area: p, paths: paths, inner: inner}
		if land.round, err = b.slim(p, narrowest); err != nil {
			return nil, err
		}
		land.round = land.round || b.setup.Infill == Concentric || b.edgy(p)
		land.full = sync.OnceValues(func() ([]Path, error) {
			paths, _, err := b.beaded(p, math.MaxInt16, b.kind, Thin)
			return paths, err
		})
		land.lies = newGround(p, float64(b.bead)/4)
		if land.about, err = thinned(inner, max(1, tol/2)); err != nil {
			return nil, err
		}
		if land.guess, err = thinned(inner, max(1, b.step.Units(sketchy))); err != nil {
			return nil, err
		}
		out.within = append(out.within, land.guess...)
		out.islands = append(out.islands, land)
	}
	out.order = inOrder(b.poll, b.back([2]float32{-1e3, -1e3}), area)
	return out, nil
}

// thinned leaves out points that change an area by less than paths may depart: slices of
// fine meshes have far more than a nozzle could follow.
func thinned(area plane.Region, tol plane.Units) (plane.Region, error) {
	var loops []plane.Loop
	area.Simplify(tol).Loops(func(l plane.Loop) { loops = append(loops, l) })
	if r, ok := plane.FillSimple(loops, plane.NonZero); ok {
		return r, nil
	}
	return plane.Fill(loops, plane.NonZero)
}

// layer puts the paths of the i-th layer together.
func (b *bench) layer(around []*shell, kinds []int, i int) (out []Path, err error) {
	here := around[kinds[i]]
	order := here.order
	if i%2 == 1 { // the other way, so that it begins about where the layer below ends
		order = slices.Clone(order)
		slices.Reverse(order)
	}
	from := [2]float32{}
	for _, k := range order {
		b.poll.Look()
		land := &here.islands[k]
		groups, err := b.groups(land, around, kinds, i)
		if err != nil {
			return nil, err
		}
		paths := b.course(groups, land.lies, from)
		if len(paths) == 0 {
			continue
		}
		if len(out) > 0 {
			paths[0].Pull = true // over to the next island
		}
		out = append(out, paths...)
		from = out[len(out)-1].end()
	}
	return out, nil
}

// groups returns what is laid of an island in a layer, each before the next.
func (b *bench) groups(land *island, around []*shell, kinds []int, i int) ([][]Path, error) {
	var below plane.Region // where this layer may hang over another one
	if i > 0 && kinds[i-1] != kinds[i] {
		below = around[kinds[i-1]].area
	}
	lines := land.paths
	if below != nil {
		lines = slices.Clone(lines)
		b.begun(lines, below)
	}
	if len(land.inner) == 0 {
		return byKind(lines), nil
	}
	solid, sparse, err := b.floors(land, around, kinds, i)
	if err != nil {
		return nil, err
	}
	var over []Path
	if below != nil {
		if over, solid, err = b.bridges(solid, below); err != nil {
			return nil, err
		}
	}
	if land.round && len(sparse) == 0 && len(over) == 0 { // lines of one kind all over it
		full, err := land.full()
		if below != nil {
			full = slices.Clone(full)
			b.begun(full, below)
		}
		return byKind(full), err
	}
	turn := math.Pi/4 + math.Pi/2*float64(i%2)
	full, err := b.solid(solid, turn)
	if err != nil {
		return nil, err
	}
	if below != nil {
		b.begun(full, below)
	}
	out := append(byKind(lines), over, full)
	if s := b.setup; s.Density > 0 && s.Infill != NoInfill {
		loose, err := b.sparse(sparse, turn)
		if err != nil {
			return nil, err
		}
		out = append(out, loose)
	}
	return out, nil
}

// byKind divides lines along outlines: those within first, then those that are seen, then those in the middle of strokes.
func byKind(list []Path) [][]Path {
	out := make([][]Path, 3)
	for _, p := range list {
		k := 0
		switch p.Kind {
		case Outer:
			k = 1
		case Thin:
			k = 2
		}
		out[k] = append(out[k], p)
	}
	return out
}

// joined finds how the nozzle gets from each layer to the next: over the ground that both have where it ends and begins.
func (b *bench) joined(laid []Laid, around []*shell, kinds []int) {
	type pair struct{ below, above *Path }
	have := map[pair]Path{}
	for i := range laid {
		if laid[i].Pull = true; i == 0 || len(laid[i].Paths) == 0 || len(laid[i-1].Paths) == 0 {
			continue
		}
		below, above := laid[i-1].Paths, laid[i].Paths
		key := pair{&below[0], &above[0]}
		p, ok := have[key]
		if !ok {
			p = above[0]
			p.Pull = true
			from := below[len(below)-1].end()
			for k := range around[kinds[i]].islands {
				g := around[kinds[i]].islands[k].lies
				if g.holds(b.back(from)) && g.holds(b.back(p.Points[0])) {
					b.reach(&p, from, g)
				}
			}
			have[key] = p
		}
		laid[i].Way, laid[i].Pull = p.Way, p.Pull
	}
}
