package font

import (
	"embed"
	"sort"
	"strings"
	"sync"
	"unicode"

	"bildhauer/core/geom"
)

//go:embed shipped/*.woff
var shippedFiles embed.FS

// family is a shipped family with the names for which it stands in. Files are
// the regular, bold, italic and bold italic; "" where the family has none.
type family struct {
	name  string
	files [4]string
	also  string // normalised names, separated by spaces
}

func four(base string) [4]string {
	return [4]string{base + "-regular", base + "-bold", base + "-italic", base + "-bolditalic"}
}

// The first family serves when no other does.
var families = []family{
	{
		"DejaVu Sans",
		[4]string{"dejavusans", "dejavusans-bold", "dejavusans-oblique", "dejavusans-boldoblique"},
		"sansserif sans verdana tahoma bitstreamverasans systemui uisansserif lucidagrande lucidasans",
	},
	{
		"DejaVu Serif",
		[4]string{"dejavuserif", "dejavuserif-bold", "dejavuserif-italic", "dejavuserif-bolditalic"},
		"serif georgia cambria constantia garamond bitstreamveraserif uiserif",
	},
	{"DejaVu Sans Mono", [4]string{"dejavusansmono", "dejavusansmono-bold"},
		"monospace mono consolas menlo monaco bitstreamverasansmono uimonospace lucidaconsole andalemono"},
	{
		"TeX Gyre Heros",
		four("texgyreheros"),
		"helvetica arial helveticaneue nimbussans nimbussansl liberationsans swiss arimo",
	},
	{
		"TeX Gyre Heros Cn",
		four("texgyreheroscn"),
		"helveticanarrow helveticacondensed arialnarrow nimbussansnarrow liberationsansnarrow",
	},
	{
		"TeX Gyre Termes",
		four("texgyretermes"),
		"times timesnewroman timesroman timesnewromanps nimbusroman nimbusromanno9l liberationserif tinos",
	},
	{
		"TeX Gyre Cursor",
		four("texgyrecursor"),
		"courier couriernew couriernewps nimbusmono nimbusmonops nimbusmonol liberationmono cousine typewriter",
	},
	{
		"TeX Gyre Adventor",
		four("texgyreadventor"),
		"avantgarde itcavantgarde itcavantgardegothic centurygothic urwgothic urwgothicl futura",
	},
	{"TeX Gyre Bonum", four("texgyrebonum"), "bookman itcbookman bookmanoldstyle urwbookman urwbookmanl"},
	{
		"TeX Gyre Schola",
		four("texgyreschola"),
		"newcenturyschlbk newcenturyschoolbook centuryschoolbook centuryschoolbookl c059",
	},
	{"TeX Gyre Pagella", four("texgyrepagella"), "palatino palatinolinotype bookantiqua p052 urwpalladiol"},
	{
		"TeX Gyre Chorus",
		[4]string{"", "", "texgyrechorus-mediumitalic"},
		"zapfchancery itczapfchancery applechancery z003 urwchanceryl cursive script",
	},
	{
		"Zilla Slab",
		[4]string{
			"zilla-slab-latin-400-normal",
			"zilla-slab-latin-700-normal",
			"zilla-slab-latin-400-italic",
		},
		"slab rockwell robotoslab clarendon",
	},
	{"Pacifico", [4]string{"pacifico-latin-400-normal"}, "brushscript brushscriptmt handwriting"},
	{
		"TeX Gyre Termes Math",
		[4]string{"texgyretermes-math"},
		"symbol mathematicalpi standardsymbolsps standardsymbolsl",
	},
}

// dingbats is the family that holds the characters of the dingbat font.
const dingbats = "zapfdingbats itczapfdingbats dingbats d050000l"

var byFamily = sync.OnceValue(func() map[string]int {
	m := map[string]int{}
	for i, f := range families {
		m[normal(f.name)] = i
		for _, a := range strings.Fields(f.also) {
			m[a] = i
		}
	}
	for _, a := range strings.Fields(dingbats) {
		m[a] = 0
	}
	return m
})

var loaded sync.Map // file -> *Face

// shipped returns a face of a shipped family and what has to be made up.
func shipped(fam int, bold, italic bool) (f *Face, slant bool) {
	files := families[fam].files
	at := 0
	if bold {
		at++
	}
	if italic {
		at += 2
	}
	file := files[at]
	for _, other := range []int{at &^ 1, at &^ 2, at | 2, 0, 2} { // lighter, upright, italic
		if file == "" {
			file, at = files[other], other
		}
	}
	slant = italic && at < 2
	if v, ok := loaded.Load(file); ok {
		return v.(*Face), slant
	}
	data, err := shippedFiles.ReadFile("shipped/" + file + ".woff")
	if err != nil {
		panic(err)
	}
	f, err = ParseFace(data)
	if err != nil {
		panic(err)
	}
	f.Family = families[fam].name
	f.Weight = 400
	if at&1 != 0 {
		f.Weight = 700
	}
	f.Italic = at&2 != 0
	v, _ := loaded.LoadOrStore(file, f)
	return v.(*Face), slant
}

// Warm loads what is needed to find a font, ahead of the first file.
func Warm() {
	byFamily()
	(&Library{}).Find(Want{Families: []string{"sans-serif"}, Weight: 400})
}

// Library finds faces among the added fonts first, then the shipped ones.
type Library struct{ Added []*Face }

// Want is a font that artwork asks for.
type Want struct {
	Families []string // in order of preference; with or without quotes
	Weight   int
	Italic   bool
}

// Found is the face that serves a wish.
type Found struct {
	Face  *Face
	Slant bool   // the letters have to be slanted
	Stand string // "" when the first family itself was there, else its name
}

// Find returns the best face; there always is one.
func (l *Library) Find(w Want) Found {
	if w.Weight == 0 {
		w.Weight = 400
	}
	wanted := ""
	for _, name := range w.Families {
		name = strings.Trim(strings.TrimSpace(name), `"'`)
		n := normal(name)
		if n == "" {
			continue
		}
		if wanted == "" {
			wanted = name
		}
		if l != nil {
			if f, slant := nearest(l.Added, n, w); f != nil {
				return Found{Face: f, Slant: slant, Stand: unless(wanted == name, wanted)}
			}
		}
		if i, ok := byFamily()[n]; ok {
			f, slant := shipped(i, w.Weight >= 600, w.Italic)
			same := wanted == name && (normal(families[i].name) == n || generic[n])
			return Found{Face: f, Slant: slant, Stand: unless(same, wanted)}
		}
	}
	// By what the name says of its kind.
	guess := 0
	for _, k := range []struct {
		word string
		fam  int
	}{{"garamond", 10}, {"caslon", 10}, {"jenson", 10}, {"minion", 10}, {"goudy", 10}, {"sabon", 10}, {"bembo", 10}, {"bodoni", 5}, {"baskerville", 5}, {"didot", 5}, {"times", 5},
		{"lettergothic", 6}, {"typewriter", 6}, {"courier", 6}, {"univers", 3}, {"helvet", 3}, {"arial", 3}, {"inter", 3}, {"roboto", 3}, {"schoolbook", 9}, {"bookman", 8}, {"palatino", 10}, {"mono", 2}, {"code", 2}, {"slab", 12}, {"sans", 0}, {"gothic", 0}, {"grotesk", 3}, {"serif", 1}, {"roman", 5}, {"script", 11}, {"hand", 11}, {"chancery", 11}} {
		if strings.Contains(normal(wanted), k.word) {
			guess = k.fam
			break
		}
	}
	f, slant := shipped(guess, w.Weight >= 600, w.Italic)
	return Found{Face: f, Slant: slant, Stand: wanted}
}

func unless(same bool, name string) string {
	if same {
		return ""
	}
	return name
}

var generic = map[string]bool{
	"sansserif": true,
	"serif":     true,
	"monospace": true,
	"cursive":   true,
	"systemui":  true,
}

// nearest picks among the faces of a family by slope, then weight.
func nearest(faces []*Face, family string, w Want) (best *Face, slant bool) {
	least := 0
	for _, f := range faces {
		if normal(f.Family) != family {
			continue
		}
		d := max(f.Weight-w.Weight, w.Weight-f.Weight)
		if f.Italic != w.Italic {
			d += 1000
		}
		if best == nil || d < least {
			best, least = f, d
		}
	}
	return best, best != nil && w.Italic && !best.Italic
}

// Fallback returns a face that has a character: the wanted one, or a shipped
// one that does; ok is false when none has it.
func Fallback(f Found, r rune) (Found, int, bool) {
	if g := f.Face.ByRune(r); g > 0 {
		return f, g, true
	}
	if d := f.Face.drawn; d != nil && (len(d.Missing.Contours) > 0 || d.has(r)) {
		return f, 0, true // it says itself what is drawn instead, or has it in a ligature
	}
	for _, fam := range []int{0, 14, 1} {
		o, slant := shipped(fam, f.Face.Weight >= 600, f.Face.Italic)
		if g := o.ByRune(r); g > 0 {
			return Found{Face: o, Slant: slant, Stand: f.Face.Family}, g, true
		}
	}
	return f, 0, false
}

// normal reduces a family name to small letters and digits.
func normal(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, s)
}

// FromPostScript splits a PostScript font name such as
// "ABCDEF+TimesNewRomanPS-BoldItalicMT" into what it asks for.
func FromPostScript(name string) Want {
	if i := strings.IndexByte(name, '+'); i == 6 {
		name = name[7:]
	}
	w := Want{Weight: 400}
	base, style, _ := strings.Cut(name, "-")
	if i := strings.IndexByte(base, ','); i >= 0 {
		base, style = base[:i], base[i+1:]+style
	}
	low := strings.ToLower(style)
	for _, s := range []string{"bold", "black", "heavy", "demi"} {
		if strings.Contains(low, s) {
			w.Weight = 700
		}
	}
	w.Italic = strings.Contains(low, "ital") || strings.Contains(low, "obli") ||
		strings.Contains(low, "slant")
	if strings.Contains(low, "narrow") || strings.Contains(low, "cond") {
		base += "Narrow"
	}
	base = strings.TrimSuffix(strings.TrimSuffix(base, "MT"), "PS")
	if strings.HasSuffix(strings.ToLower(base), "bold") && style == "" {
		base, w.Weight = base[:len(base)-4], 700
	}
	w.Families = []string{base}
	return w
}

// Standard reports whether the name is that of a font every PostScript
// interpreter and PDF reader has of its own (the 35 classic names).
func Standard(name string) bool {
	n := normal(strings.Join(FromPostScript(name).Families, ""))
	for _, s := range strings.Fields("times helvetica helveticanarrow courier symbol avantgarde bookman newcenturyschlbk palatino zapfchancery zapfdingbats") {
		if n == s {
			return true
		}
	}
	return false
}

// Classic is a shipped font in the place of a PostScript font that a file
// names but does not hold.
type Classic struct {
	Found
	Name     string
	Encoding *Encoding
	widths   map[string]float64 // by glyph name, where the metrics are fixed
}

// ForPostScript returns the stand-in for a PostScript name.
func (l *Library) ForPostScript(name string) *Classic {
	w := FromPostScript(name)
	c := &Classic{Name: name, Encoding: Named("standard")}
	n := normal(w.Families[0])
	switch {
	case n == "symbol" || strings.HasPrefix(n, "standardsymbols"):
		c.Encoding, c.widths = Named("symbol"), encodings().width["symbol"]
	case strings.Contains(" "+dingbats+" ", " "+n+" "):
		c.Encoding, c.widths = Named("dingbats"), encodings().width["dingbats"]
	}
	c.Found = l.Find(w)
	return c
}

// Glyph returns the outline and advance of a named glyph; ok is false when
// the font has none.
func (c *Classic) Glyph(name string) (g Glyph, ok bool) {
	if name == "" || name == ".notdef" {
		return Glyph{}, true
	}
	gid := c.Face.ByName(name)
	f := c.Found
	if gid <= 0 {
		r := RuneOf(name)
		if r == 0 {
			return Glyph{}, false
		}
		if f, gid, ok = Fallback(c.Found, r); !ok {
			return Glyph{Advance: c.widths[name]}, false
		}
	}
	g = f.Face.Glyph(gid)
	if f.Slant {
		g = Slanted(g)
	}
	if w, have := c.widths[name]; have && w > 0 {
		// The stand-in's letter takes the width of the one it stands for.
		if k := w / g.Advance; g.Advance > 0 && k > 0.5 && k < 1.8 {
			wide := Glyph{}
			for _, ct := range g.Contours {
				wide.Contours = append(wide.Contours, ct.Transform(geom.Scale(k, 1)))
			}
			g = wide
		}
		g.Advance = w
	}
	return g, true
}

// Names returns the glyph names of the face.
func (c *Classic) Names() []string {
	if c.widths != nil {
		var out []string
		for _, n := range c.Encoding {
			if n != "" {
				out = append(out, n)
			}
		}
		return out
	}
	return c.Face.Names()
}

// Names returns the glyph names of the face in order.
func (f *Face) Names() []string {
	names := f.names()
	out := make([]string, 0, len(names))
	for n := range names {
		out = append(out, n)
	}
	sort.Strings(out)
	return out
}
