package raise

import (
	"math"
	"slices"

	"bildhauer/core/plane"
)

// Spot is a place on a ridge, in mm.
type Spot [3]float64

// Narrow tells where a front bevel is narrower than it should be, because the artwork is:
// how wide it is at its widest in mm, which is its width if there is room for that
// somewhere, and up to most places on ridges, spread evenly over all of them.
func (p *Plans) Narrow(f Form, step plane.Step, most int) (widest float64, spots []Spot) {
	f = f.reaching(p.Reach)
	if f.Wall = f.hollowWall(); !f.Front.On() || p.Front.Width == 0 {
		return 0, nil
	}
	u, q := f.fit(p, step), p.Front
	wide := step.Units(f.Front.Width)
	for _, d := range q.Dist {
		widest = max(widest, step.MM(min(plane.Units(d), wide)))
	}
	var list []int32
	for _, v := range q.Ridges {
		if plane.Units(q.Dist[v]) < 0.98*wide {
			list = append(list, v)
		}
	}
	turns := q.agreement(list)
	list = slices.DeleteFunc(list, func(v int32) bool { return turns[v] >= oneWay })
	for i := range min(most, len(list)) {
		v := list[i*len(list)/min(most, len(list))]
		z := float64(u.base+u.depth-u.front) + float64(u.front)*q.shareAt(float64(q.Dist[v]))
		spots = append(spots, Spot{step.MM(plane.Units(q.Pts[v].X)), step.MM(plane.Units(q.Pts[v].Y)), step.MM(plane.Units(z))})
	}
	return widest, spots
}

// oneWay is from where on the slopes around a point lean the same way: the length of the
// mean of their directions for two that meet at 75 degrees.
const oneWay = 0.8

// agreement returns, for each of some points, how much the slopes around it lean the same way: the
// length of the mean of their directions.
func (p *Plan) agreement(points []int32) map[int32]float32 {
	if len(points) == 0 {
		return nil
	}
	wanted := make([]bool, len(p.Pts))
	for _, v := range points {
		wanted[v] = true
	}
	type mean struct{ x, y, n float32 }
	sums := make(map[int32]mean, len(points))
	for k, t := range p.Tris {
		if int(p.Ring[k]) >= len(p.Facets) || !wanted[t[0]] && !wanted[t[1]] && !wanted[t[2]] {
			continue
		}
		g, ok := p.gradient(t)
		if !ok {
			continue
		}
		for _, v := range t {
			if wanted[v] {
				m := sums[v]
				sums[v] = mean{m.x + g.x, m.y + g.y, m.n + 1}
			}
		}
	}
	out := make(map[int32]float32, len(points))
	for v, m := range sums {
		out[v] = float32(math.Hypot(float64(m.x), float64(m.y))) / m.n
	}
	return out
}

// shareAt returns the share of the height that the profile has at a distance from
// the rim; the lower one at risers.
func (p *Plan) shareAt(d float64) float64 {
	if p.Width == 0 {
		return p.Top
	}
	t := d / float64(p.Width)
	least := math.Inf(1)
	for _, f := range p.Facets {
		if t >= f.t0-1e-12 && t <= f.t1+1e-12 {
			s := math.Max(0, math.Min(1, (t-f.t0)/(f.t1-f.t0)))
			least = math.Min(least, f.f0+(f.f1-f.f0)*s)
		}
	}
	if t >= 1-1e-12 {
		least = math.Min(least, p.Top)
	}
	return least
}
