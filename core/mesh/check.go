package mesh

import (
	"cmp"
	"context"
	"math"
	"math/bits"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/parallel"
	"bildhauer/core/progress"
)

// Report is what Check found. A sound solid has no boundary, crowded or
// misoriented edge, no triangle without area, no crossing, nothing that touches in a point, no
// shell inside out, and positive volume.
type Report struct {
	Vertices, Triangles int
	Boundary            int     // edges with one triangle
	Crowded             int     // edges with more than two triangles
	Misoriented         int     // edges that both triangles run along the same way
	ZeroArea            int     // triangles without area
	Pinched             int     // vertices at which the surface touches itself; not looked for where Open
	Inverted            int     // shells that are inside out
	Crossing            int     // pairs of triangles that cross, see Crossings; -1 if not looked for
	Shells              int     // connected pieces of the surface
	Open                bool    // some side has no cap on purpose: then boundary edges are no fault
	VolumeMM3           float64 // enclosed volume
	AreaMM2             float64 // surface
}

// Watertight reports whether the surface is closed, oriented and free of
// degenerate triangles.
func (r Report) Watertight() bool {
	return r.Triangles > 0 && r.Boundary == 0 && r.Crowded == 0 && r.Misoriented == 0 && r.ZeroArea == 0 &&
		r.Pinched == 0 && r.Inverted == 0 && r.VolumeMM3 > 0
}

// Nothing reports whether there is no surface at all.
func (r Report) Nothing() bool { return r.Triangles == 0 }

// Sound reports whether the solid is watertight, or open on purpose and otherwise as it
// should be, and crosses itself nowhere, as far as crossings were looked for.
func (r Report) Sound() bool {
	open := r.Open && r.Triangles > 0 && r.Crowded == 0 && r.Misoriented == 0 && r.ZeroArea == 0
	return (r.Watertight() || open) && r.Crossing <= 0
}

// Check examines the topology and measures of m. Crossings are counted only
// on request, since they take longer than building the mesh.
func Check(m *Mesh, crossings bool) Report { return CheckWithin(context.Background(), m, crossings) }

// CheckWithin is Check for those who may lose interest: it panics with progress.Quit when ctx is
// done.
func CheckWithin(ctx context.Context, m *Mesh, crossings bool) Report {
	r := Report{Vertices: len(m.Verts), Triangles: len(m.Tris), Crossing: -1, Open: m.Open}
	proven := false
	looks := []func(){ // each sets fields of its own
		func() { r.measure(ctx, m) },
		func() { r.countEdges(ctx, m) },
		func() {
			shells := r.countShells(ctx, m)
			if !m.Open {
				r.countInverted(ctx, m, shells)
			}
		},
	}
	if !m.Open {
		looks = append(looks, func() { r.countFans(ctx, m, fansAtOnce) })
	}
	if crossings {
		looks = append(looks, func() { proven = upright(ctx, m) })
	}
	_ = parallel.Each(len(looks), func(i int) error {
		looks[i]()
		return nil
	})
	if crossings {
		r.Crossing = 0
		if !r.Watertight() || !proven {
			r.Crossing = crossingsWithin(ctx, m, 100)
		}
	}
	return r
}

// measure adds up area and volume (by the divergence theorem, Mirtich 1996).
func (r *Report) measure(ctx context.Context, m *Mesh) {
	poll := progress.NewPoll(ctx)
	var volume, area float64
	for _, t := range m.Tris {
		poll.Tick()
		a, b, c := m.Verts[t[0]], m.Verts[t[1]], m.Verts[t[2]]
		n := cross(sub(b, a), sub(c, a))
		if n == ([3]int64{}) {
			r.ZeroArea++
		}
		nx, ny, nz := float64(n[0]), float64(n[1]), float64(n[2])
		area += math.Sqrt(nx*nx + ny*ny + nz*nz)
		volume += float64(a[0])*nx + float64(a[1])*ny + float64(a[2])*nz
	}
	r.AreaMM2 = area / 2 * m.Step * m.Step
	r.VolumeMM3 = volume / 6 * m.Step * m.Step * m.Step
}

// countEdges looks at every edge: two triangles must use it, one in each
// direction.
func (r *Report) countEdges(ctx context.Context, m *Mesh) {
	poll := progress.NewPoll(ctx)
	// Half-edges by their lower vertex: for each, twice the other vertex, plus
	// one where it runs downwards.
	start := make([]int32, len(m.Verts)+1)
	for _, t := range m.Tris {
		for i := range t {
			start[min(t[i], t[(i+1)%3])+1]++
		}
	}
	for i := 1; i < len(start); i++ {
		start[i] += start[i-1]
	}
	ends := make([]uint32, 3*len(m.Tris))
	fill := slices.Clone(start)
	for _, t := range m.Tris {
		poll.Tick()
		for i := range t {
			a, b := t[i], t[(i+1)%3]
			k, e := min(a, b), uint32(max(a, b))<<1
			if a > b {
				e |= 1
			}
			ends[fill[k]] = e
			fill[k]++
		}
	}
	for v := range m.Verts {
		poll.Tick()
		es := ends[start[v]:start[v+1]]
		slices.Sort(es)
		for i := 0; i < len(es); {
			j, upwards := i, 0
			for ; j < len(es) && es[j]>>1 == es[i]>>1; j++ {
				if es[j]&1 == 0 {
					upwards++
				}
			}
			switch n := j - i; {
			case n == 1:
				r.Boundary++
			case n > 2:
				r.Crowded++
			case upwards != 1:
				r.Misoriented++
			}
			i = j
		}
	}
}

// countShells counts the sets of triangles that hang together by vertices, and returns them.
func (r *Report) countShells(ctx context.Context, m *Mesh) (shells [][]int32) {
	poll := progress.NewPoll(ctx)
	sets := geom.NewSets(len(m.Verts))
	for _, t := range m.Tris {
		poll.Tick()
		sets.Join(t[0], t[1])
		sets.Join(t[1], t[2])
	}
	at := make([]int32, len(m.Verts)) // of the vertex that stands for a set: its number, from 1
	for k, t := range m.Tris {
		v := sets.Find(t[0])
		if at[v] == 0 {
			shells = append(shells, nil)
			at[v] = int32(len(shells))
		}
		shells[at[v]-1] = append(shells[at[v]-1], int32(k))
	}
	r.Shells = len(shells)
	return shells
}

// Crossings counts the pairs of triangles that meet anywhere but in a shared
// corner or edge, up to limit. Every test is exact.
func Crossings(m *Mesh, limit int) int { return crossingsWithin(context.Background(), m, limit) }

func crossingsWithin(ctx context.Context, m *Mesh, limit int) int {
	poll := progress.NewPoll(ctx)
	n := len(m.Tris)
	if n == 0 {
		return 0
	}
	// Triangles in the order of a space-filling curve, under a tree of boxes.
	order := make([]int32, n)
	keys := make([]uint64, n)
	for i, t := range m.Tris {
		poll.Tick()
		var key uint64
		for a := range 3 {
			c := (int64(m.Verts[t[0]][a]) + int64(m.Verts[t[1]][a]) + int64(m.Verts[t[2]][a])) / 3
			key |= spread(uint64(c+1<<25)>>5&(1<<21-1)) << a
		}
		keys[i], order[i] = key, int32(i)
	}
	slices.SortFunc(order, func(a, b int32) int {
		poll.Tick()
		return cmp.Compare(keys[a], keys[b])
	})
	tree := newBoxTree(m, order, poll)
	found := 0
	tree.pairs(poll, func(i, j int32) bool {
		if trianglesCross(m, m.Tris[order[i]], m.Tris[order[j]]) {
			found++
		}
		return found < limit
	})
	return found
}

// spread puts two zero bits between the lower 21 bits of x.
func spread(x uint64) uint64 {
	x = (x | x<<32) & 0x1f00000000ffff
	x = (x | x<<16) & 0x1f0000ff0000ff
	x = (x | x<<8) & 0x100f00f00f00f00f
	x = (x | x<<4) & 0x10c30c30c30c30c3
	x = (x | x<<2) & 0x1249249249249249
	return x
}

type box3 struct{ lo, hi [3]int32 }

func (b *box3) overlaps(c *box3) bool {
	return b.lo[0] <= c.hi[0] && c.lo[0] <= b.hi[0] && b.lo[1] <= c.hi[1] && c.lo[1] <= b.hi[1] &&
		b.lo[2] <= c.hi[2] &&
		c.lo[2] <= b.hi[2]
}

// boxTree is a complete binary tree over n leaves, padded to a power of two,
// for geom.Pairs.
type boxTree struct {
	boxes  []box3
	leaves int
	n      int
}

func newBoxTree(m *Mesh, order []int32, poll *progress.Poll) *boxTree {
	leaves := 1 << bits.Len(uint(len(order)-1))
	t := &boxTree{make([]box3, 2*leaves), leaves, len(order)}
	empty := box3{[3]int32{1 << 30, 1 << 30, 1 << 30}, [3]int32{-1 << 30, -1 << 30, -1 << 30}}
	for i := range leaves {
		poll.Tick()
		b := empty
		if i < len(order) {
			for _, v := range m.Tris[order[i]] {
				for a, c := range m.Verts[v] {
					b.lo[a], b.hi[a] = min(b.lo[a], c), max(b.hi[a], c)
				}
			}
		}
		t.boxes[leaves+i] = b
	}
	for i := leaves - 1; i > 0; i-- {
		poll.Tick()
		b, c := t.boxes[2*i], t.boxes[2*i+1]
		for a := range 3 {
			b.lo[a], b.hi[a] = min(b.lo[a], c.lo[a]), max(b.hi[a], c.hi[a])
		}
		t.boxes[i] = b
	}
	return t
}

// pairs calls f for each pair of leaves whose boxes overlap until it says no.
func (t *boxTree) pairs(poll *progress.Poll, f func(i, j int32) bool) {
	always := func() bool {
		poll.Tick()
		return true
	}
	apart := func(a, b int32) bool { return !t.boxes[a].overlaps(&t.boxes[b]) }
	geom.Pairs(int32(t.leaves), always, apart, func(i, j int32) bool { return i == j || f(i, j) })
}

// trianglesCross tells whether two triangles meet outside of what they share.
func trianglesCross(m *Mesh, s, t [3]int32) bool {
	shared := 0
	for i := range 3 {
		for j := range 3 {
			if s[i] == t[j] {
				shared++
			}
		}
	}
	var p, q [3][3]int32
	for i := range 3 {
		p[i], q[i] = m.Verts[s[i]], m.Verts[t[i]]
	}
	flat, apart := sides(p, q, s, t)
	if apart {
		return false
	}
	if flat {
		return overlapFlat(p, q)
	}
	if _, apart = sides(q, p, t, s); apart {
		return false
	}
	switch shared {
	case 0:
		for i := range 3 {
			if segmentMeets(p[i], p[(i+1)%3], q) || segmentMeets(q[i], q[(i+1)%3], p) {
				return true
			}
		}
	case 1: // only the edges opposite the shared corner can reach the other
		for i := range 3 {
			for j := range 3 {
				if s[i] == t[j] {
					return segmentMeets(p[(i+1)%3], p[(i+2)%3], q) || segmentMeets(q[(j+1)%3], q[(j+2)%3], p)
				}
			}
		}
	}
	return false // two planes that share an edge meet nowhere else
}

// sides tells where triangle q lies of the plane of p: in it, or, but for the corners that
// they share, on one side of it, so that they meet nowhere else.
func sides(p, q [3][3]int32, s, t [3]int32) (flat, apart bool) {
	left, right, on := 0, 0, 0
	for i := range 3 {
		if t[i] == s[0] || t[i] == s[1] || t[i] == s[2] {
			continue
		}
		switch orient3(p[0], p[1], p[2], q[i]) {
		case 1:
			left++
		case -1:
			right++
		default:
			on++
		}
	}
	return left+right == 0, on == 0 && (left == 0) != (right == 0)
}

// segmentMeets tells whether segment a-b touches triangle t, unless both lie
// in one plane.
func segmentMeets(a, b [3]int32, t [3][3]int32) bool {
	da, db := orient3(t[0], t[1], t[2], a), orient3(t[0], t[1], t[2], b)
	if da == db {
		return false
	}
	x, y, z := orient3(a, b, t[0], t[1]), orient3(a, b, t[1], t[2]), orient3(a, b, t[2], t[0])
	return x >= 0 && y >= 0 && z >= 0 || x <= 0 && y <= 0 && z <= 0
}

// overlapFlat tells whether two triangles of one plane share inner points:
// they do unless an edge of one has the other on its outer side.
func overlapFlat(p, q [3][3]int32) bool {
	n := cross(sub(p[1], p[0]), sub(p[2], p[0]))
	drop := 0
	for a := 1; a < 3; a++ {
		if absInt(n[a]) > absInt(n[drop]) {
			drop = a
		}
	}
	u, v := (drop+1)%3, (drop+2)%3
	side := func(a, b, c [3]int32) int64 {
		return (int64(b[u])-int64(a[u]))*(int64(c[v])-int64(a[v])) - (int64(b[v])-int64(a[v]))*(int64(c[u])-int64(a[u]))
	}
	apart := func(p, q [3][3]int32) bool {
		for i := range 3 {
			a, b := p[i], p[(i+1)%3]
			in := side(a, b, p[(i+2)%3])
			out := true
			for _, c := range q {
				s := side(a, b, c)
				out = out && (in > 0 && s <= 0 || in < 0 && s >= 0)
			}
			if out {
				return true
			}
		}
		return false
	}
	return !apart(p, q) && !apart(q, p)
}

func absInt(x int64) int64 {
	if x < 0 {
		return -x
	}
	return x
}
