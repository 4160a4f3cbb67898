package print

import (
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// fine is how far outlines of paths may depart from the exact ones, mm: with the rounding
// of both the grid and single precision below 0.1 micrometre it keeps what is laid well
// within the 5 micrometres that a perimeter may leave a wall by.
const fine = 0.002

// bench is what all areas of a print are laid with, lengths in grid units.
type bench struct {
	step   plane.Step
	bead   plane.Units
	style  plane.OffsetStyle
	middle [2]float64 // of the piece, mm
	setup  *Setup
	poll   *progress.Poll // nil for none
}

func newBench(step plane.Step, middle [2]float64, s *Setup) *bench {
	tol := max(1, step.Units(fine))
	style := plane.OffsetStyle{Join: plane.RoundJoin, ArcTol: tol / 2, Simplify: tol / 2}
	return &bench{step: step, bead: step.Units(s.Bead()), middle: middle, setup: s, style: style}
}

// at brings a place to mm from the middle of the piece.
func (b *bench) at(x, y float64) [2]float32 {
	return [2]float32{float32(b.step.MM(plane.Units(x)) - b.middle[0]), float32(b.step.MM(plane.Units(y)) - b.middle[1])}
}

func (b *bench) loop(l plane.Loop, kind Kind) Path {
	p := Path{Kind: kind, Closed: true, Width: float32(b.step.MM(b.bead)), Points: make([][2]float32, len(l))}
	for i, q := range l {
		p.Points[i] = b.at(float64(q.X), float64(q.Y))
	}
	b.seam(&p)
	return p
}

// perimeters lays lines along the outlines of one area, the outermost last, and single lines
// into strokes that are too narrow for two. What is left for infill is inner.
//
// An area A is taken apart for each line of width w: E, A shrunk by w, is what lies within
// the line; A without E grown by w again is where two lines have no room (less than 2 w),
// and is laid as thin strokes; the line itself runs along the rest of A shrunk by w/2. A
// line and what it encloses then cover A without covering anything twice.
func (b *bench) perimeters(area plane.Polygon) (paths []Path, inner plane.Region, err error) {
	left := plane.Region{area}
	w := b.bead
	var thin []Path
	for k := range b.setup.Perimeters {
		b.poll.Look()
		within, narrow, err := b.within(left)
		if err != nil {
			return nil, nil, err
		}
		wide := left
		if len(narrow) > 0 {
			if wide, err = plane.Combine(left, narrow, plane.Subtract); err != nil {
				return nil, nil, err
			}
		}
		line, err := wide.Offset(-w/2, b.style)
		if err != nil {
			return nil, nil, err
		}
		kind := Inner
		if k == 0 {
			kind = Outer
		}
		var round []Path
		line.Loops(func(l plane.Loop) { round = append(round, b.loop(l, kind)) })
		paths = append(round, paths...)
		for _, n := range narrow {
			b.poll.Look()
			lines, err := b.thin(n)
			if err != nil {
				return nil, nil, err
			}
			thin = append(thin, lines...)
		}
		if left = within; len(left) == 0 {
			break
		}
	}
	return append(paths, thin...), left, nil
}

// within returns what is left of an area within one line along its outlines, and what has no
// room for two lines.
func (b *bench) within(area plane.Region) (within, narrow plane.Region, err error) {
	all := true
	for _, p := range area {
		r, whole, err := p.Inset(b.bead, b.style)
		if err != nil {
			return nil, nil, err
		}
		within, all = append(within, r...), all && whole
	}
	if all { // no edge was lost, so that there is room along all of them
		return within, nil, nil
	}
	narrow, err = b.narrow(area, within)
	return within, narrow, err
}

// narrow returns what of an area is not within reach of where a second line would run. What
// is thinner than the nozzle could lay at all is not in it.
func (b *bench) narrow(area, within plane.Region) (plane.Region, error) {
	st := b.style
	st.Join, st.MiterLimit = plane.MiterJoin, 8
	reach, err := within.Offset(b.bead*1.0005, st)
	if err != nil {
		return nil, err
	}
	rest, err := plane.Combine(area, reach, plane.Subtract)
	if err != nil {
		return nil, err
	}
	var out plane.Region
	for _, p := range rest {
		// Slivers along curves and in corners close when a line is laid beside them.
		core, err := (plane.Region{p}).Offset(-b.bead*thinnest/2, b.style)
		if err != nil {
			return nil, err
		}
		if len(core) > 0 {
			out = append(out, p)
		}
	}
	return out, nil
}

// thinnest is the narrowest line that is laid, as a share of the usual one: below a third
// the melt comes in drops.
const thinnest = 1.0 / 3
