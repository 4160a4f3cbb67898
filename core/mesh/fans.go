package mesh

import (
	"cmp"
	"context"
	"slices"

	"bildhauer/core/progress"
)

// countFans counts the vertices at which the triangles are no single closed fan: two shells, or two ends
// of one, that touch in a point. Where edges are at fault that is told instead. As many sides of triangles
// are looked at in one go.
func (r *Report) countFans(ctx context.Context, m *Mesh, atOnce int32) {
	poll := progress.NewPoll(ctx)
	start := make([]int32, len(m.Verts)+1)
	for _, t := range m.Tris {
		for _, v := range t {
			start[v+1]++
		}
	}
	for i := 1; i < len(start); i++ {
		start[i] += start[i-1]
	}
	var sides []fanSide
	for from := 0; from < len(m.Verts); {
		to := from + 1
		for to < len(m.Verts) && start[to+1]-start[from] <= atOnce {
			to++
		}
		sides = m.fanSides(poll, sides, start, from, to)
		r.countFansAt(poll, sides, start, from, to)
		from = to
	}
}

// fanSide is a side of a triangle, seen from its third corner.
type fanSide struct{ from, to int32 }

// fansAtOnce is how many of them are looked at in one go: of millions of triangles, all at once would
// take more memory than the mesh does.
const fansAtOnce = 8 << 20

// fanSides returns the sides seen from vertices from up to to, those of v from start[v]-start[from].
func (m *Mesh) fanSides(poll *progress.Poll, room []fanSide, start []int32, from, to int) []fanSide {
	room = slices.Grow(room[:0], int(start[to]-start[from]))[:start[to]-start[from]]
	fill := slices.Clone(start[from:to])
	for _, t := range m.Tris {
		poll.Tick()
		for i, v := range t {
			if k := int(v) - from; k >= 0 && int(v) < to {
				room[fill[k]-start[from]] = fanSide{t[(i+1)%3], t[(i+2)%3]}
				fill[k]++
			}
		}
	}
	return room
}

// countFansAt counts those of vertices from up to to.
func (r *Report) countFansAt(poll *progress.Poll, sides []fanSide, start []int32, from, to int) {
	for v := from; v < to; v++ {
		poll.Tick()
		list := sides[start[v]-start[from] : start[v+1]-start[from]]
		if len(list) == 0 {
			continue
		}
		slices.SortFunc(list, func(a, b fanSide) int { return cmp.Compare(a.from, b.from) })
		n, at := 0, list[0]
		for n <= len(list) {
			n++
			k, ok := slices.BinarySearchFunc(list, at.to, func(s fanSide, from int32) int { return cmp.Compare(s.from, from) })
			if !ok || k == 0 {
				break
			}
			at = list[k]
		}
		if n != len(list) {
			r.Pinched++
		}
	}
}

// countInverted counts shells that are inside out: a hollow one lies in one solid.
func (r *Report) countInverted(ctx context.Context, m *Mesh, shells [][]int32) {
	poll := progress.NewPoll(ctx)
	type shell struct {
		tris   []int32
		lo, hi [3]int32
		hollow bool
	}
	list := make([]shell, len(shells))
	anyHollow := false
	for i, tris := range shells {
		first := m.Verts[m.Tris[tris[0]][0]] // sums stay small from there
		s := shell{tris: tris, lo: first, hi: first}
		volume := 0.0
		for _, k := range tris {
			t := m.Tris[k]
			a, b, c := m.Verts[t[0]], m.Verts[t[1]], m.Verts[t[2]]
			n := cross(sub(b, a), sub(c, a))
			for d, x := range sub(a, first) {
				volume += float64(x) * float64(n[d])
			}
			for _, p := range [][3]int32{a, b, c} {
				for d := range p {
					s.lo[d], s.hi[d] = min(s.lo[d], p[d]), max(s.hi[d], p[d])
				}
			}
		}
		s.hollow = volume < 0
		anyHollow = anyHollow || s.hollow
		list[i] = s
	}
	if !anyHollow {
		return
	}
	for i := range list {
		s := &list[i]
		if !s.hollow {
			continue
		}
		around, at := 0, m.inside(s.tris)
		for j := range list {
			poll.Tick()
			o := &list[j]
			inside := i != j
			for d := range 3 {
				inside = inside && o.lo[d] <= s.lo[d] && o.hi[d] >= s.hi[d]
			}
			if inside {
				around += m.windings(o.tris, at)
			}
		}
		if around != 1 {
			r.Inverted++
		}
	}
}

// inside returns a place on a triangle that is not upright, times three.
func (m *Mesh) inside(tris []int32) (p [3]int64) {
	for _, k := range tris {
		t := m.Tris[k]
		a, b, c := m.Verts[t[0]], m.Verts[t[1]], m.Verts[t[2]]
		for d := range p {
			p[d] = int64(a[d]) + int64(b[d]) + int64(c[d])
		}
		if cross(sub(b, a), sub(c, a))[2] != 0 {
			break
		}
	}
	return p
}

// windings returns how often triangles go around a place, which is given times three: by those above it.
func (m *Mesh) windings(tris []int32, p [3]int64) (n int) {
	for _, k := range tris {
		t := m.Tris[k]
		var q [3][3]int64
		for i, v := range t {
			for d, x := range m.Verts[v] {
				q[i][d] = 3*int64(x) - p[d]
			}
		}
		up := 0
		var weight [3]float64
		for i := range q {
			// An edge that passes through the place belongs to the side on which its end is higher.
			a, b := q[(i+1)%3], q[(i+2)%3]
			s := a[0]*b[1] - a[1]*b[0]
			weight[i] = float64(s)
			switch {
			case s > 0 || s == 0 && (a[1] < b[1] || a[1] == b[1] && a[0] > b[0]):
				up++
			default:
				up--
			}
		}
		if up != 3 && up != -3 {
			continue
		}
		sum := weight[0] + weight[1] + weight[2]
		if sum == 0 {
			continue
		}
		if z := (weight[0]*float64(q[0][2]) + weight[1]*float64(q[1][2]) + weight[2]*float64(q[2][2])) / sum; z > 0 {
			n += up / 3
		}
	}
	return n
}
