package raise

import (
	"cmp"
	"math"
	"slices"

	"bildhauer/core/plane"
)

// sliver is the height of a triangle, in grid units, below which it goes to its neighbour:
// half a millionth of half the size.
const sliver = 8

// needle is how much longer than high a triangle of one is.
const needle = 8

// absorb gives slivers to the area beyond their longest side: between edges that are all
// but the same nothing of its own can stand, and needles have no end to be cut off. They have the
// column of the triangle that they belong to, by way of other slivers if need be.
func (o *overlay) absorb() {
	o.lead = make([]int32, o.ar.Triangles())
	var slivers []int32
	for k := range o.ar.Triangles() {
		o.lead[k] = k
		v, label := o.ar.Triangle(k)
		if label >= firstPost {
			continue
		}
		if high, _ := o.shape(k); high < sliver || high < float64(gap) && o.givesWay(v) {
			slivers = append(slivers, k)
			o.lead[k] = -1
		}
	}
	for last := -1; len(slivers) != last; {
		last = len(slivers)
		slivers = o.follow(slivers)
	}
	for _, k := range slivers { // nothing but slivers and posts around
		o.lead[k] = k
	}
}

// follow gives slivers to neighbours that belong somewhere, by the longest side where one does, else by
// the next, and returns those that are left.
func (o *overlay) follow(slivers []int32) (left []int32) {
	for rank := 0; rank < 3 && len(left) == 0; rank++ {
		type step struct{ k, lead int32 }
		var steps []step // all at once: the order of triangles decides nothing
		for _, k := range slivers {
			n, _ := o.ar.Across(k, o.longest(k)[rank])
			if n < 0 || o.lead[n] < 0 {
				continue
			}
			if _, label := o.ar.Triangle(n); label < firstPost {
				steps = append(steps, step{k, o.lead[n]})
			}
		}
		for _, s := range steps {
			_, label := o.ar.Triangle(s.lead)
			o.ar.Relabel(s.k, label)
			o.lead[s.k] = s.lead
		}
		if len(steps) > 0 {
			for _, k := range slivers {
				if o.lead[k] < 0 {
					left = append(left, k)
				}
			}
			return left
		}
	}
	return slivers
}

// longest returns the sides of a triangle, the longest first.
func (o *overlay) longest(k int32) [3]int {
	v, _ := o.ar.Triangle(k)
	var long [3]float64
	for i := range v {
		p, q := o.ar.Point(v[i]), o.ar.Point(v[(i+1)%3])
		long[i] = math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y))
	}
	sides := [3]int{0, 1, 2}
	slices.SortFunc(sides[:], func(a, b int) int {
		switch {
		case long[a] > long[b]:
			return -1
		case long[a] < long[b]:
			return 1
		}
		return a - b
	})
	return sides
}

// shape returns how high a triangle is over its longest side, and how long that is.
func (o *overlay) shape(k int32) (high, long float64) {
	v, _ := o.ar.Triangle(k)
	var at [3]plane.Point
	for i := range v {
		at[i] = o.ar.Point(v[i])
	}
	for i := range v {
		p, q := at[i], at[(i+1)%3]
		long = math.Max(long, math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y)))
	}
	return float64(plane.Orient(at[0], at[1], at[2])) / long, long
}

// slimAround lets the triangles of needles around a point give way that are lower than what else is cut
// apart in points, and reports whether there are any that did not yet: where a needle ends in a point, a
// post would be as narrow as it.
func (o *overlay) slimAround(v int32) (found bool) {
	todo := []int32{v}
	for len(todo) > 0 {
		v, todo = todo[len(todo)-1], todo[:len(todo)-1]
		p := o.ar.Point(v)
		if o.slim[p] {
			continue
		}
		some := false
		o.ar.Star(v, func(k int32) {
			t, label := o.ar.Triangle(k)
			if label >= firstPost {
				return
			}
			if high, long := o.shape(k); high < float64(gap) && long > needle*high {
				some = true
				todo = append(todo, t[0], t[1], t[2])
			}
		})
		if some {
			found, o.slim[p] = true, true
		}
	}
	return found
}

// givesWay reports whether a corner of a triangle is where needles give way.
func (o *overlay) givesWay(v [3]int32) bool {
	if len(o.slim) == 0 {
		return false
	}
	return slices.ContainsFunc(v[:], func(u int32) bool { return o.slim[o.ar.Point(u)] })
}

// yielding is how low a triangle must be, in grid units, to give way where posts did not help: a
// hundredth of a millimetre where a piece is 100 mm wide.
const yielding = 3200

// turns is how often a triangle may: to one side of a point, to the other, and once more beside another
// point.
const turns = 3

// yield lets the lowest triangle at each point at which something touches have the column beside it, of
// those that did so least often. That ends, as each may do so a few times; the point is one at which
// none may.
func (o *overlay) yield(touching []int32) (at int32, stuck bool) {
	if o.turns == nil {
		o.turns = make([]uint8, len(o.lead))
	}
	for _, v := range touching {
		list := o.low(v)
		k := slices.IndexFunc(list, func(k int32) bool { return o.leadOn(k, v) })
		if k < 0 {
			return v, true
		}
		o.turns[list[k]]++
	}
	return 0, false
}

// low returns the triangles around a point that may give way, those first that did so least often, and
// of these the lowest.
func (o *overlay) low(v int32) (list []int32) {
	high := map[int32]float64{}
	o.ar.Star(v, func(k int32) {
		if _, label := o.ar.Triangle(k); (label < firstPost || o.lead[k] != k) && o.turns[k] < turns {
			if high[k], _ = o.shape(k); high[k] < yielding {
				list = append(list, k)
			}
		}
	})
	slices.SortStableFunc(list, func(a, b int32) int {
		return cmp.Or(int(o.turns[a])-int(o.turns[b]), cmp.Compare(high[a], high[b]))
	})
	return list
}

// leadOn gives triangle k the column beyond the longer of its sides at v that has another one.
func (o *overlay) leadOn(k, v int32) bool {
	j := o.corner(k, v)
	for _, side := range o.longest(k) {
		if side == (j+1)%3 {
			continue
		}
		n, _ := o.ar.Across(k, side)
		for n >= 0 && o.lead[n] != n {
			n = o.lead[n]
		}
		if n < 0 || n == o.lead[k] {
			continue
		}
		_, label := o.ar.Triangle(n)
		led := o.lead[k] == k // others may follow it
		for m := range o.lead {
			if m == int(k) || led && o.lead[m] == k {
				o.lead[m] = n
				o.ar.Relabel(int32(m), label)
			}
		}
		return true
	}
	return false
}
