package reader_test

func eps(program string) string {
	return "%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 100 100\n" + program + "\n0 0 9 9 rectfill showpage\n%%EOF\n"
}

func epsFiles() []hostile {
	files := map[string]string{}
	for _, part := range []map[string]string{psLoops(), psOperands(), psPainting(), psFonts()} {
		for name, program := range part {
			files[name] = eps(program)
		}
	}
	files["a header that lies"] = "\xc5\xd0\xd3\xc6\xff\xff\xff\x7f\xff\xff\xff\x7f" + times("\x00", 100)
	files["bounding boxes"] = times("%%BoundingBox: 0 0 1 1\n", 500_000) + eps("")
	files["pages"] = "%!PS-Adobe-3.0\n" + each(300_000, func(i int) string { return f("%%%%Page: %d %d\nshowpage\n", i, i) })
	return named("EPS", files)
}

// psLoops grow by control.
func psLoops() map[string]string {
	return map[string]string{
		"a loop":                    "{} loop",
		"a loop in a loop":          "{ {1 pop} loop } loop",
		"repeat of much":            "2000000000 {} repeat",
		"repeat in repeat":          "2000000000 {2000000000 {} repeat} repeat",
		"for by nothing":            "0 0 1 {pop} for",
		"for by very little":        "0 1e-30 1 {pop} for",
		"forall of a long string":   "60000 string {pop 60000 string {pop} forall} forall",
		"a procedure of itself":     "/a {a} def a",
		"a procedure of itself two": "/a {a a} def a",
		"procedures in procedures":  times("{", 200_000) + times("}", 200_000),
		"procedures unclosed":       times("{", 2_000_000),
		"stopped in stopped":        "/a {{a} stopped pop} def a",
		"errors without end":        "{ {1 0 div} stopped pop clear } loop",
		"exec of exec":              "{dup exec} dup exec",
		"run of a string":           "/s (s cvx exec s cvx exec) def s cvx exec",
		"kshow and cshow":           "/a {(aaaa) {a} exch kshow} def 0 0 moveto {a} stopped",
		"saves":                     "{save} loop",
		"gsaves":                    "{gsave} loop",
		"gsaves with long paths":    "0 0 moveto 20000 {1 1 rlineto} repeat {gsave} loop",
		"restores":                  "{save restore} loop",
		"dictionaries begun":        "1 dict {dup begin} loop",
		"an if of an if":            "/a {true {a} if} def a",
		"a filter of a filter":      "currentfile " + times("/ASCIIHexDecode filter ", 50_000),
		"bind of itself":            "/a [0] def a 0 a put a cvx bind exec",
	}
}

// psOperands grow by operators whose cost is their operand.
func psOperands() map[string]string {
	loop := func(setup, body string) string { return setup + " 100000 {" + body + "} repeat" }
	return map[string]string{
		"long rolls":               loop("0 1 60000 {} for", "60000 1 roll"),
		"copies of the stack":      loop("0 1 30000 {} for", "30000 copy clear 0 1 30000 {} for"),
		"aload":                    loop("/a 60000 array def", "a aload pop clear"),
		"astore":                   loop("/a 60000 array def a aload pop", "60001 copy astore pop"),
		"putinterval":              loop("/a 60000 string def /b 60000 string def", "a 0 b putinterval"),
		"getinterval":              loop("/a 60000 array def", "a 0 60000 getinterval pop"),
		"copy of arrays":           loop("/a 60000 array def /b 60000 array def", "a b copy pop"),
		"copy of dictionaries":     loop("/a 60000 dict def 0 1 60000 {a exch dup put} for", "a 60000 dict copy pop"),
		"search":                   loop("/s 60000 string def", "s (aaaaaaaaaaaaaaaaaaaaaab) search pop pop pop pop"),
		"anchorsearch":             loop("/s 60000 string def", "s s anchorsearch clear"),
		"token":                    loop("/s 60000 string def 0 1 59999 {s exch 32 put} for", "s token clear"),
		"comparing strings":        loop("/a 60000 string def /b 60000 string def", "a b eq pop"),
		"cvs":                      loop("/s 60000 string def", "1.5 s cvs pop"),
		"cvi of long strings":      loop("/s 60000 string def 0 1 59999 {s exch 49 put} for", "{s cvi} stopped clear"),
		"strings":                  "{60000 string} loop",
		"strings forgotten":        "{60000 string pop} loop",
		"arrays":                   "{60000 array} loop",
		"packed arrays":            "{0 1 60000 {} for 60000 packedarray} loop",
		"dictionaries":             "{60000 dict} loop",
		"dictionaries that grow":   "/d 1 dict def 0 1 100000000 {d exch dup put} for",
		"a stack that grows":       "{1} loop",
		"marks":                    "{mark} loop",
		"array literals":           "{[ 0 1 60000 {} for ] pop} loop",
		"names":                    "0 1 100000000 {20 string cvs cvn pop} for",
		"a long name":              times("a", 8<<20),
		"a long string":            "(" + times("a", 16<<20) + ")",
		"a string unclosed":        "(" + times("(", 4<<20),
		"a hexadecimal string":     "<" + times("41", 8<<20) + ">",
		"a base 85 string":         "<~" + times("z", 4<<20) + "~>",
		"a number of many figures": times("9", 4<<20),
		"powers":                   loop("", "1e30 1e30 exp pop"),
		"matrices":                 loop("", "matrix matrix invertmatrix matrix concatmatrix pop"),
		"random numbers":           "{rand pop} loop",
		"reading oneself":          "{currentfile 60000 string readstring pop pop} loop",
		"reading what inflates":    "currentfile /FlateDecode filter /f exch def {f 60000 string readstring not {pop exit} if pop} loop\n" + string(packedZeros(500<<20)),
		"inflated twice":           "currentfile /FlateDecode filter /FlateDecode filter /f exch def {f 60000 string readstring not {pop exit} if pop} loop\n" + string(packed(string(packedZeros(400<<20)))),
		"runs that are long": "currentfile /RunLengthDecode filter /f exch def {f 60000 string readstring not {pop exit} if pop} loop\n" + times(
			"\x81a",
			4<<20,
		),
		"a subfile of itself":       "{currentfile 100 () /SubFileDecode filter flushfile} loop",
		"resources":                 "{/a /Font findresource pop} loop",
		"type checks":               "{1 type pop (a) type pop} loop",
		"fonts found":               "{/Courier findfont 10 scalefont setfont} loop",
		"definitions of procedures": "{{1 2 3} /a exch def} loop",
	}
}

// psPainting grow by what is painted.
func psPainting() map[string]string {
	loop := func(setup, body string) string { return setup + " {" + body + "} loop" }
	return map[string]string{
		"points":                     loop("0 0 moveto", "1 1 rlineto"),
		"curves":                     loop("0 0 moveto", "1 1 2 2 3 3 rcurveto"),
		"arcs":                       loop("", "0 0 5 0 360 arc"),
		"arcs of many turns":         "0 0 5 0 1e9 arc fill",
		"rectangles":                 loop("", "0 0 9 9 rectfill"),
		"strokes":                    loop("", "0 0 moveto 9 9 lineto stroke"),
		"clips":                      loop("", "0 0 9 9 rectclip"),
		"clips on many shapes":       "300 {0 0 moveto 9 0 lineto 9 9 lineto clip newpath} repeat {0 0 moveto 9 0 lineto 9 9 lineto fill} loop",
		"long paths in a clip":       "0 0 moveto 20000 {1 1 rlineto} repeat {clip} loop",
		"strokepaths of strokepaths": loop("0 0 moveto 9 9 lineto", "strokepath"),
		"flattened paths":            loop("0 0 moveto 5000 {1 1 2 2 3 3 rcurveto} repeat", "flattenpath"),
		"reversed paths":             loop("0 0 moveto 60000 {1 1 rlineto} repeat", "reversepath"),
		"boxes of paths":             loop("0 0 moveto 60000 {1 1 rlineto} repeat", "pathbbox clear"),
		"paths gone through":         loop("0 0 moveto 20000 {1 1 rlineto} repeat", "{pop pop} {pop pop} {6 {pop} repeat} {} pathforall"),
		"paths kept":                 "0 0 moveto 60000 {1 1 rlineto} repeat {gsave fill grestore} loop",
		"dashes of nothing":          "[1e-9] 0 setdash 0 0 moveto 100000 0 lineto stroke",
		"dashes on many":             loop("[.001] 0 setdash", "0 0 moveto 90 90 lineto stroke"),
		"a long list of dashes":      "60000 array dup 0 1 59999 {1 index exch 1 put} for pop {dup 0 setdash} loop",
		"a pattern of itself":        "/p << /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 9 9] /XStep 9 /YStep 9 /PaintProc {pop p setpattern 0 0 90 90 rectfill} >> matrix makepattern def p setpattern 0 0 90 90 rectfill",
		"a pattern of a loop":        "<< /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 9 9] /XStep 9 /YStep 9 /PaintProc {pop {} loop} >> matrix makepattern setpattern 0 0 90 90 rectfill",
		"a pattern on many":          "<< /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 9 9] /XStep 2 /YStep 2 /PaintProc {pop 0 0 1 1 rectfill} >> matrix makepattern setpattern {0 0 90 90 rectfill} loop",
		"a fine pattern on many":     "<< /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 .01 .01] /XStep .01 /YStep .01 /PaintProc {pop 50 {0 0 1 1 rectfill} repeat} >> matrix makepattern setpattern {0 0 90 90 rectfill} loop",
		"forms of forms":             "/a << /FormType 1 /BBox [0 0 9 9] /Matrix matrix /PaintProc {pop a execform a execform} >> def a execform",
		"a shading of a loop":        "<< /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function << /FunctionType 4 /Domain [0 1] /Range [0 1] /a 1 >> >> shfill {} loop",
		"functions in functions":     "/f << /FunctionType 2 /Domain [0 1] /N 1 >> def 40 {/f << /FunctionType 3 /Domain [0 1] /Bounds [.5] /Encode [0 1 0 1] /Functions [f f] >> def} repeat << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function f >> shfill",
		"shadings": loop(
			"/s << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function << /FunctionType 2 /Domain [0 1] /N 1 >> >> def",
			"s shfill",
		),
		"samples of many inputs": "<< /ShadingType 1 /ColorSpace /DeviceGray /Function << /FunctionType 0 /Domain [0 1 0 1] /Range [0 1] /Size [30000 30000] /BitsPerSample 8 /DataSource (a) >> >> shfill",
		"a mesh of much":         "<< /ShadingType 4 /ColorSpace /DeviceGray /BitsPerCoordinate 1 /BitsPerComponent 1 /BitsPerFlag 2 /Decode [0 1 0 1 0 1] /DataSource 60000 string >> {dup shfill} loop",
		"an image that is large": "100000 100000 8 [1 0 0 1 0 0] {(a)} image",
		"a mask that is large":   "1000 1000 true [1 0 0 1 0 0] {<aa>} imagemask 0 0 9 9 rectfill",
		"masks":                  loop("", "32 32 true [32 0 0 32 0 0] {128 string} imagemask"),
		"dots of a mask": loop(
			"/s 125000 string def 0 1 124999 {s exch 170 put} for",
			"1000 1000 true [1000 0 0 1000 0 0] {s} imagemask",
		),
		"a colour space of itself": "/c [/Indexed 0 1 (aaa)] def c 1 c put c setcolorspace 0 setcolor",
		"indexed in indexed":       "/c /DeviceGray def 10000 {/c [/Indexed c 1 (aa)] def} repeat c setcolorspace 0 setcolor",
		"a tint of a loop":         "[/Separation (x) /DeviceGray {{} loop}] setcolorspace 1 setcolor",
		"inks":                     "0 1 1000000 {20 string cvs [exch /Separation exch /DeviceGray {}] setcolorspace 1 setcolor} for",
		"user paths":               loop("/u {0 0 9 9 setbbox 0 0 moveto 9 9 lineto} cvlit def", "u ufill"),
		"scales to nothing":        "1000 {.0001 dup scale} repeat 0 0 1e30 1e30 rectfill",
		"pages":                    loop("", "showpage"),
	}
}

// psFonts grow by fonts and letters.
func psFonts() map[string]string {
	type3 := func(proc string) string {
		return "8 dict begin /FontType 3 def /FontMatrix [1 0 0 1 0 0] def /FontBBox [0 0 1 1] def /Encoding 256 array 0 1 255 {1 index exch /a put} for def " +
			"/BuildChar {pop pop " + proc + "} def currentdict end /q exch definefont pop /q findfont 10 scalefont setfont 0 0 moveto "
	}
	return map[string]string{
		"a long text":             "/Courier findfont 10 scalefont setfont 0 0 moveto 60000 string dup 0 1 59999 {1 index exch 65 put} for pop {dup show} loop",
		"a font of itself":        type3("(a) show") + "(a) show",
		"a font of a loop":        type3("{} loop") + "(a) show",
		"a font of much":          type3("1 0 setcharwidth 20000 {0 0 1 1 rectfill} repeat") + times("(aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa) show ", 5000),
		"widths":                  "/Courier findfont 10 scalefont setfont 60000 string {dup stringwidth pop pop} loop",
		"outlines of letters":     "/Courier findfont 10 scalefont setfont 0 0 moveto {(QuayQuayQuay) false charpath} loop",
		"fonts defined":           "{/Courier findfont dup length dict begin {1 index /FID ne {def} {pop pop} ifelse} forall currentdict end /x exch definefont pop} loop",
		"a private part, cut off": "currentfile eexec\n" + times("41", 1_000_000),
		"charstrings of calls": "%!FontType1\n12 dict begin /FontType 1 def /FontMatrix [.001 0 0 .001 0 0] def /Encoding StandardEncoding def /FontBBox {0 0 1 1} def /PaintType 0 def /CharStrings 1 dict def CharStrings /A (" + times(
			"\\213\\212",
			5000,
		) + ") put /Private 4 dict def Private /Subrs [(" + times(
			"\\213\\012",
			20,
		) + ")] put Private /lenIV -1 put currentdict end /z exch definefont setfont 0 0 moveto {(AAAA) show} loop",
	}
}

func ai(body string) string {
	return "%!PS-Adobe-3.0\n%%Creator: a program\n%AI5_FileFormat 3\n%%BoundingBox: 0 0 100 100\n%%EndComments\n%%EndProlog\n" + body + "\n0 0 m 9 0 l 9 9 l f\n%%Trailer\n%%EOF\n"
}

// aiFiles grow by the operators of the older artwork.
func aiFiles() []hostile {
	files := map[string]string{
		"groups":           times("u\n", 200_000) + times("U\n", 200_000),
		"compounds":        times("*u\n", 200_000) + times("*U\n", 200_000),
		"layers":           each(100_000, func(i int) string { return f("1 1 1 1 0 0 0 0 0 0 Lb\n(l%d) Ln\nLB\n", i) }),
		"layers in layers": times("1 1 1 1 0 0 0 0 0 0 Lb\n", 100_000),
		"points":           "0 0 m\n" + times("1 1 l\n2 2 l\n", 2_000_000) + "f",
		"clips":            times("q\n0 0 m 9 0 l 9 9 l h W n\n", 100_000),
		"guides":           times("0 0 m 9 9 l (N) *\n", 300_000),
		"inks":             each(200_000, func(i int) string { return f("0 0 0 1 (ink %d) 0 x\n0 0 m 9 0 l 9 9 l f\n", i) }),
		"ramps":            times("0 (g) 0 2 Bd\n0 50 0 %_Bs\nBD\n", 100_000),
		"ramps of many stops": "0 (g) 0 60000 Bd\n" + times(
			"0 50 0 %_Bs\n",
			300_000,
		) + "BD\nBb 1 (g) 0 0 0 9 1 0 0 1 0 0 Bg\n0 0 m 9 0 l 9 9 l f\nBB",
		"patterns":          each(50_000, func(i int) string { return f("(p%d) 0 0 9 9 [] E\n0 0 m 9 0 l 9 9 l f\n", i) }),
		"texts":             times("0 To\n1 0 0 1 5 5 0 Tp\nTP\n/_Courier 9 Tf\n(Quay) Tx\nTO\n", 50_000),
		"a text of much":    "0 To\n1 0 0 1 5 5 0 Tp\nTP\n/_Courier 9 Tf\n(" + times("Quay", 500_000) + ") Tx\nTO\n",
		"numbers only":      times("1 ", 4_000_000),
		"lines without end": times("1 2 3 x y z ", 1_000_000),
	}
	for name, body := range files {
		files[name] = ai(body)
	}
	return named("AI", files)
}
