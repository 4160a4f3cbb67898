package geom

import (
	"math"
	"math/rand/v2"
	"testing"
)

func randomCubic(r *rand.Rand) (Vec, Segment) {
	p := func() Vec { return Vec{r.Float64()*200 - 100, r.Float64()*200 - 100} }
	return p(), Segment{Cubic, p(), p(), p()}
}

// TestFlattenStaysWithinTolerance measures random curves against their
// polylines, and holds that a curve and its reverse give the same points.
func TestFlattenStaysWithinTolerance(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for range 400 {
		from, s := randomCubic(r)
		if r.IntN(4) == 0 {
			s = Segment{Kind: Quad, C1: s.C1, To: s.To}
		}
		tol := math.Pow(10, -4*r.Float64())
		c := Contour{Start: from, Segs: []Segment{s}}
		pts := c.Flatten(tol, nil)
		if n := c.FlatCount(tol); n != len(pts) {
			t.Fatalf("%d points, counted %d", len(pts), n)
		}
		c1, c2 := s.controls(from)
		for k := range 200 {
			u := (float64(k) + 0.5) / 200
			v := cubicAt(from, c1, c2, s.To, u)
			best := math.Inf(1)
			for i := 1; i < len(pts); i++ {
				a, d := pts[i-1], pts[i].Sub(pts[i-1])
				q := v.Sub(a)
				w := math.Max(0, math.Min(1, q.Dot(d)/d.Dot(d)))
				best = math.Min(best, q.Sub(d.Mul(w)).Len())
			}
			if best > tol*1.0001 {
				t.Fatalf("%g from its polyline, tolerance %g", best, tol)
			}
		}
		back := Contour{Start: s.To, Segs: []Segment{{s.Kind, s.C2, s.C1, from}}}
		if s.Kind == Quad {
			back.Segs[0] = Segment{Kind: Quad, C1: s.C1, To: from}
		}
		if s.Kind == Cubic {
			rev := back.Flatten(tol, nil)
			for i := range rev {
				if rev[i] != pts[len(pts)-1-i] {
					t.Fatalf("point %d differs backwards: %v and %v", i, rev[i], pts[len(pts)-1-i])
				}
			}
		}
		box, tight := c.Box(), c.TightBox()
		for _, p := range pts {
			if g := tight.Grow(p); g.W() > tight.W()+1e-9 || g.H() > tight.H()+1e-9 {
				t.Fatalf("%v lies outside the tight box", p)
			}
		}
		if tight.W() > box.W()+1e-9 {
			t.Fatal("the tight box is wider than that of the control points")
		}
	}
}

// TestStrokeCoversWhatLiesNear checks random strokes point by point: inside
// where the path is nearer than half the width, outside where it is farther.
func TestStrokeCoversWhatLiesNear(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for range 150 {
		var c Contour
		c.Start = Vec{r.Float64() * 100, r.Float64() * 100}
		for range 1 + r.IntN(6) {
			c.Segs = append(c.Segs, Segment{To: Vec{r.Float64() * 100, r.Float64() * 100}})
		}
		c.Closed = r.IntN(2) == 0
		w := 1 + 30*r.Float64()
		loops := Stroke([]Contour{c}, StrokeStyle{Width: w, Cap: RoundCap, Join: RoundJoin}, 0.01)
		pts := c.Flatten(1, nil)
		if c.Closed {
			pts = append(pts, c.Start)
		}
		for range 200 {
			p := Vec{r.Float64()*180 - 40, r.Float64()*180 - 40}
			near := math.Inf(1)
			for i := 1; i < len(pts); i++ {
				a, d := pts[i-1], pts[i].Sub(pts[i-1])
				q := p.Sub(a)
				s := math.Max(0, math.Min(1, q.Dot(d)/math.Max(d.Dot(d), 1e-12)))
				near = math.Min(near, q.Sub(d.Mul(s)).Len())
			}
			if math.Abs(near-w/2) < 0.05 {
				continue
			}
			if wound := winding(loops, p); (wound != 0) != (near < w/2) {
				t.Fatalf("a point %g from a path of width %g has winding %d", near, w, wound)
			} else if wound < 0 {
				t.Fatalf("negative winding %d", wound)
			}
		}
	}
}

// winding counts how often loops wind about p.
func winding(loops [][]Vec, p Vec) int {
	w := 0
	for _, l := range loops {
		for i, a := range l {
			b := l[(i+1)%len(l)]
			if (a.Y > p.Y) == (b.Y > p.Y) {
				continue
			}
			if side := b.Sub(a).Cross(p.Sub(a)); side > 0 && b.Y > a.Y {
				w++
			} else if side < 0 && b.Y < a.Y {
				w--
			}
		}
	}
	return w
}

func TestDashesAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 300 {
		var pts []Vec
		for range 2 + r.IntN(8) {
			pts = append(pts, Vec{r.Float64() * 100, r.Float64() * 100})
		}
		closed := r.IntN(2) == 0
		st := StrokeStyle{
			Width:      1,
			Dashes:     []float64{1 + 9*r.Float64(), 1 + 9*r.Float64(), 5 * r.Float64()},
			DashOffset: 40*r.Float64() - 20,
		}
		length := func(p []Vec) (l float64) {
			for i := 1; i < len(p); i++ {
				l += p[i].Sub(p[i-1]).Len()
			}
			return l
		}
		run := append([]Vec{}, pts...)
		if closed {
			run = append(run, pts[0])
		}
		total, on := length(run), 0.0
		for _, d := range st.dash(append([]Vec{}, pts...), closed, 1000) {
			on += length(d)
		}
		// Walk the pattern in small steps.
		pattern := append(append([]float64{}, st.Dashes...), st.Dashes...)
		period := 2 * (st.Dashes[0] + st.Dashes[1] + st.Dashes[2])
		want, step := 0.0, total/20000
		for i := range 20000 {
			at := math.Mod(math.Mod((float64(i)+0.5)*step+st.DashOffset, period)+period, period)
			for k, d := range pattern {
				if at < d {
					if k%2 == 0 {
						want += step
					}
					break
				}
				at -= d
			}
		}
		if math.Abs(on-want) > 0.02*total {
			t.Fatalf("dashes cover %g of %g, want %g", on, total, want)
		}
	}
}

func TestMatrixInverse(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	for range 100 {
		m := Matrix{
			r.Float64(),
			r.Float64(),
			r.Float64() - 1,
			r.Float64() + 1,
			r.Float64() * 9,
			r.Float64() * 9,
		}
		v := Vec{r.Float64() * 10, r.Float64() * 10}
		if d := m.Inverse().Apply(m.Apply(v)).Sub(v).Len(); d > 1e-9 {
			t.Fatalf("off by %g", d)
		}
		worst := 0.0
		for k := range 360 {
			s, c := math.Sincos(float64(k) * math.Pi / 180)
			worst = math.Max(worst, Vec{m.A*c + m.C*s, m.B*c + m.D*s}.Len())
		}
		if math.Abs(worst-m.MaxScale()) > 1e-3*worst {
			t.Fatalf("grows by %g, said %g", worst, m.MaxScale())
		}
	}
}
