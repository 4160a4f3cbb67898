package mend

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findScraps finds shapes and pieces that are too small to matter, and shapes
// without area.
func findScraps(l *look) []Finding {
	var out []Finding
	small := func(b geom.Box) bool { return math.Max(b.W(), b.H()) < l.px(l.limits.Scrap) }
	for k := range l.taken {
		l.needed()
		sh := l.shape(k)
		if len(l.region[k]) == 0 {
			if len(sh.Clips) > 0 {
				continue // clipped away: nothing is there to see
			}
			out = append(out, Finding{
				Shapes: []string{sh.Key}, At: sh.Box().Center(), Box: sh.Box(), Measure: "no area",
				Fixes: []Fix{fix(recipe.Mend{Do: "drop", Shapes: []string{sh.Key}}, "Delete it: it encloses nothing")},
			})
			continue
		}
		if small(l.box[k]) {
			out = append(out, l.scrap(l.box[k], fix(recipe.Mend{Do: "drop", Shapes: []string{sh.Key}}, "Delete it"), k))
			continue
		}
		for _, p := range l.region[k] {
			if b := l.boxOf(plane.Region{p}); small(b) && math.Max(b.W(), b.H()) > l.px(dustMM) {
				at := l.place(p.Outer[0])
				m := recipe.Mend{Do: "shed", Shapes: []string{sh.Key}, At: [][2]float64{pair(at)}}
				out = append(out, l.scrap(b, fix(m, "Delete this island"), k))
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

// shed takes the pieces of shapes that At lie on, or nearest to, away.
func shed(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	left := m.At
	for _, i := range which {
		if left, err = w.shedFrom(i, left); err != nil {
			return err
		}
	}
	if len(left) == len(m.At) {
		return lost("the piece")
	}
	return nil
}

// shedFrom takes pieces of a shape away and returns the places that lie on none of its pieces.
func (w *Work) shedFrom(i int, places [][2]float64) (left [][2]float64, err error) {
	src := newSources()
	r, err := w.region(i, src)
	if err != nil {
		return nil, err
	}
	index := make([]*plane.SegmentIndex, len(r))
	gone := make([]bool, len(r))
	for _, at := range places {
		x, y := w.toGrid(vec(at))
		best, far := -1, 512.0 // grid units: the place lies on an outline flattened otherwise
		for k := range r {
			lo, hi, _ := r[k : k+1].Bounds()
			if x < float64(lo.X)-far || x > float64(hi.X)+far || y < float64(lo.Y)-far || y > float64(hi.Y)+far || gone[k] {
				continue
			}
			if index[k] == nil {
				index[k] = plane.NewSegmentIndex(r[k])
			}
			if f := index[k].Nearest(x, y, far); f.Edge >= 0 {
				best, far = k, f.Dist
			}
		}
		if best < 0 {
			left = append(left, at)
			continue
		}
		gone[best] = true
	}
	if len(left) == len(places) {
		return left, nil
	}
	var rest plane.Region
	for k := range r {
		if !gone[k] {
			rest = append(rest, r[k])
		}
	}
	w.setRegion(i, rest, src)
	return left, nil
}
