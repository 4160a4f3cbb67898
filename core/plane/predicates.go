// Package plane is the exact planar engine: an arrangement of segments on an
// integer grid, whose faces are chosen by a rule.
//
// Every coordinate is an integer of the grid, every decision (side of a line,
// inside a circle, where two segments cross) is computed exactly, and points
// that must be made anew (crossings, offsets) are rounded to the grid and
// checked again, until nothing crosses. See Arrangement for the guarantees.
package plane

import (
	"math/bits"

	"bildhauer/core/geom"
)

// Point is a point of the integer grid.
type Point struct{ X, Y int32 }

// MaxCoord bounds the absolute value of the coordinates that callers may hand
// in. Together with the frame around the data (see frameCoord) it keeps
// orient within 64 bits and inCircle within 128.
const MaxCoord = 1 << 26

const frameCoord = 1 << 28

// Less orders points by x, then y.
func (p Point) Less(q Point) bool { return p.X < q.X || p.X == q.X && p.Y < q.Y }

func comparePoints(p, q Point) int {
	if p.X != q.X {
		if p.X < q.X {
			return -1
		}
		return 1
	}
	if p.Y != q.Y {
		if p.Y < q.Y {
			return -1
		}
		return 1
	}
	return 0
}

// Orient returns twice the signed area of the triangle a, b, c: positive when
// c lies left of the line from a to b. It is exact.
func Orient(a, b, c Point) int64 {
	return int64(b.X-a.X)*int64(c.Y-a.Y) - int64(b.Y-a.Y)*int64(c.X-a.X)
}

// dotAt returns the scalar product of p-a and q-a.
func dotAt(a, p, q Point) int64 {
	return int64(p.X-a.X)*int64(q.X-a.X) + int64(p.Y-a.Y)*int64(q.Y-a.Y)
}

// inCircle reports whether d lies strictly inside the circle through the
// counter-clockwise triangle a, b, c. It is exact.
func inCircle(a, b, c, d Point) bool {
	adx, ady := int64(a.X-d.X), int64(a.Y-d.Y)
	bdx, bdy := int64(b.X-d.X), int64(b.Y-d.Y)
	cdx, cdy := int64(c.X-d.X), int64(c.Y-d.Y)
	// These fit 64 bits: differences are below 2^29.6.
	bc := bdx*cdy - bdy*cdx
	ca := cdx*ady - cdy*adx
	ab := adx*bdy - ady*bdx
	al := adx*adx + ady*ady
	bl := bdx*bdx + bdy*bdy
	cl := cdx*cdx + cdy*cdy
	return geom.SignOfSum(al, bc, bl, ca, cl, ab) > 0
}

// crossing returns the grid point nearest to where the lines a-b and c-d meet.
// The segments must cross properly. Rounding stays within the box of a-b.
func crossing(a, b, c, d Point) Point {
	num := Orient(c, d, a)
	den := num - Orient(c, d, b)
	if num < 0 {
		num, den = -num, -den
	}
	return Point{a.X + mulDiv(b.X-a.X, num, den), a.Y + mulDiv(b.Y-a.Y, num, den)}
}

// mulDiv returns d*num/den rounded to the nearest integer, 0 <= num <= den.
func mulDiv(d int32, num, den int64) int32 {
	neg := d < 0
	u := uint64(d)
	if neg {
		u = uint64(-int64(d))
	}
	hi, lo := bits.Mul64(u, uint64(num))
	var carry uint64
	lo, carry = bits.Add64(lo, uint64(den)/2, 0)
	q, _ := bits.Div64(hi+carry, lo, uint64(den))
	if neg {
		return -int32(q)
	}
	return int32(q)
}
