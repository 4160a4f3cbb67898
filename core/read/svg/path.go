package svg

import (
	"math"
	"strconv"

	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// scanner reads the number lists of SVG: separated by blanks, one comma, or
// nothing where a sign or a second point begins the next.
type scanner struct {
	s string
	i int
}

func (p *scanner) space() {
	for p.i < len(p.s) && (p.s[p.i] == ' ' || p.s[p.i] == ',' || p.s[p.i] == '\n' || p.s[p.i] == '\t' || p.s[p.i] == '\r' || p.s[p.i] == '\f') {
		p.i++
	}
}

// number reads one number; ok is false when there is none. Numbers too large
// for artwork come out as not finite, which the caller reports.
func (p *scanner) number() (v float64, ok bool) {
	p.space()
	from := p.i
	if p.i < len(p.s) && (p.s[p.i] == '+' || p.s[p.i] == '-') {
		p.i++
	}
	digits := 0
	for ; p.i < len(p.s) && p.s[p.i] >= '0' && p.s[p.i] <= '9'; p.i++ {
		digits++
	}
	if p.i < len(p.s) && p.s[p.i] == '.' {
		for p.i++; p.i < len(p.s) && p.s[p.i] >= '0' && p.s[p.i] <= '9'; p.i++ {
			digits++
		}
	}
	if digits == 0 {
		p.i = from
		return 0, false
	}
	if p.i < len(p.s) && (p.s[p.i] == 'e' || p.s[p.i] == 'E') {
		j := p.i + 1
		if j < len(p.s) && (p.s[j] == '+' || p.s[j] == '-') {
			j++
		}
		if j < len(p.s) && p.s[j] >= '0' && p.s[j] <= '9' {
			for ; j < len(p.s) && p.s[j] >= '0' && p.s[j] <= '9'; j++ {
			}
			p.i = j
		}
	}
	v, err := strconv.ParseFloat(p.s[from:p.i], 64)
	if err != nil || math.Abs(v) > maxNumber {
		return math.Inf(1), true
	}
	return v, true
}

// maxNumber bounds coordinates; larger ones leave no digits for the details.
const maxNumber = 1e9

// flag reads 0 or 1, which need no separator.
func (p *scanner) flag() (bool, bool) {
	p.space()
	if p.i < len(p.s) && (p.s[p.i] == '0' || p.s[p.i] == '1') {
		p.i++
		return p.s[p.i-1] == '1', true
	}
	return false, false
}

func numbers(s string) []float64 {
	p := scanner{s: s}
	var out []float64
	for {
		v, ok := p.number()
		if !ok {
			return out
		}
		out = append(out, v)
	}
}

// parsePath reads path data. On an error it returns what came before, as SVG
// asks for, and false.
func parsePath(d string, b *budget.Budget) ([]geom.Contour, bool) {
	p := scanner{s: d}
	var out []geom.Contour
	var cur *geom.Contour
	var at, start, ctrl geom.Vec
	var last byte
	open := func() {
		if cur == nil {
			out = append(out, geom.Contour{Start: at})
			cur = &out[len(out)-1]
			start = at
		}
	}
	add := func(s geom.Segment) {
		open()
		cur.Segs = append(cur.Segs, s)
		at = s.To
	}
	var cmd byte
	for {
		p.space()
		if p.i >= len(p.s) {
			return out, true
		}
		b.Visit()
		if c := p.s[p.i]; c >= 'A' && c <= 'z' && c != 'e' && c != 'E' {
			cmd = c
			p.i++
		} else if cmd == 0 || cmd == 'z' || cmd == 'Z' {
			return out, false
		}
		if len(out) == 0 && cur == nil && cmd != 'm' && cmd != 'M' {
			return out, false
		}
		rel := cmd >= 'a'
		base := geom.Vec{}
		if rel {
			base = at
		}
		good := true
		num := func() float64 {
			v, ok := p.number()
			good = good && ok
			return v
		}
		point := func() geom.Vec {
			x := num()
			y := num()
			return geom.Vec{X: base.X + x, Y: base.Y + y}
		}
		switch cmd {
		case 'M', 'm':
			q := point()
			if !good {
				return out, false
			}
			at, cur = q, nil
			open()
			cmd = 'L' + cmd - 'M' // further pairs are lines
		case 'Z', 'z':
			if cur != nil {
				cur.Closed = true
				cur = nil
			}
			at = start
		case 'L', 'l':
			q := point()
			if !good {
				return out, false
			}
			add(geom.Segment{To: q})
		case 'H', 'h':
			x := num()
			if !good {
				return out, false
			}
			add(geom.Segment{To: geom.Vec{X: base.X + x, Y: at.Y}})
		case 'V', 'v':
			y := num()
			if !good {
				return out, false
			}
			add(geom.Segment{To: geom.Vec{X: at.X, Y: base.Y + y}})
		case 'C', 'c', 'S', 's':
			c1 := at
			if cmd == 'C' || cmd == 'c' {
				c1 = point()
			} else if last == 'C' {
				c1 = at.Mul(2).Sub(ctrl)
			}
			c2 := point()
			q := point()
			if !good {
				return out, false
			}
			add(geom.Segment{Kind: geom.Cubic, C1: c1, C2: c2, To: q})
			ctrl, last = c2, 'C'
			continue
		case 'Q', 'q', 'T', 't':
			c := at
			if cmd == 'Q' || cmd == 'q' {
				c = point()
			} else if last == 'Q' {
				c = at.Mul(2).Sub(ctrl)
			}
			q := point()
			if !good {
				return out, false
			}
			add(geom.Segment{Kind: geom.Quad, C1: c, To: q})
			ctrl, last = c, 'Q'
			continue
		case 'A', 'a':
			rx, ry, phi := num(), num(), num()
			large, ok1 := p.flag()
			sweep, ok2 := p.flag()
			q := point()
			if !good || !ok1 || !ok2 {
				return out, false
			}
			open()
			for _, s := range geom.ArcTo(at, q, rx, ry, phi*math.Pi/180, large, sweep) {
				add(s)
			}
			at = q
		default:
			return out, false
		}
		last = 0
	}
}

// parseTransform reads a transform list; ok is false if part of it is not
// understood.
func parseTransform(s string) (geom.Matrix, bool) {
	m := geom.Identity
	p := scanner{s: s}
	for {
		p.space()
		if p.i >= len(p.s) {
			return m, true
		}
		from := p.i
		for p.i < len(p.s) && p.s[p.i] != '(' {
			p.i++
		}
		if p.i >= len(p.s) {
			return m, false
		}
		name := trim(p.s[from:p.i])
		p.i++
		var a []float64
		for {
			v, ok := p.number()
			if !ok {
				break
			}
			a = append(a, v)
		}
		p.space()
		if p.i >= len(p.s) || p.s[p.i] != ')' {
			return m, false
		}
		p.i++
		rad := func(i int) float64 { return a[i] * math.Pi / 180 }
		switch {
		case name == "matrix" && len(a) == 6:
			m = m.Mul(geom.Matrix{A: a[0], B: a[1], C: a[2], D: a[3], E: a[4], F: a[5]})
		case name == "translate" && len(a) == 1:
			m = m.Mul(geom.Translate(a[0], 0))
		case name == "translate" && len(a) == 2:
			m = m.Mul(geom.Translate(a[0], a[1]))
		case name == "scale" && len(a) == 1:
			m = m.Mul(geom.Scale(a[0], a[0]))
		case name == "scale" && len(a) == 2:
			m = m.Mul(geom.Scale(a[0], a[1]))
		case name == "rotate" && len(a) == 1:
			m = m.Mul(geom.Rotate(rad(0)))
		case name == "rotate" && len(a) == 3:
			m = m.Mul(geom.Translate(a[1], a[2])).Mul(geom.Rotate(rad(0))).Mul(geom.Translate(-a[1], -a[2]))
		case name == "skewX" && len(a) == 1:
			m = m.Mul(geom.Matrix{A: 1, C: math.Tan(rad(0)), D: 1})
		case name == "skewY" && len(a) == 1:
			m = m.Mul(geom.Matrix{A: 1, B: math.Tan(rad(0)), D: 1})
		default:
			return m, false
		}
	}
}
