// Package read turns the bytes of an artwork file into a sheet, whatever the
// file is called.
package read

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"runtime/debug"

	"bildhauer/core/artwork"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
	"bildhauer/core/read/font"
	"bildhauer/core/read/pdf"
	"bildhauer/core/read/ps"
	"bildhauer/core/read/svg"
	"bildhauer/core/read/trace"
)

// MaxBytes is the largest file that is read.
const MaxBytes = 32 << 20

// Options say how a file is read.
type Options struct {
	Fonts *font.Library  // fonts added by the person; nil for none
	Page  int            // of files with several, from 1; 0 for the first
	Trace trace.Settings // of bitmaps

	Watch budget.Watch // what it may take; nothing for the usual
}

// Sheet reads a file with the shipped fonts and takes its first page.
func Sheet(name string, data []byte) (*artwork.Sheet, error) {
	return SheetWith(context.Background(), name, data, Options{})
}

// SheetWith reads a file. Errors are sentences for the person who chose it and
// name the file. It returns ctx.Err() when nobody waits any more.
func SheetWith(ctx context.Context, name string, data []byte, o Options) (*artwork.Sheet, error) {
	switch {
	case len(data) == 0:
		return nil, &Refusal{Text: name + " is empty. Save the artwork again and try once more"}
	case len(data) > MaxBytes:
		return nil, TooLarge(name, int64(len(data)))
	}
	once := func() (*artwork.Sheet, error) {
		return budget.Under(budget.Watched(ctx, o.Watch), func(b *budget.Budget) (*artwork.Sheet, error) {
			return sheetOf(name, data, o, b)
		})
	}
	sheet, err := once()
	if only := (*fault.Fault)(nil); errors.As(err, &only) && only.Bitmaps > 0 && !o.Trace.Pictures {
		// Nothing but bitmaps: a drawing that was scanned, or saved so. They are traced.
		o.Trace.Pictures = true
		if sheet, err = once(); err == nil {
			sheet.Bitmap = true
		}
	}
	if err == nil {
		if o.Page > 1 && sheet.Pages == 0 {
			return nil, &Refusal{Text: fmt.Sprintf("%s has no pages; there is no page %d", name, o.Page)}
		}
		sheet.Finish()
		return sheet, nil
	}
	var f *fault.Fault
	var x *budget.Exceeded
	switch {
	case ctx.Err() != nil:
		return nil, ctx.Err()
	case errors.As(err, &f):
		return nil, &Refusal{Text: name + " " + f.Text}
	case errors.As(err, &x):
		return nil, &Refusal{Text: name + " " + x.Text}
	}
	return nil, &Refusal{
		Text: name + " hit a mistake in the reader. Please keep the file and tell us about it",
		Bug:  err,
	}
}

// Refusal is why a file is not read: a sentence, without its full stop, that
// names the file and the way out.
type Refusal struct {
	Text string
	Bug  error // a mistake of the reader, for the log
}

func (r *Refusal) Error() string { return r.Text }

// TooLarge returns the error for a file of more than MaxBytes.
func TooLarge(name string, bytes int64) error {
	mb := (bytes + 1<<20 - 1) >> 20
	return &Refusal{
		Text: fmt.Sprintf(
			"%s has %d MB; the most that is read is %d MB. Leave out embedded bitmaps or split the artwork",
			name,
			mb,
			MaxBytes>>20,
		),
	}
}

func sheetOf(name string, data []byte, o Options, b *budget.Budget) (sheet *artwork.Sheet, err error) {
	defer func() {
		p := recover()
		budget.Pass(p)
		if p != nil {
			sheet, err = nil, fmt.Errorf("%v\n%s", p, debug.Stack())
		}
	}()
	switch Detect(data) {
	case "svg":
		return svg.Read(name, data, o.Fonts, o.Trace, b)
	case "eps":
		return ps.Read(name, data, o.Fonts, o.Page, o.Trace, b)
	case "pdf":
		return pdf.Read(name, data, o.Fonts, o.Page, o.Trace, b)
	case "gzip":
		if data, err = gunzip(data, b); err != nil {
			return nil, err
		}
		if Detect(data) == "gzip" {
			return nil, fault.New("is compressed more than once. Unpack it first")
		}
		return sheetOf(name, data, o, b)
	case "bitmap":
		return trace.Sheet(name, data, o.Trace, b)
	}
	return nil, fault.New(
		"is not an SVG, EPS, AI or PDF file. Save the artwork as SVG (not as a web page or a bitmap)",
	)
}

// gunzip unpacks a compressed file up to the size that is read.
func gunzip(data []byte, b *budget.Budget) ([]byte, error) {
	z, err := gzip.NewReader(bytes.NewReader(data))
	if err != nil {
		return nil, fault.New("is compressed, but damaged. Copy it again")
	}
	out, err := io.ReadAll(io.LimitReader(z, MaxBytes+1))
	if err != nil {
		return nil, fault.New("is compressed, but damaged. Copy it again")
	}
	if len(out) > MaxBytes {
		return nil, fault.New("unpacks to more than %d MB. Split the artwork", MaxBytes>>20)
	}
	b.Spend(budget.Bytes, len(out))
	return out, nil
}

// Detect tells the kind of a file by its content.
func Detect(data []byte) string {
	head := data[:min(len(data), 4096)]
	switch {
	case bytes.HasPrefix(head, []byte("%PDF")):
		return "pdf"
	case bytes.HasPrefix(head, []byte("%!PS")), bytes.HasPrefix(head, []byte{0xC5, 0xD0, 0xD3, 0xC6}):
		return "eps"
	case bytes.HasPrefix(head, []byte{0x1f, 0x8b}):
		return "gzip"
	case bytes.HasPrefix(head, []byte("\x89PNG")),
		bytes.HasPrefix(head, []byte{0xff, 0xd8, 0xff}),
		bytes.HasPrefix(head, []byte("GIF8")),
		bytes.HasPrefix(head, []byte("RIFF")):
		return "bitmap"
	case bytes.HasPrefix(head, []byte("%%")) && bytes.Contains(head, []byte("%%BoundingBox")),
		bytes.Contains(head, []byte("\n%!PS")),
		bytes.Contains(head, []byte("\r%!PS")):
		return "eps" // behind comments, or a few bytes of a printer's own
	case bytes.Contains(head[:min(len(head), 1024)], []byte("%PDF-")):
		return "pdf"
	}
	t := bytes.TrimLeft(bytes.TrimPrefix(head, []byte("\xef\xbb\xbf")), " \t\r\n")
	if bytes.HasPrefix(t, []byte("<")) || bytes.HasPrefix(head, []byte{0xff, 0xfe}) ||
		bytes.HasPrefix(head, []byte{0xfe, 0xff}) {
		return "svg"
	}
	return ""
}
