package plane

import (
	"math/bits"
	"slices"
)

// Loop is a closed run of points without a repeated last point.
type Loop []Point

// Polygon is one connected area: an outer loop, counter-clockwise, and its
// holes, clockwise. What lies inside a hole is another Polygon.
type Polygon struct {
	Outer Loop
	Holes []Loop
}

// Region is a set of polygons with disjoint interiors.
type Region []Polygon

// Area2 returns twice the signed area.
func (l Loop) Area2() int64 {
	var a int64
	for i, p := range l {
		q := l[(i+1)%len(l)]
		a += int64(p.X)*int64(q.Y) - int64(q.X)*int64(p.Y)
	}
	return a
}

// Area2 returns twice the area covered.
func (r Region) Area2() int64 {
	var a int64
	for _, p := range r {
		a += p.Area2()
	}
	return a
}

// Area2 returns twice the area covered.
func (p Polygon) Area2() int64 {
	a := p.Outer.Area2()
	for _, h := range p.Holes {
		a += h.Area2()
	}
	return a
}

// Edges returns the number of edges of all loops.
func (r Region) Edges() int {
	n := 0
	r.Loops(func(l Loop) { n += len(l) })
	return n
}

// Loops calls f for every loop.
func (r Region) Loops(f func(Loop)) {
	for _, p := range r {
		f(p.Outer)
		for _, h := range p.Holes {
			f(h)
		}
	}
}

// Bounds returns the smallest box around the region; ok is false when it is
// empty.
func (r Region) Bounds() (lo, hi Point, ok bool) {
	lo, hi = Point{1 << 30, 1 << 30}, Point{-1 << 30, -1 << 30}
	for _, p := range r {
		for _, q := range p.Outer {
			lo.X, lo.Y = min(lo.X, q.X), min(lo.Y, q.Y)
			hi.X, hi.Y = max(hi.X, q.X), max(hi.Y, q.Y)
			ok = true
		}
	}
	return lo, hi, ok
}

// Regions returns, for every label but 0, the region of the faces that carry
// it. A loop that meets itself or another in a point is traced so that each
// polygon's inside stays connected; the shared point is then kept in all
// loops that visit it (see Separate). Loops begin at their first point in the
// order of Less, polygons and holes are sorted by it.
func (ar *Arrangement) Regions() map[int32]Region {
	t := ar.t
	comp := make([]int32, len(t.tris))
	var labels []int32 // of each component, from 1
	var flood []int32
	for k := range t.tris {
		label := t.tris[k].tag
		if label == 0 || comp[k] != 0 {
			continue
		}
		labels = append(labels, label)
		c := int32(len(labels))
		comp[k] = c
		flood = append(flood[:0], int32(k))
		for len(flood) > 0 {
			k := flood[len(flood)-1]
			flood = flood[:len(flood)-1]
			for _, o := range t.tris[k].twin {
				if o >= 0 && comp[o>>2] == 0 && t.tris[o>>2].tag == label {
					comp[o>>2] = c
					flood = append(flood, o>>2)
				}
			}
		}
	}
	border := func(e int32) bool {
		o := t.twin(e)
		return o < 0 || t.tris[o>>2].tag != t.tris[e>>2].tag
	}
	// Walk every border once, with the inside on the left.
	type traced struct {
		comp int32
		ids  []int32
	}
	var all []traced
	var pool []int32
	done := make([]uint64, len(t.tris)*4/64+1)
	for k := range t.tris {
		if t.tris[k].tag == 0 {
			continue
		}
		for i := int32(0); i < 3; i++ {
			e := int32(k)<<2 | i
			if done[e>>6]>>(e&63)&1 != 0 || !border(e) {
				continue
			}
			from := len(pool)
			for h := e; ; {
				done[h>>6] |= 1 << (h & 63)
				pool = append(pool, t.org(h))
				h = next(h)
				for !border(h) {
					h = next(t.twin(h))
				}
				if h == e {
					break
				}
			}
			all = append(all, traced{comp[k], pool[from:len(pool):len(pool)]})
		}
	}
	slices.SortStableFunc(all, func(a, b traced) int { return int(labels[a.comp-1]) - int(labels[b.comp-1]) })
	visits := make([]uint8, len(t.pts))
	out := map[int32]Region{}
	polys := make([]Polygon, len(labels))
	for i := 0; i < len(all); {
		label := labels[all[i].comp-1]
		j := i
		for ; j < len(all) && labels[all[j].comp-1] == label; j++ {
			for _, v := range all[j].ids {
				visits[v] = min(visits[v]+1, 2)
			}
		}
		for _, tr := range all[i:j] {
			l := ar.loopOf(tr.ids, visits)
			p := &polys[tr.comp-1]
			if l.Area2() > 0 {
				p.Outer = l
			} else {
				p.Holes = append(p.Holes, l)
			}
		}
		for _, tr := range all[i:j] {
			for _, v := range tr.ids {
				visits[v] = 0
			}
		}
		i = j
	}
	for c, p := range polys {
		slices.SortFunc(p.Holes, compareLoops)
		out[labels[c]] = append(out[labels[c]], p)
	}
	for _, r := range out {
		slices.SortFunc(r, func(a, b Polygon) int { return compareLoops(a.Outer, b.Outer) })
	}
	return out
}

func compareLoops(a, b Loop) int {
	for i := range min(len(a), len(b)) {
		if c := comparePoints(a[i], b[i]); c != 0 {
			return c
		}
	}
	return len(a) - len(b)
}

// loopOf drops points in the middle of straight runs, unless another loop
// meets there, and rotates the loop to its first point.
func (ar *Arrangement) loopOf(ids []int32, visits []uint8) Loop {
	pts := ar.t.pts
	l := make(Loop, 0, len(ids))
	n := len(ids)
	for i, v := range ids {
		p := pts[v]
		if visits[v] < 2 {
			a, b := pts[ids[(i+n-1)%n]], pts[ids[(i+1)%n]]
			if Orient(a, p, b) == 0 && dotAt(p, a, b) < 0 {
				continue
			}
		}
		l = append(l, p)
	}
	return l.canonical()
}

func (l Loop) canonical() Loop {
	first := 0
	n := len(l)
	for i := 1; i < n; i++ {
		c := comparePoints(l[i], l[first])
		if c < 0 || c == 0 && comparePoints(l[(i+1)%n], l[(first+1)%n]) < 0 {
			first = i
		}
	}
	if first == 0 {
		return slices.Clip(l)
	}
	out := make(Loop, 0, n)
	return append(append(out, l[first:]...), l[:first]...)
}

// FillRule says which winding numbers are inside.
type FillRule uint8

// The two rules of vector graphics, and the one for offset curves.
const (
	NonZero FillRule = iota
	EvenOdd
	Positive
)

// Inside reports whether winding number w is inside under the rule.
func (f FillRule) Inside(w int32) bool {
	switch f {
	case EvenOdd:
		return w&1 != 0
	case Positive:
		return w > 0
	}
	return w != 0
}

type fillOne struct {
	rule FillRule
	w    int32
}

func (f *fillOne) Cross(_, delta int32) { f.w += delta }
func (f *fillOne) Label() int32 {
	if f.rule.Inside(f.w) {
		return 1
	}
	return 0
}

// Fill returns the region that the loops enclose together under a rule.
func Fill(loops []Loop, rule FillRule) (Region, error) {
	ar := NewArrangement()
	for _, l := range loops {
		ar.AddLoop(0, l)
	}
	return ar.fill(rule)
}

func (ar *Arrangement) fill(rule FillRule) (Region, error) {
	if len(ar.segs) == 0 {
		return nil, nil
	}
	if err := ar.Build(); err != nil {
		return nil, err
	}
	defer ar.Release()
	ar.Classify(&fillOne{rule: rule})
	return ar.Regions()[1], nil
}

// Op is a boolean operation on two regions.
type Op uint8

// The operations.
const (
	Union Op = iota
	Intersect
	Subtract
	Xor
)

type booleanRule struct {
	op Op
	w  [2]int32
}

func (b *booleanRule) Cross(s, delta int32) { b.w[s] += delta }
func (b *booleanRule) Label() int32 {
	p, q := b.w[0] != 0, b.w[1] != 0
	in := false
	switch b.op {
	case Union:
		in = p || q
	case Intersect:
		in = p && q
	case Subtract:
		in = p && !q
	case Xor:
		in = p != q
	}
	if in {
		return 1
	}
	return 0
}

// Combine returns a op b.
func Combine(a, b Region, op Op) (Region, error) {
	ar := NewArrangement()
	ar.AddRegion(0, a)
	ar.AddRegion(1, b)
	if len(ar.segs) == 0 {
		return nil, nil
	}
	if err := ar.Build(); err != nil {
		return nil, err
	}
	defer ar.Release()
	ar.Classify(&booleanRule{op: op})
	return ar.Regions()[1], nil
}

// Layer is one shape of a stack painted bottom to top.
type Layer struct {
	Loops []Loop
	Rule  FillRule
	Label int32   // > 0; layers of one label are one region
	Clips []*Area // the layer shows only inside all of these
}

// Area is the union of several fills, or all but that. Layers share areas by
// pointer.
type Area struct {
	Fills   []AreaFill
	Outside bool
}

// AreaFill is one fill of an area.
type AreaFill struct {
	Loops []Loop
	Rule  FillRule
}

// stackRule labels each face by the topmost layer that covers it.
type stackRule struct {
	layers  []Layer
	w       []int32 // winding of each source: the layers, then the fills of areas
	rules   []FillRule
	area    []int32   // of each source after the layers: its area
	covers  []int32   // of each area: how many of its fills cover the face
	outside []bool    // of each area: it means all but its fills
	clipped [][]int32 // of each area: the layers that it clips
	shut    []int32   // of each layer: how many of its areas do not cover the face

	in    []uint64   // bit per layer: does it show in the face?
	upper [][]uint64 // bit per word of the level below that is not zero
}

// newStackRule numbers the sources and adds their loops to ar.
func newStackRule(layers []Layer, ar *Arrangement) *stackRule {
	s := &stackRule{layers: layers, shut: make([]int32, len(layers))}
	for i, l := range layers {
		s.rules = append(s.rules, l.Rule)
		for _, lp := range l.Loops {
			ar.AddLoop(int32(i), lp)
		}
	}
	number := map[*Area]int32{}
	for i, l := range layers {
		for _, a := range l.Clips {
			n, ok := number[a]
			if !ok {
				n = int32(len(s.covers))
				number[a] = n
				s.covers = append(s.covers, 0)
				s.outside = append(s.outside, a.Outside)
				s.clipped = append(s.clipped, nil)
				for _, f := range a.Fills {
					for _, lp := range f.Loops {
						ar.AddLoop(int32(len(s.rules)), lp)
					}
					s.rules = append(s.rules, f.Rule)
					s.area = append(s.area, n)
				}
			}
			s.clipped[n] = append(s.clipped[n], int32(i))
			if !a.Outside {
				s.shut[i]++
			}
		}
	}
	s.w = make([]int32, len(s.rules))
	s.in = make([]uint64, len(layers)/64+1)
	for n := len(s.in); n > 1; n = n/64 + 1 {
		s.upper = append(s.upper, make([]uint64, n/64+1))
	}
	return s
}

func (s *stackRule) Cross(src, delta int32) {
	rule := s.rules[src]
	was := rule.Inside(s.w[src])
	s.w[src] += delta
	is := rule.Inside(s.w[src])
	switch n := int32(len(s.layers)); {
	case is == was:
	case src < n:
		s.show(src, is && s.shut[src] == 0)
	default:
		a := s.area[src-n]
		open := s.covers[a] > 0 != s.outside[a]
		if is {
			s.covers[a]++
		} else {
			s.covers[a]--
		}
		if now := s.covers[a] > 0 != s.outside[a]; now != open {
			for _, l := range s.clipped[a] {
				if now {
					s.shut[l]--
				} else {
					s.shut[l]++
				}
				if s.rules[l].Inside(s.w[l]) {
					s.show(l, s.shut[l] == 0)
				}
			}
		}
	}
}

// show notes whether layer i shows in the face at hand.
func (s *stackRule) show(i int32, on bool) {
	words, k := s.in, int(i)
	for l := 0; ; l++ {
		if on {
			words[k>>6] |= 1 << (k & 63)
		} else if words[k>>6] &^= 1 << (k & 63); words[k>>6] != 0 {
			return
		}
		if l == len(s.upper) {
			return
		}
		words, k = s.upper[l], k>>6
	}
}

func (s *stackRule) Label() int32 {
	at := 0
	if n := len(s.upper); n > 0 {
		top := s.upper[n-1]
		at = len(top) - 1
		for at >= 0 && top[at] == 0 {
			at--
		}
		if at < 0 {
			return 0
		}
		for l := n - 1; l >= 0; l-- {
			at = at<<6 + 63 - bits.LeadingZeros64(s.upper[l][at])
		}
	}
	if s.in[at] == 0 {
		return 0
	}
	return s.layers[at<<6+63-bits.LeadingZeros64(s.in[at])].Label
}

// Stack returns, for each label, what remains visible of its layers when
// later layers cover earlier ones. Neighbouring regions share their border
// points exactly. With one label it is the union of the layers. stop may be nil
// (see Arrangement).
func Stack(layers []Layer, stop func() bool) (map[int32]Region, error) {
	ar := NewArrangement()
	ar.Stop = stop
	rule := newStackRule(layers, ar)
	if len(ar.segs) == 0 {
		return nil, nil
	}
	if err := ar.Build(); err != nil {
		return nil, err
	}
	defer ar.Release()
	ar.Classify(rule)
	return ar.Regions(), nil
}
