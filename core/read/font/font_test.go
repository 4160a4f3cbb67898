package font

import (
	"bytes"
	"math"
	"os"
	"strings"
	"testing"

	ot "github.com/go-text/typesetting/font/opentype"

	"bildhauer/core/geom"
	"bildhauer/core/read/font/forge"
)

// TestMatching asks for fonts as artwork does.
func TestMatching(t *testing.T) {
	mine := &Face{Family: "Quay Grotesk", Weight: 700}
	lib := &Library{Added: []*Face{mine}}
	for _, c := range []struct {
		families string
		weight   int
		italic   bool
		family   string
		bold     bool
		stand    string
		slant    bool
	}{
		{"sans-serif", 400, false, "DejaVu Sans", false, "", false},
		{"Helvetica", 700, true, "TeX Gyre Heros", true, "Helvetica", false},
		{"'Times New Roman', serif", 400, true, "TeX Gyre Termes", false, "Times New Roman", false},
		{"Unheard Of, monospace", 400, false, "DejaVu Sans Mono", false, "Unheard Of", false},
		{"Unheard Of", 400, false, "DejaVu Sans", false, "Unheard Of", false},
		{"Unheard Serif", 800, false, "DejaVu Serif", true, "Unheard Serif", false},
		{"Pacifico", 400, true, "Pacifico", false, "", true},
		{"quay-grotesk", 400, false, "Quay Grotesk", true, "", false},
		{"Quay Grotesk", 700, true, "Quay Grotesk", true, "", true},
	} {
		f := lib.Find(Want{Families: strings.Split(c.families, ","), Weight: c.weight, Italic: c.italic})
		if f.Face.Family != c.family || f.Face.Weight >= 600 != c.bold || f.Stand != c.stand ||
			f.Slant != c.slant {
			t.Errorf(
				"%s %d: %s %d, stands in for %q, slanted %v",
				c.families,
				c.weight,
				f.Face.Family,
				f.Face.Weight,
				f.Stand,
				f.Slant,
			)
		}
	}
	for name, want := range map[string]Want{
		"ABCDEF+TimesNewRomanPS-BoldItalicMT": {[]string{"TimesNewRoman"}, 700, true},
		"Helvetica-Narrow-Oblique":            {[]string{"HelveticaNarrow"}, 400, true},
		"Arial,Bold":                          {[]string{"Arial"}, 700, false},
		"AvantGarde-Demi":                     {[]string{"AvantGarde"}, 700, false},
	} {
		if got := FromPostScript(name); got.Families[0] != want.Families[0] || got.Weight != want.Weight ||
			got.Italic != want.Italic {
			t.Errorf("%s: %+v", name, got)
		}
	}
}

// TestClassicMetrics compares advances of the stand-ins with the published
// metrics of the fonts whose place they take, and draws every shipped family.
func TestClassicMetrics(t *testing.T) {
	var lib Library
	for _, c := range []struct {
		font, glyph string
		width       float64
	}{
		{"Helvetica", "A", 667}, {"Helvetica-Bold", "a", 556}, {"Helvetica-Narrow", "A", 547}, {"Times-Roman", "A", 722}, {"Times-Italic", "a", 500},
		{
			"Courier",
			"m",
			600,
		}, {"Courier-BoldOblique", "i", 600}, {"AvantGarde-Book", "A", 740}, {"Bookman-Light", "A", 680}, {"NewCenturySchlbk-Roman", "A", 722},
		{"Palatino-Roman", "A", 778}, {"ZapfChancery-MediumItalic", "A", 620}, {"Symbol", "alpha", 631}, {"ZapfDingbats", "a1", 974},
	} {
		f := lib.ForPostScript(c.font)
		g, ok := f.Glyph(c.glyph)
		if !ok || math.Abs(1000*g.Advance-c.width) > 1.5 || len(g.Contours) == 0 {
			t.Errorf(
				"%s %s: %.1f (%v, %d contours), want %g",
				c.font,
				c.glyph,
				1000*g.Advance,
				ok,
				len(g.Contours),
				c.width,
			)
		}
		if !Standard(c.font) {
			t.Errorf("%s is not known as a classic name", c.font)
		}
	}
	for i, fam := range families {
		for style, file := range fam.files {
			if file == "" {
				continue
			}
			f, _ := shipped(i, style&1 != 0, style&2 != 0)
			if g := f.Glyph(f.ByRune('R')); len(g.Contours) == 0 || g.Advance <= 0 {
				t.Errorf("%s has no R", file)
			}
		}
	}
	for code, n := range Named("symbol") {
		if _, ok := lib.ForPostScript("Symbol").Glyph(n); !ok && n != "" && code > 32 {
			t.Logf("Symbol %s has no stand-in", n)
		}
	}
}

func box(g Glyph) geom.Box {
	b := geom.EmptyBox()
	for _, c := range g.Contours {
		b = b.Union(c.TightBox())
	}
	return b
}

// TestType1 reads a font made here: moves, flex, accents put together,
// division and subroutines.
func TestType1(t *testing.T) {
	pfa := forge.Type1()
	f, err := ParseType1([]byte(pfa))
	if err != nil {
		t.Fatal(err)
	}
	for name, want := range map[string][5]float64{ // the box and the advance
		"A": {
			50,
			0,
			550,
			500,
			600,
		}, "Aacute": {50, 0, 550, 700, 600}, "B": {0, 0, 500, 500, 600}, "C": {0, 0, 200, 200, 600}, "acute": {10, 600, 110, 700, 300},
	} {
		g, ok := f.Named(name)
		b := box(g)
		if got := [5]float64{b.Min.X, b.Min.Y, b.Max.X, b.Max.Y, g.Advance}; !ok || got != want {
			t.Errorf("%s: %v, want %v", name, got, want)
		}
	}
	if f.Encoding['a'] != "Aacute" || f.ByName("nothing") != -1 {
		t.Error("encoding or names are wrong")
	}
	// The accent lies where the letter's own origin and seac put it.
	g, _ := f.Named("Aacute")
	if b := g.Contours[len(g.Contours)-1].Box(); b.Min.X != 250 || b.Min.Y != 600 {
		t.Errorf("accent at %v", b.Min)
	}
	// The same font with the headers of a PFB file.
	i := strings.Index(pfa, "currentfile eexec") + 18
	var pfb []byte
	for kind, part := range []string{pfa[:i], pfa[i:]} {
		pfb = append(pfb, 0x80, byte(kind+1), byte(len(part)), byte(len(part)>>8), 0, 0)
		pfb = append(pfb, part...)
	}
	if f, err := ParseType1(append(pfb, 0x80, 3)); err != nil || len(f.CharStrings) != 6 {
		t.Errorf("PFB: %v", err)
	}
}

func shippedBytes(t testing.TB, file string) []byte {
	t.Helper()
	b, err := os.ReadFile("shipped/" + file + ".woff")
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// stripped returns a shipped font with a few of its tables alone.
func stripped(t testing.TB, file string, keep ...string) []byte {
	t.Helper()
	l, err := ot.NewLoader(bytes.NewReader(shippedBytes(t, file)))
	if err != nil {
		t.Fatal(err)
	}
	tables := map[string][]byte{}
	for _, k := range keep {
		raw, err := l.RawTable(ot.MustNewTag(k))
		if err != nil {
			t.Fatal(err)
		}
		tables[k] = raw
	}
	return buildSfnt([]byte{0, 1, 0, 0}, tables)
}

// TestEmbedded reads fonts as files embed them, without the tables that a
// font file has, and a bare CFF font.
func TestEmbedded(t *testing.T) {
	whole, err := ParseFace(shippedBytes(t, "dejavusans"))
	if err != nil {
		t.Fatal(err)
	}
	gid := whole.ByRune('g')
	e, err := ParseEmbedded(stripped(t, "dejavusans", "head", "maxp", "loca", "glyf", "hhea", "hmtx"))
	if err != nil {
		t.Fatal(err)
	}
	if a, b := whole.Glyph(gid), e.Glyph(gid); box(a) != box(b) || a.Advance != b.Advance {
		t.Errorf("glyph %d differs: %v %v", gid, box(a), box(b))
	}
	if e.ByRune('g') != -1 {
		t.Error("a character without a table was found")
	}
	cff := CFFTable(stripped(t, "texgyretermes-regular", "CFF "))
	f, err := ParseCFF(cff)
	if err != nil {
		t.Fatal(err)
	}
	termes, _ := ParseFace(shippedBytes(t, "texgyretermes-regular"))
	a, b := f.Glyph(f.ByName("ampersand")), termes.Glyph(termes.ByRune('&'))
	if box(a) != box(b) || math.Abs(a.Advance-b.Advance) > 1e-6 {
		t.Errorf("ampersand: %v %g, want %v %g", box(a), a.Advance, box(b), b.Advance)
	}
}

// FuzzFont holds that font programs of any bytes end, without a panic, as a
// font or an error.
func FuzzFont(f *testing.F) {
	f.Add([]byte(forge.Type1()))
	f.Add(stripped(f, "pacifico-latin-400-normal", "head", "maxp", "loca", "glyf", "cmap", "hhea", "hmtx"))
	f.Add(CFFTable(stripped(f, "texgyrechorus-mediumitalic", "CFF ")))
	f.Add(shippedBytes(f, "pacifico-latin-400-normal"))
	f.Fuzz(func(t *testing.T, data []byte) {
		var all []Program
		if p, err := ParseFace(data); err == nil {
			all = append(all, p)
		}
		if p, err := ParseEmbedded(data); err == nil {
			all = append(all, p)
		}
		if p, err := ParseCFF(data); err == nil {
			all = append(all, p)
		}
		if p, err := ParseType1(data); err == nil {
			all = append(all, p)
		}
		for _, p := range all {
			for gid := range min(p.Count(), 40) {
				p.Glyph(gid)
			}
			p.Glyph(p.ByName("A"))
			p.Glyph(p.ByRune('B'))
		}
	})
}
