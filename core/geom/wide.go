package geom

import (
	"math"
	"math/bits"
)

// Int128 is a signed 128-bit integer in two's complement.
type Int128 struct {
	Hi int64
	Lo uint64
}

// Mul128 returns the exact product of a and b.
func Mul128(a, b int64) Int128 {
	h, l := bits.Mul64(uint64(a), uint64(b))
	// Correct the unsigned product for negative factors.
	if a < 0 {
		h -= uint64(b)
	}
	if b < 0 {
		h -= uint64(a)
	}
	return Int128{int64(h), l}
}

// Add returns x + y.
func (x Int128) Add(y Int128) Int128 {
	lo, carry := bits.Add64(x.Lo, y.Lo, 0)
	return Int128{x.Hi + y.Hi + int64(carry), lo}
}

// Sign returns -1, 0 or 1.
func (x Int128) Sign() int {
	switch {
	case x.Hi < 0:
		return -1
	case x.Hi > 0 || x.Lo > 0:
		return 1
	}
	return 0
}

// signFilter is the relative error beyond which the floating-point value of a
// sum of three products of 64-bit integers has the right sign. With u = 2^-53,
// each factor is rounded once when it is converted and each product once more,
// 3u, and a product passes through at most two sums, 5u of its size in all up
// to terms of u^2. The bound itself is a sum of three such products times a
// constant, which may have come out smaller by 3u of its size; 8u covers both
// (Shewchuk, Adaptive precision floating-point arithmetic, 1997).
const signFilter = 8.0 / (1 << 53)

// SignOfSum returns the sign of a0*b0 + a1*b1 + a2*b2. It is exact where the
// sum fits 127 bits: in floating point where that is certain, else in 128 bits.
func SignOfSum(a0, b0, a1, b1, a2, b2 int64) int {
	t0, t1, t2 := float64(a0)*float64(b0), float64(a1)*float64(b1), float64(a2)*float64(b2)
	sum := t0 + t1 + t2
	bound := signFilter * (math.Abs(t0) + math.Abs(t1) + math.Abs(t2))
	if sum > bound {
		return 1
	}
	if sum < -bound {
		return -1
	}
	return Mul128(a0, b0).Add(Mul128(a1, b1)).Add(Mul128(a2, b2)).Sign()
}
