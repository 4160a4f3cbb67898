package raise

import (
	"context"
	"fmt"
	"runtime"
	"testing"

	"bildhauer/core/plane"
)

// BenchmarkSolid raises one form drawn with more and more nodes.
func BenchmarkSolid(b *testing.B) {
	for _, n := range []int{300, 1000, 10_000, 100_000, 1_000_000} {
		b.Run(fmt.Sprint(n), func(b *testing.B) { benchSolid(b, n, 12) })
	}
}

// BenchmarkComb raises ever narrower teeth, 100 nodes each; from 10,000 nodes
// on they are narrower than two bevels and all of it is ridges.
func BenchmarkComb(b *testing.B) {
	for _, n := range []int{1000, 10_000, 100_000, 1_000_000} {
		b.Run(fmt.Sprint(n), func(b *testing.B) { benchSolid(b, n, float64(n)/100) })
	}
}

func benchSolid(b *testing.B, n int, waves float64) {
	bevel := bevel(Round, 1, 1, 4)
	loops := blossom(n, waves)
	for b.Loop() {
		m, err := build(region(b, loops), Form{Depth: 5, Front: bevel}, Plain)
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(len(m.Tris)), "triangles")
	}
}

// BenchmarkDepthChange lifts a plan of 5,000 nodes anew, on one core.
func BenchmarkDepthChange(b *testing.B) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(1))
	f := Form{Depth: 5, Front: bevel(Round, 1, 1, 4)}
	p, err := NewPlans(context.Background(), region(b, blossom(5000, 50)), f, testStep)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		f.Depth += 0.001
		if _, err := p.Solid(context.Background(), f, testStep, Shaded); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkBevelChange plans and lifts a part of 5,000 nodes for another width, on one
// core.
func BenchmarkBevelChange(b *testing.B) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(1))
	r := region(b, blossom(5000, 50))
	f := Form{Depth: 5, Front: bevel(Round, 1, 1, 4)}
	for b.Loop() {
		f.Front.Width += 0.001
		if _, err := build(r, f, Shaded); err != nil {
			b.Fatal(err)
		}
	}
}

// TestTrianglesAreNotWasted simplifies solids by as much as heights may be off anyway:
// what goes then was not needed.
func TestTrianglesAreNotWasted(t *testing.T) {
	for name, loops := range map[string][]plane.Loop{
		"blossom": blossom(600, 12), "comb": blossom(1200, 40), "letter": alphabet(t)[6],
	} {
		b := bevel(Round, 1.5, 1.5, 4)
		m, err := build(region(t, loops), Form{Depth: 5, Front: b}, Plain)
		if err != nil {
			t.Fatal(err)
		}
		had := len(m.Tris)
		m.Simplify(ridgeTol*b.Width, 0)
		if float64(had) > 1.3*float64(len(m.Tris)) {
			t.Errorf("%s: %d triangles, %d would do", name, had, len(m.Tris))
		}
		t.Logf("%s: %d triangles, %.3f times what is needed", name, had, float64(had)/float64(len(m.Tris)))
	}
}
