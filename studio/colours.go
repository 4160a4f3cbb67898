package studio

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"image"
	"image/color"
	"image/png"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/palette"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/store"
)

// Colours is what gathering the shades of a piece comes to.
type Colours struct {
	*palette.Gathered
	seen *stages.Seen
}

// Colours tells what a palette makes of a piece, without keeping it. One that gathers nothing leaves all shades.
func (s *Studio) Colours(ctx context.Context, p Piece, with recipe.Palette) (*Colours, error) {
	tried, err := recipe.Change{Edits: []recipe.Edit{&recipe.SetParts{Palette: &with}}}.Apply(p.Recipe, nil)
	if err != nil {
		return nil, input("%v", err)
	}
	p.Recipe = tried
	line := s.line(ctx, p)
	mended, err := line.Mended(ctx)
	if err != nil {
		return nil, err
	}
	seen, err := line.ShadesOf(ctx, mended)
	if err != nil {
		return nil, err
	}
	got, err := line.Gathered(ctx, mended)
	return &Colours{got.Value, seen.Value}, err
}

// Picture draws the artwork as PNG files, in its own shades or in those that they become.
func (c *Colours) Picture(own bool) ([]byte, error) {
	canvas := c.seen.Canvas
	img := image.NewNRGBA(image.Rect(0, 0, canvas.W, canvas.H))
	of := map[int32]color.NRGBA{}
	for i, hex := range c.seen.Hex {
		if !own {
			hex = c.Map[hex]
		}
		rgb, _ := artwork.ParseHex(hex)
		of[i] = color.NRGBA{rgb.R, rgb.G, rgb.B, 255}
	}
	for k, n := range canvas.Shape {
		if n >= 0 {
			img.SetNRGBA(k%canvas.W, k/canvas.W, of[n])
		}
	}
	var b bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img)
	return b.Bytes(), err
}

// Palette is colours that are kept by a name.
type Palette struct {
	Name    string   `json:"name"`
	Colours []string `json:"colours"` // #rrggbb
}

// Palettes returns the palettes that were kept, by name.
func (s *Studio) Palettes(ctx context.Context) ([]Palette, error) {
	kept, err := s.store.Kept(ctx, store.APalette)
	out := []Palette{}
	for _, k := range kept {
		var p Palette
		if json.Unmarshal(k.Doc, &p) == nil { // it was checked when it was kept
			out = append(out, p)
		}
	}
	return out, err
}

// KeepPalette keeps a palette by its name. One of that name waits to be brought back under the id that is
// returned, "" for none.
func (s *Studio) KeepPalette(ctx context.Context, p Palette) (instead string, err error) {
	if p.Name = strings.TrimSpace(p.Name); p.Name == "" {
		return "", input("give the palette a name first")
	}
	check := recipe.Palette{Given: p.Colours, Name: p.Name}
	if _, err := (recipe.Change{Edits: []recipe.Edit{&recipe.SetParts{Palette: &check}}}).Apply(recipe.New(), nil); err != nil {
		return "", input("%v", err)
	}
	doc, err := json.Marshal(p)
	if err != nil {
		return "", err
	}
	return s.store.Keep(ctx, store.Kept{Kind: store.APalette, ID: newID(), Name: p.Name, Doc: doc})
}

// DropPalette puts a palette that was kept away and returns the id under which it waits.
func (s *Studio) DropPalette(ctx context.Context, name string) (string, error) {
	id, err := s.store.Drop(ctx, store.APalette, name)
	if errors.Is(err, store.ErrNotFound) {
		err = input("this palette is not saved any more")
	}
	return id, err
}
