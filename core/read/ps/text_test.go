package ps

import (
	"encoding/hex"
	"fmt"
	"math"
	"os"
	"strings"
	"testing"

	ot "github.com/go-text/typesetting/font/opentype"

	"bildhauer/core/geom"
	"bildhauer/core/read/font"
	"bildhauer/core/read/font/forge"
)

// truetype returns a shipped font as the strings of a Type 42 font, and its
// glyph numbers of H and I.
func truetype(t testing.TB) (string, int, int) {
	t.Helper()
	f, err := os.Open("../font/shipped/dejavusans.woff")
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	l, err := ot.NewLoader(f)
	if err != nil {
		t.Fatal(err)
	}
	var tables []ot.Table
	for _, k := range []string{"head", "maxp", "loca", "glyf", "hhea", "hmtx"} {
		raw, err := l.RawTable(ot.MustNewTag(k))
		if err != nil {
			t.Fatal(err)
		}
		tables = append(tables, ot.Table{Tag: ot.MustNewTag(k), Content: raw})
	}
	var b strings.Builder
	data := append(ot.WriteTTF(tables), 0)
	for len(data) > 0 {
		n := min(len(data), 60_000)
		fmt.Fprintf(&b, "<%s>\n", hex.EncodeToString(data[:n]))
		data = data[n:]
	}
	raw, err := os.ReadFile("../font/shipped/dejavusans.woff")
	if err != nil {
		t.Fatal(err)
	}
	face, err := font.ParseFace(raw)
	if err != nil {
		t.Fatal(err)
	}
	return b.String(), face.ByRune('H'), face.ByRune('I')
}

// bare returns the CFF font of a shipped OpenType font.
func bare(t testing.TB) string {
	t.Helper()
	f, err := os.Open("../font/shipped/texgyretermes-regular.woff")
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	l, err := ot.NewLoader(f)
	if err != nil {
		t.Fatal(err)
	}
	raw, err := l.RawTable(ot.MustNewTag("CFF "))
	if err != nil {
		t.Fatal(err)
	}
	return string(raw)
}

// TestText shows text of every kind of font and compares box and place of
// what comes out.
func TestText(t *testing.T) {
	forged := forge.Type1() + "cleartomark\n/Forge findfont 10 scalefont setfont\n"
	type3 := "8 dict begin /FontType 3 def /FontMatrix [.01 0 0 .01 0 0] def /FontBBox [0 0 100 100] def /Encoding " +
		"256 array def 0 1 255 {Encoding exch /.notdef put} for Encoding 65 /box put /BuildChar {exch /Encoding " +
		"get exch get /box eq {120 0 0 0 100 100 setcachedevice 1 0 0 setrgbcolor 0 0 100 50 rectfill} {120 0 " +
		"setcharwidth} ifelse} def currentdict end /T exch definefont pop /T findfont 10 scalefont setfont 0 0 1 setrgbcolor "
	sf, h, i := truetype(t)
	type42 := "11 dict begin /FontType 42 def /FontName /S def /PaintType 0 def /FontMatrix [1 0 0 1 0 0] def /FontBBox " +
		"[0 0 1 1] def /Encoding StandardEncoding def /CharStrings << /.notdef 0 /H " + fmt.Sprint(
		h,
	) + " /I " + fmt.Sprint(
		i,
	) + " >> def /sfnts [" + sf + "] def currentdict end /S exch definefont pop /S findfont 10 scalefont setfont "
	cff := bare(t)
	bareFont := fmt.Sprintf(
		"/FontSetInit /ProcSet findresource begin /Bare %d StartData %s\n/Bare findfont 10 scalefont setfont ",
		len(cff),
		cff,
	)
	for _, c := range []struct {
		name, program string
		shapes        int
		box           [4]float64 // x0 y0 x1 y1 in points
		text          string
	}{
		{"Type 1", forged + "10 10 moveto (AA) show", 1, [4]float64{10.5, 10, 21.5, 15}, "AA"},
		{"Type 1, accent", forged + "10 10 moveto (a) show", 1, [4]float64{10.5, 10, 15.5, 17}, "Á"},
		{"widened", forged + "10 10 moveto 2 0 (AA) ashow", 1, [4]float64{10.5, 10, 23.5, 15}, "AA"},
		{"one letter widened", forged + "10 10 moveto 5 0 66 (BA) widthshow", 1, [4]float64{10, 10, 26.5, 15}, "BA"},
		{"advances given", forged + "10 10 moveto (AA) [30 30] xshow", 1, [4]float64{10.5, 10, 45.5, 15}, "AA"},
		{"by name", forged + "10 10 moveto /B glyphshow", 1, [4]float64{10, 10, 15, 15}, "B"},
		{
			"the path",
			forged + "10 10 moveto (A) false charpath pathbbox 4 2 roll pop pop 0 0 moveto lineto 0 20 lineto closepath fill",
			1,
			[4]float64{0, 0, 15.5, 20},
			"",
		},
		{"measured", forged + "(AAC) stringwidth pop 0 0 3 -1 roll 5 rectfill", 1, [4]float64{0, 0, 18, 5}, ""},
		{
			"reencoded",
			forged + "/Forge findfont dup length dict begin {1 index /FID ne {def} {pop pop} ifelse} forall /Encoding 256 array " +
				"def 0 1 255 {Encoding exch /C put} for currentdict end /F2 exch definefont 10 scalefont setfont 10 10 moveto (x) show",
			1,
			[4]float64{10, 10, 12, 12},
			"C",
		},
		{"slanted by a matrix", forged + "/Forge findfont [10 0 0 20 0 0] makefont setfont 10 10 moveto (A) show", 1, [4]float64{10.5, 10, 15.5, 20}, "A"},
		{"Type 3", type3 + "20 20 moveto (AxA) show", 2, [4]float64{20, 20, 54, 25}, "A"},
		{
			"a font of dots",
			"8 dict begin /FontType 3 def /FontMatrix [1 0 0 1 0 0] def /FontBBox [0 0 9 9] def /Encoding 256 array " +
				"def 0 1 255 {Encoding exch /a put} for /BuildChar {pop pop 8 0 0 0 8 8 setcachedevice 8 4 true [1 0 0 " +
				"-1 0 4] {<3c 7e ff ff>} imagemask} def currentdict end /D exch definefont setfont 20 20 moveto (ab) show",
			2,
			[4]float64{20, 20, 36, 24},
			"a",
		},
		{"Type 42", type42 + "10 10 moveto (HI) show", 1, [4]float64{10.98, 10, 19.5, 17.3}, "HI"},
		{"CFF", bareFont + "10 10 moveto (HI) show", 1, [4]float64{10.19, 10, 20.37, 16.62}, "HI"},
		{"a classic name", "/Courier 10 selectfont 10 10 moveto (I) show", 1, [4]float64{11.13, 10, 14.87, 15.63}, "I"},
		{"kerned by a procedure", forged + "10 10 moveto {pop pop 3 0 rmoveto} (AA) kshow", 2, [4]float64{10.5, 10, 24.5, 15}, "A"},
	} {
		s := mustRead(t, c.program)
		b := geom.EmptyBox()
		for i := range s.Shapes {
			b = b.Union(s.Shapes[i].Box())
		}
		inv := geom.Scale(1/pxPerPt, 1/pxPerPt)
		b = b.Transform(inv)
		got := [4]float64{b.Min.X, 100 - b.Max.Y, b.Max.X, 100 - b.Min.Y}
		for i := range got {
			if math.Abs(got[i]-c.box[i]) > 0.06 || len(s.Shapes) != c.shapes || s.Shapes[0].Text != c.text {
				t.Errorf(
					"%s: %d shapes in %.2f saying %q, want %d in %.2f saying %q",
					c.name,
					len(s.Shapes),
					got,
					s.Shapes[0].Text,
					c.shapes,
					c.box,
					c.text,
				)
				break
			}
		}
	}
	if s := mustRead(t, type3+"20 20 moveto (A) show"); s.Shapes[0].Color.Hex() != "#0000ff" {
		t.Errorf("a glyph of the text's colour came out %s", s.Shapes[0].Color.Hex())
	}
}

// TestShadesAndPatterns fills with gradients and with copies of a cell.
func TestShadesAndPatterns(t *testing.T) {
	ramp := "<< /FunctionType 2 /Domain [0 1] /N 1 /C0 [1 0 0] /C1 [0 0 1] >>"
	for _, c := range []struct {
		name, program string
		shapes        int
		area          float64 // of all, in square points
		color         string
	}{
		{
			"axial in a clip",
			"0 0 20 10 rectclip << /ShadingType 2 /ColorSpace /DeviceRGB /Coords [0 0 20 0] /Extend [true true] /Function " + ramp + " >> shfill",
			1,
			200,
			"#800080",
		},
		{
			"axial without extension",
			"0 0 20 10 rectclip << /ShadingType 2 /ColorSpace /DeviceRGB /Coords [5 0 10 0] /Function " + ramp + " >> shfill",
			1,
			50,
			"#800080",
		},
		{"radial ring", "<< /ShadingType 3 /ColorSpace /DeviceRGB /Coords [50 50 10 50 50 20] /Function " + ramp + " >> shfill", 1, math.Pi * 300, ""},
		{
			"stitched",
			"0 0 10 10 rectclip << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 10 0] /Function << /FunctionType " +
				"3 /Domain [0 1] /Bounds [0.5] /Encode [0 1 0 1] /Functions [<< /FunctionType 2 /Domain [0 1] /N 1 /C0 " +
				"[0] /C1 [0] >> << /FunctionType 2 /Domain [0 1] /N 1 /C0 [1] /C1 [1] >>] >> >> shfill",
			1,
			100,
			"#808080",
		},
		{
			"sampled",
			"0 0 10 10 rectclip << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 10 0] /Function << /FunctionType " +
				"0 /Domain [0 1] /Range [0 1] /Size [2] /BitsPerSample 8 /DataSource <00ff> >> >> shfill",
			1,
			100,
			"#808080",
		},
		{
			"tiles",
			"<< /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 5 5] /XStep 10 /YStep 10 /PaintProc {pop 1 0 " +
				"0 setrgbcolor 0 0 5 5 rectfill} >> matrix makepattern setpattern 0 0 20 20 rectfill",
			-1,
			100,
			"#ff0000",
		},
		{
			"tiles of one colour, cut",
			"[/Pattern /DeviceRGB] setcolorspace 0 1 0 << /PatternType 1 /PaintType 2 /TilingType 1 /BBox [0 0 10 " +
				"10] /XStep 10 /YStep 10 /PaintProc {pop 0 0 10 10 rectfill} >> matrix makepattern setcolor 0 0 15 20 rectfill",
			-1,
			300,
			"#00ff00",
		},
	} {
		s := mustRead(t, c.program)
		sum := 0.0
		for i := range s.Shapes {
			sum += area(t, &s.Shapes[i])
		}
		if got := s.Shapes[0].Color.Hex(); math.Abs(sum-c.area) > 0.01*c.area ||
			c.shapes >= 0 && len(s.Shapes) != c.shapes ||
			c.color != "" && !near(got, c.color) {
			t.Errorf(
				"%s: %d shapes, area %.2f, %s; want %d, %.2f, %s",
				c.name,
				len(s.Shapes),
				sum,
				got,
				c.shapes,
				c.area,
				c.color,
			)
		}
	}
}

// near compares colours up to a few steps.
func near(a, b string) bool {
	var p, q [3]int
	fmt.Sscanf(a, "#%02x%02x%02x", &p[0], &p[1], &p[2])
	fmt.Sscanf(b, "#%02x%02x%02x", &q[0], &q[1], &q[2])
	for i := range p {
		if d := p[i] - q[i]; d > 6 || d < -6 {
			return false
		}
	}
	return true
}

// TestArtworkOperators reads the operators of the older artwork format.
func TestArtworkOperators(t *testing.T) {
	const top = "%!PS-Adobe-3.0\n%%Creator: sign shop\n%AI5_FileFormat 3\n%%BoundingBox: 0 0 100 100\n%%EndComments\n%%BeginProlog\n%%EndProlog\n%%BeginSetup\nShop_procs " +
		"/initialize get exec\n%%EndSetup\n"
	const square = "0 0 m 10 0 L 10 10 L 0 10 L "
	for _, c := range []struct {
		name, program string
		shapes        int
		area          float64 // of the last shape
		color         string
		hidden        bool
		layer         string
	}{
		{"fill", "0 1 1 0 k " + square + "f", 1, 100, "#ed1c24", false, ""},
		{"fill and stroke", "0.5 g 1 G 2 w " + square + "b", 2, 144 - 64, "#ffffff", false, ""},
		{"open stroke", "2 w 0 0 m 10 0 L S", 1, 20, "#000000", false, ""},
		{"curves that repeat points", "0 0 m 0 5.5228 4.4772 10 10 10 C 10 0 L f 20 0 m 30 10 30 10 V N", 1, math.Pi * 25, "#000000", false, ""},
		{"compound", "*u " + square + "f 2 2 m 2 8 L 8 8 L 8 2 L f *U", 1, 64, "#000000", false, ""},
		{"spot colour by its tint", "1 0 0 0 (Sea) 0.5 x " + square + "f", 1, 100, "#66d6f7", false, ""},
		{"RGB", "0 0.5 1 Xa " + square + "f", 1, 100, "#0080ff", false, ""},
		{"clip", "q 0 0 m 5 0 L 5 10 L 0 10 L h W n " + square + "f Q", 1, 50, "#000000", false, ""},
		{"clip undone", "q 0 0 m 5 0 L 5 10 L h W n Q " + square + "f", 1, 100, "#000000", false, ""},
		{"guide", "5 0 m 5 99 L (N) * " + square + "f", 1, 100, "#000000", false, ""},
		{"layer", "1 1 1 1 0 0 0 79 128 255 Lb (Sails) Ln u " + square + "f U LB", 1, 100, "#000000", false, "Sails"},
		{"hidden layer", "0 1 1 1 0 0 0 79 128 255 Lb (Draft) Ln " + square + "f LB", 1, 100, "#000000", true, "Draft"},
		{
			"gradient around the painting",
			"(Dusk) 0 2 Bd [ 0.5 0 50 0 %_Bs 1 0 50 100 %_Bs BD " + square + "Bb 1 (Dusk) 0 0 0 10 1 0 0 1 0 0 Bg f 0 BB",
			1,
			100,
			"#c0c0c0",
			false,
			"",
		},
		{
			"gradient that paints itself",
			"(Dusk) 1 2 Bd [ 1 0 0 0 1 50 0 %_Bs 1 0 0 0 1 50 100 %_Bs BD " + square + "Bb 1 (Dusk) 0 0 0 10 1 0 0 1 0 0 Bg 0 BB",
			1,
			100,
			"#00adef",
			false,
			"",
		},
		{"text at a point", "0 To 1 0 0 1 10 10 0 Tp TP 0 Tr /_Courier 10 Tf 0 Ta (I) Tx TO", 1, 4.96, "#000000", false, ""},
		{"unknown words", "7 (x) Zq " + square + "f 3 4 Zz", 1, 100, "#000000", false, ""},
	} {
		s, err := try(
			"mark.ai",
			[]byte(top+strings.ReplaceAll(c.program, " %_Bs", " %_Bs\n")+"\n%%Trailer\n"),
		)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		last := &s.Shapes[len(s.Shapes)-1]
		layer := s.Path(last.Group)
		if got := area(t, last); s.Format != "AI" || len(s.Shapes) != c.shapes ||
			math.Abs(got-c.area) > 0.02*c.area ||
			!near(last.Color.Hex(), c.color) ||
			last.Hidden != c.hidden ||
			layer != c.layer {
			t.Errorf(
				"%s: %s, %d shapes, area %.2f, %s, hidden %v, in %q",
				c.name,
				s.Format,
				len(s.Shapes),
				got,
				last.Color.Hex(),
				last.Hidden,
				layer,
			)
		}
	}
	// Brushes, palettes and what the setup defines are not painted.
	setup := strings.Replace(
		top,
		"%%EndSetup",
		"%AI8_BeginBrushPattern\r(Rope) u "+square+"f U\r%AI8_EndBrushPattern\r"+square+"f\r%%EndSetup\r%AI5_Begin_NonPrinting\rNp "+square+"f\r%AI5_End_NonPrinting--",
		1,
	)
	if s, err := try("mark.ai", []byte(setup+"\n0 0 1 Xa "+square+"f\n%%Trailer\n")); err != nil ||
		len(s.Shapes) != 1 ||
		len(s.Groups) != 0 ||
		s.Shapes[0].Color.Hex() != "#0000ff" {
		t.Errorf("setup: %v", err)
	}
	// The oldest files say nothing of themselves.
	s, err := try(
		"mark.ai",
		[]byte(
			"%!PS-Adobe-2.0 EPSF-1.2\n%%BoundingBox: 0 0 9 9\n%%EndComments\n%%EndProlog\n0 A 0.5 g "+square+"f\n%%Trailer\n",
		),
	)
	if err != nil || s.Format != "AI" || len(s.Shapes) != 1 || s.Shapes[0].Color.Hex() != "#808080" {
		t.Errorf("without marks: %v", err)
	}
	s, _ = try(
		"mark.ai",
		[]byte(top+"1 To 1 0 0 1 0 0 0 Tp 0 0 m 9 0 L 9 9 L TP (a long text) Tx TO "+square+"f\n%%Trailer\n"),
	)
	if len(s.Notes) != 1 || !strings.Contains(s.Notes[0].Text(), "text in an area") ||
		s.Notes[0].Where[0] != "a long text" {
		t.Errorf("text in an area: %v", s.Notes)
	}
}
