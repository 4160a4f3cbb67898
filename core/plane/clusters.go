package plane

import "bildhauer/core/geom"

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
	sorted := make([]ibox, len(order))
	for i, k := range order {
		sorted[i] = box[uint32(k)]
	}
	leaves, tree := boxTree(sorted)
	sets := geom.NewSets(len(loops))
	budget := 60*len(loops) + 2000
	all := geom.Pairs(leaves,
		func() bool { budget--; return budget >= 0 },
		func(a, b int32) bool { return tree[a].apart(&tree[b]) },
		func(i, j int32) bool {
			if int(i) < len(order) && int(j) < len(order) {
				sets.Join(int32(uint32(order[i])), int32(uint32(order[j])))
			}
			return true
		})
	if !all {
		return make([]int32, len(loops)), 1
	}
	for i := range set { // the lowest loop of a set comes first, and numbers it
		if first := sets.Find(int32(i)); first == int32(i) {
			set[i] = int32(n)
			n++
		} else {
			set[i] = set[first]
		}
	}
	return set, n
}
