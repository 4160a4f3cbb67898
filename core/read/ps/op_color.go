package ps

import (
	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/ink"
)

// colorOps are the operators on colours, patterns, forms and bitmaps.
var colorOps = map[string]op{
	"setgray":           opSetgray,
	"setrgbcolor":       opSetrgbcolor,
	"setcmykcolor":      opSetcmykcolor,
	"sethsbcolor":       opSethsbcolor,
	"currentgray":       opCurrentgray,
	"currentrgbcolor":   opCurrentrgbcolor,
	"currenthsbcolor":   opCurrenthsbcolor,
	"currentcolor":      func(m *machine) error { return opCurrentrgbcolor(m) },
	"pathforall":        opPathForall,
	"currentcmykcolor":  opCurrentcmykcolor,
	"setcolorspace":     opSetColorSpace,
	"setcolor":          opSetColor,
	"currentcolorspace": func(m *machine) error { return m.push(m.gs.space) },
	"setpattern":        func(m *machine) error { return m.setPattern(nil) },
	"makepattern":       opMakePattern,
	"shfill":            opShfill,
	"execform":          opExecform,
	"image":             opImage,
	"colorimage":        opColorImage,
	"imagemask":         opImageMask,
}

func opSetgray(m *machine) error {
	return m.color(1, func(a []float64) artwork.Color { return ink.RGB(a[0], a[0], a[0]) })
}

func opSetrgbcolor(m *machine) error {
	return m.color(3, func(a []float64) artwork.Color { return ink.RGB(a[0], a[1], a[2]) })
}

func opSetcmykcolor(m *machine) error {
	return m.color(4, func(a []float64) artwork.Color { return ink.CMYK(a[0], a[1], a[2], a[3]) })
}

func opSethsbcolor(m *machine) error {
	return m.color(3, func(a []float64) artwork.Color { return hsb(a[0], a[1], a[2]) })
}

func opCurrentgray(m *machine) error {
	c := m.gs.color
	return m.push(realNum((0.3*float64(c.R) + 0.59*float64(c.G) + 0.11*float64(c.B)) / 255))
}

func opCurrentrgbcolor(m *machine) error {
	c := m.gs.color
	for _, v := range []uint8{c.R, c.G, c.B} {
		m.push(realNum(float64(v) / 255))
	}
	return nil
}

func opCurrenthsbcolor(m *machine) error {
	m.push(realNum(0))
	m.push(realNum(0))
	return opCurrentgray(m)
}

func opCurrentcmykcolor(m *machine) error {
	c := m.gs.color
	for _, v := range []uint8{c.R, c.G, c.B} {
		m.push(realNum(1 - float64(v)/255))
	}
	return m.push(realNum(0))
}

func opExecform(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	d, ok := o.ref.(*dict)
	if !ok {
		return m.err("typecheck")
	}
	opGsave(m)
	if a, ok := m.numArray(d.m["Matrix"]); ok && len(a) == 6 {
		m.gs.ctm = m.gs.ctm.Mul(geom.Matrix{A: a[0], B: a[1], C: a[2], D: a[3], E: a[4], F: a[5]})
	}
	m.gs.path, m.gs.has, m.gs.open = nil, false, false
	if b, ok := m.numArray(d.m["BBox"]); ok && len(b) == 4 {
		cell := boxContour(
			geom.Box{Min: geom.Vec{X: b[0], Y: b[1]}, Max: geom.Vec{X: b[2], Y: b[3]}},
			m.gs.ctm,
		)
		m.gs.clips = append(
			m.gs.clips[:len(m.gs.clips):len(m.gs.clips)],
			&artwork.Clip{
				Items: []artwork.ClipItem{{Contours: []geom.Contour{cell}, Matrix: m.flip}},
			},
		)
	}
	m.push(o)
	err = m.exec(d.m["PaintProc"], false)
	opGrestore(m)
	return err
}
