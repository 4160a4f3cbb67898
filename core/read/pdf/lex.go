package pdf

import (
	"math"
	"strconv"
)

// The operands of content streams: float64, string (the bytes of a string),
// name, bool, nil, []any and map[name]any.
type name string

// operator is a word that is none of these.
type operator string

// lexer splits a content stream into objects (ISO 32000-1, 7.2 and 7.8.2).
type lexer struct {
	b []byte
	i int
}

func white(c byte) bool {
	return c == ' ' || c == '\n' || c == '\r' || c == '\t' || c == '\f' || c == 0
}
func delimiter(c byte) bool {
	switch c {
	case '(', ')', '<', '>', '[', ']', '{', '}', '/', '%':
		return true
	}
	return false
}

func (l *lexer) skip() {
	for l.i < len(l.b) {
		switch c := l.b[l.i]; {
		case white(c):
			l.i++
		case c == '%':
			for l.i < len(l.b) && l.b[l.i] != '\n' && l.b[l.i] != '\r' {
				l.i++
			}
		default:
			return
		}
	}
}

// next returns the next object; ok is false at the end.
func (l *lexer) next(depth int) (o any, ok bool) {
	l.skip()
	if l.i >= len(l.b) {
		return nil, false
	}
	switch c := l.b[l.i]; c {
	case '/':
		l.i++
		return name(l.name()), true
	case '(':
		return l.text(), true
	case '<':
		if l.i+1 < len(l.b) && l.b[l.i+1] == '<' {
			l.i += 2
			d := map[name]any{}
			for depth < 50 {
				k, ok := l.next(depth + 1)
				if !ok || k == operator(">>") {
					break
				}
				v, ok := l.next(depth + 1)
				if !ok || v == operator(">>") {
					break
				}
				if n, is := k.(name); is {
					d[n] = v
				}
			}
			return d, true
		}
		return l.hex(), true
	case '>':
		l.i++
		if l.i < len(l.b) && l.b[l.i] == '>' {
			l.i++
			return operator(">>"), true
		}
		return operator(">"), true
	case '[':
		l.i++
		a := []any{}
		for depth < 50 {
			v, ok := l.next(depth + 1)
			if !ok || v == operator("]") {
				break
			}
			a = append(a, v)
		}
		return a, true
	case ']', '{', '}', ')':
		l.i++
		return operator(string(c)), true
	}
	from := l.i
	for l.i < len(l.b) && !white(l.b[l.i]) && !delimiter(l.b[l.i]) {
		l.i++
	}
	w := string(l.b[from:l.i])
	if c := w[0]; c >= '0' && c <= '9' || c == '+' || c == '-' || c == '.' {
		if v, ok := number(w); ok {
			return v, true
		}
	}
	switch w {
	case "true":
		return true, true
	case "false":
		return false, true
	case "null":
		return nil, true
	}
	return operator(w), true
}

// number reads a number as readers do: doubled signs and what follows a
// second sign are forgiven.
func number(w string) (float64, bool) {
	if v, err := strconv.ParseFloat(w, 64); err == nil {
		return v, !math.IsNaN(v) && !math.IsInf(v, 0)
	}
	for len(w) > 1 && (w[0] == '-' || w[0] == '+') && (w[1] == '-' || w[1] == '+') {
		w = w[1:]
	}
	for i := 1; i < len(w); i++ {
		if w[i] == '-' {
			w = w[:i]
			break
		}
	}
	v, err := strconv.ParseFloat(w, 64)
	return v, err == nil && !math.IsNaN(v) && !math.IsInf(v, 0)
}

func (l *lexer) name() string {
	var out []byte
	for l.i < len(l.b) && !white(l.b[l.i]) && !delimiter(l.b[l.i]) {
		c := l.b[l.i]
		if c == '#' && l.i+2 < len(l.b) {
			if v, err := strconv.ParseUint(string(l.b[l.i+1:l.i+3]), 16, 8); err == nil {
				c = byte(v)
				l.i += 2
			}
		}
		out = append(out, c)
		l.i++
	}
	return string(out)
}

func (l *lexer) text() string {
	var out []byte
	depth := 0
	for l.i < len(l.b) {
		c := l.b[l.i]
		l.i++
		switch c {
		case '(':
			if depth++; depth == 1 {
				continue
			}
		case ')':
			if depth--; depth == 0 {
				return string(out)
			}
		case '\\':
			if l.i >= len(l.b) {
				return string(out)
			}
			c = l.b[l.i]
			l.i++
			switch c {
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
			case '\r':
				if l.i < len(l.b) && l.b[l.i] == '\n' {
					l.i++
				}
				continue
			case '\n':
				continue
			default:
				if c >= '0' && c <= '7' {
					v := int(c - '0')
					for k := 0; k < 2 && l.i < len(l.b) && l.b[l.i] >= '0' && l.b[l.i] <= '7'; k++ {
						v = v*8 + int(l.b[l.i]-'0')
						l.i++
					}
					c = byte(v)
				}
			}
		}
		out = append(out, c)
	}
	return string(out)
}

func (l *lexer) hex() string {
	l.i++
	var out []byte
	half, v := false, byte(0)
	for l.i < len(l.b) {
		c := l.b[l.i]
		l.i++
		var d byte
		switch {
		case c >= '0' && c <= '9':
			d = c - '0'
		case c >= 'a' && c <= 'f':
			d = c - 'a' + 10
		case c >= 'A' && c <= 'F':
			d = c - 'A' + 10
		case c == '>':
			if half {
				out = append(out, v<<4)
			}
			return string(out)
		default:
			continue
		}
		if half {
			out = append(out, v<<4|d)
		}
		half, v = !half, d
	}
	return string(out)
}

// inlineImage reads an inline image whose BI has been read: its entries and
// its data.
func (l *lexer) inlineImage() (map[name]any, []byte) {
	d := map[name]any{}
	for {
		k, ok := l.next(0)
		if !ok || k == operator("ID") {
			break
		}
		v, ok := l.next(0)
		if !ok || v == operator("ID") {
			break
		}
		if n, is := k.(name); is {
			d[n] = v
		}
	}
	// EI between white space ends it, when what follows looks like text.
	from := min(len(l.b), l.i+1)
	for i := from; i+2 <= len(l.b); i++ {
		if l.b[i] != 'E' || l.b[i+1] != 'I' || i > 0 && !white(l.b[i-1]) ||
			i+2 < len(l.b) && !white(l.b[i+2]) {
			continue
		}
		plain := true
		for _, c := range l.b[i+2 : min(len(l.b), i+12)] {
			plain = plain && (c < 127 && c > 31 || white(c))
		}
		if plain {
			l.i = i + 2
			return d, l.b[from:i]
		}
	}
	l.i = len(l.b)
	return d, l.b[from:]
}
