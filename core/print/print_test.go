package print

import (
	"context"
	"math"
	"strings"
	"testing"
	"time"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
)

const step = 1.0 / (1 << 16)

// grid brings mm to the grid.
func grid(v float64) int32 { return int32(math.Round(v / step)) }

// prism is an upright solid over an outline from z to z, its top smaller by a factor.
func prism(outline [][2]float64, from, to, taper float64) *mesh.Mesh {
	m := &mesh.Mesh{Step: step}
	n := len(outline)
	for _, p := range outline {
		m.Verts = append(m.Verts, [3]int32{grid(p[0]), grid(p[1]), grid(from)})
	}
	for _, p := range outline {
		m.Verts = append(m.Verts, [3]int32{grid(p[0] * taper), grid(p[1] * taper), grid(to)})
	}
	low, high := int32(len(m.Verts)), int32(len(m.Verts)+1)
	m.Verts = append(m.Verts, [3]int32{0, 0, grid(from)}, [3]int32{0, 0, grid(to)})
	for i := range n {
		a, b := int32(i), int32((i+1)%n)
		m.Tris = append(m.Tris, [3]int32{a, b, b + int32(n)}, [3]int32{a, b + int32(n), a + int32(n)},
			[3]int32{low, b, a}, [3]int32{high, a + int32(n), b + int32(n)})
	}
	m.Group = make([]mesh.Group, len(m.Tris))
	return m
}

func circle(r float64, n int) (out [][2]float64) {
	for i := range n {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		out = append(out, [2]float64{r * c, r * s})
	}
	return out
}

// joined puts meshes into one.
func joined(list ...*mesh.Mesh) *mesh.Mesh {
	out := &mesh.Mesh{Step: step}
	for _, m := range list {
		n := int32(len(out.Verts))
		out.Verts = append(out.Verts, m.Verts...)
		for _, t := range m.Tris {
			out.Tris = append(out.Tris, [3]int32{t[0] + n, t[1] + n, t[2] + n})
		}
	}
	out.Group = make([]mesh.Group, len(out.Tris))
	return out
}

func moved(m *mesh.Mesh, x, y float64) *mesh.Mesh {
	for i := range m.Verts {
		m.Verts[i][0] += grid(x)
		m.Verts[i][1] += grid(y)
	}
	return m
}

func sliced(t testing.TB, m *mesh.Mesh, first, height float64) []Layer {
	t.Helper()
	if r := mesh.Check(m, false); !r.Watertight() || r.VolumeMM3 <= 0 {
		t.Fatalf("the test's own solid is not sound: %+v", r)
	}
	layers, err := Slice(t.Context(), m, first, height)
	if err != nil {
		t.Fatal(err)
	}
	return layers
}

// TestLayersAreSections cuts known solids: the area of every layer is that of the section
// half way up, the layers fill the height.
func TestLayersAreSections(t *testing.T) {
	disc := circle(20, 200)
	area := 0.0
	for i, p := range disc {
		q := disc[(i+1)%len(disc)]
		area += (p[0]*q[1] - q[0]*p[1]) / 2
	}
	for name, c := range map[string]struct {
		solid *mesh.Mesh
		area  func(z float64) float64
		tall  float64
	}{
		"a disc":   {prism(disc, 0, 7, 1), func(float64) float64 { return area }, 7},
		"a cone":   {prism(disc, 0, 10, 0.1), func(z float64) float64 { k := 1 - 0.09*z; return area * k * k }, 10},
		"a funnel": {prism(disc, 0, 5, 2), func(z float64) float64 { k := 1 + 0.2*z; return area * k * k }, 5},
		"two": {joined(moved(prism(disc, 0, 4, 1), -30, 0), moved(prism(disc, 0, 8, 1), 30, 0)),
			func(z float64) float64 { return area * map[bool]float64{true: 2, false: 1}[z < 4] }, 8},
	} {
		for _, h := range []float64{0.2, 0.33} {
			layers := sliced(t, c.solid, 0.25, h)
			z := 0.0
			for i, l := range layers {
				if math.Abs(l.Z-z-l.Height) > 1e-9 {
					t.Fatalf("%s: layer %d ends at %g", name, i, l.Z)
				}
				want := c.area(z + l.Height/2)
				if got := plane.Step(step).Area(l.Area); math.Abs(got-want) > 1e-3*want {
					t.Errorf("%s, layer %d at %g: %.4f mm2, want %.4f", name, i, z, got, want)
				}
				z = l.Z
			}
			if math.Abs(z-c.tall) > 1e-9 || math.Abs(layers[0].Height-0.25) > 1e-9 {
				t.Errorf("%s: %d layers up to %g", name, len(layers), z)
			}
		}
	}
	// What a grid leaves makes no layer of its own.
	m := prism(disc, 0, 2.4000015, 1)
	if layers := sliced(t, m, 0.2, 0.2); len(layers) != 12 || math.Abs(layers[11].Height-0.2000015) > 1e-4 {
		t.Errorf("2.4000015 mm are %d layers", len(layers))
	}
	// The same whatever the order of its triangles.
	m = prism(disc, 0, 3, 0.5)
	a := sliced(t, m, 0.2, 0.2)
	for i, j := 0, len(m.Tris)-1; i < j; i, j = i+1, j-1 {
		m.Tris[i], m.Tris[j] = m.Tris[j], m.Tris[i]
	}
	for k, l := range sliced(t, m, 0.2, 0.2) {
		if l.Area[0].Outer[0] != a[k].Area[0].Outer[0] || len(l.Area[0].Outer) != len(a[k].Area[0].Outer) {
			t.Fatalf("layer %d depends on the order", k)
		}
	}
	if _, err := Slice(t.Context(), m, 0.2, 0.0001); err == nil || !strings.Contains(err.Error(), "make them thicker") {
		t.Errorf("30,000 layers: %v", err)
	}
	m.Tris = m.Tris[:len(m.Tris)-8]
	if _, err := Slice(t.Context(), m, 0.2, 0.2); err == nil || !strings.Contains(err.Error(), "open") {
		t.Errorf("a solid with a hole: %v", err)
	}
}

// TestWhatTroublesThePrinter prepares troubles and clean forms: each is found, with its
// measure, and nothing else.
func TestWhatTroublesThePrinter(t *testing.T) {
	disc := circle(20, 64)
	for name, c := range map[string]struct {
		solid *mesh.Mesh
		kinds string
		says  string
	}{
		"a disc":         {prism(disc, 0, 5, 1), "", ""},
		"a cone":         {prism(disc, 0, 12, 0.3), "", ""},
		"a steep funnel": {prism(disc, 0, 20, 1.5), "", ""},
		"a flat funnel":  {prism(disc, 0, 3, 2), Hangs, "mm² hang over"},
		"far too wide":   {prism(circle(95, 64), 0, 5, 1), TooLarge, "the bed has 180 by 180"},
		"too high":       {prism(disc, 0, 181, 1), TooLarge, "room for 180"},
		"a needle":       {prism(circle(1, 32), 0, 60, 1), Loose, "lies on the bed with only 3.12"},
		"one in the air": {joined(prism(disc, 0, 2, 1), prism(circle(5, 32), 4, 6, 1)), Hangs + " " + Island, "begins in the air at a height of 4"},
		"two at once": {
			joined(prism(disc, 0, 2, 1), moved(prism(circle(5, 32), 3, 6, 1), 50, 0), moved(prism(circle(4, 32), 3, 6, 1), -50, 0)),
			Hangs + " " + Island, "2 areas of 127.9",
		},
		"beside, in the air": {joined(prism(disc, 0, 2, 1), moved(prism(circle(5, 32), 3, 6, 1), 50, 0)), Hangs + " " + Island, "begins in the air"},
	} {
		s := Usual()
		layers := sliced(t, c.solid, s.First, s.Layer)
		r, err := Look(t.Context(), c.solid, layers, &s)
		if err != nil {
			t.Fatal(err)
		}
		var kinds, texts []string
		for _, f := range r.Findings {
			kinds, texts = append(kinds, f.Kind), append(texts, f.Text)
			if f.Way == "" || !strings.HasSuffix(f.Text, ".") {
				t.Errorf("%s: %+v says no way out", name, f)
			}
		}
		if got := strings.Join(kinds, " "); got != c.kinds || !strings.Contains(strings.Join(texts, " "), c.says) {
			t.Errorf("%s: %s, want %s: %v", name, got, c.kinds, texts)
		}
	}
	// Figures of a disc: volume, mass and filament by hand.
	s := Usual()
	m := prism(circle(20, 2000), 0, 5, 1)
	r, err := Look(t.Context(), m, sliced(t, m, s.First, s.Layer), &s)
	volume := math.Pi * 400 * 5
	if err != nil || math.Abs(r.Volume-volume) > 0.001*volume || math.Abs(r.Mass-volume/1000*1.24) > 0.02 ||
		math.Abs(r.Length-volume/(math.Pi/4*1.75*1.75)/1000) > 0.01 || math.Abs(r.Contact-math.Pi*400) > 1.5 || r.Overhang != 0 {
		t.Errorf("%+v, %v", r, err)
	}
}

// flower is a solid with many facets, raised by the program itself.
func flower(t testing.TB, edges int) *mesh.Mesh {
	t.Helper()
	var outline plane.Loop
	for i := range edges {
		a := 2 * math.Pi * float64(i) / float64(edges)
		r := 50 + 6*math.Cos(24*a)
		outline = append(outline, plane.Point{X: grid(r * math.Cos(a)), Y: grid(r * math.Sin(a))})
	}
	region := plane.Region{{Outer: outline}}
	form := raise.Form{Depth: 12, Front: raise.Bevel{Profile: raise.Round, Width: 3, Height: 3, Segments: 16}}
	return solidOf(t, region, form)
}

func solidOf(t testing.TB, region plane.Region, form raise.Form) *mesh.Mesh {
	t.Helper()
	plans, err := raise.NewPlans(context.Background(), region, form, step)
	if err != nil {
		t.Fatal(err)
	}
	body := raise.Body{Plans: plans, Form: form}
	m, err := body.Solid(context.Background(), step, raise.Plain)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// TestLayersFillTheSolid adds up layers of a bevelled solid: they have its volume.
func TestLayersFillTheSolid(t *testing.T) {
	m := flower(t, 1200)
	want := mesh.Check(m, false).VolumeMM3
	sum := 0.0
	for _, l := range sliced(t, m, 0.1, 0.1) {
		sum += plane.Step(step).Area(l.Area) * l.Height
	}
	if math.Abs(sum-want) > 1e-3*want {
		t.Errorf("%.2f mm3 in layers, the solid has %.2f", sum, want)
	}
}

// BenchmarkSlice cuts a solid of 300,000 triangles into layers of 0.2 mm.
func BenchmarkSlice(b *testing.B) {
	m := flower(b, 62_500)
	b.Logf("%d triangles", len(m.Tris))
	for b.Loop() {
		begun := time.Now()
		layers, err := Slice(b.Context(), m, 0.2, 0.2)
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(time.Since(begun).Seconds(), "s")
		b.ReportMetric(float64(len(layers)), "layers")
	}
}

// TestColoursChangeByHeight prints a tag, an outline and a lettering that step up, face up
// and face down, in layers that fit the steps and in some that do not.
func TestColoursChangeByHeight(t *testing.T) {
	up := []Ink{{"Tag", "#156ca0", 0, 2.4}, {"Lettering", "#efe4b2", 0, 3.6}, {"Outline", "#0e4669", 0, 3}}
	down := []Ink{{"Tag", "#156ca0", 1.2, 3.6}, {"Lettering", "#efe4b2", 0, 3.6}, {"Outline", "#0e4669", 0.6, 3.6}}
	layered := func(h float64) (out []Layer) {
		for z := h; z < 3.6+h-1e-9; z += h {
			out = append(out, Layer{Z: math.Min(z, 3.6), Height: h})
		}
		return out
	}
	for name, c := range map[string]struct {
		inks   []Ink
		height float64
		want   []Change
	}{
		"face up": {up, 0.2, []Change{
			{1, 0, "Tag", "#156ca0", 0}, {13, 2.4, "Outline", "#0e4669", 0}, {16, 3, "Lettering", "#efe4b2", 0},
		}},
		"face down": {down, 0.2, []Change{
			{1, 0, "Lettering", "#efe4b2", 0}, {4, 0.6, "Outline", "#0e4669", 0}, {7, 1.2, "Tag", "#156ca0", 0},
		}},
		"heights rounded to a grid": {[]Ink{
			{"Tag", "#156ca0", 0, 2.3999985}, {"Lettering", "#efe4b2", 0, 3.6}, {"Outline", "#0e4669", 1.5e-6, 3.0000015},
		}, 0.2, []Change{
			{1, 0, "Tag", "#156ca0", 0}, {13, 2.4, "Outline", "#0e4669", 0}, {16, 3, "Lettering", "#efe4b2", 0},
		}},
		"layers that miss": {up, 0.25, []Change{
			{1, 0, "Tag", "#156ca0", 0}, {11, 2.5, "Outline", "#0e4669", 0.1}, {13, 3, "Lettering", "#efe4b2", 0},
		}},
		"one colour": {[]Ink{{"A", "#111111", 0, 2}, {"B", "#111111", 0, 3.6}}, 0.2, []Change{{1, 0, "A", "#111111", 0}}},
	} {
		got := Changes(layered(c.height), c.inks)
		if len(got) != len(c.want) {
			t.Errorf("%s: %+v", name, got)
			continue
		}
		for i, w := range c.want {
			g := got[i]
			if g.Layer != w.Layer || g.Name != w.Name || math.Abs(g.Z-w.Z) > 1e-9 || math.Abs(g.Off-w.Off) > 1e-9 {
				t.Errorf("%s: %+v, want %+v", name, g, w)
			}
		}
	}
}
