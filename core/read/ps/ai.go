package ps

import (
	"bytes"
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/font"
	"bildhauer/core/read/ink"
)

// The older artwork format is a list of operators of its own in PostScript
// clothing: a prolog, often left out, says how to print them. They are
// understood here directly, which also keeps layers, groups and names.

// artworkScript returns the part of a file that is written in these
// operators; ours is false for files that do not say that they are.
func artworkScript(data []byte) (script []byte, ours bool) {
	head := data[:min(len(data), 16<<10)]
	for _, m := range []string{"%AI3_", "%AI5_", "%AI7_", "%AI8_", "%%AI8_", "%%AI3_", "%%AI5_", "%%AI7_"} {
		ours = ours || bytes.Contains(head, []byte(m))
	}
	// Later versions print through another set of procedures, and documents
	// placed inside need the interpreter.
	ours = ours && !bytes.Contains(data, []byte("Adobe_AGM_")) &&
		!(bytes.Contains(data, []byte("%%BeginDocument")) && bytes.Contains(data, []byte("%%BeginProlog")))
	line := func(mark string) int { return bytes.Index(data, []byte(mark)) }
	from := 0
	if i := line("%%EndProlog"); i >= 0 {
		from = i
	}
	if i := line("%%BeginSetup"); i >= from {
		from = i
	}
	to := len(data)
	for _, m := range []string{"%%PageTrailer", "%%Trailer"} {
		if i := bytes.LastIndex(data, []byte(m)); i > from {
			to = min(to, i)
		}
	}
	return data[from:to], ours
}

// aiState is what the artwork operators keep beside the graphics state.
type aiState struct {
	stroke     artwork.Color
	fill       artwork.Color
	compound   int            // open compound paths
	parts      []geom.Contour // of the compound so far
	paint      string         // the last painting operator inside it
	doClip     bool           // W waits for the painting operator
	evenOdd    bool
	group      int
	groups     []aiGroup
	hidden     int // open layers that are not shown
	invisible  bool
	note       string
	ramps      map[string]*ramp
	ramp       *ramp // being defined
	gradient   *artwork.Gradient
	used       bool // the gradient has painted since it was set
	fonts      map[string]*font.Classic
	text       *aiText
	unreadable bool
}

type aiGroup struct {
	group  int
	clips  []*artwork.Clip
	hidden bool
}

// ramp is a gradient by name.
type ramp struct {
	radial bool
	stops  []rampStop
}

type rampStop struct {
	at, mid float64
	color   artwork.Color
}

// aiText is the text object that is open.
type aiText struct {
	kind            int // 0 at a point, 1 in an area, 2 along a path
	m, line         geom.Matrix
	font            *font.Classic
	size            float64
	leading         float64
	track, scale    float64
	rise            float64
	align           int
	render          int
	glyphs          []geom.Contour // of the line so far, from x = 0
	x               float64
	words           strings.Builder
	said, unplaced  bool
	filled, stroked bool
}

// runArtwork interprets a script of artwork operators.
func (m *machine) runArtwork(script []byte) error {
	m.sheet.Format = "AI"
	m.ai = &aiState{group: -1, ramps: map[string]*ramp{}, fonts: map[string]*font.Classic{}}
	ops := newDict()
	for n, f := range aiOperators {
		ops.put(n, object{kind: kOp, exec: true, s: n, ref: f})
	}
	m.dicts = []*dict{m.system, ops}
	m.lenient = true
	script = printed(script)
	// What comes before the end of the setup defines gradients, patterns and
	// fonts; it paints nothing.
	if i := bytes.Index(script, []byte("%%EndSetup")); i >= 0 {
		m.silent = true
		err := m.run(&scanner{b: script[:i], special: true})
		m.silent = false
		m.stack = m.stack[:0]
		m.gs, m.ai.group, m.ai.groups, m.ai.hidden, m.ai.text = newState(), -1, nil, 0, nil
		if err != nil {
			return err
		}
		script = script[i:]
	}
	return m.run(&scanner{b: script, special: true})
}

// printed leaves out the sections of palettes, brushes and the like.
func printed(script []byte) []byte {
	for _, s := range [][2]string{{"%AI5_Begin_NonPrinting", "%AI5_End_NonPrinting"}, {"%AI8_BeginBrushPattern", "%AI8_EndBrushPattern"}, {"%AI3_BeginPattern", "%AI3_EndPattern"}, {"%AI5_BeginPalette", "%AI5_EndPalette"}} {
		var kept []byte
		rest := script
		for {
			i := bytes.Index(rest, []byte(s[0]))
			if i < 0 {
				break
			}
			j := bytes.Index(rest[i:], []byte(s[1]))
			if j < 0 {
				break
			}
			kept = append(kept, rest[:i]...)
			rest = rest[i+j:]
		}
		if kept != nil {
			script = append(kept, rest...)
		}
	}
	return script
}

// aiString pops a string, forgiving where there is none.
func (m *machine) aiString() (string, bool) {
	if n := len(m.stack); n > 0 {
		if s, ok := m.stack[n-1].ref.(*str); ok {
			m.stack = m.stack[:n-1]
			return string(s.b), true
		}
	}
	return "", false
}

func (m *machine) aiColor(c artwork.Color, stroke bool) {
	if stroke {
		m.ai.stroke = c
	} else {
		m.ai.fill, m.ai.gradient = c, nil
	}
}

// aiSpot sets a spot colour by its process colours and tint, 0 for the full
// colour. With kinds a flag says which process: 0 for CMYK, 1 for RGB.
func (m *machine) aiSpot(stroke, kinds bool) error {
	rgb := false
	if kinds {
		v, err := m.num()
		if err != nil {
			return err
		}
		rgb = v == 1
	}
	tint, err := m.num()
	if err != nil {
		return err
	}
	if name, ok := m.aiString(); ok {
		m.inkNamed(name)
	}
	n := 4
	if rgb {
		n = 3
	}
	v, err := m.nums(min(n, len(m.stack)))
	if err != nil {
		return err
	}
	for len(v) < n {
		v = append(v, 0)
	}
	if rgb {
		for i := range v {
			v[i] = 1 - (1-v[i])*(1-tint)
		}
		m.aiColor(ink.RGB(v[0], v[1], v[2]), stroke)
		return nil
	}
	for i := range v {
		v[i] *= 1 - tint
	}
	m.aiColor(ink.CMYK(v[0], v[1], v[2], v[3]), stroke)
	return nil
}

func (m *machine) aiPattern(stroke bool) error {
	m.stack = m.stack[:0]
	m.sheet.Note(artwork.NotePatternGrey, "")
	m.aiColor(artwork.Color{R: 128, G: 128, B: 128}, stroke)
	return nil
}

func (m *machine) aiOpen(name string, layer, hidden bool) {
	if len(m.ai.groups) > maxSaved || m.silent {
		return
	}
	m.ai.groups = append(m.ai.groups, aiGroup{m.ai.group, m.gs.clips, hidden})
	if hidden {
		m.ai.hidden++
	}
	m.sheet.Groups = append(
		m.sheet.Groups,
		artwork.Group{Name: name, Layer: layer, Hidden: hidden, Parent: m.ai.group},
	)
	m.ai.group = len(m.sheet.Groups) - 1
}

func (m *machine) aiClose() {
	n := len(m.ai.groups)
	if n == 0 {
		return
	}
	g := m.ai.groups[n-1]
	m.ai.groups = m.ai.groups[:n-1]
	m.ai.group, m.gs.clips = g.group, g.clips
	if g.hidden {
		m.ai.hidden--
	}
}

// aiPaint paints the path, or keeps it while a compound is open.
func (m *machine) aiPaint(shut, fill, stroke bool) error {
	if shut {
		opClosepath(m)
	}
	a := m.ai
	if a.compound > 0 {
		a.parts = append(a.parts, m.contours()...)
		switch {
		case fill && stroke:
			a.paint = "b"
		case fill:
			a.paint = "f"
		case stroke:
			a.paint = "s"
		}
		m.gs.path, m.gs.has, m.gs.open = nil, false, false
		return nil
	}
	before := len(m.sheet.Shapes)
	if fill {
		m.gs.color = a.fill
		if err := m.fill(a.evenOdd); err != nil {
			return err
		}
		if a.gradient != nil {
			a.used = true
			m.aiShade(before)
		}
	}
	if stroke {
		m.gs.color = a.stroke
		if err := m.stroke(); err != nil {
			return err
		}
	}
	if a.doClip {
		a.doClip = false
		if err := m.clip(a.evenOdd); err != nil {
			return err
		}
	} else if !fill && !stroke && len(m.contours()) > 0 && a.text == nil {
		m.aiLost(artwork.NoteNoPaint)
	}
	m.aiPlace(before)
	m.gs.path, m.gs.has, m.gs.open = nil, false, false
	return nil
}

// aiLost reports the path as left out.
func (m *machine) aiLost(what artwork.NoteKind) {
	if m.silent {
		return
	}
	box := geom.EmptyBox()
	for _, c := range m.contours() {
		box = box.Union(c.Box())
	}
	m.sheet.NoteAt(what, "", box.Transform(m.flip))
}

// aiPlace puts the shapes from an index on into the open group.
func (m *machine) aiPlace(from int) {
	for i := from; i < len(m.sheet.Shapes); i++ {
		s := &m.sheet.Shapes[i]
		s.Group, s.Hidden = m.ai.group, m.ai.hidden > 0 || m.ai.invisible
	}
}

// aiShade gives the shapes from an index on the current gradient.
func (m *machine) aiShade(from int) {
	for i := from; i < len(m.sheet.Shapes); i++ {
		s := &m.sheet.Shapes[i]
		s.Gradient, s.Veil = m.ai.gradient, 1
		b := s.Reach()
		s.Color, s.Opacity = s.Gradient.Mean(s.Outline(math.Max((b.W()+b.H())/100, 1e-6)))
		m.sheet.Note(artwork.NoteMeanColor, "")
	}
}

func aiBeginRamp(m *machine) error {
	v, err := m.nums(2)
	if err != nil {
		return err
	}
	name, _ := m.aiString()
	m.ai.ramp = &ramp{radial: v[0] == 1}
	m.ai.ramps[name] = m.ai.ramp
	return nil
}

// aiStop reads a stop: the colour's numbers, its kind, the middle to the next
// stop and the place, both in percent.
func aiStop(m *machine) error {
	v, err := m.nums(3)
	if err != nil {
		return err
	}
	kind := int(v[0])
	s := rampStop{mid: v[1], at: v[2]}
	tint := 0.0
	if kind == 3 || kind == 4 {
		if tint, err = m.num(); err != nil {
			return err
		}
		m.aiString()
	}
	want := map[int]int{0: 1, 1: 4, 2: 7, 3: 4, 4: 7}[kind]
	c, err := m.nums(want)
	if err != nil || want == 0 {
		return err
	}
	switch {
	case kind == 0:
		s.color = ink.Gray(c[0])
	case want == 7:
		s.color = ink.RGB(1-(1-c[4])*(1-tint), 1-(1-c[5])*(1-tint), 1-(1-c[6])*(1-tint))
	default:
		s.color = ink.CMYK(c[0]*(1-tint), c[1]*(1-tint), c[2]*(1-tint), c[3]*(1-tint))
	}
	if m.ai.ramp != nil && len(m.ai.ramp.stops) < 1000 {
		m.ai.ramp.stops = append(m.ai.ramp.stops, s)
	}
	m.stack = m.stack[:0]
	return nil
}

// aiUseRamp makes a gradient the fill: its name, origin, angle, length and a
// matrix.
func aiUseRamp(m *machine) error {
	v, err := m.nums(10)
	if err != nil {
		return err
	}
	name, _ := m.aiString()
	m.stack = m.stack[:0]
	r := m.ai.ramps[name]
	if r == nil || len(r.stops) == 0 {
		m.sheet.Note(artwork.NoteGradientGrey, name)
		m.ai.fill = artwork.Color{R: 128, G: 128, B: 128}
		return nil
	}
	g := &artwork.Gradient{Radial: r.radial, Spread: "pad"}
	g.Matrix = m.flip.Mul(geom.Matrix{A: v[4], B: v[5], C: v[6], D: v[7], E: v[8], F: v[9]})
	at := geom.Vec{X: v[0], Y: v[1]}
	if r.radial {
		g.P, g.Q, g.R = at, at, v[3]
	} else {
		sin, cos := math.Sincos(v[2] * math.Pi / 180)
		g.P, g.Q = at, at.Add(geom.Vec{X: cos, Y: sin}.Mul(v[3]))
	}
	stops := append([]rampStop(nil), r.stops...)
	for i := range stops { // by place; few
		for j := i; j > 0 && stops[j].at < stops[j-1].at; j-- {
			stops[j], stops[j-1] = stops[j-1], stops[j]
		}
	}
	for i, s := range stops {
		g.Stops = append(g.Stops, artwork.Stop{At: s.at / 100, Color: s.color, Opacity: 1})
		if i+1 < len(stops) && s.mid != 50 && s.mid > 0 && s.mid < 100 {
			n := stops[i+1]
			mix := func(a, b uint8) uint8 { return uint8((int(a) + int(b)) / 2) }
			g.Stops = append(g.Stops, artwork.Stop{At: (s.at + (n.at-s.at)*s.mid/100) / 100, Opacity: 1,
				Color: artwork.Color{
					R: mix(s.color.R, n.color.R),
					G: mix(s.color.G, n.color.G),
					B: mix(s.color.B, n.color.B),
				}})
		}
	}
	m.ai.gradient, m.ai.used = g, false
	return nil
}

// aiEndRamp ends a gradient's instance. A path that still waits is painted
// with it; 1 and 2 also stroke, 2 after closing.
func aiEndRamp(m *machine) error {
	how := 0.0
	if len(m.stack) > 0 {
		how, _ = m.num()
	}
	if m.ai.compound > 0 {
		return nil
	}
	if len(m.contours()) > 0 {
		if err := m.aiPaint(how == 2, true, how > 0); err != nil {
			return err
		}
	}
	if m.ai.used {
		m.ai.gradient = nil
	}
	return nil
}
