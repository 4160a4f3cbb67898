package ps

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/ink"
)

func hsb(h, s, v float64) artwork.Color {
	f := func(n float64) float64 {
		k := math.Mod(n+h*6, 6)
		return v - v*s*math.Max(0, math.Min(math.Min(k, 4-k), 1))
	}
	return ink.RGB(f(5), f(3), f(1))
}

func (m *machine) color(n int, f func([]float64) artwork.Color) error {
	a, err := m.nums(n)
	if err != nil {
		return err
	}
	m.setColor(f(a))
	return nil
}

// setColor changes the colour, but not within a glyph that takes that of its
// text.
func (m *machine) setColor(c artwork.Color) {
	if !m.fixedColor {
		m.gs.color, m.gs.pattern = c, nil
	}
}

func opSetColorSpace(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind == kName {
		o = object{kind: kArray, ref: &array{[]object{o}}}
	}
	if _, ok := o.ref.(*array); !ok {
		return m.err("typecheck")
	}
	m.gs.space = o
	m.setColor(artwork.Color{})
	return nil
}

func opSetColor(m *machine) error {
	if a, ok := m.gs.space.ref.(*array); ok && len(a.v) > 0 && key(a.v[0]) == "Pattern" {
		var under *object
		if len(a.v) > 1 {
			under = &a.v[1]
		}
		return m.setPattern(under)
	}
	c, err := m.spaceColor(m.gs.space, 0)
	if err == nil {
		m.setColor(c)
	}
	return err
}

// spaceColor pops the components of a colour in a space and converts it.
func (m *machine) spaceColor(space object, depth int) (artwork.Color, error) {
	none := artwork.Color{}
	if space.kind == kName {
		space = object{kind: kArray, ref: &array{[]object{space}}}
	}
	a, ok := space.ref.(*array)
	if !ok || len(a.v) == 0 || depth > 5 {
		return none, m.err("typecheck")
	}
	switch key(a.v[0]) {
	case "DeviceGray", "CalGray", "CIEBasedA", "G":
		v, err := m.nums(1)
		if err != nil {
			return none, err
		}
		return ink.RGB(v[0], v[0], v[0]), nil
	case "DeviceRGB", "CalRGB", "CIEBasedABC", "RGB":
		v, err := m.nums(3)
		if err != nil {
			return none, err
		}
		return ink.RGB(v[0], v[1], v[2]), nil
	case "DeviceCMYK", "CIEBasedDEFG", "CMYK":
		v, err := m.nums(4)
		if err != nil {
			return none, err
		}
		return ink.CMYK(v[0], v[1], v[2], v[3]), nil
	case "ICCBased":
		if len(a.v) > 1 {
			if d, ok := a.v[1].ref.(*dict); ok {
				switch d.m["N"].n {
				case 1:
					return m.spaceColor(name("DeviceGray", false), depth+1)
				case 4:
					return m.spaceColor(name("DeviceCMYK", false), depth+1)
				}
			}
		}
		return m.spaceColor(name("DeviceRGB", false), depth+1)
	case "Indexed":
		return m.indexedColor(a.v, depth)
	case "Separation", "DeviceN":
		return m.tintColor(a.v, depth)
	case "Pattern":
		if _, err := m.pop(); err != nil {
			return none, err
		}
		return artwork.Color{R: 128, G: 128, B: 128}, nil
	}
	return none, m.err("undefined")
}

// indexedColor pops an index into the palette of a space.
func (m *machine) indexedColor(space []object, depth int) (artwork.Color, error) {
	v, err := m.nums(1)
	if err != nil || len(space) < 4 {
		return artwork.Color{}, m.err("rangecheck")
	}
	n := components(space[1])
	i := int(v[0])
	switch t := space[3].ref.(type) {
	case *str:
		for c := range n {
			if at := i*n + c; at >= 0 && at < len(t.b) {
				m.push(realNum(float64(t.b[at]) / 255))
			} else {
				m.push(realNum(0))
			}
		}
	case *array:
		m.push(integer(i))
		if err := m.call(t); err != nil {
			return artwork.Color{}, err
		}
	}
	return m.spaceColor(space[1], depth+1)
}

// ink notes the names of inks that are no process colours, once each.
func (m *machine) ink(names object) {
	list := []object{names}
	if a, ok := names.ref.(*array); ok {
		list = a.v
	}
	for _, n := range list {
		k := key(n)
		if n.kind == kString {
			k = string(n.ref.(*str).b)
		}
		m.inkNamed(k)
	}
}

func (m *machine) inkNamed(k string) {
	switch k {
	case "None", "All", "Cyan", "Magenta", "Yellow", "Black", "":
		return
	}
	if !m.told["ink "+k] && len(m.told) < 1000 {
		m.told["ink "+k] = true
		m.sheet.Note(artwork.NoteInk, "", k)
	}
}

// tintColor pops the tints of spot colours, which go through their transform to
// the alternate space.
func (m *machine) tintColor(space []object, depth int) (artwork.Color, error) {
	if len(space) < 4 {
		return artwork.Color{}, m.err("rangecheck")
	}
	m.ink(space[1])
	if key(space[1]) == "None" {
		_, err := m.nums(1)
		return artwork.Color{R: 255, G: 255, B: 255}, err
	}
	if err := m.exec(space[3], false); err != nil {
		return artwork.Color{}, err
	}
	return m.spaceColor(space[2], depth+1)
}

func components(space object) int {
	k := key(space)
	if a, ok := space.ref.(*array); ok && len(a.v) > 0 {
		k = key(a.v[0])
	}
	switch k {
	case "DeviceGray", "CalGray", "CIEBasedA", "Separation":
		return 1
	case "DeviceCMYK":
		return 4
	}
	return 3
}

// opImage counts a bitmap and moves past its data.
func opImage(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	m.images++
	if d, ok := o.ref.(*dict); ok {
		if inner, ok := d.m["DataDict"].ref.(*dict); ok { // masked: bitmap and mask each with data
			if mask, ok := d.m["MaskDict"].ref.(*dict); ok && d.m["InterleaveType"].n == 3 {
				if err := m.skipData(mask.m["DataSource"], (mask.m["Width"].n+7)/8*mask.m["Height"].n); err != nil {
					return err
				}
			}
			d = inner
		}
		t, _ := m.dictMatrix(d, "ImageMatrix")
		decode, _ := m.numArray(d.m["Decode"])
		p := ink.Samples{
			W: d.m["Width"].n, H: d.m["Height"].n, Bits: max(1, d.m["BitsPerComponent"].n),
			N: max(1, len(decode)/2), Decode: decode, Color: m.colorsOf(m.gs.space),
		}
		if list, ok := d.m["DataSource"].ref.(*array); ok && d.m["MultipleDataSources"].n != 0 {
			m.imageAt(float64(p.W), float64(p.H), t)
			p.N = 1
			return m.skipTurns(list.v, p.Stride()*p.H)
		}
		return m.bitmap(p, t, d.m["DataSource"])
	}
	a, err := m.nums3()
	if err != nil {
		return err
	}
	p := ink.Samples{W: int(a.w), H: int(a.h), Bits: max(1, int(a.bits)), N: 1, Color: deviceColors}
	return m.bitmap(p, a.t, o)
}

// imageAt reports a bitmap of w by h samples whose matrix leads from user
// space to samples.
func (m *machine) imageAt(w, h float64, t geom.Matrix) {
	if m.silent {
		return
	}
	box := geom.EmptyBox()
	if t.Det() != 0 {
		box = geom.Box{Max: geom.Vec{X: w, Y: h}}.Transform(m.flip.Mul(m.gs.ctm).Mul(t.Inverse()))
	}
	m.sheet.Pictures++
	m.sheet.NoteAt(artwork.NoteBitmap, "", box)
	if t.Det() != 0 {
		m.sheet.AddBitmap(m.flip.Mul(m.gs.ctm).Mul(t.Inverse()).Mul(geom.Scale(w, h)), -1, false)
	}
}

// oldImage is what the old operators of bitmaps are given.
type oldImage struct {
	w, h, bits float64
	t          geom.Matrix // from user space to samples
}

// nums3 pops width, height, bits and the matrix of the old image operators;
// imagemask has a flag in place of the bits.
func (m *machine) nums3() (out oldImage, err error) {
	o, err := m.pop()
	if err != nil {
		return out, err
	}
	b, err := m.pop()
	if err != nil {
		return out, err
	}
	a, err := m.nums(2)
	if err != nil {
		return out, err
	}
	out.w, out.h, out.bits = a[0], a[1], 1
	if v, ok := m.numArray(o); ok && len(v) == 6 {
		out.t = geom.Matrix{A: v[0], B: v[1], C: v[2], D: v[3], E: v[4], F: v[5]}
	}
	if b.number() {
		out.bits = b.f
	}
	return out, nil
}

func opColorImage(m *machine) error {
	parts, err := m.intArg()
	if err != nil {
		return err
	}
	multi, err := m.boolArg()
	if err != nil {
		return err
	}
	n := parts
	if !multi {
		n = min(n, 1)
	}
	var sources []object
	for range n {
		o, err := m.pop()
		if err != nil {
			return err
		}
		sources = append([]object{o}, sources...)
	}
	a, err := m.nums3()
	if err != nil {
		return err
	}
	m.images++
	p := ink.Samples{W: int(a.w), H: int(a.h), Bits: int(a.bits), N: 1, Color: deviceColors}
	if multi {
		m.imageAt(a.w, a.h, a.t)
		return m.skipTurns(sources, p.Stride()*p.H)
	}
	if len(sources) == 0 {
		return m.err("rangecheck")
	}
	p.N = parts
	return m.bitmap(p, a.t, sources[0])
}

// skipTurns reads from several sources in turn, until each gave its bytes.
func (m *machine) skipTurns(sources []object, bytes int) error {
	for got := 0; got < bytes; {
		least := bytes
		for _, s := range sources {
			a, ok := s.ref.(*array)
			if !ok {
				if err := m.skipData(s, bytes); err != nil {
					return err
				}
				continue
			}
			m.budget.Visit()
			if err := m.call(a); err != nil {
				return err
			}
			o, err := m.pop()
			if err != nil {
				return err
			}
			t, ok := o.ref.(*str)
			if !ok || len(t.b) == 0 {
				return nil
			}
			least = min(least, len(t.b))
		}
		got += least
	}
	return nil
}

// skipData reads bytes from a data source without keeping them.
func (m *machine) skipData(src object, bytes int) error {
	switch {
	case src.kind == kFile:
		s, err := m.file(src)
		if err != nil {
			return err
		}
		s.i = min(len(s.b), s.i+max(0, bytes))
	case src.exec && src.kind == kArray:
		for got := 0; got < bytes; {
			m.budget.Visit()
			if err := m.call(src.ref.(*array)); err != nil {
				return err
			}
			o, err := m.pop()
			if err != nil {
				return err
			}
			s, ok := o.ref.(*str)
			if !ok || len(s.b) == 0 {
				return nil
			}
			got += len(s.b)
		}
	}
	return nil
}
