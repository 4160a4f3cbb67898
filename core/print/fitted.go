package print

import (
	"context"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
)

// Fitted returns layers as they are to be laid so that a print has the measures of the solid: melt spreads, so that outlines
// come out wider and holes narrower, and the first layer is pressed flat. By how much is a matter of the machine and the
// material, and told by the setup.
func Fitted(ctx context.Context, layers []Layer, step float64, s *Setup) ([]Layer, error) {
	if s.Outline == 0 && s.Holes == 0 && s.Foot == 0 {
		return layers, nil
	}
	b := newBench(plane.Step(step), [2]float64{}, s)
	b.style.Stop = func() bool { return ctx.Err() != nil }
	_, first := numbered(layers)
	areas := make([]plane.Region, len(first))
	err := parallel.Each(len(first), func(k int) (err error) {
		if areas[k], err = b.fitted(layers[first[k]].Area); err == nil {
			err = ctx.Err()
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	out := make([]Layer, len(layers))
	k := -1
	for i, l := range layers {
		if k+1 < len(first) && first[k+1] == i {
			k++
		}
		out[i] = l
		out[i].Area = areas[k]
	}
	if s.Foot != 0 && len(out) > 0 {
		foot, err := out[0].Area.Offset(-b.step.Units(s.Foot), b.style)
		if err != nil {
			return nil, err
		}
		out[0].Area = foot
	}
	return out, nil
}

// fitted draws the outlines of an area in and widens its holes.
func (b *bench) fitted(area plane.Region) (plane.Region, error) {
	var all plane.Region
	for _, p := range area {
		out, err := plane.Region{{Outer: p.Outer}}.Offset(-b.step.Units(b.setup.Outline), b.style)
		if err != nil {
			return nil, err
		}
		for _, h := range p.Holes {
			hole, err := plane.Fill([]plane.Loop{h}, plane.EvenOdd)
			if err != nil {
				return nil, err
			}
			if hole, err = hole.Offset(b.step.Units(b.setup.Holes), b.style); err != nil {
				return nil, err
			}
			if out, err = plane.Combine(out, hole, plane.Subtract); err != nil {
				return nil, err
			}
		}
		if all, err = plane.Combine(all, out, plane.Union); err != nil {
			return nil, err
		}
	}
	return all, nil
}
