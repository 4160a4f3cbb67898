package plane

import "math"

const fanOut = 4

// SegmentIndex finds the nearest edge of a set of loops. It is a tree of
// boxes over the edges in the order of a Hilbert curve through their middles,
// which keeps the boxes small for outlines that run to and fro; a query costs
// about log n (Kamel and Faloutsos, Hilbert R-tree, 1994).
type SegmentIndex struct {
	edges  []ray
	levels [][]ibox
	number []int32 // of each edge among those of all loops, one loop after the other
}

// ray is an edge as queries want it: its begin, how far it runs, and one
// divided by the square of its length.
type ray struct{ x, y, dx, dy, per float64 }

type ibox struct{ lo, hi Point }

func (b *ibox) join(c ibox) {
	b.lo.X, b.lo.Y = min(b.lo.X, c.lo.X), min(b.lo.Y, c.lo.Y)
	b.hi.X, b.hi.Y = max(b.hi.X, c.hi.X), max(b.hi.Y, c.hi.Y)
}

// apart reports whether two boxes share no point.
func (b *ibox) apart(c *ibox) bool {
	return b.lo.X > c.hi.X || c.lo.X > b.hi.X || b.lo.Y > c.hi.Y || c.lo.Y > b.hi.Y
}

// boxTree returns the boxes of a complete binary tree over leaves, for geom.Pairs.
// Leaves that fill it up are apart from all.
func boxTree(leaf []ibox) (leaves int32, tree []ibox) {
	leaves = 1
	for int(leaves) < len(leaf) {
		leaves *= 2
	}
	tree = make([]ibox, 2*leaves)
	copy(tree[leaves:], leaf)
	for i := int(leaves) + len(leaf); i < len(tree); i++ {
		tree[i] = ibox{Point{1 << 30, 1 << 30}, Point{-1 << 30, -1 << 30}}
	}
	for i := leaves - 1; i > 0; i-- {
		tree[i] = tree[2*i]
		tree[i].join(tree[2*i+1])
	}
	return leaves, tree
}

// dist2 returns the squared distance from (x, y) to the box.
func (b *ibox) dist2(x, y float64) float64 {
	var dx, dy float64 // plain branches: math.Max is ten times slower here
	if lo := float64(b.lo.X); x < lo {
		dx = lo - x
	} else if hi := float64(b.hi.X); x > hi {
		dx = x - hi
	}
	if lo := float64(b.lo.Y); y < lo {
		dy = lo - y
	} else if hi := float64(b.hi.Y); y > hi {
		dy = y - hi
	}
	return dx*dx + dy*dy
}

// NewSegmentIndex indexes the edges of all loops of a polygon.
func NewSegmentIndex(p Polygon) *SegmentIndex {
	return NewLoopIndex(append([]Loop{p.Outer}, p.Holes...))
}

// NewLoopIndex indexes the edges of all loops.
func NewLoopIndex(loops []Loop) *SegmentIndex {
	s := &SegmentIndex{}
	var a, b, mid []Point
	for _, l := range loops {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			a, b, mid = append(a, p), append(b, q), append(mid, Point{(p.X + q.X) / 2, (p.Y + q.Y) / 2})
		}
	}
	boxes := make([]ibox, 0, len(a)/fanOut+1)
	s.edges = make([]ray, len(a))
	s.number = make([]int32, len(a))
	for i, k := range hilbertOrder(mid, 0) {
		p, q := a[uint32(k)], b[uint32(k)]
		s.number[i] = int32(uint32(k))
		dx, dy := float64(q.X-p.X), float64(q.Y-p.Y)
		s.edges[i] = ray{float64(p.X), float64(p.Y), dx, dy, 1 / (dx*dx + dy*dy)}
		b := ibox{Point{min(p.X, q.X), min(p.Y, q.Y)}, Point{max(p.X, q.X), max(p.Y, q.Y)}}
		if i%fanOut == 0 {
			boxes = append(boxes, b)
		} else {
			boxes[len(boxes)-1].join(b)
		}
	}
	s.levels = append(s.levels, boxes)
	for len(boxes) > 1 {
		up := make([]ibox, 0, len(boxes)/fanOut+1)
		for i, b := range boxes {
			if i%fanOut == 0 {
				up = append(up, b)
			} else {
				up[len(up)-1].join(b)
			}
		}
		s.levels = append(s.levels, up)
		boxes = up
	}
	return s
}

// Number returns which of the edges of all loops, one loop after the other, an
// edge of the index is.
func (s *SegmentIndex) Number(edge int32) int32 { return s.number[edge] }

// Foot is the answer of Nearest: the point of an edge that is nearest.
type Foot struct {
	X, Y float64 // the point, in grid units
	Dist float64 // its distance
	Edge int32   // a number of the index; -1 if nothing lies within the bound
}

// Nearest returns the nearest point of any edge within bound of (x, y).
func (s *SegmentIndex) Nearest(x, y, bound float64) Foot { return s.NearestFrom(x, y, bound, -1) }

// NearestFrom is Nearest with the edge of another foot as a hint, or -1: where
// it lies near, little is searched.
func (s *SegmentIndex) NearestFrom(x, y, bound float64, hint int32) Foot {
	f := Foot{Dist: bound * bound, Edge: -1}
	if hint >= 0 {
		s.edge(int(hint), x, y, &f)
	}
	if len(s.edges) > 0 {
		s.search(len(s.levels)-1, 0, x, y, &f)
	}
	f.Dist = math.Sqrt(f.Dist)
	return f
}

func (s *SegmentIndex) search(level, node int, x, y float64, f *Foot) {
	from := node * fanOut
	if level == 0 {
		for i := from; i < min(from+fanOut, len(s.edges)); i++ {
			s.edge(i, x, y, f)
		}
		return
	}
	child := s.levels[level-1]
	var order [fanOut]int
	var dist [fanOut]float64
	n := 0
	for i := from; i < min(from+fanOut, len(child)); i++ {
		d := child[i].dist2(x, y)
		if d >= f.Dist {
			continue
		}
		j := n
		for j > 0 && dist[j-1] > d {
			dist[j], order[j] = dist[j-1], order[j-1]
			j--
		}
		dist[j], order[j] = d, i
		n++
	}
	for i := 0; i < n && dist[i] < f.Dist; i++ {
		s.search(level-1, order[i], x, y, f)
	}
}

// edge makes edge i the answer when it is nearer than the one so far.
func (s *SegmentIndex) edge(i int, x, y float64, f *Foot) {
	e := &s.edges[i]
	px, py := e.x, e.y
	if k := ((x-px)*e.dx + (y-py)*e.dy) * e.per; k >= 1 {
		px, py = px+e.dx, py+e.dy
	} else if k > 0 {
		px, py = px+k*e.dx, py+k*e.dy
	}
	wx, wy := px-x, py-y
	if d := wx*wx + wy*wy; d < f.Dist {
		f.X, f.Y, f.Dist, f.Edge = px, py, d, int32(i)
	}
}
