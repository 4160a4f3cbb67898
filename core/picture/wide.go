package picture

// four is a node of a tree that rays go through: the boxes of up to four children side by side, so that one instruction
// looks at all of them (Dammertz and others, Shallow bounding volume hierarchies for fast SIMD ray tracing of
// incoherent rays, 2008). It fills two lines of the cache.
type four struct {
	box   [3][2][4]float32 // by axis: the lowest of each child, the highest of each
	child [4]int32         // as those of node
	_     [4]int32
}

// none is a leaf without triangles.
var none = leaf(0, 0)

// foursOver builds the nodes of a tree over boxes, with so many in a leaf at most, and returns in which order the leaves
// have them. It leaves no more ways open than there is room for.
func foursOver(boxes []bounds, most int) ([]four, []int32) {
	nodes, order := nodesOver(boxes, most, false)
	out := fours(nodes)
	if needs(out) > openMost {
		nodes, order = nodesOver(boxes, most, true)
		out = fours(nodes)
	}
	return out, order
}

// fours puts binary nodes together: of a node's children the one with the largest surface gives place to its own, as
// long as there is room.
func fours(nodes []node) []four {
	if len(nodes) == 0 {
		return nil
	}
	type child struct {
		box bounds
		at  int32
	}
	children := func(n *node) (out [2]child) {
		for side := range out {
			b := &n.box[side]
			out[side] = child{bounds{b[0][0], b[0][1], b[0][2], b[1][0], b[1][1], b[1][2]}, n.child[side]}
		}
		return out
	}
	out := make([]four, 1, len(nodes)/2+1)
	from := []int32{0} // of each: the binary node
	for k := 0; k < len(out); k++ {
		two := children(&nodes[from[k]])
		list := append(make([]child, 0, 4), two[:]...)
		for len(list) < 4 {
			most := -1
			for i := range list {
				if list[i].at >= 0 && (most < 0 || list[i].box.half() > list[most].box.half()) {
					most = i
				}
			}
			if most < 0 {
				break
			}
			two = children(&nodes[list[most].at])
			list[most] = two[0]
			list = append(list, two[1])
		}
		for i := range 4 {
			c := child{noBounds, none}
			if i < len(list) {
				c = list[i]
			}
			if c.at >= 0 {
				from = append(from, c.at)
				c.at = int32(len(out))
				out = append(out, four{})
			}
			out[k].child[i] = c.at
			for a := range 3 {
				out[k].box[a][0][i], out[k].box[a][1][i] = c.box[a], c.box[a+3]
			}
		}
	}
	return out
}

// openMost is how many ways a walk may leave open.
const openMost = 256

// needs returns how many ways a walk leaves open at most: of each node on the way to the deepest all children but one.
func needs(nodes []four) int {
	need := make([]int, len(nodes))
	most := 0
	for k := range nodes {
		n := need[k] - 1
		for _, c := range nodes[k].child {
			if c != none {
				n++
			}
		}
		for _, c := range nodes[k].child {
			if c >= 0 {
				need[c] = n
			}
		}
		most = max(most, n+1)
	}
	return most
}

// ways are those that a walk has left open: children of nodes, and where the ray enters them, the next last. One serves
// many walks after each other.
type ways struct {
	child [openMost]int32
	enter [openMost]float32
}

// descendPlain goes on through nodes until it comes to a leaf, which it returns, and how many ways are open then; at is
// where it goes on, or negative for the last of the open ways. It returns 0 when there is nothing left.
func descendPlain(nodes []four, w *walker, open *ways, top int, at int32) (leaf int32, left int) {
	for {
		if at < 0 {
			for {
				if top--; top < 0 {
					return 0, 0
				}
				if open.enter[top] <= w.far {
					break
				}
			}
			if at = open.child[top]; at < 0 {
				return at, top
			}
		}
		n := &nodes[at]
		base := top
		for i, c := range n.child {
			in, out := w.near, w.far
			for a := range 3 {
				near := w.neg[a] & 1
				// What is no number lies in the plane of a side: it changes nothing.
				if d := (n.box[a][near][i] - w.from[a]) * w.inv[a]; d > in {
					in = d
				}
				if d := (n.box[a][near^1][i] - w.from[a]) * w.inv[a]; d < out {
					out = d
				}
			}
			if in > out*boxSlack {
				continue
			}
			k := top
			for ; k > base && open.enter[k-1] < in; k-- {
				open.child[k], open.enter[k] = open.child[k-1], open.enter[k-1]
			}
			open.child[k], open.enter[k] = c, in
			top++
		}
		at = -1
	}
}
