package print

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// spot is a place that a line is laid through, and how wide it is there, grid units.
type spot struct {
	at     geom.Vec
	wide   float64
	beside int // of what lies in the middle of a stroke: how many lines lie on each side
}

// tracer follows the lines that beads ask for.
type tracer struct {
	*beads
	index *plane.SegmentIndex
	area  plane.Region
	exact float64 // how far a line may lie from where it should, grid units
	lines *laidLines
}

// round returns the lines around an area that are the k-th from the outline, closed, what they enclose on their left.
func (t *tracer) round(k int) [][]spot {
	around := make([]bool, len(t.nodes)) // nodes that the line goes around
	some := false
	for i := range t.nodes {
		_, around[i] = t.level(int32(i), k)
		some = some || around[i]
	}
	if !some {
		return nil
	}
	in := func(corner int32) bool { return t.isNode(corner) && around[t.beads.index(corner)] }
	next := make([]int32, t.pairs) // side that the line comes to from each, and one more; 0 for none
	spots := make([]spot, t.pairs)
	known := make([]bool, t.pairs)
	var order []int32
	for n, tri := range t.tris {
		from, to := int32(-1), int32(-1)
		for i, side := range t.sides[n] {
			a, b := tri[i], tri[(i+1)%3]
			inA, inB := in(a), in(b)
			if inA == inB {
				continue
			}
			if inA {
				from = side
			} else {
				a, b, to = b, a, side
			}
			if !known[side] {
				spots[side], known[side] = t.crossing(a, b, k), true
			}
		}
		if from >= 0 {
			next[from] = to + 1
			order = append(order, from)
		}
	}
	var loops [][]spot
	for _, at := range order {
		var loop []spot
		for next[at] > 0 {
			loop = append(loop, spots[at])
			at, next[at] = next[at]-1, 0
		}
		if len(loop) > 2 {
			loops = append(loops, loop)
		}
	}
	return loops
}

// crossing returns where the k-th line passes between a node that it goes around and a corner that it does not go around.
func (t *tracer) crossing(in, out int32, k int) spot {
	i := t.beads.index(in)
	depth, _ := t.level(i, k)
	wide := t.width(t.source[i], k)
	from, to, radius := t.at(out), t.at(in), t.node(in).radius
	if t.isNode(out) {
		o := t.beads.index(out)
		d, _ := t.level(o, k)
		if d == 0 { // there are fewer lines
			return spot{at: from.Lerp(to, 0.5), wide: wide}
		}
		// It narrows: to where it is as wide as it takes.
		a, b := radius-depth, t.nodes[o].radius-d
		at := to.Lerp(from, a/(a-b))
		if k == 0 { // it does not leave the wall
			wide = math.Min(wide, 2*t.index.Nearest(at.X, at.Y, math.Inf(1)).Dist)
		}
		return spot{at: at, wide: wide}
	}
	// Where the outline is so far away, by regula falsi within a bracket.
	lo, hi := 0.0, 1.0
	dLo, dHi := -depth, radius-depth
	s, hint := depth/radius, int32(-1)
	for range 12 {
		p := from.Lerp(to, s)
		f := t.index.NearestFrom(p.X, p.Y, math.Inf(1), hint)
		hint = f.Edge
		d := f.Dist - depth
		if math.Abs(d) <= t.exact {
			break
		}
		if d > 0 {
			hi, dHi = s, d
		} else {
			lo, dLo = s, d
		}
		s = lo + (hi-lo)*math.Max(0.1, math.Min(0.9, -dLo/(dHi-dLo)))
	}
	return spot{at: from.Lerp(to, s), wide: wide}
}

// middles returns the lines that lie in the middle of strokes, open but for rings.
func (t *tracer) middles() (open, rings [][]spot) {
	m := &middles{tracer: t, links: map[[2]int32]bool{}}
	for i := range t.nodes {
		if t.middle(int32(i)) == 0 {
			continue
		}
		for _, e := range t.nodes[i].next {
			if k := t.beads.index(e.to); t.middle(k) > 0 {
				m.links[[2]int32{int32(i), k}] = true
			}
		}
	}
	for _, ring := range []bool{false, true} {
		for i := range t.nodes {
			for _, k := range m.linked(int32(i)) {
				if !m.links[[2]int32{int32(i), k}] || !ring && !m.ends(int32(i), k) {
					continue
				}
				run, closed := m.follow(int32(i), k)
				if closed {
					rings = append(rings, t.spots(run[1:]))
				} else if line := m.trimmed(run); line != nil {
					open = append(open, line)
				}
			}
		}
	}
	return open, rings
}

// middles are the stretches of the axis that lines lie on, both ways, as long as they are not followed.
type middles struct {
	*tracer
	links map[[2]int32]bool
}

// linked returns the nodes that a node's middle line goes on to.
func (m *middles) linked(i int32) (out []int32) {
	if m.middle(i) == 0 {
		return nil
	}
	for _, e := range m.nodes[i].next {
		if k := m.beads.index(e.to); m.middle(k) > 0 {
			out = append(out, k)
		}
	}
	return out
}

// onward returns where a line goes on that comes to a node from another one: at a fork two branches that are the
// straightest go through, and others end there.
func (m *middles) onward(from, at int32) (to int32, ok bool) {
	list := m.linked(at)
	if len(list) == 2 {
		return list[0] + list[1] - from, true
	}
	var pair [2]int32
	best := math.Inf(1)
	for i, p := range list {
		for _, q := range list[:i] {
			u, v := m.nodes[p].at.Sub(m.nodes[at].at).Unit(), m.nodes[q].at.Sub(m.nodes[at].at).Unit()
			if d := u.Dot(v); d < best-1e-9 {
				best, pair = d, [2]int32{p, q}
			}
		}
	}
	switch {
	case len(list) < 2 || best > -0.5:
		return 0, false
	case pair[0] == from:
		return pair[1], true
	case pair[1] == from:
		return pair[0], true
	}
	return 0, false
}

// ends reports whether a line that leaves a node towards another one begins there.
func (m *middles) ends(at, to int32) bool {
	_, ok := m.onward(to, at)
	return !ok
}

func (m *middles) follow(at, to int32) (run []int32, closed bool) {
	begin := at
	run = []int32{at}
	for m.links[[2]int32{at, to}] {
		delete(m.links, [2]int32{at, to})
		delete(m.links, [2]int32{to, at})
		run = append(run, to)
		on, ok := m.onward(at, to)
		if !ok {
			return run, false
		}
		at, to = to, on
	}
	return run, at == begin
}

func (t *tracer) spots(run []int32) []spot {
	out := make([]spot, len(run))
	for i, k := range run {
		out[i] = spot{at: t.nodes[k].at, wide: t.middle(k), beside: t.count[k] / 2}
	}
	return out
}

// trimmed returns a line whose ends do not run into others: what ends at a line that goes through stays half that line's
// width away, and what ends where lines come together, or inside of those around a wider place, goes on to them and stays
// away from them as much.
func (m *middles) trimmed(run []int32) []spot {
	line := m.spots(run)
	for range 2 {
		end, before := run[len(run)-1], run[len(run)-2]
		if len(m.linked(end)) > 2 {
			if _, through := m.onward(before, end); !through {
				line = shortened(line, (0.5+roundEnd)*m.middle(end))
			}
		} else {
			line = m.kept(m.squared(m.onTo(line, end), end))
		}
		slices.Reverse(run)
		slices.Reverse(line)
	}
	return line
}

// onTo goes on from the end of a line to where it is wider.
func (m *middles) onTo(line []spot, end int32) []spot {
	own, width := m.count[end], m.middle(end)
	for range 64 {
		best := int32(-1)
		for _, e := range m.nodes[end].next {
			k := m.beads.index(e.to)
			if m.nodes[k].radius >= m.nodes[end].radius && m.count[m.source[k]] > own && (best < 0 || m.nodes[k].radius > m.nodes[best].radius) {
				best = k
			}
		}
		if best < 0 {
			return line
		}
		line = append(line, spot{at: m.nodes[best].at, wide: width, beside: own / 2})
		if _, ok := m.level(best, own/2); ok {
			return line
		}
		end = best
	}
	return line
}

// blunt is by how much of its width a line goes on where a stroke ends square: its round end leaves the corners bare.
const blunt = 0.12

// squared goes on a little at the end of a stroke that has corners there.
func (m *middles) squared(line []spot, end int32) []spot {
	n := len(line)
	if n < 2 || line[n-1].at != m.nodes[end].at {
		return line
	}
	way, r := line[n-1].at.Sub(line[n-2].at).Unit(), m.nodes[end].radius
	for _, side := range []float64{-0.8, 0.8} {
		corner := line[n-1].at.Add(way.Mul(0.8 * r)).Add(way.Left().Mul(side * r))
		if !m.area.Contains(plane.Point{X: int32(corner.X), Y: int32(corner.Y)}) {
			return line
		}
	}
	line[n-1].at = line[n-1].at.Add(way.Mul(blunt * line[n-1].wide))
	return line
}

// kept takes off the end of a line what lies within reach of the lines around.
func (m *middles) kept(line []spot) []spot {
	if m.lines == nil {
		return line
	}
	step := m.usual / 16
	for len(line) > 1 {
		end := line[len(line)-1]
		f := m.lines.index.Nearest(end.at.X, end.at.Y, 2*m.usual)
		if f.Edge < 0 || f.Dist >= m.lines.wide[m.lines.index.Number(f.Edge)]/2+roundEnd*end.wide {
			return line
		}
		line = shortened(line, step)
	}
	return nil
}

// laidLines is the lines around that were followed, to find those near a place.
type laidLines struct {
	index *plane.SegmentIndex
	wide  []float64 // of each edge
}

// newLaidLines takes lines and the borders of what is filled otherwise, up to which all of that is covered.
func newLaidLines(lines, borders [][]spot) *laidLines {
	if len(lines)+len(borders) == 0 {
		return nil
	}
	out := &laidLines{}
	var list []plane.Loop
	add := func(line []spot, share float64) {
		var l plane.Loop
		for i, s := range line {
			l = append(l, plane.Point{X: int32(math.Round(s.at.X)), Y: int32(math.Round(s.at.Y))})
			out.wide = append(out.wide, (s.wide+line[(i+1)%len(line)].wide)/2*share)
		}
		list = append(list, l)
	}
	for _, line := range lines {
		add(line, 1)
	}
	for _, line := range borders {
		add(line, 0)
	}
	out.index = plane.NewLoopIndex(list)
	return out
}

// shortened takes a length off the end of a line, which is nil if nothing is left.
func shortened(line []spot, off float64) []spot {
	for len(line) > 1 && off > 0 {
		n := len(line)
		a, b := line[n-2], line[n-1]
		long := b.at.Sub(a.at).Len()
		if long > off {
			f := off / long
			line[n-1] = spot{b.at.Lerp(a.at, f), b.wide + (a.wide-b.wide)*f, b.beside}
			return line
		}
		off -= long
		line = line[:n-1]
	}
	if len(line) < 2 {
		return nil
	}
	return line
}

// thinnedSpots leaves out what lies within tol of straight stretches whose width changes evenly (Douglas, Peucker).
func thinnedSpots(line []spot, closed bool, tol float64) []spot {
	if len(line) < 3 {
		return line
	}
	keep := make([]bool, len(line))
	keep[0], keep[len(line)-1] = true, true
	todo := [][2]int{{0, len(line) - 1}}
	if closed {
		far := 0
		for i := range line {
			if line[i].at.Sub(line[0].at).Len() > line[far].at.Sub(line[0].at).Len() {
				far = i
			}
		}
		keep[far], keep[len(line)-1] = true, false
		todo = [][2]int{{0, far}, {far, len(line)}}
	}
	for len(todo) > 0 {
		r := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		a, b := line[r[0]], line[r[1]%len(line)]
		worst, at := tol, -1
		d := b.at.Sub(a.at)
		for i := r[0] + 1; i < r[1]; i++ {
			p := line[i]
			f := 0.0
			if l := d.Dot(d); l > 0 {
				f = math.Max(0, math.Min(1, p.at.Sub(a.at).Dot(d)/l))
			}
			off := math.Max(p.at.Sub(a.at.Lerp(b.at, f)).Len(), math.Abs(p.wide-a.wide-(b.wide-a.wide)*f)/2)
			if off > worst {
				worst, at = off, i
			}
		}
		if at >= 0 {
			keep[at] = true
			todo = append(todo, [2]int{r[0], at}, [2]int{at, r[1]})
		}
	}
	out := line[:0:0]
	for i, k := range keep {
		if k {
			out = append(out, line[i])
		}
	}
	return out
}

// roundEnd is how far beyond its last place a line with a round end covers as much as one that ends square, as a share of
// its width.
const roundEnd = math.Pi / 8
