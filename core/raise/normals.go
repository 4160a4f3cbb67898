package raise

import (
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/progress"
)

// Crease is the usual angle, in degrees, from which corners look hard.
const Crease = 30

// dir is a direction in the plane, pointing away from the outline.
type dir struct{ x, y float32 }

// directions returns, for each corner of each front triangle, the direction
// in which the distance from the outline grows there, averaged over the
// triangles around the point whose own directions differ by less than the
// crease angle. Plateau triangles get zero.
func (p *Plan) directions(cosCrease float64, poll *progress.Poll) [][3]dir {
	own := make([]dir, len(p.Tris))
	angle := make([][3]float32, len(p.Tris))
	start := make([]int32, len(p.Pts)+1)
	plateau := Ring(len(p.Facets))
	for i, t := range p.Tris {
		if p.Ring[i] != plateau {
			for _, v := range t {
				start[v+1]++
			}
		}
	}
	parallel.Light(len(p.Tris), func(i int) {
		poll.At(i)
		if p.Ring[i] == plateau {
			return
		}
		var x, y [3]float64
		for j, v := range p.Tris[i] {
			x[j], y[j] = float64(p.Pts[v].X), float64(p.Pts[v].Y)
		}
		own[i], _ = p.gradient(p.Tris[i])
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
		poll.At(i)
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

// gradient returns the direction in which the distance from the rim grows over a triangle;
// ok is false on a shelf, all but level.
func (p *Plan) gradient(t [3]int32) (g dir, ok bool) {
	var x, y, d [3]float64
	for j, v := range t {
		x[j], y[j], d[j] = float64(p.Pts[v].X), float64(p.Pts[v].Y), float64(p.Dist[v])
	}
	det := (x[1]-x[0])*(y[2]-y[0]) - (y[1]-y[0])*(x[2]-x[0])
	gx := ((d[1]-d[0])*(y[2]-y[0]) - (d[2]-d[0])*(y[1]-y[0])) / det
	gy := ((d[2]-d[0])*(x[1]-x[0]) - (d[1]-d[0])*(x[2]-x[0])) / det
	l := math.Hypot(gx, gy)
	if l <= 0.05 {
		return dir{}, false
	}
	return dir{float32(gx / l), float32(gy / l)}, true
}

// shade returns the normals of all corners of the plan lifted as l says, as if it
// were a front: level on flat places, along the bevel from the slope of its profile
// and the direction of the outline. Outline corners sharper than the crease stay
// hard.
func (p *Plan) shade(l *lifting) [][3][3]float32 {
	p.dirsMu.Lock()
	defer p.dirsMu.Unlock()
	if cosCrease := math.Cos(l.crease * math.Pi / 180); p.dirs == nil || p.dirsAt != cosCrease {
		p.dirs, p.dirsAt = p.directions(cosCrease, l.poll), cosCrease
	}
	l.poll.Look()
	tangents := p.tangents(l)
	out := make([][3][3]float32, len(p.Tris))
	parallel.Light(len(p.Tris), func(i int) {
		l.poll.At(i)
		ring := p.Ring[i]
		if int(ring) >= len(p.Facets) {
			out[i] = [3][3]float32{{0, 0, 1}, {0, 0, 1}, {0, 0, 1}}
			return
		}
		at := &tangents[ring]
		for j, v := range p.Tris[i] {
			s := p.share(v, ring)
			dt, df := at[0][0]*(1-s)+at[1][0]*s, at[0][1]*(1-s)+at[1][1]*s
			g := p.dirs[i][j]
			x, y := -df*float64(g.x), -df*float64(g.y)
			if g == (dir{}) {
				dt = 1
			}
			if n := math.Sqrt(x*x + y*y + dt*dt); n > 0 {
				out[i][j] = [3]float32{float32(x / n), float32(y / n), float32(dt / n)}
			} else {
				out[i][j] = [3]float32{0, 0, 1}
			}
		}
	})
	return out
}

// tangents returns the directions of the profile at both ends of each facet, in
// grid units along and up, of length 1.
func (p *Plan) tangents(l *lifting) [][2][2]float64 {
	high := math.Abs(float64(l.high))
	out := make([][2][2]float64, len(p.Facets))
	for i, f := range p.Facets {
		ends := [2][2]float64{f.d0, f.d1}
		if l.heights != nil {
			d := [2]float64{f.t1 - f.t0, l.heights[i].to - l.heights[i].from}
			ends = [2][2]float64{d, d}
		}
		for k, d := range ends {
			dt, df := d[0]*float64(p.Width), d[1]*high
			n := math.Hypot(dt, df)
			if n == 0 {
				dt, n = 1, 1
			}
			out[i][k] = [2]float64{dt / n, df / n}
		}
	}
	return out
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

// shadeWalls gives walls level normals, which blend into those of the next wall
// where the corner is no crease.
func (b *builder) shadeWalls(crease float64) {
	limit := float32(math.Cos(crease * math.Pi / 180))
	out := make([]dir, len(b.strips))
	enter, leave := newLists(len(b.at), len(b.strips)), newLists(len(b.at), len(b.strips))
	for i, s := range b.strips {
		p, q := b.at[s.p], b.at[s.q]
		dx, dy := float64(q.X-p.X), float64(q.Y-p.Y)
		l := math.Hypot(dx, dy)
		out[i] = dir{float32(dy / l), float32(-dx / l)}
		leave.put(s.p, int32(i))
		enter.put(s.q, int32(i))
	}
	blend := func(i int32, at int32, others *lists) [3]float32 {
		g := out[i]
		best, cos := g, limit
		for k := others.first[at]; k != 0; k = others.next[k-1] {
			h := out[k-1]
			if c := g.x*h.x + g.y*h.y; c >= cos && b.strips[k-1].riser == b.strips[i].riser {
				best, cos = h, c
			}
		}
		x, y := g.x+best.x, g.y+best.y
		l := float32(math.Hypot(float64(x), float64(y)))
		return [3]float32{x / l, y / l, 0}
	}
	for i, s := range b.strips {
		at := [2][3]float32{blend(int32(i), s.p, enter), blend(int32(i), s.q, leave)}
		p := b.at[s.p]
		for k := s.tris[0]; k < s.tris[1]; k++ {
			for j, v := range b.m.Tris[k] {
				n := at[1]
				if x := b.m.Verts[v]; x[0] == p.X && x[1] == p.Y {
					n = at[0]
				}
				b.m.Corner[k][j] = b.normals.put(v, n)
			}
		}
	}
}

// lists is a list of numbers for each of some places.
type lists struct{ first, next []int32 }

func newLists(places, numbers int) *lists {
	return &lists{make([]int32, places), make([]int32, numbers)}
}

func (l *lists) put(at, n int32) {
	l.next[n] = l.first[at]
	l.first[at] = n + 1
}
