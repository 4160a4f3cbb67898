package raise

import (
	"math"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// least returns the smallest angle of a triangle of a mesh in degrees.
func least(m *mesh.Mesh, k int) float64 {
	out := 180.0
	for i := range 3 {
		a, b, c := m.Pos(m.Tris[k][i]), m.Pos(m.Tris[k][(i+1)%3]), m.Pos(m.Tris[k][(i+2)%3])
		var dot, u, v float64
		for x := range 3 {
			p, q := float64(b[x]-a[x]), float64(c[x]-a[x])
			dot, u, v = dot+p*q, u+p*p, v+q*q
		}
		out = math.Min(out, math.Acos(math.Max(-1, math.Min(1, dot/math.Sqrt(u*v))))*180/math.Pi)
	}
	return out
}

// TestCapsAreFilledByChoice fills flat sides with points: nearly all triangles get fat, most
// of those in squares pair to quads, the volume stays and neighbours divide their border
// alike.
func TestCapsAreFilledByChoice(t *testing.T) {
	loops := append(square(-30, -20, 30, 20), ringOf(5, 3, 8, -90))
	plain := Form{Depth: 5, Front: bevel(Round, 2, 2, 4)}
	m, err := build(region(t, loops), plain, Plain)
	if err != nil {
		t.Fatal(err)
	}
	volume := mesh.Check(m, false).VolumeMM3
	for _, grid := range []CapGrid{{Spacing: 3}, {Spacing: 3, Square: true}} {
		f := plain
		f.Caps = grid
		m, err := build(region(t, loops), f, Unrolled)
		if err != nil {
			t.Fatal(err)
		}
		rep := mesh.Check(m, true)
		if !rep.Sound() || math.Abs(rep.VolumeMM3-volume) > 1e-3*volume {
			t.Errorf("%+v: %+v, volume was %g", grid, rep, volume)
		}
		caps, thin := 0, 0
		for k, g := range m.Group {
			if g != mesh.Front && g != mesh.Back {
				continue
			}
			caps++
			if least(m, k) < 12 {
				thin++
			}
		}
		if caps < 600 || thin*8 > caps {
			t.Errorf("%+v: %d of %d triangles of the flat sides are thin", grid, thin, caps)
		}
	}
	// Two halves of a plate, cut from each other, go together with their caps filled.
	f := Form{Depth: 4, Caps: CapGrid{Spacing: 2.3}}
	var bodies []Body
	for i, l := range [][]plane.Loop{square(-30, -20, 0, 20), square(0, -20, 30, 20)} {
		bodies = append(bodies, Body{Plans: plansOf(t, l, f), Form: f, Part: int32(i)})
	}
	m, err = Fused(t.Context(), bodies, testStep, Plain)
	if err != nil {
		t.Fatal(err)
	}
	if rep := mesh.Check(m, true); !rep.Sound() || rep.Shells != 1 || math.Abs(rep.VolumeMM3-60*40*4) > 1 {
		t.Errorf("two halves: %+v", rep)
	}
}

// TestCreaseIsChosen shades an eight-sided prism with hard and with soft corners.
func TestCreaseIsChosen(t *testing.T) {
	for crease, hard := range map[float64]bool{0: true, 30: true, 60: false} {
		m, err := build(region(t, []plane.Loop{ringOf(0, 0, 10, 8)}), Form{Depth: 5, Crease: crease}, Shaded)
		if err != nil {
			t.Fatal(err)
		}
		normals := map[[3]float32]bool{}
		for k, g := range m.Group {
			for _, n := range m.Corner[k] {
				if g == mesh.Side {
					v := m.Normals[n]
					for i := range v {
						v[i] = float32(math.Round(float64(v[i]) * 100))
					}
					normals[v] = true
				}
			}
		}
		// Hard: each side has a normal of its own; soft: each corner has one.
		along := normals[[3]float32{92, 38, 0}] || normals[[3]float32{38, 92, 0}]
		if along != hard {
			t.Errorf("crease %g: %v", crease, normals)
		}
	}
}
