package write

import (
	"io"
	"math"
	"slices"

	"github.com/qmuntal/gltf"
	"github.com/qmuntal/gltf/modeler"

	"bildhauer/core/artwork"
)

// GLB writes all parts as binary glTF 2.0, one node and material a part. The
// root node brings millimetres to metres and the front to face +z with y up.
// film may be nil.
func GLB(w io.Writer, parts []Part, film *Film) error {
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
		for _, f := range p.looks(idx) {
			made.Primitives = append(made.Primitives, &gltf.Primitive{
				Indices:    gltf.Index(modeler.WriteIndices(doc, f.idx)),
				Attributes: attributes,
				Material:   gltf.Index(len(doc.Materials)),
			})
			doc.Materials = append(doc.Materials, materialOf(doc, paints[f.paint], f.look))
		}
		paints = paints[len(p.paints()):]
		doc.Meshes = append(doc.Meshes, made)
		nodes = append(nodes, &gltf.Node{Name: p.Name, Mesh: gltf.Index(len(doc.Meshes) - 1)})
		root.Children = append(root.Children, i)
	}
	doc.Nodes = append(nodes, root)
	doc.Scenes[0].Nodes = []int{len(doc.Nodes) - 1}
	if film != nil {
		film.film(doc)
	}
	out := &sticky{w: w}
	if err := gltf.NewEncoder(out).Encode(doc); err != nil {
		return err
	}
	return out.err // the encoder does not look at all of its writes
}

// sameLook is faces of one paint that look alike.
type sameLook struct {
	paint int
	look  Look
	idx   []uint32
}

// plainLook is what faces are made of when nobody has said.
func plainLook(c artwork.Color) Look { return Look{Color: c, Rough: 0.55} }

// looks divides indices, three a triangle, by paints and what the faces are made of.
func (p *Part) looks(idx []uint32) []sameLook {
	var out []sameLook
	for k := range p.Mesh.Tris {
		n := p.paintOf(k)
		paint := &p.paints()[n]
		look := plainLook(paint.Color)
		if g := int(p.Mesh.Group[k]); g < len(paint.Looks) {
			look = paint.Looks[g]
		}
		at := slices.IndexFunc(out, func(o sameLook) bool { return o.paint == n && o.look == look })
		if at < 0 {
			at = len(out)
			out = append(out, sameLook{paint: n, look: look})
		}
		out[at].idx = append(out[at].idx, idx[3*k:3*k+3]...)
	}
	slices.SortStableFunc(out, func(a, b sameLook) int { return a.paint - b.paint })
	return out
}

// materialOf makes a material; what glTF itself has no words for goes into extensions that
// Khronos has ratified.
func materialOf(doc *gltf.Document, name string, l Look) *gltf.Material {
	base := linear(l.Color)
	m := &gltf.Material{
		Name: name,
		PBRMetallicRoughness: &gltf.PBRMetallicRoughness{
			BaseColorFactor: base, MetallicFactor: gltf.Float(l.Metal), RoughnessFactor: gltf.Float(l.Rough),
		},
	}
	extend := func(name string, values map[string]any) {
		if m.Extensions == nil {
			m.Extensions = gltf.Extensions{}
		}
		m.Extensions[name] = values
		if !slices.Contains(doc.ExtensionsUsed, name) {
			doc.ExtensionsUsed = append(doc.ExtensionsUsed, name)
		}
	}
	if l.Glow > 0 {
		m.EmissiveFactor = [3]float64{base[0], base[1], base[2]}
		extend("KHR_materials_emissive_strength", map[string]any{"emissiveStrength": l.Glow})
	}
	if l.Coat > 0 {
		extend("KHR_materials_clearcoat", map[string]any{"clearcoatFactor": l.Coat, "clearcoatRoughnessFactor": l.CoatRough})
	}
	if l.Clear > 0 {
		extend("KHR_materials_transmission", map[string]any{"transmissionFactor": l.Clear})
		extend("KHR_materials_ior", map[string]any{"ior": l.Index})
		if !l.Thin { // the colour comes by the way inside, then, not at the surface
			extend("KHR_materials_volume", map[string]any{
				"thicknessFactor": l.Deep, "attenuationDistance": l.Deep / 1000, "attenuationColor": base[:3],
			})
			m.PBRMetallicRoughness.BaseColorFactor = &[4]float64{1, 1, 1, 1}
		}
	}
	return m
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
	pos, nrm = make([][3]float32, 0, 2*len(m.Verts)), make([][3]float32, 0, 2*len(m.Verts))
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
