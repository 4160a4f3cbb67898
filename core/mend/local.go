package mend

import (
	"math"
	"slices"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// The deeds of this file change an outline near a place. They look for the spot
// there anew, with the measure that they are given, so that they follow when
// the artwork is exchanged or the size changes.

// slantOfSpots is by how much less than half a turn the two sides of a narrow
// spot may face each other.
const slantOfSpots = 30 * math.Pi / 180

// spotsNear returns the narrow spots of a region at places, each the one that
// has a ball nearest to it and within the width; places without one are passed
// over.
func (w *Work) spotsNear(r plane.Region, places [][2]float64, width float64, outside bool) [][]gauge.Ball {
	g := gauge.New(gauge.LoopsOf(r))
	all := g.Spots(g.Narrow(width, outside, slantOfSpots), width*0.6)
	chosen := make([]bool, len(all))
	for _, p := range places {
		x, y := w.toGrid(vec(p))
		best, near := -1, width
		for i, s := range all {
			if d := nearestBall(s, geom.Vec{X: x, Y: y}); d < near {
				best, near = i, d
			}
		}
		if best >= 0 {
			chosen[best] = true
		}
	}
	var out [][]gauge.Ball
	for i, s := range all {
		if chosen[i] {
			out = append(out, s)
		}
	}
	return out
}

// patches returns the area within radius of the middles of several spots' balls.
func patches(list [][]gauge.Ball, radius float64) (plane.Region, error) {
	var all []plane.Region
	for _, s := range list {
		one, err := patch(s, radius)
		if err != nil {
			return nil, err
		}
		all = append(all, one)
	}
	return union(all)
}

// patch returns the area within radius of the middles of a spot's balls, but for
// a hundredth of it.
func patch(spot []gauge.Ball, radius float64) (plane.Region, error) {
	return patchWithin(spot, radius, radius/100)
}

// patchWithin does it but for tol.
func patchWithin(spot []gauge.Ball, radius, tol float64) (plane.Region, error) {
	var loops []plane.Loop
	var run []geom.Vec
	end := func() {
		keep := geom.Thinned(run, false, tol)
		for i, k := range keep {
			if i > 0 {
				loops = append(loops, capsule(run[keep[i-1]], run[k], radius))
			}
		}
		if len(keep) == 1 {
			loops = append(loops, disc(run[0], radius))
		}
		run = run[:0]
	}
	for i, b := range spot {
		if i > 0 && (spot[i-1].Loop != b.Loop || spot[i-1].Middle.Sub(b.Middle).Len() > radius) {
			end()
		}
		run = append(run, b.Middle)
	}
	end()
	return fill(loops)
}

// disc returns a circle as a loop, its arcs within half a per cent of the radius.
func disc(c geom.Vec, r float64) plane.Loop {
	const n = 64
	var l plane.Loop
	for i := range n {
		s, k := math.Sincos(2 * math.Pi * float64(i) / n)
		l = append(l, plane.Point{X: int32(math.Round(c.X + r*k)), Y: int32(math.Round(c.Y + r*s))})
	}
	return l
}

// capsule returns all points within r of the line from a to b as a loop.
func capsule(a, b geom.Vec, r float64) plane.Loop {
	d := b.Sub(a).Unit()
	if d == (geom.Vec{}) {
		return disc(a, r)
	}
	turn := math.Atan2(d.Y, d.X)
	const n = 16
	var l plane.Loop
	add := func(c geom.Vec, from float64) {
		for i := range n + 1 {
			s, k := math.Sincos(from + math.Pi*float64(i)/n)
			l = append(l, plane.Point{X: int32(math.Round(c.X + r*k)), Y: int32(math.Round(c.Y + r*s))})
		}
	}
	add(b, turn-math.Pi/2)
	add(a, turn+math.Pi/2)
	return l
}

// together returns the shapes that a mend names and their common area.
func (w *Work) together(m *recipe.Mend) ([]int, plane.Region, *sources, error) {
	which, err := w.named(m)
	if err != nil {
		return nil, nil, nil, err
	}
	src := newSources()
	list, err := w.regions(which, src)
	if err != nil {
		return nil, nil, nil, err
	}
	r, err := union(list)
	return which, r, src, err
}

// extra is an area that is added to the nearest of some shapes.
type extra struct {
	area plane.Region
	at   geom.Vec // px of the page
}

// addTo unites areas each with the one of the shapes that is nearest to its
// place.
func (w *Work) addTo(which []int, list []extra, src *sources) error {
	own := make([]plane.Region, len(which))
	index := make([]*plane.SegmentIndex, len(which))
	for k, i := range which {
		var err error
		if own[k], err = w.region(i, nil); err != nil {
			return err
		}
		index[k] = plane.NewLoopIndex(gauge.LoopsOf(own[k]))
	}
	more := make([][]plane.Region, len(which))
	for _, e := range list {
		x, y := w.toGrid(e.at)
		best, far := 0, math.Inf(1)
		for k := range which {
			if d := index[k].Nearest(x, y, far); d.Edge >= 0 {
				best, far = k, d.Dist
			}
		}
		more[best] = append(more[best], e.area)
	}
	for k, i := range which {
		if len(more[k]) == 0 {
			continue
		}
		r, err := union(append(more[k], own[k]))
		if err != nil {
			return err
		}
		w.setRegion(i, r, src)
	}
	return nil
}

// rimmed returns an area grown by a few grid units. What was cut from a shape
// has its points beside the shape's edges by a rounding; without a rim slivers
// of no width would be left along them.
func (w *Work) rimmed(r plane.Region) (plane.Region, error) { return w.offsetBy(r, 8, "mitre") }

func reversed(l plane.Loop) plane.Loop {
	out := slices.Clone(l)
	slices.Reverse(out)
	return out
}
