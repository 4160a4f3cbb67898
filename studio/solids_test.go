package studio

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// keysOf returns the keys of a piece's solids by part.
func keysOf(t *testing.T, s *Studio, id string) map[string]stages.Key {
	t.Helper()
	v, err := s.View(t.Context(), piece(t, s, id))
	if err != nil || v.Problem != nil {
		t.Fatal(err, v)
	}
	out := map[string]stages.Key{}
	for i := range v.Regions.Parts {
		out[v.Regions.Parts[i].ID] = v.Keys[i]
	}
	return out
}

// TestKeysFollowTheSolids: whatever changes a solid changes its key, and undo
// brings the old key back; a page that compares keys never shows an old solid.
func TestKeysFollowTheSolids(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(square)})
	first := keysOf(t, s, id)
	wide := strings.Replace(square, `x="5" y="5" width="5"`, `x="5" y="5" width="9"`, 1)
	exchange := func() {
		x, err := s.Propose(t.Context(), id, 1, File{"a-2.svg", []byte(wide)})
		if err != nil {
			t.Fatal(err)
		}
		if _, err := s.Accept(t.Context(), id, Latest, 1, x.File); err != nil {
			t.Fatal(err)
		}
	}
	green := "#338855"
	for name, act := range map[string]func(){
		"a file of the same colours": exchange,
		"a new colour": func() {
			change(t, s, id, "Colour", &recipe.EditShapes{Shapes: map[string]recipe.ShapePatch{"b": {Color: &green}}})
		},
		"a hole taken out": func() { change(t, s, id, "Out", &recipe.Choose{Choice: map[string]bool{"b": false}}) },
		"a depth":          func() { change(t, s, id, "Depth", setDepth(17)) },
		"a size":           func() { mm := 30.0; change(t, s, id, "Size", &recipe.SetSize{MM: &mm}) },
	} {
		act()
		after := keysOf(t, s, id)
		if name != "a new colour" && fmt.Sprint(after) == fmt.Sprint(first) {
			t.Errorf("%s left all keys as they were", name)
		}
		for part, key := range after {
			solid, err := s.Raise(t.Context(), piece(t, s, id), part, nil)
			if err != nil || solid.Made.Key != key {
				t.Errorf("%s: the key of %s was said to be %s: %v", name, part, key, err)
			}
		}
		if err := s.Undo(t.Context(), id, Latest); err != nil {
			t.Fatal(err)
		}
		if back := keysOf(t, s, id); fmt.Sprint(back) != fmt.Sprint(first) {
			t.Errorf("undo of %s: %v, want %v", name, back, first)
		}
	}
}

// TestMeasuresStay recolours, renames and exchanges, and finds the measures of
// the pin where the pin is.
func TestMeasuresStay(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(square)})
	mm, name, green := 23.0, "Pin", "#338855"
	change(
		t,
		s,
		id,
		"Depth",
		&recipe.EditParts{Parts: map[string]recipe.PartPatch{pin: {Name: &name, MeasuresPatch: recipe.MeasuresPatch{Depth: &mm}}}},
	)
	find := func(what string) {
		t.Helper()
		v, err := s.View(t.Context(), piece(t, s, id))
		if err != nil {
			t.Fatal(err)
		}
		for i := range v.Regions.Parts {
			if o := &v.Regions.Parts[i]; o.ID == pin && v.Names[i] == "Pin" {
				p := piece(t, s, id)
				if d := p.Recipe.Parts.Measures(pin).Depth; d != 23 {
					t.Errorf("%s: the pin is %g mm deep", what, d)
				}
				return
			}
		}
		t.Errorf("%s: there is no pin among %v", what, v.Names)
	}
	find("at first")
	change(t, s, id, "Colour", &recipe.EditShapes{Shapes: map[string]recipe.ShapePatch{"b": {Color: &green}}})
	find("recoloured")
	change(t, s, id, "Name", &recipe.EditShapes{Shapes: map[string]recipe.ShapePatch{"b": {Name: &name}}})
	find("renamed")
	other := strings.Replace(square, "#993333", "#aa00aa", 1)
	x, err := s.Propose(t.Context(), id, 1, File{"a-2.svg", []byte(other)})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Accept(t.Context(), id, Latest, 1, x.File); err != nil {
		t.Fatal(err)
	}
	find("exchanged") // the green it was given stays
	none := ""
	change(
		t,
		s,
		id,
		"As in the file",
		&recipe.EditShapes{Shapes: map[string]recipe.ShapePatch{"b": {Color: &none}}},
	)
	find("as in the new file")
}

// TestTriesLeaveNothing raises with measures that are not kept.
func TestTriesLeaveNothing(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(square)})
	p := piece(t, s, id)
	deep := 19.0
	tried, err := s.Raise(t.Context(), p, plate, map[string]recipe.PartPatch{plate: depth(deep)})
	if err != nil || tried.How.Depth != 19 || piece(t, s, id).Rev != p.Rev {
		t.Errorf("tried: %v", err)
	}
	if again := piece(t, s, id); again.Recipe.Parts.Measures(plate).Depth != 8 {
		t.Error("a try was kept")
	}
	bad := -1.0
	var in *ErrInput
	if _, err := s.Raise(t.Context(), p, plate, map[string]recipe.PartPatch{plate: depth(bad)}); !errors.As(err, &in) {
		t.Errorf("a wrong try: %v", err)
	}
	for _, part := range []string{"c000000", "p9", "", "../x"} {
		if _, err := s.Raise(t.Context(), p, part, nil); !errors.As(err, &in) {
			t.Errorf("part %q: %v", part, err)
		}
	}
}

// TestManySheets makes a piece of as many as are allowed; a state of it reads
// no file twice.
func TestManySheets(t *testing.T) {
	s := open(t, t.TempDir())
	var list []File
	for i := range 40 {
		list = append(
			list,
			File{
				fmt.Sprintf("s%d.svg", i),
				[]byte(strings.Replace(square, `id="a"`, fmt.Sprintf(`id="a%d"`, i), 1)),
			},
		)
	}
	id := made(t, s, list...)
	v, err := s.View(t.Context(), piece(t, s, id))
	if err != nil || len(v.Joined.Pages) != 40 || len(v.Joined.Sheet.Shapes) != 80 {
		t.Fatalf("%v", err)
	}
	// Files are gone from the store; what was read is kept.
	reads := 0
	line := s.line(t.Context(), piece(t, s, id))
	opened := line.Open
	line.Open = func(file string) stages.Source {
		src := opened(file)
		load := src.Load
		src.Load = func() ([]byte, error) {
			reads++
			return load()
		}
		return src
	}
	for range 3 {
		if _, err := line.Regions(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	if reads > 0 {
		t.Errorf("%d files were read again", reads)
	}
	if _, err := s.Create(t.Context(), append(list, list[0])...); err == nil ||
		!strings.Contains(err.Error(), "1 to 40 files") {
		t.Errorf("41 files: %v", err)
	}
	if _, err := s.AddSheet(t.Context(), id, Latest, list[0]); err == nil ||
		!strings.Contains(err.Error(), "at most 40 sheets") {
		t.Errorf("a 41st sheet: %v", err)
	}
}

// TestNothingLeft lets a wall that stands outside of its part cover another one as a whole: the others are
// written, and it is said.
func TestNothingLeft(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="50"><rect width="3" height="20" x="51" ` +
		`y="10" fill="#993333"/><rect width="50" height="50" fill="#336699"/></svg>`)})
	yes, wide, width := true, 8.0, 54.0
	p := change(t, s, id, "Outward", &recipe.SetSize{MM: &width}, &recipe.EditParts{Parts: map[string]recipe.PartPatch{
		plate: {MeasuresPatch: recipe.MeasuresPatch{Outward: &yes, Front: recipe.RimPatch{Width: &wide}}},
	}})
	solids, err := s.Solids(t.Context(), p)
	if err != nil {
		t.Fatal(err)
	}
	said := ""
	for _, one := range solids {
		said += one.Name + ": " + strings.Join(one.Limits, ";") + ". "
	}
	if !strings.Contains(said, "nothing is left of it") || strings.Contains(said, "changes nothing") {
		t.Errorf("said %q", said)
	}
	for _, format := range []string{"glb", "stl", "obj"} {
		if _, err := s.Export(t.Context(), p, format, "a"); err != nil {
			t.Errorf("%s: %v", format, err)
		}
	}
	out := true
	p = change(t, s, id, "Out", &recipe.EditParts{Parts: map[string]recipe.PartPatch{pin: {Out: &out}}})
	if _, err := s.Export(t.Context(), p, "glb", "a"); err != nil {
		t.Error(err)
	}
}

// TestExports writes each format into a file of its own, once.
func TestExports(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(square)})
	p := piece(t, s, id)
	for format, begin := range map[string]string{
		"stl": "Bildhauer, millimetres",
		"glb": "glTF",
		"obj": "# Bildhauer",
		"mtl": "# Bildhauer\nnewmtl",
		"svg": "<svg",
	} {
		x, err := s.Export(t.Context(), p, format, "a")
		if err != nil {
			t.Fatalf("%s: %v", format, err)
		}
		data, err := os.ReadFile(x.Path)
		if err != nil || !bytes.HasPrefix(data, []byte(begin)) || x.Type == "" {
			t.Errorf("%s: %.40q, %v", format, data, err)
		}
		again, err := s.Export(t.Context(), p, format, "a")
		if err != nil || again.Path != x.Path {
			t.Errorf("%s was written twice: %v", format, err)
		}
	}
	relief := 1.5
	stepped := change(t, s, id, "Relief", &recipe.SetParts{Relief: &recipe.Relief{Step: relief}})
	x, err := s.Export(t.Context(), stepped, "svg", "a")
	if err != nil {
		t.Fatal(err)
	}
	data, err := os.ReadFile(x.Path)
	if err != nil || strings.Count(string(data), "data-depth=") != 2 || !strings.Contains(string(data), `data-depth="9.5mm"`) {
		t.Errorf("depths of a relief: %s, %v", data, err)
	}
	var in *ErrInput
	if _, err := s.Export(t.Context(), p, "exe", "a"); !errors.As(err, &in) {
		t.Errorf("a format that is not known: %v", err)
	}
	out := true
	all := &recipe.EditParts{Parts: map[string]recipe.PartPatch{plate: {Out: &out}, pin: {Out: &out}}}
	if _, err := s.Export(t.Context(), change(t, s, id, "Out", all), "stl", "a"); err == nil ||
		!strings.Contains(err.Error(), "Every part is excluded") {
		t.Errorf("nothing to write: %v", err)
	}
	dir := s.dir
	s.Close()
	left, _ := os.ReadDir(dir)
	s = open(t, strings.TrimSuffix(dir, "/cache"))
	if now, _ := os.ReadDir(s.dir); len(left) == 0 || len(now) != 0 {
		t.Errorf("%d results, and %d after a restart", len(left), len(now))
	}
}

// TestDownloadsBesidePreviews builds, tries and writes at the same time; none
// cancels another.
func TestDownloadsBesidePreviews(t *testing.T) {
	s := open(t, t.TempDir())
	data, err := os.ReadFile("../demo/compass-badge.svg")
	if err != nil {
		t.Fatal(err)
	}
	id := made(t, s, File{"badge.svg", data})
	p := piece(t, s, id)
	var wg sync.WaitGroup
	for i := range 12 {
		wg.Go(func() {
			width := 0.5 + float64(i%4)
			front := recipe.RimPatch{Width: &width}
			try := map[string]recipe.PartPatch{"c24404f": {MeasuresPatch: recipe.MeasuresPatch{Front: front}}}
			if _, err := s.Raise(t.Context(), p, "c24404f", try); err != nil {
				t.Errorf("a preview: %v", err)
			}
		})
		wg.Go(func() {
			if _, err := s.Export(t.Context(), p, []string{"stl", "glb", "obj", "svg"}[i%4], "badge"); err != nil {
				t.Errorf("a download: %v", err)
			}
		})
		wg.Go(func() { // someone who does not wait
			ctx, cancel := context.WithTimeout(t.Context(), time.Duration(i)*time.Millisecond)
			defer cancel()
			if _, err := s.Checks(ctx, p); err != nil && !errors.Is(err, context.DeadlineExceeded) {
				t.Errorf("a check: %v", err)
			}
		})
	}
	wg.Wait()
}

// TestLeavingStopsTheBuild cancels a build of something large: it ends soon and
// keeps nobody's core.
func TestLeavingStopsTheBuild(t *testing.T) {
	s := open(t, t.TempDir())
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">`)
	for i := range 4000 {
		fmt.Fprintf(&b, `<circle cx="%d.3" cy="%d.7" r="1.9" fill="#%06x"/>`, i%97, i%89, i)
	}
	id := made(t, s, File{"many.svg", []byte(b.String() + "</svg>")})
	ctx, cancel := context.WithCancel(t.Context())
	go func() {
		time.Sleep(30 * time.Millisecond)
		cancel()
	}()
	begin := time.Now()
	if _, err := s.Solids(ctx, piece(t, s, id)); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled: %v", err)
	}
	s.flights.wait()
	if took := time.Since(begin); took > time.Minute {
		t.Errorf("the work went on for %v", took)
	}
}

// Raise builds the body that a part belongs to, with measures that are tried.
func (s *Studio) Raise(ctx context.Context, p Piece, part string, try map[string]recipe.PartPatch) (out *Solid, err error) {
	put := func(x *Solid) error {
		out = x
		return nil
	}
	err = s.Stream(ctx, p, Wanted{Parts: []string{part}, Try: try}, put, func(_ string, err error) error { return err })
	return out, err
}
