package raise

import (
	"cmp"
	"maps"
	"slices"
)

// What a solid has in a small ball around a point of its surface is one piece of material and one gap,
// parted by a disc (the definition of a surface without border). Around a point of the plane the sectors
// of the triangles there are made of cells, from below: gaps and slabs in turns. Those that reach a
// height hang together across the edge between two sectors where they overlap right beside the point.
// More pieces of material than one at a height touch there in nothing but the point, and so do more gaps.

// cell is a slab or a gap over a sector.
type cell struct {
	sector int
	slab   int32    // its number; -1 for a gap
	corner int      // of its triangle, at the point
	lo, hi [2]climb // along the sector's two edges
	piece  int      // a cell that it hangs together with, itself if it is the first
}

// climb is a height at the point, and at the other end of an edge.
type climb struct{ at, far int32 }

// below reports whether a line runs below another right beside the point.
func (r climb) below(s climb) bool { return r.at < s.at || r.at == s.at && r.far < s.far }

// beyond is higher than anything.
const beyond = 1 << 30

// vicinity is the cells around a point.
type vicinity struct {
	cells        []cell // of all sectors, one after the other
	first        []int  // cell of each sector, and the end of the last
	tops, unders []int32
}

// look collects the cells around point v. It reports false where nothing can touch: no slab begins at a
// height at which another one ends.
func (n *vicinity) look(o *overlay, v int32) bool {
	n.tops, n.unders = n.tops[:0], n.unders[:0]
	o.ar.Star(v, func(k int32) {
		j := o.corner(k, v)
		for i := range o.over(k) {
			n.tops, n.unders = append(n.tops, o.over(k)[i].zTop[j]), append(n.unders, o.over(k)[i].zUnder[j])
		}
	})
	if !slices.ContainsFunc(n.unders, func(z int32) bool { return slices.Contains(n.tops, z) }) {
		return false
	}
	n.cells, n.first = n.cells[:0], append(n.first[:0], 0)
	o.ar.Star(v, func(k int32) {
		j := o.corner(k, v)
		last := [2]climb{{-beyond, -beyond}, {-beyond, -beyond}}
		add := func(hi [2]climb, slab int32) {
			n.cells = append(n.cells, cell{sector: len(n.first) - 1, slab: slab, corner: j, lo: last, hi: hi})
			last = hi
		}
		both := func(z *[3]int32) [2]climb { return [2]climb{{z[j], z[(j+1)%3]}, {z[j], z[(j+2)%3]}} }
		for i := range o.over(k) {
			s := &o.over(k)[i]
			add(both(&s.zUnder), -1)
			add(both(&s.zTop), o.first[k]+int32(i))
		}
		add([2]climb{{beyond, beyond}, {beyond, beyond}}, -1)
		n.first = append(n.first, len(n.cells))
	})
	return true
}

func (c *cell) reaches(z int32) bool { return c.lo[0].at <= z && c.hi[0].at >= z }

// root returns the first cell of those that cell i hangs together with.
func (n *vicinity) root(i int) int {
	for n.cells[i].piece != i {
		i = n.cells[i].piece
	}
	return i
}

// piecesAt returns how many pieces of material and how many gaps reach a height.
func (n *vicinity) piecesAt(z int32) (solids, gaps int) {
	for i := range n.cells {
		n.cells[i].piece = i
	}
	for s := range len(n.first) - 1 {
		next := (s + 1) % (len(n.first) - 1)
		for i := n.first[s]; i < n.first[s+1]; i++ {
			c := &n.cells[i]
			if !c.reaches(z) {
				continue
			}
			for j := n.first[next]; j < n.first[next+1]; j++ {
				d := &n.cells[j]
				same := (d.slab < 0) == (c.slab < 0)
				if same && d.reaches(z) && c.lo[1].below(d.hi[0]) && d.lo[0].below(c.hi[1]) {
					n.cells[n.root(i)].piece = n.root(j)
				}
			}
		}
	}
	for i := range n.cells {
		switch c := &n.cells[i]; {
		case c.piece != i || !c.reaches(z):
		case c.slab < 0:
			gaps++
		default:
			solids++
		}
	}
	return solids, gaps
}

// touchesAt reports whether pieces of material, or gaps, touch at point v in nothing but the point.
func (o *overlay) touchesAt(v int32, n *vicinity) bool {
	if !n.look(o, v) {
		return false
	}
	slices.Sort(n.unders)
	return slices.ContainsFunc(slices.Compact(n.unders), func(z int32) bool {
		solids, gaps := n.piecesAt(z)
		return solids > 1 || gaps > 1
	})
}

// loosenPoint parts pieces of material that touch in a point alone: the highest stays, others give way
// below it by less than can be seen. Where two rise side by side from the point, or fall, it takes a post.
func (o *overlay) loosenPoint(v int32, n *vicinity) (found bool) {
	if !n.look(o, v) {
		return false
	}
	slices.Sort(n.unders)
	for _, z := range slices.Compact(n.unders) {
		if solids, _ := n.piecesAt(z); solids > 1 {
			if order, whole := n.fromAbove(z); whole {
				o.stagger(n, z, order)
				return true
			}
		}
	}
	return false
}

// fromAbove returns the pieces of material that reach a height, by their first cells: what rises from it,
// then what is no more than a tip there, then what falls from it. whole is false where there are more than
// one that rise or fall.
func (n *vicinity) fromAbove(z int32) (order []int, whole bool) {
	type way struct{ up, down int }
	ways := map[int]way{}
	for i := range n.cells {
		c := &n.cells[i]
		if c.slab < 0 || !c.reaches(z) {
			continue
		}
		w := ways[n.root(i)]
		if c.hi[0].at > z {
			w.up = 1
		}
		if c.lo[0].at < z {
			w.down = 1
		}
		ways[n.root(i)] = w
	}
	order = slices.Collect(maps.Keys(ways))
	slices.SortFunc(order, func(a, b int) int {
		return cmp.Or(ways[b].up-ways[b].down-ways[a].up+ways[a].down, a-b)
	})
	all := way{}
	for _, w := range ways {
		all.up, all.down = all.up+w.up, all.down+w.down
	}
	return order, all.up <= 1 && all.down <= 1
}

// stagger lowers what ends at a height by piece: the first stays.
func (o *overlay) stagger(n *vicinity, z int32, order []int) {
	for i := range n.cells {
		c := &n.cells[i]
		if c.slab < 0 || !c.reaches(z) {
			continue
		}
		down := z - thinnest*int32(slices.Index(order, n.root(i)))
		s := &o.slabs[c.slab]
		if s.zUnder[c.corner] == z {
			s.zUnder[c.corner] = down
		}
		if s.zTop[c.corner] == z {
			s.zTop[c.corner] = max(down, s.zUnder[c.corner])
		}
	}
}
