package pdf

import (
	"fmt"
	"math"
	"strings"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
)

// paint is a colour or a pattern.
type paint struct {
	space   *space
	color   artwork.Color
	pattern types.Object // nil for a plain colour
	res     types.Dict   // where the pattern was named
}

// state is the graphics state (8.4).
type state struct {
	ctm                    geom.Matrix
	fill, stroke           paint
	fillAlpha, strokeAlpha float64
	groupAlpha             float64       // of the transparency groups around
	blend                  string        // how it mixes; "" for plainly
	soft                   bool          // seen through a soft mask
	groupSoft              bool          // a group around it is
	veil, groupVeil        *artwork.Clip // where these let something show
	veilMost               float64       // how much shows there
	width, miter           float64
	cap, join              int
	dash                   []float64
	dashAt                 float64
	clips                  []*artwork.Clip
	font                   *textFont
	size, charGap, wordGap float64
	stretch, leading, rise float64
	mode                   int
	fixedColor             bool        // an uncoloured glyph or cell
	patternBase            geom.Matrix // the space that patterns are placed in
}

func newState() *state {
	black := paint{space: grayColors}
	return &state{
		ctm:         geom.Identity,
		fill:        black,
		stroke:      black,
		fillAlpha:   1,
		strokeAlpha: 1,
		groupAlpha:  1,
		veilMost:    1,
		width:       1,
		miter:       10,
		stretch:     1,
		patternBase: geom.Identity,
	}
}

// run interprets one content stream.
type run struct {
	r      *reader
	g      *state
	saved  []*state
	res    types.Dict
	depth  int
	group  int // of the sheet, -1 for none
	hidden int // open marked contents that are switched off
	marks  []mark
	text   string // what glyphs of Type 3 fonts stand for

	path    []geom.Contour
	at      geom.Vec
	open    bool
	clipped int // the rule of a W that waits for the painting operator

	tm, tlm  geom.Matrix
	textClip []geom.Contour
	width    float64 // set by a Type 3 glyph
}

type mark struct {
	group  int // to return to
	hidden bool
}

// stream runs a content stream.
func (c *run) stream(b []byte, depth int) error {
	defer c.r.budget.Leave()
	if !c.r.budget.Enter() || depth > maxForms {
		c.r.sheet.Note(artwork.NoteTooDeep, "")
		return nil
	}
	c.depth = depth
	l := &lexer{b: b}
	var args []any
	for {
		o, ok := l.next(0)
		if !ok {
			return nil
		}
		c.r.budget.Visit()
		op, isOp := o.(operator)
		if !isOp {
			if len(args) < 1000 {
				args = append(args, o)
			}
			continue
		}
		if op == "BI" {
			d, data := l.inlineImage()
			if err := c.inline(d, data); err != nil {
				return err
			}
			args = args[:0]
			continue
		}
		if err := c.operator(string(op), args); err != nil {
			return err
		}
		args = args[:0]
	}
}

// floats returns the last n operands; missing ones are zero, ok is false then.
func floats(args []any, n int) ([]float64, bool) {
	out := make([]float64, n)
	if len(args) < n {
		return out, false
	}
	for i, a := range args[len(args)-n:] {
		v, ok := a.(float64)
		if !ok {
			return out, false
		}
		out[i] = v
	}
	return out, true
}

// resource looks a resource up by its kind and name.
func (c *run) resource(kind string, n name) types.Object {
	d := c.r.dict(c.res[kind])
	if d == nil {
		return nil
	}
	return d[string(n)]
}

func (c *run) extState(d types.Dict) {
	g := c.g
	for _, k := range [...]string{"LW", "ML", "LC", "LJ", "CA", "ca"} {
		v, ok := c.r.num(d[k])
		if !ok {
			continue
		}
		switch k {
		case "LW":
			g.width = math.Abs(v)
		case "ML":
			g.miter = v
		case "LC":
			g.cap = int(v)
		case "LJ":
			g.join = int(v)
		case "CA":
			g.strokeAlpha = math.Max(0, math.Min(1, v))
		case "ca":
			g.fillAlpha = math.Max(0, math.Min(1, v))
		}
	}
	if a := c.r.array(d["D"]); len(a) == 2 {
		g.dash = c.r.nums(a[0])
		g.dashAt, _ = c.r.num(a[1])
	}
	if a := c.r.array(d["Font"]); len(a) == 2 {
		g.font = c.r.font(a[0], c)
		g.size, _ = c.r.num(a[1])
	}
	if m := c.r.get(d["SMask"]); m != nil {
		c.softMask(m)
	}
	for _, k := range [...]string{"OP", "op"} {
		if on, _ := c.r.get(d[k]).(types.Boolean); on {
			c.r.sheet.Note(artwork.NoteOverprint, "")
			break
		}
	}
	mode := c.r.nameOf(d["BM"])
	if a := c.r.array(d["BM"]); len(a) > 0 {
		mode = c.r.nameOf(a[0])
	}
	if mode != "" {
		g.blend = ""
	}
	if mode != "" && mode != "Normal" && mode != "Compatible" {
		g.blend = strings.ToLower(mode)
		c.r.sheet.Note(artwork.NoteBlend, "", strings.ToLower(mode))
	}
}

func (c *run) moveTo(p geom.Vec) error {
	if n := len(c.path); n > 0 && c.open && len(c.path[n-1].Segs) == 0 {
		c.path = c.path[:n-1]
	}
	c.path = append(c.path, geom.Contour{Start: p})
	c.at, c.open = p, true
	c.r.budget.Spend(budget.Nodes, 1)
	return nil
}

func (c *run) add(s geom.Segment) error {
	if len(c.path) == 0 {
		return nil
	}
	if !c.open {
		if err := c.moveTo(c.at); err != nil {
			return err
		}
	}
	k := &c.path[len(c.path)-1]
	k.Segs = append(k.Segs, s)
	c.at = s.To
	c.r.budget.Spend(budget.Nodes, 1)
	return nil
}

func (c *run) closePath() {
	if n := len(c.path); n > 0 && c.open {
		c.path[n-1].Closed = true
		c.at, c.open = c.path[n-1].Start, false
	}
}

// paintPath fills (1 nonzero, 2 even-odd) and strokes the path, then clips.
func (c *run) paintPath(fill int, stroke bool) error {
	path := c.path[:0:0]
	for _, k := range c.path {
		if len(k.Segs) > 0 || k.Closed {
			path = append(path, k)
		}
	}
	how := c.clipped
	all := c.path
	c.path, c.open, c.clipped = nil, false, 0
	if fill != noFill && len(path) > 0 {
		if err := c.shape(path, c.r.flip.Mul(c.g.ctm), fill == evenOdd, nil, c.g.fill, c.g.fillAlpha); err != nil {
			return err
		}
	}
	if stroke && len(path) > 0 {
		if err := c.strokePath(path); err != nil {
			return err
		}
	}
	if how != noFill && len(all) > 0 {
		it := artwork.ClipItem{Contours: path, Matrix: c.r.flip.Mul(c.g.ctm), EvenOdd: how == evenOdd}
		c.g.clips = append(
			c.g.clips[:len(c.g.clips):len(c.g.clips)],
			&artwork.Clip{Items: []artwork.ClipItem{it}},
		)
	}
	return nil
}

func (c *run) strokePath(path []geom.Contour) error {
	g := c.g
	st := geom.StrokeStyle{Width: g.width, MiterLimit: math.Max(1, g.miter), DashOffset: g.dashAt}
	for _, d := range g.dash {
		st.Dashes = append(st.Dashes, math.Abs(d))
	}
	st.Cap = [3]geom.Cap{geom.ButtCap, geom.RoundCap, geom.SquareCap}[max(0, min(2, g.cap))]
	st.Join = [3]geom.Join{geom.MiterJoin, geom.RoundJoin, geom.BevelJoin}[max(0, min(2, g.join))]
	scale := c.r.flip.Mul(g.ctm).MaxScale()
	if !(scale > 0) {
		return nil
	}
	if w, thin := ink.Hairline(st.Width*scale, c.r.sheet.Page, pxPerPt); thin {
		st.Width = w / scale
		c.r.sheet.Note(artwork.NoteHairline, "")
	}
	return c.shape(path, c.r.flip.Mul(g.ctm), false, &st, g.stroke, g.strokeAlpha)
}

// shape adds a shape to the sheet.
func (c *run) shape(
	path []geom.Contour,
	m geom.Matrix,
	evenOdd bool,
	stroke *geom.StrokeStyle,
	p paint,
	alpha float64,
) error {
	r := c.r
	if math.Abs(m.Det()) < 1e-18 {
		r.sheet.Note(artwork.NoteFlat, "")
		return nil
	}
	if p.space != nil && p.space.none {
		return nil
	}
	box := geom.EmptyBox()
	for _, k := range path {
		box = box.Union(k.Box().Transform(m))
	}
	if !box.Min.Finite() || !box.Max.Finite() || math.Max(box.W(), box.H()) > 1e8 {
		r.sheet.Note(artwork.NoteBadNumbers, "")
		return nil
	}
	var clips []*artwork.Clip
	for _, cl := range c.clips() {
		if stroke != nil || !cl.Rectangle().Contains(box) {
			clips = append(clips, cl)
		}
	}
	s := artwork.Shape{
		Group:    c.group,
		Hidden:   c.hidden > 0,
		Color:    p.color,
		Opacity:  alpha * c.g.groupAlpha * c.g.veilMost,
		Blend:    c.g.blend,
		Soft:     c.g.soft || c.g.groupSoft,
		Clips:    clips,
		Contours: path,
		Matrix:   m,
		EvenOdd:  evenOdd,
		Stroke:   stroke,
		Text:     c.text,
	}
	if s.Opacity <= 0 {
		r.sheet.Note(artwork.NoteTransparent, "")
		return nil
	}
	if p.pattern != nil {
		return c.patterned(s, p)
	}
	return r.append(s)
}

// append adds a shape under a key and name of its own.
func (r *reader) append(s artwork.Shape) error {
	r.budget.Spend(budget.Objects, 1)
	k := len(r.sheet.Shapes) + 1
	s.Key, s.Name = fmt.Sprintf("s%d", k), fmt.Sprintf("Shape %d", k)
	if s.Stroke != nil {
		s.Name = fmt.Sprintf("Stroke %d", k)
	}
	if s.Text != "" {
		s.Name = s.Text
		if w := []rune(s.Text); len(w) > 32 {
			s.Name = string(w[:30]) + "…"
		}
	}
	r.sheet.Shapes = append(r.sheet.Shapes, s)
	return nil
}

func (c *run) setSpace(p *paint, n name) {
	if c.g.fixedColor {
		return
	}
	s := c.r.space(types.Name(n), c.res, 0)
	*p = paint{space: s, color: s.at(append([]float64(nil), s.start...))}
}

func (c *run) device(p *paint, s *space, args []any) {
	if c.g.fixedColor {
		return
	}
	v, ok := floats(args, s.n)
	if ok {
		*p = paint{space: s, color: s.at(v)}
	}
}

func (c *run) setColor(p *paint, args []any) {
	if c.g.fixedColor || p.space == nil {
		return
	}
	var v []float64
	var pat name
	for _, a := range args {
		switch x := a.(type) {
		case float64:
			v = append(v, x)
		case name:
			pat = x
		}
	}
	if pat == "" {
		if p.space.pattern {
			return
		}
		p.color, p.pattern = p.space.at(v), nil
		return
	}
	p.pattern, p.res = c.resource("Pattern", pat), c.res
	if p.pattern == nil {
		c.r.sheet.Note(artwork.NotePatternGrey, string(pat))
	}
	p.color = artwork.Color{R: 128, G: 128, B: 128}
	if p.space.under != nil {
		p.color = p.space.under.at(v)
	}
}

// patterned paints a shape with a pattern: a gradient, or copies of a cell.
func (c *run) patterned(s artwork.Shape, p paint) error {
	r := c.r
	d := r.dict(p.pattern)
	kind, _ := r.num(d["PatternType"])
	m := c.g.patternBase.Mul(r.matrix(d["Matrix"]))
	if kind == 2 {
		if r.shading(d["Shading"], p.res).Paint(r.sheet, &s, r.flip.Mul(m)) {
			return r.append(s)
		}
		return nil
	}
	grey := func() error {
		if done, err := c.meanCell(s, p, m); done || err != nil {
			return err
		}
		r.sheet.Note(artwork.NotePatternGrey, "")
		return r.append(s)
	}
	sd := r.stream(p.pattern)
	dx, okX := r.num(d["XStep"])
	dy, okY := r.num(d["YStep"])
	bb := r.rect(d["BBox"])
	if sd == nil || !okX || !okY || dx == 0 || dy == 0 || bb.Empty() || m.Det() == 0 || c.depth > maxForms {
		return grey()
	}
	s.AsArea()
	dx, dy = math.Abs(dx), math.Abs(dy)
	area := s.Box().Transform(m.Inverse().Mul(r.flip.Inverse()))
	if area.Empty() {
		return nil
	}
	// Cells that only touch the area show nothing.
	i0, i1 := math.Floor((area.Min.X-bb.Max.X)/dx)+1, math.Ceil((area.Max.X-bb.Min.X)/dx)-1
	j0, j1 := math.Floor((area.Min.Y-bb.Max.Y)/dy)+1, math.Ceil((area.Max.Y-bb.Min.Y)/dy)-1
	if n := (i1 - i0 + 1) * (j1 - j0 + 1); !(n <= 2000) {
		return grey()
	}
	cut := append(
		s.Clips[:len(s.Clips):len(s.Clips)],
		&artwork.Clip{
			Items: []artwork.ClipItem{{Contours: s.Contours, Matrix: s.Matrix, EvenOdd: s.EvenOdd}},
		},
	)
	res := r.dict(d["Resources"])
	for j := j0; j <= j1; j++ {
		for i := i0; i <= i1; i++ {
			r.budget.Spend(budget.Copies, 1)
			g := newState()
			g.ctm = m.Mul(geom.Translate(i*dx, j*dy))
			g.groupAlpha = s.Opacity
			g.patternBase = g.ctm
			g.clips = append(
				cut[:len(cut):len(cut)],
				&artwork.Clip{
					Items: []artwork.ClipItem{
						{Contours: []geom.Contour{rectangle(bb)}, Matrix: r.flip.Mul(g.ctm)},
					},
				},
			)
			r.uncolored(d, g, p)
			in := &run{r: r, g: g, res: res, group: c.group, hidden: c.hidden}
			if err := in.stream(sd.Content, c.depth+1); err != nil {
				return err
			}
		}
	}
	return nil
}

// uncolored sets the colour of a cell that has none of its own.
func (r *reader) uncolored(d types.Dict, g *state, p paint) {
	if kind, _ := r.num(d["PaintType"]); kind == 2 {
		g.fill = paint{space: grayColors, color: p.color}
		g.stroke, g.fixedColor = g.fill, true
	}
}

// meanCell paints a shape in the mean colour of a pattern's cell that would be copied too often;
// done is false where that is not known.
func (c *run) meanCell(s artwork.Shape, p paint, m geom.Matrix) (done bool, err error) {
	r := c.r
	d, sd, key := r.dict(p.pattern), r.stream(p.pattern), "mean "+id(p.pattern)
	if sd == nil || m.Det() == 0 || c.depth > maxForms || r.running[key] {
		return false, nil
	}
	r.running[key] = true
	defer delete(r.running, key)
	sub := *r
	sub.sheet = &artwork.Sheet{Page: r.sheet.Page}
	sub.layers, sub.tracing.Pictures = map[layerKey]int{}, true // bitmaps have colours, too
	g := newState()
	g.ctm, g.patternBase = m, m
	r.uncolored(d, g, p)
	in := &run{r: &sub, g: g, res: r.dict(d["Resources"]), group: -1}
	if err := in.stream(sd.Content, c.depth+1); err != nil {
		return false, err
	}
	dx, _ := r.num(d["XStep"])
	dy, _ := r.num(d["YStep"])
	cell := geom.Box{Max: geom.Vec{X: math.Abs(dx), Y: math.Abs(dy)}}
	if b := r.rect(d["BBox"]); !b.Empty() {
		cell = geom.Box{Min: b.Min, Max: b.Min.Add(cell.Max)}
	}
	color, cover := ink.Mean(sub.sheet.Shapes, cell.Transform(r.flip.Mul(m)), r.budget)
	if cover == 0 {
		return false, nil
	}
	s.Color, s.Opacity = color, s.Opacity*cover
	r.sheet.Note(artwork.NotePatternMean, "")
	return true, r.append(s)
}

func rectangle(b geom.Box) geom.Contour {
	return geom.Contour{
		Start:  b.Min,
		Closed: true,
		Segs: []geom.Segment{
			{To: geom.Vec{X: b.Max.X, Y: b.Min.Y}},
			{To: b.Max},
			{To: geom.Vec{X: b.Min.X, Y: b.Max.Y}},
		},
	}
}

// shadeArea paints all that the clip leaves with a shading.
func (c *run) shadeArea(o types.Object) error {
	r := c.r
	if o == nil {
		r.sheet.Note(artwork.NoteMissingPaint, "")
		return nil
	}
	s := artwork.Shape{
		Group:   c.group,
		Hidden:  c.hidden > 0,
		Opacity: c.g.fillAlpha * c.g.groupAlpha * c.g.veilMost,
		Blend:   c.g.blend,
		Soft:    c.g.soft || c.g.groupSoft,
		Clips:   c.clips(),
	}
	if n := len(c.g.clips); n > 0 {
		if last := c.g.clips[n-1]; len(last.Items) == 1 {
			s.Contours, s.Matrix, s.EvenOdd = last.Items[0].Contours, last.Items[0].Matrix, last.Items[0].EvenOdd
			s.Clips = append(c.g.clips[:n-1:n-1], c.clips()[n:]...)
		}
	}
	if s.Contours == nil {
		s.Contours, s.Matrix = []geom.Contour{rectangle(r.sheet.Page)}, geom.Identity
	}
	if !r.shading(o, c.res).Paint(r.sheet, &s, r.flip.Mul(c.g.ctm)) {
		return nil
	}
	return r.append(s)
}

// do paints an external object: a form is run, a bitmap counted.
func (c *run) do(n name) error {
	r := c.r
	o := c.resource("XObject", n)
	d := r.dict(o)
	if d == nil {
		r.sheet.Note(artwork.NoteMissingCopy, string(n))
		return nil
	}
	switch r.nameOf(d["Subtype"]) {
	case "Image":
		return c.image(o, d)
	case "Form":
	default:
		return nil
	}
	sd := r.stream(o)
	if sd == nil {
		return nil
	}
	if key := id(o); key != "" {
		if r.running[key] {
			r.sheet.Note(artwork.NoteCircularCopy, "")
			return nil
		}
		r.running[key] = true
		defer delete(r.running, key)
	}
	r.budget.Spend(budget.Copies, 1)
	g := *c.g
	g.ctm = g.ctm.Mul(r.matrix(d["Matrix"]))
	g.patternBase = g.ctm
	if !g.ctm.Finite() {
		return nil
	}
	if b := r.rect(d["BBox"]); !b.Empty() {
		g.clips = append(
			g.clips[:len(g.clips):len(g.clips)],
			&artwork.Clip{
				Items: []artwork.ClipItem{
					{Contours: []geom.Contour{rectangle(b)}, Matrix: r.flip.Mul(g.ctm)},
				},
			},
		)
	}
	if r.dict(d["Group"]) != nil {
		g.groupAlpha *= g.fillAlpha
		g.groupSoft = g.groupSoft || g.soft
		if g.veil != nil {
			g.groupAlpha *= g.veilMost
			if g.groupVeil != nil {
				g.clips = append(g.clips[:len(g.clips):len(g.clips)], g.groupVeil)
			}
			g.groupVeil, g.veil, g.veilMost, g.soft = g.veil, nil, 1, false
		}
		g.fillAlpha, g.strokeAlpha = 1, 1
	}
	res := r.dict(d["Resources"])
	if res == nil {
		res = c.res
	}
	in := &run{r: r, g: &g, res: res, group: c.group, hidden: c.hidden, text: c.text}
	if oc := d["OC"]; oc != nil {
		in.group = r.layer(oc, c.group)
		if !r.visibleOC(oc) {
			in.hidden++
		}
	}
	return in.stream(sd.Content, c.depth+1)
}

// beginMark opens marked content: optional content becomes a layer, content
// marked as a layer by title, too.
func (c *run) beginMark(args []any) {
	m := mark{group: c.group}
	defer func() {
		if len(c.marks) < maxSaved {
			c.marks = append(c.marks, m)
		}
	}()
	if len(args) < 2 {
		return
	}
	tag, _ := args[0].(name)
	var props types.Object
	if n, ok := args[1].(name); ok {
		props = c.resource("Properties", n)
	}
	switch tag {
	case "OC":
		if props == nil {
			return
		}
		c.group = c.r.layer(props, c.group)
		m.hidden = !c.r.visibleOC(props)
	case "Layer":
		d := c.r.dict(props)
		title := c.r.text(d["Title"])
		if title == "" {
			if v, ok := args[1].(map[name]any); ok {
				title, _ = v["Title"].(string)
			}
		}
		if title == "" {
			return
		}
		c.group = c.r.groupOf(layerKey{c.group, id(props) + title}, title, c.group, false)
		if b, ok := c.r.get(d["Visible"]).(types.Boolean); ok && !bool(b) {
			m.hidden = true
		}
	}
	if m.hidden {
		c.hidden++
		if c.group >= 0 {
			c.r.sheet.Groups[c.group].Hidden = true
		}
	}
}

// layer returns the group for optional content within a group.
func (r *reader) layer(o types.Object, parent int) int {
	d := r.dict(o)
	title := r.text(d["Name"])
	if r.nameOf(d["Type"]) == "OCMD" {
		if a := r.array(d["OCGs"]); len(a) > 0 {
			title = r.text(r.dict(a[0])["Name"])
		} else {
			title = r.text(r.dict(d["OCGs"])["Name"])
		}
	}
	return r.groupOf(layerKey{parent, id(o) + title}, title, parent, !r.visibleOC(o))
}

func (r *reader) groupOf(k layerKey, title string, parent int, hidden bool) int {
	if g, ok := r.layers[k]; ok {
		return g
	}
	r.sheet.Groups = append(
		r.sheet.Groups,
		artwork.Group{Name: strings.TrimSpace(title), Layer: true, Parent: parent, Hidden: hidden},
	)
	r.layers[k] = len(r.sheet.Groups) - 1
	return r.layers[k]
}
