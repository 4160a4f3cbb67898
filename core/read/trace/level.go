package trace

import (
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// Level returns where values, one for the middle of each pixel of a picture of w by h, pass a
// level, px from its corner, y down; the areas above it, even-odd.
func Level(w, h int, values []float32, level float32, b *budget.Budget) ([]geom.Contour, error) {
	f := field{w: w, h: h, v: values, level: level}
	return f.contours(Settings{Speckle: 1, Smooth: 0.2}, b)
}
