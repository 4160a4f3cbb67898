package web

import (
	"math"
	"net/http"
	"strings"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/core/stages"
	"bildhauer/studio"
)

type drawnShape struct {
	Key     string  `json:"key"`
	Name    string  `json:"name"`
	Group   int     `json:"group"`
	Color   string  `json:"color"`
	Opacity float64 `json:"opacity"`
	Stroke  bool    `json:"stroke,omitempty"`
	EvenOdd bool    `json:"evenOdd,omitempty"`
	Hidden  bool    `json:"hidden,omitempty"`
	OffPage bool    `json:"offPage,omitempty"`
	Shine   bool    `json:"shine,omitempty"`
	Bitmap  bool    `json:"bitmap,omitempty"`
	Back    bool    `json:"back,omitempty"` // covers the page under everything else
	Text    string  `json:"text,omitempty"`
	Size    float64 `json:"size"` // the longer side, px
	Nodes   int     `json:"nodes"`
	Path    string  `json:"path"`
}

type drawnGroup struct {
	Key    string `json:"key"`
	Name   string `json:"name"`
	Layer  bool   `json:"layer,omitempty"`
	Hidden bool   `json:"hidden,omitempty"`
	Parent int    `json:"parent"`
}

type drawnNote struct {
	Level  string       `json:"level"`
	Kind   string       `json:"kind,omitempty"` // of notes that the page can act on
	Text   string       `json:"text"`
	Count  int          `json:"count"`
	Where  []string     `json:"where,omitempty"`
	Keys   []string     `json:"keys,omitempty"`
	Places [][4]float64 `json:"places,omitempty"`
}

// drawing sends the artwork as the Intake step shows it.
func (h *server) drawing(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	joined, err := h.studio.Artwork(ctx, p)
	if err != nil {
		return err
	}
	s := joined.Sheet
	box := s.Page
	for i := range s.Shapes {
		box = box.Union(s.Shapes[i].Box())
	}
	groups := make([]drawnGroup, len(s.Groups))
	for i, g := range s.Groups {
		groups[i] = drawnGroup{g.Key, g.Name, g.Layer, g.Hidden, g.Parent}
	}
	return c.JSON(fiber.Map{
		"pictures": picturesOf(p, joined),
		"file":     s.Name, "format": s.Format, "page": boxOf(s.Page), "box": boxOf(box), "mmPerPx": artwork.MMPerPx,
		"shapes": drawShapes(
			s,
			math.Max(box.W(), box.H())/8000,
		), "groups": groups, "notes": drawNotes(s), "nodes": s.Nodes(),
	})
}

// drawnPicture is a bitmap that a sheet was traced from.
type drawnPicture struct {
	Slot int        `json:"slot"`
	File string     `json:"file"` // changes with the bytes
	Box  [4]float64 `json:"box"`
}

func picturesOf(p studio.Piece, joined *stages.Joined) []drawnPicture {
	out := []drawnPicture{}
	for i, s := range p.Recipe.Sheets.All() {
		if i < len(joined.Bitmaps) && joined.Bitmaps[i] && joined.Pictures[i] == 0 {
			out = append(out, drawnPicture{s.Slot, s.File, boxOf(joined.Boxes[i])})
		}
	}
	return out
}

// original sends the bitmap that a sheet was traced from, to be shown beneath its tracing.
func (h *server) original(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	data, err := h.studio.Original(ctx, c.Params("id"), fiber.Params[int](c, "slot"))
	if err != nil {
		return err
	}
	kind := http.DetectContentType(data)
	if read.Detect(data) != "bitmap" || !strings.HasPrefix(kind, "image/") {
		return fiber.NewError(fiber.StatusNotFound, "This sheet is no bitmap.")
	}
	c.Set("Content-Type", kind)
	c.Set("Cache-Control", "private, max-age=3600") // its address names the file
	return c.Send(data)
}

func drawShapes(s *artwork.Sheet, tol float64) []drawnShape {
	out := make([]drawnShape, len(s.Shapes))
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		b := sh.Box()
		out[i] = drawnShape{
			Key: sh.Key, Name: sh.Name, Group: sh.Group, Color: sh.Color.Hex(), Opacity: sh.Opacity,
			Stroke: sh.Stroke != nil, EvenOdd: sh.EvenOdd, Hidden: sh.Hidden, OffPage: s.OffPage(i), Shine: sh.Shine, Bitmap: sh.Bitmap,
			Text: sh.Text, Size: math.Max(b.W(), b.H()), Nodes: sh.Nodes(), Path: shapePath(sh, tol),
		}
	}
	for _, i := range s.Backdrops() {
		out[i].Back = true
	}
	return out
}

func drawNotes(s *artwork.Sheet) []drawnNote {
	out := make([]drawnNote, len(s.Notes))
	for i := range s.Notes {
		n := &s.Notes[i]
		out[i] = drawnNote{
			Level: n.Level().String(),
			Text:  n.Text(),
			Count: n.Count,
			Where: n.Where,
			Keys:  n.Keys,
		}
		if n.Kind == artwork.NoteShine {
			out[i].Kind = "shine"
		}
		for _, b := range n.Places {
			out[i].Places = append(out[i].Places, boxOf(b))
		}
	}
	return out
}

// addFiles takes artwork, or fonts, into a piece. When one of several is
// refused, those before stay, and the answer says so.
func (h *server) addFiles(c fiber.Ctx) error {
	files, err := uploads(c)
	if err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	id := c.Params("id")
	added := 0
	for _, f := range files {
		if isFont(f.Data) {
			_, err = h.studio.AddFont(ctx, id, studio.Latest, f)
		} else {
			_, err = h.studio.AddSheet(ctx, id, studio.Latest, f)
		}
		if err != nil {
			break
		}
		added++
	}
	if err != nil && added > 0 {
		a, _ := wordsFor(err)
		c.Status(a.code)
		return c.JSON(fiber.Map{"error": a.text, "kind": "partly", "added": added})
	}
	if err != nil {
		return about(err, files[added])
	}
	p, err := h.studio.Piece(ctx, id)
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

func isFont(b []byte) bool {
	for _, m := range []string{"\x00\x01\x00\x00", "OTTO", "ttcf", "true", "wOFF", "wOF2"} {
		if strings.HasPrefix(string(b[:min(len(b), 4)]), m) {
			return true
		}
	}
	return false
}

// compared is one list of a comparison of two files.
type compared struct {
	Count int      `json:"count"`
	Paths []string `json:"paths"`
	Names []listed `json:"names,omitempty"`
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
	ctx, end := h.begin(c)
	defer end()
	x, err := h.studio.Propose(ctx, c.Params("id"), slotOf(c), files[0])
	if err != nil {
		return about(err, files[0])
	}
	box := x.New.Page.Union(x.Old.Page)
	tol := max(box.W(), box.H()) / 1500
	other := map[int]bool{}
	for _, list := range [][]int{x.Matching.New, x.Matching.Changed} {
		for _, i := range list {
			other[i] = true
		}
	}
	var same []int
	for i := range x.New.Shapes {
		if !other[i] {
			same = append(same, i)
		}
	}
	kept := compare(x.New, same, tol)
	kept.Names = nil
	return c.JSON(fiber.Map{
		"file": x.File, "name": x.Name, "slot": x.Sheet.Slot, "box": boxOf(box), "kept": kept,
		"changed": compare(
			x.New,
			x.Matching.Changed,
			tol,
		), "new": compare(x.New, x.Matching.New, tol), "gone": compare(x.Old, x.Matching.Gone, tol),
	})
}

// How much of a comparison is drawn and named.
const (
	comparedBytes = 1 << 20
	comparedNames = 60
)

func compare(s *artwork.Sheet, which []int, tol float64) compared {
	out := compared{Count: len(which), Paths: []string{}}
	room := comparedBytes
	for _, i := range which {
		sh := &s.Shapes[i]
		if room > 0 {
			path := shapePath(sh, tol)
			out.Paths = append(out.Paths, path)
			room -= len(path)
		}
		if len(out.Names) < comparedNames {
			name := sh.Name
			if p := s.Path(sh.Group); p != "" {
				name = p + " / " + name
			}
			out.Names = append(out.Names, listed{name, sh.Color.Hex()})
		}
	}
	return out
}

type fileRequest struct {
	File string `json:"file"`
}

func (h *server) accept(c fiber.Ctx) error {
	var r fileRequest
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Accept(ctx, c.Params("id"), base(c), slotOf(c), r.File)
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

func (h *server) decline(c fiber.Ctx) error {
	var r fileRequest
	if err := parse(c, &r); err != nil {
		return err
	}
	if err := h.studio.Decline(c.Context(), c.Params("id"), r.File); err != nil {
		return err
	}
	return c.JSON(fiber.Map{"ok": true})
}
