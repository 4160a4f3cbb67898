package geom

import "math"

// Vec3 is a vector in space.
type Vec3 struct{ X, Y, Z float64 }

// Add returns a + b.
func (a Vec3) Add(b Vec3) Vec3 { return Vec3{a.X + b.X, a.Y + b.Y, a.Z + b.Z} }

// Sub returns a - b.
func (a Vec3) Sub(b Vec3) Vec3 { return Vec3{a.X - b.X, a.Y - b.Y, a.Z - b.Z} }

// Times returns a, k times as long.
func (a Vec3) Times(k float64) Vec3 { return Vec3{a.X * k, a.Y * k, a.Z * k} }

// Plus returns a + k b.
func (a Vec3) Plus(k float64, b Vec3) Vec3 { return Vec3{a.X + k*b.X, a.Y + k*b.Y, a.Z + k*b.Z} }

// Dot returns the scalar product.
func (a Vec3) Dot(b Vec3) float64 { return a.X*b.X + a.Y*b.Y + a.Z*b.Z }

// Cross returns the vector product.
func (a Vec3) Cross(b Vec3) Vec3 {
	return Vec3{a.Y*b.Z - a.Z*b.Y, a.Z*b.X - a.X*b.Z, a.X*b.Y - a.Y*b.X}
}

// Len returns the length.
func (a Vec3) Len() float64 { return math.Sqrt(a.Dot(a)) }

// Unit returns a vector of length 1 in the direction of a, or a itself if it has none.
func (a Vec3) Unit() Vec3 {
	if l := a.Len(); l > 0 {
		return a.Times(1 / l)
	}
	return a
}

// Frame returns two unit vectors that stand upright on unit vector n and on each other
// (Duff and others, Building an orthonormal basis, revisited, 2017).
func (n Vec3) Frame() (s, t Vec3) {
	sign := math.Copysign(1, n.Z)
	a := -1 / (sign + n.Z)
	b := n.X * n.Y * a
	return Vec3{1 + sign*n.X*n.X*a, sign * b, -sign * n.X}, Vec3{b, sign + n.Y*n.Y*a, -n.Y}
}
