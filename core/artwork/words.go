package artwork

import (
	"math"
	"strconv"
)

// Words returns a plain name for the colour, such as "deep blue".
func (c Color) Words() string {
	r, g, b := float64(c.R)/255, float64(c.G)/255, float64(c.B)/255
	hi, lo := math.Max(r, math.Max(g, b)), math.Min(r, math.Min(g, b))
	l, d := (hi+lo)/2, hi-lo
	s := 0.0
	if d > 0 {
		s = d / (1 - math.Abs(2*l-1))
	}
	switch {
	case l < 0.07:
		return "Black"
	case l > 0.96:
		return "White"
	case s < 0.10 || d < 0.06:
		switch {
		case l < 0.35:
			return "Dark grey"
		case l < 0.65:
			return "Grey"
		}
		return "Pale grey"
	}
	var h float64
	switch hi {
	case r:
		h = math.Mod((g-b)/d+6, 6)
	case g:
		h = (b-r)/d + 2
	default:
		h = (r-g)/d + 4
	}
	h *= 60
	hue := "red"
	for _, e := range [...]struct {
		to   float64
		name string
	}{{15, "red"}, {40, "orange"}, {66, "yellow"}, {90, "lime"}, {160, "green"}, {195, "turquoise"}, {250, "blue"}, {285, "violet"}, {335, "pink"}, {361, "red"}} {
		if h < e.to {
			hue = e.name
			break
		}
	}
	if hue == "orange" && l < 0.42 {
		return "Brown"
	}
	if hue == "yellow" && l < 0.4 {
		return "Olive"
	}
	switch {
	case l < 0.32:
		return "Deep " + hue
	case l > 0.78:
		return "Pale " + hue
	case s < 0.35:
		return "Dull " + hue
	}
	return string(hue[0]-32) + hue[1:]
}

// ParseHex reads a colour written as #rrggbb.
func ParseHex(s string) (c Color, ok bool) {
	if len(s) != 7 || s[0] != '#' {
		return c, false
	}
	v, err := strconv.ParseUint(s[1:], 16, 32)
	return Color{uint8(v >> 16), uint8(v >> 8), uint8(v)}, err == nil
}
