package print

// Setup is the machine, the material and how it is laid.
type Setup struct {
	Bed      [3]float64 `json:"bed"`      // width, depth and height, mm
	First    float64    `json:"first"`    // height of the first layer, mm
	Layer    float64    `json:"layer"`    // of the others, mm
	Nozzle   float64    `json:"nozzle"`   // diameter, mm
	Filament float64    `json:"filament"` // diameter, mm
	Material Material   `json:"material"`
	Price    float64    `json:"price"` // of a kilogram
	Steep    float64    `json:"steep"` // from which angle from upright on faces hang over, degrees

	Copies int     `json:"copies"`
	Gap    float64 `json:"gap"` // between copies, mm

	Perimeters int     `json:"perimeters"`
	Floors     int     `json:"floors"` // solid layers below and above
	Infill     string  `json:"infill"` // Lines, Grid, Concentric or NoInfill
	Density    float64 `json:"density"`
	Overlap    float64 `json:"overlap"` // by how much of its width infill reaches over the lines around it
	Skirt      string  `json:"skirt"`   // AroundIt, AsBrim or NoSkirt
	Seam       string  `json:"seam"`    // AtCorner or AtBack

	// By how much outlines are drawn in, holes widened and the first layer drawn in besides, mm.
	Outline float64 `json:"outline"`
	Holes   float64 `json:"holes"`
	Foot    float64 `json:"foot"`

	Speeds Speeds `json:"speeds"`
}

// Material is what is printed with.
type Material struct {
	Name        string  `json:"name"`
	Density     float64 `json:"density"` // g/cm3
	Nozzle, Bed float64 // temperatures, degrees Celsius
	Fan         float64 `json:"fan"`   // share of its full speed, from the second layer on
	Least       float64 `json:"least"` // s that a layer takes at least, so that it sets before the next one
	Over        float64 `json:"over"`  // share of the fan's speed where it is laid over air
}

// Speeds in mm/s, by what is laid.
type Speeds struct{ Outer, Inner, Fill, Travel, First float64 }

// Rise is how fast the nozzle moves up and down, mm/s: spindles turn slower than belts run. Slowest is how slow it is
// moved at the least so that a layer takes its time: below that the melt sags from the nozzle.
// Spans is how fast lines are laid over air, mm/s: faster, they tear; slower, they sag.
const (
	Rise    = 10.0
	Slowest = 10.0
	Spans   = 25.0
)

// The choices.
const (
	Lines      = "lines"
	Grid       = "grid"
	Concentric = "concentric"
	NoInfill   = "none"
	AroundIt   = "skirt"
	AsBrim     = "brim"
	NoSkirt    = "none"
	AtCorner   = "corner"
	AtBack     = "back"
)

// Beds and Materials are those that one can choose. Densities and temperatures are those
// that makers of filament print on their reels. ABS and ASA come loose of their layers where they are cooled fast, so
// their fan runs slowly; the others set the better the more air there is.
var (
	Beds      = map[string][3]float64{"180": {180, 180, 180}, "256": {256, 256, 256}}
	Materials = map[string]Material{
		"PLA": {"PLA", 1.24, 210, 60, 1, 6, 1}, "PETG": {"PETG", 1.27, 240, 80, 0.5, 6, 1},
		"ABS": {"ABS", 1.04, 245, 100, 0.15, 8, 0.5}, "ASA": {"ASA", 1.07, 250, 100, 0.15, 8, 0.5},
	}
)

// Usual is a setup that nobody has changed.
func Usual() Setup {
	return Setup{
		Bed: Beds["180"], First: 0.2, Layer: 0.2, Nozzle: 0.4, Filament: 1.75, Material: Materials["PLA"], Price: 25, Steep: 45,
		Copies: 1, Gap: 5, Perimeters: 2, Floors: 4, Infill: Lines, Density: 0.2, Overlap: 0.1, Skirt: AroundIt, Seam: AtCorner,
		Speeds: Speeds{60, 80, 100, 150, 25},
	}
}

// beadShare is how much wider than the nozzle a line is laid: the melt is pressed out to both
// sides, and an eighth is what layers half as high as the nozzle is wide make of it.
const beadShare = 1.125

// Bead returns the width of a line, mm.
func (s *Setup) Bead() float64 { return s.Nozzle * beadShare }
