package terms

// Ranges that several figures share, with their reasons.
var (
	// A tenth of a millimetre is below what any nozzle or camera shows; 100 m is beyond any sign.
	sides = Range{Unit: "mm", Min: 0.1, Max: 100_000, Step: 1}
	// Depths, bevels, walls: from nothing, or all but nothing, to as long as a side.
	depths  = Range{Unit: "mm", Min: 0.01, Max: 100_000, Step: 0.5}
	lengths = Range{Unit: "mm", Min: 0, Max: 100_000, Step: 0.5}
	signed  = Range{Unit: "mm", Min: -100_000, Max: 100_000, Step: 0.5}
	// Ten turns either way.
	turns  = Range{Unit: "°", Min: -3600, Max: 3600, Step: 5}
	shares = Range{Min: 0, Max: 1, Step: 0.05}
	// Beyond 24 stops nothing is left of a picture of 16 bits.
	stops  = Range{Unit: "stops", Min: -24, Max: 24, Step: 0.25}
	places = Range{Unit: "mm", Min: -10_000_000, Max: 10_000_000, Step: 5}
	// An hour at 60 frames a second.
	frames  = Range{Min: 0, Max: 216_000, Step: 1}
	seconds = Range{Unit: "s", Min: 0, Max: 3600, Step: 0.1}
	// Faster than this no nozzle melts anything.
	speeds = Range{Unit: "mm/s", Min: 1, Max: 1000, Step: 5}
	// What nozzles can lay.
	layers = Range{Unit: "mm", Min: 0.02, Max: 2, Step: 0.04}
	// More than half a millimetre no nozzle is off.
	fits = Range{Unit: "mm", Min: -0.5, Max: 0.5, Step: 0.02}
)

const percent = 100
