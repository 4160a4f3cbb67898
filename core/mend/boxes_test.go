package mend

import (
	"math/rand/v2"
	"slices"
	"testing"

	"bildhauer/core/geom"
)

// TestBoxes compares the tree with a look at all boxes.
func TestBoxes(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	for _, n := range []int{0, 1, 2, 3, 64, 65, 300} {
		list := make([]geom.Box, n)
		for i := range list {
			at := geom.Vec{X: r.Float64() * 20, Y: r.Float64() * 20}
			list[i] = geom.Box{Min: at, Max: at.Add(geom.Vec{X: r.Float64() * 4, Y: r.Float64() * 4})}
			if i%9 == 4 {
				list[i] = geom.EmptyBox()
			}
		}
		tree := newBoxes(list)
		for k := range list {
			if list[k].Empty() {
				continue
			}
			var want []int
			for j := range k {
				if !list[j].Empty() && list[j].Overlaps(list[k]) {
					want = append(want, j)
				}
			}
			if got := tree.below(k, list[k]); !slices.Equal(got, want) {
				t.Fatalf("%d boxes: below %d lie %v, want %v", n, k, got, want)
			}
		}
	}
}
