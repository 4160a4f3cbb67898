package picture

import (
	"math"

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

	// What it is sampled by: tiles of the image, by how bright they are within each row and over rows.
	tw, th int
	rows   steep
	cols   []steep
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
	s.cols = make([]steep, s.th)
	rows := make([]float64, s.th)
	for y := range s.th {
		sin := math.Sin(math.Pi * (float64(y) + 0.5) / float64(s.th))
		row := bright[y*s.tw : (y+1)*s.tw]
		for x := range row {
			row[x] *= sin
		}
		s.cols[y] = newSteep(row)
		rows[y] = s.cols[y].all()
	}
	s.rows = newSteep(rows)
	s.sum = s.rows.all()
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
	j, fy := s.rows.pick(v)
	i, fx := s.cols[j].pick(u)
	x, y := (float64(i)+fx)/float64(s.tw), (float64(j)+fy)/float64(s.th)
	sin, cos := math.Sincos(math.Pi * y)
	sa, ca := math.Sincos(2*math.Pi*x + s.turn + turn)
	return geom.Vec3{X: sin * sa, Y: cos, Z: sin * ca}, s.density(i, j, sin), s.at(x, y)
}

// density returns how probable a direction within a tile is, by solid angle; sin is that of
// its angle from straight up.
func (s *Sky) density(i, j int, sin float64) float64 {
	sums := s.cols[j].sums
	share := (sums[i+1] - sums[i]) / s.sum
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

// steep is a cumulative list, and for even shares of its sum where the step that they fall into begins: so that
// it is found without a search.
type steep struct {
	sums  []float64 // from 0
	guide []int32
}

func newSteep(values []float64) steep {
	s := steep{make([]float64, len(values)+1), make([]int32, len(values))}
	for i, v := range values {
		s.sums[i+1] = s.sums[i] + v
	}
	k := 0
	for i := range s.guide {
		for k+1 < len(values) && s.sums[k+1] <= s.all()*float64(i)/float64(len(s.guide)) {
			k++
		}
		s.guide[i] = int32(k)
	}
	return s
}

func (s *steep) all() float64 { return s.sums[len(s.sums)-1] }

// pick returns the step that v, from 0 to 1, falls into, and how far into it.
func (s *steep) pick(v float64) (int, float64) {
	n := len(s.guide)
	at := v * s.all()
	i := int(s.guide[min(n-1, int(v*float64(n)))])
	for i+1 < n && s.sums[i+1] <= at {
		i++
	}
	if w := s.sums[i+1] - s.sums[i]; w > 0 {
		return i, math.Max(0, math.Min(1, (at-s.sums[i])/w))
	}
	return i, 0.5
}
