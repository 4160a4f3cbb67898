package picture

import "bildhauer/core/geom"

// Form is the triangles of a body at rest and the tree over them. Pictures of the body wherever it has moved
// share it: it is built once.
type Form struct {
	tree    *Tree
	normals []triangle // of the corners, in the order of the tree; nil: flat
	looks   []uint16   // of each triangle, in that order: what it looks like, see Body.Looks; nil: all alike
	box     bounds
	reach   float64 // the greatest of all coordinates
}

// NewForm returns the form of triangles. normals, if not nil, are those of their corners, looks the number of
// what each looks like.
func NewForm(corners, normals [][3]geom.Vec3, looks []uint16) *Form {
	f := &Form{tree: NewTree(corners), box: noBounds}
	if normals != nil {
		f.normals = make([]triangle, len(normals))
	}
	if looks != nil {
		f.looks = make([]uint16, len(looks))
	}
	for i, k := range f.tree.ids {
		for c, p := range f.tree.tris[i] {
			f.box.take(p)
			if normals != nil {
				n := normals[k][c]
				f.normals[i][c] = [3]float32{float32(n.X), float32(n.Y), float32(n.Z)}
			}
		}
		if looks != nil {
			f.looks[i] = looks[k]
		}
	}
	if len(corners) > 0 {
		for a := range 3 {
			f.reach = max(f.reach, float64(-f.box[a]), float64(f.box[a+3]))
		}
	}
	return f
}

// Bytes returns what it holds in memory.
func (f *Form) Bytes() int64 {
	return int64(len(f.tree.nodes))*64 + int64(len(f.tree.tris))*(36+4) + int64(len(f.normals))*36 + int64(len(f.looks))*2
}

// look returns the number of what a triangle looks like, by its slot.
func (f *Form) look(slot int32) int {
	if f.looks == nil {
		return 0
	}
	return int(f.looks[slot])
}

// corner returns a corner of a triangle at rest.
func (t *triangle) corner(i int) geom.Vec3 {
	return geom.Vec3{X: float64(t[i][0]), Y: float64(t[i][1]), Z: float64(t[i][2])}
}

// mixed returns what lies between the corners.
func (t *triangle) mixed(u, v float64) geom.Vec3 {
	w := 1 - u - v
	return t.corner(0).Times(w).Plus(u, t.corner(1)).Plus(v, t.corner(2))
}

// area returns the area of a triangle at rest, mm².
func (t *triangle) area() float64 {
	return t.corner(1).Sub(t.corner(0)).Cross(t.corner(2).Sub(t.corner(0))).Len() / 2
}
