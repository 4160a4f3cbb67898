package trace

import (
	"cmp"
	"slices"
)

// cell is the pixels of a picture whose colours are alike to 1/32.
type cell struct {
	n   float64
	sum [3]float64
}

func (c *cell) mean() [3]float32 {
	return [3]float32{float32(c.sum[0] / c.n), float32(c.sum[1] / c.n), float32(c.sum[2] / c.n)}
}

// plainly is how near colours of a palette may be to each other, squared: what is nearer was
// meant to be one. rare is the least share of the picture that a colour has: what has less is
// what smoothed edges have.
const (
	plainly = 0.02
	rare    = 0.004
)

// palette returns up to n colours of a picture: those that most pixels have, moved to the
// middle of what is nearest to them (Lloyd, Least squares quantization in PCM, 1982).
func (p *pixels) palette(n int) [][3]float32 {
	cells := map[[3]uint8]*cell{}
	all := 0.0
	for i := range p.rgba {
		c := p.color(i)
		if p.cover(i) < 0.5 {
			continue
		}
		key := [3]uint8{uint8(c[0] * 31.99), uint8(c[1] * 31.99), uint8(c[2] * 31.99)}
		x := cells[key]
		if x == nil {
			x = &cell{}
			cells[key] = x
		}
		x.n++
		all++
		for k := range 3 {
			x.sum[k] += float64(c[k])
		}
	}
	keys := make([][3]uint8, 0, len(cells))
	for k := range cells {
		keys = append(keys, k)
	}
	slices.SortFunc(keys, func(a, b [3]uint8) int {
		return cmp.Or(cmp.Compare(cells[b].n, cells[a].n), slices.Compare(a[:], b[:]))
	})
	var out [][3]float32
	for _, k := range keys {
		c := cells[k]
		if len(out) == n || len(out) > 0 && c.n < rare*all {
			break
		}
		if _, d := nearest(out, c.mean()); len(out) == 0 || d > plainly {
			out = append(out, c.mean())
		}
	}
	for range 4 {
		sums := make([]cell, len(out))
		for _, k := range keys {
			c := cells[k]
			if i, d := nearest(out, c.mean()); d < plainly { // edges pull no colour to them
				sums[i].n += c.n
				for j := range 3 {
					sums[i].sum[j] += c.sum[j]
				}
			}
		}
		for i := range out {
			if sums[i].n > 0 {
				out[i] = sums[i].mean()
			}
		}
	}
	return out
}
