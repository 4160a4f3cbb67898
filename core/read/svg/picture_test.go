package svg

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/trace"
	"bildhauer/internal/likeness"
)

// TestBitmapsInsideAreTraced reads drawings with pictures: they are traced where they are drawn,
// in their own ratio, if that is asked for; else they are counted.
func TestBitmapsInsideAreTraced(t *testing.T) {
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
		"cut to its place":  {img(`width="20" height="20" preserveAspectRatio="xMidYMid slice"`), box(0, 5, 20, 15), "bitmap of 40 by 20 pixels traced"},
		"turned":            {img(`transform="rotate(90)" y="-20"`), box(5, 10, 15, 30), "bitmap of 40 by 20 pixels traced"},
		"beside a shape":    {img(`width="80" height="40"`) + `<rect x="90" width="9" height="9"/>`, box(90, 0, 99, 9), "bitmap"},
	} {
		s, err := readBy(c.body, trace.Settings{Pictures: c.note != "bitmap"})
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
		if s.Pictures != 1 {
			t.Errorf("%s: %d pictures", name, s.Pictures)
		}
		if len(s.Notes) != 1 || s.Notes[0].Text() != c.note {
			t.Errorf("%s: notes %v", name, s.Notes)
		}
	}
	for name, body := range map[string]string{"holds only bitmaps (2)": img(`width="9" height="9"`) + img(`width="9" height="9"`), "in other files (a.png)": `<image href="../b/a.png" width="9" height="9"/>`} {
		if _, err := read(body); err == nil || !strings.Contains(err.Error(), name) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func box(x, y, u, v float64) geom.Box {
	return geom.Box{Min: geom.Vec{X: x, Y: y}, Max: geom.Vec{X: u, Y: v}}
}

func readBy(body string, how trace.Settings) (*artwork.Sheet, error) {
	doc := `<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">` + body + `</svg>`
	return budget.Within(context.Background(), func(b *budget.Budget) (*artwork.Sheet, error) {
		return Read("drawing.svg", []byte(doc), nil, how, b)
	})
}

// TestDrawingsInAddresses reads SVG that stands in the address of an image or a copy: it becomes
// part of the drawing, and nothing of it is lost.
func TestDrawingsInAddresses(t *testing.T) {
	in := func(doc string) string {
		return "data:image/svg+xml;base64," + base64.StdEncoding.EncodeToString([]byte(`<svg xmlns="http://www.w3.org/2000/svg" `+doc+`</svg>`))
	}
	for name, c := range map[string]struct{ body, want string }{
		"an image": {`<image x="10" y="20" width="40" height="20" href="` + in(`width="4" height="2"><rect id="a" width="1" height="1"/>`) + `"/>`,
			"fill #000000 10,20 20,30"},
		"an image without a size": {`<image x="10" href="` + in(`width="4" height="2"><rect width="1" height="1" fill="red"/>`) + `"/>`,
			"fill #ff0000 10,0 11,1"},
		"an image with styles of its own": {`<style>rect{fill:red}</style><image width="8" height="8" href="` +
			in(`viewBox="0 0 4 4"><style>rect{fill:#00ff00}</style><rect width="1" height="1"/>`) + `"/>`, "fill #00ff00 0,0 2,2"},
		"a copy": {`<use x="5" href="` + in(`width="9" height="9"><g id="a"><rect width="1" height="1"/></g><rect width="9" height="9"/>`) + `#a"/>`,
			"fill #000000 5,0 6,1 in a"},
		"a copy of what is not there": {`<rect width="2" height="2"/><use href="` + in(`width="9" height="9">`) + `#b"/>`,
			"fill #000000 0,0 2,2; left out: copy of an object that is missing or holds the copy itself (<use>)"},
		"an image within an image": {`<image width="8" height="8" href="` + in(`viewBox="0 0 4 4"><image width="4" height="4" href="`+
			in(`viewBox="0 0 2 2"><rect width="1" height="1"/>`)+`"/>`) + `"/>`, "fill #000000 0,0 4,4"},
		"no drawing at all": {`<rect width="2" height="2"/><image id="i" width="8" height="8" href="data:image/svg+xml,%3Csvg"/>`,
			"fill #000000 0,0 2,2; left out: embedded foreign content (i)"},
		"a copy from a file": {`<rect width="2" height="2"/><use id="u" href="parts/badge.svg#star"/>`,
			"fill #000000 0,0 2,2; left out: copy of something in another file (badge.svg) (u)"},
	} {
		s, err := read(c.body)
		if err != nil {
			t.Errorf("%s: %v", name, err)
		} else if got := likeness.Words(s, 1); got != c.want {
			t.Errorf("%s:\ngot  %s\nwant %s", name, got, c.want)
		}
	}
}
