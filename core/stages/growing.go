package stages

import (
	"context"
	"math"
	"slices"

	"bildhauer/core/terms"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
)

// What grows has another solid at each frame: measures change in the recipe (grow), outlines in the regions
// (changed).

// Grown returns the line and the regions by which a piece is raised as it is at a frame; those of before where nothing
// grows.
func (l *Line) Grown(ctx context.Context, r *Regions, frame float64) (*Line, *Regions, error) {
	grown := show.Grown(&l.Recipe.Scene.Motion, frame)
	if grown == nil {
		return l, r, nil
	}
	then := *l
	var err error
	if then.Recipe, err = grow(l.Recipe, r, grown); err != nil {
		return l, r, err
	}
	changed, err := l.changed(ctx, r, grown)
	return &then, changed, err
}

// grow returns a recipe in which depths, with what a relief adds, and heights of bevels are changed by
// factors, and lie between those of two parts of which one becomes the other.
func grow(r *recipe.Recipe, on *Regions, by map[string]show.Growth) (*recipe.Recipe, error) {
	parts := map[string]recipe.PartPatch{}
	levels, most := Levels(on, &r.Parts)
	index := map[string]int{}
	for i := range on.Parts {
		index[on.Parts[i].ID] = i
	}
	measures := func(i int) recipe.Measures {
		how := r.Parts.Measures(on.Parts[i].ID)
		how.Depth += r.Parts.Relief.Adds(levels[i], most, r.Parts.Default.Depth)
		return how
	}
	for i := range on.Parts {
		id := on.Parts[i].ID
		g := show.GrowthOf(by, id)
		how := measures(i)
		if k, ok := index[g.Into]; ok {
			share := math.Max(0, math.Min(1, g.Became))
			to := measures(k)
			for _, pair := range [][2]*float64{
				{&how.Depth, &to.Depth}, {&how.Front.Height, &to.Front.Height}, {&how.Back.Height, &to.Back.Height},
				{&how.Front.Width, &to.Front.Width}, {&how.Back.Width, &to.Back.Width},
			} {
				*pair[0] += (*pair[1] - *pair[0]) * share
			}
		}
		how.Depth = math.Max(terms.Of("depth").Min, how.Depth*g.Depth)
		how.Front.Height, how.Back.Height = how.Front.Height*g.Bevel, how.Back.Height*g.Bevel
		patch := recipe.PartPatch{}
		patch.Depth, patch.Front.Height, patch.Back.Height = &how.Depth, &how.Front.Height, &how.Back.Height
		patch.Front.Width, patch.Back.Width = &how.Front.Width, &how.Back.Width
		parts[id] = patch
	}
	out, err := recipe.Change{Edits: []recipe.Edit{&recipe.EditParts{Parts: parts}}}.Apply(*r, nil)
	out.Parts.Relief = recipe.Relief{}
	return &out, err
}

// changed returns regions in which parts are written so far as they are, or have become others so far; the same where
// none is.
func (l *Line) changed(ctx context.Context, r *Regions, by map[string]show.Growth) (*Regions, error) {
	out := *r
	out.Parts = slices.Clone(r.Parts)
	index := map[string]int{}
	for i := range r.Parts {
		index[r.Parts[i].ID] = i
	}
	for i := range out.Parts {
		o := &out.Parts[i]
		if err := l.change(ctx, r, index, o, show.GrowthOf(by, o.ID)); err != nil {
			return nil, err
		}
	}
	// What is cut into a part or raised from it is there as far as the part is.
	gone := map[string]bool{}
	for i := range out.Parts {
		o := &out.Parts[i]
		role := l.Recipe.Parts.RoleOf(o.ID)
		on, hosted := index[role.On]
		if !hosted || out.Parts[on].Region.Key == r.Parts[on].Region.Key || role.Kind == recipe.Resting {
			continue
		}
		left, err := Common.Make(ctx, l.Keep, CommonInput{o.Region, out.Parts[on].Region})
		if err != nil {
			return nil, err
		}
		if o.Region = (Made[plane.Region]{regionKey(left.Value, r.Step), left.Value}); len(left.Value) == 0 {
			gone[o.ID] = true
		}
	}
	out.Parts = slices.DeleteFunc(out.Parts, func(o Outline) bool { return gone[o.ID] })
	return &out, nil
}

// change changes the area of one part, or its lines where it is a tube; index tells where parts are by their ids.
func (l *Line) change(ctx context.Context, r *Regions, index map[string]int, o *Outline, g show.Growth) error {
	into, some := index[g.Into]
	if some && g.Became != 0 && o.Limbs == nil {
		made, err := Becoming.Make(ctx, l.Keep, BecomingInput{o.Region, r.Parts[into].Region, math.Max(-1, math.Min(2, g.Became))})
		if err != nil {
			return err
		}
		if len(made.Value) > 0 {
			o.Region = Made[plane.Region]{regionKey(made.Value, r.Step), made.Value}
		}
	}
	if g.Written <= 0 || g.Written >= 1 { // all of it, or it does not show
		return nil
	}
	if o.Limbs != nil {
		return l.begin(r, o, g.Written)
	}
	var full Made[float64]
	if g.Written > drawnBy {
		var err error
		if full, err = Fullness.Make(ctx, l.Keep, FullnessInput{o.Region}); err != nil {
			return err
		}
	}
	made, err := Writing.Make(ctx, l.Keep, WritingInput{o.Region, g.Written, full.Value, r.starts(o)})
	if err != nil {
		return err
	}
	if len(made.Value) > 0 {
		o.Region = Made[plane.Region]{regionKey(made.Value, r.Step), made.Value}
	}
	return nil
}

// begin lets the lines of a tube go so far.
func (l *Line) begin(r *Regions, o *Outline, share float64) error {
	for _, rule := range regionsInput(r.sized, l.Recipe).Tubes {
		if rule.ID != o.ID {
			continue
		}
		limbs, err := r.sized.Value.limbsOf(rule, o.Shapes, r.Step, share)
		if err != nil {
			return problem(Tangled, "The strokes of a tube", err)
		}
		if len(limbs) > 0 {
			o.Limbs = limbs
		}
	}
	return nil
}

// CommonInput is two areas.
type CommonInput struct{ A, B Made[plane.Region] }

// Common returns what both have.
var Common = Stage[CommonInput, plane.Region]{
	Name: "common",
	Run: func(ctx context.Context, in CommonInput) (plane.Region, error) {
		out, err := plane.CombineUntil(func() bool { return ctx.Err() != nil }, in.A.Value, in.B.Value, plane.Intersect)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err != nil {
			return nil, problem(Tangled, "What lies on a part that is written", err)
		}
		return out, nil
	},
	Size: func(r plane.Region) int64 { return 64 + 8*int64(r.Edges()) },
	Need: func(in CommonInput) int64 { return 300 * int64(in.A.Value.Edges()+in.B.Value.Edges()) },
}
