package print

import "math"

// seam begins a closed path where its seam is to be: in the sharpest of its inner corners, which hides it, else at the sharpest
// of the others; or at its back. Of equals it is the one farther back, then farther right. What is solid lies on its left.
func (b *bench) seam(p *Path) {
	best, most := 0, math.Inf(-1)
	n := len(p.Points)
	for i, q := range p.Points {
		v := float64(q[1])*1e-6 + float64(q[0])*1e-9
		if b.setup.Seam == AtBack {
			v *= 1e6
		} else {
			v += turnAt(p.Points, i)
		}
		if v > most {
			best, most = i, v
		}
	}
	points := make([][2]float32, 0, n)
	p.Points = append(append(points, p.Points[best:]...), p.Points[:best]...)
	if p.Widths != nil {
		widths := make([]float32, 0, n)
		p.Widths = append(append(widths, p.Widths[best:]...), p.Widths[:best]...)
	}
}

// inward is by how much more an inner corner counts than the sharpest outer one, in steps of 3 degrees.
const inward = 100

// bend is over how much of a path on both sides it is looked at how it turns, mm: a line that goes around an inner corner
// does so along an arc.
const bend = 0.35

// turnAt returns by how much a closed path turns in its i-th point, in steps of 3 degrees so that what is meant to be equal is,
// where it turns at a corner and not along a curve: by half a right angle at the least. Corners to the right count more.
func turnAt(points [][2]float32, i int) float64 {
	a, b, c := beyond(points, i, -1), points[i], beyond(points, i, 1)
	ux, uy := float64(b[0]-a[0]), float64(b[1]-a[1])
	vx, vy := float64(c[0]-b[0]), float64(c[1]-b[1])
	turn := math.Atan2(ux*vy-uy*vx, ux*vx+uy*vy)
	if math.Abs(turn) < math.Pi/4 {
		return 0
	}
	if turn < 0 {
		return inward + math.Round(-turn*60/math.Pi)
	}
	return math.Round(turn * 60 / math.Pi)
}

// beyond returns the place of a closed path so far before or behind one of its points.
func beyond(points [][2]float32, i, dir int) [2]float32 {
	n, left := len(points), bend
	for range n {
		a, b := points[i], points[(i+n+dir)%n]
		long := math.Hypot(float64(b[0]-a[0]), float64(b[1]-a[1]))
		if long >= left {
			f := float32(left / long)
			return [2]float32{a[0] + (b[0]-a[0])*f, a[1] + (b[1]-a[1])*f}
		}
		left -= long
		i = (i + n + dir) % n
	}
	return points[i]
}
