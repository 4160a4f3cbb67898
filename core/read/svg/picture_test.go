package svg

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"strings"
	"testing"

	"bildhauer/core/geom"
)

// TestAFileOfOneBitmapIsTraced reads drawings that hold nothing but a picture: it is traced where
// it is drawn, in its own ratio. With a shape beside it, or a second picture, it is not.
func TestAFileOfOneBitmapIsTraced(t *testing.T) {
	m := image.NewGray(image.Rect(0, 0, 40, 20))
	for y := range 20 {
		for x := range 40 {
			m.SetGray(x, y, color.Gray{255})
			if x >= 10 && x < 30 && y >= 5 && y < 15 {
				m.SetGray(x, y, color.Gray{0})
			}
		}
	}
	var b bytes.Buffer
	png.Encode(&b, m)
	img := func(attrs string) string {
		return fmt.Sprintf(`<image %s href="data:image/png;base64,%s"/>`, attrs, base64.StdEncoding.EncodeToString(b.Bytes()))
	}
	for name, c := range map[string]struct {
		body string
		want geom.Box // of the one shape
		note string
	}{
		"as large as it is": {img(""), box(10, 5, 30, 15), "bitmap of 40 by 20 pixels traced"},
		"larger":            {img(`x="10" width="80" height="40"`), box(30, 10, 70, 30), "bitmap of 40 by 20 pixels traced"},
		"in its ratio":      {img(`width="80" height="80"`), box(20, 30, 60, 50), "bitmap of 40 by 20 pixels traced"},
		"beside a shape":    {img(`width="80" height="40"`) + `<rect x="90" width="9" height="9"/>`, box(90, 0, 99, 9), "bitmap"},
	} {
		s, err := read(c.body)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var found []geom.Box
		for i := range s.Shapes {
			if !s.Shapes[i].Bitmap {
				found = append(found, s.Shapes[i].Box())
			}
		}
		if len(found) != 1 || found[0].Min.Sub(c.want.Min).Len() > 0.7 || found[0].Max.Sub(c.want.Max).Len() > 0.7 {
			t.Errorf("%s: %v, want %v", name, found, c.want)
		}
		if len(s.Notes) != 1 || s.Notes[0].Text() != c.note {
			t.Errorf("%s: notes %v", name, s.Notes)
		}
	}
	for name, body := range map[string]string{"two": img(`width="9" height="9"`) + img(`width="9" height="9"`), "elsewhere": `<image href="a.png" width="9" height="9"/>`} {
		if _, err := read(body); err == nil || !strings.Contains(err.Error(), "holds only bitmaps") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func box(x, y, u, v float64) geom.Box {
	return geom.Box{Min: geom.Vec{X: x, Y: y}, Max: geom.Vec{X: u, Y: v}}
}
