package stages

import (
	"context"
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/print"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

// BeddingInput is solids and how they will lie on a bed.
type BeddingInput struct {
	Solids           []Made[*Solid]
	Owners           [][]LayersOwner // of each solid, by Mesh.Part
	Pose             recipe.Size     // how they lie; no more of it
	Roll, Tilt, Turn float64         // by which it is then turned in its plane, leans back, and is turned on the bed, degrees
}

// LayersOwner is a part whose faces a solid has.
type LayersOwner struct{ Name, Color string }

// Bedded is a piece as it lies on a bed.
type Bedded struct {
	Mesh *mesh.Mesh  // all solids
	Inks []print.Ink // of its parts

	pose             mesh.Pose // how it lies
	roll, tilt, turn float64
}

// Flat returns where a place of the layers (mm above the bed and from the middle of the
// grid) is in the drawing, mm from the middle of the artwork, y up.
func (l *Bedded) Flat(at [3]float64) [2]float64 {
	lo, _ := l.Mesh.Box()
	at[2] += lo[2]
	at = mesh.RotateBack(at, l.tilt, l.turn)
	at = mesh.RotateBack(at, 0, l.roll)
	var out [3]float64
	for k := range 3 {
		c := at[k] - float64(l.pose.Move[k])*l.Mesh.Step
		if l.pose.Minus[k] {
			c = -c
		}
		out[l.pose.From[k]] = c
	}
	return [2]float64{out[0], out[1]}
}

// Bedding lays solids on a bed.
var Bedding = Stage[BeddingInput, *Bedded]{
	Name: "bedding",
	Run:  lain,
	Size: func(l *Bedded) int64 { return l.Mesh.Bytes() },
	Need: func(in BeddingInput) (n int64) {
		for _, s := range in.Solids {
			n += 2 * s.Value.Mesh.Bytes()
		}
		return n
	},
}

func lain(ctx context.Context, in BeddingInput) (*Bedded, error) {
	progress.Set(ctx, "Laying it on the bed", 0)
	var parts []write.Part
	for _, s := range in.Solids {
		parts = append(parts, write.Part{Mesh: s.Value.Mesh})
	}
	whole := &mesh.Mesh{}
	var inks []print.Ink
	for i, p := range Place(parts, &in.Pose, false) {
		progress.Needed(ctx)
		if in.Tilt != 0 {
			inks = nil // steps in height are none any more
		} else {
			inks = append(inks, inksOf(p.Mesh, in.Owners[i])...)
		}
		n := int32(len(whole.Verts))
		whole.Step = p.Mesh.Step
		whole.Verts = append(whole.Verts, p.Mesh.Verts...)
		for _, t := range p.Mesh.Tris {
			whole.Tris = append(whole.Tris, [3]int32{t[0] + n, t[1] + n, t[2] + n})
		}
	}
	if in.Roll != 0 {
		whole = mesh.Rotated(whole, 0, in.Roll)
	}
	if in.Tilt != 0 || in.Turn != 0 {
		whole = mesh.Rotated(whole, in.Tilt, in.Turn)
	}
	whole.Group = make([]mesh.Group, len(whole.Tris))
	lo, _ := whole.Box()
	for i := range inks {
		inks[i].Lo, inks[i].Hi = inks[i].Lo-lo[2], inks[i].Hi-lo[2]
	}
	pose, _ := placing(parts, &in.Pose, false)
	return &Bedded{whole, inks, pose, in.Roll, in.Tilt, in.Turn}, ctx.Err()
}

// LayersInput is a piece as it lies, and how thick layers are.
type LayersInput struct {
	Bedded        Made[*Bedded]
	First, Height float64 // of layers, mm
}

// Layered is a piece cut into layers.
type Layered struct {
	*Bedded
	Layers []print.Layer
}

// Layers cuts solids into layers.
var Layers = Stage[LayersInput, *Layered]{
	Name: "layers",
	Run: func(ctx context.Context, in LayersInput) (*Layered, error) {
		progress.Set(ctx, "Cutting it into layers", 0)
		l := in.Bedded.Value
		layers, err := print.Slice(ctx, l.Mesh, in.First, in.Height)
		return &Layered{l, layers}, err
	},
	Size: func(l *Layered) (n int64) {
		for i := range l.Layers {
			n += 64 + 8*int64(l.Layers[i].Area.Edges())
		}
		return n
	},
	// What crosses each plane.
	Need: func(in LayersInput) int64 { return in.Bedded.Value.Mesh.Bytes() },
}

// StandsInput is a piece as it lies by itself, and the machine.
type StandsInput struct {
	Bedded Made[*Bedded]
	Setup  print.Setup
}

// Stands compares how a piece can stand on the bed.
var Stands = Stage[StandsInput, []print.Stand]{
	Name: "stands",
	Run: func(ctx context.Context, in StandsInput) ([]print.Stand, error) {
		progress.Set(ctx, "Comparing how it can stand", 0)
		return print.Stands(ctx, in.Bedded.Value.Mesh, &in.Setup)
	},
	Size: func(list []print.Stand) int64 { return 256 * int64(1+len(list)) },
	Need: func(in StandsInput) int64 { return 3 * in.Bedded.Value.Mesh.Bytes() },
}

// inksOf returns the parts of a solid with the heights of their faces.
func inksOf(m *mesh.Mesh, owners []LayersOwner) []print.Ink {
	out := make([]print.Ink, len(owners))
	for i, o := range owners {
		out[i] = print.Ink{Name: o.Name, Color: o.Color, Lo: math.Inf(1), Hi: math.Inf(-1)}
	}
	for k, t := range m.Tris {
		n := 0
		if m.Part != nil {
			n = int(m.Part[k])
		}
		for _, v := range t {
			z := float64(m.Verts[v][2]) * m.Step
			out[n].Lo, out[n].Hi = math.Min(out[n].Lo, z), math.Max(out[n].Hi, z)
		}
	}
	return out
}

// PrintInput is a piece in layers, and the machine.
type PrintInput struct {
	Layered Made[*Layered]
	Setup   print.Setup
}

// Print examines a piece as a printer would.
var Print = Stage[PrintInput, print.Report]{
	Name: "print",
	Run: func(ctx context.Context, in PrintInput) (print.Report, error) {
		l := in.Layered.Value
		r, err := print.Look(ctx, l.Mesh, l.Layers, &in.Setup)
		r.Changes = print.Changes(l.Layers, l.Inks)
		return r, err
	},
	Size: func(r print.Report) int64 { return 256 + 256*int64(len(r.Findings)) },
}

// RehearsalInput is a piece in layers, what it is called, and how it is laid.
type RehearsalInput struct {
	Layered Made[*Layered]
	Name    string
	Setup   print.Setup
}

// Rehearsal lays a piece out as a printer would: paths, times, the whole job.
var Rehearsal = Stage[RehearsalInput, *print.Job]{
	Name: "rehearsal",
	Run: func(ctx context.Context, in RehearsalInput) (*print.Job, error) {
		progress.Set(ctx, "Laying out the print", 0)
		l := in.Layered.Value
		lo, hi := l.Mesh.Box()
		middle := [2]float64{(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2}
		layers, err := print.Fitted(ctx, l.Layers, l.Mesh.Step, &in.Setup)
		if err != nil {
			return nil, err
		}
		laid, err := print.Lay(ctx, layers, l.Mesh.Step, middle, &in.Setup)
		if err != nil {
			return nil, err
		}
		return print.NewJob(in.Name, layers, laid, l.Mesh.Step, lo, hi, print.Changes(l.Layers, l.Inks), in.Setup)
	},
	Size: func(j *print.Job) int64 { return j.Bytes() },
	Need: func(in RehearsalInput) int64 { return 64 * in.Layered.Value.Mesh.Bytes() / 10 },
}

// SetupOf is the machine and the material that a recipe names.
func SetupOf(p *recipe.Print) print.Setup {
	s := print.Usual()
	s.Bed, s.Material, s.Price = print.Beds[p.Bed], print.Materials[p.Material], p.Price
	s.Nozzle, s.Layer, s.First = p.Nozzle, p.Layer, p.First
	s.Copies, s.Gap = p.Copies, p.Gap
	s.Perimeters, s.Floors, s.Infill, s.Density = p.Perimeters, p.Floors, p.Infill, p.Density
	s.Skirt, s.Seam = p.Skirt, p.Seam
	s.Overlap, s.Outline, s.Holes, s.Foot = p.Overlap, p.Outline, p.Holes, p.Foot
	s.Speeds = print.Speeds{Outer: p.OuterSpeed, Inner: p.InnerSpeed, Fill: p.FillSpeed, Travel: p.TravelSpeed, First: p.FirstSpeed}
	return s
}
