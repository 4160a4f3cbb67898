package print

import (
	"context"
	"fmt"
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/units"
)

// Report is what is to be known before a solid is printed.
type Report struct {
	Size     [3]float64 `json:"size"` // mm
	Layers   int        `json:"layers"`
	Volume   float64    `json:"volume"`   // mm3
	Mass     float64    `json:"mass"`     // g
	Length   float64    `json:"length"`   // of filament, if all is filled, m
	Cost     float64    `json:"cost"`     // by Setup.Price
	Contact  float64    `json:"contact"`  // of the first layer with the bed, mm2
	Overhang float64    `json:"overhang"` // of faces that hang over, seen from below, mm2
	Findings []Finding  `json:"findings"`
	Changes  []Change   `json:"changes"` // of the filament, see Changes
}

// Finding is something that will trouble the printer.
type Finding struct {
	Kind string     `json:"kind"` // one of Kinds
	Text string     `json:"text"` // a sentence with its measure
	Way  string     `json:"way"`  // what to do about it
	At   [3]float64 `json:"at"`   // a place of it, mm above the bed and from the middle of the mesh's grid
}

// The kinds of finding.
const (
	TooLarge = "too large"
	Loose    = "loose"
	Hangs    = "overhang"
	Island   = "island"
)

// Kinds lists all.
var Kinds = []string{TooLarge, Loose, Hangs, Island}

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
	r.Volume = mesh.Check(m, false).VolumeMM3
	r.Mass = r.Volume / 1000 * s.Density
	r.Length = r.Volume / (math.Pi / 4 * s.Filament * s.Filament) / 1000
	r.Cost = r.Mass / 1000 * s.Price
	if over := [3]float64{r.Size[0] - s.Bed[0], r.Size[1] - s.Bed[1], r.Size[2] - s.Bed[2]}; max(over[0], over[1], over[2]) > 0 {
		r.Findings = append(r.Findings, Finding{
			TooLarge, fmt.Sprintf("It is %s by %s and %s high; the bed has %g by %g mm and room for %g.",
				units.Figure(r.Size[0]), units.Figure(r.Size[1]), units.Figure(r.Size[2])+" mm", s.Bed[0], s.Bed[1], s.Bed[2]),
			"Make it smaller in Size, lay it another way, or print it in parts.", [3]float64{},
		})
	}
	var hangsAt [3]float64
	r.Contact, r.Overhang, hangsAt = undersides(m, lo[2], s.Steep)
	if r.Contact < footing*r.Size[2] {
		r.Findings = append(r.Findings, Finding{
			Loose, fmt.Sprintf("Only %s mm² lie on the bed under a height of %s mm: it may let go.", units.Figure(r.Contact), units.Figure(r.Size[2])),
			"Lay it on a flat side in Size, or give it a backing plate.", [3]float64{},
		})
	}
	if r.Overhang >= smallest {
		r.Findings = append(r.Findings, Finding{
			Hangs, fmt.Sprintf("%s mm² hang over by more than %g° from upright, the largest at a height of %s mm.",
				units.Figure(r.Overhang), s.Steep, units.Figure(hangsAt[2])),
			"Lay it another way in Size, or make what is below a chamfer.", hangsAt,
		})
	}
	return r, islands(ctx, m.Step, layers, &r)
}

// undersides adds up faces that look down: those on the bed, and those above it that hang
// over, seen from below; and returns the middle of the largest of these.
func undersides(m *mesh.Mesh, bed, steep float64) (contact, over float64, at [3]float64) {
	least := math.Sin(steep * math.Pi / 180)
	largest := 0.0
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
		below := -n[2] / 2
		if below <= 0 || -n[2] <= least*long*(1+1e-9) {
			continue
		}
		if float64(a[2]) == bed && a[2] == b[2] && b[2] == c[2] {
			contact += below
			continue
		}
		over += below
		if below > largest {
			largest = below
			for k := range 3 {
				at[k] = (float64(a[k]) + float64(b[k]) + float64(c[k])) / 3
			}
			at[2] -= bed
		}
	}
	return contact, over, at
}

// islands finds areas of layers that have nothing below them, those of one layer together.
func islands(ctx context.Context, step float64, layers []Layer, r *Report) error {
	for i := 1; i < len(layers); i++ {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		var found plane.Region
		for _, p := range layers[i].Area {
			held, err := rests(p, layers[i-1].Area)
			if err != nil {
				return err
			}
			if !held {
				found = append(found, p)
			}
		}
		if len(found) == 0 {
			continue
		}
		what := "An area of %s mm² begins"
		if len(found) > 1 {
			what = fmt.Sprintf("%d areas of %%s mm² together begin", len(found))
		}
		q, z := found[0].Outer[0], layers[i].Z-layers[i].Height
		r.Findings = append(r.Findings, Finding{
			Island, fmt.Sprintf(what+" in the air at a height of %s mm.", units.Figure(AreaOf(found, step)), units.Figure(z)),
			"Rest the part on another one in Raise, or lay the piece another way.",
			[3]float64{float64(q.X) * step, float64(q.Y) * step, z},
		})
	}
	return nil
}

// rests reports whether an area lies on something of the layer below.
func rests(p plane.Polygon, below plane.Region) (bool, error) {
	for _, q := range p.Outer {
		if below.Contains(q) {
			return true, nil
		}
	}
	for _, b := range below {
		if (plane.Region{p}).Contains(b.Outer[0]) {
			return true, nil
		}
	}
	common, err := plane.Combine(plane.Region{p}, below, plane.Intersect)
	return len(common) > 0, err
}
