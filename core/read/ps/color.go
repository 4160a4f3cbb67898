package ps

import (
	"math"

	"bildhauer/core/artwork"
)

func byte8(v float64) uint8 { return uint8(math.Round(math.Max(0, math.Min(1, v)) * 255)) }

func rgb(r, g, b float64) artwork.Color { return artwork.Color{R: byte8(r), G: byte8(g), B: byte8(b)} }

// cmyk converts the plain way (PLRM 7.2.4).
func cmyk(a []float64) artwork.Color {
	k := a[3]
	return rgb(1-math.Min(1, a[0]+k), 1-math.Min(1, a[1]+k), 1-math.Min(1, a[2]+k))
}

func hsb(h, s, v float64) artwork.Color {
	f := func(n float64) float64 {
		k := math.Mod(n+h*6, 6)
		return v - v*s*math.Max(0, math.Min(math.Min(k, 4-k), 1))
	}
	return rgb(f(5), f(3), f(1))
}

func (m *machine) color(n int, f func([]float64) artwork.Color) error {
	a, err := m.nums(n)
	if err != nil {
		return err
	}
	m.gs.color = f(a)
	return nil
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
	m.gs.color = artwork.Color{}
	return nil
}

func opSetColor(m *machine) error {
	c, err := m.spaceColor(m.gs.space, 0)
	if err == nil {
		m.gs.color = c
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
	nums := func(n int) ([]float64, error) { return m.nums(n) }
	switch key(a.v[0]) {
	case "DeviceGray", "CalGray", "CIEBasedA", "G":
		v, err := nums(1)
		if err != nil {
			return none, err
		}
		return rgb(v[0], v[0], v[0]), nil
	case "DeviceRGB", "CalRGB", "CIEBasedABC", "RGB":
		v, err := nums(3)
		if err != nil {
			return none, err
		}
		return rgb(v[0], v[1], v[2]), nil
	case "DeviceCMYK", "CIEBasedDEFG", "CMYK":
		v, err := nums(4)
		if err != nil {
			return none, err
		}
		return cmyk(v), nil
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
		v, err := nums(1)
		if err != nil || len(a.v) < 4 {
			return none, m.err("rangecheck")
		}
		n := components(a.v[1])
		i := int(v[0])
		switch t := a.v[3].ref.(type) {
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
				return none, err
			}
		}
		return m.spaceColor(a.v[1], depth+1)
	case "Separation", "DeviceN":
		if len(a.v) < 4 {
			return none, m.err("rangecheck")
		}
		if key(a.v[1]) == "None" {
			_, err := nums(1)
			return artwork.Color{R: 255, G: 255, B: 255}, err
		}
		// The tint goes through its transform to the alternate space.
		if err := m.exec(a.v[3], false); err != nil {
			return none, err
		}
		return m.spaceColor(a.v[2], depth+1)
	case "Pattern":
		if _, err := m.pop(); err != nil {
			return none, err
		}
		if len(a.v) > 1 {
			return m.spaceColor(a.v[1], depth+1)
		}
		m.grey("pattern became plain grey")
		return m.gs.color, nil
	}
	return none, m.err("undefined")
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
	m.sheet.Note("left out", "bitmap", "")
	if d, ok := o.ref.(*dict); ok {
		w, h := d.m["Width"].n, d.m["Height"].n
		bits := max(1, d.m["BitsPerComponent"].n)
		n := 1
		if a, ok := d.m["Decode"].ref.(*array); ok {
			n = max(1, len(a.v)/2)
		}
		return m.skipData(d.m["DataSource"], (w*bits*n+7)/8*h)
	}
	a, err := m.nums3()
	if err != nil {
		return err
	}
	return m.skipData(o, (int(a[0])*max(1, int(a[2]))+7)/8*int(a[1]))
}

// nums3 pops width, height, bits and the matrix of the old image operators;
// imagemask has a flag in place of the bits.
func (m *machine) nums3() ([]float64, error) {
	if _, err := m.pop(); err != nil { // matrix
		return nil, err
	}
	b, err := m.pop()
	if err != nil {
		return nil, err
	}
	a, err := m.nums(2)
	if err != nil {
		return nil, err
	}
	bits := 1.0
	if b.number() {
		bits = b.f
	}
	return append(a, bits), nil
}

func opColorImage(m *machine) error {
	n, err := m.intArg()
	if err != nil {
		return err
	}
	multi, err := m.boolArg()
	if err != nil {
		return err
	}
	src, err := m.pop()
	if err != nil {
		return err
	}
	each := n
	if multi {
		each = 1
		for range n - 1 { // the sources of the other components
			if src, err = m.pop(); err != nil {
				return err
			}
		}
	}
	a, err := m.nums3()
	if err != nil {
		return err
	}
	m.images++
	m.sheet.Note("left out", "bitmap", "")
	rows := 1
	if multi {
		rows = n
	}
	return m.skipData(src, (int(a[0])*int(a[2])*each+7)/8*int(a[1])*rows)
}

// skipData reads bytes from a data source without keeping them.
func (m *machine) skipData(src object, bytes int) error {
	switch {
	case src.kind == kFile && src.s != "":
		m.skipFile(src)
	case src.kind == kFile && m.src != nil:
		m.src.i = min(len(m.src.b), m.src.i+max(0, bytes))
	case src.exec && src.kind == kArray:
		for got := 0; got < bytes; {
			if m.steps++; m.steps > maxSteps {
				return errQuit
			}
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
