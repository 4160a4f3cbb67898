package web

import (
	"archive/zip"
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log"
	"mime"
	"os"
	"path/filepath"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/studio"
)

// orderState is an order as the page lists it.
type orderState struct {
	ID      string           `json:"id"`
	Name    string           `json:"name"`
	Spec    studio.OrderSpec `json:"spec"`
	State   string           `json:"state"`
	Note    string           `json:"note"`
	Done    int              `json:"done"`
	Total   int              `json:"total"`
	Share   float64          `json:"share"`
	Left    float64          `json:"left"` // seconds; 0 where it can't be told
	Created int64            `json:"created"`
	Bytes   int64            `json:"bytes"`
	Rate    int              `json:"rate"` // frames a second
	Look    bool             `json:"look"` // there is a picture of how far it is
}

func (h *server) orders(c fiber.Ctx) error {
	list, err := h.studio.Orders(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	out := make([]orderState, len(list))
	for i, o := range list {
		out[i] = orderState{
			o.ID, o.Name, o.Spec, o.State, o.Note, o.Done, o.Total, o.Share, o.Left.Seconds(), o.Created.UnixMilli(), o.Bytes, o.Rate,
			h.studio.OrderLook(o.ID) != nil,
		}
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{"orders": out})
}

// order orders a picture or a clip of the piece as it is now.
func (h *server) order(c fiber.Ctx) error {
	var spec studio.OrderSpec
	return h.onPiece(c, &spec, func(ctx context.Context, p studio.Piece) error {
		o, err := h.studio.Order(ctx, p, spec)
		if err != nil {
			return err
		}
		return c.JSON(fiber.Map{"id": o.ID})
	})
}

// orderAct stops an order, goes on with it, or removes it.
func (h *server) orderAct(c fiber.Ctx) error {
	act, ok := map[string]func() error{
		"stop":   func() error { return h.studio.StopOrder(c.Context(), c.Params("id"), c.Params("order")) },
		"resume": func() error { return h.studio.ResumeOrder(c.Context(), c.Params("id"), c.Params("order")) },
		"remove": func() error { return h.studio.RemoveOrder(c.Context(), c.Params("id"), c.Params("order")) },
	}[c.Params("act")]
	if !ok {
		return fiber.NewError(fiber.StatusNotFound, "There is nothing at this address.")
	}
	if err := act(); err != nil {
		return err
	}
	return h.orders(c)
}

// useOrder gives the piece the scene that an order was made by, as a new step.
func (h *server) useOrder(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	r, err := h.studio.OrderRecipe(ctx, c.Params("id"), c.Params("order"))
	if err != nil {
		return err
	}
	back := recipe.Change{Label: "Scene of a result", Edits: []recipe.Edit{&recipe.TakeScene{Scene: r.Scene}}}
	p, err := h.studio.Change(ctx, c.Params("id"), base(c), back)
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// orderLook sends how far the picture at work is.
func (h *server) orderLook(c fiber.Ctx) error {
	look := h.studio.OrderLook(c.Params("order"))
	if look == nil {
		return c.SendStatus(fiber.StatusNoContent) // not yet, or not any more
	}
	c.Set("Content-Type", "image/png")
	c.Set("Cache-Control", "no-store")
	return c.Send(look)
}

// orderFile sends a finished file of an order, by its place among them; with ?save=1 to be
// kept.
func (h *server) orderFile(c fiber.Ctx) error {
	o, paths, err := h.studio.OrderFiles(c.Context(), c.Params("id"), c.Params("order"))
	if err != nil {
		return err
	}
	n, err := strconv.Atoi(c.Params("n"))
	if err != nil || n < 0 || n >= len(paths) {
		return fiber.NewError(fiber.StatusNotFound, "This frame is not finished.")
	}
	name := fileName(o.Name) + filepath.Ext(paths[n])
	if o.Spec.Clip {
		name = fileName(o.Name) + "-" + filepath.Base(paths[n])
	}
	c.Set("Content-Type", mime.TypeByExtension(filepath.Ext(paths[n])))
	c.Set("Cache-Control", "private, max-age=3600")
	if c.Query("save") != "" {
		attach(c, name)
	}
	return c.SendFile(paths[n])
}

// orderFrames sends all finished frames as numbered files in one ZIP.
func (h *server) orderFrames(c fiber.Ctx) error {
	o, paths, err := h.studio.OrderFiles(c.Context(), c.Params("id"), c.Params("order"))
	if err != nil {
		return err
	}
	if len(paths) == 0 {
		return &studio.ErrInput{Text: "No frame of this clip is finished yet."}
	}
	c.Set("Content-Type", "application/zip")
	c.Set("Cache-Control", "no-store")
	attach(c, fileName(o.Name)+"-frames.zip")
	return c.SendStreamWriter(func(w *bufio.Writer) {
		z := zip.NewWriter(w)
		for _, path := range paths {
			if err := addFile(z, path); err != nil {
				log.Printf("frames of order %s: %v", o.ID, err)
				return // the archive is not closed, so that it is seen to be short
			}
		}
		if err := z.Close(); err == nil {
			w.Flush()
		}
	})
}

// addFile puts a file into an archive as it is: pictures are packed already.
func addFile(z *zip.Writer, path string) error {
	in, err := os.Open(path)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := z.CreateHeader(&zip.FileHeader{Name: filepath.Base(path), Method: zip.Store})
	if err == nil {
		_, err = io.Copy(out, in)
	}
	return err
}

// clipPixels bounds an APNG by time: a frame of 1,280 by 720 takes 0.25 s to pack, 1,000 of them some
// four minutes, while they are sent. frameBytes is what one pixel takes while its frame is packed.
const (
	clipPixels = 1000 * 1280 * 720
	frameBytes = 8 + 4 + 8
)

// orderClip sends finished frames as an APNG (Portable Network Graphics, third edition),
// with alpha.
func (h *server) orderClip(c fiber.Ctx) error {
	o, paths, err := h.studio.OrderFiles(c.Context(), c.Params("id"), c.Params("order"))
	if err != nil {
		return err
	}
	if len(paths) == 0 || filepath.Ext(paths[0]) != ".png" {
		return &studio.ErrInput{Text: "An APNG is made of finished frames that are PNG files."}
	}
	if n := len(paths) * o.Spec.Width * o.Spec.Height; n > clipPixels {
		return &studio.ErrInput{Text: fmt.Sprintf(
			"An APNG of %d frames of %d by %d pixels is too large; take the frames as a ZIP, or a WebM clip.",
			len(paths), o.Spec.Width, o.Spec.Height,
		)}
	}
	ctx := context.WithoutCancel(c.Context()) // the request is over when this is written
	room := func() (func(), error) {
		return h.studio.Room(ctx, int64(o.Spec.Width)*int64(o.Spec.Height)*frameBytes)
	}
	c.Set("Content-Type", "image/apng")
	c.Set("Cache-Control", "no-store")
	attach(c, fileName(o.Name)+".png")
	return c.SendStreamWriter(func(w *bufio.Writer) {
		if err := WriteClip(w, paths, o.Rate, room); err != nil { // the file has no end, so that it is seen to be short
			log.Printf("clip of order %s: %v", o.ID, err)
		}
	})
}

// giveMove adds a ready move, or one that was kept by a name.
func (h *server) giveMove(c fiber.Ctx) error {
	var act struct {
		show.Act
		Kept string `json:"kept"`
	}
	if err := parse(c, &act); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.GiveMove(ctx, c.Params("id"), base(c), act.Act, act.Kept)
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// surround takes an own panorama.
func (h *server) surround(c fiber.Ctx) error {
	files, err := uploads(c)
	if err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.AddSurroundings(ctx, c.Params("id"), base(c), files[0])
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// sample sends the picture of a material, which is given as JSON (m), as many px wide as is asked for.
func (h *server) sample(c fiber.Ctx) error {
	var m recipe.Material
	if err := json.Unmarshal([]byte(c.Query("m")), &m); err != nil {
		return errors.Join(&studio.ErrInput{Text: "This material could not be read."}, err)
	}
	data, err := h.studio.Sample(c.Context(), m, fiber.Query(c, "px", 66))
	if err != nil {
		return err
	}
	c.Set("Content-Type", "image/png")
	c.Set("Cache-Control", "private, max-age=3600")
	return c.Send(data)
}
