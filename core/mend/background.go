package mend

import (
	"bildhauer/core/recipe"
)

// findBackgrounds finds plain rectangles that cover the page under everything.
func findBackgrounds(l *look) []Finding {
	var out []Finding
	for _, i := range l.Sheet.Backdrops() {
		k := l.index(i)
		if k < 0 || len(l.taken)-len(out) < 2 {
			continue
		}
		out = append(out, Finding{
			Shapes: []string{l.key(k)}, At: l.box[k].Center(), Box: l.box[k],
			Measure: mmOf(l.mmLen(l.box[k].W())) + " × " + mmOf(l.mmLen(l.box[k].H())),
			Fixes: []Fix{
				fix(recipe.Mend{Do: "drop", Shapes: []string{l.key(k)}}, "Leave %s out", nameOf(l.shape(k))),
			},
		})
	}
	return out
}

// index returns the index in taken of a shape, or -1.
func (l *look) index(shape int) int {
	for k, i := range l.taken {
		if i == shape {
			return k
		}
	}
	return -1
}
