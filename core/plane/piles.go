package plane

import (
	"math/bits"
	"slices"
)

// Pile is all places of a stack at which the same layers lie.
type Pile struct {
	Layers []int32 // that show there, the topmost first; of more than asked for the topmost ones
	Area2  int64   // twice the area, units squared
}

// Piles returns what lies on what in a stack of layers, no more than deepest of them at each
// place, in an order that depends on the layers alone. Labels do not count. It returns the
// errors of Arrangement.
func Piles(layers []Layer, deepest int, stop func() bool) ([]Pile, error) {
	ar := NewArrangement()
	ar.Stop = stop
	rule := &pileRule{stack: newStackRule(layers, ar, 0), deepest: deepest, known: map[uint64]int32{}}
	if some, err := ar.resolved(rule); !some {
		return nil, err
	}
	defer ar.Release()
	for k := range ar.Triangles() {
		v, label := ar.Triangle(k)
		if label > 0 {
			rule.piles[label-1].Area2 += Orient(ar.Point(v[0]), ar.Point(v[1]), ar.Point(v[2]))
		}
	}
	slices.SortFunc(rule.piles, func(a, b Pile) int { return slices.Compare(a.Layers, b.Layers) })
	return rule.piles, nil
}

// pileRule labels each face by the layers that show in it: those of equal labels have the
// same topmost layers.
type pileRule struct {
	stack   *stackRule
	deepest int
	known   map[uint64]int32 // hash of the topmost layers -> label
	piles   []Pile           // by label, from 1
	top     []int32
}

func (p *pileRule) Cross(src, delta int32) { p.stack.Cross(src, delta) }

func (p *pileRule) Label() int32 {
	p.top = p.stack.topmost(p.top[:0], p.deepest)
	if len(p.top) == 0 {
		return 0
	}
	h := uint64(len(p.top))
	for _, l := range p.top {
		h = mix(h ^ uint64(l+1)*0x9E3779B97F4A7C15)
	}
	for ; ; h++ { // another list may have the same hash
		label, ok := p.known[h]
		if !ok {
			p.piles = append(p.piles, Pile{Layers: slices.Clone(p.top)})
			p.known[h] = int32(len(p.piles))
			return p.known[h]
		}
		if slices.Equal(p.piles[label-1].Layers, p.top) {
			return label
		}
	}
}

// topmost adds the layers that show in the face at hand, from the top, until there are n.
func (s *stackRule) topmost(out []int32, n int) []int32 {
	if levels := len(s.upper); levels > 0 {
		return s.within(out, n, levels-1, 0, len(s.upper[levels-1]))
	}
	return s.words(out, n, 0, len(s.in))
}

// within adds what shows in the words from to to of a level of bits.
func (s *stackRule) within(out []int32, n, level, from, to int) []int32 {
	for at := to - 1; at >= from && len(out) < n; at-- {
		for w := s.upper[level][at]; w != 0 && len(out) < n; {
			bit := 63 - bits.LeadingZeros64(w)
			w &^= 1 << bit
			below := at<<6 + bit
			if level > 0 {
				out = s.within(out, n, level-1, below, below+1)
			} else {
				out = s.words(out, n, below, below+1)
			}
		}
	}
	return out
}

// words adds the layers of the words from to to.
func (s *stackRule) words(out []int32, n, from, to int) []int32 {
	for at := to - 1; at >= from; at-- {
		for w := s.in[at]; w != 0 && len(out) < n; {
			bit := 63 - bits.LeadingZeros64(w)
			w &^= 1 << bit
			out = append(out, int32(at<<6+bit))
		}
	}
	return out
}
