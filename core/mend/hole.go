package mend

import (
	"bildhauer/core/recipe"
)

// findHoles finds contours that look like holes of their shape and lie across
// its outer contour. Which way round a contour runs that lies by itself says nothing: the fill rule gives
// what is seen.
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
				out = append(out, l.misplaced(k, hole))
			}
		}
	}
	return out
}

// misplaced words a hole's contour that lies where it can be none.
func (l *look) misplaced(k, contour int) Finding {
	box := l.contours(k)[contour].TightBox()
	m := recipe.Mend{Do: "contour", Shapes: []string{l.key(k)}, Nodes: [][2]int{{contour, 0}}}
	how := func(h string) recipe.Mend {
		m.How = h
		return m
	}
	cut := fix(how("hole"), "Cut it out of the shape as far as it lies in it")
	drop := fix(how("out"), "Delete this contour")
	solid := fix(how("solid"), "Make it solid and part of the shape")
	return Finding{
		Shapes: []string{l.key(k)}, At: box.Center(), Box: box, Measure: "across the outline", Fixes: []Fix{cut, drop, solid},
	}
}
