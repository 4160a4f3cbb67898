package gauge

import (
	"math/rand/v2"
	"testing"

	"bildhauer/core/geom"
)

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
