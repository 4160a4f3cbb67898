package print

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// mostInTurn is up to how many paths or islands are put into an order by looking at all of them; more are looked at in
// pieces.
const mostInTurn = 300

// stop is what has to be laid somewhere: it begins at one place and ends at another, or the other way around if it may.
type stop struct {
	in, out geom.Vec
	fixed   bool
}

// visit is a stop of a tour, and whether it is laid from its end on.
type visit struct {
	number int
	back   bool
}

// tour puts stops into an order with short ways between them, from a place on: the nearest one next, and then by reversing
// parts of it as long as that makes it shorter; what ends less than round from where it began may be passed either way (Croes, A method for solving traveling-salesman problems, 1958).
func tour(from geom.Vec, stops []stop, round float64) []visit {
	var out []visit
	for begin := 0; begin < len(stops); begin += mostInTurn {
		part := nearest(from, stops, begin, min(len(stops), begin+mostInTurn))
		shorten(from, stops, part, round)
		out = append(out, part...)
		_, from = ends(stops, out[len(out)-1])
	}
	return out
}

// ends returns where a stop of a tour begins and ends.
func ends(stops []stop, t visit) (in, out geom.Vec) {
	s := stops[t.number]
	if t.back {
		return s.out, s.in
	}
	return s.in, s.out
}

func nearest(at geom.Vec, stops []stop, begin, end int) (out []visit) {
	left := make([]int, 0, end-begin)
	for i := begin; i < end; i++ {
		left = append(left, i)
	}
	for len(left) > 0 {
		best, back, far := 0, false, math.Inf(1)
		for k, i := range left {
			if d := stops[i].in.Sub(at).Len(); d < far {
				best, back, far = k, false, d
			}
			if d := stops[i].out.Sub(at).Len(); d < far && !stops[i].fixed {
				best, back, far = k, true, d
			}
		}
		t := visit{left[best], back}
		out = append(out, t)
		_, at = ends(stops, t)
		left = slices.Delete(left, best, best+1)
	}
	return out
}

// shorten reverses parts of a tour, and moves single stops to elsewhere in it, as long as that makes it shorter.
func shorten(from geom.Vec, stops []stop, list []visit, round float64) {
	n := len(list)
	out := func(i int) geom.Vec {
		if i < 0 {
			return from
		}
		_, p := ends(stops, list[i])
		return p
	}
	in := func(i int) geom.Vec {
		p, _ := ends(stops, list[i])
		return p
	}
	gap := func(p, q geom.Vec) float64 { return q.Sub(p).Len() }
	// What goes around ends where it began, so that turning it does nothing.
	loose := func(t visit) bool {
		s := stops[t.number]
		return !s.fixed || s.in.Sub(s.out).Len() < round
	}
	for better, rounds := true, 0; better && rounds < 30; rounds++ {
		better = false
		for i := range n {
			for j := i; j < n; j++ {
				if !loose(list[j]) {
					break
				}
				was, is := gap(out(i-1), in(i)), gap(out(i-1), out(j))
				if j+1 < n {
					was, is = was+gap(out(j), in(j+1)), is+gap(in(i), in(j+1))
				}
				if is < was*(1-1e-9)-1e-9 {
					slices.Reverse(list[i : j+1])
					for k := i; k <= j; k++ {
						list[k].back = !list[k].back && !stops[list[k].number].fixed
					}
					better = true
				}
			}
		}
	}
}

// reversed turns a path around.
func (p *Path) reversed() {
	slices.Reverse(p.Points)
	slices.Reverse(p.Widths)
}

// course puts the paths of an island into an order, group after group, with ways between them over its ground, and returns
// them with the place where they end. Those of one group may be laid in any order and from either end.
func (b *bench) course(groups [][]Path, g *ground, from [2]float32) (out []Path) {
	for _, group := range groups {
		stops := make([]stop, len(group))
		for i := range group {
			stops[i] = stop{b.back(group[i].Points[0]), b.back(group[i].end()), group[i].Fixed || group[i].Closed}
		}
		for _, t := range tour(b.back(from), stops, float64(b.bead)) {
			p := group[t.number]
			if t.back && !p.Closed {
				p.Points, p.Widths = slices.Clone(p.Points), slices.Clone(p.Widths)
				p.reversed()
			}
			if len(out) > 0 {
				b.reach(&p, out[len(out)-1].end(), g)
			}
			out = append(out, p)
			from = p.end()
		}
	}
	return out
}

// reach finds how the nozzle gets to the begin of a path: over the ground, or with the filament drawn back.
func (b *bench) reach(p *Path, from [2]float32, g *ground) {
	p.Way, p.Pull = nil, true
	if p.Points[0] == from {
		p.Pull = false
		return
	}
	list, ok := g.way(b.back(from), b.back(p.Points[0]), float64(b.step.Units(wayMore)))
	if !ok {
		return
	}
	p.Pull = false
	for _, q := range list[:len(list)-1] {
		p.Way = append(p.Way, b.at(q.X, q.Y))
	}
}

// wayMore is by how much a way over the ground may be longer than three times the straight one, mm.
const wayMore = 20.0

// back brings a place of a path back to the grid.
func (b *bench) back(p [2]float32) geom.Vec {
	return geom.Vec{
		X: (float64(p[0]) + b.middle[0]) / float64(b.step), Y: (float64(p[1]) + b.middle[1]) / float64(b.step),
	}
}

// inOrder returns the order of islands, from a place on.
func inOrder(from geom.Vec, area plane.Region) []int {
	stops := make([]stop, len(area))
	for i, p := range area {
		lo, hi, _ := plane.Region{p}.Bounds()
		m := geom.Vec{X: (float64(lo.X) + float64(hi.X)) / 2, Y: (float64(lo.Y) + float64(hi.Y)) / 2}
		stops[i] = stop{m, m, false}
	}
	out := make([]int, len(area))
	for i, t := range tour(from, stops, 0) {
		out[i] = t.number
	}
	return out
}
