package print

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// way returns how long a tour is between its stops.
func wayOf(from geom.Vec, stops []stop, list []visit) (sum float64) {
	for _, t := range list {
		in, out := ends(stops, t)
		sum += in.Sub(from).Len()
		from = out
	}
	return sum
}

// twoOpt is the shortest of what reversing parts finds from many beginnings, each as long as it gets shorter: another way to the
// same, by trying all and measuring the whole tour.
func twoOpt(from geom.Vec, stops []stop, r *rand.Rand) float64 {
	best := math.Inf(1)
	for range 6 {
		list := make([]visit, len(stops))
		for i, k := range r.Perm(len(stops)) {
			list[i] = visit{k, r.IntN(2) == 1}
		}
		long := wayOf(from, stops, list)
		for better := true; better; {
			better = false
			for i := range list {
				for j := i; j < len(list); j++ {
					next := append([]visit(nil), list...)
					for k := i; k <= j; k++ {
						next[k] = visit{list[i+j-k].number, !list[i+j-k].back}
					}
					if l := wayOf(from, stops, next); l < long-1e-9 {
						list, long, better = next, l, true
					}
				}
			}
		}
		best = math.Min(best, long)
	}
	return best
}

// TestWaysBetweenAreShort puts places and lines at random into an order: the ways between them are no longer than a tenth more
// than what another search finds from many beginnings, all are there once, and what may not be turned is not.
func TestWaysBetweenAreShort(t *testing.T) {
	r := rand.New(rand.NewPCG(27, 5))
	for trial := range 24 {
		stops := make([]stop, 12+r.IntN(14))
		for i := range stops {
			in := geom.Vec{X: r.Float64() * 100, Y: r.Float64() * 100}
			stops[i] = stop{in: in, out: in.Add(geom.Vec{X: (r.Float64() - 0.5) * 30, Y: (r.Float64() - 0.5) * 30})}
			if trial%2 == 1 {
				stops[i].out = in
			}
		}
		list := tour(nil, geom.Vec{}, stops, 0)
		seen := map[int]bool{}
		for _, v := range list {
			seen[v.number] = true
		}
		if len(list) != len(stops) || len(seen) != len(stops) {
			t.Fatalf("%d of %d stops", len(seen), len(stops))
		}
		got, want := wayOf(geom.Vec{}, stops, list), twoOpt(geom.Vec{}, stops, r)
		if got > 1.1*want {
			t.Errorf("trial %d, %d stops: %.1f, another search finds %.1f", trial, len(stops), got, want)
		}
		for i := range stops {
			stops[i].fixed = i%2 == 0
		}
		for _, v := range tour(nil, geom.Vec{}, stops, 0) {
			if v.back && stops[v.number].fixed {
				t.Fatalf("trial %d: stop %d is turned", trial, v.number)
			}
		}
	}
}

// TestWaysStayOnTheGround goes from place to place of lettering and of a plate with holes: no way leaves the area, and none is
// longer than it may be.
func TestWaysStayOnTheGround(t *testing.T) {
	r := rand.New(rand.NewPCG(27, 6))
	areas := lettering(t, "DejaVu Serif", "Rg8&", 20)
	areas = append(areas, regionOf(t, rect(-80, -15, 30, 30), circle(3, 60), rect(-74, 6, 5, 5), rect(-77, -12, 20, 1))...)
	for _, p := range areas {
		g := newGround(p, 0.1/step)
		lo, hi, _ := plane.Region{p}.Bounds()
		place := func() geom.Vec {
			for {
				q := geom.Vec{X: float64(lo.X) + r.Float64()*float64(hi.X-lo.X), Y: float64(lo.Y) + r.Float64()*float64(hi.Y-lo.Y)}
				if g.holds(q) {
					return q
				}
			}
		}
		found := 0
		for range 60 {
			a, b := place(), place()
			list, ok := g.way(a, b, 20/step)
			if !ok {
				continue
			}
			found++
			long := 0.0
			for at, k := a, 0; k < len(list); at, k = list[k], k+1 {
				for f := 0.0; f <= 1; f += 1.0 / 256 {
					if q := at.Lerp(list[k], f); !g.holds(q) && g.off(q) > 2 {
						t.Fatalf("a way leaves the ground at %.3f, %.3f", q.X*step, q.Y*step)
					}
				}
				long += list[k].Sub(at).Len()
			}
			if list[len(list)-1] != b || long > farthest*b.Sub(a).Len()+20/step+1 {
				t.Fatalf("a way of %.1f mm to %v", long*step, list[len(list)-1])
			}
		}
		if found < 55 {
			t.Errorf("%d of 60 ways found", found)
		}
	}
}

// off returns how far a place is from the outlines.
func (g *ground) off(q geom.Vec) float64 {
	return plane.NewSegmentIndex(g.area).Nearest(q.X, q.Y, math.Inf(1)).Dist
}
