package recipe

import (
	"fmt"
	"slices"

	"bildhauer/core/artwork"
)

// Print is the section of how the piece is printed.
type Print struct {
	Bed      string  `json:"bed"`      // of the printer, one of Beds
	Material string  `json:"material"` // one of Filaments
	Price    float64 `json:"price"`    // of a kilogram of it
	Nozzle   float64 `json:"nozzle"`   // its diameter, mm
	Layer    float64 `json:"layer"`    // the height of the layers, mm
	First    float64 `json:"first"`    // the height of the first one, mm

	Roll   float64 `json:"roll,omitempty"` // degrees by which it is turned in its plane before it leans
	Tilt   float64 `json:"tilt,omitempty"` // degrees by which it leans back from how it lies
	Turn   float64 `json:"turn,omitempty"` // degrees by which it is turned on the bed
	Copies int     `json:"copies"`         // how many are printed at once
	Gap    float64 `json:"gap"`            // that copies leave between them, mm

	Perimeters int     `json:"perimeters"` // lines along an outline
	Floors     int     `json:"floors"`     // solid layers below and above
	Infill     string  `json:"infill"`     // what lies within, one of Infills
	Density    float64 `json:"density"`    // share of the inside that is filled
	Overlap    float64 `json:"overlap"`    // by how much of its width infill reaches over the lines around it, as a share
	Skirt      string  `json:"skirt"`      // what is laid around the first layer, one of Skirts
	Seam       string  `json:"seam"`       // where outlines begin, one of Seams

	Outline float64 `json:"outline,omitempty"` // by how much outlines are drawn in, mm, as melt spreads
	Holes   float64 `json:"holes,omitempty"`   // by how much holes are widened, mm
	Foot    float64 `json:"foot,omitempty"`    // by how much the first layer is drawn in besides, mm, as it is pressed flat

	OuterSpeed  float64 `json:"outerSpeed"`  // of the outermost perimeter, mm/s
	InnerSpeed  float64 `json:"innerSpeed"`  // of the others, mm/s
	FillSpeed   float64 `json:"fillSpeed"`   // of what lies within, mm/s
	TravelSpeed float64 `json:"travelSpeed"` // between lines, mm/s
	FirstSpeed  float64 `json:"firstSpeed"`  // of all of the first layer, mm/s
}

// What a print may choose from.
var (
	Beds      = []string{"180", "256"}
	Filaments = []string{"PLA", "PETG", "ABS", "ASA"}
	Infills   = []string{"lines", "grid", "concentric", "none"}
	Skirts    = []string{"skirt", "brim", "none"}
	Seams     = []string{"corner", "back"}
)

func newPrint() Print {
	return Print{
		Bed: "180", Material: "PLA", Price: 25, Nozzle: 0.4, Layer: 0.2, First: 0.2, Copies: 1, Gap: 5,
		Perimeters: 2, Floors: 4, Infill: "lines", Density: 0.2, Overlap: 0.1, Skirt: "skirt", Seam: "corner",
		OuterSpeed: 60, InnerSpeed: 80, FillSpeed: 100, TravelSpeed: 150, FirstSpeed: 25,
	}
}

// IsZero reports whether nothing was decided: then it is not written.
func (p Print) IsZero() bool { return p == newPrint() }

func (p *Print) check() error {
	for _, c := range []struct {
		what string
		v    string
		have []string
	}{
		{"bed", p.Bed, Beds}, {"material", p.Material, Filaments}, {"infill", p.Infill, Infills},
		{"skirt", p.Skirt, Skirts}, {"seam", p.Seam, Seams},
	} {
		if !slices.Contains(c.have, c.v) {
			return fmt.Errorf("the %s of a print can't be %.40q; there are %s", c.what, c.v, quoted(c.have))
		}
	}
	for _, c := range []struct {
		l Limit
		v float64
	}{
		{PriceLimit, p.Price}, {NozzleLimit, p.Nozzle}, {LayerLimit, p.Layer}, {LayerLimit, p.First}, {SwingLimit, p.Roll}, {LeanLimit, p.Tilt},
		{SwingLimit, p.Turn}, {CopiesLimit, float64(p.Copies)}, {ApartLimit, p.Gap}, {PerimetersLimit, float64(p.Perimeters)},
		{FloorsLimit, float64(p.Floors)}, {ShareLimit, p.Density}, {OverlapLimit, p.Overlap}, {SpeedLimit, p.OuterSpeed}, {SpeedLimit, p.InnerSpeed},
		{SpeedLimit, p.FillSpeed}, {SpeedLimit, p.TravelSpeed}, {SpeedLimit, p.FirstSpeed}, {FitLimit, p.Outline}, {FitLimit, p.Holes},
		{FitLimit, p.Foot},
	} {
		if err := c.l.Check(c.v); err != nil {
			return err
		}
	}
	if most := max(p.Layer, p.First); most > p.Nozzle {
		return fmt.Errorf("a layer of %g mm is thicker than the nozzle of %g mm is wide: it would not hold", most, p.Nozzle)
	}
	return nil
}

func quoted(list []string) (out string) {
	for i, v := range list {
		if i > 0 {
			out += ", "
		}
		out += fmt.Sprintf("%q", v)
	}
	return out
}

// SetPrint changes how the piece is printed; what is nil stays.
type SetPrint struct {
	Bed         *string  `json:"bed"`
	Material    *string  `json:"material"`
	Price       *float64 `json:"price"`
	Nozzle      *float64 `json:"nozzle"`
	Layer       *float64 `json:"layer"`
	First       *float64 `json:"first"`
	Roll        *float64 `json:"roll"`
	Tilt        *float64 `json:"tilt"`
	Turn        *float64 `json:"turn"`
	Copies      *int     `json:"copies"`
	Gap         *float64 `json:"gap"`
	Perimeters  *int     `json:"perimeters"`
	Floors      *int     `json:"floors"`
	Infill      *string  `json:"infill"`
	Density     *float64 `json:"density"`
	Overlap     *float64 `json:"overlap"`
	Skirt       *string  `json:"skirt"`
	Seam        *string  `json:"seam"`
	Outline     *float64 `json:"outline"`
	Holes       *float64 `json:"holes"`
	Foot        *float64 `json:"foot"`
	OuterSpeed  *float64 `json:"outerSpeed"`
	InnerSpeed  *float64 `json:"innerSpeed"`
	FillSpeed   *float64 `json:"fillSpeed"`
	TravelSpeed *float64 `json:"travelSpeed"`
	FirstSpeed  *float64 `json:"firstSpeed"`
}

// Apply is part of Edit.
func (e *SetPrint) Apply(r *Recipe, _ *artwork.Sheet) error {
	p := &r.Print
	for _, v := range []struct{ from, to *string }{
		{e.Bed, &p.Bed}, {e.Material, &p.Material}, {e.Infill, &p.Infill}, {e.Skirt, &p.Skirt}, {e.Seam, &p.Seam},
	} {
		give(v.from, v.to)
	}
	for _, v := range []struct{ from, to *int }{{e.Copies, &p.Copies}, {e.Perimeters, &p.Perimeters}, {e.Floors, &p.Floors}} {
		give(v.from, v.to)
	}
	for _, v := range []struct{ from, to *float64 }{
		{e.Price, &p.Price}, {e.Nozzle, &p.Nozzle}, {e.Layer, &p.Layer}, {e.First, &p.First}, {e.Roll, &p.Roll}, {e.Tilt, &p.Tilt}, {e.Turn, &p.Turn},
		{e.Gap, &p.Gap}, {e.Density, &p.Density}, {e.Overlap, &p.Overlap}, {e.OuterSpeed, &p.OuterSpeed}, {e.InnerSpeed, &p.InnerSpeed},
		{e.FillSpeed, &p.FillSpeed}, {e.TravelSpeed, &p.TravelSpeed}, {e.FirstSpeed, &p.FirstSpeed},
		{e.Outline, &p.Outline}, {e.Holes, &p.Holes}, {e.Foot, &p.Foot},
	} {
		give(v.from, v.to)
	}
	return nil
}
