package read

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/draw"
	"image/gif"
	"image/jpeg"
	"image/png"
	"math"
	"os"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/trace"
	"bildhauer/core/write"
	"bildhauer/internal/likeness"
)

// block is a picture of a red block on white, 40 by 20 px at (10, 10).
func block(w, h int) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{255, 255, 255, 255}
			if x >= 10 && x < 50 && y >= 10 && y < 30 {
				c = color.RGBA{170, 40, 30, 255}
			}
			m.SetRGBA(x, y, c)
		}
	}
	return m
}

// TestBitmapsAreTraced reads a picture in each format, whatever it is called: one shape of its
// colour, where it was drawn, and said.
func TestBitmapsAreTraced(t *testing.T) {
	m := block(80, 60)
	var asPNG, asJPEG, asGIF bytes.Buffer
	png.Encode(&asPNG, m)
	jpeg.Encode(&asJPEG, m, &jpeg.Options{Quality: 95})
	flat := image.NewPaletted(m.Bounds(), color.Palette{color.White, color.RGBA{170, 40, 30, 255}})
	draw.Draw(flat, m.Bounds(), m, image.Point{}, draw.Src)
	gif.Encode(&asGIF, flat, nil)
	for format, data := range map[string][]byte{"PNG": asPNG.Bytes(), "JPEG": asJPEG.Bytes(), "GIF": asGIF.Bytes()} {
		s, err := Sheet("sign.svg", data)
		if err != nil {
			t.Fatalf("%s: %v", format, err)
		}
		if s.Format != format || !s.Bitmap || len(s.Shapes) != 1 || s.Page.W() != 80 || s.Page.H() != 60 {
			t.Errorf("%s: read as %s, %d shapes on %v", format, s.Format, len(s.Shapes), s.Page)
			continue
		}
		b, c := s.Shapes[0].Box(), s.Shapes[0].Color
		if abs(b.Min.X-10)+abs(b.Min.Y-10)+abs(b.Max.X-50)+abs(b.Max.Y-30) > 0.8 || c.R < 150 || c.G > 70 {
			t.Errorf("%s: a block at %v of %v", format, b, c)
		}
		if len(s.Notes) != 1 || s.Notes[0].Text() != "bitmap of 80 by 60 pixels traced" {
			t.Errorf("%s: notes %v", format, s.Notes)
		}
	}
	// As it is wished, and what can't be.
	with := func(data []byte, s trace.Settings) (int, error) {
		sheet, err := SheetWith(context.Background(), "sign.png", data, Options{Trace: s})
		if err != nil {
			return 0, err
		}
		return len(sheet.Shapes[0].Contours), nil
	}
	if n, err := with(asPNG.Bytes(), trace.Settings{By: trace.ByLight, Light: true}); err != nil || n != 2 {
		t.Errorf("the ground: %d outlines, %v", n, err)
	}
	var plain, wide bytes.Buffer
	png.Encode(&plain, image.NewGray(image.Rect(0, 0, 20, 20)))
	png.Encode(&wide, image.NewGray(image.Rect(0, 0, trace.MostSide+1, 1)))
	for name, c := range map[string]struct {
		data []byte
		want string
	}{
		"one colour": {plain.Bytes(), "of one plain colour"},
		"too wide":   {wide.Bytes(), "at most 8 megapixels are traced"},
		"cut off":    {asPNG.Bytes()[:len(asPNG.Bytes())-30], "ends early or is damaged"},
		"no picture": {[]byte("GIF89a0000"), "damaged or of a kind"},
	} {
		if _, err := with(c.data, trace.Settings{}); err == nil || !strings.HasPrefix(err.Error(), "sign.png ") || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func abs(v float64) float64 { return max(v, -v) }

// TestTracedIcons draws each shape of our own drawings as a picture of 800 pixels and traces it:
// what is found lies within 0.7 px of the outline that was drawn. Needles of script, whose tips
// are narrower than a pixel, are left out: their ends are not in the picture.
func TestTracedIcons(t *testing.T) {
	const side = 800
	n := 0
	for _, name := range []string{"compass-badge.svg", "tide-clock.svg", "gull-crest.eps", "rope-mark.ai"} {
		data, err := os.ReadFile("../../demo/" + name)
		if err != nil {
			t.Fatal(err)
		}
		s, err := Sheet(name, data)
		if err != nil {
			t.Fatal(err)
		}
		shapes := s.Shapes
		k := side / max(s.Page.W(), s.Page.H())
		for i := range shapes {
			if b := shapes[i].Box(); !s.Drawn(i) || b.W()*k < 60 || b.H()*k < 60 {
				continue
			}
			one := shapes[i]
			one.Color, one.Opacity, one.Gradient, one.Bitmap = artwork.Color{}, 1, nil, false
			alone := *s
			alone.Shapes = []artwork.Shape{one}
			m, err := likeness.Draw(&alone, int(s.Page.W()*k), int(s.Page.H()*k))
			if err != nil {
				t.Fatal(err)
			}
			areas, err := budget.Within(context.Background(), func(b *budget.Budget) ([]trace.Area, error) {
				return trace.Trace(m, trace.Settings{By: trace.ByColour}, b)
			})
			if err != nil || len(areas) != 1 {
				t.Errorf("%s, %s: %d areas, %v", name, one.Name, len(areas), err)
				continue
			}
			kx, ky := float64(m.Bounds().Dx())/s.Page.W(), float64(m.Bounds().Dy())/s.Page.H()
			if far, where := departs(t, &one, areas[0].Contours, kx, ky, s.Page.Min); far > 0.7 {
				t.Errorf("%s, %s departs by %.2f px at %.1f", name, one.Name, far, where)
			}
			n++
		}
	}
	if n < 12 {
		t.Errorf("only %d shapes", n)
	}
}

// departs returns how far contours in px are from the outline of a shape.
func departs(t *testing.T, sh *artwork.Shape, contours []geom.Contour, kx, ky float64, from geom.Vec) (far float64, where geom.Vec) {
	t.Helper()
	const grid = 1.0 / 512
	r, err := write.Resolve(sh, 0.02, grid)
	if err != nil {
		t.Fatal(err)
	}
	var edges [][2]geom.Vec
	r.Loops(func(l plane.Loop) {
		at := func(i int) geom.Vec {
			p := l[i%len(l)]
			return geom.Vec{X: (float64(p.X)*grid - from.X) * kx, Y: (float64(p.Y)*grid - from.Y) * ky}
		}
		for i := range l {
			edges = append(edges, [2]geom.Vec{at(i), at(i + 1)})
		}
	})
	for _, c := range contours {
		for _, p := range c.Flatten(0.05, nil) {
			best := math.Inf(1)
			for _, e := range edges {
				best = math.Min(best, geom.ToSegment(p, e[0], e[1]))
			}
			if best > far {
				far, where = best, p
			}
		}
	}
	return far, where
}
