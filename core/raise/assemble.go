package raise

import (
	"context"
	"errors"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// A solid is two heights over a partition of the plane, an upper and a lower one,
// and upright walls wherever they jump: on the outline from the lower to the upper
// one, between neighbours along what one has and the other has not, at the risers
// of a profile from step to step. Every point of the plane where something jumps is
// a column: the list of all heights that occur there. Walls use all of them that lie
// between their ends, so that what meets in a column meets in its vertices.
//
// The result is closed if the borders of upper and lower side are the same edges,
// and neighbours share theirs. It is a manifold if in no column more than three
// areas meet (plane.Partition sees to it): of three areas in a circle those that
// reach a height are always next to each other.

// errBorders says that upper and lower side have different borders.
var errBorders = errors.New("the sides of a solid do not fit together")

// assemble closes surfaces to a solid on a grid of step mm. Upper and lower
// surfaces cover the same areas; where an edge borders two of them, they are
// neighbours. crease is the angle in degrees from which corners of walls stay hard;
// walls are shaded if all surfaces are.
func assemble(ctx context.Context, step plane.Step, upper, lower []*Surface, crease float64) (*mesh.Mesh, error) {
	b := &builder{m: &mesh.Mesh{Step: float64(step)}, poll: progress.NewPoll(ctx)}
	tris, verts, rim := 0, 0, 0
	for _, s := range upper {
		tris, verts, rim = tris+len(s.Tris), verts+len(s.Z), rim+len(s.Rim)
		b.shaded, b.unrolled = s.Normal != nil, s.UV != nil
	}
	for _, s := range lower {
		tris, verts = tris+len(s.Tris), verts+len(s.Z)
	}
	b.room(tris+2*rim, verts, rim)
	for _, s := range upper {
		b.add(s, true)
	}
	for _, s := range lower {
		b.add(s, false)
	}
	if b.unlike {
		return nil, errBorders
	}
	if err := b.walls(); err != nil {
		return nil, err
	}
	if b.shaded {
		b.shadeWalls(crease)
	}
	if b.unrolled {
		b.unrollWalls()
	}
	b.m.Compact()
	return b.m, nil
}

// builder fills a mesh.
type builder struct {
	m        *mesh.Mesh
	poll     *progress.Poll
	shaded   bool
	unrolled bool
	columns  map[plane.Point]int32
	at       []plane.Point // of each column
	first    []int32       // of each column: an entry, +1
	entries  []entry
	edges    map[uint64]int32 // borders by their columns
	border   []borderEdge
	risers   []riser
	strips   []strip
	normals  normals
	uvs      uvs
	unlike   bool
	chains   [2][]entry // room for walls
}

// entry is a height of a column.
type entry struct {
	z, vertex int32
	next      int32
}

// borderEdge is an edge of the outline of an area, which lies on its left.
type borderEdge struct {
	p, q       int32    // columns
	top, under [2]int32 // heights at p and q
	part       int32
	closed     bool // the lower side is known
}

// strip is a wall over an edge.
type strip struct {
	p, q  int32 // columns; the wall looks to the right
	tris  [2]int32
	riser bool
}

// room makes room for triangles, vertices and the edges of the outline.
func (b *builder) room(tris, verts, rim int) {
	b.m.Tris = make([][3]int32, 0, tris)
	b.m.Group = make([]mesh.Group, 0, tris)
	b.m.Verts = make([][3]int32, 0, verts)
	b.columns, b.edges = make(map[plane.Point]int32, rim), make(map[uint64]int32, rim)
	b.at, b.first, b.entries = make([]plane.Point, 0, rim), make([]int32, 0, rim), make([]entry, 0, 2*rim)
	b.border, b.strips = make([]borderEdge, 0, rim), make([]strip, 0, rim)
	if b.shaded {
		b.m.Corner = make([][3]int32, 0, tris)
		b.m.Normals = append(make([][3]float32, 0, verts+rim), [3]float32{0, 0, 1}, [3]float32{0, 0, -1})
		b.normals = normals{m: b.m, first: make([]int32, 0, verts), next: append(make([]int32, 0, verts+rim), 0, 0)}
	}
	if b.unrolled {
		b.m.Wrap = make([][3]int32, 0, tris)
		b.m.UV = make([][2]float32, 0, verts+rim)
		b.uvs = uvs{m: b.m, first: make([]int32, 0, verts), next: make([]int32, 0, verts+rim)}
	}
}

// vertex adds a vertex.
func (b *builder) vertex(p plane.Point, z int32) int32 {
	b.poll.Tick()
	b.m.Verts = append(b.m.Verts, [3]int32{p.X, p.Y, z})
	if b.shaded {
		b.normals.first = append(b.normals.first, 0)
	}
	return int32(len(b.m.Verts)) - 1
}

// column returns the number of the column at a point.
func (b *builder) column(p plane.Point) int32 {
	b.poll.Tick()
	c, ok := b.columns[p]
	if !ok {
		c = int32(len(b.at))
		b.columns[p] = c
		b.at, b.first = append(b.at, p), append(b.first, 0)
	}
	return c
}

// enter returns the vertex of a column at a height.
func (b *builder) enter(column, z int32) int32 {
	e := b.first[column]
	for e != 0 && b.entries[e-1].z != z {
		e = b.entries[e-1].next
	}
	if e == 0 {
		v := b.vertex(b.at[column], z)
		b.entries = append(b.entries, entry{z, v, b.first[column]})
		b.first[column] = int32(len(b.entries))
		return v
	}
	return b.entries[e-1].vertex
}

func edgeKey(p, q int32) uint64 { return uint64(uint32(p))<<32 | uint64(uint32(q)) }

// jump is a riser within a surface: the side of a triangle that is higher than its
// neighbour.
type jump struct{ side, low int32 }

// add takes a surface in: its triangles, its border, its risers.
func (b *builder) add(s *Surface, upper bool) {
	tris := s.Tris
	if s.At != nil {
		tris = make([][3]int32, len(s.Tris))
		for k, t := range s.Tris {
			tris[k] = [3]int32{s.At[t[0]], s.At[t[1]], s.At[t[2]]}
		}
	}
	col := make([]int32, len(s.Pts)) // +1
	mark := func(p int32) {
		if col[p] == 0 {
			col[p] = b.column(s.Pts[p]) + 1
		}
	}
	var jumps []jump
	var twins []int32
	if s.Rim == nil {
		twins = mesh.Twins(len(s.Pts), tris)
	}
	for _, e := range s.Rim {
		mark(e[0])
		mark(e[1])
		b.outline(col[e[0]]-1, col[e[1]]-1, [2]int32{s.Z[e[0]], s.Z[e[1]]}, s.partOf(0), upper)
	}
	for side, o := range twins {
		k, i := side/3, side%3
		p, q := tris[k][i], tris[k][(i+1)%3]
		switch {
		case o < 0:
			mark(p)
			mark(q)
			z := [2]int32{s.Z[s.Tris[k][i]], s.Z[s.Tris[k][(i+1)%3]]}
			b.outline(col[p]-1, col[q]-1, z, s.partOf(k), upper)
		case s.At != nil && int32(side) < o:
			u, v := s.Tris[k][i], s.Tris[k][(i+1)%3]
			if n := o / 3; u == s.Tris[n][(o%3+1)%3] && v == s.Tris[n][o%3] {
				continue
			}
			mark(p)
			mark(q)
			jumps = append(jumps, jump{int32(side), o})
		}
	}
	num := make([]int32, len(s.Z))
	for v := range s.Z {
		p := s.point(int32(v))
		if c := col[p]; c > 0 {
			num[v] = b.enter(c-1, s.Z[v])
		} else {
			num[v] = b.vertex(s.Pts[p], s.Z[v])
		}
	}
	for k, t := range s.Tris {
		b.face(s, k, [3]int32{num[t[0]], num[t[1]], num[t[2]]}, upper)
	}
	for _, j := range jumps {
		b.risers = append(b.risers, riserOf(s, j, col, tris, upper))
	}
}

// face adds a triangle of a surface.
func (b *builder) face(s *Surface, k int, t [3]int32, upper bool) {
	b.poll.Tick()
	if !upper {
		t[1], t[2] = t[2], t[1]
	}
	b.m.Tris = append(b.m.Tris, t)
	b.m.Group = append(b.m.Group, s.Group[k])
	b.part(s.partOf(k))
	if !b.shaded {
		return
	}
	if b.unrolled {
		uv := s.UV[k]
		if !upper {
			uv[1], uv[2] = uv[2], uv[1]
		}
		b.m.Wrap = append(b.m.Wrap, [3]int32{b.uvs.put(t[0], uv[0]), b.uvs.put(t[1], uv[1]), b.uvs.put(t[2], uv[2])})
	}
	var c [3]int32
	n := s.Normal[k]
	if !upper {
		n[1], n[2] = n[2], n[1]
	}
	for i, v := range t {
		if !upper {
			n[i][2] = -n[i][2]
		}
		switch n[i] {
		case [3]float32{0, 0, 1}:
			c[i] = 0
		case [3]float32{0, 0, -1}:
			c[i] = 1
		default:
			c[i] = b.normals.put(v, n[i])
		}
	}
	b.m.Corner = append(b.m.Corner, c)
}

// part notes whose face the triangle is that was added last.
func (b *builder) part(n int32) {
	if n != 0 && b.m.Part == nil {
		b.m.Part = make([]int32, len(b.m.Tris)-1, cap(b.m.Tris))
	}
	if b.m.Part != nil {
		b.m.Part = append(b.m.Part, n)
	}
}

// outline notes an edge of a border.
func (b *builder) outline(p, q int32, z [2]int32, part int32, upper bool) {
	b.poll.Tick()
	key := edgeKey(p, q)
	k, ok := b.edges[key]
	switch {
	case upper && !ok:
		b.edges[key] = int32(len(b.border))
		b.border = append(b.border, borderEdge{p: p, q: q, top: z, part: part})
	case !upper && ok && !b.border[k].closed:
		b.border[k].under, b.border[k].closed = z, true
	default:
		b.unlike = true
	}
}

// riser is a wall between two triangles of a surface that have their common edge at
// different heights: from column p to q, facing right.
type riser struct {
	p, q   int32
	lo, hi [2]int32
	group  mesh.Group
	part   int32
}

func riserOf(s *Surface, j jump, col []int32, tris [][3]int32, upper bool) riser {
	k, i := j.side/3, j.side%3
	n, o := j.low/3, j.low%3
	p, q := col[tris[k][i]]-1, col[tris[k][(i+1)%3]]-1
	mine := [2]int32{s.Z[s.Tris[k][i]], s.Z[s.Tris[k][(i+1)%3]]}
	other := [2]int32{s.Z[s.Tris[n][(o+1)%3]], s.Z[s.Tris[n][o]]}
	r := riser{
		p: p, q: q, group: mesh.Bevel, part: s.partOf(int(k)),
		lo: [2]int32{min(mine[0], other[0]), min(mine[1], other[1])},
		hi: [2]int32{max(mine[0], other[0]), max(mine[1], other[1])},
	}
	higher := mine[0] > other[0] || mine[1] > other[1]
	if !higher {
		r.part = s.partOf(int(n))
	}
	if !upper {
		r.group = mesh.BackBevel
	}
	if higher != upper { // the material is on the other side
		r.p, r.q = q, p
		r.lo, r.hi = [2]int32{r.lo[1], r.lo[0]}, [2]int32{r.hi[1], r.hi[0]}
	}
	return r
}

// walls closes the borders and the risers. All heights of all columns are known by
// then.
func (b *builder) walls() error {
	for _, r := range b.risers {
		b.strip(r.p, r.q, r.lo, r.hi, r.group, r.part, true)
	}
	for i := range b.border {
		e := &b.border[i]
		if !e.closed {
			return errBorders
		}
		k, ok := b.edges[edgeKey(e.q, e.p)]
		if !ok {
			b.strip(e.p, e.q, e.under, e.top, mesh.Side, e.part, false)
			continue
		}
		if int(k) > i {
			b.between(e, &b.border[k])
		}
	}
	return nil
}

// between adds the walls over an edge that borders two areas: along what one has
// and the other has not.
func (b *builder) between(e, f *borderEdge) {
	top, under := [2]int32{f.top[1], f.top[0]}, [2]int32{f.under[1], f.under[0]} // of f, as e runs
	apart := true
	for i := range 2 {
		apart = apart && max(e.under[i], under[i]) >= min(e.top[i], top[i])
	}
	if apart {
		b.strip(e.p, e.q, e.under, e.top, mesh.Side, e.part, false)
		b.strip(f.p, f.q, f.under, f.top, mesh.Side, f.part, false)
		return
	}
	b.step(e, f, e.top, top, true)
	b.step(e, f, e.under, under, false)
}

// step adds the wall between the heights that two neighbours have on one side; one
// of the two is the higher one at both ends.
func (b *builder) step(e, f *borderEdge, mine, other [2]int32, upper bool) {
	if mine == other {
		return
	}
	lo := [2]int32{min(mine[0], other[0]), min(mine[1], other[1])}
	hi := [2]int32{max(mine[0], other[0]), max(mine[1], other[1])}
	higher := mine[0] > other[0] || mine[1] > other[1]
	if higher == upper {
		b.strip(e.p, e.q, lo, hi, mesh.Side, e.part, false)
		return
	}
	b.strip(e.q, e.p, [2]int32{lo[1], lo[0]}, [2]int32{hi[1], hi[0]}, mesh.Side, f.part, false)
}

// chain returns the entries of a column from one height to another.
func (b *builder) chain(room []entry, column, lo, hi int32) []entry {
	room = room[:0]
	for e := b.first[column]; e != 0; e = b.entries[e-1].next {
		if x := b.entries[e-1]; x.z >= lo && x.z <= hi {
			i := len(room)
			room = append(room, x)
			for ; i > 0 && room[i-1].z > x.z; i-- {
				room[i] = room[i-1]
			}
			room[i] = x
		}
	}
	return room
}

// strip adds the wall over the edge from column p to q, whose right side it faces,
// from heights lo to hi at each.
func (b *builder) strip(p, q int32, lo, hi [2]int32, g mesh.Group, part int32, riser bool) {
	b.poll.Tick()
	b.chains[0] = b.chain(b.chains[0], p, lo[0], hi[0])
	b.chains[1] = b.chain(b.chains[1], q, lo[1], hi[1])
	from, to := b.chains[0], b.chains[1]
	st := strip{p: p, q: q, riser: riser}
	st.tris[0] = int32(len(b.m.Tris))
	i, j := 0, 0
	for i+1 < len(from) || j+1 < len(to) {
		onQ := i+1 >= len(from)
		if !onQ && j+1 < len(to) {
			onQ = int64(to[j+1].z)-int64(to[j].z) <= int64(from[i+1].z)-int64(from[i].z)
			if len(from) > 2 || len(to) > 2 { // keep level with each other
				onQ = to[j+1].z <= from[i+1].z
			}
		}
		t := [3]int32{from[i].vertex, to[j].vertex, 0}
		if onQ {
			j++
			t[2] = to[j].vertex
		} else {
			i++
			t[2] = from[i].vertex
		}
		b.m.Tris = append(b.m.Tris, t)
		b.m.Group = append(b.m.Group, g)
		b.part(part)
		if b.shaded {
			b.m.Corner = append(b.m.Corner, [3]int32{})
		}
		if b.unrolled {
			b.m.Wrap = append(b.m.Wrap, [3]int32{})
		}
	}
	st.tris[1] = int32(len(b.m.Tris))
	b.strips = append(b.strips, st)
}
