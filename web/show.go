package web

import (
	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/studio"
)

// sceneWords is what the page chooses scenes from.
func sceneWords() fiber.Map {
	return fiber.Map{
		"materials": show.Materials(), "settings": recipe.Settings, "surroundings": recipe.SurroundingNames,
		"backdrops": recipe.Backdrops, "contrasts": recipe.Contrasts, "faces": recipe.FaceGroups,
	}
}

// picture sends a picture of a piece as a PNG file.
func (h *server) picture(c fiber.Ctx) error {
	var shot studio.Shot
	if err := parse(c, &shot); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	data, err := h.studio.Picture(ctx, p, shot)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "image/png")
	c.Set("Cache-Control", "no-store")
	return c.Send(data)
}
