package raise

import (
	"context"
	"math"
	"slices"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// A hollow part is open behind: its underside is a rim as wide as the wall is thick,
// and beyond it a ceiling that runs below the front at that distance. In the section
// the ceiling is what a disc of the wall's radius leaves free that rolls along the
// front from below.
//
// Front and ceiling are lifted from one plan, with the rings of both. As the ceiling
// is lower in every corner, it is lower everywhere.

// ceilingDetail is by how much of the wall's thickness a ceiling may be off between two rings.
const ceilingDetail = 1.0 / 100

// hollowed returns the facets of the front's bevel and the ceiling below it, divided
// where either has a ring, as shares of their common width in mm.
func (f *Form) hollowed(step plane.Step) (list []Facet, top, width float64) {
	own, top := []Facet(nil), 1.0
	over := 0.0
	if f.Front.On() {
		over = f.Front.Width
		own, top = f.Front.facetsFor(step.MM(minStep) / over)
	}
	width = f.Wall + over
	least := step.MM(minStep)
	ts := []float64{f.Wall / width, 1}
	for _, d := range f.ceilingBends(own, top, over, least) {
		ts = append(ts, d/width)
	}
	if f.Outward { // where the source begins, distances turn round
		ts = append(ts, math.Min(1, f.spread()/width))
	}
	// What is narrower than a step goes, the front's own rings and the wall last.
	keep := []float64{0}
	for _, fc := range own {
		keep = append(keep, fc.t1*over/width)
	}
	for _, t := range ts {
		near := func(k float64) bool { return math.Abs(k-t) < least/width }
		if !slices.ContainsFunc(keep, near) {
			keep = append(keep, t)
		}
	}
	slices.Sort(keep)
	for i, t := range keep[1:] {
		list = append(list, divided(own, keep[i]*width/over, t*width/over, top))
		list[i].t0, list[i].t1 = keep[i], t
	}
	return list, top, width
}

// ceilingBends returns at which distances from the rim, in mm, a ceiling needs rings: it jumps a wall's
// thickness beside risers, and between them it is followed by as few straight pieces as do.
func (f *Form) ceilingBends(own []Facet, top, over, least float64) []float64 {
	if over == 0 {
		return nil
	}
	c := ceiling{wall: f.Wall, least: least}
	for _, fc := range own {
		c.add(fc.t0*over, fc.f0*f.Front.Height)
		c.add(fc.t1*over, fc.f1*f.Front.Height)
	}
	c.add(over, top*f.Front.Height)
	jumps := []float64{f.Wall, f.Wall + over}
	for i, p := range c.line[1:] {
		if q := c.line[i]; p[0]-q[0] < least && p[1] != q[1] {
			jumps = append(jumps, p[0]-f.Wall, p[0]+f.Wall)
		}
	}
	slices.Sort(jumps)
	var out []float64
	for i, to := range jumps[1:] {
		if from := jumps[i]; from >= f.Wall && to-from > least {
			out = append(append(out, from), c.bends(from, to, f.Wall*ceilingDetail)...)
		}
	}
	return out
}

// ceiling is what a disc of the wall's radius leaves free that rolls along a line from below.
type ceiling struct {
	line  [][2]float64 // from the rim inward: distance and height; level beyond its end
	wall  float64
	least float64 // between two distances that are told apart
}

func (c *ceiling) add(d, z float64) {
	if n := len(c.line); n == 0 || c.line[n-1] != [2]float64{d, z} {
		c.line = append(c.line, [2]float64{d, z})
	}
}

// at returns the ceiling's height at a distance, where it jumps that on the side: -1 is towards the rim.
func (c *ceiling) at(d, side float64) float64 {
	last := c.line[len(c.line)-1]
	low := math.Inf(1)
	if d >= last[0] {
		low = last[1] - c.wall
	}
	for i, p := range c.line {
		off := p[0] - d
		switch reach := c.wall - math.Abs(off); {
		case math.Abs(reach) < c.least: // a corner that is just reached, or no more
			if off*side > 0 {
				low = math.Min(low, p[1])
			}
		case reach > 0:
			low = math.Min(low, p[1]-math.Sqrt(c.wall*c.wall-off*off))
		}
		if i == 0 {
			continue
		}
		q := c.line[i-1]
		w, h := p[0]-q[0], p[1]-q[1]
		long := math.Hypot(w, h)
		if w <= 0 {
			continue // both ends are corners
		}
		// The disc touches a piece where its radius stands upright on it.
		if t := (d - c.wall*h/long - q[0]) / w; t > 0 && t < 1 {
			low = math.Min(low, q[1]+t*h-c.wall*w/long)
		}
	}
	return low
}

// bends returns distances between two, at which it is continuous, so that straight pieces between them
// are off by no more than tol.
func (c *ceiling) bends(from, to, tol float64) []float64 {
	const looks = 16 // at each piece
	a, b := c.at(from, 1), c.at(to, -1)
	worst, at := 0.0, 0.0
	for i := 1; i < looks; i++ {
		s := float64(i) / looks
		d := from + (to-from)*s
		if off := math.Abs(c.at(d, 1) - (a + (b-a)*s)); off > worst {
			worst, at = off, d
		}
	}
	if worst <= tol || to-from < 4*c.least {
		return nil
	}
	return append(append(c.bends(from, at, tol), at), c.bends(at, to, tol)...)
}

// divided returns the piece of a profile between two shares of its width, between
// which it has no ring; beyond it, it is level.
func divided(own []Facet, from, to, top float64) Facet {
	level := [2]float64{1, 0}
	for _, f := range own {
		if mid := (from + to) / 2; mid > f.t0 && mid < f.t1 {
			at := func(t float64) float64 { return math.Max(0, math.Min(1, (t-f.t0)/(f.t1-f.t0))) }
			a, b := at(from), at(to)
			mix := func(x, y, s float64) float64 { return x + (y-x)*s }
			return Facet{
				f0: mix(f.f0, f.f1, a), f1: mix(f.f0, f.f1, b),
				d0: [2]float64{mix(f.d0[0], f.d1[0], a), mix(f.d0[1], f.d1[1], a)},
				d1: [2]float64{mix(f.d0[0], f.d1[0], b), mix(f.d0[1], f.d1[1], b)},
			}
		}
	}
	return Facet{f0: top, f1: top, d0: level, d1: level}
}

// hollowWall returns the thickness of the wall of a part that is hollow below a ceiling.
func (f *Form) hollowWall() float64 {
	if f.Frame {
		return 0
	}
	return f.Wall
}

// frame returns what stands of a region as a wall along its outline.
func (f *Form) frame(r plane.Region, step plane.Step, stop func() bool) (plane.Region, error) {
	d := step.Units(f.Wall)
	fine := max(1, d/200)
	if f.Fine > 0 {
		fine = max(1, min(fine, step.Units(f.Fine)))
	}
	inside, err := r.Offset(-d, plane.OffsetStyle{ArcTol: fine, Stop: stop})
	if err != nil || len(inside) == 0 {
		return r, err
	}
	return plane.CombineUntil(stop, r, inside, plane.Subtract)
}

// Massive reports whether the walls of a hollow part leave no room within.
func (p *Plans) Massive(ctx context.Context, f Form, step plane.Step) bool {
	if f.Wall = f.hollowWall(); f.Wall <= 0 {
		return false
	}
	f = f.reaching(p.Reach)
	u, q := f.fit(p, step), p.Front
	first := q.facetFrom(step.Units(f.Wall))
	if q.Dome != nil {
		return !q.vault(u, step.Units(f.Wall), progress.NewPoll(ctx)).room(first)
	}
	line := p.ceiling(u, step.Units(f.Wall))
	for _, r := range q.Ring {
		t := 1.0
		if int(r) < len(q.Facets) {
			t = q.Facets[r].t1
		}
		if r >= first && line.at(t*float64(q.Width), 1) > 0 {
			return false
		}
	}
	return true
}

// facetFrom returns the first facet that begins at least as far from the rim.
func (p *Plan) facetFrom(d plane.Units) Ring {
	least := float64(d/p.Width) * (1 - 1e-9)
	for i, fc := range p.Facets {
		if fc.t0 >= least {
			return Ring(i)
		}
	}
	return Ring(len(p.Facets))
}

// hollow lifts the underside of a hollow part below its front.
func (p *Plans) hollow(ctx context.Context, f *Form, u upright, front *Surface, step plane.Step, look Finish) *Surface {
	q := p.Front
	l := lifting{
		zero: u.base, high: u.depth, slope: mesh.Inside, plateau: mesh.Inside, look: look, crease: f.crease(), step: step,
		poll: progress.NewPoll(ctx), below: front,
	}
	l.heights = make([]rise, len(q.Facets))
	first := q.facetFrom(step.Units(f.Wall))
	if q.Dome != nil {
		l.vaultFrom, l.vault = first, q.vault(u, step.Units(f.Wall), l.poll).heights(first, u.depth-thinnest)
	} else {
		p.ceil(&l, first, u, step.Units(f.Wall))
	}
	s := q.lift(l)
	if look >= Shaded { // it is seen from below
		turn(s)
	}
	for i, r := range q.Ring {
		if r < first {
			s.Group[i] = mesh.Back
		}
	}
	return s
}

// ceil sets the heights of a ceiling, which begins with a facet.
func (p *Plans) ceil(l *lifting, first Ring, u upright, wall plane.Units) {
	line := p.ceiling(u, wall)
	at := func(t, side float64) float64 {
		z := line.at(t*float64(p.Front.Width), side)
		return math.Max(0, math.Min(z, float64(u.depth-thinnest))) / float64(u.depth)
	}
	for i, fc := range p.Front.Facets[first:] {
		l.heights[int(first)+i] = rise{at(fc.t0, 1), at(fc.t1, -1)}
	}
	l.top = at(1, 1)
}

// ceiling is below the front, heights above the base, all in grid units.
func (p *Plans) ceiling(u upright, wall plane.Units) *ceiling {
	c := &ceiling{wall: float64(wall), least: float64(minStep)}
	z := func(f float64) float64 { return float64(u.depth-u.front) + float64(u.front)*f }
	wide := float64(p.Front.Width)
	for _, f := range p.Front.Facets {
		c.add(f.t0*wide, z(f.f0))
		c.add(f.t1*wide, z(f.f1))
	}
	c.add(wide, z(p.Front.Top))
	return c
}
