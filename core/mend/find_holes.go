package mend

import (
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findHoles finds contours that look like holes of their shape and lie across
// its outer contour, or beside it.
func findHoles(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		if l.shape(k).Stroke != nil || len(l.shape(k).Contours) < 2 {
			continue
		}
		loops, list := l.crossingsOf(k)
		across := map[int]bool{}
		for _, c := range list {
			if !l.acrossHole(k, loops, c) {
				continue
			}
			hole := c.Loop[0]
			if abs64(loops[c.Loop[1]].Area2()) < abs64(loops[hole].Area2()) {
				hole = c.Loop[1]
			}
			if !across[hole] {
				across[hole] = true
				out = append(out, l.misplaced(k, hole, "across the outline"))
			}
		}
		if h := l.strayHole(k, loops); h >= 0 && !across[h] {
			out = append(out, l.misplaced(k, h, "outside"))
		}
	}
	return out
}

// misplaced words a hole's contour that lies where it can be none.
func (l *look) misplaced(k, contour int, where string) Finding {
	box := l.contours(k)[contour].TightBox()
	m := recipe.Mend{Do: "contour", Shapes: []string{l.key(k)}, Nodes: [][2]int{{contour, 0}}}
	how := func(h string) recipe.Mend {
		m.How = h
		return m
	}
	cut := fix(how("hole"), "Cut it out of the shape as far as it lies in it")
	drop := fix(how("out"), "Drop this contour")
	solid := fix(how("solid"), "Make it solid and part of the shape")
	f := Finding{
		Shapes: []string{l.key(k)}, At: box.Center(), Box: box, Measure: where, Fixes: []Fix{cut, drop, solid},
	}
	if where == "outside" {
		f.Fixes = []Fix{drop, solid}
	}
	return f
}

// strayHole returns a contour that runs like a hole and lies in no other, in a
// shape whose other contours all run as outer contours and holes should: -1 if
// there is none. It must be much smaller than the shape, for separate islands
// are often drawn either way round.
func (l *look) strayHole(k int, loops []plane.Loop) int {
	if l.shape(k).EvenOdd {
		return -1
	}
	largest, depth := 0, make([]int, len(loops))
	for i := range loops {
		if len(loops[i]) < 3 {
			return -1
		}
		if abs64(loops[i].Area2()) > abs64(loops[largest].Area2()) {
			largest = i
		}
		for j := range loops {
			if i != j && loops[j].Contains(loops[i][0]) {
				depth[i]++
			}
		}
	}
	outer := loops[largest].Area2() > 0
	stray, proper := -1, 0
	for i, lp := range loops {
		runsOuter := (lp.Area2() > 0) == outer
		switch {
		case runsOuter == (depth[i]%2 == 0):
			if depth[i] > 0 {
				proper++
			}
		case depth[i] > 0 || stray >= 0:
			return -1 // the way round says nothing here
		default:
			stray = i
		}
	}
	if stray < 0 || abs64(loops[stray].Area2())*3 > abs64(loops[largest].Area2()) {
		return -1
	}
	// One odd island among one outer contour says something only when it is
	// near enough to have been meant for its inside.
	if proper == 0 && len(loops) > 2 {
		return -1
	}
	return stray
}

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
