package raise

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// TestSimplifiedSolids drops vertices within a tolerance and down to a count: what is left
// is sound, as large as before but for the tolerance, has the same outline and the same
// lines between face groups, and normals that lean to their own side.
func TestSimplifiedSolids(t *testing.T) {
	r := []plane.Loop{ringOf(0, 0, 20, 200), ringOf(4, 2, 6, -90)}
	for name, c := range map[string]struct {
		loops []plane.Loop
		f     Form
	}{
		"a disc":    {r, Form{Depth: 6, Front: bevel(Round, 3, 3, 12)}},
		"two sides": {r, Form{Depth: 8, Front: bevel(Ogee, 2, 2, 10), Back: bevel(Round, 1, 1, 8)}},
		"spikes":    {blossom(400, 20), Form{Depth: 6, Front: bevel(Chamfer, 6, 4, 1)}},
		"a pillow":  {blossom(400, 7), Form{Depth: 9, Front: Bevel{Profile: Pillow, Height: 5, Segments: 12}}},
		"a grid":    {square(-20, -20, 20, 20), Form{Depth: 4, Front: bevel(Round, 1, 1, 4), Caps: CapGrid{Spacing: 2}}},
	} {
		whole, err := build(region(t, c.loops), c.f, Unrolled)
		if err != nil {
			t.Fatal(err)
		}
		before := mesh.Check(whole, false)
		last := before.Triangles
		for _, tol := range []float64{0.002, 0.02, 0.1} {
			m, _ := build(region(t, c.loops), c.f, Unrolled)
			m.Simplify(tol, 0)
			rep := mesh.Check(m, true)
			if !rep.Sound() || math.Abs(rep.VolumeMM3-before.VolumeMM3) > tol*before.AreaMM2 {
				t.Errorf("%s within %g mm: %+v, was %+v", name, tol, rep, before)
			}
			if rep.Triangles > last {
				t.Errorf("%s within %g mm: %d triangles after %d", name, tol, rep.Triangles, last)
			}
			last = rep.Triangles
			checkNormals(t, m)
			if far := farthest(whole, m, 100); far > tol {
				t.Errorf("%s within %g mm: the surface has moved by %g mm", name, tol, far)
			}
			if a, b := outlineOf(whole), outlineOf(m); !slices.Equal(a, b) {
				t.Errorf("%s within %g mm: the walls have changed", name, tol)
			}
		}
		if name == "a grid" && last > before.Triangles/2 {
			t.Errorf("%s: %d triangles of %d are left, though flat sides need none of their points", name, last, before.Triangles)
		}
		target := before.Triangles * 3 / 4
		m, _ := build(region(t, c.loops), c.f, Plain)
		m.Simplify(2, target)
		if rep := mesh.Check(m, true); !rep.Sound() || rep.Triangles > target+2 {
			t.Errorf("%s down to %d triangles: %+v", name, target, rep)
		}
	}
}

// outlineOf returns the places of all walls, sorted.
func outlineOf(m *mesh.Mesh) []plane.Point {
	var out []plane.Point
	for k, g := range m.Group {
		if g == mesh.Side {
			for _, v := range m.Tris[k] {
				out = append(out, plane.Point{X: m.Verts[v][0], Y: m.Verts[v][1]})
			}
		}
	}
	slices.SortFunc(out, func(a, b plane.Point) int {
		if a.Less(b) {
			return -1
		}
		return 1
	})
	return slices.Compact(out)
}

// TestSimplifyingIsTheSameEveryTime drops the same vertices in every run.
func TestSimplifyingIsTheSameEveryTime(t *testing.T) {
	var first *mesh.Mesh
	for range 3 {
		m, err := build(region(t, blossom(300, 11)), Form{Depth: 6, Front: bevel(Round, 4, 4, 8)}, Plain)
		if err != nil {
			t.Fatal(err)
		}
		m.Simplify(0.05, 0)
		if first == nil {
			first = m
		} else if !slices.Equal(first.Tris, m.Tris) {
			t.Fatal("another run gave other triangles")
		}
	}
}

// farthest returns how far, in mm, places of either of two meshes are from the other one.
func farthest(a, b *mesh.Mesh, places int) (far float64) {
	rnd := rand.New(rand.NewPCG(7, 7))
	for _, m := range [][2]*mesh.Mesh{{a, b}, {b, a}} {
		for range places {
			t := m[0].Tris[rnd.IntN(len(m[0].Tris))]
			u, v := rnd.Float64(), rnd.Float64()
			if u+v > 1 {
				u, v = 1-u, 1-v
			}
			var p [3]float64
			for d := range p {
				p[d] = (1-u-v)*float64(m[0].Verts[t[0]][d]) + u*float64(m[0].Verts[t[1]][d]) + v*float64(m[0].Verts[t[2]][d])
			}
			least := math.Inf(1)
			for _, o := range m[1].Tris {
				beyond := false
				for d := range p {
					x, y, z := float64(m[1].Verts[o[0]][d]), float64(m[1].Verts[o[1]][d]), float64(m[1].Verts[o[2]][d])
					beyond = beyond || p[d]-max(x, y, z) > least || min(x, y, z)-p[d] > least
				}
				if beyond {
					continue
				}
				least = math.Min(least, away(p, m[1], o))
			}
			far = math.Max(far, least*m[0].Step)
		}
	}
	return far
}

// away returns how far p is from a triangle: from its plane, if its foot lies in it, else from its edges.
func away(p [3]float64, m *mesh.Mesh, t [3]int32) float64 {
	type vec = [3]float64
	minus := func(a, b vec) vec { return vec{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }
	dot := func(a, b vec) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
	cross := func(a, b vec) vec { return vec{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]} }
	var c [3]vec
	for i, v := range t {
		for d, x := range m.Verts[v] {
			c[i][d] = float64(x)
		}
	}
	n := cross(minus(c[1], c[0]), minus(c[2], c[0]))
	within, least := true, math.Inf(1)
	for i := range c {
		a, e := c[i], minus(c[(i+1)%3], c[i])
		within = within && dot(cross(e, minus(p, a)), n) >= 0
		k := math.Max(0, math.Min(1, dot(minus(p, a), e)/dot(e, e)))
		w := minus(minus(p, a), vec{k * e[0], k * e[1], k * e[2]})
		least = math.Min(least, dot(w, w))
	}
	if within {
		return math.Abs(dot(minus(p, c[0]), n)) / math.Sqrt(dot(n, n))
	}
	return math.Sqrt(least)
}
