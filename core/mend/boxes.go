package mend

import (
	"cmp"
	"math/bits"
	"slices"

	"bildhauer/core/geom"
)

// boxes finds which of many boxes overlap one, without looking at all: a complete binary tree over
// them in the order of their left sides.
type boxes struct {
	order []int      // leaf to number
	tree  []geom.Box // node n has 2n and 2n+1 below it
	first int        // node of the first leaf
}

func newBoxes(list []geom.Box) *boxes {
	b := &boxes{first: 1 << bits.Len(uint(max(len(list)-1, 0)))}
	b.tree = slices.Repeat([]geom.Box{geom.EmptyBox()}, 2*b.first)
	for i := range list {
		if !list[i].Empty() {
			b.order = append(b.order, i)
		}
	}
	slices.SortStableFunc(b.order, func(i, j int) int { return cmp.Compare(list[i].Min.X, list[j].Min.X) })
	for leaf, i := range b.order {
		b.tree[b.first+leaf] = list[i]
	}
	for n := b.first - 1; n > 0; n-- {
		b.tree[n] = b.tree[2*n].Union(b.tree[2*n+1])
	}
	return b
}

// below returns the numbers under k of the boxes that overlap one, in order.
func (b *boxes) below(k int, box geom.Box) []int {
	var out []int
	stack := []int{1}
	for len(stack) > 0 {
		n := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		switch {
		case b.tree[n].Empty() || !b.tree[n].Overlaps(box):
		case n < b.first:
			stack = append(stack, 2*n, 2*n+1)
		case b.order[n-b.first] < k:
			out = append(out, b.order[n-b.first])
		}
	}
	slices.Sort(out)
	return out
}
