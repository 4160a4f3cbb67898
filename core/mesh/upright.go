package mesh

import (
	"cmp"
	"context"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

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
func upright(ctx context.Context, m *Mesh) bool {
	stop := func() bool { return ctx.Err() != nil }
	p := &proof{m: m, poll: progress.NewPoll(ctx), stop: stop, side: make([]uint8, len(m.Tris))}
	if !p.sort() || !p.findRims() {
		return false
	}
	loops, ok := p.loops(up)
	if !ok || !plane.Nested(loops, p.stop) {
		return false
	}
	// The loops of what faces down are the same, turned round: see join.
	if _, ok := p.loops(down); !ok {
		return false
	}
	return p.join() && p.wallsStand()
}

// The sides of an upright solid.
const (
	up = iota
	down
	wall
)

// edge is a directed edge.
type edge struct{ a, b int32 }

// proof is what upright looks at. It holds no maps: a text of 10,000 letters
// has millions of edges.
type proof struct {
	m    *Mesh
	poll *progress.Poll
	stop func() bool // the same
	side []uint8     // of each triangle
	rims [2][]edge   // the edges that bound up and down

	// The places of the rims, seen from above, in the order of their keys: the
	// vertex above, the one below, and the place that follows.
	keys        []uint64
	top, bottom []int32
	next        []int32
	place       []int32 // of each vertex, -1 for those not on a rim
}

// sort tells the sides of the triangles, and whether all that faces up lies
// above all that faces down.
func (p *proof) sort() bool {
	upLow, downHigh := int32(1<<30), int32(-1<<30)
	for i, t := range p.m.Tris {
		p.poll.Tick()
		a, b, c := p.m.Verts[t[0]], p.m.Verts[t[1]], p.m.Verts[t[2]]
		n := cross(sub(b, a), sub(c, a))
		switch {
		case n[2] > 0:
			p.side[i] = up
			upLow = min(upLow, a[2], b[2], c[2])
		case n[2] < 0:
			p.side[i] = down
			downHigh = max(downHigh, a[2], b[2], c[2])
		default:
			p.side[i] = wall
		}
	}
	return upLow > downHigh
}

// findRims finds the edges that bound the sides: those of which only one
// triangle belongs to the side. It reports false where more than two do.
func (p *proof) findRims() bool {
	// Half-edges by their lower vertex: four times the other vertex, plus two on
	// the lower side, plus one where it runs downwards.
	if len(p.m.Verts) >= 1<<30 {
		return false
	}
	start := make([]int32, len(p.m.Verts)+1)
	for i, t := range p.m.Tris {
		for k := range t {
			if p.side[i] != wall {
				start[min(t[k], t[(k+1)%3])+1]++
			}
		}
	}
	for i := 1; i < len(start); i++ {
		start[i] += start[i-1]
	}
	ends := make([]uint32, start[len(p.m.Verts)])
	fill := slices.Clone(start)
	for i, t := range p.m.Tris {
		p.poll.Tick()
		if p.side[i] == wall {
			continue
		}
		for k := range t {
			a, b := t[k], t[(k+1)%3]
			e := uint32(max(a, b))<<2 | uint32(p.side[i])<<1
			if a > b {
				e |= 1
			}
			v := min(a, b)
			ends[fill[v]] = e
			fill[v]++
		}
	}
	for v := range p.m.Verts {
		p.poll.Tick()
		es := ends[start[v]:start[v+1]]
		slices.Sort(es)
		for i := 0; i < len(es); {
			j := i + 1
			for j < len(es) && es[j]>>1 == es[i]>>1 {
				j++
			}
			switch {
			case j-i > 2 || j-i == 2 && es[i] == es[i+1]:
				return false
			case j-i == 1:
				e := edge{int32(v), int32(es[i] >> 2)}
				if es[i]&1 == 1 {
					e = edge{e.b, e.a}
				}
				side := es[i] >> 1 & 1
				p.rims[side] = append(p.rims[side], e)
			}
			i = j
		}
	}
	return true
}

// loops follows the edges that bound a side; ok is false when they meet.
func (p *proof) loops(side int) (loops []plane.Loop, ok bool) {
	next := make([]int32, len(p.m.Verts))
	for i := range next {
		next[i] = -1
	}
	for _, e := range p.rims[side] {
		if next[e.a] >= 0 {
			return nil, false
		}
		next[e.a] = e.b
	}
	seen := make([]bool, len(p.m.Verts))
	for v, to := range next {
		p.poll.Tick()
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

// key returns where a vertex lies, seen from above.
func (p *proof) key(v int32) uint64 {
	const sign = 1 << 31
	x, y := uint32(p.m.Verts[v][0])^sign, uint32(p.m.Verts[v][1])^sign
	return uint64(x)<<32 | uint64(y)
}

func (p *proof) compare(v, w int32) int {
	p.poll.Tick()
	return cmp.Compare(p.key(v), p.key(w))
}

// join puts the boundaries of both sides together; it reports false where they
// are not the same, seen from above.
func (p *proof) join() bool {
	above, below := p.rims[up], p.rims[down]
	if len(above) != len(below) {
		return false
	}
	slices.SortFunc(above, func(e, f edge) int { return p.compare(e.a, f.a) })
	// Those of the lower side run the other way.
	slices.SortFunc(below, func(e, f edge) int { return p.compare(e.b, f.b) })
	n := len(above)
	p.keys, p.next = make([]uint64, n), make([]int32, n)
	p.top, p.bottom = make([]int32, n), make([]int32, n)
	p.place = make([]int32, len(p.m.Verts))
	for v := range p.place {
		p.place[v] = -1
	}
	for i := range above {
		k := p.key(above[i].a)
		if k != p.key(below[i].b) || i > 0 && k == p.keys[i-1] {
			return false
		}
		p.keys[i], p.top[i], p.bottom[i] = k, above[i].a, below[i].b
		p.place[above[i].a], p.place[below[i].b] = int32(i), int32(i)
	}
	for i := range above {
		p.next[i] = p.place[above[i].b]
		if p.next[i] < 0 || p.next[i] != p.place[below[i].a] {
			return false
		}
	}
	return true
}

// at returns the place of a vertex, -1 where it lies on no rim.
func (p *proof) at(v int32) int32 {
	if i := p.place[v]; i >= 0 {
		return i
	}
	if i, ok := slices.BinarySearch(p.keys, p.key(v)); ok {
		return int32(i)
	}
	return -1
}

// maxWalls bounds the vertical triangles on one edge that are compared with
// each other; the engine makes two.
const maxWalls = 8

// wallsStand reports whether every vertical triangle stands on an edge of the
// rims, between them, and meets no other there.
func (p *proof) wallsStand() bool {
	walls := make([][maxWalls]int32, len(p.keys))
	count := make([]uint8, len(p.keys))
	for i, t := range p.m.Tris {
		p.poll.Tick()
		if p.side[i] != wall {
			continue
		}
		from, ok := p.foot(t)
		if !ok {
			return false
		}
		for _, o := range walls[from][:count[from]] {
			if trianglesCross(p.m, t, p.m.Tris[o]) {
				return false
			}
		}
		if count[from] == maxWalls {
			return false
		}
		walls[from][count[from]] = int32(i)
		count[from]++
	}
	return true
}

// foot returns the place at which the rim's edge below a vertical triangle
// begins; ok is false where it stands on none.
func (p *proof) foot(t [3]int32) (from int32, ok bool) {
	from, to := p.at(t[0]), p.at(t[1])
	if from == to {
		to = p.at(t[2])
	}
	if from < 0 || to < 0 || from == to {
		return 0, false
	}
	if p.next[from] != to {
		from, to = to, from
	}
	if p.next[from] != to {
		return 0, false
	}
	for _, v := range t {
		if at := p.at(v); at != from && at != to || !p.between(v, at) {
			return 0, false
		}
	}
	return from, true
}

// between reports whether a vertex lies between those of its place, or is one.
func (p *proof) between(v, at int32) bool {
	z, top, bottom := p.m.Verts[v][2], p.top[at], p.bottom[at]
	return (v == top || z < p.m.Verts[top][2]) && (v == bottom || z > p.m.Verts[bottom][2])
}
