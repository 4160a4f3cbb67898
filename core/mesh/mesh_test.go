package mesh

import (
	"math"
	"math/rand/v2"
	"testing"
)

// cube returns a box of 2 by 2 by 2 units with its corner at the given place.
func cube(m *Mesh, x, y, z int32) {
	n := int32(len(m.Verts))
	for i := range int32(8) {
		m.Verts = append(m.Verts, [3]int32{x + 2*(i&1), y + 2*(i>>1&1), z + 2*(i>>2)})
	}
	for _, q := range [6][4]int32{{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}} {
		m.Tris = append(
			m.Tris,
			[3]int32{n + q[0], n + q[1], n + q[2]},
			[3]int32{n + q[0], n + q[2], n + q[3]},
		)
	}
	m.Group = make([]Group, len(m.Tris))
}

func TestCheckFindsEachKindOfFault(t *testing.T) {
	sound := func() *Mesh {
		m := &Mesh{Step: 0.5}
		cube(m, 0, 0, 0)
		cube(m, 10, 0, 0)
		return m
	}
	if r := Check(sound(), true); !r.Sound() || r.Shells != 2 || r.VolumeMM3 != 2 || r.AreaMM2 != 12 {
		t.Fatalf("two cubes: %+v", r)
	}
	cavity := sound()
	large(cavity, 20, 5, 1)
	large(cavity, 21, 2, -1)
	if r := Check(cavity, true); !r.Sound() || r.Shells != 4 {
		t.Fatalf("a cube with a cavity: %+v", r)
	}
	for _, c := range []struct {
		name  string
		spoil func(*Mesh)
		found func(Report) int
	}{
		{"hole", func(m *Mesh) { m.Tris = m.Tris[1:] }, func(r Report) int { return r.Boundary }},
		{"third face", func(m *Mesh) {
			m.Verts = append(m.Verts, [3]int32{-3, -3, -3})
			m.Tris = append(m.Tris, [3]int32{0, 1, 16})
		}, func(r Report) int { return r.Crowded }},
		{"turned triangle", func(m *Mesh) { m.Tris[0][0], m.Tris[0][1] = m.Tris[0][1], m.Tris[0][0] }, func(r Report) int { return r.Misoriented }},
		{"triangle without area", func(m *Mesh) { m.Verts[7] = m.Verts[3] }, func(r Report) int { return r.ZeroArea }},
		{"cubes that overlap", func(m *Mesh) { cube(m, 1, 1, 1) }, func(r Report) int { return r.Crossing }},
		{"cubes that touch in a face", func(m *Mesh) { cube(m, 2, 0, 0) }, func(r Report) int { return r.Crossing }},
		{"cubes that touch in an edge", func(m *Mesh) { cube(m, 2, 2, 0) }, func(r Report) int { return r.Crossing }},
		{"a cube inside out", func(m *Mesh) { large(m, 20, 3, 1); large(m, 30, 1, -1) }, func(r Report) int { return r.Inverted }},
		{"and one beside a cavity", func(m *Mesh) { large(m, 20, 5, 1); large(m, 21, 1, -1); large(m, 40, 1, -1) }, func(r Report) int { return r.Inverted }},
		{"cubes that touch in a corner", func(m *Mesh) {
			cube(m, 12, 2, 2) // its first corner is the last one of the second cube
			for k := range m.Tris {
				for i, v := range m.Tris[k] {
					if v == 16 {
						m.Tris[k][i] = 15
					}
				}
			}
			if m.Verts[15] != m.Verts[16] {
				panic(m.Verts[15])
			}
		}, func(r Report) int { return r.Pinched }},
		{"a corner pushed through", func(m *Mesh) { m.Verts[7] = [3]int32{-5, 1, 1} }, func(r Report) int { return r.Crossing }},
	} {
		m := sound()
		c.spoil(m)
		r := Check(m, true)
		if r.Sound() || c.found(r) == 0 {
			t.Errorf("%s not found: %+v", c.name, r)
		}
		for _, atOnce := range []int32{1, 7, 40} { // however few sides are looked at in one go
			few := Report{}
			if few.countFans(t.Context(), m, atOnce); few.Pinched != r.Pinched {
				t.Errorf("%s: %d pinches with %d sides at once, %d with all", c.name, few.Pinched, atOnce, r.Pinched)
			}
		}
	}
}

// large adds a cube of n times 2 units, inside out with side -1.
func large(m *Mesh, at, n int32, side int) {
	from := len(m.Verts)
	tris := len(m.Tris)
	cube(m, at, at, at)
	for i := range m.Verts[from:] {
		for d := range 3 {
			m.Verts[from+i][d] = at + n*(m.Verts[from+i][d]-at)
		}
	}
	for k := tris; side < 0 && k < len(m.Tris); k++ {
		m.Tris[k][0], m.Tris[k][1] = m.Tris[k][1], m.Tris[k][0]
	}
}

// TestCrossingsAgainstSampling compares the exact test of two triangles with
// a search for a common point in floating point.
func TestCrossingsAgainstSampling(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 20000 {
		m := &Mesh{Step: 1}
		for range 6 {
			m.Verts = append(m.Verts, [3]int32{r.Int32N(9), r.Int32N(9), r.Int32N(9)})
		}
		m.Tris = [][3]int32{{0, 1, 2}, {3, 4, 5}}
		if Check(m, false).ZeroArea > 0 {
			continue
		}
		got := trianglesCross(m, m.Tris[0], m.Tris[1])
		gap := distance(m)
		if got && gap > 0.3 || !got && gap < 1e-9 && !touching(m) {
			t.Fatalf("crossing %v, but the triangles are %g apart: %v", got, gap, m.Verts)
		}
	}
}

// touching reports whether all six points lie in one plane, where triangles
// that only touch do not count as crossing.
func touching(m *Mesh) bool {
	for i := 3; i < 6; i++ {
		if orient3(m.Verts[0], m.Verts[1], m.Verts[2], m.Verts[i]) != 0 {
			return false
		}
	}
	return true
}

// distance estimates how near two triangles come by alternating projections.
func distance(m *Mesh) float64 {
	pt := func(i int) [3]float64 {
		v := m.Verts[i]
		return [3]float64{float64(v[0]), float64(v[1]), float64(v[2])}
	}
	a, b := [3][3]float64{pt(0), pt(1), pt(2)}, [3][3]float64{pt(3), pt(4), pt(5)}
	p := a[0]
	d := math.Inf(1)
	for range 400 {
		q := closest(b, p)
		p = closest(a, q)
		d = math.Hypot(math.Hypot(p[0]-q[0], p[1]-q[1]), p[2]-q[2])
		if d < 1e-10 {
			break
		}
	}
	return d
}

// closest returns the point of triangle t nearest to p (Ericson, Real-Time
// Collision Detection, 5.1.5).
func closest(t [3][3]float64, p [3]float64) [3]float64 {
	sub := func(a, b [3]float64) [3]float64 { return [3]float64{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }
	dot := func(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
	at := func(v, w float64) [3]float64 {
		ab, ac := sub(t[1], t[0]), sub(t[2], t[0])
		return [3]float64{
			t[0][0] + v*ab[0] + w*ac[0],
			t[0][1] + v*ab[1] + w*ac[1],
			t[0][2] + v*ab[2] + w*ac[2],
		}
	}
	ab, ac := sub(t[1], t[0]), sub(t[2], t[0])
	ap, bp, cp := sub(p, t[0]), sub(p, t[1]), sub(p, t[2])
	d1, d2, d3, d4, d5, d6 := dot(ab, ap), dot(ac, ap), dot(ab, bp), dot(ac, bp), dot(ab, cp), dot(ac, cp)
	va, vb, vc := d3*d6-d5*d4, d5*d2-d1*d6, d1*d4-d3*d2
	switch {
	case d1 <= 0 && d2 <= 0:
		return t[0]
	case d3 >= 0 && d4 <= d3:
		return t[1]
	case d6 >= 0 && d5 <= d6:
		return t[2]
	case vc <= 0 && d1 >= 0 && d3 <= 0:
		return at(d1/(d1-d3), 0)
	case vb <= 0 && d2 >= 0 && d6 <= 0:
		return at(0, d2/(d2-d6))
	case va <= 0 && d4 >= d3 && d5 >= d6:
		w := (d4 - d3) / ((d4 - d3) + (d5 - d6))
		return at(1-w, w)
	}
	n := 1 / (va + vb + vc)
	return at(vb*n, vc*n)
}

// TestUprightProof holds that the proof takes cubes and nothing that crosses.
func TestUprightProof(t *testing.T) {
	m := &Mesh{Step: 1}
	cube(m, 0, 0, 0)
	cube(m, 5, 0, 0)
	if !upright(t.Context(), m) {
		t.Error("two cubes apart not proved")
	}
	for _, at := range [][3]int32{{1, 1, 1}, {2, 0, 0}, {2, 2, 0}, {0, 0, 2}, {1, 0, 5}} {
		m := &Mesh{Step: 1}
		cube(m, 0, 0, 0)
		cube(m, at[0], at[1], at[2])
		if upright(t.Context(), m) {
			t.Errorf("proved a second cube at %v", at)
		}
	}
	r := rand.New(rand.NewPCG(3, 4))
	proved := 0
	for range 3000 { // cubes with corners moved about
		m := &Mesh{Step: 1}
		cube(m, 0, 0, 0)
		cube(m, 3, 0, 0)
		for i := range m.Verts {
			for a := range 3 {
				m.Verts[i][a] = m.Verts[i][a]*4 + r.Int32N(5) - 2
			}
			if r.IntN(2) == 0 { // half of them over each other, as raised solids are
				m.Verts[i][0], m.Verts[i][1] = m.Verts[i&^4][0], m.Verts[i&^4][1]
			}
		}
		if rep := Check(m, false); rep.Watertight() && upright(t.Context(), m) {
			proved++
			if n := Crossings(m, 1); n > 0 {
				t.Fatalf("proved a mesh with a crossing: %v", m.Verts)
			}
		}
	}
	if proved == 0 {
		t.Error("no moved cube was proved")
	}
}
