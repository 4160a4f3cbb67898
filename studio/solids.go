package studio

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sync/atomic"
	"time"

	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/progress"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/units"
)

// View is what the artwork of a piece comes to under its recipe.
type View struct {
	Joined  *stages.Joined
	Artwork stages.Key      // of the joined sheets
	Finding stages.Key      // of what there is to mend
	Shades  int             // colours of the artwork, before they were gathered
	Regions *stages.Regions // nil when there is a problem
	Names   []string        // of the parts
	Bodies  []stages.Raised // how they are raised
	Keys    []stages.Key    // of each part: the key of the solid that it belongs to, "" if it is left out
	Host    []int           // of each part: the part whose solid that is, or -1
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
	if v.Shades, err = line.CountShades(ctx, mended); err != nil {
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
	v.Names = stages.Names(&p.Recipe, v.Regions)
	v.Bodies = stages.Arrangement(v.Regions, &p.Recipe.Parts)
	v.Keys, v.Host = make([]stages.Key, len(v.Names)), slices.Repeat([]int{-1}, len(v.Names))
	for i := range v.Bodies {
		b := &v.Bodies[i]
		key := line.BodyKey(v.Regions, b)
		for _, part := range append([]int{b.Index}, b.Details...) {
			v.Keys[part], v.Host[part] = key, b.Index
		}
	}
	return v, nil
}

// Solid is one body raised.
type Solid struct {
	*stages.Solid
	Made stages.Made[*stages.Solid]
	Part *stages.Outline
	Name string
	How  recipe.Measures
	Role recipe.Role
	Took time.Duration // to plan and lift it, when that was done
	// Limits says what of the measures could not be, see stages.Raised.
	Limits []string
	// Owners are the parts whose faces the solid has, by Mesh.Part.
	Owners []*stages.Outline
	Names  []string // of those
}

// Outlines returns the keys of the outlines that a part takes, see
// stages.Line.OutlinesOf.
func (s *Studio) Outlines(ctx context.Context, p Piece, part string) ([]string, error) {
	line := s.line(ctx, p)
	made, err := line.Regions(ctx)
	if err != nil {
		return nil, err
	}
	for i := range made.Value.Parts {
		if o := &made.Value.Parts[i]; o.ID == part {
			return line.OutlinesOf(ctx, o)
		}
	}
	return nil, errGone
}

var errGone = input("this part is not in the artwork any more")

// buildTime bounds the building of one part.
const buildTime = 3 * time.Minute

// Wanted is which bodies of a piece somebody asks for.
type Wanted struct {
	Parts []string                    // ids of parts whose bodies are wanted; none for all
	Have  map[string]stages.Key       // keys of those that are there already, by part
	Try   map[string]recipe.PartPatch // measures to try without keeping them
	Frame *float64                    // they are wanted as they are then; nil for at rest
}

// Stream builds the wanted bodies of a piece as its recipe says, with normals, or with measures of parts
// that are tried, several at a time, and hands each to put as soon as it is there, from several goroutines;
// those that somebody has already are passed over. A body that can't be made is handed to failed, and the
// others are made.
func (s *Studio) Stream(ctx context.Context, p Piece, w Wanted, put func(*Solid) error, failed func(part string, err error) error) error {
	// A depth that is tried may ask for a coarser grid, as it would when kept.
	tried, err := recipe.Change{Edits: []recipe.Edit{&recipe.EditParts{Parts: w.Try}}}.Apply(p.Recipe, nil)
	if err != nil {
		return input("%v", err)
	}
	p.Recipe = tried
	line := s.line(ctx, p)
	made, err := line.Regions(ctx)
	if err != nil {
		return err
	}
	r := made.Value
	if w.Frame != nil {
		if line, r, err = line.Grown(ctx, r, *w.Frame); err != nil {
			return err
		}
		p.Recipe = *line.Recipe
	}
	list := stages.Arrangement(r, &p.Recipe.Parts)
	wanted := map[string]bool{}
	for _, id := range w.Parts {
		wanted[id] = true
	}
	todo := make([]*stages.Raised, 0, len(list))
	for k := range list {
		b := &list[k]
		asked := len(w.Parts) == 0
		for _, i := range append([]int{b.Index}, b.Details...) {
			asked = asked || wanted[r.Parts[i].ID]
			delete(wanted, r.Parts[i].ID)
		}
		if have := w.Have[r.Parts[b.Index].ID]; asked && (have == "" || have != line.BodyKey(r, b)) {
			todo = append(todo, b)
		}
	}
	if len(wanted) > 0 {
		return errGone
	}
	names := stages.Names(&p.Recipe, r)
	return s.each(ctx, len(todo), "Raising the parts", func(ctx context.Context, k int) error {
		solid, err := s.raise(ctx, p, r, todo[k], names)
		if err == nil {
			return put(solid)
		}
		if ctx.Err() != nil {
			return err
		}
		return failed(r.Parts[todo[k].Index].ID, err)
	})
}

func (s *Studio) raise(ctx context.Context, p Piece, r *stages.Regions, b *stages.Raised, names []string) (*Solid, error) {
	out := &Solid{Part: &r.Parts[b.Index], Name: names[b.Index], How: b.How, Role: b.Role}
	for _, i := range append([]int{b.Index}, b.Details...) {
		out.Owners, out.Names = append(out.Owners, &r.Parts[i]), append(out.Names, names[i])
	}
	progress.Set(ctx, "Raising "+out.Name+willTake(r.Parts[b.Index].Region.Value.Edges(), &b.How), 0)
	within, cancel := context.WithTimeout(ctx, buildTime)
	defer cancel()
	made, err := s.line(ctx, p).Body(within, r, b, raise.Shaded)
	if err != nil {
		return nil, tooLong(ctx, within, out.Name, err)
	}
	out.Solid, out.Made = made.Value, made
	out.Limits = b.Words(made.Value.Bodies[0], &p.Recipe.Parts, r, names)
	out.Took = s.flights.took(made.Key)
	return out, nil
}

// perSegment is how long a segment of a ring takes: a million segments with bevels of four facets
// were planned and raised in 40 s on two cores, and without bevels in 6 s.
const perSegment = 8 * time.Microsecond

// willTake words beforehand how long a large part will take to raise; "" for those that are there
// at once.
func willTake(segments int, how *recipe.Measures) string {
	rings := 1
	for _, rim := range []*recipe.Rim{&how.Front, &how.Back} {
		if rim.On() {
			rings += rim.Segments
		}
	}
	d := time.Duration(segments*rings) * perSegment
	if d < 5*time.Second {
		return ""
	}
	return fmt.Sprintf(" (%s segments, about %d s)", units.Count(segments), int(d.Seconds()))
}

// tooLong words what kept something from being built.
func tooLong(ctx, within context.Context, what string, err error) error {
	var tangled *stages.Problem
	switch {
	case within.Err() == context.DeadlineExceeded && ctx.Err() == nil:
		return input(
			"%s took longer than %d minutes. Raise the tolerance in Size, or use fewer segments",
			what,
			int(buildTime.Minutes()),
		)
	case errors.As(err, &tangled):
		return input("%s: %v", what, tangled)
	}
	return err
}

// bodies returns the regions of a piece and the bodies that leave.
func (s *Studio) bodies(ctx context.Context, p Piece) (*stages.Regions, []stages.Raised, error) {
	regions, err := s.line(ctx, p).Regions(ctx)
	if err != nil {
		return nil, nil, err
	}
	list := stages.Arrangement(regions.Value, &p.Recipe.Parts)
	if len(list) == 0 {
		return nil, nil, input("every part is excluded. Include at least one")
	}
	return regions.Value, list, nil
}

// Solids builds all parts that are not left out, several at a time.
func (s *Studio) Solids(ctx context.Context, p Piece) ([]*Solid, error) {
	r, list, err := s.bodies(ctx, p)
	if err != nil {
		return nil, err
	}
	out := make([]*Solid, len(list))
	names := stages.Names(&p.Recipe, r)
	err = s.each(ctx, len(list), "Raising", func(ctx context.Context, k int) error {
		var err error
		out[k], err = s.raise(ctx, p, r, &list[k], names)
		return err
	})
	return out, err
}

// Fused builds all parts that are not left out as one body, and checks it.
func (s *Studio) Fused(ctx context.Context, p Piece) (*Checked, error) {
	r, list, err := s.bodies(ctx, p)
	if err != nil {
		return nil, err
	}
	progress.Set(ctx, "Fusing the parts", 0)
	within, cancel := context.WithTimeout(ctx, buildTime)
	defer cancel()
	line := s.line(ctx, p)
	made, err := line.Fused(within, r, list, raise.Plain)
	if err != nil {
		return nil, tooLong(ctx, within, "The whole piece", err)
	}
	report, err := line.Check(ctx, made, true)
	if err != nil {
		return nil, err
	}
	names := stages.Names(&p.Recipe, r)
	out := &Checked{Solid: &Solid{Solid: made.Value, Made: made, Part: &r.Parts[list[0].Index], Name: p.Recipe.Name}, Report: report}
	for _, b := range list {
		for _, i := range append([]int{b.Index}, b.Details...) {
			out.Owners, out.Names = append(out.Owners, &r.Parts[i]), append(out.Names, names[i])
		}
	}
	return out, nil
}

// unrolled builds the bodies once more with texture coordinates, or all of them as one.
// Their plans are there, and so is the check of their form.
func (s *Studio) unrolled(ctx context.Context, p Piece, together bool) ([]stages.Made[*stages.Solid], error) {
	r, list, err := s.bodies(ctx, p)
	if err != nil {
		return nil, err
	}
	line := s.line(ctx, p)
	if together {
		one, err := line.Fused(ctx, r, list, raise.Unrolled)
		return []stages.Made[*stages.Solid]{one}, err
	}
	out := make([]stages.Made[*stages.Solid], len(list))
	err = s.each(ctx, len(list), "Unrolling", func(ctx context.Context, k int) (err error) {
		out[k], err = line.Body(ctx, r, &list[k], raise.Unrolled)
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

// Glance examines one solid without looking for crossings.
func (s *Studio) Glance(ctx context.Context, p Piece, solid *Solid) (mesh.Report, error) {
	return s.line(ctx, p).Check(ctx, solid.Made, false)
}
