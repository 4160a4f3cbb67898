package print

import (
	"cmp"
	"slices"

	"bildhauer/core/plane"
)

func compare(a, b plane.Point) int { return cmp.Or(cmp.Compare(a.X, b.X), cmp.Compare(a.Y, b.Y)) }

// turnedToLeast begins a loop at its least point, so that it does not matter where it was
// begun.
func turnedToLeast(l plane.Loop) plane.Loop {
	best := 0
	for i, p := range l {
		if compare(p, l[best]) < 0 {
			best = i
		}
	}
	return append(slices.Clone(l[best:]), l[:best]...)
}

// sortLoops puts loops into an order that depends on their points alone.
func sortLoops(list []plane.Loop) {
	slices.SortFunc(list, func(a, b plane.Loop) int { return slices.CompareFunc(a, b, compare) })
}
