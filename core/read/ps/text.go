package ps

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font"
)

// programKey is the entry of a font dictionary that holds a font program of
// ours: *font.Classic, *font.CFF or *font.Embedded. Copies of the dictionary
// keep it.
const programKey = ".program"

// maxFontDepth bounds fonts within fonts and glyphs that show text.
const maxFontDepth = 8

// textMode says what becomes of the glyphs.
type textMode int

const (
	paintText textMode = iota
	pathText
	measureText
)

// opFindFont returns a font of the file, or a stand-in for one that is only
// named.
func opFindFont(m *machine) error {
	k, err := m.pop()
	if err != nil {
		return err
	}
	if o, ok := m.fonts.m[key(k)]; ok {
		return m.push(o)
	}
	o := m.classic(key(k))
	m.fonts.put(key(k), o)
	return m.push(o)
}

func (m *machine) classic(wanted string) object {
	c := m.library.ForPostScript(wanted)
	d := newDict()
	d.put("FontName", name(wanted, false))
	d.put("FontType", integer(1))
	d.put("PaintType", integer(0))
	d.put("FontMatrix", matrixObject(geom.Matrix{A: .001, D: .001}))
	d.put("Encoding", encodingArray(c.Encoding))
	d.put(
		"FontBBox",
		object{
			kind: kArray,
			ref:  &array{[]object{integer(-168), integer(-218), integer(1000), integer(898)}},
		},
	)
	chars := newDict()
	chars.put(".notdef", integer(0))
	for _, n := range c.Names() {
		chars.put(n, integer(0))
	}
	d.put("CharStrings", object{kind: kDict, ref: chars})
	info := newDict()
	info.put("FullName", object{kind: kString, ref: &str{[]byte(wanted)}})
	d.put("FontInfo", object{kind: kDict, ref: info})
	d.put("Private", object{kind: kDict, ref: newDict()})
	d.put("FID", object{kind: kFont})
	d.put(programKey, object{kind: kFont, ref: c})
	return object{kind: kDict, ref: d}
}

func encodingArray(e *font.Encoding) object {
	a := &array{make([]object, 256)}
	for i := range a.v {
		n := e[i]
		if n == "" {
			n = ".notdef"
		}
		a.v[i] = name(n, false)
	}
	return object{kind: kArray, ref: a}
}

func opDefineFont(m *machine) error {
	k, f, err := m.pop2()
	if err != nil {
		return err
	}
	d, ok := f.ref.(*dict)
	if !ok {
		return m.err("typecheck")
	}
	d.put("FID", object{kind: kFont})
	m.fonts.put(key(k), f)
	return m.push(f)
}

// makeFont pushes a copy of the font with its matrix changed.
func (m *machine) makeFont(o object, t geom.Matrix) error {
	d, ok := o.ref.(*dict)
	if !ok {
		return m.err("invalidfont")
	}
	c := newDict()
	m.budget.Spend(budget.Memory, len(d.keys))
	for _, k := range d.keys {
		c.put(k, d.m[k])
	}
	old, _ := m.dictMatrix(d, "FontMatrix")
	c.put("FontMatrix", matrixObject(t.Mul(old)))
	return m.push(object{kind: kDict, ref: c})
}

func (m *machine) dictMatrix(d *dict, k string) (geom.Matrix, bool) {
	a, ok := m.numArray(d.m[k])
	if !ok || len(a) != 6 {
		return geom.Identity, false
	}
	return geom.Matrix{A: a[0], B: a[1], C: a[2], D: a[3], E: a[4], F: a[5]}, true
}

// scaleArg pops a number or a matrix.
func (m *machine) scaleArg() (geom.Matrix, error) {
	if n := len(m.stack); n > 0 && m.stack[n-1].number() {
		v, err := m.num()
		return geom.Scale(v, v), err
	}
	return m.matrixArg()
}

// showing is what the operators of the show family add to each glyph.
type showing struct {
	mode    textMode
	each    geom.Vec // added to every advance
	extra   geom.Vec // added for one code
	code    int      // that code, -1 for none
	moves   []float64
	moveX   bool
	moveY   bool
	between *array // called between glyphs with both codes
	custom  *array // called instead of painting (cshow)
	caller  string
}

// opShow returns the operator of the show family with the given name.
func opShow(which string) op {
	return func(m *machine) error {
		s := showing{code: -1, caller: which}
		var err error
		popVec := func() (v geom.Vec) {
			var a []float64
			if err == nil {
				if a, err = m.nums(2); err == nil {
					v = geom.Vec{X: a[0], Y: a[1]}
				}
			}
			return v
		}
		var lists object
		switch which {
		case "xshow", "yshow", "xyshow":
			if lists, err = m.pop(); err != nil {
				return err
			}
			a, ok := m.numArray(lists)
			if !ok {
				if t, isText := lists.ref.(*str); isText {
					a, ok = numberString(t.b)
				}
				if !ok {
					return m.err("typecheck")
				}
			}
			s.moves, s.moveX, s.moveY = a, which != "yshow", which != "xshow"
		case "charpath":
			if _, err = m.boolArg(); err != nil {
				return err
			}
			s.mode = pathText
		case "stringwidth":
			s.mode = measureText
		}
		t, err2 := popRef[*str](m)
		if err2 != nil {
			return err2
		}
		switch which {
		case "ashow":
			s.each = popVec()
		case "awidthshow":
			s.each = popVec()
			s.code, err = m.afterErr(err)
			s.extra = popVec()
		case "widthshow":
			s.code, err = m.intArg()
			s.extra = popVec()
		case "kshow":
			s.between, err = m.proc()
		case "cshow":
			s.custom, err = m.proc()
		}
		if err != nil {
			return err
		}
		return m.show(t.b, s)
	}
}

func (m *machine) afterErr(err error) (int, error) {
	if err != nil {
		return -1, err
	}
	return m.intArg()
}

// numberString reads an encoded number string (PLRM 3.14.5): kinds 32 to 49
// and 128 on hold integers with a scale.
func numberString(b []byte) ([]float64, bool) {
	if len(b) < 4 || b[0] != 149 {
		return nil, false
	}
	rep := int(b[1])
	low := rep >= 128
	if low {
		rep -= 128
	}
	size := 4
	if rep >= 32 && rep < 48 {
		size = 2
	}
	if rep >= 48 {
		return nil, false
	}
	scale := math.Ldexp(1, -(rep % 32))
	if size == 2 {
		scale = math.Ldexp(1, -(rep - 32))
	}
	var out []float64
	for p := b[4:]; len(p) >= size; p = p[size:] {
		v := 0
		for i := range size {
			if low {
				v |= int(p[i]) << (8 * i)
			} else {
				v = v<<8 | int(p[i])
			}
		}
		if size == 2 {
			out = append(out, float64(int16(v))*scale)
		} else {
			out = append(out, float64(int32(v))*scale)
		}
	}
	return out, true
}

// drawn is a glyph found in a font: an outline, or procedures to run.
type drawn struct {
	glyph font.Glyph  // in glyph space
	m     geom.Matrix // from glyph space to user space
	proc  bool
	font  *dict
	name  object
	code  int
	word  string
}

// show paints, outlines or measures a string in the current font.
func (m *machine) show(text []byte, s showing) error {
	d, ok := m.gs.font.ref.(*dict)
	if !ok {
		return m.err("invalidfont")
	}
	if m.fontDepth++; m.fontDepth > maxFontDepth {
		m.fontDepth--
		return m.err("limitcheck")
	}
	defer func() { m.fontDepth-- }()
	if s.mode != measureText && s.custom == nil && !m.gs.has {
		return m.err("nocurrentpoint")
	}
	glyphs, err := m.decode(text, d, geom.Identity, 0)
	if err != nil {
		return err
	}
	var l shown
	for i, g := range glyphs {
		m.budget.Spend(budget.Steps, 10)
		if s.custom != nil {
			err = m.customGlyph(g, s.custom)
		} else {
			err = m.showGlyph(i, glyphs, s, &l)
		}
		if err != nil {
			return err
		}
	}
	switch s.mode {
	case measureText:
		m.push(realNum(l.total.X))
		return m.push(realNum(l.total.Y))
	case pathText:
		return nil
	}
	if err := m.flush(&l.outlines, &l.words, s); err != nil {
		return err
	}
	// The path goes on from behind the text.
	if s.custom == nil {
		m.moveTo(m.gs.at)
	}
	return nil
}

// shown is what the glyphs of a string have come to so far.
type shown struct {
	total    geom.Vec // of their advances, in user space
	outlines []geom.Contour
	words    strings.Builder
}

// customGlyph hands the code and the advance of a glyph to a procedure
// (cshow).
func (m *machine) customGlyph(g drawn, proc *array) (err error) {
	w := g.glyph.Advance
	if g.proc {
		if w, _, err = m.runGlyph(g, geom.Identity, true); err != nil {
			return err
		}
	}
	adv := g.m.Apply(geom.Vec{X: w}).Sub(g.m.Apply(geom.Vec{}))
	m.push(integer(g.code))
	m.push(realNum(adv.X))
	m.push(realNum(adv.Y))
	return m.call(proc)
}

// showGlyph shows glyph i and moves behind it.
func (m *machine) showGlyph(i int, glyphs []drawn, s showing, l *shown) error {
	g := glyphs[i]
	ctm := m.gs.ctm
	ctm.E, ctm.F = 0, 0
	adv, err := m.drawGlyph(g, ctm, s, l)
	if err != nil {
		return err
	}
	adv = s.advance(i, g.code, adv)
	l.total = l.total.Add(adv)
	if s.mode != measureText {
		m.gs.at = m.gs.at.Add(ctm.Apply(adv))
		if !m.gs.at.Finite() {
			return m.err("undefinedresult")
		}
	}
	if s.mode == pathText {
		m.gs.path = append(m.gs.path, l.outlines...)
		for _, c := range l.outlines {
			m.budget.Spend(budget.Nodes, len(c.Segs)+1)
		}
		l.outlines = nil
		m.gs.open = false
	}
	if s.between == nil || i+1 == len(glyphs) {
		return nil
	}
	if err := m.flush(&l.outlines, &l.words, s); err != nil {
		return err
	}
	m.push(integer(g.code))
	m.push(integer(glyphs[i+1].code))
	return m.call(s.between)
}

// drawGlyph adds the outlines of a glyph, or runs its procedure, and returns
// its own advance in user space.
func (m *machine) drawGlyph(g drawn, ctm geom.Matrix, s showing, l *shown) (adv geom.Vec, err error) {
	at := m.gs.at
	if s.mode == measureText {
		at = geom.Vec{}
	}
	to := geom.Translate(at.X, at.Y).Mul(ctm).Mul(g.m)
	origin := g.m.Apply(geom.Vec{})
	if g.proc {
		// What the glyph paints comes after what was shown before it.
		if err := m.flush(&l.outlines, &l.words, s); err != nil {
			return adv, err
		}
		w, wy, err := m.runGlyph(g, to, s.mode != paintText)
		return g.m.Apply(geom.Vec{X: w, Y: wy}).Sub(origin), err
	}
	if s.mode != measureText {
		for _, c := range g.glyph.Contours {
			l.outlines = append(l.outlines, c.Transform(to))
		}
		l.words.WriteString(g.word)
	}
	return g.m.Apply(geom.Vec{X: g.glyph.Advance}).Sub(origin), nil
}

// advance returns how far glyph i moves: by its own advance and what ashow and
// widthshow add, or as the operators with lists of moves say.
func (s *showing) advance(i, code int, own geom.Vec) geom.Vec {
	move := func(i int) float64 {
		if i < len(s.moves) {
			return s.moves[i]
		}
		return 0
	}
	switch {
	case s.moveX && s.moveY:
		if 2*i+1 >= len(s.moves) {
			return geom.Vec{}
		}
		return geom.Vec{X: s.moves[2*i], Y: s.moves[2*i+1]}
	case s.moveX:
		return geom.Vec{X: move(i)}
	case s.moveY:
		return geom.Vec{Y: move(i)}
	}
	adv := own.Add(s.each)
	if code == s.code {
		adv = adv.Add(s.extra)
	}
	return adv
}

// flush paints the outlines collected so far as one shape.
func (m *machine) flush(outlines *[]geom.Contour, words *strings.Builder, s showing) error {
	if len(*outlines) == 0 || s.mode != paintText {
		return nil
	}
	c, w := *outlines, words.String()
	*outlines = nil
	words.Reset()
	if m.silent {
		return nil
	}
	before := len(m.sheet.Shapes)
	if err := m.shape(c, m.flip, false, nil); err != nil {
		return err
	}
	m.label(before, w)
	return nil
}

// label names the shapes from an index on after the words they show.
func (m *machine) label(from int, words string) {
	if words = strings.TrimSpace(words); words == "" {
		return
	}
	for i := from; i < len(m.sheet.Shapes); i++ {
		m.sheet.Shapes[i].Text = words
		if r := []rune(words); len(r) > 32 {
			words = string(r[:30]) + "…"
		}
		m.sheet.Shapes[i].Name = words
	}
}

// decode finds the glyphs of a string in a font; outer leads from the font's
// own user space on.
func (m *machine) decode(text []byte, d *dict, outer geom.Matrix, depth int) ([]drawn, error) {
	fm, _ := m.dictMatrix(d, "FontMatrix")
	t := outer.Mul(fm)
	kindOf := d.m["FontType"].n
	if kindOf == 0 {
		return m.composite(text, d, t, depth)
	}
	enc, _ := d.m["Encoding"].ref.(*array)
	var out []drawn
	for _, c := range text {
		g := drawn{m: t, font: d, code: int(c)}
		if enc != nil && int(c) < len(enc.v) {
			g.name = enc.v[c]
		}
		if kindOf == 3 {
			g.proc = true
			out = append(out, g)
			continue
		}
		m.outline(&g, key(g.name))
		out = append(out, g)
	}
	return out, nil
}

// composite splits a string of a font made of fonts (PLRM 5.10).
func (m *machine) composite(text []byte, d *dict, t geom.Matrix, depth int) ([]drawn, error) {
	parts, _ := d.m["FDepVector"].ref.(*array)
	enc, _ := d.m["Encoding"].ref.(*array)
	if parts == nil || depth > 4 {
		return nil, m.err("invalidfont")
	}
	var out []drawn
	sub := func(i int, rest []byte) error {
		if enc != nil && i >= 0 && i < len(enc.v) {
			i = enc.v[i].n
		}
		if i < 0 || i >= len(parts.v) {
			return m.err("rangecheck")
		}
		inner, ok := parts.v[i].ref.(*dict)
		if !ok {
			return m.err("invalidfont")
		}
		g, err := m.decode(rest, inner, t, depth+1)
		out = append(out, g...)
		return err
	}
	esc := byte(255)
	if e, ok := d.m["EscChar"]; ok {
		esc = byte(e.n)
	}
	current := 0
	for i := 0; i < len(text); {
		var err error
		switch kind := d.m["FMapType"].n; {
		case kind == 3 || kind == 7: // escape
			if text[i] == esc && i+1 < len(text) {
				current = int(text[i+1])
				i += 2
				continue
			}
			err = sub(current, text[i:i+1])
			i++
		case i+1 >= len(text):
			i++
		case kind == 4: // 1/7
			err = sub(int(text[i]>>7), []byte{text[i] & 127})
			i++
		case kind == 5: // 9/7
			v := int(text[i])<<8 | int(text[i+1])
			err = sub(v>>7, []byte{byte(v & 127)})
			i += 2
		default: // 8/8
			err = sub(int(text[i]), text[i+1:i+2])
			i += 2
		}
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

// outline fills in the glyph with the given name.
func (m *machine) outline(g *drawn, glyph string) {
	d := g.font
	g.word = word(glyph, g.code)
	if glyph == ".notdef" {
		g.word = ""
	}
	unit := func(in font.Glyph, s float64) font.Glyph {
		out := font.Glyph{Advance: in.Advance * s}
		for _, c := range in.Contours {
			out.Contours = append(out.Contours, c.Transform(geom.Scale(s, s)))
		}
		return out
	}
	switch p := m.program(d).(type) {
	case *font.Classic:
		in, ok := p.Glyph(glyph)
		if !ok && glyph != ".notdef" {
			m.sheet.Note(artwork.NoteMissingLetter, glyph+" of "+p.Name)
		}
		g.glyph = unit(in, 1000)
		m.standIn(p, g.word)
	case *font.Type1:
		g.glyph, _ = p.Named(glyph)
		if len(g.glyph.Contours) == 0 && g.glyph.Advance == 0 {
			g.glyph, _ = p.Named(".notdef")
		}
	case *font.CFF:
		gid := p.ByName(glyph)
		if gid < 0 {
			gid = 0
		}
		g.glyph = p.Glyph(gid)
		g.m = g.m.Mul(p.Matrix.Inverse()) // its glyphs come in em
	case *font.Embedded:
		gid := -1
		if chars, ok := d.m["CharStrings"].ref.(*dict); ok {
			if v, ok := chars.m[glyph]; ok && v.number() {
				gid = v.n
			}
		}
		if gid < 0 {
			gid = p.ByName(glyph)
		}
		g.glyph = p.Glyph(gid)
	default:
		m.sheet.Note(artwork.NoteUnknownFont, key(d.m["FontName"]))
	}
	if a, ok := metric(m, d, glyph); ok {
		g.glyph.Advance = a
	}
}

// metric looks a width up that the font's dictionary sets itself.
func metric(m *machine, d *dict, glyph string) (float64, bool) {
	t, ok := d.m["Metrics"].ref.(*dict)
	if !ok {
		return 0, false
	}
	o, ok := t.m[glyph]
	if !ok {
		return 0, false
	}
	if o.number() {
		return o.f, true
	}
	if a, ok := m.numArray(o); ok && len(a) >= 2 {
		return a[len(a)/2], true // [sbx wx] or [sbx sby wx wy]
	}
	return 0, false
}

// word returns the letter of a glyph's name.
func word(glyph string, code int) string {
	if r := font.RuneOf(glyph); r != 0 {
		return string(r)
	}
	if code >= 32 && code < 127 {
		return string(rune(code))
	}
	return ""
}

// standIn says once a font and text which shipped font serves.
func (m *machine) standIn(c *font.Classic, w string) {
	if w == "" || m.told[c.Name] {
		return
	}
	m.told[c.Name] = true
	if font.Standard(c.Name) {
		m.sheet.Note(artwork.NoteClassicFont, "", c.Name, c.Face.Family)
		return
	}
	m.sheet.Note(artwork.NoteStandIn, "", c.Name, c.Face.Family)
}

// program returns the font program of a dictionary, made once.
func (m *machine) program(d *dict) any {
	if o, ok := d.m[programKey]; ok {
		return o.ref
	}
	chars, _ := d.m["CharStrings"].ref.(*dict)
	switch d.m["FontType"].n {
	case 1:
		if chars == nil {
			return nil
		}
		if p, ok := m.programs[chars]; ok {
			return p
		}
		f := &font.Type1{Matrix: geom.Identity, CharStrings: map[string][]byte{}, LenIV: 4}
		for _, k := range chars.keys {
			if s, ok := chars.m[k].ref.(*str); ok {
				f.CharStrings[k] = s.b
			}
		}
		if priv, ok := d.m["Private"].ref.(*dict); ok {
			if v, ok := priv.m["lenIV"]; ok {
				f.LenIV = max(-1, min(64, v.n))
			}
			if subrs, ok := priv.m["Subrs"].ref.(*array); ok {
				for _, o := range subrs.v {
					s, _ := o.ref.(*str)
					if s == nil {
						s = &str{}
					}
					f.Subrs = append(f.Subrs, s.b)
				}
			}
		}
		m.programs[chars] = f
		return f
	case 42:
		sf, ok := d.m["sfnts"].ref.(*array)
		if !ok || chars == nil {
			return nil
		}
		if p, ok := m.programs[chars]; ok {
			return p
		}
		var data []byte
		for _, o := range sf.v {
			if s, ok := o.ref.(*str); ok {
				b := s.b
				if len(b)%2 == 1 { // strings of odd length end in a byte of padding
					b = b[:len(b)-1]
				}
				data = append(data, b...)
			}
		}
		var p any
		if e, err := font.ParseEmbedded(data); err == nil {
			p = e
		}
		m.programs[chars] = p
		return p
	}
	return nil
}

// runGlyph runs the procedure of a Type 3 font's glyph with glyph space mapped
// by to, and returns its advance in glyph space.
func (m *machine) runGlyph(g drawn, to geom.Matrix, silent bool) (float64, float64, error) {
	if math.Abs(to.Det()) < 1e-18 {
		to = geom.Identity
	}
	saved, oldSilent, oldWidth, oldFixed := m.gs, m.silent, m.charWidth, m.fixedColor
	m.gs = saved.clone()
	m.gs.ctm, m.gs.path, m.gs.has, m.gs.open = to, nil, false, false
	m.silent = oldSilent || silent
	m.charWidth = geom.Vec{}
	depth := len(m.saved)
	before := len(m.sheet.Shapes)
	defer func() {
		m.gs, m.silent, m.charWidth, m.fixedColor = saved, oldSilent, oldWidth, oldFixed
		if len(m.saved) > depth {
			m.saved = m.saved[:depth]
		}
	}()
	m.push(object{kind: kDict, ref: g.font})
	var err error
	if p, ok := g.font.m["BuildGlyph"]; ok {
		m.push(g.name)
		err = m.exec(p, false)
	} else if p, ok := g.font.m["BuildChar"]; ok {
		m.push(integer(g.code))
		err = m.exec(p, false)
	} else {
		err = m.err("invalidfont")
	}
	m.label(before, word(key(g.name), g.code))
	w := m.charWidth
	return w.X, w.Y, err
}

// opGlyphShow shows a glyph by its name.
func opGlyphShow(m *machine) error {
	k, err := m.pop()
	if err != nil {
		return err
	}
	d, ok := m.gs.font.ref.(*dict)
	if !ok {
		return m.err("invalidfont")
	}
	if !m.gs.has {
		return m.err("nocurrentpoint")
	}
	// As a string of one code in a font that has the glyph there.
	one := newDict()
	for _, n := range d.keys {
		one.put(n, d.m[n])
	}
	one.put("Encoding", object{kind: kArray, ref: &array{[]object{k}}})
	old := m.gs.font
	m.gs.font = object{kind: kDict, ref: one}
	err = m.show([]byte{0}, showing{code: -1})
	m.gs.font = old
	return err
}

// opEexec runs an encrypted part of the program up to where it closes itself.
func opEexec(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if t, ok := o.ref.(*str); ok {
		return m.runEexec(&scanner{b: font.Decrypt(font.Binary(t.b), 55665, 4), sealed: true})
	}
	if m.src == nil {
		return nil
	}
	s := m.src
	for s.i < len(s.b) && (s.b[s.i] == ' ' || s.b[s.i] == '\t' || s.b[s.i] == '\r' || s.b[s.i] == '\n') {
		s.i++
	}
	from := s.i
	m.skipTo("cleartomark")
	to := s.i
	if to < len(s.b) || strings.HasSuffix(string(s.b[max(0, len(s.b)-11):]), "cleartomark") {
		to -= len("cleartomark")
		s.i = to
	}
	m.budget.Spend(budget.Memory, (to-from)/8)
	return m.runEexec(&scanner{b: font.Decrypt(font.Binary(s.b[from:to]), 55665, 4), sealed: true})
}

func (m *machine) runEexec(s *scanner) error {
	if !m.budget.Enter() {
		m.budget.Leave()
		return m.err("execstackoverflow")
	}
	n := len(m.dicts)
	m.dicts = append(m.dicts, m.system)
	err := m.run(s)
	m.budget.Leave()
	// systemdict leaves again, wherever it now stands.
	if len(m.dicts) > n && m.dicts[n] == m.system {
		m.dicts = append(m.dicts[:n], m.dicts[n+1:]...)
	}
	return err
}

// opStartData reads a CFF font set that follows in the program text.
func opStartData(m *machine) error {
	n, err := m.intArg()
	if err != nil {
		return err
	}
	k, err := m.pop()
	if err != nil {
		return err
	}
	if m.src == nil || n < 0 {
		return m.err("rangecheck")
	}
	// The blank behind the word has been read with it.
	end := min(len(m.src.b), m.src.i+n)
	data := m.src.b[m.src.i:end]
	m.src.i = end
	if len(m.dicts) > 2 {
		m.dicts = m.dicts[:len(m.dicts)-1] // of FontSetInit
	}
	p, perr := font.ParseCFF(data)
	if perr != nil {
		return m.err("invalidfont")
	}
	d := newDict()
	d.put("FontName", k)
	d.put("FontType", integer(2))
	d.put("FontMatrix", matrixObject(p.Matrix))
	d.put("Encoding", encodingArray(p.Encoding))
	d.put("CharStrings", object{kind: kDict, ref: newDict()})
	d.put(
		"FontBBox",
		object{kind: kArray, ref: &array{[]object{integer(0), integer(0), integer(0), integer(0)}}},
	)
	d.put("FID", object{kind: kFont})
	d.put(programKey, object{kind: kFont, ref: p})
	m.fonts.put(key(k), object{kind: kDict, ref: d})
	return nil
}
