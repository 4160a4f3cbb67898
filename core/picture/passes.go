package picture

import "slices"

// Pass is one channel of a picture, row by row.
type Pass struct {
	Name   string // as OpenEXR names them
	Values []float32
	Exact  bool // needs 32 bits
}

// Passes returns a finished picture as channels in ascending order of their names: light,
// linear and premultiplied, and alpha; with more also the depth in mm (0 where nothing is)
// and the normals of what was met first.
func (f *Film) Passes(p *Picture, more bool) []Pass {
	n := f.W * f.H
	list := []Pass{{Name: "A"}, {Name: "B"}, {Name: "G"}, {Name: "R"}}
	if more {
		list = append(list, Pass{Name: "Z", Exact: true}, Pass{Name: "normal.X"}, Pass{Name: "normal.Y"}, Pass{Name: "normal.Z"})
	}
	for i := range list {
		list[i].Values = make([]float32, n)
	}
	for i := range n {
		list[0].Values[i] = float32(p.Alpha[i])
		for c := range 3 {
			list[3-c].Values[i] = float32(p.Light[i][c])
		}
		if more {
			v := f.normalAt(i)
			list[4].Values[i] = f.depth[i]
			list[5].Values[i], list[6].Values[i], list[7].Values[i] = float32(v.X), float32(v.Y), float32(v.Z)
		}
	}
	slices.SortFunc(list, func(a, b Pass) int {
		if a.Name < b.Name {
			return -1
		}
		return 1
	})
	return list
}
