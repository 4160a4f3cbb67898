package plane

import (
	"cmp"
	"math"
	"slices"
)

// Change is where one label of a stack became another; 0 is none.
type Change struct {
	From, To int32
	Where    Region
}

// Changes returns where two stacks differ in what is seen of them, by labels, in their order. stop is as in
// Stack. It returns the errors of Arrangement.
func Changes(before, after []Layer, stop func() bool) ([]Change, error) {
	ar := NewArrangement()
	ar.Stop = stop
	rule := &changeRule{known: map[[2]int32]int32{}}
	rule.before = newStackRule(before, ar, 0)
	rule.sources = int32(len(rule.before.rules))
	rule.after = newStackRule(after, ar, rule.sources)
	if some, err := ar.resolved(rule); !some {
		return nil, err
	}
	defer ar.Release()
	var out []Change
	for label, r := range ar.Regions() {
		pair := rule.pairs[label-1]
		out = append(out, Change{pair[0], pair[1], r})
	}
	slices.SortFunc(out, func(a, b Change) int { return cmp.Or(cmp.Compare(a.From, b.From), cmp.Compare(a.To, b.To)) })
	return out, nil
}

// changeRule labels each face by the pair of labels that two stacks have there, if these differ.
type changeRule struct {
	before, after *stackRule
	sources       int32 // of the first stack
	known         map[[2]int32]int32
	pairs         [][2]int32 // by label, from 1
}

func (c *changeRule) Cross(src, delta int32) {
	if src < c.sources {
		c.before.Cross(src, delta)
	} else {
		c.after.Cross(src-c.sources, delta)
	}
}

func (c *changeRule) Label() int32 {
	pair := [2]int32{c.before.Label(), c.after.Label()}
	if pair[0] == pair[1] {
		return 0
	}
	n, ok := c.known[pair]
	if !ok {
		c.pairs = append(c.pairs, pair)
		n = int32(len(c.pairs))
		c.known[pair] = n
	}
	return n
}

// Cropped returns a loop cut at the sides of a box, along which it runs on (Sutherland and Hodgman 1974): within
// the box its winding numbers are those of the loop. An edge is cut in the same points whatever loop it is of.
func (l Loop) Cropped(lo, hi Point) Loop {
	inside := true
	for _, p := range l {
		inside = inside && p.X >= lo.X && p.X <= hi.X && p.Y >= lo.Y && p.Y <= hi.Y
	}
	if inside {
		return l
	}
	for side := range 4 {
		l = l.cropped(side, lo, hi)
	}
	return l
}

func (l Loop) cropped(side int, lo, hi Point) Loop {
	beyond := func(p Point) int64 { // how far outside
		switch side {
		case 0:
			return int64(lo.X) - int64(p.X)
		case 1:
			return int64(p.X) - int64(hi.X)
		case 2:
			return int64(lo.Y) - int64(p.Y)
		}
		return int64(p.Y) - int64(hi.Y)
	}
	var out Loop
	for i, p := range l {
		q := l[(i+1)%len(l)]
		a, b := beyond(p), beyond(q)
		if a <= 0 {
			out = append(out, p)
		}
		if a > 0 != (b > 0) {
			out = append(out, crossingAt(p, q, side, lo, hi))
		}
	}
	return out
}

// crossingAt returns where an edge crosses a side of a box, the same for both ways along it.
func crossingAt(p, q Point, side int, lo, hi Point) Point {
	if q.X < p.X || q.X == p.X && q.Y < p.Y {
		p, q = q, p
	}
	at := [4]int32{lo.X, hi.X, lo.Y, hi.Y}[side]
	if side < 2 {
		return Point{at, along(p.X, q.X, p.Y, q.Y, at)}
	}
	return Point{along(p.Y, q.Y, p.X, q.X, at), at}
}

// along returns v at u = at of the line from (u0, v0) to (u1, v1), rounded.
func along(u0, u1, v0, v1, at int32) int32 {
	share := float64(int64(at)-int64(u0)) / float64(int64(u1)-int64(u0))
	return v0 + int32(math.Round(share*float64(int64(v1)-int64(v0))))
}
