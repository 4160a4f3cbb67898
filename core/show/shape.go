package show

import (
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/picture"
)

// Shape is the triangles of a body for pictures: it is made once and shared by all pictures of the body.
type Shape struct {
	form   *picture.Form
	sights []sight // by the numbers of looks in the form
}

// sight is faces that look alike.
type sight struct {
	part int32
	face string
}

// Bytes returns what it holds in memory.
func (s *Shape) Bytes() int64 { return s.form.Bytes() + int64(len(s.sights))*32 }

// ShapeOf returns the shape of a mesh with normals; faces of one part and face group look alike.
func ShapeOf(m *mesh.Mesh) *Shape {
	out := &Shape{}
	at := map[sight]uint16{}
	corners, normals := make([][3]geom.Vec3, len(m.Tris)), make([][3]geom.Vec3, len(m.Tris))
	looks := make([]uint16, len(m.Tris))
	for k, v := range m.Tris {
		one := sight{face: faces[m.Group[k]]}
		if m.Part != nil {
			one.part = m.Part[k]
		}
		n, ok := at[one]
		if !ok {
			n = uint16(len(out.sights))
			at[one] = n
			out.sights = append(out.sights, one)
		}
		looks[k] = n
		for c := range 3 {
			p := m.Pos(v[c])
			corners[k][c] = geom.Vec3{X: float64(p[0]), Y: float64(p[1]), Z: float64(p[2])}
			d := m.Normals[m.Corner[k][c]]
			normals[k][c] = geom.Vec3{X: float64(d[0]), Y: float64(d[1]), Z: float64(d[2])}
		}
	}
	out.form = picture.NewForm(corners, normals, looks)
	return out
}

// looks returns what the faces of a body look like.
func (t *Still) looks(b *Body, s *Shape) []picture.Look {
	out := make([]picture.Look, len(s.sights))
	for i, one := range s.sights {
		owner := &b.Owners[one.part]
		out[i] = picture.Look{Material: t.Material(owner, one.face), Mask: owner.Mask}
	}
	return out
}

// poses returns where bodies are; nil for those that have not moved.
func (t *Still) poses() []*picture.Pose {
	out := make([]*picture.Pose, len(t.Poses))
	for i := range t.Poses {
		if t.Poses[i] != still {
			out[i] = &t.Poses[i]
		}
	}
	return out
}
