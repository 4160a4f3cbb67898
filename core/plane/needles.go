package plane

import "math"

// needleWidth is how wide in grid units a spike is at the most that has no width:
// its two sides are apart by no more than their rounding.
const needleWidth = 4

// withoutNeedles returns the region without spikes that have no width. Between their sides no point of a bevel has room, so
// that a plan of them can't be whole.
func (r Region) withoutNeedles(stop func() bool) (Region, error) {
	any := false
	var loops []Loop
	r.Loops(func(l Loop) {
		for {
			slim := l.dropNeedles()
			if len(slim) == len(l) {
				break
			}
			l, any = slim, true
		}
		if len(l) > 2 {
			loops = append(loops, l)
		}
	})
	if !any {
		return r, nil
	}
	return fillUntil(stop, loops, Positive)
}

// dropNeedles drops the points of needles, one where several follow each other.
func (l Loop) dropNeedles() Loop {
	n := len(l)
	out := make(Loop, 0, n)
	dropped := make([]bool, n)
	for i, v := range l {
		before, behind := (i+n-1)%n, (i+1)%n
		if !dropped[before] && !dropped[behind] && needle(l[before], v, l[behind]) {
			dropped[i] = true
			continue
		}
		out = append(out, v)
	}
	if len(out) < 3 {
		return nil
	}
	return out
}

// needle reports whether the outline runs back at v as it came.
func needle(p, v, q Point) bool {
	if dotAt(v, p, q) <= 0 { // the way to p and the way to q part
		return false
	}
	cross := math.Abs(float64(Orient(p, v, q)))
	a := math.Hypot(float64(p.X-v.X), float64(p.Y-v.Y))
	b := math.Hypot(float64(q.X-v.X), float64(q.Y-v.Y))
	// The end of the shorter side lies so far from the longer one.
	return cross <= needleWidth*math.Max(a, b) && math.Min(a, b) > 4*needleWidth
}
