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
	p := pathReader{scanner: scanner{s: d}}
	for {
		p.space()
		if p.i >= len(p.s) {
			return p.out, true
		}
		b.Visit()
		if !p.command() || !p.step() {
			return p.out, false
		}
	}
}

// pathReader reads path data command by command.
type pathReader struct {
	scanner
	out   []geom.Contour
	cur   *geom.Contour // that is open
	at    geom.Vec      // the current point
	start geom.Vec      // of the open contour
	cmd   byte
	bad   bool // a number was missing

	handle geom.Vec // the last handle of a curve, which a smooth one mirrors
	after  byte     // the kind of curve that it belongs to: C, Q or 0
}

// command reads a letter, or takes the one before for further numbers.
func (p *pathReader) command() bool {
	c := p.s[p.i]
	if c >= 'A' && c <= 'z' && c != 'e' && c != 'E' {
		p.cmd = c
		p.i++
	} else if p.cmd == 0 || p.cmd == 'z' || p.cmd == 'Z' {
		return false
	}
	return len(p.out) > 0 || p.cmd == 'm' || p.cmd == 'M' // a path begins with a move
}

// step reads the operands of one command and does it.
func (p *pathReader) step() bool {
	after := byte(0)
	switch p.cmd {
	case 'M', 'm':
		p.moveTo(p.point())
	case 'Z', 'z':
		if p.cur != nil {
			p.cur.Closed = true
			p.cur = nil
		}
		p.at = p.start
	case 'L', 'l':
		p.add(geom.Segment{To: p.point()})
	case 'H', 'h':
		p.add(geom.Segment{To: geom.Vec{X: p.base().X + p.num(), Y: p.at.Y}})
	case 'V', 'v':
		p.add(geom.Segment{To: geom.Vec{X: p.at.X, Y: p.base().Y + p.num()}})
	case 'C', 'c', 'S', 's':
		after = 'C'
		c1 := p.firstHandle(after, 'S')
		p.handle = p.point()
		p.add(geom.Segment{Kind: geom.Cubic, C1: c1, C2: p.handle, To: p.point()})
	case 'Q', 'q', 'T', 't':
		after = 'Q'
		p.handle = p.firstHandle(after, 'T')
		p.add(geom.Segment{Kind: geom.Quad, C1: p.handle, To: p.point()})
	case 'A', 'a':
		p.arc()
	default:
		return false
	}
	p.after = after
	return !p.bad
}

// base is what the operands of a command in small letters are counted from.
func (p *pathReader) base() geom.Vec {
	if p.cmd >= 'a' {
		return p.at
	}
	return geom.Vec{}
}

func (p *pathReader) num() float64 {
	v, ok := p.number()
	p.bad = p.bad || !ok
	return v
}

func (p *pathReader) point() geom.Vec {
	x := p.num()
	y := p.num()
	return p.base().Add(geom.Vec{X: x, Y: y})
}

// firstHandle reads the first handle of a curve; smooth commands mirror the
// last handle of a curve of their kind, or begin at the current point.
func (p *pathReader) firstHandle(kind, smooth byte) geom.Vec {
	switch {
	case p.cmd&^0x20 != smooth: // in capitals
		return p.point()
	case p.after == kind:
		return p.at.Mul(2).Sub(p.handle)
	}
	return p.at
}

func (p *pathReader) moveTo(q geom.Vec) {
	if p.bad {
		return
	}
	p.at, p.cur = q, nil
	p.open()
	p.cmd-- // further pairs are lines: M before is L now
}

func (p *pathReader) open() {
	if p.cur == nil {
		p.out = append(p.out, geom.Contour{Start: p.at})
		p.cur = &p.out[len(p.out)-1]
		p.start = p.at
	}
}

// add appends a segment, if its numbers were all there.
func (p *pathReader) add(s geom.Segment) {
	if p.bad {
		return
	}
	p.open()
	p.cur.Segs = append(p.cur.Segs, s)
	p.at = s.To
}

func (p *pathReader) arc() {
	rx, ry, phi := p.num(), p.num(), p.num()
	large, ok1 := p.flag()
	sweep, ok2 := p.flag()
	q := p.point()
	if p.bad = p.bad || !ok1 || !ok2; p.bad {
		return
	}
	p.open()
	for _, s := range geom.ArcTo(p.at, q, rx, ry, phi*math.Pi/180, large, sweep) {
		p.add(s)
	}
	p.at = q
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
