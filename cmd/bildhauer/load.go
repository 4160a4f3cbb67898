package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"sync"

	"github.com/spf13/cobra"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/core/read/font"
	"bildhauer/core/read/trace"
	"bildhauer/reader"
)

// reading says how the files of a command are read.
type reading struct {
	page  int
	trace trace.Settings
	fonts []string
	lib   font.Library
}

// readers are the child processes in which files are read; the first command that needs them
// starts one.
var readers = sync.OnceValue(reader.New)

// readFlags adds the flags of reading to a command.
func readFlags(c *cobra.Command) *reading {
	r := &reading{}
	fs := c.Flags()
	fs.IntVar(&r.page, "page", 0, "The page `N` of files with pages, from 1.")
	fs.BoolVar(&r.trace.Pictures, "bitmaps", false, "Traces bitmaps inside the artwork, too.")
	choiceFlag(c, "trace.by", func(name string) { r.trace.By = name })
	fs.StringArrayVar(&r.fonts, "font", nil, "A font `FILE` (TTF, OTF, WOFF) for text; may be repeated.")
	return r
}

// open reads the fonts that were named, once for all files.
func (r *reading) open() error {
	for _, path := range r.fonts {
		data, err := os.ReadFile(path)
		if err != nil {
			return fmt.Errorf("%s can't be read: %v", path, unwrapPath(err))
		}
		if err := readers().Font(context.Background(), data); err != nil {
			return fmt.Errorf("%s %v", path, err)
		}
		f, err := font.ParseFace(data)
		if err != nil {
			return fmt.Errorf("%s %v", path, err)
		}
		f.Added = true
		r.lib.Added = append(r.lib.Added, f)
	}
	return nil
}

// load reads one file. Errors name it.
func (r *reading) load(ctx context.Context, path string) (*artwork.Sheet, error) {
	st, err := os.Stat(path)
	if err != nil {
		return nil, fmt.Errorf("%s can't be opened: %v", path, unwrapPath(err))
	}
	if st.IsDir() {
		return nil, fmt.Errorf("%s is a folder; name the files in it", path)
	}
	if st.Size() > read.MaxBytes {
		return nil, read.TooLarge(path, st.Size())
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %v", path, unwrapPath(err))
	}
	return readers().Sheet(ctx, path, data, read.Options{Fonts: &r.lib, Page: r.page, Trace: r.trace})
}

// unwrapPath returns what is wrong without the path, which the message names
// already.
func unwrapPath(err error) error {
	var p *os.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	var l *os.LinkError
	if errors.As(err, &l) {
		return l.Err
	}
	return err
}
