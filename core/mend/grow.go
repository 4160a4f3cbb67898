package mend

import (
	"math"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// growShapes grows shapes by a length, or thins them by a negative one; corners
// are rounded or, with How "mitre", kept.
func growShapes(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	for _, i := range which {
		r, err := w.region(i, nil)
		if err != nil {
			return err
		}
		if r, err = w.offset(r, m.MM[0], m.How); err != nil {
			return err
		}
		if len(r) == 0 {
			return refuse("nothing would be left of %s; thin it by less", nameOf(&w.Sheet.Shapes[i]))
		}
		w.setRegion(i, r, nil)
	}
	return nil
}

// offset grows a region by mm.
func (w *Work) offset(r plane.Region, mm float64, how string) (plane.Region, error) {
	return w.offsetBy(r, w.units(mm), how)
}

// offsetBy grows a region by grid units.
func (w *Work) offsetBy(r plane.Region, d float64, how string) (plane.Region, error) {
	st := plane.OffsetStyle{ArcTol: plane.Units(math.Max(1, math.Abs(d)/8000)), Stop: w.Stop}
	if how == "mitre" {
		st.Join, st.MiterLimit = plane.MiterJoin, 10
	}
	return r.Offset(plane.Units(d), st)
}

// roughly grows a region by grid units, its arcs within a 250th of that: for what is looked at and then cut
// to the outlines.
func (w *Work) roughly(r plane.Region, d float64) (plane.Region, error) {
	st := plane.OffsetStyle{ArcTol: plane.Units(math.Max(1, math.Abs(d)/250)), Stop: w.Stop}
	return r.Offset(plane.Units(d), st)
}

// ringShapes makes shapes rings of a width along their outline: inside it, or,
// with How "outside" or "middle", there.
func ringShapes(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	width := m.MM[0]
	if !(width > 0) {
		return refuse("a ring needs a width above nothing")
	}
	outer, inner := 0.0, -width
	switch m.How {
	case "outside":
		outer, inner = width, 0
	case "middle":
		outer, inner = width/2, -width/2
	}
	for _, i := range which {
		src := newSources()
		r, err := w.region(i, src)
		if err != nil {
			return err
		}
		large, small := r, r
		if outer > 0 {
			if large, err = w.offset(r, outer, "mitre"); err != nil {
				return err
			}
		}
		if inner < 0 {
			if small, err = w.offset(r, inner, "mitre"); err != nil {
				return err
			}
		}
		if len(small) == 0 {
			return refuse("%s is too narrow for a ring of that width", nameOf(&w.Sheet.Shapes[i]))
		}
		if r, err = plane.Combine(large, small, plane.Subtract); err != nil {
			return err
		}
		w.setRegion(i, r, src)
	}
	return nil
}
