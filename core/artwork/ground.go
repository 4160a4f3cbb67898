package artwork

import "math"

// grounds are what pictures of artwork may lie on: paper, plaster, slate.
var grounds = [...]Color{{0xff, 0xff, 0xff}, {0xb9, 0xab, 0x99}, {0x3a, 0x30, 0x2a}}

// seenAgainst is the least contrast (WCAG 2.1, 1.4.3) at which a form is seen
// on a ground without an outline.
const seenAgainst = 1.25

// Ground returns a colour on which all the given ones are seen: paper if they
// are, else the one on which the least visible is seen best.
func Ground(colors []Color) Color {
	best, most := grounds[0], 0.0
	for _, g := range grounds {
		least := math.Inf(1)
		for _, c := range colors {
			least = math.Min(least, Contrast(g, c))
		}
		if least >= seenAgainst && g == grounds[0] {
			return g
		}
		if least > most {
			best, most = g, least
		}
	}
	return best
}

// darkContrast is from which ratio of luminances to white on a colour passes for black: what is drawn in
// it is seen as a line, not as a tone.
const darkContrast = 10

// Dark reports whether a colour is nearly black.
func (c Color) Dark() bool { return Contrast(c, grounds[0]) >= darkContrast }

// Contrast returns the ratio of the luminances of two colours, from 1 to 21
// (WCAG 2.1).
func Contrast(a, b Color) float64 {
	la, lb := a.luminance()+0.05, b.luminance()+0.05
	return math.Max(la, lb) / math.Min(la, lb)
}

func (c Color) luminance() float64 {
	f := func(v uint8) float64 {
		x := float64(v) / 255
		if x <= 0.03928 {
			return x / 12.92
		}
		return math.Pow((x+0.055)/1.055, 2.4)
	}
	return 0.2126*f(c.R) + 0.7152*f(c.G) + 0.0722*f(c.B)
}
