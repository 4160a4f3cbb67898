package stages

import (
	"context"
	"math"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// SizeInput is the shapes that take part and how large they are to be.
type SizeInput struct {
	Chosen    Made[*Chosen]
	By        string  // recipe.Width or recipe.Height
	MM        float64 // that side
	Tolerance float64 // mm
	Between   [2][2]float64
	Stretch   float64 // of the height
}

// Sized is the outlines flattened within the tolerance, in px of the page, and
// the scale to mm.
type Sized struct {
	Width, Height float64 // of all shapes taken in, mm
	PxPerMM       float64 // of the page
	Stretch       float64 // of the height beyond that
	Center        geom.Vec
	Tolerance     float64 // px
	Chosen        *Chosen
	Outlines      [][][]geom.Vec // of each shape taken in
	points        int
}

// MaxPoints bounds the outline points of one piece: a million of them take
// some 850 MB to raise.
const MaxPoints = 6_000_000

// Size brings the artwork to its real size.
var Size = Stage[SizeInput, *Sized]{
	Name: "size",
	Run:  size,
	Size: func(s *Sized) int64 { return 17*int64(s.points) + 64*int64(len(s.Outlines)) },
	Need: func(in SizeInput) int64 { return 64 * int64(len(in.Chosen.Value.Take)) },
}

// span returns the length in px of the page that the size is given for.
func (in *SizeInput) span(b geom.Box) float64 {
	return spanOf(in.By, in.Between, in.Stretch, b)
}

func spanOf(by string, between [2][2]float64, stretch float64, b geom.Box) float64 {
	switch by {
	case recipe.Height:
		return b.H() * stretch
	case recipe.Distance:
		return math.Hypot(between[1][0]-between[0][0], (between[1][1]-between[0][1])*stretch)
	}
	return b.W()
}

func size(ctx context.Context, in SizeInput) (*Sized, error) {
	c := in.Chosen.Value
	box := geom.EmptyBox()
	for _, i := range c.Take {
		box = box.Union(c.Sheet.Shapes[i].Box())
	}
	if !(in.span(box) > 0) || box.Empty() {
		return nil, problem(NoSide, in.By)
	}
	out := &Sized{Chosen: c, Stretch: in.Stretch, Tolerance: in.Tolerance * in.span(box) / in.MM / math.Max(1, in.Stretch)}
	tooMany := problem(TooManyPoints, units.MM(in.Tolerance), units.Count(MaxPoints))
	if c.flatCount(out.Tolerance) > 2*MaxPoints {
		return nil, tooMany
	}
	// Flatten, then measure what is really there.
	out.Outlines = make([][][]geom.Vec, len(c.Take))
	box = geom.EmptyBox()
	clips := clipBoxes{}
	for k, i := range c.Take {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		sh := &c.Sheet.Shapes[i]
		out.Outlines[k] = sh.Outline(out.Tolerance)
		own := geom.EmptyBox()
		for _, l := range out.Outlines[k] {
			out.points += len(l)
			for _, v := range l {
				own = own.Grow(v)
			}
		}
		box = box.Union(clips.cut(own, sh.Clips))
		if out.points > MaxPoints {
			return nil, tooMany
		}
	}
	if !(in.span(box) > 0) {
		return nil, problem(NoArea)
	}
	scale := in.MM / in.span(box)
	out.PxPerMM, out.Center = 1/scale, box.Center()
	out.Width, out.Height = box.W()*scale, box.H()*scale*in.Stretch
	if most := math.Max(out.Width, out.Height); most > terms.Of("width").Max {
		return nil, problem(TooLong, in.By, most/1000)
	}
	return out, nil
}

// flatCount estimates the points of all outlines within tol px.
func (c *Chosen) flatCount(tol float64) int {
	points := 0
	for _, i := range c.Take {
		sh := &c.Sheet.Shapes[i]
		for _, ct := range sh.Contours {
			points += ct.FlatCount(tol / sh.Matrix.MaxScale())
		}
	}
	return points
}

// clipBoxes remembers the boxes of clips, which shapes share.
type clipBoxes map[*artwork.Clip]geom.Box

func (m clipBoxes) cut(b geom.Box, clips []*artwork.Clip) geom.Box {
	for _, c := range clips {
		if c.Outside {
			continue
		}
		own, ok := m[c]
		if !ok {
			own = c.Box()
			m[c] = own
		}
		b = b.Intersect(own)
	}
	return b
}
