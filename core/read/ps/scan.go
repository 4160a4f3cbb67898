// Package ps runs the part of PostScript that artwork files use and collects
// what they paint: EPS files of any producer, and old PostScript-based
// artwork. The language is that of the PostScript Language Reference, third
// edition; files, devices and the like are not there, and every resource has
// a limit.
package ps

import (
	"math"
	"strconv"
)

// scanner splits PostScript text into tokens (PLRM 3.2).
type scanner struct {
	b      []byte
	i      int
	sealed bool // a decrypted part, which closefile ends

	special bool // comments beginning with %_ are operators

	fill func() ([]byte, error) // decodes the data on first use
}

type kind uint8

const (
	kNull kind = iota
	kInt
	kReal
	kBool
	kName   // literal or executable
	kString // text or binary
	kArray  // also procedures
	kDict
	kMark
	kOp   // built-in operator
	kSave // what save returns
	kFile // a *scanner
	kFont // a font dictionary made here
	kGState
)

// object is a PostScript object.
type object struct {
	kind kind
	exec bool // executable
	n    int  // int, bool
	f    float64
	s    string // name, string when immutable
	ref  any    // *array, *dict, *str, op
}

type array struct{ v []object }
type str struct{ b []byte }
type dict struct {
	m    map[string]object
	keys []string // in the order of insertion, for forall
}

func newDict() *dict { return &dict{m: map[string]object{}} }

func (d *dict) put(k string, v object) {
	if _, ok := d.m[k]; !ok {
		d.keys = append(d.keys, k)
	}
	d.m[k] = v
}

func integer(n int) object { return object{kind: kInt, n: n, f: float64(n)} }
func realNum(f float64) object {
	return object{kind: kReal, f: f, n: int(math.Max(-1<<62, math.Min(1<<62, f)))}
}
func boolean(b bool) object {
	if b {
		return object{kind: kBool, n: 1}
	}
	return object{kind: kBool}
}
func name(s string, exec bool) object { return object{kind: kName, s: s, exec: exec} }

func (o object) number() bool { return o.kind == kInt || o.kind == kReal }

// next returns the next token; ok is false at the end. Procedure braces come
// as executable names "{" and "}".
func (s *scanner) next() (o object, ok bool) {
	for s.i < len(s.b) {
		switch c := s.b[s.i]; c {
		case ' ', '\t', '\r', '\n', '\f', 0:
			s.i++
			continue
		case '%':
			if s.special && s.i+1 < len(s.b) && s.b[s.i+1] == '_' { // an operator hidden from printers
				s.i += 2
				if w := s.word(); w != "" {
					return name("%_"+w, true), true
				}
			}
			for s.i < len(s.b) && s.b[s.i] != '\n' && s.b[s.i] != '\r' {
				s.i++
			}
			continue
		case '(':
			return s.text(), true
		case '<':
			if s.i+1 < len(s.b) && s.b[s.i+1] == '<' {
				s.i += 2
				return name("<<", true), true
			}
			if s.i+1 < len(s.b) && s.b[s.i+1] == '~' {
				return s.ascii85(), true
			}
			return s.hex(), true
		case '>':
			s.i++
			if s.i < len(s.b) && s.b[s.i] == '>' {
				s.i++
				return name(">>", true), true
			}
			continue
		case '[', ']', '{', '}':
			s.i++
			return name(string(c), true), true
		case ')':
			s.i++
			continue
		case '/':
			s.i++
			if s.i < len(s.b) && s.b[s.i] == '/' {
				s.i++
				o := name(s.word(), true)
				o.n = 1 // immediately evaluated
				return o, true
			}
			return name(s.word(), false), true
		default:
			if c >= 128 && c < 160 {
				if o, ok := s.binaryToken(); ok {
					return o, true
				}
			}
			w := s.word()
			if w == "" {
				s.i++
				continue
			}
			if o, ok := numeral(w); ok {
				return o, true
			}
			return name(w, true), true
		}
	}
	return object{}, false
}

func regular(c byte) bool {
	switch c {
	case ' ', '\t', '\r', '\n', '\f', 0, '(', ')', '<', '>', '[', ']', '{', '}', '/', '%':
		return false
	}
	return c < 128 || c >= 160 // where binary tokens begin
}

// word reads a run of regular characters and the one white-space character
// that ends it, which programs reading data behind it rely on.
func (s *scanner) word() string {
	from := s.i
	for s.i < len(s.b) && regular(s.b[s.i]) {
		s.i++
	}
	w := string(s.b[from:s.i])
	if w != "" && s.i < len(s.b) {
		switch s.b[s.i] {
		case '\r':
			if s.i++; s.i < len(s.b) && s.b[s.i] == '\n' {
				s.i++
			}
		case ' ', '\t', '\n', '\f', 0:
			s.i++
		}
	}
	return w
}

func numeral(w string) (object, bool) {
	c := w[0]
	if !(c >= '0' && c <= '9' || c == '+' || c == '-' || c == '.') {
		return object{}, false
	}
	if n, err := strconv.Atoi(w); err == nil {
		return integer(n), true
	}
	if f, err := strconv.ParseFloat(w, 64); err == nil && c != 'N' && c != 'I' && !math.IsInf(f, 0) &&
		!math.IsNaN(f) {
		return realNum(f), true
	}
	for i := 1; i < len(w)-1; i++ { // base#digits
		if w[i] == '#' {
			base, err := strconv.Atoi(w[:i])
			if err == nil && base >= 2 && base <= 36 {
				if n, err := strconv.ParseUint(w[i+1:], base, 32); err == nil {
					return integer(int(int32(uint32(n)))), true
				}
			}
		}
	}
	return object{}, false
}

func (s *scanner) text() object {
	s.i++
	depth := 1
	var out []byte
	for s.i < len(s.b) {
		c := s.b[s.i]
		s.i++
		switch c {
		case '(':
			depth++
		case ')':
			if depth--; depth == 0 {
				return object{kind: kString, ref: &str{out}}
			}
		case '\\':
			if s.i >= len(s.b) {
				continue
			}
			e := s.b[s.i]
			s.i++
			switch e {
			case 'n':
				c = '\n'
			case 'r':
				c = '\r'
			case 't':
				c = '\t'
			case 'b':
				c = '\b'
			case 'f':
				c = '\f'
			case '\n':
				continue
			case '\r':
				if s.i < len(s.b) && s.b[s.i] == '\n' {
					s.i++
				}
				continue
			default:
				if e >= '0' && e <= '7' {
					v := int(e - '0')
					for k := 0; k < 2 && s.i < len(s.b) && s.b[s.i] >= '0' && s.b[s.i] <= '7'; k++ {
						v = v*8 + int(s.b[s.i]-'0')
						s.i++
					}
					c = byte(v)
				} else {
					c = e
				}
			}
		}
		out = append(out, c)
	}
	return object{kind: kString, ref: &str{out}}
}

func hexDigit(c byte) int {
	switch {
	case c >= '0' && c <= '9':
		return int(c - '0')
	case c >= 'a' && c <= 'f':
		return int(c-'a') + 10
	case c >= 'A' && c <= 'F':
		return int(c-'A') + 10
	}
	return -1
}

func (s *scanner) hex() object {
	s.i++
	var out []byte
	have, v := false, 0
	for s.i < len(s.b) {
		c := s.b[s.i]
		s.i++
		if c == '>' {
			break
		}
		d := hexDigit(c)
		if d < 0 {
			continue
		}
		if have {
			out = append(out, byte(v<<4|d))
		}
		have, v = !have, d
	}
	if have {
		out = append(out, byte(v<<4))
	}
	return object{kind: kString, ref: &str{out}}
}

func (s *scanner) ascii85() object {
	for s.i += 2; s.i < len(s.b) && s.b[s.i] != '>'; s.i++ {
	}
	s.i++
	return object{kind: kString, ref: &str{}}
}
