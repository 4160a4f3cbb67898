package stages

import (
	"context"

	"bildhauer/core/artwork"
	"bildhauer/core/palette"
	"bildhauer/core/recipe"
)

// ChooseInput is the artwork and which of its shapes go where. Names are not in
// it: they change nothing that is built.
type ChooseInput struct {
	Joined Made[*Joined]
	Choice map[string]bool
	Colors map[string]string // by shape key, where it was changed
	Parts  []recipe.Part     // ids and rules alone
	By     string            // what other parts are made of
	// Gathered is what shades become; none where they stay.
	Gathered Made[*palette.Gathered]
	Order    []string // ids of parts that have a place of their own
}

// Chosen is the shapes that take part, in the order of painting.
type Chosen struct {
	Sheet *artwork.Sheet
	Take  []int // indices of shapes
	Part  []int // of each: index in Parts
	Parts []ChosenPart
	order []string
}

// ChosenPart is a part that some shape belongs to.
type ChosenPart struct {
	ID    string
	Color artwork.Color
	// ByColour is set for a part that takes colours alone, so that a relief may divide it.
	ByColour bool
	// Whole and Shape are set for a shape whose outlines may belong to several parts.
	Shape    string // its key
	Whole    string // the part of outlines without a rule; "" makes one of each
	assigner *recipe.Assigner
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
	rules := recipe.Parts{List: in.Parts, By: in.By}
	assigner := rules.Assigner(s)
	out := &Chosen{Sheet: s, order: in.Order}
	byID := map[string]int{}
	for i := range s.Shapes {
		if !intake.Included(s, i) {
			continue
		}
		sh := &s.Shapes[i]
		hex := in.Colors[sh.Key]
		if hex == "" {
			hex = sh.Color.Hex()
		}
		if g := in.Gathered.Value; g != nil && g.Map[hex] != "" {
			hex = g.Map[hex]
		}
		id, apart := assigner.Of(i, hex)
		name := id
		if apart {
			name = "\x00" + sh.Key // met by no other
		}
		n, ok := byID[name]
		if !ok {
			n = len(out.Parts)
			byID[name] = n
			color, _ := artwork.ParseHex(hex)
			part := ChosenPart{ID: id, Color: color, ByColour: !apart && rules.Splits(id)}
			if apart {
				part.Shape, part.Whole, part.assigner = sh.Key, id, assigner
			}
			out.Parts = append(out.Parts, part)
		}
		out.Take = append(out.Take, i)
		out.Part = append(out.Part, n)
	}
	if len(out.Take) == 0 {
		return nil, problem(AllLeftOut)
	}
	return out, nil
}
