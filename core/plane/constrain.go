package plane

import "math"

// A piece of a constraint that is still to be inserted: from a to b, with the
// cover list that travels along with it.
type pending struct {
	a, b int32
	c    coverRef
}

// constrain inserts the segment from point a to point b. Where it meets a
// point it is split there; where it crosses another constraint both are split
// at the crossing, rounded to the grid, and all four parts are inserted anew,
// since rounding may have moved them over something else. It returns false
// when splits and crossed triangles pass the budget, which no sane input reaches.
func (ar *Arrangement) constrain(a, b int32, c coverRef, ahead *foresight) bool {
	t := ar.t
	ar.todo = append(ar.todo[:0], pending{a, b, c})
	for len(ar.todo) > 0 {
		p := ar.todo[len(ar.todo)-1]
		ar.todo = ar.todo[:len(ar.todo)-1]
		if p.a == p.b {
			continue
		}
		if !ahead.split() {
			return false
		}
		e, v := t.toward(p.a, p.b)
		if v >= 0 { // an edge runs from a to v, which is b or lies before b
			ar.coverEdge(e, p.a, p.c)
			if v != p.b {
				ar.todo = append(ar.todo, pending{v, p.b, p.c})
			}
			continue
		}
		end, blocked := t.march(e, p.a, p.b)
		if blocked >= 0 {
			ar.cross(p, blocked)
			continue
		}
		ahead.budget -= len(t.channel) / 8
		ne := t.digChannel(p.a, end)
		ar.coverEdge(ne, p.a, p.c)
		t.legalise(false)
		if end != p.b {
			ar.todo = append(ar.todo, pending{end, p.b, p.c})
		}
	}
	return true
}

// cross splits pending p and the constrained edge e where they cross.
func (ar *Arrangement) cross(p pending, e int32) {
	t := ar.t
	c, d, con := t.org(e), t.dst(e), t.con(e)
	at := crossing(t.pts[p.a], t.pts[p.b], t.pts[c], t.pts[d])
	v := int32(-1)
	if Orient(t.pts[p.a], t.pts[p.b], at) != 0 || Orient(t.pts[c], t.pts[d], at) != 0 {
		v = t.nearestEnd(at, [4]int32{p.a, p.b, c, d})
		if v < 0 {
			v = ar.grazedEnd(at, p.a, p.b, c, d)
		}
	}
	if v < 0 {
		t.hint = e >> 2
		v = t.insert(at)
	}
	// What is crossed is whole again before the rest goes on: a long edge that left all it
	// crosses open behind it would have to find its way back through their many triangles.
	ar.todo = append(ar.todo, pending{v, p.b, p.c})
	if v != c && v != d {
		if f, w := t.toward(c, d); w == d && t.con(f) != 0 {
			// Not split by the insertion: the crossing was rounded off it.
			t.setCon(f, 0)
			t.work = append(t.work, f)
			t.legalise(false)
			ref := coverRefOf(con, c, d)
			ar.todo = append(ar.todo, pending{c, v, ref}, pending{v, d, ref})
		}
	}
	ar.todo = append(ar.todo, pending{p.a, v, p.c})
}

// snapUnits is how near a crossing may come to an end of the edges that cross
// and still get a point of its own, unless it lies on the grid. Without it, two edges that part at a small
// angle can cross again behind every rounded crossing, one unit further on.
const snapUnits = 2

// nearestEnd returns the end nearest to a crossing if it lies within snapUnits,
// or -1.
func (t *triangulation) nearestEnd(at Point, ends [4]int32) int32 {
	best, bestDist := int32(-1), int32(snapUnits+1)
	for _, v := range ends {
		p := t.pts[v]
		d := max(p.X-at.X, at.X-p.X, p.Y-at.Y, at.Y-p.Y)
		if d < bestDist || d == bestDist && best >= 0 && p.Less(t.pts[best]) {
			best, bestDist = v, d
		}
	}
	return best
}

// grazedEnd returns the end nearest to a crossing of those by which the other of the two
// edges passes within a unit, or -1. The edge is bent through it, as snap rounding does
// (Hobby, 1999): beside it, rounding would make the two cross again and again, each time
// a little further on, when a third edge runs along with them. It is an end that was
// itself a crossing; what was put in stays apart from what passes by.
func (ar *Arrangement) grazedEnd(at Point, a, b, c, d int32) int32 {
	t := ar.t
	best, least := int32(-1), math.Inf(1)
	look := func(v, from, to int32) {
		if v < ar.given {
			return
		}
		p, q, e := t.pts[from], t.pts[to], t.pts[v]
		long := math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y))
		off := math.Abs(float64(Orient(p, q, e)))
		if off > long || dotAt(p, q, e) <= 0 || dotAt(q, p, e) <= 0 {
			return
		}
		if far := math.Hypot(float64(e.X-at.X), float64(e.Y-at.Y)); far < least {
			best, least = v, far
		}
	}
	look(c, a, b)
	look(d, a, b)
	look(a, c, d)
	look(b, c, d)
	return best
}

// toward looks from point a to point b. If an edge leaves a in exactly that
// direction and ends at or before b, it returns it and its end. Otherwise it
// returns the half-edge opposite a that the segment crosses, and -1.
func (t *triangulation) toward(a, b int32) (int32, int32) {
	pa, pb := t.pts[a], t.pts[b]
	e := t.out[a]
	for {
		u, w := t.dst(e), t.org(prev(e))
		if u == b {
			return e, b
		}
		ou := Orient(pa, pb, t.pts[u])
		if ou == 0 && dotAt(pa, pb, t.pts[u]) > 0 {
			return e, u
		}
		if ou < 0 {
			ow := Orient(pa, pb, t.pts[w])
			if ow > 0 {
				return next(e), -1
			}
			if ow == 0 && dotAt(pa, pb, t.pts[w]) > 0 {
				f := t.twin(prev(e))
				if f >= 0 {
					return f, w
				}
			}
		}
		// The next half-edge around a, counter-clockwise.
		e = t.twin(prev(e))
		if e < 0 {
			panic("plane: constraint leaves the frame")
		}
	}
}

// march follows the segment from a to b from its first crossed edge e. It
// fills t.channel with the crossed half-edges, seen from a, and returns the
// point where the channel ends, or the first constrained edge in its way.
func (t *triangulation) march(e, a, b int32) (end, blocked int32) {
	t.channel = t.channel[:0]
	pa, pb := t.pts[a], t.pts[b]
	for {
		if t.con(e) != 0 {
			return -1, e
		}
		t.channel = append(t.channel, e)
		f := t.twin(e)
		x := t.org(prev(f))
		if x == b {
			return b, -1
		}
		switch o := Orient(pa, pb, t.pts[x]); {
		case o == 0:
			return x, -1
		case o > 0: // x is left: the segment leaves through the edge on the right
			e = next(f)
		default:
			e = prev(f)
		}
		// f runs from the left corner to the right one; next(f) runs from the
		// right corner to x, prev(f) from x to the left corner. Both have the
		// triangle just entered on their left.
	}
}

// digChannel removes the triangles crossed by the segment a-b (t.channel) and
// fills both sides with the Delaunay triangles that have the segment as an
// edge, after M. V. Anglada, An improved incremental algorithm for
// constructing restricted Delaunay triangulations (1997). It returns the
// half-edge from a to b.
func (t *triangulation) digChannel(a, b int32) int32 {
	ch := t.channel

	// The rims of the channel: corners in order from a to b, and for each
	// step between corners the half-edge inside the channel.
	left, right := t.left[:0], t.right[:0]
	free := t.free[:0]
	k0 := ch[0] >> 2
	free = append(free, k0)
	// ch[0] runs from the right corner u to the left corner w; the triangle
	// is a, u, w.
	right = append(right, rimStep{to: t.org(ch[0]), old: prev(ch[0])})
	left = append(left, rimStep{to: t.dst(ch[0]), old: next(ch[0])})
	for i, e := range ch {
		f := t.twin(e)
		free = append(free, f>>2)
		x := t.org(prev(f))
		if i == len(ch)-1 {
			right = append(right, rimStep{to: b, old: next(f)})
			left = append(left, rimStep{to: b, old: prev(f)})
			break
		}
		if ch[i+1] == next(f) { // x is left
			left = append(left, rimStep{to: x, old: prev(f)})
		} else {
			right = append(right, rimStep{to: x, old: next(f)})
		}
	}
	tag := t.tris[k0].tag
	for _, k := range free {
		t.tris[k].tag = tagFree
	}
	for i := range right {
		right[i].outer, right[i].con = t.twin(right[i].old), t.con(right[i].old)
	}
	for i := range left {
		left[i].outer, left[i].con = t.twin(left[i].old), t.con(left[i].old)
	}
	// An edge may have the channel on both sides; then its twin is a rim step
	// too and gets a new number.
	t.moved = t.moved[:0]
	for _, s := range right {
		if t.isFree(s.outer) {
			t.moved = append(t.moved, [2]int32{s.old, -1})
		}
	}
	for _, s := range left {
		if t.isFree(s.outer) {
			t.moved = append(t.moved, [2]int32{s.old, -1})
		}
	}
	t.left, t.right, t.free = left, right, free
	t.spare = append(t.spare[:0], free...)
	// Left side: base a->b with the triangle on its left; corners from b back
	// to a. Right side: base b->a, corners from a to b.
	for i, j := 0, len(left)-1; i < j; i, j = i+1, j-1 {
		left[i], left[j] = left[j], left[i]
	}
	up := t.fill(a, b, left, true, tag)
	down := t.fill(b, a, right, false, tag)
	t.link(up, down, 0)
	t.hint = up >> 2
	return up
}

type rimStep struct {
	to    int32 // corner where the step ends, counted from a
	old   int32 // half-edge of the removed triangle along the step
	outer int32 // its twin
	con   int32
}

// tagFree marks the triangles of the channel that is being filled.
const tagFree = -1 << 31

func (t *triangulation) isFree(e int32) bool { return e >= 0 && t.tris[e>>2].tag == tagFree }

// fill triangulates the pocket left of base p->q, whose rim runs from q to p
// through steps. For the left rim (reversed) step i starts at its corner
// `to`; for the right rim step i ends there. It returns the half-edge p->q.
func (t *triangulation) fill(p, q int32, steps []rimStep, reversed bool, tag int32) int32 {
	if len(steps) > longRim {
		return t.fillLong(p, q, steps, reversed, tag)
	}
	corner := func(i int) int32 { // the i-th corner strictly between q and p
		if reversed {
			return steps[i+1].to
		}
		return steps[i].to
	}
	type job struct {
		p, q   int32
		lo, hi int   // steps lo..hi-1 lie between q and p
		parent int32 // the half-edge to link the base with, -1 for the first
	}
	first := int32(-1)
	jobs := []job{{p, q, 0, len(steps), -1}}
	for len(jobs) > 0 {
		j := jobs[len(jobs)-1]
		jobs = jobs[:len(jobs)-1]
		if j.hi-j.lo == 1 { // the base is a rim edge
			t.attach(j.parent, steps[j.lo])
			continue
		}
		best := -1
		pp, pq := t.pts[j.p], t.pts[j.q]

		for i := j.lo; i < j.hi-1; i++ {
			c := corner(i)
			if c == j.p || c == j.q || Orient(pp, pq, t.pts[c]) <= 0 {
				continue
			}
			if best < 0 || inCircle(pp, pq, t.pts[corner(best)], t.pts[c]) {
				best = i
			}
		}
		if best < 0 {
			panic("plane: channel without a corner")
		}
		c := corner(best)
		k := t.spare[len(t.spare)-1]
		t.spare = t.spare[:len(t.spare)-1]
		t.setCorners(k, j.p, j.q, c)
		t.tris[k].tag = tag
		if j.parent >= 0 {
			t.link(k<<2, j.parent, 0)
		} else {
			first = k << 2
		}
		jobs = append(jobs,
			job{c, j.q, j.lo, best + 1, k<<2 | 1},
			job{j.p, c, best + 1, j.hi, k<<2 | 2})
	}
	return first
}

// longRim is the number of steps beyond which a pocket is filled in one sweep and made Delaunay
// by flips: looking for the right corner of each base takes the square of the number where the
// pocket is a fan.
const longRim = 64

// fillLong is fill without the care for Delaunay triangles; their edges go to t.work, so that
// legalise mends them once the base is a constraint. From each of its points a pocket sees the
// base, and such a polygon is triangulated by cutting ears in order (ElGindy, Avis and Toussaint,
// Applications of a two-dimensional hidden-line algorithm to other geometric problems, 1983).
func (t *triangulation) fillLong(p, q int32, steps []rimStep, reversed bool, tag int32) int32 {
	// An entry is a corner and what joins it to the one before: a step of the rim, or the
	// half-edge from it to that one.
	type entry struct{ at, step, edge int32 }
	stack := []entry{{q, -1, -1}}
	join := func(e int32, of entry) {
		if of.step >= 0 {
			t.attach(e, steps[of.step])
		} else {
			t.link(e, of.edge, 0)
		}
	}
	for i := range steps {
		v := entry{p, int32(i), -1}
		switch {
		case i == len(steps)-1:
		case reversed:
			v.at = steps[i+1].to
		default:
			v.at = steps[i].to
		}
		for n := len(stack); n > 1; n = len(stack) {
			u, m := stack[n-2], stack[n-1]
			if Orient(t.pts[u.at], t.pts[m.at], t.pts[v.at]) <= 0 {
				break
			}
			k := t.spare[len(t.spare)-1]
			t.spare = t.spare[:len(t.spare)-1]
			t.setCorners(k, u.at, m.at, v.at)
			t.tris[k].tag = tag
			join(k<<2, m)
			join(k<<2|1, v)
			v = entry{v.at, -1, k<<2 | 2}
			t.work = append(t.work, k<<2, k<<2|1)
			stack = stack[:n-1]
		}
		stack = append(stack, v)
	}
	if len(stack) != 2 {
		panic("plane: a pocket that does not see its base")
	}
	return stack[1].edge
}

// attach links half-edge e to what lies outside the channel along step s.
func (t *triangulation) attach(e int32, s rimStep) {
	if len(t.moved) > 0 {
		for i := range t.moved {
			if t.moved[i][0] == s.old {
				t.moved[i][1] = e
				for j := range t.moved {
					if t.moved[j][0] == s.outer && t.moved[j][1] >= 0 {
						t.link(e, t.moved[j][1], s.con)
					}
				}
				return
			}
		}
	}
	t.link(e, s.outer, s.con)
}
