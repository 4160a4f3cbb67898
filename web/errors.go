package web

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"strings"
	"syscall"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/store"
	"bildhauer/studio"
)

// answer is what people are told about an error.
type answer struct {
	code int
	text string
	kind string // for scripts: "cancelled", "stale" or ""
}

// wordsFor turns an error into an answer. What went wrong inside goes to the
// log, not to the screen.
func wordsFor(err error) (a answer, inside bool) {
	var fe *fiber.Error
	var in *studio.ErrInput
	var old *studio.ErrStale
	var bad *studio.ErrDamaged
	var problem *stages.Problem
	var refusal *read.Refusal
	switch {
	case errors.As(err, &fe):
		return answer{code: fe.Code, text: fe.Message}, false
	case errors.As(err, &in):
		return answer{code: fiber.StatusUnprocessableEntity, text: in.Text}, false
	case errors.As(err, &problem):
		return answer{code: fiber.StatusUnprocessableEntity, text: problem.Error()}, false
	case errors.As(err, &refusal):
		return answer{code: fiber.StatusUnprocessableEntity, text: refusal.Text + "."}, refusal.Bug != nil
	case errors.As(err, &old):
		return answer{fiber.StatusConflict, old.Text, "stale"}, false
	case errors.Is(err, recipe.ErrNewer):
		return answer{
			code: fiber.StatusUnprocessableEntity,
			text: "This piece was changed by a newer Bildhauer. Open it with that one.",
		}, false
	case errors.As(err, &bad):
		return answer{code: fiber.StatusUnprocessableEntity, text: bad.Error()}, true
	case errors.Is(err, context.Canceled), errors.Is(err, studio.ErrCancelled):
		return answer{fiber.StatusConflict, "Cancelled.", "cancelled"}, false
	case errors.Is(err, context.DeadlineExceeded):
		return answer{
			code: fiber.StatusUnprocessableEntity,
			text: "This took too long and was ended. Raise the tolerance in Size, or use fewer segments.",
		}, false
	case errors.Is(err, store.ErrNotFound):
		return answer{
			code: fiber.StatusNotFound,
			text: "There is no such piece. It may have been deleted.",
		}, false
	case errors.Is(err, store.ErrFull), errors.Is(err, syscall.ENOSPC):
		return answer{
			code: fiber.StatusInsufficientStorage,
			text: "The disk is full; this was not saved. Make room and try again.",
		}, true
	}
	switch {
	case errors.Is(err, store.ErrReadOnly), errors.Is(err, fs.ErrPermission), errors.Is(err, syscall.EROFS):
		return answer{
			code: fiber.StatusInsufficientStorage,
			text: "The data folder can't be written; this was not saved. Give Bildhauer the right to write there and try again.",
		}, true
	case errors.Is(err, store.ErrDamaged):
		return answer{
			code: fiber.StatusInternalServerError,
			text: "The database is damaged; this was not saved. End Bildhauer and restore the newest copy from the folder \"copies\".",
		}, true
	}
	return answer{
		code: fiber.StatusInternalServerError,
		text: "Something went wrong inside Bildhauer. Your piece is safe as it was before; try again.",
	}, true
}

// cameWith is an error about files that somebody brought.
type cameWith struct {
	error
	files []studio.File
}

func (e *cameWith) Unwrap() error { return e.error }

// about tells with an error which files it is about.
func about(err error, files ...studio.File) error {
	if err == nil {
		return nil
	}
	return &cameWith{err, files}
}

// keepAside keeps the files that something went wrong with, for a report.
func (h *server) keepAside(c fiber.Ctx) error {
	where, err := h.studio.KeepAside(int64(fiber.Params[int](c, "number")))
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"where": where})
}

// handleError answers with a sentence: as JSON to scripts, as a page to people.
func (h *server) handleError(c fiber.Ctx, err error) error {
	a, inside := wordsFor(err)
	more := fiber.Map{"error": a.text, "kind": a.kind}
	if inside {
		var r *read.Refusal
		if errors.As(err, &r) {
			err = errors.Join(err, r.Bug)
		}
		doing := c.Method() + " " + c.Route().Path
		number := h.studio.Diary().Write(doing, err)
		a.text += fmt.Sprintf(" This is number %d in the diary.", number)
		more["error"] = a.text
		if came := (*cameWith)(nil); r != nil && errors.As(err, &came) {
			h.studio.Hold(number, came.files)
			more["aside"] = number // the files can be kept for a report
		}
	}
	c.Status(a.code)
	if c.Method() == fiber.MethodGet && strings.Contains(c.Get("Accept"), "text/html") {
		return c.Render("error", fiber.Map{"Title": titleOf(a.code), "Text": a.text})
	}
	return c.JSON(more)
}

// titleOf heads the page of an error with what is wrong.
func titleOf(code int) string {
	switch code {
	case fiber.StatusNotFound:
		return "Not found"
	case fiber.StatusInsufficientStorage:
		return "Not saved"
	case fiber.StatusForbidden, fiber.StatusUnauthorized:
		return "No access"
	case fiber.StatusInternalServerError:
		return "Something went wrong"
	case fiber.StatusTooManyRequests:
		return "Too many requests"
	}
	return "This can't be done"
}
