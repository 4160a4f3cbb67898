package plane

import "slices"

// rawRegion returns the region of raw offset loops of one polygon when it can
// be told without an arrangement: the loops keep all edges, nothing crosses or
// touches, and each hole lies in the outer loop and in no other hole. That is
// the common case by far. loops[0] is the outer one.
func rawRegion(loops []Loop) (Region, bool) {
	total := 0
	for i, l := range loops {
		l = slices.CompactFunc(l, func(a, b Point) bool { return a == b })
		for len(l) > 1 && l[0] == l[len(l)-1] {
			l = l[:len(l)-1]
		}
		if len(l) < 3 || (l.Area2() > 0) != (i == 0) {
			return nil, false
		}
		loops[i] = l
		total += len(l)
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
		if !loops[0].contains(p) {
			return nil, false
		}
		for j := 1; j < len(loops); j++ {
			if b := boxes[j]; i != j && p.X >= b.lo.X && p.X <= b.hi.X && p.Y >= b.lo.Y && p.Y <= b.hi.Y &&
				loops[j].contains(p) {
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
	kept := make([]Loop, 0, len(loops))
	total := 0
	for _, l := range loops {
		l = slices.CompactFunc(slices.Clone(l), func(a, b Point) bool { return a == b })
		for len(l) > 1 && l[0] == l[len(l)-1] {
			l = l[:len(l)-1]
		}
		if len(l) == 0 {
			continue
		}
		if len(l) < 3 || l.Area2() == 0 {
			return nil, false
		}
		kept = append(kept, l)
		total += len(l)
	}
	if len(kept) == 0 {
		return nil, true
	}
	if len(kept) > 400 || len(kept)*total > 2_000_000 || !disjoint(kept, total) {
		return nil, false
	}
	// The winding around each loop, and the loops that it lies in.
	boxes := make([]ibox, len(kept))
	for i, l := range kept {
		boxes[i] = boxOf(l)
	}
	type side struct {
		within []int // indices of the loops around it
		border int   // 1: filled inside only, -1: outside only, 0: neither
	}
	sides := make([]side, len(kept))
	for i, l := range kept {
		p, out := l[0], int32(0)
		for j, o := range kept {
			if b := boxes[j]; i != j && p.X >= b.lo.X && p.X <= b.hi.X && p.Y >= b.lo.Y && p.Y <= b.hi.Y &&
				o.contains(p) {
				sides[i].within = append(sides[i].within, j)
				if o.Area2() > 0 {
					out++
				} else {
					out--
				}
			}
		}
		in := out + 1
		if l.Area2() < 0 {
			in = out - 1
		}
		switch a, b := rule.Inside(in), rule.Inside(out); {
		case a && !b:
			sides[i].border = 1
		case b && !a:
			sides[i].border = -1
		}
	}
	at := map[int]int{} // loop -> polygon
	turned := func(l Loop, positive bool) Loop {
		if (l.Area2() > 0) != positive {
			l = slices.Clone(l)
			slices.Reverse(l)
		}
		return l.canonical()
	}
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
		// Its polygon is that of the innermost filled loop around it.
		inner, depth := -1, -1
		for _, j := range s.within {
			if sides[j].border > 0 && len(sides[j].within) > depth {
				inner, depth = j, len(sides[j].within)
			}
		}
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

func boxOf(l []Point) ibox {
	b := ibox{l[0], l[0]}
	for _, p := range l {
		b.join(ibox{p, p})
	}
	return b
}

// contains reports whether p lies inside the loop; p must not lie on it.
func (l Loop) contains(p Point) bool {
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
	type edge struct {
		a, b Point
		next int32 // the edge that follows in the loop
	}
	edges := make([]edge, 0, total)
	for _, l := range loops {
		first := int32(len(edges))
		for i, p := range l {
			edges = append(edges, edge{p, l[(i+1)%len(l)], first + int32((i+1)%len(l))})
		}
	}
	leaves := 1
	for leaves*fanOut < len(edges) {
		leaves *= 2
	}
	boxes := make([]ibox, 2*leaves)
	for i := range boxes {
		boxes[i] = ibox{Point{1 << 30, 1 << 30}, Point{-1 << 30, -1 << 30}}
	}
	for i, e := range edges {
		boxes[leaves+i/fanOut].join(
			ibox{Point{min(e.a.X, e.b.X), min(e.a.Y, e.b.Y)}, Point{max(e.a.X, e.b.X), max(e.a.Y, e.b.Y)}},
		)
	}
	for i := leaves - 1; i > 0; i-- {
		boxes[i] = boxes[2*i]
		boxes[i].join(boxes[2*i+1])
	}
	budget := 40*len(edges) + 2000
	meet := func(i, j int) bool {
		e, f := &edges[i], &edges[j]
		if e.next == int32(j) || f.next == int32(i) {
			// Neighbours share an end; they meet elsewhere only when one folds
			// back along the other.
			if e.next != int32(j) {
				e, f = f, e
			}
			return Orient(e.a, e.b, f.b) == 0 && dotAt(e.b, e.a, f.b) > 0
		}
		if max(e.a.X, e.b.X) < min(f.a.X, f.b.X) || max(f.a.X, f.b.X) < min(e.a.X, e.b.X) ||
			max(e.a.Y, e.b.Y) < min(f.a.Y, f.b.Y) || max(f.a.Y, f.b.Y) < min(e.a.Y, e.b.Y) {
			return false
		}
		p, q := Orient(e.a, e.b, f.a), Orient(e.a, e.b, f.b)
		if p > 0 && q > 0 || p < 0 && q < 0 {
			return false
		}
		r, s := Orient(f.a, f.b, e.a), Orient(f.a, f.b, e.b)
		return !(r > 0 && s > 0 || r < 0 && s < 0)
	}
	stack := make([][2]int32, 1, 64)
	stack[0] = [2]int32{1, 1}
	for len(stack) > 0 {
		a, b := stack[len(stack)-1][0], stack[len(stack)-1][1]
		stack = stack[:len(stack)-1]
		if budget--; budget < 0 {
			return false
		}
		if a != b {
			p, q := &boxes[a], &boxes[b]
			if p.lo.X > q.hi.X || q.lo.X > p.hi.X || p.lo.Y > q.hi.Y || q.lo.Y > p.hi.Y {
				continue
			}
		}
		if int(a) < leaves {
			if a == b {
				stack = append(
					stack,
					[2]int32{2 * a, 2 * a},
					[2]int32{2*a + 1, 2*a + 1},
					[2]int32{2 * a, 2*a + 1},
				)
			} else {
				stack = append(stack, [2]int32{2 * a, 2 * b}, [2]int32{2 * a, 2*b + 1}, [2]int32{2*a + 1, 2 * b}, [2]int32{2*a + 1, 2*b + 1})
			}
			continue
		}
		i0, j0 := (int(a)-leaves)*fanOut, (int(b)-leaves)*fanOut
		budget -= 4
		for i := i0; i < min(i0+fanOut, len(edges)); i++ {
			j := j0
			if a == b {
				j = i + 1
			}
			for ; j < min(j0+fanOut, len(edges)); j++ {
				if meet(i, j) {
					return false
				}
			}
		}
	}
	return true
}
