package plane

import (
	"math"
	"math/rand/v2"
	"testing"

	sf "github.com/peterstace/simplefeatures/geom"
)

// oracleArea computes a boolean of two simple polygons with an independent
// library.
func oracleArea(t *testing.T, a, b Loop, op Op) (float64, bool) {
	t.Helper()
	poly := func(l Loop) sf.Geometry {
		var xy []float64
		for i := 0; i <= len(l); i++ {
			p := l[i%len(l)]
			xy = append(xy, float64(p.X), float64(p.Y))
		}
		ring := sf.NewLineString(sf.NewSequence(xy, sf.DimXY))
		return sf.NewPolygon([]sf.LineString{ring}).AsGeometry()
	}
	f := map[Op]func(a, b sf.Geometry) (sf.Geometry, error){
		Union:     sf.Union,
		Intersect: sf.Intersection,
		Subtract:  sf.Difference,
		Xor:       sf.SymmetricDifference,
	}[op]
	g, err := f(poly(a), poly(b))
	if err != nil {
		return 0, false // it gives up on some touching input
	}
	return g.Area(), true
}

// spiky returns a star-shaped, hence simple, polygon.
func spiky(r *rand.Rand, cx, cy float64) Loop {
	n := 5 + r.IntN(40)
	l := make(Loop, n)
	for i := range l {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		d := 100 + 900*r.Float64()
		l[i] = Point{int32(cx + d*c), int32(cy + d*s)}
	}
	return l
}

// TestBooleansAgainstOracle compares areas with those of a library that works
// quite differently.
func TestBooleansAgainstOracle(t *testing.T) {
	compared := 0
	for seed := range uint64(120) {
		r := rand.New(rand.NewPCG(seed, 11))
		a, b := spiky(r, 0, 0), spiky(r, 600*r.Float64(), 600*r.Float64())
		ra, rb := fill(t, []Loop{a}, NonZero), fill(t, []Loop{b}, NonZero)
		for _, op := range []Op{Union, Intersect, Subtract, Xor} {
			want, ok := oracleArea(t, a, b, op)
			if !ok {
				continue
			}
			compared++
			// The grid is coarse here, so rounded crossings count.
			if got := float64(combine(t, ra, rb, op).Area2()) / 2; math.Abs(got-want) > 3000+want*0.01 {
				t.Errorf("seed %d op %d: area %g, the oracle says %g", seed, op, got, want)
			}
		}
	}
	if compared < 300 {
		t.Errorf("the oracle answered only %d times", compared)
	}
}

// TestTriangulationCoversTheRegion adds up the triangles inside exactly.
func TestTriangulationCoversTheRegion(t *testing.T) {
	for seed := range uint64(200) {
		r := rand.New(rand.NewPCG(seed, 12))
		ar := NewArrangement()
		for _, l := range randomLoops(r, []int32{5, 200, 1 << 24}[seed%3]) {
			ar.AddLoop(0, l)
		}
		if err := ar.Build(); err != nil {
			t.Fatal(err)
		}
		ar.Classify(&fillOne{rule: EvenOdd})
		var sum int64
		for k := range ar.Triangles() {
			if v, label := ar.Triangle(k); label == 1 {
				sum += Orient(ar.Point(v[0]), ar.Point(v[1]), ar.Point(v[2]))
			}
		}
		if want := ar.Regions()[1].Area2(); sum != want {
			t.Fatalf("seed %d: triangles cover %d, the region has %d", seed, sum, want)
		}
	}
}

// TestFastOffsetAgreesWithTheArrangement compares the short cut for clean
// curves with the full computation.
func TestFastOffsetAgreesWithTheArrangement(t *testing.T) {
	short := 0
	for seed := range uint64(300) {
		r := rand.New(rand.NewPCG(seed, 13))
		reg := fill(t, []Loop{spiky(r, 0, 0), circle(60, 3+r.IntN(40))}, EvenOdd)
		for i := range reg {
			reg[i].Outer = scaled(reg[i].Outer, 5000)
			for j := range reg[i].Holes {
				reg[i].Holes[j] = scaled(reg[i].Holes[j], 5000)
			}
			d := 1000 + 200_000*r.Float64()
			loops := append([]Loop{reg[i].Outer}, reg[i].Holes...)
			var raw []Loop
			whole := true
			for _, l := range loops {
				o, w := rawOffset(sidesOf(l, nil), d, OffsetStyle{ArcTol: 20})
				raw, whole = append(raw, o), whole && w
			}
			got, ok := rawRegion(raw)
			if !ok || !whole {
				continue
			}
			short++
			var plain []Loop
			for _, l := range loops {
				o, _ := joinSides(sidesOf(l, nil), d, OffsetStyle{ArcTol: 20})
				plain = append(plain, o)
			}
			want := fill(t, plain, Positive)
			if out := combine(t, got, want, Xor); float64(out.Area2()) > 1e-5*float64(want.Area2())+4e7 {
				t.Errorf("seed %d: the short cut differs by %d of %d", seed, out.Area2(), want.Area2())
			}
		}
	}
	if short < 50 {
		t.Errorf("the short cut was taken only %d times", short)
	}
}

func scaled(l Loop, k int32) Loop {
	out := make(Loop, len(l))
	for i, p := range l {
		out[i] = Point{p.X * k, p.Y * k}
	}
	return out
}
