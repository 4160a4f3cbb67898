package svg

import (
	"strconv"
	"strings"
	"unicode/utf8"

	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font"
)

// mostKerns bounds the pairs of a font: a large family has some thousands.
const mostKerns = 20_000

// drawnFonts adds the fonts whose letters are drawn in the document (SVG 1.1, chapter 20).
func (r *reader) drawnFonts(n *node) error {
	if n.name == "font" {
		return r.drawnFont(n)
	}
	for _, k := range n.kids {
		r.budget.Visit()
		if err := r.drawnFonts(k); err != nil {
			return err
		}
	}
	return nil
}

func (r *reader) drawnFont(n *node) error {
	face := n.kid("font-face")
	if face == nil {
		return nil
	}
	units := orNumber(face.attr("units-per-em"), 1000)
	if !(units > 0) {
		units = 1000
	}
	usual := orNumber(n.attr("horiz-adv-x"), units)
	d := &font.Drawn{
		Up: orNumber(face.attr("ascent"), 0.8*units) / units, Down: orNumber(face.attr("descent"), -0.2*units) / units,
		XHeight: orNumber(face.attr("x-height"), 0.5*units) / units,
	}
	if d.Down > 0 { // some write how far it goes down
		d.Down = -d.Down
	}
	outline := func(k *node) (font.Glyph, error) {
		list, err := r.letter(k)
		return font.DrawnOutline(list, orNumber(k.attr("horiz-adv-x"), usual), units), err
	}
	for _, k := range n.kids {
		r.budget.Spend(budget.Entries, 1)
		var err error
		switch k.name {
		case "missing-glyph":
			d.Missing, err = outline(k)
		case "glyph":
			g := font.DrawnGlyph{Name: k.attr("glyph-name"), Text: []rune(k.attr("unicode")), Form: k.attr("arabic-form")}
			g.Glyph, err = outline(k)
			d.Glyphs = append(d.Glyphs, g)
		case "hkern":
			if len(d.Kerns) == mostKerns {
				continue
			}
			by := orNumber(k.attr("k"), 0) / units
			d.Kerns = append(d.Kerns, font.Kern{First: kernSide(k, "1"), Second: kernSide(k, "2"), By: by})
		}
		if err != nil {
			return err
		}
	}
	style := strings.HasPrefix(face.attr("font-style"), "italic") || strings.HasPrefix(face.attr("font-style"), "oblique")
	for _, family := range strings.Split(face.attr("font-family"), ",") {
		weight := fontWeight(orText(strings.Fields(face.attr("font-weight") + " 400")[0], "400"), 400)
		f := font.NewDrawn(strings.Trim(trim(family), `"'`), weight, style, d)
		r.fonts.Added = append(r.fonts.Added, f)
	}
	return nil
}

// letter returns the outlines of a glyph: its path, and the shapes in it.
func (r *reader) letter(n *node) (out []geom.Contour, err error) {
	if d := n.attr("d"); d != "" {
		c, _ := parsePath(d, r.budget)
		out = append(out, c...)
	}
	for _, k := range n.kids {
		st := r.base
		c, ok, err := r.geometry(k, &st)
		if err != nil {
			return nil, err
		}
		if ok {
			out = append(out, c...)
		}
	}
	return out, nil
}

func (n *node) kid(name string) *node {
	for _, k := range n.kids {
		if k.name == name {
			return k
		}
	}
	return nil
}

func orNumber(s string, other float64) float64 {
	p := scanner{s: s}
	if v, ok := p.number(); ok {
		return v
	}
	return other
}

// kernSide reads which glyphs one side of a kerning pair is about: u1 and u2 list characters
// and ranges of them, g1 and g2 names.
func kernSide(n *node, side string) font.KernSide {
	out := font.KernSide{}
	for _, g := range strings.Split(n.attr("g"+side), ",") {
		if g = trim(g); g != "" {
			out.Names = append(out.Names, g)
		}
	}
	u := n.attr("u" + side)
	if u == "" {
		return out
	}
	type span struct{ lo, hi rune }
	var spans []span
	for _, c := range strings.Split(u, ",") {
		if hex, ok := strings.CutPrefix(trim(c), "U+"); ok {
			lo, hi, two := strings.Cut(hex, "-")
			if !two {
				lo, hi = strings.ReplaceAll(hex, "?", "0"), strings.ReplaceAll(hex, "?", "F")
			}
			a, err1 := strconv.ParseUint(lo, 16, 32)
			b, err2 := strconv.ParseUint(hi, 16, 32)
			if err1 == nil && err2 == nil {
				spans = append(spans, span{rune(a), rune(b)})
			}
			continue
		}
		if x, n := utf8.DecodeRuneInString(c); n == len(c) && n > 0 {
			spans = append(spans, span{x, x})
		}
	}
	out.Runes = func(x rune) bool {
		for _, s := range spans {
			if x >= s.lo && x <= s.hi {
				return true
			}
		}
		return false
	}
	return out
}
