package plane

import (
	"math"

	"bildhauer/core/geom"
)

// Snap brings outlines to the grid: at places a point in grid units, which are
// rounded. What lies beyond MaxCoord (parts of a shape that a clip cuts away)
// moves to its bounds.
func Snap(outline [][]geom.Vec, at func(geom.Vec) (x, y float64)) []Loop {
	loops := make([]Loop, len(outline))
	for k, l := range outline {
		loops[k] = make(Loop, len(l))
		for j, v := range l {
			x, y := at(v)
			loops[k][j] = Point{clamp(x), clamp(y)}
		}
	}
	return loops
}

func clamp(v float64) int32 {
	return int32(math.Round(math.Max(-MaxCoord, math.Min(MaxCoord, v))))
}
