package mesh

import "math"

// place is a point in grid units.
type place = [3]float64

// deviation returns how far two triangles lie apart where one lies over the other, seen from above: the
// greatest distance of a place of either from the other one. Where both are plane that is greatest at a
// corner of what they share, since the distance from a triangle is convex. ok is false if they share
// nothing.
func deviation(a, b [3]place) (far float64, ok bool) {
	shared := shadow(a, b)
	if len(shared) < 3 {
		return 0, false
	}
	for _, p := range shared {
		on := func(t [3]place) place { return place{p[0], p[1], levelOf(t, p[0], p[1])} }
		far = math.Max(far, math.Max(distanceTo(on(a), b), distanceTo(on(b), a)))
	}
	return far, true
}

// shadow returns the corners of what two triangles share, seen from above (Sutherland, Hodgman, Reentrant
// polygon clipping, 1974).
func shadow(a, b [3]place) [][2]float64 {
	cross := func(p, q [2]float64, x, y float64) float64 { return (q[0]-p[0])*(y-p[1]) - (q[1]-p[1])*(x-p[0]) }
	flat := func(t [3]place) [3][2]float64 {
		f := [3][2]float64{{t[0][0], t[0][1]}, {t[1][0], t[1][1]}, {t[2][0], t[2][1]}}
		if cross(f[0], f[1], f[2][0], f[2][1]) < 0 {
			f[1], f[2] = f[2], f[1]
		}
		return f
	}
	in := flat(a)
	var room [2][12][2]float64
	left := append(room[0][:0], in[:]...)
	clip := flat(b)
	for i := range clip {
		p, q := clip[i], clip[(i+1)%3]
		next := room[(i+1)%2][:0]
		for k, c := range left {
			d := left[(k+1)%len(left)]
			u, v := cross(p, q, c[0], c[1]), cross(p, q, d[0], d[1])
			if u >= 0 {
				next = append(next, c)
			}
			if u > 0 && v < 0 || u < 0 && v > 0 {
				s := u / (u - v)
				next = append(next, [2]float64{c[0] + s*(d[0]-c[0]), c[1] + s*(d[1]-c[1])})
			}
		}
		left = next
	}
	return left
}

// levelOf returns how high a triangle lies over (x, y); no higher or lower than its corners.
func levelOf(t [3]place, x, y float64) float64 {
	ux, uy, vx, vy := t[1][0]-t[0][0], t[1][1]-t[0][1], t[2][0]-t[0][0], t[2][1]-t[0][1]
	det := ux*vy - uy*vx
	s := ((x-t[0][0])*vy - (y-t[0][1])*vx) / det
	r := (ux*(y-t[0][1]) - uy*(x-t[0][0])) / det
	z := t[0][2] + s*(t[1][2]-t[0][2]) + r*(t[2][2]-t[0][2])
	return math.Max(min(t[0][2], t[1][2], t[2][2]), math.Min(max(t[0][2], t[1][2], t[2][2]), z))
}

// distanceTo returns how far p is from a triangle (Ericson, Real-time collision detection, 2005, 5.1.5).
func distanceTo(p place, t [3]place) float64 {
	minus := func(a, b place) place { return place{a[0] - b[0], a[1] - b[1], a[2] - b[2]} }
	dot := func(a, b place) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
	along := func(a, d place, k float64) float64 {
		e := place{p[0] - a[0] - k*d[0], p[1] - a[1] - k*d[1], p[2] - a[2] - k*d[2]}
		return math.Sqrt(dot(e, e))
	}
	ab, ac, ap := minus(t[1], t[0]), minus(t[2], t[0]), minus(p, t[0])
	d1, d2 := dot(ab, ap), dot(ac, ap)
	if d1 <= 0 && d2 <= 0 {
		return along(t[0], ab, 0)
	}
	bp := minus(p, t[1])
	d3, d4 := dot(ab, bp), dot(ac, bp)
	if d3 >= 0 && d4 <= d3 {
		return along(t[1], ab, 0)
	}
	vc := d1*d4 - d3*d2
	if vc <= 0 && d1 >= 0 && d3 <= 0 {
		return along(t[0], ab, d1/(d1-d3))
	}
	cp := minus(p, t[2])
	d5, d6 := dot(ab, cp), dot(ac, cp)
	if d6 >= 0 && d5 <= d6 {
		return along(t[2], ab, 0)
	}
	vb := d5*d2 - d1*d6
	if vb <= 0 && d2 >= 0 && d6 <= 0 {
		return along(t[0], ac, d2/(d2-d6))
	}
	va := d3*d6 - d5*d4
	if va <= 0 && d4-d3 >= 0 && d5-d6 >= 0 {
		return along(t[1], minus(t[2], t[1]), (d4-d3)/((d4-d3)+(d5-d6)))
	}
	n := normalOf(t[0], t[1], t[2])
	return math.Abs(dot(n, ap)) / math.Max(1e-30, math.Sqrt(dot(n, n)))
}
