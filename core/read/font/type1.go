package font

import (
	"bytes"
	"encoding/binary"
	"encoding/hex"
	"errors"
	"strconv"
	"strings"

	"bildhauer/core/geom"
)

// Type1 is a Type 1 font program (Adobe Type 1 Font Format, 1990).
type Type1 struct {
	Matrix      geom.Matrix       // from glyph space to em
	Encoding    *Encoding         // the font's own
	CharStrings map[string][]byte // encrypted
	Subrs       [][]byte          // encrypted
	LenIV       int               // random bytes at the start of each; -1: not encrypted

	names []string
	index map[string]int
}

// maxCharSteps bounds the work for one glyph.
const maxCharSteps = 100_000

// Decrypt undoes eexec encryption with its key 55665, or that of charstrings
// with 4330, and drops the first skip bytes.
func Decrypt(data []byte, key uint16, skip int) []byte {
	out := make([]byte, len(data))
	for i, c := range data {
		out[i] = c ^ byte(key>>8)
		key = (uint16(c)+key)*52845 + 22719
	}
	return out[min(skip, len(out)):]
}

// ParseType1 reads a font program with or without the segment headers of PFB
// files.
func ParseType1(data []byte) (*Type1, error) {
	data = withoutSegments(data)
	at := bytes.Index(data, []byte("eexec"))
	if at < 0 {
		return nil, errors.New("is not a Type 1 font")
	}
	head, body := data[:at], data[at+5:]
	for len(body) > 0 && (body[0] == ' ' || body[0] == '\r' || body[0] == '\n' || body[0] == '\t') {
		body = body[1:]
	}
	private := Decrypt(Binary(body), 55665, 4)
	f := &Type1{
		Matrix:      geom.Scale(0.001, 0.001),
		Encoding:    Named("standard"),
		CharStrings: map[string][]byte{},
		LenIV:       4,
	}
	f.header(string(head))
	f.private(private)
	if len(f.CharStrings) == 0 {
		return nil, errors.New("is a Type 1 font without glyphs")
	}
	return f, nil
}

// Binary returns eexec data as bytes: text of hexadecimal digits is decoded.
func Binary(body []byte) []byte {
	for _, c := range body[:min(4, len(body))] {
		if !strings.ContainsRune("0123456789abcdefABCDEF \r\n\t", rune(c)) {
			return body
		}
	}
	digits := make([]byte, 0, len(body))
	for _, c := range body {
		switch {
		case c >= '0' && c <= '9', c >= 'a' && c <= 'f', c >= 'A' && c <= 'F':
			digits = append(digits, c)
		case c == ' ' || c == '\r' || c == '\n' || c == '\t':
		default:
			digits = digits[:len(digits):len(digits)]
		}
	}
	out := make([]byte, len(digits)/2)
	hex.Decode(out, digits[:len(digits)/2*2])
	return out
}

func withoutSegments(data []byte) []byte {
	var out []byte
	for len(data) >= 6 && data[0] == 0x80 && data[1] < 3 {
		n := int(data[2]) | int(data[3])<<8 | int(data[4])<<16 | int(data[5])<<24
		data = data[6:]
		n = min(max(n, 0), len(data))
		out = append(out, data[:n]...)
		data = data[n:]
	}
	if out == nil {
		return data
	}
	return out
}

func (f *Type1) header(s string) {
	if _, after, ok := strings.Cut(s, "/FontMatrix"); ok {
		if a, b := strings.IndexByte(after, '['), strings.IndexByte(after, ']'); a >= 0 && b > a {
			var v [6]float64
			fields := strings.Fields(after[a+1 : b])
			good := len(fields) == 6
			for i := range min(6, len(fields)) {
				x, err := strconv.ParseFloat(fields[i], 64)
				v[i], good = x, good && err == nil
			}
			if good && v[0]*v[3]-v[1]*v[2] != 0 {
				f.Matrix = geom.Matrix{A: v[0], B: v[1], C: v[2], D: v[3], E: v[4], F: v[5]}
			}
		}
	}
	_, after, ok := strings.Cut(s, "/Encoding")
	if !ok || strings.HasPrefix(strings.TrimSpace(after), "StandardEncoding") {
		return
	}
	f.Encoding = &Encoding{}
	w := strings.Fields(strings.ReplaceAll(after, "/", " /"))
	for i := 0; i+3 < len(w); i++ {
		if w[i] == "dup" && strings.HasPrefix(w[i+2], "/") {
			if code, err := strconv.Atoi(w[i+1]); err == nil && code >= 0 && code < 256 {
				f.Encoding[code] = w[i+2][1:]
			}
		}
		if w[i] == "readonly" || w[i] == "def" && i > 0 && w[i-1] != "for" && f.any() {
			break
		}
	}
}

func (f *Type1) any() bool {
	for _, n := range f.Encoding {
		if n != "" {
			return true
		}
	}
	return false
}

// private collects subroutines and charstrings: a length, a word such as RD
// or -|, a space and that many bytes.
func (f *Type1) private(b []byte) {
	word := func(i int) (string, int) {
		for i < len(b) && (b[i] <= ' ') {
			i++
		}
		j := i
		for j < len(b) && b[j] > ' ' && (j == i || b[j] != '/') {
			j++
		}
		return string(b[i:j]), j
	}
	inChars := false
	var last [3]string
	for i := 0; i < len(b); {
		w, j := word(i)
		if w == "" {
			break
		}
		i = j
		switch {
		case w == "/lenIV":
			v, j := word(i)
			if n, err := strconv.Atoi(v); err == nil && n >= -1 && n < 64 {
				f.LenIV, i = n, j
			}
		case w == "/CharStrings":
			inChars = true
		case w == "RD" || w == "-|":
			n, err := strconv.Atoi(last[2])
			if err != nil || n < 0 || i+1+n > len(b) {
				break
			}
			code := b[i+1 : i+1+n]
			i += 1 + n
			if inChars && strings.HasPrefix(last[1], "/") {
				if _, have := f.CharStrings[last[1][1:]]; !have {
					f.CharStrings[last[1][1:]] = code
				}
			} else if at, err := strconv.Atoi(last[1]); !inChars && err == nil && last[0] == "dup" && at >= 0 && at < 65536 {
				for len(f.Subrs) <= at {
					f.Subrs = append(f.Subrs, nil)
				}
				f.Subrs[at] = code
			}
		}
		last[0], last[1], last[2] = last[1], last[2], w
	}
}

func (f *Type1) sort() {
	if f.index != nil {
		return
	}
	f.index = map[string]int{}
	for n := range f.CharStrings {
		f.index[n] = len(f.names)
		f.names = append(f.names, n)
	}
}

// Count implements Program.
func (f *Type1) Count() int { return len(f.CharStrings) }

// ByName implements Program.
func (f *Type1) ByName(name string) int {
	f.sort()
	if i, ok := f.index[name]; ok {
		return i
	}
	return -1
}

// ByRune implements Program.
func (f *Type1) ByRune(r rune) int { return f.ByName(NameOf(r)) }

// Glyph implements Program.
func (f *Type1) Glyph(gid int) Glyph {
	f.sort()
	if gid < 0 || gid >= len(f.names) {
		return Glyph{}
	}
	g, _ := f.Named(f.names[gid])
	out := Glyph{Advance: g.Advance * f.Matrix.A}
	for _, c := range g.Contours {
		out.Contours = append(out.Contours, c.Transform(f.Matrix))
	}
	return out
}

// Named returns the glyph of a name in glyph space.
func (f *Type1) Named(name string) (Glyph, bool) {
	code, ok := f.CharStrings[name]
	if !ok {
		return Glyph{}, false
	}
	c := &char1{font: f}
	c.run(f.plain(code), 0)
	c.pen.close()
	return Glyph{Contours: c.pen.out, Advance: c.width}, true
}

func (f *Type1) plain(code []byte) []byte {
	if f.LenIV < 0 {
		return code
	}
	return Decrypt(code, 4330, f.LenIV)
}

// char1 runs a Type 1 charstring (Type 1 Font Format, chapter 6).
type char1 struct {
	font  *Type1
	stack []float64
	other []float64 // results of othersubrs, for pop
	pen   pen
	at    geom.Vec
	left  geom.Vec // side bearing
	width float64
	flex  []geom.Vec
	bend  bool // collecting flex points
	steps int
	inner bool // a part of an accented letter
}

func (c *char1) take(n int) ([]float64, bool) {
	if len(c.stack) < n {
		return make([]float64, n), false
	}
	return c.stack[len(c.stack)-n:], true
}

func (c *char1) moveBy(x, y float64) {
	c.at = c.at.Add(geom.Vec{X: x, Y: y})
	if c.bend {
		c.flex = append(c.flex, c.at)
		return
	}
	c.pen.move(c.at)
}

func (c *char1) lineBy(x, y float64) {
	c.pen.at = c.at
	c.at = c.at.Add(geom.Vec{X: x, Y: y})
	c.pen.line(c.at)
}

func (c *char1) curveBy(x1, y1, x2, y2, x3, y3 float64) {
	c.pen.at = c.at
	a := c.at.Add(geom.Vec{X: x1, Y: y1})
	b := a.Add(geom.Vec{X: x2, Y: y2})
	c.at = b.Add(geom.Vec{X: x3, Y: y3})
	c.pen.cubic(a, b, c.at)
}

// run reports whether the glyph goes on.
func (c *char1) run(code []byte, depth int) bool {
	if depth > 12 {
		return false
	}
	for i := 0; i < len(code); {
		if c.steps++; c.steps > maxCharSteps || len(c.stack) > 200 {
			return false
		}
		b := code[i]
		if b >= 32 {
			n := c.operand(code[i:])
			if n == 0 {
				return false
			}
			i += n
			continue
		}
		i++
		switch b {
		case 10: // callsubr
			if !c.subroutine(depth) {
				return false
			}
		case 11: // return
			return true
		case 12:
			if i >= len(code) || !c.escape(code[i]) {
				return false
			}
			i++
		case 14: // endchar
			return false
		default:
			if f := char1Operators[b]; f != nil {
				f(c)
			}
			c.stack = c.stack[:0]
		}
	}
	return true
}

// operand reads a number (Adobe Type 1 Font Format, 6.2) and returns how many
// bytes it takes, 0 when they are not all there.
func (c *char1) operand(code []byte) int {
	b := code[0]
	switch {
	case b <= 246:
		c.stack = append(c.stack, float64(b)-139)
		return 1
	case b <= 250 && len(code) > 1:
		c.stack = append(c.stack, float64(int(b)-247)*256+float64(code[1])+108)
		return 2
	case b <= 254 && len(code) > 1:
		c.stack = append(c.stack, -float64(int(b)-251)*256-float64(code[1])-108)
		return 2
	case b == 255 && len(code) > 4:
		c.stack = append(c.stack, float64(int32(binary.BigEndian.Uint32(code[1:]))))
		return 5
	}
	return 0
}

// char1Operators draw, and leave an empty stack.
var char1Operators = [32]func(c *char1){
	4: func(c *char1) { // vmoveto
		v, _ := c.take(1)
		c.moveBy(0, v[0])
	},
	5: func(c *char1) { // rlineto
		v, _ := c.take(2)
		c.lineBy(v[0], v[1])
	},
	6: func(c *char1) { // hlineto
		v, _ := c.take(1)
		c.lineBy(v[0], 0)
	},
	7: func(c *char1) { // vlineto
		v, _ := c.take(1)
		c.lineBy(0, v[0])
	},
	8: func(c *char1) { // rrcurveto
		v, _ := c.take(6)
		c.curveBy(v[0], v[1], v[2], v[3], v[4], v[5])
	},
	9: func(c *char1) { c.pen.close() },
	13: func(c *char1) { // hsbw
		v, _ := c.take(2)
		c.bearing(geom.Vec{X: v[0]}, v[1])
	},
	21: func(c *char1) { // rmoveto
		v, _ := c.take(2)
		c.moveBy(v[0], v[1])
	},
	22: func(c *char1) { // hmoveto
		v, _ := c.take(1)
		c.moveBy(v[0], 0)
	},
	30: func(c *char1) { // vhcurveto
		v, _ := c.take(4)
		c.curveBy(0, v[0], v[1], v[2], v[3], 0)
	},
	31: func(c *char1) { // hvcurveto
		v, _ := c.take(4)
		c.curveBy(v[0], 0, v[1], v[2], 0, v[3])
	},
}

// subroutine runs the subroutine whose number is on the stack.
func (c *char1) subroutine(depth int) bool {
	v, ok := c.take(1)
	if !ok {
		return false
	}
	n := int(v[0])
	c.stack = c.stack[:len(c.stack)-1]
	return n >= 0 && n < len(c.font.Subrs) && c.run(c.font.plain(c.font.Subrs[n]), depth+1)
}

// escape runs an operator of two bytes; it returns false where the glyph ends.
func (c *char1) escape(b byte) bool {
	switch b {
	case 6: // seac
		v, ok := c.take(5)
		if ok && !c.inner {
			c.accent(v[0], geom.Vec{X: v[1], Y: v[2]}, int(v[3]), int(v[4]))
		}
		return false
	case 12: // div
		v, ok := c.take(2)
		if !ok || v[1] == 0 {
			return false
		}
		c.stack = append(c.stack[:len(c.stack)-2], v[0]/v[1])
		return true
	case 16: // callothersubr
		return c.othersubr()
	case 17: // pop
		x := 0.0
		if n := len(c.other); n > 0 {
			x, c.other = c.other[n-1], c.other[:n-1]
		}
		c.stack = append(c.stack, x)
		return true
	case 7: // sbw
		v, _ := c.take(4)
		c.bearing(geom.Vec{X: v[0], Y: v[1]}, v[2])
	case 33: // setcurrentpoint
		v, _ := c.take(2)
		c.at = geom.Vec{X: v[0], Y: v[1]}
	}
	c.stack = c.stack[:0]
	return true
}

func (c *char1) bearing(left geom.Vec, width float64) {
	if !c.inner {
		c.left, c.width, c.at = left, width, left
		return
	}
	c.at = c.at.Add(left)
	c.left = left
}

// othersubr serves flex (0 to 2) and hint replacement (3); others leave their
// arguments for pop.
func (c *char1) othersubr() bool {
	v, ok := c.take(2)
	if !ok {
		return false
	}
	n, which := int(v[0]), int(v[1])
	c.stack = c.stack[:len(c.stack)-2]
	if n < 0 || n > len(c.stack) {
		return false
	}
	args := append([]float64(nil), c.stack[len(c.stack)-n:]...)
	c.stack = c.stack[:len(c.stack)-n]
	c.other = c.other[:0]
	switch which {
	case 1:
		c.bend, c.flex = true, c.flex[:0]
	case 2:
	case 0:
		c.bend = false
		if len(c.flex) == 7 {
			f := c.flex
			c.pen.at = c.pen.last(f[0])
			c.pen.cubic(f[1], f[2], f[3])
			c.pen.cubic(f[4], f[5], f[6])
			c.at = f[6]
		}
		c.other = append(c.other, c.at.Y, c.at.X)
	case 3:
		c.other = append(c.other, 3)
	default:
		for i := len(args) - 1; i >= 0; i-- {
			c.other = append(c.other, args[i])
		}
	}
	return true
}

// last returns where the pen is, or v when it has drawn nothing.
func (p *pen) last(v geom.Vec) geom.Vec {
	if p.open {
		return p.at
	}
	return v
}

// accent draws a base letter and an accent, both by their standard codes.
func (c *char1) accent(bearing float64, at geom.Vec, base, mark int) {
	std := Named("standard")
	part := func(code int, origin geom.Vec) []geom.Contour {
		if code < 0 || code > 255 {
			return nil
		}
		s, ok := c.font.CharStrings[std[code]]
		if !ok {
			return nil
		}
		in := &char1{font: c.font, inner: true, at: origin}
		in.run(c.font.plain(s), 0)
		in.pen.close()
		return in.pen.out
	}
	out := part(base, geom.Vec{})
	shift := at.Add(geom.Vec{X: c.left.X - bearing})
	c.pen.out = append(out, part(mark, shift)...)
	c.pen.open = false
}
