package print

import (
	"math"
	"math/rand/v2"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// mostInTurn is up to how many paths or islands are put into an order by looking at all of them; more are looked at in
// pieces.
const mostInTurn = 300

// Tours of a few are changed at random so many times, to see whether that leads to a shorter one.
const (
	fewInTurn = 26
	kicks     = 16
)

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
// parts of it as long as that makes it shorter (Croes, A method for solving traveling-salesman problems, 1958). What ends less
// than round from where it began may be passed either way.
func tour(poll *progress.Poll, from geom.Vec, stops []stop, round float64) []visit {
	var out []visit
	for begin := 0; begin < len(stops); begin += mostInTurn {
		part := nearest(from, stops, begin, min(len(stops), begin+mostInTurn))
		shorten(poll, from, stops, part, round)
		if len(part) <= fewInTurn {
			part = kicked(poll, from, stops, part, round)
		}
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

// lengthOfTour returns how long the ways between stops are.
func lengthOfTour(from geom.Vec, stops []stop, list []visit) (sum float64) {
	for _, v := range list {
		in, out := ends(stops, v)
		sum += gap(from, in)
		from = out
	}
	return sum
}

// kicked cuts a tour in four, puts the pieces together in another order, and makes that shorter, again and again; what comes out
// shorter is gone on with (Martin, Otto, Felten, Large-step Markov chains for the traveling salesman problem, 1991). The
// pieces are chosen by chance, but always by the same.
func kicked(poll *progress.Poll, from geom.Vec, stops []stop, list []visit, round float64) []visit {
	n := len(list)
	if n < 5 {
		return list
	}
	r := rand.New(rand.NewPCG(uint64(n), 27))
	least := lengthOfTour(from, stops, list)
	for range kicks {
		cuts := []int{1 + r.IntN(n-1), 1 + r.IntN(n-1), 1 + r.IntN(n-1)}
		slices.Sort(cuts)
		a, b, c := cuts[0], cuts[1], cuts[2]
		next := slices.Concat(list[:a], list[b:c], list[a:b], list[c:])
		shorten(poll, from, stops, next, round)
		if long := lengthOfTour(from, stops, next); shorter(long, least) {
			list, least = next, long
		}
	}
	return list
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
func shorten(poll *progress.Poll, from geom.Vec, stops []stop, list []visit, round float64) {
	t := &tourAt{poll, from, stops, list, round}
	for range mostRounds {
		if r, m := t.reverse(), t.move(); !r && !m {
			return
		}
	}
}

// mostRounds bounds how often a whole tour is gone through; it is as short as it gets long before.
const mostRounds = 30

// tourAt is a tour that is made shorter.
type tourAt struct {
	poll  *progress.Poll
	from  geom.Vec
	stops []stop
	list  []visit
	round float64
}

// out returns where the nozzle is after the i-th stop, in where the i-th one begins.
func (t *tourAt) out(i int) geom.Vec {
	if i < 0 {
		return t.from
	}
	_, p := ends(t.stops, t.list[i])
	return p
}

func (t *tourAt) in(i int) geom.Vec {
	p, _ := ends(t.stops, t.list[i])
	return p
}

// loose reports whether a stop may be passed the other way. What goes around ends where it began, so that turning it does
// nothing.
func (t *tourAt) loose(v visit) bool {
	s := t.stops[v.number]
	return !s.fixed || s.in.Sub(s.out).Len() < t.round
}

func gap(p, q geom.Vec) float64 { return q.Sub(p).Len() }

// shorter reports whether a length is less than another one by more than rounding.
func shorter(is, was float64) bool { return is < was*(1-1e-9)-1e-9 }

func (t *tourAt) reverse() (better bool) {
	n := len(t.list)
	for i := range n {
		t.poll.Look()
		for j := i; j < n && t.loose(t.list[j]); j++ {
			was, is := gap(t.out(i-1), t.in(i)), gap(t.out(i-1), t.out(j))
			if j+1 < n {
				was, is = was+gap(t.out(j), t.in(j+1)), is+gap(t.in(i), t.in(j+1))
			}
			if !shorter(is, was) {
				continue
			}
			slices.Reverse(t.list[i : j+1])
			for k := i; k <= j; k++ {
				t.list[k].back = !t.list[k].back && !t.stops[t.list[k].number].fixed
			}
			better = true
		}
	}
	return better
}

// move takes up to three stops in a row out and lays them in where that costs the least, in the order they have or the other
// one (Or, Traveling salesman-type combinatorial problems and their relation to the logistics of regional blood banking, 1976).
func (t *tourAt) move() (better bool) {
	for long := 1; long <= 3; long++ {
		for i := 0; i+long <= len(t.list); i++ {
			t.poll.Look()
			better = t.moveFrom(i, long) || better
		}
	}
	return better
}

func (t *tourAt) moveFrom(i, long int) bool {
	n := len(t.list)
	saved := gap(t.out(i-1), t.in(i))
	if i+long < n {
		saved += gap(t.out(i+long-1), t.in(i+long)) - gap(t.out(i-1), t.in(i+long))
	}
	part := slices.Clone(t.list[i : i+long])
	turned := make([]visit, long)
	may := true
	for k, v := range part {
		may = may && t.loose(v)
		turned[long-1-k] = visit{v.number, !v.back && !t.stops[v.number].fixed}
	}
	best, at, back := saved, -1, false
	for k := 0; k <= n; k++ { // before the k-th
		if k >= i && k <= i+long {
			continue
		}
		for _, way := range [][]visit{part, turned} {
			if &way[0] == &turned[0] && !may {
				continue
			}
			in, _ := ends(t.stops, way[0])
			_, out := ends(t.stops, way[long-1])
			cost := gap(t.out(k-1), in)
			if k < n {
				cost += gap(out, t.in(k)) - gap(t.out(k-1), t.in(k))
			}
			if shorter(cost, best) {
				best, at, back = cost, k, &way[0] == &turned[0]
			}
		}
	}
	if at < 0 {
		return false
	}
	if back {
		part = turned
	}
	rest := slices.Delete(slices.Clone(t.list), i, i+long)
	if at > i {
		at -= long
	}
	copy(t.list, slices.Insert(rest, at, part...))
	return true
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
		b.poll.Look()
		stops := make([]stop, len(group))
		for i := range group {
			stops[i] = stop{b.back(group[i].Points[0]), b.back(group[i].end()), group[i].Fixed || group[i].Closed}
		}
		for _, t := range tour(b.poll, b.back(from), stops, float64(b.bead)) {
			p := group[t.number]
			if t.back && !p.Closed {
				p.Points, p.Widths = slices.Clone(p.Points), slices.Clone(p.Widths)
				p.reversed()
			}
			b.poll.Look()
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
const wayMore = 40.0

// back brings a place of a path back to the grid.
func (b *bench) back(p [2]float32) geom.Vec {
	return geom.Vec{
		X: (float64(p[0]) + b.middle[0]) / float64(b.step), Y: (float64(p[1]) + b.middle[1]) / float64(b.step),
	}
}

// inOrder returns the order of islands, from a place on.
func inOrder(poll *progress.Poll, from geom.Vec, area plane.Region) []int {
	stops := make([]stop, len(area))
	for i, p := range area {
		lo, hi, _ := plane.Region{p}.Bounds()
		m := geom.Vec{X: (float64(lo.X) + float64(hi.X)) / 2, Y: (float64(lo.Y) + float64(hi.Y)) / 2}
		stops[i] = stop{m, m, false}
	}
	out := make([]int, len(area))
	for i, t := range tour(poll, from, stops, 0) {
		out[i] = t.number
	}
	return out
}
