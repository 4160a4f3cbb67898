// Package gauge measures how wide areas are, and what lies between them, along their
// outlines. Lengths are in grid units.
package gauge

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Gauge measures how wide an area, or what lies between areas, is along its
// outline: the largest ball that touches the outline at a place from within (or
// from without) and crosses it nowhere, by shrinking balls (Ma, Bae, Choi, 3D
// medial axis point approximation using nearest neighbors, 2012).
type Gauge struct {
	loops []plane.Loop
	first []int32 // number of the first edge of each loop
	index *plane.SegmentIndex
	Poll  *progress.Poll // looks now and then whether Narrow is still needed; nil never does
}

// New returns the gauge of outlines.
func New(loops []plane.Loop) *Gauge {
	g := &Gauge{loops: loops, index: plane.NewLoopIndex(loops)}
	n := int32(0)
	for _, l := range loops {
		g.first = append(g.first, n)
		n += int32(len(l))
	}
	return g
}

// LoopsOf lists the outlines of a region.
func LoopsOf(r plane.Region) (out []plane.Loop) {
	r.Loops(func(l plane.Loop) { out = append(out, l) })
	return out
}

// Ball is the answer at one place of the outline.
type Ball struct {
	Loop       int
	Along      float64  // from the loop's first point
	At, Across geom.Vec // where it touches: here, and on the other side
	Middle     geom.Vec
	Radius     float64
	facing     float64 // angle between both touching points as the middle sees them
	Edge       int32   // that Across lies on, among all
}

// Narrow returns the balls smaller than width across, inside or outside, at
// places no farther apart than a quarter of that, in the order of the loops.
// Where the other side does not face the place (facing under half a turn less
// slant) the narrowness is that of a corner, and it is passed over.
func (g *Gauge) Narrow(width float64, outside bool, slant float64) []Ball {
	return g.narrow(width, outside, slant, nil)
}

// NarrowSince does the same with the help of what was found before (of the same width and side; nil for nothing),
// and returns what the next may use. It finds the same as Narrow, but that Edge may be the other one of two that
// meet where a ball touches.
func (g *Gauge) NarrowSince(before *Memory, width float64, outside bool, slant float64) ([]Ball, *Memory) {
	r := g.recall(before, width, outside)
	return g.narrow(width, outside, slant, r), r.fresh
}

func (g *Gauge) narrow(width float64, outside bool, slant float64, r *recall) []Ball {
	var out []Ball
	for k, l := range g.loops {
		along := 0.0
		due := 0.0
		n := len(l)
		for i, p := range l {
			q := l[(i+1)%n]
			a, b := vecOf(p), vecOf(q)
			d := b.Sub(a)
			length := d.Len()
			if length == 0 {
				continue
			}
			inward := d.Left().Mul(1 / length)
			if outside {
				inward = inward.Mul(-1)
			}
			if length >= due {
				// Long edges get several places, short ones one in their middle,
				// and the shortest none.
				m := max(1, int(math.Ceil(length/(width/4))))
				for j := range m {
					at := length * (float64(j) + 0.5) / float64(m)
					f, ok := g.measure(r, edge{p, q}, j, a.Add(d.Mul(at/length)), inward, width/2)
					if ok && f.facing > math.Pi-slant {
						f.Loop, f.Along = k, along+at
						out = append(out, f)
					}
				}
				due = length/2 + width/8
			}
			due = math.Max(0, due-length)
			along += length
		}
	}
	return out
}

// measure returns the ball at a place of an edge, from memory where it is known.
func (g *Gauge) measure(r *recall, e edge, place int, p, inward geom.Vec, most float64) (f Ball, ok bool) {
	known := false
	if r != nil {
		f, ok, known = r.known(e, place, p.X, p.Y)
	}
	if !known {
		g.Poll.Spend(100) // up to thirty nearest edges are looked for
		f, ok = g.shrink(p, inward, most)
	}
	switch {
	case r == nil:
	case ok:
		r.note(e, place, &f, g)
	default:
		r.note(e, place, nil, g)
	}
	return f, ok
}

// shrink returns the largest ball that touches p in the direction n and is
// smaller than most; ok is false if a larger one fits.
func (g *Gauge) shrink(p, n geom.Vec, most float64) (Ball, bool) {
	r := most
	f := Ball{At: p}
	for range 30 {
		c := p.Add(n.Mul(r))
		foot := g.index.Nearest(c.X, c.Y, r*(1-1e-4)-0.75)
		if foot.Edge < 0 {
			break
		}
		q := geom.Vec{X: foot.X, Y: foot.Y}
		d := q.Sub(p)
		h := n.Dot(d)
		if h <= 0 {
			break
		}
		next := d.Dot(d) / (2 * h)
		if next >= r {
			break
		}
		f.Across, f.Edge, r = q, g.index.Number(foot.Edge), next
	}
	if r == most {
		return f, false
	}
	f.Radius, f.Middle = r, p.Add(n.Mul(r))
	u, v := f.At.Sub(f.Middle), f.Across.Sub(f.Middle)
	f.facing = math.Abs(math.Atan2(u.Cross(v), u.Dot(v)))
	return f, true
}

// LoopOfEdge returns the loop that has an edge.
func (g *Gauge) LoopOfEdge(e int32) int {
	k, found := slices.BinarySearch(g.first, e)
	if !found {
		k--
	}
	return k
}

func vecOf(p plane.Point) geom.Vec { return geom.Vec{X: float64(p.X), Y: float64(p.Y)} }

// Spots puts balls that lie together into one spot each: those whose middles
// are nearer to each other than reach.
func (g *Gauge) Spots(balls []Ball, reach float64) [][]Ball {
	// All of one cell are nearer than reach: of a cell that is joined already nobody need be
	// looked at, however many lie there.
	side := reach / math.Sqrt2 * (1 - 1e-9)
	type cell struct{ x, y int32 }
	grid := map[cell][]int32{}
	sets := geom.NewSets(len(balls))
	join := func(i int32, others []int32) {
		if len(others) == 0 || sets.Find(i) == sets.Find(others[0]) {
			return
		}
		for _, j := range others {
			g.Poll.Tick()
			if balls[i].Middle.Sub(balls[j].Middle).Len() < reach {
				sets.Join(i, j)
				return
			}
		}
	}
	for i := range balls {
		g.Poll.Tick()
		m := balls[i].Middle
		c := cell{int32(math.Floor(m.X / side)), int32(math.Floor(m.Y / side))}
		for x := c.x - 2; x <= c.x+2; x++ {
			for y := c.y - 2; y <= c.y+2; y++ {
				join(int32(i), grid[cell{x, y}])
			}
		}
		grid[c] = append(grid[c], int32(i))
	}
	number := map[int32]int{}
	var out [][]Ball
	for i := range balls {
		k := sets.Find(int32(i))
		n, ok := number[k]
		if !ok {
			n = len(out)
			number[k] = n
			out = append(out, nil)
		}
		out[n] = append(out[n], balls[i])
	}
	return out
}

// Narrowest returns the smallest ball of a spot.
func Narrowest(spot []Ball) Ball {
	best := spot[0]
	for _, b := range spot {
		if b.Radius < best.Radius {
			best = b
		}
	}
	return best
}

// Even reports whether a spot is narrow between two sides that run along each
// other, and not only towards a point: near its narrowest place both sides
// face each other within 6 degrees.
func Even(spot []Ball) bool {
	least := Narrowest(spot).Radius
	for _, b := range spot {
		if b.Radius < 1.2*least && b.facing > math.Pi-6*math.Pi/180 {
			return true
		}
	}
	return false
}

// Nearest returns how far a place is from the outlines.
func (g *Gauge) Nearest(p geom.Vec) float64 { return g.index.Nearest(p.X, p.Y, math.Inf(1)).Dist }
