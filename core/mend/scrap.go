package mend

import (
	"math"
	"slices"

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

// shed takes the pieces of shapes that At lie on, or nearest to, away.
func shed(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	done := false
	for _, at := range m.At {
		one, err := w.shedOne(which, at)
		if err != nil {
			return err
		}
		done = done || one
	}
	if !done {
		return lost("the piece")
	}
	return nil
}

func (w *Work) shedOne(which []int, at [2]float64) (bool, error) {
	x, y := w.toGrid(vec(at))
	for _, i := range which {
		src := newSources()
		r, err := w.region(i, src)
		if err != nil {
			return false, err
		}
		best, far := -1, 512.0 // grid units: the place lies on an outline flattened otherwise
		for k := range r {
			f := plane.NewSegmentIndex(r[k]).Nearest(x, y, far)
			if f.Edge >= 0 {
				best, far = k, f.Dist
			}
		}
		if best < 0 {
			continue
		}
		w.setRegion(i, slices.Delete(slices.Clone(r), best, best+1), src)
		return true, nil
	}
	return false, nil
}
