package raise

import (
	"math"

	"bildhauer/core/plane"
)

// A pillow is a bevel that is as wide as the region is, so that it runs to the ridge
// everywhere; where the region is narrower than at its widest, the ridge is lower.

// reach returns how wide a pillow of the form is over a region in mm: as far as any
// place lies from the outline. 0 if the form has none.
func (f *Form) reach(r plane.Region, step plane.Step, stop func() bool) (float64, error) {
	if !f.Front.Profile.Full() && !f.Back.Profile.Full() || f.Outward {
		return 0, nil
	}
	var lo, hi plane.Units
	for _, p := range r {
		hi = max(hi, plane.Units(math.Sqrt(float64(p.Area2())/2/math.Pi)*1.0001))
	}
	// The offset disappears where it is wider; a ten-thousandth is far below a facet.
	for range 40 {
		if hi-lo <= max(2, hi*1e-4) {
			break
		}
		d := (lo + hi) / 2
		left, err := r.Offset(-d, plane.OffsetStyle{ArcTol: max(1, d/200), Simplify: max(1, d/400), Stop: stop})
		if err != nil {
			return 0, err
		}
		if len(left) > 0 {
			lo = d
		} else {
			hi = d
		}
	}
	return step.MM(hi), nil
}

// reaching returns the form with pillows and domes of the width given; without one they
// are rounds.
func (f Form) reaching(width float64) Form {
	for _, b := range []*Bevel{&f.Front, &f.Back} {
		switch {
		case !b.Profile.Full():
		case width > 0:
			b.Width = width
		case b.Width > 0:
			b.Profile = Round
		}
	}
	return f
}
