package truth

import (
	"math"
	"testing"
)

// swell is Poisson's equation over a region by finite differences: laplacian h = -1, h = 0 on the outline.
// Beside the outline the arms of the cross are as long as there is room (Shortley and Weller, 1938).
// Coarse grids come first, each sets out the next.
type swell struct {
	in   *region
	lo   vec
	step float64
	n, m int
	h    []float64 // of each node, row by row, 0 outside
	top  float64   // the greatest
}

// swellSteps is how many steps of the finest grid lie along the longer side.
const swellSteps = 320

func swellOf(in *region) *swell {
	lo, hi := in.box()
	long := math.Max(hi.x-lo.x, hi.y-lo.y)
	var s *swell
	for steps := 20; steps <= swellSteps; steps *= 2 {
		step := long / float64(steps)
		next := &swell{in: in, lo: lo, step: step, n: int((hi.x-lo.x)/step) + 3, m: int((hi.y-lo.y)/step) + 3}
		next.h = make([]float64, next.n*next.m)
		next.relax(s)
		s = next
	}
	for _, h := range s.h {
		s.top = math.Max(s.top, h)
	}
	return s
}

// node returns the place of a node; the first row and column lie outside.
func (s *swell) node(i int) vec {
	return vec{s.lo.x + (float64(i%s.n)-0.5)*s.step, s.lo.y + (float64(i/s.n)-0.5)*s.step}
}

// cross is the arms of a node: how long they are, right, left, up, down, and whether they end at a node.
type cross struct {
	at    int
	arm   [4]float64
	whole [4]bool
}

// relax solves the equation, beginning from what a coarser grid gave.
func (s *swell) relax(coarse *swell) {
	crossed := s.cuts()
	var inside []cross
	for i := range s.h {
		p := s.node(i)
		if !s.in.has(p) {
			continue
		}
		c := cross{at: i}
		for k, to := range []int{i + 1, i - 1, i + s.n, i - s.n} {
			from, sign := i, 1.0
			if k%2 == 1 {
				from, sign = to, -1
			}
			c.arm[k], c.whole[k] = s.step, true
			for _, t := range crossed[k/2][from] { // where along the step from its lower end
				if sign < 0 {
					t = s.step - t
				}
				if t < c.arm[k] {
					c.arm[k], c.whole[k] = math.Max(t, 1e-3*s.step), false
				}
			}
		}
		inside = append(inside, c)
		if coarse != nil {
			s.h[i] = coarse.height(p)
		}
	}
	const over, rounds = 1.9, 160 // successive over-relaxation
	for range rounds {
		for _, c := range inside {
			sum, weight := 1.0, 0.0
			for k, to := range []int{c.at + 1, c.at - 1, c.at + s.n, c.at - s.n} {
				w := 2 / (c.arm[k] * (c.arm[k&2] + c.arm[k|1]))
				weight += w
				if c.whole[k] {
					sum += w * s.h[to]
				}
			}
			s.h[c.at] += over * (sum/weight - s.h[c.at])
		}
	}
}

// cuts returns where the outline crosses the steps from each node to the right and up.
func (s *swell) cuts() (out [2]map[int][]float64) {
	out = [2]map[int][]float64{{}, {}}
	for _, e := range s.in.out {
		for axis := range 2 {
			a, b := e[0], e[1]
			if axis == 1 {
				a, b = vec{a.y, a.x}, vec{b.y, b.x}
			}
			lo := vec{s.lo.x, s.lo.y}
			if axis == 1 {
				lo = vec{s.lo.y, s.lo.x}
			}
			if a.y > b.y {
				a, b = b, a
			}
			for j := int(math.Ceil((a.y-lo.y)/s.step + 0.5)); ; j++ {
				y := lo.y + (float64(j)-0.5)*s.step
				if y >= b.y {
					break
				}
				x := (a.x+(b.x-a.x)*(y-a.y)/(b.y-a.y)-lo.x)/s.step + 0.5
				i := int(math.Floor(x))
				at := j*s.n + i
				if axis == 1 {
					at = i*s.n + j
				}
				out[axis][at] = append(out[axis][at], (x-float64(i))*s.step)
			}
		}
	}
	return out
}

// height returns the solution between nodes.
func (s *swell) height(p vec) float64 {
	x, y := (p.x-s.lo.x)/s.step+0.5, (p.y-s.lo.y)/s.step+0.5
	i, j := int(math.Floor(x)), int(math.Floor(y))
	if i < 0 || j < 0 || i+1 >= s.n || j+1 >= s.m {
		return 0
	}
	x, y = x-float64(i), y-float64(j)
	at := j*s.n + i
	return (s.h[at]*(1-x)+s.h[at+1]*x)*(1-y) + (s.h[at+s.n]*(1-x)+s.h[at+s.n+1]*x)*y
}

// share is what a dome has of its height over a place.
func (s *swell) share(p vec) float64 { return math.Sqrt(s.height(p) / s.top) }

// TestSwellsAreBalls holds the oracle against closed answers: over a disc half a ball, over an oval half an
// ellipsoid.
func TestSwellsAreBalls(t *testing.T) {
	for _, tall := range []float64{1, 0.4} {
		var oval ring
		for i := range 400 {
			s, c := math.Sincos(2 * math.Pi * float64(i) / 400)
			oval = append(oval, vec{20 * c, 20 * tall * s})
		}
		own := regionOf(shape{oval}.has, shape{oval})
		dome := swellOf(&own)
		for i := range 40 {
			s, c := math.Sincos(float64(i))
			p := vec{0.95 * 20 * c * float64(i) / 40, 0.95 * 20 * tall * s * float64(i) / 40}
			want := math.Sqrt(1 - (p.x*p.x+p.y*p.y/tall/tall)/400)
			if got := dome.share(p); math.Abs(got-want) > 0.004 {
				t.Errorf("%g tall, at %.2f, %.2f: %.4f, want %.4f", tall, p.x, p.y, got, want)
			}
		}
	}
}
