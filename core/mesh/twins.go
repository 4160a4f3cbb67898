package mesh

import "slices"

// Twins returns, for each side of each triangle (3*triangle + corner, running from
// that corner to the next), the same side of the neighbour, or -1 where there is
// none or more than one. Corners are numbers below n.
func Twins(n int, tris [][3]int32) []int32 {
	// Sides by their lower corner, as a counting sort.
	start := make([]int32, n+1)
	for _, t := range tris {
		for i := range t {
			start[min(t[i], t[(i+1)%3])+1]++
		}
	}
	for i := 1; i < len(start); i++ {
		start[i] += start[i-1]
	}
	type half struct{ other, side int32 } // the other corner, negative where it is the begin
	sides := make([]half, 3*len(tris))
	fill := make([]int32, n)
	copy(fill, start)
	for k, t := range tris {
		for i := range t {
			a, b := t[i], t[(i+1)%3]
			h := half{b, int32(3*k + i)}
			if a > b {
				a, h.other = b, ^a
			}
			sides[fill[a]] = h
			fill[a]++
		}
	}
	out := make([]int32, 3*len(tris))
	for i := range out {
		out[i] = -1
	}
	for v := range n {
		list := sides[start[v]:start[v+1]]
		slices.SortFunc(list, func(x, y half) int { return int(max(x.other, ^x.other)) - int(max(y.other, ^y.other)) })
		for i := 0; i+1 < len(list); i++ {
			if list[i].other == ^list[i+1].other {
				a, b := list[i].side, list[i+1].side
				out[a], out[b] = b, a
				i++
			}
		}
	}
	return out
}
