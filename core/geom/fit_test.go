package geom

import (
	"math"
	"math/rand/v2"
	"testing"
)

func bezier(rnd *rand.Rand) (Vec, Segment) {
	v := func() Vec { return Vec{rnd.Float64() * 100, rnd.Float64() * 100} }
	s := Segment{Kind: Kind(rnd.IntN(3)), To: v()}
	if s.Kind != Line {
		s.C1 = v()
	}
	if s.Kind == Cubic {
		s.C2 = v()
	}
	return v(), s
}

// TestPiecesOfCurves holds that a piece of a curve runs where the curve runs,
// forwards and backwards, and that Speed is the derivative of At.
func TestPiecesOfCurves(t *testing.T) {
	for seed := range uint64(300) {
		rnd := rand.New(rand.NewPCG(seed, 1))
		from, s := bezier(rnd)
		t0, t1 := rnd.Float64(), rnd.Float64()
		a, sub := s.Sub(from, t0, t1)
		for i := range 11 {
			u := float64(i) / 10
			want, got := s.At(from, t0+(t1-t0)*u), sub.At(a, u)
			if got.Sub(want).Len() > 1e-9 {
				t.Fatalf("%d: at %g the piece from %g to %g is at %v, not %v", seed, u, t0, t1, got, want)
			}
		}
		const h = 1e-6
		slope := s.At(from, t0+h).Sub(s.At(from, t0-h)).Mul(0.5 / h)
		if d := slope.Sub(s.Speed(from, t0)).Len(); d > 1e-3*(1+slope.Len()) {
			t.Errorf("%d: speed %v, slope %v", seed, s.Speed(from, t0), slope)
		}
	}
}

// TestReversedContours run through the same points the other way round.
func TestReversedContours(t *testing.T) {
	for seed := range uint64(100) {
		rnd := rand.New(rand.NewPCG(seed, 2))
		c := Contour{Closed: seed%2 == 0}
		for range 1 + rnd.IntN(6) {
			from, s := bezier(rnd)
			if len(c.Segs) == 0 {
				c.Start = from
			}
			c.Segs = append(c.Segs, s)
		}
		r := c.Reversed()
		if r.Start != c.End() || r.End() != c.Start || r.Closed != c.Closed {
			t.Fatalf("%d: from %v to %v, not back", seed, r.Start, r.End())
		}
		a, b := c.Flatten(0.1, nil), r.Flatten(0.1, nil)
		if len(a) != len(b) {
			t.Fatalf("%d: %d points, and %d back", seed, len(a), len(b))
		}
		for i := range a {
			if a[i].Sub(b[len(b)-1-i]).Len() > 1e-9 {
				t.Fatalf("%d: point %d is %v and %v", seed, i, a[i], b[len(b)-1-i])
			}
		}
		k := rnd.IntN(len(c.Segs))
		if back := r.Reversed(); back.Segs[k].To != c.Segs[k].To || back.From(k) != c.From(k) {
			t.Errorf("%d: reversed twice it is another", seed)
		}
	}
}

// TestNearestOnContours compares with the nearest of very many points.
func TestNearestOnContours(t *testing.T) {
	for seed := range uint64(150) {
		rnd := rand.New(rand.NewPCG(seed, 3))
		from, s := bezier(rnd)
		c := Contour{Start: from, Segs: []Segment{s}, Closed: seed%3 == 0}
		p := Vec{rnd.Float64() * 120, rnd.Float64() * 120}
		seg, at, dist := c.Nearest(p)
		least := math.Inf(1)
		for i := range 20_001 {
			least = math.Min(least, s.At(from, float64(i)/20_000).Sub(p).Len())
			if c.Closed {
				least = math.Min(least, s.To.Lerp(from, float64(i)/20_000).Sub(p).Len())
			}
		}
		if dist > least+1e-2 || dist < least-1e-2 {
			t.Errorf("%d: %g away at %d %g, but %g is nearer", seed, dist, seg, at, least)
		}
	}
}

// TestFitKeepsCorners draws polygons with cubics: corners of the polygon are
// nodes, smooth parts get few, and both stay within the tolerance.
func TestFitKeepsCorners(t *testing.T) {
	within := func(name string, pts []Vec, closed bool, tol float64, most int) Contour {
		t.Helper()
		c := Fit(pts, closed, tol)
		if len(c.Segs) > most {
			t.Errorf("%s: %d segments, more than %d", name, len(c.Segs), most)
		}
		line := c.Flatten(tol/20, nil)
		far := func(p Vec, list []Vec) float64 {
			d := math.Inf(1)
			for i := 1; i < len(list); i++ {
				d = math.Min(d, ToSegment(p, list[i-1], list[i]))
			}
			return d
		}
		ring := pts
		if closed {
			ring = append(append([]Vec(nil), pts...), pts[0])
		}
		for _, p := range pts {
			if d := far(p, line); d > tol*1.01 {
				t.Errorf("%s: a point lies %.5f off, %.5f allowed", name, d, tol)
				break
			}
		}
		for _, p := range line {
			if d := far(p, ring); d > tol*1.1 {
				t.Errorf("%s: the curve runs %.5f off, %.5f allowed", name, d, tol)
				break
			}
		}
		return c
	}
	arc := func(n int, turn float64) (out []Vec) {
		for i := range n {
			s, k := math.Sincos(turn * float64(i) / float64(n-1))
			out = append(out, Vec{10 * k, 10 * s})
		}
		return out
	}
	within("half a circle", arc(200, math.Pi), false, 0.01, 4)
	within("a circle", arc(400, 2*math.Pi)[:399], true, 0.01, 8)
	within("a square", []Vec{{0, 0}, {9, 0}, {9, 9}, {0, 9}}, true, 0.01, 4)
	within("a line", []Vec{{0, 0}, {1, 0}, {2, 0}, {9, 0}}, false, 0.01, 1)
	half := append(arc(200, math.Pi), Vec{0, -8})
	c := within("half a circle with a point", half, true, 0.01, 7)
	corner := false
	for i := range c.Segs {
		corner = corner || c.From(i).Sub(Vec{0, -8}).Len() < 1e-9
	}
	if !corner {
		t.Error("the point is no node")
	}
	// Steps smaller than the tolerance are no corners.
	var steps []Vec
	for i := range 300 {
		steps = append(steps, Vec{float64(i) * 0.1, float64(i/2) * 0.1})
	}
	within("a staircase", steps, false, 0.2, 3)
	for name, pts := range map[string][]Vec{
		"nothing":        nil,
		"a point":        {{1, 1}},
		"a point twice":  {{1, 1}, {1, 1}},
		"there and back": {{0, 0}, {5, 0}, {0, 0}},
	} {
		for _, closed := range []bool{false, true} {
			if c := Fit(pts, closed, 0.1); c.Closed != closed || len(c.Segs) > 2 {
				t.Errorf("%s: %+v", name, c)
			}
		}
	}
}
