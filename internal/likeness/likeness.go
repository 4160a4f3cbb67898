// Package likeness compares pictures, and draws sheets without any renderer's
// help, for tests of the readers.
package likeness

import (
	"image"
	"image/color"
	"image/draw"
	"math"

	"golang.org/x/image/vector"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/write"
)

// Differing returns the share of the inked pixels of either picture for which
// the other has nothing alike within a pixel. Renderers disagree by that much
// on edges: some paint every pixel that a shape touches.
func Differing(a, b image.Image) float64 {
	w, h := min(a.Bounds().Dx(), b.Bounds().Dx()), min(a.Bounds().Dy(), b.Bounds().Dy())
	type px struct {
		c   [3]int32 // on white
		ink bool
	}
	load := func(m image.Image) []px {
		out := make([]px, w*h)
		for y := range h {
			for x := range w {
				r, g, b, a := m.At(x, y).RGBA()
				white := int32(0xffff - a) // colours come premultiplied
				out[y*w+x] = px{[3]int32{int32(r) + white, int32(g) + white, int32(b) + white}, a != 0}
			}
		}
		return out
	}
	p, q := load(a), load(b)
	far := func(u, v px) bool {
		for i := range u.c {
			if d := u.c[i] - v.c[i]; d > 0x4000 || d < -0x4000 {
				return true
			}
		}
		return false
	}
	alone := func(p, q []px, x, y int) bool {
		for v := max(0, y-1); v <= min(h-1, y+1); v++ {
			for u := max(0, x-1); u <= min(w-1, x+1); u++ {
				if !far(p[y*w+x], q[v*w+u]) {
					return false
				}
			}
		}
		return true
	}
	inked, off := 0, 0
	for y := range h {
		for x := range w {
			i := y*w + x
			if !p[i].ink && !q[i].ink {
				continue
			}
			inked++
			if far(p[i], q[i]) && (alone(p, q, x, y) || alone(q, p, x, y)) {
				off++
			}
		}
	}
	return float64(off) / float64(max(1, inked))
}

// Draw paints the resolved shapes of a sheet that are not hidden on a picture
// of its page, w by h.
func Draw(s *artwork.Sheet, w, h int) (image.Image, error) {
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	kx, ky := float64(w)/s.Page.W(), float64(h)/s.Page.H()
	tol := 0.1 / math.Max(kx, ky)
	const grid = 1.0 / 512
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		if sh.Hidden {
			continue
		}
		r, err := write.Resolve(sh, tol, grid)
		if err != nil {
			return nil, err
		}
		z := vector.NewRasterizer(w, h)
		r.Loops(func(l plane.Loop) {
			for k, p := range l {
				x, y := float32(
					(float64(p.X)*grid-s.Page.Min.X)*kx,
				), float32(
					(float64(p.Y)*grid-s.Page.Min.Y)*ky,
				)
				if k == 0 {
					z.MoveTo(x, y)
				} else {
					z.LineTo(x, y)
				}
			}
			z.ClosePath()
		})
		z.DrawOp = draw.Over
		if sh.Gradient == nil {
			z.Draw(out, out.Bounds(), image.NewUniform(shade(sh.Color, sh.Opacity)), image.Point{})
			continue
		}
		z.Draw(out, out.Bounds(), &gradient{sh, s.Page, kx, ky, out.Bounds()}, image.Point{})
	}
	return out, nil
}

func shade(c artwork.Color, opacity float64) color.Color {
	return color.NRGBA{c.R, c.G, c.B, uint8(math.Round(255 * opacity))}
}

// gradient is a picture of a gradient on the page.
type gradient struct {
	sh     *artwork.Shape
	page   geom.Box
	kx, ky float64
	bounds image.Rectangle
}

func (g *gradient) ColorModel() color.Model { return color.NRGBAModel }
func (g *gradient) Bounds() image.Rectangle { return g.bounds }
func (g *gradient) At(x, y int) color.Color {
	c, a := g.sh.Gradient.At(
		geom.Vec{X: g.page.Min.X + (float64(x)+0.5)/g.kx, Y: g.page.Min.Y + (float64(y)+0.5)/g.ky},
	)
	return shade(c, a*g.sh.Veil)
}
