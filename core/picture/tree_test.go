package picture

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/geom"
)

// cloud returns triangles of all sizes strewn about the origin.
func cloud(r *rand.Rand, n int) [][3]geom.Vec3 {
	out := make([][3]geom.Vec3, n)
	at := func(s float64) geom.Vec3 {
		return geom.Vec3{X: s * r.NormFloat64(), Y: s * r.NormFloat64(), Z: s * r.NormFloat64()}
	}
	for i := range out {
		p, size := at(50), math.Pow(10, 2*r.Float64()-0.5)
		out[i] = [3]geom.Vec3{p, p.Add(at(size)), p.Add(at(size))}
	}
	return out
}

// ball returns a closed mesh around the origin.
func ball(n int) [][3]geom.Vec3 {
	at := func(i, j int) geom.Vec3 {
		a, b := math.Pi*float64(i)/float64(n), 2*math.Pi*float64(j%(2*n))/float64(2*n)
		if i == 0 || i == n {
			b = 0
		}
		return geom.Vec3{X: math.Sin(a) * math.Cos(b), Y: math.Sin(a) * math.Sin(b), Z: math.Cos(a)}.Times(30)
	}
	var out [][3]geom.Vec3
	for i := range n {
		for j := range 2 * n {
			p, q, s, t := at(i, j), at(i+1, j), at(i+1, j+1), at(i, j+1)
			if i+1 < n {
				out = append(out, [3]geom.Vec3{p, q, s})
			}
			if i > 0 {
				out = append(out, [3]geom.Vec3{p, s, t})
			}
		}
	}
	return out
}

func someRay(r *rand.Rand) Ray {
	at := func(s float64) geom.Vec3 {
		return geom.Vec3{X: s * r.NormFloat64(), Y: s * r.NormFloat64(), Z: s * r.NormFloat64()}
	}
	return Ray{From: at(60), Dir: at(1).Unit(), Far: math.Inf(1)}
}

// TestRaysMeetWhatIsThere compares the tree with trying every triangle.
func TestRaysMeetWhatIsThere(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for _, n := range []int{0, 1, 3, 5, 40, 3000} {
		tris := cloud(r, n)
		tree := NewTree(tris)
		met := 0
		for range 800 {
			ray := someRay(r)
			best, dist := -1, math.Inf(1)
			for i := range tris {
				one := NewTree(tris[i : i+1])
				if h, ok := one.First(&ray); ok && h.Dist < dist {
					best, dist = i, h.Dist
				}
			}
			h, ok := tree.First(&ray)
			if ok != (best >= 0) || ok && h.Dist != dist {
				t.Fatalf("%d triangles: met %v %+v, want %d at %g", n, ok, h, best, dist)
			}
			if tree.Any(&ray) != ok {
				t.Fatalf("%d triangles: something and nothing", n)
			}
			if !ok {
				continue
			}
			met++
			at, tri := ray.At(h.Dist), tris[h.ID]
			on := tri[0].Times(1-h.U-h.V).Plus(h.U, tri[1]).Plus(h.V, tri[2])
			if at.Sub(on).Len() > 1e-3*(1+h.Dist)/100+1e-3 {
				t.Fatalf("weights lead %.5f away", at.Sub(on).Len())
			}
		}
		if n == 3000 && met < 200 {
			t.Errorf("%d rays met something", met)
		}
	}
}

// TestNothingLeaksOut sends rays from within a closed ball at its corners and edges.
func TestNothingLeaksOut(t *testing.T) {
	tris := ball(24)
	tree := NewTree(tris)
	r := rand.New(rand.NewPCG(3, 4))
	for i := range 20_000 {
		tri := tris[r.IntN(len(tris))]
		s := []float64{0, 1, r.Float64(), 0.5}[i%4]
		to := tri[0].Times(1-s).Plus(s, tri[1])
		from := someRay(r).Dir.Times(10 * r.Float64())
		ray := Ray{From: from, Dir: to.Sub(from).Unit(), Far: math.Inf(1)}
		if _, ok := tree.First(&ray); !ok {
			t.Fatalf("a ray from %v to %v gets out", from, to)
		}
	}
}

// BenchmarkRays counts rays in all directions on one core, among 100,000 triangles.
func BenchmarkRays(b *testing.B) {
	tree := NewTree(ball(224))
	r := rand.New(rand.NewPCG(5, 6))
	rays := make([]Ray, 4096)
	for i := range rays {
		rays[i] = someRay(r)
	}
	i := 0
	var open ways
	for b.Loop() {
		w := newWalker(&rays[i&4095])
		var h Hit
		tree.walk(&w, &open, &h, false)
		i++
	}
	b.ReportMetric(1e3/(b.Elapsed().Seconds()*1e9/float64(b.N)), "Mrays/s")
}
