// Command draw makes the demo pieces whose formats are not written by hand:
// the rope mark (older artwork format) and the pier key tag (newer artwork
// format, PDF inside, with live text in an embedded font).
package main

import (
	"bytes"
	"compress/zlib"
	"fmt"
	"log"
	"math"
	"os"
	"path/filepath"
	"strings"

	ot "github.com/go-text/typesetting/font/opentype"

	"bildhauer/core/read/font"
)

func main() {
	dir := "demo"
	if len(os.Args) > 1 {
		dir = os.Args[1]
	}
	woff, err := os.ReadFile("core/read/font/shipped/pacifico-latin-400-normal.woff")
	if err != nil {
		log.Fatal("run it from the top of the project: ", err)
	}
	tag, err := keyTag(woff)
	if err != nil {
		log.Fatal(err)
	}
	for name, data := range map[string][]byte{
		"rope-mark.ai": ropeMark(), "pier-key-tag.ai": tag, "harbour-view.svg": harbour(), "ferry-locker.svg": locker(),
		"ships-cat.svg": cat(), "fit-gauge.svg": gauge(),
	} {
		if err := os.WriteFile(filepath.Join(dir, name), data, 0o644); err != nil {
			log.Fatal(err)
		}
	}
}

// ropeMark draws a ring of twisted rope around a bollard: layers (one of them
// hidden), a compound path, guides, a spot colour, a gradient, a clipping
// group and text at a point. There is no prolog, as in most such files.
func ropeMark() []byte {
	var b strings.Builder
	line := func(format string, a ...any) { fmt.Fprintf(&b, format+"\r", a...) }
	ropeHead(line)
	rope(line)
	bollard(line)
	line("%%AI5_BeginLayer")
	line("1 1 1 1 0 0 2 79 255 79 Lb")
	line("(Lettering) Ln")
	line("0.55 0.72 0.85 0.6 k")
	line(
		"0 To 1 0 0 1 120 66 0 Tp TP 0 Tr /_Helvetica-Bold 11 Tf 1 Ta 120 Tz 60 Tt (ROPE WALK) Tx (\\r) TX TO",
	)
	line("LB")
	line("%%AI5_EndLayer--")
	line("%%%%Trailer")
	line("%%%%EOF")
	return []byte(b.String())
}

// liner writes a line of the older kind of AI file.
type liner func(format string, a ...any)

// ropeHead writes all up to the artwork: the gradient, and a hidden sketch.
func ropeHead(line liner) {
	line("%%!PS-Adobe-3.0")
	line("%%%%Title: (Rope mark)")
	line("%%%%Creator: quellhaven sign shop")
	line("%%%%BoundingBox: 0 0 240 240")
	line("%%%%HiResBoundingBox: 0 0 240 240")
	line("%%AI5_FileFormat 3")
	line("%%AI3_ColorUsage: Color")
	line("%%%%EndComments")
	line("%%%%BeginProlog")
	line("%%%%EndProlog")
	line("%%%%BeginSetup")
	line("%%AI5_BeginGradient: (Cast iron)")
	line("(Cast iron) 0 3 Bd")
	line("[")
	line("0.35 0 50 0 %%_Bs")
	line("0.72 0 60 45 %%_Bs")
	line("0.18 0 50 100 %%_Bs")
	line("BD")
	line("%%AI5_EndGradient")
	line("%%%%EndSetup")

	line("%%AI5_BeginLayer")
	line("0 0 0 0 0 0 0 128 128 128 Lb")
	line("(Pencil sketch) Ln")
	line("0.6 G 1 w 20 20 m 220 220 l S")
	line("LB")
	line("%%AI5_EndLayer--")
}

// rope writes the strands around the ring, each a slanted S between two circles.
func rope(line liner) {
	line("%%AI5_BeginLayer")
	line("1 1 1 1 0 0 0 79 128 255 Lb")
	line("(Rope) Ln")
	line("0 A")
	for _, at := range []float64{40, 120, 200} {
		line("%g 0 m %g 240 L (N) *", at, at)
	}
	line("0 R 0.55 0.72 0.85 0.6 (Quay tar) 0 X 0.9 w 1 j")
	line("0.12 0.32 0.62 0.05 (Hemp) 0 x")
	line("0 XR u")
	const strands = 26
	in, out := 78.0, 106.0
	p := func(r, a float64) string {
		return fmt.Sprintf("%.3f %.3f", 120+r*math.Cos(a), 120+r*math.Sin(a))
	}
	for i := range strands {
		a := 2 * math.Pi * float64(i) / strands
		w := 2 * math.Pi / strands
		mid := (in + out) / 2
		line("%s m", p(in, a))
		line("%s %s %s C", p(in+9, a-w*0.05), p(mid-5, a+w*0.55), p(mid, a+w*0.8))
		line("%s %s %s C", p(mid+5, a+w*1.05), p(out-4, a+w*1.35), p(out, a+w*1.55))
		line("%s %s %s C", p(out+4, a+w*1.8), p(out+1, a+w*2.2), p(out-4, a+w*2.35))
		line("%s %s %s C", p(out-9, a+w*2.3), p(mid+4, a+w*1.9), p(mid, a+w*1.65))
		line("%s %s %s C", p(mid-6, a+w*1.4), p(in+4, a+w*0.9), p(in, a+w*0.75))
		line("%s %s %s C", p(in-3, a+w*0.6), p(in-3, a+w*0.2), p(in, a))
		line("b")
	}
	line("U LB")
	line("%%AI5_EndLayer--")
}

// bollard writes the post, a compound ring with a slot, and a band of light.
func bollard(line liner) {
	line("%%AI5_BeginLayer")
	line("1 1 1 1 0 0 1 255 79 79 Lb")
	line("(Bollard) Ln")
	line("u")
	// The post, filled by the gradient, then a compound ring with a slot.
	line(
		"100 92 m 100 140 L 92 146 88 152 88 158 C 88 170 102 176 120 176 C 138 176 152 170 152 158 C 152 152 148 146 140 140 C 140 92 L",
	)
	line("Bb")
	line("1 (Cast iron) 88 130 0 64 1 0 0 1 0 0 Bg")
	line("f")
	line("0 BB")
	line("0.55 0.72 0.85 0.6 k")
	line("*u")
	line("84 84 m 156 84 L 156 94 L 84 94 L f")
	line("92 87 m 92 91 L 148 91 L 148 87 L f")
	line("*U U")
	// A band of light, cut to the head of the post.
	line("q")
	line(
		"88 158 m 88 170 102 176 120 176 C 138 176 152 170 152 158 C 152 150 136 148 120 148 C 104 148 88 150 88 158 C h W n",
	)
	line("0.05 0.1 0.2 0 k 96 140 m 108 140 L 120 180 L 108 180 L f")
	line("Q")
	line("LB")
	line("%%AI5_EndLayer--")
}

// tagPage is the page of the key tag: its form, its lettering and its cut marks.
const tagPage = `/OC /L1 BDC
q
0.90 0.55 0.20 0.10 k
22 10 m
178 10 l 188 10 196 18 196 28 c
196 82 l 196 92 188 100 178 100 c
22 100 l 12 100 4 92 4 82 c
4 28 l 4 18 12 10 22 10 c
h
36 55 m 36 60.5 31.5 65 26 65 c 20.5 65 16 60.5 16 55 c 16 49.5 20.5 45 26 45 c 31.5 45 36 49.5 36 55 c
h f*
% a drop beside the tag, which hangs together with nothing
198 101.5 m 198 103.4 196.4 105 194.5 105 c 192.6 105 191 103.4 191 101.5 c 191 99.6 192.6 98 194.5 98 c 196.4 98 198 99.6 198 101.5 c h f
0.05 0.10 0.35 0 K 1.6 w
24 15 m 176 15 l 184 15 191 21 191 30 c 191 80 l 191 89 184 95 176 95 c 24 95 l 16 95 9 89 9 80 c 9 30 l 9 21 16 15 24 15 c s
Q
EMC
/OC /L2 BDC
q
0.05 0.10 0.35 0 k 0.90 0.55 0.20 0.45 K
BT
/F1 44 Tf
-1.4 Tc
2 Tr 0.8 w
62 46 Td
[(Pier) -120 (7)] TJ
ET
BT
0 Tr
/F1 15 Tf
0 Tc
110 24 Td
(Quellhaven) Tj
ET
/Wave Do
Q
EMC
/OC /L3 BDC
q 0 0 0 1 K 0.25 w 0 0 m 12 0 l 0 0 m 0 12 l 200 110 m 188 110 l 200 110 m 200 98 l S Q
EMC
`

// tagWave is the wave below the lettering.
const tagWave = "0.05 0.10 0.35 0 K 1.2 w 1 J " +
	"0 2 m 4 6 8 6 12 2 c 16 -2 20 -2 24 2 c 28 6 32 6 36 2 c S\n"

// keyTag draws a key tag with a hole for the ring and overlapping script
// lettering as live text, in layers, one of them switched off.
func keyTag(woff []byte) ([]byte, error) {
	sfnt, err := plainFont(woff)
	if err != nil {
		return nil, err
	}
	face, err := font.ParseFace(woff)
	if err != nil {
		return nil, err
	}
	var widths []string
	for c := 32; c < 127; c++ {
		widths = append(widths, fmt.Sprintf("%.0f", 1000*face.Glyph(face.ByRune(rune(c))).Advance))
	}

	var b pdfText
	b.WriteString("%PDF-1.5\n%\xe2\xe3\xcf\xd3\n")
	page := b.stream("", []byte(tagPage))
	form := b.stream(
		"/Type /XObject /Subtype /Form /BBox [-2 -6 40 10] /Matrix [1 0 0 1 66 27] /Resources << >>",
		[]byte(tagWave),
	)
	file := b.stream(fmt.Sprintf("/Length1 %d", len(sfnt)), sfnt)
	desc := b.object(
		"<< /Type /FontDescriptor /FontName /QHTAGS+Pacifico-Regular /Flags 32 /FontBBox [-400 -500 1400 1300] "+
			"/ItalicAngle 0 /Ascent 1300 /Descent -500 /CapHeight 800 /StemV 90 /FontFile2 %d 0 R >>",
		file,
	)
	fnt := b.object(
		"<< /Type /Font /Subtype /TrueType /BaseFont /QHTAGS+Pacifico-Regular /FirstChar 32 /LastChar 126 "+
			"/Widths [%s] /Encoding /WinAnsiEncoding /FontDescriptor %d 0 R >>",
		strings.Join(widths, " "), desc,
	)
	tag := b.object("<< /Type /OCG /Name (Tag) >>")
	lettering := b.object("<< /Type /OCG /Name (Lettering) >>")
	marks := b.object("<< /Type /OCG /Name (Cut marks) >>")
	private := b.stream("", []byte("the sign shop's own notes: two tags a sheet, birch ply"))
	pages := len(b.at) + 2
	leaf := b.object(
		"<< /Type /Page /Parent %d 0 R /MediaBox [0 0 200 110] /Contents %d 0 R /Resources << "+
			"/Font << /F1 %d 0 R >> /XObject << /Wave %d 0 R >> "+
			"/Properties << /L1 %d 0 R /L2 %d 0 R /L3 %d 0 R >> >> "+
			"/PieceInfo << /SignShop << /LastModified (D:20260902080000Z) /Private << /AIMetaData %d 0 R >> >> >> "+
			"/LastModified (D:20260902080000Z) >>",
		pages, page, fnt, form, tag, lettering, marks, private,
	)
	b.object("<< /Type /Pages /Kids [%d 0 R] /Count 1 >>", leaf)
	root := b.object(
		"<< /Type /Catalog /Pages %[1]d 0 R /OCProperties << /OCGs [%[2]d 0 R %[3]d 0 R %[4]d 0 R] "+
			"/D << /Order [%[2]d 0 R %[3]d 0 R %[4]d 0 R] /ON [%[2]d 0 R %[3]d 0 R] /OFF [%[4]d 0 R] >> >> >>",
		pages, tag, lettering, marks,
	)
	return b.end(root), nil
}

// plainFont returns a font without its layout tables, as embedded ones come.
func plainFont(woff []byte) ([]byte, error) {
	loader, err := ot.NewLoader(bytes.NewReader(woff))
	if err != nil {
		return nil, err
	}
	var tables []ot.Table
	for _, t := range loader.Tables() {
		raw, err := loader.RawTable(t)
		if err != nil {
			return nil, err
		}
		if s := t.String(); s != "GPOS" && s != "GSUB" && s != "GDEF" {
			tables = append(tables, ot.Table{Tag: t, Content: raw})
		}
	}
	return ot.WriteTTF(tables), nil
}

// pdfText is a PDF file while it is written.
type pdfText struct {
	bytes.Buffer
	at []int // where each object begins
}

// object writes an object and returns its number.
func (b *pdfText) object(format string, a ...any) int {
	b.at = append(b.at, b.Len())
	fmt.Fprintf(b, "%d 0 obj\n", len(b.at))
	fmt.Fprintf(b, format, a...)
	b.WriteString("\nendobj\n")
	return len(b.at)
}

// stream writes a compressed stream and returns its number.
func (b *pdfText) stream(dict string, data []byte) int {
	var z bytes.Buffer
	w := zlib.NewWriter(&z)
	w.Write(data)
	w.Close()
	return b.object("<< %s /Filter /FlateDecode /Length %d >>\nstream\n%s\nendstream", dict, z.Len(), z.String())
}

// end writes the table of objects and the trailer, and returns the file.
func (b *pdfText) end(root int) []byte {
	start := b.Len()
	fmt.Fprintf(b, "xref\n0 %d\n0000000000 65535 f \n", len(b.at)+1)
	for _, o := range b.at {
		fmt.Fprintf(b, "%010d 00000 n \n", o)
	}
	fmt.Fprintf(b, "trailer\n<< /Size %d /Root %d 0 R >>\nstartxref\n%d\n%%%%EOF\n", len(b.at)+1, root, start)
	return b.Bytes()
}
