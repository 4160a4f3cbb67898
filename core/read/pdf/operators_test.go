package pdf

import (
	"strings"
	"testing"

	"bildhauer/internal/likeness"
)

// TestOperators reads each operator on a page of 100 points and compares what
// is seen with the standard (ISO 32000-1, annex A).
func TestOperators(t *testing.T) {
	const font = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Courier >> >>"
	for _, c := range []struct {
		name, content, want string
		resources           string
		object              string // a stream's dictionary and what is in it
	}{
		// Paths.
		{
			name:    "re, f",
			content: "10 20 30 40 re f",
			want:    "fill #000000 10,40 40,80",
		},
		{
			name:    "F is an older f",
			content: "10 20 30 40 re F",
			want:    "fill #000000 10,40 40,80",
		},
		{
			name:    "m, l, h",
			content: "0 0 m 10 0 l 10 10 l h f",
			want:    "fill #000000 0,90 10,100",
		},
		{
			name:    "a path that f closes",
			content: "0 0 m 10 0 l 10 10 l f",
			want:    "fill #000000 0,90 10,100",
		},
		{
			name:    "c with two handles",
			content: "0 0 m 0 10 10 10 10 0 c f",
			want:    "fill #000000 0,92.5 10,100",
		},
		{
			name:    "v takes its first handle from the point before",
			content: "0 0 m 10 10 10 0 v f",
			want:    "fill #000000 0,95.56 10,100",
		},
		{
			name:    "y takes its last handle from the point behind",
			content: "0 0 m 0 10 10 0 y f",
			want:    "fill #000000 0,95.56 10,100",
		},
		{
			name:    "S strokes",
			content: "0 50 m 10 50 l S",
			want:    "stroke #000000 0,49.5 10,50.5",
		},
		{
			name:    "s closes and strokes",
			content: "10 10 m 30 10 l 30 30 l s",
			want:    "stroke #000000 8.79,68.79 30.5,90.5",
		},
		{
			name:    "f* fills by even-odd",
			content: "0 0 20 20 re 5 5 10 10 re f*",
			want:    "fill #000000 0,80 20,100",
		},
		{
			name:    "B fills and strokes",
			content: "10 10 20 20 re B",
			want:    "fill #000000 10,70 30,90; stroke #000000 9.5,69.5 30.5,90.5",
		},
		{
			name:    "B* does so by even-odd",
			content: "10 10 20 20 re 12 12 5 5 re B*",
			want:    "fill #000000 10,70 30,90; stroke #000000 9.5,69.5 30.5,90.5",
		},
		{
			name:    "b closes, fills and strokes",
			content: "10 10 m 30 10 l 30 30 l b",
			want:    "fill #000000 10,70 30,90; stroke #000000 8.79,68.79 30.5,90.5",
		},
		{
			name:    "b* does so by even-odd",
			content: "10 10 m 30 10 l 30 30 l b*",
			want:    "fill #000000 10,70 30,90; stroke #000000 8.79,68.79 30.5,90.5",
		},
		{
			name:    "n paints nothing",
			content: "0 0 9 9 re n 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "W cuts what follows",
			content: "0 0 5 5 re W n 0 0 9 9 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "W* cuts by even-odd",
			content: "0 0 20 20 re 5 5 10 10 re W* n 0 0 9 9 re f",
			want:    "fill #000000 0,91 9,100",
		},
		{
			name:    "W before f paints and cuts",
			content: "0 0 5 5 re W f 0 0 9 9 re f",
			want:    "fill #000000 0,95 5,100; fill #000000 0,95 5,100",
		},
		{
			name:    "a line before any move",
			content: "9 9 l 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "re with a negative height",
			content: "10 20 30 -5 re f",
			want:    "fill #000000 10,80 40,85",
		},
		// The state.
		{
			name:    "q and Q",
			content: "q 1 0 0 rg Q 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "Q too often",
			content: "Q Q 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "q that is never closed",
			content: "q q 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "cm moves",
			content: "1 0 0 1 20 30 cm 0 0 5 5 re f",
			want:    "fill #000000 20,65 25,70",
		},
		{
			name:    "cm after cm",
			content: "2 0 0 2 0 0 cm 1 0 0 1 5 5 cm 0 0 5 5 re f",
			want:    "fill #000000 10,80 20,90",
		},
		{
			name:    "cm that flattens",
			content: "q 0 0 0 0 5 5 cm 0 0 5 5 re f Q 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100; left out: object squeezed to nothing by its transform",
		},
		{
			name:    "w",
			content: "6 w 0 50 m 10 50 l S",
			want:    "stroke #000000 0,47 10,53",
		},
		{
			name:    "w of nothing is a hairline",
			content: "0 w 0 50 m 10 50 l S",
			want:    "stroke #000000 0,49.95 10,50.05; changed: line thinner than any device shows drawn as a hairline",
		},
		{
			name:    "J",
			content: "2 J 4 w 10 50 m 20 50 l S",
			want:    "stroke #000000 8,48 22,52",
		},
		{
			name:    "j",
			content: "1 j 4 w 10 10 m 20 40 l 30 10 l S",
			want:    "stroke #000000 8.1,58.03 31.9,90.63",
		},
		{
			name:    "M",
			content: "1 M 4 w 10 10 m 20 40 l 30 10 l S",
			want:    "stroke #000000 8.1,59.37 31.9,90.63",
		},
		{
			name:    "d",
			content: "[10 90] 0 d 4 w 0 50 m 40 50 l S",
			want:    "stroke #000000 0,48 10,52",
		},
		{
			name:    "i and ri say nothing that is seen",
			content: "1 i /Perceptual ri 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:      "gs: width, cap and join",
			content:   "/S gs 10 50 m 30 50 l S",
			want:      "stroke #000000 7,47 33,53",
			resources: "/ExtGState << /S << /LW 6 /LC 2 /LJ 1 /ML 3 /D [[] 0] >> >>",
		},
		{
			name:      "gs: opacity of fills",
			content:   "/S gs 0 0 5 5 re f",
			want:      "fill #000000 at 0.25 0,95 5,100",
			resources: "/ExtGState << /S << /ca 0.25 >> >>",
		},
		{
			name:      "gs: opacity of strokes",
			content:   "/S gs 0 50 m 10 50 l S",
			want:      "stroke #000000 at 0.5 0,49.5 10,50.5",
			resources: "/ExtGState << /S << /CA 0.5 >> >>",
		},
		{
			name:      "gs: a blend mode",
			content:   "/S gs 0 0 5 5 re f",
			want:      "fill #000000 0,95 5,100; changed: blend mode multiply shown as normal",
			resources: "/ExtGState << /S << /BM /Multiply >> >>",
		},
		{
			name:      "gs: a soft mask",
			content:   "/S gs 0 0 5 5 re f",
			want:      "fill #000000 0,95 5,100; changed: soft mask ignored, the whole object is shown",
			resources: "/ExtGState << /S << /SMask << /S /Luminosity /G 10 0 R >> >> >>",
		},
		{
			name:    "gs that is missing",
			content: "/S gs 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		// Colours.
		{
			name:    "g",
			content: "0.25 g 0 0 5 5 re f",
			want:    "fill #404040 0,95 5,100",
		},
		{
			name:    "G",
			content: "0.25 G 0 50 m 10 50 l S",
			want:    "stroke #404040 0,49.5 10,50.5",
		},
		{
			name:    "rg",
			content: "1 0.5 0 rg 0 0 5 5 re f",
			want:    "fill #ff8000 0,95 5,100",
		},
		{
			name:    "RG",
			content: "1 0.5 0 RG 0 50 m 10 50 l S",
			want:    "stroke #ff8000 0,49.5 10,50.5",
		},
		{
			name:    "k",
			content: "0 0 1 0 k 0 0 5 5 re f",
			want:    "fill #fff200 0,95 5,100",
		},
		{
			name:    "K",
			content: "0 0 0 1 K 0 50 m 10 50 l S",
			want:    "stroke #231f20 0,49.5 10,50.5",
		},
		{
			name:    "components beyond their range",
			content: "7 -3 0.5 rg 0 0 5 5 re f",
			want:    "fill #ff0080 0,95 5,100",
		},
		{
			name:    "cs and sc",
			content: "/DeviceRGB cs 0 0 1 sc 0 0 5 5 re f",
			want:    "fill #0000ff 0,95 5,100",
		},
		{
			name:    "CS and SC",
			content: "/DeviceGray CS 0.5 SC 0 50 m 10 50 l S",
			want:    "stroke #808080 0,49.5 10,50.5",
		},
		{
			name:    "cs begins with black",
			content: "1 0 0 rg /DeviceRGB cs 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "cs of four inks begins with black",
			content: "1 0 0 rg /DeviceCMYK cs 0 0 5 5 re f",
			want:    "fill #231f20 0,95 5,100",
		},
		{
			name:      "calibrated grey",
			content:   "/C cs 0.5 sc 0 0 5 5 re f",
			want:      "fill #808080 0,95 5,100",
			resources: "/ColorSpace << /C [/CalGray << >>] >>",
		},
		{
			name:      "calibrated colour",
			content:   "/C cs 0 1 0 sc 0 0 5 5 re f",
			want:      "fill #00ff00 0,95 5,100",
			resources: "/ColorSpace << /C [/CalRGB << >>] >>",
		},
		{
			name:      "Lab",
			content:   "/C cs 100 0 0 sc 0 0 5 5 re f",
			want:      "fill #ffffff 0,95 5,100",
			resources: "/ColorSpace << /C [/Lab << /WhitePoint [0.9505 1 1.089] >>] >>",
		},
		{
			name:      "a profile of four inks",
			content:   "/C cs 0 0 0 1 scn 0 0 5 5 re f",
			want:      "fill #231f20 0,95 5,100",
			resources: "/ColorSpace << /C [/ICCBased << /N 4 >>] >>",
		},
		{
			name:      "an index beyond its table",
			content:   "/C cs 9 sc 0 0 5 5 re f",
			want:      "fill #000000 0,95 5,100",
			resources: "/ColorSpace << /C [/Indexed /DeviceGray 1 <0080>] >>",
		},
		{
			name:    "no ink at all",
			content: "/C cs 1 scn 0 0 5 5 re f 0 g 0 0 2 2 re f",
			want:    "fill #000000 0,98 2,100",
			resources: "/ColorSpace << /C [/Separation /None /DeviceGray <" +
				"< /FunctionType 2 /Domain [0 1] /N 1 /C0 [1] /C1 [0] >>] >>",
		},
		{
			name:    "every ink",
			content: "/C cs 1 scn 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
			resources: "/ColorSpace << /C [/Separation /All /DeviceGray <" +
				"< /FunctionType 2 /Domain [0 1] /N 1 /C0 [1] /C1 [0] >>] >>",
		},
		{
			name:    "a space that is missing",
			content: "/C cs 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "a pattern that is missing",
			content: "/Pattern cs /P scn 0 0 5 5 re f",
			want:    "fill #808080 0,95 5,100; changed: pattern became plain grey (P)",
		},
		{
			name:      "a tile without colour of its own",
			content:   "/C cs 0 0 1 /P scn 0 0 10 10 re f",
			want:      "fill #0000ff 1,97 3,99; fill #0000ff 6,97 8,99",
			resources: "/ColorSpace << /C [/Pattern /DeviceRGB] >> /Pattern << /P 10 0 R >>",
			object: "/PatternType 1 /PaintType 2 /TilingType 1 /BBox [0 0 5 5] /XStep 5 /YStep 10 /Resources <" +
				"< >>|1 1 2 2 re f",
		},
		{
			name:    "sh about a point fills the page",
			content: "/S sh",
			want:    "fill #808080 0,0 100,100; changed: gradient became its mean colour",
			resources: "/Shading << /S << /ShadingType 3 /ColorSpace /DeviceGray /Coords [50 50 0 50 50 20] /Extend [true " +
				"true] /Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.5] /C1 [0.5] >> >> >>",
		},
		{
			name:    "sh of a mesh",
			content: "0 0 5 5 re f /S sh",
			want:    "fill #000000 0,95 5,100; fill #808080 0,0 100,100; changed: gradient became its mean colour",
			resources: "/Shading << /S << /ShadingType 1 /ColorSpace /DeviceGray /Function <" +
				"< /FunctionType 2 /Domain [0 1] /N 1 >> >> >>",
		},
		{
			name:    "sh of a mesh without data",
			content: "/S sh",
			want:    "fill #808080 0,0 100,100; changed: shading that could not be sampled became grey",
			resources: "/Shading << /S << /ShadingType 4 /ColorSpace /DeviceGray /BitsPerCoordinate 8 " +
				"/BitsPerComponent 8 /BitsPerFlag 8 /Decode [0 1 0 1 0 1] >> >>",
		},
		{
			name:    "sh that is missing",
			content: "0 0 5 5 re f /S sh",
			want:    "fill #000000 0,95 5,100; left out: paint that refers to nothing",
		},
		// What is marked and placed.
		{
			name:      "BDC of a layer",
			content:   "/OC /L BDC 0 0 5 5 re f EMC 0 0 2 2 re f",
			want:      "fill #000000 0,95 5,100 in Sails; fill #000000 0,98 2,100",
			resources: "/Properties << /L << /Type /OCG /Name (Sails) >> >>",
		},
		{
			name:    "BMC is no layer",
			content: "/Span BMC 0 0 5 5 re f EMC",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "EMC too often",
			content: "EMC EMC 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "MP, DP, BX and EX",
			content: "/A MP /B << >> DP BX 3 oddword EX 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:    "a word that nobody knows",
			content: "1 2 oddword 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100",
		},
		{
			name:      "Do of a form",
			content:   "/X Do",
			want:      "fill #000000 20,95 25,100",
			resources: "/XObject << /X 10 0 R >>",
			object:    "/Subtype /Form /BBox [0 0 50 50] /Matrix [1 0 0 1 20 0]|0 0 5 5 re f",
		},
		{
			name:      "Do of a form that its box cuts",
			content:   "/X Do",
			want:      "fill #000000 0,95 3,100",
			resources: "/XObject << /X 10 0 R >>",
			object:    "/Subtype /Form /BBox [0 0 3 50]|0 0 5 5 re f",
		},
		{
			name:      "Do of a form with its own resources",
			content:   "/X Do",
			want:      "fill #000000 at 0.5 0,95 5,100",
			resources: "/XObject << /X 10 0 R >>",
			object: "/Subtype /Form /BBox [0 0 50 50] /Resources << /ExtGState << /S <" +
				"< /ca 0.5 >> >> >>|/S gs 0 0 5 5 re f",
		},
		{
			name:      "Do leaves the state as it was",
			content:   "/X Do 0 0 2 2 re f",
			want:      "fill #ff0000 0,90 10,100; fill #000000 0,98 2,100",
			resources: "/XObject << /X 10 0 R >>",
			object:    "/Subtype /Form /BBox [0 0 50 50]|1 0 0 rg 2 0 0 2 0 0 cm 0 0 5 5 re f",
		},
		{
			name:      "Do of a bitmap",
			content:   "10 0 0 20 30 40 cm /X Do 0 0 1 1 re f",
			want:      "fill #000000 30,40 40,60; left out: bitmap",
			resources: "/XObject << /X 10 0 R >>",
			object:    "/Subtype /Image /Width 1 /Height 1|x",
		},
		{
			name:    "Do of nothing",
			content: "/X Do 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100; left out: copy of an object that is missing or holds the copy itself (X)",
		},
		{
			name:    "BI is a bitmap",
			content: "BI /W 1 /H 1 /BPC 8 /CS /G ID x EI 0 0 5 5 re f",
			want:    "fill #000000 0,95 5,100; left out: bitmap",
		},
		// Text.
		{
			name:      "Tj",
			content:   "BT /F 10 Tf 10 50 Td (II) Tj ET",
			want:      `fill #000000 11.13,44.37 20.87,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor (II)`,
			resources: "FONT",
		},
		{
			name:      "TJ moves between letters",
			content:   "BT /F 10 Tf 10 50 Td [(I) -600 (I)] TJ ET",
			want:      `fill #000000 11.13,44.37 26.87,50 "I I"; info: text set in Courier, shown in TeX Gyre Cursor (I I)`,
			resources: "FONT",
		},
		{
			name:    "Td moves from the line",
			content: "BT /F 10 Tf 10 50 Td (I) Tj 0 -20 Td (I) Tj ET",
			want: `fill #000000 11.13,44.37 14.87,50 "I"; fill #000000 11.13,64.37 14.87,70 "I"; ` +
				"info: text set in Courier, shown in TeX Gyre Cursor (I)",
			resources: "FONT",
		},
		{
			name:    "TD sets the leading",
			content: "BT /F 10 Tf 10 50 Td (I) Tj 0 -20 TD (I) Tj T* (I) Tj ET",
			want: `fill #000000 11.13,44.37 14.87,50 "I"; fill #000000 11.13,64.37 14.87,70 "I"; ` +
				`fill #000000 11.13,84.37 14.87,90 "I"; info: text set in Courier, shown in TeX Gyre Cursor (I)`,
			resources: "FONT",
		},
		{
			name:    "TL and T*",
			content: "BT /F 10 Tf 15 TL 10 50 Td (I) Tj T* (I) Tj ET",
			want: `fill #000000 11.13,44.37 14.87,50 "I"; fill #000000 11.13,59.37 14.87,65 "I"; ` +
				"info: text set in Courier, shown in TeX Gyre Cursor (I)",
			resources: "FONT",
		},
		{
			name:    "the quote shows on the next line",
			content: "BT /F 10 Tf 15 TL 10 50 Td (I) Tj (I) ' ET",
			want: `fill #000000 11.13,44.37 14.87,50 "I"; fill #000000 11.13,59.37 14.87,65 "I"; ` +
				"info: text set in Courier, shown in TeX Gyre Cursor (I)",
			resources: "FONT",
		},
		{
			name:    "the double quote sets the spaces, too",
			content: `BT /F 10 Tf 15 TL 10 50 Td (I) Tj 0 10 (II) " ET`,
			want: `fill #000000 11.13,44.37 14.87,50 "I"; fill #000000 11.13,59.37 30.87,65 "II"; ` +
				"info: text set in Courier, shown in TeX Gyre Cursor (I)",
			resources: "FONT",
		},
		{
			name:      "Tc spreads letters",
			content:   "BT /F 10 Tf 10 Tc 10 50 Td (II) Tj ET",
			want:      `fill #000000 11.13,44.37 30.87,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor (II)`,
			resources: "FONT",
		},
		{
			name:      "Tw spreads words",
			content:   "BT /F 10 Tf 10 Tw 10 50 Td (I I) Tj ET",
			want:      `fill #000000 11.13,44.37 36.87,50 "I I"; info: text set in Courier, shown in TeX Gyre Cursor (I I)`,
			resources: "FONT",
		},
		{
			name:      "Tz stretches",
			content:   "BT /F 10 Tf 200 Tz 10 50 Td (II) Tj ET",
			want:      `fill #000000 12.26,44.37 31.74,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor (II)`,
			resources: "FONT",
		},
		{
			name:      "Ts raises",
			content:   "BT /F 10 Tf 5 Ts 10 50 Td (II) Tj ET",
			want:      `fill #000000 11.13,39.37 20.87,45 "II"; info: text set in Courier, shown in TeX Gyre Cursor (II)`,
			resources: "FONT",
		},
		{
			name:      "Tm turns",
			content:   "BT /F 10 Tf 0 1 -1 0 50 10 Tm (II) Tj ET",
			want:      `fill #000000 44.37,79.13 50,88.87 "II"; info: text set in Courier, shown in TeX Gyre Cursor (II)`,
			resources: "FONT",
		},
		{
			name:      "Tr 1 strokes",
			content:   "BT /F 10 Tf 1 Tr 10 50 Td (I) Tj ET",
			want:      `stroke #000000 10.61,43.87 15.38,50.5 "I"; info: text set in Courier, shown in TeX Gyre Cursor (I)`,
			resources: "FONT",
		},
		{
			name:    "Tr 2 fills and strokes",
			content: "BT /F 10 Tf 2 Tr 10 50 Td (I) Tj ET",
			want: `fill #000000 11.13,44.37 14.87,50 "I"; stroke #000000 10.61,43.87 15.38,50.5 "I"; ` +
				"info: text set in Courier, shown in TeX Gyre Cursor (I)",
			resources: "FONT",
		},
		{
			name:      "Tr 3 paints nothing",
			content:   "BT /F 10 Tf 3 Tr 10 50 Td (I) Tj ET 0 0 5 5 re f",
			want:      "fill #000000 0,95 5,100; left out: invisible text (I)",
			resources: "FONT",
		},
		{
			name:      "Tr 7 cuts what follows",
			content:   "BT /F 10 Tf 7 Tr 10 50 Td (I) Tj ET 0 0 99 99 re f",
			want:      "fill #000000 11.13,44.37 14.87,50; info: text set in Courier, shown in TeX Gyre Cursor (I)",
			resources: "FONT",
		},
		{
			name:      "a font that is missing",
			content:   "BT /G 10 Tf 10 50 Td (I) Tj ET 0 0 5 5 re f",
			want:      "fill #000000 0,95 5,100; left out: text in a font that is not understood (I)",
			resources: "FONT",
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			var objects []string
			if dict, data, found := strings.Cut(c.object, "|"); found {
				objects = append(objects, stream1(dict, data))
			}
			s, err := try("tag.pdf", file(c.content, strings.Replace(c.resources, "FONT", font, 1), objects...), 0)
			got := ""
			if err != nil {
				got = "refused: " + err.Error()
			} else {
				got = likeness.Words(s, pxPerPt)
			}
			if got != c.want {
				t.Errorf("got  %s\nwant %s", got, c.want)
			}
		})
	}
}
