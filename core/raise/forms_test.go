package raise

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// wave is a custom profile with risers, bends both ways and a stretch downward.
var wave = []Knot{{0, 0.2, 0}, {0.3, 0.8, 1}, {0.3, 1, 0}, {0.6, 0.5, -1}, {0.8, 0.5, 0}, {1, 0.9, 0.5}}

// someForm returns form number i of a set that has every choice with every other.
func someForm(r *rand.Rand) Form {
	rim := func() Bevel {
		b := bevel(Profiles[r.IntN(len(Profiles))], 0.2*math.Pow(40, r.Float64()), 0.2+4*r.Float64(), 1+r.IntN(6))
		b.Mitred = r.IntN(4) == 0
		if b.Profile == Custom {
			b.Curve = wave
		}
		if r.IntN(5) == 0 {
			b.Width = 0
		}
		return b
	}
	f := Form{Depth: 2 + 6*r.Float64(), Base: 4*r.Float64() - 2, Front: rim(), Back: rim(), Outward: r.IntN(3) == 0}
	if r.IntN(3) == 0 {
		f.Back = f.Front
	}
	if r.IntN(4) == 0 {
		f.Wall = 0.05 + 2*r.Float64()
		f.Frame = r.IntN(3) == 0
	}
	return f
}

// TestEveryFormIsSound raises nasty outlines in forms drawn from all profiles, both
// sides, inward and outward, solid and hollow.
func TestEveryFormIsSound(t *testing.T) {
	count := howMany(60, 2)
	abc := alphabet(t)
	for i := range count {
		if i == 4 && count == 60 {
			continue // it takes five seconds: make bench has it
		}
		t.Run(fmt.Sprint(i), func(t *testing.T) {
			t.Parallel()
			r := rand.New(rand.NewPCG(uint64(i), 5))
			name, loops := nasty(i)
			if i%3 == 0 {
				name, loops = "letter", abc[(i*7)%len(abc)]
			}
			f := someForm(r)
			m, err := build(region(t, loops), f, Finish(i%3))
			if err != nil {
				t.Fatalf("%s %+v: %v", name, f, err)
			}
			rep := mesh.Check(m, true)
			if len(m.Tris) > 0 && !rep.Sound() {
				t.Errorf("%s %+v: %+v", name, f, rep)
			}
			if Finish(i%3) >= Shaded {
				checkLeaning(t, m)
			}
		})
	}
}

// TestFormsHaveTheirVolume compares solids on a square of 20 mm with integrals worked
// out by hand.
func TestFormsHaveTheirVolume(t *testing.T) {
	ledge := []Knot{{0, 0.5, 0}, {0.5, 0.5, 0}, {0.5, 1, 0}, {1, 1, 0}}
	straight := func(f float64) float64 { return f }
	box := []plane.Loop{{mm(-10, -10), mm(10, -10), mm(10, 10), mm(-10, 10)}}
	// What lies over a square whose side falls by 2x on the way, where the profile is
	// the inverse of x: the integral of side^2 df.
	over := func(side, width float64, t func(f float64) float64) float64 {
		sum := 0.0
		const n = 20000
		for i := range n {
			s := side - 2*width*t((float64(i)+0.5)/n)
			sum += s * s / n
		}
		return sum
	}
	fine := func(p Profile) Bevel { return bevel(p, 4, 2, 24) }
	for _, c := range []struct {
		name string
		f    Form
		want float64
	}{
		{"round", Form{Depth: 5, Front: fine(Round)}, 1200 + 2*over(20, 4, func(f float64) float64 { return 1 - math.Sqrt(1-f*f) })},
		{"cove", Form{Depth: 5, Front: fine(Cove)}, 1200 + 2*over(20, 4, func(f float64) float64 { return math.Sqrt(1 - (1-f)*(1-f)) })},
		{"steps", Form{Depth: 5, Front: bevel(Step, 4, 2, 4)}, 1200 + 0.5*(18*18+16*16+14*14+12*12)},
		{"custom", Form{Depth: 5, Front: Bevel{Profile: Custom, Width: 4, Height: 2, Segments: 4, Curve: ledge}}, 1200 + 400 + 16*16},
		{
			"two sides", Form{Depth: 8, Front: fine(Chamfer), Back: bevel(Chamfer, 2, 3, 1)},
			1200 + 2*over(20, 4, straight) + 3*over(20, 2, straight),
		},
		// Outward, a square grows round corners; its walls stand 4 mm outside.
		{"outward", Form{Depth: 5, Front: fine(Chamfer), Outward: true, Fine: 0.01}, 3*(400+4*20*4+math.Pi*16) + 2*(400+4*20*2+math.Pi*16/3)},
		{"hollow", Form{Depth: 5, Wall: 1}, 2000 - 18*18*4},
		{"open at both ends", Form{Depth: 5, Wall: 1, Frame: true}, (400 - 18*18) * 5},
		{"hollow below a bevel", Form{Depth: 5, Wall: 6, Front: fine(Chamfer)}, 1200 + 2*over(20, 4, func(f float64) float64 { return f })},
	} {
		m, err := build(region(t, box), c.f, Unrolled)
		if err != nil {
			t.Fatal(err)
		}
		rep := mesh.Check(m, true)
		if !rep.Sound() || math.Abs(rep.VolumeMM3-c.want) > c.want*2e-3 {
			t.Errorf("%s: %+v, want volume %g", c.name, rep, c.want)
		}
		checkNormals(t, m)
	}
}

// TestWallsOfHollowPartsAreThick measures the section of hollow parts: nowhere is the
// ceiling nearer to the front than the wall is thick.
func TestWallsOfHollowPartsAreThick(t *testing.T) {
	disc := []plane.Loop{ringOf(0, 0, 30, 300)}
	for _, p := range []Profile{Chamfer, Round, Cove, Ogee, Step} {
		f := Form{Depth: 12, Front: bevel(p, 9, 7, 8), Wall: 2}
		plans, err := NewPlans(t.Context(), region(t, disc), f, testStep)
		if err != nil {
			t.Fatal(err)
		}
		front, back := plans.surfaces(t.Context(), &f, testStep, Plain)
		least := math.Inf(1)
		for v := range back.Z {
			b := back.Pts[back.point(int32(v))]
			z := float64(back.Z[v]) * testStep
			if z < 0.01 {
				continue
			}
			rb := math.Hypot(float64(b.X), float64(b.Y)) * testStep
			for u := range front.Z {
				a := front.Pts[front.point(int32(u))]
				ra := math.Hypot(float64(a.X), float64(a.Y)) * testStep
				least = math.Min(least, math.Hypot(ra-rb, float64(front.Z[u])*testStep-z))
			}
		}
		if least < 1.97 || least > 2.2 {
			t.Errorf("%s: the wall is %.3f mm thick at its thinnest, want 2", p, least)
		}
	}
}

// TestOpenSidesAreBorders drops caps: the border is as long as the outline.
func TestOpenSidesAreBorders(t *testing.T) {
	loops := blossom(200, 7)
	for _, f := range []Form{
		{Depth: 5, Front: bevel(Round, 1, 1, 3), OpenFront: true},
		{Depth: 5, Front: bevel(Round, 1, 1, 3), OpenBack: true},
		{Depth: 5, OpenFront: true, OpenBack: true},
	} {
		m, err := build(region(t, loops), f, Unrolled)
		if err != nil {
			t.Fatal(err)
		}
		rep := mesh.Check(m, true)
		if !rep.Sound() || rep.Watertight() || rep.Boundary < 150 || rep.Crowded+rep.Misoriented+rep.Crossing > 0 || !m.Open {
			t.Errorf("%+v: %+v", f, rep)
		}
		// Beside a closed one it stays open.
		bodies := []Body{{Plans: plansOf(t, loops, f), Form: f}, {Plans: plansOf(t, square(60, 0, 70, 10), Form{Depth: 5}), Form: Form{Depth: 5}, Part: 1}}
		fused, err := Fused(t.Context(), bodies, testStep, Plain)
		if err != nil {
			t.Fatal(err)
		}
		if got := mesh.Check(fused, true); !got.Sound() || got.Boundary != rep.Boundary || got.Triangles != rep.Triangles+12 {
			t.Errorf("%+v: fused %+v, alone %+v", f, got, rep)
		}
	}
}

// TestMitredInnerCorners holds that a chamfer that goes round an inner corner as two planes
// leaves what two planes leave, inward and outward.
func TestMitredInnerCorners(t *testing.T) {
	// An L of 20 by 20 mm, 10 mm wide, and a square.
	ell := []plane.Loop{{mm(-10, -10), mm(10, -10), mm(10, 0), mm(0, 0), mm(0, 10), mm(-10, 10)}}
	chamfer := bevel(Chamfer, 3, 3, 1)
	chamfer.Mitred = true
	for _, c := range []struct {
		name  string
		loops []plane.Loop
		f     Form
		want  float64
	}{
		// At height h the L has lost 80 h of its border, less what corners share: each of
		// five outer ones h*h, and the inner one as much in addition.
		{"inward", ell, Form{Depth: 5, Front: chamfer}, 300*2 + (300*3 - 80*9/2.0 + 4*9)},
		{"outward", square(-10, -10, 10, 10), Form{Depth: 5, Front: chamfer, Outward: true}, 26*26*2 + (26*26+20*20+26*20)/3.0*3},
	} {
		m, err := build(region(t, c.loops), c.f, Shaded)
		if err != nil {
			t.Fatal(err)
		}
		rep := mesh.Check(m, true)
		if !rep.Sound() || math.Abs(rep.VolumeMM3-c.want) > 1e-3*c.want {
			t.Errorf("%s: %+v, want volume %g", c.name, rep, c.want)
		}
		round := c.f
		round.Front.Mitred = false
		m, _ = build(region(t, c.loops), round, Plain)
		if other := mesh.Check(m, false).VolumeMM3; math.Abs(other-rep.VolumeMM3) < 1 {
			t.Errorf("%s: round corners give the same volume, %g", c.name, other)
		}
	}
}

// TestNarrowPlacesAreTold finds where a bridge is too narrow for its bevel, and nothing
// where there is room.
func TestNarrowPlacesAreTold(t *testing.T) {
	r, err := plane.Fill(append(square(-20, -1, 20, 1), ringOf(-20, 0, 10, 90), ringOf(20, 0, 10, 90)), plane.NonZero)
	if err != nil {
		t.Fatal(err)
	}
	f := Form{Depth: 6, Front: bevel(Chamfer, 2, 2, 1)}
	p, err := NewPlans(t.Context(), r, f, testStep)
	if err != nil {
		t.Fatal(err)
	}
	wide, spots := p.Narrow(f, testStep, 100)
	if math.Abs(wide-2) > 1e-3 || len(spots) == 0 || len(spots) > 100 {
		t.Errorf("%g mm wide, %d spots", wide, len(spots))
	}
	for _, s := range spots {
		if math.Abs(s[0]) > 12.5 || math.Abs(s[1]) > 0.8 || s[2] < 3.9 || s[2] > 6 {
			t.Errorf("a spot at %v", s)
		}
	}
	f.Front.Width = 0.5
	p, _ = NewPlans(t.Context(), r, f, testStep)
	if wide, spots := p.Narrow(f, testStep, 100); wide != 0.5 || len(spots) != 0 {
		t.Errorf("with room: %g mm wide, %d spots", wide, len(spots))
	}
}
