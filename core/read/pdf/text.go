package pdf

import (
	"math"
	"strings"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font"
)

// textFont is a font of the file, ready to show codes (9.5 to 9.8).
type textFont struct {
	wide    bool // codes of two bytes, or as the map says
	codes   *cmap
	glyph   func(code int) font.Glyph // in em
	width   func(code int) float64    // in em; negative: the glyph's own
	word    func(code int) string
	upright bool // written downwards
	type3   types.Dict
	matrix  geom.Matrix // of Type 3 fonts
	names   *font.Encoding
	stand   *standing // what to say when it is used
}

func (c *run) nextLine(x, y float64) {
	c.tlm = c.tlm.Mul(geom.Translate(x, y))
	c.tm = c.tlm
}

// readable returns the letters of strings whose font is missing.
func readable(parts []any) string {
	var b strings.Builder
	for _, p := range parts {
		s, _ := p.(string)
		for _, c := range s {
			if c >= ' ' && c < 127 {
				b.WriteRune(c)
			}
		}
	}
	return strings.TrimSpace(b.String())
}

// show paints strings and moves between them.
func (c *run) show(parts []any) error {
	if c.g.font == nil {
		c.r.sheet.Note(artwork.NoteUnknownFont, readable(parts))
		return nil
	}
	var l letters
	for _, p := range parts {
		switch v := p.(type) {
		case float64:
			c.advance(-v / 1000 * c.g.size)
			if v < wideGap && l.words.Len() > 0 {
				l.words.WriteByte(' ')
			}
		case string:
			if err := c.letters(v, &l); err != nil {
				return err
			}
		}
	}
	if len(l.outlines) == 0 {
		return nil
	}
	return c.paintLetters(&l)
}

// wideGap is a move between letters, in thousandths of the size against the
// direction of writing, that is wide enough to be read as a blank.
const wideGap = -180

// letters is what a string shows.
type letters struct {
	outlines []geom.Contour // in user space
	words    strings.Builder
}

// advance moves along the line.
func (c *run) advance(w float64) {
	if c.g.font.upright {
		c.tm = c.tm.Mul(geom.Translate(0, w))
	} else {
		c.tm = c.tm.Mul(geom.Translate(w*c.g.stretch, 0))
	}
}

// letters adds the glyphs of a string to l and moves behind each.
func (c *run) letters(s string, l *letters) error {
	g, f := c.g, c.g.font
	for len(s) > 0 {
		code, n := f.next(s)
		single := n == 1 && s[0] == ' '
		s = s[n:]
		c.r.budget.Spend(budget.Steps, 4)
		m := c.tm.Mul(geom.Matrix{A: g.size * g.stretch, D: g.size, F: g.rise})
		if !m.Finite() {
			return nil
		}
		w, err := c.letter(f, code, m, l)
		if err != nil {
			return err
		}
		w = w*g.size + g.charGap
		if single {
			w += g.wordGap
		}
		if f.upright {
			w -= 2 * g.charGap
		}
		c.advance(w)
	}
	return nil
}

// letter adds one glyph and returns how far it moves, in units of the size.
// Upright lines go down by the size, letters centred below their point.
func (c *run) letter(f *textFont, code int, m geom.Matrix, l *letters) (w float64, err error) {
	if f.type3 != nil {
		return c.glyph3(f, code, m)
	}
	gl := f.glyph(code)
	if w = f.width(code); w < 0 {
		w = gl.Advance
	}
	if f.upright {
		m = m.Mul(geom.Translate(-w/2, -0.88))
		w = -1
	}
	for _, k := range gl.Contours {
		l.outlines = append(l.outlines, k.Transform(m))
		c.r.budget.Spend(budget.Nodes, len(k.Segs)+1)
	}
	l.words.WriteString(f.word(code))
	return w, nil
}

// paintLetters fills, strokes or cuts with outlines, as the mode says
// (ISO 32000-1, 9.3.6).
func (c *run) paintLetters(l *letters) error {
	g, f := c.g, c.g.font
	words := strings.TrimSpace(l.words.String())
	if f.stand != nil && !c.r.told[*f.stand] && g.mode != 3 {
		c.r.told[*f.stand] = true
		c.r.sheet.Note(f.stand.kind, words, f.stand.base, f.stand.face)
	}
	outer := c.text
	c.text = words
	defer func() { c.text = outer }()
	how := g.mode & 3
	if how == 0 || how == 2 {
		if err := c.shape(l.outlines, c.r.flip.Mul(g.ctm), false, nil, g.fill, g.fillAlpha); err != nil {
			return err
		}
	}
	if g.mode == 3 && c.hidden == 0 {
		c.r.sheet.Note(artwork.NoteInvisibleText, c.text)
	}
	if how == 1 || how == 2 {
		if err := c.strokePath(l.outlines); err != nil {
			return err
		}
	}
	if g.mode >= 4 {
		for _, k := range l.outlines {
			c.textClip = append(c.textClip, k.Transform(g.ctm))
		}
	}
	return nil
}

// next returns the first code of a string and how many bytes it takes.
func (f *textFont) next(s string) (code, n int) {
	if !f.wide {
		return int(s[0]), 1
	}
	if f.codes != nil && len(f.codes.lengths) > 0 {
		v := 0
		for n := 1; n <= min(4, len(s)); n++ {
			v = v<<8 | int(s[n-1])
			if f.codes.valid(v, n) {
				return f.codes.cid(v, n), n
			}
		}
	}
	if len(s) < 2 {
		return int(s[0]), 1
	}
	v := int(s[0])<<8 | int(s[1])
	if f.codes != nil {
		return f.codes.cid(v, 2), 2
	}
	return v, 2
}

// glyph3 runs a glyph of a Type 3 font and returns its advance in text space.
func (c *run) glyph3(f *textFont, code int, m geom.Matrix) (float64, error) {
	r := c.r
	n := ""
	if f.names != nil && code < 256 {
		n = f.names[code]
	}
	w := f.width(code)
	sd := r.stream(r.dict(f.type3["CharProcs"])[n])
	if sd != nil && c.g.mode != 3 && c.depth < maxForms {
		g := *c.g
		g.ctm = g.ctm.Mul(m).Mul(f.matrix)
		g.patternBase = g.ctm
		g.stroke, g.width, g.cap, g.join, g.miter, g.dash = g.fill, 1, 0, 0, 10, nil
		res := r.dict(f.type3["Resources"])
		if res == nil {
			res = c.res
		}
		in := &run{r: r, g: &g, res: res, group: c.group, hidden: c.hidden, text: f.word(code)}
		if err := in.stream(sd.Content, c.depth+1); err != nil {
			return 0, err
		}
		if w < 0 {
			w = in.width
		}
	}
	return math.Max(0, w) * f.matrix.A, nil
}

// font reads a font dictionary once.
func (r *reader) font(o types.Object, c *run) *textFont {
	key := id(o)
	if f, ok := r.programs[key]; ok && key != "" {
		return f
	}
	d := r.dict(o)
	if d == nil {
		return nil
	}
	var f *textFont
	switch r.nameOf(d["Subtype"]) {
	case "Type0":
		f = r.compositeFont(d)
	case "Type3":
		f = r.simpleWidths(d, 1)
		f.type3, f.matrix = d, r.matrix(d["FontMatrix"])
		f.names = r.encoding(d["Encoding"], &font.Encoding{})
		f.word = func(code int) string { return wordOf(f.names, code) }
		r.spoken(f, d)
	default:
		f = r.simpleFont(d)
	}
	if key != "" {
		r.programs[key] = f
	}
	return f
}

func wordOf(e *font.Encoding, code int) string {
	if code < 0 || code > 255 {
		return ""
	}
	if c := font.RuneOf(e[code]); c != 0 {
		return string(c)
	}
	if e[code] == "" && code >= 32 && code < 127 {
		return string(rune(code))
	}
	return ""
}

// spoken lets the ToUnicode map say what the codes mean.
func (r *reader) spoken(f *textFont, d types.Dict) {
	sd := r.stream(d["ToUnicode"])
	if sd == nil {
		return
	}
	m := parseCmap(sd.Content, r.budget)
	other := f.word
	f.word = func(code int) string {
		if s, ok := m.text[code]; ok {
			return s
		}
		return other(code)
	}
}

// simpleWidths reads FirstChar and Widths; unit is what a width of 1 is in
// glyph space.
func (r *reader) simpleWidths(d types.Dict, unit float64) *textFont {
	firstCode, _ := r.num(d["FirstChar"])
	var widths []float64
	for _, o := range r.array(d["Widths"]) {
		v, _ := r.num(o)
		widths = append(widths, v*unit)
	}
	missing := -1.0
	if v, ok := r.num(r.dict(d["FontDescriptor"])["MissingWidth"]); ok && len(widths) > 0 {
		missing = v * unit
	}
	return &textFont{width: func(code int) float64 {
		if i := code - int(firstCode); i >= 0 && i < len(widths) {
			return widths[i]
		}
		return missing
	}}
}

// encoding reads an Encoding entry on top of a base.
func (r *reader) encoding(o types.Object, base *font.Encoding) *font.Encoding {
	named := func(n string) *font.Encoding {
		switch n {
		case "WinAnsiEncoding":
			return font.Named("winansi")
		case "MacRomanEncoding":
			return font.Named("macroman")
		case "StandardEncoding":
			return font.Named("standard")
		}
		return nil
	}
	if n := r.nameOf(o); n != "" {
		if e := named(n); e != nil {
			return e
		}
		return base
	}
	d := r.dict(o)
	if d == nil {
		return base
	}
	if e := named(r.nameOf(d["BaseEncoding"])); e != nil {
		base = e
	}
	e := *base
	code := 0
	for _, o := range r.array(d["Differences"]) {
		if v, ok := r.num(o); ok {
			code = int(v)
		} else if n := r.nameOf(o); n != "" {
			if code >= 0 && code < 256 {
				e[code] = n
			}
			code++
		}
	}
	return &e
}

// program reads the font program of a descriptor; nil when none is embedded
// or it can't be read.
func (r *reader) program(desc types.Dict) font.Program {
	if sd := r.stream(desc["FontFile"]); sd != nil {
		if p, err := font.ParseType1(sd.Content); err == nil {
			return p
		}
	}
	if sd := r.stream(desc["FontFile2"]); sd != nil {
		if p, err := font.ParseEmbedded(sd.Content); err == nil {
			return p
		}
	}
	if sd := r.stream(desc["FontFile3"]); sd != nil {
		if cff := font.CFFTable(sd.Content); cff != nil {
			if p, err := font.ParseCFF(cff); err == nil {
				return p
			}
		}
		if p, err := font.ParseEmbedded(sd.Content); err == nil {
			return p
		}
		if p, err := font.ParseType1(sd.Content); err == nil {
			return p
		}
	}
	return nil
}

func (r *reader) simpleFont(d types.Dict) *textFont {
	f := r.simpleWidths(d, 0.001)
	desc := r.dict(d["FontDescriptor"])
	base := r.nameOf(d["BaseFont"])
	flags, _ := r.num(desc["Flags"])
	symbolic := int(flags)&4 != 0
	p := r.program(desc)
	if desc != nil && p == nil &&
		(desc["FontFile"] != nil || desc["FontFile2"] != nil || desc["FontFile3"] != nil) {
		r.sheet.Note(artwork.NoteFontDamaged, base)
	}
	var enc *font.Encoding
	switch p := p.(type) {
	case *font.Type1:
		enc = r.encoding(d["Encoding"], p.Encoding)
		f.glyph = func(code int) font.Glyph { return p.Glyph(p.ByName(enc[code&255])) }
	case *font.CFF:
		enc = r.encoding(d["Encoding"], p.Encoding)
		f.glyph = func(code int) font.Glyph {
			if p.CID {
				return p.Glyph(p.ByCID(code))
			}
			return p.Glyph(p.ByName(enc[code&255]))
		}
	case *font.Embedded:
		has := d["Encoding"] != nil
		start := &font.Encoding{}
		if !symbolic {
			start = font.Named("standard")
		}
		enc = r.encoding(d["Encoding"], start)
		f.glyph = func(code int) font.Glyph {
			gid := -1
			if has && !symbolic || has && p.Code(code) < 0 {
				gid = p.ByName(enc[code&255])
			}
			if gid <= 0 {
				gid = p.Code(code)
			}
			if gid <= 0 {
				gid = p.ByName(enc[code&255])
			}
			if gid <= 0 && !has {
				gid = p.ByRune(rune(code))
			}
			return p.Glyph(gid)
		}
	default:
		c := r.fonts.ForPostScript(base)
		enc = r.encoding(d["Encoding"], c.Encoding)
		if int(flags)&(1<<18) != 0 && c.Stand != "" {
			c = r.fonts.ForPostScript(base + "-Bold")
		}
		f.glyph = func(code int) font.Glyph {
			g, ok := c.Glyph(enc[code&255])
			if !ok {
				r.sheet.Note(artwork.NoteMissingLetter, enc[code&255]+" of "+base)
			}
			return fitted(g, f.width(code), c)
		}
		f.stand = standIn(base, c)
	}
	f.word = func(code int) string { return wordOf(enc, code) }
	r.spoken(f, d)
	return f
}

// standing says which font stands for another.
type standing struct {
	kind       artwork.NoteKind
	base, face string
}

func standIn(base string, c *font.Classic) *standing {
	if font.Standard(base) {
		return &standing{artwork.NoteClassicFont, base, c.Face.Family}
	}
	if c.Stand == "" {
		return nil
	}
	return &standing{artwork.NoteStandIn, base, c.Face.Family}
}

// fitted squeezes a stand-in's glyph to the width that the file gives.
func fitted(g font.Glyph, w float64, c *font.Classic) font.Glyph {
	if w <= 0 || g.Advance <= 0 || font.Standard(c.Name) || math.Abs(w-g.Advance) < 0.01 {
		return g
	}
	k := w / g.Advance
	if k < 0.4 || k > 2 {
		return g
	}
	out := font.Glyph{Advance: w}
	for _, ct := range g.Contours {
		out.Contours = append(out.Contours, ct.Transform(geom.Scale(k, 1)))
	}
	return out
}

func (r *reader) compositeFont(d types.Dict) *textFont {
	f := &textFont{wide: true, word: func(int) string { return "" }}
	kids := r.array(d["DescendantFonts"])
	if len(kids) == 0 {
		return nil
	}
	cid := r.dict(kids[0])
	base := r.nameOf(cid["BaseFont"])
	if n := r.nameOf(d["Encoding"]); n != "" {
		f.upright = strings.HasSuffix(n, "-V")
		if !strings.HasPrefix(n, "Identity") {
			r.sheet.Note(artwork.NoteCharacterMap, base, n)
		}
	} else if sd := r.stream(d["Encoding"]); sd != nil {
		f.codes = parseCmap(sd.Content, r.budget)
		if v, ok := r.num(sd.Dict["WMode"]); ok && v == 1 {
			f.upright = true
		}
	}
	usual := 1.0
	if v, ok := r.num(cid["DW"]); ok {
		usual = v / 1000
	}
	widths := r.cidWidths(r.array(cid["W"]))
	f.width = func(code int) float64 {
		if v, ok := widths[code]; ok {
			return v
		}
		return usual
	}
	var toGID []byte
	if sd := r.stream(cid["CIDToGIDMap"]); sd != nil {
		toGID = sd.Content
	}
	p := r.program(r.dict(cid["FontDescriptor"]))
	r.spoken(f, d)
	switch p := p.(type) {
	case *font.CFF:
		f.glyph = func(code int) font.Glyph { return p.Glyph(p.ByCID(code)) }
	case *font.Embedded:
		f.glyph = func(code int) font.Glyph {
			if toGID == nil {
				return p.Glyph(code)
			}
			if 2*code+1 < len(toGID) {
				return p.Glyph(int(toGID[2*code])<<8 | int(toGID[2*code+1]))
			}
			return font.Glyph{}
		}
	case *font.Type1:
		f.glyph = func(code int) font.Glyph { return p.Glyph(code) }
	default:
		r.standInCID(f, base)
	}
	return f
}

// cidWidths reads the widths of characters, c [w ...] or c_first c_last w (ISO
// 32000-1, 9.7.4.3), in units of the size.
func (r *reader) cidWidths(w types.Array) map[int]float64 {
	widths := map[int]float64{}
	put := func(code int, v float64) {
		r.budget.Spend(budget.Entries, 1)
		widths[code] = v / 1000
	}
	for i := 0; i+1 < len(w); {
		from, _ := r.num(w[i])
		if a := r.array(w[i+1]); a != nil {
			for k, o := range a {
				v, _ := r.num(o)
				put(int(from)+k, v)
			}
			i += 2
			continue
		}
		if i+2 >= len(w) {
			break
		}
		to, _ := r.num(w[i+1])
		v, _ := r.num(w[i+2])
		for k := max(0, int(from)); k <= min(int(to), maxCID); k++ {
			put(k, v)
		}
		i += 3
	}
	return widths
}

// maxCID is the largest character identifier (ISO 32000-1, annex C).
const maxCID = 65535

// standInCID shows a font that is not embedded by another, character by
// character as the file names them.
func (r *reader) standInCID(f *textFont, base string) {
	c := r.fonts.ForPostScript(base)
	word := f.word
	f.glyph = func(code int) font.Glyph {
		s := []rune(word(code))
		if len(s) == 0 {
			r.sheet.Note(artwork.NoteNamelessLetters, base)
			return font.Glyph{}
		}
		found, gid, ok := font.Fallback(c.Found, s[0])
		if !ok {
			r.sheet.Note(artwork.NoteMissingLetter, string(s[0])+" of "+base)
			return font.Glyph{}
		}
		return fitted(found.Face.Glyph(gid), f.width(code), c)
	}
	f.stand = standIn(base, c)
}
