package raise

import (
	"math"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// stretch returns how much longer or shorter an edge is in the texture than in space.
func stretch(m *mesh.Mesh, k, i int) float64 {
	t, w := m.Tris[k], m.Wrap[k]
	j := (i + 1) % 3
	a, b := m.Pos(t[i]), m.Pos(t[j])
	var d2 float64
	for c := range 3 {
		d2 += float64(b[c]-a[c]) * float64(b[c]-a[c])
	}
	u, v := m.UV[w[i]], m.UV[w[j]]
	return math.Hypot(float64(v[0]-u[0]), float64(v[1]-u[1])) / math.Sqrt(d2)
}

// TestUnrolledFacesKeepTheirMeasure unrolls solids: flat sides and walls keep every length,
// bevels keep it up to what bends both ways, and nothing is folded over.
func TestUnrolledFacesKeepTheirMeasure(t *testing.T) {
	for name, c := range map[string]struct {
		loops []plane.Loop
		f     Form
		most  float64 // stretch of nine in ten edges of bevels
	}{
		"a box":      {square(-20, -10, 20, 10), Form{Depth: 5, Front: bevel(Chamfer, 2, 2, 1), Back: bevel(Round, 1, 1, 4)}, 1.35},
		"a disc":     {[]plane.Loop{ringOf(0, 0, 20, 200)}, Form{Depth: 5, Front: bevel(Round, 1.5, 1.5, 6)}, 1.1},
		"a ring":     {[]plane.Loop{ringOf(0, 0, 20, 200), ringOf(0, 0, 12, -120)}, Form{Depth: 5, Front: bevel(Ogee, 1, 1, 6)}, 1.12},
		"a blossom":  {blossom(600, 9), Form{Depth: 6, Front: bevel(Cove, 1, 1, 5), Back: bevel(Bead, 1, 1, 4)}, 1.3},
		"all ridges": {square(-30, -2, 30, 2), Form{Depth: 6, Front: bevel(Chamfer, 6, 3, 1)}, 1.6},
	} {
		m, err := build(region(t, c.loops), c.f, Unrolled)
		if err != nil {
			t.Fatal(err)
		}
		var bevels []float64
		for k := range m.Tris {
			for i := range 3 {
				s := stretch(m, k, i)
				switch m.Group[k] {
				case mesh.Front, mesh.Back, mesh.Side:
					if math.Abs(s-1) > 1e-3 {
						t.Fatalf("%s: an edge of the %s is %.4f times as long", name, mesh.Groups[m.Group[k]], s)
					}
				default:
					bevels = append(bevels, math.Max(s, 1/s))
				}
			}
		}
		within := 0
		for _, s := range bevels {
			if s <= c.most {
				within++
			}
		}
		if 10*within < 9*len(bevels) {
			t.Errorf("%s: only %d of %d edges of bevels keep their length within %g", name, within, len(bevels), c.most)
		}
	}
}

// TestNoSeamOnAFace holds that inside a wall or a bevel that runs round smoothly two
// neighbours have the same coordinates in their common corners, but for one seam.
func TestNoSeamOnAFace(t *testing.T) {
	f := Form{Depth: 5, Front: bevel(Round, 1.5, 1.5, 4)}
	m, err := build(region(t, []plane.Loop{ringOf(0, 0, 20, 100)}), f, Unrolled)
	if err != nil {
		t.Fatal(err)
	}
	at := func(k int32, v int32) [2]float32 {
		for i, u := range m.Tris[k] {
			if u == v {
				return m.UV[m.Wrap[k][i]]
			}
		}
		t.Fatal("no such corner")
		return [2]float32{}
	}
	seams := map[mesh.Group]int{}
	for side, o := range mesh.Twins(len(m.Verts), m.Tris) {
		k, n := int32(side)/3, o/3
		if o <= int32(side) || m.Group[k] != m.Group[n] {
			continue
		}
		for _, v := range [2]int32{m.Tris[k][side%3], m.Tris[k][(side%3+1)%3]} {
			a, b := at(k, v), at(n, v)
			if math.Hypot(float64(a[0]-b[0]), float64(a[1]-b[1])) > 0.02 {
				seams[m.Group[k]]++
			}
		}
	}
	// A seam runs across the facets of a band once: two corners each.
	if seams[mesh.Front]+seams[mesh.Back] > 0 || seams[mesh.Side] > 2 || seams[mesh.Bevel] > 2*4+2 {
		t.Errorf("seams: %v", seams)
	}
}
