package web

import (
	"context"
	"fmt"
	"mime/multipart"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/csrf"

	"bildhauer/core/artwork"
	"bildhauer/core/plane"
	"bildhauer/core/read"
	"bildhauer/core/stages"
	"bildhauer/core/write"
	"bildhauer/studio"
)

type card struct {
	ID, Name, Made, Damage string
	Rev                    int64
}

func (h *server) home(c fiber.Ctx) error {
	list, err := h.studio.Pieces(c.Context())
	if err != nil {
		return err
	}
	waiting, err := h.studio.Deleted(c.Context())
	if err != nil {
		return err
	}
	cards := make([]card, len(list))
	for i, p := range list {
		cards[i] = card{p.ID, p.Recipe.Name, ago(time.Since(p.Updated)), p.Damage, p.Rev}
		if p.Damage != "" {
			cards[i].Name = "Damaged piece"
		}
	}
	return c.Render(
		"home",
		fiber.Map{
			"Title":   "Pieces",
			"Token":   csrf.TokenFromContext(c),
			"Cards":   cards,
			"Deleted": deletedRows(waiting),
			"MaxMB":   read.MaxBytes >> 20, "Entered": h.entry != nil,
		},
	)
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

func (h *server) create(c fiber.Ctx) error {
	form, err := formOf(c)
	if err != nil {
		return err
	}
	defer form.RemoveAll()
	if came, err := h.bring(c, form.File["file"]); came || err != nil {
		return err
	}
	files, err := filesOf(form, mostSheets, pieceHas)
	if err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	id, err := h.studio.Create(ctx, files...)
	if err != nil {
		return about(err, files...)
	}
	return c.JSON(fiber.Map{"id": id, "address": "/pieces/" + id + "/raise"})
}

// bring makes a piece of one that came as a file, which is read where it lies: it may be larger than
// a file of artwork. came is false for anything else.
func (h *server) bring(c fiber.Ctx, list []*multipart.FileHeader) (came bool, err error) {
	if len(list) != 1 {
		return false, nil
	}
	in, err := list[0].Open()
	if err != nil {
		return false, err
	}
	defer in.Close()
	begin := make([]byte, 4)
	if _, err := in.ReadAt(begin, 0); err != nil || !studio.IsBundle(begin) {
		return false, nil
	}
	ctx, end := h.begin(c)
	defer end()
	id, err := h.studio.Unbundle(ctx, list[0].Filename, in, list[0].Size, h.admit(c))
	if err != nil {
		return true, err
	}
	return true, c.JSON(fiber.Map{"id": id, "address": "/pieces/" + id + "/raise"})
}

// thumb draws a piece's parts from their own outlines. The address names the
// revision, which is never used twice; what went wrong is not kept.
func (h *server) thumb(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Look(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	svg, err := h.studio.Thumb(ctx, p, func(ctx context.Context) ([]byte, error) { return h.drawThumb(ctx, p) })
	if err != nil {
		return err
	}
	return sendThumb(c, svg)
}

// sendThumb sends a little picture; none where everything is left out.
func sendThumb(c fiber.Ctx, svg []byte) error {
	c.Set("Content-Type", "image/svg+xml")
	if svg == nil {
		c.Set("Cache-Control", "no-store")
		return c.SendString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"/>`)
	}
	c.Set("Cache-Control", "private, max-age=31536000")
	return c.Send(svg)
}

// drawThumb draws a piece's parts from their own outlines, nil where everything is left out.
func (h *server) drawThumb(ctx context.Context, p studio.Piece) ([]byte, error) {
	view, err := h.studio.View(ctx, p)
	if err != nil || view.Problem != nil {
		return nil, err
	}
	return thumbOf(view.Regions), nil
}

func thumbOf(r *stages.Regions) []byte {
	side := max(r.Width, r.Height)
	b := fmt.Appendf(
		nil,
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="%.4g %.4g %.4g %.4g">`,
		-side*.54,
		-side*.54,
		side*1.08,
		side*1.08,
	)
	if g := groundOf(r); g != paper {
		b = fmt.Appendf(b, `<rect x="%[1]g" y="%[1]g" width="%[2]g" height="%[2]g" fill="%[3]s"/>`, -side*.54, side*1.08, g)
	}
	for i := range r.Parts {
		b = fmt.Appendf(b, `<path fill="%s" d="`, r.Parts[i].Color.Hex())
		b = write.RegionPath(
			b,
			coarse(r.Parts[i].Region.Value, r.Step, side/800),
			write.Upright(r.Step),
			write.Short,
		)
		b = append(b, `"/>`...)
	}
	return append(b, `</svg>`...)
}

// paper is the usual ground of pictures.
const paper = "#ffffff"

// groundOf returns the colour on which all parts are seen that lie on the ground
// and not on others.
func groundOf(r *stages.Regions) string {
	var all, lying []artwork.Color
	for i := range r.Parts {
		all = append(all, r.Parts[i].Color)
	}
	if artwork.Ground(all).Hex() == paper {
		return paper
	}
	for i, own := range onGround(r) {
		if own {
			lying = append(lying, r.Parts[i].Color)
		}
	}
	return artwork.Ground(lying).Hex()
}

// groundPoints is up to how many points it is looked at which parts lie on the
// ground.
const groundPoints = 200_000

// onGround tells of each part whether it borders the ground: a tenth of the
// points of its outer loops is shared with no other part. Parts that are cut out
// of others share their borders with them.
func onGround(r *stages.Regions) []bool {
	out := make([]bool, len(r.Parts))
	owner := map[plane.Point]int{}
	total := 0
	for i := range r.Parts {
		total += r.Parts[i].Region.Value.Edges()
	}
	if total > groundPoints {
		for i := range out {
			out[i] = true
		}
		return out
	}
	const shared = -1
	for i := range r.Parts {
		r.Parts[i].Region.Value.Loops(func(l plane.Loop) {
			for _, p := range l {
				if k, ok := owner[p]; ok && k != i {
					owner[p] = shared
				} else if !ok {
					owner[p] = i
				}
			}
		})
	}
	for i := range r.Parts {
		own, points := 0, 0
		for _, p := range r.Parts[i].Region.Value {
			for _, v := range p.Outer {
				points++
				if owner[v] == i {
					own++
				}
			}
		}
		out[i] = own*10 > points
	}
	return out
}

func (h *server) duplicate(c fiber.Ctx) error {
	id, err := h.studio.Duplicate(c.Context(), c.Params("id"), h.admit(c))
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"id": id})
}

func (h *server) remove(c fiber.Ctx) error {
	if err := h.studio.Delete(c.Context(), c.Params("id")); err != nil {
		return err
	}
	return c.JSON(fiber.Map{"ok": true})
}
