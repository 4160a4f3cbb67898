package trace

import (
	"math"

	"bildhauer/core/geom"
)

// Corners of what was drawn are cut by the pixels that they lie in. They are found by the sides
// that lead to them and put where these meet.
const (
	nearEnd = 1.5  // px from a corner, what lies nearer is of the pixels cut by it
	farEnd  = 5.0  // px, up to where its sides are looked at
	bent    = 0.2  // px, by how much the points of a straight side may lie beside it
	usual   = 0.75 // rad, from what turn on it is a corner: an arc of a radius of 5 px turns as much
	most    = 2.75 // rad; beyond this the sides meet too far away
)

// reach returns how far from a loop a corner of a turn may be, px: a tip is cut where half of a
// pixel across it is covered, which is the farther from it the more it tapers.
func reach(turn float64) float64 { return 0.5 + 0.4*math.Tan(turn/2) }

// cornered returns a loop with its corners, turns of at least sharp in radians (0: usual), and
// which of its points these are.
func cornered(loop []geom.Vec, sharp float64) (out []geom.Vec, corner []bool) {
	n := len(loop)
	if sharp <= 0 {
		sharp = usual
	}
	at := make([]float64, n+1) // length up to each point
	for i := range loop {
		at[i+1] = at[i] + loop[(i+1)%n].Sub(loop[i]).Len()
	}
	if at[n] < 4*farEnd {
		return loop, make([]bool, n)
	}
	turns, places := make([]float64, n), make([]geom.Vec, n)
	for i := range loop {
		a, b, okIn := side(loop, i, -1)
		c, d, okOut := side(loop, i, 1)
		if !okIn || !okOut {
			continue
		}
		in, on := b.Sub(a), d.Sub(c)
		turn := math.Abs(math.Atan2(in.Cross(on), in.Dot(on)))
		if turn < sharp || turn > most {
			continue
		}
		x := a.Add(in.Mul(c.Sub(a).Cross(on) / in.Cross(on)))
		if x.Sub(loop[i]).Len() < reach(turn) {
			turns[i], places[i] = turn, x
		}
	}
	drop := make([]bool, n)
	peak := make([]bool, n)
	for i := range loop {
		if turns[i] == 0 || drop[i] {
			continue
		}
		best, here := true, places[i].Sub(loop[i]).Len()
		around(at, i, farEnd, func(k int) {
			// Of those that agree on a corner the one nearest to it stands for them.
			if there := places[k].Sub(loop[k]).Len(); turns[k] > 0 && (there < here || there == here && k < i) {
				best = false
			}
		})
		if best {
			peak[i] = true
			around(at, i, nearEnd, func(k int) { drop[k] = true })
		}
	}
	for i, p := range loop {
		switch {
		case peak[i]:
			out, corner = append(out, places[i]), append(corner, true)
		case !drop[i]:
			out, corner = append(out, p), append(corner, false)
		}
	}
	return out, corner
}

// around calls f for the other points that lie within far of point i along the loop.
func around(at []float64, i int, far float64, f func(k int)) {
	n := len(at) - 1
	for _, step := range [2]int{1, -1} {
		for k, gone := i, 0.0; ; {
			next := (k + step + n) % n
			if step > 0 {
				gone += at[k+1] - at[k]
			} else {
				gone += at[next+1] - at[next]
			}
			if gone > far || next == i {
				break
			}
			f(next)
			k = next
		}
	}
}

// side returns the straight piece of a loop that leads to point i (step -1) or away from it; ok
// is false where it is bent.
func side(loop []geom.Vec, i, step int) (from, to geom.Vec, ok bool) {
	n := len(loop)
	var points []geom.Vec
	for k, gone := i, 0.0; gone < farEnd && len(points) < n; {
		next := (k + step + n) % n
		gone += loop[next].Sub(loop[k]).Len()
		if k = next; gone >= nearEnd {
			points = append(points, loop[k])
		}
	}
	if len(points) < 3 {
		return from, to, false
	}
	from, to = line(points)
	for _, p := range points {
		if geom.ToSegment(p, from, to) > bent {
			return from, to, false
		}
	}
	if step < 0 {
		from, to = to, from
	}
	return from, to, true
}

// line returns the ends of the straight line through points that departs least from them
// (total least squares), in their order.
func line(points []geom.Vec) (from, to geom.Vec) {
	var mid geom.Vec
	for _, p := range points {
		mid = mid.Add(p.Mul(1 / float64(len(points))))
	}
	var xx, xy, yy float64
	for _, p := range points {
		d := p.Sub(mid)
		xx, xy, yy = xx+d.X*d.X, xy+d.X*d.Y, yy+d.Y*d.Y
	}
	sin, cos := math.Sincos(math.Atan2(2*xy, xx-yy) / 2)
	dir := geom.Vec{X: cos, Y: sin}
	first, last := points[0], points[len(points)-1]
	if last.Sub(first).Dot(dir) < 0 {
		dir = dir.Mul(-1)
	}
	return mid.Add(dir.Mul(first.Sub(mid).Dot(dir))), mid.Add(dir.Mul(last.Sub(mid).Dot(dir)))
}
