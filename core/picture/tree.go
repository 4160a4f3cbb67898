package picture

import (
	"cmp"
	"math"
	"slices"

	"bildhauer/core/geom"
)

// Ray is a half line with a least and a greatest distance, in lengths of Dir.
type Ray struct {
	From, Dir geom.Vec3
	Near, Far float64
}

// At returns the place at a distance.
func (r *Ray) At(d float64) geom.Vec3 { return r.From.Plus(d, r.Dir) }

// Tree finds what a ray meets first among triangles: a tree of boxes, split by
// the surface area heuristic in bins (Wald, On fast construction of SAH-based bounding
// volume hierarchies, 2007). Triangles that share an edge leave no gap between them.
type Tree struct {
	nodes []four
	tris  []triangle
	ids   []int32 // of each triangle: its number among those given
}

// node holds the boxes of both children: lowest and highest x, y, z.
type node struct {
	box   [2][2][3]float32
	_     [2]int32 // so that each fills a line of the cache
	child [2]int32 // a node; or ^(first triangle << leafBits | count)
}

// leafBits is how many bits the number of triangles of a leaf takes.
const leafBits = 4

// leafMost is the most triangles of a leaf.
const leafMost = 4

// triangle is its corners.
type triangle [3][3]float32

// Hit is what a ray met.
type Hit struct {
	Dist float64
	ID   int32   // of the triangle
	slot int32   // where the tree keeps it
	U, V float64 // weights of its corners 1 and 2
}

// NewTree builds a tree over triangles.
func NewTree(tris []([3]geom.Vec3)) *Tree {
	given := make([]triangle, len(tris))
	boxes := make([]bounds, len(tris))
	for i, tri := range tris {
		boxes[i] = noBounds
		for j, v := range tri {
			given[i][j] = [3]float32{float32(v.X), float32(v.Y), float32(v.Z)}
			boxes[i].take(given[i][j])
		}
	}
	t := &Tree{tris: make([]triangle, len(tris))}
	t.nodes, t.ids = foursOver(boxes, leafMost)
	for i, k := range t.ids {
		t.tris[i] = given[k]
	}
	return t
}

// nodesOver builds the nodes of a tree over boxes, with so many in a leaf at most, and returns in which order
// the leaves have them. Even splits, into halves of the same number along the longest axis, make a tree of 31 levels at
// most.
func nodesOver(boxes []bounds, most int, even bool) ([]node, []int32) {
	b := &treeBuilder{box: boxes, mid: make([][3]float32, len(boxes)), order: make([]int32, len(boxes)), most: most, even: even}
	for i := range boxes {
		b.order[i] = int32(i)
		for a := range 3 {
			b.mid[i][a] = (boxes[i][a] + boxes[i][a+3]) / 2
		}
	}
	if len(boxes) > 0 {
		b.build()
	}
	return b.nodes, b.order
}

// bounds is a box: lowest x, y, z, highest x, y, z.
type bounds [6]float32

// sides returns it as nodes have it.
func (b *bounds) sides() [2][3]float32 { return [2][3]float32{{b[0], b[1], b[2]}, {b[3], b[4], b[5]}} }

var noBounds = bounds{
	math.MaxFloat32, math.MaxFloat32, math.MaxFloat32, -math.MaxFloat32, -math.MaxFloat32, -math.MaxFloat32,
}

func (b *bounds) take(p [3]float32) {
	for a := range 3 {
		b[a], b[a+3] = min(b[a], p[a]), max(b[a+3], p[a])
	}
}

func (b *bounds) join(o *bounds) {
	for a := range 3 {
		b[a], b[a+3] = min(b[a], o[a]), max(b[a+3], o[a+3])
	}
}

// half returns half the surface.
func (b *bounds) half() float32 {
	x, y, z := b[3]-b[0], b[4]-b[1], b[5]-b[2]
	if x < 0 {
		return 0
	}
	return x*y + y*z + z*x
}

type treeBuilder struct {
	nodes []node
	most  int // in a leaf
	even  bool
	box   []bounds
	mid   [][3]float32
	order []int32
}

// bins is how many places along an axis are tried for a split; more change little.
const bins = 16

// build makes all nodes; a list of what is to be split takes the place of recursion.
func (b *treeBuilder) build() {
	type job struct {
		from, to int
		node     int32 // whose child it is
		side     int
	}
	b.nodes = append(b.nodes, node{})
	whole := b.boundsOf(0, len(b.order))
	if len(b.order) <= b.most { // a root with one leaf
		b.nodes[0].box = [2][2][3]float32{whole.sides(), noBounds.sides()}
		b.nodes[0].child = [2]int32{leaf(0, len(b.order)), leaf(0, 0)}
		return
	}
	jobs := []job{{0, len(b.order), -1, 0}}
	for len(jobs) > 0 {
		j := jobs[len(jobs)-1]
		jobs = jobs[:len(jobs)-1]
		mid := b.split(j.from, j.to)
		n := int32(0)
		if j.node >= 0 {
			n = int32(len(b.nodes))
			b.nodes = append(b.nodes, node{})
			b.nodes[j.node].child[j.side] = n
		}
		for side, part := range [2][2]int{{j.from, mid}, {mid, j.to}} {
			box := b.boundsOf(part[0], part[1])
			b.nodes[n].box[side] = box.sides()
			if part[1]-part[0] <= b.most {
				b.nodes[n].child[side] = leaf(part[0], part[1]-part[0])
				continue
			}
			jobs = append(jobs, job{part[0], part[1], n, side})
		}
	}
}

func leaf(first, count int) int32 { return ^int32(first<<leafBits | count) }

func (b *treeBuilder) boundsOf(from, to int) bounds {
	out := noBounds
	for _, k := range b.order[from:to] {
		out.join(&b.box[k])
	}
	return out
}

// split sorts a range into two and returns where the second begins.
func (b *treeBuilder) split(from, to int) int {
	mids := noBounds
	for _, k := range b.order[from:to] {
		mids.take(b.mid[k])
	}
	if b.even {
		return b.halve(from, to, &mids)
	}
	axis, at, least := -1, 0, float32(math.Inf(1))
	for a := range 3 {
		wide := mids[a+3] - mids[a]
		if wide <= 0 {
			continue
		}
		var box [bins]bounds
		var count [bins]int
		for i := range box {
			box[i] = noBounds
		}
		for _, k := range b.order[from:to] {
			i := binOf(b.mid[k][a], mids[a], wide)
			box[i].join(&b.box[k])
			count[i]++
		}
		var right [bins]float32
		sum, n := noBounds, 0
		for i := bins - 1; i > 0; i-- {
			sum.join(&box[i])
			n += count[i]
			right[i] = sum.half() * float32(n)
		}
		sum, n = noBounds, 0
		for i := range bins - 1 {
			sum.join(&box[i])
			if n += count[i]; n == 0 || n == to-from {
				continue
			}
			if cost := sum.half()*float32(n) + right[i+1]; cost < least {
				axis, at, least = a, i+1, cost
			}
		}
	}
	if axis < 0 { // all in one place
		return (from + to) / 2
	}
	wide := mids[axis+3] - mids[axis]
	i := from
	for k := from; k < to; k++ {
		if binOf(b.mid[b.order[k]][axis], mids[axis], wide) < at {
			b.order[i], b.order[k] = b.order[k], b.order[i]
			i++
		}
	}
	return i
}

// halve sorts a range into halves along the longest axis of their middles.
func (b *treeBuilder) halve(from, to int, mids *bounds) int {
	axis := 0
	for a := range 3 {
		if mids[a+3]-mids[a] > mids[axis+3]-mids[axis] {
			axis = a
		}
	}
	slices.SortFunc(b.order[from:to], func(i, j int32) int { return cmp.Compare(b.mid[i][axis], b.mid[j][axis]) })
	return (from + to) / 2
}

func binOf(v, lo, wide float32) int { return min(bins-1, int(bins*(v-lo)/wide)) }

// walker is a ray as the tree wants it; for triangles with axes so that its direction runs mostly
// along the last, sheared onto that (Woop, Benthin, Wald, Watertight ray/triangle
// intersection, 2013).
type walker struct {
	from, inv  [3]float32
	neg        [3]uint8 // 1 where it runs toward lower values: which side of a box it meets first
	sheared    bool     // what follows is known: many rays come to no triangle
	kx, ky, kz uint8
	near, far  float32
	dir        [3]float32
	sx, sy, sz float32
}

func newWalker(r *Ray) walker {
	x, y, z := float32(r.Dir.X), float32(r.Dir.Y), float32(r.Dir.Z)
	w := walker{
		from: [3]float32{float32(r.From.X), float32(r.From.Y), float32(r.From.Z)}, dir: [3]float32{x, y, z},
		inv:  [3]float32{1 / x, 1 / y, 1 / z},
		neg:  [3]uint8{lower(x), lower(y), lower(z)},
		near: float32(r.Near), far: math.MaxFloat32,
	}
	if r.Far < math.MaxFloat32 {
		w.far = float32(r.Far)
	}
	return w
}

// lower is 1 for what is below zero; so is the lesser of both zeros.
func lower(d float32) uint8 { return uint8(math.Float32bits(d) >> 31) }

// shear works out what triangles want.
func (w *walker) shear() {
	d := &w.dir
	k := 0
	for a := range 3 {
		if math.Abs(float64(d[a])) > math.Abs(float64(d[k])) {
			k = a
		}
	}
	w.kx, w.ky, w.kz = uint8((k+1)%3), uint8((k+2)%3), uint8(k)
	if d[k] < 0 {
		w.kx, w.ky = w.ky, w.kx
	}
	w.sx, w.sy, w.sz = d[w.kx]/d[k], d[w.ky]/d[k], 1/d[k]
	w.sheared = true
}

// boxSlack allows for the rounding of three products, each of half a unit in the last
// place of 24 bits (Ize, Robust BVH ray traversal, 2013).
const boxSlack = 1 + 6.0/(1<<24)

// First returns what the ray meets first.
func (t *Tree) First(r *Ray) (Hit, bool) {
	var h Hit
	w := newWalker(r)
	return h, t.walk(&w, &ways{}, &h, false)
}

// Any reports whether the ray meets anything.
func (t *Tree) Any(r *Ray) bool {
	var h Hit
	w := newWalker(r)
	return t.walk(&w, &ways{}, &h, true)
}

func (t *Tree) walk(w *walker, open *ways, h *Hit, any bool) (found bool) {
	if len(t.nodes) == 0 {
		return false
	}
	c, top := descend(t.nodes, w, open, 0, 0)
	for c < 0 {
		if t.leaf(c, w, h) {
			if found = true; any {
				return true
			}
		}
		c, top = descend(t.nodes, w, open, top, -1)
	}
	return found
}

// leaf tries the triangles of a leaf.
func (t *Tree) leaf(c int32, w *walker, h *Hit) (found bool) {
	if !w.sheared {
		w.shear()
	}
	c = ^c
	first := c >> leafBits
	for k := first; k < first+c&(1<<leafBits-1); k++ {
		if w.tri(&t.tris[k], h) {
			h.ID, h.slot = t.ids[k], k
			found = true
		}
	}
	return found
}

// tri tries a triangle, whichever way it faces.
func (w *walker) tri(t *triangle, h *Hit) bool {
	var x, y, z [3]float32
	kx, ky, kz := w.kx%3, w.ky%3, w.kz%3
	fx, fy, fz := w.from[kx], w.from[ky], w.from[kz]
	for i := range 3 {
		p := &t[i]
		dz := p[kz] - fz
		x[i] = p[kx] - fx - w.sx*dz
		y[i] = p[ky] - fy - w.sy*dz
		z[i] = dz
	}
	u, v, s := x[2]*y[1]-y[2]*x[1], x[0]*y[2]-y[0]*x[2], x[1]*y[0]-y[1]*x[0]
	if u == 0 || v == 0 || s == 0 { // on an edge: decide it exactly, so that both sides agree
		u = float32(float64(x[2])*float64(y[1]) - float64(y[2])*float64(x[1]))
		v = float32(float64(x[0])*float64(y[2]) - float64(y[0])*float64(x[2]))
		s = float32(float64(x[1])*float64(y[0]) - float64(y[1])*float64(x[0]))
	}
	if (u < 0 || v < 0 || s < 0) && (u > 0 || v > 0 || s > 0) {
		return false
	}
	det := u + v + s
	if det == 0 {
		return false
	}
	d := (u*z[0] + v*z[1] + s*z[2]) * w.sz / det
	if !(d > w.near && d < w.far) {
		return false
	}
	w.far = d
	h.Dist, h.U, h.V = float64(d), float64(v/det), float64(s/det)
	return true
}
