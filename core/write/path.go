package write

import (
	"math"
	"strconv"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// Number appends a number in the form that some path data wants.
type Number func(b []byte, v float64) []byte

// Fixed returns numbers with so many decimals at most, without needless zeros.
func Fixed(decimals int) Number {
	return func(b []byte, v float64) []byte {
		from := len(b)
		b = strconv.AppendFloat(b, v, 'f', decimals, 64)
		if decimals > 0 {
			for b[len(b)-1] == '0' {
				b = b[:len(b)-1]
			}
			if b[len(b)-1] == '.' {
				b = b[:len(b)-1]
			}
		}
		if string(b[from:]) == "-0" {
			b = append(b[:from], '0')
		}
		return b
	}
}

// Short appends five significant digits, enough for a screen.
func Short(b []byte, v float64) []byte {
	if math.Abs(v) < 1e-6 {
		return append(b, '0')
	}
	return strconv.AppendFloat(b, v, 'g', 5, 64)
}

// LoopPath appends a closed loop of n points as SVG path data (SVG 1.1, 8.3).
func LoopPath(b []byte, n int, at func(i int) geom.Vec, number Number) []byte {
	for i := range n {
		v := at(i)
		switch i {
		case 0:
			b = append(b, 'M')
		case 1:
			b = append(b, 'L')
		default:
			b = append(b, ' ')
		}
		b = number(b, v.X)
		b = append(b, ' ')
		b = number(b, v.Y)
	}
	return append(b, 'Z')
}

// RegionPath appends the loops of a region; at places a grid point.
func RegionPath(b []byte, r plane.Region, at func(plane.Point) geom.Vec, number Number) []byte {
	r.Loops(func(l plane.Loop) {
		b = LoopPath(b, len(l), func(i int) geom.Vec { return at(l[i]) }, number)
	})
	return b
}

// Upright places grid points of a piece, y up, on a page in mm, y down.
func Upright(step plane.Step) func(plane.Point) geom.Vec {
	return func(p plane.Point) geom.Vec {
		return geom.Vec{X: step.MM(plane.Units(p.X)), Y: -step.MM(plane.Units(p.Y))}
	}
}

// CurvePath appends a contour with its curves as SVG path data, filled: closed.
func CurvePath(b []byte, c geom.Contour, number Number) []byte {
	point := func(v geom.Vec) {
		b = append(number(b, v.X), ' ')
		b = number(b, v.Y)
	}
	b = append(b, 'M')
	point(c.Start)
	for _, s := range c.Segs {
		switch s.Kind {
		case geom.Quad:
			b = append(b, 'Q')
			point(s.C1)
			b = append(b, ' ')
		case geom.Cubic:
			b = append(b, 'C')
			point(s.C1)
			b = append(b, ' ')
			point(s.C2)
			b = append(b, ' ')
		default:
			b = append(b, 'L')
		}
		point(s.To)
	}
	return append(b, 'Z')
}
