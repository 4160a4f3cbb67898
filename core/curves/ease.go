package curves

import "math"

// Eased returns how far one is along the way from a key to the next, s from 0 to 1. curve is the handles of
// "drawn", spring how "spring" swings.
func Eased(ease string, curve [4]float64, spring [2]float64, s float64) float64 {
	switch ease {
	case "hold":
		return 0
	case "even":
		return s
	case "soft in":
		return softIn(s)
	case "soft out":
		return 1 - softIn(1-s)
	case "overshoot":
		return overshot(s)
	case "bounce":
		return bounced(s)
	case "spring":
		return sprung(spring, s)
	case "drawn":
		return bezier(curve, s)
	}
	return s * s * (3 - 2*s)
}

// softIn starts at rest and arrives at full speed.
func softIn(s float64) float64 { return s * s * (2 - s) }

// overshot is a cubic that starts at full speed, passes the end by a tenth and comes back to it.
func overshot(s float64) float64 {
	const k = 1.70158
	r := s - 1
	return r*r*((k+1)*r+k) + 1
}

// bounced falls to the end and springs back from it three times, each a quarter as high as before: so each takes half
// as long, and all of them, with the fall, eleven quarters of that.
func bounced(s float64) float64 {
	const fall = 4.0 / 11
	if s < fall {
		return s * s / (fall * fall)
	}
	from, long, high := fall, fall, 0.25
	for range 3 {
		if s < from+long {
			x := 2*(s-from)/long - 1
			return 1 - high*(1-x*x)
		}
		from, long, high = from+long, long/2, high/4
	}
	return 1
}

// sprung swings about the end as a damped spring that is let go does, weaker and weaker; what is left of it at the
// end is taken off evenly, so that it stands still there.
func sprung(spring [2]float64, s float64) float64 {
	return 1 - (math.Exp(-spring[1]*s)-math.Exp(-spring[1])*s)*math.Cos(2*math.Pi*spring[0]*s)
}

// bezier is a cubic Bezier curve from 0, 0 to 1, 1 with the handles c, read at x = s (as CSS
// Easing Functions Level 1, 2.3.1 has it). With the x of handles from 0 to 1, x grows along it.
func bezier(c [4]float64, s float64) float64 {
	lo, hi := 0.0, 1.0
	for range 40 { // to 1e-12
		mid := (lo + hi) / 2
		if cubic(c[0], c[2], mid) < s {
			lo = mid
		} else {
			hi = mid
		}
	}
	return cubic(c[1], c[3], (lo+hi)/2)
}

func cubic(a, b, t float64) float64 { return 3*a*t*(1-t)*(1-t) + 3*b*t*t*(1-t) + t*t*t }
