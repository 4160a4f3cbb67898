package plane

// The methods of this file open a built arrangement to those who go on
// working on its triangulation.

// Triangles returns the number of triangles, those outside included.
func (ar *Arrangement) Triangles() int32 { return int32(len(ar.t.tris)) }

// Points returns the number of points. The first four are the frame's.
func (ar *Arrangement) Points() int32 { return int32(len(ar.t.pts)) }

// Point returns the position of point v.
func (ar *Arrangement) Point(v int32) Point { return ar.t.pts[v] }

// Triangle returns the corners of triangle k, counter-clockwise, and its
// label.
func (ar *Arrangement) Triangle(k int32) ([3]int32, int32) { return ar.t.tris[k].v, ar.t.tris[k].tag }

// Relabel gives triangle k another label.
func (ar *Arrangement) Relabel(k, label int32) { ar.t.tris[k].tag = label }

// Across returns the triangle on the other side of side i of triangle k,
// which runs from corner i to corner i+1, or -1, and whether the side is an
// edge of the arrangement.
func (ar *Arrangement) Across(k int32, i int) (int32, bool) {
	tr := &ar.t.tris[k]
	if tr.twin[i] < 0 {
		return -1, tr.con[i] != 0
	}
	return tr.twin[i] >> 2, tr.con[i] != 0
}

// Edges returns the number of edges of the arrangement.
func (ar *Arrangement) Edges() int {
	n := 0
	ar.EachEdge(func(_, _ Point) { n++ })
	return n
}

// EachEdge calls f for every edge of the arrangement.
func (ar *Arrangement) EachEdge(f func(p, q Point)) {
	t := ar.t
	for k := range t.tris {
		tr := &t.tris[k]
		for i, c := range tr.con {
			if c != 0 && tr.twin[i] < int32(k)<<2 {
				f(t.pts[tr.v[i]], t.pts[tr.v[nextSide[i]]])
			}
		}
	}
}

// Star calls f for every triangle that has point v as a corner.
func (ar *Arrangement) Star(v int32, f func(k int32)) {
	t := ar.t
	first := t.out[v]
	e := first
	for {
		f(e >> 2)
		e = t.twin(prev(e))
		if e < 0 || e == first {
			return
		}
	}
}

// LowestSource returns for each point the lowest source that runs through it
// along any edge, or -1.
func (ar *Arrangement) LowestSource() []int32 {
	t := ar.t
	out := make([]int32, len(t.pts))
	for i := range out {
		out[i] = -1
	}
	for k := range t.tris {
		tr := &t.tris[k]
		for i, c := range tr.con {
			if c == 0 {
				continue
			}
			l := ar.lists[c>>1]
			for _, it := range ar.items[l.off : l.off+l.n] {
				if it.delta == 0 {
					continue
				}
				for _, v := range [2]int32{tr.v[i], tr.v[nextSide[i]]} {
					if out[v] < 0 || it.source < out[v] {
						out[v] = it.source
					}
				}
			}
		}
	}
	return out
}

// Insert adds a point and returns its number, or that of the point already
// there. Labels stay valid; a point on an edge of the arrangement splits it.
func (ar *Arrangement) Insert(p Point) int32 { return ar.t.insert(p) }

// Find returns a triangle that contains p. The search walks there from triangle
// near, and the next one, or an insertion, from the answer.
func (ar *Arrangement) Find(p Point, near int32) int32 {
	ar.t.hint = near
	e, _, _ := ar.t.locate(p)
	return e >> 2
}
