package font

import (
	"slices"
	"unicode"

	"bildhauer/core/geom"
)

// Drawn is a font whose letters are drawn in a document, as SVG 1.1 has them (chapter 20).
type Drawn struct {
	Glyphs  []DrawnGlyph // in their order: the first that fits is taken
	Missing Glyph        // for characters without one
	Kerns   []Kern
	Up      float64 // how far letters go up, em
	Down    float64 // and down, negative
	XHeight float64

	texts map[string][]int   // the glyphs by what they stand for, in order
	long  []int              // how many characters that is, of any
	known map[rune]bool      // in any glyph
	pairs map[[2]int]float64 // kerning that was looked up
}

// DrawnGlyph is one letter or ligature.
type DrawnGlyph struct {
	Glyph
	Name string
	Text []rune // that it stands for
	Form string // of an Arabic letter: "" any, isolated, initial, medial, terminal
}

// Kern brings two glyphs nearer to each other.
type Kern struct {
	First, Second KernSide
	By            float64 // em
}

// KernSide is which glyphs it is about.
type KernSide struct {
	Runes func(r rune) bool // nil for none
	Names []string
}

func (k *KernSide) has(g *DrawnGlyph) bool {
	return slices.Contains(k.Names, g.Name) || k.Runes != nil && len(g.Text) == 1 && k.Runes(g.Text[0])
}

// mostLetters bounds what a ligature stands for.
const mostLetters = 24

// NewDrawn makes a face of drawn letters.
func NewDrawn(family string, weight int, italic bool, d *Drawn) *Face {
	f := &Face{Family: family, Weight: weight, Italic: italic, Added: true, drawn: d, upem: 1}
	f.names = func() map[string]int {
		m := map[string]int{}
		for i, g := range d.Glyphs {
			m[g.Name] = i + 1
		}
		return m
	}
	d.texts, d.known, d.pairs = map[string][]int{}, map[rune]bool{}, map[[2]int]float64{}
	for i, g := range d.Glyphs {
		if n := len(g.Text); n > 0 && n <= mostLetters {
			d.texts[string(g.Text)] = append(d.texts[string(g.Text)], i)
			if !slices.Contains(d.long, n) {
				d.long = append(d.long, n)
			}
		}
		for _, r := range g.Text {
			d.known[r] = true
		}
	}
	for i := range d.Glyphs {
		f.bytes += 64
		for _, c := range d.Glyphs[i].Contours {
			f.bytes += 64 * int64(len(c.Segs))
		}
	}
	return f
}

// byRune returns the number of a character's glyph, from 1, or -1.
func (d *Drawn) byRune(r rune) int {
	if list := d.texts[string(r)]; len(list) > 0 {
		return list[0] + 1
	}
	return -1
}

// has reports whether a character stands in any glyph.
func (d *Drawn) has(r rune) bool { return d.known[r] }

func (d *Drawn) glyph(gid int) Glyph {
	if gid < 1 || gid > len(d.Glyphs) {
		return d.Missing
	}
	return d.Glyphs[gid-1].Glyph
}

// shape sets a text: ligatures, forms of Arabic letters, kerning. Text that runs to the left
// is returned from its left end on.
func (d *Drawn) shape(text []rune, leftward bool) (out []Set) {
	last := -1
	for i := 0; i < len(text); {
		k := d.fitting(text, i)
		s := Set{GID: k + 1, Char: i, Last: true, Advance: d.Missing.Advance}
		n := 1
		if k >= 0 {
			g := &d.Glyphs[k]
			s.Advance, n = g.Advance, len(g.Text)
			if last >= 0 && len(out) > 0 {
				out[len(out)-1].Advance -= d.kern(last, k)
			}
		}
		last = k
		out = append(out, s)
		i += n
	}
	if leftward {
		slices.Reverse(out)
	}
	return out
}

// fitting returns the first glyph that stands for what a text goes on with, or -1.
func (d *Drawn) fitting(text []rune, at int) int {
	form := formOf(text, at)
	best := -1
	for _, n := range d.long {
		if at+n > len(text) {
			continue
		}
		for _, k := range d.texts[string(text[at:at+n])] {
			if g := &d.Glyphs[k]; g.Form == "" || g.Form == form {
				if best < 0 || k < best {
					best = k
				}
				break
			}
		}
	}
	return best
}

func (d *Drawn) kern(a, b int) (by float64) {
	pair := [2]int{a, b}
	if by, ok := d.pairs[pair]; ok {
		return by
	}
	for i := range d.Kerns {
		if k := &d.Kerns[i]; k.First.has(&d.Glyphs[a]) && k.Second.has(&d.Glyphs[b]) {
			by = k.By
			break
		}
	}
	d.pairs[pair] = by
	return by
}

// unjoined are Arabic letters that are not joined to the next one.
const unjoined = "ءآأؤإاةدذرزوى"

// formOf returns the form of an Arabic letter by its neighbours.
func formOf(text []rune, at int) string {
	arabic := func(i int) bool {
		return i >= 0 && i < len(text) && unicode.Is(unicode.Arabic, text[i]) && unicode.IsLetter(text[i])
	}
	joins := func(i int) bool { return arabic(i) && !slices.Contains([]rune(unjoined), text[i]) }
	before, after := joins(at-1), joins(at) && arabic(at+1)
	switch {
	case before && after:
		return "medial"
	case before:
		return "terminal"
	case after:
		return "initial"
	}
	return "isolated"
}

// scaled returns outlines in em.
func scaled(list []geom.Contour, k float64) []geom.Contour {
	out := make([]geom.Contour, len(list))
	for i, c := range list {
		out[i] = c.Transform(geom.Scale(k, k))
	}
	return out
}

// DrawnOutline makes a glyph of outlines and an advance in units of which an em has so many.
func DrawnOutline(list []geom.Contour, advance, units float64) Glyph {
	return Glyph{Contours: scaled(list, 1/units), Advance: advance / units}
}
