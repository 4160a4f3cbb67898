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
	level := func(b bound) float64 { return o.sides[b.side][b.layer].level(o.sides[b.side][b.layer].tri[k], x, y) }
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
			from := o.lead[k]
			for _, s := range o.column(from) {
				one := slab{under: s.under, top: s.top}
				for j := range v {
					one.zUnder[j], one.zTop[j] = o.heightBy(s.under, k, from, v[j]), o.heightBy(s.top, k, from, v[j])
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

// heightBy is height as triangle k sees it, or where that lies in another patch of the surface, as the
// one that it belongs to.
func (o *overlay) heightBy(b bound, k, from, v int32) int32 {
	if l := o.sides[b.side][b.layer]; !l.single && l.patch[l.tri[k]] != l.patch[l.tri[from]] {
		k = from
	}
	return o.height(b, k, v)
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
