package font

import (
	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/language"

	"bildhauer/core/geom"
)

// SetLine sets a text on one line that begins at the origin, in em with y up.
// It returns the outlines, how far the line runs, and the first character that
// the face does not have, 0 if it has all. Letters that are missing are left
// out.
func (f *Face) SetLine(text string) (out []geom.Contour, advance float64, missing rune) {
	runes := []rune(text)
	if len(runes) == 0 {
		return nil, 0, 0
	}
	for _, r := range runes {
		if r > ' ' && f.ByRune(r) <= 0 && missing == 0 {
			missing = r
		}
	}
	at := geom.Vec{}
	for _, g := range f.Shape(runes, nil, di.DirectionLTR, language.LookupScript(runes[0])) {
		move := geom.Translate(at.X+g.Offset.X, at.Y+g.Offset.Y)
		for _, c := range f.Glyph(g.GID).Contours {
			out = append(out, c.Transform(move))
		}
		at.X += g.Advance
	}
	return out, at.X, missing
}

// Shipped lists the names of the shipped families.
func Shipped() []string {
	var out []string
	for _, f := range families {
		out = append(out, f.name)
	}
	return out
}
