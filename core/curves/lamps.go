package curves

import "math"

// Stance is how a lamp stands to what it lights, mm.
type Stance struct {
	At     Place   `json:"at"`
	Way    Place   `json:"way"`    // to its aim, one long
	Across Place   `json:"across"` // of a panel: from its middle to its side
	Up     Place   `json:"up"`     // and to its upper edge
	Far    float64 `json:"far"`    // from its aim
}

// As small as these a lamp has neither a way nor an extent.
const (
	nearest  = 1e-6 // mm from its aim; and shares of the way that lie sideways
	smallest = 1e-3 // mm
)

// StanceOf returns the stance of a lamp wide by high mm that faces its aim, upright as far as that goes. One that
// has moved into what it aims at shines down.
func StanceOf(at, aim Place, wide, high float64) Stance {
	way := plus(aim, -1, at)
	far := long(way)
	if far < nearest {
		way = Place{0, -nearest, 0}
		far = nearest
	}
	way = times(way, 1/far)
	right := Place{-way[2], 0, way[0]} // the upright crossed with the way back
	if long(right) < nearest {
		right = Place{1, 0, 0}
	}
	right = times(right, 1/long(right))
	back := times(way, -1)
	up := Place{
		back[1]*right[2] - back[2]*right[1],
		back[2]*right[0] - back[0]*right[2],
		back[0]*right[1] - back[1]*right[0],
	}
	return Stance{
		At: at, Way: way, Far: far,
		Across: times(right, -math.Max(wide, smallest)/2),
		Up:     times(up, math.Max(high, smallest)/2),
	}
}
