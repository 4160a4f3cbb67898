package geom

// Pairs walks two copies of a complete binary tree of boxes against each other
// and finds the pairs of leaves whose boxes meet. Node 1 is the root, node i
// has the children 2i and 2i+1, and the leaves are the nodes from leaves, a
// power of two, to 2*leaves-1.
//
//  1. Each pair of leaves is met once, and each leaf with itself.
//  2. Below two nodes that lie apart nothing is looked at.
//  3. The walk ends early, with false, when enter or leaf says so.
//
// enter is called for every pair of nodes that is looked at, apart tells
// whether the boxes of two different nodes share no point, leaf takes a pair of
// leaves (the nodes' numbers less leaves).
func Pairs(leaves int32, enter func() bool, apart func(a, b int32) bool, leaf func(i, j int32) bool) bool {
	stack := make([][2]int32, 1, 64)
	stack[0] = [2]int32{1, 1}
	for len(stack) > 0 {
		a, b := stack[len(stack)-1][0], stack[len(stack)-1][1]
		stack = stack[:len(stack)-1]
		if !enter() {
			return false
		}
		if a != b && apart(a, b) {
			continue
		}
		// Both are on one level, as pairs begin with the root or with siblings.
		switch {
		case a >= leaves:
			if !leaf(a-leaves, b-leaves) {
				return false
			}
		case a == b:
			stack = append(stack, [2]int32{2 * a, 2 * a}, [2]int32{2*a + 1, 2*a + 1}, [2]int32{2 * a, 2*a + 1})
		default:
			stack = append(stack, [2]int32{2 * a, 2 * b}, [2]int32{2 * a, 2*b + 1})
			stack = append(stack, [2]int32{2*a + 1, 2 * b}, [2]int32{2*a + 1, 2*b + 1})
		}
	}
	return true
}
