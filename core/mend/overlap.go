package mend

import (
	"fmt"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// maxPairs bounds the pairs of shapes that are compared.
const maxPairs = 5_000

// neighbourShare is how much of the smaller of two shapes of different colours
// an overlap may cover and still be one at a seam; more is one painted on the
// other.
const neighbourShare = 0.12

// findOverlaps finds filled shapes of one colour that overlap, together, and
// neighbours of different colours that overlap at their seam.
func findOverlaps(l *look) []Finding {
	sets := geom.NewSets(len(l.taken))
	members := make([][]int, len(l.taken))
	for k := range members {
		members[k] = []int{k}
	}
	places := map[int32]geom.Box{}
	var seams []Finding
	pairs := 0
	tree := newBoxes(l.box)
	for k := 0; k < len(l.taken) && pairs <= maxPairs; k++ {
		l.needed()
		if l.box[k].Empty() {
			continue
		}
		for _, j := range tree.below(k, l.box[k]) {
			l.needed()
			if pairs > maxPairs || l.shape(j).Stroke != nil || l.shape(k).Stroke != nil {
				continue
			}
			pairs++
			if l.same(j, k, math.Max(l.units(l.limits.Weld), 4)) {
				continue // found as lying twice
			}
			both, err := plane.Combine(l.region[j], l.region[k], plane.Intersect)
			if err != nil || l.area(both) < 1e-3 {
				continue
			}
			if l.Color[l.taken[j]] == l.Color[l.taken[k]] {
				a, b := sets.Find(int32(j)), sets.Find(int32(k))
				box := l.boxOf(both).Union(boxIn(places, a)).Union(boxIn(places, b))
				all := slices.Concat(members[a], members[b])
				slices.Sort(all)
				if a != b && !l.onTop(all) {
					continue
				}
				sets.Join(a, b)
				places[sets.Find(a)] = box
				if a != b {
					members[sets.Find(a)] = all
				}
			} else if f, ok := l.seamOverlap(j, k, both); ok {
				seams = append(seams, f)
			}
		}
	}
	return append(l.united(sets, places), seams...)
}

func boxIn(places map[int32]geom.Box, k int32) geom.Box {
	if b, ok := places[k]; ok {
		return b
	}
	return geom.EmptyBox()
}

// onTop reports whether the picture stays when shapes of one colour become one
// in the place of the topmost: nothing of another colour lies between them on
// one of the lower ones.
func (l *look) onTop(which []int) bool {
	for i := which[0] + 1; i < which[len(which)-1]; i++ {
		if slices.Contains(which, i) || l.Color[l.taken[i]] == l.Color[l.taken[which[0]]] || l.box[i].Empty() {
			continue
		}
		for _, k := range which {
			if k > i || !l.box[k].Overlaps(l.box[i]) {
				continue
			}
			both, err := plane.Combine(l.region[k], l.region[i], plane.Intersect)
			if err != nil || l.area(both) > 1e-3 {
				return false
			}
		}
	}
	return true
}

// united words each set of shapes of one colour that overlap.
func (l *look) united(sets geom.Sets, places map[int32]geom.Box) []Finding {
	var out []Finding
	members := map[int32][]int{}
	for k := range l.taken {
		l.needed()
		s := sets.Find(int32(k))
		members[s] = append(members[s], k)
	}
	for k := range l.taken {
		l.needed()
		list := members[int32(k)]
		if len(list) < 2 {
			continue
		}
		keys := l.keys(list)
		out = append(out, Finding{
			Shapes: keys, At: places[int32(k)].Center(), Box: places[int32(k)], Measure: units.Plural(len(list), "shape", "shapes"),
			Fixes: []Fix{fix(recipe.Mend{Do: "unite", Shapes: keys}, "Unite them to one shape")},
		})
	}
	return out
}

// seamOverlap words an overlap of different colours: a strip along the seam of
// two neighbours of which neither lies on the other.
func (l *look) seamOverlap(j, k int, both plane.Region) (Finding, bool) {
	area := float64(both.Area2())
	smaller := math.Min(float64(l.region[j].Area2()), float64(l.region[k].Area2()))
	if area > neighbourShare*smaller {
		return Finding{}, false
	}
	// As wide as a seam is: less than three gaps.
	thick, err := both.Offset(plane.Units(-l.units(l.limits.Gap)*1.5), plane.OffsetStyle{})
	if err != nil || len(thick) > 0 {
		return Finding{}, false
	}
	box := l.boxOf(both)
	a, b := l.shape(j), l.shape(k)
	cut := func(from, by string) recipe.Mend {
		return recipe.Mend{Do: "subtract", How: "keep", Shapes: []string{from, by}}
	}
	return Finding{
		Shapes: l.keys([]int{j, k}), At: box.Center(), Box: box,
		Measure: fmt.Sprintf("%s mm²", units.Figure(l.area(both))),
		Fixes: []Fix{
			fix(cut(a.Key, b.Key), "Trim %s by %s, which stays whole", nameOf(a), nameOf(b)),
			fix(cut(b.Key, a.Key), "Trim %s by %s, which stays whole", nameOf(b), nameOf(a)),
		},
	}, true
}
