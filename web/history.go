package web

import (
	"strconv"

	"github.com/gofiber/fiber/v3"

	"bildhauer/studio"
)

// stepState is a step of the history as the page lists it.
type stepState struct {
	Rev   int64  `json:"rev"`
	Label string `json:"label"`
	Made  string `json:"made"`
	Now   bool   `json:"now"`
}

// history lists the steps of a piece, the newest first.
func (h *server) history(c fiber.Ctx) error {
	list, err := h.studio.Steps(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	out := make([]stepState, 0, len(list))
	for i := len(list) - 1; i >= 0; i-- {
		s := list[i]
		out = append(out, stepState{s.Rev, s.Label, s.Made.Format("2 January, 15:04"), s.Now})
	}
	return c.JSON(fiber.Map{"steps": out})
}

// goTo goes to a step of the history.
func (h *server) goTo(c fiber.Ctx) error {
	rev, err := revision(c)
	if err != nil {
		return err
	}
	if err := h.studio.GoTo(c.Context(), c.Params("id"), base(c), rev); err != nil {
		return err
	}
	return h.state(c)
}

// stepThumb draws a step of the history as the piece's own picture is drawn.
func (h *server) stepThumb(c fiber.Ctx) error {
	rev, err := revision(c)
	if err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.StepPiece(ctx, c.Params("id"), rev)
	if err != nil {
		return err
	}
	svg, err := h.drawThumb(ctx, p)
	if err != nil {
		return err
	}
	return sendThumb(c, svg)
}

func revision(c fiber.Ctx) (int64, error) {
	rev, err := strconv.ParseInt(c.Params("rev"), 10, 64)
	if err != nil {
		return 0, &studio.ErrInput{Text: "There is no such step."}
	}
	return rev, nil
}
