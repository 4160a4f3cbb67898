package font

import (
	"encoding/binary"
	"fmt"
	"strconv"
	"strings"
	"testing"

	"bildhauer/core/geom"
)

// charstring encodes a program (Adobe Type 1 Font Format, chapter 6).
func charstring(t *testing.T, program string) []byte {
	t.Helper()
	codes := map[string][]byte{
		"hstem": {1}, "vstem": {3}, "vmoveto": {4}, "rlineto": {5}, "hlineto": {6}, "vlineto": {7},
		"rrcurveto": {8}, "closepath": {9}, "callsubr": {10}, "return": {11}, "hsbw": {13}, "endchar": {14},
		"rmoveto": {21}, "hmoveto": {22}, "vhcurveto": {30}, "hvcurveto": {31},
		"dotsection": {12, 0}, "seac": {12, 6}, "sbw": {12, 7}, "div": {12, 12}, "callothersubr": {12, 16},
		"pop": {12, 17}, "setcurrentpoint": {12, 33},
	}
	var out []byte
	for _, w := range strings.Fields(program) {
		if code, ok := codes[w]; ok {
			out = append(out, code...)
			continue
		}
		n, err := strconv.Atoi(w)
		if err != nil {
			t.Fatalf("%q is no operator", w)
		}
		switch {
		case n >= -107 && n <= 107:
			out = append(out, byte(n+139))
		case n >= 108 && n <= 1131:
			out = append(out, byte((n-108)>>8+247), byte(n-108))
		case n >= -1131 && n <= -108:
			out = append(out, byte((-n-108)>>8+251), byte(-n-108))
		default:
			out = binary.BigEndian.AppendUint32(append(out, 255), uint32(int32(n)))
		}
	}
	return out
}

// drawn writes contours in absolute coordinates.
func drawn(contours []geom.Contour) string {
	var out []string
	add := func(letter string, points ...geom.Vec) {
		for _, p := range points {
			letter += fmt.Sprintf(" %g,%g", p.X, p.Y)
		}
		out = append(out, letter)
	}
	for _, c := range contours {
		add("M", c.Start)
		for _, s := range c.Segs {
			if s.Kind == geom.Cubic {
				add("C", s.C1, s.C2, s.To)
			} else {
				add("L", s.To)
			}
		}
	}
	return strings.Join(out, " ")
}

// TestCharstrings runs each operator and compares the outline with the book.
func TestCharstrings(t *testing.T) {
	f := &Type1{LenIV: -1, CharStrings: map[string][]byte{
		"A":     charstring(t, "10 500 hsbw 0 hmoveto 100 hlineto 100 vlineto closepath endchar"),
		"acute": charstring(t, "30 200 hsbw 0 hmoveto 9 hlineto 9 vlineto closepath endchar"),
	}}
	for _, program := range []string{"5 5 rlineto 5 hlineto return", "5 vlineto 0 callsubr return", "2 callsubr",
		"return", "endchar"} {
		f.Subrs = append(f.Subrs, charstring(t, program))
	}
	for _, c := range []struct{ name, program, want string }{
		// Moves and lines.
		{
			"rmoveto and rlineto",
			"10 20 rmoveto 5 6 rlineto -1 0 rlineto closepath endchar",
			"M 10,20 L 15,26 L 14,26",
		},
		{
			"hmoveto and vlineto",
			"10 hmoveto 7 vlineto 3 hlineto closepath endchar",
			"M 10,0 L 10,7 L 13,7",
		},
		{
			"vmoveto and hlineto",
			"10 vmoveto 7 hlineto 3 vlineto closepath endchar",
			"M 0,10 L 7,10 L 7,13",
		},
		{
			"hsbw says where to begin and how wide",
			"50 600 hsbw 1 hmoveto 5 hlineto 5 vlineto closepath endchar",
			"width 600 M 51,0 L 56,0 L 56,5",
		},
		{
			"sbw does so in both directions",
			"50 20 600 0 sbw 0 hmoveto 5 hlineto 5 vlineto closepath endchar",
			"width 600 M 50,20 L 55,20 L 55,25",
		},
		{
			"two contours",
			"0 hmoveto 5 hlineto 5 vlineto closepath 10 hmoveto 5 hlineto 5 vlineto closepath endchar",
			"M 0,0 L 5,0 L 5,5 M 15,5 L 20,5 L 20,10",
		},
		{
			"a contour that draws nothing",
			"7 hmoveto closepath 0 hmoveto 5 hlineto 5 vlineto closepath endchar",
			"M 7,0 L 12,0 L 12,5",
		},
		{
			"setcurrentpoint",
			"0 hmoveto 5 hlineto 5 vlineto closepath 40 40 setcurrentpoint 1 hmoveto 5 hlineto 5 vlineto endchar",
			"M 0,0 L 5,0 L 5,5 M 41,40 L 46,40 L 46,45",
		},
		// Curves.
		{
			"rrcurveto",
			"0 hmoveto 1 2 3 4 5 6 rrcurveto closepath endchar",
			"M 0,0 C 1,2 4,6 9,12",
		},
		{
			"vhcurveto",
			"0 hmoveto 10 5 5 10 vhcurveto closepath endchar",
			"M 0,0 C 0,10 5,15 15,15",
		},
		{
			"hvcurveto",
			"0 hmoveto 10 5 5 10 hvcurveto closepath endchar",
			"M 0,0 C 10,0 15,5 15,15",
		},
		{
			"flex becomes two curves",
			"0 hmoveto 0 1 callothersubr 50 10 rmoveto 0 2 callothersubr -40 -10 rmoveto 0 2 callothersubr 20 5 " +
				"rmoveto 0 2 callothersubr 20 5 rmoveto 0 2 callothersubr 20 -2 rmoveto 0 2 callothersubr 20 -4 " +
				"rmoveto 0 2 callothersubr 10 -4 rmoveto 0 2 callothersubr 50 100 0 3 0 callothersubr pop pop " +
				"setcurrentpoint 5 vlineto closepath endchar",
			"M 0,0 C 10,0 30,5 50,10 C 70,8 90,4 100,0 L 100,5",
		},
		// Numbers.
		{
			"of one byte",
			"-107 hmoveto 107 hlineto 5 vlineto closepath endchar",
			"M -107,0 L 0,0 L 0,5",
		},
		{
			"of two bytes",
			"-1131 hmoveto 1131 hlineto 108 vlineto closepath endchar",
			"M -1131,0 L 0,0 L 0,108",
		},
		{
			"of five bytes",
			"-100000 hmoveto 100000 hlineto 5000 vlineto closepath endchar",
			"M -100000,0 L 0,0 L 0,5000",
		},
		{
			"div",
			"0 hmoveto 7 2 div hlineto 5 vlineto closepath endchar",
			"M 0,0 L 3.5,0 L 3.5,5",
		},
		{
			"div by nothing ends the glyph",
			"0 hmoveto 5 hlineto 7 0 div 5 vlineto closepath endchar",
			"M 0,0 L 5,0",
		},
		// Hints draw nothing.
		{
			"hstem, vstem and dotsection",
			"0 10 hstem 0 10 vstem dotsection 0 hmoveto 5 hlineto 5 vlineto closepath endchar",
			"M 0,0 L 5,0 L 5,5",
		},
		{
			"hint replacement",
			"0 hmoveto 5 hlineto 4 1 3 callothersubr pop callsubr 5 vlineto closepath endchar",
			"M 0,0 L 5,0 L 5,5",
		},
		// Subroutines and accents.
		{
			"callsubr",
			"0 hmoveto 0 callsubr closepath endchar",
			"M 0,0 L 5,5 L 10,5",
		},
		{
			"a subroutine in a subroutine",
			"0 hmoveto 1 callsubr closepath endchar",
			"M 0,0 L 0,5 L 5,10 L 10,10",
		},
		{
			"a subroutine that calls itself",
			"0 hmoveto 5 hlineto 2 callsubr 5 vlineto closepath endchar",
			"M 0,0 L 5,0",
		},
		{
			"a subroutine that is missing",
			"0 hmoveto 5 hlineto 9 callsubr 5 vlineto closepath endchar",
			"M 0,0 L 5,0",
		},
		{
			"endchar in a subroutine",
			"0 hmoveto 5 hlineto 4 callsubr 5 vlineto closepath",
			"M 0,0 L 5,0",
		},
		{
			"seac puts a mark on a letter",
			"20 500 hsbw 20 100 50 65 194 seac",
			"width 500 M 10,0 L 110,0 L 110,100 M 130,50 L 139,50 L 139,59",
		},
		{
			"seac of letters that are missing",
			"20 500 hsbw 20 100 50 66 67 seac",
			"width 500 ",
		},
		{
			"an unknown othersubr hands its operands back",
			"0 hmoveto 7 8 2 99 callothersubr pop pop rlineto 5 vlineto closepath endchar",
			"M 0,0 L 7,8 L 7,13",
		},
		// What is damaged.
		{
			"too few operands count as none",
			"0 hmoveto 5 hlineto rlineto 5 vlineto closepath endchar",
			"M 0,0 L 5,0 L 5,0 L 5,5",
		},
		{
			"nothing",
			"",
			"",
		},
		{
			"no endchar",
			"0 hmoveto 5 hlineto 5 vlineto closepath",
			"M 0,0 L 5,0 L 5,5",
		},
		{
			"a letter without a move before",
			"5 hlineto 5 vlineto closepath endchar",
			"M 0,0 L 5,0 L 5,5",
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			run := &char1{font: f}
			run.run(charstring(t, c.program), 0)
			run.pen.close()
			got := drawn(run.pen.out)
			if run.width != 0 {
				got = fmt.Sprintf("width %g ", run.width) + got
			}
			if got != c.want {
				t.Errorf("got  %s\nwant %s", got, c.want)
			}
		})
	}
}

// TestCharstringsEnd runs programs that never end by themselves, and every
// byte as a program of its own.
func TestCharstringsEnd(t *testing.T) {
	f := &Type1{LenIV: -1}
	f.Subrs = [][]byte{charstring(t, strings.Repeat("1 callsubr ", 50)), charstring(t, strings.Repeat("0 callsubr ", 50))}
	run := &char1{font: f}
	run.run(charstring(t, strings.Repeat("0 callsubr ", 50)), 0)
	if run.steps > maxCharSteps+100 {
		t.Errorf("%d steps", run.steps)
	}
	full := &char1{font: f}
	if full.run(charstring(t, strings.Repeat("1 ", 500)), 0); len(full.stack) > 201 {
		t.Errorf("%d operands on the stack", len(full.stack))
	}
	for b := range 256 {
		for second := range 256 {
			one := &char1{font: f}
			one.run([]byte{byte(b), byte(second)}, 0)
		}
	}
}
