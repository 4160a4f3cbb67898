package main

import (
	"context"
	"io"

	"github.com/spf13/cobra"

	"bildhauer/core/artwork"
	"bildhauer/core/units"
	"bildhauer/core/write"
)

// The range of clean's tolerance in px of the page, and what is usual.
const (
	leastClean = 1e-5
	mostClean  = 100
	usualClean = 0.02
)

// cleanCommand writes resolved outlines, strokes included.
func cleanCommand() *cobra.Command {
	tol, hidden := usualClean, false
	var how *reading
	var to *outputs
	c := command("clean FILE... (-o OUT.svg | -d DIR)", "Writes resolved outlines as SVG, strokes included",
		"Colours and page are those of the artwork.", someFiles,
		func(c *cobra.Command, files []string) error { return clean(c, files, how, to, tol, hidden) })
	how, to = readFlags(c), outFlags(c)
	c.Flags().Var(&value{kind: "length", set: func(text string) error {
		mm, err := units.ParseLength(text, "mm")
		if err == nil {
			tol = mm / artwork.MMPerPx
		}
		return err
	}}, "tolerance", "How far edges may depart from the artwork's curves, on its page. Usually 0.02px, which is 0.0053mm.")
	c.Flags().BoolVar(&hidden, "hidden", false, "Writes hidden shapes, too.")
	return c
}

func clean(c *cobra.Command, files []string, how *reading, to *outputs, tol float64, hidden bool) error {
	if err := to.check("clean", len(files)); err != nil {
		return err
	}
	if !(tol >= leastClean && tol <= mostClean) {
		return wrong("--tolerance takes %gpx to %dpx", leastClean, mostClean)
	}
	targets, err := to.targets(files, "svg")
	if err != nil {
		return wrong("%v", err)
	}
	if err := how.open(); err != nil {
		return err
	}
	return each(c, files, func(ctx context.Context, j job) error {
		s, err := how.load(ctx, j.path)
		if err != nil {
			return err
		}
		take := func(i int) bool { return s.Drawn(i) || hidden && !s.Shapes[i].Bitmap }
		return create(
			func(w []io.Writer) error { return write.CleanSVG(ctx, w[0], s, take, tol) },
			targets[j.n],
		)
	})
}
