// Package mesh holds triangle meshes on an integer grid and their checks.
package mesh

import "bildhauer/core/geom"

// Group says which face of a solid a triangle belongs to.
type Group uint8

// The face groups of a raised part.
const (
	Front Group = iota
	Bevel
	Side
	Back
	BackBevel
	Inside // of what is hollow
)

// Groups lists the names of the face groups in their order.
var Groups = [...]string{"front", "bevel", "side", "back", "backbevel", "inside"}

// Mesh is an indexed triangle mesh. Positions are integers of a grid whose
// step is a power of two in millimetres, at most 2^24 in size, so that 32-bit
// floats hold them exactly.
type Mesh struct {
	Step  float64    // mm per grid unit
	Verts [][3]int32 // positions; z points out of the front
	Tris  [][3]int32 // corners, counter-clockwise seen from outside
	Group []Group    // of each triangle
	Part  []int32    // of each triangle: whose face it is, a number given by the caller; nil for all 0
	Open  bool       // some side has no cap, on purpose

	// Normals for shading: a table of unit vectors and, for each triangle,
	// the entries of its corners. Both are empty until asked for.
	Normals [][3]float32
	Corner  [][3]int32

	// Texture coordinates in mm, likewise.
	UV   [][2]float32
	Wrap [][3]int32
}

// Bytes returns how much memory the mesh holds.
func (m *Mesh) Bytes() int64 {
	return 12*int64(
		len(m.Verts),
	) + 13*int64(
		len(m.Tris),
	) + 12*int64(
		len(m.Normals),
	) + 12*int64(
		len(m.Corner),
	) + 8*int64(len(m.UV)) + 12*int64(len(m.Wrap)) + 128
}

// Pos returns the position of vertex i in mm, exact in 32-bit floats.
func (m *Mesh) Pos(i int32) [3]float32 {
	v := m.Verts[i]
	return [3]float32{
		float32(float64(v[0]) * m.Step),
		float32(float64(v[1]) * m.Step),
		float32(float64(v[2]) * m.Step),
	}
}

// Box returns the corners of the box around the mesh in mm.
func (m *Mesh) Box() (lo, hi [3]float64) {
	if len(m.Verts) == 0 {
		return
	}
	a, b := m.Verts[0], m.Verts[0]
	for _, v := range m.Verts {
		for i := range v {
			a[i], b[i] = min(a[i], v[i]), max(b[i], v[i])
		}
	}
	for i := range a {
		lo[i], hi[i] = float64(a[i])*m.Step, float64(b[i])*m.Step
	}
	return lo, hi
}

func sub(a, b [3]int32) [3]int64 {
	return [3]int64{int64(a[0]) - int64(b[0]), int64(a[1]) - int64(b[1]), int64(a[2]) - int64(b[2])}
}

func cross(u, v [3]int64) [3]int64 {
	return [3]int64{u[1]*v[2] - u[2]*v[1], u[2]*v[0] - u[0]*v[2], u[0]*v[1] - u[1]*v[0]}
}

// orient3 returns the sign of the volume of the tetrahedron a, b, c, d:
// positive when d lies on the side that the normal of a, b, c points to. It
// is exact for coordinates up to 2^27 apart.
func orient3(a, b, c, d [3]int32) int {
	n, w := cross(sub(b, a), sub(c, a)), sub(d, a)
	return geom.SignOfSum(n[0], w[0], n[1], w[1], n[2], w[2])
}
