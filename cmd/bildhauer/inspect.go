package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// inspected is what inspect prints of a file.
type inspected struct {
	File     string         `json:"file"`
	Format   string         `json:"format"`
	WidthMM  float64        `json:"width_mm"`
	HeightMM float64        `json:"height_mm"`
	Layers   []string       `json:"layers"`
	Groups   int            `json:"groups"`
	Shapes   int            `json:"shapes"`
	Strokes  int            `json:"strokes"`
	Texts    int            `json:"texts"`
	Pages    int            `json:"pages,omitempty"` // of formats with pages
	Hidden   int            `json:"hidden"`
	OffPage  int            `json:"off_page"`
	Contours int            `json:"contours"`
	Nodes    int            `json:"nodes"`
	Colours  []string       `json:"colours"`
	Art      [4]float64     `json:"artwork_mm"` // x, y, width, height on the page
	Findings []foundThere   `json:"findings"`
	Notes    []artwork.Note `json:"notes"`
}

// foundThere is a finding at the usual size (100 mm wide).
type foundThere struct {
	Kind    string `json:"kind"`
	Measure string `json:"measure"`
}

func inspect(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	fs := newFlags("inspect", stderr)
	how := readFlags(fs)
	files, err := parseFiles(fs, args, stderr)
	if err != nil {
		return err
	}
	if err := how.open(); err != nil {
		return err
	}
	return each(ctx, files, stdout, stderr, func(ctx context.Context, j job) error {
		s, err := how.load(ctx, j.path)
		if err != nil {
			return err
		}
		out := look(j.path, s)
		r := recipe.New()
		found, err := findings(ctx, s, &r)
		if err != nil {
			return fmt.Errorf("%s: %w", j.path, err)
		}
		for _, f := range found {
			out.Findings = append(out.Findings, foundThere{f.Kind, f.Measure})
		}
		return json.NewEncoder(j.stdout).Encode(out)
	})
}

// look counts what is in a sheet.
func look(path string, s *artwork.Sheet) inspected {
	const mm = artwork.MMPerPx
	r := inspected{
		File: path, Format: s.Format, WidthMM: round4(s.Page.W() * mm), HeightMM: round4(s.Page.H() * mm),
		Groups: len(s.Groups), Shapes: len(s.Shapes), Pages: s.Pages, Nodes: s.Nodes(),
		Layers: []string{}, Colours: []string{}, Findings: []foundThere{}, Notes: []artwork.Note{},
	}
	for _, g := range s.Groups {
		if g.Layer {
			r.Layers = append(r.Layers, g.Name)
		}
	}
	seen := map[string]bool{}
	box := geom.EmptyBox()
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		r.Contours += len(sh.Contours)
		r.Strokes += one(sh.Stroke != nil)
		r.Texts += one(sh.Text != "")
		r.Hidden += one(sh.Hidden)
		r.OffPage += one(s.OffPage(i))
		if hex := sh.Color.Hex(); !seen[hex] {
			seen[hex] = true
			r.Colours = append(r.Colours, hex)
		}
		box = box.Union(sh.Box())
	}
	if !box.Empty() {
		r.Art = [4]float64{
			round4(box.Min.X * mm),
			round4(box.Min.Y * mm),
			round4(box.W() * mm),
			round4(box.H() * mm),
		}
	}
	for _, n := range s.Notes {
		n.Keys, n.Places = nil, nil
		r.Notes = append(r.Notes, n)
	}
	return r
}

func one(yes bool) int {
	if yes {
		return 1
	}
	return 0
}
