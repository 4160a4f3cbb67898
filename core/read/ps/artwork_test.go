package ps

import (
	"strings"
	"testing"

	"bildhauer/internal/likeness"
)

// TestArtworkWords reads each operator of the older artwork format, a word of
// a page of 100 points, and compares what is seen.
func TestArtworkWords(t *testing.T) {
	const top = "%!PS-Adobe-3.0\n%AI5_FileFormat 3\n%%BoundingBox: 0 0 100 100\n%%EndComments\n" +
		"%%BeginSetup\n%%EndSetup\n"
	square := strings.NewReplacer("SQUARE", "0 0 m 10 0 L 10 10 L 0 10 L")
	for _, c := range []struct{ name, program, want string }{
		// Paths.
		{
			"m, L and f close and fill",
			"0 0 m 10 0 L 10 10 L f",
			"fill #000000 0,90 10,100",
		},
		{
			"l is a smooth L",
			"0 0 m 10 0 l 10 10 l f",
			"fill #000000 0,90 10,100",
		},
		{
			"C with two handles",
			"0 0 m 0 10 10 10 10 0 C f",
			"fill #000000 0,92.5 10,100",
		},
		{
			"c is a smooth C",
			"0 0 m 0 10 10 10 10 0 c f",
			"fill #000000 0,92.5 10,100",
		},
		{
			"V takes its first handle from the point before",
			"0 0 m 10 10 10 0 V f",
			"fill #000000 0,95.56 10,100",
		},
		{
			"v is a smooth V",
			"0 0 m 10 10 10 0 v f",
			"fill #000000 0,95.56 10,100",
		},
		{
			"Y takes its last handle from the point behind",
			"0 0 m 0 10 10 0 Y f",
			"fill #000000 0,95.56 10,100",
		},
		{
			"y is a smooth Y",
			"0 0 m 0 10 10 0 y f",
			"fill #000000 0,95.56 10,100",
		},
		{
			"F fills what is open",
			"0 0 m 10 0 L 10 10 L F",
			"fill #000000 0,90 10,100",
		},
		{
			"S strokes what is open",
			"2 w 0 50 m 10 50 L S",
			"stroke #000000 0,49 10,51",
		},
		{
			"s closes and strokes",
			"2 w 10 10 m 30 10 L 30 30 L 10 30 L s",
			"stroke #000000 9,69 31,91",
		},
		{
			"B fills and strokes what is open",
			"2 w 10 10 m 30 10 L 30 30 L 10 30 L B",
			"fill #000000 10,70 30,90; stroke #000000 10,69 31,91",
		},
		{
			"b closes, fills and strokes",
			"2 w 10 10 m 30 10 L 30 30 L 10 30 L b",
			"fill #000000 10,70 30,90; stroke #000000 9,69 31,91",
		},
		{
			"N paints nothing",
			"0 0 m 9 0 L 9 9 L N 0 0 m 5 0 L 5 5 L f",
			"fill #000000 0,95 5,100; left out: object without fill and stroke",
		},
		{
			"n closes and paints nothing",
			"0 0 m 9 0 L 9 9 L n 0 0 m 5 0 L 5 5 L f",
			"fill #000000 0,95 5,100; left out: object without fill and stroke",
		},
		{
			"h closes for W",
			"q 0 0 m 5 0 L 5 5 L h W n 0 0 m 9 0 L 9 9 L 0 9 L f Q",
			"fill #000000 0,95 5,100",
		},
		{
			"H keeps open",
			"0 50 m 10 50 L H S",
			"stroke #000000 0,49.5 10,50.5",
		},
		{
			"a path of one point",
			"5 5 m f 0 0 m 5 0 L 5 5 L f",
			"fill #000000 5,95 5,95; fill #000000 0,95 5,100",
		},
		// Paint.
		{
			"g is a grey fill",
			"0.25 g SQUARE f",
			"fill #404040 0,90 10,100",
		},
		{
			"G is a grey stroke",
			"0.25 G 0 50 m 10 50 L S",
			"stroke #404040 0,49.5 10,50.5",
		},
		{
			"k is a fill of four inks",
			"0 0 1 0 k SQUARE f",
			"fill #fff200 0,90 10,100",
		},
		{
			"K is a stroke of four inks",
			"0 0 0 1 K 0 50 m 10 50 L S",
			"stroke #231f20 0,49.5 10,50.5",
		},
		{
			"Xa is a fill in RGB",
			"1 0.5 0 Xa SQUARE f",
			"fill #ff8000 0,90 10,100",
		},
		{
			"XA is a stroke in RGB",
			"1 0.5 0 XA 0 50 m 10 50 L S",
			"stroke #ff8000 0,49.5 10,50.5",
		},
		{
			"x is a named ink with a tint",
			"0 0 0 1 (Tar) 0 x SQUARE f",
			"fill #231f20 0,90 10,100; info: ink Tar, shown in the colour that the file gives for it",
		},
		{
			"X strokes with a named ink",
			"0 0 0 1 (Tar) 0.5 X 0 50 m 10 50 L S",
			"stroke #918f8f 0,49.5 10,50.5; info: ink Tar, shown in the colour that the file gives for it",
		},
		{
			"Xx with the kind of its process colour",
			"0 0 0 1 (Tar) 0 0 Xx SQUARE f",
			"fill #231f20 0,90 10,100; info: ink Tar, shown in the colour that the file gives for it",
		},
		{
			"Xx in RGB",
			"1 0 0 (Flag) 0 1 Xx SQUARE f",
			"fill #ff0000 0,90 10,100; info: ink Flag, shown in the colour that the file gives for it",
		},
		{
			"XX strokes with it",
			"1 0 0 (Flag) 0 1 XX 0 50 m 10 50 L S",
			"stroke #ff0000 0,49.5 10,50.5; info: ink Flag, shown in the colour that the file gives for it",
		},
		{
			"p fills with a pattern",
			"(Rope) 0 0 1 1 0 0 0 0 0 [1 0 0 1 0 0] p SQUARE f",
			"fill #808080 0,90 10,100; changed: pattern became plain grey",
		},
		{
			"P strokes with a pattern",
			"(Rope) 0 0 1 1 0 0 0 0 0 [1 0 0 1 0 0] P 0 50 m 10 50 L S",
			"stroke #808080 0,49.5 10,50.5; changed: pattern became plain grey",
		},
		{
			"XR chooses even-odd",
			"1 XR 0 0 m 20 0 L 20 20 L 0 20 L h 5 5 m 10 5 L 10 10 L 5 10 L f",
			"fill #000000 0,80 20,100",
		},
		// Strokes.
		{
			"w is the width",
			"6 w 0 50 m 10 50 L S",
			"stroke #000000 0,47 10,53",
		},
		{
			"w of nothing is a hairline",
			"0 w 0 50 m 10 50 L S",
			"stroke #000000 0,49.95 10,50.05; changed: line thinner than any device shows drawn as a hairline",
		},
		{
			"J is the cap",
			"2 J 4 w 10 50 m 20 50 L S",
			"stroke #000000 8,48 22,52",
		},
		{
			"j is the join",
			"2 j 4 w 10 10 m 20 40 L 30 10 L S",
			"stroke #000000 8.1,59.37 31.9,90.63",
		},
		{
			"M is the mitre's limit",
			"1 M 4 w 10 10 m 20 40 L 30 10 L S",
			"stroke #000000 8.1,59.37 31.9,90.63",
		},
		{
			"a mitre within its limit",
			"9 M 4 w 10 10 m 20 40 L 30 10 L S",
			"stroke #000000 8.1,53.68 31.9,90.63",
		},
		{
			"d is the dashes",
			"[10 90] 0 d 4 w 0 50 m 40 50 L S",
			"stroke #000000 0,48 10,52",
		},
		{
			"d without dashes",
			"[] 0 d 4 w 0 50 m 40 50 L S",
			"stroke #000000 0,48 40,52",
		},
		// Structure.
		{
			"u to U is a group",
			"u SQUARE f U",
			"fill #000000 0,90 10,100",
		},
		{
			"q to Q undoes its clip",
			"q 0 0 m 5 0 L 5 5 L 0 5 L h W n SQUARE f Q SQUARE f",
			"fill #000000 0,95 5,100; fill #000000 0,90 10,100",
		},
		{
			"two clips cut each other",
			"q 0 0 m 6 0 L 6 9 L 0 9 L h W n q 0 0 m 9 0 L 9 4 L 0 4 L h W n SQUARE f Q Q",
			"fill #000000 0,96 6,100",
		},
		{
			"*u to *U is one shape",
			"*u 0 0 m 10 0 L 10 10 L 0 10 L f 30 30 m 40 30 L 40 40 L f *U",
			"fill #000000 0,60 40,100",
		},
		{
			"*u within *u",
			"*u *u SQUARE f *U 30 30 m 40 30 L 40 40 L f *U",
			"fill #000000 0,60 40,100",
		},
		{
			"*u of strokes",
			"2 w *u 0 50 m 10 50 L S 0 60 m 10 60 L S *U",
			"stroke #000000 0,39 10,51",
		},
		{
			"*u of nothing",
			"*u *U SQUARE f",
			"fill #000000 0,90 10,100",
		},
		{
			"*U too often",
			"*U *U SQUARE f",
			"fill #000000 0,90 10,100",
		},
		{
			"Q and U too often",
			"Q U Q SQUARE f",
			"fill #000000 0,90 10,100",
		},
		{
			"Lb and Ln are a layer",
			"1 1 1 1 0 0 0 1 2 3 Lb (Sails) Ln SQUARE f LB",
			"fill #000000 0,90 10,100 in Sails",
		},
		{
			"layers within layers",
			"1 1 1 1 0 0 0 1 2 3 Lb (Ship) Ln 1 1 1 1 0 0 0 1 2 3 Lb (Mast) Ln SQUARE f LB LB",
			"fill #000000 0,90 10,100 in Ship / Mast",
		},
		{
			"a layer that is not seen",
			"0 1 1 1 0 0 0 1 2 3 Lb (Draft) Ln SQUARE f LB SQUARE f",
			"hidden fill #000000 0,90 10,100 in Draft; fill #000000 0,90 10,100",
		},
		{
			"a layer within one that is not seen",
			"0 1 1 1 0 0 0 1 2 3 Lb (A) Ln 1 1 1 1 0 0 0 1 2 3 Lb (B) Ln SQUARE f LB LB SQUARE f",
			"hidden fill #000000 0,90 10,100 in A / B; fill #000000 0,90 10,100",
		},
		{
			"LB too often",
			"LB LB SQUARE f",
			"fill #000000 0,90 10,100",
		},
		{
			"Xw hides objects",
			"1 Xw SQUARE f 0 Xw SQUARE f",
			"hidden fill #000000 0,90 10,100; fill #000000 0,90 10,100",
		},
		{
			"A and others say nothing that is seen",
			"0 A 0 O 0 R 1 i 1 D 0 Ar SQUARE f",
			"fill #000000 0,90 10,100",
		},
		{
			"a guide is left out",
			"0 50 m 90 50 L (N) * SQUARE f",
			"fill #000000 0,90 10,100; left out: guide",
		},
		// What is left out.
		{
			"XI is a bitmap",
			"[ 1 0 0 1 0 0 ] 0 0 9 9 9 9 8 3 0 0 0 0 XI SQUARE f",
			"fill #000000 0,90 10,100; left out: bitmap",
		},
		{
			"a placed file",
			"(map.eps) ` 1 2 3 not read %%EndDocument\nSQUARE f",
			"fill #000000 0,90 10,100; left out: placed file (map.eps)",
		},
		{
			"a word that nobody knows",
			"5 (x) Unk SQUARE f",
			"fill #000000 0,90 10,100",
		},
		{
			"a text in an area",
			"1 To 1 0 0 1 0 0 0 Tp 0 0 m 50 0 L 50 50 L N TP /_Courier 10 Tf (Row on) Tx TO SQUARE f",
			"fill #000000 0,90 10,100; left out: text in an area or along a path (convert it to paths) (Row on)",
		},
		{
			"a text along a path",
			"2 To 1 0 0 1 0 0 0 Tp 0 0 m 50 0 L N TP /_Courier 10 Tf (Row on) Tx TO SQUARE f",
			"fill #000000 0,90 10,100; left out: text in an area or along a path (convert it to paths) (Row on)",
		},
		// Gradients.
		{
			"Bg along a line",
			"(G) 0 2 Bd [ 0 0 50 0 %_Bs\n 0.5 0 50 100 %_Bs\n BD SQUARE Bb 1 (G) 0 0 0 10 1 0 0 1 0 0 Bg f 0 BB",
			"fill #404040 0,90 10,100; changed: gradient became its mean colour",
		},
		{
			"Bg about a point",
			"(G) 1 2 Bd [ 0 0 50 0 %_Bs\n 0.5 0 50 100 %_Bs\n BD SQUARE Bb 1 (G) 5 5 0 10 1 0 0 1 0 0 Bg f 0 BB",
			"fill #313131 0,90 10,100; changed: gradient became its mean colour",
		},
		{
			"Bg of a gradient that is not defined",
			"SQUARE Bb 1 (No) 0 0 0 10 1 0 0 1 0 0 Bg f 0 BB",
			"fill #808080 0,90 10,100; changed: gradient that is not defined became grey (No)",
		},
		// Text.
		{
			"Tx at a point",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf (II) Tx TO",
			`fill #000000 11.13,44.37 20.87,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Ta in the middle",
			"0 To 1 0 0 1 50 50 0 Tp TP /_Courier 10 Tf 1 Ta (II) Tx TO",
			`fill #000000 45.13,44.37 54.87,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Ta at the right",
			"0 To 1 0 0 1 50 50 0 Tp TP /_Courier 10 Tf 2 Ta (II) Tx TO",
			`fill #000000 39.13,44.37 48.87,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Tz stretches",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf 200 Tz (II) Tx TO",
			`fill #000000 12.26,44.37 31.74,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Ts raises",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf 5 Ts (II) Tx TO",
			`fill #000000 11.13,39.37 20.87,45 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Tt spreads",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf 1000 Tt (II) Tx TO",
			`fill #000000 11.13,44.37 30.87,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Tk moves the next letter",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf (I) Tx -600 Tk (I) Tx TO",
			`fill #000000 11.13,44.37 26.87,50 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Td begins a line",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf (I) Tx 0 -20 Td (I) Tx TO",
			`fill #000000 11.13,44.37 14.87,50 "I"; fill #000000 11.13,64.37 14.87,70 "I"; ` +
				"info: text set in Courier, shown in TeX Gyre Cursor",
		},
		{
			"Tl and T* begin the next line",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf 15 0 Tl (I) Tx T* (I) Tx TO",
			`fill #000000 11.13,44.37 14.87,50 "I"; fill #000000 11.13,59.37 14.87,65 "I"; ` +
				"info: text set in Courier, shown in TeX Gyre Cursor",
		},
		{
			"Tr 1 strokes",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf 1 Tr (I) Tx TO",
			`stroke #000000 10.61,43.87 15.38,50.5 "I"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"Tr 3 paints nothing",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Courier 10 Tf 3 Tr (I) Tx TO SQUARE f",
			"fill #000000 0,90 10,100; info: text set in Courier, shown in TeX Gyre Cursor; " +
				"left out: invisible text (I)",
		},
		{
			"a text turned by its matrix",
			"0 To 0 1 -1 0 50 10 0 Tp TP /_Courier 10 Tf (II) Tx TO",
			`fill #000000 44.37,79.13 50,88.87 "II"; info: text set in Courier, shown in TeX Gyre Cursor`,
		},
		{
			"a font that is not there",
			"0 To 1 0 0 1 10 50 0 Tp TP /_Keelhaul-Bold 10 Tf (II) Tx TO",
			`fill #000000 10.92,42.71 16.52,50 "II"; ` +
				"changed: text set in Keelhaul-Bold: not embedded, shown in DejaVu Sans (add the font to the piece)",
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			s, err := try("mark.ai", []byte(top+square.Replace(c.program)+"\n%%Trailer\n"))
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
