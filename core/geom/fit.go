package geom

import (
	"math"
	"slices"
)

// Fit returns a contour of lines and cubics that departs from a polyline by at
// most tol, with corners where the polyline has corners and smooth elsewhere.
// A closed polyline does not repeat its first point; the contour ends where it
// begins then.
//
// The polyline is thinned first (Douglas and Peucker 1973) to find its corners
// in spite of small steps; between corners cubics are fitted by least squares
// and split where they are worst (P. Schneider, Graphics Gems, 1990).
func Fit(pts []Vec, closed bool, tol float64) Contour { return FitWithCorners(pts, closed, tol, 0) }

// FitWithCorners is Fit with corners where a polyline turns by more than an angle in radians;
// with 0 where it seems to have them.
func FitWithCorners(pts []Vec, closed bool, tol, sharp float64) Contour {
	pts = slices.Compact(slices.Clone(pts))
	if closed && len(pts) > 1 && pts[0] == pts[len(pts)-1] {
		pts = pts[:len(pts)-1]
	}
	if len(pts) == 0 {
		return Contour{Closed: closed}
	}
	if len(pts) < 3 && closed || len(pts) == 1 { // no area, no length
		out := Contour{Start: pts[0], Closed: closed}
		for _, p := range pts[1:] {
			out.Segs = append(out.Segs, Segment{Kind: Line, To: p}, Segment{Kind: Line, To: pts[0]})
		}
		return out
	}
	if !closed {
		out := Contour{Start: pts[0]}
		f := fitter{tol: tol}
		at := cornersOf(pts, false, tol, sharp)
		for i := 1; i < len(at); i++ {
			f.run(pts[at[i-1] : at[i]+1])
		}
		out.Segs = f.segs
		return out
	}
	at := cornersOf(pts, true, tol, sharp)
	if len(at) > 0 {
		pts = append(append([]Vec(nil), pts[at[0]:]...), pts[:at[0]]...)
	}
	out := Contour{Start: pts[0], Closed: true}
	f := fitter{tol: tol}
	ring := append(pts, pts[0])
	if len(at) == 0 {
		// Smooth all round: begin anywhere, with one tangent on both sides.
		t := pts[1%len(pts)].Sub(pts[len(pts)-1]).Unit()
		half := len(ring) / 2
		mid := f.tangentAt(ring, half)
		f.cubic(ring[:half+1], t, mid.Mul(-1), 0)
		f.cubic(ring[half:], mid, t.Mul(-1), 0)
	}
	for i := range at {
		to := len(ring) - 1
		if i+1 < len(at) {
			to = at[i+1] - at[0]
		}
		f.run(ring[at[i]-at[0] : to+1])
	}
	out.Segs = f.segs
	return out
}

// cornersOf returns the indices of corners, of an open polyline its ends, too.
//
// A vertex of the thinned polyline is a corner when it turns by more than an arc
// would that was thinned to chords of that length: the sagitta of an arc that
// turns by a over a chord c is about a c / 8 and at most half the tolerance, so
// that a <= 4 tol / c; a corner turns at least twice as much.
func cornersOf(pts []Vec, closed bool, tol, sharp float64) []int {
	thin := Thinned(pts, closed, tol/2)
	var out []int
	n := len(thin)
	for k, i := range thin {
		if !closed && (k == 0 || k == n-1) {
			out = append(out, i)
			continue
		}
		a, b, c := pts[thin[(k+n-1)%n]], pts[i], pts[thin[(k+1)%n]]
		in, on := b.Sub(a), c.Sub(b)
		turn := math.Abs(math.Atan2(in.Cross(on), in.Dot(on)))
		least := math.Max(20*math.Pi/180, 8*tol/math.Min(in.Len(), on.Len()))
		least = math.Min(least, 75*math.Pi/180)
		if sharp > 0 {
			least = sharp
		}
		if turn > least {
			out = append(out, i)
		}
	}
	return out
}

// Thinned returns the indices of the points of a polyline that Douglas and
// Peucker keep: the polyline through them departs from it by at most tol.
func Thinned(pts []Vec, closed bool, tol float64) []int {
	n := len(pts)
	if n < 3 {
		out := make([]int, n)
		for i := range out {
			out[i] = i
		}
		return out
	}
	keep := make([]bool, n+1)
	at := func(i int) Vec { return pts[i%n] }
	last := n - 1
	if closed {
		last = n
		// The point farthest from the first is kept, too.
		far := 0
		for i := range pts {
			if pts[i].Sub(pts[0]).Len() > pts[far].Sub(pts[0]).Len() {
				far = i
			}
		}
		keep[far] = true
		thinBetween(at, 0, far, tol, keep)
		thinBetween(at, far, last, tol, keep)
	} else {
		thinBetween(at, 0, last, tol, keep)
		keep[last] = true
	}
	keep[0] = true
	var out []int
	for i := range n {
		if keep[i] {
			out = append(out, i)
		}
	}
	return out
}

func thinBetween(at func(int) Vec, from, to int, tol float64, keep []bool) {
	stack := [][2]int{{from, to}}
	for len(stack) > 0 {
		a, b := stack[len(stack)-1][0], stack[len(stack)-1][1]
		stack = stack[:len(stack)-1]
		worst, far := -1, tol
		for i := a + 1; i < b; i++ {
			if d := ToSegment(at(i), at(a), at(b)); d > far {
				worst, far = i, d
			}
		}
		if worst >= 0 {
			keep[worst] = true
			stack = append(stack, [2]int{a, worst}, [2]int{worst, b})
		}
	}
}

// ToSegment returns the distance of p from the segment a to b.
func ToSegment(p, a, b Vec) float64 {
	d := b.Sub(a)
	l := d.Dot(d)
	if l == 0 {
		return p.Sub(a).Len()
	}
	t := math.Max(0, math.Min(1, p.Sub(a).Dot(d)/l))
	return p.Sub(a.Add(d.Mul(t))).Len()
}

type fitter struct {
	tol  float64
	segs []Segment
}

// run fits a piece between two corners.
func (f *fitter) run(pts []Vec) {
	if len(pts) < 2 {
		return
	}
	f.cubic(pts, f.startTangent(pts), f.endTangent(pts), 0)
}

// startTangent returns the direction in which a polyline begins: that of the
// parabola through its begin and two points further on, so far that steps
// within the tolerance do not turn it.
func (f *fitter) startTangent(pts []Vec) Vec {
	n := len(pts)
	return f.beginning(n, func(i int) Vec { return pts[i] })
}

// endTangent returns the direction from the end back into the polyline.
func (f *fitter) endTangent(pts []Vec) Vec {
	n := len(pts)
	return f.beginning(n, func(i int) Vec { return pts[n-1-i] })
}

func (f *fitter) beginning(n int, at func(i int) Vec) Vec {
	beyond := func(from int, far float64) int {
		for i := from; i < n; i++ {
			if at(i).Sub(at(0)).Len() > far {
				return i
			}
		}
		return n - 1
	}
	i := beyond(1, 4*f.tol)
	j := beyond(i+1, 8*f.tol)
	a, b := at(i).Sub(at(0)), at(j).Sub(at(i))
	h, k := a.Len(), b.Len()
	if j <= i || h == 0 || k == 0 || a.Dot(b) <= 0.5*h*k {
		return a.Unit()
	}
	// The derivative at the first of three points by arc length.
	return a.Mul((2*h + k) / h).Sub(b.Mul(h / k)).Unit()
}

// tangentAt returns the direction at an inner point.
func (f *fitter) tangentAt(pts []Vec, i int) Vec {
	return f.startTangent(pts[i:]).Sub(f.endTangent(pts[:i+1])).Unit()
}

const maxFitDepth = 40

// cubic appends one cubic, or a line, for the points, or several if one is not
// enough. t0 and t1 point from the ends into the piece.
func (f *fitter) cubic(pts []Vec, t0, t1 Vec, depth int) {
	n := len(pts)
	a, b := pts[0], pts[n-1]
	line := true
	for _, p := range pts[1 : n-1] {
		if ToSegment(p, a, b) > f.tol/4 {
			line = false
			break
		}
	}
	if line {
		f.segs = append(f.segs, Segment{Kind: Line, To: b})
		return
	}
	u := chordLengths(pts)
	var s Segment
	worst := 0.0
	at := n / 2
	for range 5 {
		s = leastSquares(pts, u, t0, t1)
		if worst, at = f.error(pts, u, s); worst <= f.tol {
			f.segs = append(f.segs, s)
			return
		}
		if worst > 6*f.tol {
			break
		}
		reparametrise(pts, u, s)
	}
	if n == 3 || depth > maxFitDepth {
		for _, p := range pts[1:] {
			f.segs = append(f.segs, Segment{Kind: Line, To: p})
		}
		return
	}
	if worst < 40*f.tol { // nearly: halves are the fairest pieces
		at, _ = slices.BinarySearch(chordLengths(pts), 0.5)
	}
	at = max(1, min(n-2, at))
	mid := f.tangentAt(pts, at)
	if mid == (Vec{}) {
		mid = pts[at+1].Sub(pts[at-1]).Unit()
	}
	f.cubic(pts[:at+1], t0, mid.Mul(-1), depth+1)
	f.cubic(pts[at:], mid, t1, depth+1)
}

func chordLengths(pts []Vec) []float64 {
	u := make([]float64, len(pts))
	for i := 1; i < len(pts); i++ {
		u[i] = u[i-1] + pts[i].Sub(pts[i-1]).Len()
	}
	total := u[len(u)-1]
	for i := range u {
		u[i] /= total
	}
	return u
}

// leastSquares returns the cubic with the given end tangents that is nearest to
// the points at the parameters u.
func leastSquares(pts []Vec, u []float64, t0, t1 Vec) Segment {
	a, b := pts[0], pts[len(pts)-1]
	var c00, c01, c11, x0, x1 float64
	for i, p := range pts {
		t := u[i]
		v := 1 - t
		b0, b1, b2, b3 := v*v*v, 3*t*v*v, 3*t*t*v, t*t*t
		a0, a1 := t0.Mul(b1), t1.Mul(b2)
		c00 += a0.Dot(a0)
		c01 += a0.Dot(a1)
		c11 += a1.Dot(a1)
		rest := p.Sub(a.Mul(b0 + b1)).Sub(b.Mul(b2 + b3))
		x0 += a0.Dot(rest)
		x1 += a1.Dot(rest)
	}
	det := c00*c11 - c01*c01
	l := b.Sub(a).Len()
	k0, k1 := l/3, l/3
	if math.Abs(det) > 1e-12*c00*c11 {
		k0, k1 = (x0*c11-x1*c01)/det, (c00*x1-c01*x0)/det
	}
	// Handles that are too short, or run backwards or far past the end, fold.
	if !(k0 > 1e-6*l) || !(k1 > 1e-6*l) || k0 > 4*l || k1 > 4*l {
		k0, k1 = l/3, l/3
	}
	return Segment{Kind: Cubic, C1: a.Add(t0.Mul(k0)), C2: b.Add(t1.Mul(k1)), To: b}
}

// error returns the largest distance between the points, and the middles
// between them, and the cubic, and the index of the worst point.
func (f *fitter) error(pts []Vec, u []float64, s Segment) (worst float64, at int) {
	for i := 1; i < len(pts); i++ {
		d := s.At(pts[0], u[i]).Sub(pts[i]).Len()
		m := ToSegment(s.At(pts[0], (u[i-1]+u[i])/2), pts[i-1], pts[i])
		if d = math.Max(d, m); d > worst {
			worst, at = d, i
		}
	}
	return worst, at
}

// reparametrise moves each parameter to the foot of its point (Newton).
func reparametrise(pts []Vec, u []float64, s Segment) {
	from := pts[0]
	c1, c2 := s.C1, s.C2
	for i := 1; i < len(pts)-1; i++ {
		t := u[i]
		d := s.At(from, t).Sub(pts[i])
		v := s.Speed(from, t)
		w := c2.Sub(c1.Mul(2)).Add(from).Mul(6 * (1 - t)).Add(s.To.Sub(c2.Mul(2)).Add(c1).Mul(6 * t))
		if den := v.Dot(v) + d.Dot(w); den > 0 {
			u[i] = math.Max(u[i-1], math.Min(1, t-d.Dot(v)/den))
		}
	}
}

// FitOne returns the one segment that is nearest to a polyline by least
// squares, beginning in the direction begin and ending in the direction end; a
// line where the polyline is straight.
func FitOne(pts []Vec, begin, end Vec) Segment {
	pts = slices.Compact(slices.Clone(pts))
	n := len(pts)
	if n < 3 {
		return Segment{Kind: Line, To: pts[n-1]}
	}
	box := EmptyBox()
	far := 0.0
	for _, p := range pts {
		box = box.Grow(p)
		far = math.Max(far, ToSegment(p, pts[0], pts[n-1]))
	}
	if far <= 1e-6*math.Max(box.W(), box.H()) {
		return Segment{Kind: Line, To: pts[n-1]}
	}
	if begin == (Vec{}) {
		begin = pts[1].Sub(pts[0])
	}
	if end == (Vec{}) {
		end = pts[n-1].Sub(pts[n-2])
	}
	u := chordLengths(pts)
	f := fitter{}
	best, least := Segment{}, math.Inf(1)
	for range 24 {
		s := leastSquares(pts, u, begin.Unit(), end.Unit().Mul(-1))
		if worst, _ := f.error(pts, u, s); worst < least {
			best, least = s, worst
		}
		reparametrise(pts, u, s)
	}
	return best
}
