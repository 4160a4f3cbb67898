package picture

import "math"

// RGB is light, linear, with the primaries of sRGB.
type RGB [3]float64

// Times returns the light k times as strong.
func (c RGB) Times(k float64) RGB { return RGB{c[0] * k, c[1] * k, c[2] * k} }

// Plus returns both lights together.
func (c RGB) Plus(o RGB) RGB { return RGB{c[0] + o[0], c[1] + o[1], c[2] + o[2]} }

// Through returns the light filtered by o.
func (c RGB) Through(o RGB) RGB { return RGB{c[0] * o[0], c[1] * o[1], c[2] * o[2]} }

// Mix returns c at 0 and o at 1.
func (c RGB) Mix(o RGB, s float64) RGB { return c.Times(1 - s).Plus(o.Times(s)) }

// Max returns the strongest of the three.
func (c RGB) Max() float64 { return max(c[0], c[1], c[2]) }

// Luma returns how bright the light looks (Rec. 709).
func (c RGB) Luma() float64 { return 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2] }

// Dark reports whether there is no light.
func (c RGB) Dark() bool { return c == RGB{} }

// Linear turns an sRGB value from 0 to 1 into light (IEC 61966-2-1).
func Linear(v float64) float64 {
	if v <= 0.04045 {
		return v / 12.92
	}
	return math.Pow((v+0.055)/1.055, 2.4)
}

// Encoded turns light from 0 to 1 into an sRGB value.
func Encoded(v float64) float64 {
	if v <= 0.0031308 {
		return 12.92 * v
	}
	return 1.055*math.Pow(v, 1/2.4) - 0.055
}

// Kelvin returns the colour of a black body at a temperature in K, as bright as white; below
// 1,667 and above 25,000 that of these (chromaticity after Kim and others, Design of advanced color
// temperature control system for HDTV, 2002).
func Kelvin(t float64) RGB {
	t = math.Max(1667, math.Min(25000, t))
	k := 1e3 / t
	x := -0.2661239*k*k*k - 0.2343589*k*k + 0.8776956*k + 0.179910
	if t > 4000 {
		x = -3.0258469*k*k*k + 2.1070379*k*k + 0.2226347*k + 0.240390
	}
	y := 3.0817580*x*x*x - 5.87338670*x*x + 3.75112997*x - 0.37001483
	switch {
	case t < 2222:
		y = -1.1063814*x*x*x - 1.34811020*x*x + 2.18555832*x - 0.20219683
	case t < 4000:
		y = -0.9549476*x*x*x - 1.37418593*x*x + 2.09137015*x - 0.16748867
	}
	X, Z := x/y, (1-x-y)/y
	c := RGB{
		3.2404542*X - 1.5371385 - 0.4985314*Z,
		-0.9692660*X + 1.8760108 + 0.0415560*Z,
		0.0556434*X - 0.2040259 + 1.0572252*Z,
	}
	for i := range c {
		c[i] = math.Max(0, c[i])
	}
	return c.Times(1 / c.Luma())
}
