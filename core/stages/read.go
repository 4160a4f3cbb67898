package stages

import (
	"context"
	"encoding/json"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/core/read/font"
	"bildhauer/core/read/trace"
	"bildhauer/core/recipe"
)

// Source is the bytes of a file, known by an id that never names other bytes.
type Source struct {
	ID   string
	Load func() ([]byte, error)
	Read Reader // that reads the bytes as artwork; nil for read.SheetWith
}

// Reader reads artwork as read.SheetWith does, elsewhere maybe.
type Reader func(ctx context.Context, name string, data []byte, o read.Options) (*artwork.Sheet, error)

// MarshalJSON writes the id, which stands for the bytes.
func (s Source) MarshalJSON() ([]byte, error) { return json.Marshal(s.ID) }

// FontInput is what a font depends on.
type FontInput struct{ File Source }

// Font reads a font file.
var Font = Stage[FontInput, *font.Face]{
	Name: "font",
	Run: func(_ context.Context, in FontInput) (*font.Face, error) {
		data, err := in.File.Load()
		if err != nil {
			return nil, err
		}
		face, err := font.ParseFace(data)
		if err == nil {
			face.Added = true
		}
		return face, err
	},
	Size: func(f *font.Face) int64 { return f.Bytes() },
}

// ReadInput is what a sheet depends on.
type ReadInput struct {
	File  Source
	Name  string
	Page  int // from 1; 0 for the first
	Trace trace.Settings
	Fonts []Made[*font.Face]
}

// Read reads an artwork file.
var Read = Stage[ReadInput, *artwork.Sheet]{
	Name: "read",
	Run: func(ctx context.Context, in ReadInput) (*artwork.Sheet, error) {
		data, err := in.File.Load()
		if err != nil {
			return nil, err
		}
		lib := &font.Library{}
		for _, f := range in.Fonts {
			lib.Added = append(lib.Added, f.Value)
		}
		by := in.File.Read
		if by == nil {
			by = read.SheetWith
		}
		return by(ctx, in.Name, data, read.Options{Fonts: lib, Page: in.Page, Trace: in.Trace})
	},
	Size: func(s *artwork.Sheet) int64 { return s.Bytes() },
	Need: func(ReadInput) int64 { return readNeed },
}

// readNeed is what reading an ordinary file takes: a file of 2 MB needs some
// 75 MB while it is read.
const readNeed = 80 << 20

// traceOf is how a recipe has a bitmap traced.
func traceOf(t *recipe.Tracing) trace.Settings {
	if t == nil {
		return trace.Settings{}
	}
	return trace.Settings{By: t.By, Threshold: t.Threshold, Light: t.Light, Colours: t.Colours, Speckle: t.Speckle, Smooth: t.Smooth, Corner: t.Corner, Pictures: t.Pictures}
}
