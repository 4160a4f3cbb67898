package print

import "fmt"

// Setup is the machine and the material.
type Setup struct {
	Bed      [3]float64 `json:"bed"`      // width, depth and height, mm
	First    float64    `json:"first"`    // height of the first layer, mm
	Layer    float64    `json:"layer"`    // of the others, mm
	Filament float64    `json:"filament"` // diameter, mm
	Density  float64    `json:"density"`  // g/cm3
	Price    float64    `json:"price"`    // of a kilogram
	Steep    float64    `json:"steep"`    // from which angle from upright on faces hang over, degrees
}

// Beds and Materials are those that one can choose.
var (
	Beds      = map[string][3]float64{"180": {180, 180, 180}, "256": {256, 256, 256}}
	Materials = map[string]float64{"PLA": 1.24, "PETG": 1.27, "ABS": 1.04, "ASA": 1.07}
)

// Usual is a setup that nobody has changed.
func Usual() Setup {
	return Setup{Bed: Beds["180"], First: 0.2, Layer: 0.2, Filament: 1.75, Density: Materials["PLA"], Price: 25, Steep: 45}
}

// Check returns a sentence for a figure that can't be.
func (s *Setup) Check() error {
	switch {
	case !(s.First >= 0.02 && s.First <= 2) || !(s.Layer >= 0.02 && s.Layer <= 2):
		return fmt.Errorf("a layer is between 0.02 and 2 mm thick")
	case !(s.Bed[0] > 0 && s.Bed[1] > 0 && s.Bed[2] > 0 && s.Bed[0] <= 10_000 && s.Bed[1] <= 10_000 && s.Bed[2] <= 10_000):
		return fmt.Errorf("a bed is up to 10 m wide, deep and high")
	case !(s.Density > 0 && s.Density < 30) || !(s.Filament > 0.1 && s.Filament < 10) || !(s.Price >= 0):
		return fmt.Errorf("density, diameter and price of the material are figures above 0")
	}
	return nil
}
