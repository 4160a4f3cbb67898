package web

import (
	"bufio"
	"context"

	"github.com/gofiber/fiber/v3"

	"bildhauer/studio"
)

type versionState struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Made string `json:"made"`
}

// versions lists those of a piece, newest first.
func (h *server) versions(c fiber.Ctx) error {
	list, err := h.studio.Versions(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	out := make([]versionState, len(list))
	for i, v := range list {
		out[i] = versionState{v.ID, v.Name, v.Made.Format("2 January 2006, 15:04")}
	}
	return c.JSON(fiber.Map{"versions": out})
}

func (h *server) keepVersion(c fiber.Ctx) error {
	var r struct {
		Name string `json:"name"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	if _, err := h.studio.KeepVersion(c.Context(), c.Params("id"), r.Name); err != nil {
		return err
	}
	return h.versions(c)
}

func (h *server) dropVersion(c fiber.Ctx) error {
	if err := h.studio.DropVersion(c.Context(), c.Params("id"), c.Params("version")); err != nil {
		return err
	}
	return h.versions(c)
}

// goBack makes a version the state in force.
func (h *server) goBack(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.GoBack(ctx, c.Params("id"), c.Params("version"))
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// compare tells what differs between a version and the piece as it is.
func (h *server) compare(c fiber.Ctx) error {
	list, all, err := h.studio.Compare(c.Context(), c.Params("id"), c.Params("version"))
	if err != nil {
		return err
	}
	if list == nil {
		list = []studio.Difference{}
	}
	return c.JSON(fiber.Map{"differences": list, "all": all})
}

// pieceAt returns a piece as a version has it, as it is for "".
func (h *server) pieceAt(ctx context.Context, id, version string) (studio.Piece, error) {
	if version == "" {
		return h.studio.Piece(ctx, id)
	}
	return h.studio.VersionPiece(ctx, id, version)
}

// versionState sends what the page is told of a piece, as a version has it.
func (h *server) versionState(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.pieceAt(ctx, c.Params("id"), c.Params("version"))
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// versionThumb draws a version as the piece's own picture is drawn.
func (h *server) versionThumb(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.VersionPiece(ctx, c.Params("id"), c.Params("version"))
	if err != nil {
		return err
	}
	svg, err := h.drawThumb(ctx, p)
	if err != nil {
		return err
	}
	return sendThumb(c, svg)
}

// bundle sends the piece as one file.
func (h *server) bundle(c fiber.Ctx) error {
	id := c.Params("id")
	p, err := h.studio.Piece(c.Context(), id)
	if err != nil {
		return err
	}
	write, err := h.studio.Bundle(c.Context(), id)
	if err != nil {
		return err
	}
	attach(c, fileName(p.Recipe.Name)+".zip")
	c.Set("Content-Type", "application/zip")
	return c.SendStreamWriter(func(w *bufio.Writer) {
		if err := write(w); err != nil {
			h.studio.Diary().Write("GET /pieces/:id/piece.zip", err)
			return // the archive is not closed, so that it is seen to be short
		}
		w.Flush()
	})
}
