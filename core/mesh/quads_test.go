package mesh

import (
	"math"
	"testing"
)

// prism is a closed prism over a regular polygon of n corners.
func prism(n int) *Mesh {
	m := &Mesh{Step: 1}
	for z := range int32(2) {
		for i := range n {
			s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			m.Verts = append(m.Verts, [3]int32{int32(1000 * c), int32(1000 * s), 300 * z})
		}
	}
	add := func(g Group, t ...int32) {
		m.Tris, m.Group = append(m.Tris, [3]int32{t[0], t[1], t[2]}), append(m.Group, g)
	}
	for i := range int32(n) {
		j := (i + 1) % int32(n)
		add(Side, i, j, j+int32(n))
		add(Side, i, j+int32(n), i+int32(n))
		if i > 0 && i+1 < int32(n) {
			add(Back, 0, i+1, i)
			add(Front, int32(n), i+int32(n), i+1+int32(n))
		}
	}
	return m
}

// TestWallsAreQuads pairs the walls of prisms: every wall is one quad, caps stay as they
// are, and the edges are those of the polygons.
func TestWallsAreQuads(t *testing.T) {
	for _, n := range []int{3, 4, 7, 40} {
		m := prism(n)
		if r := Check(m, true); !r.Sound() {
			t.Fatalf("%d: %+v", n, r)
		}
		partner := m.Quads()
		for k, p := range partner {
			if (m.Group[k] == Side) != (p >= 0) {
				t.Errorf("%d: triangle %d of group %d has the partner %d", n, k, m.Group[k], p)
			}
			if p < 0 {
				continue
			}
			if partner[p] != int32(k) {
				t.Errorf("%d: %d is the partner of %d, but not the other way", n, p, k)
			}
			low := 0
			for _, v := range m.Quad(int32(k), p) {
				if m.Verts[v][2] == 0 {
					low++
				}
			}
			if low != 2 {
				t.Errorf("%d: a quad with %d corners below", n, low)
			}
		}
		// n walls have 3n edges, and each cap is divided n-3 times.
		if got := len(m.Edges()); got != 3*n+2*(n-3) {
			t.Errorf("%d: %d edges, want %d", n, got, 3*n+2*(n-3))
		}
	}
}

// TestWeldJoinsPlaces takes a mesh apart and welds it.
func TestWeldJoinsPlaces(t *testing.T) {
	m := prism(9)
	loose := &Mesh{Step: 1, Group: m.Group}
	for k, tri := range m.Tris {
		for _, v := range tri {
			loose.Verts = append(loose.Verts, m.Verts[v])
		}
		loose.Tris = append(loose.Tris, [3]int32{int32(3 * k), int32(3*k + 1), int32(3*k + 2)})
	}
	if r := Check(loose, false); r.Boundary == 0 {
		t.Error("it was not loose")
	}
	if r := Check(loose.Weld(), true); !r.Sound() || r.Vertices != 18 {
		t.Errorf("welded: %+v", r)
	}
	m.Drop(func(k int) bool { return m.Group[k] == Front })
	if r := Check(m, true); !r.Open || !r.Sound() || r.Boundary != 9 || r.Watertight() {
		t.Errorf("without its front: %+v", r)
	}
}
