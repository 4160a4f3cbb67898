package web

import (
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
	"bildhauer/studio"
)

// pathData writes a region as SVG path data in mm, y down, leaving out detail
// finer than tol mm.
func pathData(r plane.Region, step, tol float64) string {
	if tol > 0 {
		r = r.Simplify(tol / step)
	}
	var b strings.Builder
	r.Loops(func(l plane.Loop) {
		for i, p := range l {
			if i == 0 {
				b.WriteByte('M')
			} else {
				b.WriteByte('L')
			}
			b.WriteString(short(float64(p.X) * step))
			b.WriteByte(' ')
			b.WriteString(short(-float64(p.Y) * step))
		}
		b.WriteByte('Z')
	})
	return b.String()
}

// short writes a number with five significant digits.
func short(v float64) string {
	if math.Abs(v) < 1e-6 {
		return "0"
	}
	return strconv.FormatFloat(v, 'g', 5, 64)
}

type partState struct {
	ID     string      `json:"id"`
	Name   string      `json:"name"`
	Color  string      `json:"color"`
	Path   string      `json:"path"`
	Nodes  int         `json:"nodes"`
	Recipe recipe.Part `json:"recipe"`
}

type pieceState struct {
	ID      string        `json:"id"`
	Name    string        `json:"name"`
	Undo    string        `json:"undo"`
	Redo    string        `json:"redo"`
	Seq     int64         `json:"seq"`
	Recipe  recipe.Recipe `json:"recipe"`
	Width   float64       `json:"width"`
	Height  float64       `json:"height"`
	Page    [2]float64    `json:"page"` // mm
	PxPerMM float64       `json:"pxPerMm"`
	Parts   []partState   `json:"parts"`
	Problem string        `json:"problem,omitempty"` // why there are no parts

	Sheets  []sheetState     `json:"sheets"`
	Fonts   []studio.FontRef `json:"fonts"`
	Artwork string           `json:"artwork"` // changes with the files and pages
}

type sheetState struct {
	Slot   int    `json:"slot"`
	Name   string `json:"name"`
	Page   int    `json:"page"`
	Pages  int    `json:"pages"`
	Beside bool   `json:"beside"`
}

func (h *server) state(c fiber.Ctx) error {
	p, err := h.studio.Piece(c.Params("id"))
	if err != nil {
		return err
	}
	return h.sendState(c, p)
}

func (h *server) sendState(c fiber.Ctx, p studio.Piece) error {
	sheet, err := h.studio.Sheet(p)
	if err != nil {
		return &studio.ErrInput{Text: err.Error()}
	}
	out := pieceState{ID: p.ID, Name: p.Doc.Name, Undo: p.Undo, Redo: p.Redo, Seq: p.Seq, Recipe: p.Doc.Recipe, Parts: []partState{},
		Page: [2]float64{sheet.Page.W() * artwork.MMPerPx, sheet.Page.H() * artwork.MMPerPx}}
	refs, pages, err := h.studio.Sheets(p)
	if err != nil {
		return err
	}
	out.Sheets, out.Fonts = []sheetState{}, append([]studio.FontRef{}, p.Doc.Fonts...)
	for i, r := range refs {
		out.Sheets = append(out.Sheets, sheetState{r.Slot, r.Name, max(1, r.Page), pages[i], r.Beside})
	}
	out.Artwork = fmt.Sprint(refs, p.Doc.Fonts)
	prep, err := h.studio.Prepared(c.Context(), p)
	if err != nil {
		var re *recipe.Error
		if !asError(err, &re) {
			return err
		}
		out.Problem = re.Text
		return c.JSON(out)
	}
	out.Width, out.Height, out.PxPerMM = prep.Width, prep.Height, prep.PxPerMM
	side := math.Max(prep.Width, prep.Height)
	for i := range prep.Parts {
		part := &prep.Parts[i]
		name := part.Name
		out.Parts = append(out.Parts, partState{part.ID, name, part.Color.Hex(), pathData(part.Region, prep.Step, side/4000), part.Region.Edges(), p.Doc.Recipe.Of(part.ID)})
	}
	return c.JSON(out)
}

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

func (h *server) drawing(c fiber.Ctx) error {
	p, err := h.studio.Piece(c.Params("id"))
	if err != nil {
		return err
	}
	s, err := h.studio.Sheet(p)
	if err != nil {
		return &studio.ErrInput{Text: err.Error()}
	}
	shapes := make([]drawnShape, len(s.Shapes))
	box := s.Page
	for i := range s.Shapes {
		box = box.Union(s.Shapes[i].Box())
	}
	tol := math.Max(box.W(), box.H()) / 8000
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		b := sh.Box()
		shapes[i] = drawnShape{Key: sh.Key, Name: sh.Name, Group: sh.Group, Color: sh.Color.Hex(), Opacity: sh.Opacity, Stroke: sh.Stroke != nil, EvenOdd: sh.EvenOdd,
			Hidden: sh.Hidden, OffPage: s.OffPage(i), Text: sh.Text, Size: math.Max(b.W(), b.H()), Nodes: sh.Nodes(), Path: shapePath(sh, tol)}
	}
	for _, i := range s.Backdrops() {
		shapes[i].Back = true
	}
	groups := make([]drawnGroup, len(s.Groups))
	for i, g := range s.Groups {
		groups[i] = drawnGroup{g.Key, g.Name, g.Layer, g.Hidden, g.Parent}
	}
	type drawnNote struct {
		artwork.Note
		Places [][4]float64 `json:"places,omitempty"`
	}
	notes := make([]drawnNote, len(s.Notes))
	for i, n := range s.Notes {
		notes[i].Note = n
		for _, b := range n.Places {
			notes[i].Places = append(notes[i].Places, boxOf(b))
		}
	}
	return c.JSON(fiber.Map{"file": s.Name, "format": s.Format, "page": boxOf(s.Page), "box": boxOf(box),
		"mmPerPx": artwork.MMPerPx, "shapes": shapes, "groups": groups, "notes": notes, "nodes": s.Nodes()})
}

func boxOf(b geom.Box) [4]float64 { return [4]float64{b.Min.X, b.Min.Y, b.W(), b.H()} }

// shapePath writes the outline of a shape in page px, cut by its clips.
func shapePath(sh *artwork.Shape, tol float64) string {
	var b strings.Builder
	if len(sh.Clips) > 0 && sh.Nodes() < 50_000 {
		r := sh.Reach()
		far := math.Max(math.Max(math.Abs(r.Min.X), math.Abs(r.Max.X)), math.Max(math.Abs(r.Min.Y), math.Abs(r.Max.Y)))
		grid := math.Max(far, 1e-6) / (1 << 23)
		if region, err := write.Resolve(sh, tol, grid); err == nil {
			region.Loops(func(l plane.Loop) {
				for i, p := range l {
					b.WriteByte("ML"[min(i, 1)])
					b.WriteString(short(float64(p.X)*grid) + " " + short(float64(p.Y)*grid))
				}
				b.WriteByte('Z')
			})
			return b.String()
		}
	}
	for _, l := range sh.Outline(tol) {
		for i, v := range l {
			if i == 0 {
				b.WriteByte('M')
			} else {
				b.WriteByte('L')
			}
			b.WriteString(short(v.X))
			b.WriteByte(' ')
			b.WriteString(short(v.Y))
		}
		b.WriteByte('Z')
	}
	return b.String()
}

// changeRequest is what the pages ask for; fields that are absent stay.
type changeRequest struct {
	Label     string               `json:"label"`
	Name      *string              `json:"name"`
	Size      *recipe.Size         `json:"size"`
	Tolerance *float64             `json:"tolerance"`
	Overlap   *string              `json:"overlap"`
	Choice    map[string]bool      `json:"choice"`
	Parts     map[string]partPatch `json:"parts"`

	Edits      map[string]editPatch `json:"edits"`
	GroupNames map[string]string    `json:"groupNames"`
	NewGroup   *recipe.NewGroup     `json:"newGroup"`
}

// editPatch changes what is given; an empty text takes the file's own again.
type editPatch struct {
	Name  *string `json:"name"`
	Color *string `json:"color"`
	Group *string `json:"group"`
}

type partPatch map[string]json.RawMessage

func (r *changeRequest) apply(d *studio.Doc) error {
	if r.Name != nil {
		d.Name = *r.Name
		if len([]rune(d.Name)) > 120 {
			return &studio.ErrInput{Text: "A name has at most 120 letters."}
		}
	}
	if r.Size != nil {
		d.Recipe.Size = *r.Size
	}
	if r.Tolerance != nil {
		d.Recipe.Tolerance = *r.Tolerance
	}
	if r.Overlap != nil {
		d.Recipe.Overlap = *r.Overlap
	}
	if len(r.Choice) > 0 {
		all := make(map[string]bool, len(d.Recipe.Choice)+len(r.Choice))
		for k, v := range d.Recipe.Choice {
			all[k] = v
		}
		for k, v := range r.Choice {
			all[k] = v
		}
		d.Recipe.Choice = all
	}
	if len(r.Edits) > 0 {
		all := map[string]recipe.Edit{}
		maps.Copy(all, d.Recipe.Edits)
		for k, p := range r.Edits {
			e := all[k]
			for _, f := range []struct{ from, to *string }{{p.Name, &e.Name}, {p.Color, &e.Color}, {p.Group, &e.Group}} {
				if f.from != nil {
					*f.to = strings.TrimSpace(*f.from)
				}
			}
			if e == (recipe.Edit{}) {
				delete(all, k)
			} else {
				all[k] = e
			}
		}
		d.Recipe.Edits = all
	}
	if len(r.GroupNames) > 0 {
		all := map[string]string{}
		maps.Copy(all, d.Recipe.GroupNames)
		for k, n := range r.GroupNames {
			if n = strings.TrimSpace(n); n == "" {
				delete(all, k)
			} else {
				all[k] = n
			}
		}
		d.Recipe.GroupNames = all
	}
	if r.NewGroup != nil {
		d.Recipe.NewGroups = append(append([]recipe.NewGroup(nil), d.Recipe.NewGroups...), *r.NewGroup)
	}
	if len(r.Parts) > 0 {
		all := make(map[string]recipe.Part, len(d.Recipe.Parts)+len(r.Parts))
		for k, v := range d.Recipe.Parts {
			all[k] = v
		}
		for id, patch := range r.Parts {
			part := d.Recipe.Of(id)
			raw, err := json.Marshal(patch)
			if err == nil {
				err = json.Unmarshal(raw, &part)
			}
			if err != nil {
				return &studio.ErrInput{Text: "This change could not be read."}
			}
			all[id] = part
		}
		d.Recipe.Parts = all
	}
	return nil
}

func (h *server) change(c fiber.Ctx) error {
	var r changeRequest
	if err := json.Unmarshal(c.Body(), &r); err != nil {
		return &studio.ErrInput{Text: "This change could not be read."}
	}
	if r.Label == "" || len(r.Label) > 200 {
		r.Label = "Change"
	}
	id := c.Params("id")
	p, err := h.studio.Piece(id)
	if err != nil {
		return err
	}
	sheet, err := h.studio.Sheet(p)
	if err != nil {
		return err
	}
	if len(r.Edits) > len(sheet.Shapes) || len(r.GroupNames) > len(sheet.Groups)+len(p.Doc.Recipe.NewGroups) || len(r.Choice) > len(sheet.Shapes) || len(r.Parts) > len(sheet.Shapes) {
		return &studio.ErrInput{Text: "This change names more shapes than there are."}
	}
	if err := h.studio.Change(id, r.Label, r.apply); err != nil {
		return err
	}
	return h.state(c)
}

func (h *server) undo(c fiber.Ctx) error {
	if err := h.studio.Undo(c.Params("id")); err != nil {
		return err
	}
	return h.state(c)
}

func (h *server) redo(c fiber.Ctx) error {
	if err := h.studio.Redo(c.Params("id")); err != nil {
		return err
	}
	return h.state(c)
}

func (h *server) cancel(c fiber.Ctx) error {
	h.studio.Cancel(c.Params("id"))
	return c.JSON(fiber.Map{"ok": true})
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
