package geom

import (
	"math"
	"math/big"
	"math/rand/v2"
	"testing"
)

func randomMatrix(r *rand.Rand) Matrix {
	f := func() float64 { return r.Float64()*8 - 4 }
	return Matrix{f(), f(), f(), f(), 10 * f(), 10 * f()}
}

func randomVec(r *rand.Rand) Vec { return Vec{r.Float64()*20 - 10, r.Float64()*20 - 10} }

func close2(a, b Vec, tol float64) bool { return math.Hypot(a.X-b.X, a.Y-b.Y) <= tol }

// TestArcs checks every arc against its definition: it starts and ends where
// it should, its points lie on an ellipse of the given radii and turn, it goes
// the way that sweep says and the long way round if asked.
func TestArcs(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 1))
	for range 3000 {
		p, q := randomVec(r), randomVec(r)
		rx, ry, phi := 0.1+r.Float64()*15, 0.1+r.Float64()*15, r.Float64()*7
		large, sweep := r.IntN(2) == 0, r.IntN(2) == 0
		segs := ArcTo(p, q, rx, ry, phi, large, sweep)
		if segs[len(segs)-1].To != q {
			t.Fatalf("ends at %v, not at %v", segs[len(segs)-1].To, q)
		}
		// In the space in which the ellipse is a unit circle.
		flat := Rotate(phi).Mul(Scale(rx, ry)).Inverse()
		a, b := flat.Apply(p), flat.Apply(q)
		chord := b.Sub(a)
		half := math.Hypot(chord.X, chord.Y) / 2
		grown := math.Max(1, half)
		h := math.Sqrt(math.Max(0, grown*grown-half*half))
		turned := 0.0
		at := a
		var centre Vec
		fits := 0
		for _, s := range [2]float64{1, -1} {
			c := a.Lerp(b, 0.5)
			if half > 0 {
				c = c.Add(Vec{-chord.Y, chord.X}.Mul(s * h / (2 * half)))
			}
			ok := true
			from := a
			for _, g := range segs {
				mid := flat.Apply(cubicAt(flat.Inverse().Apply(from), g.C1, g.C2, g.To, 0.5))
				d := mid.Sub(c)
				if math.Abs(math.Hypot(d.X, d.Y)-grown) > 0.001*grown {
					ok = false
				}
				from = flat.Apply(g.To)
			}
			if ok {
				centre = c
				fits++
			}
		}
		if fits == 2 {
			continue // so flat that it bends to neither side
		}
		if fits == 0 {
			t.Fatalf("from %v to %v by %g, %g turned %g: not on an ellipse", p, q, rx, ry, phi)
		}
		for _, g := range segs {
			next := flat.Apply(g.To)
			u, v := at.Sub(centre), next.Sub(centre)
			turned += math.Atan2(u.X*v.Y-u.Y*v.X, u.Dot(v))
			at = next
		}
		if turned > 0 != sweep && math.Abs(turned) > 1e-6 {
			t.Fatalf("turns by %g with sweep %v", turned, sweep)
		}
		if h > 1e-3 && (math.Abs(turned) > math.Pi) != large {
			t.Fatalf("turns by %g with large %v", turned, large)
		}
	}
	if segs := ArcTo(Vec{1, 1}, Vec{1, 1}, 5, 5, 0, true, true); segs != nil {
		t.Errorf("an arc to where it starts gives %v", segs)
	}
	for _, radius := range []float64{0, math.Inf(1), math.NaN()} {
		if segs := ArcTo(Vec{}, Vec{5, 0}, radius, 3, 0, true, true); len(segs) != 1 || segs[0].Kind != Line {
			t.Errorf("an arc of the radius %g gives %v", radius, segs)
		}
	}
}

// TestTightBoxes compares boxes with many points of the curves: nothing lies
// outside, and each side is touched.
func TestTightBoxes(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 2))
	for range 500 {
		c := Contour{Start: randomVec(r)}
		for range 1 + r.IntN(3) {
			kind := []Kind{Line, Quad, Cubic}[r.IntN(3)]
			c.Segs = append(c.Segs, Segment{kind, randomVec(r), randomVec(r), randomVec(r)})
		}
		seen := EmptyBox().Grow(c.Start)
		at := c.Start
		for _, s := range c.Segs {
			for i := range 2001 {
				k := float64(i) / 2000
				switch s.Kind {
				case Line:
					seen = seen.Grow(at.Lerp(s.To, k))
				case Quad:
					seen = seen.Grow(at.Lerp(s.C1, k).Lerp(s.C1.Lerp(s.To, k), k))
				case Cubic:
					seen = seen.Grow(cubicAt(at, s.C1, s.C2, s.To, k))
				}
			}
			at = s.To
		}
		got := c.TightBox()
		if !close2(got.Min, seen.Min, 1e-4) || !close2(got.Max, seen.Max, 1e-4) {
			t.Fatalf("%+v: box %v, seen %v", c, got, seen)
		}
		if !c.Box().Contains(got) {
			t.Fatalf("%+v: the box of its points %v does not hold %v", c, c.Box(), got)
		}
	}
}

// TestMatrixLaws holds for random maps: products apply the right one first,
// the largest factor is reached and never passed, areas grow by the
// determinant, and a contour moves as its points do.
func TestMatrixLaws(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 2000 {
		m, n, v := randomMatrix(r), randomMatrix(r), randomVec(r)
		if got, want := m.Mul(n).Apply(v), m.Apply(n.Apply(v)); !close2(got, want, 1e-9) {
			t.Fatalf("product gives %v, one after the other %v", got, want)
		}
		if d := m.Mul(n).Det() - m.Det()*n.Det(); math.Abs(d) > 1e-9 {
			t.Fatalf("determinant of the product off by %g", d)
		}
		most := 0.0
		for i := range 720 {
			s, c := math.Sincos(float64(i) * math.Pi / 720)
			d := m.Apply(Vec{c, s}).Sub(m.Apply(Vec{}))
			most = math.Max(most, math.Hypot(d.X, d.Y))
		}
		if got := m.MaxScale(); got < most-1e-9 || got > most*1.0001+1e-9 {
			t.Fatalf("largest factor %g, met %g", got, most)
		}
		c := Contour{Start: v, Segs: []Segment{{Quad, randomVec(r), Vec{}, randomVec(r)}}}
		moved := c.Transform(m)
		k := r.Float64()
		on := v.Lerp(c.Segs[0].C1, k).Lerp(c.Segs[0].C1.Lerp(c.Segs[0].To, k), k)
		s := moved.Segs[0]
		if got := moved.Start.Lerp(s.C1, k).Lerp(s.C1.Lerp(s.To, k), k); !close2(got, m.Apply(on), 1e-9) {
			t.Fatalf("a moved curve passes %v, the point moves to %v", got, m.Apply(on))
		}
	}
	for _, m := range []Matrix{{A: math.NaN()}, {E: math.Inf(1)}, {B: math.Inf(-1), C: math.Inf(1)}} {
		if m.Finite() {
			t.Errorf("%v is taken for a map", m)
		}
	}
}

// TestBoxAlgebra checks union, intersection and containment by points.
func TestBoxAlgebra(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	box := func() Box {
		if r.IntN(8) == 0 {
			return EmptyBox()
		}
		return EmptyBox().Grow(randomVec(r)).Grow(randomVec(r))
	}
	holds := func(b Box, v Vec) bool { return b.Contains(EmptyBox().Grow(v)) }
	for range 2000 {
		a, b, v := box(), box(), randomVec(r)
		both, either := a.Intersect(b), a.Union(b)
		if holds(both, v) != (holds(a, v) && holds(b, v)) {
			t.Fatalf("%v and %v share %v", a, b, both)
		}
		if (holds(a, v) || holds(b, v)) && !holds(either, v) || !either.Contains(a) || !either.Contains(b) {
			t.Fatalf("%v and %v make %v", a, b, either)
		}
		if !both.Empty() != a.Overlaps(b) {
			t.Fatalf("%v and %v overlap: %v", a, b, a.Overlaps(b))
		}
		m := randomMatrix(r)
		if holds(a, v) && !a.Transform(m).Union(EmptyBox().Grow(m.Apply(v))).Contains(a.Transform(m)) {
			t.Fatal("a box does not move with its points")
		}
	}
	if e := EmptyBox(); !e.Empty() || e.W() != 0 || e.H() != 0 || !e.Transform(Rotate(1)).Empty() {
		t.Errorf("the empty box is %v", e)
	}
}

// TestWideIntegers compares sums of products with exact arithmetic.
func TestWideIntegers(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	edge := []int64{0, 1, -1, math.MaxInt64, math.MinInt64, 1 << 32, -1 << 32, 1<<53 + 1}
	pick := func() int64 {
		if r.IntN(3) == 0 {
			return edge[r.IntN(len(edge))]
		}
		return int64(r.Uint64()) >> r.IntN(63)
	}
	for range 20000 {
		a, b, c, d := pick(), pick(), pick()>>1, pick()>>1
		sum := Mul128(a>>1, b).Add(Mul128(c, d))
		want := new(big.Int).Mul(big.NewInt(a>>1), big.NewInt(b))
		want.Add(want, new(big.Int).Mul(big.NewInt(c), big.NewInt(d)))
		got := new(big.Int).Lsh(big.NewInt(sum.Hi), 64)
		got.Add(got, new(big.Int).SetUint64(sum.Lo))
		if got.Cmp(want) != 0 || sum.Sign() != want.Sign() {
			t.Fatalf("%d * %d + %d * %d is %v, not %v", a>>1, b, c, d, got, want)
		}
	}
}

// TestSignOfSum compares signs with exact arithmetic, most of them of sums that
// nearly vanish, where rounding would decide.
func TestSignOfSum(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 6))
	small, zero := 0, 0
	for range 50000 {
		a0, b0 := r.Int64N(1<<60)-1<<59, r.Int64N(1<<60)-1<<59
		a1, b1 := r.Int64N(1<<60)-1<<59, r.Int64N(1<<60)-1<<59
		a2, b2 := r.Int64N(1<<60)-1<<59, r.Int64N(1<<60)-1<<59
		switch r.IntN(4) {
		case 0: // cancels but for the last product
			a1, b1 = -a0, b0
			a2, b2 = r.Int64N(3)-1, r.Int64N(3)-1
		case 1: // differs in the last digit of a factor
			a1, b1 = -a0, b0+r.Int64N(3)-1
			a2, b2 = r.Int64N(1<<30), r.Int64N(1<<30)-1<<29
		case 2: // cancels over all three
			a1, b1 = a0, -b0-1
			a2, b2 = a0, r.Int64N(3)
		}
		want := new(big.Int).Mul(big.NewInt(a0), big.NewInt(b0))
		size := new(big.Int).Abs(want)
		want.Add(want, new(big.Int).Mul(big.NewInt(a1), big.NewInt(b1)))
		want.Add(want, new(big.Int).Mul(big.NewInt(a2), big.NewInt(b2)))
		if got := SignOfSum(a0, b0, a1, b1, a2, b2); got != want.Sign() {
			t.Fatalf("%d*%d + %d*%d + %d*%d has the sign %d, not %d", a0, b0, a1, b1, a2, b2, want.Sign(), got)
		}
		if want.Sign() == 0 {
			zero++
		} else if new(big.Int).Rsh(size, 50).CmpAbs(want) > 0 {
			small++
		}
	}
	if small < 10000 || zero < 1000 {
		t.Errorf("only %d sums close to zero, %d that vanish", small, zero)
	}
}
