package print

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// anchor is how far what is laid over air reaches over what is held on both sides, mm.
const anchor = 1.5

// bridges divides what is filled solidly into rows that are laid over air, from one side to the other, and the rest. below is
// what the layer under it covers.
func (b *bench) bridges(solid, below plane.Region) (over []Path, rest plane.Region, err error) {
	free, err := b.free(solid, below)
	if err != nil || len(free) == 0 {
		return nil, solid, err
	}
	st := b.style
	st.ArcTol, st.Simplify = b.step.Units(rough), b.step.Units(rough)
	rest = solid
	for _, gap := range free {
		b.poll.Look()
		turn, ok := b.across(gap, below)
		if !ok { // it is held on one side only
			continue
		}
		area, err := (plane.Region{gap}).Offset(b.step.Units(anchor), st)
		if err != nil {
			return nil, nil, err
		}
		if area, err = plane.Combine(area, rest, plane.Intersect); err != nil {
			return nil, nil, err
		}
		rows, err := b.rows(area, Bridge, float64(b.bead), turn, true)
		if err != nil {
			return nil, nil, err
		}
		over = append(over, rows...)
		if rest, err = plane.Combine(rest, area, plane.Subtract); err != nil {
			return nil, nil, err
		}
	}
	rest, err = b.stout(rest)
	return over, rest, err
}

// free returns what of an area has nothing below it and is wider than what a line lays beside what is held.
func (b *bench) free(area, below plane.Region) (plane.Region, error) {
	if len(area) == 0 {
		return nil, nil
	}
	air, err := plane.Combine(area, below, plane.Subtract)
	if err != nil {
		return nil, err
	}
	return b.wider(air, 1)
}

// turns is how many directions are looked at, and looseEnds up to what share of the rows may end over air.
const (
	turns     = 36
	looseEnds = 0.15
)

// across returns the direction in which rows over a gap are held on both sides and the longest of them are the shortest; ok
// is false if there is none.
func (b *bench) across(gap plane.Polygon, below plane.Region) (turn float64, ok bool) {
	apart := float64(b.bead)
	least := math.Inf(1)
	for k := range turns {
		angle := math.Pi * float64(k) / turns
		sin, cos := math.Sincos(angle)
		h := newHatch(plane.Region{gap}, apart, sin, cos, true)
		loose, n := 0, 0
		var longs []float64
		for i, e := range h.ends {
			if e.other < i {
				continue
			}
			a, c := h.place(i), h.place(e.other)
			way := c.Sub(a).Unit().Mul(apart / 2)
			for _, q := range []geom.Vec{a.Sub(way), c.Add(way)} {
				if !below.Contains(plane.Point{X: int32(q.X*cos - q.Y*sin), Y: int32(q.X*sin + q.Y*cos)}) {
					loose++
				}
				n++
			}
			longs = append(longs, c.Sub(a).Len())
		}
		if n == 0 || float64(loose) > looseEnds*float64(n) {
			continue
		}
		slices.Sort(longs)
		if d := longs[len(longs)*9/10]; d < least*(1-1e-6) {
			least, turn, ok = d, angle, true
		}
	}
	return turn, ok
}

// begun has lines begin on what is held, where some of them hangs over: those around are turned to a place that is, and open
// ones are laid from the end that is.
func (b *bench) begun(list []Path, below plane.Region) {
	for i := range list {
		p := &list[i]
		holds := func(q [2]float32) bool {
			v := b.back(q)
			return below.Contains(plane.Point{X: int32(v.X), Y: int32(v.Y)})
		}
		if holds(p.Points[0]) {
			p.Fixed = p.Kind == Bridge && !holds(p.end())
			continue
		}
		if !p.Closed {
			if holds(p.end()) {
				p.Points, p.Widths = slices.Clone(p.Points), slices.Clone(p.Widths)
				p.reversed()
				p.Fixed = true
			}
			continue
		}
		best, most := -1, math.Inf(-1)
		n := len(p.Points) - 1
		for k, q := range p.Points[:n] {
			if v := turnAt(p.Points[:n], k); v > most && holds(q) {
				best, most = k, v
			}
		}
		if best > 0 {
			p.turnTo(best)
		}
	}
}

// turnTo begins a path that goes around at another of its places.
func (p *Path) turnTo(k int) {
	n := len(p.Points) - 1
	points := append(slices.Clone(p.Points[k:n]), p.Points[:k]...)
	var widths []float32
	if p.Widths != nil {
		widths = append(slices.Clone(p.Widths[k:n]), p.Widths[:k]...)
	}
	p.Points, p.Widths = points, widths
	p.close()
}
