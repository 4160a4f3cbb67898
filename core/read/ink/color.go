// Package ink turns the colours, functions and shadings that PostScript and
// PDF share into sRGB colours and gradients.
package ink

import (
	"math"

	"bildhauer/core/artwork"
)

func byte8(v float64) uint8 { return uint8(math.Round(math.Max(0, math.Min(1, v)) * 255)) }

// RGB converts components of 0 to 1; what lies outside is clamped.
func RGB(r, g, b float64) artwork.Color {
	return artwork.Color{R: byte8(r), G: byte8(g), B: byte8(b)}
}

// Gray converts a grey of 0 (black) to 1.
func Gray(v float64) artwork.Color { return RGB(v, v, v) }

// CMYK converts the plain way (PLRM 7.2.4).
func CMYK(c, m, y, k float64) artwork.Color {
	return RGB(1-math.Min(1, c+k), 1-math.Min(1, m+k), 1-math.Min(1, y+k))
}

// Lab converts CIE L*a*b* with the white point of daylight D50 as most files
// have it (ISO 32000-1, 8.6.5.4), through linear sRGB.
func Lab(l, a, b float64) artwork.Color {
	g := func(x float64) float64 {
		if x >= 6.0/29 {
			return x * x * x
		}
		return 108.0 / 841 * (x - 4.0/29)
	}
	m := (l + 16) / 116
	x, y, z := 0.9642*g(m+a/500), g(m), 0.8249*g(m-b/200)
	// D50 to linear sRGB (Bradford).
	lin := [3]float64{3.1339*x - 1.6169*y - 0.4906*z, -0.9788*x + 1.9161*y + 0.0335*z, 0.0719*x - 0.2290*y + 1.4052*z}
	for i, v := range lin {
		if v <= 0.0031308 {
			lin[i] = 12.92 * v
		} else {
			lin[i] = 1.055*math.Pow(v, 1/2.4) - 0.055
		}
	}
	return RGB(lin[0], lin[1], lin[2])
}
