package main

import (
	"context"
	"io"

	"bildhauer/core/write"
)

// The range of clean's tolerance in px of the page.
const (
	leastClean = 1e-5
	mostClean  = 100
)

func clean(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	fs := newFlags("clean", stderr)
	how := readFlags(fs)
	to := outputs{}
	fs.StringVar(&to.out, "o", "", "")
	fs.StringVar(&to.dir, "d", "", "")
	tol := fs.Float64("tolerance", 0.02, "")
	hidden := fs.Bool("hidden", false, "")
	files, err := parseFiles(fs, args, stderr)
	if err != nil {
		return err
	}
	if err := to.check("clean", len(files), stderr); err != nil {
		return err
	}
	if !(*tol >= leastClean && *tol <= mostClean) {
		return wrong(stderr, "--tolerance takes %g to %d px", leastClean, mostClean)
	}
	targets, err := to.targets(files, "svg")
	if err != nil {
		return wrong(stderr, "%v", err)
	}
	if err := how.open(); err != nil {
		return err
	}
	return each(ctx, files, stdout, stderr, func(ctx context.Context, j job) error {
		s, err := how.load(ctx, j.path)
		if err != nil {
			return err
		}
		take := func(i int) bool { return s.Drawn(i) || *hidden && !s.Shapes[i].Bitmap }
		return create(
			func(w []io.Writer) error { return write.CleanSVG(ctx, w[0], s, take, *tol) },
			targets[j.n],
		)
	})
}
