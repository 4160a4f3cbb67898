package print

import (
	"cmp"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// ladder is an area divided between its outlines and its middle: its medial axis, found as the part within the area of the
// Voronoi diagram of points that lie close to each other on the outlines (Brandt, Algazi, Continuous skeleton computation by
// Voronoi diagram, 1992). Every point has a fan of triangles up to the axis. So that lines laid through it meet, whatever
// the shape is, they are followed from triangle to triangle.
//
// Corners are numbered: points on the outlines from 0, nodes of the axis from the number of these on.
type ladder struct {
	rim   []geom.Vec // points on the outlines, grid units
	nodes []node
	tris  [][3]int32 // corners, counter-clockwise
	sides [][3]int32 // the number of each side of a triangle, from its first corner on; two triangles share one
	pairs int        // how many sides there are
}

// node is a place of the axis.
type node struct {
	at     geom.Vec
	radius float64 // how far the outlines are, grid units
	next   []spine
}

// spine is a stretch of the axis from one node to another. Two points on the outlines are the nearest to it, so far across
// from each other.
type spine struct {
	to           int32
	long, across float64
}

func (l *ladder) node(corner int32) *node { return &l.nodes[corner-int32(len(l.rim))] }

// isNode reports whether a corner lies on the axis.
func (l *ladder) isNode(corner int32) bool { return corner >= int32(len(l.rim)) }

func (l *ladder) at(corner int32) geom.Vec {
	if l.isNode(corner) {
		return l.node(corner).at
	}
	return l.rim[corner]
}

// newLadder divides an area. apart is how far points on the outlines are from each other at the most, index tells how far
// the outlines are from a place.
func newLadder(area plane.Polygon, apart float64, index *plane.SegmentIndex) (*ladder, error) {
	ar := plane.NewArrangement()
	defer ar.Release()
	ar.AddRegion(0, plane.Region{sampled(area, apart)})
	if err := ar.Build(); err != nil {
		return nil, err
	}
	ar.Classify(&inside{})
	l := &ladder{rim: make([]geom.Vec, ar.Points())}
	for v := range l.rim {
		l.rim[v] = vecOf(ar.Point(int32(v)))
	}
	add := func(at geom.Vec) int32 { // a node
		l.nodes = append(l.nodes, node{at: at, radius: index.Nearest(at.X, at.Y, math.Inf(1)).Dist})
		return int32(len(l.rim) + len(l.nodes) - 1)
	}
	node := make([]int32, ar.Triangles()) // of each triangle
	for k := range ar.Triangles() {
		if t, label := ar.Triangle(k); label != 0 {
			node[k] = add(l.centre(t, ar, k))
		}
	}
	for k := range ar.Triangles() {
		t, label := ar.Triangle(k)
		if label == 0 {
			continue
		}
		for i := range 3 {
			p, q := t[i], t[(i+1)%3]
			other, edge := ar.Across(k, i)
			if edge {
				l.tris = append(l.tris, [3]int32{p, q, node[k]})
				continue
			}
			l.tris = append(l.tris, [3]int32{p, node[other], node[k]})
			if k < other {
				l.join(node[k], node[other], l.rim[p].Sub(l.rim[q]).Len())
			}
		}
	}
	l.refine(apart, add)
	l.number()
	return l, nil
}

// number gives sides of triangles their numbers.
func (l *ladder) number() {
	type side struct {
		ends uint64
		at   int32 // three times its triangle, and which of it
	}
	all := make([]side, 0, 3*len(l.tris))
	for k, t := range l.tris {
		for i := range 3 {
			a, b := t[i], t[(i+1)%3]
			all = append(all, side{uint64(min(a, b))<<32 | uint64(max(a, b)), int32(3*k + i)})
		}
	}
	slices.SortFunc(all, func(p, q side) int { return cmp.Or(cmp.Compare(p.ends, q.ends), cmp.Compare(p.at, q.at)) })
	l.sides = make([][3]int32, len(l.tris))
	for i, s := range all {
		if i > 0 && s.ends != all[i-1].ends {
			l.pairs++
		}
		l.sides[s.at/3][s.at%3] = int32(l.pairs)
	}
	l.pairs++
}

// centre returns the place that all corners of a triangle are as far from; or its middle where that would lie beyond the
// outlines, as it may in places narrower than points are apart.
func (l *ladder) centre(t [3]int32, ar *plane.Arrangement, k int32) geom.Vec {
	a, b, c := l.rim[t[0]], l.rim[t[1]], l.rim[t[2]]
	u, v := b.Sub(a), c.Sub(a)
	d := 2 * u.Cross(v)
	x := (v.Y*u.Dot(u) - u.Y*v.Dot(v)) / d
	y := (u.X*v.Dot(v) - v.X*u.Dot(u)) / d
	at := a.Add(geom.Vec{X: x, Y: y})
	if acute := u.Dot(v) >= 0 && u.Dot(c.Sub(b)) <= 0 && v.Dot(c.Sub(b)) >= 0; acute {
		return at
	}
	if math.Abs(at.X) < plane.MaxCoord && math.Abs(at.Y) < plane.MaxCoord {
		_, label := ar.Triangle(ar.Find(plane.Point{X: int32(at.X), Y: int32(at.Y)}, k))
		if label != 0 {
			return at
		}
	}
	return a.Add(b).Add(c).Mul(1.0 / 3)
}

func (l *ladder) join(a, b int32, across float64) {
	m, n := l.node(a), l.node(b)
	long := m.at.Sub(n.at).Len()
	m.next = append(m.next, spine{b, long, across})
	n.next = append(n.next, spine{a, long, across})
}

// fan is how wide the angle between two rungs from one place is at the most, where lines go around it: what they cut off
// is an eighth of its square, two thousandths, of how deep they lie.
const fan = 0.12

// refine divides long stretches of the axis, so that its nodes tell how wide the area is all along it.
func (l *ladder) refine(apart float64, add func(geom.Vec) int32) {
	var chains [][]int32 // of nodes, from one that was there to another
	var across []float64
	within := map[[2]int32]int{}
	for i := range int32(len(l.nodes)) {
		a := i + int32(len(l.rim))
		kept := l.nodes[i].next[:0:0]
		for _, s := range l.nodes[i].next {
			b := s.to
			n := int(s.long / math.Max(apart, fan*math.Min(l.nodes[i].radius, l.node(b).radius)))
			if n < 2 {
				kept = append(kept, s)
				continue
			}
			if b < a {
				continue // it was divided from there
			}
			chain := []int32{a}
			for k := 1; k < n; k++ {
				f := float64(k) / float64(n)
				c := add(l.at(a).Lerp(l.at(b), f))
				chain = append(chain, c)
			}
			within[[2]int32{a, b}] = len(chains)
			chains, across = append(chains, append(chain, b)), append(across, s.across)
		}
		l.nodes[i].next = kept
	}
	for i, chain := range chains {
		for k := range len(chain) - 1 {
			l.join(chain[k], chain[k+1], across[i])
		}
	}
	var tris [][3]int32
	for _, t := range l.tris {
		tris = append(tris, divided(t, chains, within)...)
	}
	l.tris = tris
}

// divided returns what becomes of a triangle one side of which is divided by a chain.
func divided(t [3]int32, chains [][]int32, within map[[2]int32]int) [][3]int32 {
	for i := range 3 {
		a, b, tip := t[i], t[(i+1)%3], t[(i+2)%3]
		n, ok := within[[2]int32{min(a, b), max(a, b)}]
		if !ok {
			continue
		}
		var out [][3]int32
		for k := range len(chains[n]) - 1 {
			from, to := chains[n][k], chains[n][k+1]
			if a > b {
				from, to = to, from
			}
			out = append(out, [3]int32{from, to, tip})
		}
		return out
	}
	return [][3]int32{t}
}

// sampled returns the area with points on its outlines no farther apart than that, as far from each other on both sides of
// a corner, so that its axis runs evenly between them.
func sampled(p plane.Polygon, apart float64) plane.Polygon {
	return plane.Region{p}.Mapped(func(l plane.Loop) (out plane.Loop) {
		for i, a := range l {
			b := l[(i+1)%len(l)]
			d := geom.Vec{X: float64(b.X - a.X), Y: float64(b.Y - a.Y)}
			long := d.Len()
			put := func(s float64) {
				f := s / long
				q := plane.Point{X: a.X + int32(math.Round(d.X*f)), Y: a.Y + int32(math.Round(d.Y*f))}
				if n := len(out); n == 0 || out[n-1] != q {
					out = append(out, q)
				}
			}
			half := int(long / 2 / apart)
			for k := range half + 1 {
				put(float64(k) * apart)
			}
			if rest := long - 2*float64(half)*apart; rest > apart {
				put(long / 2)
			}
			for k := half; k > 0; k-- {
				put(long - float64(k)*apart)
			}
		}
		return out
	})[0]
}

// inside labels the faces of one source.
type inside struct{ winding int32 }

func (r *inside) Cross(_, delta int32) { r.winding += delta }

func (r *inside) Label() int32 {
	if r.winding > 0 {
		return 1
	}
	return 0
}
