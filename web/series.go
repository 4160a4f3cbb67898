package web

import (
	"bufio"
	"path/filepath"
	"strings"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
	"bildhauer/core/units"
	"bildhauer/studio"
)

// startSeries begins to raise many files by one recipe: one that is kept, named in the
// address, or one that came along as a JSON file.
func (h *server) startSeries(c fiber.Ctx) error {
	files, err := uploadsOf(c, studio.SeriesMost+1, "a series has")
	if err != nil {
		return err
	}
	var artwork []studio.File
	var doc []byte
	for _, f := range files {
		if strings.EqualFold(filepath.Ext(f.Name), ".json") {
			doc = f.Data
		} else {
			artwork = append(artwork, f)
		}
	}
	if doc == nil && c.Query("recipe") != "" {
		named, err := h.studio.Recipe(c.Context(), c.Query("recipe"))
		if err != nil {
			return err
		}
		if doc, err = named.Document(); err != nil {
			return err
		}
	}
	base := recipe.New()
	if doc != nil {
		if base, err = recipe.Open(doc); err != nil {
			return &studio.ErrInput{Text: sentence(err)}
		}
	}
	if w := c.Query("width"); w != "" {
		mm, err := units.ParseLength(w, "mm")
		if err != nil {
			return &studio.ErrInput{Text: sentence(err)}
		}
		base.Size.By, base.Size.MM = recipe.Width, mm
	}
	x, err := h.studio.StartSeries(c.Context(), artwork, base, c.Query("format", "stl"))
	if err != nil {
		return err
	}
	answer := fiber.Map{"id": x.ID}
	if base.Size.By == recipe.Width {
		answer["width"] = units.MM(base.Size.MM) // what was understood
	}
	return c.JSON(answer)
}

func (h *server) seriesState(c fiber.Ctx) error {
	x, err := h.studio.SeriesOf(c.Params("id"))
	if err != nil {
		return err
	}
	lines, over := x.Lines()
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{"id": x.ID, "recipe": x.Recipe, "format": x.Format, "lines": lines, "over": over})
}

func (h *server) cancelSeries(c fiber.Ctx) error {
	x, err := h.studio.SeriesOf(c.Params("id"))
	if err != nil {
		return err
	}
	x.Cancel()
	return h.seriesState(c)
}

// removeSeries ends a series and removes what there is of it.
func (h *server) removeSeries(c fiber.Ctx) error {
	if err := h.studio.RemoveSeries(c.Params("id")); err != nil {
		return err
	}
	return h.work(c)
}

// seriesZip sends all that is done as one archive, as it is written.
func (h *server) seriesZip(c fiber.Ctx) error {
	x, err := h.studio.SeriesOf(c.Params("id"))
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/zip")
	c.Set("Cache-Control", "no-store")
	attach(c, "series-"+x.Format+".zip")
	return c.SendStreamWriter(func(w *bufio.Writer) {
		if x.Zip(w) == nil && w.Flush() == nil {
			if _, over := x.Lines(); over {
				h.studio.TakenSeries(x)
			}
		}
	})
}
