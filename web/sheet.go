package web

import (
	"context"
	"fmt"
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/units"
	"bildhauer/studio"
)

// sheetPart is a part on the page to print, its figures as text.
type sheetPart struct{ Name, Color, Material, Size, Volume, Mass, Triangles string }

// sheetFact is a figure of the whole.
type sheetFact struct{ Name, Value string }

// sheet is the page to print that comes with a piece: picture, measures, parts, materials,
// mass, and how it would be printed.
func (h *server) sheet(c fiber.Ctx) error {
	return h.onPiece(c, nil, func(ctx context.Context, p studio.Piece) error {
		s, err := h.studio.Sheet(ctx, p)
		if err != nil {
			return err
		}
		by := func(v [3]float64) string {
			return units.Figure(v[0]) + " × " + units.Figure(v[1]) + " × " + units.Figure(v[2]) + " mm"
		}
		var parts []sheetPart
		volume, triangles := 0.0, 0
		for _, x := range s.Parts {
			volume, triangles = volume+x.VolumeMM3, triangles+x.Triangles
			parts = append(parts, sheetPart{
				x.Name, x.Color, x.Material, by(x.Size), units.Figure(x.VolumeMM3/1000) + " cm³", units.Figure(x.Mass) + " g",
				units.Count(x.Triangles),
			})
		}
		facts := []sheetFact{
			{"Size", by(s.Size)}, {"Parts", units.Count(len(parts))}, {"Triangles", units.Count(triangles)},
			{"Volume", units.Figure(volume/1000) + " cm³"}, {"Mass", units.Figure(s.Mass) + " g of " + s.Of + ", all filled"},
		}
		return c.Render("sheet", fiber.Map{
			"Title": p.Recipe.Name, "ID": p.ID, "Rev": p.Rev, "Facts": append(facts, h.printFacts(ctx, p)...), "Parts": parts,
			"Made": time.Now().Format("2 January 2006"),
		})
	})
}

// printFacts tells how a piece would be printed, or why it can't be.
func (h *server) printFacts(ctx context.Context, p studio.Piece) []sheetFact {
	made, err := h.studio.PrintJob(ctx, p)
	if err != nil {
		return []sheetFact{{"Print", err.Error()}}
	}
	j := made.Value
	how := &p.Recipe.Print
	t := time.Duration(j.Time() * float64(time.Second)).Round(time.Minute)
	facts := []sheetFact{
		{"Print", fmt.Sprintf("%d layers of %g mm, %d h %02d min, %s m of filament, %s g, costs %s", len(j.Laid), how.Layer,
			int(t.Hours()), int(t.Minutes())%60, units.Figure(j.Filament()/1000), units.Figure(j.Mass()), units.Figure(j.Mass()/1000*how.Price))},
	}
	if len(j.Changes) < 2 {
		return facts
	}
	for i, c := range j.Changes {
		text := fmt.Sprintf("%s (%s) from layer %d on, %s mm up", c.Name, c.Color, c.Layer, units.Figure(c.Z))
		if i == 0 {
			text = fmt.Sprintf("%s (%s) to begin with", c.Name, c.Color)
		}
		facts = append(facts, sheetFact{fmt.Sprintf("Filament %d", i+1), text})
	}
	return facts
}

// The picture of the sheet: as wide as a page at 150 dots to the inch, and samples enough for
// the filter.
const (
	sheetWide = 960
	sheetHigh = 600
)

var sheetSamples = 8 // of a pixel; tests take fewer

// sheetPicture is the picture of the sheet. The address names the revision.
func (h *server) sheetPicture(c fiber.Ctx) error {
	return h.onPiece(c, nil, func(ctx context.Context, p studio.Piece) error {
		data, err := h.studio.Picture(ctx, p, studio.Shot{Width: sheetWide, Height: sheetHigh, Samples: sheetSamples})
		if err != nil {
			return err
		}
		c.Set("Content-Type", "image/png")
		c.Set("Cache-Control", "private, max-age=31536000")
		return c.Send(data)
	})
}
