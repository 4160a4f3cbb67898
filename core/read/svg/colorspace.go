package svg

import (
	"math"
	"strconv"
	"strings"

	"bildhauer/core/artwork"
)

// The functions of CSS Color 4 beyond rgb() and hsl(). What lies outside sRGB is cut off to it.

// function reads a colour that is written as a function; args are its parts, the opacity not
// among them.
func function(name string, args []string) (c artwork.Color, ok bool) {
	space := ""
	if name == "color" {
		space, args = args[0], args[1:]
	}
	if len(args) < 3 {
		return c, false
	}
	v := func(i int, full float64) float64 { return figure(args[i], full) }
	switch name {
	case "rgb", "rgba":
		return artwork.Color{R: byte8(v(0, 1.0/255)), G: byte8(v(1, 1.0/255)), B: byte8(v(2, 1.0/255))}, true
	case "hsl", "hsla":
		return hsl(turns(args[0]), clamp(percent(args[1])), clamp(percent(args[2]))), true
	case "hwb":
		return hwb(turns(args[0]), clamp(percent(args[1])), clamp(percent(args[2]))), true
	case "lab":
		return lab(v(0, 1)*scaleOf(args[0], 100), v(1, 1)*scaleOf(args[1], 125), v(2, 1)*scaleOf(args[2], 125)), true
	case "lch":
		s, k := math.Sincos(2 * math.Pi * turns(args[2]))
		r := v(1, 1) * scaleOf(args[1], 150)
		return lab(v(0, 1)*scaleOf(args[0], 100), r*k, r*s), true
	case "oklab":
		return oklab(v(0, 1), v(1, 1)*scaleOf(args[1], 0.4), v(2, 1)*scaleOf(args[2], 0.4)), true
	case "oklch":
		s, k := math.Sincos(2 * math.Pi * turns(args[2]))
		r := v(1, 1) * scaleOf(args[1], 0.4)
		return oklab(v(0, 1), r*k, r*s), true
	case "color":
		return inSpace(space, [3]float64{v(0, 1), v(1, 1), v(2, 1)})
	}
	return c, false
}

// figure reads a number, times full, or a percentage as a share; none is 0.
func figure(s string, full float64) float64 {
	pct := strings.HasSuffix(s, "%")
	v, err := strconv.ParseFloat(strings.TrimSuffix(s, "%"), 64)
	switch {
	case err != nil:
		return 0
	case pct:
		return v / 100
	}
	return v * full
}

// scaleOf returns what a share of 1 stands for where percentages are written, else 1.
func scaleOf(s string, whole float64) float64 {
	if strings.HasSuffix(s, "%") {
		return whole
	}
	return 1
}

// percent reads a share that is written as a percentage, with its sign or without.
func percent(s string) float64 { return figure(strings.TrimSuffix(s, "%"), 0.01) }

// turns reads an angle.
func turns(s string) float64 {
	for unit, n := range map[string]float64{"grad": 400, "turn": 1, "deg": 360} {
		if t, ok := strings.CutSuffix(s, unit); ok {
			return figure(t, 1/n)
		}
	}
	if t, ok := strings.CutSuffix(s, "rad"); ok {
		return figure(t, 1/(2*math.Pi))
	}
	return figure(s, 1.0/360)
}

func hwb(h, w, b float64) artwork.Color {
	if w+b >= 1 {
		g := byte8(w / (w + b))
		return artwork.Color{R: g, G: g, B: g}
	}
	c := hsl(h, 1, 0.5)
	mix := func(v uint8) uint8 { return byte8(float64(v)/255*(1-w-b) + w) }
	return artwork.Color{R: mix(c.R), G: mix(c.G), B: mix(c.B)}
}

// encoded gives a linear value its gamma.
func encoded(v float64) float64 {
	if v <= 0.0031308 {
		return 12.92 * v
	}
	return 1.055*math.Pow(v, 1/2.4) - 0.055
}

func linear(v float64) float64 {
	if v <= 0.04045 {
		return v / 12.92
	}
	return math.Pow((v+0.055)/1.055, 2.4)
}

func fromLinear(c [3]float64) artwork.Color {
	return artwork.Color{R: byte8(encoded(c[0])), G: byte8(encoded(c[1])), B: byte8(encoded(c[2]))}
}

func times(m [9]float64, v [3]float64) (out [3]float64) {
	for i := range out {
		out[i] = m[3*i]*v[0] + m[3*i+1]*v[1] + m[3*i+2]*v[2]
	}
	return out
}

// The matrices of CSS Color 4, section 17: from CIE XYZ with the white D65 and D50 to linear
// sRGB, and from linear Display P3.
var (
	fromD65 = [9]float64{3.2409699419, -1.5373831776, -0.4986107603, -0.9692436363, 1.8759675015, 0.0415550574, 0.0556300797, -0.2039769589, 1.0569715142}
	fromD50 = [9]float64{3.1341358529, -1.6173863321, -0.4906619460, -0.9787954765, 1.9162543789, 0.0334427312, 0.0719553110, -0.2289767838, 1.4053856631}
	fromP3  = [9]float64{1.2249401763, -0.2249401763, 0, -0.0420569547, 1.0420569547, 0, -0.0196375546, -0.0786360456, 1.0982736002}
)

// lab is CIE Lab with the white D50.
func lab(l, a, b float64) artwork.Color {
	const e, k = 216.0 / 24389, 24389.0 / 27
	fy := (l + 16) / 116
	f := func(t float64) float64 {
		if c := t * t * t; c > e {
			return c
		}
		return (116*t - 16) / k
	}
	y := l / k
	if l > 8 {
		y = fy * fy * fy
	}
	return fromLinear(times(fromD50, [3]float64{0.9642956764 * f(fy+a/500), y, 0.8251046025 * f(fy-b/200)}))
}

// oklab is Ottosson's (A perceptual color space for image processing, 2020).
func oklab(l, a, b float64) artwork.Color {
	cube := func(v float64) float64 { return v * v * v }
	x := cube(l + 0.3963377774*a + 0.2158037573*b)
	y := cube(l - 0.1055613458*a - 0.0638541728*b)
	z := cube(l - 0.0894841775*a - 1.2914855480*b)
	return fromLinear(times([9]float64{4.0767416621, -3.3077115913, 0.2309699292, -1.2684380046, 2.6097574011, -0.3413193965,
		-0.0041960863, -0.7034186147, 1.7076147010}, [3]float64{x, y, z}))
}

func inSpace(space string, v [3]float64) (artwork.Color, bool) {
	each := func(f func(float64) float64) [3]float64 { return [3]float64{f(v[0]), f(v[1]), f(v[2])} }
	switch space {
	case "srgb":
		return artwork.Color{R: byte8(v[0]), G: byte8(v[1]), B: byte8(v[2])}, true
	case "srgb-linear":
		return fromLinear(v), true
	case "display-p3":
		return fromLinear(times(fromP3, each(linear))), true
	case "xyz", "xyz-d65":
		return fromLinear(times(fromD65, v)), true
	case "xyz-d50":
		return fromLinear(times(fromD50, v)), true
	}
	return artwork.Color{}, false
}

// system are the colours that CSS leaves to the system, as most systems have them.
var system = map[string]uint32{
	"canvas": 0xffffff, "canvastext": 0x000000, "linktext": 0x0000ee, "visitedtext": 0x551a8b, "activetext": 0xff0000,
	"buttonface": 0xefefef, "buttontext": 0x000000, "buttonborder": 0x767676, "field": 0xffffff, "fieldtext": 0x000000,
	"highlight": 0x3367d1, "highlighttext": 0xffffff, "mark": 0xffff00, "marktext": 0x000000, "graytext": 0x808080,
	"window": 0xffffff, "windowtext": 0x000000, "windowframe": 0x767676, "menu": 0xf0f0f0, "menutext": 0x000000,
	"background": 0xffffff, "threedface": 0xefefef, "threedshadow": 0x767676, "infobackground": 0xffffff, "infotext": 0x000000,
}
