// Package font turns characters and glyphs into outlines: from the shipped
// fonts, from font files that were added, and from font programs embedded in
// artwork (TrueType, OpenType, CFF, Type 1).
package font

import "bildhauer/core/geom"

// Glyph is the outline of a glyph and how far it moves the pen, in em, y up.
type Glyph struct {
	Contours []geom.Contour
	Advance  float64
}

// Program is a font program. Glyph numbers that a lookup does not find are -1;
// Glyph answers a number out of range with an empty glyph.
type Program interface {
	Glyph(gid int) Glyph
	ByName(name string) int
	ByRune(r rune) int
	Count() int
}

// pen collects contours. Fonts close them without saying so.
type pen struct {
	out  []geom.Contour
	open bool
	at   geom.Vec
}

func (p *pen) move(v geom.Vec) {
	p.close()
	p.out = append(p.out, geom.Contour{Start: v, Closed: true})
	p.open, p.at = true, v
}

func (p *pen) add(s geom.Segment) {
	if !p.open {
		p.move(p.at)
	}
	c := &p.out[len(p.out)-1]
	c.Segs = append(c.Segs, s)
	p.at = s.To
}

func (p *pen) line(v geom.Vec)        { p.add(geom.Segment{To: v}) }
func (p *pen) quad(a, v geom.Vec)     { p.add(geom.Segment{Kind: geom.Quad, C1: a, To: v}) }
func (p *pen) cubic(a, b, v geom.Vec) { p.add(geom.Segment{Kind: geom.Cubic, C1: a, C2: b, To: v}) }

// close ends the contour and drops it when it draws nothing.
func (p *pen) close() {
	if n := len(p.out); p.open && len(p.out[n-1].Segs) == 0 {
		p.out = p.out[:n-1]
	}
	p.open = false
}

// Slope is how far letters lean that have to be slanted (11.3 degrees).
const Slope = 0.2

// Slanted returns the glyph leaning to the right.
func Slanted(g Glyph) Glyph {
	out := Glyph{Advance: g.Advance}
	for _, c := range g.Contours {
		out.Contours = append(out.Contours, c.Transform(geom.Matrix{A: 1, C: Slope, D: 1}))
	}
	return out
}
