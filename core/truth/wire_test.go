package truth

import "math"

// wire is lines along which a tube runs.
type wire struct {
	lines []ring // open
	width float64
	round bool // ends are
}

// gap returns how far p lies from a line between two places.
func gap(p, a, b vec) float64 {
	r := region{out: [][2]vec{{a, b}}}
	return r.far(p)
}

// over returns the tube over a place: balls along its lines, with the facets of a round. What lies
// beyond a flat end, outside of all strokes, is cut off, but the line goes on there.
func (w *wire) over(p vec, base float64, profile knots) (out column) {
	r := w.width / 2
	covered, far := false, math.Inf(1)
	for _, l := range w.lines {
		for i := range l[1:] {
			a, b := l[i], l[i+1]
			along := vec{b.x - a.x, b.y - a.y}
			long := math.Hypot(along.x, along.y)
			k := ((p.x-a.x)*along.x + (p.y-a.y)*along.y) / (long * long)
			d := gap(p, a, b)
			covered = covered || d < r && (w.round || k > 0 && k < 1 || k <= 0 && i > 0 || k >= 1 && i+2 < len(l))
			if !w.round && i == 0 {
				a = a.plus(along, -r/long)
			}
			if !w.round && i+2 == len(l) {
				b = b.plus(along, r/long)
			}
			far = math.Min(far, gap(p, a, b))
		}
	}
	if covered && far < r {
		high := r * profile.at((r-far)/r)
		out = out.plus(span{base + r - high, base + r + high})
	}
	return out
}
