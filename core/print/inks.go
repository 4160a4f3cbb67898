package print

import "math"

// Ink is a part with the colour of its filament and the heights between which it is printed.
type Ink struct {
	Name   string  `json:"name"`
	Color  string  `json:"color"`
	Lo, Hi float64 `json:"-"` // mm above the bed
}

// Change is a layer before which the filament is changed.
type Change struct {
	Layer int     `json:"layer"` // from 1
	Z     float64 `json:"z"`     // of the bed's side of that layer, mm
	Name  string  `json:"name"`
	Color string  `json:"color"`
	Off   float64 `json:"off"` // by how much the part's own height is missed, mm: layers do not end there
}

// alike is how far heights may differ that are meant to be one: what the grid of a mesh and
// single precision leave is far below it, and what a printer can do far above.
const alike = 0.001

// Changes tells with which filament a piece begins and when it is changed, so that parts
// which step up in height have their colours: in each layer that of the part which ends
// first, and among those that end together, of the one that began last. What one nozzle
// can't do, several colours in one layer, is not in it.
func Changes(layers []Layer, inks []Ink) []Change {
	out := []Change{}
	for i, l := range layers {
		z := l.Z - l.Height/2
		best := -1
		for k, ink := range inks {
			if z <= ink.Lo || z >= ink.Hi {
				continue
			}
			if best < 0 || ink.Hi < inks[best].Hi-alike || ink.Hi < inks[best].Hi+alike && ink.Lo > inks[best].Lo+alike {
				best = k
			}
		}
		if best < 0 || len(out) > 0 && out[len(out)-1].Color == inks[best].Color {
			continue
		}
		c := Change{Layer: i + 1, Z: l.Z - l.Height, Name: inks[best].Name, Color: inks[best].Color}
		if i > 0 {
			c.Off = nearestEnd(c.Z, inks)
		}
		out = append(out, c)
	}
	return out
}

// nearestEnd returns how far a height is from where some part begins or ends.
func nearestEnd(z float64, inks []Ink) float64 {
	off := math.Inf(1)
	for _, ink := range inks {
		off = math.Min(off, math.Min(math.Abs(z-ink.Lo), math.Abs(z-ink.Hi)))
	}
	if off < alike {
		return 0
	}
	return off
}
