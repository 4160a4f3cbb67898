package raise

import (
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
)

// Texture coordinates are lengths in mm. Flat sides have those of the plane. Bevels are
// unrolled: along the outline by its length, across by the length of the profile from the
// rim. Walls are unrolled along their own runs. What is bent only one way keeps its
// measure that way.

// rimline is the outline of a plan as lengths: where the edges of its loops begin.
type rimline struct {
	index *plane.SegmentIndex
	start []float64 // of each edge, one loop after the other, grid units
	long  []float64 // of each edge
	whole []float64 // of the loop that each edge belongs to
	a, b  []plane.Point
}

// rimOf measures the rim of a plan.
func (p *Plan) rimline() *rimline {
	next := make(map[int32]int32, len(p.Rim))
	for _, e := range p.Rim {
		next[e[0]] = e[1]
	}
	r := &rimline{}
	var loops []plane.Loop
	seen := make(map[int32]bool, len(p.Rim))
	for _, e := range p.Rim {
		if seen[e[0]] {
			continue
		}
		var l plane.Loop
		for v := e[0]; !seen[v]; v = next[v] {
			seen[v] = true
			l = append(l, p.Pts[v])
		}
		first, at := len(r.start), 0.0
		for i, q := range l {
			to := l[(i+1)%len(l)]
			d := math.Hypot(float64(to.X-q.X), float64(to.Y-q.Y))
			r.start, r.long = append(r.start, at), append(r.long, d)
			r.a, r.b = append(r.a, q), append(r.b, to)
			at += d
		}
		for range r.start[first:] {
			r.whole = append(r.whole, at)
		}
		loops = append(loops, l)
	}
	r.index = plane.NewLoopIndex(loops)
	return r
}

// foot returns the edge nearest to a place and where along its loop.
func (r *rimline) foot(x, y float64) (edge int32, at float64) {
	f := r.index.Nearest(x, y, 1e9)
	if f.Edge < 0 {
		return 0, 0
	}
	edge = r.index.Number(f.Edge)
	a := r.a[edge]
	return edge, r.start[edge] + math.Hypot(f.X-float64(a.X), f.Y-float64(a.Y))
}

// along returns where a place lies along an edge that goes on straight, from the begin of
// its loop.
func (r *rimline) along(edge int32, x, y float64) float64 {
	a, b := r.a[edge], r.b[edge]
	dx, dy := float64(b.X-a.X), float64(b.Y-a.Y)
	return r.start[edge] + ((x-float64(a.X))*dx+(y-float64(a.Y))*dy)/r.long[edge]
}

// unroll returns the texture coordinates of the corners of a plan lifted as l says, in mm
// for a grid of step mm.
func (p *Plan) unroll(l *lifting, step plane.Step) [][3][2]float32 {
	out := make([][3][2]float32, len(p.Tris))
	var rim *rimline
	if len(p.Facets) > 0 {
		rim = p.rimline()
	}
	across := p.across(l)
	heights, _ := p.rises(l)
	parallel.Light(len(p.Tris), func(i int) {
		ring := int(p.Ring[i])
		var x, y [3]float64
		for j, v := range p.Tris[i] {
			x[j], y[j] = float64(p.Pts[v].X), float64(p.Pts[v].Y)
		}
		if ring >= len(p.Facets) {
			for j := range 3 {
				out[i][j] = [2]float32{float32(step.MM(plane.Units(x[j]))), float32(step.MM(plane.Units(y[j])))}
			}
			return
		}
		edge, middle := rim.foot((x[0]+x[1]+x[2])/3, (y[0]+y[1]+y[2])/3)
		reach := math.Max(math.Hypot(x[1]-x[0], y[1]-y[0]), math.Hypot(x[2]-x[0], y[2]-y[0]))
		f := &p.Facets[ring]
		long := math.Hypot((f.t1-f.t0)*float64(p.Width), (heights[ring].to-heights[ring].from)*float64(l.high))
		for j, v := range p.Tris[i] {
			// Beyond a ridge the nearest place is on another side: there the own one goes
			// on straight.
			_, u := rim.foot(x[j], y[j])
			u -= rim.whole[edge] * math.Round((u-middle)/rim.whole[edge])
			if math.Abs(u-middle) > 2*reach {
				u = rim.along(edge, x[j], y[j])
			}
			s := p.share(v, Ring(ring))
			out[i][j] = [2]float32{float32(step.MM(plane.Units(u))), float32(step.MM(plane.Units(across[ring] + s*long)))}
		}
	})
	return out
}

// across returns the length of the profile from the rim to the begin of each facet, risers
// included, in grid units.
func (p *Plan) across(l *lifting) []float64 {
	heights, _ := p.rises(l)
	high := math.Abs(float64(l.high))
	out := make([]float64, len(p.Facets))
	at, f := 0.0, 0.0
	for i, fc := range p.Facets {
		at += math.Abs(heights[i].from-f) * high
		out[i] = at
		at += math.Hypot((fc.t1-fc.t0)*float64(p.Width), (heights[i].to-heights[i].from)*high)
		f = heights[i].to
	}
	return out
}

// flatUV returns the coordinates of the plane.
func (s *Surface) flatUV(step plane.Step) [][3][2]float32 {
	out := make([][3][2]float32, len(s.Tris))
	for i, t := range s.Tris {
		for j, v := range t {
			p := s.Pts[s.point(v)]
			out[i][j] = [2]float32{float32(step.MM(plane.Units(p.X))), float32(step.MM(plane.Units(p.Y)))}
		}
	}
	return out
}

// uvs is the table of a mesh's texture coordinates while it is filled: those met so far
// at each vertex, as lists through next.
type uvs struct {
	m           *mesh.Mesh
	first, next []int32 // entries, +1
}

// put returns the entry of coordinates at a vertex.
func (t *uvs) put(v int32, uv [2]float32) int32 {
	for int(v) >= len(t.first) {
		t.first = append(t.first, 0)
	}
	for k := t.first[v]; k != 0; k = t.next[k-1] {
		if t.m.UV[k-1] == uv {
			return k - 1
		}
	}
	t.m.UV = append(t.m.UV, uv)
	t.next = append(t.next, t.first[v])
	t.first[v] = int32(len(t.m.UV))
	return t.first[v] - 1
}

// unrollWalls gives walls their coordinates: along each run of them by its length, up by
// height.
func (b *builder) unrollWalls() {
	leave := newLists(len(b.at), len(b.strips))
	enters := make([]bool, len(b.strips))
	for i, s := range b.strips {
		leave.put(s.p, int32(i))
	}
	// A run is followed from wall to wall that looks the same way; where several leave a
	// column, any will do.
	following := make([]int32, len(b.strips))
	for i, s := range b.strips {
		following[i] = -1
		for k := leave.first[s.q]; k != 0; k = leave.next[k-1] {
			if o := k - 1; b.strips[o].riser == s.riser && !enters[o] {
				following[i], enters[o] = o, true
				break
			}
		}
	}
	done := make([]bool, len(b.strips))
	walk := func(i int32) {
		at := 0.0
		for ; i >= 0 && !done[i]; i = following[i] {
			done[i] = true
			at = b.unrollWall(&b.strips[i], at)
		}
	}
	for i := range b.strips { // open runs from their begin, then closed ones
		if !enters[i] {
			walk(int32(i))
		}
	}
	for i := range b.strips {
		walk(int32(i))
	}
}

// unrollWall gives one wall its coordinates from a length on, and returns the length at
// its end.
func (b *builder) unrollWall(s *strip, from float64) float64 {
	p, q := b.at[s.p], b.at[s.q]
	to := from + math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y))
	step := b.m.Step
	for k := s.tris[0]; k < s.tris[1]; k++ {
		for j, v := range b.m.Tris[k] {
			x := b.m.Verts[v]
			u := to
			if x[0] == p.X && x[1] == p.Y {
				u = from
			}
			b.m.Wrap[k][j] = b.uvs.put(v, [2]float32{float32(u * step), float32(float64(x[2]) * step)})
		}
	}
	return to
}
