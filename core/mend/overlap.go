package mend

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"reflect"
	"slices"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// deepPiles is how many of the shapes that lie on each other at a place are looked at.
const deepPiles = 8

// leastOverlap is the area in mm² from which shapes overlap.
const leastOverlap = 1e-3

// neighbourShare is how much of the smaller of two shapes of different colours
// an overlap may cover and still be one at a seam; more is one painted on the
// other.
const neighbourShare = 0.12

// overlapping is by how much shapes lie on each other, mm², by their indices in taken, the lower one first.
type overlapping map[[2]int]float64

// overlaps measures it by one arrangement of all shapes.
func (l *look) overlaps() (overlapping, error) {
	layers := make([]plane.Layer, len(l.taken))
	for k := range l.taken {
		layers[k] = plane.Layer{Loops: gauge.LoopsOf(l.region[k]), Label: int32(k + 1)}
	}
	piles, err := plane.Piles(layers, deepPiles, l.stop)
	if err != nil {
		return nil, err
	}
	out := overlapping{}
	side := l.Grid / l.PxPerMM
	for _, p := range piles {
		area := float64(p.Area2) / 2 * side * side
		for i, upper := range p.Layers {
			for _, lower := range p.Layers[i+1:] {
				out[[2]int{int(lower), int(upper)}] += area
			}
		}
	}
	return out, nil
}

// findOverlaps finds filled shapes of one colour that overlap, together, and
// neighbours of different colours that overlap at their seam.
func findOverlaps(l *look) []Finding {
	over, err := l.overlaps()
	if err != nil {
		return nil
	}
	pairs := slices.SortedFunc(maps.Keys(over), func(a, b [2]int) int {
		return cmp.Or(cmp.Compare(a[1], b[1]), cmp.Compare(a[0], b[0]))
	})
	sets := geom.NewSets(len(l.taken))
	members := make([][]int, len(l.taken))
	for k := range members {
		members[k] = []int{k}
	}
	places := map[int32]geom.Box{}
	var seams []Finding
	for _, pair := range pairs {
		l.needed()
		j, k := pair[0], pair[1]
		if over[pair] < leastOverlap || l.shape(j).Stroke != nil || l.shape(k).Stroke != nil {
			continue
		}
		if l.same(j, k, math.Max(l.units(l.limits.Weld), 4)) {
			continue // found as lying twice
		}
		if !l.onePaint(j, k) {
			if f, ok := l.seamOverlap(j, k, over[pair]); ok {
				seams = append(seams, f)
			}
			continue
		}
		a, b := sets.Find(int32(j)), sets.Find(int32(k))
		box := boxIn(places, a).Union(boxIn(places, b)).Union(common(l.box[j], l.box[k]))
		all := slices.Concat(members[a], members[b])
		slices.Sort(all)
		if a != b && !l.onTop(all, over) {
			continue
		}
		sets.Join(a, b)
		places[sets.Find(a)] = box
		if a != b {
			members[sets.Find(a)] = all
		}
	}
	return append(l.united(sets, places), seams...)
}

// onePaint reports whether two shapes are painted the same: with one colour, and no gradient that is another one.
func (l *look) onePaint(j, k int) bool {
	a, b := l.shape(j), l.shape(k)
	return l.Color[l.taken[j]] == l.Color[l.taken[k]] && a.Opacity == b.Opacity &&
		(a.Gradient == b.Gradient || reflect.DeepEqual(a.Gradient, b.Gradient))
}

// common returns what two boxes share.
func common(a, b geom.Box) geom.Box {
	return geom.Box{
		Min: geom.Vec{X: math.Max(a.Min.X, b.Min.X), Y: math.Max(a.Min.Y, b.Min.Y)},
		Max: geom.Vec{X: math.Min(a.Max.X, b.Max.X), Y: math.Min(a.Max.Y, b.Max.Y)},
	}
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
func (l *look) onTop(which []int, over overlapping) bool {
	for i := which[0] + 1; i < which[len(which)-1]; i++ {
		if slices.Contains(which, i) || l.box[i].Empty() || l.onePaint(i, which[0]) {
			continue
		}
		for _, k := range which {
			if k < i && over[[2]int{k, i}] > leastOverlap {
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

// shared returns what two shapes share. They are looked at where their boxes meet alone.
func (l *look) shared(j, k int) (plane.Region, error) {
	var f frame
	f.addAll(l.region[k])
	var g frame
	g.addAll(l.region[j])
	lo := plane.Point{X: max(f.lo.X, g.lo.X) - frameRim, Y: max(f.lo.Y, g.lo.Y) - frameRim}
	hi := plane.Point{X: min(f.hi.X, g.hi.X) + frameRim, Y: min(f.hi.Y, g.hi.Y) + frameRim}
	a, err := cropped(l.region[j], lo, hi)
	if err != nil {
		return nil, err
	}
	b, err := cropped(l.region[k], lo, hi)
	if err != nil {
		return nil, err
	}
	return plane.Combine(a, b, plane.Intersect)
}

// seamOverlap words an overlap of different colours: a strip along the seam of
// two neighbours of which neither lies on the other. The lower one is trimmed, so that the picture stays.
func (l *look) seamOverlap(j, k int, area float64) (Finding, bool) {
	if area > neighbourShare*math.Min(l.area(l.region[j]), l.area(l.region[k])) {
		return Finding{}, false
	}
	both, err := l.shared(j, k)
	if err != nil || len(both) == 0 {
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
		Measure: fmt.Sprintf("%s mm²", units.Figure(area)), Copes: true,
		Fixes: []Fix{
			fix(cut(a.Key, b.Key), "Trim %s by %s, which lies on it and stays whole", nameOf(a), nameOf(b)),
			fix(cut(b.Key, a.Key), "Trim %s by %s, which stays whole", nameOf(b), nameOf(a)),
		},
	}, true
}
