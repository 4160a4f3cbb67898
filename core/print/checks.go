package print

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/units"
)

// Report is what is to be known before a solid is printed.
type Report struct {
	Size     [3]float64 `json:"size"` // mm
	Layers   int        `json:"layers"`
	Volume   float64    `json:"volume"`   // mm3
	Mass     float64    `json:"mass"`     // g, if all is filled
	Length   float64    `json:"length"`   // of filament then, m
	Cost     float64    `json:"cost"`     // by Setup.Price
	Contact  float64    `json:"contact"`  // of the first layer with the bed, mm2
	Overhang float64    `json:"overhang"` // of faces that hang over, seen from below, mm2
	Findings []Finding  `json:"findings"`
	Changes  []Change   `json:"changes"` // of the filament, see Changes
}

// Finding is something that will trouble the printer.
type Finding struct {
	Kind    string     `json:"kind"`    // one of Kinds
	Measure float64    `json:"measure"` // the figure of the text: mm, mm2 or degrees
	Text    string     `json:"text"`    // a sentence with its measure
	Way     string     `json:"way"`     // what to do about it
	Layer   int        `json:"layer"`   // in which it is seen, from 1; 0 for the whole
	At      [3]float64 `json:"at"`      // a place of it, mm above the bed and from the middle of the mesh's grid
	Mend    string     `json:"mend"`    // what Mend calls it, where it can be mended there; and
	Limit   float64    `json:"limit"`   // from which figure on it must look for it, mm or degrees
}

// The kinds of finding.
const (
	TooLarge = "too large"
	Loose    = "loose"
	Tips     = "falls over"
	Hangs    = "overhang"
	Island   = "island"
	Wall     = "thin wall"
	Gap      = "narrow gap"
	Hole     = "small hole"
	Curls    = "curls"
)

// Kinds lists all.
var Kinds = []string{TooLarge, Loose, Tips, Hangs, Island, Wall, Gap, Hole, Curls}

// What is said about: a footing smaller than this lets go (mm2 for each mm of height), and an
// overhang smaller than this closes by itself (mm2: a line as wide as a nozzle and 10 mm long).
const (
	footing  = 0.5
	smallest = 4.0
)

// Look examines a sound solid as it will lie, and its layers, which Slice makes.
func Look(ctx context.Context, m *mesh.Mesh, layers []Layer, s *Setup) (Report, error) {
	lo, hi := m.Box()
	r := Report{Layers: len(layers), Findings: []Finding{}}
	for k := range r.Size {
		r.Size[k] = hi[k] - lo[k]
	}
	r.Volume = mesh.CheckWithin(ctx, m, false).VolumeMM3
	r.Mass = r.Volume / 1000 * s.Material.Density
	r.Length = r.Volume / (math.Pi / 4 * s.Filament * s.Filament) / 1000
	r.Cost = r.Mass / 1000 * s.Price
	err := Fits(r.Size, s)
	if err == nil { // and with all its copies?
		_, err = Pack(layers, m.Step, lo, hi, s)
	}
	if err != nil {
		r.Findings = TooBig(r.Size, err).Findings
	}
	under := undersides(m, lo[2], s.Steep)
	if err := under.ledges(m); err != nil {
		return r, err
	}
	for _, f := range under.feet {
		r.Contact += f.area
	}
	r.Overhang = under.over
	bodies, starts, err := bodiesOf(ctx, m.Step, layers)
	if err != nil {
		return r, err
	}
	r.footing(m, layers, bodies, under.feet)
	if r.Overhang >= smallest {
		at := under.at
		r.Findings = append(r.Findings, Finding{
			Kind: Hangs, Measure: r.Overhang, At: at, Layer: layerAt(layers, at[2]),
			Text: fmt.Sprintf("%s mm² hang over by more than %g° from upright, the largest at a height of %s mm.",
				units.Figure(r.Overhang), s.Steep, units.Figure(at[2])),
			Way: "Lay it another way, or make what is below a chamfer in Raise.",
		})
	}
	r.islands(m.Step, layers, starts)
	return r, r.narrow(ctx, m, layers, s)
}

// slack is by how much a face may lean beyond what hangs over, degrees: facets around bends
// of a bevel lean a little more than the bevel.
const slack = 1.0

// layerAt returns the number of the layer at a height, from 1.
func layerAt(layers []Layer, z float64) int {
	for i, l := range layers {
		if z < l.Z {
			return i + 1
		}
	}
	return len(layers)
}

// below is the faces of a solid that look down.
type below struct {
	feet    []foot // those on the bed
	over    float64
	at      [3]float64        // the middle of the largest of those that hang over, above the bed
	largest float64           // its area
	flat    map[int32]float64 // area of level ones above the bed, by their height on the grid
}

// foot is a triangle on the bed, mm.
type foot struct {
	at      [3][2]float64
	corners [3]int32 // of the mesh
	area    float64
}

// undersides looks for faces that look down: those on the bed, and those above it that hang
// over, seen from below.
func undersides(m *mesh.Mesh, bed, steep float64) (out below) {
	out.flat = map[int32]float64{}
	least := math.Sin((steep + slack) * math.Pi / 180)
	for _, t := range m.Tris {
		a, b, c := m.Pos(t[0]), m.Pos(t[1]), m.Pos(t[2])
		var u, v, n [3]float64
		for k := range 3 {
			u[k], v[k] = float64(b[k])-float64(a[k]), float64(c[k])-float64(a[k])
		}
		for k := range 3 {
			n[k] = u[(k+1)%3]*v[(k+2)%3] - u[(k+2)%3]*v[(k+1)%3]
		}
		long := math.Sqrt(n[0]*n[0] + n[1]*n[1] + n[2]*n[2])
		area := -n[2] / 2
		if area <= 0 || -n[2] <= least*long*(1+1e-9) {
			continue
		}
		level := a[2] == b[2] && b[2] == c[2]
		down := float64(max(a[2], b[2], c[2])) <= bed+alike // faces that were turned are rounded to the grid
		if level && !down {
			out.flat[m.Verts[t[0]][2]] += area
			continue
		}
		if down {
			f := foot{area: area, corners: t}
			for k, p := range [3][3]float32{a, b, c} {
				f.at[k] = [2]float64{float64(p[0]), float64(p[1])}
			}
			out.feet = append(out.feet, f)
			continue
		}
		out.over += area
		if area > out.largest {
			out.largest = area
			for k := range 3 {
				out.at[k] = (float64(a[k]) + float64(b[k]) + float64(c[k])) / 3
			}
			out.at[2] -= bed
		}
	}
	return out
}

// ledges adds what hangs over among the level faces above the bed: what of the section above
// them is not in the one below. A face that rests on another solid does not hang.
func (b *below) ledges(m *mesh.Mesh) error {
	heights := slices.Sorted(maps.Keys(b.flat))
	var cuts []int64
	for _, z := range heights {
		cuts = append(cuts, 2*int64(z)-1, 2*int64(z)+1)
	}
	cutter := newCutter(m)
	byCut := cutter.crossing(cuts)
	lo, _ := m.Box()
	for i, z := range heights {
		if b.flat[z] < smallest {
			continue
		}
		under, err := cutter.section(byCut[2*i], cuts[2*i])
		if err != nil {
			return err
		}
		above, err := cutter.section(byCut[2*i+1], cuts[2*i+1])
		if err != nil {
			return err
		}
		if under, err = bridged(under, m.Step); err != nil {
			return err
		}
		free, err := plane.Combine(above, under, plane.Subtract)
		if err != nil {
			return err
		}
		for _, p := range free {
			area := plane.Step(m.Step).Area(plane.Region{p})
			if area < smallest { // as the open ends of bridges are
				continue
			}
			b.over += area
			if area > b.largest {
				q := p.Within()
				b.largest = area
				b.at = [3]float64{float64(q.X) * m.Step, float64(q.Y) * m.Step, float64(z)*m.Step - float64(lo[2])}
			}
		}
	}
	return nil
}

// bridge is how far lines are laid through the air from one side to the other without sagging
// much, mm.
const bridge = 5.0

// bridged returns an area with what lies between its sides nearer to each other than a bridge:
// what growing and shrinking it again by half of that fills.
func bridged(under plane.Region, step float64) (plane.Region, error) {
	under, err := thinned(under, plane.Units(math.Max(1, rough/step)))
	if err != nil {
		return nil, err
	}
	st := plane.OffsetStyle{Join: plane.RoundJoin, ArcTol: plane.Units(math.Max(1, rough/step))}
	wide, err := under.Offset(plane.Units(bridge/2/step), st)
	if err != nil {
		return nil, err
	}
	closed, err := wide.Offset(plane.Units(-bridge/2/step), st)
	if err != nil {
		return nil, err
	}
	return plane.Combine(under, closed, plane.Union)
}
