package write

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/read"
)

// wedge is a tetrahedron with legs of 1 mm, flat normals for its shading.
func wedge() *mesh.Mesh {
	m := &mesh.Mesh{
		Step:  0.25,
		Verts: [][3]int32{{0, 0, 0}, {4, 0, 0}, {0, 4, 0}, {0, 0, 4}},
		Tris:  [][3]int32{{0, 2, 1}, {0, 1, 3}, {0, 3, 2}, {1, 2, 3}},
		Group: []mesh.Group{mesh.Back, mesh.Side, mesh.Side, mesh.Front},
	}
	s := float32(1 / math.Sqrt(3))
	m.Normals = [][3]float32{{0, 0, -1}, {0, -1, 0}, {-1, 0, 0}, {s, s, s}}
	for i := range m.Tris {
		n := int32(i)
		m.Corner = append(m.Corner, [3]int32{n, n, n})
	}
	return m
}

func pair() []Part {
	plain := wedge()
	plain.Normals, plain.Corner = nil, nil
	return []Part{
		{Name: "Mast & boom", Color: artwork.Color{R: 255, G: 128}, Mesh: wedge()},
		{Name: "Mast_&_boom", Color: artwork.Color{B: 51}, Mesh: plain},
	}
}

// TestNumbers writes numbers in both forms.
func TestNumbers(t *testing.T) {
	for _, c := range []struct {
		f    Number
		v    float64
		want string
	}{
		{Fixed(3), 1.23456, "1.235"},
		{Fixed(3), 1.2, "1.2"},
		{Fixed(3), 100, "100"},
		{Fixed(0), 100, "100"},
		{Fixed(0), 0.4, "0"},
		{Fixed(3), -0.0001, "0"},
		{Fixed(3), -0.5, "-0.5"},
		{Fixed(2), 1e9, "1000000000"},
		{Fixed(6), 1e-9, "0"},
		{Short, 1.234567, "1.2346"},
		{Short, 123456.7, "1.2346e+05"},
		{Short, -1e-7, "0"},
		{Short, 0.00123456, "0.0012346"},
	} {
		if got := string(c.f([]byte("x"), c.v)); got != "x"+c.want {
			t.Errorf("%g is %s, want %s", c.v, got[1:], c.want)
		}
	}
}

// TestPaths writes a region with a hole as path data, y turned down.
func TestPaths(t *testing.T) {
	r := plane.Region{{
		Outer: plane.Loop{{X: 0, Y: 0}, {X: 8, Y: 0}, {X: 8, Y: 8}, {X: 0, Y: 8}},
		Holes: []plane.Loop{{{X: 2, Y: 2}, {X: 2, Y: 4}, {X: 4, Y: 2}}},
	}}
	got := string(RegionPath(nil, r, Upright(0.25), Fixed(2)))
	if want := "M0 0L2 0 2 -2 0 -2ZM0.5 -0.5L0.5 -1 1 -0.5Z"; got != want {
		t.Errorf("got  %s\nwant %s", got, want)
	}
	if got := LoopPath(nil, 0, nil, Short); string(got) != "Z" {
		t.Errorf("no points are %q", got)
	}
}

// TestSTL reads the bytes of a file: count, corners in mm and normals that
// point out of the solid.
func TestSTL(t *testing.T) {
	var b bytes.Buffer
	if err := STL(&b, pair()); err != nil {
		t.Fatal(err)
	}
	raw := b.Bytes()
	if n := binary.LittleEndian.Uint32(raw[80:]); n != 8 || len(raw) != 84+50*8 {
		t.Fatalf("%d triangles in %d bytes", n, len(raw))
	}
	// A file that begins with "solid" would be taken for a text.
	if bytes.HasPrefix(raw, []byte("solid")) {
		t.Error("begins like a text")
	}
	m := wedge()
	for k, tri := range m.Tris {
		at := 84 + 50*k
		float := func(i int) float32 {
			return math.Float32frombits(binary.LittleEndian.Uint32(raw[at+4*i:]))
		}
		for i := range 3 {
			if d := float64(float(i) - m.Normals[k][i]); math.Abs(d) > 1e-6 {
				t.Errorf("triangle %d: normal off by %g", k, d)
			}
			for c := range 3 {
				if got, want := float(3+3*c+i), m.Pos(tri[c])[i]; got != want {
					t.Errorf("triangle %d, corner %d: %g, want %g", k, c, got, want)
				}
			}
		}
	}
	if n := faceNormal([3]float32{}, [3]float32{1}, [3]float32{2}); n != ([3]float32{}) {
		t.Errorf("a triangle without area has the normal %v", n)
	}
}

// TestOBJ compares a whole file and its materials.
func TestOBJ(t *testing.T) {
	var obj, mtl bytes.Buffer
	if err := OBJ(&obj, &mtl, "ship.mtl", pair()); err != nil {
		t.Fatal(err)
	}
	corners := "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\n"
	want := "# Bildhauer, millimetres\nmtllib ship.mtl\n" +
		"o Mast___boom\nusemtl Mast___boom\n" + corners +
		"vn 0 0 -1\nvn 0 -1 0\nvn -1 0 0\nvn 0.57735026 0.57735026 0.57735026\n" +
		"g Mast___boom_front\nf 2//4 3//4 4//4\n" +
		"g Mast___boom_side\nf 1//2 2//2 4//2\nf 1//3 4//3 3//3\n" +
		"g Mast___boom_back\nf 1//1 3//1 2//1\n" +
		"o Mast___boom_2\nusemtl Mast___boom_2\n" + corners +
		"g Mast___boom_2_front\nf 6 7 8\n" +
		"g Mast___boom_2_side\nf 5 6 8\nf 5 8 7\n" +
		"g Mast___boom_2_back\nf 5 7 6\n"
	if obj.String() != want {
		t.Errorf("got\n%s\nwant\n%s", obj.String(), want)
	}
	wantMTL := "# Bildhauer\nnewmtl Mast___boom\nKd 1.0000 0.5020 0.0000\n" +
		"newmtl Mast___boom_2\nKd 0.0000 0.0000 0.2000\n"
	if mtl.String() != wantMTL {
		t.Errorf("got\n%s\nwant\n%s", mtl.String(), wantMTL)
	}
}

// TestUniqueNames gives each part a name of its own that every reader takes.
func TestUniqueNames(t *testing.T) {
	var parts []Part
	for _, n := range []string{"Sail", "Sail", "Sail_2", "", "☸", "Großsegel", "a b"} {
		parts = append(parts, Part{Name: n})
	}
	got := fmt.Sprint(uniqueNames(namesOf(parts)))
	if want := "[Sail Sail_2 Sail_2_2 part part_2 Gro_segel a_b]"; got != want {
		t.Errorf("got %s, want %s", got, want)
	}
}

// TestCorners shares entries where position and normal agree, and only there.
func TestCorners(t *testing.T) {
	m := wedge()
	pos, nrm, _, idx := Corners(Part{Mesh: m})
	if len(pos) != 12 || len(nrm) != 12 || len(idx) != 12 {
		t.Fatalf("flat: %d positions, %d normals, %d indices", len(pos), len(nrm), len(idx))
	}
	for k, tri := range m.Tris {
		for c, v := range tri {
			if i := idx[3*k+c]; pos[i] != m.Pos(v) || nrm[i] != m.Normals[m.Corner[k][c]] {
				t.Errorf("triangle %d, corner %d: %v with %v", k, c, pos[i], nrm[i])
			}
		}
	}
	for i := range m.Corner {
		m.Corner[i] = [3]int32{}
	}
	if pos, _, _, _ = Corners(Part{Mesh: m}); len(pos) != 4 {
		t.Errorf("smooth: %d positions", len(pos))
	}
	m.Corner = nil
	if pos, nrm, _, _ = Corners(Part{Mesh: m}); len(pos) != 4 || nrm != nil {
		t.Errorf("without normals: %d positions, %v", len(pos), nrm)
	}
}

// full is a disk on which only so many bytes fit.
type full struct{ room int }

var errFull = errors.New("no space left")

func (f *full) Write(b []byte) (int, error) {
	if len(b) > f.room {
		n := f.room
		f.room = 0
		return n, errFull
	}
	f.room -= len(b)
	return len(b), nil
}

// TestFullDisks checks that every format says so when the disk fills up,
// wherever that happens.
func TestFullDisks(t *testing.T) {
	sheet := drawing()
	outline := plane.Region{{Outer: plane.Loop{{X: 0, Y: 0}, {X: 8, Y: 0}, {X: 8, Y: 8}}}}
	for name, f := range map[string]func(w io.Writer) error{
		"STL": func(w io.Writer) error { return STL(w, pair()) },
		"OBJ": func(w io.Writer) error { return OBJ(w, io.Discard, "a.mtl", pair()) },
		"MTL": func(w io.Writer) error { return OBJ(io.Discard, w, "a.mtl", pair()) },
		"GLB": func(w io.Writer) error { return GLB(w, pair(), nil) },
		"clean SVG": func(w io.Writer) error {
			return CleanSVG(context.Background(), w, sheet, func(int) bool { return true }, 0.01)
		},
		"SVG of parts": func(w io.Writer) error {
			return PartsSVG(w, []Cut{{Outline{Name: "a", Region: outline}, 3}}, 0.5, 4, 4)
		},
	} {
		var whole bytes.Buffer
		if err := f(&whole); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		for room := 0; room < whole.Len(); room += 1 + whole.Len()/50 {
			if err := f(&full{room}); !errors.Is(err, errFull) {
				t.Errorf("%s: %d of %d bytes fit, and it says %v", name, room, whole.Len(), err)
				break
			}
		}
		if err := f(&full{whole.Len()}); err != nil {
			t.Errorf("%s: all fits, and it says %v", name, err)
		}
	}
}

// drawing has a plain shape, one with a gradient, a stroke and a bow tie.
func drawing() *artwork.Sheet {
	path := func(v ...float64) []geom.Contour {
		c := geom.Contour{Start: geom.Vec{X: v[0], Y: v[1]}, Closed: true}
		for i := 2; i < len(v); i += 2 {
			c.Segs = append(c.Segs, geom.Segment{To: geom.Vec{X: v[i], Y: v[i+1]}})
		}
		return []geom.Contour{c}
	}
	ramp := &artwork.Gradient{
		Q:      geom.Vec{X: 8},
		Matrix: geom.Identity,
		Spread: "reflect",
		Stops:  []artwork.Stop{{At: 0, Opacity: 1}, {At: 1, Color: artwork.Color{R: 255}, Opacity: 0.5}},
	}
	return &artwork.Sheet{
		Name:          "a.svg",
		Page:          geom.Box{Max: geom.Vec{X: 16, Y: 16}},
		SourceWidth:   "16",
		SourceViewBox: `0 0 16 "16`,
		SourceUnits:   geom.Identity,
		Shapes: []artwork.Shape{
			{Name: "plain", Opacity: 0.5, Matrix: geom.Identity, Contours: path(0, 0, 4, 0, 4, 4, 0, 4)},
			{Name: "ramp", Opacity: 1, Veil: 0.5, Gradient: ramp, Matrix: geom.Identity, Contours: path(8, 0, 12, 0, 12, 4)},
			{Name: "bow", Opacity: 1, Matrix: geom.Identity, Contours: path(0, 8, 4, 12, 4, 8, 0, 12)},
			{Name: "nothing", Opacity: 1, Matrix: geom.Identity, Contours: path(0, 0, 4, 4)},
		},
	}
}

// TestCleanSVG compares a whole file: paint, order, crossings resolved, what
// has no area left out, and attributes that cannot break out.
func TestCleanSVG(t *testing.T) {
	var b bytes.Buffer
	s := drawing()
	if err := CleanSVG(context.Background(), &b, s, func(int) bool { return true }, 0.01); err != nil {
		t.Fatal(err)
	}
	want := `<svg xmlns="http://www.w3.org/2000/svg" width="16" viewBox="0 0 16 &#34;16">
<path fill="#000000" fill-opacity="0.5" d="M0 0L4 0 4 4 0 4Z"/>
<linearGradient id="paint1" gradientUnits="userSpaceOnUse" gradientTransform="matrix(1 0 0 1 0 0)"` +
		` x1="0" y1="0" x2="8" y2="0" spreadMethod="reflect">` +
		`<stop offset="0" stop-color="#000000" stop-opacity="0.5"/>` +
		`<stop offset="1" stop-color="#ff0000" stop-opacity="0.25"/></linearGradient>
<path fill="url(#paint1)" d="M8 0L12 0 12 4Z"/>
<path fill="#000000" d="M0 8L2 10 0 12ZM2 10L4 8 4 12Z"/>
</svg>
`
	if b.String() != want {
		t.Errorf("got\n%s\nwant\n%s", b.String(), want)
	}
	b.Reset()
	if err := CleanSVG(context.Background(), &b, s, func(i int) bool { return i == 2 }, 0.01); err != nil {
		t.Fatal(err)
	}
	if n := strings.Count(b.String(), "<path"); n != 1 {
		t.Errorf("%d paths of the one that was taken", n)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if err := CleanSVG(ctx, io.Discard, s, func(int) bool { return true }, 0.01); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled, and it says %v", err)
	}
}

// TestLinear compares the conversion with the standard's own values (IEC
// 61966-2-1).
func TestLinear(t *testing.T) {
	for v, want := range map[uint8]float64{0: 0, 10: 0.003035, 128: 0.215861, 188: 0.502886, 255: 1} {
		if got := linear(artwork.Color{R: v})[0]; math.Abs(got-want) > 1e-5 {
			t.Errorf("%d is %g, want %g", v, got, want)
		}
	}
}

// TestCurvesSVG writes contours as they are and reads the same back: curves stay
// curves, strokes become outlines.
func TestCurvesSVG(t *testing.T) {
	const text = `<svg xmlns="http://www.w3.org/2000/svg" width="50mm" height="40mm" viewBox="0 0 500 400">` +
		`<path fill="#336699" fill-rule="evenodd" d="M10 10H200V200H10ZM50 50Q100 20 150 50C160 90 160 120 150 150H50Z"/>` +
		`<path fill="none" stroke="#a33333" stroke-width="20" d="M250 50H450"/></svg>`
	s, err := read.Sheet("a.svg", []byte(text))
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := CurvesSVG(context.Background(), &b, s, func(int) bool { return true }, 0.01); err != nil {
		t.Fatal(err)
	}
	again, err := read.Sheet("b.svg", b.Bytes())
	if err != nil {
		t.Fatalf("%v\n%s", err, b.String())
	}
	if len(again.Shapes) != 2 || !again.Shapes[0].EvenOdd || again.Shapes[1].Stroke != nil || again.SourceWidth != "50mm" {
		t.Fatalf("read back: %s", b.String())
	}
	was, is := s.Shapes[0].Contours, again.Shapes[0].Contours
	for k := range was {
		for i := range was[k].Segs {
			x, y := was[k].Segs[i], is[k].Segs[i]
			if x.Kind != y.Kind || x.To.Sub(y.To).Len() > 1e-3 || x.C1.Sub(y.C1).Len() > 1e-3 || x.C2.Sub(y.C2).Len() > 1e-3 {
				t.Errorf("contour %d, segment %d: %+v became %+v", k, i, x, y)
			}
		}
	}
	if d := again.Shapes[1].Box().W() - s.Shapes[1].Box().W(); math.Abs(d) > 0.01 {
		t.Errorf("the stroke's outline is %g px wider", d)
	}
}

// TestOutlinesAreGroupedByDepth reads the SVG of three parts of two depths back: a group a depth,
// each outline in it with its name, colour and area.
func TestOutlinesAreGroupedByDepth(t *testing.T) {
	square := func(x, side int32) plane.Region {
		return plane.Region{{Outer: plane.Loop{{X: x}, {X: x + side}, {X: x + side, Y: side}, {X: x, Y: side}}}}
	}
	cuts := []Cut{
		{Outline{"Tag", artwork.Color{R: 255}, square(-20, 8)}, 3}, {Outline{"Ring", artwork.Color{G: 255}, square(0, 4)}, 1.5},
		{Outline{"Edge", artwork.Color{B: 255}, square(10, 2)}, 3},
	}
	var b bytes.Buffer
	if err := PartsSVG(&b, cuts, 0.5, 40, 40); err != nil {
		t.Fatal(err)
	}
	depths := regexp.MustCompile(`data-depth="([^"]+)"`).FindAllStringSubmatch(b.String(), -1)
	s, err := read.Sheet("parts.svg", b.Bytes())
	if err != nil || len(s.Shapes) != 3 || len(s.Groups) != 2 || len(depths) != 2 || depths[0][1] != "3mm" || depths[1][1] != "1.5mm" {
		t.Fatalf("%v, depths %v: %s", err, depths, b.String())
	}
	for i, k := range []int{0, 2, 1} { // those of one depth together
		c, sh := &cuts[k], &s.Shapes[i]
		mm := sh.Box().W() / 96 * 25.4
		if want := math.Sqrt(float64(c.Region.Area2())/2) * 0.5; sh.Color != c.Color || math.Abs(mm-want) > 1e-3 {
			t.Errorf("%s came back as %v, %g mm wide, not %g", c.Name, sh.Color, mm, want)
		}
		if !strings.Contains(b.String(), "<title>"+c.Name+"</title>") {
			t.Errorf("%s is not named", c.Name)
		}
	}
}
