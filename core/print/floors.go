package print

import (
	"slices"

	"bildhauer/core/plane"
)

// floors divides what lies within the walls of an island into what is filled solidly and what is not. Solid is what has
// nothing as many layers below or above, and what walls of the layers above stand on; it ends a line's width within the
// rest, so that both hold together.
func (b *bench) floors(land *island, around []*shell, kinds []int, i int) (solid, sparse plane.Region, err error) {
	s, inner := b.setup, land.about
	kin := window(kinds, i, s.Floors)
	if slices.Contains(kin, -1) || s.Density >= 1 {
		return inner, nil, nil
	}
	if len(kin) == 1 { // nothing changes near this layer
		return nil, inner, nil
	}
	if solid, err = b.borne(land.guess, around, kinds, i); err != nil {
		return nil, nil, err
	}
	if solid, err = b.stout(solid); err != nil || len(solid) == 0 {
		return nil, inner, err
	}
	st := b.style
	st.ArcTol, st.Simplify = b.step.Units(rough), b.step.Units(rough)
	if solid, err = solid.Offset(b.bead, st); err != nil {
		return nil, nil, err
	}
	ar := plane.NewArrangement()
	ar.AddRegion(0, inner)
	ar.AddRegion(1, solid)
	if err := ar.Build(); err != nil {
		return nil, nil, err
	}
	defer ar.Release()
	ar.Classify(&bearing{winding: make([]int32, 2), covers: 1})
	both := ar.Regions()
	return both[isCovered], both[isOpen], nil
}

// borne returns what of an island has nothing as many layers below or above, or has walls standing on it.
func (b *bench) borne(inner plane.Region, around []*shell, kinds []int, i int) (plane.Region, error) {
	ar := plane.NewArrangement()
	ar.AddRegion(0, inner)
	list := []*shell{}
	add := func(k int) {
		if kinds[k] != kinds[i] && !slices.Contains(list, around[kinds[k]]) {
			list = append(list, around[kinds[k]])
		}
	}
	for k := i + 1; k <= i+b.setup.Floors; k++ {
		add(k)
	}
	above := len(list)
	for k := i - b.setup.Floors; k < i; k++ {
		add(k)
	}
	for k, s := range list {
		ar.AddRegion(int32(1+k), s.sketch)
	}
	for k, s := range list[:above] {
		ar.AddRegion(int32(1+len(list)+k), s.within)
	}
	if err := ar.Build(); err != nil {
		return nil, err
	}
	defer ar.Release()
	ar.Classify(&bearing{winding: make([]int32, 1+len(list)+above), covers: len(list), walls: above})
	return ar.Regions()[isOpen], nil
}

// bearing labels the faces of an arrangement of an island (source 0), of areas that cover it all where it is not open, and
// of what lies within the walls of the first of these.
type bearing struct {
	winding       []int32
	covers, walls int
}

// The labels within the island.
const (
	isCovered = 1
	isOpen    = 2
)

func (r *bearing) Cross(source, delta int32) { r.winding[source] += delta }

func (r *bearing) Label() int32 {
	if r.winding[0] == 0 {
		return 0
	}
	for k := range r.covers {
		if r.winding[1+k] == 0 || k < r.walls && r.winding[1+r.covers+k] == 0 {
			return isOpen
		}
	}
	return isCovered
}

// stout returns what of an area is wider than half a line somewhere.
func (b *bench) stout(area plane.Region) (plane.Region, error) { return b.wider(area, 0.5) }

// wider returns what of an area is wider than so many lines somewhere.
func (b *bench) wider(area plane.Region, lines float64) (out plane.Region, err error) {
	for _, p := range area {
		slim, err := b.slim(p, lines)
		if err != nil {
			return nil, err
		}
		if !slim {
			out = append(out, p)
		}
	}
	return out, nil
}
