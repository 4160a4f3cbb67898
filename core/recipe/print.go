package recipe

import (
	"encoding/json"
	"fmt"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
)

// Print is the section of how the piece is printed.
type Print struct {
	Bed      string  `json:"bed" choice:"bed"`             // of the printer, one of Beds
	Material string  `json:"material" choice:"filament"`   // one of Filaments
	Price    float64 `json:"price" figure:"print.price"`   // of a kilogram of it
	Nozzle   float64 `json:"nozzle" figure:"print.nozzle"` // its diameter, mm
	Layer    float64 `json:"layer" figure:"print.layer"`   // the height of the layers, mm
	First    float64 `json:"first" figure:"print.first"`   // the height of the first one, mm

	Roll   float64 `json:"roll,omitempty" figure:"print.roll"` // degrees by which it is turned in its plane before it leans
	Tilt   float64 `json:"tilt,omitempty" figure:"print.tilt"` // degrees by which it leans back from how it lies
	Turn   float64 `json:"turn,omitempty" figure:"print.turn"` // degrees by which it is turned on the bed
	Copies int     `json:"copies" figure:"print.copies"`       // how many are printed at once
	Gap    float64 `json:"gap" figure:"print.gap"`             // that copies leave between them, mm

	Perimeters int     `json:"perimeters" figure:"print.perimeters"` // lines along an outline
	Floors     int     `json:"floors" figure:"print.floors"`         // solid layers below and above
	Infill     string  `json:"infill" choice:"infill"`               // what lies within, one of Infills
	Density    float64 `json:"density" figure:"print.density"`       // share of the inside that is filled
	Overlap    float64 `json:"overlap" figure:"print.overlap"`       // by how much of its width infill reaches over the lines around it, as a share
	Skirt      string  `json:"skirt" choice:"skirt"`                 // what is laid around the first layer, one of Skirts
	Seam       string  `json:"seam" choice:"seam"`                   // where outlines begin, one of Seams

	Outline float64 `json:"outline,omitempty" figure:"print.outline"` // by how much outlines are drawn in, mm, as melt spreads
	Holes   float64 `json:"holes,omitempty" figure:"print.holes"`     // by how much holes are widened, mm
	Foot    float64 `json:"foot,omitempty" figure:"print.foot"`       // by how much the first layer is drawn in besides, mm, as it is pressed flat

	OuterSpeed  float64 `json:"outerSpeed" figure:"print.outerSpeed"`   // of the outermost perimeter, mm/s
	InnerSpeed  float64 `json:"innerSpeed" figure:"print.innerSpeed"`   // of the others, mm/s
	FillSpeed   float64 `json:"fillSpeed" figure:"print.fillSpeed"`     // of what lies within, mm/s
	TravelSpeed float64 `json:"travelSpeed" figure:"print.travelSpeed"` // between lines, mm/s
	FirstSpeed  float64 `json:"firstSpeed" figure:"print.firstSpeed"`   // of all of the first layer, mm/s
}

// newPrint is what the figures and choices say is usual.
func newPrint() Print {
	var p Print
	terms.Fill(&p)
	return p
}

// IsZero reports whether nothing was decided: then it is not written.
func (p Print) IsZero() bool { return p == newPrint() }

func (p *Print) check() error {
	if err := terms.CheckTags(p); err != nil {
		return err
	}
	if most := max(p.Layer, p.First); most > p.Nozzle {
		return fmt.Errorf("a layer of %g mm is thicker than the nozzle of %g mm is wide: it would not hold", most, p.Nozzle)
	}
	return nil
}

// SetPrint changes how the piece is printed: fields of Print by their names in documents; others stay.
type SetPrint map[string]any

// Apply is part of Edit.
func (e *SetPrint) Apply(r *Recipe, _ *artwork.Sheet) error {
	data, err := json.Marshal(e)
	if err != nil {
		return err
	}
	if err := json.Unmarshal(data, &r.Print); err != nil {
		return fmt.Errorf("this change could not be read: %w", plainJSON(err))
	}
	return nil
}
