package pdf

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"os"
	"strings"
	"testing"
	"time"

	ot "github.com/go-text/typesetting/font/opentype"
	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font/forge"
	"bildhauer/core/read/trace"
	"bildhauer/core/write"
	"bildhauer/internal/worktime"
)

// file makes a PDF with one page of 100 by 100 points. objects are numbered
// from 10; the resources name them.
func file(content, resources string, objects ...string) []byte {
	return pages("/MediaBox [0 0 100 100]", []string{content}, resources, objects...)
}

func pages(attributes string, contents []string, resources string, objects ...string) []byte {
	var b bytes.Buffer
	at := map[int]int{}
	last := 0
	put := func(nr int, body string) {
		at[nr] = b.Len()
		last = max(last, nr)
		fmt.Fprintf(&b, "%d 0 obj\n%s\nendobj\n", nr, body)
	}
	b.WriteString("%PDF-1.6\n")
	var kids []string
	put(
		1,
		"<< /Type /Catalog /Pages 2 0 R /OCProperties << /OCGs [10 0 R 11 0 R] /D << /ON [10 0 R] /OFF [11 0 R] >> >> >>",
	)
	for i, c := range contents {
		leaf, stream := 100+2*i, 101+2*i
		put(
			leaf,
			fmt.Sprintf(
				"<< /Type /Page /Parent 2 0 R %s /Contents %d 0 R /Resources << %s >> >>",
				attributes,
				stream,
				resources,
			),
		)
		put(stream, stream1("", c))
		kids = append(kids, fmt.Sprintf("%d 0 R", leaf))
	}
	put(2, fmt.Sprintf("<< /Type /Pages /Kids [%s] /Count %d >>", strings.Join(kids, " "), len(kids)))
	for i, o := range objects {
		put(10+i, o)
	}
	start := b.Len()
	fmt.Fprintf(&b, "xref\n0 %d\n", last+1)
	for nr := range last + 1 {
		if off, ok := at[nr]; ok {
			fmt.Fprintf(&b, "%010d 00000 n \n", off)
		} else {
			b.WriteString("0000000000 65535 f \n")
		}
	}
	fmt.Fprintf(&b, "trailer\n<< /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n", last+1, start)
	return b.Bytes()
}

func stream1(dict, data string) string {
	return fmt.Sprintf("<< %s /Length %d >>\nstream\n%s\nendstream", dict, len(data), data)
}

func area(t *testing.T, sh *artwork.Shape) float64 {
	t.Helper()
	r, err := write.Resolve(sh, 0.002, 1.0/4096)
	if err != nil {
		t.Fatal(err)
	}
	return float64(r.Area2()) / 2 / 4096 / 4096 / pxPerPt / pxPerPt
}

// TestPaints reads pages that use one feature each.
func TestPaints(t *testing.T) {
	pi := math.Pi
	ramp := "<< /FunctionType 2 /Domain [0 1] /N 1 /C0 [1 0 0] /C1 [0 0 1] >>"
	for _, c := range []struct {
		name, content, resources string
		objects                  []string
		shapes                   int
		area                     float64 // of the last shape
		color                    string
		hidden                   bool
		layer                    string
	}{
		{name: "rectangle", content: "1 0 0 rg 10 10 20 5 re f", shapes: 1, area: 100, color: "#ff0000"},
		{name: "matrices", content: "q 2 0 0 2 5 5 cm 0 0 5 5 re f Q 0.5 g 0 0 3 3 re f", shapes: 2, area: 9, color: "#808080"},
		{
			name:    "even-odd and curves",
			content: "0 0 10 10 re 2 2 6 6 re f* 5 10 m 7.7614 10 10 7.7614 10 5 c 10 0 l n",
			shapes:  1,
			area:    64,
			color:   "#000000",
		},
		{name: "fill and stroke", content: "0 1 0 RG 2 w 10 10 10 10 re B", shapes: 2, area: 144 - 64, color: "#00ff00"},
		{name: "dashes", content: "2 w [3 2] 0 d 0 10 m 20 10 l S", shapes: 1, area: 24, color: "#000000"},
		{name: "clip", content: "q 0 0 5 5 re W n 0 0 20 20 re f Q", shapes: 1, area: 25, color: "#000000"},
		{name: "CMYK", content: "0 1 1 0 k 0 0 2 2 re f", shapes: 1, area: 4, color: "#ed1c24"},
		{
			name:      "separation",
			content:   "/S cs 1 scn 0 0 2 2 re f",
			resources: "/ColorSpace << /S [/Separation /Buoy /DeviceRGB << /FunctionType 2 /Domain [0 1] /N 1 /C0 [1 1 1] /C1 [0.2 0.4 0.6] >>] >>",
			shapes:    1,
			area:      4,
			color:     "#336699",
		},
		{
			name:      "calculator",
			content:   "/S cs 0.5 scn 0 0 2 2 re f",
			resources: "/ColorSpace << /S [/DeviceN [/A] /DeviceRGB 10 0 R] >>",
			objects:   []string{stream1("/FunctionType 4 /Domain [0 1] /Range [0 1 0 1 0 1]", "{dup 0.4 gt {pop 1} {pop 0} ifelse dup 0 mul dup}")},
			shapes:    1,
			area:      4,
			color:     "#ff0000",
		},
		{
			name:      "indexed",
			content:   "/I cs 1 sc 0 0 2 2 re f",
			resources: "/ColorSpace << /I [/Indexed /DeviceRGB 1 <000000336699>] >>",
			shapes:    1,
			area:      4,
			color:     "#336699",
		},
		{
			name:      "profile by its components",
			content:   "/P cs 0 0 1 scn 0 0 2 2 re f",
			resources: "/ColorSpace << /P [/ICCBased 10 0 R] >>",
			objects:   []string{stream1("/N 3", "x")},
			shapes:    1,
			area:      4,
			color:     "#0000ff",
		},
		{
			name:      "axial shading",
			content:   "0 0 10 10 re W n /A sh",
			resources: "/Shading << /A << /ShadingType 2 /ColorSpace /DeviceRGB /Coords [0 0 10 0] /Function " + ramp + " >> >>",
			shapes:    1,
			area:      100,
			color:     "#800080",
		},
		{
			name:      "shading as a pattern",
			content:   "/Pattern cs /P scn 0 0 10 10 re f",
			resources: "/Pattern << /P << /PatternType 2 /Shading << /ShadingType 3 /ColorSpace /DeviceRGB /Coords [5 5 0 5 5 2] /Function " + ramp + " >> >> >>",
			shapes:    1,
			area:      4 * pi,
			color:     "#5e00a1",
		},
		{
			name:      "tiles",
			content:   "/Pattern cs /P scn 0 0 10 10 re f",
			resources: "/Pattern << /P 10 0 R >>",
			objects: []string{stream1(
				"/PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 10 10] /XStep 10 /YStep 10 /Resources << >>",
				"0 0 1 rg 2 2 3 3 re f",
			)},
			shapes: -1,
			area:   0,
			color:  "#0000ff",
		},
		{
			name:      "form in its box",
			content:   "q 1 0 0 1 20 20 cm /F Do Q",
			resources: "/XObject << /F 10 0 R >>",
			objects:   []string{stream1("/Type /XObject /Subtype /Form /BBox [0 0 4 4] /Matrix [2 0 0 2 0 0]", "0 0 10 10 re f")},
			shapes:    1,
			area:      64,
			color:     "#000000",
		},
		{
			name:      "layer",
			content:   "/OC /L BDC 0 0 2 2 re f EMC",
			resources: "/Properties << /L 10 0 R >>",
			objects:   []string{"<< /Type /OCG /Name (Sails) >>", "<< /Type /OCG /Name (Off) >>"},
			shapes:    1,
			area:      4,
			color:     "#000000",
			layer:     "Sails",
		},
		{
			name:      "layer switched off",
			content:   "/OC /L BDC 0 0 2 2 re f EMC",
			resources: "/Properties << /L 11 0 R >>",
			objects:   []string{"<< /Type /OCG /Name (On) >>", "<< /Type /OCG /Name (Draft) >>"},
			shapes:    1,
			area:      4,
			color:     "#000000",
			hidden:    true,
			layer:     "Draft",
		},
		{
			name:      "membership of a layer",
			content:   "/OC /L BDC 0 0 2 2 re f EMC",
			resources: "/Properties << /L << /Type /OCMD /OCGs [11 0 R] /P /AllOff >> >>",
			objects:   []string{"<< /Type /OCG /Name (On) >>", "<< /Type /OCG /Name (Draft) >>"},
			shapes:    1,
			area:      4,
			color:     "#000000",
			layer:     "Draft",
		},
		{
			name:      "layer by its title",
			content:   "/Layer /M BDC 0 0 2 2 re f EMC",
			resources: "/Properties << /M << /Title (Hull) /Visible true >> >>",
			shapes:    1,
			area:      4,
			color:     "#000000",
			layer:     "Hull",
		},
		{name: "inline image between", content: "BI /W 2 /H 2 /BPC 8 /CS /G ID abcd EI 0 0 2 2 re f", shapes: 1, area: 4, color: "#000000"},
		{name: "numbers as writers write them", content: "--5 0 m 5.-3 0 l +5. 5 l 0 5 l f", shapes: 1, area: 37.5, color: "#000000"},
	} {
		s, err := try("tag.ai", file(c.content, c.resources, c.objects...), 0)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		last := &s.Shapes[len(s.Shapes)-1]
		got := area(t, last)
		if c.shapes < 0 { // copies: all of them together
			got = 0
			for i := range s.Shapes {
				got += area(t, &s.Shapes[i])
			}
			c.area, c.shapes = 9, len(s.Shapes)
		}
		if len(s.Shapes) != c.shapes || math.Abs(got-c.area) > 0.01*c.area || last.Color.Hex() != c.color ||
			last.Hidden != c.hidden ||
			s.Path(last.Group) != c.layer {
			t.Errorf(
				"%s: %d shapes, area %.3f, %s, hidden %v, in %q",
				c.name,
				len(s.Shapes),
				got,
				last.Color.Hex(),
				last.Hidden,
				s.Path(last.Group),
			)
		}
	}
}

// program returns a shipped font without its character table, and with it.
func program(t *testing.T, names ...string) string {
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
	for _, n := range names {
		raw, err := l.RawTable(ot.MustNewTag(n))
		if err != nil {
			t.Fatal(err)
		}
		tables = append(tables, ot.Table{Tag: ot.MustNewTag(n), Content: raw})
	}
	return string(ot.WriteTTF(tables))
}

// TestText shows H or A by every kind of font and compares its box.
func TestText(t *testing.T) {
	h := [4]float64{10.98, 10, 16.54, 17.29} // of DejaVu Sans at 10 points
	a := [4]float64{10.5, 10, 15.5, 15}      // of the forged font
	truetype := []string{"head", "maxp", "loca", "glyf", "hhea", "hmtx"}
	type1 := forge.Type1()
	show := "BT /F 10 Tf 10 10 Td %s Tj ET"
	for _, c := range []struct {
		name, content, font string
		objects             []string
		box                 [4]float64
		text                string
	}{
		{"TrueType by the character table", fmt.Sprintf(
			show,
			"(H)",
		), "/Subtype /TrueType /BaseFont /X /Encoding /WinAnsiEncoding /FontDescriptor 10 0 R /FirstChar 72 /Widths [752]",
			[]string{"<< /Type /FontDescriptor /Flags 32 /FontFile2 11 0 R >>", stream1("", program(t, append(truetype, "cmap")...))}, h, "H"},
		{"TrueType of two bytes by glyph", fmt.Sprintf(
			show,
			"<0029>",
		), "/Subtype /Type0 /BaseFont /X /Encoding /Identity-H /DescendantFonts [<< /Type /Font /Subtype /CIDFontType2 " +
			"/BaseFont /X /CIDToGIDMap /Identity /FontDescriptor 10 0 R /DW 752 >>] /ToUnicode 12 0 R",
			[]string{
				"<< /Type /FontDescriptor /Flags 4 /FontFile2 11 0 R >>",
				stream1("", program(t, truetype...)),
				stream1("", "1 beginbfchar <0029> <0048> endbfchar"),
			}, h, "H"},
		{"Type 1", fmt.Sprintf(show, "(A)"), "/Subtype /Type1 /BaseFont /Forge /FontDescriptor 10 0 R /FirstChar 65 /Widths [600]",
			[]string{"<< /Type /FontDescriptor /Flags 4 /FontFile 11 0 R >>", stream1("", type1)}, a, "A"},
		{"Type 1 with differences", fmt.Sprintf(
			show,
			"(z)",
		), "/Subtype /Type1 /BaseFont /Forge /Encoding << /Differences [122 /A] >> /FontDescriptor 10 0 R",
			[]string{"<< /Type /FontDescriptor /Flags 4 /FontFile 11 0 R >>", stream1("", type1)}, a, "A"},
		{"Type 3", fmt.Sprintf(
			show,
			"(A)",
		), "/Subtype /Type3 /FontBBox [0 0 1 1] /FontMatrix [1 0 0 1 0 0] /CharProcs << /A 10 0 R >> /Encoding << " +
			"/Differences [65 /A] >> /FirstChar 65 /Widths [1]",
			[]string{stream1("", "1 0 0 0 1 1 d1 0.05 0 0.5 0.5 re f")}, a, "A"},
		{"Type 3 of dots", fmt.Sprintf(
			show,
			"(A)",
		), "/Subtype /Type3 /FontBBox [0 0 1 1] /FontMatrix [1 0 0 1 0 0] /CharProcs << /A 10 0 R >> /Encoding << " +
			"/Differences [65 /A] >> /FirstChar 65 /Widths [1]",
			[]string{stream1("", "1 0 0 0 1 1 d1 0.5 0 0 0.5 0.05 0 cm BI /W 2 /H 2 /IM true /BPC 1 /D [1 0] ID \xc0\x40 EI")}, a, "A"},
		{"spacing, scale and rise", "BT /F 10 Tf 3 Tc 50 Tz 2 Ts 10 10 Td [(A) -1000 (A)] TJ ET", "/Subtype /Type1 /BaseFont /Forge /FontDescriptor 10 0 R /FirstChar 65 /Widths [600]",
			[]string{"<< /Type /FontDescriptor /Flags 4 /FontFile 11 0 R >>", stream1("", type1)}, [4]float64{10.25, 12, 22.25, 17}, "A A"},
		{"lines and matrices", "BT /F 1 Tf 10 0 0 10 10 40 Tm 3 TL T* (A) Tj ET", "/Subtype /Type1 /BaseFont /Forge /FontDescriptor 10 0 R",
			[]string{"<< /Type /FontDescriptor /Flags 4 /FontFile 11 0 R >>", stream1("", type1)}, a, "A"},
		{"a classic name", fmt.Sprintf(show, "(I)"), "/Subtype /Type1 /BaseFont /Courier", nil, [4]float64{11.13, 10, 14.87, 15.63}, "I"},
	} {
		s, err := try(
			"tag.ai",
			file(c.content, "/Font << /F << /Type /Font "+c.font+" >> >>", c.objects...),
			0,
		)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		b := s.Shapes[0].Box().Transform(geom.Scale(1/pxPerPt, 1/pxPerPt))
		got := [4]float64{b.Min.X, 100 - b.Max.Y, b.Max.X, 100 - b.Min.Y}
		for i := range got {
			if math.Abs(got[i]-c.box[i]) > 0.06 || s.Shapes[0].Text != c.text {
				t.Errorf(
					"%s: in %.2f saying %q, want %.2f saying %q",
					c.name,
					got,
					s.Shapes[0].Text,
					c.box,
					c.text,
				)
				break
			}
		}
	}
	// Text that clips, and text that is not to be seen.
	font := "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Forge /FontDescriptor 10 0 R >> >>"
	objects := []string{"<< /Type /FontDescriptor /Flags 4 /FontFile 11 0 R >>", stream1("", type1)}
	s, err := try("a.ai", file("BT 7 Tr /F 10 Tf 10 10 Td (A) Tj ET 0 0 100 100 re f", font, objects...), 0)
	if err != nil || len(s.Shapes) != 1 || math.Abs(area(t, &s.Shapes[0])-25) > 0.1 {
		t.Errorf("text as a clip: %v", err)
	}
	if _, err = try("a.ai", file("BT 3 Tr /F 10 Tf 10 10 Td (A) Tj ET", font, objects...), 0); err == nil ||
		!strings.Contains(err.Error(), "invisible text") {
		t.Errorf("invisible text: %v", err)
	}
}

// TestPages chooses among pages, turns and crops them.
func TestPages(t *testing.T) {
	data := pages(
		"/MediaBox [0 0 200 100] /CropBox [50 0 150 100] /Rotate 90",
		[]string{"50 0 10 20 re f", "60 0 10 30 re f"},
		"",
	)
	for page, want := range map[int]float64{0: 200, 1: 200, 2: 300} {
		s, err := try("two.pdf", data, page)
		if err != nil || math.Abs(area(t, &s.Shapes[0])-want) > 0.01 || s.Pages != 2 ||
			s.Page.W() != s.Page.H() {
			t.Fatalf("page %d: %v", page, err)
		}
	}
	s, _ := try("two.pdf", data, 1)
	if b := s.Shapes[0].Box(); math.Abs(b.Min.X) > 1e-9 || math.Abs(b.Min.Y) > 1e-9 || b.W() < b.H() {
		t.Errorf("the corner of the turned page lies at %v", b)
	}
	if _, err := try("two.pdf", data, 3); err == nil ||
		!strings.Contains(err.Error(), "has 2 pages; there is no page 3") {
		t.Errorf("page 3: %v", err)
	}
}

// TestRefusals holds that what can't become shapes says why.
func TestRefusals(t *testing.T) {
	loop := []string{
		stream1(
			"/Type /XObject /Subtype /Form /BBox [0 0 9 9] /Resources << /XObject << /F 10 0 R >> >>",
			"/F Do /F Do 0 0 1 1 re f",
		),
	}
	var deep []string // each paints the next many times
	for i := range 8 {
		deep = append(
			deep,
			stream1(
				fmt.Sprintf(
					"/Type /XObject /Subtype /Form /BBox [0 0 9 9] /Resources << /XObject << /F %d 0 R >> >>",
					11+i,
				),
				strings.Repeat("/F Do ", 50),
			),
		)
	}
	var locked bytes.Buffer
	conf := model.NewAESConfiguration("sea", "harbour", 256)
	quiet()
	if err := api.Encrypt(bytes.NewReader(file("0 0 5 5 re f", "")), &locked, conf); err != nil {
		t.Fatal(err)
	}
	for name, c := range map[string]struct {
		data []byte
		want string
	}{
		"a password":      {locked.Bytes(), "is protected by a password"},
		"nothing painted": {file("0 0 m 5 5 l n", ""), "paints nothing on page 1"},
		"only a bitmap": {
			file("/I Do", "/XObject << /I 10 0 R >>", stream1("/Type /XObject /Subtype /Image /Width 1 /Height 1", "x")),
			"holds only bitmaps (1)",
		},
		"private data": {
			pages(
				"/MediaBox [0 0 9 9] /PieceInfo << /Shop << /Private << /AIMetaData 10 0 R >> >> >>",
				[]string{"BT (This file was saved without PDF Content.) Tj ET"},
				"",
				stream1("", "x"),
			),
			"holds only the private data",
		},
		"copies of itself": {file("/F Do", "/XObject << /F 10 0 R >>", loop...), ""},
		"copies of copies": {file("/F Do", "/XObject << /F 10 0 R >>", deep...), "makes more than 50,000 copies"},
		"widths without end": {
			file("BT /F 9 Tf (a) Tj ET", "/Font << /F << /Type /Font /Subtype /Type0 /BaseFont /X /Encoding /Identity-H "+
				"/DescendantFonts [<< /Type /Font /Subtype /CIDFontType2 /BaseFont /X "+
				"/W ["+strings.Repeat("0 65535 500 ", 3000)+"] >>] >> >>"),
			"fonts that name more than 2,000,000 characters",
		},
		"cut short": {file("0 0 5 5 re f", "")[:200], "without pages"},
	} {
		start := worktime.Spent()
		_, err := try("tag.ai", c.data, 0)
		if c.want == "" != (err == nil) || err != nil && !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v, want %q", name, err, c.want)
		}
		if d := worktime.Spent() - start; d > 5*time.Second {
			t.Errorf("%s took %v", name, d)
		}
	}
}

// FuzzPDF holds that any bytes end, without a panic, as a sheet or an error.
func FuzzPDF(f *testing.F) {
	data, err := os.ReadFile("../../../demo/pier-key-tag.ai")
	if err != nil {
		f.Fatal(err)
	}
	f.Add(data)
	f.Add(
		file(
			"q 1 0 0 rg 0 0 9 9 re W n /F Do BT /F 9 Tf (a) Tj ET Q",
			"/XObject << /F 10 0 R >> /Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Courier >> >>",
			stream1("/Type /XObject /Subtype /Form /BBox [0 0 9 9]", "0 0 1 1 re S"),
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 1<<20 {
			return
		}
		try("f.pdf", data, 0)
	})
}

// FuzzContent feeds content streams, which a damaged container rarely lets
// through.
func FuzzContent(f *testing.F) {
	f.Add(
		"q 1 0 0 rg 0 0 9 9 re f* /A sh /P scn BT /F 9 Tf 2 Tr [(a) 3 <41>] TJ ET Q /OC /L BDC EMC BI /W 1 ID x EI",
	)
	f.Fuzz(func(t *testing.T, content string) {
		try(
			"f.pdf",
			file(
				content,
				"/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Courier >> >> /Shading << /A << /ShadingType 2 "+
					"/ColorSpace /DeviceRGB /Coords [0 0 9 9] /Function << /FunctionType 2 /Domain [0 1] /N 1 >> >> >> /Pattern << /P 12 0 R >>",
				"<< /Type /OCG /Name (a) >>",
				"<< /Type /OCG /Name (b) >>",
				stream1(
					"/PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 9 9] /XStep 9 /YStep 9 /Resources << >>",
					"0 0 3 3 re f",
				),
			),
			0,
		)
	})
}

// try reads within a budget.
func try(name string, data []byte, page int) (*artwork.Sheet, error) {
	return budget.Within(context.Background(), func(b *budget.Budget) (*artwork.Sheet, error) {
		return Read(name, data, nil, page, trace.Settings{}, b)
	})
}
