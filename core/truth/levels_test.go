package truth

import (
	"math"
	"slices"

	"bildhauer/core/recipe"
)

// levels works out by sampling how parts lie on each other, each of one shape: the level of each, 0 for
// those that have none, and whether any is so near to a bound that samples can't tell.
func (d *drawing) levels() (levels []int, most int, unclear bool) {
	if d.given != nil {
		return d.given, slices.Max(d.given), false
	}
	n := len(d.parts)
	seen, has := make([]float64, n), make([]float64, n)
	over := make([][]float64, n)
	for i := range over {
		over[i] = make([]float64, n)
	}
	takes := func(p *drawnPart) bool {
		return p.wire == nil && !p.role.OnOther() && p.role.Kind != recipe.Backing
	}
	lo, hi := vec{math.Inf(1), math.Inf(1)}, vec{math.Inf(-1), math.Inf(-1)}
	for i := range d.parts {
		if p := &d.parts[i]; takes(p) {
			own := regionOf(p.shape.has, p.shape)
			a, b := own.box()
			lo, hi = vec{math.Min(lo.x, a.x), math.Min(lo.y, a.y)}, vec{math.Max(hi.x, b.x), math.Max(hi.y, b.y)}
		}
	}
	const fine = 300
	for k := range fine * fine {
		at := vec{lo.x + (hi.x-lo.x)*(float64(k%fine)+0.5)/fine, lo.y + (hi.y-lo.y)*(float64(k/fine)+0.5)/fine}
		top := -1
		for i := n - 1; i >= 0; i-- {
			if !takes(&d.parts[i]) || !d.parts[i].shape.has(at) {
				continue
			}
			has[i]++
			if top < 0 {
				top = i
				seen[i]++
			} else {
				over[top][i]++
			}
		}
	}
	levels = make([]int, n)
	for i := range levels {
		if !takes(&d.parts[i]) {
			continue
		}
		levels[i] = 1
		for b := range i {
			if over[i][b] == 0 || seen[b] < 20 {
				unclear = unclear || over[i][b] > 0
				continue
			}
			of, by := over[i][b]/seen[i], over[i][b]/has[b]
			if of >= 0.05 || by >= 0.25 {
				levels[i] = max(levels[i], levels[b]+1)
			}
			unclear = unclear || math.Abs(of-0.05) < 0.01 || math.Abs(by-0.25) < 0.02
		}
		most = max(most, levels[i])
	}
	return levels, most, unclear
}
