package print

import "math"

// Kind is what a path is laid for.
type Kind uint8

// The kinds, in the order in which an area is laid.
const (
	Skirt Kind = iota
	Brim
	Inner
	Outer
	Thin
	Solid
	Infill
)

// KindNames lists what people call the kinds.
var KindNames = []string{"skirt", "brim", "inner perimeter", "outer perimeter", "thin stroke", "solid", "infill"}

// Path is a line that the nozzle lays.
type Path struct {
	Kind   Kind
	Closed bool         // the last point leads back to the first
	Points [][2]float32 // mm, from the middle of the piece, y towards its back
	Width  float32      // mm
	Widths []float32    // of each stretch, where they are not all the same
}

// stretches returns how many straight stretches a path has.
func (p *Path) stretches() int {
	if p.Closed {
		return len(p.Points)
	}
	return max(0, len(p.Points)-1)
}

// stretch returns the end of the i-th stretch, its length and its width, mm.
func (p *Path) stretch(i int) (to [2]float32, long, wide float64) {
	from := p.Points[i]
	to = p.Points[(i+1)%len(p.Points)]
	wide = float64(p.Width)
	if p.Widths != nil {
		wide = float64(p.Widths[i])
	}
	return to, math.Hypot(float64(to[0]-from[0]), float64(to[1]-from[1])), wide
}

// Length returns how long a path is, mm.
func (p *Path) Length() (sum float64) {
	for i := range p.stretches() {
		_, long, _ := p.stretch(i)
		sum += long
	}
	return sum
}

// Covers returns the area that a path covers, mm2: what lies on it has the section of a
// rectangle, the layer's height by its width.
func (p *Path) Covers() (sum float64) {
	for i := range p.stretches() {
		_, long, wide := p.stretch(i)
		sum += long * wide
	}
	return sum
}

// Laid is a layer as the nozzle lays it. Layers that are alike share their paths.
type Laid struct {
	Z, Height float64 // of its upper side, and how thick it is, mm
	Paths     []Path
}
