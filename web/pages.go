package web

import (
	"bytes"
	"fmt"
	"math"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/csrf"

	"bildhauer/core/read"
	"bildhauer/studio"
)

// step is an entry of the rail.
type step struct{ Key, Name, Hint string }

var steps = []step{
	{"intake", "Intake", "what was read"},
	{"size", "Size", "how large it is"},
	{"raise", "Raise", "depth and bevel"},
	{"release", "Release", "check and download"},
}

type card struct {
	ID, Name, Made string
	Seq            int64
}

func (h *server) home(c fiber.Ctx) error {
	list, err := h.studio.Pieces()
	if err != nil {
		return err
	}
	cards := make([]card, len(list))
	for i, p := range list {
		cards[i] = card{p.ID, p.Doc.Name, ago(time.Since(p.Updated)), p.Seq}
	}
	return c.Render("home", fiber.Map{"Title": "Pieces", "Token": csrf.TokenFromContext(c), "Cards": cards, "MaxMB": read.MaxBytes >> 20})
}

func ago(d time.Duration) string {
	switch {
	case d < time.Minute:
		return "changed just now"
	case d < time.Hour:
		return fmt.Sprintf("changed %d min ago", int(d.Minutes()))
	case d < 48*time.Hour:
		return fmt.Sprintf("changed %d h ago", int(d.Hours()))
	}
	return fmt.Sprintf("changed %d days ago", int(d.Hours()/24))
}

func (h *server) step(c fiber.Ctx) error {
	for _, s := range steps {
		if s.Key != c.Params("step") {
			continue
		}
		p, err := h.studio.Piece(c.Params("id"))
		if err != nil {
			return err
		}
		return c.Render("piece", fiber.Map{"Title": p.Doc.Name + " · " + s.Name, "Token": csrf.TokenFromContext(c),
			"ID": p.ID, "Name": p.Doc.Name, "Step": s.Key, "Steps": steps})
	}
	return fiber.NewError(fiber.StatusNotFound, "There is nothing at this address.")
}

func (h *server) create(c fiber.Ctx) error {
	files, err := uploads(c)
	if err != nil {
		return err
	}
	id, err := h.studio.Create(files...)
	if err != nil {
		var in *studio.ErrInput
		if asError(err, &in) {
			return err
		}
		return &studio.ErrInput{Text: err.Error()}
	}
	return c.JSON(fiber.Map{"id": id, "address": "/pieces/" + id + "/raise"})
}

// thumb draws a piece's parts from their own outlines.
func (h *server) thumb(c fiber.Ctx) error {
	p, err := h.studio.Look(c.Params("id"))
	if err != nil {
		return err
	}
	c.Set("Content-Type", "image/svg+xml")
	c.Set("Cache-Control", "private, max-age=31536000")
	var b bytes.Buffer
	prep, err := h.studio.Prepared(c.Context(), p)
	if err != nil { // everything left out
		b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"/>`)
		return c.Send(b.Bytes())
	}
	side := math.Max(prep.Width, prep.Height)
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="%.4g %.4g %.4g %.4g">`, -side*.54, -side*.54, side*1.08, side*1.08)
	for i := range prep.Parts {
		part := &prep.Parts[i]
		fmt.Fprintf(&b, `<path fill="%s" d="%s"/>`, part.Color.Hex(), pathData(part.Region, prep.Step, side/800))
	}
	b.WriteString(`</svg>`)
	return c.Send(b.Bytes())
}

func (h *server) duplicate(c fiber.Ctx) error {
	id, err := h.studio.Duplicate(c.Params("id"))
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"id": id})
}

func (h *server) remove(c fiber.Ctx) error {
	h.studio.Cancel(c.Params("id"))
	if err := h.studio.Delete(c.Params("id")); err != nil {
		return err
	}
	return c.JSON(fiber.Map{"ok": true})
}

func (h *server) restore(c fiber.Ctx) error {
	if err := h.studio.Restore(c.Params("id")); err != nil {
		return err
	}
	return c.JSON(fiber.Map{"ok": true})
}
