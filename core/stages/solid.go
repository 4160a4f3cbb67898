package stages

import (
	"context"
	"errors"
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// Rim is a bevel seen from above.
type Rim struct {
	Profile  string
	Width    float64 // mm; 0 for none
	Segments int
	Curve    []recipe.Knot
}

// PlanInput is the outline of a part and its form seen from above.
type PlanInput struct {
	Region      Made[plane.Region]
	Step        plane.Step // mm per grid unit
	Front, Back Rim
	Outward     bool
	Mitred      bool    // inner corners
	Wall        float64 // of a hollow part, mm
	Frame       bool    // which is open at both ends
	Fine        float64 // how far rings and arcs may depart, mm
	Over        float64 // how high the bevel above the ceiling of a hollow part is, mm
	Caps        raise.CapGrid
}

// Upright is the measures that a plan does not show, in mm.
type Upright struct {
	Depth, Base         float64
	High, Low           float64 // of the bevels of front and back
	OpenFront, OpenBack bool
	Crease              float64 // degrees; 0 for the usual one
}

// form puts both together; a plan is the same for all heights but 0.
func (in *PlanInput) form(u Upright) raise.Form {
	rim := func(r Rim, height float64) raise.Bevel {
		b := raise.Bevel{Profile: raise.Profile(r.Profile), Width: r.Width, Height: height, Segments: r.Segments}
		b.Mitred = in.Mitred
		for _, k := range r.Curve {
			b.Curve = append(b.Curve, raise.Knot(k))
		}
		return b
	}
	return raise.Form{
		Depth: u.Depth, Base: u.Base, Front: rim(in.Front, u.High), Back: rim(in.Back, u.Low), Outward: in.Outward,
		OpenFront: u.OpenFront && !in.Frame, OpenBack: u.OpenBack && !in.Frame,
		Wall: in.Wall, Frame: in.Frame, Fine: in.Fine, Caps: in.Caps, Crease: u.Crease,
	}
}

// fromAbove is the form with heights that stand for any.
func (in *PlanInput) fromAbove() raise.Form {
	return in.form(Upright{Depth: 1, High: max(in.Over, in.Front.on()), Low: in.Back.on()})
}

// on returns 1 for a rim that is bevelled.
func (r *Rim) on() float64 {
	if r.Width > 0 || r.Profile == recipe.Pillow || r.Profile == recipe.Dome {
		return 1
	}
	return 0
}

// Plan triangulates a part for its bevels.
var Plan = Stage[PlanInput, *raise.Plans]{
	Name: "plan",
	Run: func(ctx context.Context, in PlanInput) (*raise.Plans, error) {
		return raise.NewPlans(ctx, in.Region.Value, in.fromAbove(), in.Step)
	},
	Size: func(p *raise.Plans) int64 { return p.Bytes() },
	// Rings, their triangulation and the result take some 600 bytes for each
	// segment of each ring.
	Need: func(in PlanInput) int64 {
		return 600*int64(in.Region.Value.Edges())*int64(1+min(in.Front.Segments, 4)+min(in.Back.Segments, 4)) + in.capNeed()
	},
}

// capNeed estimates the memory that points inside flat sides take: some 600 bytes each, with those by
// which their borders are divided.
func (in *PlanInput) capNeed() int64 {
	d := float64(in.Step.Units(in.Caps.Spacing))
	if d <= 0 {
		return 0
	}
	points := float64(in.Region.Value.Area2()) / 2 / (d * d)
	in.Region.Value.Loops(func(l plane.Loop) {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			points += math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y)) / d
		}
	})
	const most = 1 << 50 // more than any machine has
	return int64(math.Min(most, 2*600*points))
}

// DetailInput is a part cut into another one or raised from it.
type DetailInput struct {
	Plan    Made[*raise.Plans]
	Above   PlanInput
	Upright Upright
	Cut     bool
	Through bool
}

// LimbInput is a further piece of a body.
type LimbInput struct {
	Plan    Made[*raise.Plans]
	Above   PlanInput
	Upright Upright
}

// BodyInput is a part and its details.
type BodyInput struct {
	Plan    Made[*raise.Plans]
	Above   PlanInput
	Upright Upright
	Limbs   []LimbInput
	Within  Made[plane.Region] // what is left of it; its key is "" for all
	Details []DetailInput
	Room    Made[plane.Region] // what is left of all; its key is "" for all
}

// body is what raise makes of it; its faces are numbered from first.
func (in *BodyInput) body(first int32) raise.Body {
	out := raise.Body{Plans: in.Plan.Value, Form: in.Above.form(in.Upright), Part: first}
	for _, l := range in.Limbs {
		out.Limbs = append(out.Limbs, raise.Limb{Plans: l.Plan.Value, Form: l.Above.form(l.Upright)})
	}
	if in.Within.Key != "" {
		out.Within = in.Within.Value
	}
	if in.Room.Key != "" {
		out.Room = in.Room.Value
	}
	for i, d := range in.Details {
		out.Details = append(out.Details, raise.Detail{
			Plans: d.Plan.Value, Form: d.Above.form(d.Upright), Cut: d.Cut, Through: d.Through, Part: first + int32(i) + 1,
		})
	}
	return out
}

func (in *BodyInput) need() int64 {
	n := in.Plan.Value.Bytes()
	for _, l := range in.Limbs {
		n += 3 * l.Plan.Value.Bytes()
	}
	for _, d := range in.Details {
		n += 3 * d.Plan.Value.Bytes()
	}
	return n
}

// Fewer says how a mesh is simplified.
type Fewer struct {
	Within    float64 // by how much it may move, mm
	Triangles int     // that are wanted at most; 0 for any number
}

// of simplifies a mesh. Without a tolerance a count may cost a fiftieth of the size.
func (f Fewer) of(m *mesh.Mesh) {
	if f.Within == 0 && (f.Triangles == 0 || len(m.Tris) <= f.Triangles) {
		return
	}
	within := f.Within
	if within == 0 {
		lo, hi := m.Box()
		within = max(hi[0]-lo[0], hi[1]-lo[1]) / 50
	}
	m.Simplify(within, f.Triangles)
}

// SolidInput is a body to be raised.
type SolidInput struct {
	Body  BodyInput
	Look  raise.Finish
	Fewer Fewer
}

// Solid is a body raised, or several as one. Triangles of Mesh.Part 0 are the first
// part's own, those of i+1 its detail i's, then follow those of the next.
type Solid struct {
	Mesh   *mesh.Mesh
	Bodies []Got // one, or those that were fused
}

// Got is what became of the measures of a body.
type Got struct {
	High, Low float64      // heights that the bevels really have, mm; less than asked for where the depth allows no more
	Reach     float64      // how wide a pillow is, mm; 0 for none
	Depth     float64      // of it, or of the widest of a tube's limbs, mm
	Widest    float64      // how wide the front's bevel is where there is most room, mm
	Spots     []raise.Spot // where the artwork is narrower than two bevels
	Holes     []int        // recesses that go through because they are as deep as the body, or as its wall
	Nothing   bool         // is left of it
	Massive   bool         // no room is left within the walls of a hollow part
}

// mostSpots is how many narrow places are told of a body: enough to see where they are.
const mostSpots = 400

// gotOf tells what became of a body.
func gotOf(ctx context.Context, b *raise.Body, step plane.Step) Got {
	out := Got{Reach: b.Plans.Reach, Massive: b.Plans.Massive(ctx, b.Form, step), Nothing: len(b.Plans.Front.Tris) == 0}
	out.Depth = b.Form.Depth
	for _, l := range b.Limbs {
		out.Depth = max(out.Depth, l.Form.Depth)
	}
	out.High, out.Low = b.Form.Heights(b.Plans, step)
	if !b.Form.Front.Profile.Full() {
		out.Widest, out.Spots = b.Plans.Narrow(b.Form, step, mostSpots)
	}
	for i, d := range b.Details {
		opens := b.Form.Wall > 0 && !b.Form.Frame && d.Form.Depth >= b.Form.Wall
		if d.Cut && !d.Through && (opens || b.Deep(d.Form.Depth, step)) {
			out.Holes = append(out.Holes, i)
		}
	}
	return out
}

// Raise lifts plans to a solid.
var Raise = Stage[SolidInput, *Solid]{
	Name: "solid",
	Run: func(ctx context.Context, in SolidInput) (*Solid, error) {
		b := in.Body.body(0)
		step := in.Body.Above.Step
		m, err := b.Solid(ctx, step, in.Look)
		if err != nil {
			return nil, unparted(err)
		}
		in.Fewer.of(m)
		got := gotOf(ctx, &b, step)
		got.Nothing = len(m.Tris) == 0
		return &Solid{Mesh: m, Bodies: []Got{got}}, nil
	},
	Size: func(s *Solid) int64 { return s.Mesh.Bytes() },
	Need: func(in SolidInput) int64 { return in.Body.need() },
}

// unparted words what keeps bodies from being put together.
func unparted(err error) error {
	var touch *raise.TouchError
	switch {
	case errors.As(err, &touch):
		return problem(Touches, units.MM(touch.X), units.MM(touch.Y))
	case errors.Is(err, plane.ErrTooTangled):
		return problem(Tangled, "What lies over each other here", err)
	}
	return err
}

// FuseInput is bodies that become one.
type FuseInput struct {
	Bodies []BodyInput
	Step   plane.Step
	Look   raise.Finish
	Fewer  Fewer
}

// Fuse makes one solid of several bodies. Its triangles are numbered by Mesh.Part: the
// bodies one after the other, each followed by its details.
var Fuse = Stage[FuseInput, *Solid]{
	Name: "fuse",
	Run: func(ctx context.Context, in FuseInput) (*Solid, error) {
		var list []raise.Body
		out := &Solid{}
		n := int32(0)
		for i := range in.Bodies {
			b := in.Bodies[i].body(n)
			n += int32(len(b.Details)) + 1
			list = append(list, b)
			out.Bodies = append(out.Bodies, gotOf(ctx, &b, in.Step))
		}
		var err error
		if out.Mesh, err = raise.Fused(ctx, list, in.Step, in.Look); err != nil {
			return nil, unparted(err)
		}
		in.Fewer.of(out.Mesh)
		return out, nil
	},
	Size: func(s *Solid) int64 { return s.Mesh.Bytes() },
	Need: func(in FuseInput) (n int64) {
		for i := range in.Bodies {
			n += 2 * in.Bodies[i].need()
		}
		return n
	},
}

// CheckInput is a solid and how closely it is looked at.
type CheckInput struct {
	Solid     Made[*Solid]
	Crossings bool // count faces that cross, too
}

// Check examines a solid.
var Check = Stage[CheckInput, mesh.Report]{
	Name: "check",
	Run: func(ctx context.Context, in CheckInput) (mesh.Report, error) {
		return mesh.CheckWithin(ctx, in.Solid.Value.Mesh, in.Crossings), nil
	},
	Size: func(mesh.Report) int64 { return 128 },
	Need: func(in CheckInput) int64 { return in.Solid.Value.Mesh.Bytes() * 5 / 4 }, // edges, fans and shells side by side
}
