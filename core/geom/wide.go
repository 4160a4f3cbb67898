package geom

import "math/bits"

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
