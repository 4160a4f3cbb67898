package font

import (
	_ "embed" // for the tables
	"strconv"
	"strings"
	"sync"

	"golang.org/x/text/encoding/charmap"
)

//go:embed glyphlist.txt
var glyphList string

//go:embed encodings.txt
var encodingTables string

var glyphTables = sync.OnceValue(func() (t struct {
	rune map[string]rune
	name map[rune]string
}) {
	t.rune, t.name = map[string]rune{}, map[rune]string{}
	for l := range strings.Lines(glyphList) {
		name, code, ok := strings.Cut(strings.TrimSpace(l), ";")
		if !ok || l[0] == '#' {
			continue
		}
		code, _, _ = strings.Cut(code, " ")
		v, err := strconv.ParseUint(code, 16, 21)
		if err != nil {
			continue
		}
		r := rune(v)
		t.rune[name] = r
		// The shorter name of several is the common one, but for a few.
		if old, have := t.name[r]; !have || len(name) < len(old) {
			t.name[r] = name
		}
	}
	for r, n := range map[rune]string{' ': "space", '-': "hyphen", '|': "bar", '~': "asciitilde", '^': "asciicircum", '_': "underscore", '\u00af': "macron", '\u00b7': "periodcentered", '\u00b5': "mu", '\u03a9': "Omega", '\u0394': "Delta", '\u2044': "fraction", '\u2215': "fraction"} {
		t.name[r] = n
	}
	return t
})

// RuneOf returns the character of a glyph's name after the Adobe Glyph List
// and its rules for uniXXXX, uXXXXXX and suffixes; 0 for unknown names.
func RuneOf(name string) rune {
	t := glyphTables()
	if r, ok := t.rune[name]; ok {
		return r
	}
	base, _, cut := strings.Cut(name, ".")
	if cut && base != "" {
		return RuneOf(base)
	}
	for _, prefix := range []string{"uni", "u"} {
		if hex, ok := strings.CutPrefix(name, prefix); ok && len(hex) >= 4 {
			if prefix == "uni" {
				hex = hex[:4]
			}
			if v, err := strconv.ParseUint(hex, 16, 21); err == nil {
				return rune(v)
			}
		}
	}
	if r, ok := encodings().dingbat[name]; ok {
		return r
	}
	return 0
}

// NameOf returns the usual glyph name of a character, "" if it has none.
func NameOf(r rune) string { return glyphTables().name[r] }

// Encoding gives a glyph name for each code; "" where there is none.
type Encoding [256]string

var encodings = sync.OnceValue(func() (t struct {
	named   map[string]*Encoding
	width   map[string]map[string]float64
	dingbat map[string]rune
}) {
	t.named, t.dingbat = map[string]*Encoding{}, map[string]rune{}
	t.width = map[string]map[string]float64{}
	for l := range strings.Lines(encodingTables) {
		f := strings.Fields(l)
		if len(f) < 4 || f[0] == "#" {
			continue
		}
		code, err := strconv.Atoi(f[1])
		w, err2 := strconv.ParseFloat(f[2], 64)
		if err != nil || err2 != nil || code < 0 || code > 255 {
			continue
		}
		if t.named[f[0]] == nil {
			t.named[f[0]] = &Encoding{}
			t.width[f[0]] = map[string]float64{}
		}
		t.named[f[0]][code] = f[3]
		t.width[f[0]][f[3]] = w / 1000
		if len(f) > 4 {
			if v, err := strconv.ParseUint(f[4], 16, 21); err == nil {
				t.dingbat[f[3]] = rune(v)
			}
		}
	}
	from := func(name string, m *charmap.Charmap) *Encoding {
		e := &Encoding{}
		for c := 32; c < 256; c++ {
			if r := m.DecodeByte(byte(c)); r != '\ufffd' && (r > 0x9f || r < 0x7f) {
				e[c] = NameOf(r)
			}
		}
		t.named[name] = e
		return e
	}
	win := from("winansi", charmap.Windows1252)
	win[0xA0], win[0xAD] = "space", "hyphen"
	for c := 0x80; c < 0xA0; c++ {
		if win[c] == "" {
			win[c] = "bullet"
		}
	}
	mac := from("macroman", charmap.Macintosh)
	mac[0xCA] = "space"
	// ISO Latin 1 as PostScript has it (PLRM appendix E).
	iso := from("isolatin1", charmap.ISO8859_1)
	iso[0x27], iso[0x60], iso[0x2D], iso[0xAD], iso[0xA0] = "quoteright", "quoteleft", "minus", "hyphen", "space"
	for i, n := range strings.Fields("dotlessi grave acute circumflex tilde macron breve dotaccent dieresis - ring cedilla - hungarumlaut ogonek caron") {
		if n != "-" {
			iso[0x90+i] = n
		}
	}
	return t
})

// Named returns a known encoding: standard, isolatin1, winansi, macroman,
// symbol or dingbats; an empty one for other names.
func Named(name string) *Encoding {
	if e := encodings().named[name]; e != nil {
		return e
	}
	return &Encoding{}
}
