// Package truth is docs/meaning.md as code: which points a recipe means, from the regions, the distance
// to their outlines and the profiles alone. It shares nothing with the engine but the document of
// decisions, is slow and plain, and judges meshes place by place.
package truth

import "math"

// vec is a place of the plane, mm.
type vec struct{ x, y float64 }

func (v vec) plus(o vec, k float64) vec { return vec{v.x + k*o.x, v.y + k*o.y} }

// ring is a closed line of straight edges.
type ring []vec

// shape is rings of which each turns inside out what it surrounds.
type shape []ring

func (s shape) has(p vec) bool {
	in := false
	for _, r := range s {
		for i, a := range r {
			b := r[(i+1)%len(r)]
			if (a.y > p.y) != (b.y > p.y) && p.x < a.x+(b.x-a.x)*(p.y-a.y)/(b.y-a.y) {
				in = !in
			}
		}
	}
	return in
}

// region is a set of places, with its outline.
type region struct {
	has func(vec) bool
	out [][2]vec
}

// hair is how far beside an edge is looked whether it is part of an outline: far below what is judged.
const hair = 1e-6

// regionOf returns the places of a set that is made of shapes: its outline is what of theirs has the
// set on one side only.
func regionOf(has func(vec) bool, shapes ...shape) region {
	var edges [][2]vec
	for _, s := range shapes {
		for _, r := range s {
			for i, a := range r {
				edges = append(edges, [2]vec{a, r[(i+1)%len(r)]})
			}
		}
	}
	out := region{has: has}
	for i, e := range edges {
		cuts := []float64{0, 1}
		for k, o := range edges {
			if t, ok := crossing(e, o); ok && i != k {
				cuts = append(cuts, t)
			}
		}
		sortFloats(cuts)
		along := vec{e[1].x - e[0].x, e[1].y - e[0].y}
		long := math.Hypot(along.x, along.y)
		aside := vec{-along.y / long, along.x / long}
		for k := range cuts[1:] {
			mid := e[0].plus(along, (cuts[k]+cuts[k+1])/2)
			if has(mid.plus(aside, hair)) != has(mid.plus(aside, -hair)) {
				out.out = append(out.out, [2]vec{e[0].plus(along, cuts[k]), e[0].plus(along, cuts[k+1])})
			}
		}
	}
	return out
}

// crossing returns where, from 0 to 1, e is crossed by o.
func crossing(e, o [2]vec) (float64, bool) {
	d, f := vec{e[1].x - e[0].x, e[1].y - e[0].y}, vec{o[1].x - o[0].x, o[1].y - o[0].y}
	det := d.x*f.y - d.y*f.x
	if det == 0 {
		return 0, false
	}
	w := vec{o[0].x - e[0].x, o[0].y - e[0].y}
	t, u := (w.x*f.y-w.y*f.x)/det, (w.x*d.y-w.y*d.x)/det
	return t, t > 0 && t < 1 && u >= 0 && u <= 1
}

// far returns how far p lies from the outline.
func (r *region) far(p vec) float64 {
	least := math.Inf(1)
	for _, e := range r.out {
		d := vec{e[1].x - e[0].x, e[1].y - e[0].y}
		k := ((p.x-e[0].x)*d.x + (p.y-e[0].y)*d.y) / (d.x*d.x + d.y*d.y)
		q := e[0].plus(d, math.Max(0, math.Min(1, k)))
		least = math.Min(least, math.Hypot(p.x-q.x, p.y-q.y))
	}
	return least
}

// mitreReach is as far as a mitre reaches, in multiples of the distance: sharper corners are round.
const mitreReach = 2

// mitred is far where bevels are mitred: in the wedge beyond the two edges of a corner that opens, it is
// the greater one of the distances from their lines.
func (r *region) mitred(p vec) float64 {
	least, within := r.far(p), r.has(p)
	for i := range r.out {
		for _, k := range []int{0, 1} {
			if d, ok := r.wedge(r.out[i][k], p, within); ok {
				least = math.Min(least, d)
			}
		}
	}
	return least
}

// wedge returns how far p lies from the lines of the edges of a corner, if it lies beyond both edges.
func (r *region) wedge(corner, p vec, within bool) (most float64, ok bool) {
	most = math.Inf(-1)
	var ways []vec // from the corner along its edges
	to := vec{p.x - corner.x, p.y - corner.y}
	for _, e := range r.out {
		if math.Hypot(e[1].x-corner.x, e[1].y-corner.y) < 1e-9 {
			e[0], e[1] = e[1], e[0]
		}
		if math.Hypot(e[0].x-corner.x, e[0].y-corner.y) > 1e-9 {
			continue
		}
		along := vec{e[1].x - e[0].x, e[1].y - e[0].y}
		long := math.Hypot(along.x, along.y)
		if to.x*along.x+to.y*along.y > 0 {
			return 0, false
		}
		aside := vec{-along.y / long, along.x / long}
		if mid := e[0].plus(along, 0.5); r.has(mid.plus(aside, hair)) != within {
			aside = vec{-aside.x, -aside.y}
		}
		most = math.Max(most, to.x*aside.x+to.y*aside.y)
		ways = append(ways, vec{along.x / long, along.y / long})
	}
	if len(ways) != 2 {
		return 0, false
	}
	// The mitre is as long as the distance over the cosine of half the turn; no place in the wedge is
	// farther from the corner than that, but those beyond a corner that opens to the other side are.
	turn := math.Pi - math.Acos(math.Max(-1, math.Min(1, ways[0].x*ways[1].x+ways[0].y*ways[1].y)))
	half := math.Cos(turn / 2)
	return most, 1/half <= mitreReach && most > 0.999999*half*math.Hypot(to.x, to.y)
}

// box returns the corners of what holds the outline.
func (r *region) box() (lo, hi vec) {
	lo, hi = vec{math.Inf(1), math.Inf(1)}, vec{math.Inf(-1), math.Inf(-1)}
	for _, e := range r.out {
		for _, p := range e {
			lo, hi = vec{math.Min(lo.x, p.x), math.Min(lo.y, p.y)}, vec{math.Max(hi.x, p.x), math.Max(hi.y, p.y)}
		}
	}
	return lo, hi
}

// finest is how exact the widest is, mm: far below what is judged.
const finest = 0.004

// widest returns the greatest distance of a place within from the outline: squares are halved as long
// as they may hold a greater one.
func (r *region) widest() float64 {
	lo, hi := r.box()
	best := 0.0
	side := math.Max(hi.x-lo.x, hi.y-lo.y)
	type square struct {
		mid  vec
		half float64
	}
	todo := []square{{vec{(lo.x + hi.x) / 2, (lo.y + hi.y) / 2}, side / 2}}
	for len(todo) > 0 {
		s := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		d := r.far(s.mid)
		if r.has(s.mid) {
			best = math.Max(best, d)
		}
		if d+s.half*math.Sqrt2 <= best+finest || s.half < side*1e-5 {
			continue
		}
		if !r.has(s.mid) && d > s.half*math.Sqrt2 {
			continue
		}
		for _, k := range []vec{{-1, -1}, {1, -1}, {-1, 1}, {1, 1}} {
			todo = append(todo, square{s.mid.plus(k, s.half/2), s.half / 2})
		}
	}
	return best
}
