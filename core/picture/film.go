package picture

import (
	"context"
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/parallel"
)

// Film is a picture while it is made: sums over all samples so far.
type Film struct {
	W, H   int
	count  []uint32 // samples of each pixel
	seed   uint32
	light  []float32 // r, g, b, premultiplied
	lean   []float32 // of light and alpha: r, g, b, a times how far right of the middle of the pixel, then how far down
	spots  []float32 // how far right and down
	cut    []float32 // of the same: what is more than a picture without fireflies shows
	square []float32 // of luma, for how noisy a pixel is
	rays   []float32 // that were followed
	other  []float32 // luma of the samples of the other half, see half
	alpha  []float32
	base   []float32 // r, g, b
	normal []float32 // x, y, z
	depth  []float32 // of the first sample that met something, mm
	cover  []float32 // samples that met something, or what lies behind all
	ground []float32 // light on a clear ground, and what there would be without the piece

	// Masks is how much of each pixel is covered by surfaces with the masks 1, 2, ..., and how that leans to the right
	// and down; none are kept unless the film was given some.
	Masks [][]float32
	moves []float32 // right and up, and of how many samples: how far what is seen goes in a frame; nil where nobody asks
}

// Track makes a film keep how fast things move.
func (f *Film) Track() { f.moves = make([]float32, 3*f.W*f.H) }

// Tracks reports whether it does.
func (f *Film) Tracks() bool { return f.moves != nil }

// Mask makes a film keep so many masks.
func (f *Film) Mask(n int) {
	for range n {
		f.Masks = append(f.Masks, make([]float32, 3*f.W*f.H))
	}
}

// NewFilm returns an empty film; another seed makes other noise.
func NewFilm(w, h int, seed uint32) *Film {
	n := w * h
	return &Film{
		W: w, H: h, seed: seed, count: make([]uint32, n), light: make([]float32, 3*n),
		lean: make([]float32, 8*n), spots: make([]float32, 2*n), square: make([]float32, n),
		other: make([]float32, n), rays: make([]float32, n), alpha: make([]float32, n), base: make([]float32, 3*n),
		normal: make([]float32, 3*n), depth: make([]float32, n), ground: make([]float32, 2*n),
		cut: make([]float32, 3*n), cover: make([]float32, n),
	}
}

// Bytes returns about how much memory a picture takes while it is made: the film with 31
// figures of 4 bytes, light and alpha with 4 of 8 twice, a channel of it with 7 of 4, the file's 8 bytes, and a strip of
// the filter with some 28 of 8.
func Bytes(w, h int) int64 {
	pixels := int64(w) * int64(h)
	return pixels*(31*4+8*8+7*4+8) + min(pixels, int64(w)*int64(stripRows(w)+2*filterReach))*28*8
}

// firefly is the most light that one path may bring after it was scattered more than once, as a multiple of white:
// rare paths that bring more are noise that takes long to go away. What is cut off is kept for pictures that are
// measured (Whole); light that is seen directly, or scattered once, is never cut.
const firefly = 32

// clamped returns light without what is more than fireflies may bring.
func (c RGB) clamped() RGB {
	if m := c.Max(); m > firefly {
		return c.Times(firefly / m)
	}
	return c
}

// Samples returns how many samples a pixel has in the mean.
func (f *Film) Samples() int {
	if len(f.count) == 0 {
		return 0
	}
	sum := uint64(0)
	for _, n := range f.count {
		sum += uint64(n)
	}
	return int(sum / uint64(len(f.count)))
}

// Expose adds samples to every pixel, rows side by side. It returns the context's error
// when it was cancelled; then the film is no good any more.
func (s *Scene) Expose(ctx context.Context, f *Film, samples int) error {
	return s.expose(ctx, f, func(int) int { return samples })
}

// Refine adds so many samples a pixel in the mean, where they take away most of the noise that is seen.
func (s *Scene) Refine(ctx context.Context, f *Film, samples int) error {
	list := f.wanted(float64(samples))
	return s.expose(ctx, f, func(i int) int { return int(list[i]) })
}

// refineFrom is how many samples a pixel has before its noise tells where more are needed; of few samples half.
const refineFrom = 4

// Goal is when a picture is good enough.
type Goal struct {
	Noise   float64 // the error of its light, see Film.Noise; 0 for whatever it is
	Samples int     // of a pixel in the mean, at most
}

// Make exposes a film until pixels have so many samples in the mean, more where there is more noise. told is called
// with the samples that there are after each step and ends it early by false.
func (s *Scene) Make(ctx context.Context, f *Film, samples int, told func(have int) bool) error {
	return s.MakeTo(ctx, f, Goal{Samples: samples}, func(have int, _ float64) bool { return told(have) })
}

// MakeTo does the same until a goal is reached; share is how much of the work is done, as far as it can be told.
func (s *Scene) MakeTo(ctx context.Context, f *Film, g Goal, told func(have int, share float64) bool) error {
	for have := f.Samples(); have < g.Samples; have = f.Samples() {
		even := min(refineFrom, g.Samples, max(2, (g.Samples+1)/2)) // a single sample tells nothing of the noise
		share := float64(have) / float64(g.Samples)
		if g.Noise > 0 && have >= refineFrom {
			// The error goes with the root of the samples.
			share = math.Max(share, math.Pow(g.Noise/math.Max(f.Noise(), 1e-9), 2))
			if share >= 1 {
				break
			}
		}
		if !told(have, share) {
			break
		}
		var err error
		if have < even {
			err = s.Expose(ctx, f, min(4, even-have))
		} else {
			err = s.Refine(ctx, f, min(max(2, have/4), g.Samples-have))
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// seenLeast is the light, as a share of white, below which noise is seen as that of such light.
const seenLeast = 0.1

// errors returns the error of the mean light of each pixel, as a share of what is seen of it: estimated with its
// neighbours, as few samples tell little by themselves.
func (f *Film) errors() []float32 {
	p := f.shaded()
	raw, luma := make([]float32, f.W*f.H), make([]float32, f.W*f.H)
	for i := range luma {
		luma[i] = float32(p.Light[i].Luma())
	}
	parallel.Light(f.H, func(y int) {
		for x := range f.W {
			i := y*f.W + x
			n := math.Max(1, float64(f.count[i]))
			m := float64(luma[i])
			v := math.Max(0, float64(f.square[i])/n-m*m)
			a := p.Alpha[i] // with shadows on a clear ground
			v += math.Max(0, a*(1-a)) * math.Max(m*m, seenLeast*seenLeast)
			// Where an edge runs through a pixel a few samples may all lie on one side of it. What they say is mixed
			// with what the contrast there lets expect, as if that were two samples more.
			if d := f.contrast(luma, x, y); d > 0 {
				v = ((n-1)*v + 2*d*d/8) / (n + 1)
			}
			raw[i] = float32(v / math.Max(1, n-1))
		}
	})
	f.evenly(raw)
	out := make([]float32, len(raw))
	parallel.Light(f.H, func(y int) {
		for x := range f.W {
			var v, m, n float32
			for j := max(0, y-1); j <= min(f.H-1, y+1); j++ {
				for i := max(0, x-1); i <= min(f.W-1, x+1); i++ {
					v, m, n = v+raw[j*f.W+i], m+luma[j*f.W+i], n+1
				}
			}
			i := y*f.W + x
			v, m = max(raw[i], v/n)/2+v/n/2, min(luma[i], m/n)
			out[i] = float32(math.Sqrt(float64(v) / (float64(m)*float64(m) + seenLeast*seenLeast)))
		}
	})
	return out
}

// leastEven is the least share of the variance of samples by chance that evenly spread ones are taken to have: of few
// pixels around, chance alone may find less.
const leastEven = 0.1

// evenly corrects variances of means that were worked out as if samples were spread by chance, by what the two halves of
// all samples tell around each pixel.
func (f *Film) evenly(variance []float32) {
	by, own := make([]float32, len(variance)), make([]float32, len(variance))
	for i, v := range variance {
		if w, ok := f.variance(i); ok {
			by[i], own[i] = float32(w), v
		}
	}
	parallel.Light(f.H, func(y int) {
		for x := range f.W {
			var b, o float32
			for j := max(0, y-2); j <= min(f.H-1, y+2); j++ {
				for i := max(0, x-2); i <= min(f.W-1, x+2); i++ {
					// Each counts alike, whatever its light.
					if k := own[j*f.W+i]; k > 0 {
						b, o = b+min(by[j*f.W+i]/k, 4), o+1
					}
				}
			}
			if o >= 5 {
				variance[y*f.W+x] *= max(leastEven, min(1, b/o))
			}
		}
	})
}

// contrast returns by how much the light around a pixel differs through which an edge runs; 0 if none does.
func (f *Film) contrast(luma []float32, x, y int) float64 {
	i := y*f.W + x
	edge := f.severalAt(i)
	lo, hi := luma[i], luma[i]
	for v := max(0, y-1); v <= min(f.H-1, y+1); v++ {
		for u := max(0, x-1); u <= min(f.W-1, x+1); u++ {
			j := v*f.W + u
			lo, hi = min(lo, luma[j]), max(hi, luma[j])
			if a, b := f.depth[i], f.depth[j]; (a == 0) != (b == 0) || math.Abs(float64(a-b)) > edgeDepth*float64(min(a, b)) {
				edge = true
			}
		}
	}
	if !edge {
		return 0
	}
	return math.Min(float64(hi-lo), 4*float64(luma[i])+seenLeast) // fireflies beside it are no edge
}

// severalAt reports whether several things meet within a pixel.
func (f *Film) severalAt(i int) bool {
	n := f.normalAt(i)
	return f.cover[i] > 0 && f.cover[i] < float32(f.count[i]) || n != (geom.Vec3{}) && n.Len() < oneThing
}

// oneThing is how long the mean normal of a pixel is that shows one thing: two planes that
// meet at 30 degrees within it leave less. edgeDepth is how far depths of neighbours differ that are not one thing.
const (
	oneThing  = 0.97
	edgeDepth = 0.02
)

// Noise returns the error of the picture before it is filtered, as a share of what is seen of its light: the root of
// the mean square over all pixels, estimated.
func (f *Film) Noise() float64 {
	sum := 0.0
	for _, e := range f.errors() {
		sum += float64(e) * float64(e)
	}
	return tentLeaves * math.Sqrt(sum/math.Max(1, float64(len(f.count))))
}

// leastShare is how many samples each pixel gets at least, as a share of the mean: what has not shown itself yet
// is not overlooked.
const leastShare = 0.35

// mostShare bounds how many samples a pixel gets in one step, as a multiple of the mean.
const mostShare = 6

// wanted returns how many samples each pixel gets next, so many in the mean: in the end as many as the spread of its
// light asks for, which leaves the least error of all.
func (f *Film) wanted(mean float64) []uint16 {
	list := f.errors()
	sum, total := 0.0, 0.0
	for i, e := range list {
		n := float64(f.count[i])
		// Of a single sample, by the root of what it costs: so a time spent takes away the most noise.
		cost := (float64(f.rays[i]) + n) / math.Max(1, n)
		list[i] = e * float32(math.Sqrt(n/cost))
		sum += float64(list[i])
		total += n
	}
	pixels := float64(len(list))
	total += mean * pixels
	need := func(i int, k float64) float64 {
		n := math.Max(k*float64(list[i]), leastShare*total/pixels)
		return math.Max(0, math.Min(mostShare*mean, n-float64(f.count[i])))
	}
	// Pixels that have enough already, or get no more at once, leave it to others.
	lo, hi := 0.0, 64*total/math.Max(sum, 1e-9)
	for range 24 { // to a ten-millionth
		k, all := (lo+hi)/2, 0.0
		for i := range list {
			all += need(i, k)
		}
		if all < mean*pixels {
			lo = k
		} else {
			hi = k
		}
	}
	all := 0.0
	for i := range list {
		all += need(i, hi)
	}
	spare := math.Max(0, mean-all/pixels) // where there is less noise than samples for it, all get more
	out, rest := make([]uint16, len(list)), 0.0
	for i := range out {
		rest += need(i, hi) + spare
		n := math.Floor(rest)
		out[i] = uint16(n)
		rest -= n
	}
	return out
}

// expose adds to each pixel as many samples as are told.
func (s *Scene) expose(ctx context.Context, f *Film, samples func(i int) int) error {
	s.ready()
	aspect := float64(f.W) / float64(f.H)
	return parallel.Each(f.H, func(y int) error {
		w := &path{s: s}
		if f.Tracks() {
			w.aspect = aspect
		}
		for x := range f.W {
			n := samples(y*f.W + x)
			for k := range n {
				w.smp = newSampler(x, y, f.count[y*f.W+x]+uint32(k), f.seed)
				dx, dy := w.smp.pair()
				u, v := w.smp.pair()
				w.m = &s.Moments[0]
				if n := len(s.Moments); n > 1 {
					w.m = &s.Moments[min(n-1, int(w.smp.one()*float64(n)))]
				}
				px, py := (float64(x)+dx)/float64(f.W), (float64(y)+dy)/float64(f.H)
				was := w.searches.rays
				f.add(y*f.W+x, w.smp.sample, [2]float64{dx - 0.5, dy - 0.5}, w.follow(w.m.Camera.ray(px, py, aspect, u, v), py))
				f.rays[y*f.W+x] += float32(w.searches.rays - was)
			}
			f.count[y*f.W+x] += uint32(n)
		}
		return ctx.Err()
	})
}

// half is the bit of a sample's number that tells which half of the samples it belongs to: each takes turns by four,
// which are spread evenly.
const half = 4

// halves returns how many samples of n are in the first half and in the other.
func halves(n uint32) (first, other float64) {
	other = float64(n/(2*half)*half + max(n%(2*half), half) - half)
	return float64(n) - other, other
}

// variance estimates that of the mean luma of a pixel. Samples are spread more evenly than by chance, so their own spread
// would make it too large: how far the means of the two halves are apart tells more. ok is false where there is no other
// half yet.
func (f *Film) variance(i int) (v float64, ok bool) {
	a, b := halves(f.count[i])
	if b == 0 {
		return 0, false
	}
	sum := RGB{float64(f.light[3*i]), float64(f.light[3*i+1]), float64(f.light[3*i+2])}.Luma()
	other := float64(f.other[i])
	d := (sum-other)/a - other/b
	return d * d * a * b / ((a + b) * (a + b)), true
}

func (f *Film) add(i int, number uint32, at [2]float64, s *seen) {
	if math.IsNaN(s.light.Luma()) || math.IsNaN(s.more.Luma()) {
		s.light, s.more = RGB{}, RGB{}
	}
	kept := s.more.clamped()
	l := s.light.Plus(kept)
	if s.hit || s.alpha == 1 {
		f.cover[i]++
	}
	for c := range 3 {
		f.cut[3*i+c] += float32(s.more[c] - kept[c])
	}
	luma := float32(l.Luma())
	f.square[i] += luma * luma
	if number&half != 0 {
		f.other[i] += luma
	}
	f.alpha[i] += float32(s.alpha)
	for a, t := range at {
		f.spots[2*i+a] += float32(t)
		for c := range 3 {
			f.lean[8*i+4*a+c] += float32(l[c] * t)
		}
		f.lean[8*i+4*a+3] += float32(s.alpha * t)
	}
	for c := range 3 {
		f.light[3*i+c] += float32(l[c])
		f.base[3*i+c] += float32(s.base[c])
	}
	for c, v := range [3]float64{s.normal.X, s.normal.Y, s.normal.Z} {
		f.normal[3*i+c] += float32(v)
	}
	f.ground[2*i] += float32(s.ground[0])
	f.ground[2*i+1] += float32(s.ground[1])
	if k := s.mask - 1; k >= 0 && k < len(f.Masks) {
		for c, v := range [3]float64{1, at[0], at[1]} {
			f.Masks[k][3*i+c] += float32(v)
		}
	}
	if f.depth[i] == 0 {
		f.depth[i] = float32(s.depth)
	}
	if f.moves != nil && s.hit {
		f.moves[3*i] += float32(s.moves[0])
		f.moves[3*i+1] += float32(s.moves[1])
		f.moves[3*i+2]++
	}
}

// Picture is a finished picture: light and alpha, premultiplied.
type Picture struct {
	W, H  int
	Light []RGB
	Alpha []float64
}

// Picture returns what all samples tell.
func (f *Film) Picture() *Picture { return f.shown(f.shaded(), whole) }

// whole counts all that leans.
func whole(int) float32 { return 1 }

// shaded returns the means with shadows on a clear ground.
func (f *Film) shaded() *Picture {
	p := f.means()
	for i := range p.Alpha {
		p.Alpha[i] += (1 - p.Alpha[i]) * f.shadeAt(i)
	}
	return p
}

// means returns the means of all samples within each pixel's square, without shadows on a clear ground.
func (f *Film) means() *Picture {
	p := &Picture{W: f.W, H: f.H, Light: make([]RGB, f.W*f.H), Alpha: make([]float64, f.W*f.H)}
	for i := range p.Light {
		k := f.share(i)
		for c := range 3 {
			p.Light[i][c] = float64(f.light[3*i+c]) * k
		}
		p.Alpha[i] = float64(f.alpha[i]) * k
	}
	return p
}

// Whole returns the means of all samples with everything that was met, for files of linear light.
func (f *Film) Whole() *Picture {
	p := f.shaded()
	for i := range p.Light {
		for c := range 3 {
			p.Light[i][c] += float64(f.cut[3*i+c]) * f.share(i)
		}
	}
	return f.shown(p, whole)
}

// Smaller returns the picture no wider than so many pixels, whole pixels averaged.
func (p *Picture) Smaller(most int) *Picture {
	k := (p.W + most - 1) / most
	if k <= 1 {
		return p
	}
	out := &Picture{W: p.W / k, H: max(1, p.H/k)}
	out.Light, out.Alpha = make([]RGB, out.W*out.H), make([]float64, out.W*out.H)
	for i := range out.Light {
		x, y, n := i%out.W, i/out.W, 0.0
		for j := y * p.H / out.H; j < (y+1)*p.H/out.H; j++ {
			for q := j*p.W + x*p.W/out.W; q < j*p.W+(x+1)*p.W/out.W; q++ {
				out.Light[i], out.Alpha[i] = out.Light[i].Plus(p.Light[q]), out.Alpha[i]+p.Alpha[q]
				n++
			}
		}
		out.Light[i], out.Alpha[i] = out.Light[i].Times(1/n), out.Alpha[i]/n
	}
	return out
}

// shadeAt returns how much of the light on a clear ground is missing in a pixel.
func (f *Film) shadeAt(i int) float64 {
	if f.ground[2*i+1] <= 0 {
		return 0
	}
	return 1 - float64(f.ground[2*i])/float64(f.ground[2*i+1])
}

// share is what one sample of a pixel counts.
func (f *Film) share(i int) float64 { return 1 / math.Max(1, float64(f.count[i])) }

// normalAt returns the mean normal of a pixel.
func (f *Film) normalAt(i int) geom.Vec3 {
	return geom.Vec3{X: float64(f.normal[3*i]), Y: float64(f.normal[3*i+1]), Z: float64(f.normal[3*i+2])}.
		Times(f.share(i))
}
