package print

import "math"

// seam begins a closed path where its seam is to be: at the sharpest of its corners, which
// hides it, or at its back. Of equals it is the one farther back, then farther right.
func (b *bench) seam(p *Path) {
	best, most := 0, math.Inf(-1)
	n := len(p.Points)
	for i, q := range p.Points {
		v := float64(q[1])*1e-6 + float64(q[0])*1e-9
		if b.setup.Seam == AtBack {
			v *= 1e6
		} else {
			v += turnAt(p.Points[(i+n-1)%n], q, p.Points[(i+1)%n])
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

// turnAt returns by how much a path turns in a point, in radians, where it turns at a corner
// and not along a curve: by half a right angle at the least, in steps of 3 degrees, so that
// what is meant to be equal is.
func turnAt(a, b, c [2]float32) float64 {
	ux, uy := float64(b[0]-a[0]), float64(b[1]-a[1])
	vx, vy := float64(c[0]-b[0]), float64(c[1]-b[1])
	turn := math.Abs(math.Atan2(ux*vy-uy*vx, ux*vx+uy*vy))
	if turn < math.Pi/4 {
		return 0
	}
	return math.Round(turn * 60 / math.Pi)
}
