package mesh

import "bildhauer/core/plane"

// upright proves, where it can, that a closed mesh crosses itself nowhere: if
//
//   - the triangles that face up, seen from above, are bounded by loops that
//     touch nowhere and wind once (then each point is covered by as many of
//     them as the loops wind about it, at most one), and those that face down
//     likewise,
//   - all that faces up lies above all that faces down, and
//   - every vertical triangle stands on an edge of both boundaries, between
//     them, touching them in their own vertices only,
//
// then no two triangles meet but where they share a corner or an edge. It takes
// n log n time, also for meshes of long slivers on which boxes are no help.
// false means only that there is no such proof.
func upright(m *Mesh) bool {
	facing := make([]int8, len(m.Tris))
	upLow, downHigh := int32(1<<30), int32(-1<<30)
	next := [2][]int32{make([]int32, len(m.Verts)), make([]int32, len(m.Verts))}
	for s := range next {
		for i := range next[s] {
			next[s][i] = -1
		}
	}
	// The directed edges that bound each side: an edge meets its reverse when
	// both its triangles belong to the side, and both go.
	type edge struct{ a, b int32 }
	rimEdges := [2]map[edge]bool{{}, {}}
	for i, t := range m.Tris {
		a, b, c := m.Verts[t[0]], m.Verts[t[1]], m.Verts[t[2]]
		n := cross(sub(b, a), sub(c, a))
		side := 0
		switch {
		case n[2] > 0:
			facing[i] = 1
			upLow = min(upLow, a[2], b[2], c[2])
		case n[2] < 0:
			facing[i] = -1
			side = 1
			downHigh = max(downHigh, a[2], b[2], c[2])
		default:
			continue
		}
		for k := range 3 {
			e := edge{t[k], t[(k+1)%3]}
			if back := (edge{e.b, e.a}); rimEdges[side][back] {
				delete(rimEdges[side], back)
			} else {
				rimEdges[side][e] = true
			}
		}
	}
	if upLow <= downHigh {
		return false
	}
	for s := range rimEdges {
		var loops []plane.Loop
		for e := range rimEdges[s] {
			if next[s][e.a] >= 0 {
				return false
			}
			next[s][e.a] = e.b
		}
		seen := make([]bool, len(m.Verts))
		for v, to := range next[s] {
			if to < 0 || seen[v] {
				continue
			}
			var l plane.Loop
			for u := int32(v); !seen[u]; u = next[s][u] {
				if next[s][u] < 0 {
					return false
				}
				seen[u] = true
				l = append(l, plane.Point{X: m.Verts[u][0], Y: m.Verts[u][1]})
			}
			loops = append(loops, l)
		}
		// The other side's loops are the same, turned round: see the rims below.
		if s == 0 && !plane.Nested(loops) {
			return false
		}
	}
	if len(rimEdges[0]) != len(rimEdges[1]) {
		return false
	}
	// The rims by their place: top and bottom vertex, and the place that
	// follows.
	type place struct{ x, y int32 }
	type rim struct {
		top, bottom int32
		next        place
	}
	rims := make(map[place]rim, len(rimEdges[0]))
	at := func(v int32) place { return place{m.Verts[v][0], m.Verts[v][1]} }
	for e := range rimEdges[0] {
		rims[at(e.a)] = rim{e.a, -1, at(e.b)}
	}
	for e := range rimEdges[1] { // runs the other way
		r, ok := rims[at(e.b)]
		if !ok || r.next != at(e.a) {
			return false
		}
		r.bottom = e.b
		rims[at(e.b)] = r
	}
	walls := make(map[place][]int32, len(rims))
	for i, t := range m.Tris {
		if facing[i] != 0 {
			continue
		}
		p, q := at(t[0]), at(t[1])
		if p == q {
			q = at(t[2])
		}
		if rims[p].next != q || p == q {
			p, q = q, p
		}
		r, ok := rims[p]
		s := rims[q]
		if !ok || r.next != q || r.bottom < 0 || s.bottom < 0 {
			return false
		}
		for _, v := range t {
			e := r
			if at(v) == q {
				e = s
			} else if at(v) != p {
				return false
			}
			z := m.Verts[v][2]
			if v != e.top && z >= m.Verts[e.top][2] || v != e.bottom && z <= m.Verts[e.bottom][2] {
				return false
			}
		}
		for _, o := range walls[p] {
			if trianglesCross(m, t, m.Tris[o]) {
				return false
			}
		}
		if walls[p] = append(walls[p], int32(i)); len(walls[p]) > 8 {
			return false
		}
	}
	return true
}
