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
	p := newProof(m)
	if p.upLow <= p.downHigh {
		return false
	}
	loops, ok := p.loops(up)
	if !ok || !plane.Nested(loops) {
		return false
	}
	// The loops of what faces down are the same, turned round: see join.
	if _, ok := p.loops(down); !ok {
		return false
	}
	rims, ok := p.join()
	return ok && p.wallsStand(rims)
}

// The sides of an upright solid.
const (
	up = iota
	down
	wall
)

// edge is a directed edge.
type edge struct{ a, b int32 }

// proof is what upright looks at.
type proof struct {
	m        *Mesh
	side     []uint8          // of each triangle
	rims     [2]map[edge]bool // the edges that bound up and down
	upLow    int32            // the lowest place that faces up
	downHigh int32            // the highest place that faces down
}

// newProof sorts the triangles by their sides. An edge meets its reverse when
// both its triangles belong to one side, and both go; the rest bound it.
func newProof(m *Mesh) *proof {
	p := &proof{m: m, side: make([]uint8, len(m.Tris)), upLow: 1 << 30, downHigh: -1 << 30}
	p.rims = [2]map[edge]bool{{}, {}}
	for i, t := range m.Tris {
		a, b, c := m.Verts[t[0]], m.Verts[t[1]], m.Verts[t[2]]
		n := cross(sub(b, a), sub(c, a))
		switch {
		case n[2] > 0:
			p.side[i] = up
			p.upLow = min(p.upLow, a[2], b[2], c[2])
		case n[2] < 0:
			p.side[i] = down
			p.downHigh = max(p.downHigh, a[2], b[2], c[2])
		default:
			p.side[i] = wall
			continue
		}
		rim := p.rims[p.side[i]]
		for k := range 3 {
			e := edge{t[k], t[(k+1)%3]}
			if back := (edge{e.b, e.a}); rim[back] {
				delete(rim, back)
			} else {
				rim[e] = true
			}
		}
	}
	return p
}

// loops follows the edges that bound a side; ok is false when they meet.
func (p *proof) loops(side int) (loops []plane.Loop, ok bool) {
	next := make([]int32, len(p.m.Verts))
	for i := range next {
		next[i] = -1
	}
	for e := range p.rims[side] {
		if next[e.a] >= 0 {
			return nil, false
		}
		next[e.a] = e.b
	}
	seen := make([]bool, len(p.m.Verts))
	for v, to := range next {
		if to < 0 || seen[v] {
			continue
		}
		var l plane.Loop
		for u := int32(v); !seen[u]; u = next[u] {
			if next[u] < 0 {
				return nil, false
			}
			seen[u] = true
			l = append(l, plane.Point{X: p.m.Verts[u][0], Y: p.m.Verts[u][1]})
		}
		loops = append(loops, l)
	}
	return loops, true
}

// place is a vertex seen from above.
type place struct{ x, y int32 }

// rim is a place on the boundary: its vertex above, the one below, and the
// place that follows.
type rim struct {
	top, bottom int32
	next        place
}

func (p *proof) at(v int32) place { return place{p.m.Verts[v][0], p.m.Verts[v][1]} }

// join puts the boundaries of both sides together; ok is false where they are
// not the same, seen from above.
func (p *proof) join() (rims map[place]rim, ok bool) {
	if len(p.rims[up]) != len(p.rims[down]) {
		return nil, false
	}
	rims = make(map[place]rim, len(p.rims[up]))
	for e := range p.rims[up] {
		rims[p.at(e.a)] = rim{e.a, -1, p.at(e.b)}
	}
	for e := range p.rims[down] { // runs the other way
		r, ok := rims[p.at(e.b)]
		if !ok || r.next != p.at(e.a) {
			return nil, false
		}
		r.bottom = e.b
		rims[p.at(e.b)] = r
	}
	return rims, true
}

// maxWalls bounds the vertical triangles on one edge that are compared with
// each other; the engine makes one or two for each facet of a bevelled rim.
const maxWalls = 8

// wallsStand reports whether every vertical triangle stands on an edge of the
// rims, between them, and meets no other there.
func (p *proof) wallsStand(rims map[place]rim) bool {
	walls := make(map[place][]int32, len(rims))
	for i, t := range p.m.Tris {
		if p.side[i] != wall {
			continue
		}
		from, to := p.at(t[0]), p.at(t[1])
		if from == to {
			to = p.at(t[2])
		}
		if rims[from].next != to || from == to {
			from, to = to, from
		}
		r, ok := rims[from]
		s := rims[to]
		if !ok || r.next != to || r.bottom < 0 || s.bottom < 0 {
			return false
		}
		for _, v := range t {
			switch p.at(v) {
			case from:
				ok = p.between(v, r)
			case to:
				ok = p.between(v, s)
			default:
				ok = false
			}
			if !ok {
				return false
			}
		}
		for _, o := range walls[from] {
			if trianglesCross(p.m, t, p.m.Tris[o]) {
				return false
			}
		}
		if walls[from] = append(walls[from], int32(i)); len(walls[from]) > maxWalls {
			return false
		}
	}
	return true
}

// between reports whether a vertex lies between those of its rim, or is one.
func (p *proof) between(v int32, r rim) bool {
	z := p.m.Verts[v][2]
	return (v == r.top || z < p.m.Verts[r.top][2]) && (v == r.bottom || z > p.m.Verts[r.bottom][2])
}
