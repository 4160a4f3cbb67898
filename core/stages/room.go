package stages

import (
	"context"
	"math"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
)

// Where overlaps are cut, regions are disjoint; walls of bevels that run outward stand beyond them, and
// would stand in each other. So a body has room where no wall of what is painted above it is, nor the
// clearance beside that.

// RoomInput is what covers a body and what stands above it in the order of painting.
type RoomInput struct {
	Own       []Made[*raise.Plans] // the body with its limbs and details
	Above     []Made[*raise.Plans] // whose walls stand outside of their regions
	Regions   []Made[plane.Region] // of others above
	Clearance float64              // mm
	Step      float64              // mm per grid unit
}

// Room is what is left of a body: nil for all, an empty region for nothing.
var Room = Stage[RoomInput, plane.Region]{
	Name: "room",
	Run:  room,
	Size: func(r plane.Region) int64 { return 64 + 8*int64(r.Edges()) },
	Need: func(in RoomInput) (n int64) {
		for _, p := range slices.Concat(in.Own, in.Above) {
			n += 320 * int64(p.Value.Region.Edges())
		}
		return n
	},
}

func room(ctx context.Context, in RoomInput) (left plane.Region, err error) {
	left, err = in.left(func() bool { return ctx.Err() != nil })
	switch {
	case ctx.Err() != nil:
		return nil, ctx.Err()
	case err != nil:
		return nil, problem(Tangled, "The outlines of this part", err)
	}
	return left, nil
}

func (in *RoomInput) left(stop func() bool) (left plane.Region, err error) {
	for _, p := range in.Own {
		if left, err = plane.CombineUntil(stop, left, p.Value.Region, plane.Union); err != nil {
			return nil, err
		}
	}
	var cuts []plane.Region
	for _, p := range in.Above {
		cuts = append(cuts, p.Value.Region)
	}
	for _, r := range in.Regions {
		cuts = append(cuts, r.Value)
	}
	d := in.Clearance / in.Step
	fine := math.Max(1, d/500)
	met := false
	for _, cut := range cuts {
		if len(left) == 0 || !near(left, cut, d) {
			continue
		}
		if d > 0 {
			if cut, err = cut.Offset(d+2*fine, plane.OffsetStyle{ArcTol: fine, Stop: stop}); err != nil {
				return nil, err
			}
		}
		both, err := plane.CombineUntil(stop, left, cut, plane.Intersect)
		if err != nil {
			return nil, err
		}
		if !wide(both) {
			continue
		}
		met = true
		if left, err = plane.CombineUntil(stop, left, cut, plane.Subtract); err != nil {
			return nil, err
		}
	}
	switch {
	case !met:
		return nil, nil
	case left == nil:
		return plane.Region{}, nil
	}
	return left, nil
}

// above is what a body's room is made of: the plans still to be made, and the rest.
type above struct {
	input RoomInput
	plans []PlanInput // of input.Above
}

// roomOf returns what tells the room of a body, whose plans in has; nil where nothing takes any.
func (l *Line) roomOf(r *Regions, b *Raised, in *BodyInput) *above {
	if l.Recipe.Size.Overlap != recipe.Cut || b.Role.Kind == recipe.Backing {
		return nil
	}
	parts := &l.Recipe.Parts
	if !slices.ContainsFunc(parts.List, func(p recipe.Part) bool { return p.How != nil && p.How.Outward }) && !parts.Default.Outward {
		return nil
	}
	own := &r.Parts[b.Index]
	out := &above{input: RoomInput{Clearance: parts.Clearance, Step: r.Step}}
	for _, q := range Arrangement(r, parts) {
		other := &r.Parts[q.Index]
		switch {
		case q.Role.Kind == recipe.Backing || other.painted() <= own.painted() || parts.StandsOn(other.ID, own.ID):
			continue
		case q.Role.Kind == recipe.Resting && b.Role.Kind != recipe.Resting:
			continue
		case q.outward():
			plan := planInput(other, r.Step, q.How, l.Recipe.Size.Tolerance)
			l.quality(&plan, &Upright{})
			out.plans = append(out.plans, plan)
			out.input.Above = append(out.input.Above, Made[*raise.Plans]{Key: Plan.Key(plan)})
		case b.outward():
			out.input.Regions = append(out.input.Regions, other.Region)
		}
		if b.outward() {
			for _, i := range q.Details {
				if parts.RoleOf(r.Parts[i].ID).Kind == recipe.Raised {
					out.input.Regions = append(out.input.Regions, r.Parts[i].Region)
				}
			}
		}
	}
	if len(out.input.Above)+len(out.input.Regions) == 0 {
		return nil
	}
	out.input.Own = append(out.input.Own, in.Plan)
	for _, limb := range in.Limbs {
		out.input.Own = append(out.input.Own, limb.Plan)
	}
	for _, d := range in.Details {
		out.input.Own = append(out.input.Own, d.Plan)
	}
	return out
}

// outward reports whether the walls of a body stand outside of its region.
func (b *Raised) outward() bool { return b.Role.Kind != recipe.AsTube && growsOutward(&b.How) }

// painted returns when a part is painted, the last of its shapes.
func (o *Outline) painted() int { return slices.Max(o.Shapes) }

// room makes the room of a body.
func (l *Line) room(ctx context.Context, r *Regions, b *Raised, in *BodyInput) (out Made[plane.Region], err error) {
	a := l.roomOf(r, b, in)
	if a == nil {
		return out, nil
	}
	for i, plan := range a.plans {
		if a.input.Above[i], err = Plan.Make(ctx, l.Keep, plan); err != nil {
			return out, err
		}
	}
	return Room.Make(ctx, l.Keep, a.input)
}
