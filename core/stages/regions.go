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
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
)

// RegionsInput is the sized outlines, the grid, and what becomes of overlaps.
type RegionsInput struct {
	Sized   Made[*Sized]
	Overlap string     // recipe.Cut or recipe.Keep
	Step    plane.Step // mm per grid unit, see GridStep

	Over      []Lying  // parts that lie on others, which they do not cut
	Behind    []string // parts that nothing cuts
	Clearance float64  // that neighbours leave between them, mm
	Tubes     []TubeRule
	Relief    ReliefRule
}

// Regions is the parts' outlines in mm on the exact grid, the middle of the
// artwork at the origin and y up.
type Regions struct {
	Step          plane.Step // mm per grid unit
	Width, Height float64    // of all shapes taken in, mm
	PxPerMM       float64    // of the page
	Stretch       float64    // of the height beyond that
	Center        geom.Vec
	Parts         []Outline
	Sheet         *artwork.Sheet // that they were made from

	sized Made[*Sized] // lines of tubes that grow are cut from it
}

// Outline is the area of one part.
type Outline struct {
	ID     string
	Color  artwork.Color
	Shapes []int // indices in the sheet
	Region Made[plane.Region]
	Limbs  []Limb // of a tube
	Stands Standing
	// Outlines names the outlines of shapes that the part takes, where it does not take
	// the shapes as wholes.
	Outlines []string
	// Of a relief: whether the part has a level, is made of dark outlines, and lies on which others, by id.
	Levelled, Line bool
	On             []string
}

// GridStep returns the power of two, in mm, with which half the size and the
// depth fit 2^24 units: the most that 32-bit floats hold exactly.
func GridStep(half, depth float64) plane.Step {
	_, exp := math.Frexp(math.Max(half, depth) / (1 << 24))
	return plane.Step(math.Ldexp(1, exp))
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
	out.Sheet, out.sized = s.Chosen.Sheet, in.Sized
	st := stacking{in: &in, parts: s.Chosen.Parts, stop: func() bool { return ctx.Err() != nil }}
	st.tell = func(what string, share float64) { progress.Set(ctx, what, share) }
	layers := s.layers(in.Step, in.Tubes)
	whole, err := st.alone(layers, func(label int32) bool { return s.Chosen.Parts[label-1].Shape != "" })
	if err != nil {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		return nil, problem(Tangled, "The artwork", err)
	}
	a := apart(s.Chosen, layers, whole)
	if st.parts = a.parts; in.Relief.On {
		err = st.levels(a, s.Chosen.Sheet)
		st.parts = a.parts
	}
	if err != nil {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		return nil, problem(Tangled, "The artwork", err)
	}
	regions, err := st.resolve(a.layers)
	if err == nil && in.Clearance > 0 {
		err = st.clear(regions)
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return nil, problem(Tangled, "The artwork", err)
	}
	out.Parts = a.outlines(regions, in.Step)
	ids := make([]string, len(out.Parts))
	for i := range out.Parts {
		ids[i] = out.Parts[i].ID
	}
	sorted := make([]Outline, 0, len(out.Parts))
	for _, i := range (&recipe.Parts{Order: s.Chosen.order}).Sorted(ids) {
		sorted = append(sorted, out.Parts[i])
	}
	if out.Parts = sorted; len(out.Parts) == 0 {
		return nil, problem(NoArea)
	}
	if err := standings(out.Parts, in.Over, st.stop); err != nil {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		return nil, problem(Tangled, "What rests on another part", err)
	}
	for _, rule := range in.Tubes {
		for i := range out.Parts {
			if o := &out.Parts[i]; o.ID == rule.ID {
				if o.Limbs, err = s.limbsOf(rule, o.Shapes, in.Step, 1); err != nil {
					return nil, problem(Tangled, "The strokes of a tube", err)
				}
			}
		}
	}
	return out, nil
}

// snap brings an outline on the page to the grid.
func (s *Sized) snap(outline [][]geom.Vec, step plane.Step) []plane.Loop {
	grid := 1 / (s.PxPerMM * float64(step))
	return plane.Snap(outline, func(v geom.Vec) (x, y float64) {
		return (v.X - s.Center.X) * grid, (s.Center.Y - v.Y) * grid * s.Stretch
	})
}

// layers returns the shapes on the grid, labelled by the number of their part
// from 1; those of tubes as wide as these are.
func (s *Sized) layers(step plane.Step, tubes []TubeRule) []plane.Layer {
	snap := func(outline [][]geom.Vec) []plane.Loop { return s.snap(outline, step) }
	rules := map[string]TubeRule{}
	for _, t := range tubes {
		rules[t.ID] = t
	}
	areas := map[*artwork.Clip]*plane.Area{}
	out := make([]plane.Layer, len(s.Outlines))
	for k, outline := range s.Outlines {
		sh := &s.Chosen.Sheet.Shapes[s.Chosen.Take[k]]
		evenOdd := sh.EvenOdd
		if rule, ok := rules[s.Chosen.Parts[s.Chosen.Part[k]].ID]; ok {
			if drawn, is := tubed(sh, rule, s.PxPerMM); is {
				outline, evenOdd = drawn.Outline(s.Tolerance), false
			}
		}
		out[k] = plane.Layer{
			Label: int32(s.Chosen.Part[k] + 1),
			Rule:  plane.RuleOf(evenOdd),
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

// regionKey hashes a region's points: a part that another part's change left
// as it was needs nothing new.
func regionKey(r plane.Region, step plane.Step) Key {
	h := sha256.New()
	var b []byte
	b = binary.LittleEndian.AppendUint64(b, math.Float64bits(float64(step)))
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
