package mend

import (
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// owners tells to which shape a piece of outline belongs.
type owners struct {
	index *plane.SegmentIndex
	last  []int32 // number of the last edge of each shape
	shape []int
}

func (l *look) findOwners() *owners {
	o := &owners{}
	var loops []plane.Loop
	n := int32(0)
	for k := range l.taken {
		l.needed()
		l.region[k].Loops(func(lp plane.Loop) {
			loops = append(loops, lp)
			n += int32(len(lp))
			o.last, o.shape = append(o.last, n), append(o.shape, k)
		})
	}
	o.index = plane.NewLoopIndex(loops)
	return o
}

// of returns the shape (index in taken) on whose outline a point lies, -1 for
// none.
func (o *owners) of(p geom.Vec) int {
	f := o.index.Nearest(p.X, p.Y, 6)
	if f.Edge < 0 {
		return -1
	}
	e := o.index.Number(f.Edge)
	i, _ := slices.BinarySearch(o.last, e+1)
	return o.shape[i]
}

// all returns the shapes on whose outlines a loop runs.
func (o *owners) all(l plane.Loop) []int {
	var out []int
	for _, p := range l {
		if k := o.of(vecOf(p)); k >= 0 && !slices.Contains(out, k) {
			out = append(out, k)
		}
	}
	slices.Sort(out)
	return out
}
