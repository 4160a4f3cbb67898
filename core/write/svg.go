package write

import (
	"bufio"
	"context"
	"fmt"
	"html"
	"io"
	"math"
	"strconv"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
)

// CleanSVG resolves every shape of the sheet that take accepts to filled
// outlines without crossings, strokes included, and writes them in the
// artwork's colours and order on its own page. tol is in px of the page.
func CleanSVG(ctx context.Context, w io.Writer, s *artwork.Sheet, take func(i int) bool, tol float64) error {
	return writeShapes(ctx, w, s, take, tol, false)
}

// CurvesSVG does the same, but writes the contours of filled shapes as they are,
// with their curves; strokes and clipped shapes are resolved.
func CurvesSVG(ctx context.Context, w io.Writer, s *artwork.Sheet, take func(i int) bool, tol float64) error {
	return writeShapes(ctx, w, s, take, tol, true)
}

func writeShapes(
	ctx context.Context, w io.Writer, s *artwork.Sheet, take func(i int) bool, tol float64, curves bool,
) error {
	b := bufio.NewWriterSize(w, 1<<16)
	fmt.Fprintf(b, `<svg xmlns="http://www.w3.org/2000/svg"`)
	for _, a := range [...][2]string{{"width", s.SourceWidth}, {"height", s.SourceHeight}, {"viewBox", s.SourceViewBox}, {"preserveAspectRatio", s.SourceAspect}} {
		if a[1] != "" {
			fmt.Fprintf(b, ` %s="%s"`, a[0], html.EscapeString(a[1]))
		}
	}
	b.WriteString(">\n")
	back := s.SourceUnits.Inverse()
	grid := cleanGrid(s)
	number := Fixed(max(0, int(math.Ceil(-math.Log10(grid*back.MaxScale())))))
	place := func(p plane.Point) geom.Vec {
		return back.Apply(geom.Vec{X: float64(p.X) * grid, Y: float64(p.Y) * grid})
	}
	var line []byte
	paint := 0
	var taken []int
	for i := range s.Shapes {
		if take(i) {
			taken = append(taken, i)
		}
	}
	regions, stop := parallel.Ahead(
		len(taken),
		func(k int) (plane.Region, error) { return Resolve(&s.Shapes[taken[k]], tol, grid) },
	)
	defer stop()
	for k, i := range taken {
		sh := &s.Shapes[i]
		r, err := regions(k)
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if err != nil {
			return fmt.Errorf("%s: %w", sh.Name, err)
		}
		if len(r) == 0 {
			continue
		}
		if sh.Gradient != nil {
			paint++
			writeGradient(b, fmt.Sprintf("paint%d", paint), sh, back)
			fmt.Fprintf(b, `<path fill="url(#paint%d)"`, paint)
		} else {
			fmt.Fprintf(b, `<path fill="%s"`, sh.Color.Hex())
		}
		if sh.Gradient == nil && sh.Opacity < 1 {
			fmt.Fprintf(b, ` fill-opacity="%s"`, num(sh.Opacity, 4))
		}
		if curves && sh.Stroke == nil && len(sh.Clips) == 0 {
			if sh.EvenOdd {
				b.WriteString(` fill-rule="evenodd"`)
			}
			line = line[:0]
			for _, c := range sh.Contours {
				line = CurvePath(line, c.Transform(back.Mul(sh.Matrix)), number)
			}
		} else {
			line = RegionPath(line[:0], r, place, number)
		}
		b.WriteString(` d="`)
		b.Write(line)
		b.WriteString("\"/>\n")
	}
	b.WriteString("</svg>\n")
	return b.Flush()
}

// writeGradient writes the gradient of a shape; back maps the page to the
// units of the file.
func writeGradient(b *bufio.Writer, id string, sh *artwork.Shape, back geom.Matrix) {
	g := sh.Gradient
	f := func(v float64) string { return strconv.FormatFloat(v, 'g', 9, 64) }
	m := back.Mul(g.Matrix)
	kind := "linearGradient"
	if g.Radial {
		kind = "radialGradient"
	}
	fmt.Fprintf(
		b,
		`<%s id="%s" gradientUnits="userSpaceOnUse" gradientTransform="matrix(%s %s %s %s %s %s)"`,
		kind,
		id,
		f(m.A),
		f(m.B),
		f(m.C),
		f(m.D),
		f(m.E),
		f(m.F),
	)
	if g.Radial {
		fmt.Fprintf(
			b,
			` cx="%s" cy="%s" r="%s" fx="%s" fy="%s" fr="%s"`,
			f(g.Q.X),
			f(g.Q.Y),
			f(g.R),
			f(g.P.X),
			f(g.P.Y),
			f(g.FR),
		)
	} else {
		fmt.Fprintf(b, ` x1="%s" y1="%s" x2="%s" y2="%s"`, f(g.P.X), f(g.P.Y), f(g.Q.X), f(g.Q.Y))
	}
	if g.Spread == "reflect" || g.Spread == "repeat" {
		fmt.Fprintf(b, ` spreadMethod="%s"`, g.Spread)
	}
	b.WriteString(">")
	for _, s := range g.Stops {
		fmt.Fprintf(b, `<stop offset="%s" stop-color="%s"`, f(s.At), s.Color.Hex())
		if o := s.Opacity * sh.Veil; o < 1 {
			fmt.Fprintf(b, ` stop-opacity="%s"`, f(o))
		}
		b.WriteString("/>")
	}
	fmt.Fprintf(b, "</%s>\n", kind)
}

// Resolve returns the area of one shape, clips applied, on a grid of the given
// step in px, y down as on the page.
func Resolve(sh *artwork.Shape, tol, grid float64) (plane.Region, error) {
	snap := func(outline [][]geom.Vec) []plane.Loop {
		return plane.Snap(outline, func(v geom.Vec) (x, y float64) { return v.X / grid, v.Y / grid })
	}
	layer := plane.Layer{Loops: snap(sh.Outline(tol)), Rule: plane.RuleOf(sh.EvenOdd), Label: 1}
	if len(sh.Clips) == 0 {
		if r, ok := plane.FillSimple(layer.Loops, layer.Rule); ok {
			return r, nil
		}
	}
	for _, c := range sh.Clips {
		a := &plane.Area{Outside: c.Outside}
		for _, it := range c.Items {
			a.Fills = append(
				a.Fills,
				plane.AreaFill{Loops: snap(it.Outline(tol)), Rule: plane.RuleOf(it.EvenOdd)},
			)
		}
		layer.Clips = append(layer.Clips, a)
	}
	r, err := plane.Stack([]plane.Layer{layer}, nil)
	return r[1], err
}

// cleanGrid returns the grid step in px for a sheet.
func cleanGrid(s *artwork.Sheet) float64 {
	box := geom.EmptyBox()
	for i := range s.Shapes {
		box = box.Union(s.Shapes[i].Reach())
	}
	box = box.Union(s.Page)
	far := math.Max(
		math.Max(math.Abs(box.Min.X), math.Abs(box.Max.X)),
		math.Max(math.Abs(box.Min.Y), math.Abs(box.Max.Y)),
	)
	_, exp := math.Frexp(math.Max(far, 1e-6) / (1 << 25))
	return math.Ldexp(1, exp)
}

func num(v float64, digits int) string { return string(Fixed(digits)(nil, v)) }

// Outline is the region of one part on the grid of a piece, y up.
type Outline struct {
	Name   string
	Color  artwork.Color
	Region plane.Region
}

// PartsSVG writes the outlines of a piece's parts at their real size in mm, those of one
// depth in one group. step is that of the grid, width and height those of the piece.
func PartsSVG(w io.Writer, parts []Cut, step plane.Step, width, height float64) error {
	b := bufio.NewWriterSize(w, 1<<16)
	number := Fixed(max(0, int(math.Ceil(-math.Log10(float64(step))))))
	var line []byte
	fmt.Fprintf(
		b,
		`<svg xmlns="http://www.w3.org/2000/svg" width="%smm" height="%smm" viewBox="%s %s %s %s">`+"\n",
		num(width, 4),
		num(height, 4),
		num(-width/2, 6),
		num(-height/2, 6),
		num(width, 6),
		num(height, 6),
	)
	done := map[float64]bool{}
	for _, first := range parts {
		if done[first.Depth] {
			continue
		}
		done[first.Depth] = true
		fmt.Fprintf(b, "<g data-depth=\"%[1]smm\"><title>%[1]s mm deep</title>\n", num(first.Depth, 4))
		for _, p := range parts {
			if p.Depth != first.Depth {
				continue
			}
			fmt.Fprintf(b, `<path fill="%s" d="`, p.Color.Hex())
			line = RegionPath(line[:0], p.Region, Upright(step), number)
			b.Write(line)
			fmt.Fprintf(b, `"><title>%s</title></path>`+"\n", html.EscapeString(p.Name))
		}
		b.WriteString("</g>\n")
	}
	b.WriteString("</svg>\n")
	return b.Flush()
}
