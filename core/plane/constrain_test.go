package plane

import (
	"math"
	"math/rand/v2"
	"testing"
)

// bundle returns edges of which several run along each other within a few units, and some
// that cross these at small angles.
func bundle(r *rand.Rand) [][2]Point {
	const size = 1 << 24
	at := func() Point { return Point{r.Int32N(2*size) - size, r.Int32N(2*size) - size} }
	p, q := at(), at()
	near := func(s float64) Point {
		return Point{
			p.X + int32(s*float64(q.X-p.X)) + r.Int32N(5) - 2,
			p.Y + int32(s*float64(q.Y-p.Y)) + r.Int32N(5) - 2,
		}
	}
	out := [][2]Point{{p, q}}
	for range 2 + r.IntN(6) {
		out = append(out, [2]Point{near(r.Float64()), near(r.Float64())})
		if r.IntN(3) == 0 { // from a common end
			out[len(out)-1][0] = p
		}
	}
	for range 1 + r.IntN(6) {
		m := near(r.Float64())
		tilt := math.Pow(10, -4*r.Float64())
		dx, dy := float64(q.X-p.X), float64(q.Y-p.Y)
		from := Point{m.X - int32(0.2*(dx+tilt*dy)), m.Y - int32(0.2*(dy-tilt*dx))}
		to := Point{m.X + int32(0.2*(dx+tilt*dy)), m.Y + int32(0.2*(dy-tilt*dx))}
		out = append(out, [2]Point{from, to})
	}
	return out
}

// TestEdgesThatRunAlongStay arranges bundles of edges: no edge is drawn away from where it
// was, and there are no more points than crossings.
func TestEdgesThatRunAlongStay(t *testing.T) {
	long := [][2]Point{ // a third edge drew the other two along with it, over a thousand units
		{{-9918667, -302768}, {-10242688, -369911}},
		{{-10068942, -336916}, {-10397062, -389072}},
		{{-10242688, -369911}, {-10117085, -343884}},
		{{-10257694, -362831}, {-10255872, -372643}},
	}
	for i := range 3000 {
		edges := long
		if i > 0 {
			edges = bundle(rand.New(rand.NewPCG(uint64(i), 9)))
		}
		ar := NewArrangement()
		index := NewLoopIndex(loopsOf(edges))
		for k, e := range edges {
			ar.AddEdge(int32(k), e[0], e[1])
		}
		if err := ar.Build(); err != nil {
			t.Fatalf("bundle %d: %v", i, err)
		}
		if most := 4 + 2*len(edges) + len(edges)*len(edges); int(ar.Points()) > most {
			t.Errorf("bundle %d: %d points of %d edges", i, ar.Points(), len(edges))
		}
		for v := int32(4); v < ar.Points(); v++ {
			p := ar.Point(v)
			if d := index.Nearest(float64(p.X), float64(p.Y), 1e9).Dist; d > 6 {
				t.Errorf("bundle %d: a point %.1f units from all edges", i, d)
			}
		}
		ar.Release()
	}
}

func loopsOf(edges [][2]Point) []Loop {
	out := make([]Loop, len(edges))
	for i, e := range edges {
		out[i] = Loop{e[0], e[1]}
	}
	return out
}
