package picture

import (
	"math"
	"sync"
)

// maskSide is the side of the mask, px. It repeats beyond, which nobody sees in noise.
const maskSide = 64

// blueMask are numbers from 0 to 1, each once, spread so that of any few neighbours each is far from the others: noise
// that is drawn by them has hardly any coarse grain, and averages away within few pixels (Ulichney, The
// void-and-cluster method for dither array generation, 1993).
var blueMask = sync.OnceValue(func() *[maskSide * maskSide]uint32 {
	const n = maskSide * maskSide
	var ball [n]float64 // how much one that is set weighs so far away
	for y := range maskSide {
		for x := range maskSide {
			dx, dy := min(x, maskSide-x), min(y, maskSide-y)
			ball[y*maskSide+x] = math.Exp(-float64(dx*dx+dy*dy) / (2 * 1.9 * 1.9)) // the width that it was tried with there
		}
	}
	var set [n]bool
	var crowd [n]float64
	put := func(i int, sign float64) {
		set[i] = sign > 0
		x, y := i%maskSide, i/maskSide
		for v := range maskSide {
			row := ((v - y) & (maskSide - 1)) * maskSide
			for u := range maskSide {
				crowd[v*maskSide+u] += sign * ball[row+(u-x)&(maskSide-1)]
			}
		}
	}
	// Of those that are set the one in the thickest crowd, or of the others the one in the widest void.
	find := func(among bool) int {
		best := -1
		for i := range crowd {
			if set[i] == among && (best < 0 || among && crowd[i] > crowd[best] || !among && crowd[i] < crowd[best]) {
				best = i
			}
		}
		return best
	}
	const first = n / 10
	for k := range first {
		i := int(mixed(uint32(k)*0x9e3779b9+1) % n)
		for set[i] {
			i = (i + 1) % n
		}
		put(i, 1)
	}
	for range n { // until what is taken out of a crowd is what the widest void is
		i := find(true)
		put(i, -1)
		j := find(false)
		put(j, 1)
		if i == j {
			break
		}
	}
	out := new([n]uint32)
	rank := func(i, k int) { out[i] = uint32((uint64(k)<<32 + 1<<31) / n) }
	begun := set
	crowdBegun := crowd
	for k := first - 1; k >= 0; k-- {
		i := find(true)
		put(i, -1)
		rank(i, k)
	}
	set, crowd = begun, crowdBegun
	for k := first; k < n; k++ {
		i := find(false)
		put(i, 1)
		rank(i, k)
	}
	return out
})

// maskAt returns the number of a pixel for a dimension: the mask is shifted for each.
func maskAt(x, y, dim uint32) uint32 {
	h := mixed(dim*0x9e3779b9 + 0x68bc21eb)
	u, v := (x+h)&(maskSide-1), (y+h>>16)&(maskSide-1)
	// Below the mask's own steps it is random.
	return blueMask()[v*maskSide+u] ^ mixed(h^x*0x8da6b343^y*0xd8163841)>>12
}
