package studio

import (
	"context"

	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// Relief is what a relief would make of a piece.
type Relief struct {
	Levels  int
	High    float64 // of the highest part over the lowest back, mm
	Step    float64 // between levels, mm
	Parts   int
	Trouble string // what one should know, see stages.ReliefTrouble
	Across  []stages.Slab
}

// Relief tells what a relief makes of a piece, without keeping it.
func (s *Studio) Relief(ctx context.Context, p Piece, relief recipe.Relief) (*Relief, error) {
	tried, err := recipe.Change{Edits: []recipe.Edit{&recipe.SetParts{Relief: &relief}}}.Apply(p.Recipe, nil)
	if err != nil {
		return nil, input("%v", err)
	}
	p.Recipe = tried
	regions, list, err := s.bodies(ctx, p)
	if err != nil {
		return nil, err
	}
	out := &Relief{Parts: len(list), Across: stages.Across(regions, list), Trouble: stages.ReliefTrouble(regions, &p.Recipe)}
	_, out.Levels = stages.Levels(regions, &p.Recipe.Parts)
	out.Step = relief.Apart(out.Levels)
	low := 0.0
	for i := range list {
		b := &list[i]
		if top := b.Base + b.How.Depth; i == 0 || top > out.High {
			out.High = top
		}
		if i == 0 || b.Base < low {
			low = b.Base
		}
	}
	out.High -= low
	return out, nil
}
