package web

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/write"
	"bildhauer/studio"
)

// partState is a part as the page shows it.
type partState struct {
	ID     string          `json:"id"`
	Name   string          `json:"name"`
	Color  string          `json:"color"`
	Ground string          `json:"ground"` // on which it is seen
	Path   string          `json:"path"`   // mm, y down
	Nodes  int             `json:"nodes"`
	Pieces int             `json:"pieces"` // areas that it falls into
	Out    bool            `json:"out"`
	How    recipe.Measures `json:"how"`
	Own    bool            `json:"own"` // it has measures of its own
	Role   recipe.Role     `json:"role"`
	Key    stages.Key      `json:"key"`   // of the solid that it belongs to, "" if it is left out
	Host   string          `json:"host"`  // the part whose solid that is
	Base   float64         `json:"base"`  // z of its back, mm
	Depth  float64         `json:"depth"` // with what the relief adds, mm
	Level  int             `json:"level"` // in the relief, from 1; 0 for none
	Set    bool            `json:"set"`   // it was said by hand
	Shapes []string        `json:"shapes"`
}

// togetherState is what is decided about all parts together.
type togetherState struct {
	By        string          `json:"by"`
	Palette   recipe.Palette  `json:"palette"`
	Shades    int             `json:"shades"` // of the artwork, before they were gathered
	Relief    recipe.Relief   `json:"relief"`
	Levels    int             `json:"levels"` // of the relief
	Spread    float64         `json:"spread"`
	Clearance float64         `json:"clearance"`
	Fused     string          `json:"fused"`
	Curves    []recipe.Curve  `json:"curves"`
	Default   recipe.Measures `json:"default"`
	Crease    float64         `json:"crease"`
	Caps      string          `json:"caps"`
	Spacing   float64         `json:"spacing"`
	Simplify  float64         `json:"simplify"`
	Triangles int             `json:"triangles"`
}

// pieceState is all that the page knows of a piece at a revision.
type pieceState struct {
	ID      string        `json:"id"`
	Name    string        `json:"name"`
	Undo    string        `json:"undo"`
	Redo    string        `json:"redo"`
	Rev     int64         `json:"rev"`
	Size    recipe.Size   `json:"size"`
	Intake  recipe.Intake `json:"intake"`
	Own     bool          `json:"own"` // some part has measures of its own
	Width   float64       `json:"width"`
	Height  float64       `json:"height"`
	Page    [2]float64    `json:"page"` // mm
	PxPerMM float64       `json:"pxPerMm"`
	Middle  [2]float64    `json:"middle"` // of the artwork, px of the page
	Ground  string        `json:"ground"` // on which all parts are seen
	Parts   []partState   `json:"parts"`
	All     togetherState `json:"all"`
	Scene   recipe.Scene  `json:"scene"`
	Print   recipe.Print  `json:"print"`
	Problem string        `json:"problem,omitempty"` // why there are no parts

	Sheets  []sheetState  `json:"sheets"`
	Fonts   []recipe.Font `json:"fonts"`
	Artwork stages.Key    `json:"artwork"` // of the joined sheets
	Finding stages.Key    `json:"finding"` // of what there is to mend
	Mends   int           `json:"mends"`   // how many were made
	Left    int           `json:"left"`    // findings that were left
}

type sheetState struct {
	Slot   int    `json:"slot"`
	Name   string `json:"name"`
	Page   int    `json:"page"`
	Pages  int    `json:"pages"`
	Beside bool   `json:"beside"`

	Shift [2]float64      `json:"shift"` // px of the page
	Trace *recipe.Tracing `json:"trace"` // of a bitmap, or of those inside; nil where there is none
	Alone bool            `json:"alone"` // the file is nothing but bitmaps
	Box   [4]float64      `json:"box"`   // of its artwork in mm from the middle, y down
}

// tracingOf is how the bitmaps of a sheet are traced, if it has any.
func tracingOf(s recipe.Sheet, bitmaps bool) *recipe.Tracing {
	if !bitmaps {
		return nil
	}
	if s.Trace == nil {
		return &recipe.Tracing{}
	}
	return s.Trace
}

func (h *server) state(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// sendState answers with the state of a piece.
func (h *server) sendState(ctx context.Context, c fiber.Ctx, p studio.Piece) error {
	view, err := h.studio.View(ctx, p)
	if err != nil {
		return err
	}
	sheet := view.Joined.Sheet
	out := pieceState{
		ID: p.ID, Name: p.Recipe.Name, Undo: p.Undo, Redo: p.Redo, Rev: p.Rev,
		Size: p.Recipe.Size, Intake: p.Recipe.Intake, Own: p.Recipe.Parts.Own(),
		Parts: []partState{}, Ground: paper,
		Page:    [2]float64{sheet.Page.W() * artwork.MMPerPx, sheet.Page.H() * artwork.MMPerPx},
		Artwork: view.Artwork, Finding: view.Finding, Mends: len(p.Recipe.Mends.List),
		Left: len(p.Recipe.Mends.Left), Fonts: append([]recipe.Font{}, p.Recipe.Sheets.Fonts...), Sheets: []sheetState{},
	}
	for i, s := range p.Recipe.Sheets.All() {
		out.Sheets = append(
			out.Sheets,
			sheetState{
				Slot: s.Slot, Name: s.Name, Page: max(1, s.Page), Pages: view.Joined.Pages[i], Beside: s.Beside, Shift: s.Shift,
				Trace: tracingOf(s, view.Joined.Bitmaps[i] || view.Joined.Pictures[i] > 0), Alone: view.Joined.Bitmaps[i],
			},
		)
	}
	all := &p.Recipe.Parts
	out.All = togetherState{
		all.By, all.Palette, view.Shades, all.Relief, 0, all.Spread, all.Clearance, all.Fused, append([]recipe.Curve{}, all.Curves...), all.Default,
		all.Mesh.Crease, all.Mesh.Caps, all.Mesh.Spacing, all.Mesh.Simplify, all.Mesh.Triangles,
	}
	out.Scene, out.Print = p.Recipe.Scene, p.Recipe.Print
	if view.Problem != nil {
		out.Problem = view.Problem.Error()
		return c.JSON(out)
	}
	r := view.Regions
	h.studio.DrawLater(p, func(context.Context) ([]byte, error) { return thumbOf(r), nil })
	out.Width, out.Height, out.PxPerMM = r.Width, r.Height, r.PxPerMM
	out.Ground, out.Middle = groundOf(r), [2]float64{r.Center.X, r.Center.Y}
	if len(out.Sheets) > 1 {
		placeSheets(out.Sheets, sheet, r)
	}
	side := max(r.Width, r.Height)
	levels, most := stages.Levels(r, all)
	out.All.Levels = most
	for i := range r.Parts {
		part := &r.Parts[i]
		region := part.Region.Value
		path := write.RegionPath(nil, coarse(region, r.Step, side/4000), write.Upright(r.Step), write.Short)
		one := partState{
			ID: part.ID, Name: view.Names[i], Color: part.Color.Hex(), Path: string(path), Nodes: region.Edges(), Pieces: len(region),
			Ground: artwork.Ground([]artwork.Color{part.Color}).Hex(), Out: studio.Out(&p.Recipe.Parts, part.ID),
			How: p.Recipe.Parts.Measures(part.ID), Role: p.Recipe.Parts.RoleOf(part.ID), Key: view.Keys[i],
		}
		one.Level, one.Set = levels[i], all.LevelOf(part.ID) > 0
		q := p.Recipe.Parts.Find(part.ID)
		one.Own = q != nil && q.How != nil
		one.Depth, one.Base = one.How.Depth, one.How.Bottom()
		if host := view.Host[i]; host >= 0 {
			one.Host = r.Parts[host].ID
		}
		for _, k := range part.Shapes {
			one.Shapes = append(one.Shapes, r.Sheet.Shapes[k].Key)
		}
		out.Parts = append(out.Parts, one)
	}
	for _, b := range view.Bodies {
		out.Parts[b.Index].Depth, out.Parts[b.Index].Base = b.How.Depth, b.Base
	}
	return c.JSON(out)
}

// placeSheets tells where the artwork of each sheet lies.
func placeSheets(list []sheetState, joined *artwork.Sheet, r *stages.Regions) {
	boxes := map[int]geom.Box{}
	for i := range joined.Shapes {
		slot := artwork.SlotOf(joined.Shapes[i].Key)
		b, ok := boxes[slot]
		if !ok {
			b = geom.EmptyBox()
		}
		boxes[slot] = b.Union(joined.Shapes[i].Box())
	}
	for i := range list {
		if b, ok := boxes[list[i].Slot]; ok && !b.Empty() {
			k := 1 / r.PxPerMM
			list[i].Box = [4]float64{
				(b.Min.X - r.Center.X) * k, (b.Min.Y - r.Center.Y) * k * r.Stretch, b.W() * k, b.H() * k * r.Stretch,
			}
		}
	}
}

// change applies typed edits to the piece.
func (h *server) change(c fiber.Ctx) error {
	var r struct {
		Base  *int64          `json:"base"`
		Label string          `json:"label"`
		Edits json.RawMessage `json:"edits"`
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	edits, err := recipe.ParseEdits(r.Edits)
	if err != nil {
		return &studio.ErrInput{Text: sentence(err)}
	}
	if r.Base == nil {
		latest := int64(studio.Latest)
		r.Base = &latest
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Change(ctx, c.Params("id"), *r.Base, recipe.Change{Label: r.Label, Edits: edits})
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

func (h *server) undo(c fiber.Ctx) error { return h.move(c, h.studio.Undo) }
func (h *server) redo(c fiber.Ctx) error { return h.move(c, h.studio.Redo) }

func (h *server) move(c fiber.Ctx, by func(ctx context.Context, id string, base int64) error) error {
	if err := by(c.Context(), c.Params("id"), base(c)); err != nil {
		return err
	}
	return h.state(c)
}

func (h *server) cancel(c fiber.Ctx) error {
	return c.JSON(fiber.Map{"running": h.studio.Cancel(c.Params("job"))})
}

// pingEvery keeps an event stream open and finds out that nobody listens.
const pingEvery = 15 * time.Second

// events tells a window about new revisions and the progress of jobs, as
// server-sent events (HTML standard, 9.2), until either side leaves.
func (h *server) events(c fiber.Ctx) error {
	window := h.studio.Watch(c.Params("id")) // first, so that no change comes in between
	p, err := h.studio.Piece(c.Context(), c.Params("id"))
	if err != nil {
		window.Close()
		return err
	}
	c.Set("Content-Type", "text/event-stream")
	c.Set("Cache-Control", "no-store")
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer window.Close()
		send := func(kind string, v any) {
			raw, _ := json.Marshal(v)
			fmt.Fprintf(w, "event: %s\ndata: %s\n\n", kind, raw)
		}
		send("revision", p.Rev)
		wake, gone := window.Wake()
		ping := time.NewTicker(pingEvery)
		defer ping.Stop()
		for w.Flush() == nil {
			select {
			case <-gone:
				return
			case <-ping.C:
				fmt.Fprint(w, ": here\n\n")
			case <-wake:
				e := window.Take()
				if e.News { // what is in force now: news may come in another order than it was made
					if rev, err := h.studio.Revision(context.Background(), p.ID); err == nil {
						send("revision", rev)
					}
				}
				if e.Orders {
					send("orders", true)
				}
				for id, p := range e.Jobs {
					send("progress", fiber.Map{"job": id, "what": p.What, "share": p.Share})
				}
			}
		}
	})
}
