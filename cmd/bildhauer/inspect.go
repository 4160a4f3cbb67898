package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"runtime/debug"
	"time"

	"github.com/spf13/cobra"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mend"
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
	Unlooked string         `json:"findings_not_looked_for,omitempty"` // and why
	Notes    []artwork.Note `json:"notes"`
}

// foundThere is a finding at the usual size (100 mm wide).
type foundThere struct {
	Kind    string `json:"kind"`
	Measure string `json:"measure"`
}

// inspectCommand tells what is in files.
func inspectCommand() *cobra.Command {
	var how *reading
	c := command("inspect FILE...", "Tells what is in files, one JSON object a line", "", someFiles,
		func(c *cobra.Command, files []string) error { return inspect(c, files, how) })
	how = readFlags(c)
	return c
}

func inspect(c *cobra.Command, files []string, how *reading) error {
	if err := how.open(); err != nil {
		return err
	}
	return each(c, files, func(ctx context.Context, j job) error {
		s, err := how.load(ctx, j.path)
		if err != nil {
			return err
		}
		out := look(j.path, s)
		r := recipe.New()
		found, err := soon(ctx, lookTime, func(ctx context.Context) ([]mend.Finding, error) { return findings(ctx, s, &r) })
		switch {
		case ctx.Err() == nil && errors.Is(err, context.DeadlineExceeded):
			out.Unlooked = fmt.Sprintf("that takes longer than %.2g seconds; mend --list does it", lookTime.Seconds())
		case err != nil:
			return fmt.Errorf("%s: %w", j.path, err)
		}
		for _, f := range found {
			out.Findings = append(out.Findings, foundThere{f.Kind, f.Measure})
		}
		return json.NewEncoder(j.stdout).Encode(out)
	})
}

// lookTime is how long inspect looks for findings. A sheet of 20,000 nodes takes 0.2 s.
const lookTime = 500 * time.Millisecond

// soon returns what f makes if it is done in time, else context.DeadlineExceeded; f is told to
// stop then, and nobody waits until it has.
func soon[T any](ctx context.Context, d time.Duration, f func(ctx context.Context) (T, error)) (T, error) {
	ctx, cancel := context.WithTimeout(ctx, d)
	defer cancel()
	type result struct {
		value T
		err   error
	}
	done := make(chan result, 1)
	go func() {
		var r result
		defer func() {
			if p := recover(); p != nil {
				r.err = fmt.Errorf("a mistake: %v\n%s", p, debug.Stack())
			}
			done <- r
		}()
		r.value, r.err = f(ctx)
	}()
	select {
	case r := <-done:
		return r.value, r.err
	case <-ctx.Done():
		var none T
		return none, ctx.Err()
	}
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
