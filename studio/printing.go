package studio

import (
	"context"
	"errors"

	"bildhauer/core/print"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// lying lays a piece on the bed as it would leave as STL, lying as Size and the print say, or as Size alone does.
func (s *Studio) lying(ctx context.Context, p Piece, plain bool) (stages.Made[*stages.Bedded], error) {
	var none stages.Made[*stages.Bedded]
	size, how := p.Recipe.Size, &p.Recipe.Print
	in := stages.BeddingInput{Pose: recipe.Size{Origin: size.Origin, Lying: size.Lying}}
	if !plain {
		in.Roll, in.Tilt, in.Turn = how.Roll, how.Tilt, how.Turn
	}
	var checked []Checked
	if p.Recipe.Parts.Together("stl") {
		one, err := s.Fused(ctx, p)
		if err != nil {
			return none, err
		}
		checked = []Checked{*one}
	} else {
		list, err := s.Checks(ctx, p)
		if err != nil {
			return none, err
		}
		checked = list
	}
	for _, c := range checked {
		if !c.Report.Sound() || c.Report.Open {
			return none, input("%s is not closed, see the checks; a printer needs solids that are", c.Name)
		}
		var owners []stages.LayersOwner
		for i, o := range c.Owners {
			owners = append(owners, stages.LayersOwner{Name: c.Names[i], Color: o.Color.Hex()})
		}
		in.Solids, in.Owners = append(in.Solids, c.Made), append(in.Owners, owners)
	}
	return stages.Bedding.Make(ctx, s.flights, in)
}

// noRoom is why a piece does not fit its bed.
type noRoom struct {
	size [3]float64
	why  error
}

func (n *noRoom) Error() string { return "it does not fit the bed: " + n.why.Error() }

// Layers cuts a piece into layers. What does not fit the bed is not cut.
func (s *Studio) Layers(ctx context.Context, p Piece) (stages.Made[*stages.Layered], error) {
	var none stages.Made[*stages.Layered]
	lain, err := s.lying(ctx, p, false)
	if err != nil {
		return none, err
	}
	setup := stages.SetupOf(&p.Recipe.Print)
	if err := print.MayFit(lain.Value.Mesh, &setup); err != nil {
		lo, hi := lain.Value.Mesh.Box()
		return none, &noRoom{[3]float64{hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]}, err}
	}
	return s.cut(ctx, p, lain)
}

// cut cuts a piece into layers as it lies, whatever bed there is.
func (s *Studio) cut(ctx context.Context, p Piece, lain stages.Made[*stages.Bedded]) (stages.Made[*stages.Layered], error) {
	how := &p.Recipe.Print
	made, err := stages.Layers.Make(ctx, s.flights, stages.LayersInput{Bedded: lain, First: how.First, Height: how.Layer})
	if err != nil && ctx.Err() == nil {
		err = input("it can't be cut into layers: %v", err)
	}
	return made, err
}

// Stands compares how a piece can stand on the bed.
func (s *Studio) Stands(ctx context.Context, p Piece) ([]print.Stand, error) {
	lain, err := s.lying(ctx, p, true)
	if err != nil {
		return nil, err
	}
	made, err := stages.Stands.Make(ctx, s.flights, stages.StandsInput{Bedded: lain, Setup: stages.SetupOf(&p.Recipe.Print)})
	return made.Value, err
}

// PrintReport is what is to be known before a piece is printed, and where in the drawing each
// of its findings is.
type PrintReport struct {
	print.Report
	Page  [][2]float64 `json:"page"`  // of each finding, px of the page
	Spots [][2]float64 `json:"spots"` // of each finding, mm from the middle of the piece, y up
}

// PrintReport looks at a piece as its printer would.
func (s *Studio) PrintReport(ctx context.Context, p Piece) (PrintReport, error) {
	layered, err := s.Layers(ctx, p)
	if no := (*noRoom)(nil); errors.As(err, &no) {
		return PrintReport{Report: print.TooBig(no.size, no.why), Page: [][2]float64{{}}, Spots: [][2]float64{{}}}, nil
	}
	if err != nil {
		return PrintReport{}, err
	}
	made, err := stages.Print.Make(ctx, s.flights, stages.PrintInput{Layered: layered, Setup: stages.SetupOf(&p.Recipe.Print)})
	if err != nil {
		return PrintReport{}, err
	}
	regions, err := s.line(ctx, p).Regions(ctx)
	if err != nil {
		return PrintReport{}, err
	}
	out := PrintReport{Report: made.Value, Page: [][2]float64{}, Spots: [][2]float64{}}
	r := regions.Value
	lo, hi := layered.Value.Mesh.Box()
	for _, f := range out.Findings {
		mm := layered.Value.Flat(f.At)
		out.Page = append(out.Page, [2]float64{r.Center.X + mm[0]*r.PxPerMM, r.Center.Y - mm[1]*r.PxPerMM/r.Stretch})
		out.Spots = append(out.Spots, [2]float64{f.At[0] - (lo[0]+hi[0])/2, f.At[1] - (lo[1]+hi[1])/2})
	}
	return out, nil
}

// PrintJob lays a piece out for its printer.
func (s *Studio) PrintJob(ctx context.Context, p Piece) (stages.Made[*print.Job], error) {
	layered, err := s.Layers(ctx, p)
	if no := (*noRoom)(nil); errors.As(err, &no) {
		err = input("%v", no)
	}
	if err != nil {
		return stages.Made[*print.Job]{}, err
	}
	setup := stages.SetupOf(&p.Recipe.Print)
	setup.Price, setup.Steep = 0, 0 // which paths do not depend on
	made, err := stages.Rehearsal.Make(ctx, s.flights, stages.RehearsalInput{Layered: layered, Name: p.Recipe.Name, Setup: setup})
	if err != nil && ctx.Err() == nil {
		err = input("it can't be laid out for the printer: %v", err)
	}
	return made, err
}
