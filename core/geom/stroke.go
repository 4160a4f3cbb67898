package geom

import "math"

// Cap says how the ends of an open stroke look.
type Cap uint8

// The caps.
const (
	ButtCap Cap = iota
	RoundCap
	SquareCap
)

// Join says how a stroke goes round a corner.
type Join uint8

// The joins. A mitre beyond its limit becomes a bevel, as in SVG.
const (
	MiterJoin Join = iota
	RoundJoin
	BevelJoin
)

// StrokeStyle describes a stroke in the units of its path.
type StrokeStyle struct {
	Width      float64
	Cap        Cap
	Join       Join
	MiterLimit float64   // longest mitre length over width; values below 1 mean 4
	Dashes     []float64 // lengths on, off, on...; none for a solid line
	DashOffset float64
	Beyond     float64 // how much farther open ends without a round cap reach
}

// maxDashes bounds how many dashes one stroke may fall into; contours beyond
// that are drawn solid.
const maxDashes = 5000

// Stroke returns closed loops whose union (nonzero winding) is the area that
// the stroke of the contours covers, within tol. Each loop sums up rectangles
// over the segments and sectors over the joins, all of one orientation, so
// that no winding number cancels another.
func Stroke(contours []Contour, st StrokeStyle, tol float64) [][]Vec {
	if !(st.Width > 0) {
		return nil
	}
	tol = math.Max(tol, st.Width/20000) // round caps need no more than 500 points
	var out [][]Vec
	dashes := 0
	for _, c := range contours {
		pts := dedupe(c.Flatten(tol, nil))
		closed := c.Closed
		if closed && len(pts) > 1 && pts[0] == pts[len(pts)-1] {
			pts = pts[:len(pts)-1]
		}
		if dashed := st.dash(pts, closed, maxDashes-dashes); dashed != nil {
			dashes += len(dashed)
			for _, d := range dashed {
				out = append(out, strokeLine(d, false, st, tol)...)
			}
			continue
		}
		out = append(out, strokeLine(pts, closed, st, tol)...)
	}
	return out
}

func dedupe(pts []Vec) []Vec {
	out := pts[:0]
	for _, p := range pts {
		if len(out) == 0 || p != out[len(out)-1] {
			out = append(out, p)
		}
	}
	return out
}

// dash cuts a polyline into dashes; nil means that it is solid.
func (st StrokeStyle) dash(pts []Vec, closed bool, most int) [][]Vec {
	total := 0.0
	for _, d := range st.Dashes {
		if !(d >= 0) {
			return nil
		}
		total += d
	}
	if len(st.Dashes) == 0 || total <= 0 || len(pts) < 2 {
		return nil
	}
	pattern := st.Dashes
	if len(pattern)%2 == 1 {
		pattern = append(append([]float64{}, pattern...), pattern...)
		total *= 2
	}
	length := 0.0
	if closed {
		pts = append(append([]Vec{}, pts...), pts[0])
	}
	for i := 1; i < len(pts); i++ {
		length += pts[i].Sub(pts[i-1]).Len()
	}
	if length/total*float64(len(pattern)) > 2*float64(most) {
		return nil
	}
	at := math.Mod(st.DashOffset, total)
	if at < 0 {
		at += total
	}
	k := 0
	for at >= pattern[k] {
		at -= pattern[k]
		k = (k + 1) % len(pattern)
	}
	left := pattern[k] - at
	var out [][]Vec
	var cur []Vec
	if k%2 == 0 {
		cur = []Vec{pts[0]}
	}
	startsOn := k%2 == 0
	for i := 1; i < len(pts); i++ {
		a, b := pts[i-1], pts[i]
		l := b.Sub(a).Len()
		done := 0.0
		for l-done > left {
			done += left
			p := a.Lerp(b, done/l)
			if k%2 == 0 {
				out = append(out, append(cur, p))
				cur = nil
			} else {
				cur = []Vec{p}
			}
			k = (k + 1) % len(pattern)
			left = pattern[k]
		}
		left -= l - done
		if k%2 == 0 {
			cur = append(cur, b)
		}
	}
	if k%2 == 0 && len(cur) > 0 {
		if closed && startsOn && len(out) > 0 { // no seam where the dash runs on
			out[0] = append(cur, out[0][1:]...)
		} else {
			out = append(out, cur)
		}
	}
	if out == nil {
		out = [][]Vec{}
	}
	return out
}

func strokeLine(pts []Vec, closed bool, st StrokeStyle, tol float64) [][]Vec {
	w := st.Width / 2
	pts = dedupe(pts)
	if len(pts) == 1 || len(pts) == 0 {
		if len(pts) == 0 || st.Cap == ButtCap {
			return nil
		}
		if st.Cap == SquareCap {
			p := pts[0]
			return [][]Vec{{{p.X - w, p.Y - w}, {p.X + w, p.Y - w}, {p.X + w, p.Y + w}, {p.X - w, p.Y + w}}}
		}
		return [][]Vec{arc(pts[0], w, 0, 2*math.Pi, tol, nil)}
	}
	if len(pts) == 2 {
		closed = false
	}
	n := len(pts)
	segs := n - 1
	if closed {
		segs = n
	}
	dirs := make([]Vec, segs)
	lens := make([]float64, segs)
	for i := range dirs {
		d := pts[(i+1)%n].Sub(pts[i])
		lens[i] = d.Len()
		dirs[i] = d.Mul(1 / lens[i])
	}
	// side walks along the right side of the segments in the order given.
	side := func(out []Vec, from, to int, back bool) []Vec {
		seg := func(k int) (Vec, Vec, Vec, float64) { // start, end, direction
			k = ((k % segs) + segs) % segs
			if back {
				return pts[(k+1)%n], pts[k], dirs[k].Mul(-1), lens[k]
			}
			return pts[k], pts[(k+1)%n], dirs[k], lens[k]
		}
		step := 1
		if back {
			step = -1
		}
		for k := from; ; k += step {
			a, b, d, l := seg(k)
			r := Vec{d.Y, -d.X}.Mul(w)
			if k == from && !closed {
				out = append(out, a.Add(r))
			}
			if k == to && !closed {
				return append(out, b.Add(r))
			}
			_, _, e, m := seg(k + step)
			s := Vec{e.Y, -e.X}.Mul(w)
			out = st.corner(out, b, d, e, r, s, w, l, m, tol)
			if k == to {
				return out
			}
		}
	}
	if closed {
		return [][]Vec{side(nil, 0, segs-1, false), side(nil, segs-1, 0, true)}
	}
	loop := side(nil, 0, segs-1, false)
	loop = st.cap(loop, pts[n-1], dirs[segs-1], w, tol)
	loop = side(loop, segs-1, 0, true)
	return [][]Vec{st.cap(loop, pts[0], dirs[0].Mul(-1), w, tol)}
}

// corner appends what the right side does at corner b between directions d
// and e, whose right-hand offsets are r and s.
func (st StrokeStyle) corner(out []Vec, b, d, e, r, s Vec, w, l, m, tol float64) []Vec {
	cross, dot := d.Cross(e), d.Dot(e)
	half := math.Sqrt(math.Max(0, (1-dot)/(1+dot))) // tangent of half the turn
	if cross <= 0 && dot > -0.999999 {              // right turn: the inner side
		if cross == 0 || w*half < math.Min(l, m) {
			return append(out, b.Add(r.Add(s).Mul(1/(1+dot))))
		}
		return append(out, b.Add(r), b, b.Add(s))
	}
	switch {
	case st.Join == RoundJoin || dot > 0.999: // tiny turns of flattened curves
		if w*(1/math.Sqrt((1+dot)/2)-1) < tol/2 {
			return append(out, b.Add(r.Add(s).Mul(1/(1+dot))))
		}
		a0 := math.Atan2(r.Y, r.X)
		turn := math.Atan2(cross, dot)
		if turn < 0 {
			turn += 2 * math.Pi
		}
		out = arc(b, w, a0, turn, tol, out)
		return append(out, b.Add(s))
	case st.Join == MiterJoin:
		limit := st.MiterLimit
		if limit < 1 {
			limit = 4
		}
		if cos2 := (1 + dot) / 2; cos2*limit*limit >= 1 {
			return append(out, b.Add(r.Add(s).Mul(1/(1+dot))))
		}
	}
	return append(out, b.Add(r), b.Add(s))
}

// cap appends the end of a stroke at p, which was reached in direction d on
// its right side and is left on its left.
func (st StrokeStyle) cap(out []Vec, p, d Vec, w, tol float64) []Vec {
	r := Vec{d.Y, -d.X}.Mul(w)
	switch st.Cap {
	case SquareCap:
		d = d.Mul(w + st.Beyond)
	case RoundCap:
		return arc(p, w, math.Atan2(r.Y, r.X), math.Pi, tol, out)
	default:
		if st.Beyond == 0 {
			return out
		}
		d = d.Mul(st.Beyond)
	}
	return append(out, p.Add(r).Add(d), p.Sub(r).Add(d))
}

// arc appends the points of a circular arc from angle a0 counter-clockwise
// over turn, within tol, without its last point.
func arc(c Vec, r, a0, turn, tol float64, out []Vec) []Vec {
	step := 2 * math.Acos(math.Max(0.5, 1-tol/r))
	n := max(1, int(math.Ceil(turn/step)))
	for i := range n {
		sin, cos := math.Sincos(a0 + turn*float64(i)/float64(n))
		out = append(out, Vec{c.X + r*cos, c.Y + r*sin})
	}
	return out
}
