package write

import (
	"io"
	"math"

	"github.com/qmuntal/gltf"
	"github.com/qmuntal/gltf/modeler"

	"bildhauer/core/artwork"
)

// GLB writes all parts as binary glTF 2.0, one node and material a part. The
// root node brings millimetres to metres and the front to face +z with y up.
func GLB(w io.Writer, parts []Part) error {
	doc := gltf.NewDocument()
	doc.Asset.Generator = "Bildhauer"
	root := &gltf.Node{Name: "piece", Scale: [3]float64{.001, .001, .001}}
	names := uniqueNames(namesOf(parts))
	paints := uniqueNames(paintNames(parts))
	var nodes []*gltf.Node
	for i := range parts {
		p := &parts[i]
		pos, nrm, uv, idx := Corners(*p)
		attributes := gltf.PrimitiveAttributes{gltf.POSITION: modeler.WritePosition(doc, pos)}
		if nrm != nil {
			attributes[gltf.NORMAL] = modeler.WriteNormal(doc, nrm)
		}
		if uv != nil {
			attributes[gltf.TEXCOORD_0] = modeler.WriteTextureCoord(doc, uv)
		}
		made := &gltf.Mesh{Name: names[i]}
		for k, own := range p.byPaint(idx) {
			paint := p.paints()[k]
			if len(own) > 0 {
				made.Primitives = append(made.Primitives, &gltf.Primitive{
					Indices:    gltf.Index(modeler.WriteIndices(doc, own)),
					Attributes: attributes,
					Material:   gltf.Index(len(doc.Materials)),
				})
				doc.Materials = append(doc.Materials, &gltf.Material{
					Name: paints[0],
					PBRMetallicRoughness: &gltf.PBRMetallicRoughness{
						BaseColorFactor: linear(paint.Color),
						MetallicFactor:  gltf.Float(0),
						RoughnessFactor: gltf.Float(0.55),
					},
				})
			}
			paints = paints[1:]
		}
		doc.Meshes = append(doc.Meshes, made)
		nodes = append(nodes, &gltf.Node{Name: p.Name, Mesh: gltf.Index(len(doc.Meshes) - 1)})
		root.Children = append(root.Children, i)
	}
	doc.Nodes = append(nodes, root)
	doc.Scenes[0].Nodes = []int{len(doc.Nodes) - 1}
	out := &sticky{w: w}
	if err := gltf.NewEncoder(out).Encode(doc); err != nil {
		return err
	}
	return out.err // the encoder does not look at all of its writes
}

// byPaint divides indices, three a triangle, by the paints of a part.
func (p *Part) byPaint(idx []uint32) [][]uint32 {
	n := len(p.paints())
	if n == 1 {
		return [][]uint32{idx}
	}
	out := make([][]uint32, n)
	for k := range p.Mesh.Tris {
		m := p.paintOf(k)
		out[m] = append(out[m], idx[3*k:3*k+3]...)
	}
	return out
}

// linear converts sRGB to the linear values that glTF wants.
func linear(c artwork.Color) *[4]float64 {
	f := func(v uint8) float64 {
		x := float64(v) / 255
		if x <= 0.04045 {
			return x / 12.92
		}
		return math.Pow((x+0.055)/1.055, 2.4)
	}
	return &[4]float64{f(c.R), f(c.G), f(c.B), 1}
}

// Corners returns positions, normals and texture coordinates with one entry for each
// set that a corner uses, and three indices a triangle, as graphics cards want them.
// Normals and coordinates are nil when the mesh has none.
func Corners(p Part) (pos, nrm [][3]float32, uv [][2]float32, idx []uint32) {
	m := p.Mesh
	idx = make([]uint32, 0, 3*len(m.Tris))
	if len(m.Corner) == 0 {
		for v := range m.Verts {
			pos = append(pos, m.Pos(int32(v)))
		}
		for _, t := range m.Tris {
			idx = append(idx, uint32(t[0]), uint32(t[1]), uint32(t[2]))
		}
		return pos, nil, nil, idx
	}
	// Entries made so far for each vertex, as lists through next.
	first := make([]int32, len(m.Verts))
	next := make([]int32, 1, len(m.Verts)*2)
	which := make([][2]int32, 1, len(m.Verts)*2)
	for k, t := range m.Tris {
		for c, v := range t {
			n := [2]int32{m.Corner[k][c], 0}
			if len(m.Wrap) > 0 {
				n[1] = m.Wrap[k][c]
			}
			e := first[v]
			for e != 0 && which[e] != n {
				e = next[e]
			}
			if e == 0 {
				e = int32(len(which))
				if len(m.Wrap) > 0 {
					uv = append(uv, m.UV[n[1]])
				}
				which, next = append(which, n), append(next, first[v])
				first[v] = e
				pos, nrm = append(pos, m.Pos(v)), append(nrm, m.Normals[n[0]])
			}
			idx = append(idx, uint32(e-1))
		}
	}
	return pos, nrm, uv, idx
}
