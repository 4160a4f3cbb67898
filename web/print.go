package web

import (
	"context"
	"math"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/print"
	"bildhauer/store"
	"bildhauer/studio"
)

// printReport tells what is to be known before the piece is printed.
func (h *server) printReport(c fiber.Ctx) error {
	return h.onPiece(c, nil, func(ctx context.Context, p studio.Piece) error {
		report, err := h.studio.PrintReport(ctx, p)
		if err != nil {
			return err
		}
		return c.JSON(report)
	})
}

// laidLayer is one layer of a rehearsal as the page lists it.
// coloursByHeight gives each colour of the piece a height of its own.
func (h *server) coloursByHeight(c fiber.Ctx) error {
	var r studio.Heights
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.ColoursByHeight(ctx, c.Params("id"), base(c), r)
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// stands compares how the piece can stand on the bed.
func (h *server) stands(c fiber.Ctx) error {
	return h.onPiece(c, nil, func(ctx context.Context, p studio.Piece) error {
		list, err := h.studio.Stands(ctx, p)
		if err != nil {
			return err
		}
		return c.JSON(fiber.Map{"stands": list})
	})
}

type laidLayer struct {
	Z      float64 `json:"z"` // of its upper side, mm
	Height float64 `json:"h"` // mm
	Time   float64 `json:"t"` // s
}

// laidPath is a path for the page: places in mm from the middle of the piece, y up.
type laidPath struct {
	Kind   print.Kind `json:"k"`
	Closed bool       `json:"c,omitempty"` // it ends where it began, but for the seam
	Width  float64    `json:"w"`
	Speed  float64    `json:"s"`           // mm/s
	Places []float64  `json:"p"`           // x, y, x, y ...
	Widths []float64  `json:"v,omitempty"` // of its stretches, where they vary
	Way    []float64  `json:"y,omitempty"` // how the nozzle gets there from where the one before ends: x, y ...
	Pull   bool       `json:"d,omitempty"` // with the filament drawn back
}

// micro rounds a length to the micrometre.
func micro(v float32) float64 { return math.Round(float64(v)*1000) / 1000 }

func laidPaths(j *print.Job, layer int, list []print.Path) []laidPath {
	out := make([]laidPath, len(list))
	for i, p := range list {
		o := laidPath{Kind: p.Kind, Closed: p.Closed, Speed: j.Speed(p.Kind, layer), Width: micro(p.Width), Places: make([]float64, 0, 2*len(p.Points))}
		for _, q := range p.Points {
			o.Places = append(o.Places, micro(q[0]), micro(q[1]))
		}
		for _, v := range p.Widths {
			o.Widths = append(o.Widths, micro(v))
		}
		for _, q := range p.Way {
			o.Way = append(o.Way, micro(q[0]), micro(q[1]))
		}
		o.Pull = p.Pull
		out[i] = o
	}
	return out
}

// rehearsal sends what is to be known of the whole print.
func (h *server) rehearsal(c fiber.Ctx) error {
	return h.onPiece(c, nil, func(ctx context.Context, p studio.Piece) error {
		made, err := h.studio.PrintJob(ctx, p)
		if err != nil {
			return err
		}
		j := made.Value
		places := make([][3]float64, len(j.Places)) // and quarters of a turn
		for i, at := range j.Places {
			places[i] = [3]float64{at.At[0], at.At[1], float64(at.Turn)}
		}
		layers := make([]laidLayer, len(j.Laid))
		times := j.Times()
		for i, l := range j.Laid {
			layers[i] = laidLayer{l.Z, l.Height, times[i]}
		}
		return c.JSON(fiber.Map{
			"key": made.Key, "time": j.Time(), "filament": j.Filament() / 1000, "mass": j.Mass(),
			"cost": j.Mass() / 1000 * p.Recipe.Print.Price, "places": places, "around": laidPaths(j, 0, j.Around), "layers": layers,
			"bed": j.Setup.Bed, "size": j.Size, "travel": j.Setup.Speeds.Travel,
		})
	})
}

// layer sends the paths of one layer, from 0.
func (h *server) layer(c fiber.Ctx) error {
	n, err := strconv.Atoi(c.Query("n"))
	if err != nil {
		return &studio.ErrInput{Text: "A layer is named by its number."}
	}
	return h.onPiece(c, nil, func(ctx context.Context, p studio.Piece) error {
		made, err := h.studio.PrintJob(ctx, p)
		if err != nil {
			return err
		}
		if n < 0 || n >= len(made.Value.Laid) {
			return &studio.ErrInput{Text: "There is no such layer any more."}
		}
		return c.JSON(fiber.Map{"key": made.Key, "paths": laidPaths(made.Value, n, made.Value.Laid[n].Paths)})
	})
}

// printState is a print as the page lists it.
type printState struct {
	ID      string  `json:"id"`
	Name    string  `json:"name"`
	State   string  `json:"state"`
	Wish    string  `json:"wish"`
	Note    string  `json:"note"`
	Layer   int     `json:"layer"`
	Layers  int     `json:"layers"`
	Share   float64 `json:"share"`
	Left    float64 `json:"left"` // s
	Created int64   `json:"created"`
}

func printStateOf(p store.Print) printState {
	return printState{p.ID, p.Name, p.State, p.Wish, p.Note, p.Layer, p.Layers, p.Share, p.Remaining, p.CreatedAt}
}

// printer tells how the printer is and how the piece's prints are.
func (h *server) printer(c fiber.Ctx) error {
	list, err := h.studio.Prints(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	prints := make([]printState, len(list))
	for i, p := range list {
		prints[i] = printStateOf(p)
	}
	status, found := h.studio.PrinterStatus(c.Context())
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{"found": found, "status": status, "prints": prints})
}

// sendPrint sends the piece as it is now to the printer.
func (h *server) sendPrint(c fiber.Ctx) error {
	return h.onPiece(c, nil, func(ctx context.Context, p studio.Piece) error {
		made, err := h.studio.SendPrint(ctx, p)
		if err != nil {
			return err
		}
		return c.JSON(printStateOf(made))
	})
}

// printAct pauses, resumes, cancels or forgets a print.
func (h *server) printAct(c fiber.Ctx) error {
	if err := h.studio.ActOnPrint(c.Context(), c.Params("id"), c.Params("print"), c.Params("act")); err != nil {
		return err
	}
	return h.printer(c)
}
