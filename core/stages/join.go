package stages

import (
	"context"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

// JoinInput is the sheets of a piece in their order.
type JoinInput struct{ Sheets []JoinSheet }

// JoinSheet is one of them.
type JoinSheet struct {
	Sheet  Made[*artwork.Sheet]
	Slot   int
	Beside bool
	Shift  [2]float64
}

// Joined is the sheets put together, and what is known of each.
type Joined struct {
	Sheet    *artwork.Sheet
	Pages    []int      // of each file; 0 where the format has none
	Bitmaps  []bool     // of each file: it was traced
	Pictures []int      // of each file: how many bitmaps are inside
	Names    []string   // of each file
	Boxes    []geom.Box // of each file's page, where it lies
}

// Join puts the sheets of a piece together.
var Join = Stage[JoinInput, *Joined]{
	Name: "join",
	Run: func(_ context.Context, in JoinInput) (*Joined, error) {
		out := &Joined{}
		var placed []artwork.Placed
		for _, s := range in.Sheets {
			placed = append(placed, artwork.Placed{Sheet: s.Sheet.Value, Slot: s.Slot, Beside: s.Beside,
				Shift: geom.Vec{X: s.Shift[0], Y: s.Shift[1]}})
			out.Pages = append(out.Pages, s.Sheet.Value.Pages)
			out.Bitmaps = append(out.Bitmaps, s.Sheet.Value.Bitmap)
			out.Pictures = append(out.Pictures, s.Sheet.Value.Pictures)
			out.Names = append(out.Names, s.Sheet.Value.Name)
		}
		for i, m := range artwork.Shifts(placed) {
			out.Boxes = append(out.Boxes, placed[i].Sheet.Page.Transform(m))
		}
		out.Sheet = artwork.Join(placed)
		return out, nil
	},
	// Shapes share their outlines with the sheets that they come from.
	Size: func(j *Joined) int64 { return 400*int64(len(j.Sheet.Shapes)) + 4096 },
}
