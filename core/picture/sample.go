package picture

import (
	"math"
	"math/bits"

	"bildhauer/core/geom"
)

// sampler gives the numbers that one path of one pixel takes its decisions by. They are
// pairs of a (0,2)-sequence, scrambled anew for each decision, so that the
// samples of a pixel fill every pair of dimensions evenly (Burley, Practical hash-based
// Owen scrambling, 2020); pixels take them with digits exchanged by a mask of blue noise (Georgiev, Fajardo,
// Blue-noise dithered sampling, 2016). They depend on pixel, sample and seed and nothing else.
type sampler struct {
	x, y, seed uint32
	sample     uint32
	dim        uint32
}

func newSampler(x, y int, sample, seed uint32) sampler {
	return sampler{x: uint32(x), y: uint32(y), seed: mixed(seed), sample: sample}
}

// mixed spreads the bits of a number (the finaliser of MurmurHash3, Appleby, 2011).
func mixed(x uint32) uint32 {
	x ^= x >> 16
	x *= 0x85ebca6b
	x ^= x >> 13
	x *= 0xc2b2ae35
	return x ^ x>>16
}

// scrambled is a random nested permutation of [0, 1) as bits, the lowest last
// (Laine, Karras, Stratified sampling for stochastic transparency, 2011, with the
// constants of Vegdahl).
func scrambled(x, seed uint32) uint32 {
	x = bits.Reverse32(x)
	x ^= x * 0x3d20adea
	x += seed
	x *= seed>>16 | 1
	x ^= x * 0x05526c56
	x ^= x * 0x53a22864
	return bits.Reverse32(x)
}

// pair returns the next two numbers in [0, 1).
func (s *sampler) pair() (u, v float64) {
	s.dim++
	seed := mixed(s.seed + s.dim*0x9e3779b9)
	k := scrambled(s.sample, seed)
	return unit(scrambled(bits.Reverse32(k), mixed(seed+1)) ^ maskAt(s.x, s.y, 2*seed)),
		unit(scrambled(second(k), mixed(seed+2)) ^ maskAt(s.x, s.y, 2*seed+1))
}

// one returns the next number in [0, 1).
func (s *sampler) one() float64 {
	s.dim++
	seed := mixed(s.seed + s.dim*0x9e3779b9)
	return unit(scrambled(bits.Reverse32(scrambled(s.sample, seed)), mixed(seed+1)) ^ maskAt(s.x, s.y, 2*seed))
}

func unit(x uint32) float64 { return float64(x) / (1 << 32) }

// second is the second dimension of Sobol's sequence, the first being the reversed bits.
func second(k uint32) uint32 {
	t := &secondBytes
	return t[0][k&255] ^ t[1][k>>8&255] ^ t[2][k>>16&255] ^ t[3][k>>24]
}

// secondBytes holds what each byte of an index adds to it.
var secondBytes = func() (out [4][256]uint32) {
	v := uint32(1) << 31
	for bit := range 32 {
		for k := range uint32(256) {
			if k>>(bit%8)&1 != 0 {
				out[bit/8][k] ^= v
			}
		}
		v ^= v >> 1
	}
	return out
}()

// disc maps a pair to the unit disc without tearing neighbours apart (Shirley, Chiu, A low
// distortion map between disk and square, 1997).
func disc(u, v float64) (x, y float64) {
	a, b := 2*u-1, 2*v-1
	if a == 0 && b == 0 {
		return 0, 0
	}
	r, phi := a, math.Pi/4*b/a
	if math.Abs(b) > math.Abs(a) {
		r, phi = b, math.Pi/2-math.Pi/4*a/b
	}
	sin, cos := math.Sincos(phi)
	return r * cos, r * sin
}

// cosine returns a direction over n, as often as its cosine is large.
func cosine(n geom.Vec3, u, v float64) geom.Vec3 {
	x, y := disc(u, v)
	s, t := n.Frame()
	return n.Times(math.Sqrt(math.Max(0, 1-x*x-y*y))).Plus(x, s).Plus(y, t)
}
