package ps

import (
	"fmt"
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
)

// setNum sets a figure of the graphics state.
func setNum(f func(*state, float64)) op {
	return func(m *machine) error {
		v, err := m.num()
		if err == nil {
			f(m.gs, v)
		}
		return err
	}
}

// ignore takes n operands and does nothing.
func ignore(n int) op {
	return func(m *machine) error {
		for range n {
			if _, err := m.pop(); err != nil {
				return err
			}
		}
		return nil
	}
}

// parameters returns what programs ask of the interpreter's memory.
func parameters() object {
	d := newDict()
	for _, n := range strings.Fields("MaxFontItem MinFontCompress MaxUPathItem MaxFormItem MaxPatternItem MaxScreenItem MaxOpStack MaxDictStack MaxExecStack MaxLocalVM VMThreshold MaxSuperScreen MaxPatternCache MaxFontCache MaxFormCache MaxUPathCache MaxScreenStorage MaxDisplayList MaxOutlineCache MaxImageBuffer MaxSourceList MaxDisplayAndSourceList CurPatternCache CurFontCache CurFormCache BuildTime RamSize") {
		d.put(n, integer(1_000_000))
	}
	d.put("VMReclaim", integer(0))
	d.put("JobName", object{kind: kString, ref: &str{}})
	return object{kind: kDict, ref: d}
}

func newState() *state {
	return &state{
		ctm:   geom.Identity,
		width: 1,
		miter: 10,
		flat:  1,
		space: object{kind: kArray, ref: &array{[]object{name("DeviceGray", false)}}},
	}
}

func matrixObject(t geom.Matrix) object {
	a := &array{}
	for _, v := range []float64{t.A, t.B, t.C, t.D, t.E, t.F} {
		a.v = append(a.v, realNum(v))
	}
	return object{kind: kArray, ref: a}
}

func (m *machine) matrixArg() (geom.Matrix, error) {
	o, err := m.pop()
	if err != nil {
		return geom.Matrix{}, err
	}
	a, ok := m.numArray(o)
	if !ok || len(a) != 6 {
		return geom.Matrix{}, m.err("typecheck")
	}
	return geom.Matrix{A: a[0], B: a[1], C: a[2], D: a[3], E: a[4], F: a[5]}, nil
}

func (m *machine) fillMatrix(t geom.Matrix) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	a, ok := o.ref.(*array)
	if !ok || len(a.v) < 6 {
		return m.err("rangecheck")
	}
	copy(a.v, matrixObject(t).ref.(*array).v)
	return m.push(o)
}

// concat applies a map to the current space, or to a matrix on the stack.
func (m *machine) concat(n int, f func([]float64) geom.Matrix) error {
	if len(m.stack) > 0 {
		if o := m.stack[len(m.stack)-1]; o.kind == kArray {
			m.pop()
			a, err := m.nums(n)
			if err != nil {
				return err
			}
			m.push(o)
			return m.fillMatrix(f(a))
		}
	}
	a, err := m.nums(n)
	if err != nil {
		return err
	}
	t := m.gs.ctm.Mul(f(a))
	if !t.Finite() {
		return m.err("undefinedresult")
	}
	m.gs.ctm = t
	return nil
}

func (m *machine) mapPoint(distance, inverse bool) error {
	t := m.gs.ctm
	if len(m.stack) > 0 && m.stack[len(m.stack)-1].kind == kArray {
		var err error
		if t, err = m.matrixArg(); err != nil {
			return err
		}
	}
	a, err := m.nums(2)
	if err != nil {
		return err
	}
	if distance {
		t.E, t.F = 0, 0
	}
	if inverse {
		if t.Det() == 0 {
			return m.err("undefinedresult")
		}
		t = t.Inverse()
	}
	v := t.Apply(geom.Vec{X: a[0], Y: a[1]})
	m.push(realNum(v.X))
	return m.push(realNum(v.Y))
}

// points pops n points and hands them on in device space.
func (m *machine) points(n int, relative bool, f func([]geom.Vec) error) error {
	a, err := m.nums(2 * n)
	if err != nil {
		return err
	}
	if relative && !m.gs.has {
		return m.err("nocurrentpoint")
	}
	p := make([]geom.Vec, n)
	t := m.gs.ctm
	if relative {
		t.E, t.F = m.gs.at.X, m.gs.at.Y
	}
	for i := range p {
		p[i] = t.Apply(geom.Vec{X: a[2*i], Y: a[2*i+1]})
		if !p[i].Finite() || math.Abs(p[i].X) > 1e7 || math.Abs(p[i].Y) > 1e7 {
			return m.err("limitcheck")
		}
	}
	m.budget.Spend(budget.Nodes, 1)
	return f(p)
}

func (m *machine) moveTo(p geom.Vec) {
	g := m.gs
	// A contour that is only a moveto is replaced by the next.
	if n := len(g.path); n > 0 && g.open && len(g.path[n-1].Segs) == 0 {
		g.path = g.path[:n-1]
	}
	g.path = append(g.path, geom.Contour{Start: p})
	g.at, g.start, g.open, g.has = p, p, true, true
}

func (m *machine) add(s geom.Segment) error {
	g := m.gs
	if !g.has {
		return m.err("nocurrentpoint")
	}
	if !g.open { // after closepath a new contour begins where the last did
		m.moveTo(g.at)
	}
	c := &g.path[len(g.path)-1]
	c.Segs = append(c.Segs, s)
	g.at = s.To
	return nil
}

func (m *machine) lineTo(p []geom.Vec) error { return m.add(geom.Segment{To: p[0]}) }
func (m *machine) curveTo(p []geom.Vec) error {
	return m.add(geom.Segment{Kind: geom.Cubic, C1: p[0], C2: p[1], To: p[2]})
}

func (m *machine) arc(clockwise bool) error {
	a, err := m.nums(5)
	if err != nil {
		return err
	}
	a0, a1 := a[3]*math.Pi/180, a[4]*math.Pi/180
	turn := a1 - a0
	full := 2 * math.Pi
	if clockwise {
		for turn > 0 {
			turn -= full * math.Ceil(turn/full)
		}
		turn = math.Max(turn, -full)
	} else {
		if turn < 0 {
			turn += full * math.Ceil(-turn/full)
		}
		turn = math.Min(turn, full)
	}
	t := m.gs.ctm.Mul(geom.Matrix{A: a[2], D: a[2], E: a[0], F: a[1]})
	s, c := math.Sincos(a0)
	from := t.Apply(geom.Vec{X: c, Y: s})
	if !from.Finite() {
		return m.err("limitcheck")
	}
	if m.gs.has {
		if err := m.add(geom.Segment{To: from}); err != nil {
			return err
		}
	} else {
		m.moveTo(from)
	}
	if turn == 0 {
		return nil
	}
	for _, seg := range geom.UnitArc(t, a0, turn) {
		m.budget.Spend(budget.Nodes, 1)
		if err := m.add(seg); err != nil {
			return err
		}
	}
	return nil
}

func (m *machine) arcTo(results bool) error {
	a, err := m.nums(5)
	if err != nil {
		return err
	}
	if !m.gs.has || m.gs.ctm.Det() == 0 {
		return m.err("nocurrentpoint")
	}
	p0 := m.gs.ctm.Inverse().Apply(m.gs.at)
	p1, p2, r := geom.Vec{X: a[0], Y: a[1]}, geom.Vec{X: a[2], Y: a[3]}, a[4]
	u, v := p0.Sub(p1).Unit(), p2.Sub(p1).Unit()
	t1, t2 := p1, p1
	if cross := u.Cross(v); math.Abs(cross) > 1e-9 {
		half := math.Acos(math.Max(-1, math.Min(1, u.Dot(v)))) / 2
		d := r / math.Tan(half)
		t1, t2 = p1.Add(u.Mul(d)), p1.Add(v.Mul(d))
		center := p1.Add(u.Add(v).Unit().Mul(r / math.Sin(half)))
		m.lineTo([]geom.Vec{m.gs.ctm.Apply(t1)})
		d1, d2 := t1.Sub(center), t2.Sub(center)
		turn := math.Atan2(d1.Cross(d2), d1.Dot(d2))
		for _, seg := range geom.UnitArc(m.gs.ctm.Mul(geom.Matrix{A: r, D: r, E: center.X, F: center.Y}), math.Atan2(d1.Y, d1.X), turn) {
			if err := m.add(seg); err != nil {
				return err
			}
		}
	} else if err := m.lineTo([]geom.Vec{m.gs.ctm.Apply(p1)}); err != nil {
		return err
	}
	if results {
		for _, f := range []float64{t1.X, t1.Y, t2.X, t2.Y} {
			m.push(realNum(f))
		}
	}
	return nil
}

func boxContour(b geom.Box, t geom.Matrix) geom.Contour {
	p := func(x, y float64) geom.Vec { return t.Apply(geom.Vec{X: x, Y: y}) }
	return geom.Contour{
		Start:  p(b.Min.X, b.Min.Y),
		Closed: true,
		Segs: []geom.Segment{
			{To: p(b.Max.X, b.Min.Y)},
			{To: p(b.Max.X, b.Max.Y)},
			{To: p(b.Min.X, b.Max.Y)},
		},
	}
}

// rects makes a path of the rectangles on the stack and paints it.
func (m *machine) rects(paint func() error) error {
	var v []float64
	if len(m.stack) > 0 && m.stack[len(m.stack)-1].kind == kArray {
		o, _ := m.pop()
		var ok bool
		if v, ok = m.numArray(o); !ok {
			return m.err("typecheck")
		}
	} else {
		var err error
		if v, err = m.nums(4); err != nil {
			return err
		}
	}
	old := *m.gs
	m.gs.path = nil
	for i := 0; i+3 < len(v); i += 4 {
		m.gs.path = append(
			m.gs.path,
			boxContour(
				geom.Box{
					Min: geom.Vec{X: v[i], Y: v[i+1]},
					Max: geom.Vec{X: v[i] + v[i+2], Y: v[i+1] + v[i+3]},
				},
				m.gs.ctm,
			),
		)
	}
	err := paint()
	clips := m.gs.clips
	m.gs.path, m.gs.at, m.gs.start, m.gs.has, m.gs.open = old.path, old.at, old.start, old.has, old.open
	m.gs.clips = clips
	return err
}

// contours returns a copy of the path without empty contours.
func (m *machine) contours() []geom.Contour {
	var out []geom.Contour
	for _, c := range m.gs.path {
		if len(c.Segs) > 0 || c.Closed {
			c.Segs = append([]geom.Segment(nil), c.Segs...)
			out = append(out, c)
		}
	}
	return out
}

func (m *machine) fill(evenOdd bool) error {
	return m.shape(m.contours(), m.flip, evenOdd, nil)
}

func (m *machine) shape(c []geom.Contour, t geom.Matrix, evenOdd bool, stroke *geom.StrokeStyle) error {
	if len(c) == 0 || m.silent {
		return nil
	}
	m.budget.Spend(budget.Objects, 1)
	box := geom.EmptyBox()
	n := 0
	for _, ct := range c {
		box = box.Union(ct.Box().Transform(t))
		n += len(ct.Segs) + 1
	}
	m.budget.Spend(budget.Nodes, n)
	var clips []*artwork.Clip
	for _, cl := range m.gs.clips {
		if stroke != nil || !cl.Rectangle().Contains(box) {
			clips = append(clips, cl)
		}
	}
	s := artwork.Shape{
		Group:    -1,
		Color:    m.gs.color,
		Opacity:  1,
		Clips:    clips,
		Contours: c,
		Matrix:   t,
		EvenOdd:  evenOdd,
		Stroke:   stroke,
	}
	if m.gs.pattern != nil {
		return m.fillPattern(s)
	}
	return m.append(s)
}

// append adds a shape to the sheet under a name and key of its own.
func (m *machine) append(s artwork.Shape) error {
	m.budget.Spend(budget.Objects, 1)
	k := len(m.sheet.Shapes) + 1
	s.Key, s.Name = fmt.Sprintf("s%d", k), fmt.Sprintf("Shape %d", k)
	if s.Stroke != nil {
		s.Name = fmt.Sprintf("Stroke %d", k)
	}
	m.sheet.Shapes = append(m.sheet.Shapes, s)
	return nil
}

// strokeStyle returns the stroke of the state in user space.
func (m *machine) strokeStyle() geom.StrokeStyle {
	g := m.gs
	st := geom.StrokeStyle{Width: g.width, MiterLimit: g.miter, Dashes: g.dash, DashOffset: g.dashAt}
	st.Cap = [3]geom.Cap{geom.ButtCap, geom.RoundCap, geom.SquareCap}[max(0, min(2, g.cap))]
	st.Join = [3]geom.Join{geom.MiterJoin, geom.RoundJoin, geom.BevelJoin}[max(0, min(2, g.join))]
	if scale := m.flip.Mul(g.ctm).MaxScale(); scale > 0 {
		if w, thin := ink.Hairline(st.Width*scale, m.page, pxPerPt); thin {
			st.Width = w / scale
			m.sheet.Note(artwork.NoteHairline, "")
		}
	}
	return st
}

func (m *machine) stroke() error {
	t := m.gs.ctm
	if math.Abs(t.Det()) < 1e-12 {
		return nil
	}
	inv := t.Inverse()
	c := m.contours()
	for i := range c {
		c[i] = c[i].Transform(inv)
	}
	st := m.strokeStyle()
	return m.shape(c, m.flip.Mul(t), false, &st)
}

// opStrokePath replaces the path by the outline of its stroke.
func opStrokePath(m *machine) error {
	t := m.gs.ctm
	if math.Abs(t.Det()) < 1e-12 {
		return nil
	}
	c := m.contours()
	for i := range c {
		c[i] = c[i].Transform(t.Inverse())
	}
	st := m.strokeStyle()
	m.gs.path = nil
	for _, l := range geom.Stroke(c, st, st.Width/200) {
		ct := geom.Contour{Closed: true}
		for i, v := range l {
			if v = t.Apply(v); i == 0 {
				ct.Start = v
			} else {
				ct.Segs = append(ct.Segs, geom.Segment{To: v})
			}
		}
		m.budget.Spend(budget.Nodes, len(l))
		m.gs.path = append(m.gs.path, ct)
	}
	m.gs.open = false
	return nil
}

func (m *machine) clip(evenOdd bool) error {
	c := &artwork.Clip{}
	if ct := m.contours(); len(ct) > 0 {
		c.Items = []artwork.ClipItem{{Contours: ct, Matrix: m.flip, EvenOdd: evenOdd}}
	}
	m.gs.clips = append(m.gs.clips[:len(m.gs.clips):len(m.gs.clips)], c)
	return nil
}

// opPathForall hands each step of the path to one of four procedures.
func opPathForall(m *machine) error {
	var p [4]*array
	for i := 3; i >= 0; i-- {
		var err error
		if p[i], err = m.proc(); err != nil {
			return err
		}
	}
	if m.gs.ctm.Det() == 0 {
		return m.err("undefinedresult")
	}
	inv := m.gs.ctm.Inverse()
	give := func(p *array, pts ...geom.Vec) error {
		for _, v := range pts {
			v = inv.Apply(v)
			if err := first(m.push(realNum(v.X)), m.push(realNum(v.Y))); err != nil {
				return err
			}
		}
		return m.call(p)
	}
	for _, c := range m.contours() {
		if err := give(p[0], c.Start); err != nil {
			return err
		}
		for _, s := range c.Segs {
			var err error
			if s.Kind == geom.Cubic {
				err = give(p[2], s.C1, s.C2, s.To)
			} else {
				err = give(p[1], s.To)
			}
			if err != nil {
				return err
			}
		}
		if c.Closed {
			if err := m.call(p[3]); err != nil {
				return err
			}
		}
	}
	return nil
}
