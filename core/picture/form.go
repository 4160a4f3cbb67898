package picture

import (
	"slices"
	"sync"

	"bildhauer/core/geom"
)

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
	return int64(len(f.tree.nodes))*128 + int64(len(f.tree.tris))*(36+4) + int64(len(f.normals))*36 + int64(len(f.looks))*2
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

// mostUnited is up to how many triangles stand in one tree with others: some 40 MB, which are held beside the forms
// themselves.
const mostUnited = 1 << 18

// united puts what does not move into one tree: boxes of parts lie in each other (letters on a plate, hands over a face),
// and with a tree for each a ray would walk through several. Flat ones get the normals of their triangles.
func united(parts []part) []part {
	n, looks := 0, 0
	for i := range parts {
		n, looks = n+len(parts[i].form.tree.tris), looks+len(parts[i].looks)
	}
	if len(parts) < 2 || n > mostUnited || looks > 1<<16 {
		return parts
	}
	out := part{body: -1}
	forms := make([]*Form, len(parts))
	for i := range parts {
		forms[i] = parts[i].form
		out.looks = append(out.looks, parts[i].looks...)
	}
	out.form = unions.of(forms, parts)
	return []part{out}
}

// unions keeps the last few: all frames of a clip, and each finer picture of a still, have the same.
var unions unionCache

type unionCache struct {
	mu   sync.Mutex
	list []union
}

type union struct {
	forms []*Form
	looks []int // of each: how many there are before its own
	form  *Form
}

const unionsKept = 3

func (c *unionCache) of(forms []*Form, parts []part) *Form {
	before := make([]int, len(parts))
	for i := range parts[1:] {
		before[i+1] = before[i] + len(parts[i].looks)
	}
	if f := c.find(forms, before); f != nil {
		return f
	}
	u := union{forms, before, unite(parts, before)} // two may make the same one; nobody waits for the other
	c.mu.Lock()
	defer c.mu.Unlock()
	if len(c.list) == unionsKept {
		c.list = slices.Delete(slices.Clone(c.list), 0, 1)
	}
	c.list = append(c.list, u)
	return u.form
}

func (c *unionCache) find(forms []*Form, looks []int) *Form {
	c.mu.Lock()
	defer c.mu.Unlock()
	for _, u := range c.list {
		if slices.Equal(u.forms, forms) && slices.Equal(u.looks, looks) {
			return u.form
		}
	}
	return nil
}

func unite(parts []part, before []int) *Form {
	var corners, normals [][3]geom.Vec3
	var looks []uint16
	for i := range parts {
		f := parts[i].form
		for slot := range f.tree.tris {
			t := &f.tree.tris[slot]
			corners = append(corners, [3]geom.Vec3{t.corner(0), t.corner(1), t.corner(2)})
			if f.normals != nil {
				n := &f.normals[slot]
				normals = append(normals, [3]geom.Vec3{n.corner(0), n.corner(1), n.corner(2)})
			} else {
				n := t.corner(1).Sub(t.corner(0)).Cross(t.corner(2).Sub(t.corner(0))).Unit()
				normals = append(normals, [3]geom.Vec3{n, n, n})
			}
			looks = append(looks, uint16(before[i]+f.look(int32(slot))))
		}
	}
	return NewForm(corners, normals, looks)
}
