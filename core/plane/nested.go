package plane

import (
	"sync/atomic"

	"bildhauer/core/parallel"
)

// Nested reports whether the loops are simple, share no point with each other
// and wind about every point of the plane at most once, and never backwards:
// they bound a region whose loops touch nowhere. It is false as well when stop says so; nil never
// does.
func Nested(loops []Loop, stop func() bool) bool {
	for _, l := range loops {
		if len(l) == 0 {
			return false
		}
	}
	set, n := clusters(loops)
	groups := make([][]Loop, n)
	for i, l := range loops {
		groups[set[i]] = append(groups[set[i]], l)
	}
	var beyond atomic.Bool
	_ = parallel.Each(n, func(i int) error {
		if !beyond.Load() && !nestedGroup(groups[i], stop) {
			beyond.Store(true)
		}
		return nil
	})
	return !beyond.Load()
}

// nestedGroup is Nested for loops whose boxes meet.
func nestedGroup(loops []Loop, stop func() bool) bool {
	ar := NewArrangement()
	ar.Stop = stop
	points, edges := 0, 0
	for _, l := range loops {
		ar.AddLoop(0, l)
		points += len(l)
	}
	edges = len(ar.segs)
	if edges != points { // doubled points
		return false
	}
	if edges == 0 {
		return true
	}
	if ar.Build() != nil {
		return false
	}
	defer ar.Release()
	// A crossing makes a point, a point on an edge or a shared edge changes the
	// number of edges, a shared point lessens the number of points.
	if len(ar.t.pts) != points+frameVerts {
		return false
	}
	if ar.Edges() != edges {
		return false
	}
	r := &onceRule{}
	ar.Classify(r)
	return !r.beyond
}

// onceRule watches for winding numbers other than 0 and 1.
type onceRule struct {
	w      int32
	beyond bool
}

func (o *onceRule) Cross(_, delta int32) { o.w += delta }
func (o *onceRule) Label() int32 {
	o.beyond = o.beyond || o.w < 0 || o.w > 1
	return o.w
}
