package stages

import (
	"bytes"
	"context"
	"encoding/binary"
	"math"
	"strings"
	"testing"

	"github.com/qmuntal/gltf"
	"github.com/qmuntal/gltf/modeler"

	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

// TestWrittenMeshesReadBack writes the demo pieces and reads each format
// back: sizes, counts, volumes and soundness must come through float32.
func TestWrittenMeshesReadBack(t *testing.T) {
	for _, file := range []string{"../../demo/compass-badge.svg", "../../demo/tide-clock.svg"} {
		s := sheet(t, file)
		r := recipe.New()
		r.Size = recipe.Size{By: recipe.Height, MM: 120, Tolerance: 0.02, Overlap: recipe.Cut}
		parts := solids(t, s, &r)
		volume, tris := 0.0, 0
		for _, p := range parts {
			rep := mesh.Check(p.Mesh, true)
			if !rep.Sound() {
				t.Fatalf("%s: %+v", p.Name, rep)
			}
			volume += rep.VolumeMM3
			tris += rep.Triangles
		}
		var b, mtl bytes.Buffer
		if err := write.STL(&b, parts); err != nil {
			t.Fatal(err)
		}
		m := readSTL(t, b.Bytes())
		rep := mesh.Check(m, false)
		if rep.Triangles != tris || math.Abs(rep.VolumeMM3-volume) > 1e-6*volume || rep.ZeroArea > 0 {
			t.Errorf("%s: STL %+v, want %d triangles, %g mm3", file, rep, tris, volume)
		}
		lo, hi := m.Box()
		if math.Abs(hi[1]-lo[1]-120) > 1e-3 || lo[2] != 0 || hi[2] != 8 {
			t.Errorf("%s: box %v %v", file, lo, hi)
		}
		b.Reset()
		if err := write.GLB(&b, parts, nil); err != nil {
			t.Fatal(err)
		}
		doc := new(gltf.Document)
		if err := gltf.NewDecoder(&b).Decode(doc); err != nil {
			t.Fatal(err)
		}
		if len(doc.Meshes) != len(parts) || len(doc.Materials) != len(parts) ||
			len(doc.Nodes) != len(parts)+1 {
			t.Errorf(
				"%s: GLB has %d meshes, %d materials, %d nodes",
				file,
				len(doc.Meshes),
				len(doc.Materials),
				len(doc.Nodes),
			)
		}
		for i, dm := range doc.Meshes {
			nrm, err := modeler.ReadNormal(doc, doc.Accessors[dm.Primitives[0].Attributes[gltf.NORMAL]], nil)
			if err != nil {
				t.Fatal(err)
			}
			for _, n := range nrm {
				if l := math.Hypot(math.Hypot(float64(n[0]), float64(n[1])), float64(n[2])); math.Abs(
					l-1,
				) > 1e-4 {
					t.Fatalf("%s: normal of length %g", parts[i].Name, l)
				}
			}
		}
		b.Reset()
		if err := write.OBJ(&b, &mtl, "x.mtl", parts); err != nil {
			t.Fatal(err)
		}
		corners, faces := 0, 0
		for line := range strings.Lines(b.String()) {
			if strings.HasPrefix(line, "f ") {
				faces, corners = faces+1, corners+len(strings.Fields(line))-1
			}
		}
		// A polygon of n corners stands for n-2 triangles.
		if corners-2*faces != tris || faces > tris*4/5 {
			t.Errorf("%s: OBJ has %d faces of %d corners for %d triangles", file, faces, corners, tris)
		}
		if n := strings.Count(mtl.String(), "newmtl "); n != len(parts) {
			t.Errorf("%s: MTL has %d materials", file, n)
		}
	}
}

// readSTL reads a binary STL and joins equal corners.
func readSTL(t *testing.T, b []byte) *mesh.Mesh {
	t.Helper()
	n := int(binary.LittleEndian.Uint32(b[80:]))
	if len(b) != 84+50*n {
		t.Fatalf("%d bytes for %d triangles", len(b), n)
	}
	const step = 1.0 / (1 << 18)
	m := &mesh.Mesh{Step: step}
	for i := range n {
		var tri [3]int32
		for c := range 3 {
			var v [3]int32
			for a := range 3 {
				f := float64(math.Float32frombits(binary.LittleEndian.Uint32(b[84+50*i+12+12*c+4*a:])))
				if f/step != math.Trunc(f/step) {
					t.Fatalf("coordinate %g is off the grid", f)
				}
				v[a] = int32(f / step)
			}
			tri[c] = int32(len(m.Verts))
			m.Verts = append(m.Verts, v)
		}
		m.Tris = append(m.Tris, tri)
	}
	m.Group = make([]mesh.Group, n)
	return m
}

// TestCleanedOutlinesStayTheSame cleans the demo artwork and cleans the result
// again: areas by colour must not change, nothing may be left to do.
func TestCleanedOutlinesStayTheSame(t *testing.T) {
	for _, file := range []string{"../../demo/compass-badge.svg", "../../demo/tide-clock.svg"} {
		s := sheet(t, file)
		r := recipe.New()
		r.Size.Tolerance = 0.001
		take := func(s *artwork.Sheet) func(int) bool { return func(i int) bool { return r.Intake.Included(s, i) } }
		var b bytes.Buffer
		if err := write.CleanSVG(context.Background(), &b, s, take(s), 0.01); err != nil {
			t.Fatal(err)
		}
		again, err := read.Sheet("again.svg", b.Bytes())
		if err != nil {
			t.Fatal(err)
		}
		for _, n := range again.Notes {
			if n.Text() != "gradient became its mean colour" { // gradients are kept
				t.Errorf("%s: the cleaned file is not plain: %v", file, n)
			}
		}
		if again.SourceViewBox != s.SourceViewBox || again.SourceWidth != s.SourceWidth {
			t.Errorf("%s: the cleaned file has another page", file)
		}
		p, err := regionsOf(s, &r)
		if err != nil {
			t.Fatal(err)
		}
		q, err := regionsOf(again, &r)
		if err != nil {
			t.Fatal(err)
		}
		if len(p.Parts) != len(q.Parts) || math.Abs(p.Height-q.Height) > 0.02 {
			t.Fatalf("%s: %d parts became %d", file, len(p.Parts), len(q.Parts))
		}
		for i := range p.Parts {
			a, c := p.Step.Area(p.Parts[i].Region.Value), q.Step.Area(q.Parts[i].Region.Value)
			if math.Abs(a-c) > 0.002*a {
				t.Errorf("%s: %s has %g and then %g mm2", file, p.Parts[i].ID, a/2, c/2)
			}
		}
	}
}
