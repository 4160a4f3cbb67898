package mend

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// The nodes from which on the contours of a shape are looked at for simpler ones, and how
// many these have to save: half of them, and twelve.
const (
	manyNodes   = 30
	leastSaving = 12
)

// findNodes finds shapes whose form needs far fewer nodes.
func findNodes(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		l.needed()
		sh := l.shape(k)
		was, is, many := 0, 0, false
		tol := l.px(l.limits.Refit) / math.Max(sh.Matrix.MaxScale(), 1e-300)
		for _, c := range sh.Contours {
			was += len(c.Segs)
			many = many || len(c.Segs) >= manyNodes
		}
		if !many {
			continue
		}
		for _, c := range sh.Contours {
			is += len(refitted(c, tol).Segs)
		}
		if was-is < leastSaving || is*2 > was {
			continue
		}
		m := recipe.Mend{Do: "refit", Shapes: []string{sh.Key}, MM: []float64{l.limits.Refit}}
		out = append(out, Finding{
			Shapes: []string{sh.Key}, At: l.box[k].Center(), Box: l.box[k], Measure: units.Count(was) + " nodes",
			Fixes: []Fix{fix(m, "Draw it anew with %s nodes, within %s", units.Count(is), mmOf(l.limits.Refit))},
		})
	}
	return out
}

// refit draws the contours of shapes anew with as few nodes as keep within
// MM[0] of the old ones.
func refit(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	for _, i := range which {
		sh := &w.Sheet.Shapes[i]
		tol := w.px(m.MM[0]) / math.Max(sh.Matrix.MaxScale(), 1e-300)
		list := slices.Clone(sh.Contours)
		for k, c := range list {
			list[k] = refitted(c, tol)
		}
		sh.Contours = list
	}
	return nil
}

// refitted returns a contour drawn anew within tol, or the old one if that has
// no more nodes. A fifth of the deviation is left for flattening.
func refitted(c geom.Contour, tol float64) geom.Contour {
	if len(c.Segs) < 3 {
		return c
	}
	fresh := geom.Fit(c.Flatten(tol/5, nil), c.Closed, tol*0.8)
	if len(fresh.Segs) >= len(c.Segs) || len(fresh.Segs) == 0 {
		return c
	}
	return fresh
}
