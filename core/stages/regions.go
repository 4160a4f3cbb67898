package stages

import (
	"context"
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// RegionsInput is the sized outlines, the grid, and what becomes of overlaps.
type RegionsInput struct {
	Sized   Made[*Sized]
	Overlap string  // recipe.Cut or recipe.Keep
	Step    float64 // mm per grid unit, see GridStep
}

// Regions is the parts' outlines in mm on the exact grid, the middle of the
// artwork at the origin and y up.
type Regions struct {
	Step          float64 // mm per grid unit
	Width, Height float64 // of all shapes taken in, mm
	PxPerMM       float64 // of the page
	Stretch       float64 // of the height beyond that
	Center        geom.Vec
	Parts         []Outline
}

// Outline is the area of one part.
type Outline struct {
	ID     string
	Color  artwork.Color
	Shapes []int // indices in the sheet
	Region Made[plane.Region]
}

// GridStep returns the power of two, in mm, with which half the size and the
// depth fit 2^24 units: the most that 32-bit floats hold exactly.
func GridStep(half, depth float64) float64 {
	_, exp := math.Frexp(math.Max(half, depth) / (1 << 24))
	return math.Ldexp(1, exp)
}

// Resolve makes the regions of all parts.
var Resolve = Stage[RegionsInput, *Regions]{
	Name: "regions",
	Run:  resolve,
	Size: func(r *Regions) int64 {
		n := int64(256)
		for i := range r.Parts {
			n += 512 + 8*int64(r.Parts[i].Region.Value.Edges())
		}
		return n
	},
	// An arrangement takes some 300 bytes a point.
	Need: func(in RegionsInput) int64 { return 320 * int64(in.Sized.Value.points) },
}

func resolve(ctx context.Context, in RegionsInput) (*Regions, error) {
	s := in.Sized.Value
	out := &Regions{Step: in.Step, Width: s.Width, Height: s.Height, PxPerMM: s.PxPerMM, Stretch: s.Stretch, Center: s.Center}
	out.Parts = make([]Outline, len(s.Chosen.Parts))
	for i, p := range s.Chosen.Parts {
		out.Parts[i] = Outline{ID: p.ID, Color: p.Color}
	}
	layers := s.layers(in.Step)
	for k, i := range s.Chosen.Take {
		part := &out.Parts[s.Chosen.Part[k]]
		part.Shapes = append(part.Shapes, i)
	}
	regions, err := stack(layers, len(out.Parts), in.Overlap, func() bool { return ctx.Err() != nil })
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return nil, problem(Tangled, "The artwork", err)
	}
	kept := out.Parts[:0]
	for i, part := range out.Parts {
		if r := regions[int32(i+1)]; len(r) > 0 {
			part.Region = Made[plane.Region]{regionKey(r, in.Step), r}
			kept = append(kept, part)
		}
	}
	if out.Parts = kept; len(kept) == 0 {
		return nil, problem(NoArea)
	}
	return out, nil
}

// layers returns the shapes on the grid, labelled by the number of their part
// from 1.
func (s *Sized) layers(step float64) []plane.Layer {
	grid := 1 / (s.PxPerMM * step)
	snap := func(outline [][]geom.Vec) []plane.Loop {
		return plane.Snap(outline, func(v geom.Vec) (x, y float64) {
			return (v.X - s.Center.X) * grid, (s.Center.Y - v.Y) * grid * s.Stretch
		})
	}
	areas := map[*artwork.Clip]*plane.Area{}
	out := make([]plane.Layer, len(s.Outlines))
	for k, outline := range s.Outlines {
		sh := &s.Chosen.Sheet.Shapes[s.Chosen.Take[k]]
		out[k] = plane.Layer{
			Label: int32(s.Chosen.Part[k] + 1),
			Rule:  plane.RuleOf(sh.EvenOdd),
			Loops: snap(outline),
		}
		for _, c := range sh.Clips {
			if areas[c] == nil {
				areas[c] = &plane.Area{Outside: c.Outside}
				for _, it := range c.Items {
					fill := plane.AreaFill{
						Loops: snap(it.Outline(s.Tolerance)),
						Rule:  plane.RuleOf(it.EvenOdd),
					}
					areas[c].Fills = append(areas[c].Fills, fill)
				}
			}
			out[k].Clips = append(out[k].Clips, areas[c])
		}
	}
	return out
}

// stack resolves the layers of all parts together, or of each by itself.
func stack(
	layers []plane.Layer,
	parts int,
	overlap string,
	stop func() bool,
) (map[int32]plane.Region, error) {
	if overlap == recipe.Cut {
		return plane.Stack(layers, stop)
	}
	own := make([][]plane.Layer, parts+1)
	for _, l := range layers {
		own[l.Label] = append(own[l.Label], l)
	}
	out := map[int32]plane.Region{}
	for label := int32(1); label <= int32(parts); label++ {
		one, err := plane.Stack(own[label], stop)
		if err != nil {
			return nil, err
		}
		out[label] = one[label]
	}
	return out, nil
}

// regionKey hashes a region's points: a part that another part's change left
// as it was needs nothing new.
func regionKey(r plane.Region, step float64) Key {
	h := sha256.New()
	var b []byte
	b = binary.LittleEndian.AppendUint64(b, math.Float64bits(step))
	r.Loops(func(l plane.Loop) {
		b = binary.LittleEndian.AppendUint32(b, uint32(len(l)))
		for _, p := range l {
			b = binary.LittleEndian.AppendUint32(b, uint32(p.X))
			b = binary.LittleEndian.AppendUint32(b, uint32(p.Y))
		}
		h.Write(b)
		b = b[:0]
	})
	h.Write(b)
	return Key(hex.EncodeToString(h.Sum(nil)[:16]))
}
