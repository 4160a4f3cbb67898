package ink

import (
	"image"
	"image/color"

	"bildhauer/core/artwork"
)

// Samples is a bitmap as PostScript and PDF hold it (PLRM 4.10, ISO 32000-1, 8.9): rows of
// packed samples, each row padded to whole bytes.
type Samples struct {
	W, H, Bits, N int       // N components of Bits each
	Decode        []float64 // what the least and the greatest value of each component mean
	Data          []byte
	Color         func(v []float64) artwork.Color
}

// Fits reports whether samples are of a kind and number that are read.
func (s *Samples) Fits(most int) bool {
	known := s.Bits == 1 || s.Bits == 2 || s.Bits == 4 || s.Bits == 8 || s.Bits == 16
	return known && s.W > 0 && s.H > 0 && s.N > 0 && s.N <= 8 && s.W <= most/s.H
}

// Stride returns how many bytes a row takes.
func (s *Samples) Stride() int { return (s.W*s.Bits*s.N + 7) / 8 }

// Image returns the picture; what the data does not reach is clear.
func (s *Samples) Image() *image.NRGBA {
	out := image.NewNRGBA(image.Rect(0, 0, s.W, s.H))
	known := map[uint64]artwork.Color{} // drawings have few colours
	v := make([]float64, s.N)
	most := float64(uint64(1)<<s.Bits - 1)
	for y := range s.H {
		row := s.Stride() * y
		for x := range s.W {
			end := row + ((x+1)*s.Bits*s.N+7)/8
			if end > len(s.Data) {
				return out
			}
			var packed uint64
			for k := range s.N {
				raw := bits(s.Data[row:], (x*s.N+k)*s.Bits, s.Bits)
				packed = packed<<s.Bits ^ raw
				lo, hi := 0.0, 1.0
				if 2*k+1 < len(s.Decode) {
					lo, hi = s.Decode[2*k], s.Decode[2*k+1]
				}
				v[k] = lo + float64(raw)/most*(hi-lo)
			}
			c, ok := known[packed]
			if !ok || s.Bits*s.N > 64 {
				c = s.Color(v)
				if len(known) < 1<<16 {
					known[packed] = c
				}
			}
			out.SetNRGBA(x, y, color.NRGBA{R: c.R, G: c.G, B: c.B, A: 255})
		}
	}
	return out
}
