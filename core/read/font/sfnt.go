package font

import (
	"bytes"
	"fmt"
	"math"
	"sync"

	"github.com/go-text/typesetting/di"
	gotext "github.com/go-text/typesetting/font"
	ot "github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/language"

	"bildhauer/core/geom"
)

// Face is a TrueType or OpenType font.
type Face struct {
	Family string
	Weight int // 100 to 900
	Italic bool
	Added  bool // a file of the person, not a shipped one

	drawn *Drawn // letters of a document; there is no font program then
	font  *gotext.Font
	upem  float64
	names func() map[string]int
	count int
	bytes int64
	file  []byte // that it was parsed from, of added fonts

	mu   sync.Mutex
	face *gotext.Face
}

// Source returns the file that a font was parsed from, for reading it again elsewhere.
func (f *Face) Source() []byte { return f.file }

// Try makes the outlines of all letters of a font and sets a few words in it, so that what is
// damaged in it shows at once.
func (f *Face) Try() (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("is a font with damaged letters")
		}
	}()
	for it := f.font.Cmap.Iter(); it.Next(); {
		_, gid := it.Char()
		f.Glyph(int(gid))
	}
	f.Shape([]rune("Quay 12 fi"), nil, di.DirectionLTR, language.Latin)
	return nil
}

// Bytes returns about how much memory the font holds.
func (f *Face) Bytes() int64 { return f.bytes }

// ParseFace reads a TTF, OTF, TTC (its first font) or WOFF file. Errors are
// the rest of a sentence that begins with the file's name.
func ParseFace(data []byte) (f *Face, err error) {
	defer func() {
		if p := recover(); p != nil {
			f, err = nil, fmt.Errorf("is a font with damaged tables")
		}
	}()
	if bytes.HasPrefix(data, []byte("wOF2")) {
		return nil, fmt.Errorf(
			"is a WOFF2 font, which is not read. Take the TTF, OTF or WOFF file of the same font",
		)
	}
	faces, err := gotext.ParseTTC(bytes.NewReader(data))
	if err != nil || len(faces) == 0 {
		return nil, fmt.Errorf("is not a font that is read (TTF, OTF or WOFF)")
	}
	g := faces[0].Font
	d := g.Describe()
	f = newFace(g, d.Family, int(d.Aspect.Weight), d.Aspect.Style == gotext.StyleItalic)
	f.file = data
	f.bytes = 7 * int64(len(data)) // its tables, parsed, and the outlines met so far
	return f, nil
}

func newFace(g *gotext.Font, family string, weight int, italic bool) *Face {
	f := &Face{
		Family: family,
		Weight: weight,
		Italic: italic,
		font:   g,
		upem:   float64(g.Upem()),
		face:   gotext.NewFace(g),
	}
	if f.upem <= 0 {
		f.upem = 1000
	}
	f.names = sync.OnceValue(func() map[string]int {
		m := map[string]int{}
		empty := 0
		for gid := range 65536 {
			n := g.GlyphName(ot.GID(gid))
			if n == "" {
				if empty++; empty > 64 {
					break
				}
				continue
			}
			if _, have := m[n]; !have {
				m[n] = gid
			}
		}
		return m
	})
	return f
}

// Count returns an upper bound of the glyph numbers.
func (f *Face) Count() int { return 65536 }

// ByRune implements Program.
func (f *Face) ByRune(r rune) int {
	if f.drawn != nil {
		return f.drawn.byRune(r)
	}
	if g, ok := f.font.NominalGlyph(r); ok {
		return int(g)
	}
	return -1
}

// ByName implements Program. Fonts without names are asked for the character.
func (f *Face) ByName(name string) int {
	if g, ok := f.names()[name]; ok {
		return g
	}
	if r := RuneOf(name); r != 0 {
		return f.ByRune(r)
	}
	return -1
}

// Cmap returns the glyph of a code through the font's own table, for symbol
// fonts, whose codes lie at 0xF000.
func (f *Face) Cmap(code int) int {
	for _, r := range []rune{rune(code), 0xF000 + rune(code)} {
		if g := f.ByRune(r); g > 0 {
			return g
		}
	}
	return -1
}

// Glyph implements Program.
func (f *Face) Glyph(gid int) (out Glyph) {
	if f.drawn != nil {
		return f.drawn.glyph(gid)
	}
	defer func() {
		if recover() != nil {
			out = Glyph{}
		}
	}()
	if gid < 0 || gid > 65535 {
		return Glyph{}
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	out.Advance = float64(f.face.HorizontalAdvance(ot.GID(gid))) / f.upem
	o, ok := f.face.GlyphDataOutline(ot.GID(gid))
	if !ok {
		return out
	}
	out.Contours = contours(o.Segments, 1/f.upem)
	return out
}

// Metric returns the place and thickness of a line under or through the text,
// in em: place is that of its middle.
func (f *Face) Metric(through bool) (place, thick float64) {
	if f.drawn != nil { // as most fonts have them
		return map[bool]float64{false: -0.1, true: 0.3}[through], 0.05
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	at, th := gotext.UnderlinePosition, gotext.UnderlineThickness
	if through {
		at, th = gotext.StrikethroughPosition, gotext.StrikethroughThickness
	}
	place, thick = float64(f.face.LineMetric(at))/f.upem, float64(f.face.LineMetric(th))/f.upem
	if thick <= 0 {
		thick = 0.05
	}
	return place, thick
}

// XHeight returns the height of a small x in em.
func (f *Face) XHeight() float64 {
	if f.drawn != nil {
		return f.drawn.XHeight
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	if h := float64(f.face.LineMetric(gotext.XHeight)) / f.upem; h > 0 {
		return h
	}
	return 0.5
}

// Extents returns how far letters go up and down (negative), in em.
func (f *Face) Extents() (up, down float64) {
	if f.drawn != nil {
		return f.drawn.Up, f.drawn.Down
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	e, _ := f.face.FontHExtents()
	return float64(e.Ascender) / f.upem, float64(e.Descender) / f.upem
}

// contours converts the segments of a glyph.
func contours(segs []gotext.Segment, scale float64) []geom.Contour {
	v := func(p gotext.SegmentPoint) geom.Vec {
		return geom.Vec{X: float64(p.X) * scale, Y: float64(p.Y) * scale}
	}
	var p pen
	for _, s := range segs {
		for _, a := range s.ArgsSlice() {
			if math.IsNaN(float64(a.X)) || math.IsNaN(float64(a.Y)) {
				return nil
			}
		}
		switch s.Op {
		case ot.SegmentOpMoveTo:
			p.move(v(s.Args[0]))
		case ot.SegmentOpLineTo:
			p.line(v(s.Args[0]))
		case ot.SegmentOpQuadTo:
			p.quad(v(s.Args[0]), v(s.Args[1]))
		case ot.SegmentOpCubeTo:
			p.cubic(v(s.Args[0]), v(s.Args[1]), v(s.Args[2]))
		}
	}
	p.close()
	return p.out
}
