package stages

import (
	"context"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
)

// Where overlaps are cut, regions are disjoint; walls of bevels that run outward stand beyond them, and
// would stand in each other. So a body has room where no wall of what is painted above it is, nor the
// clearance beside that.

// CoverInput is what a body covers, by its plan or else by its region.
type CoverInput struct {
	Plan      Made[*raise.Plans] // of one whose walls stand outside of its region
	Region    Made[plane.Region]
	Clearance float64    // mm
	Step      plane.Step // mm per grid unit
}

// Cover is all that is less than the clearance beside a body.
var Cover = Stage[CoverInput, plane.Region]{
	Name: "cover",
	Run: func(ctx context.Context, in CoverInput) (plane.Region, error) {
		d := in.Step.Units(in.Clearance)
		fine := max(1, d/500)
		// Rings are drawn with chords inside the circle; the rest of a per cent makes up.
		style := plane.OffsetStyle{ArcTol: fine, Stop: func() bool { return ctx.Err() != nil }}
		r, err := in.region().Offset(d+2*fine, style)
		return r, tangled(ctx, err)
	},
	Size: func(r plane.Region) int64 { return 64 + 8*int64(r.Edges()) },
	Need: func(in CoverInput) int64 { return 640 * int64(in.region().Edges()) },
}

func (in *CoverInput) region() plane.Region {
	if in.Plan.Value != nil {
		return in.Plan.Value.Region
	}
	return in.Region.Value
}

// RoomInput is a body and what takes from it.
type RoomInput struct {
	Own     []Made[*raise.Plans] // the body with its limbs and details
	Above   []Made[*raise.Plans] // where there is no clearance: those whose walls stand outside
	Regions []Made[plane.Region] // and others
	Covers  []Made[plane.Region] // of all of these, where there is one
}

// Room is what is left of a body: nil for all, an empty region for nothing.
var Room = Stage[RoomInput, plane.Region]{
	Name: "room",
	Run: func(ctx context.Context, in RoomInput) (plane.Region, error) {
		left, err := in.left(func() bool { return ctx.Err() != nil })
		return left, tangled(ctx, err)
	},
	Size: func(r plane.Region) int64 { return 64 + 8*int64(r.Edges()) },
	Need: func(in RoomInput) (n int64) {
		for _, p := range in.Own {
			n += 640 * int64(p.Value.Region.Edges())
		}
		return n
	},
}

// tangled words what went wrong with the outlines of a part.
func tangled(ctx context.Context, err error) error {
	if err == nil || ctx.Err() != nil {
		return ctx.Err()
	}
	return problem(Tangled, "The outlines of this part", err)
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
	for _, r := range slices.Concat(in.Regions, in.Covers) {
		cuts = append(cuts, r.Value)
	}
	met := false
	for _, cut := range cuts {
		if len(left) == 0 || !near(left, cut, 0) {
			continue
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

// above is what a body's room is made of: what is still to be made, and the rest.
type above struct {
	input  RoomInput
	plans  []PlanInput  // of those whose walls stand outside
	covers []CoverInput // of all, with a clearance; of the first plans first
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
	out := &above{}
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
	if parts.Clearance > 0 {
		out.cover(parts.Clearance, r.Step)
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

// cover lets the covers take the place of what they are of.
func (a *above) cover(clearance float64, step plane.Step) {
	for _, p := range a.input.Above {
		a.covers = append(a.covers, CoverInput{Plan: p, Clearance: clearance, Step: step})
	}
	for _, r := range a.input.Regions {
		a.covers = append(a.covers, CoverInput{Region: r, Clearance: clearance, Step: step})
	}
	for _, c := range a.covers {
		a.input.Covers = append(a.input.Covers, Made[plane.Region]{Key: Cover.Key(c)})
	}
	a.input.Above, a.input.Regions = nil, nil
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
		made, err := Plan.Make(ctx, l.Keep, plan)
		if err != nil {
			return out, err
		}
		if len(a.covers) > 0 {
			a.covers[i].Plan = made
		} else {
			a.input.Above[i] = made
		}
	}
	for i, c := range a.covers {
		if a.input.Covers[i], err = Cover.Make(ctx, l.Keep, c); err != nil {
			return out, err
		}
	}
	return Room.Make(ctx, l.Keep, a.input)
}
