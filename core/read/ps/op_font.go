package ps

import (
	"bildhauer/core/geom"
)

// fontOps are the operators on fonts.
var fontOps = map[string]op{
	"findfont":        opFindFont,
	"definefont":      opDefineFont,
	"undefinefont":    ignore(1),
	"scalefont":       opScalefont,
	"makefont":        opMakefont,
	"setfont":         func(m *machine) error { o, err := m.pop(); m.gs.font = o; return err },
	"selectfont":      opSelectfont,
	"currentfont":     func(m *machine) error { return m.push(m.gs.font) },
	"rootfont":        func(m *machine) error { return m.push(m.gs.font) },
	"glyphshow":       opGlyphShow,
	"StartData":       opStartData,
	"setcachedevice":  opSetcachedevice,
	"setcachedevice2": opSetcachedevice2,
	"setcharwidth":    opSetcharwidth,
	"show":            opShow("show"),
	"ashow":           opShow("ashow"),
	"widthshow":       opShow("widthshow"),
	"awidthshow":      opShow("awidthshow"),
	"kshow":           opShow("kshow"),
	"xshow":           opShow("xshow"),
	"yshow":           opShow("yshow"),
	"xyshow":          opShow("xyshow"),
	"cshow":           opShow("cshow"),
	"charpath":        opShow("charpath"),
	"stringwidth":     opShow("stringwidth"),
}

func opScalefont(m *machine) error { return opChangedFont(m, m.scaleArg) }
func opMakefont(m *machine) error  { return opChangedFont(m, m.matrixArg) }

// opChangedFont pops how to change a font, and the font.
func opChangedFont(m *machine, arg func() (geom.Matrix, error)) error {
	t, err := arg()
	if err != nil {
		return err
	}
	o, err := m.pop()
	if err != nil {
		return err
	}
	return m.makeFont(o, t)
}

func opSelectfont(m *machine) error {
	t, err := m.scaleArg()
	if err != nil {
		return err
	}
	if err := opFindFont(m); err != nil {
		return err
	}
	o, _ := m.pop()
	if err := m.makeFont(o, t); err != nil {
		return err
	}
	m.gs.font, err = m.pop()
	return err
}

func opSetcachedevice(m *machine) error {
	a, err := m.nums(6)
	if err == nil {
		m.charWidth, m.fixedColor = geom.Vec{X: a[0], Y: a[1]}, true
	}
	return err
}

func opSetcachedevice2(m *machine) error {
	a, err := m.nums(10)
	if err == nil {
		m.charWidth, m.fixedColor = geom.Vec{X: a[0], Y: a[1]}, true
	}
	return err
}

func opSetcharwidth(m *machine) error {
	a, err := m.nums(2)
	if err == nil {
		m.charWidth = geom.Vec{X: a[0], Y: a[1]}
	}
	return err
}
