package raise

import (
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
)

// Crease is the usual angle, in degrees, from which corners look hard.
const Crease = 30

// dir is a direction in the plane, pointing away from the outline.
type dir struct{ x, y float32 }

// directions returns, for each corner of each front triangle, the direction
// in which the distance from the outline grows there, averaged over the
// triangles around the point whose own directions differ by less than the
// crease angle. Plateau triangles get zero.
func (p *Plan) directions(cosCrease float64) [][3]dir {
	own := make([]dir, len(p.Tris))
	angle := make([][3]float32, len(p.Tris))
	start := make([]int32, len(p.Pts)+1)
	plateau := uint8(len(p.Ts) - 1)
	for i, t := range p.Tris {
		if p.Ring[i] != plateau {
			for _, v := range t {
				start[v+1]++
			}
		}
	}
	parallel.Light(len(p.Tris), func(i int) {
		if p.Ring[i] == plateau {
			return
		}
		var x, y, d [3]float64
		for j, v := range p.Tris[i] {
			x[j], y[j], d[j] = float64(p.Pts[v].X), float64(p.Pts[v].Y), float64(p.Dist[v])
		}
		det := (x[1]-x[0])*(y[2]-y[0]) - (y[1]-y[0])*(x[2]-x[0])
		gx := ((d[1]-d[0])*(y[2]-y[0]) - (d[2]-d[0])*(y[1]-y[0])) / det
		gy := ((d[2]-d[0])*(x[1]-x[0]) - (d[1]-d[0])*(x[2]-x[0])) / det
		if l := math.Hypot(gx, gy); l > 0.05 { // else a shelf, all but level
			own[i] = dir{float32(gx / l), float32(gy / l)}
		}
		for j := range 3 {
			k, l := (j+1)%3, (j+2)%3
			ux, uy, vx, vy := x[k]-x[j], y[k]-y[j], x[l]-x[j], y[l]-y[j]
			angle[i][j] = float32(math.Atan2(ux*vy-uy*vx, ux*vx+uy*vy))
		}
	})
	for i := 1; i < len(start); i++ {
		start[i] += start[i-1]
	}
	at := make([]int32, start[len(start)-1]) // triangle*4 + corner
	fill := append([]int32(nil), start...)
	for i, t := range p.Tris {
		if p.Ring[i] == plateau {
			continue
		}
		for j, v := range t {
			at[fill[v]] = int32(i)<<2 | int32(j)
			fill[v]++
		}
	}
	out := make([][3]dir, len(p.Tris))
	limit := float32(cosCrease)
	parallel.Light(len(p.Tris), func(i int) {
		g := own[i]
		if p.Ring[i] == plateau || g == (dir{}) {
			return
		}
		for j, v := range p.Tris[i] {
			var sx, sy float32
			for _, c := range at[start[v]:start[v+1]] {
				h := own[c>>2]
				if h.x*g.x+h.y*g.y >= limit {
					w := angle[c>>2][c&3]
					sx, sy = sx+h.x*w, sy+h.y*w
				}
			}
			if l := float32(math.Hypot(float64(sx), float64(sy))); l > 0 {
				out[i][j] = dir{sx / l, sy / l}
			}
		}
	})
	return out
}

// Shade adds the normals for shading to a solid that p.Solid made with the
// same spec: level on the flat sides, along the bevel from the slope of its
// profile and the direction of the outline, on walls from the outline.
// Outline corners sharper than crease degrees stay hard. b must be the bevel
// of the plan.
func (p *Plan) Shade(m *mesh.Mesh, spec Spec, b Bevel, crease float64) {
	cosCrease := math.Cos(crease * math.Pi / 180)
	p.dirsMu.Lock()
	defer p.dirsMu.Unlock()
	if p.dirs == nil || p.dirsAt != cosCrease {
		p.dirs, p.dirsAt = p.directions(cosCrease), cosCrease
	}
	steep := 0.0
	if p.Width > 0 {
		steep = float64(p.fitHeight(spec, spec.depthUnits(m.Step), m.Step)) / p.Width
	}
	m.Normals = append(m.Normals[:0], [3]float32{0, 0, 1}, [3]float32{0, 0, -1})
	m.Corner = make([][3]int32, len(m.Tris))
	table := &normals{m: m, first: make([]int32, len(m.Verts)), next: []int32{0, 0}}
	slope := func(v int32, g dir, up float64) [3]float32 {
		s := steep * b.slope(float64(p.Dist[v])/p.Width)
		x, y := -s*float64(g.x), -s*float64(g.y)
		l := math.Sqrt(x*x + y*y + 1)
		return [3]float32{float32(x / l), float32(y / l), float32(up / l)}
	}
	front := len(p.Tris)
	for i := range p.Tris {
		if m.Group[i] == mesh.Front {
			continue // entry 0
		}
		for j := range 3 {
			v := m.Tris[i][j]
			m.Corner[i][j] = table.put(v, slope(v, p.dirs[i][j], 1))
		}
	}
	rimAt := len(m.Tris) - 2*len(p.Rim)
	for i := front; i < rimAt; i++ {
		if m.Group[i] == mesh.Back {
			m.Corner[i] = [3]int32{1, 1, 1}
			continue
		}
		k := i - front // mirrored: corners 0, 2, 1
		for j, c := range [3]int{0, 2, 1} {
			m.Corner[i][j] = table.put(m.Tris[i][j], slope(p.Tris[k][c], p.dirs[k][c], -1))
		}
	}
	p.shadeWalls(table, rimAt, cosCrease)
}

// normals is the table of a mesh's normals while it is filled: those met so far
// at each vertex, as lists through next. Entries 0 and 1, up and down, are no
// vertex's own.
type normals struct {
	m           *mesh.Mesh
	first, next []int32
}

// sameNormal is the cosine of a hundredth of a radian, 1 - 0.01^2/2: normals
// nearer than that share an entry, and shading shows no difference.
const sameNormal = 0.99995

// put returns the entry of a normal at a vertex.
func (t *normals) put(v int32, n [3]float32) int32 {
	for k := t.first[v]; k != 0; k = t.next[k] {
		o := t.m.Normals[k]
		if o[0]*n[0]+o[1]*n[1]+o[2]*n[2] > sameNormal {
			return k
		}
	}
	k := int32(len(t.m.Normals))
	t.m.Normals = append(t.m.Normals, n)
	t.next = append(t.next, t.first[v])
	t.first[v] = k
	return k
}

// shadeWalls gives the two triangles of each rim edge, from rimAt on, level
// normals, which blend into those of the next edge where the corner is no
// crease.
func (p *Plan) shadeWalls(table *normals, rimAt int, cosCrease float64) {
	m := table.m
	out := make([]dir, len(p.Rim))
	leave := make([]int32, len(p.Pts)) // rim edge that leaves a point, +1
	enter := make([]int32, len(p.Pts))
	for i, e := range p.Rim {
		a, c := p.Pts[e[0]], p.Pts[e[1]]
		dx, dy := float64(c.X-a.X), float64(c.Y-a.Y)
		l := math.Hypot(dx, dy)
		out[i] = dir{float32(dy / l), float32(-dx / l)}
		leave[e[0]], enter[e[1]] = int32(i)+1, int32(i)+1
	}
	blend := func(i, o int32) [3]float32 {
		g, h := out[i], dir{}
		if o > 0 {
			h = out[o-1]
		}
		if float64(g.x*h.x+g.y*h.y) < cosCrease {
			return [3]float32{g.x, g.y, 0}
		}
		x, y := g.x+h.x, g.y+h.y
		l := float32(math.Hypot(float64(x), float64(y)))
		return [3]float32{x / l, y / l, 0}
	}
	for i, e := range p.Rim {
		na, nb := blend(int32(i), enter[e[0]]), blend(int32(i), leave[e[1]])
		k := rimAt + 2*i
		t, u := m.Tris[k], m.Tris[k+1] // back a, back b, b and back a, b, a
		m.Corner[k] = [3]int32{table.put(t[0], na), table.put(t[1], nb), table.put(t[2], nb)}
		m.Corner[k+1] = [3]int32{table.put(u[0], na), table.put(u[1], nb), table.put(u[2], na)}
	}
}
