package plane

import (
	"math/bits"

	"bildhauer/core/geom"
)

// clusters gives each loop the number, from 0, of the set it belongs to: loops
// whose boxes meet, directly or through others, are of one set. A loop winds about
// nothing outside its box, so that sets have no part in each other's faces. One set
// comes back where there are too many pairs to look at.
func clusters(loops []Loop) (set []int32, n int) {
	set = make([]int32, len(loops))
	mid := make([]Point, len(loops))
	box := make([]ibox, len(loops))
	for i, l := range loops {
		box[i] = boxOf(l)
		lo, hi := box[i].lo, box[i].hi
		mid[i] = Point{lo.X + (hi.X-lo.X)/2, lo.Y + (hi.Y-lo.Y)/2}
	}
	order := hilbertOrder(mid, 0)
	leaves := 1 << bits.Len(uint(max(1, len(loops))-1))
	tree := make([]ibox, 2*leaves)
	for i := range tree {
		tree[i] = ibox{Point{1 << 30, 1 << 30}, Point{-1 << 30, -1 << 30}}
	}
	for i, k := range order {
		tree[leaves+i] = box[uint32(k)]
	}
	for i := leaves - 1; i > 0; i-- {
		tree[i] = tree[2*i]
		tree[i].join(tree[2*i+1])
	}
	parent := make([]int32, len(loops))
	for i := range parent {
		parent[i] = int32(i)
	}
	root := func(i int32) int32 {
		for parent[i] != i {
			parent[i] = parent[parent[i]]
			i = parent[i]
		}
		return i
	}
	budget := 60*len(loops) + 2000
	all := geom.Pairs(int32(leaves),
		func() bool { budget--; return budget >= 0 },
		func(a, b int32) bool { return tree[a].apart(&tree[b]) },
		func(i, j int32) bool {
			if int(i) < len(order) && int(j) < len(order) {
				// The lower number stays the root: sets come in the order of the loops.
				a, b := root(int32(uint32(order[i]))), root(int32(uint32(order[j])))
				parent[max(a, b)] = min(a, b)
			}
			return true
		})
	if !all {
		return make([]int32, len(loops)), 1
	}
	for i := range set {
		if r := root(int32(i)); r == int32(i) {
			set[i] = int32(n)
			n++
		} else {
			set[i] = set[r]
		}
	}
	return set, n
}
