package geom

import "math"

// Kind says how many control points a Segment uses.
type Kind uint8

// The kinds of segment. Arcs of ellipses are turned into cubics on reading.
const (
	Line Kind = iota
	Quad
	Cubic
)

// Segment continues a contour from the end of the one before. Control points
// that the kind does not use are zero.
type Segment struct {
	Kind   Kind
	C1, C2 Vec
	To     Vec
}

// Contour is one connected run of segments. Closed contours return to Start
// by a straight line when the last segment does not end there.
type Contour struct {
	Start  Vec
	Segs   []Segment
	Closed bool
}

// Transform returns the contour mapped by m.
func (c Contour) Transform(m Matrix) Contour {
	out := Contour{Start: m.Apply(c.Start), Closed: c.Closed, Segs: make([]Segment, len(c.Segs))}
	for i, s := range c.Segs {
		t := Segment{Kind: s.Kind, To: m.Apply(s.To)}
		if s.Kind != Line {
			t.C1 = m.Apply(s.C1)
		}
		if s.Kind == Cubic {
			t.C2 = m.Apply(s.C2)
		}
		out.Segs[i] = t
	}
	return out
}

// Box returns the box of all end and control points, which contains the curve.
func (c Contour) Box() Box {
	b := EmptyBox().Grow(c.Start)
	for _, s := range c.Segs {
		if s.Kind != Line {
			b = b.Grow(s.C1)
		}
		if s.Kind == Cubic {
			b = b.Grow(s.C2)
		}
		b = b.Grow(s.To)
	}
	return b
}

// TightBox returns the box of the curve itself, using the extremes of each
// segment rather than its control points.
func (c Contour) TightBox() Box {
	b := EmptyBox().Grow(c.Start)
	at := c.Start
	for _, s := range c.Segs {
		b = b.Grow(s.To)
		switch s.Kind {
		case Quad:
			for _, t := range [2]float64{quadExtreme(at.X, s.C1.X, s.To.X), quadExtreme(at.Y, s.C1.Y, s.To.Y)} {
				if t > 0 && t < 1 {
					b = b.Grow(at.Lerp(s.C1, t).Lerp(s.C1.Lerp(s.To, t), t))
				}
			}
		case Cubic:
			for _, t := range append(cubicExtremes(at.X, s.C1.X, s.C2.X, s.To.X), cubicExtremes(at.Y, s.C1.Y, s.C2.Y, s.To.Y)...) {
				if t > 0 && t < 1 {
					b = b.Grow(cubicAt(at, s.C1, s.C2, s.To, t))
				}
			}
		}
		at = s.To
	}
	return b
}

func quadExtreme(a, b, c float64) float64 {
	d := a - 2*b + c
	if d == 0 {
		return -1
	}
	return (a - b) / d
}

func cubicExtremes(a, b, c, d float64) []float64 {
	p := -a + 3*b - 3*c + d
	q := 2 * (a - 2*b + c)
	r := b - a
	if math.Abs(p) < 1e-12*(math.Abs(q)+math.Abs(r)) {
		if q == 0 {
			return nil
		}
		return []float64{-r / q}
	}
	disc := q*q - 4*p*r
	if disc < 0 {
		return nil
	}
	s := math.Sqrt(disc)
	return []float64{(-q + s) / (2 * p), (-q - s) / (2 * p)}
}

func cubicAt(a, b, c, d Vec, t float64) Vec {
	ab, bc, cd := a.Lerp(b, t), b.Lerp(c, t), c.Lerp(d, t)
	return ab.Lerp(bc, t).Lerp(bc.Lerp(cd, t), t)
}

// Flatten appends the contour as a polyline that departs from the curve by at
// most tol, beginning with Start. Curves are cut at even steps of their
// parameter; a curve and its reverse give the same points. A closing line is
// not appended.
func (c Contour) Flatten(tol float64, out []Vec) []Vec {
	out = append(out, c.Start)
	at := c.Start
	for _, s := range c.Segs {
		if s.Kind == Line {
			out = append(out, s.To)
			at = s.To
			continue
		}
		c1, c2 := s.controls(at)
		n := pieces(at, c1, c2, s.To, tol)
		for i := 1; i < n; i++ {
			t, u := float64(i)/float64(n), float64(n-i)/float64(n)
			a, b, c, d := u*u*u, 3*(u*u*t), 3*(t*t*u), t*t*t
			// Summed in pairs that swap when the curve runs the other way.
			out = append(
				out,
				Vec{(a*at.X + d*s.To.X) + (b*c1.X + c*c2.X), (a*at.Y + d*s.To.Y) + (b*c1.Y + c*c2.Y)},
			)
		}
		out = append(out, s.To)
		at = s.To
	}
	return out
}

// controls returns the control points of a curve as a cubic.
func (s Segment) controls(from Vec) (Vec, Vec) {
	if s.Kind == Quad { // the degree-raised cubic is the same curve
		return from.Lerp(s.C1, 2.0/3), s.To.Lerp(s.C1, 2.0/3)
	}
	return s.C1, s.C2
}

// maxPieces bounds the points of one curve.
const maxPieces = 1 << 14

// pieces returns into how many lines a cubic must be cut to stay within tol:
// the chord's error is at most an eighth of the second derivative over the
// square of their number (G. Wang 1984).
func pieces(a, b, c, d Vec, tol float64) int {
	p, q := a.Sub(b.Mul(2)).Add(c), b.Sub(c.Mul(2)).Add(d)
	m := math.Max(p.Dot(p), q.Dot(q))
	n := math.Ceil(math.Sqrt(0.75 * math.Sqrt(m) / tol))
	if !(n < maxPieces) {
		return maxPieces
	}
	return max(1, int(n))
}

// FlatCount returns how many points Flatten will make.
func (c Contour) FlatCount(tol float64) int {
	n := 1
	at := c.Start
	for _, s := range c.Segs {
		if s.Kind == Line {
			n++
		} else {
			c1, c2 := s.controls(at)
			n += pieces(at, c1, c2, s.To, tol)
		}
		at = s.To
	}
	return n
}

// ArcTo returns the cubics of an elliptical arc from p to q with radii rx, ry,
// the x axis turned by phi radians, as SVG 1.1 appendix F.6 defines it.
// Radii that are too small are scaled up; a zero radius gives a line.
func ArcTo(p, q Vec, rx, ry, phi float64, large, sweep bool) []Segment {
	rx, ry = math.Abs(rx), math.Abs(ry)
	if p == q {
		return nil
	}
	if rx == 0 || ry == 0 || !(rx < math.Inf(1)) || !(ry < math.Inf(1)) {
		return []Segment{{Kind: Line, To: q}}
	}
	sin, cos := math.Sincos(phi)
	dx, dy := (p.X-q.X)/2, (p.Y-q.Y)/2
	x1, y1 := cos*dx+sin*dy, -sin*dx+cos*dy
	if l := x1*x1/(rx*rx) + y1*y1/(ry*ry); l > 1 {
		rx, ry = rx*math.Sqrt(l), ry*math.Sqrt(l)
	}
	num := rx*rx*ry*ry - rx*rx*y1*y1 - ry*ry*x1*x1
	den := rx*rx*y1*y1 + ry*ry*x1*x1
	k := 0.0
	if num > 0 && den > 0 {
		k = math.Sqrt(num / den)
	}
	if large == sweep {
		k = -k
	}
	cx1, cy1 := k*rx*y1/ry, -k*ry*x1/rx
	cx := cos*cx1 - sin*cy1 + (p.X+q.X)/2
	cy := sin*cx1 + cos*cy1 + (p.Y+q.Y)/2
	a0 := math.Atan2((y1-cy1)/ry, (x1-cx1)/rx)
	a1 := math.Atan2((-y1-cy1)/ry, (-x1-cx1)/rx)
	da := a1 - a0
	if sweep && da < 0 {
		da += 2 * math.Pi
	} else if !sweep && da > 0 {
		da -= 2 * math.Pi
	}
	m := Matrix{cos * rx, sin * rx, -sin * ry, cos * ry, cx, cy}
	segs := UnitArc(m, a0, da)
	if len(segs) == 0 {
		return []Segment{{Kind: Line, To: q}}
	}
	segs[len(segs)-1].To = q
	return segs
}

// UnitArc returns the cubics of the unit circle's arc that begins at angle a0
// and covers da (radians), mapped by m. Pieces span at most a quarter turn,
// where a cubic departs from the circle by less than 0.03% of the radius.
func UnitArc(m Matrix, a0, da float64) []Segment {
	n := int(math.Ceil(math.Abs(da)/(math.Pi/2) - 1e-9))
	if n < 1 {
		n = 1
	}
	step := da / float64(n)
	k := 4.0 / 3 * math.Tan(step/4)
	segs := make([]Segment, 0, n)
	for i := 0; i < n; i++ {
		s0, c0 := math.Sincos(a0 + float64(i)*step)
		s1, c1 := math.Sincos(a0 + float64(i+1)*step)
		segs = append(segs, Segment{Cubic,
			m.Apply(Vec{c0 - k*s0, s0 + k*c0}),
			m.Apply(Vec{c1 + k*s1, s1 - k*c1}),
			m.Apply(Vec{c1, s1})})
	}
	return segs
}
