// Package trace turns bitmaps into outlines. Edges lie where the picture is half one colour
// and half the other, between pixels as well, so that what was drawn smoothly is met to a
// part of a pixel.
package trace

import (
	"image"
	"image/draw"
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
)

// Settings say how a bitmap is traced. The zero value decides by itself.
type Settings struct {
	By        string  // ByLight, ByColour, or "" for what the picture looks like
	Threshold float64 // of light, 0 to 1; 0 for the one that parts dark from light best
	Light     bool    // what is light is drawn, instead of what is dark
	Colours   int     // how many there are, without the ground; 0 for as many as there seem to be
	Speckle   float64 // areas smaller than this are left out, px2; 0 for 4
	Corner    float64 // turns of more than so many degrees are corners; 0 for what seem to be
	Pictures  bool    // bitmaps inside other artwork are traced, too
	Smooth    float64 // how far curves may depart from the edges, px; 0 for 0.35
}

// What a tracing goes by.
const (
	ByLight  = "light"
	ByColour = "colours"
)

// The bounds of a picture: a side that cameras have, and twice what is asked to be done within
// two seconds. Tracing takes some 25 bytes a pixel.
const (
	MostSide   = 10_000
	MostPixels = 8_000_000
	MostColour = 16
)

// Area is what has one colour; areas lie on each other in their order.
type Area struct {
	Color    artwork.Color
	Contours []geom.Contour // px, y down; even-odd
}

// Trace returns the areas of a picture.
func Trace(m image.Image, s Settings, b *budget.Budget) ([]Area, error) {
	size := m.Bounds().Size()
	if !fits(size.X, size.Y) {
		return nil, fault.New("has %d by %d pixels; at most %d megapixels are traced. Make it smaller", size.X, size.Y, MostPixels/1_000_000)
	}
	b.Spend(budget.Steps, size.X*size.Y/8)
	if s.Speckle == 0 {
		s.Speckle = 4
	}
	if s.Smooth == 0 {
		s.Smooth = 0.35
	}
	p := pixelsOf(m)
	if s.By == "" {
		s.By = p.kind()
	}
	if s.By == ByLight {
		return p.byLight(s, b)
	}
	return p.byColour(s, b)
}

// pixels is a picture in sRGB with its opacity.
type pixels struct {
	w, h  int
	rgba  [][4]uint8
	clear bool // some pixel is
}

// color returns the colour of a pixel, 0 to 1, and cover how opaque it is.
func (p *pixels) color(i int) [3]float32 {
	c := p.rgba[i]
	return [3]float32{float32(c[0]) / 255, float32(c[1]) / 255, float32(c[2]) / 255}
}

func (p *pixels) cover(i int) float32 { return float32(p.rgba[i][3]) / 255 }

func pixelsOf(m image.Image) *pixels {
	r := m.Bounds()
	p := &pixels{w: r.Dx(), h: r.Dy()}
	n, ok := m.(*image.NRGBA)
	if !ok {
		n = image.NewNRGBA(r)
		draw.Draw(n, r, m, r.Min, draw.Src)
	}
	p.rgba = make([][4]uint8, p.w*p.h)
	for y := range p.h {
		row := n.Pix[n.PixOffset(r.Min.X, r.Min.Y+y):]
		for x := range p.w {
			c := [4]uint8(row[4*x : 4*x+4])
			p.rgba[y*p.w+x] = c
			p.clear = p.clear || c[3] < 128
		}
	}
	return p
}

// light returns the luma of a colour.
func light(c [3]float32) float32 { return 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2] }

// kind tells whether a picture is of a few plain colours: nearly all its pixels have one of
// those, and some of them are no greys.
func (p *pixels) kind() string {
	palette := p.palette(MostColour)
	near, grey := 0, true
	for i := range p.rgba {
		c := p.color(i)
		if p.cover(i) < 0.5 {
			continue
		}
		k, d := nearest(palette, c)
		if d < 0.004 {
			near++
		}
		q := palette[k]
		grey = grey && max(q[0], q[1], q[2])-min(q[0], q[1], q[2]) < 0.1
	}
	if grey || near*10 < len(p.rgba)*8 && !p.clear {
		return ByLight
	}
	return ByColour
}

// byLight traces what is darker than a threshold, or lighter.
func (p *pixels) byLight(s Settings, b *budget.Budget) ([]Area, error) {
	ink := make([]float32, len(p.rgba))
	for i := range p.rgba {
		c := p.color(i)
		// What is clear shows white.
		ink[i] = 1 - (light(c)*p.cover(i) + 1 - p.cover(i))
	}
	level := 1 - s.Threshold
	if s.Threshold <= 0 || s.Threshold >= 1 {
		var two bool
		if level, two = parting(ink); !two {
			return nil, nil
		}
	}
	if s.Light {
		for i := range ink {
			ink[i] = 1 - ink[i]
		}
		level = 1 - level
	}
	var sum [3]float64
	n := 0.0
	for i, v := range ink {
		if float64(v) > level && p.cover(i) > 0.5 {
			for k := range 3 {
				sum[k] += float64(p.color(i)[k])
			}
			n++
		}
	}
	f := field{w: p.w, h: p.h, v: ink, level: float32(level)}
	contours, err := f.contours(s, b)
	if err != nil || len(contours) == 0 {
		return nil, err
	}
	return []Area{{Color: colorOf([3]float32{float32(sum[0] / n), float32(sum[1] / n), float32(sum[2] / n)}), Contours: contours}}, nil
}

// parting returns the level that parts values into two groups that differ most (Otsu, A
// threshold selection method from gray-level histograms, 1979), if there are two.
func parting(v []float32) (level float64, two bool) {
	var count [256]float64
	total := 0.0
	for _, x := range v {
		count[min(255, int(x*255+0.5))]++
	}
	for i, n := range count {
		total += float64(i) * n
	}
	best := 0.0
	below, sum := 0.0, 0.0
	for i, n := range count[:255] {
		below += n
		sum += float64(i) * n
		above := float64(len(v)) - below
		if below == 0 || above == 0 {
			continue
		}
		d := sum/below - (total-sum)/above
		if between := below * above * d * d; between > best {
			// The middle of both groups' means, so that blurred edges lie where they should.
			best, level = between, (sum/below+(total-sum)/above)/2
		}
	}
	return level / 255, best > 0
}

// byColour traces each of the picture's colours. A colour lies on those that cover more, and
// goes on below those that cover less, so that no slit is between them.
func (p *pixels) byColour(s Settings, b *budget.Budget) ([]Area, error) {
	n := s.Colours
	if n == 0 {
		n = MostColour
	}
	palette := p.palette(min(n+1, MostColour))
	ground := p.ground(palette)
	counts := make([]int, len(palette))
	for i := range p.rgba {
		c := p.color(i)
		if p.cover(i) >= 0.5 {
			k, _ := nearest(palette, c)
			counts[k]++
		}
	}
	var order []int
	for k := range palette {
		if k != ground && counts[k] > 0 {
			order = append(order, k)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return counts[b] - counts[a] })
	if s.Colours > 0 {
		order = order[:min(len(order), s.Colours)]
	}
	var out []Area
	for i := range order {
		b.Spend(budget.Steps, p.w*p.h/8)
		f := p.share(palette, order[i:])
		contours, err := f.contours(s, b)
		if err != nil {
			return nil, err
		}
		if len(contours) > 0 {
			out = append(out, Area{Color: colorOf(palette[order[i]]), Contours: contours})
		}
	}
	return out, nil
}

// share tells how much of each pixel has one of some colours of a palette: by how much nearer
// it is to one of them than to any other, so that it is a half on the edge between two.
func (p *pixels) share(palette [][3]float32, own []int) *field {
	f := &field{w: p.w, h: p.h, v: make([]float32, len(p.rgba)), level: 0.5}
	mine := make([]bool, len(palette))
	for _, k := range own {
		mine[k] = true
	}
	for i := range p.rgba {
		c := p.color(i)
		in, out := float32(math.Inf(1)), float32(math.Inf(1))
		for k, q := range palette {
			d := apart(c, q)
			if mine[k] {
				in = min(in, d)
			} else {
				out = min(out, d)
			}
		}
		in, out = float32(math.Sqrt(float64(in))), float32(math.Sqrt(float64(out)))
		v := float32(1)
		if !math.IsInf(float64(out), 1) && in+out > 0 {
			v = out / (in + out)
		}
		f.v[i] = v * p.cover(i)
	}
	return f
}

// ground returns the colour of the palette that a picture lies on: the one along most of its
// border; -1 where that is clear or of no one colour.
func (p *pixels) ground(palette [][3]float32) int {
	if p.clear {
		return -1
	}
	counts, all := make([]int, len(palette)), 0
	look := func(x, y int) {
		k, _ := nearest(palette, p.color(y*p.w+x))
		counts[k]++
		all++
	}
	for x := range p.w {
		look(x, 0)
		look(x, p.h-1)
	}
	for y := range p.h {
		look(0, y)
		look(p.w-1, y)
	}
	for k, n := range counts {
		if n*2 > all {
			return k
		}
	}
	return -1
}

func colorOf(c [3]float32) artwork.Color {
	b := func(v float32) uint8 { return uint8(math.Round(math.Max(0, math.Min(1, float64(v))) * 255)) }
	return artwork.Color{R: b(c[0]), G: b(c[1]), B: b(c[2])}
}

// apart returns the square of how far two colours are apart.
func apart(a, b [3]float32) float32 {
	x, y, z := a[0]-b[0], a[1]-b[1], a[2]-b[2]
	return x*x + y*y + z*z
}

func nearest(palette [][3]float32, c [3]float32) (best int, far float32) {
	far = float32(math.Inf(1))
	for k, q := range palette {
		if d := apart(c, q); d < far {
			best, far = k, d
		}
	}
	return best, far
}
