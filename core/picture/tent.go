package picture

import "bildhauer/core/parallel"

// A pixel shows the light around its middle, weighed by a tent that reaches over two pixels each way. A sample counts
// for all pixels whose tents it lies in, which leaves two thirds of the noise that a picture has whose pixels each keep
// their own samples (compare Mitchell, Netravali, Reconstruction filters in computer graphics, 1988). Pixels have
// different numbers of samples: so each keeps the mean of those within its square, and how it leans across it (the
// first moments), and tents are put together from those. Across a square of the side 1 with t from -1/2 to 1/2, the
// tent of the pixel itself, 1 - |t|, is by least squares the constant 3/4; that of its neighbour, max(0, t), is
// 1/8 + t/2.
const (
	tentOwn  = 3.0 / 4
	tentNext = 1.0 / 8
	tentLean = 1.0 / 2
)

// tentLeaves is how much of the error of the means tents leave where their noise is alike: the root of the sum of squares
// of the weights, across and down; the mean square of t is 1/12.
const tentLeaves = tentOwn*tentOwn + 2*(tentNext*tentNext+tentLean*tentLean/12)

// cell is what a pixel's square holds of one channel: the mean, and those of its products with how far right and down
// samples are of the middle, in pixels.
type cell struct{ mean, right, down float32 }

// tents returns what pixels show of a channel. It is never more nor less than in any of the squares that it comes from:
// what leans would else leave dark seams beside what shines.
func tents(w, h int, channel func(i int) cell) []float32 {
	cells, across, out := make([]cell, w*h), make([]cell, w*h), make([]float32, w*h)
	parallel.Light(h, func(y int) {
		row, to := cells[y*w:(y+1)*w], across[y*w:(y+1)*w]
		for x := range row {
			row[x] = channel(y*w + x)
		}
		for x, c := range row {
			total := float32(tentOwn)
			sum := cell{mean: tentOwn * c.mean, down: tentOwn * c.down}
			if x > 0 {
				sum.mean += tentNext*row[x-1].mean + tentLean*row[x-1].right
				sum.down += tentNext * row[x-1].down
				total += tentNext
			}
			if x+1 < w {
				sum.mean += tentNext*row[x+1].mean - tentLean*row[x+1].right
				sum.down += tentNext * row[x+1].down
				total += tentNext
			}
			to[x] = cell{mean: sum.mean / total, down: sum.down / total}
		}
	})
	parallel.Light(h, func(y int) {
		for x := range w {
			i := y*w + x
			sum, total := tentOwn*across[i].mean, float32(tentOwn)
			if y > 0 {
				sum += tentNext*across[i-w].mean + tentLean*across[i-w].down
				total += tentNext
			}
			if y+1 < h {
				sum += tentNext*across[i+w].mean - tentLean*across[i+w].down
				total += tentNext
			}
			lo, hi := cells[i].mean, cells[i].mean
			for v := max(0, y-1); v <= min(h-1, y+1); v++ {
				for u := max(0, x-1); u <= min(w-1, x+1); u++ {
					lo, hi = min(lo, cells[v*w+u].mean), max(hi, cells[v*w+u].mean)
				}
			}
			out[i] = max(lo, min(hi, sum/total))
		}
	})
	return out
}

// leaning returns the cell of a channel that is so large in the mean: sum is that over the samples, right and down the
// sums of their products with where they are. What the mean makes of samples that do not lie evenly is taken off.
func (f *Film) leaning(i int, mean, sum, right, down float32) cell {
	k := float32(f.share(i))
	sum *= k
	return cell{mean, k * (right - sum*f.spots[2*i]), k * (down - sum*f.spots[2*i+1])}
}

// shown returns the picture that pixels show of the means of their squares; lean is how much of what was found to lean
// across a square counts.
func (f *Film) shown(p *Picture, lean func(i int) float32) *Picture {
	out := &Picture{W: p.W, H: p.H, Light: make([]RGB, len(p.Light)), Alpha: make([]float64, len(p.Alpha))}
	for c := range 3 {
		for i, v := range tents(f.W, f.H, func(i int) cell {
			return f.leaning(i, float32(p.Light[i][c]), f.light[3*i+c], f.lean[8*i+c], f.lean[8*i+4+c]).times(lean(i))
		}) {
			out.Light[i][c] = float64(v)
		}
	}
	for i, v := range tents(f.W, f.H, func(i int) cell {
		// Where more is hidden, less of the ground's shadow is seen.
		return f.leaning(i, float32(p.Alpha[i]), f.alpha[i], f.lean[8*i+3], f.lean[8*i+7]).times(lean(i) * float32(1-f.shadeAt(i)))
	}) {
		out.Alpha[i] = float64(v)
	}
	return out
}

// times returns a cell that leans so many times as much.
func (c cell) times(k float32) cell { return cell{c.mean, k * c.right, k * c.down} }
