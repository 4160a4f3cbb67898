package svg

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/read/budget"
)

// rgba is a colour with its cover, each 0 to 1.
type rgba [4]float64

// tint is what a filter makes of a colour.
type tint func(rgba) rgba

func rgbaOf(c artwork.Color, a float64) rgba {
	return rgba{float64(c.R) / 255, float64(c.G) / 255, float64(c.B) / 255, a}
}

func (c rgba) color() (artwork.Color, float64) {
	to := func(v float64) uint8 { return uint8(math.Round(255 * clamp(v))) }
	return artwork.Color{R: to(c[0]), G: to(c[1]), B: to(c[2])}, clamp(c[3])
}

// tint reads a primitive that changes colours where they are; ok is false for one that colours
// what was clear.
func (f *filtering) tint(k *node) (t tint, ok bool) {
	if k.name == "feColorMatrix" {
		t, ok = matrixTint(orText(k.attr("type"), "matrix"), numbers(k.attr("values")))
	} else {
		t, ok = f.transferTint(k)
	}
	if !ok || t(rgba{})[3] > 0 {
		return nil, false
	}
	space := f.r.cascade(k)["color-interpolation-filters"]
	for n := k.parent; space == "" && n != nil; n = n.parent {
		space = f.r.cascade(n)["color-interpolation-filters"]
	}
	if space == "sRGB" {
		return t, true
	}
	plain := t
	return func(c rgba) rgba {
		for i := range 3 {
			c[i] = linear(c[i])
		}
		c = plain(c)
		for i := range 3 {
			c[i] = encoded(clamp(c[i]))
		}
		return c
	}, true
}

// matrixTint reads a feColorMatrix (Filter Effects Module Level 1, 9.6).
func matrixTint(kind string, v []float64) (tint, bool) {
	m := [20]float64{0: 1, 6: 1, 12: 1, 18: 1}
	one := func(usual float64) float64 {
		if len(v) == 1 {
			return v[0]
		}
		return usual
	}
	luma := [3]float64{0.213, 0.715, 0.072}
	switch kind {
	case "matrix":
		if len(v) == 20 {
			copy(m[:], v)
		} else if len(v) != 0 {
			return nil, false
		}
	case "saturate":
		s := one(1)
		for i := range 3 {
			for j := range 3 {
				m[5*i+j] = luma[j] * (1 - s)
			}
			m[5*i+i] += s
		}
	case "hueRotate":
		sin, cos := math.Sincos(one(0) * math.Pi / 180)
		turn := [3][3]float64{{-0.213, -0.715, 0.928}, {0.143, 0.140, -0.283}, {-0.787, 0.715, 0.072}}
		for i := range 3 {
			for j := range 3 {
				m[5*i+j] = luma[j]*(1-cos) + turn[i][j]*sin
			}
			m[5*i+i] += cos
		}
	case "luminanceToAlpha":
		m = [20]float64{15: 0.2125, 16: 0.7154, 17: 0.0721}
	default:
		return nil, false
	}
	return func(c rgba) (out rgba) {
		for i := range out {
			for j, x := range c {
				out[i] += m[5*i+j] * x
			}
			out[i] = clamp(out[i] + m[5*i+4])
		}
		return out
	}, true
}

// transferTint reads a feComponentTransfer (9.7).
func (f *filtering) transferTint(k *node) (tint, bool) {
	curves := [4]func(float64) float64{}
	for _, n := range k.kids {
		f.r.budget.Spend(budget.Steps, len(n.attr("tableValues"))/2)
		at, known := map[string]int{"feFuncR": 0, "feFuncG": 1, "feFuncB": 2, "feFuncA": 3}[n.name]
		if known {
			curves[at] = transfer(n)
		}
	}
	return func(c rgba) rgba {
		for i, f := range curves {
			if f != nil {
				c[i] = clamp(f(c[i]))
			}
		}
		return c
	}, true
}

// transfer returns the curve of one component, nil for none.
func transfer(n *node) func(float64) float64 {
	num := func(name string, usual float64) float64 { return orNumber(n.attr(name), usual) }
	table := numbers(n.attr("tableValues"))
	last := float64(len(table) - 1)
	switch kind := n.attr("type"); {
	case kind == "table" && len(table) > 0:
		return func(v float64) float64 {
			i := int(math.Min(clamp(v)*last, math.Max(last-1, 0)))
			next := min(i+1, len(table)-1)
			return table[i] + (clamp(v)*last-float64(i))*(table[next]-table[i])
		}
	case kind == "discrete" && len(table) > 0:
		return func(v float64) float64 { return table[int(math.Min(clamp(v)*(last+1), last))] }
	case kind == "linear":
		slope, at := num("slope", 1), num("intercept", 0)
		return func(v float64) float64 { return slope*v + at }
	case kind == "gamma":
		amplitude, exponent, offset := num("amplitude", 1), num("exponent", 1), num("offset", 0)
		return func(v float64) float64 { return amplitude*math.Pow(v, exponent) + offset }
	}
	return nil
}
