package picture

import (
	"image"
	"math"
)

// Contrast is how light becomes a picture.
type Contrast string

// The contrasts.
const (
	Flat   Contrast = "flat"   // as it is, clipped
	Soft   Contrast = "soft"   // highlights roll off
	Strong Contrast = "strong" // the same with deeper shadows
)

// Contrasts lists all.
var Contrasts = []Contrast{Flat, Soft, Strong}

// ContrastOf returns a contrast by its name, the soft one for none.
func ContrastOf(name string) Contrast {
	if name == "" {
		return Soft
	}
	return Contrast(name)
}

// toned maps light to 0 to 1. Up to the knee it stays as it is, from there on it nears 1
// and never passes it: 1 - exp joined on with the same slope.
func (c Contrast) toned(v float64) float64 {
	if c == Flat {
		return math.Max(0, math.Min(1, v))
	}
	if c == Strong {
		v = math.Pow(math.Max(0, v)/0.5, 1.25) * 0.5 // middle greys stay
	}
	const knee = 0.6
	if v <= knee {
		return math.Max(0, v)
	}
	return 1 - (1-knee)*math.Exp(-(v-knee)/(1-knee))
}

// Image returns the picture as 16 bits a channel, not premultiplied, as PNG wants it.
func (p *Picture) Image(c Contrast, exposure float64) *image.NRGBA64 {
	out := image.NewNRGBA64(image.Rect(0, 0, p.W, p.H))
	gain := math.Exp2(exposure)
	for i, l := range p.Light {
		a := math.Max(0, math.Min(1, p.Alpha[i]))
		if a == 0 {
			continue
		}
		o := 8 * i
		for k := range 3 {
			v := uint16(math.Round(65535 * Encoded(c.toned(l[k]*gain/a))))
			out.Pix[o+2*k], out.Pix[o+2*k+1] = uint8(v>>8), uint8(v)
		}
		v := uint16(math.Round(65535 * a))
		out.Pix[o+6], out.Pix[o+7] = uint8(v>>8), uint8(v)
	}
	return out
}
