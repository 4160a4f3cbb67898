package gauge

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// TestMemoryChangesNothing moves a few points of ragged outlines at a time, and holds that what is found with the
// help of what was found before is what is found without, at both sides.
func TestMemoryChangesNothing(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	for range 20 {
		var loops []plane.Loop
		for k := range 6 {
			var l plane.Loop
			for i := range 120 {
				far := 4000 + 3000*r.Float64()
				s, c := math.Sincos(2 * math.Pi * float64(i) / 120)
				l = append(l, plane.Point{X: int32(far*c) + int32(k%3)*13000, Y: int32(far*s) + int32(k/3)*13000})
			}
			loops = append(loops, l)
		}
		var kept [2]*Memory
		const width = 900.0
		helped := 0
		for range 6 {
			for side, outside := range [2]bool{false, true} {
				g := New(loops)
				want := g.Narrow(width, outside, 0.5)
				var got []Ball
				was := kept[side]
				if got, kept[side] = New(loops).NarrowSince(was, width, outside, 0.5); !slices.EqualFunc(got, want, func(a, b Ball) bool {
					sameLoop := g.LoopOfEdge(a.Edge) == g.LoopOfEdge(b.Edge)
					a.Edge, b.Edge = 0, 0 // of two that meet there either is told
					return sameLoop && a == b
				}) {
					t.Fatalf("%d balls with what was found before, %d without", len(got), len(want))
				}
				if len(want) == 0 {
					t.Fatal("nothing is narrow")
				}
				if n := g.recall(was, width, outside); was != nil && !n.all && n.old != nil {
					helped++
				}
			}
			l := loops[r.IntN(len(loops))]
			for range 3 {
				l[r.IntN(len(l))].X += int32(r.IntN(600) - 300)
			}
			if r.IntN(3) == 0 {
				loops = loops[1:]
			}
		}
		if helped < 5 {
			t.Fatalf("what was found helped %d times", helped)
		}
	}
}

// TestSpotsHangTogether compares spots with a search through all pairs, for balls as sparse as
// their reach and for hundreds within it.
func TestSpotsHangTogether(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for _, n := range []int{1, 2, 50, 400} {
		for _, side := range []float64{0.5, 8, 40} {
			balls := make([]Ball, n)
			for i := range balls {
				balls[i].Middle = geom.Vec{X: (r.Float64() - 0.5) * side, Y: (r.Float64() - 0.5) * side}
				balls[i].Along = float64(i)
			}
			sets := geom.NewSets(n)
			for i := range balls {
				for j := range i {
					if balls[i].Middle.Sub(balls[j].Middle).Len() < 1 {
						sets.Join(int32(i), int32(j))
					}
				}
			}
			seen := 0
			owner := map[int32]int{}
			for k, spot := range (&Gauge{}).Spots(balls, 1) {
				for _, b := range spot {
					seen++
					i := int32(b.Along)
					if of, met := owner[sets.Find(i)]; met && of != k || sets.Find(i) != sets.Find(int32(spot[0].Along)) {
						t.Fatalf("%d balls within %g: ball %d is in spot %d", n, side, i, k)
					}
					owner[sets.Find(i)] = k
				}
			}
			if seen != n {
				t.Errorf("%d of %d balls are in spots", seen, n)
			}
		}
	}
}
