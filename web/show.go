package web

import (
	"context"

	"github.com/gofiber/fiber/v3"

	"bildhauer/studio"
)

// picture sends a picture of a piece as a PNG file.
func (h *server) picture(c fiber.Ctx) error {
	var shot studio.Shot
	return h.onPiece(c, &shot, func(ctx context.Context, p studio.Piece) error {
		data, err := h.studio.Picture(ctx, p, shot)
		if err != nil {
			return err
		}
		c.Set("Content-Type", "image/png")
		c.Set("Cache-Control", "no-store")
		return c.Send(data)
	})
}

// seen sends a picture of a piece, as it is or as a version has it, for a view that the browser
// can't draw itself.
func (h *server) seen(c fiber.Ctx) error {
	var r struct {
		studio.Seen
		Version string `json:"version"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.pieceAt(ctx, c.Params("id"), r.Version)
	if err != nil {
		return err
	}
	data, err := h.studio.See(ctx, p, r.Seen)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "image/png")
	c.Set("Cache-Control", "no-store")
	return c.Send(data)
}
