package picture

import (
	"math"
	"sort"

	"bildhauer/core/geom"
	"bildhauer/core/parallel"
)

// Sky is light from all around, as an image of all directions: rows from straight up (y)
// to straight down, columns once around. It is sampled as often as it is bright (Pharr,
// Jakob, Humphreys, Physically based rendering, 2016, 14.2.4).
type Sky struct {
	w, h int
	pix  [][3]float32
	turn float64 // radians

	// What it is sampled by: tiles of the image, cumulative within each row and over rows.
	tw, th int
	rows   []float64
	cols   [][]float64
	sum    float64 // of all, weighed by how much of the sphere it is
}

// skyTile is how many pixels a tile has to a side. A tile is as likely as its brightest
// pixel is bright, so that none is missed.
const skyTile = 4

// NewSky draws a sky of w by h with a function of directions, turned about the upright
// axis.
func NewSky(w, h int, turn float64, light func(dir geom.Vec3) RGB) *Sky {
	s := &Sky{w: w, h: h, pix: make([][3]float32, w*h), turn: turn}
	s.tw, s.th = (w+skyTile-1)/skyTile, (h+skyTile-1)/skyTile
	bright := make([]float64, s.tw*s.th)
	parallel.Light(s.th, func(row int) {
		for y := row * skyTile; y < min(h, (row+1)*skyTile); y++ {
			sin, cos := math.Sincos(math.Pi * (float64(y) + 0.5) / float64(h))
			for x := range w {
				sa, ca := math.Sincos(2 * math.Pi * (float64(x) + 0.5) / float64(w))
				c := light(geom.Vec3{X: sin * sa, Y: cos, Z: sin * ca})
				s.pix[y*w+x] = [3]float32{float32(c[0]), float32(c[1]), float32(c[2])}
				t := row*s.tw + x/skyTile
				bright[t] = math.Max(bright[t], c.Luma())
			}
		}
	})
	s.rows, s.cols = make([]float64, s.th+1), make([][]float64, s.th)
	for y := range s.th {
		s.cols[y] = make([]float64, s.tw+1)
		sin := math.Sin(math.Pi * (float64(y) + 0.5) / float64(s.th))
		for x := range s.tw {
			s.cols[y][x+1] = s.cols[y][x] + bright[y*s.tw+x]*sin
		}
		s.rows[y+1] = s.rows[y] + s.cols[y][s.tw]
	}
	s.sum = s.rows[s.th]
	return s
}

// Turned returns the sky turned about the upright axis, radians.
func (s *Sky) Turned(by float64) *Sky {
	out := *s
	out.turn += by
	return &out
}

// shines reports whether any light comes from it; not from one that is not there.
func (s *Sky) shines() bool { return s != nil && s.sum > 0 }

// place returns where in the image a direction is, from 0 to 1, once the sky is turned by so much more.
func (s *Sky) place(d geom.Vec3, turn float64) (x, y float64) {
	a := math.Atan2(d.X, d.Z) - s.turn - turn
	x = a / (2 * math.Pi)
	return x - math.Floor(x), math.Acos(math.Max(-1, math.Min(1, d.Y))) / math.Pi
}

// Light returns what comes from a direction, of length 1.
func (s *Sky) Light(d geom.Vec3) RGB { return s.at(s.place(d, 0)) }

// at returns the light of a place in the image.
func (s *Sky) at(x, y float64) RGB {
	fx, fy := x*float64(s.w)-0.5, y*float64(s.h)-0.5
	x0, y0 := math.Floor(fx), math.Floor(fy)
	u, v := fx-x0, fy-y0
	i, j := int(x0), int(y0)
	if i < 0 {
		i += s.w
	}
	right := i + 1
	if right == s.w {
		right = 0
	}
	over, under := max(0, j)*s.w, min(s.h-1, j+1)*s.w
	p, q, r, t := &s.pix[over+i], &s.pix[over+right], &s.pix[under+i], &s.pix[under+right]
	var out RGB
	for k := range out {
		top, low := float64(p[k])*(1-u)+float64(q[k])*u, float64(r[k])*(1-u)+float64(t[k])*u
		out[k] = top*(1-v) + low*v
	}
	return out
}

// sample returns, of the sky turned by so much more, a direction, how probable it was, and what comes from there.
func (s *Sky) sample(u, v, turn float64) (d geom.Vec3, pdf float64, light RGB) {
	if s.sum <= 0 {
		return geom.Vec3{Y: 1}, 0, RGB{}
	}
	j, fy := pickFrom(s.rows, v)
	i, fx := pickFrom(s.cols[j], u)
	x, y := (float64(i)+fx)/float64(s.tw), (float64(j)+fy)/float64(s.th)
	sin, cos := math.Sincos(math.Pi * y)
	sa, ca := math.Sincos(2*math.Pi*x + s.turn + turn)
	return geom.Vec3{X: sin * sa, Y: cos, Z: sin * ca}, s.density(i, j, sin), s.at(x, y)
}

// density returns how probable a direction within a tile is, by solid angle; sin is that of
// its angle from straight up.
func (s *Sky) density(i, j int, sin float64) float64 {
	share := (s.cols[j][i+1] - s.cols[j][i]) / s.sum
	return share * float64(s.tw) * float64(s.th) / (2 * math.Pi * math.Pi * math.Max(1e-6, sin))
}

// met returns what comes from a direction, and how probable sample is to give it.
func (s *Sky) met(d geom.Vec3, turn float64) (light RGB, pdf float64) {
	x, y := s.place(d, turn)
	if s.sum > 0 {
		i, j := min(int(x*float64(s.tw)), s.tw-1), min(int(y*float64(s.th)), s.th-1)
		pdf = s.density(i, j, math.Sqrt(math.Max(0, 1-d.Y*d.Y)))
	}
	return s.at(x, y), pdf
}

// pickFrom returns the step of a cumulative list that v falls into, and how far into it.
func pickFrom(list []float64, v float64) (int, float64) {
	n := len(list) - 1
	at := v * list[n]
	i := sort.Search(n, func(i int) bool { return list[i+1] > at })
	i = min(i, n-1)
	if w := list[i+1] - list[i]; w > 0 {
		return i, math.Min(1, (at-list[i])/w)
	}
	return i, 0.5
}
