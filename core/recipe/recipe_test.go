package recipe

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"os"
	"runtime"
	"strings"
	"testing"

	"github.com/qmuntal/gltf"
	"github.com/qmuntal/gltf/modeler"

	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/write"
)

func sheet(t testing.TB, path string) *artwork.Sheet {
	t.Helper()
	data, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	s, err := read.Sheet(path, data)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func solids(t testing.TB, s *artwork.Sheet, r *Recipe) []write.Part {
	t.Helper()
	p, err := Apply(context.Background(), s, r)
	if err != nil {
		t.Fatal(err)
	}
	var out []write.Part
	for i := range p.Parts {
		how := r.Of(p.Parts[i].ID)
		plan, m, err := p.Raise(context.Background(), &p.Parts[i], how)
		if err != nil {
			t.Fatal(err)
		}
		plan.Shade(m, how.Spec(), how.Bevel(), raise.Crease)
		out = append(out, write.Part{Name: p.Parts[i].Name, Color: p.Parts[i].Color, Mesh: m})
	}
	return out
}

// TestWrittenMeshesReadBack writes the demo pieces and reads each format
// back: sizes, counts, volumes and soundness must come through float32.
func TestWrittenMeshesReadBack(t *testing.T) {
	for _, file := range []string{"../../demo/compass-badge.svg", "../../demo/tide-clock.svg"} {
		s := sheet(t, file)
		r := New()
		r.Size = Size{"height", 120}
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
		if err := write.GLB(&b, parts); err != nil {
			t.Fatal(err)
		}
		doc := new(gltf.Document)
		if err := gltf.NewDecoder(&b).Decode(doc); err != nil {
			t.Fatal(err)
		}
		if len(doc.Meshes) != len(parts) || len(doc.Materials) != len(parts) || len(doc.Nodes) != len(parts)+1 {
			t.Errorf("%s: GLB has %d meshes, %d materials, %d nodes", file, len(doc.Meshes), len(doc.Materials), len(doc.Nodes))
		}
		for i, dm := range doc.Meshes {
			nrm, err := modeler.ReadNormal(doc, doc.Accessors[dm.Primitives[0].Attributes[gltf.NORMAL]], nil)
			if err != nil {
				t.Fatal(err)
			}
			for _, n := range nrm {
				if l := math.Hypot(math.Hypot(float64(n[0]), float64(n[1])), float64(n[2])); math.Abs(l-1) > 1e-4 {
					t.Fatalf("%s: normal of length %g", parts[i].Name, l)
				}
			}
		}
		b.Reset()
		if err := write.OBJ(&b, &mtl, "x.mtl", parts); err != nil {
			t.Fatal(err)
		}
		if n := strings.Count(b.String(), "\nf "); n != tris {
			t.Errorf("%s: OBJ has %d faces, want %d", file, n, tris)
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
		r := New()
		r.Tolerance = 0.001
		take := func(s *artwork.Sheet) func(int) bool { return func(i int) bool { return r.Included(s, i) } }
		var b bytes.Buffer
		if err := write.CleanSVG(&b, s, take(s), 0.01); err != nil {
			t.Fatal(err)
		}
		again, err := read.Sheet("again.svg", b.Bytes())
		if err != nil {
			t.Fatal(err)
		}
		for _, n := range again.Notes {
			if n.Text != "gradient became its mean colour" { // gradients are kept
				t.Errorf("%s: the cleaned file is not plain: %v", file, n)
			}
		}
		if again.SourceViewBox != s.SourceViewBox || again.SourceWidth != s.SourceWidth {
			t.Errorf("%s: the cleaned file has another page", file)
		}
		p, err := Apply(context.Background(), s, &r)
		if err != nil {
			t.Fatal(err)
		}
		q, err := Apply(context.Background(), again, &r)
		if err != nil {
			t.Fatal(err)
		}
		if len(p.Parts) != len(q.Parts) || math.Abs(p.Height-q.Height) > 0.02 {
			t.Fatalf("%s: %d parts became %d", file, len(p.Parts), len(q.Parts))
		}
		for i := range p.Parts {
			a, c := float64(p.Parts[i].Region.Area2())*p.Step*p.Step, float64(q.Parts[i].Region.Area2())*q.Step*q.Step
			if math.Abs(a-c) > 0.002*a {
				t.Errorf("%s: %s has %g and then %g mm2", file, p.Parts[i].Name, a/2, c/2)
			}
		}
	}
}

func TestApplyFollowsTheDecisions(t *testing.T) {
	s := sheet(t, "../../demo/tide-clock.svg")
	ctx := context.Background()
	r := New()
	p, err := Apply(ctx, s, &r)
	if err != nil {
		t.Fatal(err)
	}
	if len(p.Parts) != 6 || math.Abs(p.Width-100) > 1e-9 {
		t.Fatalf("%d parts, %g wide", len(p.Parts), p.Width)
	}
	r.Choice = map[string]bool{"drill-guide+stroke": true, "centre-line+stroke": true}
	if p, err = Apply(ctx, s, &r); err != nil || len(p.Parts) != 7 {
		t.Errorf("hidden shapes taken in: %d parts, %v", len(p.Parts), err)
	}
	r.Choice = map[string]bool{}
	for i := range s.Shapes {
		r.Choice[s.Shapes[i].Key] = false
	}
	var e *Error
	if _, err = Apply(ctx, s, &r); !errors.As(err, &e) {
		t.Errorf("all left out: %v", err)
	}
	// With cut overlaps the parts do not cover each other; kept, they do.
	r = New()
	sum := func() (a float64) {
		p, err := Apply(ctx, s, &r)
		if err != nil {
			t.Fatal(err)
		}
		for _, part := range p.Parts {
			a += float64(part.Region.Area2()) / 2 * p.Step * p.Step
		}
		return a
	}
	cut := sum()
	r.Overlap = "keep"
	if keep := sum(); keep < cut*1.1 {
		t.Errorf("cut %g, keep %g mm2", cut, keep)
	}
}

func TestParseLength(t *testing.T) {
	for in, want := range map[string]float64{"8": 8, "2cm": 20, "3/8 in": 9.525, "12+0.4": 12.4, "1in+2mm": 27.4, "1,5": 1.5, " 10 mm ": 10, "2*3": 6, "1+1in": 50.8, "-3": -3, ".5m": 500, "12-0.5cm": 115} {
		if got, err := ParseLength(in, "mm"); err != nil || math.Abs(got-want) > 1e-9 {
			t.Errorf("%q: %g, %v; want %g", in, got, err, want)
		}
	}
	for _, in := range []string{"", "mm", "3 parsec", "1//2", "1+", "0x10", "1/0", "1e9999"} {
		if got, err := ParseLength(in, "mm"); err == nil {
			t.Errorf("%q taken as %g", in, got)
		}
	}
}

func TestRecipeDocument(t *testing.T) {
	r, err := Parse([]byte(`{"version":1,"size":{"by":"height","mm":40},"parts":{"#aabbcc":{"depth":3,"profile":"chamfer","segments":1,"back":"bevel"}}}`))
	if err != nil || r.Size.MM != 40 || r.Tolerance != New().Tolerance || r.Of("#aabbcc").Depth != 3 || r.Of("#000000").Depth != 8 {
		t.Errorf("%+v, %v", r, err)
	}
	for _, bad := range []string{`{"size":{"by":"width","mm":0}}`, `{"size":{"by":"breadth","mm":5}}`, `{"default":{"depth":-1}}`, `{"default":{"segments":99}}`, `{"default":{"profile":"spiky"}}`, `{"version":9}`, `[`, `{"tolerance":0}`} {
		if _, err := Parse([]byte(bad)); err == nil {
			t.Errorf("%s accepted", bad)
		}
	}
}

// icon is a single-colour icon of some hundred nodes, drawn for this bench:
// a ship's wheel with holes.
func icon() []byte {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64"><path fill-rule="evenodd" d="`)
	ring := func(r float64) {
		fmt.Fprintf(&b, "M%.2f 32A%.2f %.2f 0 1 1 %.2f 32A%.2f %.2f 0 1 1 %.2f 32Z", 32-r, r, r, 32+r, r, r, 32-r)
	}
	ring(22)
	for k := range 12 {
		a := float64(k) * math.Pi / 6
		fmt.Fprintf(&b, "M%.2f %.2fc2 3 3 3 4 6c-2 1-5 1-6-1c0-2 1-3 2-5z", 32+14*math.Cos(a), 30+14*math.Sin(a))
	}
	b.WriteString("M30 2")
	for k := range 40 {
		a0, a1 := (float64(k)-10)*math.Pi/20, (float64(k)-9.5)*math.Pi/20
		fmt.Fprintf(&b, "L%.2f %.2fQ%.2f %.2f %.2f %.2f", 32+30*math.Cos(a0), 32+30*math.Sin(a0), 32+25*math.Cos(a1), 32+25*math.Sin(a1), 32+27*math.Cos(a1), 32+27*math.Sin(a1))
	}
	b.WriteString(`Z"/></svg>`)
	return []byte(b.String())
}

// BenchmarkIcon reads, resolves and raises one icon, 4 segments.
func BenchmarkIcon(b *testing.B) {
	runtime.GOMAXPROCS(1)
	defer runtime.GOMAXPROCS(runtime.NumCPU())
	data := icon()
	for b.Loop() {
		s, err := read.Sheet("icon.svg", data)
		if err != nil {
			b.Fatal(err)
		}
		r := New()
		p, err := Apply(context.Background(), s, &r)
		if err != nil {
			b.Fatal(err)
		}
		edges := 0
		for i := range p.Parts {
			if _, _, err := p.Raise(context.Background(), &p.Parts[i], r.Default); err != nil {
				b.Fatal(err)
			}
			edges += p.Parts[i].Region.Edges()
		}
		b.ReportMetric(float64(edges), "segments")
		b.ReportMetric(float64(s.Nodes()), "nodes")
	}
}
