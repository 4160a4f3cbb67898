package mend

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// gauge measures how wide an area, or what lies between areas, is along its
// outline: the largest ball that touches the outline at a place from within (or
// from without) and crosses it nowhere, by shrinking balls (Ma, Bae, Choi, 3D
// medial axis point approximation using nearest neighbors, 2012). Lengths are
// in grid units.
type gauge struct {
	loops []plane.Loop
	first []int32 // number of the first edge of each loop
	index *plane.SegmentIndex
}

func newGauge(loops []plane.Loop) *gauge {
	g := &gauge{loops: loops, index: plane.NewLoopIndex(loops)}
	n := int32(0)
	for _, l := range loops {
		g.first = append(g.first, n)
		n += int32(len(l))
	}
	return g
}

func loopsOf(r plane.Region) (out []plane.Loop) {
	r.Loops(func(l plane.Loop) { out = append(out, l) })
	return out
}

// ball is the answer at one place of the outline.
type ball struct {
	loop   int
	along  float64  // from the loop's first point
	at, q  geom.Vec // where it touches: here, and on the other side
	c      geom.Vec // middle
	r      float64
	facing float64 // angle between both touching points as the middle sees them
	edge   int32   // that q lies on, among all
}

// narrow returns the balls smaller than width across, inside or outside, at
// places no farther apart than a quarter of that, in the order of the loops.
// Where the other side does not face the place (facing under half a turn less
// slant) the narrowness is that of a corner, and it is passed over.
func (g *gauge) narrow(width float64, outside bool, slant float64) []ball {
	var out []ball
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
					f, ok := g.shrink(a.Add(d.Mul(at/length)), inward, width/2)
					if ok && f.facing > math.Pi-slant {
						f.loop, f.along = k, along+at
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

// shrink returns the largest ball that touches p in the direction n and is
// smaller than most; ok is false if a larger one fits.
func (g *gauge) shrink(p, n geom.Vec, most float64) (ball, bool) {
	r := most
	f := ball{at: p}
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
		f.q, f.edge, r = q, g.index.Number(foot.Edge), next
	}
	if r == most {
		return f, false
	}
	f.r, f.c = r, p.Add(n.Mul(r))
	u, v := f.at.Sub(f.c), f.q.Sub(f.c)
	f.facing = math.Abs(math.Atan2(u.Cross(v), u.Dot(v)))
	return f, true
}

// loopOfEdge returns the loop that has an edge.
func (g *gauge) loopOfEdge(e int32) int {
	k := len(g.first) - 1
	for k > 0 && g.first[k] > e {
		k--
	}
	return k
}

func vecOf(p plane.Point) geom.Vec { return geom.Vec{X: float64(p.X), Y: float64(p.Y)} }

// spots puts balls that lie together into one spot each: those whose middles
// are nearer to each other than reach.
func spots(balls []ball, reach float64) [][]ball {
	type cell struct{ x, y int32 }
	cellOf := func(v geom.Vec) cell {
		return cell{int32(math.Floor(v.X / reach)), int32(math.Floor(v.Y / reach))}
	}
	grid := map[cell][]int32{}
	sets := geom.NewSets(len(balls))
	for i := range balls {
		c := cellOf(balls[i].c)
		for x := c.x - 1; x <= c.x+1; x++ {
			for y := c.y - 1; y <= c.y+1; y++ {
				for _, j := range grid[cell{x, y}] {
					if balls[i].c.Sub(balls[j].c).Len() < reach {
						sets.Join(int32(i), j)
					}
				}
			}
		}
		grid[c] = append(grid[c], int32(i))
	}
	number := map[int32]int{}
	var out [][]ball
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

// narrowest returns the smallest ball of a spot.
func narrowest(spot []ball) ball {
	best := spot[0]
	for _, b := range spot {
		if b.r < best.r {
			best = b
		}
	}
	return best
}

// even reports whether a spot is narrow between two sides that run along each
// other, and not only towards a point: near its narrowest place both sides
// face each other within 6 degrees.
func even(spot []ball) bool {
	least := narrowest(spot).r
	for _, b := range spot {
		if b.r < 1.2*least && b.facing > math.Pi-6*math.Pi/180 {
			return true
		}
	}
	return false
}
