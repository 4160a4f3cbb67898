package ink

import (
	"context"
	"math"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

func disc(x, y, r float64) []geom.Contour {
	m := geom.Matrix{A: r, D: r, E: x, F: y}
	return []geom.Contour{{Start: geom.Vec{X: x + r, Y: y}, Segs: geom.UnitArc(m, 0, 2*math.Pi), Closed: true}}
}

func half(t *testing.T, v *Veil) (geom.Box, float64, float64) {
	t.Helper()
	area := 0.0
	box, most := geom.EmptyBox(), 0.0
	_, err := budget.Within(context.Background(), func(b *budget.Budget) (int, error) {
		it, m, err := v.Half(b)
		most = m
		for _, l := range it.Outline(0.001) {
			for i, p := range l {
				area += p.Cross(l[(i+1)%len(l)]) / 2
				box = box.Grow(p)
			}
		}
		return 0, err
	})
	if err != nil {
		t.Fatal(err)
	}
	return box, math.Abs(area), most
}

// TestSoftMasks looks where half shows through masks whose line is known: a gradient across a
// disc, a ring of light around a dark middle, one disc over another with half its cover, and
// what is nowhere more than a third.
func TestSoftMasks(t *testing.T) {
	white, black := artwork.Color{R: 255, G: 255, B: 255}, artwork.Color{}
	all := geom.Box{Max: geom.Vec{X: 100, Y: 100}}
	round := func(r, opacity float64, c artwork.Color) artwork.Shape {
		return artwork.Shape{Contours: disc(50, 50, r), Matrix: geom.Identity, Color: c, Opacity: opacity}
	}
	fading := round(40, 1, white)
	fading.Veil = 1
	fading.Gradient = &artwork.Gradient{Radial: true, P: geom.Vec{X: 50, Y: 50}, Q: geom.Vec{X: 50, Y: 50}, R: 40, Spread: "pad",
		Matrix: geom.Identity, Stops: []artwork.Stop{{Color: white, Opacity: 1}, {At: 1, Color: black, Opacity: 1}}}
	covered := fading
	g := *fading.Gradient
	g.Stops = []artwork.Stop{{Color: black, Opacity: 1}, {At: 1, Color: black, Opacity: 0}}
	covered.Gradient = &g
	clipped := round(40, 1, white)
	clipped.Clips = []*artwork.Clip{{Outside: true, Items: []artwork.ClipItem{{Contours: disc(50, 50, 20), Matrix: geom.Identity}}}}
	for name, c := range map[string]struct {
		veil   Veil
		radius float64
		area   float64
		most   float64
	}{
		"hard":             {Veil{Shapes: []artwork.Shape{round(30, 1, white)}}, 30, math.Pi * 900, 1},
		"fading":           {Veil{Shapes: []artwork.Shape{fading}}, 20, math.Pi * 400, 1},
		"fading in cover":  {Veil{Shapes: []artwork.Shape{covered}, Alpha: true}, 20, math.Pi * 400, 1},
		"a ring":           {Veil{Shapes: []artwork.Shape{round(40, 1, white), round(20, 1, black)}}, 40, math.Pi * (1600 - 400), 1},
		"a ring by a clip": {Veil{Shapes: []artwork.Shape{clipped}}, 40, math.Pi * (1600 - 400), 1},
		"faint":            {Veil{Shapes: []artwork.Shape{round(30, 1.0/3, white)}}, 30, math.Pi * 900, 1.0 / 3},
		"turned round": {Veil{Shapes: []artwork.Shape{round(20, 1, white)}, Curve: func(v float64) float64 { return 1 - v }},
			50, 10_000 - math.Pi*400, 1},
		"over light": {Veil{Shapes: []artwork.Shape{round(20, 1, black)}, Ground: 1}, 50, 10_000 - math.Pi*400, 1},
		"nothing":    {Veil{}, 0, 0, 0},
	} {
		c.veil.Box = all
		box, area, most := half(t, &c.veil)
		if math.Abs(area-c.area) > 0.004*math.Max(c.area, 1) || math.Abs(most-c.most) > 0.01 {
			t.Errorf("%s: area %.1f, want %.1f; most %.3f, want %.3f", name, area, c.area, most, c.most)
		}
		if c.radius > 0 && (math.Abs(box.W()-2*c.radius) > 0.2 || math.Abs(box.Center().X-50) > 0.1) {
			t.Errorf("%s: box %v, want a radius of %v", name, box, c.radius)
		}
	}
}

// TestSamples unpacks bitmaps of all depths, with and without a decoding of their own.
func TestSamples(t *testing.T) {
	grey := func(v []float64) artwork.Color { return RGB(v[0], v[0], v[0]) }
	for name, c := range map[string]struct {
		s    Samples
		want []uint8 // the red of each pixel
	}{
		"1 bit":       {Samples{W: 3, H: 2, Bits: 1, N: 1, Data: []byte{0b10100000, 0b01000000}, Color: grey}, []uint8{255, 0, 255, 0, 255, 0}},
		"turned":      {Samples{W: 2, H: 1, Bits: 1, N: 1, Data: []byte{0b10000000}, Decode: []float64{1, 0}, Color: grey}, []uint8{0, 255}},
		"2 bits":      {Samples{W: 4, H: 1, Bits: 2, N: 1, Data: []byte{0b00011011}, Color: grey}, []uint8{0, 85, 170, 255}},
		"4 bits":      {Samples{W: 2, H: 1, Bits: 4, N: 1, Data: []byte{0x0f}, Color: grey}, []uint8{0, 255}},
		"16 bits":     {Samples{W: 2, H: 1, Bits: 16, N: 1, Data: []byte{0x80, 0, 0xff, 0xff}, Color: grey}, []uint8{128, 255}},
		"three parts": {Samples{W: 1, H: 1, Bits: 8, N: 3, Data: []byte{7, 8, 9}, Color: func(v []float64) artwork.Color { return RGB(v[0], v[1], v[2]) }}, []uint8{7}},
		"cut short":   {Samples{W: 2, H: 1, Bits: 8, N: 1, Data: []byte{9}, Color: grey}, []uint8{9, 0}},
	} {
		if !c.s.Fits(100) {
			t.Fatalf("%s does not fit", name)
		}
		m := c.s.Image()
		for i, want := range c.want {
			if got := m.NRGBAAt(i%c.s.W, i/c.s.W).R; got != want {
				t.Errorf("%s: pixel %d is %d, want %d", name, i, got, want)
			}
		}
	}
	for _, s := range []Samples{{W: 1, H: 1, Bits: 3, N: 1}, {W: 11, H: 10, Bits: 8, N: 1}, {W: -1, H: 1, Bits: 8, N: 1}, {W: 1, H: 1, Bits: 8, N: 9}} {
		if s.Fits(100) {
			t.Errorf("%+v fits", s)
		}
	}
}
