package trace

import (
	"bytes"
	"fmt"
	"image"
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// Placed is a bitmap inside other artwork.
type Placed struct {
	Data   []byte        // of a file, or
	Image  image.Image   // what it holds
	Matrix geom.Matrix   // from the unit square, y down, to the page
	Like   artwork.Shape // its group, clips, opacity and whether it is hidden
}

// Inside makes shapes of a bitmap that stands in other artwork, if the settings ask for it.
// ok is false for one that is left out: it is too large, damaged, or not wanted.
func Inside(sheet *artwork.Sheet, p Placed, s Settings, b *budget.Budget) (ok bool, err error) {
	sheet.Pictures++
	if !s.Pictures || p.Matrix.Det() == 0 || !p.Matrix.Finite() {
		return false, nil
	}
	if p.Image == nil {
		if p.Image, err = opened(p.Data, b); err != nil {
			return false, b.Context().Err()
		}
	}
	size := p.Image.Bounds().Size()
	if !fits(size.X, size.Y) {
		return false, nil
	}
	areas, err := alone(p.Image, s, b)
	if err != nil {
		return false, b.Context().Err()
	}
	if len(areas) == 0 {
		areas = plain(p.Image)
	}
	m := p.Matrix.Mul(geom.Scale(1/float64(size.X), 1/float64(size.Y)))
	for i, a := range areas {
		b.Spend(budget.Objects, 1)
		sh := a.shape(fmt.Sprintf("picture%d/%d", sheet.Pictures, i+1), fmt.Sprintf("Bitmap %d, area %d", sheet.Pictures, i+1))
		sh.Matrix, sh.Group, sh.Hidden, sh.Clips = m, p.Like.Group, p.Like.Hidden, p.Like.Clips
		sh.Opacity, sh.Blend, sh.Soft = p.Like.Opacity, p.Like.Blend, p.Like.Soft
		sheet.Shapes = append(sheet.Shapes, sh)
	}
	sheet.Note(artwork.NoteTraced, "", size.X, size.Y)
	return true, nil
}

// Size returns the box of a bitmap, px; ok is false for one that is not traced.
func Size(data []byte) (box geom.Box, ok bool) {
	head, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || !fits(head.Width, head.Height) {
		return box, false
	}
	return geom.Box{Max: geom.Vec{X: float64(head.Width), Y: float64(head.Height)}}, true
}

// Mean returns the mean colour of a bitmap where it is opaque; ok is false if it can't be read.
func Mean(data []byte, b *budget.Budget) (c artwork.Color, ok bool) {
	m, err := opened(data, b)
	if err != nil {
		return c, false
	}
	return mean(pixelsOf(m))
}

func mean(p *pixels) (artwork.Color, bool) {
	var sum [3]float64
	n := 0.0
	for i := range p.rgba {
		a := float64(p.cover(i))
		for k, v := range p.color(i) {
			sum[k] += a * float64(v)
		}
		n += a
	}
	if n == 0 {
		return artwork.Color{}, false
	}
	return colorOf([3]float32{float32(sum[0] / n), float32(sum[1] / n), float32(sum[2] / n)}), true
}

// plain returns the whole of a picture of one colour; nothing if it is clear.
func plain(m image.Image) []Area {
	p := pixelsOf(m)
	if p.clear {
		return nil
	}
	w, h := float64(p.w), float64(p.h)
	c, ok := mean(p)
	if !ok {
		return nil
	}
	return []Area{{Color: c, Contours: []geom.Contour{{Closed: true, Segs: []geom.Segment{
		{To: geom.Vec{X: w}}, {To: geom.Vec{X: w, Y: h}}, {To: geom.Vec{Y: h}},
	}}}}}
}

// Mask returns the outlines of the set samples of a bitmap of one bit, px from its corner, as
// smooth as what was drawn seems to have been. Even-odd.
func Mask(w, h int, set func(x, y int) bool, b *budget.Budget) ([]geom.Contour, error) {
	b.Spend(budget.Steps, w*h/8)
	b.Spend(budget.Bytes, 8*w*h)
	v := make([]float32, w*h)
	for i := range v {
		if set(i%w, i/w) {
			v[i] = 1
		}
	}
	// Of stairs of pixels the line through their middles is what was meant: it is within
	// half of a pixel's diagonal.
	f := field{w: w, h: h, v: v, level: 0.5}
	return f.contours(Settings{Speckle: 1, Smooth: math.Sqrt2 / 2}, b)
}
