package web

import (
	"context"
	"encoding/base64"
	"fmt"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
	"bildhauer/core/units"
	"bildhauer/studio"
)

// shadeState is a shade of the artwork and what it becomes.
type shadeState struct {
	Hex    string  `json:"hex"`
	To     string  `json:"to"`
	Share  float64 `json:"share"` // of what is seen
	Shapes int     `json:"shapes"`
	Keeps  string  `json:"keeps,omitempty"` // why it keeps its own: text or outlines
}

// mostShades is how many shades are listed; of more, those that are seen least are only counted.
const mostShades = 2000

// colours tells what a palette makes of a piece: which shade becomes what, by how much that differs, and
// pictures of it before and after.
func (h *server) colours(c fiber.Ctx) error {
	var r struct {
		Palette recipe.Palette `json:"palette"`
		Before  bool           `json:"before"` // the picture of before is wanted, too
	}
	return h.onPiece(c, &r, func(ctx context.Context, p studio.Piece) error {
		got, err := h.studio.Colours(ctx, p, r.Palette)
		if err != nil {
			return err
		}
		list := make([]shadeState, 0, len(got.Shades))
		for i, s := range got.Shades {
			one := shadeState{Hex: s.Hex, To: got.To[i], Share: units.Round(s.Area, 5), Shapes: s.Shapes}
			switch {
			case one.To != s.Hex:
			case s.Text:
				one.Keeps = "text"
			case s.Line:
				one.Keeps = "outlines"
			}
			list = append(list, one)
		}
		out := fiber.Map{
			"count": len(list), "shades": list[:min(len(list), mostShades)], "colours": got.Colors, "shares": got.Area,
			"mean": units.Round(100*got.Mean, 2), "most": units.Round(100*got.Most, 1),
		}
		for name, own := range map[string]bool{"before": true, "after": false} {
			if own && !r.Before {
				continue
			}
			picture, err := got.Picture(own)
			if err != nil {
				return err
			}
			out[name] = fmt.Sprintf("data:image/png;base64,%s", base64.StdEncoding.EncodeToString(picture))
		}
		return c.JSON(out)
	})
}

// palettes lists the palettes that are kept.
func (h *server) palettes(c fiber.Ctx) error {
	list, err := h.studio.Palettes(c.Context())
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"palettes": list})
}

// keepPalette keeps one by its name.
func (h *server) keepPalette(c fiber.Ctx) error {
	var p studio.Palette
	if err := parse(c, &p); err != nil {
		return err
	}
	instead, err := h.studio.KeepPalette(c.Context(), p)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"name": p.Name, "instead": instead})
}

// dropPalette forgets one that was kept.
func (h *server) dropPalette(c fiber.Ctx) error {
	var r struct {
		Name string `json:"name"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	id, err := h.studio.DropPalette(c.Context(), r.Name)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"dropped": id})
}
