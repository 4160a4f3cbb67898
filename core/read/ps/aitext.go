package ps

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font"
)

// aiTextOperators holds the operators of text objects in the older artwork
// format. Text at a point becomes outlines; text in areas and along paths is
// not laid out in the file and is reported.
var aiTextOperators = map[string]aiOp{
	"To": aiBeginText,
	"TO": aiEndText,
	"Tp": aiTextPlace,
	"TP": func(m *machine) error { // the path of an area or line ends
		m.gs.path, m.gs.has, m.gs.open = nil, false, false
		return aiDrop(m)
	},
	"Td": aiTextMove,
	"T*": func(m *machine) error {
		m.aiTextState()
		return m.aiNewLine()
	},
	"Tf": aiTextFont,
	"TZ": aiEncoding,
	"Tl": func(m *machine) error { // leading of lines and of paragraphs
		m.aiTextState()
		if len(m.stack) > 0 && m.stack[0].number() {
			m.ai.text.leading = m.stack[0].f
		}
		return aiDrop(m)
	},
	"Tz": func(m *machine) error {
		m.aiTextState()
		if len(m.stack) > 0 && m.stack[0].number() && m.stack[0].f > 0 {
			m.ai.text.scale = m.stack[0].f / 100
		}
		return aiDrop(m)
	},
	"Tt": aiSetText(func(t *aiText, v float64) { t.track = v / 1000 }),
	"Ts": aiSetText(func(t *aiText, v float64) { t.rise = v }),
	"Ta": aiSetText(func(t *aiText, v float64) { t.align = int(v) }),
	"Tr": aiSetText(func(t *aiText, v float64) { t.render = int(v) }),
	"Tk": aiSetText(func(t *aiText, v float64) { t.x -= v / 1000 * t.size * t.scale }),
	"Tx": aiShow,
	"TX": aiShow,
	"Tj": aiShow,
}

func init() {
	// What sets how an editor breaks lines and hyphenates.
	const layout = "TA TC TV Tv TW Tw Ti Tc Tq TG Tg T- T+ Tu TS Tb %_Tc %_TC %_Tq %_Tg %_TG %_Tv %_TV"
	for _, name := range strings.Fields(layout) {
		aiOperators[name] = aiDrop
	}
}

// aiSetText makes an operator of one number that changes the text's state.
func aiSetText(f func(t *aiText, v float64)) aiOp {
	return func(m *machine) error {
		if n := len(m.stack); n > 0 && m.stack[n-1].number() {
			v, _ := m.num()
			m.aiTextState()
			f(m.ai.text, v)
		}
		return aiDrop(m)
	}
}

// aiBeginText opens a text object; attributes stay from the one before.
func aiBeginText(m *machine) error {
	t := &aiText{m: geom.Identity, scale: 1, size: 12}
	if old := m.ai.text; old != nil {
		t.font, t.size, t.leading = old.font, old.size, old.leading
		t.track, t.scale = old.track, old.scale
	}
	if n := len(m.stack); n > 0 {
		t.kind = m.stack[n-1].n
	}
	m.ai.text = t
	return aiDrop(m)
}

func aiEndText(m *machine) error {
	err := m.aiLine()
	if t := m.ai.text; t != nil && t.unplaced {
		m.sheet.Note(artwork.NoteAreaText, strings.TrimSpace(t.words.String()))
	}
	m.stack = m.stack[:0]
	m.gs.path, m.gs.has, m.gs.open = nil, false, false
	return err
}

func aiTextPlace(m *machine) error {
	m.aiTextState()
	n := len(m.stack)
	if n >= 7 && m.stack[n-1].number() { // the matrix and where the text starts
		m.num()
	}
	if v, err := m.nums(6); err == nil {
		m.ai.text.m = geom.Matrix{A: v[0], B: v[1], C: v[2], D: v[3], E: v[4], F: v[5]}
		m.ai.text.line = m.ai.text.m
	}
	return aiDrop(m)
}

func aiTextMove(m *machine) error {
	m.aiTextState()
	if v, err := m.nums(2); err == nil {
		if err := m.aiLine(); err != nil {
			return err
		}
		m.ai.text.line = m.ai.text.line.Mul(geom.Translate(v[0], v[1]))
	}
	return aiDrop(m)
}

// aiTextFont sets font and size: the first name and the first number behind it.
func aiTextFont(m *machine) error {
	m.aiTextState()
	var size float64
	var wanted string
	for _, o := range m.stack {
		switch {
		case o.kind == kName && wanted == "":
			wanted = strings.TrimPrefix(o.s, "_")
		case o.number() && wanted != "" && size == 0:
			size = o.f
		}
	}
	m.stack = m.stack[:0]
	if wanted == "" {
		return nil
	}
	f, ok := m.ai.fonts[wanted]
	if !ok {
		f = m.library.ForPostScript(wanted)
		m.ai.fonts[wanted] = f
	}
	m.ai.text.font = f
	if size > 0 {
		m.ai.text.size = size
	}
	return nil
}

func (m *machine) aiTextState() {
	if m.ai.text == nil {
		m.ai.text = &aiText{m: geom.Identity, line: geom.Identity, scale: 1, size: 12}
	}
}

// aiEncoding reads what characters a font's codes mean: numbers and names,
// then the new and the old name of the font.
func aiEncoding(m *machine) error {
	a, err := m.toMark()
	if err != nil {
		m.stack = m.stack[:0]
		return nil
	}
	var names []string
	enc := *font.Named("standard")
	code := -1
	for i := 0; i < len(a); i++ {
		switch o := a[i]; {
		case o.number():
			code = o.n
		case o.kind == kName && code >= 0 && code < 256 && i+1 < len(a):
			enc[code] = o.s
			code++
			names = append(names, o.s)
		case o.kind == kName:
			names = append(names, o.s)
		}
	}
	// The last two names are those of the font; they were not characters.
	if n := len(names); n >= 2 && strings.HasPrefix(names[n-2], "_") {
		for i := range enc {
			if enc[i] == names[n-1] || enc[i] == names[n-2] {
				enc[i] = font.Named("standard")[i]
			}
		}
		f := m.library.ForPostScript(names[n-1])
		if f.Encoding == font.Named("standard") {
			f.Encoding = &enc
		}
		m.ai.fonts[strings.TrimPrefix(names[n-2], "_")] = f
	}
	return nil
}

// aiShow sets a string on the open line.
func aiShow(m *machine) error {
	text, ok := m.aiString()
	m.stack = m.stack[:0]
	m.aiTextState()
	t := m.ai.text
	if !ok {
		return nil
	}
	if t.kind != 0 {
		t.words.WriteString(text)
		t.unplaced = true
		return nil
	}
	if t.font == nil {
		t.font = m.library.ForPostScript("Helvetica")
	}
	for _, c := range []byte(text) {
		m.budget.Spend(budget.Steps, 10)
		if c == '\r' || c == '\n' || c == 3 {
			if err := m.aiNewLine(); err != nil {
				return err
			}
			continue
		}
		g, found := t.font.Glyph(t.font.Encoding[c])
		if !found {
			m.sheet.Note(artwork.NoteMissingLetter, t.font.Encoding[c]+" of "+t.font.Name)
		}
		to := geom.Matrix{A: t.size * t.scale, D: t.size, E: t.x, F: t.rise}
		for _, k := range g.Contours {
			m.budget.Spend(budget.Nodes, len(k.Segs)+1)
			t.glyphs = append(t.glyphs, k.Transform(to))
		}
		w := word(t.font.Encoding[c], int(c))
		t.words.WriteString(w)
		m.standIn(t.font, w)
		t.x += (g.Advance + t.track) * t.size * t.scale
	}
	return nil
}

func (m *machine) aiNewLine() error {
	if err := m.aiLine(); err != nil {
		return err
	}
	t := m.ai.text
	lead := t.leading
	if lead == 0 {
		lead = 1.2 * t.size
	}
	t.line = t.line.Mul(geom.Translate(0, -math.Abs(lead)))
	return nil
}

// aiLine paints the line that has been set.
func (m *machine) aiLine() error {
	t := m.ai.text
	if t == nil || len(t.glyphs) == 0 {
		if t != nil {
			t.x = 0
		}
		return nil
	}
	shift := 0.0
	switch t.align {
	case 1:
		shift = -t.x / 2
	case 2:
		shift = -t.x
	}
	to := m.gs.ctm.Mul(t.line).Mul(geom.Translate(shift, 0))
	var path []geom.Contour
	for _, c := range t.glyphs {
		path = append(path, c.Transform(to))
	}
	words := t.words.String()
	t.glyphs, t.x = nil, 0
	t.words.Reset()
	old, rule := *m.gs, m.ai.evenOdd
	m.gs.path, m.gs.open = path, false
	m.ai.evenOdd = false
	before := len(m.sheet.Shapes)
	var err error
	switch t.render {
	case 1:
		err = m.aiPaint(false, false, true)
	case 2:
		err = m.aiPaint(false, true, true)
	case 3:
		m.sheet.Note(artwork.NoteInvisibleText, words)
	default:
		err = m.aiPaint(false, true, false)
	}
	m.label(before, words)
	m.gs.path, m.gs.at, m.gs.start, m.gs.has, m.gs.open = old.path, old.at, old.start, old.has, old.open
	m.ai.evenOdd = rule
	return err
}
