package recipe

import (
	"context"
	"fmt"
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
)

// Prepared is the artwork brought to its size and divided into parts, in mm
// on the exact grid, the middle of the artwork at the origin and y up.
type Prepared struct {
	Step          float64 // mm per grid unit
	Width, Height float64 // of all shapes taken in, mm
	PxPerMM       float64 // of the page
	Center        geom.Vec
	Parts         []Part2D
}

// Part2D is the outline of one part.
type Part2D struct {
	ID     string // the colour as #rrggbb
	Color  artwork.Color
	Name   string
	Region plane.Region
	Shapes []int // indices in the sheet
}

// Error is a problem with the artwork that its owner can solve.
type Error struct{ Text string }

func (e *Error) Error() string { return e.Text }

// Included reports whether shape i takes part: by choice, or by the rule that
// hidden shapes and those off the page start left out.
func (r *Recipe) Included(s *artwork.Sheet, i int) bool {
	if c, ok := r.Choice[s.Shapes[i].Key]; ok {
		return c
	}
	return !s.Shapes[i].Hidden && !s.OffPage(i)
}

// Apply prepares the parts of a sheet: one for each colour, in the order in
// which they are painted first.
func Apply(ctx context.Context, s *artwork.Sheet, r *Recipe) (*Prepared, error) {
	s = r.Edited(s)
	var take []int
	box := geom.EmptyBox()
	for i := range s.Shapes {
		if r.Included(s, i) {
			take = append(take, i)
			box = box.Union(s.Shapes[i].Box())
		}
	}
	if len(take) == 0 {
		return nil, &Error{"Every shape is left out. Take at least one in."}
	}
	side := func(b geom.Box) float64 {
		if r.Size.By == "height" {
			return b.H()
		}
		return b.W()
	}
	if !(side(box) > 0) {
		return nil, &Error{fmt.Sprintf("The artwork has no %s to scale by. Take in a shape that has one, or size it by the other side.", r.Size.By)}
	}
	pxTol := r.Tolerance * side(box) / r.Size.MM
	points := 0
	for _, i := range take {
		sh := &s.Shapes[i]
		for _, c := range sh.Contours {
			points += c.FlatCount(pxTol / sh.Matrix.MaxScale())
		}
	}
	tooMany := func() error {
		return &Error{fmt.Sprintf("At a tolerance of %g mm the outlines would have more than %d points. Raise the tolerance, or make the piece smaller.", r.Tolerance, maxPoints)}
	}
	if points > 2*maxPoints {
		return nil, tooMany()
	}
	// Flatten, then measure what is really there.
	outlines := make([][][]geom.Vec, len(take))
	box = geom.EmptyBox()
	points = 0
	for k, i := range take {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		outlines[k] = s.Shapes[i].Outline(pxTol)
		own := geom.EmptyBox()
		for _, l := range outlines[k] {
			points += len(l)
			for _, v := range l {
				own = own.Grow(v)
			}
		}
		for _, c := range s.Shapes[i].Clips {
			if !c.Outside {
				own = own.Intersect(c.Box())
			}
		}
		box = box.Union(own)
		if points > maxPoints {
			return nil, tooMany()
		}
	}
	if !(side(box) > 0) {
		return nil, &Error{"The artwork encloses no area."}
	}
	scale := r.Size.MM / side(box)
	p := &Prepared{PxPerMM: 1 / scale, Center: box.Center(), Width: box.W() * scale, Height: box.H() * scale}
	if most := math.Max(p.Width, p.Height); most > MaxSize {
		return nil, &Error{fmt.Sprintf("At this %s the other side would be %.0f m long.", r.Size.By, most/1000)}
	}
	p.Step = GridStep(math.Max(p.Width, p.Height)/2, r.deepest())
	grid := scale / p.Step
	snap := func(outline [][]geom.Vec) []plane.Loop {
		loops := make([]plane.Loop, len(outline))
		for k, l := range outline {
			loops[k] = make(plane.Loop, len(l))
			for j, v := range l {
				loops[k][j] = plane.Point{X: clampGrid((v.X - p.Center.X) * grid), Y: clampGrid((p.Center.Y - v.Y) * grid)}
			}
		}
		return loops
	}
	areas := map[*artwork.Clip]*plane.Area{}
	byColor := map[artwork.Color]int32{}
	layers := make([]plane.Layer, 0, len(take))
	for k, i := range take {
		sh := &s.Shapes[i]
		label, ok := byColor[sh.Color]
		if !ok {
			label = int32(len(p.Parts) + 1)
			byColor[sh.Color] = label
			id := sh.Color.Hex()
			p.Parts = append(p.Parts, Part2D{ID: id, Color: sh.Color, Name: r.Of(id).Name})
		}
		part := &p.Parts[label-1]
		part.Shapes = append(part.Shapes, i)
		layer := plane.Layer{Label: label}
		if sh.EvenOdd {
			layer.Rule = plane.EvenOdd
		}
		layer.Loops = snap(outlines[k])
		for _, c := range sh.Clips {
			if areas[c] == nil {
				areas[c] = &plane.Area{Outside: c.Outside}
				for _, it := range c.Items {
					f := plane.AreaFill{Loops: snap(it.Outline(pxTol))}
					if it.EvenOdd {
						f.Rule = plane.EvenOdd
					}
					areas[c].Fills = append(areas[c].Fills, f)
				}
			}
			layer.Clips = append(layer.Clips, areas[c])
		}
		outlines[k] = nil
		layers = append(layers, layer)
	}
	if err := p.resolve(ctx, layers, r.Overlap); err != nil {
		return nil, err
	}
	names := map[string]int{}
	for i := range p.Parts {
		if part := &p.Parts[i]; part.Name == "" {
			part.Name = part.Color.Words()
			if names[part.Name]++; names[part.Name] > 1 {
				part.Name = fmt.Sprintf("%s %d", part.Name, names[part.Name])
			}
		}
	}
	return p, nil
}

// clampGrid rounds to the grid; what lies far beyond the piece (parts that a
// clip cuts away) moves to its bounds.
func clampGrid(v float64) int32 {
	return int32(math.Round(math.Max(-plane.MaxCoord, math.Min(plane.MaxCoord, v))))
}

// maxPoints bounds the outline points of one piece.
const maxPoints = 6_000_000

// GridStep returns the power of two, in mm, with which half the size and the
// depth fit 2^24 units.
func GridStep(half, depth float64) float64 {
	_, exp := math.Frexp(math.Max(half, depth) / (1 << 24))
	return math.Ldexp(1, exp)
}

func (p *Prepared) resolve(ctx context.Context, layers []plane.Layer, overlap string) error {
	var regions map[int32]plane.Region
	var err error
	stop := func() bool { return ctx.Err() != nil }
	if overlap == "cut" {
		regions, err = plane.Stack(layers, stop)
	} else {
		regions = map[int32]plane.Region{}
		for label := range int32(len(p.Parts)) {
			var own []plane.Layer
			for _, l := range layers {
				if l.Label == label+1 {
					own = append(own, l)
				}
			}
			var one map[int32]plane.Region
			if one, err = plane.Stack(own, stop); err != nil {
				break
			}
			regions[label+1] = one[label+1]
		}
	}
	if err != nil && ctx.Err() != nil {
		return ctx.Err()
	}
	if err != nil {
		return &Error{"The artwork's outlines can't be resolved: " + err.Error() + "."}
	}
	kept := p.Parts[:0]
	for i, part := range p.Parts {
		if part.Region = regions[int32(i+1)]; len(part.Region) > 0 {
			kept = append(kept, part)
		}
	}
	p.Parts = kept
	if len(kept) == 0 {
		return &Error{"The artwork encloses no area."}
	}
	return ctx.Err()
}

// Raise plans a part and lifts it.
func (p *Prepared) Raise(ctx context.Context, part *Part2D, how Part) (*raise.Plan, *mesh.Mesh, error) {
	plan, err := raise.NewPlan(ctx, part.Region, how.Bevel(), p.Step)
	if err != nil {
		return nil, nil, err
	}
	return plan, plan.Solid(how.Spec(), p.Step), nil
}
