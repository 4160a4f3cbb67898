package plane

import (
	"math"
	"math/rand/v2"
	"testing"
)

// star is a random star-shaped loop, counter-clockwise.
func star(r *rand.Rand, n int, most float64) Loop {
	l := make(Loop, n)
	for i := range l {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		d := most * (0.3 + 0.7*r.Float64())
		l[i] = Point{int32(d * c), int32(d * s)}
	}
	return l
}

// TestWithinIsInside finds a place inside of random polygons with holes.
func TestWithinIsInside(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 1))
	for round := range 500 {
		p := Polygon{Outer: star(r, 5+r.IntN(40), 1e6)}
		if round%2 == 0 { // a hole that leaves a thin ring
			hole := make(Loop, len(p.Outer))
			for i, q := range p.Outer {
				hole[len(hole)-1-i] = Point{q.X * 9 / 10, q.Y * 9 / 10}
			}
			p.Holes = []Loop{hole}
		}
		if at := p.Within(); !(Region{p}).Contains(at) {
			t.Fatalf("round %d: %v is not inside of %v", round, at, p)
		}
	}
	far := Region{{Outer: star(r, 9, 1000)}}
	if far.Contains(Point{5000, 5000}) {
		t.Error("a place far away is inside")
	}
}

// TestMitresGoRoundBeyondTheirLimit grows a blunt and a sharp corner.
func TestMitresGoRoundBeyondTheirLimit(t *testing.T) {
	square := Region{{Outer: Loop{{0, 0}, {100_000, 0}, {100_000, 100_000}, {0, 100_000}}}}
	spike := Region{{Outer: Loop{{0, 0}, {100_000, -5_000}, {100_000, 5_000}}}}
	const d = 10_000
	for name, c := range map[string]struct {
		r    Region
		join Join
		far  float64 // how far the result reaches to the left of the origin
	}{
		"square, mitred":         {square, MiterOrRound, d},
		"square, round":          {square, RoundJoin, d},
		"spike, mitred or round": {spike, MiterOrRound, d},
		"spike, mitred":          {spike, MiterJoin, d * math.Sin(math.Atan(0.05))},
	} {
		out, err := c.r.Offset(d, OffsetStyle{Join: c.join, MiterLimit: 2, ArcTol: 10})
		if err != nil {
			t.Fatal(err)
		}
		lo, _, _ := out.Bounds()
		if math.Abs(float64(-lo.X)-c.far) > 30 {
			t.Errorf("%s: it reaches %d, want %g", name, -lo.X, c.far)
		}
		corner := Point{-d + 300, -d + 300}
		if got, want := out.Contains(corner), name == "square, mitred"; got != want {
			t.Errorf("%s: the corner is inside: %v", name, got)
		}
	}
}

// TestEachEdgeOnce counts the edges of two squares that share a side.
func TestEachEdgeOnce(t *testing.T) {
	ar := NewArrangement()
	ar.AddRegion(0, Region{{Outer: Loop{{0, 0}, {100, 0}, {100, 100}, {0, 100}}}})
	ar.AddRegion(1, Region{{Outer: Loop{{100, 0}, {200, 0}, {200, 100}, {100, 100}}}})
	if err := ar.Build(); err != nil {
		t.Fatal(err)
	}
	defer ar.Release()
	seen := map[[2]Point]bool{}
	ar.EachEdge(func(p, q Point) {
		if seen[[2]Point{p, q}] || seen[[2]Point{q, p}] {
			t.Errorf("the edge from %v to %v comes twice", p, q)
		}
		seen[[2]Point{p, q}] = true
	})
	if len(seen) != 7 || ar.Edges() != 7 {
		t.Errorf("%d edges, %d", len(seen), ar.Edges())
	}
}
