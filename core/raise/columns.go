package raise

import (
	"context"
	"math"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// What a piece has over a triangle of an overlay is a column: slabs, from below, each between two
// surfaces. It comes from what docs/meaning.md says: a body is its limbs less its recesses and plus
// its raised details, a piece the union of its bodies. Which slabs there are is told at the middle of a
// triangle; as all lines in which surfaces cross are edges, it is so all over the triangle. Heights at
// corners are rounded; where that turns two of them round, both become one (settle), so that nothing
// crosses whatever rounding does.

// bound is a surface that ends a slab.
type bound struct {
	layer int32
	side  int8 // 0 the upper surface of the layer, 1 the lower one
}

// slab is material over a triangle from one height to another, with those at the corners.
type slab struct {
	under, top   bound
	zUnder, zTop [3]int32
}

// extent is a slab in the middle of a triangle.
type extent struct {
	under, top bound
	from, to   float64
}

// touch is how far apart, in grid units, two extents are that lie on each other: heights that are
// nearer become one. What bevels that meet leave between them is nothing: thinnest, and a unit that each
// of four heights may be rounded by.
const (
	touch = thinnest
	skin  = thinnest + 4
)

// joined puts an extent among others, from below, and makes one of all that touch.
func joined(list []extent, s extent) []extent {
	if s.to-s.from <= skin {
		return list
	}
	out := list[:0]
	at := 0
	for _, o := range list {
		switch {
		case o.to < s.from-touch:
			out = append(out, o)
			at = len(out)
		case o.from > s.to+touch:
			out = append(out, o)
		default:
			if o.from <= s.from {
				s.under, s.from = o.under, o.from
			}
			if o.to >= s.to {
				s.top, s.to = o.top, o.to
			}
		}
	}
	return slices.Insert(out, at, s)
}

// column returns what the layers that cover triangle k have over its middle.
func (o *overlay) column(k int32) (out []extent) {
	_, label := o.ar.Triangle(k)
	in := o.covers[label-1]
	x, y := o.middle(k)
	for i := 0; i < len(in); {
		j := i
		for j < len(in) && o.layers[in[j]].body == o.layers[in[i]].body {
			j++
		}
		own := o.bodyOver(k, x, y, in[i:j])
		if i == 0 {
			out = own
		} else {
			for _, s := range own {
				out = joined(out, s)
			}
		}
		i = j
	}
	return out
}

// bodyOver returns what one body has over (x, y) in triangle k; in are its layers there.
func (o *overlay) bodyOver(k int32, x, y float64, in []int32) (own []extent) {
	level := func(b bound) float64 { return o.sides[b.side][b.layer].level(k, x, y) }
	for _, i := range in {
		if o.layers[i].kind == limb {
			under, top := bound{i, 1}, bound{i, 0}
			own = joined(own, extent{under, top, level(under), level(top)})
		}
	}
	for _, i := range in {
		switch o.layers[i].kind {
		case through:
			own = own[:0]
		case recess:
			own = below(own, bound{i, 0}, level(bound{i, 0}))
		}
	}
	for _, i := range in {
		if o.layers[i].kind != raised {
			continue
		}
		s := extent{bound{i, 1}, bound{i, 0}, 0, level(bound{i, 0})}
		if n := len(own); n > 0 {
			s.under, s.from = own[n-1].top, own[n-1].to
		} else {
			s.from = level(s.under)
		}
		own = joined(own, s)
	}
	return own
}

// below cuts off what is higher than z.
func below(list []extent, by bound, z float64) []extent {
	out := list[:0]
	for _, s := range list {
		if s.to > z {
			s.top, s.to = by, z
		}
		if s.to-s.from > skin {
			out = append(out, s)
		}
	}
	return out
}

// lift works out all columns.
func (o *overlay) lift(ctx context.Context) {
	poll := progress.NewPoll(ctx)
	for i := range o.layers {
		for side := range o.sides {
			o.sides[side][i].spread(o, int32(i))
			poll.Look()
		}
	}
	n := o.ar.Triangles()
	o.slabs, o.first = o.slabs[:0], make([]int32, n+1)
	for k := range n {
		poll.Tick()
		if v, label := o.ar.Triangle(k); label >= firstPost {
			p := &o.posts[label-firstPost]
			u, t := p.under, p.top
			o.slabs = append(o.slabs, slab{
				bound{p.layer, 1}, bound{p.layer, 0}, [3]int32{u, u, u}, [3]int32{t, t, t},
			})
		} else if label > 0 {
			for _, s := range o.column(k) {
				one := slab{under: s.under, top: s.top}
				for j := range v {
					one.zUnder[j], one.zTop[j] = o.height(s.under, k, v[j]), o.height(s.top, k, v[j])
				}
				o.slabs = append(o.slabs, one)
			}
		}
		o.first[k+1] = int32(len(o.slabs))
	}
}

func (o *overlay) height(b bound, k, v int32) int32 {
	return o.sides[b.side][b.layer].height(k, v, o.ar.Point(v))
}

// over returns the slabs over triangle k.
func (o *overlay) over(k int32) []slab { return o.slabs[o.first[k]:o.first[k+1]] }

// each calls f for all heights of all slabs at corner j of triangle k, from below.
func (o *overlay) each(k int32, j int, f func(z *int32)) {
	list := o.over(k)
	for i := range list {
		f(&list[i].zUnder[j])
		f(&list[i].zTop[j])
	}
}

// corner returns which corner of triangle k point v is.
func (o *overlay) corner(k, v int32) int {
	t, _ := o.ar.Triangle(k)
	return slices.Index(t[:], v)
}

// about calls f for all heights at point v.
func (o *overlay) about(v int32, f func(z *int32)) {
	o.ar.Star(v, func(k int32) { o.each(k, o.corner(k, v), f) })
}

// middle returns the middle of triangle k.
func (o *overlay) middle(k int32) (x, y float64) {
	v, _ := o.ar.Triangle(k)
	for _, u := range v {
		p := o.ar.Point(u)
		x, y = x+float64(p.X)/3, y+float64(p.Y)/3
	}
	return x, y
}

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

// loosen lets give way what touches along an edge only, where an edge would have four faces: by less
// than can be seen. It reports whether there was any.
func (o *overlay) loosen(poll *progress.Poll) (found bool) {
	for k := range o.ar.Triangles() {
		poll.Tick()
		v, _ := o.ar.Triangle(k)
		for i := range 3 {
			if n, _ := o.ar.Across(k, i); n > k {
				found = o.loosenEdge(k, n, v[i], v[(i+1)%3]) || found
			}
		}
	}
	for v := range o.ar.Points() {
		poll.Tick()
		found = o.loosenPoint(v) || found
	}
	return found
}

// loosenPoint lowers what touches something above it in a point alone: the tip of a pillow below what
// rests on it.
func (o *overlay) loosenPoint(v int32) bool {
	z, touches := int32(0), false
	o.ar.Star(v, func(k int32) {
		list, j := o.over(k), o.corner(k, v)
		for i := 1; i < len(list) && !touches; i++ {
			if list[i].zUnder[j] == list[i-1].zTop[j] {
				z, touches = list[i].zUnder[j], true
			}
		}
	})
	if !touches {
		return false
	}
	o.ar.Star(v, func(k int32) { // everywhere around there is room beside the point
		list, j := o.over(k), o.corner(k, v)
		closes := func(i int) bool { return i > 0 && list[i].zUnder[j] == z && list[i-1].zTop[j] == z }
		here := false
		for i := range list {
			here = here || closes(i)
		}
		touches = touches && here
	})
	if !touches {
		return false
	}
	o.ar.Star(v, func(k int32) {
		list, j := o.over(k), o.corner(k, v)
		for i := range list {
			if s := &list[i]; s.zTop[j] == z && s.zUnder[j] < z {
				s.zTop[j] = max(z-thinnest, s.zUnder[j])
			}
		}
	})
	return true
}

func (o *overlay) loosenEdge(k, n, p, q int32) (found bool) {
	type at struct{ p, q int32 }
	var here [8]struct {
		at
		tops, unders [2]int8 // in k and n
	}
	used := 0
	note := func(z at, side int, top bool) {
		i := 0
		for i < used && here[i].at != z {
			i++
		}
		if i == len(here) {
			return // nothing has met with as many
		}
		if i == used {
			here[i].at, here[i].tops, here[i].unders = z, [2]int8{}, [2]int8{}
			used++
		}
		if top {
			here[i].tops[side]++
		} else {
			here[i].unders[side]++
		}
	}
	for side, t := range [2]int32{k, n} {
		a, b := o.corner(t, p), o.corner(t, q)
		for _, s := range o.over(t) {
			note(at{s.zUnder[a], s.zUnder[b]}, side, false)
			note(at{s.zTop[a], s.zTop[b]}, side, true)
		}
	}
	for _, h := range here[:used] {
		all := h.tops[0] + h.tops[1] + h.unders[0] + h.unders[1]
		if all < 3 && !(all == 2 && h.tops[0] == 1 && h.unders[1] == 1) && !(all == 2 && h.tops[1] == 1 && h.unders[0] == 1) {
			continue
		}
		o.giveWay(p, h.p)
		o.giveWay(q, h.q)
		found = true
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

// functions returns the surfaces of all layers that cover triangle k.
func (o *overlay) functions(k int32, room []bound) []bound {
	_, label := o.ar.Triangle(k)
	room = room[:0]
	for _, i := range o.covers[label-1] {
		for side := range o.sides {
			if o.sides[side][i].s != nil {
				room = append(room, bound{i, int8(side)})
			}
		}
	}
	return room
}

// findCrossings notes where two surfaces cross: within triangles that both cover, and along outlines
// between neighbours. It reports whether there are any.
func (o *overlay) findCrossings(ctx context.Context) bool {
	poll := progress.NewPoll(ctx)
	var room []bound
	for k := range o.ar.Triangles() {
		poll.Tick()
		v, label := o.ar.Triangle(k)
		if label <= 0 || label >= firstPost {
			continue
		}
		room = o.functions(k, room)
		for n, a := range room {
			for _, b := range room[:n] {
				if a.layer != b.layer {
					o.crossWithin(k, v, a, b)
				}
			}
		}
		for i := range 3 {
			if n, _ := o.ar.Across(k, i); n > k {
				o.crossAlong(k, n, v[i], v[(i+1)%3])
			}
		}
	}
	return len(o.extra) > 0
}

// crossWithin notes the line on which two surfaces over a triangle have the same height.
func (o *overlay) crossWithin(k int32, v [3]int32, a, b bound) {
	var d [3]float64
	far := false
	for c, u := range v {
		d[c] = float64(o.height(a, k, u) - o.height(b, k, u))
		far = far || math.Abs(d[c]) > nearby
	}
	if far {
		o.zeroLine(v, d)
	}
}

// crossAlong notes the points of an edge at which the heights of neighbours cross.
func (o *overlay) crossAlong(k, n, p, q int32) {
	kp, kq, np, nq := o.corner(k, p), o.corner(k, q), o.corner(n, p), o.corner(n, q)
	x, y := o.ar.Point(p), o.ar.Point(q)
	cross := func(dp, dq int32) {
		if !(dp < 0 && dq > 0 || dp > 0 && dq < 0) || max(dp, -dp, dq, -dq) <= nearby {
			return
		}
		if m := between(x, y, float64(dp)/(float64(dp)-float64(dq))); m != x && m != y {
			o.extra = append(o.extra, [2]plane.Point{x, m}, [2]plane.Point{m, y})
		}
	}
	for _, a := range o.over(k) {
		for _, b := range o.over(n) {
			cross(a.zUnder[kp]-b.zUnder[np], a.zUnder[kq]-b.zUnder[nq])
			cross(a.zUnder[kp]-b.zTop[np], a.zUnder[kq]-b.zTop[nq])
			cross(a.zTop[kp]-b.zUnder[np], a.zTop[kq]-b.zUnder[nq])
			cross(a.zTop[kp]-b.zTop[np], a.zTop[kq]-b.zTop[nq])
		}
	}
}
