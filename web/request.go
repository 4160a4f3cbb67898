package web

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"strconv"

	"bildhauer/core/terms"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/progress"
	"bildhauer/core/read"
	"bildhauer/studio"
)

// How much one request may carry. A change names single shapes of large
// artwork by their keys; an upload is several files, each with its own limit.
const (
	maxChange = 32 << 20
	maxUpload = 256 << 20
)

// begin makes the context of a request that takes its time: it ends when the
// client leaves, or when the job that the client named is cancelled.
func (h *server) begin(c fiber.Ctx) (context.Context, func()) {
	present, gone := whilePresent(c)
	id := c.Get("X-Job")
	if len(id) > 40 {
		id = ""
	}
	if h.entry != nil { // several people share the readers
		present = progress.For(present, h.address(c))
	}
	ctx, end := h.studio.Begin(present, id, c.Params("id"))
	return ctx, func() {
		end()
		gone()
	}
}

// onPiece reads a request, unless into is nil, and does something with the piece that its
// address names; the work ends with the request.
func (h *server) onPiece(c fiber.Ctx, into any, do func(ctx context.Context, p studio.Piece) error) error {
	if into != nil {
		if err := parse(c, into); err != nil {
			return err
		}
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	return do(ctx, p)
}

// body reads the body of a request up to a limit.
func body(c fiber.Ctx, most int) ([]byte, error) {
	tooMuch := fiber.NewError(
		fiber.StatusRequestEntityTooLarge,
		fmt.Sprintf("This request has more than %d MB.", most>>20),
	)
	if c.Request().Header.ContentLength() > most {
		drain(c)
		return nil, tooMuch
	}
	if !c.Request().IsBodyStream() {
		return c.Body(), nil
	}
	b, err := io.ReadAll(io.LimitReader(c.Request().BodyStream(), int64(most)+1))
	if err != nil {
		return nil, errUnread
	}
	if len(b) > most {
		return nil, tooMuch
	}
	return b, nil
}

// drain reads over what is refused, so that the client hears the answer instead
// of a broken connection; what is far too much is cut off.
func drain(c fiber.Ctx) {
	if c.Request().IsBodyStream() {
		io.Copy(io.Discard, io.LimitReader(c.Request().BodyStream(), 2*maxUpload))
	}
}

var errUnread = &studio.ErrInput{Text: "This request did not arrive whole. Try again."}

// parse reads a request in JSON.
func parse(c fiber.Ctx, into any) error {
	b, err := body(c, maxChange)
	if err != nil {
		return err
	}
	if err := json.Unmarshal(b, into); err != nil {
		return &studio.ErrInput{Text: "This request could not be read. Reload the page and try again."}
	}
	return nil
}

// base returns the revision that a request is based on.
func base(c fiber.Ctx) int64 {
	n, err := strconv.ParseInt(c.Query("base"), 10, 64)
	if err != nil {
		return studio.Latest
	}
	return n
}

func slotOf(c fiber.Ctx) int {
	n, _ := strconv.Atoi(c.Params("slot"))
	return n
}

// How many files a piece is made of, and how that is said.
const pieceHas = "a piece is made of"

var mostSheets = int(terms.Of("sheets").Max)

// uploads returns the files of a piece that came along. Each may be as large as the
// readers take; all together are bounded, too.
func uploads(c fiber.Ctx) ([]studio.File, error) { return uploadsOf(c, mostSheets, pieceHas) }

// uploadsOf returns up to so many files; what says what takes no more.
func uploadsOf(c fiber.Ctx, most int, what string) ([]studio.File, error) {
	form, err := formOf(c)
	if err != nil {
		return nil, err
	}
	defer form.RemoveAll()
	return filesOf(form, most, what)
}

// formOf reads a form with files; large ones lie on the disk until it is removed.
func formOf(c fiber.Ctx) (*multipart.Form, error) {
	length := c.Request().Header.ContentLength()
	if length > maxUpload {
		drain(c)
		return nil, &studio.ErrInput{
			Text: fmt.Sprintf(
				"These files have %d MB together; the most that is taken at once is %d MB. Add them one after the other.",
				length>>20,
				maxUpload>>20,
			),
		}
	}
	if length < 0 {
		return nil, fiber.NewError(fiber.StatusLengthRequired, "An upload must say how long it is.")
	}
	form, err := c.MultipartForm()
	if err != nil {
		return nil, &studio.ErrInput{Text: "The files did not arrive whole. Choose them once more."}
	}
	return form, nil
}

// filesOf reads the files of a form.
func filesOf(form *multipart.Form, most int, what string) ([]studio.File, error) {
	list := form.File["file"]
	switch {
	case len(list) == 0:
		return nil, &studio.ErrInput{
			Text: "No file came along. Drop an SVG, EPS, AI or PDF file, or pick one.",
		}
	case len(list) > most:
		return nil, &studio.ErrInput{Text: fmt.Sprintf("These are %d files; %s %d at most.", len(list), what, most)}
	}
	out := make([]studio.File, len(list))
	for i, f := range list {
		if f.Size > read.MaxBytes {
			return nil, read.TooLarge(f.Filename, f.Size)
		}
		data, err := content(f)
		if err != nil {
			return nil, err
		}
		out[i] = studio.File{Name: f.Filename, Data: data}
	}
	return out, nil
}

func content(f *multipart.FileHeader) ([]byte, error) {
	in, err := f.Open()
	if err != nil {
		return nil, err
	}
	defer in.Close()
	return io.ReadAll(in)
}
