package ink

import (
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/trace"
)

// Veil is a soft mask: shapes whose light, or whose cover, tells how much shows of what lies
// under it. An outline can only show or not: it is taken where half of it shows.
type Veil struct {
	Shapes []artwork.Shape
	Alpha  bool                    // by cover instead of light
	Ground float64                 // the light where nothing is drawn
	Linear bool                    // light is reckoned in linear light
	Curve  func(v float64) float64 // what a light stands for; nil for itself
	Box    geom.Box                // on the page, where it is looked at
}

// veilSide is how many samples a veil has along its longer side: a corner is rounded by less
// than a thousandth of the mask, and a straight or slowly changing edge is met to a fifth of
// that, since the level is looked for between samples. rows is how often each sample is looked
// at from top to bottom.
const (
	veilSide = 1000
	rows     = 4
)

// least is what counts as nothing at all.
const least = 1.0 / 255

// veilStep is how much of a sample's work counts as a step of the budget.
const veilStep = 3

// Half returns the area of the page where at least half as much shows as where most does, and
// how much that is, from 0 to 1.
func (v *Veil) Half(b *budget.Budget) (area artwork.ClipItem, most float64, err error) {
	side := math.Max(v.Box.W(), v.Box.H())
	if v.Box.Empty() || !(side > 0) || math.IsInf(side, 0) {
		return area, 0, nil
	}
	c := canvas{step: side / veilSide, at: v.Box.Min, budget: b}
	c.w, c.h = max(1, int(math.Ceil(v.Box.W()/c.step))), max(1, int(math.Ceil(v.Box.H()/c.step)))
	b.Spend(budget.Bytes, 8*c.w*c.h)
	light, cover := make([]float32, c.w*c.h), make([]float32, c.w*c.h)
	for i := range light {
		light[i] = float32(v.Ground)
	}
	for i := range v.Shapes {
		c.draw(&v.Shapes[i], v, light, cover)
	}
	values := light
	if v.Alpha {
		values = cover
	}
	for i, x := range values {
		if v.Curve != nil {
			values[i] = float32(v.Curve(float64(x)))
		}
		most = math.Max(most, float64(values[i]))
	}
	if most < least {
		return area, 0, nil
	}
	loops, err := trace.Level(c.w, c.h, values, float32(most/2)-1e-4, b) // less by what rounding may take
	m := geom.Translate(c.at.X, c.at.Y).Mul(geom.Scale(c.step, c.step))
	return artwork.ClipItem{Contours: loops, Matrix: m, EvenOdd: true}, most, err
}

// luminance returns the light of a colour, 0 to 1 (SVG 1.1, 14.4; ISO 32000-1, 11.5.3).
func (v *Veil) luminance(c artwork.Color) float64 {
	to := func(x uint8) float64 {
		f := float64(x) / 255
		if !v.Linear {
			return f
		}
		if f <= 0.04045 {
			return f / 12.92
		}
		return math.Pow((f+0.055)/1.055, 2.4)
	}
	return 0.2125*to(c.R) + 0.7154*to(c.G) + 0.0721*to(c.B)
}

// canvas is a grid of samples over a part of the page.
type canvas struct {
	w, h   int
	step   float64 // px of the page
	at     geom.Vec
	budget *budget.Budget
}

// window is a part of a canvas, in samples.
type window struct{ x0, y0, x1, y1 int }

func (c *canvas) window(b geom.Box) window {
	to := func(v, at float64, most int) int {
		return int(math.Max(0, math.Min(float64(most), math.Floor((v-at)/c.step))))
	}
	if b.Empty() {
		return window{}
	}
	return window{to(b.Min.X, c.at.X, c.w), to(b.Min.Y, c.at.Y, c.h), to(b.Max.X+c.step, c.at.X, c.w), to(b.Max.Y+c.step, c.at.Y, c.h)}
}

// draw paints a shape over what is there.
func (c *canvas) draw(s *artwork.Shape, v *Veil, light, cover []float32) {
	if s.Hidden || s.Bitmap {
		return
	}
	win := c.window(s.Box())
	w, h := win.x1-win.x0, win.y1-win.y0
	if w <= 0 || h <= 0 {
		return
	}
	c.budget.Spend(budget.Steps, w*h*(1+len(s.Clips))/veilStep)
	shown := c.filled(s.Outline(c.step/8), s.EvenOdd && s.Stroke == nil, win)
	for _, clip := range s.Clips {
		in := make([]float32, w*h)
		for i := range clip.Items {
			it := &clip.Items[i]
			for k, a := range c.filled(it.Outline(c.step/8), it.EvenOdd, win) {
				in[k] = max(in[k], a)
			}
		}
		for k, a := range in {
			if clip.Outside {
				a = 1 - a
			}
			shown[k] *= a
		}
	}
	bright := v.luminance(s.Color)
	for k, a := range shown {
		if a == 0 {
			continue
		}
		x, y := win.x0+k%w, win.y0+k/w
		l, alpha := bright, s.Opacity
		if s.Gradient != nil {
			col, o := s.Gradient.At(geom.Vec{X: c.at.X + (float64(x)+0.5)*c.step, Y: c.at.Y + (float64(y)+0.5)*c.step})
			l, alpha = v.luminance(col), o*s.Veil
		}
		a *= float32(alpha)
		i := y*c.w + x
		light[i] = light[i]*(1-a) + float32(l)*a
		cover[i] = cover[i]*(1-a) + a
	}
}

// crossing is where an outline passes a row, and which way.
type crossing struct {
	x    float64
	down int
}

// filled returns how much of each sample of a window some loops cover.
func (c *canvas) filled(loops [][]geom.Vec, evenOdd bool, win window) []float32 {
	w, h := win.x1-win.x0, win.y1-win.y0
	out := make([]float32, w*h)
	lines := make([][]crossing, h*rows)
	left, top := c.at.X+float64(win.x0)*c.step, c.at.Y+float64(win.y0)*c.step
	for _, l := range loops {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			down := 1
			if p.Y > q.Y {
				p, q, down = q, p, -1
			}
			// Rows lie at (n + 1/2) / rows.
			y0, y1 := (p.Y-top)/c.step*rows-0.5, (q.Y-top)/c.step*rows-0.5
			first, last := int(math.Max(0, math.Ceil(y0))), int(math.Min(float64(len(lines))-1, math.Ceil(y1)-1))
			if last < first {
				continue
			}
			c.budget.Spend(budget.Steps, 1+(last-first)/veilStep)
			for n := first; n <= last; n++ {
				t := (float64(n) - y0) / (y1 - y0)
				lines[n] = append(lines[n], crossing{(p.X + t*(q.X-p.X) - left) / c.step, down})
			}
		}
	}
	for n, line := range lines {
		slices.SortFunc(line, func(a, b crossing) int {
			switch {
			case a.x < b.x:
				return -1
			case a.x > b.x:
				return 1
			}
			return a.down - b.down
		})
		wind := 0
		row := out[n/rows*w : n/rows*w+w]
		for i := 0; i+1 < len(line); i++ {
			wind += line[i].down
			if in := wind != 0; evenOdd && i%2 == 0 || !evenOdd && in {
				span(row, line[i].x, line[i+1].x)
			}
		}
	}
	return out
}

// span adds a piece of a row.
func span(row []float32, from, to float64) {
	from, to = math.Max(0, from), math.Min(float64(len(row)), to)
	for x := int(from); x < len(row) && float64(x) < to; x++ {
		a := math.Min(to, float64(x+1)) - math.Max(from, float64(x))
		row[x] = min(1, row[x]+float32(a/rows))
	}
}
