package stages

import (
	"context"
	"math"

	"bildhauer/core/palette"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
)

// ShadesInput is the artwork, which of its shapes take part and their colours.
type ShadesInput struct {
	Joined Made[*Joined]
	Choice map[string]bool
	Colors map[string]string // by shape key, where it was changed
}

// Seen is the shades of artwork and the picture that they were counted in.
type Seen struct {
	Shades *palette.Shades
	Canvas *palette.Canvas
	Hex    map[int32]string // of each shape that takes part
}

// canvasSide is how long the longer side of that picture is, px: a line of a six-hundredth of it is seen.
const canvasSide = 640

// Shades finds out how much of each shade is seen, and beside which others.
var Shades = Stage[ShadesInput, *Seen]{
	Name: "shades",
	Run: func(ctx context.Context, in ShadesInput) (*Seen, error) {
		s := in.Joined.Value.Sheet
		intake := recipe.Intake{Choice: in.Choice}
		out := &Seen{Hex: map[int32]string{}}
		var take []int
		for i := range s.Shapes {
			if !intake.Included(s, i) {
				continue
			}
			take = append(take, i)
			if out.Hex[int32(i)] = in.Colors[s.Shapes[i].Key]; out.Hex[int32(i)] == "" {
				out.Hex[int32(i)] = s.Shapes[i].Color.Hex()
			}
		}
		var err error
		if out.Canvas, err = palette.Paint(ctx, s, take, canvasSide); err != nil {
			return nil, err
		}
		out.Shades = palette.ShadesOf(s, take, func(i int) string { return out.Hex[int32(i)] }, out.Canvas)
		return out, nil
	},
	Size: func(s *Seen) int64 { return 4*int64(len(s.Canvas.Shape)) + 100*int64(len(s.Shades.List)+len(s.Hex)) },
	Need: func(ShadesInput) int64 { return 16 * canvasSide * canvasSide },
}

// GatherInput is shades and what they are gathered to.
type GatherInput struct {
	Seen     Made[*Seen]
	Count    int
	Distance float64
	Given    []string
	Moved    map[string]string
}

// Gather gathers the shades of artwork to few colours.
var Gather = Stage[GatherInput, *palette.Gathered]{
	Name: "gather",
	Run: func(ctx context.Context, in GatherInput) (*palette.Gathered, error) {
		p := recipe.Palette{Count: in.Count, Distance: in.Distance, Given: in.Given, Moved: in.Moved}
		return palette.Gather(ctx, in.Seen.Value.Shades, &p)
	},
	Size: func(g *palette.Gathered) int64 { return 200 * int64(len(g.Shades)) },
	Need: func(in GatherInput) int64 {
		return 400 * int64(math.Min(5000, float64(len(in.Seen.Value.Shades.List))))
	},
}

// ShadesOf returns the shades of artwork that was mended already.
func (l *Line) ShadesOf(ctx context.Context, mended *Mended) (Made[*Seen], error) {
	in := chooseInput(mended.Joined, l.Recipe)
	progress.Set(ctx, "Counting the colours", 0)
	return Shades.Make(ctx, l.Keep, ShadesInput{in.Joined, in.Choice, in.Colors})
}

// Gathered returns the shades of mended artwork gathered as the recipe says.
func (l *Line) Gathered(ctx context.Context, mended *Mended) (Made[*palette.Gathered], error) {
	seen, err := l.ShadesOf(ctx, mended)
	if err != nil {
		return Made[*palette.Gathered]{}, err
	}
	p := &l.Recipe.Parts.Palette
	return Gather.Make(ctx, l.Keep, GatherInput{seen, p.Count, p.Distance, p.Given, p.Moved})
}

// CountShades returns how many shades the artwork has, before they are gathered.
func (l *Line) CountShades(ctx context.Context, mended *Mended) (int, error) {
	if l.Recipe.Parts.Palette.On() {
		got, err := l.Gathered(ctx, mended)
		if err != nil {
			return 0, err
		}
		return len(got.Value.Shades), nil
	}
	in := chooseInput(mended.Joined, l.Recipe)
	s, intake := in.Joined.Value.Sheet, recipe.Intake{Choice: in.Choice}
	seen := map[string]bool{}
	for i := range s.Shapes {
		if !intake.Included(s, i) {
			continue
		}
		hex := in.Colors[s.Shapes[i].Key]
		if hex == "" {
			hex = s.Shapes[i].Color.Hex()
		}
		seen[hex] = true
	}
	return len(seen), nil
}

// chosen divides mended artwork into parts, its shades gathered where the recipe says so.
func (l *Line) chosen(ctx context.Context, mended *Mended) (Made[*Chosen], error) {
	in := chooseInput(mended.Joined, l.Recipe)
	if l.Recipe.Parts.Palette.On() {
		var err error
		if in.Gathered, err = l.Gathered(ctx, mended); err != nil {
			return Made[*Chosen]{}, err
		}
	}
	return Choose.Make(ctx, l.Keep, in)
}
