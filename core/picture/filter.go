package picture

import (
	"math"

	"bildhauer/core/parallel"
)

// filterPasses is how often the filter widens: five by five pixels, each time twice as far
// apart, reach over some sixty pixels.
const filterPasses = 5

// apart is from where on two pixels have nothing to do with each other: the exponent of a
// share of less than a thousandth.
const apart = 7

// How far pixels may differ to be averaged: normals by their cosine, depth as a
// share of itself a pixel, light in multiples of its noise.
const (
	coverShare  = 4
	normalPower = 64
	depthShare  = 0.02
	lightNoise  = 4
)

// Filtered returns the picture with its noise averaged away among pixels that look alike
// by normal, depth and colour, and whose light differs by no more than noise explains
// (Dammertz and others, Edge-avoiding a-trous wavelet transform, 2010, with the variance
// of Schied and others, Spatiotemporal variance-guided filtering, 2017). Light and alpha are averaged together, by
// the same weights, both of what is covered alone: the edges of what is seen stay as sharp as they are, and what is
// laid over another ground has no fringe.
func (f *Film) Filtered() *Picture {
	means, kept := f.inStrips()
	f.calmShade(means)
	return f.shown(means, func(i int) float32 {
		if f.severalAt(i) {
			return 1
		}
		return kept[i] // what leans in what looks alike is noise as far as its light is
	})
}

// inStrips filters the means of the pixels, without shadows, and tells how much of what was seen each keeps.
func (f *Film) inStrips() (*Picture, []float32) {
	out, kept := f.means(), make([]float32, f.W*f.H)
	rows := stripRows(f.W)
	for y := 0; y < f.H; y += rows {
		from, to := max(0, y-filterReach), min(f.H, y+rows+filterReach)
		strip, keeps := f.rows(from, to).filtered()
		a, b := (y-from)*f.W, (min(f.H, y+rows)-from)*f.W
		copy(out.Light[y*f.W:], strip.Light[a:b])
		copy(out.Alpha[y*f.W:], strip.Alpha[a:b])
		copy(kept[y*f.W:], keeps[a:b])
	}
	return out, kept
}

// filterReach is how far the filter reaches beyond a strip, by all its passes and the
// neighbours that noise is taken from.
const filterReach = 2*(1<<filterPasses-1) + 2

// stripRows is how many rows of a picture are filtered at a time: half a million pixels take
// some 100 MB, and at least as many as the filter reaches twice.
func stripRows(w int) int { return max(2*filterReach, (1<<19)/w) }

// rows returns a part of the film.
func (f *Film) rows(from, to int) *Film {
	a, b := from*f.W, to*f.W
	return &Film{
		W: f.W, H: to - from, seed: f.seed, count: f.count[a:b], light: f.light[3*a : 3*b], square: f.square[a:b], other: f.other[a:b],
		alpha: f.alpha[a:b], ground: f.ground[2*a : 2*b], base: f.base[3*a : 3*b], normal: f.normal[3*a : 3*b], depth: f.depth[a:b],
		cover: f.cover[a:b], cut: f.cut[3*a : 3*b],
	}
}

// filtered filters a strip; its alpha is without shadows.
func (f *Film) filtered() (p *Picture, kept []float32) {
	p = f.means()
	n := f.W * f.H
	guide := f.guides()
	light, noise := make([]pixel, n), f.noise(p, guide)
	raw := make([]pixel, n)
	for i := range light { // what is painted on is divided out, so that it stays sharp
		g := &guide[i]
		for c := range 3 {
			light[i].c[c] = p.Light[i][c] / g.tint[c]
		}
		light[i].alpha = 1
		if g.cover > 0 {
			light[i].alpha = float64(f.alpha[i]) * f.share(i) / g.cover
		}
	}
	copy(raw, light)
	spare := make([]pixel, n)
	for pass := range filterPasses {
		noise = f.spread(guide, light, spare, noise, 1<<pass)
		light, spare = spare, light
	}
	kept = f.trust(guide, raw, light)
	for i := range light {
		for c := range 3 {
			p.Light[i][c] = light[i].c[c] * guide[i].tint[c]
		}
		p.Alpha[i] = light[i].alpha * guide[i].cover
	}
	return p, kept
}

// pixel is what is filtered of a pixel: the light on white, and how much of it hides what is behind.
type pixel struct {
	c     RGB
	alpha float64
}

// guide is what tells whether two pixels show the same.
type guide struct {
	tint    RGB
	n       [3]float64
	lit     float64 // length of the mean normal: less than 1 where several things meet
	depth   float64
	cover   float64
	logs    [3]float64 // of the tint of what is covered
	nothing bool
}

// darkest is the least tint that light is divided by.
const darkest = 0.02

func (f *Film) guides() []guide {
	out := make([]guide, f.W*f.H)
	parallel.Light(f.H, func(y int) {
		for i := y * f.W; i < (y+1)*f.W; i++ {
			out[i] = f.guideAt(i)
		}
	})
	return out
}

func (f *Film) guideAt(i int) (g guide) {
	k := f.share(i)
	n := f.normalAt(i)
	g.lit = n.Len()
	u := n.Unit()
	g.n = [3]float64{u.X, u.Y, u.Z}
	g.depth, g.cover = float64(f.depth[i]), float64(f.cover[i])*k
	g.nothing = g.lit == 0
	if g.cover == 0 {
		g.tint = RGB{1, 1, 1}
		return g
	}
	for c := range 3 {
		g.tint[c] = math.Max(darkest*g.cover, float64(f.base[3*i+c])*k)
		g.logs[c] = math.Log(g.tint[c] / g.cover)
	}
	return g
}

// noise returns the variance of the mean luma of each pixel, divided like its light. Where
// samples are few, that of the neighbours tells more.
func (f *Film) noise(p *Picture, g []guide) []float64 {
	raw := make([]float64, f.W*f.H)
	for i := range raw {
		m := p.Light[i].Luma()
		k := f.share(i)
		v := float64(f.square[i])*k - m*m
		tint := g[i].tint.Luma()
		raw[i] = math.Max(0, v) / math.Max(1, 1/k-1) / (tint * tint)
	}
	out := make([]float64, len(raw))
	parallel.Light(f.H, func(y int) {
		for x := range f.W {
			sum, n := 0.0, 0.0
			for v := max(0, y-1); v <= min(f.H-1, y+1); v++ {
				for u := max(0, x-1); u <= min(f.W-1, x+1); u++ {
					sum, n = sum+raw[v*f.W+u], n+1
				}
			}
			out[y*f.W+x] = sum / n
		}
	})
	return out
}

// kernel is the row of a cubic B-spline.
var kernel = [5]float64{1.0 / 16, 1.0 / 4, 3.0 / 8, 1.0 / 4, 1.0 / 16}

// falloff is the exponential of minus an exponent up to apart, in steps of a thousandth or
// two: weights need no more, and it takes a third of the filter's time otherwise.
const falloffSteps = 4096

var falloff = func() (out [falloffSteps + 1]float64) {
	for i := range out {
		out[i] = math.Exp(-apart * float64(i) / falloffSteps)
	}
	return out
}()

// steps is how far each pixel of the kernel is from its middle.
var steps = func() (out [5][5]float64) {
	for u := range 5 {
		for v := range 5 {
			out[u][v] = math.Hypot(float64(u-2), float64(v-2))
		}
	}
	return out
}()

// spread averages each pixel with those so far apart around it, from light to out, and returns the noise then.
func (f *Film) spread(g []guide, light, out []pixel, noise []float64, step int) []float64 {
	left := make([]float64, len(light))
	lumas := make([]float64, len(light))
	for i := range light {
		lumas[i] = light[i].c.Luma()
	}
	parallel.Light(f.H, func(y int) {
		for x := range f.W {
			i := y*f.W + x
			spare := 1 / (lightNoise*math.Sqrt(noise[i]) + 1e-4)
			luma := lumas[i]
			var sum pixel
			total, variance := 0.0, 0.0
			for v := -2; v <= 2; v++ {
				for u := -2; u <= 2; u++ {
					px, py := x+u*step, y+v*step
					if px < 0 || py < 0 || px >= f.W || py >= f.H {
						continue
					}
					j := py*f.W + px
					w := kernel[u+2] * kernel[v+2]
					if i != j {
						e := math.Abs(luma-lumas[j]) * spare
						if e > apart {
							continue
						}
						e += differ(&g[i], &g[j], steps[u+2][v+2]*float64(step))
						if e > apart {
							continue
						}
						w *= falloff[int(e*(falloffSteps/apart))]
					}
					sum.c, sum.alpha = sum.c.Plus(light[j].c.Times(w)), sum.alpha+w*light[j].alpha
					total += w
					variance += w * w * noise[j]
				}
			}
			out[i], left[i] = pixel{sum.c.Times(1 / total), sum.alpha / total}, variance/(total*total)
		}
	})
	return left
}

// doubt is how many times as far as noise alone explains the filtered light may be from what was seen before anything of
// what was seen counts: chance makes it that among a few pixels, and grain that stays is seen more than what is softened.
// Tents take most of the noise of what was seen, at edges and where samples are many; of few samples rare light leaves
// grain that is wider than tents.
const (
	doubt      = 2
	fewSamples = 16
)

// trust keeps of what the filter did as much as is noise, and leaves the rest as it was: where the filtered light is
// farther from what was seen than noise explains, it has averaged over what is there. Of two estimates, one without bias
// and with a variance V, the other without variance and with a bias B, the mean with the weights B² and V has the least
// error; (V + B²) is how far they are apart (compare Sen, Darabi, On filtering the noise from the random parameters in
// Monte Carlo rendering, 2012). Both are taken from the pixels around, in shares of the light. It returns how much of
// each pixel was left.
func (f *Film) trust(g []guide, raw, light []pixel) (kept []float32) {
	kept = make([]float32, len(raw))
	noise, off := make([]float32, len(raw)), make([]float32, len(raw)) // negative noise: not known
	parallel.Light(f.H, func(y int) {
		for i := y * f.W; i < (y+1)*f.W; i++ {
			v, ok := f.variance(i)
			if !ok {
				noise[i] = -1
				continue
			}
			luma, tint := light[i].c.Luma(), g[i].tint.Luma()
			d := raw[i].c.Luma() - luma
			if left := tentLeaves * tentLeaves; f.severalAt(i) {
				v *= left
			} else {
				v *= left + (1-left)*math.Min(1, fewSamples*f.share(i))
			}
			white := luma*luma + seenLeast*seenLeast/(tint*tint)
			noise[i], off[i] = float32(doubt*v/(tint*tint)/white), float32(d*d/white)
		}
	})
	parallel.Light(f.H, func(y int) {
		for x := range f.W {
			i := y*f.W + x
			if noise[i] < 0 {
				continue
			}
			var v, d float32
			for j := max(0, y-2); j <= min(f.H-1, y+2); j++ {
				for k := max(0, x-2); k <= min(f.W-1, x+2); k++ {
					if n := noise[j*f.W+k]; n >= 0 {
						w := float32(kernel[j-y+2] * kernel[k-x+2])
						v, d = v+w*n, d+w*off[j*f.W+k]
					}
				}
			}
			if d <= v {
				continue
			}
			k := 1 - float64(v/d)
			kept[i] = float32(k)
			light[i].c = light[i].c.Mix(raw[i].c, k)
			light[i].alpha += (raw[i].alpha - light[i].alpha) * k
		}
	})
	return kept
}

// differ returns how much two pixels show different things, as an exponent.
func differ(a, b *guide, far float64) float64 {
	if a.nothing != b.nothing {
		return apart + 1
	}
	e := coverShare * math.Abs(a.cover-b.cover)
	if a.nothing {
		return e
	}
	cos := a.n[0]*b.n[0] + a.n[1]*b.n[1] + a.n[2]*b.n[2]
	e += normalPower*(1-cos) + 4*math.Abs(a.lit-b.lit)
	e += math.Abs(a.depth-b.depth) / (depthShare*far*a.depth/16 + 1e-9)
	return e + 6*(math.Abs(a.logs[0]-b.logs[0])+math.Abs(a.logs[1]-b.logs[1])+math.Abs(a.logs[2]-b.logs[2]))
}

// calmShade averages the noise of shadows on a clear ground, among pixels in which they
// differ by no more than noise does: that of counting, which gets less with each pass.
func (f *Film) calmShade(p *Picture) {
	n := f.W * f.H
	shade, sure := make([]float32, n), make([]float32, n) // sure: how much of the ground is seen
	any := false
	for i := range shade {
		if f.ground[2*i+1] > 0 {
			shade[i], sure[i] = float32(f.shadeAt(i)), 1-f.alpha[i]*float32(f.share(i))
			any = any || shade[i] > 0
		}
	}
	if !any {
		return
	}
	mean := f.near(shade, sure, 2, func(int, int) float32 { return 1 })
	noise := make([]float32, n)
	for i, m := range mean {
		noise[i] = float32(math.Sqrt(math.Max(0, float64(m)*(1-float64(m))) * f.share(i)))
	}
	for pass := range filterPasses {
		less := float32(int(1) << pass)
		was := shade
		shade = f.near(was, sure, 1<<pass, func(i, j int) float32 {
			e := (was[j] - was[i]) / (3*noise[i]/less + 0.01)
			return 1 / (1 + e*e*e*e)
		})
	}
	for i := range shade {
		if sure[i] > 0 {
			p.Alpha[i] += (1 - p.Alpha[i]) * float64(shade[i])
		}
	}
}

// near averages values over five by five pixels so far apart, weighed by how sure they are
// and how alike.
func (f *Film) near(values, sure []float32, step int, alike func(i, j int) float32) []float32 {
	out := make([]float32, len(values))
	parallel.Light(f.H, func(y int) {
		for x := range f.W {
			i := y*f.W + x
			var sum, total float32
			for v := -2; v <= 2; v++ {
				for u := -2; u <= 2; u++ {
					px, py := x+u*step, y+v*step
					if px < 0 || py < 0 || px >= f.W || py >= f.H {
						continue
					}
					j := py*f.W + px
					w := float32(kernel[u+2]*kernel[v+2]) * sure[j] * alike(i, j)
					sum, total = sum+w*values[j], total+w
				}
			}
			if out[i] = values[i]; total > 0 {
				out[i] = sum / total
			}
		}
	})
	return out
}
