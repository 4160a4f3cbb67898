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
	Bridge
)

// KindNames lists what people call the kinds.
var KindNames = []string{"skirt", "brim", "inner perimeter", "outer perimeter", "thin stroke", "solid", "infill", "bridge"}

// Path is a line that the nozzle lays.
type Path struct {
	Kind   Kind
	Closed bool         // it ends where it began, but for the seam
	Points [][2]float32 // mm, from the middle of the piece, y towards its back
	Width  float32      // mm
	Widths []float32    // of each stretch, where they are not all the same
	Fixed  bool         // it is not laid from its end on

	Way  [][2]float32 // how the nozzle gets to its begin, from where the path before it ends; none for straight there
	Pull bool         // the filament is drawn back on that way
}

// end returns where a path ends.
func (p *Path) end() [2]float32 { return p.Points[len(p.Points)-1] }

// stretches returns how many straight stretches a path has.
func (p *Path) stretches() int { return max(0, len(p.Points)-1) }

// stretch returns the end of the i-th stretch, its length and its width, mm.
func (p *Path) stretch(i int) (to [2]float32, long, wide float64) {
	from := p.Points[i]
	to = p.Points[i+1]
	wide = float64(p.Width)
	if p.Widths != nil {
		wide = float64(p.Widths[i])
	}
	return to, math.Hypot(float64(to[0]-from[0]), float64(to[1]-from[1])), wide
}

// seamGap is how much of a line's width is left out where a line that goes around ends: both of its ends are round, and what
// is laid there spreads into the rest.
const seamGap = 0.6

// close ends a path that goes around where it began, but for the seam.
func (p *Path) close() {
	p.Closed = true
	p.Points = append(p.Points, p.Points[0])
	n := len(p.Points)
	wide := p.Width
	if p.Widths != nil {
		wide = p.Widths[n-2]
	}
	for off := math.Min(float64(wide)*seamGap, p.Length()/4); off > 0; n-- {
		a, b := p.Points[n-2], p.Points[n-1]
		long := math.Hypot(float64(b[0]-a[0]), float64(b[1]-a[1]))
		if long > off {
			f := float32(off / long)
			p.Points[n-1] = [2]float32{b[0] + (a[0]-b[0])*f, b[1] + (a[1]-b[1])*f}
			return
		}
		off -= long
		p.Points = p.Points[:n-1]
		if p.Widths != nil {
			p.Widths = p.Widths[:n-2]
		}
	}
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

	Way  [][2]float32 // how the nozzle gets to the first path from where the layer below ends
	Pull bool         // the filament is drawn back on that way
}
