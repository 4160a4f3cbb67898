package mend

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findTouches finds places where what is seen of a colour hangs together in a
// point only.
func findTouches(l *look) []Finding {
	var out []Finding
	for i := range l.parts {
		visits := map[plane.Point]int{}
		var order []plane.Point
		l.parts[i].region.Loops(func(lp plane.Loop) {
			if b := l.boxOf(plane.Region{{Outer: lp}}); math.Max(b.W(), b.H()) < l.px(4*dustMM) {
				return
			}
			for _, p := range lp {
				if visits[p]++; visits[p] == 2 {
					order = append(order, p)
				}
			}
		})
		for _, p := range order {
			l.needed()
			at := l.place(p)
			of := l.near(l.parts[i].of, at, l.Grid*8)
			if len(of) == 0 {
				continue
			}
			thin := math.Max(l.limits.Thin, 0.05)
			join := recipe.Mend{
				Do: "bridge", Shapes: l.keys(of), MM: []float64{thin}, At: [][2]float64{pair(at), pair(at)},
			}
			gap := math.Max(l.limits.Slot/2, 0.02)
			part := recipe.Mend{Do: "part", Shapes: l.keys(of), MM: []float64{gap}, At: [][2]float64{pair(at)}}
			out = append(out, Finding{
				Shapes: l.keys(of), At: at, Box: l.around(at, 1), Measure: "in a point",
				Fixes: []Fix{
					fix(join, "Bridge it by a knot %s wide", mmOf(thin)),
					fix(part, "Part it by %s", mmOf(2*gap)),
				},
			})
		}
	}
	return out
}

// partTouch cuts shapes apart where they touch at At[0], by a gap of MM[0].
func partTouch(w *Work, m *recipe.Mend) error {
	which, _, src, err := w.together(m)
	if err != nil {
		return err
	}
	x, y := w.toGrid(vec(m.At[0]))
	gap := plane.Region{{Outer: disc(geom.Vec{X: x, Y: y}, w.units(m.MM[0]))}}
	done := false
	for _, i := range which {
		own, err := w.region(i, nil)
		if err != nil {
			return err
		}
		left, err := plane.Combine(own, gap, plane.Subtract)
		if err != nil {
			return err
		}
		if len(left) == 0 {
			return refuse("nothing would be left of %s", nameOf(&w.Sheet.Shapes[i]))
		}
		if left.Area2() != own.Area2() {
			done = true
			w.setRegion(i, left, src)
		}
	}
	if !done {
		return lost("the touching place")
	}
	return nil
}
