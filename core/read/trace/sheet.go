package trace

import (
	"bytes"
	"fmt"
	"image"
	_ "image/gif" // the formats of bitmaps
	_ "image/jpeg"
	_ "image/png"

	_ "golang.org/x/image/webp"
	"golang.org/x/sync/semaphore"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
)

// room is for so many pixels at a time.
var room = semaphore.NewWeighted(MostPixels)

// kindOfBitmap names the format of a bitmap by its first bytes; other packages of a program may
// have readers of their own for the same ones.
func kindOfBitmap(data []byte) string {
	switch {
	case bytes.HasPrefix(data, []byte("\x89PNG")):
		return "PNG"
	case bytes.HasPrefix(data, []byte("GIF8")):
		return "GIF"
	case bytes.HasPrefix(data, []byte("RIFF")):
		return "WebP"
	}
	return "JPEG"
}

// opened decodes a bitmap of a size that is traced.
func opened(data []byte, b *budget.Budget) (image.Image, error) {
	head, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, fault.New("is a bitmap that is damaged or of a kind that is not read. Save it as PNG or JPEG")
	}
	if !fits(head.Width, head.Height) {
		return nil, fault.New("has %d by %d pixels; at most %d megapixels are traced. Make it smaller",
			head.Width, head.Height, MostPixels/1_000_000)
	}
	b.Spend(budget.Bytes, 24*head.Width*head.Height) // what tracing holds of each pixel
	m, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fault.New("is a bitmap that ends early or is damaged. Copy or save it again")
	}
	return m, nil
}

func fits(w, h int) bool {
	return w > 0 && h > 0 && w <= MostSide && h <= MostSide && w*h <= MostPixels
}

// alone traces a picture while no other large one is traced: what they take adds up.
func alone(m image.Image, s Settings, b *budget.Budget) ([]Area, error) {
	n := int64(m.Bounds().Dx() * m.Bounds().Dy())
	if err := room.Acquire(b.Context(), n); err != nil {
		return nil, err
	}
	defer room.Release(n)
	return Trace(m, s, b)
}

// Sheet traces the bytes of a bitmap: each colour becomes a shape.
func Sheet(name string, data []byte, s Settings, b *budget.Budget) (*artwork.Sheet, error) {
	m, err := opened(data, b)
	if err != nil {
		return nil, err
	}
	areas, err := alone(m, s, b)
	if err != nil {
		return nil, err
	}
	if len(areas) == 0 {
		return nil, fault.New("is a bitmap of one plain colour: there is nothing to trace")
	}
	size := m.Bounds().Size()
	out := &artwork.Sheet{
		Name: name, Format: kindOfBitmap(data), Bitmap: true,
		Page: geom.Box{Max: geom.Vec{X: float64(size.X), Y: float64(size.Y)}},
	}
	out.SourceWidth, out.SourceHeight = fmt.Sprint(size.X), fmt.Sprint(size.Y)
	out.SourceUnits = geom.Identity
	out.Note(artwork.NoteTraced, "", size.X, size.Y)
	for i, a := range areas {
		out.Shapes = append(out.Shapes, a.shape(fmt.Sprintf("area%d", i+1), fmt.Sprintf("Area %d", i+1)))
	}
	return out, nil
}

func (a *Area) shape(key, name string) artwork.Shape {
	return artwork.Shape{
		Key: key, Name: name, Group: -1, Color: a.Color, Opacity: 1,
		Contours: a.Contours, Matrix: geom.Identity, EvenOdd: true,
	}
}
