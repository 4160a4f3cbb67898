package stages

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/mend"
	"bildhauer/core/mesh"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

func mendsOf(list ...recipe.Mend) recipe.Edit { return &recipe.AddMends{List: list} }

func with(t *testing.T, r recipe.Recipe, edits ...recipe.Edit) recipe.Recipe {
	t.Helper()
	next, err := recipe.Change{Edits: edits}.Apply(r, nil)
	if err != nil {
		t.Fatal(err)
	}
	return next
}

// onSheets returns a recipe of one sheet.
func onSheets() recipe.Recipe {
	r := recipe.New()
	r.Sheets.List = []recipe.Sheet{{Slot: 1, File: "f", Name: "a.svg"}}
	return r
}

func svg(inner string) func(string) Source {
	doc := `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100">` + inner + `</svg>`
	return files(map[string]string{"f": doc})
}

// TestMendsGoByTheFinalSize leaves a background out and grows what is left: the
// length counts at the size that comes out, not at that before.
func TestMendsGoByTheFinalSize(t *testing.T) {
	open := svg(`<rect width="200" height="100" fill="#eee"/><rect id="a" x="80" y="40" width="20" height="20" fill="#336699"/>`)
	r := with(t, onSheets(), mendsOf(
		recipe.Mend{Do: "drop", Shapes: []string{"/0"}},
		recipe.Mend{Do: "grow", Shapes: []string{"a"}, MM: []float64{10}, How: "mitre"},
	))
	line := &Line{Keep: Direct{}, Recipe: &r, Open: open}
	m, err := line.Mended(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	for id, s := range m.Steps {
		if s.Refused != "" {
			t.Fatalf("%s: %s", id, s.Refused)
		}
	}
	// 100 mm wide with 10 mm grown on each side: 80 mm are the 20 px.
	if math.Abs(m.PxPerMM-0.25) > 1e-4 {
		t.Errorf("%g px a mm, want 0.25", m.PxPerMM)
	}
	reg, err := line.Regions(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	if v := reg.Value; math.Abs(v.Width-100) > 1e-9 || math.Abs(v.Height-100) > 0.01 || math.Abs(v.PxPerMM-0.25) > 1e-4 {
		t.Errorf("%g × %g mm at %g px a mm", v.Width, v.Height, v.PxPerMM)
	}
}

// TestMendsOffChangedMovedAndLost goes through what can be done to a mend that
// was made.
func TestMendsOffChangedMovedAndLost(t *testing.T) {
	open := svg(`<rect id="a" width="60" height="40" fill="#336699"/><circle id="b" cx="80" cy="20" r="10" fill="#336699"/>`)
	shapes := func(r recipe.Recipe) (string, map[string]string) {
		t.Helper()
		line := &Line{Keep: Direct{}, Recipe: &r, Open: open}
		m, err := line.Mended(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		var keys []string
		for i := range m.Joined.Value.Sheet.Shapes {
			keys = append(keys, m.Joined.Value.Sheet.Shapes[i].Key)
		}
		said := map[string]string{}
		for id, s := range m.Steps {
			said[id] = s.Refused
			if s.Lost != strings.Contains(s.Refused, "is not in the artwork") {
				t.Errorf("%s: %q, lost %v", id, s.Refused, s.Lost)
			}
		}
		return strings.Join(keys, " "), said
	}
	r := with(t, onSheets(), mendsOf(
		recipe.Mend{Do: "unite", Shapes: []string{"a", "b"}},
		recipe.Mend{Do: "split", Shapes: []string{"a"}},
		recipe.Mend{Do: "drop", Shapes: []string{recipe.MendKey("m2", 1)}},
	))
	if keys, said := shapes(r); keys != "~m2" || said["m1"]+said["m2"]+said["m3"] != "" {
		t.Errorf("shapes %s, %v", keys, said)
	}
	off := true
	second := with(t, r, &recipe.EditMend{ID: "m2", Off: &off})
	if keys, said := shapes(second); keys != "a" || said["m3"] == "" {
		t.Errorf("with the second off: %s, %v", keys, said)
	}
	front := 0
	first := with(t, r, &recipe.EditMend{ID: "m3", To: &front})
	if keys, said := shapes(first); keys != "~m2 ~m2.1" || said["m3"] == "" || said["m1"]+said["m2"] != "" {
		t.Errorf("with the third first: %s, %v", keys, said)
	}
	if keys, _ := shapes(with(t, r, &recipe.DropMends{IDs: []string{"m1", "m2", "m3"}})); keys != "a b" {
		t.Errorf("with all taken away: %s", keys)
	}
	lost := with(t, r, &recipe.DropMends{IDs: []string{"m1", "m2", "m3"}}, mendsOf(recipe.Mend{Do: "drop", Shapes: []string{"gone:x"}}))
	if keys, said := shapes(lost); keys != "a b" || said["m4"] == "" {
		t.Errorf("a lost shape: %s, %v", keys, said)
	}
}

// TestWhatMendsCost holds which stages run anew after changes of mends.
func TestWhatMendsCost(t *testing.T) {
	rec := &recorder{kept: map[Key]any{}}
	open := svg(`<rect id="a" width="60" height="40" fill="#336699"/><rect id="b" x="90" width="60" height="40" fill="#a33333"/>`)
	build := func(r recipe.Recipe) string {
		t.Helper()
		line := &Line{Keep: rec, Recipe: &r, Open: open}
		reg, err := line.Regions(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		for _, b := range Arrangement(reg.Value, &r.Parts) {
			if _, err := line.Body(t.Context(), reg.Value, &b, raise.Plain); err != nil {
				t.Fatal(err)
			}
		}
		return rec.took()
	}
	r := onSheets()
	build(r)
	corner := recipe.Mend{Do: "nodes", How: "move", Shapes: []string{"a"}, Nodes: [][2]int{{0, 0}}, At: [][2]float64{{0, 0}, {3, 3}}}
	r = with(t, r, mendsOf(corner))
	if got := build(r); got != "begin, choose, mend, plan, regions, size, solid" {
		t.Errorf("one mend: %s", got)
	}
	name := "Corner in"
	r = with(t, r, &recipe.EditMend{ID: "m1", Name: &name}, &recipe.SetName{Name: "Signs"})
	if got := build(r); got != "" {
		t.Errorf("names: %s", got)
	}
	r = with(t, r, mendsOf(recipe.Mend{Do: "move", Shapes: []string{"b"}, At: [][2]float64{{0, 30}}}))
	if got := build(r); !strings.HasPrefix(got, "choose, mend, plan 2, regions, size") {
		t.Errorf("a second mend: %s", got)
	}
	off := true
	r = with(t, r, &recipe.EditMend{ID: "m2", Off: &off})
	if got := build(r); got != "" {
		t.Errorf("switched off again: %s", got)
	}
	mm := 90.0
	r = with(t, r, &recipe.SetSize{MM: &mm})
	if got := build(r); strings.Contains(got, "mend") {
		t.Errorf("a mend without lengths was made anew for another size: %s", got)
	}
}

// TestFindingsOfALine holds that findings follow size, limits and mends.
func TestFindingsOfALine(t *testing.T) {
	open := svg(`<path id="a" fill="#336699" d="M0 0H90V49.8H110V0H200V100H110V50.2H90V100H0Z"/>`)
	r := onSheets()
	found := func() string {
		t.Helper()
		line := &Line{Keep: Direct{}, Recipe: &r, Open: open}
		m, err := line.Mended(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		list, err := line.Findings(t.Context(), m)
		if err != nil {
			t.Fatal(err)
		}
		if key, err := line.FindingsKey(t.Context(), m); err != nil || key != list.Key {
			t.Errorf("the key was said to be %s and is %s", key, list.Key)
		}
		var out []string
		for _, f := range list.Value {
			out = append(out, f.Kind+" "+f.Measure)
		}
		return strings.Join(out, ", ")
	}
	if got := found(); got != "thin 0.2 mm wide" {
		t.Errorf("at 100 mm: %s", got)
	}
	mm := 1000.0
	r = with(t, r, &recipe.SetSize{MM: &mm})
	if got := found(); got != "" {
		t.Errorf("at 1 m: %s", got)
	}
	r = with(t, r, &recipe.SetMendLimits{Limits: map[string]float64{"thin": 3}})
	if got := found(); got != "thin 2 mm wide" {
		t.Errorf("with a limit of 3 mm: %s", got)
	}
	line := &Line{Keep: Direct{}, Recipe: &r, Open: open}
	joined, err := line.Joined(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	taken, err := line.TakeAll(t.Context(), joined, mend.Choice{})
	if err != nil || len(taken.Left) > 0 || len(r.Mends.List) == 0 {
		t.Errorf("taken %v, left %v, %v", r.Mends.List, taken.Left, err)
	}
	if got := found(); got != "" {
		t.Errorf("after taking all: %s", got)
	}
	before, after, err := line.Seen(t.Context(), mustMended(t, line))
	if err != nil || before.Pieces != 1 || after.Pieces != 1 || after.AreaMM2 <= before.AreaMM2 || len(after.Loops) != 1 {
		t.Errorf("before %+v, after %+v, %v", before, after, err)
	}
}

func mustMended(t *testing.T, l *Line) *Mended {
	t.Helper()
	m, err := l.Mended(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// TestNestingDepth tells solid from hole at any depth.
func TestNestingDepth(t *testing.T) {
	open := svg(`<path fill-rule="evenodd" fill="#336699" d="M0 0H100V100H0ZM10 10H90V90H10ZM20 20H80V80H20ZM30 30H70V70H30Z"/>`)
	r := onSheets()
	line := &Line{Keep: Direct{}, Recipe: &r, Open: open}
	seen, _, err := line.Seen(t.Context(), mustMended(t, line))
	if err != nil {
		t.Fatal(err)
	}
	var depths []int
	for _, l := range seen.Loops {
		depths = append(depths, l.Depth)
	}
	if fmt.Sprint(depths) != "[0 1 2 3]" {
		t.Errorf("depths %v", depths)
	}
}

// TestSizes gives the size in all ways.
func TestSizes(t *testing.T) {
	open := svg(`<rect x="20" y="10" width="80" height="40" fill="#336699"/>`)
	one := func(e *recipe.SetSize) *Regions {
		t.Helper()
		r := with(t, onSheets(), e)
		reg, err := (&Line{Keep: Direct{}, Recipe: &r, Open: open}).Regions(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return reg.Value
	}
	for name, c := range map[string]struct {
		edit recipe.SetSize
		w, h float64
	}{
		"width":            {recipe.SetSize{By: ptr(recipe.Width), MM: ptr(50.0)}, 50, 25},
		"height":           {recipe.SetSize{By: ptr(recipe.Height), MM: ptr(50.0)}, 100, 50},
		"distance":         {recipe.SetSize{By: ptr(recipe.Distance), MM: ptr(10.0), Between: &[2][2]float64{{20, 10}, {40, 10}}}, 40, 20},
		"distance askew":   {recipe.SetSize{By: ptr(recipe.Distance), MM: ptr(10.0), Between: &[2][2]float64{{20, 10}, {50, 50}}}, 16, 8},
		"width, stretched": {recipe.SetSize{MM: ptr(50.0), Stretch: ptr(1.6)}, 50, 40},
		"height stretched": {recipe.SetSize{By: ptr(recipe.Height), MM: ptr(80.0), Stretch: ptr(2.0)}, 80, 80},
	} {
		got := one(&c.edit)
		if math.Abs(got.Width-c.w) > 1e-9 || math.Abs(got.Height-c.h) > 1e-9 {
			t.Errorf("%s: %g × %g mm, want %g × %g", name, got.Width, got.Height, c.w, c.h)
		}
		area := got.Step.Area(got.Parts[0].Region.Value)
		if math.Abs(area-c.w*c.h) > 1e-3 {
			t.Errorf("%s: an area of %g mm2", name, area)
		}
	}
	r := with(t, onSheets(), &recipe.SetSize{By: ptr(recipe.Distance), Between: &[2][2]float64{{5, 5}, {5, 5}}})
	if _, err := (&Line{Keep: Direct{}, Recipe: &r, Open: open}).Regions(t.Context()); err == nil || !strings.Contains(err.Error(), "distance") {
		t.Errorf("a distance of nothing: %v", err)
	}
}

// TestPlaces lays two parts in every way that leaves: sound, exact in single
// precision, the origin where it was asked for.
func TestPlaces(t *testing.T) {
	open := svg(`<rect id="a" width="120" height="40" fill="#336699"/><rect x="150" y="20" width="30" height="60" fill="#a33333"/>`)
	for _, lying := range []string{"", recipe.FaceDown, recipe.Upright} {
		for _, origin := range []string{"", recipe.OriginCentre, recipe.OriginCorner} {
			for _, up := range []string{"", recipe.UpY} {
				r := with(t, onSheets(), &recipe.SetSize{Lying: &lying, Origin: &origin, Up: &up})
				line := &Line{Keep: Direct{}, Recipe: &r, Open: open}
				reg, err := line.Regions(t.Context())
				if err != nil {
					t.Fatal(err)
				}
				var parts []write.Part
				for _, b := range Arrangement(reg.Value, &r.Parts) {
					s, err := line.Body(t.Context(), reg.Value, &b, raise.Plain)
					if err != nil {
						t.Fatal(err)
					}
					parts = append(parts, write.Part{Mesh: s.Value.Mesh})
				}
				placed := Place(parts, &r.Size, false)
				checkPlace(t, fmt.Sprintf("%q %q %q", lying, origin, up), placed, &r.Size)
				if standing := Place(parts, &recipe.Size{Lying: recipe.Upright, Up: recipe.UpY}, true); standing[0].Mesh != parts[0].Mesh {
					t.Error("a format that stands by itself was turned")
				}
			}
		}
	}
}

func checkPlace(t *testing.T, name string, parts []write.Part, s *recipe.Size) {
	t.Helper()
	lo, hi := [3]float64{1e9, 1e9, 1e9}, [3]float64{-1e9, -1e9, -1e9}
	for _, p := range parts {
		if c := mesh.Check(p.Mesh, true); !c.Sound() {
			t.Errorf("%s: %+v", name, c)
		}
		a, b := p.Mesh.Box()
		for k := range 3 {
			lo[k], hi[k] = math.Min(lo[k], a[k]), math.Max(hi[k], b[k])
		}
		for i := range p.Mesh.Verts {
			for k, v := range p.Mesh.Pos(int32(i)) {
				if float64(v) != float64(p.Mesh.Verts[i][k])*p.Mesh.Step {
					t.Fatalf("%s: a coordinate is not exact", name)
				}
			}
		}
	}
	up := 2
	if s.Up == recipe.UpY {
		up = 1
	}
	high := map[string]float64{"": 8, recipe.FaceDown: 8, recipe.Upright: 80.0 / 180 * 100}[s.Lying]
	if math.Abs(hi[up]-lo[up]-high) > 0.01 {
		t.Errorf("%s: %g high, want %g", name, hi[up]-lo[up], high)
	}
	for k := range 3 {
		want := -(hi[k] - lo[k]) / 2
		if s.Origin == recipe.OriginCorner || s.Origin == "" && k == up {
			want = 0
		}
		if math.Abs(lo[k]-want) > 0.001 {
			t.Errorf("%s: axis %d begins at %g, want %g", name, k, lo[k], want)
		}
	}
}

// TestSheetsToEachOther shifts a second sheet.
func TestSheetsToEachOther(t *testing.T) {
	r := recipe.New()
	r.Sheets.List = []recipe.Sheet{{Slot: 1, File: "f", Name: "a.svg"}, {Slot: 2, File: "f", Name: "b.svg", Beside: true}}
	open := svg(`<rect width="200" height="100" fill="#336699"/>`)
	wide := func() float64 {
		t.Helper()
		j, err := (&Line{Keep: Direct{}, Recipe: &r, Open: open}).Joined(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		box := j.Value.Sheet.Shapes[0].Box().Union(j.Value.Sheet.Shapes[1].Box())
		if artwork.SlotOf(j.Value.Sheet.Shapes[1].Key) != 2 || !j.Value.Sheet.Page.Contains(box) {
			t.Errorf("page %v, artwork %v", j.Value.Sheet.Page, box)
		}
		return box.W()
	}
	beside := wide()
	r = with(t, r, &recipe.EditSheet{Slot: 2, Shift: &[2]float64{-30, 12}})
	if d := beside - wide(); math.Abs(d-30) > 1e-9 {
		t.Errorf("moved by %g px, want 30", d)
	}
}
