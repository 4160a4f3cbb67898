package plane

import (
	"errors"
	"math"
)

// ErrTouching says that a region touches itself where it can't be parted. It has not been seen.
var ErrTouching = errors.New("it touches itself in a point and can't be parted")

// partings bounds how often corners are cut off: each time farther, from the seventh on with the outline
// as a whole. Of 4,000 random outlines, most of them smaller than the distance, none needed more than eight.
const partings = 10

// Separate parts what touches in a point: where a region's loops visit a
// point more than once, the corners there are cut off at a distance of gap,
// so that walls raised on the loops share no edge. Corners that
// take up a half turn or more stay. Spikes without width go. Regions without
// either are returned as they are. The error is ErrTouching where that does not come about.
func (r Region) Separate(gap Units, stop func() bool) (Region, error) {
	r, err := r.withoutNeedles(stop)
	if err != nil {
		return nil, err
	}
	for try := range partings {
		visits := map[Point]int{}
		r.Loops(func(l Loop) {
			for _, p := range l {
				visits[p]++
			}
		})
		touching := false
		for _, n := range visits {
			touching = touching || n > 1
		}
		if !touching {
			return r, nil
		}
		var loops []Loop
		r.Loops(func(l Loop) { loops = append(loops, l.cutCorners(visits, float64(gap))) })
		if r, err = fillUntil(stop, loops, Positive); err != nil {
			return nil, err
		}
		gap *= 1.3
		if try >= 6 { // very short edges: give way as a whole
			if r, err = r.Offset(-4*Units(try), OffsetStyle{Join: MiterJoin}); err != nil {
				return nil, err
			}
		}
	}
	return nil, ErrTouching
}

func (l Loop) cutCorners(visits map[Point]int, gap float64) Loop {
	n := len(l)
	out := make(Loop, 0, n+4)
	for i, v := range l {
		p, q := l[(i+n-1)%n], l[(i+1)%n]
		if visits[v] < 2 || Orient(p, v, q) <= 0 {
			out = append(out, v)
			continue
		}
		out = append(out, stepTo(v, p, gap), stepTo(v, q, gap))
	}
	return out
}

// stepTo returns the point gap away from v on the way to p, at most 2/5 of it.
func stepTo(v, p Point, gap float64) Point {
	dx, dy := float64(p.X-v.X), float64(p.Y-v.Y)
	k := math.Min(gap/math.Hypot(dx, dy), 0.4)
	return Point{v.X + int32(math.Round(dx*k)), v.Y + int32(math.Round(dy*k))}
}

// Touches reports whether any point is visited more than once.
func (r Region) Touches() bool {
	seen := map[Point]bool{}
	twice := false
	r.Loops(func(l Loop) {
		for _, p := range l {
			twice = twice || seen[p]
			seen[p] = true
		}
	})
	return twice
}
