package artwork

import (
	"encoding/binary"
	"errors"
	"fmt"
	"math"

	"bildhauer/core/geom"
)

// packing is the version of the compact form of a sheet. It is for programs of one build that
// talk to each other, not for files.
const packing = 1

// Pack returns the compact form of a sheet that was read to its end: numbers as they are in
// memory, clips and gradients once, however many shapes share them.
func (s *Sheet) Pack() []byte {
	p := packer{clips: map[*Clip]int{}, gradients: map[*Gradient]int{}}
	p.count(packing)
	p.text(s.Name)
	p.text(s.Format)
	p.box(s.Page)
	p.count(len(s.Groups))
	for _, g := range s.Groups {
		p.text(g.Key)
		p.text(g.Name)
		p.flags(g.Layer, g.Hidden)
		p.number(g.Parent)
	}
	p.count(len(s.Shapes))
	for i := range s.Shapes {
		p.shape(&s.Shapes[i])
	}
	p.count(len(s.Notes))
	for i := range s.Notes {
		p.note(&s.Notes[i])
	}
	p.count(s.Pages)
	p.count(s.PageNumber)
	p.flags(s.Bitmap)
	p.count(s.Pictures)
	for _, v := range [...]string{s.SourceWidth, s.SourceHeight, s.SourceViewBox, s.SourceAspect} {
		p.text(v)
	}
	p.matrix(s.SourceUnits)
	return p.b
}

type packer struct {
	b         []byte
	clips     map[*Clip]int
	gradients map[*Gradient]int
}

func (p *packer) count(n int)  { p.b = binary.AppendUvarint(p.b, uint64(n)) }
func (p *packer) number(n int) { p.b = binary.AppendVarint(p.b, int64(n)) }

func (p *packer) real(list ...float64) {
	for _, v := range list {
		p.b = binary.LittleEndian.AppendUint64(p.b, math.Float64bits(v))
	}
}

func (p *packer) text(s string) {
	p.count(len(s))
	p.b = append(p.b, s...)
}

func (p *packer) flags(list ...bool) {
	v := byte(0)
	for i, f := range list {
		if f {
			v |= 1 << i
		}
	}
	p.b = append(p.b, v)
}

func (p *packer) vec(v geom.Vec)       { p.real(v.X, v.Y) }
func (p *packer) box(b geom.Box)       { p.vec(b.Min); p.vec(b.Max) }
func (p *packer) matrix(m geom.Matrix) { p.real(m.A, m.B, m.C, m.D, m.E, m.F) }
func (p *packer) color(c Color)        { p.b = append(p.b, c.R, c.G, c.B) }

func (p *packer) contours(list []geom.Contour) {
	p.count(len(list))
	for _, c := range list {
		p.vec(c.Start)
		p.flags(c.Closed)
		p.count(len(c.Segs))
		for _, s := range c.Segs {
			p.b = append(p.b, byte(s.Kind))
			if s.Kind != geom.Line {
				p.vec(s.C1)
			}
			if s.Kind == geom.Cubic {
				p.vec(s.C2)
			}
			p.vec(s.To)
		}
	}
}

func (p *packer) shape(s *Shape) {
	for _, v := range [...]string{s.Key, s.Name, s.Text, s.Blend} {
		p.text(v)
	}
	p.number(s.Group)
	p.color(s.Color)
	p.real(s.Opacity, s.Veil)
	p.flags(s.Hidden, s.Soft, s.Shine, s.Bitmap, s.EvenOdd, s.Stroke != nil)
	p.gradient(s.Gradient)
	p.count(len(s.Clips))
	for _, c := range s.Clips {
		p.clip(c)
	}
	p.contours(s.Contours)
	p.matrix(s.Matrix)
	if st := s.Stroke; st != nil {
		p.real(st.Width, st.MiterLimit, st.DashOffset, st.Beyond)
		p.count(int(st.Cap))
		p.count(int(st.Join))
		p.count(len(st.Dashes))
		p.real(st.Dashes...)
	}
}

// gradient writes the number of a gradient that was written before, one more than there were
// for a new one, 0 for none.
func (p *packer) gradient(g *Gradient) {
	if g == nil {
		p.count(0)
		return
	}
	if n, ok := p.gradients[g]; ok {
		p.count(n)
		return
	}
	n := len(p.gradients) + 1
	p.gradients[g] = n
	p.count(n)
	p.flags(g.Radial)
	p.vec(g.P)
	p.vec(g.Q)
	p.real(g.R, g.FR)
	p.text(g.Spread)
	p.matrix(g.Matrix)
	p.count(len(g.Stops))
	for _, s := range g.Stops {
		p.real(s.At, s.Opacity)
		p.color(s.Color)
	}
}

func (p *packer) clip(c *Clip) {
	if n, ok := p.clips[c]; ok {
		p.count(n)
		return
	}
	n := len(p.clips) + 1
	p.clips[c] = n
	p.count(n)
	p.flags(c.Outside)
	p.count(len(c.Items))
	for _, it := range c.Items {
		p.contours(it.Contours)
		p.matrix(it.Matrix)
		p.flags(it.EvenOdd)
	}
}

func (p *packer) note(n *Note) {
	p.count(int(n.Kind))
	p.count(len(n.Args))
	for _, a := range n.Args {
		if v, ok := a.(int); ok {
			p.flags(true)
			p.number(v)
		} else {
			p.flags(false)
			p.text(fmt.Sprint(a))
		}
	}
	p.text(n.Sheet)
	p.count(n.Count)
	for _, list := range [...][]string{n.Where, n.Keys} {
		p.count(len(list))
		for _, v := range list {
			p.text(v)
		}
	}
	p.count(len(n.Places))
	for _, b := range n.Places {
		p.box(b)
	}
}

// How many bytes each of these takes at the least.
const (
	leastGroup   = 4
	leastShape   = 4 + 1 + 3 + 16 + 1 + 2 + 1 + 48
	leastNote    = 7
	leastContour = 18
	leastSegment = 17
)

// errPacked is what Unpack returns for bytes that Pack did not make.
var errPacked = errors.New("the packed sheet is damaged")

// Unpack makes the sheet again that Pack was called on. Bytes that are damaged give an error,
// and never take more memory than some thirty times their length.
func Unpack(b []byte) (s *Sheet, err error) {
	defer func() {
		if p := recover(); p != nil {
			if p != errPacked {
				panic(p)
			}
			s, err = nil, errPacked
		}
	}()
	u := unpacker{b: b}
	if u.count() != packing {
		return nil, errPacked
	}
	s = &Sheet{Name: u.text(), Format: u.text(), Page: u.box()}
	s.Groups = listOf[Group](u.length(leastGroup))
	for i := range s.Groups {
		g := &s.Groups[i]
		g.Key, g.Name = u.text(), u.text()
		u.flags(&g.Layer, &g.Hidden)
		g.Parent = u.number()
		if g.Parent < -1 || g.Parent >= len(s.Groups) {
			return nil, errPacked
		}
	}
	s.Shapes = listOf[Shape](u.length(leastShape))
	for i := range s.Shapes {
		u.shape(&s.Shapes[i])
		if g := s.Shapes[i].Group; g < -1 || g >= len(s.Groups) {
			return nil, errPacked
		}
	}
	s.Notes = listOf[Note](u.length(leastNote))
	for i := range s.Notes {
		u.note(&s.Notes[i])
	}
	s.Pages, s.PageNumber = u.count(), u.count()
	u.flags(&s.Bitmap)
	s.Pictures = u.count()
	for _, v := range [...]*string{&s.SourceWidth, &s.SourceHeight, &s.SourceViewBox, &s.SourceAspect} {
		*v = u.text()
	}
	s.SourceUnits = u.matrix()
	if len(u.b) > 0 {
		return nil, errPacked
	}
	s.settleClips()
	return s, nil
}

type unpacker struct {
	b         []byte
	clips     []*Clip
	gradients []*Gradient
}

func (u *unpacker) take(n int) []byte {
	if n < 0 || n > len(u.b) {
		panic(errPacked)
	}
	out := u.b[:n]
	u.b = u.b[n:]
	return out
}

func (u *unpacker) count() int {
	v, n := binary.Uvarint(u.b)
	if n <= 0 || v > math.MaxInt32 {
		panic(errPacked)
	}
	u.b = u.b[n:]
	return int(v)
}

// length reads how many things follow, each of which takes at least so many bytes.
func (u *unpacker) length(each int) int {
	n := u.count()
	if n > len(u.b)/each {
		panic(errPacked)
	}
	return n
}

// listOf makes room for n things, none for 0.
func listOf[T any](n int) []T {
	if n == 0 {
		return nil
	}
	return make([]T, n)
}

func (u *unpacker) number() int {
	v, n := binary.Varint(u.b)
	if n <= 0 || v > math.MaxInt32 || v < math.MinInt32 {
		panic(errPacked)
	}
	u.b = u.b[n:]
	return int(v)
}

func (u *unpacker) real() float64 {
	return math.Float64frombits(binary.LittleEndian.Uint64(u.take(8)))
}

func (u *unpacker) text() string { return string(u.take(u.count())) }

func (u *unpacker) flags(list ...*bool) {
	v := u.take(1)[0]
	for i, f := range list {
		*f = v>>i&1 == 1
	}
}

func (u *unpacker) vec() geom.Vec { return geom.Vec{X: u.real(), Y: u.real()} }
func (u *unpacker) box() geom.Box { return geom.Box{Min: u.vec(), Max: u.vec()} }
func (u *unpacker) matrix() geom.Matrix {
	return geom.Matrix{A: u.real(), B: u.real(), C: u.real(), D: u.real(), E: u.real(), F: u.real()}
}

func (u *unpacker) color() Color {
	c := u.take(3)
	return Color{c[0], c[1], c[2]}
}

func (u *unpacker) contours() []geom.Contour {
	out := listOf[geom.Contour](u.length(leastContour))
	for i := range out {
		c := &out[i]
		c.Start = u.vec()
		u.flags(&c.Closed)
		c.Segs = listOf[geom.Segment](u.length(leastSegment))
		for k := range c.Segs {
			s := &c.Segs[k]
			s.Kind = geom.Kind(u.take(1)[0])
			if s.Kind > geom.Cubic {
				panic(errPacked)
			}
			if s.Kind != geom.Line {
				s.C1 = u.vec()
			}
			if s.Kind == geom.Cubic {
				s.C2 = u.vec()
			}
			s.To = u.vec()
		}
	}
	return out
}

func (u *unpacker) shape(s *Shape) {
	for _, v := range [...]*string{&s.Key, &s.Name, &s.Text, &s.Blend} {
		*v = u.text()
	}
	s.Group, s.Color = u.number(), u.color()
	s.Opacity, s.Veil = u.real(), u.real()
	stroked := false
	u.flags(&s.Hidden, &s.Soft, &s.Shine, &s.Bitmap, &s.EvenOdd, &stroked)
	s.Gradient = u.gradient()
	for range u.length(1) {
		s.Clips = append(s.Clips, u.clip())
	}
	s.Contours, s.Matrix = u.contours(), u.matrix()
	if stroked {
		st := &geom.StrokeStyle{Width: u.real(), MiterLimit: u.real(), DashOffset: u.real(), Beyond: u.real()}
		st.Cap, st.Join = geom.Cap(u.count()), geom.Join(u.count())
		for range u.length(1) {
			st.Dashes = append(st.Dashes, u.real())
		}
		s.Stroke = st
	}
}

func (u *unpacker) gradient() *Gradient {
	n := u.count()
	switch {
	case n == 0:
		return nil
	case n <= len(u.gradients):
		return u.gradients[n-1]
	case n > len(u.gradients)+1:
		panic(errPacked)
	}
	g := &Gradient{}
	u.gradients = append(u.gradients, g)
	u.flags(&g.Radial)
	g.P, g.Q, g.R, g.FR = u.vec(), u.vec(), u.real(), u.real()
	g.Spread, g.Matrix = u.text(), u.matrix()
	for range u.length(1) {
		s := Stop{At: u.real(), Opacity: u.real()}
		s.Color = u.color()
		g.Stops = append(g.Stops, s)
	}
	if len(g.Stops) == 0 {
		panic(errPacked)
	}
	return g
}

func (u *unpacker) clip() *Clip {
	n := u.count()
	switch {
	case n > 0 && n <= len(u.clips):
		return u.clips[n-1]
	case n != len(u.clips)+1:
		panic(errPacked)
	}
	c := &Clip{}
	u.clips = append(u.clips, c)
	u.flags(&c.Outside)
	for range u.length(1) {
		it := ClipItem{Contours: u.contours(), Matrix: u.matrix()}
		u.flags(&it.EvenOdd)
		c.Items = append(c.Items, it)
	}
	return c
}

func (u *unpacker) note(n *Note) {
	kind := u.count()
	if kind >= int(noteKinds) {
		panic(errPacked)
	}
	n.Kind = NoteKind(kind)
	for range u.length(1) {
		whole := false
		if u.flags(&whole); whole {
			n.Args = append(n.Args, u.number())
		} else {
			n.Args = append(n.Args, u.text())
		}
	}
	n.Sheet, n.Count = u.text(), u.count()
	for _, list := range [...]*[]string{&n.Where, &n.Keys} {
		for range u.length(1) {
			*list = append(*list, u.text())
		}
	}
	for range u.length(1) {
		n.Places = append(n.Places, u.box())
	}
}
