package curves

import "math"

// Place is a place in space, mm: right, up, toward the eye.
type Place = [3]float64

// Point is a point of a path with its handles, from At; both zero for a path that is smooth there, Trail
// zero for the opposite of Lead.
type Point struct {
	At     Place `json:"at"`
	Lead   Place `json:"lead"`
	Trail  Place `json:"trail"`
	Corner bool  `json:"corner"`
}

func plus(a Place, k float64, b Place) Place {
	return Place{a[0] + k*b[0], a[1] + k*b[1], a[2] + k*b[2]}
}

func times(a Place, k float64) Place { return Place{a[0] * k, a[1] * k, a[2] * k} }

func long(a Place) float64 { return math.Sqrt(a[0]*a[0] + a[1]*a[1] + a[2]*a[2]) }

// at returns the place of point i; a path that is closed goes on at its start.
func at(points []Point, i int) Place {
	n := len(points)
	return points[(i+n)%n].At
}

// HandleOf returns where the handle of point i lies from it: toward the next point (sign 1) or the one before (-1).
// Where none is given it points as the way from the point before to the one after does (Catmull and Rom, A class of
// local interpolating splines, 1974), at an open end toward the tip of its neighbour's, and is a third as long as the
// way to the point that it leads to, so that points at uneven distances make no loops.
func HandleOf(points []Point, closed bool, i, sign int) Place {
	n := len(points)
	q := points[i]
	next := at(points, i+sign)
	if q.Corner {
		return times(plus(next, -1, q.At), 1.0/3)
	}
	if sign < 0 && long(q.Trail) > 0 {
		return q.Trail
	}
	if long(q.Lead) > 0 {
		return times(q.Lead, float64(sign))
	}
	if sign > 0 && long(q.Trail) > 0 {
		return times(q.Trail, -1)
	}
	way := times(plus(at(points, i+1), -1, at(points, i-1)), float64(sign))
	if !closed && (i == 0 || i == n-1) {
		way = plus(next, -1, q.At)
		k := i + sign
		if k > 0 && k < n-1 {
			way = plus(way, 1, HandleOf(points, closed, k, -sign))
		}
	}
	l := long(way)
	if l < 1e-9 {
		return Place{0, 0, 0}
	}
	return times(way, long(plus(next, -1, q.At))/3/l)
}

// Bends returns the cubic Bezier curves of a path, each by four places.
func Bends(points []Point, closed bool) [][4]Place {
	n := len(points)
	count := n - 1
	if closed {
		count = n
	}
	var out [][4]Place
	for i := range count {
		j := (i + 1) % n
		a, b := points[i].At, points[j].At
		out = append(out, [4]Place{a, plus(a, 1, HandleOf(points, closed, i, 1)), plus(b, 1, HandleOf(points, closed, j, -1)), b})
	}
	return out
}

// OnBend returns the place on a bend at t from 0 to 1.
func OnBend(b [4]Place, t float64) Place {
	u := 1 - t
	return plus(plus(plus(times(b[0], u*u*u), 3*u*u*t, b[1]), 3*u*t*t, b[2]), t*t*t, b[3])
}
