package mend

import (
	"math"
	"slices"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findSlits finds narrow slits between different shapes.
func findSlits(l *look) []Finding {
	var out []Finding
	apart := l.px(l.limits.Gap) * 2
	cells := map[[2]int][]geom.Vec{} // what was found, by places of that size
	cellOf := func(at geom.Vec) [2]int { return [2]int{int(math.Floor(at.X / apart)), int(math.Floor(at.Y / apart))} }
	seen := func(at geom.Vec) bool {
		c := cellOf(at)
		for x := c[0] - 1; x <= c[0]+1; x++ {
			for y := c[1] - 1; y <= c[1]+1; y++ {
				if slices.ContainsFunc(cells[[2]int{x, y}], func(v geom.Vec) bool { return v.Sub(at).Len() < apart }) {
					return true
				}
			}
		}
		cells[c] = append(cells[c], at)
		return false
	}
	width := l.units(l.limits.Gap)
	if width < 8 {
		return nil
	}
	owners := l.owners()
	regions := []plane.Region{l.all}
	if len(l.parts) > 1 {
		for i := range l.parts {
			regions = append(regions, l.parts[i].region)
		}
	}
	for i, r := range regions {
		l.needed()
		what := "slit"
		if i > 0 {
			what += l.parts[i-1].color.Hex()
		}
		_, spots := l.narrow(what, r, width, true)
		for _, spot := range spots {
			l.needed()
			b := gauge.Narrowest(spot)
			if !gauge.Even(spot) || l.mm(2*b.Radius) < dustMM/5 {
				continue
			}
			j, k := owners.of(b.At), owners.of(b.Across)
			at := l.fromGrid(b.Middle)
			if j < 0 || k < 0 || j == k || seen(at) {
				continue
			}
			j, k = min(j, k), max(j, k)
			if l.shape(j).Stroke != nil && l.shape(k).Stroke != nil {
				continue // lines drawn side by side are meant to be apart
			}
			m := recipe.Mend{
				Do: "seam", Shapes: l.keys([]int{j, k}), MM: []float64{l.limits.Gap}, At: [][2]float64{pair(at)},
			}
			out = append(out, Finding{
				Shapes: m.Shapes, At: at, Box: l.spotBox(spot), Measure: mmOf(l.mm(2*b.Radius)) + " wide",
				Fixes: []Fix{fix(m, "Close the slit: both grow to the middle of it")},
			})
		}
	}
	return out
}
