package mend

import (
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findPale finds pale shapes, or ones of the page's colour, that lie on a darker
// one and may have been meant as holes.
func findPale(l *look) []Finding {
	ground := artwork.Color{R: 255, G: 255, B: 255}
	for _, i := range l.Sheet.Backdrops() {
		if l.index(i) >= 0 {
			ground = l.Color[i]
		}
	}
	colors := map[artwork.Color]bool{}
	pale := func(k int) bool { return isPale(l.Color[l.taken[k]], ground) }
	n := 0
	for k := range l.taken {
		l.needed()
		if pale(k) {
			n++
		} else {
			colors[l.Color[l.taken[k]]] = true
		}
	}
	// Pale artwork is no hole, and in a picture of many colours white is one of
	// them.
	if len(colors) == 0 || len(colors) > 4 || 2*n > len(l.taken) {
		return nil
	}
	backdrops := l.Sheet.Backdrops()
	var out []Finding
	for k := range l.taken {
		l.needed()
		if !pale(k) || len(l.region[k]) == 0 || slices.Contains(backdrops, l.taken[k]) {
			continue
		}
		if under := l.darkBelow(k, pale, backdrops); under >= 0 {
			sh := l.shape(k)
			out = append(out, Finding{
				Shapes: []string{sh.Key, l.key(under)}, At: l.box[k].Center(), Box: l.box[k],
				Measure: "on " + nameOf(l.shape(under)),
				Fixes: []Fix{
					fix(recipe.Mend{Do: "hole", Shapes: []string{sh.Key}}, "Make %s a hole in what lies below", nameOf(sh)),
				},
			})
		}
	}
	return out
}

// isPale reports whether a colour is nearly white, or nearly that of the ground.
func isPale(c, ground artwork.Color) bool {
	far := func(a, b uint8) int { return max(int(a), int(b)) - min(int(a), int(b)) }
	if far(c.R, ground.R) < 12 && far(c.G, ground.G) < 12 && far(c.B, ground.B) < 12 {
		return true
	}
	return min(c.R, c.G, c.B) > 224
}

// darkBelow returns the topmost shape under k that is not pale and holds it
// wholly, or -1.
func (l *look) darkBelow(k int, pale func(int) bool, backdrops []int) int {
	for j := k - 1; j >= 0; j-- {
		if pale(j) || slices.Contains(backdrops, l.taken[j]) || !l.box[j].Overlaps(l.box[k]) {
			continue
		}
		both, err := plane.Combine(l.region[j], l.region[k], plane.Intersect)
		if err != nil || len(both) == 0 {
			continue
		}
		share := float64(both.Area2()) / math.Max(1, float64(l.region[k].Area2()))
		if share > 0.99 {
			return j
		}
		if share > 0.05 {
			return -1 // half on, half off: no hole
		}
	}
	return -1
}
