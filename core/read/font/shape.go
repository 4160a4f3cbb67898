package font

import (
	"github.com/go-text/typesetting/di"
	gotext "github.com/go-text/typesetting/font"
	ot "github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"

	"bildhauer/core/geom"
)

// Set is a glyph that shaping chose, in em.
type Set struct {
	GID     int
	Char    int  // index of its first character
	Last    bool // the last glyph of its characters
	Advance float64
	Offset  geom.Vec
}

// Tag names a font feature.
func Tag(s string) gotext.Tag { return ot.MustNewTag(s) }

// Shape chooses and places the glyphs of a text: ligatures, kerning, marks.
func (f *Face) Shape(
	text []rune,
	features []shaping.FontFeature,
	dir di.Direction,
	script language.Script,
) (out []Set) {
	if f.drawn != nil {
		return f.drawn.shape(text, dir == di.DirectionRTL)
	}
	defer func() {
		if recover() != nil {
			out = f.plain(text)
		}
	}()
	f.mu.Lock()
	defer f.mu.Unlock()
	var h shaping.HarfbuzzShaper
	// A size of one em makes the results font units.
	res := h.Shape(
		shaping.Input{Text: text, RunEnd: len(text), Direction: dir, Face: f.face, FontFeatures: features,
			Size: fixed.I(int(f.upem)), Script: script, Language: language.NewLanguage("en")},
	)
	em := func(v fixed.Int26_6) float64 { return float64(v) / 64 / f.upem }
	for i, g := range res.Glyphs {
		s := Set{
			GID:     int(g.GlyphID),
			Char:    g.TextIndex(),
			Advance: em(g.Advance),
			Offset:  geom.Vec{X: em(g.XOffset), Y: em(g.YOffset)},
		}
		s.Last = i+1 == len(res.Glyphs) || res.Glyphs[i+1].TextIndex() != g.TextIndex()
		out = append(out, s)
	}
	return out
}

// plain sets one glyph a character.
func (f *Face) plain(text []rune) []Set {
	var out []Set
	for i, r := range text {
		g := f.ByRune(r)
		out = append(out, Set{GID: g, Char: i, Last: true, Advance: f.Glyph(g).Advance})
	}
	return out
}
