package ps

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
)

// maxTiles bounds the copies of a pattern's cell in one shape.
const maxTiles = 2000

// pattern is what setpattern leaves in the graphics state.
type pattern struct {
	d     *dict
	m     geom.Matrix // pattern space to device space
	color artwork.Color
}

// function makes a function of a dictionary, an array of them or a procedure.
func (m *machine) function(o object, depth int) ink.Function {
	if depth > 8 {
		return nil
	}
	if a, ok := o.ref.(*array); ok && !o.exec {
		var j ink.Join
		for _, e := range a.v {
			f := m.function(e, depth+1)
			if f == nil {
				return nil
			}
			j = append(j, f)
		}
		return j
	}
	d, ok := o.ref.(*dict)
	if !ok {
		return nil
	}
	nums := func(k string) []float64 { v, _ := m.numArray(d.m[k]); return v }
	switch d.m["FunctionType"].n {
	case 0:
		f := &ink.Sampled{
			Domain: nums("Domain"),
			Range:  nums("Range"),
			Encode: nums("Encode"),
			Decode: nums("Decode"),
			Bits:   d.m["BitsPerSample"].n,
		}
		total := 1
		for _, s := range nums("Size") {
			f.Size = append(f.Size, int(s))
			if total *= int(s); s < 1 || total > 1<<22 {
				return nil
			}
		}
		if len(f.Domain) < 2*len(f.Size) {
			return nil
		}
		src, err := m.sourceBytes(d.m["DataSource"])
		if err != nil {
			return nil
		}
		n := (total*len(f.Range)/2*f.Bits + 7) / 8
		f.Data = src.b[src.i:min(len(src.b), src.i+max(0, n))]
		return f
	case 2:
		return &ink.Exponential{
			Domain: nums("Domain"),
			Range:  nums("Range"),
			C0:     nums("C0"),
			C1:     nums("C1"),
			N:      d.m["N"].f,
		}
	case 3:
		s := &ink.Stitch{
			Domain: nums("Domain"),
			Range:  nums("Range"),
			Bounds: nums("Bounds"),
			Encode: nums("Encode"),
		}
		parts, ok := d.m["Functions"].ref.(*array)
		if !ok {
			return nil
		}
		for _, e := range parts.v {
			f := m.function(e, depth+1)
			if f == nil {
				return nil
			}
			s.Parts = append(s.Parts, f)
		}
		return s
	}
	return nil
}

// shading reads a shading dictionary.
func (m *machine) shading(d *dict) *ink.Shading {
	s := &ink.Shading{Kind: d.m["ShadingType"].n, Domain: [2]float64{0, 1}}
	s.Coords, _ = m.numArray(d.m["Coords"])
	if v, ok := m.numArray(d.m["Domain"]); ok && len(v) >= 2 {
		s.Domain = [2]float64{v[0], v[1]}
	}
	if a, ok := d.m["Extend"].ref.(*array); ok && len(a.v) >= 2 {
		s.Extend = [2]bool{a.v[0].n != 0, a.v[1].n != 0}
	}
	f := m.function(d.m["Function"], 0)
	color := func(v []float64) artwork.Color {
		depth := len(m.stack)
		for _, v := range v {
			m.push(realNum(v))
		}
		c, _ := m.spaceColor(d.m["ColorSpace"], 0)
		m.stack = m.stack[:min(depth, len(m.stack))]
		return c
	}
	if s.Kind == 1 || s.Kind >= 4 {
		s.Samples = func() []artwork.Color { return m.sampled(d, s.Kind, f, color) }
		return s
	}
	if f == nil {
		s.Kind = 0
		return s
	}
	s.Color = func(t float64) artwork.Color { return color(f.Eval([]float64{t})) }
	return s
}

// sampled returns colours all over a shading that is no gradient: of a function
// of the place on a grid of its domain, of a mesh at its corners.
func (m *machine) sampled(d *dict, kind int, f ink.Function, color func([]float64) artwork.Color) []artwork.Color {
	if kind == 1 {
		domain, ok := m.numArray(d.m["Domain"])
		if !ok || len(domain) < 4 {
			domain = []float64{0, 1, 0, 1}
		}
		if f == nil {
			return nil
		}
		return ink.OnGrid(domain, func(v []float64) artwork.Color { return color(f.Eval(v)) })
	}
	n := components(d.m["ColorSpace"])
	if f != nil {
		n = 1
	}
	var out []artwork.Color
	colors := m.meshColors(d, kind, n)
	m.budget.Spend(budget.Steps, 4*len(colors))
	for _, c := range colors {
		if f != nil {
			c = f.Eval(c)
		}
		out = append(out, color(c))
	}
	return out
}

// meshColors returns the colours in the data of a mesh, which is an array of
// numbers, or packed bits from a string or a file.
func (m *machine) meshColors(d *dict, kind, n int) [][]float64 {
	if list, ok := m.numArray(d.m["DataSource"]); ok {
		per := map[int]int{4: 3, 5: 2}[kind] + n
		if kind > 5 {
			return nil // patches of several lengths: not worth telling apart
		}
		var out [][]float64
		for i := per; i <= len(list); i += per {
			out = append(out, list[i-n:i])
		}
		return out
	}
	src, err := m.sourceBytes(d.m["DataSource"])
	if err != nil {
		return nil
	}
	decode, _ := m.numArray(d.m["Decode"])
	mesh := ink.Mesh{
		Kind: kind, Coordinate: d.m["BitsPerCoordinate"].n, Component: d.m["BitsPerComponent"].n,
		Flag: d.m["BitsPerFlag"].n, Decode: decode, Data: src.b[min(src.i, len(src.b)):],
	}
	return mesh.Colors(n)
}

// shade gives a shape a shading in device space t; false when it shows nothing.
func (m *machine) shade(s *artwork.Shape, d *dict, t geom.Matrix) bool {
	return m.shading(d).Paint(m.sheet, s, m.flip.Mul(t))
}

func opShfill(m *machine) error {
	d, err := popRef[*dict](m)
	if err != nil {
		return err
	}
	if m.silent {
		return nil
	}
	// The innermost clip is the shape; without one, the page.
	s := artwork.Shape{Group: -1, Opacity: 1, Matrix: m.flip, Clips: m.gs.clips}
	if n := len(m.gs.clips); n > 0 {
		if last := m.gs.clips[n-1]; len(last.Items) == 1 {
			s.Contours, s.Matrix, s.EvenOdd = last.Items[0].Contours, last.Items[0].Matrix, last.Items[0].EvenOdd
			s.Clips = m.gs.clips[:n-1]
		}
	}
	if s.Contours == nil {
		s.Contours, s.Matrix = []geom.Contour{boxContour(m.page, geom.Identity)}, geom.Identity
	}
	if !m.shade(&s, d, m.gs.ctm) {
		return nil
	}
	return m.append(s)
}

func opMakePattern(m *machine) error {
	t, err := m.matrixArg()
	if err != nil {
		return err
	}
	d, err := popRef[*dict](m)
	if err != nil {
		return err
	}
	c := newDict()
	for _, k := range d.keys {
		c.put(k, d.m[k])
	}
	c.put("Implementation", object{kind: kFont, ref: &pattern{d: c, m: m.gs.ctm.Mul(t)}})
	return m.push(object{kind: kDict, ref: c})
}

// setPattern makes the pattern on the stack the colour; below it lie the
// components of the colour of an uncoloured one, in the given space.
func (m *machine) setPattern(under *object) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind == kNull {
		m.setColor(artwork.Color{R: 255, G: 255, B: 255})
		return nil
	}
	d, ok := o.ref.(*dict)
	if !ok {
		return m.err("typecheck")
	}
	p := &pattern{d: d, m: m.gs.ctm, color: artwork.Color{R: 128, G: 128, B: 128}}
	if made, ok := d.m["Implementation"].ref.(*pattern); ok {
		p.m = made.m
	}
	if d.m["PaintType"].n == 2 {
		p.color = m.gs.color
		if under != nil {
			if p.color, err = m.spaceColor(*under, 0); err != nil {
				return err
			}
		}
	}
	if !m.fixedColor {
		m.gs.color, m.gs.pattern = p.color, p
	}
	return nil
}

// fillPattern paints a shape with the pattern of the state: a gradient, or
// copies of its cell cut to the shape.
func (m *machine) fillPattern(s artwork.Shape) error {
	p := m.gs.pattern
	if p.d.m["PatternType"].n == 2 {
		if sh, ok := p.d.m["Shading"].ref.(*dict); ok {
			if m.shade(&s, sh, p.m) {
				return m.append(s)
			}
			return nil
		}
	}
	grey := func() error {
		m.sheet.Note(artwork.NotePatternGrey, "")
		return m.append(s)
	}
	bb, ok := m.numArray(p.d.m["BBox"])
	dx, dy := p.d.m["XStep"].f, p.d.m["YStep"].f
	proc := p.d.m["PaintProc"]
	if !ok || len(bb) < 4 || dx == 0 || dy == 0 || p.m.Det() == 0 || proc.kind != kArray ||
		m.fontDepth >= maxFontDepth {
		return grey()
	}
	s.AsArea()
	// Which cells touch the shape.
	toPattern := p.m.Inverse().Mul(m.flip.Inverse())
	area := s.Box().Transform(toPattern)
	if area.Empty() {
		return nil
	}
	dx, dy = math.Abs(dx), math.Abs(dy)
	i0, i1 := math.Floor((area.Min.X-bb[2])/dx), math.Ceil((area.Max.X-bb[0])/dx)
	j0, j1 := math.Floor((area.Min.Y-bb[3])/dy), math.Ceil((area.Max.Y-bb[1])/dy)
	many := !((i1-i0+1)*(j1-j0+1) <= maxTiles)
	m.fontDepth++
	saved, oldFixed, depth := m.gs, m.fixedColor, len(m.saved)
	defer func() {
		m.fontDepth--
		m.gs, m.fixedColor = saved, oldFixed
		if len(m.saved) > depth {
			m.saved = m.saved[:depth]
		}
	}()
	if many {
		if done, err := m.meanCell(s, p, bb, saved.font); done || err != nil {
			return err
		}
		m.gs = saved
		return grey()
	}
	cut := append(
		s.Clips[:len(s.Clips):len(s.Clips)],
		&artwork.Clip{
			Items: []artwork.ClipItem{{Contours: s.Contours, Matrix: s.Matrix, EvenOdd: s.EvenOdd}},
		},
	)
	for j := j0; j <= j1; j++ {
		for i := i0; i <= i1; i++ {
			m.budget.Spend(budget.Copies, 1)
			g := newState()
			g.ctm = p.m.Mul(geom.Translate(i*dx, j*dy))
			g.clips, g.color, g.font = cut, p.color, saved.font
			cell := boxContour(
				geom.Box{Min: geom.Vec{X: bb[0], Y: bb[1]}, Max: geom.Vec{X: bb[2], Y: bb[3]}},
				g.ctm,
			)
			g.clips = append(
				cut[:len(cut):len(cut)],
				&artwork.Clip{Items: []artwork.ClipItem{{Contours: []geom.Contour{cell}, Matrix: m.flip}}},
			)
			m.gs = g
			m.fixedColor = p.d.m["PaintType"].n == 2
			m.push(object{kind: kDict, ref: p.d})
			if err := m.exec(proc, false); err != nil {
				return err
			}
		}
	}
	return nil
}

// meanCell paints a shape in the mean colour of a pattern's cell that would be copied too often;
// done is false where that is not known.
func (m *machine) meanCell(s artwork.Shape, p *pattern, bb []float64, font object) (done bool, err error) {
	sheet := m.sheet
	m.sheet = &artwork.Sheet{Page: sheet.Page}
	g := newState()
	g.ctm, g.color, g.font = p.m, p.color, font
	m.gs, m.fixedColor = g, p.d.m["PaintType"].n == 2
	m.push(object{kind: kDict, ref: p.d})
	err = m.exec(p.d.m["PaintProc"], false)
	shapes := m.sheet.Shapes
	m.sheet = sheet
	if err != nil {
		return false, err
	}
	at := geom.Vec{X: bb[0], Y: bb[1]}
	cell := geom.Box{Min: at, Max: at.Add(geom.Vec{X: math.Abs(p.d.m["XStep"].f), Y: math.Abs(p.d.m["YStep"].f)})}
	c, cover := ink.Mean(shapes, cell.Transform(m.flip.Mul(p.m)), m.budget)
	if cover == 0 {
		return false, nil
	}
	s.Color, s.Opacity = c, s.Opacity*cover
	m.sheet.Note(artwork.NotePatternMean, "")
	return true, m.append(s)
}
