package artwork

import (
	"math"

	"bildhauer/core/geom"
)

// Stop is a colour at a place along a gradient, 0 to 1.
type Stop struct {
	At      float64
	Color   Color
	Opacity float64
}

// Gradient is a linear gradient from P to Q, or a radial one with the circle
// around Q of radius R and the focus P with radius FR, in a space of its own.
type Gradient struct {
	Radial bool
	P, Q   geom.Vec
	R, FR  float64
	Spread string      // "pad", "reflect" or "repeat"
	Matrix geom.Matrix // to the page
	Stops  []Stop      // by place, at least one
}

// At returns the colour at a point of the page.
func (g *Gradient) At(p geom.Vec) (Color, float64) {
	if g.Matrix.Det() == 0 {
		s := g.Stops[len(g.Stops)-1]
		return s.Color, s.Opacity
	}
	v := g.Matrix.Inverse().Apply(p)
	var t float64
	if !g.Radial {
		d := g.Q.Sub(g.P)
		if l := d.Dot(d); l > 0 {
			t = v.Sub(g.P).Dot(d) / l
		} else {
			t = 1
		}
	} else {
		t = g.radial(v)
	}
	return g.along(t)
}

// radial solves |v - c(t)| = r(t) for the circle of the gradient through v,
// the larger t with a positive radius (SVG 2, 13.2.3).
func (g *Gradient) radial(v geom.Vec) float64 {
	d, e := g.Q.Sub(g.P), v.Sub(g.P)
	dr := g.R - g.FR
	a := d.Dot(d) - dr*dr
	b := e.Dot(d) + g.FR*dr
	c := e.Dot(e) - g.FR*g.FR
	if math.Abs(a) < 1e-12 {
		if b == 0 {
			return 1
		}
		return c / (2 * b)
	}
	q := b*b - a*c
	if q < 0 {
		return 1
	}
	q = math.Sqrt(q)
	t := math.Max((b+q)/a, (b-q)/a)
	if g.FR+t*dr < 0 {
		t = math.Min((b+q)/a, (b-q)/a)
	}
	return t
}

// along returns the colour at place t, spread beyond the ends.
func (g *Gradient) along(t float64) (Color, float64) {
	switch g.Spread {
	case "repeat":
		t -= math.Floor(t)
	case "reflect":
		t = math.Abs(math.Mod(t, 2))
		if t > 1 {
			t = 2 - t
		}
	}
	last := g.Stops[0]
	if t <= last.At {
		return last.Color, last.Opacity
	}
	for _, s := range g.Stops[1:] {
		if t < s.At {
			k := (t - last.At) / (s.At - last.At)
			mix := func(a, b uint8) uint8 { return uint8(math.Round(float64(a) + k*(float64(b)-float64(a)))) }
			return Color{
				mix(last.Color.R, s.Color.R),
				mix(last.Color.G, s.Color.G),
				mix(last.Color.B, s.Color.B),
			}, last.Opacity + k*(s.Opacity-last.Opacity)
		}
		last = s
	}
	return last.Color, last.Opacity
}

// samples is how finely Mean looks, each way.
const samples = 24

// Mean returns the mean colour over the area that all the outlines cover on
// the page, weighted by opacity, and the mean opacity.
func (g *Gradient) Mean(outlines ...[][]geom.Vec) (Color, float64) {
	var b geom.Box
	for i, loops := range outlines {
		own := geom.EmptyBox()
		for _, l := range loops {
			for _, p := range l {
				own = own.Grow(p)
			}
		}
		if i == 0 {
			b = own
		} else {
			b = b.Intersect(own)
		}
	}
	var sum [3]float64
	var weight, n float64
	take := func(p geom.Vec) {
		c, a := g.At(p)
		sum[0], sum[1], sum[2] = sum[0]+a*float64(c.R), sum[1]+a*float64(c.G), sum[2]+a*float64(c.B)
		weight += a
		n++
	}
	for i := range samples {
		for j := range samples {
			p := geom.Vec{
				X: b.Min.X + b.W()*(float64(i)+0.5)/samples,
				Y: b.Min.Y + b.H()*(float64(j)+0.5)/samples,
			}
			in := true
			for _, loops := range outlines {
				in = in && covers(loops, p)
			}
			if in {
				take(p)
			}
		}
	}
	if n == 0 && !b.Empty() {
		take(b.Center())
	}
	if n == 0 || weight == 0 {
		return g.Stops[0].Color, 0
	}
	r := func(v float64) uint8 { return uint8(math.Round(v / weight)) }
	return Color{r(sum[0]), r(sum[1]), r(sum[2])}, weight / n
}

func covers(loops [][]geom.Vec, p geom.Vec) bool {
	in := false
	for _, l := range loops {
		for i, a := range l {
			b := l[(i+1)%len(l)]
			if (a.Y > p.Y) != (b.Y > p.Y) && p.X < a.X+(b.X-a.X)*(p.Y-a.Y)/(b.Y-a.Y) {
				in = !in
			}
		}
	}
	return in
}
