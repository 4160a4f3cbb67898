package web

import (
	"os"
	"strings"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/mesh"
	"bildhauer/core/units"
	"bildhauer/studio"
)

type check struct {
	Part      string  `json:"part"`
	ID        string  `json:"id"`
	Color     string  `json:"color"`
	Sound     bool    `json:"sound"`
	Open      bool    `json:"open"` // some side has no cap, on purpose
	Problems  string  `json:"problems"`
	Triangles int     `json:"triangles"`
	Shells    int     `json:"shells"`
	VolumeMM3 float64 `json:"volumeMm3"`
	AreaMM2   float64 `json:"areaMm2"`
	Depth     float64 `json:"depth"` // as it came out, mm
}

func (h *server) checks(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	list, err := h.studio.Checks(ctx, p)
	if err != nil {
		return err
	}
	out := make([]check, len(list))
	for i, s := range list {
		out[i] = checkOf(s)
	}
	return c.JSON(fiber.Map{"parts": out})
}

func checkOf(s studio.Checked) check {
	r := s.Report
	return check{
		Part: s.Name, ID: s.Part.ID, Color: s.Part.Color.Hex(), Sound: r.Sound() || r.Nothing(), Open: r.Open, Problems: faults(r), Triangles: r.Triangles,
		Shells: r.Shells, VolumeMM3: r.VolumeMM3, AreaMM2: r.AreaMM2, Depth: rise(s.Mesh),
	}
}

// faults words what a check found.
func faults(r mesh.Report) string {
	var bad []string
	boundary := r.Boundary
	if r.Open { // it has no cap there on purpose
		boundary = 0
	}
	for _, e := range [...]struct {
		n         int
		one, many string
	}{
		{boundary, "open edge", "open edges"},
		{r.Crowded, "edge with more than two faces", "edges with more than two faces"},
		{r.Misoriented, "edge turned over", "edges turned over"},
		{r.ZeroArea, "triangle without area", "triangles without area"},
		{r.Pinched, "point where it touches itself", "points where it touches itself"},
		{r.Inverted, "shell inside out", "shells inside out"},
		{r.Crossing, "crossing of faces", "crossings of faces"},
	} {
		if e.n > 0 {
			bad = append(bad, units.Plural(e.n, e.one, e.many))
		}
	}
	return strings.Join(bad, ", ")
}

// download sends the piece in a format, unless a part fails its check.
func (h *server) download(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	name := fileName(p.Recipe.Name)
	var x *studio.Export
	if c.Params("format") == "zip" {
		x, err = h.studio.Archive(ctx, p, name, c.Query("pattern"), c.Query("parts", "stl"))
	} else {
		x, err = h.studio.Export(ctx, p, c.Params("format"), name)
	}
	if err != nil {
		return err
	}
	f, err := os.Open(x.Path) // stays readable when the result is dropped meanwhile
	if err != nil {
		return err
	}
	st, err := f.Stat()
	if err != nil {
		f.Close()
		return err
	}
	c.Set("Content-Type", x.Type)
	c.Set("Cache-Control", "no-store")
	attach(c, name+"."+c.Params("format"))
	return c.SendStream(f, int(st.Size()))
}
