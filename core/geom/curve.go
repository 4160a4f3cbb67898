package geom

import "math"

// At returns the point of a segment that begins at from, for t from 0 to 1.
func (s Segment) At(from Vec, t float64) Vec {
	if s.Kind == Line {
		return from.Lerp(s.To, t)
	}
	c1, c2 := s.controls(from)
	return cubicAt(from, c1, c2, s.To, t)
}

// Speed returns the derivative of a segment by t.
func (s Segment) Speed(from Vec, t float64) Vec {
	if s.Kind == Line {
		return s.To.Sub(from)
	}
	c1, c2 := s.controls(from)
	u := 1 - t
	return c1.Sub(from).Mul(3 * u * u).Add(c2.Sub(c1).Mul(6 * u * t)).Add(s.To.Sub(c2).Mul(3 * t * t))
}

// Sub returns the piece of a segment from t0 to t1 and where it begins; t1 may
// be the lesser one, the piece runs backwards then (de Casteljau).
func (s Segment) Sub(from Vec, t0, t1 float64) (Vec, Segment) {
	a, b := s.At(from, t0), s.At(from, t1)
	if s.Kind == Line {
		return a, Segment{Kind: Line, To: b}
	}
	d := (t1 - t0) / 3
	return a, Segment{
		Kind: Cubic,
		C1:   a.Add(s.Speed(from, t0).Mul(d)),
		C2:   b.Sub(s.Speed(from, t1).Mul(d)),
		To:   b,
	}
}

// Reversed returns the contour run the other way.
func (c Contour) Reversed() Contour {
	out := Contour{Start: c.Start, Closed: c.Closed}
	if len(c.Segs) == 0 {
		return out
	}
	out.Start = c.Segs[len(c.Segs)-1].To
	for i := len(c.Segs) - 1; i >= 0; i-- {
		s := c.Segs[i]
		to := c.From(i)
		switch s.Kind {
		case Quad:
			s.To = to
		case Cubic:
			s.C1, s.C2, s.To = s.C2, s.C1, to
		default:
			s = Segment{Kind: Line, To: to}
		}
		out.Segs = append(out.Segs, s)
	}
	return out
}

// From returns where segment i begins.
func (c Contour) From(i int) Vec {
	if i == 0 {
		return c.Start
	}
	return c.Segs[i-1].To
}

// End returns where the contour ends, before it is closed.
func (c Contour) End() Vec {
	if len(c.Segs) == 0 {
		return c.Start
	}
	return c.Segs[len(c.Segs)-1].To
}

// Clone returns a copy with segments of its own.
func (c Contour) Clone() Contour {
	c.Segs = append([]Segment(nil), c.Segs...)
	return c
}

// Nearest returns the place of a contour that is nearest to p: its segment, the
// parameter there, and the distance. Each curve is sampled and the best sample
// bettered by bisection; the closing line counts as segment len(c.Segs).
func (c Contour) Nearest(p Vec) (seg int, t, dist float64) {
	seg, dist = -1, math.Inf(1)
	n := len(c.Segs)
	if c.Closed && c.End() != c.Start {
		n++
	}
	for i := range n {
		from, s := c.End(), Segment{Kind: Line, To: c.Start}
		if i < len(c.Segs) {
			from, s = c.From(i), c.Segs[i]
		}
		if at := s.nearest(from, p); s.At(from, at).Sub(p).Len() < dist {
			seg, t, dist = i, at, s.At(from, at).Sub(p).Len()
		}
	}
	return seg, t, dist
}

func (s Segment) nearest(from, p Vec) float64 {
	if s.Kind == Line {
		d := s.To.Sub(from)
		if d == (Vec{}) {
			return 0
		}
		return math.Max(0, math.Min(1, p.Sub(from).Dot(d)/d.Dot(d)))
	}
	const samples = 16
	best, least := 0.0, math.Inf(1)
	for i := 0; i <= samples; i++ {
		t := float64(i) / samples
		if d := s.At(from, t).Sub(p).Len(); d < least {
			best, least = t, d
		}
	}
	for step := 0.5 / samples; step > 1e-9; step /= 2 {
		for _, t := range [2]float64{best - step, best + step} {
			if t < 0 || t > 1 {
				continue
			}
			if d := s.At(from, t).Sub(p).Len(); d < least {
				best, least = t, d
			}
		}
	}
	return best
}
