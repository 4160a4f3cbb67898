package svg

import (
	"math"
	"strings"
	"unicode"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/text/unicode/bidi"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font"
)

// char is one character of a text with what its elements say of it.
type char struct {
	small        bool // a small capital
	r            rune
	span         *span
	x, y, dx, dy float64 // NaN where nothing is said
	turn         float64 // degrees
	path         *textPath
	level        int // of embedding: odd from right to left
}

// span is an element of a text with its style.
type span struct {
	n     *node
	st    style
	found font.Found
	shift float64 // of the baseline, upwards
}

// textPath is a line that text runs along.
type textPath struct {
	line  []geom.Vec
	at    []float64 // length up to each point
	start float64
}

// glyphAt is a glyph put in its place, in the space of the text.
type glyphAt struct {
	span     *span
	contours []geom.Contour // in em, y up
	m        geom.Matrix
}

// text turns a text element into outlines: one shape for each span with a
// paint of its own.
func (r *reader) text(n *node, m geom.Matrix, st style, group int, hidden bool, key string) error {
	l := &layout{r: r, preserve: n.attr("space") == "preserve"}
	if err := l.collect(n, st, nil, true); err != nil {
		return err
	}
	l.trimEnd()
	if len(l.chars) == 0 {
		return nil
	}
	l.positions()
	l.directions(&st)
	placed := l.place()
	// Neighbouring glyphs of one span become one shape.
	for i := 0; i < len(placed); {
		sp := placed[i].span
		var contours []geom.Contour
		j := i
		for ; j < len(placed) && placed[j].span == sp; j++ {
			for _, c := range placed[j].contours {
				contours = append(contours, c.Transform(placed[j].m))
			}
		}
		i = j
		if len(contours) == 0 {
			continue
		}
		words := l.words(sp)
		label := n.label
		if label == "" {
			label = shorten(words)
		}
		switch face := sp.found.Face.Family; {
		case sp.st.family == r.base.family:
			r.sheet.Note(artwork.NoteNoFont, words, face)
		case sp.found.Stand != "":
			r.sheet.Note(artwork.NoteStandIn, words, sp.found.Stand, face)
		}
		st := sp.st
		st.evenOdd, st.markers = false, [3]string{}
		before := len(r.sheet.Shapes)
		as := &node{name: "text", attrs: sp.n.attrs, label: label, parent: n.parent}
		if err := r.shape(as, contours, m, &st, group, hidden, key); err != nil {
			return err
		}
		for k := before; k < len(r.sheet.Shapes); k++ {
			r.sheet.Shapes[k].Text = words
		}
	}
	return nil
}

// textOutline returns all letters of a text element in its own space.
func (r *reader) textOutline(n *node, st style) ([]geom.Contour, error) {
	l := &layout{r: r, preserve: n.attr("space") == "preserve"}
	if err := l.collect(n, st, nil, true); err != nil {
		return nil, err
	}
	l.trimEnd()
	if len(l.chars) == 0 {
		return nil, nil
	}
	l.positions()
	l.directions(&st)
	var out []geom.Contour
	for _, g := range l.place() {
		for _, c := range g.contours {
			r.budget.Spend(budget.Nodes, len(c.Segs)+1)
			out = append(out, c.Transform(g.m))
		}
	}
	return out, nil
}

func shorten(s string) string {
	if c := []rune(s); len(c) > 32 {
		return string(c[:30]) + "…"
	}
	return s
}

type layout struct {
	r        *reader
	chars    []char
	spans    []*span
	lists    []lists
	preserve bool
	space    bool // the last character was a space that may collapse
	missing  map[string]bool
}

// lists are the position attributes of an element from its first character on.
type lists struct {
	n           *node
	st          *style
	first, last int
}

func (l *layout) collect(n *node, st style, path *textPath, outer bool) error {
	sp := &span{n: n, st: st}
	l.r.budget.Spend(budget.Steps, 100+len(st.family)/4)
	sp.found = l.r.fonts.Find(
		font.Want{Families: strings.Split(st.family, ","), Weight: st.weight, Italic: st.italic},
	)
	sp.shift = st.rise
	l.spans = append(l.spans, sp)
	at := len(l.lists)
	l.lists = append(l.lists, lists{n: n, st: &sp.st, first: len(l.chars)})
	old := l.preserve
	switch n.attr("space") {
	case "preserve":
		l.preserve = true
	case "default":
		l.preserve = false
	}
	if st.pre {
		l.preserve = true
	}
	if n.name == "textPath" {
		if path = l.r.textPath(n, &st); path == nil {
			l.r.sheet.Note(artwork.NoteTextPathMissing, strings.Join(strings.Fields(n.allText()), " "))
			return nil
		}
	}
	for _, k := range n.kids {
		switch k.name {
		case "#text":
			l.r.budget.Spend(budget.Steps, 20*len(k.text)) // a letter is found, shaped and placed
			for _, c := range k.text {
				l.add(c, sp, path)
			}
		case "tspan", "textPath", "a", "tref":
			kst, shown, err := l.r.styleOf(k, st)
			if err != nil {
				return err
			}
			if !shown {
				continue
			}
			if k.name == "tref" {
				k = l.r.referred(k)
			}
			if err := l.collect(k, kst, path, false); err != nil {
				return err
			}
		case "title", "desc", "metadata":
		default:
			if !strings.Contains(k.name, ":") {
				l.r.sheet.Note(artwork.NoteElementInText, k.describe(), k.name)
			}
		}
	}
	l.preserve = old
	l.lists[at].last = len(l.chars)
	return nil
}

// referred returns a tref with the characters of what it refers to, all in its own style
// (SVG 1.1, 10.6).
func (r *reader) referred(n *node) *node {
	out := *n
	out.kids = nil
	if t := r.ids[strings.TrimPrefix(n.attr("href"), "#")]; t != nil && strings.HasPrefix(n.attr("href"), "#") {
		text := t.allText()
		r.budget.Spend(budget.Steps, len(text))
		out.kids = []*node{{name: "#text", text: text, parent: &out}}
	} else {
		r.sheet.Note(artwork.NoteMissingCopy, n.describe())
	}
	return &out
}

// add appends a character; white space collapses unless it is preserved.
func (l *layout) add(c rune, sp *span, path *textPath) {
	if c == '\n' || c == '\t' || c == '\r' {
		c = ' '
	}
	if c == ' ' && !l.preserve {
		if l.space || len(l.chars) == 0 {
			return
		}
		l.space = true
	} else {
		l.space = false
	}
	switch sp.st.letterCase {
	case "uppercase":
		c = unicode.ToUpper(c)
	case "lowercase":
		c = unicode.ToLower(c)
	}
	small := sp.st.smallCaps && unicode.IsLower(c)
	if small {
		c = unicode.ToUpper(c)
	}
	nan := math.NaN()
	l.chars = append(l.chars, char{r: c, small: small, span: sp, x: nan, y: nan, dx: nan, dy: nan, turn: nan, path: path})
}

func (l *layout) trimEnd() {
	if n := len(l.chars); l.space && n > 0 {
		l.chars = l.chars[:n-1]
	}
}

// positions hands the lists of the elements to the characters; inner elements
// win over outer ones.
func (l *layout) positions() {
	for _, e := range l.lists {
		w, h := l.r.view.W(), l.r.view.H()
		give := func(name string, per float64, set func(c *char, v float64)) {
			s := e.n.attr(name)
			if s == "" {
				return
			}
			for i, f := range strings.FieldsFunc(s, func(c rune) bool { return c == ',' || unicode.IsSpace(c) }) {
				if at := e.first + i; at < len(l.chars) && at < max(e.last, e.first) {
					if v := l.r.length(f, per, e.st); !math.IsInf(v, 0) {
						set(&l.chars[at], v)
					}
				}
			}
		}
		if e.n.name != "textPath" {
			give("x", w, func(c *char, v float64) { c.x = v })
			give("y", h, func(c *char, v float64) { c.y = v })
			give("dx", w, func(c *char, v float64) { c.dx = v })
			give("dy", h, func(c *char, v float64) { c.dy = v })
		}
		// The last angle holds for the characters behind it, too.
		if t := numbers(e.n.attr("rotate")); len(t) > 0 {
			for i := e.first; i < e.last && i < len(l.chars); i++ {
				l.chars[i].turn = t[min(i-e.first, len(t)-1)]
			}
		}
	}
}

// shaped is a glyph on its way, with its character and advance.
type shaped struct {
	char    int
	glyph   font.Glyph
	size    float64
	off     geom.Vec
	advance float64
	slant   bool
	wide    float64 // by what it is stretched along the line
}

// smallCap is how large small capitals are that are made of capitals: about as high as the
// small letters of most fonts, and a little more.
const smallCap = 0.75

// shape returns the glyphs of a run of characters in one span.
func (l *layout) shape(from, to int) []shaped {
	var out []shaped
	l.r.budget.Spend(budget.Steps, 60) // a run is set up for the shaper
	sp := l.chars[from].span
	// Parts that need another face are shaped on their own.
	for from < to {
		size := sp.st.fontSize
		if l.chars[from].small {
			size *= smallCap
		}
		f, _, ok := font.Fallback(sp.found, l.chars[from].r)
		end := from + 1
		for end < to {
			g, _, _ := font.Fallback(sp.found, l.chars[end].r)
			if g.Face != f.Face && l.chars[end].r != ' ' || l.chars[end].small != l.chars[from].small {
				break
			}
			end++
		}
		if !ok && l.chars[from].r > ' ' {
			l.r.sheet.Note(artwork.NoteMissingLetter, string(l.chars[from].r))
		}
		text := make([]rune, end-from)
		for i := range text {
			text[i] = l.chars[from+i].r
		}
		var off []shaping.FontFeature
		if sp.st.letterSpacing != 0 {
			off = []shaping.FontFeature{{Tag: font.Tag("liga"), Value: 0}, {Tag: font.Tag("clig"), Value: 0}}
		}
		way := di.DirectionLTR
		if l.chars[from].level%2 == 1 {
			way = di.DirectionRTL
		}
		for _, g := range f.Face.Shape(text, off, way, language.LookupScript(first(text))) {
			s := shaped{char: from + g.Char, glyph: f.Face.Glyph(g.GID), size: size, slant: f.Slant, wide: 1}
			s.off = geom.Vec{X: g.Offset.X * size, Y: g.Offset.Y * size}
			s.advance = g.Advance * size
			if g.Last {
				s.advance += sp.st.letterSpacing
				if l.chars[s.char].r == ' ' || l.chars[s.char].r == '\u00a0' {
					s.advance += sp.st.wordSpacing
				}
			}
			out = append(out, s)
		}
		from = end
	}
	return out
}

func first(text []rune) rune {
	for _, c := range text {
		if unicode.IsLetter(c) {
			return c
		}
	}
	return text[0]
}

// directions finds out which letters run from right to left.
func (l *layout) directions(st *style) {
	text := make([]rune, len(l.chars))
	for i, c := range l.chars {
		text[i] = c.r
	}
	levels := font.Levels(text, st.rightToLeft, func(i int) (bidi.Class, bool) {
		sp := &l.chars[i].span.st
		if sp.rightToLeft {
			return bidi.R, sp.override
		}
		return bidi.L, sp.override
	})
	for i := range l.chars {
		l.chars[i].level = levels[i]
	}
}

// place lays the characters out: chunks begin where a position is given and
// are anchored as a whole.
func (l *layout) place() []glyphAt {
	var out []glyphAt
	at := geom.Vec{}
	for i := 0; i < len(l.chars); {
		end := l.chunkEnd(i)
		c := &l.chars[i]
		at.X, at.Y = or(c.x, at.X), or(c.y, at.Y)
		if c.path != nil {
			at = geom.Vec{X: or(c.x, 0)}
		}
		var runs [][]shaped
		var levels []int
		for k := i; k < end; {
			stop := l.runEnd(k, end)
			runs, levels = append(runs, l.shape(k, stop)), append(levels, l.chars[k].level)
			k = stop
		}
		var glyphs []shaped
		for _, k := range font.Visual(levels) {
			glyphs = append(glyphs, runs[k]...)
		}
		l.stretch(glyphs, i, end)
		l.anchor(&at, &c.span.st, l.widthOf(glyphs))
		at = l.set(glyphs, at, &out)
		i = end
	}
	return out
}

// anchor moves where a chunk begins by what lies before its anchor.
func (l *layout) anchor(at *geom.Vec, st *style, total float64) {
	back := map[string]float64{"middle": 0.5, "end": 1}[st.anchor] * total
	if st.rightToLeft {
		back = total - back
	}
	if st.vertical {
		at.Y -= back
	} else {
		at.X -= back
	}
}

// chunkEnd returns where the chunk that begins at character i ends: at the next
// absolute position or change of path.
func (l *layout) chunkEnd(i int) int {
	end := i + 1
	for ; end < len(l.chars); end++ {
		if c := &l.chars[end]; !math.IsNaN(c.x) || !math.IsNaN(c.y) || c.path != l.chars[i].path {
			break
		}
	}
	return end
}

// runEnd returns where the run that begins at character k of a chunk ends: one
// span, without moves of single characters within.
func (l *layout) runEnd(k, end int) int {
	first := &l.chars[k]
	if !math.IsNaN(first.turn) {
		return k + 1
	}
	stop := k + 1
	for ; stop < end; stop++ {
		c := &l.chars[stop]
		if c.span != first.span || c.level != first.level || !math.IsNaN(c.dx) || !math.IsNaN(c.dy) || !math.IsNaN(c.turn) {
			break
		}
	}
	return stop
}

// startsChar reports whether glyph j is the first one of its character.
func startsChar(glyphs []shaped, j int) bool { return j == 0 || glyphs[j-1].char != glyphs[j].char }

// widthOf returns how far the glyphs of a chunk advance.
func (l *layout) widthOf(glyphs []shaped) float64 {
	total := 0.0
	for j, g := range glyphs {
		total += l.advance(&glyphs[j])
		if c := &l.chars[g.char]; startsChar(glyphs, j) && c.span.st.vertical {
			total += or(c.dy, 0)
		} else if startsChar(glyphs, j) {
			total += or(c.dx, 0)
		}
	}
	return total
}

// advance returns how far a glyph leads along the line: upright ones in lines that run down
// take the height of their letters.
func (l *layout) advance(g *shaped) float64 {
	if !l.standing(g) {
		return g.advance * g.wide
	}
	return (g.size + l.chars[g.char].span.st.letterSpacing) * g.wide
}

// standing reports whether a glyph stands upright in a line that runs down (Unicode Standard
// Annex 50, as far as scripts go: those that are written so stand, others lie).
func (l *layout) standing(g *shaped) bool {
	st := &l.chars[g.char].span.st
	if !st.vertical || st.sideways {
		return false
	}
	r := l.chars[g.char].r
	return st.upright || unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana, unicode.Hangul, unicode.Bopomofo, unicode.Yi) ||
		r >= 0x3000 && r < 0x3100 || r >= 0xff00 && r < 0xff61
}

// stretch brings elements that lie in the chunk of characters from first to end to their
// textLength, inner ones first, by their gaps or, as lengthAdjust may say, by their letters.
func (l *layout) stretch(glyphs []shaped, first, end int) {
	for k := len(l.lists) - 1; k >= 0; k-- {
		e := &l.lists[k]
		want := l.r.length(e.n.attr("textLength"), l.r.view.W(), e.st)
		if want <= 0 || e.first < first || e.last > end || e.first >= e.last {
			continue
		}
		var own []*shaped
		total := 0.0
		for j := range glyphs {
			if c := glyphs[j].char; c >= e.first && c < e.last {
				own = append(own, &glyphs[j])
				total += l.advance(&glyphs[j])
				if c > e.first && startsChar(glyphs, j) {
					total += or(l.chars[c].dx, 0)
				}
			}
		}
		if total <= 0 || math.IsInf(want, 0) {
			continue
		}
		extra := 0.0
		if len(own) > 1 {
			extra = (want - total) / float64(len(own)-1)
		}
		for j, g := range own {
			if e.n.attr("lengthAdjust") == "spacingAndGlyphs" {
				g.wide *= want / total
			} else if j+1 < len(own) {
				g.advance += extra
			}
		}
	}
}

// set appends the glyphs of a chunk, from at on, and returns where the next one
// may go on.
func (l *layout) set(glyphs []shaped, at geom.Vec, out *[]glyphAt) geom.Vec {
	for j, g := range glyphs {
		ch := &l.chars[g.char]
		if startsChar(glyphs, j) {
			at.X += or(ch.dx, 0)
			at.Y += or(ch.dy, 0)
		}
		adv := l.advance(&glyphs[j])
		m := geom.Translate(at.X, at.Y)
		seen := true
		if ch.path != nil {
			m, seen = ch.path.matrix(at.X+adv/2, at.Y)
			m = m.Mul(geom.Translate(-adv/2, 0))
		} else if ch.span.st.vertical {
			m = m.Mul(l.downwards(&glyphs[j]))
		}
		if t := or(ch.turn, 0); t != 0 {
			m = m.Mul(geom.Rotate(t * math.Pi / 180))
		}
		m = m.Mul(geom.Matrix{A: g.size * g.wide, D: -g.size, E: g.off.X * g.wide, F: -g.off.Y - ch.span.shift})
		if seen {
			gl := g.glyph
			if g.slant {
				gl = font.Slanted(gl)
			}
			*out = append(*out, glyphAt{ch.span, gl.Contours, m})
			*out = append(*out, l.lines(ch.span, adv, m, g)...)
		}
		if ch.span.st.vertical && ch.path == nil {
			at.Y += adv
		} else {
			at.X += adv
		}
	}
	return at
}

// downwards places a glyph on a line that runs down through its middle: upright, or turned
// with its head to the right.
func (l *layout) downwards(g *shaped) geom.Matrix {
	up, down := l.chars[g.char].span.found.Face.Extents()
	if l.standing(g) {
		return geom.Translate(-g.advance/2, (up+(1-up+down)/2)*g.size)
	}
	return geom.Rotate(math.Pi / 2).Mul(geom.Translate(0, (up+down)/2*g.size))
}

// lines returns the pieces of underline and the like for one glyph.
func (l *layout) lines(sp *span, advance float64, m geom.Matrix, g shaped) []glyphAt {
	var out []glyphAt
	if sp.st.decoration == "" || g.size == 0 {
		return nil
	}
	w := g.advance / g.size
	if sp.st.vertical && l.standing(&g) {
		return nil
	}
	for _, d := range strings.Fields(sp.st.decoration) {
		place, thick := sp.found.Face.Metric(d == "line-through")
		switch d {
		case "underline", "line-through":
		case "overline":
			place, _ = sp.found.Face.Extents()
		default:
			continue
		}
		out = append(out, glyphAt{sp, []geom.Contour{{Start: geom.Vec{X: 0, Y: place - thick/2}, Closed: true,
			Segs: []geom.Segment{
				{To: geom.Vec{X: w, Y: place - thick/2}},
				{To: geom.Vec{X: w, Y: place + thick/2}},
				{To: geom.Vec{X: 0, Y: place + thick/2}},
			}}}, m})
	}
	return out
}

func (l *layout) words(sp *span) string {
	var b strings.Builder
	for _, c := range l.chars {
		if c.span == sp {
			b.WriteRune(c.r)
		}
	}
	return strings.TrimSpace(b.String())
}

func or(v, other float64) float64 {
	if math.IsNaN(v) {
		return other
	}
	return v
}

// textPath measures the line that a textPath element names.
func (r *reader) textPath(n *node, st *style) *textPath {
	t := r.reference(n.attr("href"))
	if t == nil {
		return nil
	}
	contours, ok, err := r.geometry(t, st)
	if err != nil || !ok || len(contours) == 0 {
		return nil
	}
	m := geom.Identity
	if tr := t.attr("transform"); tr != "" {
		m, _ = parseTransform(tr)
	}
	p := &textPath{}
	sum := 0.0
	for _, c := range contours {
		c = c.Transform(m)
		b := c.Box()
		line := c.Flatten(math.Max((b.W()+b.H())/20_000, 1e-9), nil)
		if c.Closed {
			line = append(line, line[0])
		}
		for i, v := range line {
			if i > 0 {
				sum += v.Sub(line[i-1]).Len()
			}
			p.line = append(p.line, v)
			p.at = append(p.at, sum)
		}
	}
	if !(sum > 0) || math.IsInf(sum, 0) {
		return nil
	}
	p.start = r.length(n.attr("startOffset"), sum, st)
	return p
}

// matrix returns the place at a length along the line, below it by y; ok is
// false beyond its ends.
func (p *textPath) matrix(at, y float64) (geom.Matrix, bool) {
	at += p.start
	if at < 0 || at > p.at[len(p.at)-1] {
		return geom.Identity, false
	}
	i := 1
	for lo, hi := 1, len(p.at)-1; lo <= hi; { // the first point not before at
		mid := (lo + hi) / 2
		if p.at[mid] >= at {
			i, hi = mid, mid-1
		} else {
			lo = mid + 1
		}
	}
	a, b := p.line[i-1], p.line[i]
	k := 0.0
	if d := p.at[i] - p.at[i-1]; d > 0 {
		k = (at - p.at[i-1]) / d
	}
	v := a.Lerp(b, k)
	d := b.Sub(a).Unit()
	return geom.Matrix{A: d.X, B: d.Y, C: -d.Y, D: d.X, E: v.X - d.Y*y, F: v.Y + d.X*y}, true
}
