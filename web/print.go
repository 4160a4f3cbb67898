package web

import (
	"context"
	"maps"
	"slices"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/print"
	"bildhauer/core/write"
	"bildhauer/studio"
)

// printWords is what the page chooses a printer from.
func printWords() fiber.Map {
	return fiber.Map{
		"beds": print.Beds, "materials": print.Materials, "usual": print.Usual(), "names": slices.Sorted(maps.Keys(print.Materials)),
	}
}

// printRequest is a setup, and a layer where one is asked for.
type printRequest struct {
	print.Setup
	N int `json:"n"` // of a layer, from 0
}

// printReport tells what is to be known before the piece is printed.
func (h *server) printReport(c fiber.Ctx) error {
	r := printRequest{Setup: print.Usual()}
	return h.onPiece(c, &r, func(ctx context.Context, p studio.Piece) error {
		report, err := h.studio.PrintReport(ctx, p, r.Setup)
		if err != nil {
			return err
		}
		return c.JSON(report)
	})
}

// layer sends the section of one layer as a path in mm, y down, the middle of the piece at
// the origin, with its height above the bed and its area.
func (h *server) layer(c fiber.Ctx) error {
	r := printRequest{Setup: print.Usual()}
	return h.onPiece(c, &r, func(ctx context.Context, p studio.Piece) error {
		made, err := h.studio.Layers(ctx, p, r.Setup)
		if err != nil {
			return err
		}
		list, m := made.Value.Layers, made.Value.Mesh
		if r.N < 0 || r.N >= len(list) {
			return &studio.ErrInput{Text: "There is no such layer any more."}
		}
		lo, hi := m.Box()
		l := &list[r.N]
		place := func(q plane.Point) geom.Vec {
			return geom.Vec{X: float64(q.X)*m.Step - (lo[0]+hi[0])/2, Y: (lo[1]+hi[1])/2 - float64(q.Y)*m.Step}
		}
		return c.JSON(fiber.Map{
			"path": string(write.RegionPath(nil, l.Area, place, write.Short)), "z": l.Z, "height": l.Height,
			"area": print.AreaOf(l.Area, m.Step), "layers": len(list),
		})
	})
}
