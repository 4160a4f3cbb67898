// Package forge makes small font programs for the tests of the readers.
package forge

import (
	"encoding/hex"
	"fmt"
	"strings"
)

// encrypt is the inverse of font.Decrypt, with four bytes in front.
func encrypt(data []byte, key uint16) []byte {
	data = append([]byte{7, 7, 7, 7}, data...)
	out := make([]byte, len(data))
	for i, p := range data {
		c := p ^ byte(key>>8)
		out[i] = c
		key = (uint16(c)+key)*52845 + 22719
	}
	return out
}

// charstring assembles numbers and operators of a Type 1 glyph.
func charstring(text string) []byte {
	ops := map[string][]byte{
		"hsbw":      {13},
		"rlineto":   {5},
		"hlineto":   {6},
		"vlineto":   {7},
		"rrcurveto": {8},
		"closepath": {9},
		"callsubr":  {10},
		"return":    {11},
		"endchar": {
			14,
		},
		"rmoveto":         {21},
		"hmoveto":         {22},
		"vmoveto":         {4},
		"seac":            {12, 6},
		"div":             {12, 12},
		"callothersubr":   {12, 16},
		"pop":             {12, 17},
		"setcurrentpoint": {12, 33},
	}
	var out []byte
	for _, w := range strings.Fields(text) {
		if op, ok := ops[w]; ok {
			out = append(out, op...)
			continue
		}
		var n int
		fmt.Sscan(w, &n)
		switch {
		case n >= -107 && n <= 107:
			out = append(out, byte(n+139))
		case n >= 108 && n <= 1131:
			out = append(out, byte((n-108)>>8+247), byte(n-108))
		case n <= -108 && n >= -1131:
			out = append(out, byte((-n-108)>>8+251), byte(-n-108))
		default:
			out = append(out, 255, byte(n>>24), byte(n>>16), byte(n>>8), byte(n))
		}
	}
	return out
}

// Type1 returns a Type 1 font in hexadecimal text, without the words that
// follow it in a program. A is 600 wide, a square of 500; acute is a square of
// 100 in the height of 600; Aacute puts it on the A at x = 200; B is a square
// whose right side is a flex that bulges by nothing; C halves a number and
// draws through a subroutine.
func Type1() string {
	glyphs := []struct{ name, code string }{
		{".notdef", "0 250 hsbw endchar"},
		{"A", "50 600 hsbw 0 vmoveto 500 hlineto 500 vlineto -500 hlineto closepath endchar"},
		{"acute", "10 300 hsbw 600 vmoveto 100 hlineto 100 vlineto -100 hlineto closepath endchar"},
		{"Aacute", "50 600 hsbw 10 200 0 65 194 seac"},
		{
			"B",
			"0 600 hsbw 0 hmoveto 500 hlineto 1 callsubr 0 250 rmoveto 2 callsubr 0 -150 rmoveto 2 callsubr 0 50 rmoveto 2 callsubr 0 100 rmoveto 2 callsubr 0 50 rmoveto 2 callsubr 0 100 rmoveto 2 callsubr 0 100 rmoveto 2 callsubr 50 500 500 0 callsubr -500 hlineto closepath endchar",
		},
		{"C", "0 1200 2 div hsbw 0 hmoveto 4 callsubr closepath endchar"},
	}
	subrs := []string{
		"3 0 callothersubr pop pop setcurrentpoint return",
		"0 1 callothersubr return",
		"0 2 callothersubr return",
		"return",
		"200 hlineto 200 vlineto -200 hlineto return",
	}
	var b strings.Builder
	b.WriteString(
		"dup /Private 8 dict dup begin /RD {string currentfile exch readstring pop} executeonly def /ND {noaccess def} executeonly def /NP {noaccess put} executeonly def /lenIV 4 def\n",
	)
	fmt.Fprintf(&b, "/Subrs %d array\n", len(subrs))
	for i, s := range subrs {
		c := encrypt(charstring(s), 4330)
		fmt.Fprintf(&b, "dup %d %d RD %s NP\n", i, len(c), c)
	}
	fmt.Fprintf(&b, "ND\n2 index /CharStrings %d dict dup begin\n", len(glyphs))
	for _, g := range glyphs {
		c := encrypt(charstring(g.code), 4330)
		fmt.Fprintf(&b, "/%s %d RD %s ND\n", g.name, len(c), c)
	}
	b.WriteString(
		"end end readonly put noaccess put dup/FontName get exch definefont pop mark currentfile closefile\n",
	)
	private := hex.EncodeToString(encrypt([]byte(b.String()), 55665))
	var lines strings.Builder
	for len(private) > 64 {
		lines.WriteString(private[:64] + "\n")
		private = private[64:]
	}
	return "%!PS-AdobeFont-1.0: Forge\n11 dict begin /FontType 1 def /FontName /Forge def /FontMatrix [0.001 0 0 0.001 0 0] readonly def /PaintType 0 def\n" +
		"/Encoding 256 array 0 1 255 {1 index exch /.notdef put} for dup 65 /A put dup 66 /B put dup 67 /C put dup 97 /Aacute put readonly def /FontBBox {0 0 1000 1000} readonly def\ncurrentdict end\ncurrentfile eexec\n" +
		lines.String() + private + "\n" + strings.Repeat(
		strings.Repeat("0", 64)+"\n",
		8,
	)
}
