package web

import (
	"math"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/geom"
	"bildhauer/core/mend"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
	"bildhauer/core/write"
)

// trial tells what some mends would do to the picture, and draws how the artwork would look in a box.
func (h *server) trial(c fiber.Ctx) error {
	var r struct {
		Do  []recipe.Mend `json:"do"`
		Box [4]float64    `json:"box"` // x, y, width and height, px of the page
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	t, err := h.studio.Trial(ctx, p, r.Do)
	if err != nil {
		return err
	}
	box := geom.Box{Min: geom.Vec{X: r.Box[0], Y: r.Box[1]}, Max: geom.Vec{X: r.Box[0] + r.Box[2], Y: r.Box[1] + r.Box[3]}}
	tol := math.Max(box.W(), box.H()) / 2000
	gained, lost, other := changePaths(t)
	swaps := []fiber.Map{}
	for _, s := range t.Swaps {
		swaps = append(swaps, fiber.Map{"from": s.From, "to": s.To, "area": units.Round(s.Area, 3)})
	}
	return c.JSON(fiber.Map{
		"effect": t.Words(), "share": t.Share, "area": units.Round(t.Area, 3), "wide": t.Wide, "swaps": swaps,
		"gained": gained, "lost": lost, "other": other, "shapes": within(t.After, box, tol),
	})
}

// changePaths draws where something comes, goes, and changes its colour.
func changePaths(t *mend.Trial) (gained, lost, other string) {
	var paths [3][]byte
	for _, c := range t.Changes {
		k := 2
		switch {
		case c.From == 0:
			k = 0
		case c.To == 0:
			k = 1
		}
		c.Where.Loops(func(l plane.Loop) {
			pts := t.Before.Points(l)
			paths[k] = write.LoopPath(paths[k], len(pts), func(i int) geom.Vec { return pts[i] }, write.Fixed(3))
		})
	}
	return string(paths[0]), string(paths[1]), string(paths[2])
}

// within draws the shapes that take part and reach into a box.
func within(w *mend.Work, box geom.Box, tol float64) []fiber.Map {
	out := []fiber.Map{}
	for i := range w.Sheet.Shapes {
		if sh := &w.Sheet.Shapes[i]; w.In[i] && sh.Reach().Overlaps(box) {
			out = append(out, fiber.Map{"path": shapePath(sh, tol), "color": w.Color[i].Hex(), "evenOdd": sh.EvenOdd})
		}
	}
	return out
}
