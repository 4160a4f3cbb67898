package print

import (
	"context"
	"fmt"
	"math"
	"slices"

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
	// What lies within depends on the layers around, and on whether it is an even one.
	windows := map[string]int{}
	which := make([]int, len(layers))
	var begin []int
	for i := range layers {
		w := fmt.Sprint(window(kinds, i, s.Floors), i%2)
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
	islands []island
}

// rough is how far areas may be off that only decide what is filled solidly, mm: a twentieth
// of a line.
const rough = 0.02

type island struct {
	paths []Path
	inner plane.Region
}

func (b *bench) shell(area plane.Region) (*shell, error) {
	rough, err := thinned(area, max(1, b.step.Units(rough)))
	if err != nil {
		return nil, err
	}
	if area, err = thinned(area, b.style.Simplify); err != nil {
		return nil, err
	}
	out := &shell{area: rough}
	for _, p := range inTurn(area) {
		b.poll.Look()
		paths, inner, err := b.perimeters(p)
		if err != nil {
			return nil, err
		}
		out.islands = append(out.islands, island{paths, inner})
	}
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

// mostInTurn is up to how many islands are put into an order, which takes the square of their
// number; more are laid from left to right.
const mostInTurn = 3000

// inTurn puts islands into an order in which each is the nearest to the one before.
func inTurn(area plane.Region) plane.Region {
	if len(area) > mostInTurn {
		return area
	}
	left := slices.Clone(area)
	out := make(plane.Region, 0, len(area))
	var at plane.Point
	for len(left) > 0 {
		best, far := 0, math.Inf(1)
		for i, p := range left {
			q := p.Outer[0]
			if d := math.Hypot(float64(q.X-at.X), float64(q.Y-at.Y)); d < far {
				best, far = i, d
			}
		}
		at = left[best].Outer[0]
		out = append(out, left[best])
		left = slices.Delete(left, best, best+1)
	}
	return out
}

// layer puts the paths of the i-th layer together.
func (b *bench) layer(around []*shell, kinds []int, i int) ([]Path, error) {
	s := b.setup
	window := window(kinds, i, s.Floors)
	var cover plane.Region // where there is something as many layers below and above
	some := !slices.Contains(window, -1) && s.Density < 1
	if some {
		cover = around[kinds[i]].area
		for _, k := range window {
			if k == kinds[i] || len(cover) == 0 {
				continue
			}
			var err error
			if cover, err = plane.Combine(cover, around[k].area, plane.Intersect); err != nil {
				return nil, err
			}
		}
	}
	turn := math.Pi/4 + math.Pi/2*float64(i%2)
	var out []Path
	for _, land := range around[kinds[i]].islands {
		b.poll.Look()
		out = append(out, land.paths...)
		solid, sparse := land.inner, plane.Region(nil)
		if some && len(window) == 1 { // nothing changes near this layer
			solid, sparse = nil, land.inner
		} else if some {
			var err error
			if sparse, err = plane.Combine(land.inner, cover, plane.Intersect); err != nil {
				return nil, err
			}
			if solid, err = plane.Combine(land.inner, cover, plane.Subtract); err != nil {
				return nil, err
			}
		}
		out = append(out, b.hatch(solid, Solid, float64(b.bead), turn)...)
		if s.Density <= 0 {
			continue
		}
		sparsely := float64(b.bead) / s.Density
		switch s.Infill {
		case Lines:
			out = append(out, b.hatch(sparse, Infill, sparsely, turn)...)
		case Grid:
			out = append(out, b.hatch(sparse, Infill, 2*sparsely, turn)...)
			out = append(out, b.hatch(sparse, Infill, 2*sparsely, turn+math.Pi/2)...)
		}
	}
	return out, nil
}
