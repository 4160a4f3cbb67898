package web

import (
	"context"
	"sort"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
	"bildhauer/core/units"
	"bildhauer/studio"
)

// slab is a body in the section drawing of a relief, lengths in mm.
type slab struct {
	Color string  `json:"color"`
	From  float64 `json:"from"`
	To    float64 `json:"to"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// mostSlabs is how many bodies a drawing a hand wide shows; of more the widest are drawn.
const mostSlabs = 600

// relief tells what a relief would make of a piece: levels, height and a section across it.
func (h *server) relief(c fiber.Ctx) error {
	var r struct {
		Relief recipe.Relief `json:"relief"`
	}
	return h.onPiece(c, &r, func(ctx context.Context, p studio.Piece) error {
		got, err := h.studio.Relief(ctx, p, r.Relief)
		if err != nil {
			return err
		}
		list, trouble := []slab{}, ""
		if got.Trouble != "" {
			trouble = sentenceOf(got.Trouble)
		}
		for _, s := range got.Across {
			list = append(list, slab{s.Color.Hex(), units.Round(s.From, 3), units.Round(s.To, 3), units.Round(s.Low, 4), units.Round(s.High, 4)})
		}
		if len(list) > mostSlabs {
			sort.SliceStable(list, func(i, j int) bool { return list[i].To-list[i].From > list[j].To-list[j].From })
			list = list[:mostSlabs]
		}
		return c.JSON(fiber.Map{
			"levels": got.Levels, "high": units.Round(got.High, 4), "step": units.Round(got.Step, 4), "parts": got.Parts,
			"trouble": trouble, "across": list,
		})
	})
}
