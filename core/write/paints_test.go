package write

import (
	"bytes"
	"strings"
	"testing"

	"github.com/qmuntal/gltf"

	"bildhauer/core/artwork"
)

// painted is a wedge of which some faces belong to a second part.
func painted() Part {
	m := wedge()
	m.Part = make([]int32, len(m.Tris))
	m.Part[0] = 1
	for range m.Verts {
		m.UV = append(m.UV, [2]float32{float32(len(m.UV)), 0.5})
	}
	m.Wrap = append(m.Wrap, m.Tris...)
	return Part{Name: "Hull", Color: artwork.Color{R: 10}, Mesh: m, Paints: []Paint{
		{"Hull", artwork.Color{R: 10}}, {"Name board", artwork.Color{G: 20}},
	}}
}

// TestDetailsHaveTheirPaint writes a body whose faces belong to two parts: a material each,
// faces under their own, coordinates with them.
func TestDetailsHaveTheirPaint(t *testing.T) {
	p := painted()
	var glb, obj, mtl bytes.Buffer
	if err := GLB(&glb, []Part{p}); err != nil {
		t.Fatal(err)
	}
	doc := new(gltf.Document)
	if err := gltf.NewDecoder(&glb).Decode(doc); err != nil {
		t.Fatal(err)
	}
	if len(doc.Meshes) != 1 || len(doc.Meshes[0].Primitives) != 2 || len(doc.Materials) != 2 || doc.Materials[1].Name != "Name_board" {
		t.Fatalf("%d meshes, %d materials", len(doc.Meshes), len(doc.Materials))
	}
	corners := 0
	for i, prim := range doc.Meshes[0].Primitives {
		if *prim.Material != i {
			t.Errorf("piece %d has the material %d", i, *prim.Material)
		}
		if _, ok := prim.Attributes[gltf.TEXCOORD_0]; !ok {
			t.Errorf("piece %d has no coordinates", i)
		}
		corners += doc.Accessors[*prim.Indices].Count
	}
	if corners != 3*len(p.Mesh.Tris) {
		t.Errorf("%d corners, want %d", corners, 3*len(p.Mesh.Tris))
	}
	if err := OBJ(&obj, &mtl, "x.mtl", []Part{p}); err != nil {
		t.Fatal(err)
	}
	text := obj.String()
	at := strings.Index(text, "usemtl Name_board\n")
	if at < 0 || strings.Count(text[at:], "\nf ") != 1 || strings.Count(text, "\nvt ") != len(p.Mesh.UV) {
		t.Errorf("the file says\n%s", text)
	}
	if strings.Count(mtl.String(), "newmtl ") != 2 {
		t.Errorf("the materials are\n%s", mtl.String())
	}
}
