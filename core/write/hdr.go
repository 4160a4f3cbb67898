package write

import (
	"fmt"
	"image"
	"io"

	"github.com/mdouchement/hdr"
	"github.com/mdouchement/hdr/codec/rgbe"
	"github.com/mdouchement/hdr/hdrcolor"
)

// HDR writes linear light as a Radiance picture. at returns the light of a pixel, rows from
// the top. There is no alpha in it.
func HDR(w io.Writer, wide, high int, at func(i int) [3]float64) error {
	img := hdr.NewRGB(image.Rect(0, 0, wide, high))
	for i := range wide * high {
		c := at(i)
		img.SetRGB(i%wide, i/wide, hdrcolor.RGB{R: c[0], G: c[1], B: c[2]})
	}
	if err := rgbe.Encode(w, img); err != nil {
		return fmt.Errorf("the HDR picture could not be written: %w", err)
	}
	return nil
}
