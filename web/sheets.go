package web

import (
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read"
	"bildhauer/studio"
)

// uploads returns the files that came along.
func uploads(c fiber.Ctx) ([]studio.File, error) {
	form, err := c.MultipartForm()
	if err != nil || len(form.File["file"]) == 0 {
		return nil, &studio.ErrInput{Text: "No file came along. Drop an SVG, EPS, AI or PDF file, or pick one."}
	}
	var out []studio.File
	for _, f := range form.File["file"] {
		data, err := content(f)
		if err != nil {
			return nil, err
		}
		out = append(out, studio.File{Name: f.Filename, Data: data})
	}
	return out, nil
}

func content(f *multipart.FileHeader) ([]byte, error) {
	if f.Size > read.MaxBytes {
		return nil, &studio.ErrInput{Text: f.Filename + ": " + tooLarge}
	}
	in, err := f.Open()
	if err != nil {
		return nil, err
	}
	defer in.Close()
	return io.ReadAll(in)
}

// addSheet takes artwork, or a font, into a piece.
func (h *server) addSheet(c fiber.Ctx) error {
	files, err := uploads(c)
	if err != nil {
		return err
	}
	for _, f := range files {
		if isFont(f.Data) {
			_, err = h.studio.AddFont(c.Params("id"), f)
		} else {
			err = h.studio.AddSheet(c.Params("id"), f)
		}
		if err != nil {
			return err
		}
	}
	return h.state(c)
}

func isFont(b []byte) bool {
	for _, m := range []string{"\x00\x01\x00\x00", "OTTO", "ttcf", "true", "wOFF", "wOF2"} {
		if strings.HasPrefix(string(b[:min(len(b), 4)]), m) {
			return true
		}
	}
	return false
}

func slotOf(c fiber.Ctx) int {
	n, _ := strconv.Atoi(c.Params("slot"))
	return n
}

func (h *server) changeSheet(c fiber.Ctx) error {
	var r struct {
		Page   *int  `json:"page"`
		Beside *bool `json:"beside"`
		Remove bool  `json:"remove"`
	}
	if err := json.Unmarshal(c.Body(), &r); err != nil {
		return &studio.ErrInput{Text: "This change could not be read."}
	}
	label := "Place of a sheet"
	switch {
	case r.Remove:
		label = "Take a sheet out"
	case r.Page != nil:
		label = fmt.Sprintf("Page %d", *r.Page)
	}
	err := h.studio.ChangeSheet(c.Params("id"), slotOf(c), label, func(s *studio.SheetRef) {
		if r.Page != nil {
			s.Page = *r.Page
		}
		if r.Beside != nil {
			s.Beside = *r.Beside
		}
	}, r.Remove)
	if err != nil {
		return err
	}
	return h.state(c)
}

func (h *server) dropFont(c fiber.Ctx) error {
	var r struct{ File string }
	if err := json.Unmarshal(c.Body(), &r); err != nil {
		return &studio.ErrInput{Text: "This change could not be read."}
	}
	if err := h.studio.DropFont(c.Params("id"), r.File); err != nil {
		return err
	}
	return h.state(c)
}

type listed struct {
	Name  string `json:"name"`
	Color string `json:"color"`
}

// propose answers with what a changed file would keep, bring and lose.
func (h *server) propose(c fiber.Ctx) error {
	files, err := uploads(c)
	if err != nil {
		return err
	}
	x, err := h.studio.Propose(c.Params("id"), slotOf(c), files[0])
	if err != nil {
		return err
	}
	box := x.New.Page.Union(x.Old.Page)
	tol := max(box.W(), box.H()) / 1500
	draw := func(s *artwork.Sheet, which []int) ([]string, []listed) {
		paths, names := []string{}, []listed{}
		room := 1 << 20
		for _, i := range which {
			sh := &s.Shapes[i]
			if room > 0 {
				paths = append(paths, shapePath(sh, tol))
				room -= len(paths[len(paths)-1])
			}
			if len(names) < 60 {
				name := sh.Name
				if p := s.Path(sh.Group); p != "" {
					name = p + " / " + name
				}
				names = append(names, listed{name, sh.Color.Hex()})
			}
		}
		return paths, names
	}
	was := map[int]bool{}
	for _, i := range x.Matching.New {
		was[i] = true
	}
	for _, i := range x.Matching.Changed {
		was[i] = true
	}
	var same []int
	for i := range x.New.Shapes {
		if !was[i] {
			same = append(same, i)
		}
	}
	kept, _ := draw(x.New, same)
	changed, changedNames := draw(x.New, x.Matching.Changed)
	fresh, freshNames := draw(x.New, x.Matching.New)
	gone, goneNames := draw(x.Old, x.Matching.Gone)
	return c.JSON(fiber.Map{"file": x.File, "name": x.Name, "slot": x.Slot, "box": boxOf(geom.Box(box)),
		"kept": fiber.Map{"count": len(same), "paths": kept}, "changed": fiber.Map{"count": len(x.Matching.Changed), "paths": changed, "names": changedNames},
		"new": fiber.Map{"count": len(x.Matching.New), "paths": fresh, "names": freshNames}, "gone": fiber.Map{"count": len(x.Matching.Gone), "paths": gone, "names": goneNames}})
}

type fileRequest struct {
	File string `json:"file"`
}

func (h *server) accept(c fiber.Ctx) error {
	var r fileRequest
	if err := json.Unmarshal(c.Body(), &r); err != nil {
		return &studio.ErrInput{Text: "This change could not be read."}
	}
	if err := h.studio.Accept(c.Params("id"), slotOf(c), r.File); err != nil {
		return err
	}
	return h.state(c)
}

func (h *server) decline(c fiber.Ctx) error {
	var r fileRequest
	if err := json.Unmarshal(c.Body(), &r); err != nil {
		return &studio.ErrInput{Text: "This change could not be read."}
	}
	if err := h.studio.Decline(c.Params("id"), r.File); err != nil {
		return err
	}
	return c.JSON(fiber.Map{"ok": true})
}
