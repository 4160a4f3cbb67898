package studio

import (
	"context"

	"bildhauer/core/print"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// Layers cuts a piece into layers: as it would leave as STL, lying as Size says.
func (s *Studio) Layers(ctx context.Context, p Piece, setup print.Setup) (stages.Made[*stages.Layered], error) {
	var none stages.Made[*stages.Layered]
	if err := setup.Check(); err != nil {
		return none, input("%v", err)
	}
	size := p.Recipe.Size
	in := stages.LayersInput{Pose: recipe.Size{Origin: size.Origin, Lying: size.Lying}, First: setup.First, Height: setup.Layer}
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
	made, err := stages.Layers.Make(ctx, s.flights, in)
	if err != nil && ctx.Err() == nil {
		err = input("it can't be cut into layers: %v", err)
	}
	return made, err
}

// PrintReport tells what is to be known before a piece is printed.
func (s *Studio) PrintReport(ctx context.Context, p Piece, setup print.Setup) (print.Report, error) {
	layered, err := s.Layers(ctx, p, setup)
	if err != nil {
		return print.Report{}, err
	}
	made, err := stages.Print.Make(ctx, s.flights, stages.PrintInput{Layered: layered, Setup: setup})
	return made.Value, err
}
