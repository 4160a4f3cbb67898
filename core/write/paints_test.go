package write

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/qmuntal/gltf"

	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
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
		{Name: "Hull", Color: artwork.Color{R: 10}}, {Name: "Name board", Color: artwork.Color{G: 20}},
	}}
}

// TestDetailsHaveTheirPaint writes a body whose faces belong to two parts: a material each,
// faces under their own, coordinates with them.
func TestDetailsHaveTheirPaint(t *testing.T) {
	p := painted()
	var glb, obj, mtl bytes.Buffer
	if err := GLB(&glb, []Part{p}, nil); err != nil {
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

// TestLooksBecomeMaterials paints faces: each look a material of glTF with the extensions
// that it needs, all faces under one of them.
func TestLooksBecomeMaterials(t *testing.T) {
	p := painted()
	brass := Look{Color: artwork.Color{R: 240, G: 200, B: 100}, Metal: 1, Rough: 0.1}
	neon := Look{Color: artwork.Color{G: 255}, Rough: 0.5, Glow: 6}
	resin := Look{Color: artwork.Color{B: 255}, Rough: 0, Clear: 0.9, Coat: 1, CoatRough: 0.2, Index: 1.4, Deep: 3}
	for g := range p.Mesh.Group {
		p.Mesh.Group[g] = mesh.Group(g % 2)
	}
	p.Paints[0].Looks = []Look{brass, neon, brass, brass, brass, brass}
	p.Paints[1].Looks = []Look{resin, resin, resin, resin, resin, resin}
	var b bytes.Buffer
	if err := GLB(&b, []Part{p}, nil); err != nil {
		t.Fatal(err)
	}
	doc := new(gltf.Document)
	if err := gltf.NewDecoder(&b).Decode(doc); err != nil {
		t.Fatal(err)
	}
	corners := 0
	for _, prim := range doc.Meshes[0].Primitives {
		corners += doc.Accessors[*prim.Indices].Count
	}
	if len(doc.Materials) != 3 || corners != 3*len(p.Mesh.Tris) {
		t.Fatalf("%d materials for %d corners", len(doc.Materials), corners)
	}
	first := map[float64]*gltf.Material{}
	for _, m := range doc.Materials {
		first[m.PBRMetallicRoughness.RoughnessFactorOrDefault()] = m
	}
	if m := first[0.1]; m == nil || m.PBRMetallicRoughness.MetallicFactorOrDefault() != 1 || len(m.Extensions) != 0 {
		t.Errorf("brass is %+v", m)
	}
	if m := first[0.5]; m == nil || m.EmissiveFactor[1] != 1 || m.Extensions["KHR_materials_emissive_strength"] == nil {
		t.Errorf("neon is %+v", m)
	}
	if m := first[0]; m == nil || m.Name != "Name_board" || len(m.Extensions) != 4 || m.PBRMetallicRoughness.BaseColorFactor[0] != 1 {
		t.Errorf("resin is %+v", m)
	}
	for name, want := range map[string]string{
		"KHR_materials_ior": `"ior":1.4`, "KHR_materials_volume": `"attenuationColor":[0,0,1],"attenuationDistance":0.003`,
	} {
		if raw := fmt.Sprintf("%s", first[0].Extensions[name]); !strings.Contains(raw, want) {
			t.Errorf("%s is %s, want %s", name, raw, want)
		}
	}
	if len(doc.ExtensionsUsed) != 5 {
		t.Errorf("extensions used: %v", doc.ExtensionsUsed)
	}
}
