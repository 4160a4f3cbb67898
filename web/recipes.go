package web

import (
	"net/url"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
)

// recipes lists the recipes for any piece.
func (h *server) recipes(c fiber.Ctx) error {
	list, err := h.studio.Recipes(c.Context())
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"recipes": list})
}

// keepRecipe keeps a recipe: a document that was written elsewhere, or measures of this
// page.
func (h *server) keepRecipe(c fiber.Ctx) error {
	var r struct {
		Named    *recipe.Named `json:"named"`
		Document string        `json:"document"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	doc := []byte(r.Document)
	if r.Named != nil {
		var err error
		if doc, err = r.Named.Document(); err != nil {
			return fiber.NewError(fiber.StatusUnprocessableEntity, sentence(err))
		}
	}
	n, instead, err := h.studio.KeepRecipe(c.Context(), doc)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"name": n.Name, "instead": instead})
}

// recipeFile sends a recipe as a file.
func (h *server) recipeFile(c fiber.Ctx) error {
	name, err := url.PathUnescape(c.Params("name"))
	if err != nil {
		return fiber.NewError(fiber.StatusNotFound, "There is no such recipe.")
	}
	n, err := h.studio.Recipe(c.Context(), name)
	if err != nil {
		return err
	}
	doc, err := n.Document()
	if err != nil {
		return err
	}
	return sendDocument(c, n.Name, doc)
}

// dropRecipe forgets one that was kept.
func (h *server) dropRecipe(c fiber.Ctx) error {
	var r struct {
		Name string `json:"name"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	id, err := h.studio.DropRecipe(c.Context(), r.Name)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"dropped": id})
}
