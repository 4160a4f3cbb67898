// Package ink turns the colours, functions and shadings that PostScript and
// PDF share into sRGB colours and gradients.
package ink

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

func byte8(v float64) uint8 { return uint8(math.Round(math.Max(0, math.Min(1, v)) * 255)) }

// RGB converts components of 0 to 1; what lies outside is clamped.
func RGB(r, g, b float64) artwork.Color {
	return artwork.Color{R: byte8(r), G: byte8(g), B: byte8(b)}
}

// Gray converts a grey of 0 (black) to 1.
func Gray(v float64) artwork.Color { return RGB(v, v, v) }

// press holds how the sixteen full overprints of C, M, Y and K look in sRGB on
// coated paper; bit 0 is C, bit 3 is K. Full cyan lies outside of sRGB.
var press = [16][3]float64{
	{1, 1, 1}, {-0.2, 0.678, 0.937}, {0.925, 0, 0.549}, {0.180, 0.192, 0.573},
	{1, 0.949, 0}, {0, 0.651, 0.314}, {0.929, 0.110, 0.141}, {0.212, 0.212, 0.224},
	{0.137, 0.122, 0.125}, {0, 0.059, 0.141}, {0.141, 0, 0}, {0, 0, 0.008},
	{0.110, 0.102, 0}, {0, 0.075, 0}, {0.133, 0, 0}, {0, 0, 0},
}

// CMYK converts by mixing the overprints by the area that each covers
// (Neugebauer 1937). The reference renderers of EPS and PDF come out within
// some 30 of 255 steps of it, while the plain complement is far more garish.
func CMYK(c, m, y, k float64) artwork.Color {
	v := [4]float64{c, m, y, k}
	for i := range v {
		v[i] = math.Max(0, math.Min(1, v[i]))
		if i == 1 || i == 2 { // middle tones of magenta and yellow look lighter than their dots
			v[i] *= 0.8 + 0.2*math.Pow(v[i], 4)
		}
	}
	var out [3]float64
	for i, p := range press {
		w := 1.0
		for j, x := range v {
			if i>>j&1 == 0 {
				x = 1 - x
			}
			w *= x
		}
		for j := range out {
			out[j] += w * p[j]
		}
	}
	return RGB(out[0], out[1], out[2])
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
	lin := [3]float64{
		3.1339*x - 1.6169*y - 0.4906*z,
		-0.9788*x + 1.9161*y + 0.0335*z,
		0.0719*x - 0.2290*y + 1.4052*z,
	}
	for i, v := range lin {
		if v <= 0.0031308 {
			lin[i] = 12.92 * v
		} else {
			lin[i] = 1.055*math.Pow(v, 1/2.4) - 0.055
		}
	}
	return RGB(lin[0], lin[1], lin[2])
}

// Hairline returns the width, in units of the page, that a line gets which is
// thinner than any device shows: that of a dot of the page 1,000 dots large,
// at most 0.2 pt. ok is false for lines with a width of their own.
func Hairline(width float64, page geom.Box, pt float64) (w float64, ok bool) {
	if width >= 0.02*pt {
		return width, false
	}
	return math.Max(0.02*pt, math.Min(0.2*pt, math.Max(page.W(), page.H())/1000)), true
}
