package mend

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
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

// findTwice finds shapes of the same form in the same place.
func findTwice(l *look) []Finding {
	var out []Finding
	type sign struct{ x, y, w, h int64 }
	first := map[sign][]int{}
	tol := math.Max(l.units(l.limits.Weld), 4)
	for k := range l.taken {
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
	left, err := diff.Offset(-tol, plane.OffsetStyle{})
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
	if l.Color[l.taken[lower]] == l.Color[l.taken[upper]] {
		gone = upper
		how = "the second one"
	}
	return Finding{
		Shapes: l.keys([]int{lower, upper}), At: l.box[lower].Center(), Box: l.box[lower], Measure: "same place, same form",
		Fixes: []Fix{fix(recipe.Mend{Do: "drop", Shapes: []string{l.key(gone)}}, "Drop %s", how)},
	}
}

// findScraps finds shapes and pieces that are too small to matter, and shapes
// without area.
func findScraps(l *look) []Finding {
	var out []Finding
	small := func(b geom.Box) bool { return math.Max(b.W(), b.H()) < l.px(l.limits.Scrap) }
	for k := range l.taken {
		sh := l.shape(k)
		if len(l.region[k]) == 0 {
			if len(sh.Clips) > 0 {
				continue // clipped away: nothing is there to see
			}
			out = append(out, Finding{
				Shapes: []string{sh.Key}, At: sh.Box().Center(), Box: sh.Box(), Measure: "no area",
				Fixes: []Fix{fix(recipe.Mend{Do: "drop", Shapes: []string{sh.Key}}, "Drop it: it encloses nothing")},
			})
			continue
		}
		if small(l.box[k]) {
			out = append(out, l.scrap(l.box[k], fix(recipe.Mend{Do: "drop", Shapes: []string{sh.Key}}, "Drop it"), k))
			continue
		}
		for _, p := range l.region[k] {
			if b := l.boxOf(plane.Region{p}); small(b) && math.Max(b.W(), b.H()) > l.px(dustMM) {
				at := l.place(p.Outer[0])
				m := recipe.Mend{Do: "shed", Shapes: []string{sh.Key}, At: [][2]float64{pair(at)}}
				out = append(out, l.scrap(b, fix(m, "Drop this piece"), k))
			}
		}
	}
	return out
}

func (l *look) scrap(b geom.Box, f Fix, k int) Finding {
	return Finding{
		Shapes: []string{l.key(k)}, At: b.Center(), Box: b, Measure: mmOf(l.mmLen(math.Max(b.W(), b.H()))) + " large",
		Fixes: []Fix{f},
	}
}
