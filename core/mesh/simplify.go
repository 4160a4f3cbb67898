package mesh

import (
	"container/heap"
	"math"
)

// Simplify drops vertices of the upper and the lower side of an upright solid whose loss
// moves the surface by no more than tol mm, the cheapest first (Garland and Heckbert,
// Surface simplification using quadric error metrics, 1997), until no more than target
// triangles are left; 0 for as few as tol allows. A vertex goes to one of its neighbours,
// so that all coordinates stay on the grid. Each triangle knows how far at the most it lies
// from what was there first: as far as those whose place it takes, and as it lies from these.
// It keeps
//
//  1. walls and the border of each side as they are;
//  2. the lines between face groups and parts: a vertex on such a line only moves along it;
//  3. every triangle turned the way it was, seen from above, so that no side can cross
//     itself;
//  4. the upper side above the lower one: where a triangle reaches below the highest point
//     of the other side, nothing is dropped.
//
// A target that can't be reached leaves more triangles.
func (m *Mesh) Simplify(tol float64, target int) {
	s := &simplifier{m: m, tol: tol / m.Step, left: len(m.Tris), target: target}
	s.begin()
	for s.queue.Len() > 0 && s.left > target {
		c := heap.Pop(&s.queue).(collapse)
		if s.age[c.from] != c.ageFrom || s.age[c.to] != c.ageTo || !s.allowed(c.from, c.to) {
			continue
		}
		s.collapse(c.from, c.to)
	}
	s.finish()
}

// quadric is the sum of squared distances from planes: of (x, y, z, 1) A (x, y, z, 1)'.
type quadric [10]float64

func (q *quadric) add(o *quadric) {
	for i := range q {
		q[i] += o[i]
	}
}

// plane adds a plane with the unit normal n through p, weighted.
func (q *quadric) plane(n, p [3]float64, weight float64) {
	d := -(n[0]*p[0] + n[1]*p[1] + n[2]*p[2])
	v := [4]float64{n[0], n[1], n[2], d}
	k := 0
	for i := range 4 {
		for j := i; j < 4; j++ {
			q[k] += v[i] * v[j] * weight
			k++
		}
	}
}

// at returns the weighted sum of squares at a place.
func (q *quadric) at(p [3]float64) float64 {
	x, y, z := p[0], p[1], p[2]
	return q[0]*x*x + 2*q[1]*x*y + 2*q[2]*x*z + 2*q[3]*x + q[4]*y*y + 2*q[5]*y*z + 2*q[6]*y + q[7]*z*z + 2*q[8]*z + q[9]
}

// collapse moves a vertex to a neighbour.
type collapse struct {
	cost           float64 // grid units
	from, to       int32
	ageFrom, ageTo int32
}

type collapses []collapse

func (c collapses) Len() int { return len(c) }
func (c collapses) Less(i, j int) bool {
	if c[i].cost != c[j].cost {
		return c[i].cost < c[j].cost
	}
	return c[i].from < c[j].from || c[i].from == c[j].from && c[i].to < c[j].to
}
func (c collapses) Swap(i, j int) { c[i], c[j] = c[j], c[i] }
func (c *collapses) Push(x any)   { *c = append(*c, x.(collapse)) }
func (c *collapses) Pop() any {
	last := (*c)[len(*c)-1]
	*c = (*c)[:len(*c)-1]
	return last
}

type simplifier struct {
	m      *Mesh
	tol    float64
	target int
	left   int
	around [][]int32 // of each vertex: its triangles
	side   []int8    // of each vertex: 1 upper, -1 lower, 0 fixed
	gone   []bool    // of each triangle
	age    []int32   // of each vertex, grows when something around it changes
	quad   []quadric
	weight []float64
	off    []float64 // of each triangle: how far it lies from the first surface at the most
	moved  []float64 // of the triangles around a vertex that allowed has looked at
	queue  collapses
	limit  [2]int32 // highest of the lower side, lowest of the upper one
}

func (s *simplifier) at(v int32) [3]float64 {
	p := s.m.Verts[v]
	return [3]float64{float64(p[0]), float64(p[1]), float64(p[2])}
}

// facing returns which way a triangle looks: up, down, or sideways, which is 0.
func (s *simplifier) facing(t [3]int32) int8 {
	a, b, c := s.m.Verts[t[0]], s.m.Verts[t[1]], s.m.Verts[t[2]]
	n := (int64(b[0])-int64(a[0]))*(int64(c[1])-int64(a[1])) - (int64(b[1])-int64(a[1]))*(int64(c[0])-int64(a[0]))
	switch {
	case n > 0:
		return 1
	case n < 0:
		return -1
	}
	return 0
}

func (s *simplifier) begin() {
	n := len(s.m.Verts)
	s.around, s.side, s.age = make([][]int32, n), make([]int8, n), make([]int32, n)
	s.quad, s.weight, s.gone = make([]quadric, n), make([]float64, n), make([]bool, len(s.m.Tris))
	s.off = make([]float64, len(s.m.Tris))
	s.limit = [2]int32{math.MinInt32, math.MaxInt32}
	mixed := make([]bool, n)
	for k, t := range s.m.Tris {
		f := s.facing(t)
		normal := normalOf(s.at(t[0]), s.at(t[1]), s.at(t[2]))
		long := math.Sqrt(normal[0]*normal[0] + normal[1]*normal[1] + normal[2]*normal[2])
		for i := range normal {
			normal[i] /= math.Max(long, 1e-30)
		}
		for _, v := range t {
			s.around[v] = append(s.around[v], int32(k))
			mixed[v] = mixed[v] || f == 0 || s.side[v] != 0 && s.side[v] != f
			s.side[v] = f
			s.quad[v].plane(normal, s.at(t[0]), long)
			s.weight[v] += long
			if z := s.m.Verts[v][2]; f < 0 {
				s.limit[0] = max(s.limit[0], z)
			} else if f > 0 {
				s.limit[1] = min(s.limit[1], z)
			}
		}
	}
	for side, o := range Twins(n, s.m.Tris) {
		if o < 0 { // an open border
			t := s.m.Tris[side/3]
			mixed[t[side%3]], mixed[t[(side%3+1)%3]] = true, true
		}
	}
	for v := range mixed {
		if mixed[v] {
			s.side[v] = 0
		}
	}
	for v := range s.around {
		s.offer(int32(v))
	}
	heap.Init(&s.queue)
}

// kind tells the face group and part of a triangle.
func (s *simplifier) kind(k int32) [2]int32 { return [2]int32{int32(s.m.Group[k]), s.m.partOf(int(k))} }

// neighbours returns the vertices joined to v, each with how many kinds of faces its edge
// lies between.
func (s *simplifier) neighbours(v int32) map[int32][][2]int32 {
	out := map[int32][][2]int32{}
	for _, k := range s.around[v] {
		for _, u := range s.m.Tris[k] {
			if u != v {
				out[u] = append(out[u], s.kind(k))
			}
		}
	}
	return out
}

// offer puts what may become of a vertex into the queue.
func (s *simplifier) offer(v int32) {
	if s.side[v] == 0 || len(s.around[v]) == 0 {
		return
	}
	list := s.neighbours(v)
	line := 0 // edges between different kinds
	for _, kinds := range list {
		if len(kinds) != 2 {
			return
		}
		if kinds[0] != kinds[1] {
			line++
		}
	}
	if line != 0 && line != 2 {
		return // a corner of lines
	}
	for u, kinds := range list {
		if line == 2 && kinds[0] == kinds[1] {
			continue
		}
		cost := s.cost(v, u)
		if cost <= s.tol {
			heap.Push(&s.queue, collapse{cost, v, u, s.age[v], s.age[u]})
		}
	}
}

// cost returns about how far the surface moves when v goes to u, in grid units.
func (s *simplifier) cost(v, u int32) float64 {
	q := s.quad[v]
	return math.Sqrt(math.Max(0, q.at(s.at(u))/math.Max(s.weight[v], 1e-30)))
}

// allowed reports whether all triangles around v stay what they are when it goes to u.
func (s *simplifier) allowed(v, u int32) bool {
	if s.side[v] == 0 || len(s.around[v]) == 0 || len(s.around[u]) == 0 {
		return false
	}
	shared, common := 0, 0
	mine := map[int32]bool{}
	for _, k := range s.around[v] {
		for _, w := range s.m.Tris[k] {
			mine[w] = true
		}
	}
	seen := map[int32]bool{}
	for _, k := range s.around[u] {
		for _, w := range s.m.Tris[k] {
			if w != u && w != v && mine[w] && !seen[w] {
				seen[w] = true
				common++
			}
		}
	}
	for _, k := range s.around[v] {
		t := s.m.Tris[k]
		if t[0] == u || t[1] == u || t[2] == u {
			shared++
			continue
		}
		for i := range t {
			if t[i] == v {
				t[i] = u
			}
		}
		if s.facing(t) != s.side[v] || !s.apart(t, s.side[v]) || s.bent(k, t) {
			return false
		}
	}
	return shared == 2 && common == 2 && s.near(v, u)
}

// near works out how far the triangles around v will lie from the first surface when it goes to u, and
// reports whether all are within the tolerance.
func (s *simplifier) near(v, u int32) bool {
	list := s.around[v]
	s.moved = s.moved[:0]
	for _, k := range list {
		t := s.m.Tris[k]
		far := s.off[k]
		if t[0] != u && t[1] != u && t[2] != u {
			next := [3]place{}
			for i, w := range t {
				if w == v {
					w = u
				}
				next[i] = s.at(w)
			}
			far = 0
			for _, o := range list {
				q := s.m.Tris[o]
				if d, meet := deviation([3]place{s.at(q[0]), s.at(q[1]), s.at(q[2])}, next); meet {
					far = math.Max(far, s.off[o]+d)
				}
			}
			if far > s.tol {
				return false
			}
		}
		s.moved = append(s.moved, far)
	}
	return true
}

// apart reports whether a triangle lies beyond all of the other side.
func (s *simplifier) apart(t [3]int32, side int8) bool {
	for _, v := range t {
		z := s.m.Verts[v][2]
		if side > 0 && z <= s.limit[0] || side < 0 && z >= s.limit[1] {
			return false
		}
	}
	return true
}

// mostBent is the cosine of how far a triangle may turn at once.
const mostBent = 0.8

func (s *simplifier) bent(k int32, t [3]int32) bool {
	o := s.m.Tris[k]
	cos, ok := cosBetween(normalOf(s.at(o[0]), s.at(o[1]), s.at(o[2])), normalOf(s.at(t[0]), s.at(t[1]), s.at(t[2])))
	return !ok || cos < mostBent
}

// collapse moves v to u.
func (s *simplifier) collapse(v, u int32) {
	looks := s.looksOf(u)
	for n, k := range s.around[v] {
		t := &s.m.Tris[k]
		s.off[k] = s.moved[n]
		if t[0] == u || t[1] == u || t[2] == u {
			s.gone[k] = true
			s.left--
			continue
		}
		for i := range t {
			if t[i] == v {
				t[i] = u
				s.dress(k, i, looks)
			}
		}
		s.straighten(k)
		s.around[u] = append(s.around[u], k)
	}
	s.around[v] = nil
	s.quad[u].add(&s.quad[v])
	s.weight[u] += s.weight[v]
	touched := map[int32]bool{u: true}
	kept := s.around[u][:0]
	for _, k := range s.around[u] {
		if !s.gone[k] {
			kept = append(kept, k)
			for _, w := range s.m.Tris[k] {
				touched[w] = true
			}
		}
	}
	s.around[u] = kept
	for w := range touched {
		s.age[w]++
		list := s.around[w][:0]
		for _, k := range s.around[w] {
			if !s.gone[k] {
				list = append(list, k)
			}
		}
		s.around[w] = list
	}
	for w := range touched {
		s.offer(w)
	}
}

// looksOf returns the normals and texture coordinates that faces of each kind have at a
// vertex.
func (s *simplifier) looksOf(u int32) map[[2]int32][][2]int32 {
	if len(s.m.Corner) == 0 {
		return nil
	}
	out := map[[2]int32][][2]int32{}
	for _, k := range s.around[u] {
		for i, w := range s.m.Tris[k] {
			if w != u {
				continue
			}
			look := [2]int32{s.m.Corner[k][i]}
			if len(s.m.Wrap) > 0 {
				look[1] = s.m.Wrap[k][i]
			}
			out[s.kind(k)] = append(out[s.kind(k)], look)
		}
	}
	return out
}

// dress gives corner i of triangle k what a face of its kind has there whose normal there
// is most like the triangle's own: beyond a ridge others lean the other way.
func (s *simplifier) dress(k int32, i int, looks map[[2]int32][][2]int32) {
	list := looks[s.kind(k)]
	if len(list) == 0 {
		return
	}
	t := s.m.Tris[k]
	face := normalOf(s.at(t[0]), s.at(t[1]), s.at(t[2]))
	look, most := list[0], math.Inf(-1)
	for _, l := range list {
		n := s.m.Normals[l[0]]
		if d := face[0]*float64(n[0]) + face[1]*float64(n[1]) + face[2]*float64(n[2]); d > most {
			look, most = l, d
		}
	}
	s.m.Corner[k][i] = look[0]
	if len(s.m.Wrap) > 0 {
		s.m.Wrap[k][i] = look[1]
	}
}

// leaning is the cosine of how far a normal may lean from its face.
const leaning = 0.5

// straighten gives corners of triangle k whose normals have come to lean away from it its own.
func (s *simplifier) straighten(k int32) {
	if len(s.m.Corner) == 0 {
		return
	}
	t := s.m.Tris[k]
	face := normalOf(s.at(t[0]), s.at(t[1]), s.at(t[2]))
	long := math.Sqrt(face[0]*face[0] + face[1]*face[1] + face[2]*face[2])
	own := int32(-1)
	for i, c := range s.m.Corner[k] {
		n := s.m.Normals[c]
		if face[0]*float64(n[0])+face[1]*float64(n[1])+face[2]*float64(n[2]) >= leaning*long {
			continue
		}
		if own < 0 {
			own = int32(len(s.m.Normals))
			s.m.Normals = append(s.m.Normals, [3]float32{float32(face[0] / long), float32(face[1] / long), float32(face[2] / long)})
		}
		s.m.Corner[k][i] = own
	}
}

// finish drops what is gone.
func (s *simplifier) finish() {
	s.m.keep(func(k int) bool { return !s.gone[k] })
}
