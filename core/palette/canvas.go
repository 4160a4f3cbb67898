// Package palette gathers near colours of artwork to few: how much of each shade is seen and beside which others,
// which of them go together, and what that changes.
package palette

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

// Canvas tells which shape is seen in each pixel of a picture of artwork.
type Canvas struct {
	W, H  int
	Shape []int32 // index in the sheet, row by row from the top; -1 where nothing is
}

// Paint paints the given shapes of a sheet in their order, the longer side of what they cover side pixels long. A
// pixel belongs to what covers its middle. It returns the context's error.
func Paint(ctx context.Context, s *artwork.Sheet, take []int, side int) (*Canvas, error) {
	box := geom.EmptyBox()
	for _, i := range take {
		box = box.Union(s.Shapes[i].Box())
	}
	c := &Canvas{W: 1, H: 1, Shape: []int32{-1}}
	if long := math.Max(box.W(), box.H()); !box.Empty() && long > 0 {
		p := painter{at: box.Min, scale: float64(side) / long, clips: map[*artwork.Clip][]bool{}}
		c.W = max(1, int(math.Ceil(box.W()*p.scale)))
		c.H = max(1, int(math.Ceil(box.H()*p.scale)))
		c.Shape = slices.Repeat([]int32{-1}, c.W*c.H)
		p.canvas = c
		for _, i := range take {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			p.paint(&s.Shapes[i], int32(i))
		}
	}
	return c, nil
}

// painter fills outlines, pixel by pixel.
type painter struct {
	canvas *Canvas
	at     geom.Vec // of the upper left corner on the page
	scale  float64  // px of the canvas a px of the page
	clips  map[*artwork.Clip][]bool
	rows   [][]crossing
}

// crossing is where an edge meets the middle of a row.
type crossing struct {
	x    float64
	down int
}

func (p *painter) paint(sh *artwork.Shape, n int32) {
	var masks [][]bool
	for _, c := range sh.Clips {
		masks = append(masks, p.mask(c))
	}
	p.fill(sh.Outline(p.fine()), sh.EvenOdd, func(row, from, to int) {
		for k := row*p.canvas.W + from; k < row*p.canvas.W+to; k++ {
			if !slices.ContainsFunc(masks, func(m []bool) bool { return !m[k] }) {
				p.canvas.Shape[k] = n
			}
		}
	})
}

// fine is how closely curves are followed: a quarter of a pixel.
func (p *painter) fine() float64 { return 0.25 / p.scale }

// mask returns the pixels that a clip lets through.
func (p *painter) mask(c *artwork.Clip) []bool {
	if m, ok := p.clips[c]; ok {
		return m
	}
	m := make([]bool, len(p.canvas.Shape))
	for i := range c.Items {
		p.fill(c.Items[i].Outline(p.fine()), c.Items[i].EvenOdd, func(row, from, to int) {
			for k := row*p.canvas.W + from; k < row*p.canvas.W+to; k++ {
				m[k] = true
			}
		})
	}
	if c.Outside {
		for k := range m {
			m[k] = !m[k]
		}
	}
	p.clips[c] = m
	return m
}

// fill calls span for each run of pixels whose middles lie within loops on the page.
func (p *painter) fill(loops [][]geom.Vec, evenOdd bool, span func(row, from, to int)) {
	if len(p.rows) != p.canvas.H {
		p.rows = make([][]crossing, p.canvas.H)
	}
	first, last := p.canvas.H, -1
	for _, l := range loops {
		for i, a := range l {
			b := l[(i+1)%len(l)]
			lo, hi := p.cross(p.on(a), p.on(b))
			first, last = min(first, lo), max(last, hi)
		}
	}
	for row := first; row <= last; row++ {
		list := p.rows[row]
		slices.SortFunc(list, func(a, b crossing) int { return cmp.Compare(a.x, b.x) })
		wind := 0
		for i := 0; i+1 < len(list); i++ {
			wind += list[i].down
			if in := wind != 0 && (!evenOdd || i%2 == 0); in {
				from := max(0, int(math.Ceil(list[i].x-0.5)))
				to := min(p.canvas.W, int(math.Ceil(list[i+1].x-0.5)))
				if from < to {
					span(row, from, to)
				}
			}
		}
		p.rows[row] = list[:0]
	}
}

func (p *painter) on(v geom.Vec) geom.Vec {
	return geom.Vec{X: (v.X - p.at.X) * p.scale, Y: (v.Y - p.at.Y) * p.scale}
}

// cross notes where an edge meets the rows, and returns the first and last of them.
func (p *painter) cross(a, b geom.Vec) (first, last int) {
	down := 1
	if a.Y > b.Y {
		a, b, down = b, a, -1
	}
	first, last = max(0, int(math.Ceil(a.Y-0.5))), min(p.canvas.H, int(math.Ceil(b.Y-0.5)))-1
	for row := first; row <= last; row++ {
		x := a.X + (b.X-a.X)*(float64(row)+0.5-a.Y)/(b.Y-a.Y)
		p.rows[row] = append(p.rows[row], crossing{x, down})
	}
	if first > last {
		return p.canvas.H, -1
	}
	return first, last
}
