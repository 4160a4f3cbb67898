package ink

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// meanSide is how finely Mean looks, each way.
const meanSide = 64

// Mean returns the mean colour of what shapes paint in a box of the page, and how much of it they
// cover: what a pattern looks like whose cells are too small and too many to be drawn.
func Mean(shapes []artwork.Shape, box geom.Box, b *budget.Budget) (artwork.Color, float64) {
	side := math.Max(box.W(), box.H())
	if box.Empty() || !(side > 0) || math.IsInf(side, 0) {
		return artwork.Color{}, 0
	}
	c := canvas{step: side / meanSide, at: box.Min, budget: b}
	c.w, c.h = max(1, int(math.Ceil(box.W()/c.step))), max(1, int(math.Ceil(box.H()/c.step)))
	var parts [3][]float32 // each component, times the cover
	cover := make([]float32, c.w*c.h)
	for k := range parts {
		parts[k] = make([]float32, c.w*c.h)
	}
	for i := range shapes {
		for k := range parts {
			one := shapes[i]
			one.Color = only(one.Color, k)
			if one.Gradient != nil {
				one.Gradient, one.Veil = nil, 0 // its mean is taken
			}
			seen := cover
			if k < 2 {
				seen = make([]float32, len(cover)) // the cover is counted once
			}
			c.draw(&one, &Veil{}, parts[k], seen)
		}
	}
	all := 0.0
	var sum [3]float64
	for i, a := range cover {
		all += float64(a)
		for k := range parts {
			sum[k] += float64(parts[k][i])
		}
	}
	if all == 0 {
		return artwork.Color{}, 0
	}
	to := func(v float64) uint8 { return uint8(math.Round(255 * math.Max(0, math.Min(1, v/all)))) }
	return artwork.Color{R: to(sum[0]), G: to(sum[1]), B: to(sum[2])}, all / float64(len(cover))
}

// only returns a grey as light as one component of a colour.
func only(c artwork.Color, k int) artwork.Color {
	v := [3]uint8{c.R, c.G, c.B}[k]
	return artwork.Color{R: v, G: v, B: v}
}
