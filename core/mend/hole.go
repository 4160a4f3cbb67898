package mend

import (
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findHoles finds contours that look like holes of their shape and lie across
// its outer contour, or beside it.
func findHoles(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		l.needed()
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
