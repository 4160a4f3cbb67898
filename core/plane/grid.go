package plane

import "math"

// Units is a length on the grid, in its steps. It is a type of its own so that the compiler tells it from
// millimetres, which are float64 everywhere else.
type Units float64

// Round returns the length to whole steps.
func (u Units) Round() Units { return Units(math.Round(float64(u))) }

// Step is how many millimetres a step of the grid is.
type Step float64

// Units brings millimetres to the grid.
func (s Step) Units(mm float64) Units { return Units(mm / float64(s)) }

// MM brings a length on the grid to millimetres.
func (s Step) MM(u Units) float64 { return float64(u) * float64(s) }

// Area returns the area of a region, mm2.
func (s Step) Area(r Region) float64 { return float64(r.Area2()) / 2 * float64(s) * float64(s) }

// At returns where a point lies, mm.
func (s Step) At(p Point) (x, y float64) { return s.MM(Units(p.X)), s.MM(Units(p.Y)) }
