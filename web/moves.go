package web

import (
	"net/url"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
)

// moves lists the moves that are kept by their names.
func (h *server) moves(c fiber.Ctx) error {
	list, err := h.studio.Moves(c.Context())
	if err != nil {
		return err
	}
	names := make([]string, len(list))
	for i, m := range list {
		names[i] = m.Name
	}
	return c.JSON(fiber.Map{"moves": names})
}

// keepMove keeps a move: a document that was written elsewhere, or keys of this page.
func (h *server) keepMove(c fiber.Ctx) error {
	var r struct {
		Name     string        `json:"name"`
		Motion   recipe.Motion `json:"motion"`
		Document string        `json:"document"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	doc := []byte(r.Document)
	if r.Document == "" {
		var err error
		if doc, err = (recipe.Move{Name: r.Name, Motion: r.Motion}).Document(); err != nil {
			return fiber.NewError(fiber.StatusUnprocessableEntity, sentence(err))
		}
	}
	m, instead, err := h.studio.KeepMove(c.Context(), doc)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"name": m.Name, "instead": instead})
}

// moveFile sends a move as a file.
func (h *server) moveFile(c fiber.Ctx) error {
	name, err := url.PathUnescape(c.Params("name"))
	if err != nil {
		return fiber.NewError(fiber.StatusNotFound, "There is no such move.")
	}
	m, err := h.studio.Move(c.Context(), name)
	if err != nil {
		return err
	}
	doc, err := m.Document()
	if err != nil {
		return err
	}
	return sendDocument(c, m.Name, doc)
}

// sendDocument sends a recipe as a file to be saved.
func sendDocument(c fiber.Ctx, name string, doc []byte) error {
	c.Set("Content-Type", "application/json")
	attach(c, fileName(name)+".json")
	return c.Send(doc)
}

// dropMove forgets one that was kept.
func (h *server) dropMove(c fiber.Ctx) error {
	var r struct {
		Name string `json:"name"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	id, err := h.studio.DropMove(c.Context(), r.Name)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"dropped": id})
}
