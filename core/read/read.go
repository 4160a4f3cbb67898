// Package read turns the bytes of an artwork file into a sheet, whatever the
// file is called.
package read

import (
	"bytes"
	"compress/gzip"
	"errors"
	"fmt"
	"io"

	"bildhauer/core/artwork"
	"bildhauer/core/read/fault"
	"bildhauer/core/read/font"
	"bildhauer/core/read/pdf"
	"bildhauer/core/read/ps"
	"bildhauer/core/read/svg"
)

// MaxBytes is the largest file that is read.
const MaxBytes = 32 << 20

// Options say how a file is read.
type Options struct {
	Fonts *font.Library // fonts added by the person; nil for none
	Page  int           // of files with several, from 1; 0 for the first
}

// Sheet reads a file with the shipped fonts and takes its first page.
func Sheet(name string, data []byte) (*artwork.Sheet, error) {
	return SheetWith(name, data, Options{})
}

// SheetWith reads a file. Errors are sentences for the person who chose it and
// name the file.
func SheetWith(name string, data []byte, o Options) (sheet *artwork.Sheet, err error) {
	defer func() {
		if p := recover(); p != nil {
			sheet, err = nil, fmt.Errorf("%s: this file hit a mistake in the reader (%v). Please keep the file and tell us about it", name, p)
		}
	}()
	switch {
	case len(data) == 0:
		return nil, fmt.Errorf("%s is empty. Save the artwork again and try once more", name)
	case len(data) > MaxBytes:
		return nil, fmt.Errorf("%s has %d MB; the most that is read is %d MB. Leave out embedded bitmaps or split the artwork", name, len(data)>>20, MaxBytes>>20)
	}
	switch Detect(data) {
	case "svg":
		sheet, err = svg.Read(name, data, o.Fonts)
	case "eps":
		sheet, err = ps.Read(name, data, o.Fonts)
	case "gzip":
		if data, err = gunzip(data); err == nil {
			if kind := Detect(data); kind == "gzip" {
				err = fault.New("is compressed more than once. Unpack it first")
				break
			}
			return SheetWith(name, data, o)
		}
	case "pdf":
		sheet, err = pdf.Read(name, data, o.Fonts, o.Page)
	case "bitmap":
		err = fault.New("is a bitmap. Bildhauer needs outlines: trace it in a drawing program and save it as SVG")
	default:
		err = fault.New("is not an SVG, EPS, AI or PDF file. Save the artwork as SVG (not as a web page or a bitmap)")
	}
	if err != nil {
		var f *fault.Fault
		if errors.As(err, &f) {
			return nil, fmt.Errorf("%s %s", name, f.Text)
		}
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	sheet.Finish()
	return sheet, nil
}

// gunzip unpacks a compressed file up to the size that is read.
func gunzip(data []byte) ([]byte, error) {
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
	case bytes.HasPrefix(head, []byte("\x89PNG")), bytes.HasPrefix(head, []byte{0xff, 0xd8, 0xff}), bytes.HasPrefix(head, []byte("GIF8")), bytes.HasPrefix(head, []byte("RIFF")):
		return "bitmap"
	case bytes.HasPrefix(head, []byte("%%")) && bytes.Contains(head, []byte("%%BoundingBox")), bytes.Contains(head, []byte("\n%!PS")), bytes.Contains(head, []byte("\r%!PS")):
		return "eps" // behind comments, or a few bytes of a printer's own
	case bytes.Contains(head[:min(len(head), 1024)], []byte("%PDF-")):
		return "pdf"
	}
	t := bytes.TrimLeft(bytes.TrimPrefix(head, []byte("\xef\xbb\xbf")), " \t\r\n")
	if bytes.HasPrefix(t, []byte("<")) || bytes.HasPrefix(head, []byte{0xff, 0xfe}) || bytes.HasPrefix(head, []byte{0xfe, 0xff}) {
		return "svg"
	}
	return ""
}
