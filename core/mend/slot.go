package mend

import (
	"math"
	"slices"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// findSlots finds holes and slots within one shape, or between shapes of one
// colour that hang together, that are narrower than the limit.
func findSlots(l *look) []Finding {
	width := l.units(l.limits.Slot)
	if width < 8 {
		return nil
	}
	owners := l.owners()
	var out []Finding
	loops := gauge.LoopsOf(l.all)
	whole := pieceOfLoop(l.all)
	done := map[int]bool{}
	for n, lp := range loops {
		l.needed()
		if lp.Area2() >= 0 || !smallHole(lp, width) {
			continue
		}
		done[n] = true
		if b := l.boxOf(plane.Region{{Outer: lp}}); math.Max(b.W(), b.H()) < l.px(dustMM) {
			continue
		}
		if of := owners.all(lp); len(of) > 0 {
			box := l.boxOf(plane.Region{{Outer: lp}})
			out = append(out, l.slot(of, box.Center(), box, math.Min(box.W(), box.H())/l.PxPerMM, true))
		}
	}
	g, spots := l.narrow("slot", l.all, width*0.99, true)
	for _, spot := range spots {
		b := gauge.Narrowest(spot)
		if done[b.Loop] || !gauge.Even(spot) || l.dust(spot) {
			continue
		}
		j, k := owners.of(b.At), owners.of(b.Across)
		if j < 0 || k < 0 || j != k && whole[b.Loop] != whole[g.LoopOfEdge(b.Edge)] {
			continue
		}
		of := []int{min(j, k), max(j, k)}
		out = append(out, l.slot(slices.Compact(of), l.fromGrid(b.Middle), l.spotBox(spot), l.mm(2*b.Radius), false))
	}
	return out
}

func (l *look) slot(of []int, at geom.Vec, box geom.Box, wide float64, hole bool) Finding {
	keys := l.keys(of)
	limit := l.limits.Slot
	m := recipe.Mend{Shapes: keys, At: [][2]float64{pair(at)}}
	more := m
	more.Do, more.MM = "widen", []float64{limit}
	f := Finding{
		Shapes: keys, At: at, Box: box, Measure: mmOf(wide) + " wide",
	}
	widen := fix(more, "Widen it to %s", mmOf(limit))
	m.Do = "plug"
	if hole {
		f.Fixes = []Fix{fix(m, "Fill the hole"), widen}
		return f
	}
	m.MM = []float64{limit}
	f.Fixes = []Fix{fix(m, "Fill the slot where it is narrower than %s", mmOf(limit)), widen}
	return f
}

// pieceOfLoop returns to which polygon each loop of a region belongs.
func pieceOfLoop(r plane.Region) []int {
	var out []int
	for i, p := range r {
		for range 1 + len(p.Holes) {
			out = append(out, i)
		}
	}
	return out
}

// widen makes the holes or slots at At at least MM[0] wide.
func widen(w *Work, m *recipe.Mend) error {
	which, r, src, err := w.together(m)
	if err != nil {
		return err
	}
	width := w.units(m.MM[0])
	extra, err := w.wider(r, m.At, width)
	if err != nil {
		return err
	}
	for _, i := range which {
		own, err := w.region(i, nil)
		if err != nil {
			return err
		}
		left, err := plane.Combine(own, extra, plane.Subtract)
		if err != nil {
			return err
		}
		if len(left) == 0 {
			return refuse("nothing would be left of %s", nameOf(&w.Sheet.Shapes[i]))
		}
		if left.Area2() != own.Area2() {
			w.setRegion(i, left, src)
		}
	}
	return nil
}

// wider returns the area that makes the holes and slots at places wide enough.
func (w *Work) wider(r plane.Region, places [][2]float64, width float64) (plane.Region, error) {
	var all []plane.Region
	var slots [][2]float64
	for _, p := range places {
		h := holeAt(r, w.onGrid(vec(p)))
		if h == nil || !smallHole(h, width) {
			slots = append(slots, p)
			continue
		}
		lo, hi, _ := plane.Region{{Outer: h}}.Bounds()
		all = append(all, plane.Region{{Outer: disc(vecOf(lo).Lerp(vecOf(hi), 0.5), width/2*1.01)}})
	}
	if len(slots) > 0 {
		list := w.spotsNear(r, slots, width, true)
		more, err := patches(list, width/2*1.01)
		if err != nil {
			return nil, err
		}
		all = append(all, more)
	}
	out, err := union(all)
	if err == nil && len(out) == 0 {
		err = lost("the slot")
	}
	return out, err
}

// holeAt returns the hole of a region that a point lies in, or else the small
// one whose outline is nearest to it (the middle of a bent one lies beside it),
// or nil.
func holeAt(r plane.Region, p plane.Point) plane.Loop {
	var best plane.Loop
	far := math.Inf(1)
	for _, poly := range r {
		for _, h := range poly.Holes {
			if h.Contains(p) {
				return h
			}
			lo, hi, _ := plane.Region{{Outer: h}}.Bounds()
			size := float64(max(hi.X-lo.X, hi.Y-lo.Y))
			f := plane.NewLoopIndex([]plane.Loop{h}).Nearest(float64(p.X), float64(p.Y), math.Min(far, size))
			if f.Edge >= 0 {
				best, far = h, f.Dist
			}
		}
	}
	return best
}

// smallHole reports whether a hole is about as long as wide and no disc of the
// width fits into it.
func smallHole(h plane.Loop, width float64) bool {
	lo, hi, _ := plane.Region{{Outer: h}}.Bounds()
	if float64(max(hi.X-lo.X, hi.Y-lo.Y)) > 2.5*width {
		return false
	}
	left, err := plane.Region{{Outer: reversed(h)}}.Offset(plane.Units(-width/2*0.99), plane.OffsetStyle{})
	return err == nil && len(left) == 0
}

// plug fills the holes of shapes that At lie in; with a width MM[0] the slots
// there that are narrower than that.
func plug(w *Work, m *recipe.Mend) error {
	which, r, src, err := w.together(m)
	if err != nil {
		return err
	}
	var add []extra
	if len(m.MM) > 0 && m.MM[0] > 0 {
		list := w.spotsNear(r, m.At, w.units(m.MM[0]), true)
		if list == nil {
			return lost("the slot")
		}
		for _, spot := range list {
			area, err := w.closing(r, spot, w.units(m.MM[0]))
			if err != nil {
				return err
			}
			add = append(add, extra{area, w.fromGrid(gauge.Narrowest(spot).Middle)})
		}
		return w.addTo(which, add, src)
	}
	for _, p := range m.At {
		if h := holeAt(r, w.onGrid(vec(p))); h != nil {
			// Beyond its rim by what nobody sees, lest outlines that are flattened otherwise leave a hole again.
			area, err := w.offsetBy(plane.Region{{Outer: reversed(h)}}, math.Max(8, w.units(unseenMM/2)), "mitre")
			if err != nil {
				return err
			}
			add = append(add, extra{area, vec(p)})
		}
	}
	if len(add) == 0 {
		return lost("the hole")
	}
	return w.addTo(which, add, src)
}

// aroundSpot returns what of a region lies in the box around a spot's balls, so far beyond them.
func (w *Work) aroundSpot(r plane.Region, spot []gauge.Ball, far float64) (plane.Region, error) {
	var f frame
	for _, b := range spot {
		for _, d := range [2]float64{-far, far} {
			f.add(plane.Point{X: int32(math.Round(b.Middle.X + d)), Y: int32(math.Round(b.Middle.Y + d))})
		}
	}
	return cropped(r, f.lo, f.hi)
}

// cropped returns what of a region lies in a box.
func cropped(r plane.Region, lo, hi plane.Point) (plane.Region, error) {
	if a, b, _ := r.Bounds(); a.X >= lo.X && a.Y >= lo.Y && b.X <= hi.X && b.Y <= hi.Y {
		return r, nil
	}
	var loops []plane.Loop
	r.Loops(func(l plane.Loop) {
		if c := l.Cropped(lo, hi); len(c) > 2 {
			loops = append(loops, c)
		}
	})
	return fill(loops)
}

// closing returns what closes a slot: the area within its balls' reach that
// growing and thinning again by half the width fills.
func (w *Work) closing(r plane.Region, spot []gauge.Ball, width float64) (plane.Region, error) {
	near, err := patchWithin(spot, width*1.2, width/20)
	if err != nil {
		return nil, err
	}
	local, err := w.aroundSpot(r, spot, width*4)
	if err != nil {
		return nil, err
	}
	grown, err := w.roughly(local, width/2)
	if err != nil {
		return nil, err
	}
	if grown, err = w.roughly(grown, -width/2); err != nil {
		return nil, err
	}
	gap, err := plane.Combine(grown, near, plane.Intersect)
	if err != nil {
		return nil, err
	}
	return w.rimmed(gap)
}
