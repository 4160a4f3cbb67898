package picture

import (
	"context"
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/parallel"
)

// Film is a picture while it is made: sums over all samples so far.
type Film struct {
	W, H    int
	Samples int // of every pixel
	seed    uint32
	light   []float32 // r, g, b, premultiplied
	square  []float32 // of luma, for how noisy a pixel is
	alpha   []float32
	base    []float32 // r, g, b
	normal  []float32 // x, y, z
	depth   []float32 // of the first sample that met something, mm
}

// NewFilm returns an empty film.
func NewFilm(w, h int, seed uint32) *Film {
	n := w * h
	return &Film{
		W: w, H: h, seed: seed, light: make([]float32, 3*n), square: make([]float32, n), alpha: make([]float32, n),
		base: make([]float32, 3*n), normal: make([]float32, 3*n), depth: make([]float32, n),
	}
}

// FilmBytes returns how much memory a film takes.
func FilmBytes(w, h int) int64 { return int64(w) * int64(h) * 4 * 12 }

// firefly is the most light that one path after the first surface may bring, as a multiple
// of white: rare paths that bring more are noise that never goes away.
const firefly = 32

// Expose adds samples to every pixel, rows side by side. It returns the context's error
// when it was cancelled; then the film is no good any more.
func (s *Scene) Expose(ctx context.Context, f *Film, samples int) error {
	if s.tree == nil {
		s.ready()
	}
	aspect := float64(f.W) / float64(f.H)
	err := parallel.Each(f.H, func(y int) error {
		for x := range f.W {
			for k := range samples {
				smp := newSampler(x, y, uint32(f.Samples+k), f.seed)
				dx, dy := smp.pair()
				u, v := smp.pair()
				px, py := (float64(x)+tent(dx))/float64(f.W), (float64(y)+tent(dy))/float64(f.H)
				f.add(y*f.W+x, s.follow(s.Camera.ray(px, py, aspect, u, v), &smp))
			}
		}
		return ctx.Err()
	})
	if err == nil {
		f.Samples += samples
	}
	return err
}

// tent spreads samples over two pixels, most of them near the middle.
func tent(u float64) float64 {
	if u < 0.5 {
		return math.Sqrt(2*u) - 0.5
	}
	return 1.5 - math.Sqrt(2-2*u)
}

func (f *Film) add(i int, s seen) {
	l := s.light
	if m := l.Max(); m > firefly {
		l = l.Times(firefly / m)
	}
	if math.IsNaN(l.Luma()) {
		l = RGB{}
	}
	luma := float32(l.Luma())
	f.square[i] += luma * luma
	f.alpha[i] += float32(s.alpha)
	for c := range 3 {
		f.light[3*i+c] += float32(l[c])
		f.base[3*i+c] += float32(s.base[c])
	}
	for c, v := range [3]float64{s.normal.X, s.normal.Y, s.normal.Z} {
		f.normal[3*i+c] += float32(v)
	}
	if f.depth[i] == 0 {
		f.depth[i] = float32(s.depth)
	}
}

// Picture is a finished picture: light and alpha, premultiplied.
type Picture struct {
	W, H  int
	Light []RGB
	Alpha []float64
}

// Picture returns the means of all samples.
func (f *Film) Picture() *Picture {
	p := &Picture{W: f.W, H: f.H, Light: make([]RGB, f.W*f.H), Alpha: make([]float64, f.W*f.H)}
	k := 1 / math.Max(1, float64(f.Samples))
	for i := range p.Light {
		for c := range 3 {
			p.Light[i][c] = float64(f.light[3*i+c]) * k
		}
		p.Alpha[i] = float64(f.alpha[i]) * k
	}
	return p
}

// normalAt returns the mean normal of a pixel.
func (f *Film) normalAt(i int) geom.Vec3 {
	return geom.Vec3{X: float64(f.normal[3*i]), Y: float64(f.normal[3*i+1]), Z: float64(f.normal[3*i+2])}.
		Times(1 / math.Max(1, float64(f.Samples)))
}
