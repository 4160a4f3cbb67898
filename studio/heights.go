package studio

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// Heights is how a piece steps up by its colours, so that one nozzle prints it with a change of filament from each to the next.
type Heights struct {
	Colours int     `json:"colours"` // how many are left
	Plate   float64 `json:"plate"`   // how high the lowest one is, mm
	Step    float64 `json:"step"`    // by how much each is higher than the one below, mm
}

// mostFilaments bounds the colours: each is a change by hand.
const mostFilaments = 8

// ColoursByHeight gathers the colours of a piece and gives each a height of its own, the one that is seen the most the lowest.
// Heights are rounded to whole layers, so that no change falls within one.
func (s *Studio) ColoursByHeight(ctx context.Context, id string, base int64, h Heights) (Piece, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return p, err
	}
	how := &p.Recipe.Print
	if h.Colours < 2 || h.Colours > mostFilaments {
		return p, input("a piece has 2 to %d colours by height", mostFilaments)
	}
	if !(h.Plate > 0) || !(h.Step > 0) {
		return p, input("the lowest colour and the steps are higher than 0 mm")
	}
	layers := func(v float64) float64 { return math.Max(1, math.Round(v/how.Layer)) * how.Layer }
	plate, step := how.First+math.Max(0, math.Round((h.Plate-how.First)/how.Layer))*how.Layer, layers(h.Step)
	edits := []recipe.Edit{&recipe.SetParts{
		By: new(recipe.ByColour), Palette: &recipe.Palette{Count: h.Colours}, Relief: &recipe.Relief{}, Spread: new(0.0), Clearance: new(0.0),
	}}
	own := p
	on, err := s.artworkFor(ctx, own, edits)
	if err != nil {
		return p, err
	}
	if own.Recipe, err = (recipe.Change{Edits: edits}).Apply(p.Recipe, on); err != nil {
		return p, input("%v", err)
	}
	made, err := s.line(ctx, own).Regions(ctx)
	if err != nil {
		return p, err
	}
	list := slices.Clone(made.Value.Parts)
	list = slices.DeleteFunc(list, func(o stages.Outline) bool { return own.Recipe.Parts.IsOut(o.ID) })
	if len(list) < 2 {
		return p, input("the drawing has one colour only: give its shapes others in Intake, or step it up by a relief in Raise")
	}
	seen := func(o stages.Outline) float64 { return plane.Step(made.Value.Step).Area(o.Region.Value) }
	slices.SortStableFunc(list, func(a, b stages.Outline) int { return cmp.Compare(seen(b), seen(a)) })
	patches, heights := map[string]recipe.PartPatch{}, map[string]float64{}
	for _, o := range list {
		// Parts of one colour have one height.
		hex := o.Color.Hex()
		if _, ok := heights[hex]; !ok {
			heights[hex] = plate + float64(len(heights))*step
		}
		flat := recipe.New().Parts.Default
		flat.Depth = heights[hex]
		flat.Front.Width, flat.Front.Height, flat.Back.Width, flat.Back.Height = 0, 0, 0, 0
		patches[o.ID] = recipe.PartPatch{Role: &recipe.Role{}, Level: new(0), MeasuresPatch: recipe.MeasuresPatch{All: &flat}}
	}
	edits = append(edits, &recipe.EditParts{Parts: patches}, &recipe.SetPrint{"roll": 0, "tilt": 0}, &recipe.SetSize{Lying: new("")})
	return s.Change(ctx, id, base, recipe.Change{Label: fmt.Sprintf("%d colours by height", len(heights)), Edits: edits})
}
