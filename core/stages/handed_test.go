package stages

import (
	"archive/zip"
	"bufio"
	"bytes"
	"encoding/binary"
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/hpinc/go3mf"

	"bildhauer/core/mesh"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

// handed is what a file says of one part.
type handed struct {
	name   string
	color  string
	points [][3]float64
	tris   [][3]int
}

// volume and box of what was read, mm.
func (h *handed) volume() (v float64) {
	for _, t := range h.tris {
		a, b, c := h.points[t[0]], h.points[t[1]], h.points[t[2]]
		v += (a[0]*(b[1]*c[2]-b[2]*c[1]) - a[1]*(b[0]*c[2]-b[2]*c[0]) + a[2]*(b[0]*c[1]-b[1]*c[0])) / 6
	}
	return v
}

func boxOf(list []handed) (lo, hi [3]float64) {
	lo, hi = [3]float64{1e9, 1e9, 1e9}, [3]float64{-1e9, -1e9, -1e9}
	for _, h := range list {
		for _, p := range h.points {
			for k := range p {
				lo[k], hi[k] = math.Min(lo[k], p[k]), math.Max(hi[k], p[k])
			}
		}
	}
	return lo, hi
}

func floats(t *testing.T, text string) []float64 {
	t.Helper()
	var out []float64
	for _, f := range strings.FieldsFunc(text, func(r rune) bool { return strings.ContainsRune(" ,()[]\n", r) }) {
		v, err := strconv.ParseFloat(f, 64)
		if err != nil {
			t.Fatal(err)
		}
		out = append(out, v)
	}
	return out
}

// read3MF reads a package by its parts: the archive and the XML of its model.
func read3MF(t *testing.T, data []byte) []handed {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	f, err := z.Open("3D/3dmodel.model")
	if err != nil {
		t.Fatal(err)
	}
	var model struct {
		Unit      string `xml:"unit,attr"`
		Resources struct {
			Base []struct {
				Color string `xml:"displaycolor,attr"`
			} `xml:"basematerials>base"`
			Objects []struct {
				ID       string `xml:"id,attr"`
				Name     string `xml:"name,attr"`
				PIndex   *int   `xml:"pindex,attr"`
				Vertices []struct {
					X float64 `xml:"x,attr"`
					Y float64 `xml:"y,attr"`
					Z float64 `xml:"z,attr"`
				} `xml:"mesh>vertices>vertex"`
				Triangles []struct {
					V1 int `xml:"v1,attr"`
					V2 int `xml:"v2,attr"`
					V3 int `xml:"v3,attr"`
				} `xml:"mesh>triangles>triangle"`
				Components []struct {
					ID string `xml:"objectid,attr"`
				} `xml:"components>component"`
			} `xml:"object"`
		} `xml:"resources"`
		Items []struct {
			ID string `xml:"objectid,attr"`
		} `xml:"build>item"`
	}
	if err := xml.NewDecoder(f).Decode(&model); err != nil {
		t.Fatal(err)
	}
	var out []handed
	for _, o := range model.Resources.Objects {
		if len(o.Components) > 0 {
			if len(o.Components) != len(model.Resources.Objects)-1 || len(model.Items) != 1 || model.Items[0].ID != o.ID {
				t.Errorf("3MF: the assembly has %d of %d objects", len(o.Components), len(model.Resources.Objects)-1)
			}
			continue
		}
		if o.PIndex == nil {
			t.Fatalf("3MF: %s has no colour", o.Name)
		}
		h := handed{name: o.Name, color: model.Resources.Base[*o.PIndex].Color}
		for _, v := range o.Vertices {
			h.points = append(h.points, [3]float64{v.X, v.Y, v.Z})
		}
		for _, v := range o.Triangles {
			h.tris = append(h.tris, [3]int{v.V1, v.V2, v.V3})
		}
		out = append(out, h)
	}
	if model.Unit != "millimeter" {
		t.Errorf("3MF: in %s", model.Unit)
	}
	var again go3mf.Model
	if err := go3mf.NewDecoder(bytes.NewReader(data), int64(len(data))).Decode(&again); err != nil {
		t.Errorf("3MF: %v", err)
	} else if err := again.Validate(); err != nil {
		t.Errorf("3MF: %v", err)
	}
	return out
}

// readPLY reads a mesh with colours; parts are told by these.
func readPLY(t *testing.T, data []byte) []handed {
	t.Helper()
	head, body, ok := bytes.Cut(data, []byte("end_header\n"))
	if !ok || !bytes.Contains(head, []byte("property float nx")) {
		t.Fatalf("PLY: %.300s", head)
	}
	number := func(what string) int {
		m := regexp.MustCompile("element " + what + ` (\d+)`).FindSubmatch(head)
		n, err := strconv.Atoi(string(m[1]))
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	r := bufio.NewReader(bytes.NewReader(body))
	var all handed
	var colors []string
	for range number("vertex") {
		var v struct {
			P, N [3]float32
			C    [3]uint8
		}
		if err := binary.Read(r, binary.LittleEndian, &v); err != nil {
			t.Fatal(err)
		}
		all.points = append(all.points, [3]float64{float64(v.P[0]), float64(v.P[1]), float64(v.P[2])})
		colors = append(colors, fmt.Sprintf("#%02x%02x%02x", v.C[0], v.C[1], v.C[2]))
	}
	by := map[string]*handed{}
	var order []string
	for range number("face") {
		var f struct {
			N uint8
			V [3]int32
		}
		if err := binary.Read(r, binary.LittleEndian, &f); err != nil || f.N != 3 {
			t.Fatal(err, f)
		}
		c := colors[f.V[0]]
		if by[c] == nil {
			by[c] = &handed{color: c, points: all.points}
			order = append(order, c)
		}
		by[c].tris = append(by[c].tris, [3]int{int(f.V[0]), int(f.V[1]), int(f.V[2])})
	}
	if rest, _ := io.ReadAll(r); len(rest) > 0 {
		t.Errorf("PLY: %d bytes are left", len(rest))
	}
	var out []handed
	for _, c := range order {
		out = append(out, *by[c])
	}
	return out
}

// readUSDA reads the meshes of a text layer and the colours of their first faces.
func readUSDA(t *testing.T, text string) []handed {
	t.Helper()
	if !strings.HasPrefix(text, "#usda 1.0\n") || !strings.Contains(text, "metersPerUnit = 0.001") {
		t.Fatalf("USDA: %.200s", text)
	}
	if a, b := strings.Count(text, "{"), strings.Count(text, "}"); a != b {
		t.Errorf("USDA: %d braces open, %d close", a, b)
	}
	list := func(in, attribute string) []float64 {
		_, rest, ok := strings.Cut(in, attribute+" = [")
		if !ok {
			t.Fatalf("USDA: no %s", attribute)
		}
		values, _, _ := strings.Cut(rest, "]")
		return floats(t, values)
	}
	var out []handed
	for _, part := range strings.Split(text, "def Mesh ")[1:] {
		h := handed{name: strings.Split(part, `"`)[1]}
		points := list(part, "point3f[] points")
		for i := 0; i < len(points); i += 3 {
			h.points = append(h.points, [3]float64(points[i:i+3]))
		}
		index := list(part, "int[] faceVertexIndices")
		for i := 0; i < len(index); i += 3 {
			h.tris = append(h.tris, [3]int{int(index[i]), int(index[i+1]), int(index[i+2])})
		}
		if n := len(list(part, "normal3f[] normals")); n != len(points) {
			t.Errorf("USDA: %d normals for %d points", n/3, len(points)/3)
		}
		faces := 0
		for _, set := range strings.Split(part, "def GeomSubset ")[1:] {
			faces += len(list(set, "int[] indices"))
		}
		if faces != len(h.tris) {
			t.Errorf("USDA: %s has %d of %d faces in sets", h.name, faces, len(h.tris))
		}
		look := regexp.MustCompile(`</piece/looks/(\w+)>`).FindStringSubmatch(part)[1]
		_, made, ok := strings.Cut(text, `def Material "`+look+`"`)
		if !ok {
			t.Fatalf("USDA: no look %s", look)
		}
		c := floats(t, regexp.MustCompile(`diffuseColor = (\([^)]*\))`).FindStringSubmatch(made)[1])
		for i, v := range c {
			if v <= 0.0031308 {
				c[i] = 12.92 * v
			} else {
				c[i] = 1.055*math.Pow(v, 1/2.4) - 0.055
			}
		}
		h.color = fmt.Sprintf("#%02x%02x%02x", int(math.Round(255*c[0])), int(math.Round(255*c[1])), int(math.Round(255*c[2])))
		out = append(out, h)
	}
	return out
}

// TestWhatLeavesIsReadBack writes demo artwork in the formats for handing on and reads each
// by a reader of its own: triangles, box, volume, names and colours are those of the parts.
func TestWhatLeavesIsReadBack(t *testing.T) {
	for _, file := range []string{"../../demo/compass-badge.svg", "../../demo/tide-clock.svg"} {
		s := sheet(t, file)
		r := recipe.New()
		parts := solids(t, s, &r)
		written := func(format string) []byte {
			t.Helper()
			var b bytes.Buffer
			if err := write.Solids(&b, format, parts, nil); err != nil {
				t.Fatalf("%s: %v", format, err)
			}
			return b.Bytes()
		}
		usda := written("usda")
		for format, got := range map[string][]handed{
			"3mf": read3MF(t, written("3mf")), "ply": readPLY(t, written("ply")), "usda": readUSDA(t, string(usda)),
		} {
			if len(got) != len(parts) {
				t.Errorf("%s, %s: %d parts of %d", file, format, len(got), len(parts))
				continue
			}
			lo, hi := boxOf(got)
			for i, p := range parts {
				h := &got[i]
				want := mesh.Check(p.Mesh, false).VolumeMM3
				if len(h.tris) != len(p.Mesh.Tris) || math.Abs(h.volume()-want) > 1e-5*want {
					t.Errorf("%s, %s: %s has %d triangles, %g mm3; want %d, %g", file, format, p.Name, len(h.tris), h.volume(), len(p.Mesh.Tris), want)
				}
				if h.color != p.Color.Hex() {
					t.Errorf("%s, %s: %s is %s, not %s", file, format, p.Name, h.color, p.Color.Hex())
				}
				if name := strings.ReplaceAll(p.Name, " ", "_"); h.name != "" && h.name != p.Name && h.name != name {
					t.Errorf("%s, %s: %s is called %s", file, format, p.Name, h.name)
				}
			}
			if math.Abs(hi[0]-lo[0]-100) > 1e-3 || math.Abs(hi[2]-lo[2]-8) > 1e-4 {
				t.Errorf("%s, %s: from %v to %v", file, format, lo, hi)
			}
		}
		archive := written("usdz")
		z, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive)))
		if err != nil || len(z.File) != 1 || z.File[0].Method != zip.Store {
			t.Fatalf("%s: USDZ %v", file, err)
		}
		if at, err := z.File[0].DataOffset(); err != nil || at%64 != 0 || !bytes.Equal(archive[at:at+int64(len(usda))], usda) {
			t.Errorf("%s: what it holds begins at %d, %v", file, at, err)
		}
	}
}

// TestCuttersGetTheOutlines writes outlines for cutters and adds up what is enclosed, layer
// by layer: it is the area of each part.
func TestCuttersGetTheOutlines(t *testing.T) {
	s := sheet(t, "../../demo/compass-badge.svg")
	r := recipe.New()
	regions, err := regionsOf(s, &r)
	if err != nil {
		t.Fatal(err)
	}
	var cuts []write.Cut
	want := 0.0
	for i, p := range regions.Parts {
		cuts = append(cuts, write.Cut{Outline: write.Outline{Name: Names(&r, regions)[i], Region: p.Region.Value}, Depth: 8})
		want += regions.Step.Area(p.Region.Value)
	}
	var b bytes.Buffer
	if err := write.DXF(&b, cuts, regions.Step); err != nil {
		t.Fatal(err)
	}
	lines := strings.Split(strings.TrimSpace(b.String()), "\n")
	if len(lines)%2 != 0 {
		t.Fatalf("%d lines", len(lines))
	}
	layers := map[string]bool{}
	sum, entity := 0.0, ""
	var ring [][2]float64
	for i := 0; i < len(lines); i += 2 {
		code, value := strings.TrimSpace(lines[i]), lines[i+1]
		switch {
		case code == "0":
			if value == "SEQEND" {
				for k, p := range ring {
					q := ring[(k+1)%len(ring)]
					sum += (p[0]*q[1] - q[0]*p[1]) / 2
				}
				ring = nil
			}
			if entity = value; entity == "VERTEX" {
				ring = append(ring, [2]float64{})
			}
		case entity == "VERTEX" && (code == "10" || code == "20"):
			v, err := strconv.ParseFloat(value, 64)
			if err != nil {
				t.Fatal(err)
			}
			ring[len(ring)-1][map[string]int{"10": 0, "20": 1}[code]] = v
		case entity == "POLYLINE" && code == "8":
			layers[value] = true
			if len(value) > 31 || strings.ToUpper(value) != value || !strings.HasSuffix(value, "_8_00MM") {
				t.Errorf("a layer is called %q", value)
			}
		case entity == "POLYLINE" && code == "70" && value != "1":
			t.Error("an outline is open")
		}
	}
	if len(layers) != len(cuts) || math.Abs(sum-want) > 1e-3*want || lines[len(lines)-1] != "EOF" {
		t.Errorf("%d layers, %.3f mm2, want %.3f", len(layers), sum, want)
	}
}
