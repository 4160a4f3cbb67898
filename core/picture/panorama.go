package picture

import (
	"math"

	"bildhauer/core/geom"
)

// Panorama is light from all around as a picture: rows from straight up to straight down,
// columns once around from behind; the middle is what lies ahead of the eye, away from it.
type Panorama struct {
	W, H int
	Pix  [][3]float32
}

// Bytes returns what it holds in memory.
func (p *Panorama) Bytes() int64 { return 12 * int64(len(p.Pix)) }

// Light returns what comes from a direction of length 1: the pixel there, mixed with those
// beside it.
func (p *Panorama) Light(d geom.Vec3) RGB {
	x := 0.5 + math.Atan2(d.X, -d.Z)/(2*math.Pi)
	y := math.Acos(math.Max(-1, math.Min(1, d.Y))) / math.Pi
	fx, fy := x*float64(p.W)-0.5, y*float64(p.H)-0.5
	x0, y0 := math.Floor(fx), math.Floor(fy)
	u, v := fx-x0, fy-y0
	at := func(i, j int) RGB {
		c := p.Pix[min(max(j, 0), p.H-1)*p.W+((i%p.W)+p.W)%p.W]
		return RGB{float64(c[0]), float64(c[1]), float64(c[2])}
	}
	i, j := int(x0), int(y0)
	return at(i, j).Mix(at(i+1, j), u).Mix(at(i, j+1).Mix(at(i+1, j+1), u), v)
}

// Smaller returns the panorama no wider than so many pixels, whole pixels averaged.
func (p *Panorama) Smaller(most int) *Panorama {
	k := (p.W + most - 1) / most
	if k <= 1 {
		return p
	}
	out := &Panorama{W: p.W / k, H: max(1, p.H/k)}
	out.Pix = make([][3]float32, out.W*out.H)
	for y := range out.H {
		for x := range out.W {
			var sum [3]float64
			n := 0
			for j := y * p.H / out.H; j < (y+1)*p.H/out.H; j++ {
				for i := x * p.W / out.W; i < (x+1)*p.W/out.W; i++ {
					c := p.Pix[j*p.W+i]
					for q := range sum {
						sum[q] += float64(c[q])
					}
					n++
				}
			}
			for q := range sum {
				out.Pix[y*out.W+x][q] = float32(sum[q] / float64(n))
			}
		}
	}
	return out
}
