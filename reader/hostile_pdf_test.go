package reader_test

import (
	"bytes"
	"fmt"
	"strings"
)

// pdf makes a file of one page: its content, its resources and further objects, from number 10.
func pdf(content, resources string, objects ...string) string {
	return pdfOf(f("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 100 100] /Contents 4 0 R /Resources << %s >> >>", resources),
		stream("", content+"\n0 0 9 9 re f"), objects...)
}

func stream(dict, data string) string {
	return fmt.Sprintf("<< %s /Length %d >>\nstream\n%s\nendstream", dict, len(data), data)
}

func pdfOf(page, content string, objects ...string) string {
	var b bytes.Buffer
	at := map[int]int{}
	last := 0
	put := func(nr int, body string) {
		at[nr] = b.Len()
		last = max(last, nr)
		fmt.Fprintf(&b, "%d 0 obj\n%s\nendobj\n", nr, body)
	}
	b.WriteString("%PDF-1.6\n")
	put(1, "<< /Type /Catalog /Pages 2 0 R >>")
	put(2, "<< /Type /Pages /Kids [3 0 R] /Count 1 >>")
	put(3, page)
	put(4, content)
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
	return b.String()
}

func form(resources, content string) string {
	return stream("/Type /XObject /Subtype /Form /BBox [0 0 100 100] /Resources << "+resources+" >>", content)
}

func pdfFiles() []hostile {
	files := map[string]string{}
	for _, part := range []map[string]string{pdfContents(), pdfObjects(), pdfStructures()} {
		for name, file := range part {
			files[name] = file
		}
	}
	return named("PDF", files)
}

// pdfContents grow by a page's content.
func pdfContents() map[string]string {
	plain := func(content string) string { return pdf(content, "") }
	return map[string]string{
		"points":              plain("0 0 m " + times("1 1 l ", 3_000_000) + "f"),
		"shapes":              plain(times("0 0 9 9 re f\n", 500_000)),
		"states":              plain(times("q ", 3_000_000)),
		"states and back":     plain(times("q Q ", 2_000_000)),
		"operands":            plain(times("1 ", 4_000_000)),
		"arrays":              plain(times("[", 2_000_000)),
		"dictionaries":        plain(times("<<", 2_000_000)),
		"a string unclosed":   plain(times("(", 4_000_000)),
		"a long name":         plain("/" + times("a", 4_000_000) + " gs"),
		"unknown operators":   plain(times("xyzzy ", 1_000_000)),
		"marks":               plain(times("/a BMC ", 1_000_000)),
		"marks with lists":    plain(times("/a << /b 1 >> BDC EMC ", 500_000)),
		"clips":               plain(times("0 0 m 9 0 l 9 9 l W n ", 200_000) + times("0 0 m 9 0 l 9 9 l f ", 20_000)),
		"clips that are long": plain("0 0 m " + times("1 1 l ", 50_000) + "W n " + times("0 0 m 9 0 l 9 9 l f ", 50_000)),
		"dashes":              plain("[.00001] 0 d " + times("0 0 m 90 90 l S ", 50_000)),
		"a long dash list":    plain("[" + times("1 ", 900_000) + "] 0 d " + times("0 0 m 90 90 l S ", 50_000)),
		"matrices":            plain(times("1.01 0 0 1.01 0 0 cm ", 500_000)),
		"inline images":       plain(times("BI /W 9 /H 9 /BPC 8 /CS /G ID "+times("x", 81)+" EI ", 50_000)),
		"inline masks":        plain(times("BI /W 64 /H 64 /IM true /BPC 1 ID "+times("\xaa", 512)+" EI ", 5000)),
		"an image unclosed":   plain("BI /W 9 /H 9 ID " + times("E", 4_000_000)),
		"what inflates": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 100 100] /Contents 4 0 R >>",
			stream("/Filter /FlateDecode", string(packedZeros(1<<30))),
		),
		"what inflates twice": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 100 100] /Contents 4 0 R >>",
			stream("/Filter [/FlateDecode /FlateDecode]", string(packed(string(packedZeros(1<<30))))),
		),
		"the same, often": pdfOf("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 100 100] /Contents ["+times("10 0 R ", 10_000)+"] >>", stream("", ""),
			stream("/Filter /FlateDecode", string(packed(times("0 0 9 9 re f ", 20_000))))),
		"many filters": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 100 100] /Contents 4 0 R >>",
			stream("/Filter ["+times("/ASCIIHexDecode ", 20_000)+"]", "41>"),
		),
		"runs": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 100 100] /Contents 4 0 R >>",
			stream("/Filter /RunLengthDecode", times("\x81 ", 4_000_000)),
		),
		"weak packing": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 100 100] /Contents 4 0 R >>",
			stream("/Filter /LZWDecode", times("\x80\x0b\x60\x50", 1_000_000)),
		),
		"texts":       pdf(times("BT /F 9 Tf (Quay) Tj ET ", 100_000), "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Courier >> >>"),
		"a long text": pdf("BT /F 9 Tf ("+times("Quay", 500_000)+") Tj ET", "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Courier >> >>"),
	}
}

// pdfObjects grow by forms, patterns, masks, fonts, functions and spaces.
func pdfObjects() map[string]string {
	doubledForms := func(n int, last string) (objects []string) {
		objects = append(objects, last)
		for i := range n {
			objects = append(objects, form(f("/XObject << /A %d 0 R >>", 10+i), "/A Do /A Do"))
		}
		return objects
	}
	deep := func(n int, first string, wrap func(i int) string) (objects []string) {
		objects = append(objects, first)
		for i := range n {
			objects = append(objects, wrap(10+i))
		}
		return objects
	}
	linear := "<< /FunctionType 2 /Domain [0 1] /N 1 >>"
	pattern := func(step string, content string) string {
		return stream(
			"/PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 9 9] /XStep "+step+" /YStep "+step+" /Resources << /Pattern << /P 10 0 R >> /XObject << /X 10 0 R >> >>",
			content,
		)
	}
	mask := func(content string) string {
		return form("/ExtGState << /S << /SMask << /S /Luminosity /G 10 0 R >> >> >>", content)
	}
	type3 := func(proc string) string {
		return "<< /Type /Font /Subtype /Type3 /FontBBox [0 0 9 9] /FontMatrix [1 0 0 1 0 0] /FirstChar 97 /LastChar 97 /Widths [9] /Encoding << /Differences [97 /a] >> " +
			"/CharProcs << /a 11 0 R >> /Resources << /Font << /F 10 0 R >> >> >>|" + stream("", proc)
	}
	font := func(proc, content string) string {
		parts := strings.SplitN(type3(proc), "|", 2)
		return pdf(content, "/Font << /F 10 0 R >>", parts...)
	}
	return map[string]string{
		"doubled forms":        pdf("/A Do", "/XObject << /A 50 0 R >>", doubledForms(40, form("", "0 0 9 9 re f"))...),
		"doubled forms, empty": pdf("/A Do", "/XObject << /A 32 0 R >>", doubledForms(22, form("", ""))...),
		"a form of itself":     pdf("/A Do", "/XObject << /A 10 0 R >>", form("/XObject << /A 10 0 R >>", "/A Do")),
		"a form often":         pdf(times("/A Do ", 200_000), "/XObject << /A 10 0 R >>", form("", times("0 0 9 9 re f ", 100))),
		"a large form often":   pdf(times("/A Do ", 2000), "/XObject << /A 10 0 R >>", form("", "0 0 m "+times("1 1 l ", 100_000)+"f")),
		"a form that inflates": pdf(
			times("/A Do ", 500),
			"/XObject << /A 10 0 R >>",
			stream("/Type /XObject /Subtype /Form /BBox [0 0 9 9] /Filter /FlateDecode", string(packedZeros(60<<20))),
		),
		"a pattern of itself": pdf(
			"/Pattern cs /P scn 0 0 90 90 re f",
			"/Pattern << /P 10 0 R >>",
			pattern("9", "/Pattern cs /P scn 0 0 90 90 re f"),
		),
		"a fine pattern": pdf(
			"/Pattern cs /P scn "+times("0 0 90 90 re f ", 2000),
			"/Pattern << /P 10 0 R >>",
			pattern(".001", times("0 0 1 1 re f ", 1000)),
		),
		"a pattern on many": pdf(
			"/Pattern cs /P scn "+times("0 0 90 90 re f ", 2000),
			"/Pattern << /P 10 0 R >>",
			pattern("2.5", "0 0 1 1 re f"),
		),
		"a soft mask of itself": pdf(
			"/S gs 0 0 9 9 re f",
			"/ExtGState << /S << /SMask << /S /Luminosity /G 10 0 R >> >> >>",
			mask("/S gs 0 0 9 9 re f"),
		),
		"soft masks in turn": pdf(
			times("1 0 0 1 .1 0 cm /S gs 0 0 9 9 re f ", 5000),
			"/ExtGState << /S << /SMask << /S /Luminosity /G 10 0 R >> >> >>",
			mask("1 g 0 0 9 9 re f"),
		),
		"a soft mask of much": pdf(
			"/S gs 0 0 9 9 re f",
			"/ExtGState << /S << /SMask << /S /Luminosity /G 10 0 R >> >> >>",
			mask(times("0 0 90 90 re f ", 100_000)),
		),
		"functions in functions": pdf("/A sh", "/Shading << /A << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function 50 0 R >> >>", deep(40, linear, func(i int) string {
			return f("<< /FunctionType 3 /Domain [0 1] /Bounds [.5] /Encode [0 1 0 1] /Functions [%d 0 R %d 0 R] >>", i, i)
		})...),
		"a function of itself": pdf("/A sh", "/Shading << /A << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function 10 0 R >> >>", "<< /FunctionType 3 /Domain [0 1] /Bounds [] /Encode [0 1] /Functions [10 0 R] >>"),
		"a calculator of much": pdf(
			times("/A sh ", 2000),
			"/Shading << /A << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function 10 0 R >> >>",
			stream("/FunctionType 4 /Domain [0 1] /Range [0 1]", "{"+times("dup mul ", 200_000)+"}"),
		),
		"calculators in depth": pdf(
			"/A sh",
			"/Shading << /A << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function 10 0 R >> >>",
			stream("/FunctionType 4 /Domain [0 1] /Range [0 1]", times("{", 500_000)),
		),
		"calculators that roll": pdf(
			times("/A sh ", 300),
			"/Shading << /A << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 9 9] /Function 10 0 R >> >>",
			stream("/FunctionType 4 /Domain [0 1] /Range [0 1]", "{"+times("dup ", 90)+times("90 1 roll ", 20_000)+"}"),
		),
		"samples of much": pdf(
			"/A sh",
			"/Shading << /A << /ShadingType 1 /ColorSpace /DeviceGray /Function 10 0 R >> >>",
			stream("/FunctionType 0 /Domain [0 1 0 1] /Range [0 1] /Size [60000 60000] /BitsPerSample 8", "a"),
		),
		"samples of many inputs": pdf(
			times("/A sh ", 2000),
			"/Shading << /A << /ShadingType 2 /ColorSpace [/DeviceN ["+times(
				"/X ",
				8,
			)+"] /DeviceGray 10 0 R] /Coords [0 0 9 9] /Function 11 0 R >> >>",
			stream("/FunctionType 0 /Domain ["+times("0 1 ", 8)+"] /Range [0 1] /Size ["+times("2 ", 8)+"] /BitsPerSample 8", times("a", 256)),
			"["+times(linear+" ", 8)+"]",
		),
		"a mesh of much": pdf(
			times("/A sh ", 500),
			"/Shading << /A 10 0 R >>",
			stream(
				"/ShadingType 4 /ColorSpace /DeviceGray /BitsPerCoordinate 1 /BitsPerComponent 1 /BitsPerFlag 2 /Decode [0 1 0 1 0 1]",
				times("\x00", 1_000_000),
			),
		),
		"spaces in spaces": pdf(
			"/C cs 0 sc 0 0 9 9 re f",
			"/ColorSpace << /C 5010 0 R >>",
			deep(5000, "[/Indexed /DeviceGray 1 <00ff>]", func(i int) string { return f("[/Indexed %d 0 R 1 <00ff>]", i) })...,
		),
		"a space of itself": pdf("/C cs 0 sc 0 0 9 9 re f", "/ColorSpace << /C 10 0 R >>", "[/Indexed 10 0 R 1 <00ff>]"),
		"distinct inks": pdf(
			each(5000, func(i int) string { return f("/C%d cs 1 sc 0 0 9 9 re f ", i) }),
			"/ColorSpace << "+each(5000, func(i int) string { return f("/C%d [/Separation /Ink%d /DeviceGray %s] ", i, i, linear) })+" >>",
		),
		"a font of itself": font("9 0 d0 BT /F 1 Tf (a) Tj ET", "BT /F 1 Tf (a) Tj ET"),
		"a font of much":   font("9 0 d0 "+times("0 0 1 1 re f ", 20_000), "BT /F 1 Tf ("+times("a", 5000)+") Tj ET"),
		"a character map of much": pdf("BT /F 9 Tf <0000> Tj ET", "/Font << /F << /Type /Font /Subtype /Type0 /BaseFont /X /Encoding 10 0 R /DescendantFonts [<< /Type /Font /Subtype /CIDFontType2 /BaseFont /X >>] /ToUnicode 11 0 R >> >>",
			stream(
				"",
				"1 begincidrange <0000> <ffff> 0 endcidrange "+times("<0000> <ffff> 0 ", 100_000),
			), stream("", times("1 beginbfrange <0000> <ffff> <0000> endbfrange ", 5000))),
		"widths of much": pdf(
			"BT /F 9 Tf (a) Tj ET",
			"/Font << /F << /Type /Font /Subtype /Type0 /BaseFont /X /Encoding /Identity-H /DescendantFonts [<< /Type /Font /Subtype /CIDFontType2 /BaseFont /X /W ["+times(
				"0 65535 9 ",
				20_000,
			)+"] >>] >> >>",
		),
		"layers": pdf(
			each(20_000, func(i int) string { return f("/OC /L%d BDC 0 0 9 9 re f EMC ", i%1000) }),
			"/Properties << "+each(1000, func(i int) string { return f("/L%d 10 0 R ", i) })+" >>",
			"<< /Type /OCMD /OCGs ["+times("11 0 R ", 20_000)+"] /P /AllOn >>",
			"<< /Type /OCG /Name (a) >>",
		),
		"a bitmap of much": pdf(
			"/I Do",
			"/XObject << /I 10 0 R >>",
			stream("/Type /XObject /Subtype /Image /Width 60000 /Height 60000 /ColorSpace /DeviceGray /BitsPerComponent 8", "x"),
		),
		"a mask of much": pdf(
			times("/I Do ", 300),
			"/XObject << /I 10 0 R >>",
			stream("/Type /XObject /Subtype /Image /ImageMask true /Width 1000 /Height 1000 /BitsPerComponent 1", times("\xaa", 125_000)),
		),
	}
}

// pdfStructures grow by the container.
func pdfStructures() map[string]string {
	kids := func(n int) string {
		var b strings.Builder
		b.WriteString("%PDF-1.6\n1 0 obj\n<< /Type /Catalog /Pages 2 0 R >>\nendobj\n")
		for i := range n {
			fmt.Fprintf(&b, "%d 0 obj\n<< /Type /Pages /Kids [%d 0 R] /Count 1 >>\nendobj\n", i+2, i+3)
		}
		b.WriteString("trailer\n<< /Root 1 0 R >>\n")
		return b.String()
	}
	return map[string]string{
		"pages in pages":      kids(20_000),
		"pages of themselves": "%PDF-1.6\n1 0 obj\n<< /Type /Catalog /Pages 2 0 R >>\nendobj\n2 0 obj\n<< /Type /Pages /Kids [2 0 R 2 0 R] /Count 2 >>\nendobj\ntrailer\n<< /Root 1 0 R >>\n",
		"a table that lies": "%PDF-1.6\nxref\n0 2000000000\n" + times(
			"0000000000 65535 f \n",
			200_000,
		) + "trailer\n<< /Size 2000000000 /Root 1 0 R >>\nstartxref\n9\n%%EOF\n",
		"a table of much": "%PDF-1.6\nxref\n0 500000\n" + times(
			"0000000000 65535 f \n",
			500_000,
		) + "trailer\n<< /Size 500000 /Root 1 0 R >>\nstartxref\n9\n%%EOF\n",
		"tables in a ring": "%PDF-1.6\nxref\n0 1\n0000000000 65535 f \ntrailer\n<< /Size 1 /Root 1 0 R /Prev 9 >>\nstartxref\n9\n%%EOF\n",
		"tables of tables": "%PDF-1.6\n" + times("xref\n0 0\ntrailer\n<< /Prev 9 >>\n", 50_000) + "startxref\n9\n%%EOF\n",
		"objects": "%PDF-1.6\n" + each(
			200_000,
			func(i int) string { return f("%d 0 obj\n1\nendobj\n", i+1) },
		) + "trailer\n<< /Root 1 0 R >>\n",
		"arrays in arrays":      pdfOf(times("[", 500_000)+times("]", 500_000), stream("", "")),
		"dictionaries in depth": pdfOf(times("<< /a ", 300_000)+times(">>", 300_000), stream("", "")),
		"strings in depth":      pdfOf("("+times("(", 1_000_000)+times(")", 1_000_000)+")", stream("", "")),
		"references in a ring":  pdfOf("<< /Type /Page /Parent 2 0 R /MediaBox 10 0 R /Contents 10 0 R >>", stream("", ""), "11 0 R", "10 0 R"),
		"a length of itself": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /Contents 10 0 R >>",
			stream("", ""),
			"<< /Length 10 0 R >>\nstream\nx\nendstream",
		),
		"a length that lies": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /Contents 10 0 R >>",
			stream("", ""),
			"<< /Length 2000000000 >>\nstream\nx\nendstream",
		),
		"object streams that lie": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] >>",
			stream("/Type /ObjStm /N 2000000000 /First 9", "1 0 2 0"),
		),
		"annotations": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /Annots ["+times(
				"<< /Subtype /Link /Rect [0 0 1 1] >> ",
				50_000,
			)+"] /Contents 4 0 R >>",
			stream("", "0 0 9 9 re f"),
		),
		"a page of no size": pdfOf("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 1e-30 1e300] /Contents 4 0 R >>", stream("", "0 0 9 9 re f")),
		"a unit of much": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /UserUnit 1e30 /Contents 4 0 R >>",
			stream("", "0 0 9 9 re f"),
		),
		"names with many signs": pdfOf("<< /Type /Page /Parent 2 0 R /"+times("#41", 1_000_000)+" 1 /MediaBox [0 0 9 9] >>", stream("", "")),
		"comments":              "%PDF-1.6\n" + times("%\n", 5_000_000),
		"a header late":         times(" ", 1000) + "%PDF-1.6\n" + times("endobj ", 1_000_000),
		"protected": strings.Replace(
			pdf("", ""),
			"/Root 1 0 R",
			"/Root 1 0 R /Encrypt << /Filter /Standard /V 5 /R 6 /O () /U () /P 0 >>",
			1,
		),
		"predictors": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /Contents 10 0 R >>",
			stream("", ""),
			stream("/Filter /FlateDecode /DecodeParms << /Predictor 15 /Columns 2000000000 /Colors 2000000000 >>", string(packed("x"))),
		),
		"a facsimile of much": pdfOf(
			"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 9 9] /Contents 10 0 R >>",
			stream("", ""),
			stream("/Filter /CCITTFaxDecode /DecodeParms << /Columns 2000000000 /Rows 2000000000 >>", "x"),
		),
	}
}

// otherFiles are none of these, or what is around them.
func otherFiles() []hostile {
	zipped := func(s string) string { return "\x1f\x8b" + s }
	files := map[string]string{
		"a zip bomb":              string(gzipped(times("\x00", 200<<20))),
		"a zipped zip":            string(gzipped(string(gzipped(svg(""))))),
		"a zip cut off":           zipped("\x08"),
		"a zip of comments":       string(gzipped(svg(times("<!-- -->", 3_000_000)))),
		"a picture that lies":     "\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x7f\xff\xff\xff\x7f\xff\xff\xff\x08\x02\x00\x00\x00",
		"a picture of one colour": string(pngOf(2800, 2800, func(x, y int) byte { return 0 })),
		"a picture of noise":      string(pngOf(2800, 2800, noise)),
		"a picture of stripes":    string(pngOf(2800, 2800, func(x, y int) byte { return byte(x % 2 * 255) })),
		"a picture of a chequer":  string(pngOf(2800, 2800, func(x, y int) byte { return byte((x + y) % 2 * 255) })),
		"a picture of rings":      string(pngOf(2000, 2000, func(x, y int) byte { return byte(((x-1000)*(x-1000) + (y-1000)*(y-1000)) / 4000 % 2 * 255) })),
		"a long thin picture":     string(pngOf(10_000, 700, func(x, y int) byte { return byte(x * y % 251) })),
		"pictures in a drawing":   svg(times(`<image width="9" height="9" href="data:image/png;base64,`+base64Of(pngOf(900, 900, noise))+`"/>`, 8)),
		"nothing":                 "",
		"one byte":                "<",
		"text":                    times("Quay ", 1_000_000),
		"a web page":              "<!DOCTYPE html><html><body>" + times("<div>", 300_000),
		"bytes":                   each(1<<20, func(i int) string { return string(rune(i * 7919 % 256)) }),
	}
	return named("other", files)
}

func noise(x, y int) byte {
	v := uint32(x*374761393 + y*668265263)
	v = (v ^ v>>13) * 1274126177
	return byte(v >> 16)
}
