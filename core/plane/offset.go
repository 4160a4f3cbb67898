package plane

import (
	"math"
	"slices"
	"sync"

	"bildhauer/core/progress"
)

// Join says how an offset curve goes round a corner that opens.
type Join uint8

// The joins. A mitre longer than its limit is cut square.
const (
	RoundJoin Join = iota
	MiterJoin
	MiterOrRound // a mitre beyond its limit is round
)

// OffsetStyle holds how offset curves are drawn.
type OffsetStyle struct {
	Join       Join
	MiterLimit float64     // longest mitre, in multiples of the distance; 0 means 4
	ArcTol     Units       // how far a round join may depart from the circle; 0 means 1
	ArcRadius  Units       // radius for which arcs are divided; 0 means the distance
	Simplify   Units       // tolerance for dropping points of results; 0 keeps all
	Stop       func() bool // see Arrangement
}

// Offset returns the region grown by d, or shrunk when d < 0: all
// points within d of it, or those farther than -d from its outside (with
// round joins). Results are rounded to the grid.
//
// The raw curve moves each edge by d; at a corner that closes it runs through
// the corner itself, which makes its winding number the region's minus the
// number of moved edges and joins that cover a point, so that the faces with
// positive winding are exactly the answer (compare Chen and McMains, Polygon
// offsetting by computing winding numbers, 2005). To keep that curve from
// tangling, large distances are taken in several steps, each no longer than
// most edges survive; erosion by a and then by b is erosion by a + b.
func (r Region) Offset(d Units, st OffsetStyle) (Region, error) {
	if st.ArcRadius == 0 {
		st.ArcRadius = max(d, -d)
	}
	if d >= 0 {
		return grow(r, float64(d), st)
	}
	var out Region
	for _, p := range r {
		q, err := shrink(p, float64(-d), st)
		if err != nil {
			return nil, err
		}
		out = append(out, q...)
	}
	return out, nil
}

// Inset is Offset by less than nothing of one polygon. whole says that the result is the
// polygon's loops moved inward, each in the place of the one it came from (the
// outer one first, then the holes): no edge was lost, nothing met or merged.
func (p Polygon) Inset(by Units, st OffsetStyle) (r Region, whole bool, err error) {
	if st.ArcRadius == 0 {
		st.ArcRadius = by
	}
	d := float64(by)
	if p.swallowed(d) {
		return nil, false, nil
	}
	poll := progress.PollOf(st.Stop)
	sides := sidesOfAll(p)
	poll.Look()
	if stepFor(sides.loops, d, d) < d {
		sides.free()
		r, err = shrink(p, d, st)
		return r, false, err
	}
	raw, kept := rawLoops(sides.loops, d, st)
	sides.free()
	poll.Look()
	if kept {
		slim := make([]Loop, len(raw))
		for i, l := range raw {
			slim[i] = slices.Clone(l) // raw is wanted as it is if this does not go through
			if st.Simplify > 0 {
				slim[i] = slim[i].simplify(st.Simplify)
			}
		}
		poll.Look()
		if _, simple := rawRegion(slim); simple {
			return Region{{slim[0], slim[1:]}}, true, nil
		}
	}
	r, err = fillRaw(raw, st)
	return r.Simplify(st.Simplify), false, err
}

// shortestStep bounds the number of steps of one offset.
const shortestStep = 1.0 / 64

func shrink(p Polygon, d float64, st OffsetStyle) (Region, error) {
	type job struct {
		p    Polygon
		left float64
	}
	var out Region
	jobs := []job{{p, d}}
	for len(jobs) > 0 {
		j := jobs[len(jobs)-1]
		jobs = jobs[:len(jobs)-1]
		if j.p.swallowed(j.left) {
			continue
		}
		poll := progress.PollOf(st.Stop)
		poll.Look()
		sides := sidesOfAll(j.p)
		poll.Look()
		step := stepFor(sides.loops, j.left, d)
		poll.Look()
		res, err := shrinkStep(sides.loops, step, st)
		sides.free()
		if err != nil {
			return nil, err
		}
		for i := len(res) - 1; i >= 0; i-- {
			if j.left-step > d*1e-9 {
				jobs = append(jobs, job{res[i], j.left - step})
			} else {
				out = append(out, res[i])
			}
		}
	}
	return out, nil
}

// swallowed reports whether p is too small for anything to be left of it when it
// shrinks by d: the largest circle inside has no more area than the polygon.
func (p Polygon) swallowed(d float64) bool { return math.Pi*d*d > float64(p.Area2())/2*1.0001 }

// shrinkStep moves the loops of a polygon inward at once.
func shrinkStep(sides [][]side, step float64, st OffsetStyle) (r Region, err error) {
	poll := progress.PollOf(st.Stop)
	raw, whole := rawLoops(sides, step, st)
	poll.Look()
	simple := false
	if whole {
		r, simple = rawRegion(raw)
	}
	if !simple {
		if r, err = fillRaw(raw, st); err != nil {
			return nil, err
		}
	}
	poll.Look()
	return r.Simplify(st.Simplify), nil
}

// fillRaw returns what is left inside raw offset curves.
func fillRaw(raw []Loop, st OffsetStyle) (Region, error) {
	ar := NewArrangement()
	ar.Stop = st.Stop
	for _, l := range raw {
		ar.AddLoop(0, l)
	}
	return ar.fill(Positive)
}

// rawLoops is rawOffset of several loops.
func rawLoops(sides [][]side, d float64, st OffsetStyle) (raw []Loop, whole bool) {
	raw, whole = make([]Loop, len(sides)), true
	for i, s := range sides {
		var kept bool
		raw[i], kept = rawOffset(s, d, st)
		whole = whole && kept
	}
	return raw, whole
}

func grow(r Region, d float64, st OffsetStyle) (Region, error) {
	poll := progress.PollOf(st.Stop)
	for left := d; left > d*1e-9; {
		poll.Look()
		var sides [][]side
		r.Loops(func(l Loop) {
			l = slices.Clone(l)
			slices.Reverse(l)
			sides = append(sides, sidesOf(l, nil))
		})
		step := stepFor(sides, left, d)
		ar := NewArrangement()
		ar.Stop = st.Stop
		for _, s := range sides {
			raw, _ := rawOffset(s, step, st)
			slices.Reverse(raw)
			ar.AddLoop(0, raw)
		}
		poll.Look()
		res, err := ar.fill(Positive)
		if err != nil {
			return nil, err
		}
		poll.Look()
		r = res.Simplify(st.Simplify)
		left -= step
	}
	return r, nil
}

// stepFor returns how far to go at once: left, or the distance at which a
// quarter of the edges has shrunk to nothing if that comes first.
func stepFor(loops [][]side, left, total float64) float64 {
	var times []float64
	n := 0
	for _, l := range loops {
		n += len(l)
		for i := range l {
			trim := l[i].tan
			if i+1 < len(l) {
				trim += l[i+1].tan
			} else {
				trim += l[0].tan
			}
			if l[i].len < left*trim {
				times = append(times, l[i].len/trim)
			}
		}
	}
	if len(times) <= max(n/4, 12) {
		return left
	}
	slices.Sort(times)
	return math.Min(left, math.Max(times[max(n/4, 12)]*0.99, total*shortestStep))
}

// side is an edge on its way to being moved: its line by a normal to the left,
// and the corner where it begins, which need not lie on the grid.
type side struct {
	x, y   float64 // begin
	nx, ny float64
	len    float64
	tan    float64 // tangent of half the turn at its begin, 0 for right turns
}

// polygonSides holds the sides of all loops of a polygon, the outer one first.
type polygonSides struct {
	all   []side
	loops [][]side
}

// spareSides keeps the memory of polygonSides for the next.
var spareSides = sync.Pool{New: func() any { return &polygonSides{} }}

func sidesOfAll(p Polygon) *polygonSides {
	s := spareSides.Get().(*polygonSides)
	r := Region{p}
	s.all, s.loops = slices.Grow(s.all[:0], r.Edges()), s.loops[:0]
	r.Loops(func(l Loop) {
		from := len(s.all)
		s.all = sidesOf(l, s.all)
		s.loops = append(s.loops, s.all[from:len(s.all):len(s.all)])
	})
	return s
}

// free gives the memory back; the sides must not be used afterwards.
func (s *polygonSides) free() {
	if cap(s.all) <= keepTriangles {
		spareSides.Put(s)
	}
}

// sidesOf appends the sides of a loop.
func sidesOf(l Loop, to []side) []side {
	n := len(l)
	from := len(to)
	to = slices.Grow(to, n)[:from+n]
	s := to[from:]
	for i, a := range l {
		b := l[0]
		if i+1 < n {
			b = l[i+1]
		}
		dx, dy := float64(b.X-a.X), float64(b.Y-a.Y)
		h := math.Sqrt(dx*dx + dy*dy)
		s[i] = side{float64(a.X), float64(a.Y), -dy / h, dx / h, h, 0}
	}
	p := &s[n-1]
	for i := range s {
		s[i].turn(p)
		p = &s[i]
	}
	return to
}

// turn sets the tangent at the corner between p and s.
func (s *side) turn(p *side) {
	cr, dt := p.nx*s.ny-p.ny*s.nx, p.nx*s.nx+p.ny*s.ny
	s.tan = 0
	if cr > 0 {
		s.tan = cr / (1 + dt)
	}
}

// dropVanishing takes out edges that shrink to nothing before they have moved
// by d, where both their corners close: from then on their neighbours meet, so
// these are prolonged to their crossing, and the offset stays the same.
func dropVanishing(s []side, d float64) []side {
	n := len(s)
	if n < 4 || !anyVanishes(s, d) {
		return s
	}
	out := make([]side, 0, n)
	// Corners of the loop are visited in order; a removal looks back at the
	// edge before, which may vanish in turn.
	for _, e := range s {
		out = append(out, e)
		for len(out) >= 3 {
			k := len(out) - 2 // its successor is known, so its length is final
			p, q, r := &out[k-1], &out[k], &out[k+1]
			if q.tan <= 0 || r.tan <= 0 || d*(q.tan+r.tan) <= q.len {
				break
			}
			cr := p.nx*r.ny - p.ny*r.nx
			// Neighbours that run apart never meet, and a second half turn
			// cannot follow from one.
			if cr <= 1e-3 || q.tan*r.tan >= 1 {
				break
			}
			// Where the lines of p and r cross, back from the begin of r.
			back := ((r.x-p.x)*p.nx + (r.y-p.y)*p.ny) / cr
			r.x, r.y = r.x-r.ny*back, r.y+r.nx*back
			r.len += back
			p.len = (r.x-p.x)*p.ny - (r.y-p.y)*p.nx
			r.turn(p)
			out[k] = *r
			out = out[:k+1]
		}
	}
	return out
}

// anyVanishes reports whether an edge shrinks to nothing.
func anyVanishes(s []side, d float64) bool {
	for i := range s[1:] {
		if q, r := &s[i], &s[i+1]; q.tan > 0 && r.tan > 0 && d*(q.tan+r.tan) > q.len {
			return true
		}
	}
	return false
}

// rawOffset moves the edges of a loop by d to the left and joins them. whole says
// that no edge that is left shrank to nothing.
func rawOffset(sides []side, d float64, st OffsetStyle) (out Loop, whole bool) {
	if s := dropVanishing(sides, d); len(s) >= 3 {
		if out, whole = joinSides(s, d, st); whole || len(s) == len(sides) {
			return out, whole
		}
	}
	// Corners that were prolonged are no part of the region; the curve through
	// corners needs those that are.
	return joinSides(sides, d, st)
}

// blunt is the share of the tolerance by which the corner of an opening turn may
// lie beyond the circle and stay one point. A chord of the arc departs to the other
// side, so that a longer one would be no better, and all that follows (raw curves,
// rings, the triangulation) has half the points it would have at a half: at 3/4
// heights came out a tenth nearer to the true ones, see raise.TestRidgeHeights.
const blunt = 0.75

func joinSides(sides []side, d float64, st OffsetStyle) (out Loop, whole bool) {
	n := len(sides)
	tol := float64(st.ArcTol)
	if tol <= 0 {
		tol = 1
	}
	limit := st.MiterLimit
	if limit <= 0 {
		limit = 4
	}
	arc := 2 * math.Acos(math.Max(0.5, 1-tol/math.Max(float64(st.ArcRadius), tol)))
	fits := func(i int) bool { return d*(sides[i].tan+sides[(i+1)%n].tan) <= sides[i].len }
	out, whole = make(Loop, 0, n+n/4), true
	put := func(s *side, x, y float64) {
		out = append(out, Point{int32(math.Round(s.x + x)), int32(math.Round(s.y + y))})
	}
	for i := range sides {
		p, q := &sides[(i+n-1)%n], &sides[i]
		cr := p.nx*q.ny - p.ny*q.nx
		dt := p.nx*q.nx + p.ny*q.ny
		if q.tan > 0 { // closes
			if fits((i+n-1)%n) && fits(i) {
				k := d / (1 + dt)
				put(q, (p.nx+q.nx)*k, (p.ny+q.ny)*k)
				continue
			}
			whole = false
			put(q, p.nx*d, p.ny*d)
			put(q, 0, 0)
			put(q, q.nx*d, q.ny*d)
			continue
		}
		// opens, or runs straight on
		if cos2 := (1 + dt) / 2; cos2 > 0.25 && d*(1/math.Sqrt(cos2)-1) <= blunt*tol ||
			st.Join != RoundJoin && cos2*limit*limit >= 1 {
			k := d / (1 + dt)
			put(q, (p.nx+q.nx)*k, (p.ny+q.ny)*k)
			continue
		}
		put(q, p.nx*d, p.ny*d)
		if st.Join != MiterJoin {
			turn := math.Atan2(-cr, dt)
			if turn < 0 {
				turn += 2 * math.Pi
			}
			steps := int(math.Ceil(turn / arc))
			for s := 1; s < steps; s++ {
				sin, cos := math.Sincos(-turn * float64(s) / float64(steps))
				put(q, (p.nx*cos-p.ny*sin)*d, (p.nx*sin+p.ny*cos)*d)
			}
		}
		put(q, q.nx*d, q.ny*d)
	}
	return out, whole
}

// Simplify drops points while the loops stay within tol of where
// they were. Loops are not checked for crossings afterwards.
func (r Region) Simplify(tol Units) Region {
	if tol <= 0 {
		return r
	}
	out := make(Region, 0, len(r))
	for _, p := range r {
		q := Polygon{Outer: p.Outer.simplify(tol)}
		if len(q.Outer) < 3 {
			continue
		}
		for _, h := range p.Holes {
			if h = h.simplify(tol); len(h) >= 3 {
				q.Holes = append(q.Holes, h)
			}
		}
		out = append(out, q)
	}
	return out
}

// simplify follows the loop and keeps a point only when no straight line from
// the last kept one passes within so much of all points since (sleeve fitting,
// Zhao and Saalfeld 1997).
func (l Loop) simplify(within Units) Loop {
	n, tol := len(l), float64(within)
	if n <= 3 {
		return l
	}
	out := make(Loop, 0, n)
	for i := 0; i < n; {
		a := l[i]
		out = append(out, a)
		// Directions within tol of the points so far, as a wedge lo..hi.
		var lox, loy, hix, hiy float64
		open := true
		j := i + 1
		last := 0.0
		for ; j <= n; j++ {
			p := l[j%n]
			x, y := float64(p.X-a.X), float64(p.Y-a.Y)
			d := math.Sqrt(x*x + y*y)
			if !open && (lox*y-loy*x < 0 || hix*y-hiy*x > 0 || d < last-tol) {
				break
			}
			last = math.Max(last, d)
			if d <= tol {
				continue
			}
			s := tol / d
			c := math.Sqrt(1 - s*s)
			ax, ay := (x*c+y*s)/d, (y*c-x*s)/d
			bx, by := (x*c-y*s)/d, (y*c+x*s)/d
			if open {
				lox, loy, hix, hiy, open = ax, ay, bx, by, false
				continue
			}
			if lox*ay-loy*ax > 0 {
				lox, loy = ax, ay
			}
			if hix*by-hiy*bx < 0 {
				hix, hiy = bx, by
			}
		}
		if j > n {
			break
		}
		i = max(j-1, i+1)
	}
	if len(out) < 3 {
		return nil
	}
	return out
}
