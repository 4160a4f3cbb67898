package stages

import (
	"context"

	"bildhauer/core/artwork"
	"bildhauer/core/recipe"
)

// ChooseInput is the artwork and which of its shapes go where. Names are not in
// it: they change nothing that is built.
type ChooseInput struct {
	Joined Made[*Joined]
	Choice map[string]bool
	Colors map[string]string // by shape key, where it was changed
	Parts  []recipe.Part     // ids and rules alone
}

// Chosen is the shapes that take part, in the order of painting.
type Chosen struct {
	Sheet *artwork.Sheet
	Take  []int // indices of shapes
	Part  []int // of each: index in Parts
	Parts []ChosenPart
}

// ChosenPart is a part that some shape belongs to.
type ChosenPart struct {
	ID    string
	Color artwork.Color
}

// Choose divides the shapes that take part into parts, in the order in which
// the parts are painted first.
var Choose = Stage[ChooseInput, *Chosen]{
	Name: "choose",
	Run:  choose,
	Size: func(c *Chosen) int64 { return 16*int64(len(c.Take)) + 64*int64(len(c.Parts)) },
}

func choose(_ context.Context, in ChooseInput) (*Chosen, error) {
	s := in.Joined.Value.Sheet
	intake := recipe.Intake{Choice: in.Choice}
	rules := recipe.Parts{List: in.Parts}
	out := &Chosen{Sheet: s}
	byColor, byID := map[string]int{}, map[string]int{}
	for i := range s.Shapes {
		if !intake.Included(s, i) {
			continue
		}
		sh := &s.Shapes[i]
		hex := in.Colors[sh.Key]
		if hex == "" {
			hex = sh.Color.Hex()
		}
		n, ok := byColor[hex]
		if !ok {
			id := rules.Taking(hex).ID
			if n, ok = byID[id]; !ok {
				n = len(out.Parts)
				byID[id] = n
				color, _ := artwork.ParseHex(hex)
				out.Parts = append(out.Parts, ChosenPart{id, color})
			}
			byColor[hex] = n
		}
		out.Take = append(out.Take, i)
		out.Part = append(out.Part, n)
	}
	if len(out.Take) == 0 {
		return nil, problem(AllLeftOut)
	}
	return out, nil
}
