package raise

import (
	"math"
	"slices"

	"bildhauer/core/progress"
)

// gather makes one of heights at a point that are nearer than anything that is meant.
func (o *overlay) gather(poll *progress.Poll) {
	var at []int32
	for v := range o.ar.Points() {
		poll.Tick()
		at = at[:0]
		o.about(v, func(z *int32) { at = append(at, *z) })
		if len(at) == 0 {
			continue
		}
		to := clustered(at)
		if to == nil {
			continue
		}
		o.about(v, func(z *int32) {
			if t, ok := to[*z]; ok {
				*z = t
			}
		})
	}
}

// settle leaves no height that rounding has turned round: as long as two of a column, or of neighbours
// along an edge, run crosswise, the two that are nearer to each other become one. Each step leaves
// fewer heights at some point, so that it ends.
func (o *overlay) settle(poll *progress.Poll) {
	for changed := true; changed; {
		changed = false
		for k := range o.ar.Triangles() {
			poll.Tick()
			v, _ := o.ar.Triangle(k)
			for j := range v {
				changed = o.settleCorner(k, j, v[j]) || changed
			}
			for i := range 3 {
				if n, _ := o.ar.Across(k, i); n > k {
					changed = o.settleEdge(k, n, v[i], v[(i+1)%3]) || changed
				}
			}
		}
	}
	o.tidy()
}

// loosenings bounds how often what touches is loosened: what gives way may touch something else.
const loosenings = 8

// loosened lets give way what touches along an edge or in a point only, by less than can be seen, until
// nothing does. It returns a point where that does not end.
func (o *overlay) loosened(poll *progress.Poll) (at int32, stuck bool) {
	for range loosenings {
		if at, stuck = o.loosen(poll); !stuck {
			break
		}
		o.settle(poll)
	}
	if stuck {
		at, stuck = o.loosen(poll)
	}
	return at, stuck
}

// loosen goes once over all edges and points, and returns the last point at which something gave way.
func (o *overlay) loosen(poll *progress.Poll) (at int32, found bool) {
	for k := range o.ar.Triangles() {
		poll.Tick()
		v, _ := o.ar.Triangle(k)
		for i := range 3 {
			if n, _ := o.ar.Across(k, i); n > k && o.loosenEdge(k, n, v[i], v[(i+1)%3]) {
				at, found = v[i], true
			}
		}
	}
	for v := range o.ar.Points() {
		poll.Tick()
		if o.loosenPoint(v, &o.vicinity) {
			at, found = v, true
		}
	}
	return at, found
}

// meeting is a height along an edge, at both of its ends, and how many slabs of the two triangles beside
// it end there.
type meeting struct {
	p, q         int32
	tops, unders [2]int
}

// crowded reports whether more than two faces meet: a wall ends there, too, where the triangle on one side
// has material and the other has not.
func (m *meeting) crowded() bool {
	all := m.tops[0] + m.tops[1] + m.unders[0] + m.unders[1]
	return all > 2 || all == 2 && (m.tops[0]*m.unders[1] == 1 || m.tops[1]*m.unders[0] == 1)
}

// loosenEdge lets give way what touches along the edge from p to q between triangles k and n.
func (o *overlay) loosenEdge(k, n, p, q int32) (found bool) {
	o.meetings = o.meetings[:0]
	at := func(p, q int32) *meeting {
		for i := range o.meetings {
			if m := &o.meetings[i]; m.p == p && m.q == q {
				return m
			}
		}
		o.meetings = append(o.meetings, meeting{p: p, q: q})
		return &o.meetings[len(o.meetings)-1]
	}
	for side, t := range [2]int32{k, n} {
		a, b := o.corner(t, p), o.corner(t, q)
		for _, s := range o.over(t) {
			at(s.zUnder[a], s.zUnder[b]).unders[side]++
			at(s.zTop[a], s.zTop[b]).tops[side]++
		}
	}
	for i := range o.meetings {
		if m := &o.meetings[i]; m.crowded() {
			o.giveWay(p, m.p)
			o.giveWay(q, m.q)
			found = true
		}
	}
	return found
}

// giveWay lifts the undersides at a point that lie at a height; what is nothing there gets as thick.
func (o *overlay) giveWay(v, z int32) {
	o.ar.Star(v, func(k int32) {
		j := o.corner(k, v)
		list := o.over(k)
		for i := range list {
			s := &list[i]
			switch {
			case s.zUnder[j] != z:
			case s.zTop[j] == z:
				s.zTop[j] += thinnest
			default:
				s.zUnder[j] = min(z+thinnest, s.zTop[j])
			}
		}
	})
}

// tidy makes one of slabs that touch all over their triangle, and takes out those that are nothing.
func (o *overlay) tidy() {
	kept := int32(0)
	for k := range o.ar.Triangles() {
		from, to := o.first[k], o.first[k+1]
		o.first[k] = kept
		for _, s := range o.slabs[from:to] {
			switch {
			case s.zUnder == s.zTop:
			case kept > o.first[k] && o.slabs[kept-1].zTop == s.zUnder:
				o.slabs[kept-1].top, o.slabs[kept-1].zTop = s.top, s.zTop
			default:
				o.slabs[kept] = s
				kept++
			}
		}
	}
	o.first[o.ar.Triangles()] = kept
	o.slabs = o.slabs[:kept]
}

// clustered returns what the heights become of which the next is nearer than thinnest: that of them
// that is met most often. nil if all stay.
func clustered(z []int32) map[int32]int32 {
	slices.Sort(z)
	var out map[int32]int32
	for i := 0; i < len(z); {
		j := i + 1
		best, most, run := z[i], 1, 1
		for ; j < len(z) && z[j]-z[j-1] < thinnest; j++ {
			if run++; z[j] != z[j-1] {
				run = 1
			}
			if run > most {
				best, most = z[j], run
			}
		}
		if z[i] != z[j-1] {
			if out == nil {
				out = map[int32]int32{}
			}
			for _, was := range z[i:j] {
				out[was] = best
			}
		}
		i = j
	}
	return out
}

// settleCorner brings the heights of a column at a corner in order.
func (o *overlay) settleCorner(k int32, j int, v int32) (changed bool) {
	last := int32(math.MinInt32)
	o.each(k, j, func(z *int32) {
		if *z < last {
			o.merge(v, *z, last)
			changed = true
		}
		last = *z
	})
	return changed
}

// settleEdge looks at the heights of two neighbours along the edge from p to q.
func (o *overlay) settleEdge(k, n, p, q int32) (changed bool) {
	kp, kq, np, nq := o.corner(k, p), o.corner(k, q), o.corner(n, p), o.corner(n, q)
	mine, other := o.over(k), o.over(n)
	pair := func(list []slab, i, p, q int) (int32, int32) {
		if s := &list[i/2]; i%2 == 0 {
			return s.zUnder[p], s.zUnder[q]
		} else {
			return s.zTop[p], s.zTop[q]
		}
	}
	for i := range 2 * len(mine) {
		for m := range 2 * len(other) {
			ap, aq := pair(mine, i, kp, kq)
			bp, bq := pair(other, m, np, nq)
			dp, dq := ap-bp, aq-bq
			if !(dp < 0 && dq > 0 || dp > 0 && dq < 0) {
				continue
			}
			if max(dp, -dp) <= max(dq, -dq) {
				o.merge(p, bp, ap)
			} else {
				o.merge(q, bq, aq)
			}
			changed = true
		}
	}
	return changed
}

// merge makes one of two heights at a point.
func (o *overlay) merge(v, was, is int32) {
	o.about(v, func(z *int32) {
		if *z == was {
			*z = is
		}
	})
}
