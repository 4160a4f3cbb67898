package picture

import (
	"math"
	"testing"

	"bildhauer/core/geom"
)

// lit returns what a material reflects of even light from everywhere, seen from wo, by
// its own samples.
func lit(m *Material, wo geom.Vec3, n int) (sum RGB) {
	l := m.seenFrom(wo)
	for k := range n {
		s := newSampler(k&7, k>>3&7, uint32(k>>6), 7)
		pick := s.one()
		u, v := s.pair()
		wi := l.sample(pick, u, v)
		f, pdf := l.reflects(wi)
		if pdf > 0 {
			sum = sum.Plus(f.Times(1 / pdf / float64(n)))
		}
	}
	return sum
}

// TestWhiteSurfacesLoseNothing puts white materials of every roughness into even light:
// as much comes back as falls on them.
func TestWhiteSurfacesLoseNothing(t *testing.T) {
	for _, m := range []Material{{}, {Metal: 1}, {Metal: 0.5}, {Coat: 1}, {Coat: 1, CoatRough: 0.4}, {Coat: 0.5, Metal: 1}} {
		m.Base = RGB{1, 1, 1}
		for _, rough := range []float64{0, 0.1, 0.3, 0.5, 0.8, 1} {
			m.Rough = rough
			for _, z := range []float64{1, 0.7, 0.3} {
				got := lit(&m, geom.Vec3{X: math.Sqrt(1 - z*z), Z: z}, 4096)
				if math.Abs(got[1]-1) > 0.01 {
					t.Errorf("%+v from %g: %.4f comes back", m, z, got[1])
				}
			}
		}
	}
}

// TestLightGoesBothWays swaps the directions that light comes from and goes to, without
// a coat.
func TestLightGoesBothWays(t *testing.T) {
	for k := range 400 {
		s := newSampler(k, 3, 0, 1)
		next := func() geom.Vec3 {
			u, v := s.pair()
			return cosine(geom.Vec3{Z: 1}, u, v)
		}
		a, b := next(), next()
		m := Material{Base: RGB{0.9, 0.5, 0.1}, Metal: s.one(), Rough: 0.2 + 0.8*s.one()}
		la, lb := m.seenFrom(a), m.seenFrom(b)
		f, _ := la.reflects(b)
		g, _ := lb.reflects(a)
		for i := range f {
			if p, q := f[i]/b.Z, g[i]/a.Z; math.Abs(p-q) > 1e-6*(p+q)+1e-9 {
				t.Fatalf("%+v: %g one way, %g the other", m, p, q)
			}
		}
	}
}

// TestProbabilitiesAddUp sums the probabilities of all directions, over a fine grid.
func TestProbabilitiesAddUp(t *testing.T) {
	for _, m := range []Material{{Rough: 0.5}, {Metal: 1, Rough: 0.4, Base: RGB{0.9, 0.7, 0.3}}, {Coat: 1, CoatRough: 0.5, Rough: 1}} {
		l := m.seenFrom(geom.Vec3{X: 0.6, Z: 0.8})
		sum, below := 0.0, 0.0
		const n = 400
		for i := range n {
			for j := range n {
				z := (float64(i) + 0.5) / n
				sin, cos := math.Sincos(2 * math.Pi * (float64(j) + 0.5) / n)
				r := math.Sqrt(1 - z*z)
				_, pdf := l.reflects(geom.Vec3{X: r * cos, Y: r * sin, Z: z})
				sum += pdf * 2 * math.Pi / (n * n)
			}
		}
		for k := range 4096 { // what is sampled below the surface is lost
			s := newSampler(1, 1, uint32(k), 5)
			pick := s.one()
			u, v := s.pair()
			if l.sample(pick, u, v).Z <= 0 {
				below += 1.0 / 4096
			}
		}
		if math.Abs(sum+below-1) > 0.01 {
			t.Errorf("%+v: %.4f above and %.4f below", m, sum, below)
		}
	}
}

// TestSamplesAreEven counts how evenly the first samples of a pixel fill squares.
func TestSamplesAreEven(t *testing.T) {
	for pixel := range 50 {
		var cells [16]int
		for k := range uint32(16) {
			s := newSampler(pixel, 9, k, 3)
			for range 3 {
				s.pair()
			}
			u, v := s.pair()
			cells[int(u*4)+4*int(v*4)]++
		}
		for _, n := range cells {
			if n != 1 {
				t.Fatalf("pixel %d: %v", pixel, cells)
			}
		}
	}
}

// TestNoiseIsFine averages the numbers of neighbouring pixels: they make up for each other, for each decision and
// sample. Of numbers that knew nothing of each other the mean of nine would have a variance of 1/108.
func TestNoiseIsFine(t *testing.T) {
	for dims := range 4 {
		for _, sample := range []uint32{0, 1, 5} {
			sum, n := 0.0, 0.0
			for y := 0; y+3 <= 60; y += 3 {
				for x := 0; x+3 <= 60; x += 3 {
					mean := 0.0
					for i := range 9 {
						s := newSampler(x+i%3, y+i/3, sample, 3)
						for range dims {
							s.pair()
						}
						u, _ := s.pair()
						mean += u / 9
					}
					sum, n = sum+(mean-0.5)*(mean-0.5), n+1
				}
			}
			if sum/n > 0.4/108 {
				t.Errorf("decision %d, sample %d: a variance of %.5f", dims, sample, sum/n)
			}
		}
	}
}
