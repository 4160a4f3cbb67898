package trace

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/parallel"
	"bildhauer/core/read/budget"
)

// field is a value at the middle of each pixel. Outside it is 0.
type field struct {
	w, h  int
	v     []float32
	level float32
}

func (f *field) at(x, y int) float32 {
	if x < 0 || y < 0 || x >= f.w || y >= f.h {
		return 0
	}
	return f.v[y*f.w+x]
}

// contours returns where a field passes its level as curves, without specks, by marching
// squares (Lorensen and Cline, Marching cubes, 1987, in the plane). Of two ways through a
// square whose corners are alike crosswise the one is taken that its middle says.
func (f *field) contours(s Settings, b *budget.Budget) ([]geom.Contour, error) {
	var loops [][]geom.Vec
	for _, loop := range f.loops(b) {
		area, long := measure(loop)
		// A thread along an edge between two other colours is no area.
		if math.Abs(area) < s.Speckle || math.Abs(area) < 0.55*long/2 {
			continue
		}
		b.Spend(budget.Steps, 40*len(loop)) // its corners are looked for, and curves are fitted
		loops = append(loops, loop)
	}
	out := make([]geom.Contour, len(loops))
	sharp := s.Corner * math.Pi / 180
	parallel.Light(len(loops), func(i int) {
		out[i] = geom.FitWithCorners(calmed(cornered(loops[i], sharp)), true, s.Smooth, sharp)
	})
	for _, c := range out {
		b.Spend(budget.Nodes, len(c.Segs)+1)
	}
	return out, nil
}

// calmed evens out what single pixels add to a loop: where they part a smooth edge, the level is
// met to a quarter of a pixel at best. Each point goes towards the middle of those beside it and
// then away again a little farther, which takes small steps out and leaves bends as wide as they
// are (Taubin, Curve and surface smoothing without shrinkage, 1995). Corners stay.
func calmed(loop []geom.Vec, corner []bool) []geom.Vec {
	const times, short = 3, 12
	n := len(loop)
	if n < short {
		return loop
	}
	out := append([]geom.Vec(nil), loop...)
	next := make([]geom.Vec, n)
	for range times {
		for _, k := range [2]float64{0.5, -0.53} {
			for i, p := range out {
				next[i] = p
				if !corner[i] {
					next[i] = p.Lerp(out[(i+n-1)%n].Lerp(out[(i+1)%n], 0.5), k)
				}
			}
			out, next = next, out
		}
	}
	return out
}

// measure returns the area of a loop and how long it is.
func measure(loop []geom.Vec) (area, long float64) {
	for i, p := range loop {
		q := loop[(i+1)%len(loop)]
		area += p.Cross(q) / 2
		long += q.Sub(p).Len()
	}
	return area, long
}

// loops follows the level. Squares lie between the middles of four pixels, also those around
// the picture; each crossed side of a square has a number: twice that of the pixel it begins
// at, and one more for those that go down.
func (f *field) loops(b *budget.Budget) (out [][]geom.Vec) {
	w, h := f.w+2, f.h+2 // with a margin of nothing
	next := make([]int32, 2*w*h)
	side := func(x, y, down int) int { return 2*((y+1)*w+x+1) + down + 1 } // 0 is none
	in := func(x, y int) bool { return f.at(x, y) > f.level }
	for y := -1; y < f.h; y++ {
		b.Spend(budget.Steps, f.w/16)
		for x := -1; x < f.w; x++ {
			a, c, d, e := in(x, y), in(x+1, y), in(x+1, y+1), in(x, y+1) // round the square
			if a == c && c == d && d == e {
				continue
			}
			top, right, bottom, left := side(x, y, 0), side(x+1, y, 1), side(x, y+1, 0), side(x, y, 1)
			link := func(from, to int) { next[from-1] = int32(to) }
			// What is inside lies on the left of each way, seen with y down on the right.
			switch {
			case a == d && c == e && a != c:
				middle := (f.at(x, y)+f.at(x+1, y)+f.at(x+1, y+1)+f.at(x, y+1))/4 > f.level
				switch {
				case a && middle:
					link(top, right)
					link(bottom, left)
				case a:
					link(top, left)
					link(bottom, right)
				case middle:
					link(left, top)
					link(right, bottom)
				default:
					link(right, top)
					link(left, bottom)
				}
			default:
				var from, to int
				for _, s := range [...]struct {
					n        int
					one, two bool
				}{{top, a, c}, {right, c, d}, {bottom, d, e}, {left, e, a}} {
					if s.one && !s.two {
						from = s.n
					} else if !s.one && s.two {
						to = s.n
					}
				}
				link(from, to)
			}
		}
	}
	for i := range next {
		if next[i] == 0 {
			continue
		}
		var loop []geom.Vec
		for at := i; next[at] != 0; {
			loop = append(loop, f.crossing(at, w))
			at, next[at] = int(next[at])-1, 0
		}
		b.Spend(budget.Steps, 4*len(loop))
		if len(loop) >= 3 {
			out = append(out, loop)
		}
	}
	return out
}

// crossing returns where the level crosses a side, px from the corner of the picture.
func (f *field) crossing(side, w int) geom.Vec {
	pixel, down := side/2, side%2
	x, y := pixel%w-1, pixel/w-1
	a, b := f.at(x, y), f.at(x+1-down, y+down)
	t := 0.5
	// At the border of the picture what is drawn ends with its pixels.
	if inside := func(x, y int) bool { return x >= 0 && y >= 0 && x < f.w && y < f.h }; inside(x, y) && inside(x+1-down, y+down) {
		t = float64((f.level - a) / (b - a))
	}
	p := geom.Vec{X: float64(x) + 0.5, Y: float64(y) + 0.5}
	if down == 1 {
		p.Y += t
	} else {
		p.X += t
	}
	return p
}
