package show

import (
	"math"
	"sort"

	"bildhauer/core/curves"
	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// bend is a cubic Bezier curve from one point of a path to the next.
type bend [4]geom.Vec3

func (b *bend) at(t float64) geom.Vec3 {
	u := 1 - t
	return b[0].Times(u*u*u).Plus(3*u*u*t, b[1]).Plus(3*u*t*t, b[2]).Plus(t*t*t, b[3])
}

// speed is its derivative by t.
func (b *bend) speed(t float64) geom.Vec3 {
	u := 1 - t
	return b[1].Sub(b[0]).Times(3*u*u).Plus(6*u*t, b[2].Sub(b[1])).Plus(3*t*t, b[3].Sub(b[2]))
}

// steps is how many pieces each bend is measured by. Four points of Gauss and Legendre in each find the length of a
// bend that turns back in its middle to 1e-4 of it, of a usual one to 1e-9.
const steps = 32

// gauss is the places and weights of Gauss and Legendre's rule of four points on 0 to 1.
var gauss = [4][2]float64{
	{0.06943184420297371, 0.17392742256872693}, {0.33000947820757187, 0.32607257743127307},
	{0.6699905217924281, 0.32607257743127307}, {0.9305681557970263, 0.17392742256872693},
}

// long returns its length from one t to another.
func (b *bend) long(from, to float64) float64 {
	sum := 0.0
	for _, g := range gauss {
		sum += g[1] * b.speed(from+g[0]*(to-from)).Len()
	}
	return sum * (to - from)
}

// course is a path that is ready to be followed.
type course struct {
	bends  []bend
	far    []float64 // length from the start to the end of each step of each bend, mm
	even   bool
	closed bool
}

// courseOf makes the course of a path.
func courseOf(p *recipe.Path) *course {
	points := make([]curves.Point, len(p.Points))
	for i, q := range p.Points {
		points[i] = curves.Point{At: q.At, Lead: q.Lead, Trail: q.Trail, Corner: q.Corner}
	}
	out := &course{even: p.Even, closed: p.Closed}
	far := 0.0
	for _, c := range curves.Bends(points, p.Closed) {
		b := bend{place(c[0]), place(c[1]), place(c[2]), place(c[3])}
		out.bends = append(out.bends, b)
		for k := range steps {
			far += b.long(float64(k)/steps, float64(k+1)/steps)
			out.far = append(out.far, far)
		}
	}
	return out
}

// coursesOf makes the courses of all paths of a motion.
func coursesOf(m *recipe.Motion) []*course {
	out := make([]*course, len(m.Paths))
	for i := range m.Paths {
		out[i] = courseOf(&m.Paths[i])
	}
	return out
}

// length of all of it, mm.
func (c *course) length() float64 { return c.far[len(c.far)-1] }

// at returns the place at a share of the path, and the way it leads there, of length 1. Beyond its ends a path goes on
// straight; a closed one goes round.
func (c *course) at(s float64) (where, way geom.Vec3) {
	if c.closed {
		s -= math.Floor(s)
	}
	inside := math.Max(0, math.Min(1, s))
	n, t := c.find(inside)
	b := &c.bends[n]
	where, way = b.at(t), c.ahead(n, t)
	if s != inside {
		where = where.Plus((s-inside)*c.length(), way)
	}
	return where, way
}

// find returns the bend at a share, and how far along that.
func (c *course) find(s float64) (n int, t float64) {
	if !c.even {
		u := s * float64(len(c.bends))
		n = min(int(u), len(c.bends)-1)
		return n, u - float64(n)
	}
	want := s * c.length()
	k := min(sort.SearchFloat64s(c.far, want), len(c.far)-1)
	before := 0.0
	if k > 0 {
		before = c.far[k-1]
	}
	n = k / steps
	b := &c.bends[n]
	from := float64(k%steps) / steps
	if c.far[k] <= before {
		return n, from
	}
	lo, hi := from, from+1.0/steps
	t = from + (want-before)/(c.far[k]-before)/steps
	for range 20 { // Newton, the length's derivative being the speed, kept between bounds where a bend turns back
		off := want - before - b.long(from, t)
		if math.Abs(off) < 1e-9*c.length() {
			break
		}
		if off > 0 {
			lo = t
		} else {
			hi = t
		}
		t += off / b.speed(t).Len()
		if !(t > lo && t < hi) {
			t = (lo + hi) / 2
		}
	}
	return n, t
}

// ahead is the way at a place of a bend. Where a bend stands still, at a corner without handles, it is the way to
// what comes next.
func (c *course) ahead(n int, t float64) geom.Vec3 {
	b := &c.bends[n]
	for _, v := range []geom.Vec3{b.speed(t), b[2].Sub(b[0]), b[3].Sub(b[0]), b[3].Sub(b[1])} {
		if l := v.Len(); l > 1e-9 {
			return v.Times(1 / l)
		}
	}
	for i := range c.bends { // two points in one place
		if v := c.bends[(n+i)%len(c.bends)]; v[3].Sub(v[0]).Len() > 1e-9 {
			return v[3].Sub(v[0]).Unit()
		}
	}
	return geom.Vec3{X: 1}
}

// spotOn is where something is on its path.
type spotOn struct {
	at, way geom.Vec3
	faces   bool
}

// facing turns what looks to the right so that its right side leads the way.
func (s *spotOn) facing() picture.Pose {
	turn := math.Atan2(-s.way.Z, s.way.X) * 180 / math.Pi
	lift := math.Asin(math.Max(-1, math.Min(1, s.way.Y))) * 180 / math.Pi
	return picture.Pose{Rows: rotation(turn, 0, -lift), Size: 1, Shown: true}
}
