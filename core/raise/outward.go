package raise

import (
	"context"
	"math"

	"bildhauer/core/plane"
)

// spreadOut returns the outline of a form over a region: the region itself, or, if
// the bevels run outward, all within the wider bevel's width of it. out says where
// distances are measured from. The narrower bevel begins at the wall, too, so that its
// face is somewhat larger than the region.
func (f *Form) spreadOut(ctx context.Context, region plane.Region, step plane.Step) (outline plane.Region, out outward, err error) {
	spread := step.Units(f.spread()).Round()
	if !f.Outward || spread < 4 {
		return region, outward{}, nil
	}
	detail := f.rimDetail(step)
	style := f.spreadStyle(spread, detail)
	style.Stop = stopOf(ctx)
	outline, err = region.Offset(spread, style)
	if err != nil {
		return nil, outward{}, err
	}
	if outline, err = outline.Separate(gap, stopOf(ctx)); err != nil {
		return nil, outward{}, err
	}
	return outline, outward{region, spread, detail}, nil
}

// spreadStyle returns how the outline of a bevel that runs outward is drawn.
func (f *Form) spreadStyle(spread, detail plane.Units) plane.OffsetStyle {
	st := plane.OffsetStyle{ArcRadius: spread, ArcTol: detail, Simplify: detail}
	if f.Front.Mitred || f.Back.Mitred {
		st.Join, st.MiterLimit = plane.MiterOrRound, mitreLimit
	}
	return st
}

// spread returns the width of the wider bevel.
func (f *Form) spread() float64 {
	wide := 0.0
	if f.Front.On() {
		wide = f.Front.Width
	}
	if f.Back.On() {
		wide = math.Max(wide, f.Back.Width)
	}
	return wide
}

// rimDetail returns how far a rim that stands outside may be from its
// distance: as far as a ring of the narrower bevel may, and no coarser than the form
// is to be.
func (f *Form) rimDetail(step plane.Step) plane.Units {
	least := f.spread()
	for _, b := range []Bevel{f.Front, f.Back} {
		if b.On() {
			list, _ := b.facetsFor(step.MM(minStep) / b.Width)
			for _, fc := range list {
				least = math.Min(least, (fc.t1-fc.t0)*b.Width)
			}
		}
	}
	detail := least / ringDetail
	if f.Fine > 0 {
		detail = math.Min(detail, f.Fine)
	}
	return max(1, step.Units(detail))
}
