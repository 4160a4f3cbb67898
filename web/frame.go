package web

import (
	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/csrf"

	"bildhauer/core/read"
	"bildhauer/core/show"
)

// Step is an entry of the rail. Its page module has the same key.
type Step struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Hint string `json:"hint"`
	Pane string `json:"pane"` // what the left pane lists; the step fills it unless it is Parts
}

// partsPane is the list of parts, which the frame draws.
const partsPane = "Parts"

// Steps lists the steps in the order in which people walk them.
var Steps = []Step{
	{"intake", "Intake", "what was read", "Layers and shapes"},
	{"mend", "Mend", "make the outlines sound", "Findings"},
	{"size", "Size", "how large it is", partsPane},
	{"raise", "Raise", "depth and bevel", partsPane},
	{"show", "Show", "material, light and camera", partsPane},
	{"release", "Release", "check and download", partsPane},
}

// frame tells the page what is not in the modules that are made of the tables (core/terms): the steps,
// the ready materials, and how large a file may be.
func (h *server) frame(c fiber.Ctx) error {
	return c.JSON(
		fiber.Map{
			"steps": Steps, "maxMB": read.MaxBytes >> 20, "materials": show.Materials(),
		},
	)
}

// step is the page of a piece; its address names the step to begin with.
func (h *server) step(c fiber.Ctx) error {
	for _, s := range Steps {
		if s.Key != c.Params("step") {
			continue
		}
		p, err := h.studio.Piece(c.Context(), c.Params("id"))
		if err != nil {
			return err
		}
		return c.Render(
			"piece",
			fiber.Map{"Title": p.Recipe.Name + " · " + s.Name, "Token": csrf.TokenFromContext(c),
				"ID": p.ID, "Name": p.Recipe.Name, "Step": s, "Steps": Steps},
		)
	}
	return fiber.NewError(fiber.StatusNotFound, "There is nothing at this address.")
}
