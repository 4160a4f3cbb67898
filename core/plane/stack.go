package plane

import (
	"math/bits"
	"slices"

	"bildhauer/core/parallel"
)

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

// newStackRule numbers the sources and adds their loops to ar, numbered from first.
func newStackRule(layers []Layer, ar *Arrangement, first int32) *stackRule {
	s := &stackRule{layers: layers, shut: make([]int32, len(layers))}
	for i, l := range layers {
		s.rules = append(s.rules, l.Rule)
		for _, lp := range l.Loops {
			ar.AddLoop(first+int32(i), lp)
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
						ar.AddLoop(first+int32(len(s.rules)), lp)
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
// (see Arrangement); it is asked from several goroutines.
func Stack(layers []Layer, stop func() bool) (map[int32]Region, error) {
	return groupwise(layers, func(group []Layer) (map[int32]Region, error) { return stackGroup(group, stop) })
}

// groupwise resolves groups of layers that lie apart, each by itself.
func groupwise(layers []Layer, one func([]Layer) (map[int32]Region, error)) (map[int32]Region, error) {
	groups := groupsOf(layers)
	if len(groups) == 1 {
		return one(groups[0])
	}
	found := make([]map[int32]Region, len(groups))
	err := parallel.Each(len(groups), func(i int) (err error) {
		found[i], err = one(groups[i])
		return err
	})
	if err != nil {
		return nil, err
	}
	all := map[int32]Region{}
	for _, f := range found {
		for label, r := range f {
			all[label] = append(all[label], r...)
		}
	}
	for _, r := range all {
		slices.SortFunc(r, func(a, b Polygon) int { return compareLoops(a.Outer, b.Outer) })
	}
	return all, nil
}

// groupsOf parts layers where their loops lie apart. Layers with clips stay
// together, since what clips them may lie elsewhere.
func groupsOf(layers []Layer) [][]Layer {
	var loops []Loop
	for _, l := range layers {
		if len(l.Clips) > 0 {
			return [][]Layer{layers}
		}
		for _, lp := range l.Loops {
			if len(lp) > 0 {
				loops = append(loops, lp)
			}
		}
	}
	set, n := clusters(loops)
	if n < 2 {
		return [][]Layer{layers}
	}
	groups := make([][]Layer, n)
	last := make([]int, n) // layer that a group's last one comes from, +1
	at := 0
	for i, l := range layers {
		for _, lp := range l.Loops {
			if len(lp) == 0 {
				continue
			}
			k := set[at]
			at++
			if last[k] != i+1 {
				last[k] = i + 1
				groups[k] = append(groups[k], Layer{Rule: l.Rule, Label: l.Label})
			}
			top := &groups[k][len(groups[k])-1]
			top.Loops = append(top.Loops, lp)
		}
	}
	return groups
}

// unclipped reports whether the layers have one label and no clips.
func unclipped(layers []Layer) bool {
	for _, l := range layers {
		if l.Label != layers[0].Label || len(l.Clips) > 0 {
			return false
		}
	}
	return len(layers) > 0
}

// stackGroup is Stack for layers that may overlap.
func stackGroup(layers []Layer, stop func() bool) (map[int32]Region, error) {
	if stop != nil && stop() {
		return nil, ErrStopped
	}
	if unclipped(layers) {
		if r, ok := unionSimple(layers); ok {
			if len(r) == 0 {
				return nil, nil
			}
			return map[int32]Region{layers[0].Label: r}, nil
		}
	}
	return stackTogether(layers, stop)
}

// stackTogether is Stack by one arrangement of all layers.
func stackTogether(layers []Layer, stop func() bool) (map[int32]Region, error) {
	ar := NewArrangement()
	ar.Stop = stop
	rule := newStackRule(layers, ar, 0)
	if some, err := ar.resolved(rule); !some {
		return nil, err
	}
	defer ar.Release()
	return ar.Regions(), nil
}
