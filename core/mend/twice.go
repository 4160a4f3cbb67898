package mend

import (
	"math"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findTwice finds shapes of the same form in the same place.
func findTwice(l *look) []Finding {
	var out []Finding
	type sign struct{ x, y, w, h int64 }
	first := map[sign][]int{}
	tol := math.Max(l.units(l.limits.Weld), 4)
	for k := range l.taken {
		l.needed()
		lo, hi, ok := l.region[k].Bounds()
		if !ok {
			continue
		}
		cell := func(v int32) int64 { return int64(math.Floor(float64(v)/(tol*8) + 0.5)) }
		s := sign{cell(lo.X), cell(lo.Y), cell(hi.X), cell(hi.Y)}
		for _, j := range first[s] {
			if l.same(j, k, tol) {
				out = append(out, l.twice(j, k))
				break
			}
		}
		first[s] = append(first[s], k)
	}
	return out
}

// same reports whether two shapes cover the same area but for a rim thinner
// than tol.
func (l *look) same(j, k int, tol float64) bool {
	a, b := l.region[j], l.region[k]
	if math.Abs(float64(a.Area2()-b.Area2())) > tol*2*l.rim(a) {
		return false
	}
	diff, err := plane.Combine(a, b, plane.Xor)
	if err != nil {
		return false
	}
	if float64(diff.Area2())/2 > tol*l.rim(a) {
		return false
	}
	left, err := diff.Offset(plane.Units(-tol), plane.OffsetStyle{})
	return err == nil && len(left) == 0
}

// rim returns the length of a region's outline in grid units.
func (l *look) rim(r plane.Region) float64 {
	sum := 0.0
	r.Loops(func(lp plane.Loop) { sum += lengthOf(lp) })
	return sum
}

func (l *look) twice(lower, upper int) Finding {
	gone := lower
	how := "the one below, which nobody sees"
	if l.onePaint(lower, upper) {
		gone = upper
		how = "the second one"
	}
	return Finding{
		Shapes: l.keys([]int{lower, upper}), At: l.box[lower].Center(), Box: l.box[lower], Measure: "same place, same form",
		Fixes: []Fix{fix(recipe.Mend{Do: "drop", Shapes: []string{l.key(gone)}}, "Drop %s", how)},
	}
}
