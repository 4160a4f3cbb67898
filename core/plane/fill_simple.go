package plane

import (
	"slices"

	"bildhauer/core/geom"
)

// rawRegion returns the region of raw offset loops of one polygon when it can
// be told without an arrangement: the loops keep all edges, nothing crosses or
// touches, and each hole lies in the outer loop and in no other hole. That is
// the common case by far. loops[0] is the outer one. Points that repeat the one
// before are taken out of loops, which stay the curves they were either way.
func rawRegion(loops []Loop) (Region, bool) {
	total := 0
	for i := range loops {
		loops[i] = compact(loops[i]) // in place: what it was is no loop any more
		if l := loops[i]; len(l) < 3 || (l.Area2() > 0) != (i == 0) {
			return nil, false
		}
		total += len(loops[i])
	}
	if len(loops)*total > 4_000_000 || !disjoint(loops, total) {
		return nil, false
	}
	boxes := make([]ibox, len(loops))
	for i, l := range loops {
		boxes[i] = boxOf(l)
	}
	for i := 1; i < len(loops); i++ {
		p := loops[i][0]
		if !loops[0].Contains(p) {
			return nil, false
		}
		for j := 1; j < len(loops); j++ {
			if i != j && boxes[j].holds(p) && loops[j].Contains(p) {
				return nil, false
			}
		}
	}
	p := Polygon{Outer: loops[0].canonical()}
	for _, h := range loops[1:] {
		p.Holes = append(p.Holes, h.canonical())
	}
	slices.SortFunc(p.Holes, compareLoops)
	return Region{p}, true
}

// FillSimple returns the region that loops fill when it can be told without an
// arrangement: nothing crosses or touches. ok is false otherwise, and Fill
// must be asked. For loops that do not touch, both give the same region.
func FillSimple(loops []Loop, rule FillRule) (r Region, ok bool) {
	return unionSimple([]Layer{{Loops: loops, Rule: rule}})
}

// unionSimple is FillSimple for the union of several layers.
func unionSimple(layers []Layer) (r Region, ok bool) {
	var kept []Loop
	var layer []int // of each loop
	total := 0
	for i := range layers {
		for _, l := range layers[i].Loops {
			l = compact(slices.Clone(l))
			if len(l) == 0 {
				continue
			}
			if len(l) < 3 || l.Area2() == 0 {
				return nil, false
			}
			kept, layer = append(kept, l), append(layer, i)
			total += len(l)
		}
	}
	if len(kept) == 0 {
		return nil, true
	}
	if len(kept) > 400 || len(kept)*total > 2_000_000 || !disjoint(kept, total) {
		return nil, false
	}
	sides := windingsOf(kept, layer, layers)
	at := map[int]int{} // loop -> polygon
	for i, s := range sides {
		if s.border > 0 {
			at[i] = len(r)
			r = append(r, Polygon{Outer: turned(kept[i], true)})
		}
	}
	for i, s := range sides {
		if s.border >= 0 {
			continue
		}
		inner := innermost(sides, s.within)
		if inner < 0 {
			return nil, false
		}
		p := &r[at[inner]]
		p.Holes = append(p.Holes, turned(kept[i], false))
	}
	for i := range r {
		slices.SortFunc(r[i].Holes, compareLoops)
	}
	slices.SortFunc(r, func(a, b Polygon) int { return compareLoops(a.Outer, b.Outer) })
	return r, true
}

// compact drops, in place, points that repeat the one before.
func compact(l Loop) Loop {
	l = slices.CompactFunc(l, func(a, b Point) bool { return a == b })
	for len(l) > 1 && l[0] == l[len(l)-1] {
		l = l[:len(l)-1]
	}
	return l
}

// turned returns the loop in its canonical form, counter-clockwise or not.
func turned(l Loop, positive bool) Loop {
	if (l.Area2() > 0) != positive {
		l = slices.Clone(l)
		slices.Reverse(l)
	}
	return l.canonical()
}

// winding says what lies on the two sides of a loop.
type winding struct {
	within []int // indices of the loops around it
	border int   // 1: filled inside only, -1: outside only, 0: neither
}

// windingsOf finds what is filled on both sides of loops that do not touch; layer
// tells which layer each belongs to.
func windingsOf(loops []Loop, layer []int, layers []Layer) []winding {
	boxes := make([]ibox, len(loops))
	for i, l := range loops {
		boxes[i] = boxOf(l)
	}
	sides := make([]winding, len(loops))
	w := make([]int32, len(layers))
	filled := func() bool {
		for k, n := range w {
			if layers[k].Rule.Inside(n) {
				return true
			}
		}
		return false
	}
	for i, l := range loops {
		clear(w)
		for j, o := range loops {
			if i == j || !boxes[j].holds(l[0]) || !o.Contains(l[0]) {
				continue
			}
			sides[i].within = append(sides[i].within, j)
			w[layer[j]] += sense(o)
		}
		out := filled()
		w[layer[i]] += sense(l)
		switch in := filled(); {
		case in && !out:
			sides[i].border = 1
		case out && !in:
			sides[i].border = -1
		}
	}
	return sides
}

// sense returns 1 for loops that run counter-clockwise, else -1.
func sense(l Loop) int32 {
	if l.Area2() > 0 {
		return 1
	}
	return -1
}

// innermost returns the loop, of some, that is filled inside and lies in most
// others; -1 for none.
func innermost(sides []winding, loops []int) int {
	inner, depth := -1, -1
	for _, j := range loops {
		if sides[j].border > 0 && len(sides[j].within) > depth {
			inner, depth = j, len(sides[j].within)
		}
	}
	return inner
}

func (b *ibox) holds(p Point) bool {
	return p.X >= b.lo.X && p.X <= b.hi.X && p.Y >= b.lo.Y && p.Y <= b.hi.Y
}

func boxOf(l []Point) ibox {
	b := ibox{l[0], l[0]}
	for _, p := range l {
		b.join(ibox{p, p})
	}
	return b
}

// Contains reports whether p lies inside the loop; p must not lie on it.
func (l Loop) Contains(p Point) bool {
	in := false
	a := l[len(l)-1]
	for _, b := range l {
		if (a.Y > p.Y) != (b.Y > p.Y) {
			if o := Orient(a, b, p); (o > 0) == (b.Y > a.Y) && o != 0 {
				in = !in
			}
		}
		a = b
	}
	return in
}

// disjoint reports whether no two edges of the loops share a point, but for
// neighbours in their common end. It gives up, with false, where boxes along
// the loops overlap too much to tell fast.
func disjoint(loops []Loop, total int) bool {
	edges := make(loopEdges, 0, total)
	for _, l := range loops {
		first := int32(len(edges))
		for i, p := range l {
			edges = append(edges, loopEdge{p, l[(i+1)%len(l)], first + int32((i+1)%len(l))})
		}
	}
	leaves, boxes := edges.tree()
	budget := 40*len(edges) + 2000
	spend := func() bool {
		budget--
		return budget >= 0
	}
	apart := func(a, b int32) bool { return boxes[a].apart(&boxes[b]) }
	return geom.Pairs(leaves, spend, apart, func(i, j int32) bool {
		budget -= 4
		return !edges.anyMeet(int(i)*fanOut, int(j)*fanOut)
	})
}

// loopEdge is an edge of a loop.
type loopEdge struct {
	a, b Point
	next int32 // the edge that follows in the loop
}

type loopEdges []loopEdge

// tree returns boxes for geom.Pairs; each leaf holds fanOut edges.
func (e loopEdges) tree() (leaves int32, boxes []ibox) {
	leaf := make([]ibox, (len(e)+fanOut-1)/fanOut)
	for i, e := range e {
		box := ibox{e.a, e.a}
		box.join(ibox{e.b, e.b})
		if i%fanOut == 0 {
			leaf[i/fanOut] = box
		} else {
			leaf[i/fanOut].join(box)
		}
	}
	return boxTree(leaf)
}

// anyMeet reports whether edges of two leaves, which begin at i0 and j0, meet.
func (e loopEdges) anyMeet(i0, j0 int) bool {
	for i := i0; i < min(i0+fanOut, len(e)); i++ {
		j := j0
		if i0 == j0 {
			j = i + 1
		}
		for ; j < min(j0+fanOut, len(e)); j++ {
			if e.meet(i, j) {
				return true
			}
		}
	}
	return false
}

// meet reports whether two edges share a point other than a common end.
func (e loopEdges) meet(i, j int) bool {
	f, g := &e[i], &e[j]
	if f.next == int32(j) || g.next == int32(i) {
		// Neighbours share an end; they meet elsewhere only when one folds
		// back along the other.
		if f.next != int32(j) {
			f, g = g, f
		}
		return Orient(f.a, f.b, g.b) == 0 && dotAt(f.b, f.a, g.b) > 0
	}
	if max(f.a.X, f.b.X) < min(g.a.X, g.b.X) || max(g.a.X, g.b.X) < min(f.a.X, f.b.X) ||
		max(f.a.Y, f.b.Y) < min(g.a.Y, g.b.Y) || max(g.a.Y, g.b.Y) < min(f.a.Y, f.b.Y) {
		return false
	}
	p, q := Orient(f.a, f.b, g.a), Orient(f.a, f.b, g.b)
	if p > 0 && q > 0 || p < 0 && q < 0 {
		return false
	}
	r, s := Orient(g.a, g.b, f.a), Orient(g.a, g.b, f.b)
	return !(r > 0 && s > 0 || r < 0 && s < 0)
}
