package artwork

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/geom"
)

// rect returns a shape of a rectangle on the page.
func rect(key string, x, y, w, h float64) Shape {
	line := func(x, y float64) geom.Segment { return geom.Segment{To: geom.Vec{X: x, Y: y}} }
	return Shape{
		Key:     key,
		Name:    key,
		Group:   -1,
		Opacity: 1,
		Matrix:  geom.Identity,
		Contours: []geom.Contour{{
			Start:  geom.Vec{X: x, Y: y},
			Segs:   []geom.Segment{line(x+w, y), line(x+w, y+h), line(x, y+h)},
			Closed: true,
		}},
	}
}

func page(name string, w, h float64, shapes ...Shape) *Sheet {
	return &Sheet{
		Name:        name,
		Format:      "SVG",
		Page:        geom.Box{Max: geom.Vec{X: w, Y: h}},
		SourceUnits: geom.Identity,
		Shapes:      shapes,
	}
}

// TestEveryNoteIsASentence checks that each kind of note has words of its own
// and as many gaps as its readers fill.
func TestEveryNoteIsASentence(t *testing.T) {
	seen := map[string]NoteKind{}
	for k := NoteKind(0); k < noteKinds; k++ {
		w := noteWords[k]
		if w.Text == "" || w.Level > Info {
			t.Errorf("kind %d has no words", k)
			continue
		}
		if other, twice := seen[w.Text]; twice {
			t.Errorf("kinds %d and %d both say %q", k, other, w.Text)
		}
		seen[w.Text] = k
		args := slices.Repeat([]any{"x"}, strings.Count(w.Text, "%s")+strings.Count(w.Text, "%q"))
		for range strings.Count(w.Text, "%d") {
			args = append(args, 3)
		}
		n := Note{Kind: k, Args: args}
		if text := n.Text(); strings.Contains(text, "%!") || strings.HasSuffix(text, ".") {
			t.Errorf("kind %d says %q", k, text)
		}
	}
}

// TestNotesCountAndPoint checks what a note remembers: how often, about which
// shapes, where on the page, and not more than a person can read.
func TestNotesCountAndPoint(t *testing.T) {
	s := page("a.svg", 100, 100)
	s.Note(NotePages, "", 3, 1)
	s.Note(NoteHairline, "mast")
	s.Shapes = append(s.Shapes, rect("mast", 0, 0, 1, 50))
	for i := range 8 {
		place := geom.Box{Min: geom.Vec{X: float64(i)}, Max: geom.Vec{X: float64(i + 1), Y: 5}}
		s.NoteAt(NoteBitmap, fmt.Sprintf("photo %d", i), place)
	}
	s.NoteAt(NoteBitmap, "nowhere", geom.EmptyBox())
	s.NoteAt(NoteBitmap, "far", geom.Box{Max: geom.Vec{X: math.Inf(1), Y: 1}})
	s.Note(NoteHairline, "boom")
	s.Shapes = append(s.Shapes, rect("boom", 0, 0, 50, 1))
	s.Note(NoteUnknownElement, "b", "blob")
	s.Note(NoteUnknownElement, "c", "clot")
	s.Finish()
	var got []string
	for i := range s.Notes {
		n := &s.Notes[i]
		words := fmt.Sprintf("%s %d %s %v %d %d", n.Level(), n.Count, n.Text(), n.Keys, len(n.Where), len(n.Places))
		got = append(got, words)
	}
	want := []string{
		"left out 10 bitmap [] 5 8",
		"left out 1 unknown element <blob> [] 1 0",
		"left out 1 unknown element <clot> [] 1 0",
		"changed 2 line thinner than any device shows drawn as a hairline [mast boom] 2 0",
		"info 1 the file has 3 pages; this is page 1 [] 0 0",
	}
	if !slices.Equal(got, want) {
		t.Errorf("got  %q\nwant %q", got, want)
	}
	if g := s.Gravest(); g != "bitmap" {
		t.Errorf("gravest %q", g)
	}
	raw, err := json.Marshal(s.Notes[3])
	if err != nil {
		t.Fatal(err)
	}
	if text := string(raw); !strings.Contains(text, `"level":"changed"`) || !strings.Contains(text, `"keys":["mast","boom"]`) {
		t.Errorf("written as %s", text)
	}
}

// TestNotesAreBounded reads a file that names thousands of unknown things.
func TestNotesAreBounded(t *testing.T) {
	s := page("a.svg", 1, 1)
	for i := range 5000 {
		s.Note(NoteUnknownElement, "x", fmt.Sprint("e", i))
	}
	total := 0
	for _, n := range s.Notes {
		total += n.Count
	}
	if len(s.Notes) > maxNotes || total != 5000 {
		t.Errorf("%d entries about %d objects", len(s.Notes), total)
	}
}

// TestJoin puts sheets over and beside each other: pages, keys, groups, notes
// and clips go where their sheet goes, and the sheets stay as they were.
func TestJoin(t *testing.T) {
	clip := &Clip{Items: []ClipItem{{Contours: rect("", 0, 0, 10, 10).Contours, Matrix: geom.Identity}}}
	a := page("a.svg", 100, 50, rect("sail", 10, 10, 20, 20))
	a.Groups = []Group{{Key: "g0", Name: "rig", Parent: -1}, {Key: "g1", Name: "jib", Parent: 0}}
	a.Shapes[0].Group = 1
	b := page("b.pdf", 40, 60, rect("keel", 0, 0, 20, 20), rect("fin", 5, 5, 20, 20))
	b.Format = "PDF"
	b.Shapes[0].Clips, b.Shapes[1].Clips = []*Clip{clip}, []*Clip{clip}
	b.NoteAt(NoteBitmap, "photo", geom.Box{Max: geom.Vec{X: 5, Y: 5}})
	b.Note(NoteHairline, "spar")
	b.Notes[1].before = []int{1}
	b.Finish()
	for _, beside := range []bool{false, true} {
		j := Join([]Placed{{Sheet: a, Slot: 1}, {Sheet: b, Slot: 3, Beside: beside}})
		shift, width := 0.0, 100.0
		if beside {
			shift, width = 110, 150
		}
		if j.Name != "a.svg, b.pdf" || j.Format != "several" || j.Page.W() != width || j.Page.H() != 60 {
			t.Errorf("beside %v: %s, %s, page %v", beside, j.Name, j.Format, j.Page)
		}
		var keys, paths []string
		for i := range j.Shapes {
			keys = append(keys, j.Shapes[i].Key)
			paths = append(paths, j.Path(j.Shapes[i].Group))
		}
		if !slices.Equal(keys, []string{"sail", "3:keel", "3:fin"}) ||
			!slices.Equal(paths, []string{"a.svg / rig / jib", "b.pdf", "b.pdf"}) {
			t.Errorf("beside %v: %q in %q", beside, keys, paths)
		}
		if x := j.Shapes[1].Box(); x.Min.X != shift || x.Max.X != shift+10 {
			t.Errorf("beside %v: clipped keel at %v", beside, x)
		}
		if beside && (j.Shapes[1].Clips[0] == clip || j.Shapes[1].Clips[0] != j.Shapes[2].Clips[0]) {
			t.Error("shapes that moved do not share a clip of their own")
		}
		if n := j.Notes[0]; n.Text() != "bitmap (b.pdf)" || n.Places[0].Min.X != shift {
			t.Errorf("beside %v: note %q at %v", beside, n.Text(), n.Places)
		}
		if n := j.Notes[1]; !slices.Equal(n.Keys, []string{"3:fin"}) {
			t.Errorf("beside %v: note about %q", beside, n.Keys)
		}
	}
	if a.Shapes[0].Key != "sail" || b.Shapes[0].Key != "keel" || b.Shapes[0].Box().Min.X != 0 || b.Notes[0].Sheet != "" {
		t.Error("the sheets themselves changed")
	}
	if one := Join([]Placed{{Sheet: a, Slot: 1}}); one != a {
		t.Error("a single sheet was copied")
	}
	odd := page("c.svg", 1, 1, rect("3:keel", 0, 0, 1, 1))
	if one := Join([]Placed{{Sheet: odd, Slot: 1}}); one.Shapes[0].Key != "1:3:keel" {
		t.Errorf("a key that looks like one of slot 3 became %q", one.Shapes[0].Key)
	}
}

// TestJoinedKeysStayApart checks that no two pairs of slot and key meet.
func TestJoinedKeysStayApart(t *testing.T) {
	keys := []string{"a", "2:a", "1:a", "1:2:a", ":a", "12", "12:", "0:a", "007:a", "é:1", "999999999999999999999:a"}
	seen := map[string]string{}
	for slot := 1; slot <= 12; slot++ {
		for _, k := range keys {
			j := JoinedKey(slot, k)
			from := fmt.Sprint(slot, " ", k)
			if other, twice := seen[j]; twice {
				t.Errorf("%s and %s both give %q", from, other, j)
			}
			seen[j] = from
			if got := SlotOf(j); got != slot {
				t.Errorf("%q is of slot %d, not %d", j, got, slot)
			}
		}
	}
}

// TestRectangle tells upright rectangles from what only looks like one.
func TestRectangle(t *testing.T) {
	path := func(v ...float64) []geom.Contour {
		c := geom.Contour{Start: geom.Vec{X: v[0], Y: v[1]}, Closed: true}
		for i := 2; i < len(v); i += 2 {
			c.Segs = append(c.Segs, geom.Segment{To: geom.Vec{X: v[i], Y: v[i+1]}})
		}
		return []geom.Contour{c}
	}
	for _, c := range []struct {
		name     string
		contours []geom.Contour
		m        geom.Matrix
		want     bool
	}{
		{"three sides and the way back", path(0, 0, 9, 0, 9, 5, 0, 5), geom.Identity, true},
		{"four sides", path(0, 0, 9, 0, 9, 5, 0, 5, 0, 0), geom.Identity, true},
		{"the other way round", path(0, 0, 0, 5, 9, 5, 9, 0), geom.Identity, true},
		{"with a point said twice", path(0, 0, 9, 0, 9, 0, 9, 5, 0, 5), geom.Identity, true},
		{"turned by a quarter", path(0, 0, 9, 0, 9, 5, 0, 5), geom.Matrix{B: 1, C: -1}, true},
		{"turned by a bit", path(0, 0, 9, 0, 9, 5, 0, 5), geom.Rotate(0.1), false},
		{"a triangle", path(0, 0, 9, 0, 9, 5), geom.Identity, false},
		{"an L", path(0, 0, 9, 0, 9, 5, 5, 5, 5, 9, 0, 9), geom.Identity, false},
		{"a line there and back", path(0, 0, 9, 0), geom.Identity, false},
		{"two of them", append(path(0, 0, 9, 0, 9, 5, 0, 5), path(0, 0, 1, 0, 1, 1, 0, 1)...), geom.Identity, false},
	} {
		clip := Clip{Items: []ClipItem{{Contours: c.contours, Matrix: c.m}}}
		if got := !clip.Rectangle().Empty(); got != c.want {
			t.Errorf("%s: %v", c.name, got)
		}
		clip.Outside = true
		if !clip.Rectangle().Empty() {
			t.Errorf("%s: all but a rectangle is no rectangle", c.name)
		}
	}
}

// TestBackdrops finds the plain grounds that cover the page, and only those.
func TestBackdrops(t *testing.T) {
	ground := rect("ground", -5, -5, 110, 110)
	hidden := rect("old", 0, 0, 100, 100)
	hidden.Hidden = true
	stroked := rect("frame", 0, 0, 100, 100)
	stroked.Stroke = &geom.StrokeStyle{Width: 3}
	for _, c := range []struct {
		name   string
		shapes []Shape
		want   []int
	}{
		{"one", []Shape{ground, rect("sail", 10, 10, 5, 5)}, []int{0}},
		{"two on each other", []Shape{ground, rect("sea", 0, 0, 100, 100), rect("sail", 10, 10, 5, 5)}, []int{0, 1}},
		{"not above the work", []Shape{rect("sail", 10, 10, 5, 5), ground}, nil},
		{"behind one that is hidden", []Shape{hidden, ground}, []int{1}},
		{"behind one off the page", []Shape{rect("note", 300, 0, 5, 5), ground}, []int{1}},
		{"a frame is none", []Shape{stroked}, nil},
		{"within a hundredth of the page", []Shape{rect("sea", 0.9, 0, 99.1, 100)}, []int{0}},
		{"too narrow", []Shape{rect("sea", 2, 0, 98, 100)}, nil},
	} {
		if got := page("a.svg", 100, 100, c.shapes...).Backdrops(); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
	}
}

// TestWordsForColors names colours as people do, over the whole wheel.
func TestWordsForColors(t *testing.T) {
	for hex, want := range map[string]string{
		"#000000": "Black",
		"#ffffff": "White",
		"#808080": "Grey",
		"#404040": "Dark grey",
		"#d0d0d0": "Pale grey",
		"#d01020": "Red",
		"#f08020": "Orange",
		"#804010": "Brown",
		"#f0d020": "Yellow",
		"#908010": "Olive",
		"#90d020": "Lime",
		"#20a040": "Green",
		"#20c0b0": "Turquoise",
		"#2050c0": "Blue",
		"#0a1a5a": "Deep blue",
		"#c0d0f8": "Pale blue",
		"#607090": "Dull blue",
		"#7030d0": "Violet",
		"#e040a0": "Pink",
	} {
		c, ok := ParseHex(hex)
		if got := c.Words(); !ok || got != want || c.Hex() != hex {
			t.Errorf("%s is %q, want %q", hex, got, want)
		}
	}
	for _, bad := range []string{"", "#fff", "336699", "#33669g", "#3366999", "＃36699"} {
		if _, ok := ParseHex(bad); ok {
			t.Errorf("%q was taken for a colour", bad)
		}
	}
}

// TestGradientColors looks along gradients and beyond their ends.
func TestGradientColors(t *testing.T) {
	g := Gradient{
		Q:      geom.Vec{X: 10},
		Matrix: geom.Identity,
		Stops:  []Stop{{0, Color{}, 1}, {1, Color{R: 200}, 0.5}},
	}
	radial := g
	radial.Radial, radial.Q, radial.R = true, geom.Vec{}, 10
	for _, c := range []struct {
		name   string
		g      Gradient
		spread string
		x      float64
		red    uint8
	}{
		{"at the start", g, "pad", 0, 0},
		{"in the middle", g, "pad", 5, 100},
		{"before the start", g, "pad", -5, 0},
		{"behind the end", g, "pad", 15, 200},
		{"repeated", g, "repeat", 12.5, 50},
		{"repeated before the start", g, "repeat", -2.5, 150},
		{"reflected", g, "reflect", 12.5, 150},
		{"reflected twice", g, "reflect", 22.5, 50},
		{"reflected before the start", g, "reflect", -2.5, 50},
		{"in a circle's centre", radial, "pad", 0, 0},
		{"half out", radial, "pad", 5, 100},
		{"half out on the other side", radial, "pad", -5, 100},
		{"out of the circle", radial, "pad", 50, 200},
	} {
		c.g.Spread = c.spread
		if got, _ := c.g.At(geom.Vec{X: c.x}); got.R != c.red {
			t.Errorf("%s: %d, want %d", c.name, got.R, c.red)
		}
	}
	flat := g
	flat.Matrix = geom.Matrix{}
	if got, alpha := flat.At(geom.Vec{X: 3}); got.R != 200 || alpha != 0.5 {
		t.Errorf("a gradient without extent shows %v at %g", got, alpha)
	}
}

// TestBoxOfStrokes compares with the outline drawn finely, for all ends and joins,
// turned, mirrored and skewed.
func TestBoxOfStrokes(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	exact := 0
	for i := range 400 {
		at := func() geom.Vec { return geom.Vec{X: 100 * r.Float64(), Y: 60 * r.Float64()} }
		c := geom.Contour{Start: at(), Closed: i%3 == 0}
		for range r.IntN(5) {
			seg := geom.Segment{To: at()}
			if i%2 == 0 {
				seg = geom.Segment{Kind: geom.Cubic, C1: at(), C2: at(), To: at()}
			}
			c.Segs = append(c.Segs, seg)
		}
		m := geom.Rotate(7 * r.Float64()).Mul(geom.Matrix{A: 1.5, D: []float64{1.5, -1.5, 0.7}[r.IntN(3)]})
		if i%7 == 0 {
			m = m.Mul(geom.Matrix{A: 1, C: 0.4, D: 1})
		}
		s := Shape{Matrix: m, Contours: []geom.Contour{c}, Stroke: &geom.StrokeStyle{
			Width: 0.5 + 9*r.Float64(),
			Cap:   []geom.Cap{geom.RoundCap, geom.RoundCap, geom.ButtCap, geom.SquareCap}[r.IntN(4)],
			Join:  []geom.Join{geom.RoundJoin, geom.RoundJoin, geom.MiterJoin, geom.BevelJoin}[r.IntN(4)],
		}}
		if _, ok := s.roundReach(); ok {
			exact++
		} else if i%2 == 0 {
			continue // corners of a curve drawn coarsely are others than those drawn finely
		}
		want := geom.EmptyBox()
		for _, l := range s.Outline(1e-3) {
			for _, p := range l {
				want = want.Grow(p)
			}
		}
		got := s.Box()
		tol := s.Stroke.Width * m.MaxScale() / 50
		off := math.Max(got.Min.Sub(want.Min).Len(), got.Max.Sub(want.Max).Len())
		if got.Empty() != want.Empty() || !want.Empty() && off > tol {
			t.Errorf("%d: %+v: box %v, drawn %v", i, *s.Stroke, got, want)
		}
	}
	if exact < 40 {
		t.Errorf("only %d boxes came from the line", exact)
	}
}
