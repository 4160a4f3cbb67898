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

// ceilingSteps is how many facets a ceiling has below a bevel: with twice as many the
// wall comes nowhere a hundredth of its thickness nearer.
const ceilingSteps = 12

// hollowed returns the facets of the front's bevel and the ceiling below it, divided
// where either has a ring, as shares of their common width in mm.
func (f *Form) hollowed(step float64) (list []Facet, top, width float64) {
	own, top := []Facet(nil), 1.0
	over := 0.0
	if f.Front.On() {
		over = f.Front.Width
		own, top = f.Front.facetsFor(minStep * step / over)
	}
	width = f.Wall + over
	ts := []float64{f.Wall / width, 1}
	for i := 1; over > 0 && i < ceilingSteps; i++ {
		ts = append(ts, (f.Wall+over*float64(i)/ceilingSteps)/width)
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
		near := func(k float64) bool { return math.Abs(k-t) < minStep*step/width }
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
func (f *Form) frame(r plane.Region, step float64) (plane.Region, error) {
	d := f.Wall / step
	fine := math.Max(1, d/200)
	if f.Fine > 0 {
		fine = math.Max(1, math.Min(fine, f.Fine/step))
	}
	inside, err := r.Offset(-d, plane.OffsetStyle{ArcTol: fine})
	if err != nil || len(inside) == 0 {
		return r, err
	}
	return plane.Combine(r, inside, plane.Subtract)
}

// Massive reports whether the walls of a hollow part leave no room within.
func (p *Plans) Massive(f Form, step float64) bool {
	if f.Wall = f.hollowWall(); f.Wall <= 0 {
		return false
	}
	f = f.reaching(p.Reach)
	u, q := f.fit(p, step), p.Front
	rim := f.Wall / step / q.Width * (1 - 1e-9)
	for i := range q.Tris {
		t := 1.0
		if r := int(q.Ring[i]); r < len(q.Facets) {
			if t = q.Facets[r].t1; q.Facets[r].t0 < rim {
				continue
			}
		}
		if p.ceiling(u, t*q.Width, f.Wall/step) > 0 {
			return false
		}
	}
	return true
}

// hollow lifts the underside of a hollow part below its front.
func (p *Plans) hollow(ctx context.Context, f *Form, u upright, front *Surface, step float64, look Finish) *Surface {
	q := p.Front
	wall := f.Wall / step
	l := lifting{
		zero: u.base, high: u.depth, slope: mesh.Inside, plateau: mesh.Inside, look: look, crease: f.crease(), step: step,
		poll: progress.NewPoll(ctx),
	}
	l.heights = make([]rise, len(q.Facets))
	ceiling := func(t float64) float64 {
		z := p.ceiling(u, t*q.Width, wall)
		return math.Max(0, math.Min(z, float64(u.depth-thinnest))) / float64(u.depth)
	}
	rim := (f.Wall / step) / q.Width * (1 - 1e-9)
	for i, fc := range q.Facets {
		if fc.t0 >= rim {
			l.heights[i] = rise{ceiling(fc.t0), ceiling(fc.t1)}
		}
	}
	l.top = ceiling(1)
	l.below = front
	s := q.lift(l)
	for i, r := range q.Ring {
		if int(r) < len(q.Facets) && q.Facets[r].t0 < rim {
			s.Group[i] = mesh.Back
		}
	}
	return s
}

// ceiling returns how high above the base a hollow part may be hollow at a distance
// from the rim: no nearer than wall to the front, all in grid units.
func (p *Plans) ceiling(u upright, at, wall float64) float64 {
	least := float64(u.depth) - wall
	const samples = 64
	for i := -samples; i <= samples; i++ {
		off := wall * float64(i) / samples
		d := at + off
		if d < 0 {
			continue
		}
		z := float64(u.depth-u.front) + float64(u.front)*p.Front.shareAt(d)
		least = math.Min(least, z-math.Sqrt(wall*wall-off*off))
	}
	return least
}

// shareAt returns the share of the height that the profile has at a distance from
// the rim; the lower one at risers.
func (p *Plan) shareAt(d float64) float64 {
	if p.Width == 0 {
		return p.Top
	}
	t := d / p.Width
	least := math.Inf(1)
	for _, f := range p.Facets {
		if t >= f.t0-1e-12 && t <= f.t1+1e-12 {
			s := math.Max(0, math.Min(1, (t-f.t0)/(f.t1-f.t0)))
			least = math.Min(least, f.f0+(f.f1-f.f0)*s)
		}
	}
	if t >= 1-1e-12 {
		least = math.Min(least, p.Top)
	}
	return least
}
