package studio

import (
	"context"
	"errors"
	"fmt"
	"sync/atomic"
	"time"

	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// View is what the artwork of a piece comes to under its recipe.
type View struct {
	Joined  *stages.Joined
	Artwork stages.Key      // of the joined sheets
	Finding stages.Key      // of what there is to mend
	Regions *stages.Regions // nil when there is a problem
	Names   []string        // of the parts
	Keys    []stages.Key    // of their solids
	Problem *stages.Problem // why there are no parts
}

// View returns the parts of a piece at their size, and which solids they would
// be raised to.
func (s *Studio) View(ctx context.Context, p Piece) (*View, error) {
	line := s.line(ctx, p)
	joined, err := line.Joined(ctx)
	if err != nil {
		return nil, err
	}
	v := &View{Joined: joined.Value, Artwork: joined.Key}
	mended, err := line.MendedOf(ctx, joined)
	if err != nil {
		return nil, err
	}
	if v.Finding, err = line.FindingsKey(ctx, mended); err != nil {
		return nil, err
	}
	regions, err := line.RegionsOfMended(ctx, mended)
	if errors.As(err, &v.Problem) {
		return v, nil
	}
	if err != nil {
		return nil, err
	}
	v.Regions = regions.Value
	v.Names = stages.Names(&p.Recipe.Parts, v.Regions.Parts)
	for i := range v.Regions.Parts {
		o := &v.Regions.Parts[i]
		v.Keys = append(v.Keys, line.SolidKey(o, v.Regions.Step, p.Recipe.Parts.Measures(o.ID)))
	}
	return v, nil
}

// Solid is one part raised.
type Solid struct {
	*stages.Solid
	Made stages.Made[*stages.Solid]
	Part *stages.Outline
	Name string
	How  recipe.Measures
	Took time.Duration // to plan and lift it, when that was done
}

// buildTime bounds the building of one part.
const buildTime = 3 * time.Minute

// Raise builds one part of a piece as its recipe says, with normals, or with
// measures that are tried.
func (s *Studio) Raise(ctx context.Context, p Piece, part string, try recipe.PartPatch) (*Solid, error) {
	// A depth that is tried may ask for a coarser grid, as it would when kept.
	tried, err := recipe.Change{
		Edits: []recipe.Edit{&recipe.EditParts{Parts: map[string]recipe.PartPatch{part: try}}},
	}.Apply(
		p.Recipe,
		nil,
	)
	if err != nil {
		return nil, input("%v", err)
	}
	p.Recipe = tried
	regions, err := s.line(ctx, p).Regions(ctx)
	if err != nil {
		return nil, err
	}
	for i := range regions.Value.Parts {
		if regions.Value.Parts[i].ID == part {
			return s.raise(ctx, p, regions.Value, i)
		}
	}
	return nil, input("this part is not in the artwork any more")
}

func (s *Studio) raise(ctx context.Context, p Piece, r *stages.Regions, i int) (*Solid, error) {
	part := &r.Parts[i]
	out := &Solid{
		Part: part,
		Name: stages.Names(&p.Recipe.Parts, r.Parts)[i],
		How:  p.Recipe.Parts.Measures(part.ID),
	}
	progress.Set(ctx, "Raising "+out.Name, 0)
	within, cancel := context.WithTimeout(ctx, buildTime)
	defer cancel()
	made, err := s.line(ctx, p).Solid(within, part, r.Step, out.How, true)
	var tangled *stages.Problem
	switch {
	case err == nil:
	case within.Err() == context.DeadlineExceeded && ctx.Err() == nil:
		return nil, input(
			"%s took longer than %d minutes. Raise the tolerance in Size, or use fewer segments",
			out.Name,
			int(buildTime.Minutes()),
		)
	case errors.As(err, &tangled):
		return nil, input("%s: %v", out.Name, tangled)
	default:
		return nil, err
	}
	out.Solid, out.Made = made.Value, made
	out.Took = s.flights.took(made.Key)
	return out, nil
}

// Solids builds all parts that are not left out, several at a time.
func (s *Studio) Solids(ctx context.Context, p Piece) ([]*Solid, error) {
	regions, err := s.line(ctx, p).Regions(ctx)
	if err != nil {
		return nil, err
	}
	r := regions.Value
	var take []int
	for i := range r.Parts {
		if !Out(&p.Recipe.Parts, r.Parts[i].ID) {
			take = append(take, i)
		}
	}
	if len(take) == 0 {
		return nil, input("every part is left out. Take at least one in")
	}
	out := make([]*Solid, len(take))
	err = s.each(ctx, len(take), "Raising", func(ctx context.Context, k int) error {
		var err error
		out[k], err = s.raise(ctx, p, r, take[k])
		return err
	})
	return out, err
}

// each runs f for 0 to n-1, several at a time, and reports how many are done.
func (s *Studio) each(
	ctx context.Context,
	n int,
	what string,
	f func(ctx context.Context, k int) error,
) error {
	within, cancel := context.WithCancelCause(ctx)
	defer cancel(nil)
	quiet := progress.With(within, func(progress.Report) {})
	var done atomic.Int64
	err := parallel.Each(n, func(k int) error {
		if err := f(quiet, k); err != nil {
			cancel(err)
			return err
		}
		d := done.Add(1)
		progress.Set(ctx, fmt.Sprintf("%s (%d of %d)", what, d, n), float64(d)/float64(n))
		return nil
	})
	if err != nil { // the first that failed; others may only have been told to stop
		return context.Cause(within)
	}
	return nil
}

// Checked is a solid and what the check of it found.
type Checked struct {
	*Solid
	Report mesh.Report
}

// Checks builds and examines all parts that are not left out.
func (s *Studio) Checks(ctx context.Context, p Piece) ([]Checked, error) {
	solids, err := s.Solids(ctx, p)
	if err != nil {
		return nil, err
	}
	line := s.line(ctx, p)
	out := make([]Checked, len(solids))
	err = s.each(ctx, len(solids), "Checking", func(ctx context.Context, k int) error {
		r, err := line.Check(ctx, solids[k].Made, true)
		out[k] = Checked{solids[k], r}
		return err
	})
	return out, err
}

// Watertight examines one solid without looking for crossings.
func (s *Studio) Watertight(ctx context.Context, p Piece, solid *Solid) (bool, error) {
	r, err := s.line(ctx, p).Check(ctx, solid.Made, false)
	return r.Watertight(), err
}
