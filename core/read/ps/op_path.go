package ps

import (
	"bildhauer/core/geom"
)

// pathOps are the operators that build and look at paths.
var pathOps = map[string]op{
	"newpath":      opNewpath,
	"currentpoint": opCurrentpoint,
	"moveto":       opMoveto,
	"rmoveto":      opRmoveto,
	"lineto":       func(m *machine) error { return m.points(1, false, m.lineTo) },
	"rlineto":      func(m *machine) error { return m.points(1, true, m.lineTo) },
	"curveto":      func(m *machine) error { return m.points(3, false, m.curveTo) },
	"rcurveto":     func(m *machine) error { return m.points(3, true, m.curveTo) },
	"arc":          func(m *machine) error { return m.arc(false) },
	"arcn":         func(m *machine) error { return m.arc(true) },
	"arct":         func(m *machine) error { return m.arcTo(false) },
	"arcto":        func(m *machine) error { return m.arcTo(true) },
	"closepath":    opClosepath,
	"rectfill":     func(m *machine) error { return m.rects(func() error { return m.fill(false) }) },
	"rectstroke":   func(m *machine) error { return m.rects(m.stroke) },
	"rectclip":     opRectclip,
	"flattenpath":  func(*machine) error { return nil },
	"reversepath":  func(*machine) error { return nil },
	"strokepath":   opStrokePath,
	"pathbbox":     opPathbbox,
	"clippath":     opClippath,
}

func opCurrentpoint(m *machine) error {
	if !m.gs.has || m.gs.ctm.Det() == 0 {
		return m.err("nocurrentpoint")
	}
	v := m.gs.ctm.Inverse().Apply(m.gs.at)
	m.push(realNum(v.X))
	return m.push(realNum(v.Y))
}

func opMoveto(m *machine) error {
	return m.points(1, false, func(p []geom.Vec) error { m.moveTo(p[0]); return nil })
}

func opRmoveto(m *machine) error {
	return m.points(1, true, func(p []geom.Vec) error { m.moveTo(p[0]); return nil })
}

func opClosepath(m *machine) error {
	if m.gs.open {
		m.gs.path[len(m.gs.path)-1].Closed = true
		m.gs.open, m.gs.at = false, m.gs.start
	}
	return nil
}

func opRectclip(m *machine) error {
	return first(m.rects(func() error { return m.clip(false) }), opNewpath(m))
}

func opPathbbox(m *machine) error {
	if len(m.gs.path) == 0 || m.gs.ctm.Det() == 0 {
		return m.err("nocurrentpoint")
	}
	b := geom.EmptyBox()
	inv := m.gs.ctm.Inverse()
	for _, c := range m.gs.path {
		b = b.Union(c.Transform(inv).Box())
	}
	for _, v := range []float64{b.Min.X, b.Min.Y, b.Max.X, b.Max.Y} {
		m.push(realNum(v))
	}
	return nil
}

func opClippath(m *machine) error {
	b := geom.Box{
		Min: m.flip.Inverse().Apply(geom.Vec{X: m.page.Min.X, Y: m.page.Max.Y}),
		Max: m.flip.Inverse().Apply(geom.Vec{X: m.page.Max.X, Y: m.page.Min.Y}),
	}
	m.gs.path = []geom.Contour{boxContour(b, geom.Identity)}
	m.gs.has, m.gs.open, m.gs.at = true, false, b.Min
	return nil
}

func opNewpath(m *machine) error {
	m.gs.path, m.gs.has, m.gs.open = nil, false, false
	return nil
}
