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

// Sheet traces the bytes of a bitmap: each colour becomes a shape.
func Sheet(name string, data []byte, s Settings, b *budget.Budget) (*artwork.Sheet, error) {
	head, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, fault.New("is a bitmap that is damaged or of a kind that is not read. Save it as PNG or JPEG")
	}
	if head.Width > MostSide || head.Height > MostSide || head.Width*head.Height > MostPixels {
		return nil, fault.New("has %d by %d pixels; at most %d megapixels are traced. Make it smaller",
			head.Width, head.Height, MostPixels/1_000_000)
	}
	b.Spend(budget.Bytes, 24*head.Width*head.Height) // what tracing holds of each pixel
	// Large pictures are traced one after the other: what they take adds up.
	if err := room.Acquire(b.Context(), int64(head.Width*head.Height)); err != nil {
		return nil, err
	}
	defer room.Release(int64(head.Width * head.Height))
	m, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, fault.New("is a bitmap that ends early or is damaged. Copy or save it again")
	}
	areas, err := Trace(m, s, b)
	if err != nil {
		return nil, err
	}
	if len(areas) == 0 {
		return nil, fault.New("is a bitmap of one plain colour: there is nothing to trace")
	}
	out := &artwork.Sheet{
		Name: name, Format: kindOfBitmap(data), Bitmap: true,
		Page: geom.Box{Max: geom.Vec{X: float64(head.Width), Y: float64(head.Height)}},
	}
	out.SourceWidth, out.SourceHeight = fmt.Sprint(head.Width), fmt.Sprint(head.Height)
	out.SourceUnits = geom.Identity
	out.Note(artwork.NoteTraced, "", head.Width, head.Height)
	for i, a := range areas {
		key := fmt.Sprintf("area%d", i+1)
		out.Shapes = append(out.Shapes, artwork.Shape{
			Key: key, Name: fmt.Sprintf("Area %d", i+1), Group: -1, Color: a.Color, Opacity: 1,
			Contours: a.Contours, Matrix: geom.Identity, EvenOdd: true,
		})
	}
	return out, nil
}
