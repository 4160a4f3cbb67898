package plane

import "bildhauer/core/geom"

// Crossing is a place where two edges of loops run through each other.
type Crossing struct {
	At     Point
	Loop   [2]int // of both edges
	Edge   [2]int // the points of the loops that the edges begin at
	Turned bool   // the second edge crosses the first from its left to its right
}

// Crossings returns where edges of the loops properly cross, at most so many.
// What only touches is not among them.
func Crossings(loops []Loop, most int) []Crossing {
	var edges loopEdges
	var of [][2]int
	for k, l := range loops {
		first := int32(len(edges))
		for i, p := range l {
			edges = append(edges, loopEdge{p, l[(i+1)%len(l)], first + int32((i+1)%len(l))})
			of = append(of, [2]int{k, i})
		}
	}
	if len(edges) == 0 {
		return nil
	}
	leaves, boxes := edges.tree()
	var out []Crossing
	one := func(i, j int) {
		f, g := &edges[i], &edges[j]
		p, q := Orient(f.a, f.b, g.a), Orient(f.a, f.b, g.b)
		r, s := Orient(g.a, g.b, f.a), Orient(g.a, g.b, f.b)
		if (p > 0 && q < 0 || p < 0 && q > 0) && (r > 0 && s < 0 || r < 0 && s > 0) {
			out = append(out, Crossing{
				At:   crossing(f.a, f.b, g.a, g.b),
				Loop: [2]int{of[i][0], of[j][0]}, Edge: [2]int{of[i][1], of[j][1]}, Turned: p > 0,
			})
		}
	}
	budget := 400*len(edges) + 20_000
	spend := func() bool {
		budget--
		return budget >= 0 && len(out) < most
	}
	apart := func(a, b int32) bool { return boxes[a].apart(&boxes[b]) }
	geom.Pairs(leaves, spend, apart, func(a, b int32) bool {
		for i := int(a) * fanOut; i < min((int(a)+1)*fanOut, len(edges)); i++ {
			j := int(b) * fanOut
			if a == b {
				j = i + 1
			}
			for ; j < min((int(b)+1)*fanOut, len(edges)); j++ {
				one(i, j)
			}
		}
		return true
	})
	return out
}
