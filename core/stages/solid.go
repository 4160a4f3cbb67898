package stages

import (
	"context"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
)

// PlanInput is the outline of a part and the bevel seen from above.
type PlanInput struct {
	Region   Made[plane.Region]
	Step     float64 // mm per grid unit
	Profile  string
	Width    float64 // of the bevel, mm; 0 for none
	Segments int
}

func (in PlanInput) bevel(height float64) raise.Bevel {
	return raise.Bevel{
		Profile:  raise.Profile(in.Profile),
		Width:    in.Width,
		Height:   height,
		Segments: in.Segments,
	}
}

// Plan triangulates a part for its bevel.
var Plan = Stage[PlanInput, *raise.Plan]{
	Name: "plan",
	Run: func(ctx context.Context, in PlanInput) (*raise.Plan, error) {
		height := 0.0
		if in.Width > 0 {
			height = in.Width // any will do: a plan is seen from above
		}
		return raise.NewPlan(ctx, in.Region.Value, in.bevel(height), in.Step)
	},
	Size: func(p *raise.Plan) int64 { return p.Bytes() },
	// Rings, their triangulation and the result take some 600 bytes for each
	// segment of each ring.
	Need: func(in PlanInput) int64 {
		return 600 * int64(in.Region.Value.Edges()) * int64(1+min(in.Segments, 4))
	},
}

// SolidInput is a plan and its upright measures, in mm.
type SolidInput struct {
	Plan   Made[*raise.Plan]
	Bevel  PlanInput
	Depth  float64
	Height float64 // of the bevel
	Back   bool    // bevelled like the front
	Shaded bool    // with normals
}

// Solid is one part raised.
type Solid struct {
	Plan *raise.Plan
	Mesh *mesh.Mesh
	High float64 // height that the bevel really has, mm; less than asked for where the depth allows no more
}

// Raise lifts a plan to a solid.
var Raise = Stage[SolidInput, *Solid]{
	Name: "solid",
	Run: func(_ context.Context, in SolidInput) (*Solid, error) {
		p := in.Plan.Value
		spec := raise.Spec{Depth: in.Depth, Height: in.Height, BackBevel: in.Back}
		out := &Solid{Plan: p, Mesh: p.Solid(spec, in.Bevel.Step), High: p.BevelHeight(spec, in.Bevel.Step)}
		if in.Shaded {
			p.Shade(out.Mesh, spec, in.Bevel.bevel(in.Height), raise.Crease)
		}
		return out, nil
	},
	Size: func(s *Solid) int64 { return s.Mesh.Bytes() },
	Need: func(in SolidInput) int64 { return in.Plan.Value.Bytes() },
}

// CheckInput is a solid and how closely it is looked at.
type CheckInput struct {
	Solid     Made[*Solid]
	Crossings bool // count faces that cross, too
}

// Check examines a solid.
var Check = Stage[CheckInput, mesh.Report]{
	Name: "check",
	Run: func(_ context.Context, in CheckInput) (mesh.Report, error) {
		return mesh.Check(in.Solid.Value.Mesh, in.Crossings), nil
	},
	Size: func(mesh.Report) int64 { return 128 },
	Need: func(in CheckInput) int64 { return in.Solid.Value.Mesh.Bytes() / 2 },
}

// planInput brings the bevel of a part to its normal form.
func planInput(o *Outline, step float64, m recipe.Measures) PlanInput {
	in := PlanInput{
		Region:   o.Region,
		Step:     step,
		Profile:  m.Profile,
		Width:    m.BevelWidth,
		Segments: m.Segments,
	}
	if m.Profile == recipe.Chamfer {
		in.Segments = 1 // more facets of one plane would change nothing
	}
	if m.BevelWidth == 0 || m.BevelHeight == 0 {
		in.Width, in.Profile, in.Segments = 0, recipe.Chamfer, 1
	}
	return in
}
