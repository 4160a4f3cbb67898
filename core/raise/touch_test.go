package raise

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// heap returns bodies of fur, as hand-drawn artwork has it: slim tufts and blots that cross each other,
// lie on each other's slopes and part at small angles, many of them from a few places.
func heap(t *testing.T, r *rand.Rand) (bodies []Body) {
	var roots []plane.Point
	for range 5 {
		roots = append(roots, mm(40*r.Float64()-20, 40*r.Float64()-20))
	}
	for i := range 6 {
		f := Form{Depth: 2 + 6*r.Float64(), Base: 4*r.Float64() - 2}
		switch r.IntN(3) {
		case 0: // sloped all over
			f.Front = Bevel{Profile: Pillow, Height: f.Depth / 2, Segments: 2}
		case 1:
			f.Front = bevel(Chamfer, 0.2+2*r.Float64(), 2, 1)
		}
		if r.IntN(3) == 0 {
			f.Back = bevel(Round, 0.2+r.Float64(), 1, 2)
		}
		var loops []plane.Loop
		for range 1 + r.IntN(3) {
			a, b := roots[r.IntN(len(roots))], roots[r.IntN(len(roots))]
			turn, long := 2*math.Pi*r.Float64(), 3+15*r.Float64()
			if b != a {
				turn = math.Atan2(float64(b.Y-a.Y), float64(b.X-a.X))
			}
			wide := math.Pow(10, -5*r.Float64()) // of an angle
			tip := func(turn float64) plane.Point {
				s, c := math.Sincos(turn)
				return plane.Point{X: a.X + int32(long/testStep*c), Y: a.Y + int32(long/testStep*s)}
			}
			loops = append(loops, plane.Loop{a, tip(turn - wide/2), tip(turn + wide/2)})
		}
		region, err := plane.Fill(loops, plane.NonZero)
		if err != nil {
			t.Fatal(err)
		}
		plans, err := NewPlans(t.Context(), region, f, testStep)
		if err != nil {
			t.Fatal(err)
		}
		bodies = append(bodies, Body{Plans: plans, Form: f, Part: int32(i)})
	}
	return bodies
}

// TestHeapsAreSound fuses such bodies to one.
func TestHeapsAreSound(t *testing.T) {
	for i := range howMany(40, 1) {
		t.Run(fmt.Sprint(i), func(t *testing.T) {
			t.Parallel()
			m, err := Fused(t.Context(), heap(t, rand.New(rand.NewPCG(uint64(i), 40))), testStep, Plain)
			if err != nil {
				t.Fatal(err)
			}
			rep, welded := mesh.Check(m, true), mesh.Check(m.Weld(), true)
			if len(m.Tris) > 0 && !rep.Sound() || welded.Sound() != rep.Sound() {
				t.Errorf("%+v, welded %+v", rep, welded)
			}
		})
	}
}

// TestPiecesAtAPoint counts what reaches a height around a point: of four sectors, each with slabs from
// one height to another, that are as high at the far ends of their edges.
func TestPiecesAtAPoint(t *testing.T) {
	level := func(sectors ...[][2]int32) *vicinity {
		n := &vicinity{first: []int{0}}
		for s, spans := range sectors {
			at := func(z int32) [2]climb { return [2]climb{{z, z}, {z, z}} }
			last := at(-beyond)
			add := func(z int32, slab int32) {
				n.cells = append(n.cells, cell{sector: s, slab: slab, lo: last, hi: at(z)})
				last = at(z)
			}
			for _, span := range spans {
				add(span[0], -1)
				add(span[1], 0)
			}
			add(beyond, -1)
			n.first = append(n.first, len(n.cells))
		}
		return n
	}
	low, high, none := [][2]int32{{0, 5}}, [][2]int32{{5, 9}}, [][2]int32(nil)
	both, all := [][2]int32{{0, 5}, {6, 9}}, [][2]int32{{0, 9}}
	for name, c := range map[string]struct {
		n            *vicinity
		z            int32
		solids, gaps int
	}{
		"a corner":                         {level(low, none, none, none), 5, 1, 1},
		"level with its neighbour":         {level(low, low, none, none), 5, 1, 1},
		"across from each other":           {level(low, none, low, none), 5, 2, 1},
		"one begins where others end":      {level(low, low, low, high), 5, 2, 2},
		"held together by a third":         {level(low, all, high, none), 5, 1, 1},
		"two gaps in what is whole":        {level(all, low, all, low), 5, 1, 2},
		"above the lower of two":           {level(both, low, low, low), 6, 1, 1},
		"two gaps that meet along an edge": {level(low, all, low, all), 7, 2, 2},
	} {
		if solids, gaps := c.n.piecesAt(c.z); solids != c.solids || gaps != c.gaps {
			t.Errorf("%s: %d pieces and %d gaps, want %d and %d", name, solids, gaps, c.solids, c.gaps)
		}
	}
}
