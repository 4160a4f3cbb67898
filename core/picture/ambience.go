package picture

import (
	"context"
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/parallel"
)

// Ambience is what falls on a place from all around, lamps apart, worked out ahead for
// views that do not follow light.
type Ambience struct {
	// Levels are panoramas as mirrors of AmbienceRough[i] see them.
	Levels []*Panorama
	// Irradiance is what falls on a matt surface, as nine coefficients of spherical
	// harmonics divided by pi (Ramamoorthi, Hanrahan, An efficient representation for
	// irradiance environment maps, 2001); sums with the basis as there give the light
	// that white reflects.
	Irradiance [9]RGB
}

// AmbienceRough are the roughnesses of the levels, and how wide each is and the one that it
// is averaged from, px.
var (
	AmbienceRough = [...]float64{0, 0.15, 0.3, 0.5, 0.7, 1}
	ambienceWide  = [...]int{256, 128, 64, 32, 32, 16}
	ambienceFrom  = [...]int{0, 256, 128, 64, 64, 32}
)

// ambienceSamples is how many paths each direction gets.
const ambienceSamples = 4

// Bytes returns what it holds in memory.
func (a *Ambience) Bytes() (n int64) {
	for _, p := range a.Levels {
		n += p.Bytes()
	}
	return n
}

// direction returns where the middle of a pixel of a panorama looks.
func (p *Panorama) direction(x, y int) geom.Vec3 {
	sin, cos := math.Sincos(math.Pi * (float64(y) + 0.5) / float64(p.H))
	sa, ca := math.Sincos(2 * math.Pi * ((float64(x)+0.5)/float64(p.W) - 0.5))
	return geom.Vec3{X: sin * sa, Y: cos, Z: -sin * ca}
}

// Ambience works out what comes to a place from all around: what there is of surfaces, lit
// by everything, and the sky behind them.
func (s *Scene) Ambience(ctx context.Context, at geom.Vec3) (*Ambience, error) {
	around := *s
	around.SkySeen, around.Solid, around.Catch = true, false, false
	around.ready()
	full := &Panorama{W: ambienceWide[0], H: ambienceWide[0] / 2}
	full.Pix = make([][3]float32, full.W*full.H)
	err := parallel.Each(full.H, func(y int) error {
		w := &path{s: &around, m: &around.Moments[0]}
		for x := range full.W {
			var sum RGB
			for k := range ambienceSamples {
				w.smp = newSampler(x, y, uint32(k), 1)
				r := Ray{From: at, Dir: full.direction(x, y), Far: math.Inf(1)}
				o := w.follow(r, 0)
				sum = sum.Plus(o.light.clamped()).Plus(o.more.clamped())
			}
			for c := range sum {
				full.Pix[y*full.W+x][c] = float32(sum[c] / ambienceSamples)
			}
		}
		return ctx.Err()
	})
	if err != nil {
		return nil, err
	}
	out := &Ambience{Levels: []*Panorama{full}, Irradiance: full.irradiance()}
	for i := 1; i < len(AmbienceRough); i++ {
		out.Levels = append(out.Levels, full.Smaller(ambienceFrom[i]).blurred(ambienceWide[i], alphaOf(AmbienceRough[i])))
	}
	return out, ctx.Err()
}

// blurred returns a panorama as rough mirrors see it that are looked at head-on: each
// direction weighed by how many of their facets face it (Karis, Real shading in Unreal
// Engine 4, 2013).
func (p *Panorama) blurred(wide int, alpha float64) *Panorama {
	out := &Panorama{W: wide, H: wide / 2}
	out.Pix = make([][3]float32, out.W*out.H)
	dirs, share := make([]geom.Vec3, len(p.Pix)), make([]float64, len(p.Pix))
	for y := range p.H {
		for x := range p.W {
			dirs[y*p.W+x] = p.direction(x, y)
			share[y*p.W+x] = math.Sin(math.Pi * (float64(y) + 0.5) / float64(p.H))
		}
	}
	// Facets beyond this are a thousandth as many as those that face it.
	a2 := alpha * alpha
	most := math.Min(1, math.Sqrt(a2*(math.Sqrt(1000)-1)/(1-a2+1e-9)))
	reach := math.Min(math.Pi/2, 2*math.Asin(most)) + 1.5*math.Pi/float64(p.H)
	least := math.Cos(reach)
	rows := int(math.Ceil(reach / math.Pi * float64(p.H)))
	parallel.Light(out.H, func(y int) {
		mid := int((float64(y) + 0.5) / float64(out.H) * float64(p.H))
		for x := range out.W {
			n := out.direction(x, y)
			var sum [3]float64
			all := 0.0
			for i := max(0, mid-rows) * p.W; i < min(p.H, mid+rows+1)*p.W; i++ {
				cos := n.Dot(dirs[i])
				if cos < least || cos <= 0 {
					continue
				}
				d := (1+cos)/2*(a2-1) + 1
				w := share[i] * cos / (d * d)
				all += w
				for c := range sum {
					sum[c] += w * float64(p.Pix[i][c])
				}
			}
			for c := range sum {
				out.Pix[y*out.W+x][c] = float32(sum[c] / all)
			}
		}
	})
	return out
}

// irradiance projects a panorama on spherical harmonics, each order already weighed for
// what a matt surface gathers: 1, 2/3 and 1/4.
func (p *Panorama) irradiance() (out [9]RGB) {
	for y := range p.H {
		step := 2 * math.Pi / float64(p.W) * math.Pi / float64(p.H) * math.Sin(math.Pi*(float64(y)+0.5)/float64(p.H))
		for x := range p.W {
			c := p.Pix[y*p.W+x]
			light := RGB{float64(c[0]), float64(c[1]), float64(c[2])}.Times(step)
			for k, b := range harmonics(p.direction(x, y)) {
				out[k] = out[k].Plus(light.Times(b * [9]float64{1, 2. / 3, 2. / 3, 2. / 3, 0.25, 0.25, 0.25, 0.25, 0.25}[k]))
			}
		}
	}
	return out
}

// harmonics is the basis of the first three orders.
func harmonics(d geom.Vec3) [9]float64 {
	return [9]float64{
		0.282095, 0.488603 * d.Y, 0.488603 * d.Z, 0.488603 * d.X, 1.092548 * d.X * d.Y, 1.092548 * d.Y * d.Z,
		0.315392 * (3*d.Z*d.Z - 1), 1.092548 * d.X * d.Z, 0.546274 * (d.X*d.X - d.Y*d.Y),
	}
}

// Matt returns the light that a white matt surface with a normal reflects.
func (a *Ambience) Matt(n geom.Vec3) RGB {
	var out RGB
	for k, b := range harmonics(n) {
		out = out.Plus(a.Irradiance[k].Times(b))
	}
	return out
}
