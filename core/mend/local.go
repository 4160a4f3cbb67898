package mend

import (
	"errors"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// The deeds of this file change an outline near a place. They look for the spot
// there anew, with the measure that they are given, so that they follow when
// the artwork is exchanged or the size changes.

// slantOfSpots is by how much less than half a turn the two sides of a narrow
// spot may face each other.
const slantOfSpots = 30 * math.Pi / 180

// spotsNear returns the narrow spots of a region at places, each the one that
// has a ball nearest to it and within the width; places without one are passed
// over.
func (w *Work) spotsNear(r plane.Region, places [][2]float64, width float64, outside bool) [][]ball {
	all := spots(newGauge(loopsOf(r)).narrow(width, outside, slantOfSpots), width*0.6)
	chosen := make([]bool, len(all))
	for _, p := range places {
		x, y := w.toGrid(vec(p))
		best, near := -1, width
		for i, s := range all {
			if d := nearestBall(s, geom.Vec{X: x, Y: y}); d < near {
				best, near = i, d
			}
		}
		if best >= 0 {
			chosen[best] = true
		}
	}
	var out [][]ball
	for i, s := range all {
		if chosen[i] {
			out = append(out, s)
		}
	}
	return out
}

// patches returns the area within radius of the middles of several spots' balls.
func patches(list [][]ball, radius float64) (plane.Region, error) {
	var all []plane.Region
	for _, s := range list {
		one, err := patch(s, radius)
		if err != nil {
			return nil, err
		}
		all = append(all, one)
	}
	return union(all)
}

// patch returns the area within radius of the middles of a spot's balls, but for
// a hundredth of it.
func patch(spot []ball, radius float64) (plane.Region, error) {
	var loops []plane.Loop
	var run []geom.Vec
	end := func() {
		keep := geom.Thinned(run, false, radius/100)
		for i, k := range keep {
			if i > 0 {
				loops = append(loops, capsule(run[keep[i-1]], run[k], radius))
			}
		}
		if len(keep) == 1 {
			loops = append(loops, disc(run[0], radius))
		}
		run = run[:0]
	}
	for i, b := range spot {
		if i > 0 && (spot[i-1].loop != b.loop || spot[i-1].c.Sub(b.c).Len() > radius) {
			end()
		}
		run = append(run, b.c)
	}
	end()
	return fill(loops)
}

// disc returns a circle as a loop, its arcs within half a per cent of the radius.
func disc(c geom.Vec, r float64) plane.Loop {
	const n = 64
	var l plane.Loop
	for i := range n {
		s, k := math.Sincos(2 * math.Pi * float64(i) / n)
		l = append(l, plane.Point{X: int32(math.Round(c.X + r*k)), Y: int32(math.Round(c.Y + r*s))})
	}
	return l
}

// capsule returns all points within r of the line from a to b as a loop.
func capsule(a, b geom.Vec, r float64) plane.Loop {
	d := b.Sub(a).Unit()
	if d == (geom.Vec{}) {
		return disc(a, r)
	}
	turn := math.Atan2(d.Y, d.X)
	const n = 32
	var l plane.Loop
	add := func(c geom.Vec, from float64) {
		for i := range n + 1 {
			s, k := math.Sincos(from + math.Pi*float64(i)/n)
			l = append(l, plane.Point{X: int32(math.Round(c.X + r*k)), Y: int32(math.Round(c.Y + r*s))})
		}
	}
	add(b, turn-math.Pi/2)
	add(a, turn+math.Pi/2)
	return l
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
		add = append(add, extra{area, w.fromGrid(narrowest(spot).c)})
	}
	return w.addTo(which, add, src)
}

// together returns the shapes that a mend names and their common area.
func (w *Work) together(m *recipe.Mend) ([]int, plane.Region, *sources, error) {
	which, err := w.named(m)
	if err != nil {
		return nil, nil, nil, err
	}
	src := newSources()
	list, err := w.regions(which, src)
	if err != nil {
		return nil, nil, nil, err
	}
	r, err := union(list)
	return which, r, src, err
}

// extra is an area that is added to the nearest of some shapes.
type extra struct {
	area plane.Region
	at   geom.Vec // px of the page
}

// addTo unites areas each with the one of the shapes that is nearest to its
// place.
func (w *Work) addTo(which []int, list []extra, src *sources) error {
	own := make([]plane.Region, len(which))
	index := make([]*plane.SegmentIndex, len(which))
	for k, i := range which {
		var err error
		if own[k], err = w.region(i, nil); err != nil {
			return err
		}
		index[k] = plane.NewLoopIndex(loopsOf(own[k]))
	}
	more := make([][]plane.Region, len(which))
	for _, e := range list {
		x, y := w.toGrid(e.at)
		best, far := 0, math.Inf(1)
		for k := range which {
			if d := index[k].Nearest(x, y, far); d.Edge >= 0 {
				best, far = k, d.Dist
			}
		}
		more[best] = append(more[best], e.area)
	}
	for k, i := range which {
		if len(more[k]) == 0 {
			continue
		}
		r, err := union(append(more[k], own[k]))
		if err != nil {
			return err
		}
		w.setRegion(i, r, src)
	}
	return nil
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
	left, err := plane.Region{{Outer: reversed(h)}}.Offset(-width/2*0.99, plane.OffsetStyle{})
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
			add = append(add, extra{area, w.fromGrid(narrowest(spot).c)})
		}
		return w.addTo(which, add, src)
	}
	for _, p := range m.At {
		if h := holeAt(r, w.onGrid(vec(p))); h != nil {
			area, err := w.rimmed(plane.Region{{Outer: reversed(h)}})
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

// closing returns what closes a slot: the area within its balls' reach that
// growing and thinning again by half the width fills.
func (w *Work) closing(r plane.Region, spot []ball, width float64) (plane.Region, error) {
	near, err := patch(spot, width*1.2)
	if err != nil {
		return nil, err
	}
	local, err := patch(spot, width*4)
	if err != nil {
		return nil, err
	}
	if local, err = plane.Combine(r, local, plane.Intersect); err != nil {
		return nil, err
	}
	grown, err := w.offsetBy(local, width/2, "")
	if err != nil {
		return nil, err
	}
	if grown, err = w.offsetBy(grown, -width/2, ""); err != nil {
		return nil, err
	}
	gap, err := plane.Combine(grown, near, plane.Intersect)
	if err != nil {
		return nil, err
	}
	return w.rimmed(gap)
}

// rimmed returns an area grown by a few grid units. What was cut from a shape
// has its points beside the shape's edges by a rounding; without a rim slivers
// of no width would be left along them.
func (w *Work) rimmed(r plane.Region) (plane.Region, error) { return w.offsetBy(r, 8, "mitre") }

func reversed(l plane.Loop) plane.Loop {
	out := slices.Clone(l)
	slices.Reverse(out)
	return out
}

// bridge adds a bar of the width MM[0] from At[0] to At[1] to the nearest of
// the shapes. It must join two pieces, or close a touch at a point, and may not
// run over a hole on its way.
func bridge(w *Work, m *recipe.Mend) error {
	which, r, src, err := w.together(m)
	if err != nil {
		return err
	}
	if !(m.MM[0] > 0) {
		return refuse("a bridge needs a width above nothing")
	}
	ax, ay := w.toGrid(vec(m.At[0]))
	bx, by := w.toGrid(vec(m.At[1]))
	a, b := geom.Vec{X: ax, Y: ay}, geom.Vec{X: bx, Y: by}
	bar := plane.Region{{Outer: capsule(a, b, w.units(m.MM[0])/2)}}
	if bar[0].Outer.Area2() < 0 {
		bar[0].Outer = reversed(bar[0].Outer)
	}
	joined, err := plane.Combine(r, bar, plane.Union)
	if err != nil {
		return err
	}
	holes := func(r plane.Region) (n int) {
		for _, p := range r {
			n += len(p.Holes)
		}
		return n
	}
	switch {
	case joined.Area2() == r.Area2():
		return refuse("the bridge lies wholly within the shape; it would change nothing")
	case m.How == "free":
	case len(joined) >= len(r) && holes(joined) >= holes(r) && !touching(r, a, b, w.units(m.MM[0])):
		if holes(joined) > holes(r) {
			return refuse("the bridge would cross a hole; choose ends with nothing but a gap between them")
		}
		return refuse("the bridge does not reach from one piece to another")
	}
	if len(which) == 2 && w.mergeable(which[0], which[1]) {
		top := max(which[0], which[1])
		w.Sheet.Shapes[top], w.Color[top] = w.Sheet.Shapes[which[0]], w.Color[which[0]]
		w.setRegion(top, joined, src)
		w.remove(min(which[0], which[1]))
		return nil
	}
	return w.addTo(which, []extra{{bar, vec(m.At[0])}}, src)
}

// mergeable reports whether two filled shapes of one colour may become one in
// the place of the upper: nothing between them lies on the lower.
func (w *Work) mergeable(i, j int) bool {
	i, j = min(i, j), max(i, j)
	if w.Color[i] != w.Color[j] || w.Sheet.Shapes[i].Stroke != nil || w.Sheet.Shapes[j].Stroke != nil {
		return false
	}
	box := w.Sheet.Shapes[i].Box()
	for k := i + 1; k < j; k++ {
		if w.In[k] && w.Color[k] != w.Color[i] && w.Sheet.Shapes[k].Box().Overlaps(box) {
			return false
		}
	}
	return true
}

// touching reports whether a bar closes a place where outlines touch.
func touching(r plane.Region, a, b geom.Vec, width float64) bool {
	return a.Sub(b).Len() <= width && r.Touches()
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

// blunt rounds the tips at At with the radius MM[0], or cuts them flat there
// (How "flat").
func blunt(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	radius := w.units(m.MM[0])
	if !(radius > 0) {
		return refuse("a tip is blunted by a radius above nothing")
	}
	done := false
	for _, at := range m.At {
		err := w.bluntOne(which, w.onGrid(vec(at)), radius, m.How)
		var no *Refusal
		if errors.As(err, &no) && no.Lost && len(m.At) > 1 {
			continue
		}
		if err != nil {
			return err
		}
		done = true
	}
	if !done {
		return lost("the tip")
	}
	return nil
}

func (w *Work) bluntOne(which []int, p plane.Point, radius float64, how string) error {
	for _, i := range which {
		src := newSources()
		r, err := w.region(i, src)
		if err != nil {
			return err
		}
		if !hasPoint(r, p) {
			continue
		}
		off, err := w.tipBeyond(r, p, radius)
		if err != nil {
			return err
		}
		if len(off) == 0 {
			return refuse("the tip is blunter than that already")
		}
		if how == "flat" {
			if off, err = flatTip(r, off, p, radius); err != nil {
				return err
			}
		}
		if off, err = w.rimmed(off); err != nil {
			return err
		}
		left, err := plane.Combine(r, off, plane.Subtract)
		if err != nil {
			return err
		}
		if len(left) == 0 {
			return refuse("nothing would be left of %s; use a smaller radius", nameOf(&w.Sheet.Shapes[i]))
		}
		w.setRegion(i, left, src)
		return nil
	}
	return lost("the tip")
}

// hasPoint reports whether a region has a vertex within a few grid units of p.
func hasPoint(r plane.Region, p plane.Point) bool {
	found := false
	r.Loops(func(l plane.Loop) {
		for _, q := range l {
			if abs(q.X-p.X) < 8 && abs(q.Y-p.Y) < 8 {
				found = true
			}
		}
	})
	return found
}

func abs(v int32) int32 { return max(v, -v) }

// tipBeyond returns what of a region lies around the tip p and where no ball of
// the radius reaches: opening by the radius, looked at near the tip alone.
func (w *Work) tipBeyond(r plane.Region, p plane.Point, radius float64) (plane.Region, error) {
	// A tip of 2 degrees is cut 57 radii from its point.
	near := plane.Region{{Outer: disc(vecOf(p), radius*80)}}
	local, err := plane.Combine(r, near, plane.Intersect)
	if err != nil {
		return nil, err
	}
	for _, poly := range local {
		piece := plane.Region{poly}
		if !hasPoint(piece, p) {
			continue
		}
		open, err := w.offsetBy(piece, -radius, "")
		if err != nil {
			return nil, err
		}
		// A little more than it was thinned by, lest roundings leave slivers
		// along the sides.
		if open, err = w.offsetBy(open, radius+4, ""); err != nil {
			return nil, err
		}
		rest, err := plane.Combine(piece, open, plane.Subtract)
		if err != nil {
			return nil, err
		}
		for _, q := range rest {
			if hasPoint(plane.Region{q}, p) {
				return plane.Region{q}, nil
			}
		}
	}
	return nil, nil
}

// flatTip returns what a straight cut takes off a tip, of which off is the part
// that rounding would take: beyond where its sides are two radii apart.
func flatTip(r, off plane.Region, p plane.Point, radius float64) (plane.Region, error) {
	tip := vecOf(p)
	far := 0.0
	for _, q := range off[0].Outer {
		far = math.Max(far, vecOf(q).Sub(tip).Len())
	}
	mid, n := geom.Vec{}, 0.0
	for _, q := range off[0].Outer {
		if vecOf(q).Sub(tip).Len() > far*0.9 {
			mid, n = mid.Add(vecOf(q)), n+1
		}
	}
	dir := mid.Mul(1 / n).Sub(tip).Unit()
	side := dir.Left().Mul(2*radius + far)
	a, back := tip.Add(dir.Mul(far)), tip.Sub(dir.Mul(far))
	box := plane.Loop{}
	for _, v := range [4]geom.Vec{a.Add(side), back.Add(side), back.Sub(side), a.Sub(side)} {
		box = append(box, plane.Point{X: int32(math.Round(v.X)), Y: int32(math.Round(v.Y))})
	}
	if box.Area2() < 0 {
		box = reversed(box)
	}
	cut, err := plane.Combine(r, plane.Region{{Outer: box}}, plane.Intersect)
	if err != nil {
		return nil, err
	}
	for _, q := range cut {
		if hasPoint(plane.Region{q}, p) {
			return plane.Region{q}, nil
		}
	}
	return off, nil
}
