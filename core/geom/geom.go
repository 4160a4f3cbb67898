// Package geom holds the small real-valued geometry that artwork is described
// in before it is snapped to the exact grid of package plane: vectors, affine
// matrices, boxes, Bezier segments and their flattening.
package geom

import "math"

// Vec is a point or a direction in the plane.
type Vec struct{ X, Y float64 }

// Add returns v + w.
func (v Vec) Add(w Vec) Vec { return Vec{v.X + w.X, v.Y + w.Y} }

// Sub returns v - w.
func (v Vec) Sub(w Vec) Vec { return Vec{v.X - w.X, v.Y - w.Y} }

// Mul returns v scaled by s.
func (v Vec) Mul(s float64) Vec { return Vec{v.X * s, v.Y * s} }

// Dot returns the scalar product.
func (v Vec) Dot(w Vec) float64 { return v.X*w.X + v.Y*w.Y }

// Cross returns the z component of the cross product, positive when w lies
// counter-clockwise of v.
func (v Vec) Cross(w Vec) float64 { return v.X*w.Y - v.Y*w.X }

// Len returns the Euclidean length.
func (v Vec) Len() float64 {
	// Hypot takes ten times as long and differs only where squares leave the range of numbers.
	if l := math.Sqrt(v.X*v.X + v.Y*v.Y); l > 1e-150 && l < 1e150 {
		return l
	}
	return math.Hypot(v.X, v.Y)
}

// Unit returns v scaled to length 1, or the zero vector for the zero vector.
func (v Vec) Unit() Vec {
	l := v.Len()
	if l == 0 {
		return Vec{}
	}
	return Vec{v.X / l, v.Y / l}
}

// Left returns v turned a quarter counter-clockwise.
func (v Vec) Left() Vec { return Vec{-v.Y, v.X} }

// Lerp returns the point a share t of the way from v to w.
func (v Vec) Lerp(w Vec, t float64) Vec { return Vec{v.X + (w.X-v.X)*t, v.Y + (w.Y-v.Y)*t} }

// Finite reports whether both coordinates are ordinary numbers.
func (v Vec) Finite() bool {
	return !math.IsNaN(v.X) && !math.IsNaN(v.Y) && !math.IsInf(v.X, 0) && !math.IsInf(v.Y, 0)
}

// Matrix is the affine map x' = A x + C y + E, y' = B x + D y + F, in the
// order in which SVG and PostScript write the six numbers.
type Matrix struct{ A, B, C, D, E, F float64 }

// Identity maps every point to itself.
var Identity = Matrix{A: 1, D: 1}

// Translate returns the map that adds (x, y).
func Translate(x, y float64) Matrix { return Matrix{1, 0, 0, 1, x, y} }

// Scale returns the map that multiplies by (x, y).
func Scale(x, y float64) Matrix { return Matrix{x, 0, 0, y, 0, 0} }

// Rotate returns the turn by a radians, counter-clockwise where y points up.
func Rotate(a float64) Matrix {
	s, c := math.Sincos(a)
	return Matrix{c, s, -s, c, 0, 0}
}

// Mul returns the map that applies n first and m second.
func (m Matrix) Mul(n Matrix) Matrix {
	return Matrix{
		m.A*n.A + m.C*n.B, m.B*n.A + m.D*n.B,
		m.A*n.C + m.C*n.D, m.B*n.C + m.D*n.D,
		m.A*n.E + m.C*n.F + m.E, m.B*n.E + m.D*n.F + m.F,
	}
}

// Apply maps a point.
func (m Matrix) Apply(v Vec) Vec { return Vec{m.A*v.X + m.C*v.Y + m.E, m.B*v.X + m.D*v.Y + m.F} }

// Det returns the determinant: the factor by which areas grow, negative when
// the map mirrors.
func (m Matrix) Det() float64 { return m.A*m.D - m.B*m.C }

// Inverse returns the map that undoes m, which must not squeeze the plane to a
// line.
func (m Matrix) Inverse() Matrix {
	d := m.Det()
	return Matrix{m.D / d, -m.B / d, -m.C / d, m.A / d, (m.C*m.F - m.D*m.E) / d, (m.B*m.E - m.A*m.F) / d}
}

// MaxScale returns the largest factor by which any length grows under m (its
// larger singular value).
func (m Matrix) MaxScale() float64 {
	p := m.A*m.A + m.B*m.B + m.C*m.C + m.D*m.D
	q := math.Sqrt(math.Max(0, p*p-4*m.Det()*m.Det()))
	return math.Sqrt((p + q) / 2)
}

// Finite reports whether all six numbers are ordinary numbers.
func (m Matrix) Finite() bool {
	s := m.A + m.B + m.C + m.D + m.E + m.F
	return !math.IsNaN(s) && !math.IsInf(s, 0)
}

// Box is an axis-parallel rectangle; an empty one has Min.X > Max.X.
type Box struct{ Min, Max Vec }

// EmptyBox contains nothing and is neutral under Union.
func EmptyBox() Box {
	return Box{Vec{math.Inf(1), math.Inf(1)}, Vec{math.Inf(-1), math.Inf(-1)}}
}

// Empty reports whether the box contains no point.
func (b Box) Empty() bool { return b.Min.X > b.Max.X || b.Min.Y > b.Max.Y }

// Grow returns the smallest box that also contains v.
func (b Box) Grow(v Vec) Box {
	return Box{Vec{math.Min(b.Min.X, v.X), math.Min(b.Min.Y, v.Y)},
		Vec{math.Max(b.Max.X, v.X), math.Max(b.Max.Y, v.Y)}}
}

// Union returns the smallest box that contains both.
func (b Box) Union(c Box) Box {
	if c.Empty() {
		return b
	}
	return b.Grow(c.Min).Grow(c.Max)
}

// Intersect returns what both boxes share, EmptyBox if nothing.
func (b Box) Intersect(c Box) Box {
	r := Box{
		Vec{math.Max(b.Min.X, c.Min.X), math.Max(b.Min.Y, c.Min.Y)},
		Vec{math.Min(b.Max.X, c.Max.X), math.Min(b.Max.Y, c.Max.Y)},
	}
	if r.Empty() {
		return EmptyBox()
	}
	return r
}

// Contains reports whether c lies within b.
func (b Box) Contains(c Box) bool {
	return c.Empty() || b.Min.X <= c.Min.X && b.Min.Y <= c.Min.Y && b.Max.X >= c.Max.X && b.Max.Y >= c.Max.Y
}

// Transform returns the box around the corners mapped by m.
func (b Box) Transform(m Matrix) Box {
	if b.Empty() {
		return b
	}
	out := EmptyBox()
	for _, v := range [4]Vec{b.Min, {b.Max.X, b.Min.Y}, b.Max, {b.Min.X, b.Max.Y}} {
		out = out.Grow(m.Apply(v))
	}
	return out
}

// Overlaps reports whether the two boxes share a point.
func (b Box) Overlaps(c Box) bool {
	return b.Min.X <= c.Max.X && c.Min.X <= b.Max.X && b.Min.Y <= c.Max.Y && c.Min.Y <= b.Max.Y
}

// W and H return the extents, 0 for an empty box.
func (b Box) W() float64 { return math.Max(0, b.Max.X-b.Min.X) }

// H returns the extent in y, 0 for an empty box.
func (b Box) H() float64 { return math.Max(0, b.Max.Y-b.Min.Y) }

// Center returns the middle of the box.
func (b Box) Center() Vec { return b.Min.Lerp(b.Max, 0.5) }
