package raise

import (
	"context"
	"errors"
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Form is what a part looks like cut through, lengths in mm.
type Form struct {
	Depth       float64 // from back to front
	Base        float64 // z of the back
	Front, Back Bevel   // Back without a width is flat
	Outward     bool    // the faces keep their size and the walls stand outside of them
	OpenFront   bool    // without a cap
	OpenBack    bool
	Wall        float64 // how thick the walls of a hollow part are; 0 for a solid one
	Frame       bool    // nothing but that wall stands, open at both ends
	Caps        CapGrid
	Crease      float64 // angle in degrees from which corners look hard; 0 for the usual one
	Fine        float64 // how far rings and arcs may be from true ones; 0 for what bevels need
}

// Plans is a part seen from above: both sides, which have the same rim.
type Plans struct {
	Front *Plan
	Back  *Plan // nil for a flat back; may be Front
	// Region is what the part covers, touching itself nowhere.
	Region plane.Region
	Reach  float64 // how wide a pillow is, mm; 0 if there is none
}

// Bytes returns about how much memory the plans hold.
func (p *Plans) Bytes() int64 {
	n := p.Front.Bytes()
	if p.Back != nil && p.Back != p.Front {
		n += p.Back.Bytes()
	}
	return n
}

// fittings bounds how often rims are fitted to each other. A ring splits an edge of
// the rim about once in a thousand plans; that the split edge is split again has
// not been seen.
const fittings = 6

// NewPlans triangulates both sides of a region. Errors are those of NewPlan.
func NewPlans(ctx context.Context, region plane.Region, f Form, step plane.Step) (*Plans, error) {
	if f.Frame && f.Wall > 0 {
		var err error
		if region, err = f.frame(region, step, stopOf(ctx)); err != nil {
			return nil, err
		}
	}
	region, err := region.Separate(gap, stopOf(ctx))
	if err != nil {
		return nil, err
	}
	f.Wall = f.hollowWall()
	reach, err := f.reach(region, step, stopOf(ctx))
	if err != nil {
		return nil, err
	}
	f = f.reaching(reach)
	if spacing := f.spacing(region, step); spacing > 0 {
		region = dividedEdges(region, spacing)
	}
	p, err := f.plans(ctx, region, step)
	if err != nil {
		return nil, err
	}
	p.Reach = reach
	return p, nil
}

// plans plans both sides of a region that touches itself nowhere.
func (f *Form) plans(ctx context.Context, region plane.Region, step plane.Step) (*Plans, error) {
	outline, way, err := f.spreadOut(ctx, region, step)
	if err != nil {
		return nil, err
	}
	out := &Plans{}
	for range fittings {
		out.Region = outline
		if out.Front, err = f.frontPlan(ctx, outline, way, step); err != nil {
			return nil, err
		}
		if f.Wall > 0 || !f.Back.On() {
			return out, nil
		}
		if sameRings(f.Front, f.Back) {
			out.Back = out.Front
			return out, nil
		}
		rim := out.Front.outline(outline)
		if out.Back, err = newPlan(ctx, rim, way, f, f.Back, step); err != nil {
			return nil, err
		}
		if !out.Back.split {
			return out, nil
		}
		outline = out.Back.outline(rim)
	}
	return nil, ErrRims
}

// ErrRims says that both bevels of a part divide its outline anew for each other without end. It has not
// been seen.
var ErrRims = errors.New("the bevels in front and behind do not fit the same outline")

// frontPlan plans the front, with what a hollow part needs.
func (f *Form) frontPlan(ctx context.Context, outline plane.Region, way outward, step plane.Step) (*Plan, error) {
	if f.Wall <= 0 {
		return newPlan(ctx, outline, way, f, f.Front, step)
	}
	p := &Plan{ceiled: true, Mitred: f.Front.Mitred, caps: f.grid(step), fine: step.Units(f.Fine)}
	width := 0.0
	p.Facets, p.Top, width = f.hollowed(step)
	p.Width = step.Units(width)
	p.domed = domeSpacing(&f.Front, outline, step, len(p.Facets))
	return p.over(ctx, outline, way)
}

// sameRings reports whether two bevels look the same from above.
func sameRings(a, b Bevel) bool {
	if !a.On() || !b.On() || a.Width != b.Width || a.Mitred != b.Mitred || a.Profile != b.Profile || a.Segments != b.Segments {
		return false
	}
	if a.Profile != Custom {
		return true
	}
	if len(a.Curve) != len(b.Curve) {
		return false
	}
	for i := range a.Curve {
		if a.Curve[i] != b.Curve[i] {
			return false
		}
	}
	return true
}

// outline returns the region with the points that rings have put on its rim, and without those that they took.
func (p *Plan) outline(r plane.Region) plane.Region {
	if !p.split {
		return r
	}
	next := make(map[plane.Point][]plane.Point, len(p.Rim))
	for _, e := range p.Rim {
		next[p.Pts[e[0]]] = append(next[p.Pts[e[0]]], p.Pts[e[1]])
	}
	var loops []plane.Loop
	for _, e := range p.Rim {
		var l plane.Loop
		for q := p.Pts[e[0]]; len(next[q]) > 0; {
			l = append(l, q)
			q, next[q] = next[q][0], next[q][1:]
		}
		if len(l) > 2 {
			loops = append(loops, l)
		}
	}
	out, err := plane.Fill(loops, plane.NonZero)
	if err != nil { // loops that cross nothing are not too tangled
		return r
	}
	return out
}

// spacing returns how long edges of the outline may be, 0 for any length.
func (f *Form) spacing(r plane.Region, step plane.Step) plane.Units {
	out := step.Units(f.Caps.Spacing)
	for _, b := range []*Bevel{&f.Front, &f.Back} {
		if s := domeSpacing(b, r, step, b.Segments); s > 0 && (out == 0 || s < out) {
			out = s
		}
	}
	return out
}

// grid returns how flat sides are filled.
func (f *Form) grid(step plane.Step) grid { return grid{step.Units(f.Caps.Spacing), f.Caps.Square} }

// crease returns the angle from which corners look hard.
func (f *Form) crease() float64 {
	if f.Crease == 0 {
		return Crease
	}
	return f.Crease
}

// thinnest is the least height of wall, in grid units, that bevels leave.
const thinnest = 32

// upright is the form in grid units, within what the depth allows.
type upright struct {
	base, depth int32
	front, back int32 // heights of the bevels
}

// fit brings the form to the grid. Where both bevels together are higher than the
// depth, both are lowered alike, so that a thin wall remains.
func (f Form) fit(p *Plans, step plane.Step) upright {
	f = f.reaching(p.Reach)
	units := func(mm float64) float64 { return float64(step.Units(mm).Round()) }
	u := upright{
		base:  int32(units(f.Base)),
		depth: max(int32(math.Min(units(f.Depth), 1<<26)), 2*thinnest),
	}
	room := float64(u.depth - thinnest)
	front, back := 0.0, 0.0
	// A height of some metres on a fine grid is beyond 32 bits: stay with floats.
	if p.Front.Width > 0 && f.Front.On() {
		front = math.Max(0, units(f.Front.Height))
	}
	if p.Back != nil && p.Back.Width > 0 && f.Back.On() {
		back = math.Max(0, units(f.Back.Height))
	}
	if sum := front + back; sum > room {
		front, back = math.Floor(front*room/sum), math.Floor(back*room/sum)
	}
	u.front, u.back = int32(front), int32(back)
	return u
}

// Heights returns the heights in mm that the bevels have in a solid of this form:
// less than asked for where the depth allows no more.
func (f Form) Heights(p *Plans, step plane.Step) (front, back float64) {
	u := f.fit(p, step)
	return step.MM(plane.Units(u.front)), step.MM(plane.Units(u.back))
}

// Solid lifts plans to a solid on a grid of step mm. It needs no new triangulation.
// Shaded it has normals; outline corners sharper than Crease stay hard.
func (p *Plans) Solid(ctx context.Context, f Form, step plane.Step, look Finish) (*mesh.Mesh, error) {
	f.Wall = f.hollowWall()
	f = f.reaching(p.Reach)
	front, back := p.surfaces(ctx, &f, step, look)
	m, err := assemble(ctx, step, []*Surface{front}, []*Surface{back}, f.crease())
	if err != nil {
		return nil, err
	}
	f.open(m)
	return m, nil
}

// surfaces returns the front and the back.
func (p *Plans) surfaces(ctx context.Context, f *Form, step plane.Step, look Finish) (front, back *Surface) {
	u := f.fit(p, step)
	front = p.Front.lift(lifting{
		zero: u.base + u.depth - u.front, high: u.front,
		slope: mesh.Bevel, plateau: mesh.Front, look: look, crease: f.crease(), step: step, poll: progress.NewPoll(ctx),
	})
	if f.Wall > 0 { // rings below the level face belong to the ceiling
		level := 0.0
		if f.Front.On() {
			level = float64(step.Units(f.Front.Width)/p.Front.Width) * (1 - 1e-9)
		}
		for i, r := range p.Front.Ring {
			if int(r) < len(p.Front.Facets) && p.Front.Facets[r].t0 >= level {
				front.Group[i] = mesh.Front
			}
		}
	}
	switch {
	case f.Wall > 0:
		back = p.hollow(ctx, f, u, front, step, look)
	case p.Back == nil:
		back = p.Front.flatSurface(u.base, mesh.Back, look, step)
	default:
		back = p.Back.lift(lifting{
			zero: u.base + u.back, high: -u.back,
			slope: mesh.BackBevel, plateau: mesh.Back, look: look, crease: f.crease(), step: step, poll: progress.NewPoll(ctx),
		})
	}
	return front, back
}
