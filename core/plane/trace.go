package plane

import (
	"slices"

	"bildhauer/core/progress"
)

// Regions returns, for every label but 0, the region of the faces that carry
// it. A loop that meets itself or another in a point is traced so that each
// polygon's inside stays connected; the shared point is then kept in all
// loops that visit it (see Separate). Loops begin at their first point in the
// order of Less, polygons and holes are sorted by it.
func (ar *Arrangement) Regions() map[int32]Region {
	poll := progress.PollOf(ar.Stop)
	comp, labels := ar.t.components()
	poll.Look()
	all := ar.t.borders(comp)
	poll.Look()
	label := func(t traced) int32 { return labels[t.comp-1] }
	slices.SortStableFunc(all, func(a, b traced) int { return int(label(a)) - int(label(b)) })
	forks := ar.t.forks()
	poll.Look()
	polys := make([]Polygon, len(labels))
	for i := 0; i < len(all); {
		j := i
		for j < len(all) && label(all[j]) == label(all[i]) {
			j++
		}
		ar.polygons(all[i:j], forks, polys)
		poll.Look()
		i = j
	}
	out := map[int32]Region{}
	for c, p := range polys {
		slices.SortFunc(p.Holes, compareLoops)
		out[labels[c]] = append(out[labels[c]], p)
	}
	for _, r := range out {
		slices.SortFunc(r, func(a, b Polygon) int { return compareLoops(a.Outer, b.Outer) })
	}
	return out
}

// components numbers, from 1, the connected sets of triangles with one tag, 0
// for those without, and returns the tag of each set.
func (t *triangulation) components() (comp, labels []int32) {
	comp = make([]int32, len(t.tris))
	var flood []int32
	for k := range t.tris {
		label := t.tris[k].tag
		if label == 0 || comp[k] != 0 {
			continue
		}
		labels = append(labels, label)
		c := int32(len(labels))
		comp[k] = c
		flood = append(flood[:0], int32(k))
		for len(flood) > 0 {
			k := flood[len(flood)-1]
			flood = flood[:len(flood)-1]
			for _, o := range t.tris[k].twin {
				if o >= 0 && comp[o>>2] == 0 && t.tris[o>>2].tag == label {
					comp[o>>2] = c
					flood = append(flood, o>>2)
				}
			}
		}
	}
	return comp, labels
}

// traced is a border of a component, as points.
type traced struct {
	comp int32
	ids  []int32
}

// borders walks every border once, with the inside on the left.
func (t *triangulation) borders(comp []int32) (all []traced) {
	border := func(e int32) bool {
		o := t.twin(e)
		return o < 0 || t.tris[o>>2].tag != t.tris[e>>2].tag
	}
	var pool []int32
	done := make([]uint64, len(t.tris)*4/64+1)
	for k := range t.tris {
		if t.tris[k].tag == 0 {
			continue
		}
		for i := int32(0); i < 3; i++ {
			e := int32(k)<<2 | i
			if done[e>>6]>>(e&63)&1 != 0 || !border(e) {
				continue
			}
			from := len(pool)
			for h := e; ; {
				done[h>>6] |= 1 << (h & 63)
				pool = append(pool, t.org(h))
				h = next(h)
				for !border(h) {
					h = next(t.twin(h))
				}
				if h == e {
					break
				}
			}
			all = append(all, traced{comp[k], pool[from:len(pool):len(pool)]})
		}
	}
	return all
}

// forks returns, for each point, how many edges between faces of different labels
// end there, at most 255.
func (t *triangulation) forks() []uint8 {
	out := make([]uint8, len(t.pts))
	for k := range t.tris {
		for i, o := range t.tris[k].twin {
			if o < 0 || o>>2 < int32(k) || t.tris[o>>2].tag == t.tris[k].tag {
				continue
			}
			for _, v := range [2]int32{t.tris[k].v[i], t.tris[k].v[nextSide[i]]} {
				out[v] = min(out[v], 254) + 1
			}
		}
	}
	return out
}

// polygons adds the borders of one label to their polygons.
func (ar *Arrangement) polygons(borders []traced, forks []uint8, polys []Polygon) {
	for _, tr := range borders {
		l := ar.loopOf(tr.ids, forks)
		p := &polys[tr.comp-1]
		if l.Area2() > 0 {
			p.Outer = l
		} else {
			p.Holes = append(p.Holes, l)
		}
	}
}

func compareLoops(a, b Loop) int {
	for i := range min(len(a), len(b)) {
		if c := comparePoints(a[i], b[i]); c != 0 {
			return c
		}
	}
	return len(a) - len(b)
}

// loopOf drops points in the middle of straight runs, unless more than two faces
// meet there, and rotates the loop to its first point.
func (ar *Arrangement) loopOf(ids []int32, forks []uint8) Loop {
	pts := ar.t.pts
	l := make(Loop, 0, len(ids))
	n := len(ids)
	for i, v := range ids {
		p := pts[v]
		if forks[v] < 3 {
			a, b := pts[ids[(i+n-1)%n]], pts[ids[(i+1)%n]]
			if Orient(a, p, b) == 0 && dotAt(p, a, b) < 0 {
				continue
			}
		}
		l = append(l, p)
	}
	return l.canonical()
}

func (l Loop) canonical() Loop {
	first := 0
	n := len(l)
	for i := 1; i < n; i++ {
		c := comparePoints(l[i], l[first])
		if c < 0 || c == 0 && comparePoints(l[(i+1)%n], l[(first+1)%n]) < 0 {
			first = i
		}
	}
	if first == 0 {
		return slices.Clip(l)
	}
	out := make(Loop, 0, n)
	return append(append(out, l[first:]...), l[:first]...)
}
