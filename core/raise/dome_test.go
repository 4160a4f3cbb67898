package raise

import (
	"context"
	"fmt"
	"math"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// TestDomesHaveTheirHeight compares domes with what the equation gives by hand: half a
// ball over a disc, half an ellipse across a long strip, an ellipsoid over an ellipse.
func TestDomesHaveTheirHeight(t *testing.T) {
	oval := ringOf(0, 0, 20, 240)
	for i := range oval {
		oval[i].Y /= 2
	}
	disc := func(x, y float64) float64 { return math.Sqrt(math.Max(0, 1-(x*x+y*y)/400)) }
	for name, c := range map[string]struct {
		loops []plane.Loop
		want  func(x, y float64) float64 // share of the height
		from  float64                    // the middle part that is looked at, mm
	}{
		"disc":  {[]plane.Loop{ringOf(0, 0, 20, 240)}, disc, 20},
		"oval":  {[]plane.Loop{oval}, func(x, y float64) float64 { return disc(x, 2*y) }, 20},
		"strip": {square(-60, -5, 60, 5), func(_, y float64) float64 { return math.Sqrt(math.Max(0, 1-y*y/25)) }, 45},
	} {
		for _, segments := range []int{4, 8} {
			p := plansOf(t, c.loops, Form{Depth: 10, Front: bevel(Dome, 1, 5, segments)}).Front
			var sum, n, worst float64
			for v, q := range p.Pts {
				x, y := float64(q.X)*testStep, float64(q.Y)*testStep
				if math.Abs(x) > c.from {
					continue
				}
				e := math.Abs(float64(p.Dome[v]) - c.want(x, y))
				sum, n, worst = sum+e*e, n+1, math.Max(worst, e)
			}
			if rms := math.Sqrt(sum / n); rms > 0.012 || worst > 0.05 {
				t.Errorf("%s, %d segments: heights off by %.4f rms, %.4f at most", name, segments, rms, worst)
			}
		}
	}
	m, err := build(region(t, []plane.Loop{ringOf(0, 0, 20, 240)}), Form{Depth: 8, Front: bevel(Dome, 1, 6, 8)}, Plain)
	if err != nil {
		t.Fatal(err)
	}
	rep := mesh.Check(m, true)
	if want := math.Pi * 400 * (2 + 6*2.0/3); !rep.Sound() || math.Abs(rep.VolumeMM3-want) > 0.01*want {
		t.Errorf("%+v, want volume %.0f", rep, want)
	}
}

// TestDomesAreSmooth compares how far normals lie apart along the edges of a pillow and
// of a dome over an L, away from its outline.
func TestDomesAreSmooth(t *testing.T) {
	angle := []plane.Loop{{mm(-20, -20), mm(20, -20), mm(20, -8), mm(-4, -8), mm(-4, 20), mm(-20, 20)}}
	sharpest := func(p Profile) float64 {
		m, err := build(region(t, angle), Form{Depth: 8, Front: bevel(p, 1, 6, 8)}, Shaded)
		if err != nil {
			t.Fatal(err)
		}
		checkNormals(t, m)
		least := 1.0
		first := map[[2]int32]int{}
		for k, tri := range m.Tris {
			if m.Group[k] != mesh.Bevel {
				continue
			}
			for i := range 3 {
				a, b := tri[i], tri[(i+1)%3]
				o, met := first[[2]int32{b, a}]
				first[[2]int32{a, b}] = k
				if !met || m.Pos(a)[2] < 4 || m.Pos(b)[2] < 4 {
					continue
				}
				least = math.Min(least, cosBetween(flatNormal(m, k), flatNormal(m, o)))
			}
		}
		return math.Acos(least) * 180 / math.Pi
	}
	if dome, pillow := sharpest(Dome), sharpest(Pillow); dome > 35 || pillow < 40 {
		t.Errorf("edges up to %.0f degrees on a dome, %.0f on a pillow", dome, pillow)
	}
}

func flatNormal(m *mesh.Mesh, k int) (n [3]float64) {
	a, b, c := m.Pos(m.Tris[k][0]), m.Pos(m.Tris[k][1]), m.Pos(m.Tris[k][2])
	for i := range 3 {
		j, l := (i+1)%3, (i+2)%3
		n[i] = float64(b[j]-a[j])*float64(c[l]-a[l]) - float64(b[l]-a[l])*float64(c[j]-a[j])
	}
	return n
}

func cosBetween(a, b [3]float64) float64 {
	dot := func(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
	return math.Max(-1, math.Min(1, dot(a, b)/math.Sqrt(dot(a, a)*dot(b, b))))
}

// TestEveryDomeIsSound raises nasty outlines and letters as domes.
func TestEveryDomeIsSound(t *testing.T) {
	abc := alphabet(t)
	for i := range howMany(24, 4) {
		name, loops := nasty(i)
		if i%2 == 0 {
			name, loops = "letter", abc[(i*5)%len(abc)]
		}
		t.Run(fmt.Sprint(i, name), func(t *testing.T) {
			t.Parallel()
			f := Form{Depth: 5, Front: bevel(Dome, 1, 4, 1+i%8)}
			if i%3 == 0 {
				f.Back = bevel([]Profile{Dome, Pillow, Step}[i%9/3], 1, 2, 3)
			}
			p, err := NewPlans(context.Background(), region(t, loops), f, testStep)
			if err != nil {
				t.Fatal(err)
			}
			m, err := p.Solid(t.Context(), f, testStep, Finish(i%3))
			if err != nil {
				t.Fatal(err)
			}
			if rep := mesh.Check(m, true); len(m.Tris) > 0 && !rep.Sound() {
				t.Errorf("%+v", rep)
			}
		})
	}
}

// TestVaultsFollowTheirDome measures walls below domes where the answer is known: over a disc with half a ball,
// the vault is a ball that is smaller by the wall; and where the wall leaves no room, that is told.
func TestVaultsFollowTheirDome(t *testing.T) {
	const wall = 3.0
	disc := []plane.Loop{ringOf(0, 0, 20, 240)}
	f := Form{Depth: 20.5, Wall: wall, Front: bevel(Dome, 1, 20, 24)}
	p := plansOf(t, disc, f)
	m, err := p.Solid(t.Context(), f, testStep, Shaded)
	if err != nil {
		t.Fatal(err)
	}
	checkLeaning(t, m)
	within := 20 - wall
	want := math.Pi*(400*0.5+2.0/3*8000) - math.Pi*(within*within*0.5+2.0/3*within*within*within)
	if rep := mesh.Check(m, true); !rep.Sound() || math.Abs(rep.VolumeMM3-want) > 0.02*want {
		t.Errorf("%+v, want %.0f mm3", rep, want)
	}
	for _, v := range m.Verts {
		x, y, z := float64(v[0])*testStep, float64(v[1])*testStep, float64(v[2])*testStep
		r := math.Sqrt(x*x + y*y + (z-0.5)*(z-0.5))
		if z > 4 && math.Abs(r-20) > 0.25 && math.Abs(r-within) > 0.25 {
			t.Fatalf("a point lies %.2f mm from the middle, neither on the dome nor on the vault: %.1f, %.1f, %.1f", r, x, y, z)
		}
	}
	if p.Massive(t.Context(), f, testStep) {
		t.Error("there is room")
	}
	if f.Wall, f.Depth, f.Front.Height = 3, 3, 2; !p.Massive(t.Context(), f, testStep) {
		t.Error("a wall as thick as the part leaves room")
	}
}
