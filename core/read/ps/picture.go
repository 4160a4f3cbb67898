package ps

import (
	"image"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
	"bildhauer/core/read/trace"
)

// bitmap paints the samples of a bitmap whose matrix leads from user space to them, as shapes
// if bitmaps are traced; else it moves past its data.
func (m *machine) bitmap(s ink.Samples, t geom.Matrix, src object) error {
	n := 0
	if s.H > 0 && s.W > 0 && s.Stride() < 1<<30/max(1, s.H) {
		n = s.Stride() * s.H
	}
	place := m.flip.Mul(m.gs.ctm).Mul(t.Inverse()).Mul(geom.Scale(float64(s.W), float64(s.H)))
	if m.silent || !m.tracing.Pictures || t.Det() == 0 || !s.Fits(trace.MostPixels) {
		m.imageAt(float64(s.W), float64(s.H), t)
		return m.skipData(src, n)
	}
	data, err := m.takeData(src, n)
	if err != nil {
		return err
	}
	m.budget.Spend(budget.Bytes, 5*s.W*s.H)
	s.Data = data
	return m.paintImage(s.Image(), place)
}

func (m *machine) paintImage(picture image.Image, place geom.Matrix) error {
	like := artwork.Shape{Group: -1, Opacity: 1, Clips: m.gs.clips}
	traced, err := trace.Inside(m.sheet, trace.Placed{Image: picture, Matrix: place, Like: like}, m.tracing, m.budget)
	if err == nil && !traced {
		m.sheet.NoteAt(artwork.NoteBitmap, "", geom.Box{Max: geom.Vec{X: 1, Y: 1}}.Transform(place))
		m.sheet.AddBitmap(place, -1, false)
	}
	return err
}

// colorsOf converts samples by a colour space.
func (m *machine) colorsOf(space object) func(v []float64) artwork.Color {
	return func(v []float64) artwork.Color {
		depth := len(m.stack)
		for _, x := range v {
			m.push(realNum(x))
		}
		c, err := m.spaceColor(space, 0)
		if len(m.stack) > depth {
			m.stack = m.stack[:depth]
		}
		if err != nil {
			return artwork.Color{R: 128, G: 128, B: 128}
		}
		return c
	}
}

// deviceColors converts samples of 1, 3 or 4 components.
func deviceColors(v []float64) artwork.Color {
	switch len(v) {
	case 3:
		return ink.RGB(v[0], v[1], v[2])
	case 4:
		return ink.CMYK(v[0], v[1], v[2], v[3])
	}
	return ink.RGB(v[0], v[0], v[0])
}
