package pdf

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/trace"
)

// noted returns what the report says, a sentence a kind.
func noted(s *artwork.Sheet) string {
	var out []string
	for _, n := range s.Notes {
		out = append(out, n.Text())
	}
	slices.Sort(out)
	return strings.Join(out, "; ")
}

func sum(t *testing.T, s *artwork.Sheet) (area_ float64) {
	for i := range s.Shapes {
		if !s.Shapes[i].Bitmap {
			area_ += area(t, &s.Shapes[i])
		}
	}
	return area_
}

const halfLine = "soft mask: its edge is where half of the object shows through"

// TestSoftMasksCut paints a square of 40 points through soft masks whose line is known.
func TestSoftMasksCut(t *testing.T) {
	group := func(content string) string {
		return stream1("/Type /XObject /Subtype /Form /BBox [0 0 100 100] /Group << /S /Transparency /CS /DeviceGray >> "+
			"/Resources << /Shading << /A << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 40 0] /Function << /FunctionType 2 "+
			"/Domain [0 1] /N 1 >> >> >> /ExtGState << /H << /ca 0.4 >> >> >>", content)
	}
	const luminosity, alpha = "/S /Luminosity", "/S /Alpha"
	for name, c := range map[string]struct {
		kind, mask, content string
		area, opacity       float64
		note                string
	}{
		"a square of light":    {luminosity, "1 g 0 0 20 40 re f", "", 800, 1, halfLine},
		"a gradient":           {luminosity, "/A sh", "", 800, 1, halfLine},
		"by cover":             {alpha, "0 g 0 0 10 40 re f", "", 400, 1, halfLine},
		"faint":                {alpha, "/H gs 0 0 10 40 re f", "", 400, 0.4, halfLine},
		"light around it":      {luminosity + " /BC [1]", "0 g 0 0 10 40 re f", "", 1200, 1, halfLine},
		"turned round":         {luminosity + " /TR << /FunctionType 2 /Domain [0 1] /N 1 /C0 [1] /C1 [0] >>", "1 g 0 0 10 40 re f", "", 1200, 1, halfLine},
		"taken off again":      {luminosity, "1 g 0 0 20 40 re f", "/N gs ", 1600, 1, halfLine},
		"moved with its place": {luminosity, "1 g 0 0 20 40 re f", "1 0 0 1 10 0 cm /S gs 1 0 0 1 -10 0 cm ", 800, 1, halfLine},
		"on a group":           {luminosity, "1 g 0 0 20 40 re f", "/F Do ", 800 + 800, 1, halfLine},
		"a mask of itself":     {luminosity, "/S gs 1 g 0 0 20 40 re f", "", 800, 1, halfLine},
		"of a bitmap": {luminosity, "20 0 0 40 0 0 cm BI /W 1 /H 1 /BPC 8 /CS /G ID x EI", "", 1600, 1,
			"soft mask ignored, the whole object is shown"},
	} {
		states := "/ExtGState << /S << /SMask << /Type /Mask " + c.kind + " /G 12 0 R >> >> /N << /SMask /None >> >> /XObject << /F 13 0 R >>"
		square := "0 0 40 40 re f"
		s, err := try("a.pdf", file("/S gs "+c.content+square, states, "<< /Type /OCG /Name (a) >>", "<< /Type /OCG /Name (b) >>",
			group(c.mask), group("0 0 40 40 re f")), 0)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if got := sum(t, s); math.Abs(got-c.area) > 0.01*c.area {
			t.Errorf("%s: area %.1f, want %.1f", name, got, c.area)
		}
		if o := s.Shapes[0].Opacity; math.Abs(o-c.opacity) > 0.01 {
			t.Errorf("%s: opacity %.2f, want %.2f", name, o, c.opacity)
		}
		if got := noted(s); !strings.Contains(got, c.note) {
			t.Errorf("%s: notes %s", name, got)
		}
	}
}

// TestBitmapsInside reads pages with bitmaps of many kinds: masks of one bit become outlines,
// others if they are asked for; what can't be read is counted.
func TestBitmapsInside(t *testing.T) {
	var photo bytes.Buffer
	m := image.NewGray(image.Rect(0, 0, 40, 40))
	for i := range m.Pix {
		m.Pix[i] = 255
		if i%40 < 20 {
			m.Pix[i] = 0
		}
	}
	m.Set(0, 0, color.White)
	jpeg.Encode(&photo, m, &jpeg.Options{Quality: 95})
	rows := func(row string, n int) string { return strings.Repeat(row, n) }
	const place = "q 40 0 0 40 0 0 cm /I Do Q "
	big := rows("\xff\xff\xff\xff\xff\x00\x00\x00\x00\x00", 80) // 80 by 80, the left half set
	for name, c := range map[string]struct {
		content, dict, data, soft string
		area                      float64
		color, note               string
	}{
		"a small mask":    {"1 0 0 rg " + place, "/ImageMask true /Width 2 /Height 2 /BitsPerComponent 1", "\x40\x80", "", 800, "#ff0000", ""},
		"a large mask":    {"0 0 1 rg " + place, "/ImageMask true /Width 80 /Height 80 /BitsPerComponent 1 /Decode [1 0]", big, "", 800, "#0000ff", ""},
		"grey":            {place, "/ColorSpace /DeviceGray /Width 4 /Height 4 /BitsPerComponent 8", rows("\x00\x00\xff\xff", 4), "", 800, "#000000", "bitmap of 4 by 4 pixels traced"},
		"one bit, turned": {place, "/ColorSpace /DeviceGray /Width 8 /Height 4 /BitsPerComponent 1 /Decode [1 0]", rows("\xf0", 4), "", 800, "#000000", "traced"},
		"numbers of colours": {place, "/ColorSpace [/Indexed /DeviceRGB 1 <ff00000000ff>] /Width 4 /Height 4 /BitsPerComponent 8",
			rows("\x00\x00\x01\x01", 4), "", 2400, "#0000ff", "traced"},
		"inks":        {place, "/ColorSpace /DeviceCMYK /Width 2 /Height 2 /BitsPerComponent 8", rows("\x00\xff\xff\x00\x00\x00\x00\x00", 2), "", 1800, "", "traced"},
		"packed":      {place, "/ColorSpace /DeviceGray /Width 4 /Height 4 /BitsPerComponent 8 /Filter /ASCIIHexDecode", rows("0000ffff", 4) + ">", "", 800, "#000000", "traced"},
		"a photo":     {place, "/ColorSpace /DeviceGray /Width 40 /Height 40 /BitsPerComponent 8 /Filter /DCTDecode", photo.String(), "", 800, "", "bitmap of 40 by 40 pixels traced"},
		"of one grey": {place, "/ColorSpace /DeviceGray /Width 4 /Height 4 /BitsPerComponent 8", rows("\x80", 16), "", 1600, "#808080", "traced"},
		"with a mask": {place, "/ColorSpace /DeviceRGB /Width 4 /Height 4 /BitsPerComponent 8 /SMask 13 0 R", rows("\xff\x00\x00", 16), rows("\xff\xff\x00\x00", 4), 800, "#ff0000", "traced"},
		"in the content": {"q 40 0 0 40 0 0 cm BI /W 4 /H 4 /BPC 8 /CS /G /F /AHx ID 0000ffff0000ffff0000ffff0000ffff> EI Q", "/Width 1 /Height 1", "", "",
			800, "#000000", "traced"},
		"of a kind that is not read": {place + "0 0 9 9 re f", "/ColorSpace /DeviceGray /Width 4 /Height 4 /BitsPerComponent 8 /Filter /JPXDecode", "x", "", 81, "#000000", "bitmap"},
		"cut short":                  {place + "0 0 9 9 re f", "/ColorSpace /DeviceGray /Width 4 /Height 4 /BitsPerComponent 3", "x", "", 81, "#000000", "bitmap"},
	} {
		data := file(c.content, "/XObject << /I 12 0 R >>", "<< /Type /OCG /Name (a) >>", "<< /Type /OCG /Name (b) >>",
			stream1("/Type /XObject /Subtype /Image "+c.dict, c.data),
			stream1("/Type /XObject /Subtype /Image /ColorSpace /DeviceGray /Width 4 /Height 4 /BitsPerComponent 8", c.soft))
		s, err := budget.Within(context.Background(), func(b *budget.Budget) (*artwork.Sheet, error) {
			return Read("a.pdf", data, nil, 0, trace.Settings{Pictures: true, Speckle: 0.1}, b)
		})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		// The corner of a shape two pixels wide is rounded by half a pixel.
		if got := sum(t, s); math.Abs(got-c.area) > 0.16*c.area {
			t.Errorf("%s: area %.1f, want %.1f", name, got, c.area)
		}
		if got := s.Shapes[0].Color.Hex(); c.color != "" && got != c.color {
			t.Errorf("%s: %s, want %s", name, got, c.color)
		}
		if got := noted(s); !strings.Contains(got, c.note) || c.note == "" && got != "" {
			t.Errorf("%s: notes %q", name, got)
		}
	}
	_, err := try("a.pdf", file(place, "/XObject << /I 12 0 R >>", "<< /Type /OCG >>", "<< /Type /OCG >>",
		stream1("/Type /XObject /Subtype /Image /ColorSpace /DeviceGray /Width 4 /Height 4 /BitsPerComponent 8", rows("\x00\x00\xff\xff", 4))), 0)
	if err == nil || !strings.Contains(err.Error(), "holds only bitmaps (1)") {
		t.Errorf("only a bitmap: %v", err)
	}
}

// TestPrintMatters reads what concerns inks and plates: it is said, and changes no outline.
func TestPrintMatters(t *testing.T) {
	const spot = "[/Separation /Harbour#20Gold /DeviceRGB << /FunctionType 2 /Domain [0 1] /N 1 /C0 [1 1 1] /C1 [0.8 0.6 0] >>]"
	for content, want := range map[string]string{
		"/O gs 0 0 9 9 re f":                 "overprinting, which is a matter of print and not of outlines, ignored",
		"/Q gs 0 0 9 9 re f":                 "",
		"/C cs 1 scn 0 0 9 9 re f":           "ink Harbour Gold, shown in the colour that the file gives for it",
		"/D cs 1 scn 0 0 9 9 re f":           "",
		"/P cs /T scn 0 0 9 9 re f":          "",
		"/P cs /U scn 0 0 90 90 re f":        "pattern became its mean colour",
		"/P CS /T SCN 4 w 10 20 m 30 20 l S": "",
	} {
		s, err := try("a.pdf", file(content, "/ExtGState << /O << /OP true >> /Q << /OP false >> >> /ColorSpace << /C "+spot+
			" /D [/Separation /Black /DeviceGray << /FunctionType 2 /Domain [0 1] /N 1 /C0 [1] /C1 [0] >>] /P [/Pattern] >> /Pattern << /T 12 0 R /U 13 0 R >>",
			"<< /Type /OCG /Name (a) >>", "<< /Type /OCG /Name (b) >>",
			stream1("/PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 2 9] /XStep 4 /YStep 9 /Resources << >>", "0 0 1 rg 0 0 2 9 re f"),
			stream1("/PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 0.5 0.5] /XStep 0.5 /YStep 0.5 /Resources << >>",
				"1 0 0 rg 0 0 0.25 0.5 re f 0 0 1 rg 0.25 0 0.25 0.5 re f")), 0)
		if err != nil {
			t.Errorf("%s: %v", content, err)
			continue
		}
		if got := noted(s); got != want {
			t.Errorf("%s: %q, want %q", content, got, want)
		}
		if c := s.Shapes[0].Color; strings.Contains(content, "/U") && c != (artwork.Color{R: 128, B: 128}) {
			t.Errorf("a fine pattern is %v", c)
		}
		if strings.Contains(content, "SCN") { // half of the stroke of 20 by 4
			if got := sum(t, s); math.Abs(got-40) > 1 || s.Shapes[0].Color.Hex() != "#0000ff" {
				t.Errorf("a pattern along a stroke: area %.1f of %s", got, s.Shapes[0].Color.Hex())
			}
		}
	}
}
