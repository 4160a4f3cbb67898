package mesh

import (
	"testing"
)

// TestTwinsAreMutual pairs the sides of a closed solid: each has a twin that runs the other
// way and whose twin it is; without a triangle, three sides lose theirs.
func TestTwinsAreMutual(t *testing.T) {
	m := prism(30)
	twins := Twins(len(m.Verts), m.Tris)
	end := func(side int32) (a, b int32) {
		t := m.Tris[side/3]
		return t[side%3], t[(side%3+1)%3]
	}
	for side, o := range twins {
		if o < 0 || twins[o] != int32(side) {
			t.Fatalf("side %d has the twin %d", side, o)
		}
		a, b := end(int32(side))
		c, d := end(o)
		if a != d || b != c {
			t.Fatalf("side %d runs from %d to %d, its twin from %d to %d", side, a, b, c, d)
		}
	}
	lost := 0
	for _, o := range Twins(len(m.Verts), m.Tris[1:]) {
		if o < 0 {
			lost++
		}
	}
	if lost != 3 {
		t.Errorf("%d sides have no twin, want 3", lost)
	}
}

// TestPolygonsHaveTheirLooks lists the corners of quads and triangles with their normals and
// coordinates.
func TestPolygonsHaveTheirLooks(t *testing.T) {
	m := prism(6)
	for k := range m.Tris {
		n := int32(3 * k)
		m.Corner, m.Wrap = append(m.Corner, [3]int32{n, n + 1, n + 2}), append(m.Wrap, [3]int32{n + 5, n + 6, n + 7})
	}
	for k, n := range m.Quads() {
		corners := m.Polygon(int32(k), n)
		if want := map[bool]int{true: 3, false: 4}[n < 0]; len(corners) != want {
			t.Fatalf("triangle %d: %d corners, want %d", k, len(corners), want)
		}
		for _, c := range corners {
			from := c[1] / 3 // the triangle that the look is of
			if from != int32(k) && from != n || c[2] != c[1]+5 || m.Tris[from][c[1]%3] != c[0] {
				t.Errorf("triangle %d: corner %v", k, c)
			}
		}
	}
}
