package recipe

import (
	"maps"
	"slices"
	"strings"

	"bildhauer/core/artwork"
)

// EditParts changes names and measures of parts, by id.
type EditParts struct {
	Parts map[string]PartPatch `json:"parts"`
}

// PartPatch is what is changed about a part; nil stays.
type PartPatch struct {
	Name        *string  `json:"name"`
	Out         *bool    `json:"out"`
	Depth       *float64 `json:"depth"`
	BevelWidth  *float64 `json:"bevelWidth"`
	BevelHeight *float64 `json:"bevelHeight"`
	Profile     *string  `json:"profile"`
	Segments    *int     `json:"segments"`
	Back        *string  `json:"back"`
}

// Measures returns m with what the patch gives.
func (p PartPatch) Measures(m Measures) Measures {
	give(p.Depth, &m.Depth)
	give(p.BevelWidth, &m.BevelWidth)
	give(p.BevelHeight, &m.BevelHeight)
	give(p.Profile, &m.Profile)
	give(p.Segments, &m.Segments)
	give(p.Back, &m.Back)
	return m
}

// Apply is part of Edit.
func (e *EditParts) Apply(r *Recipe, _ *artwork.Sheet) error {
	for _, id := range slices.Sorted(maps.Keys(e.Parts)) {
		patch := e.Parts[id]
		part, err := r.Parts.enter(id)
		if err != nil {
			return err
		}
		if patch.Name != nil {
			part.Name = strings.TrimSpace(*patch.Name)
		}
		give(patch.Out, &part.Out)
		was := r.Parts.Measures(id)
		if now := patch.Measures(was); now != was {
			part.How = &now
		}
	}
	return nil
}
