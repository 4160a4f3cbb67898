package gauge

import (
	"math"

	"bildhauer/core/plane"
)

// Memory is what was measured of outlines, for the next time when most of them are as they were. What is narrow
// at a place depends on nothing farther from it than the width: of places that nothing changed so near to, what
// was found is taken as it is.
type Memory struct {
	width   float64
	outside bool
	edges   map[edge]*measured
}

// edge is one of an outline, by its ends.
type edge [2]plane.Point

// measured is what was found at the places of an edge. One of a narrow spot keeps the edge on the other side, as
// its number is another one in the next outlines.
type measured struct {
	done  uint64 // a bit for each place that was looked at
	balls []found
}

type found struct {
	place  int
	ball   Ball
	across edge
}

// mostPlaces is how many places of an edge are remembered.
const mostPlaces = 64

// mostCells bounds by how many squares what changed is marked; beyond that everything is measured anew.
const mostCells = 1 << 16

// recall prepares what a memory knows for the outlines of a gauge. fresh is filled as these are measured.
type recall struct {
	old, fresh *Memory
	number     map[edge]int32
	changed    map[[2]int32]bool // squares of twice the width within which something changed, or near to it
	all        bool              // too much changed
	side       float64
}

func (g *Gauge) recall(old *Memory, width float64, outside bool) *recall {
	n := 0
	for _, l := range g.loops {
		n += len(l)
	}
	r := &recall{
		old: old, fresh: &Memory{width, outside, make(map[edge]*measured, n)}, number: make(map[edge]int32, n),
		changed: map[[2]int32]bool{}, side: 2 * width,
	}
	all := make([]measured, n)
	for k, l := range g.loops {
		for i, p := range l {
			e := edge{p, l[(i+1)%len(l)]}
			r.number[e] = g.first[k] + int32(i)
			if old != nil && old.edges[e] == nil {
				r.mark(e, width)
			}
			r.fresh.edges[e] = &all[r.number[e]]
		}
	}
	if old == nil || old.width != width || old.outside != outside || len(r.number) < n { // or an edge that is there twice
		r.old = nil
		return r
	}
	for e := range old.edges {
		if _, still := r.number[e]; !still {
			r.mark(e, width)
		}
	}
	return r
}

// mark notes that an edge came or went.
func (r *recall) mark(e edge, width float64) {
	lo := r.square(math.Min(float64(e[0].X), float64(e[1].X))-width-1, math.Min(float64(e[0].Y), float64(e[1].Y))-width-1)
	hi := r.square(math.Max(float64(e[0].X), float64(e[1].X))+width+1, math.Max(float64(e[0].Y), float64(e[1].Y))+width+1)
	n := (float64(hi[0]-lo[0]) + 1) * (float64(hi[1]-lo[1]) + 1)
	if r.all = r.all || n+float64(len(r.changed)) > mostCells; r.all {
		return
	}
	for x := lo[0]; x <= hi[0]; x++ {
		for y := lo[1]; y <= hi[1]; y++ {
			r.changed[[2]int32{x, y}] = true
		}
	}
}

func (r *recall) square(x, y float64) [2]int32 {
	return [2]int32{int32(math.Floor(x / r.side)), int32(math.Floor(y / r.side))}
}

// known returns what is known of a place of an edge: narrow, not narrow, or nothing.
func (r *recall) known(e edge, place int, x, y float64) (b Ball, narrow, known bool) {
	if r.old == nil || r.all || place >= mostPlaces {
		return b, false, false
	}
	m := r.old.edges[e]
	if m == nil || m.done>>place&1 == 0 || r.changed[r.square(x, y)] {
		return b, false, false
	}
	for i := range m.balls {
		if f := &m.balls[i]; f.place == place {
			b = f.ball
			b.Edge = r.number[f.across]
			return b, true, true
		}
	}
	return b, false, true
}

// note keeps what was found at a place of an edge.
func (r *recall) note(e edge, place int, b *Ball, g *Gauge) {
	m := r.fresh.edges[e]
	if m == nil || place >= mostPlaces {
		return
	}
	m.done |= 1 << place
	if b != nil {
		m.balls = append(m.balls, found{place, *b, g.edge(b.Edge)})
	}
}

// edge returns one of all edges by its number.
func (g *Gauge) edge(n int32) edge {
	k := g.LoopOfEdge(n)
	i, l := int(n-g.first[k]), g.loops[k]
	return edge{l[i], l[(i+1)%len(l)]}
}
