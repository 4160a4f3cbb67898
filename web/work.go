package web

import (
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/studio"
)

// work lists what goes on, whoever began it and from whichever page.
func (h *server) work(c fiber.Ctx) error {
	list, err := h.studio.AtWork(c.Context())
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{"work": list})
}

// deletedRow is something that waits to be brought back, as the page lists it.
type deletedRow struct {
	Kind string `json:"kind"`
	ID   string `json:"id"`
	Name string `json:"name"`
	What string `json:"what"` // which kind of thing, in words
	Goes string `json:"goes"` // the day on which it is removed for good
}

func deletedRows(list []studio.Deleted) []deletedRow {
	out := make([]deletedRow, len(list))
	for i, d := range list {
		what := map[string]string{"piece": "piece", "version": "version of " + d.Of, "recipe": "recipe", "palette": "palette"}[d.Kind]
		out[i] = deletedRow{d.Kind, d.ID, d.Name, what, dayOf(d.Goes)}
	}
	return out
}

func dayOf(t time.Time) string { return t.Format("2 January 2006") }

// deleted lists what was deleted.
func (h *server) deleted(c fiber.Ctx) error {
	list, err := h.studio.Deleted(c.Context())
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{"deleted": deletedRows(list)})
}

// bringBack takes back that something was deleted.
func (h *server) bringBack(c fiber.Ctx) error {
	say, err := h.studio.BringBack(c.Context(), c.Params("kind"), c.Params("what"))
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"say": say})
}
