package geom

import (
	"math/rand/v2"
	"testing"
)

// TestHull holds what a hull is, on random points: it turns left everywhere, its corners are
// among the points, and none lies outside.
func TestHull(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 2))
	for range 300 {
		var points []Vec
		for range 3 + rnd.IntN(40) {
			points = append(points, Vec{float64(rnd.IntN(12)), float64(rnd.IntN(12))})
		}
		hull := Hull(points)
		known := map[Vec]bool{}
		for _, p := range points {
			known[p] = true
		}
		for i, a := range hull {
			b, c := hull[(i+1)%len(hull)], hull[(i+2)%len(hull)]
			if !known[a] || len(hull) > 2 && b.Sub(a).Cross(c.Sub(b)) <= 0 {
				t.Fatalf("corner %v of %v", b, hull)
			}
			for _, p := range points {
				if len(hull) > 2 && b.Sub(a).Cross(p.Sub(a)) < 0 {
					t.Fatalf("%v lies outside %v", p, hull)
				}
			}
		}
	}
	if h := Hull([]Vec{{1, 1}, {1, 1}}); len(h) != 1 {
		t.Errorf("one point: %v", h)
	}
}
