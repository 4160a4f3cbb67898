package mend

import (
	"math"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// dustMM is the size in mm below which nothing is worth a word: a solid has it
// or not, and nobody sees it.
const dustMM = 0.05

// dust reports whether a narrow spot is too small to matter.
func (l *look) dust(spot []gauge.Ball) bool {
	box := l.spotBox(spot)
	return math.Max(box.W(), box.H()) < l.px(2*dustMM) || l.mm(2*gauge.Narrowest(spot).Radius) < dustMM/5
}

// scrappy reports whether a piece is found as a scrap.
func (l *look) scrappy(p plane.Polygon) bool {
	b := l.boxOf(plane.Region{p})
	return math.Max(b.W(), b.H()) < l.px(l.limits.Scrap)
}

// findThin finds places where what is seen of a colour is thinner than the
// smallest width, between outlines of its own.
func findThin(l *look) []Finding {
	width := l.units(l.limits.Thin)
	if width < 8 {
		return nil
	}
	owners := l.owners()
	var out []Finding
	for i := range l.parts {
		part := &l.parts[i]
		piece := pieceOfLoop(part.region)
		mine := func(p geom.Vec) bool {
			k := owners.of(p)
			return k >= 0 && l.Color[l.taken[k]] == part.color
		}
		_, spots := l.narrow("thin"+part.color.Hex(), part.region, width*0.99, false)
		for _, spot := range spots {
			l.needed()
			b := gauge.Narrowest(spot)
			if !gauge.Even(spot) || l.dust(spot) || l.scrappy(part.region[piece[b.Loop]]) || !mine(b.At) || !mine(b.Across) {
				continue
			}
			at := l.fromGrid(b.Middle)
			of := l.near(part.of, at, l.px(l.limits.Thin))
			if len(of) == 0 {
				continue
			}
			keys := l.keys(of)
			m := recipe.Mend{Do: "thicken", Shapes: keys, MM: []float64{l.limits.Thin}, At: [][2]float64{pair(at)}}
			f := Finding{
				Shapes: keys, At: at, Box: l.spotBox(spot), Measure: mmOf(l.mm(2*b.Radius)) + " wide",
				Fixes: []Fix{fix(m, "Thicken it to %s here", mmOf(l.limits.Thin))},
			}
			own := owners.of(b.At)
			more := units.Round((l.limits.Thin-l.mm(2*b.Radius))/2+0.005, 2)
			whole := recipe.Mend{Do: "grow", Shapes: []string{l.key(own)}, MM: []float64{more}}
			f.Fixes = append(f.Fixes, fix(whole, "Grow the whole shape by %s all round", mmOf(more)))
			out = append(out, f)
		}
	}
	return out
}

// thicken makes shapes at least MM[0] wide at the thin spots at At.
func thicken(w *Work, m *recipe.Mend) error {
	which, r, src, err := w.together(m)
	if err != nil {
		return err
	}
	width := w.units(m.MM[0])
	list := w.spotsNear(r, m.At, width, false)
	if list == nil {
		return lost("the thin spot")
	}
	var add []extra
	for _, spot := range list {
		area, err := patch(spot, width/2*1.02)
		if err != nil {
			return err
		}
		add = append(add, extra{area, w.fromGrid(gauge.Narrowest(spot).Middle)})
	}
	return w.addTo(which, add, src)
}
