package picture

import (
	"slices"
	"strings"
)

// Pass is one channel of a picture, row by row.
type Pass struct {
	Name   string // as OpenEXR names them
	Values []float32
	Exact  bool // needs 32 bits
}

// Passes returns a finished picture as channels in ascending order of their names: light,
// linear and premultiplied, and alpha; with more also the depth in mm (0 where nothing is)
// and the normals of what was met first; and, where the film kept them, the masks under
// their names and the shadow on a clear ground, as shares, and how far what is seen goes until a frame later, in px
// to the right and up.
func (f *Film) Passes(p *Picture, more bool, masks ...string) []Pass {
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
	if f.moves != nil {
		right, up := make([]float32, n), make([]float32, n)
		for i := range n {
			k := 1 / max(1, f.moves[3*i+2])
			right[i], up[i] = f.moves[3*i]*k*float32(f.W), f.moves[3*i+1]*k*float32(f.H)
		}
		list = append(list, Pass{"velocity.X", right, true}, Pass{"velocity.Y", up, true})
	}
	if len(f.Masks) > 0 {
		shade := tents(f.W, f.H, func(i int) cell {
			s := float32(f.shadeAt(i))
			seen := (1 - float32(f.share(i))*f.alpha[i]) * s
			return f.leaning(i, seen, f.alpha[i], f.lean[8*i+3], f.lean[8*i+7]).times(-s)
		})
		list = append(list, Pass{Name: "shadow.Y", Values: shade})
	}
	for k, name := range masks[:min(len(masks), len(f.Masks))] {
		m := f.Masks[k]
		list = append(list, Pass{Name: "mask." + name, Values: tents(f.W, f.H, func(i int) cell {
			return f.leaning(i, m[3*i]*float32(f.share(i)), m[3*i], m[3*i+1], m[3*i+2])
		})})
	}
	slices.SortFunc(list, func(a, b Pass) int { return strings.Compare(a.Name, b.Name) })
	return list
}
