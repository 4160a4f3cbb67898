package plane

import (
	"fmt"

	"bildhauer/core/units"
)

// mostCrossings bounds the points that crossings may add to an arrangement. Each takes some
// 100 bytes while it is built and 600 in the solid that comes of it.
const mostCrossings = 4_000_000

// foresight tells early what an arrangement is going to take. Edges come in rounds, each a random
// draw of all: what edges do to each other in pairs, crossing or overlapping, a share of s of them
// does s*s as often.
type foresight struct {
	budget int // splits and crossed triangles that are left
	splits int // so far
	given  int // points before the first edge
	runs   int
}

func newForesight(given, runs int) *foresight {
	return &foresight{budget: 2*mostCrossings + 20*runs, given: given, runs: runs}
}

// enoughMet is how often edges must have met before that is counted up: it is right to within a
// few per cent then.
const enoughMet = 2000

// split counts one piece of an edge, and reports whether that is still allowed.
func (f *foresight) split() bool {
	f.splits++
	f.budget--
	return f.budget >= 0
}

// look returns an error after a round if all edges would meet far too often; done have been put
// in, and there are so many points.
func (f *foresight) look(done, points int) error {
	share := float64(done) / float64(f.runs)
	all := func(met int) float64 {
		if met < enoughMet {
			return 0
		}
		return float64(met) / (share * share)
	}
	if n := all(points - f.given); n > 1.5*mostCrossings {
		return fmt.Errorf("%w, some %s times", ErrTooTangled, units.Count(roughly(n)))
	}
	// An edge that meets none is split once, and a crossing splits two in two. The rest overlap.
	if all(f.splits-done-4*(points-f.given)) > 3*mostCrossings+30*float64(f.runs) {
		return ErrTooTangled
	}
	return nil
}

// roughly rounds to two figures.
func roughly(n float64) int {
	unit := 1
	for n >= 100 {
		n /= 10
		unit *= 10
	}
	return int(n+0.5) * unit
}
