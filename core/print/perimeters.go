package print

import (
	"math"

	"bildhauer/core/geom"
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
	p := Path{Kind: kind, Width: float32(b.step.MM(b.bead)), Points: make([][2]float32, len(l))}
	for i, q := range l {
		p.Points[i] = b.at(float64(q.X), float64(q.Y))
	}
	b.seam(&p)
	p.close()
	return p
}

// perimeters lays lines along the outlines of one area, the outermost last, and in the middle of strokes that have no
// room for more. What is left for infill is inner.
//
// Where all of an area is wide, lines lie at even depths. Else beads say how many there are, and they are followed through
// a ladder.
func (b *bench) perimeters(area plane.Polygon) (paths []Path, inner plane.Region, err error) {
	n := b.setup.Perimeters
	even, err := b.even(area)
	if err != nil {
		return nil, nil, err
	}
	if !even {
		return b.beaded(area, n, b.kind, Thin)
	}
	for k := n - 1; k >= 0; k-- {
		b.poll.Look()
		line, err := plane.Region{area}.Offset(-b.bead*plane.Units(float64(k)+0.5), b.style)
		if err != nil {
			return nil, nil, err
		}
		line.Loops(func(l plane.Loop) { paths = append(paths, b.loop(l, b.kind(k))) })
	}
	inner, err = plane.Region{area}.Offset(-b.bead*plane.Units(n), b.style)
	return paths, inner, err
}

// even reports whether all lines along the outlines lie at even depths: there is room for them and one and a half more
// wherever the area is no corner.
func (b *bench) even(area plane.Polygon) (bool, error) {
	if pointed(area) {
		return false, nil
	}
	r := b.bead * plane.Units(float64(b.setup.Perimeters)+0.75)
	st := b.style
	st.ArcTol, st.Simplify = b.step.Units(rough), b.step.Units(rough)/2
	coarse, err := thinned(plane.Region{area}, st.Simplify)
	if err != nil || len(coarse) != 1 {
		return false, err
	}
	area = coarse[0]
	core, all, err := area.Inset(r, st)
	if err != nil || all || len(core) == 0 {
		return all, err
	}
	// What is left beside its reach are strokes, and points that are sharper than 60 degrees.
	st.Join, st.MiterLimit = plane.MiterJoin, 2
	reach, err := core.Offset(r*1.0005, st)
	if err != nil {
		return false, err
	}
	rest, err := plane.Combine(plane.Region{area}, reach, plane.Subtract)
	if err != nil {
		return false, err
	}
	rest, err = b.stout(rest)
	return len(rest) == 0, err
}

// kind returns what the k-th line from an outline is.
func (b *bench) kind(k int) Kind {
	switch {
	case k == 0:
		return Outer
	case k < b.setup.Perimeters:
		return Inner
	}
	return Solid
}

// pointed reports whether an outline has a corner that lines do not reach into by going around it.
func pointed(area plane.Polygon) (sharp bool) {
	plane.Region{area}.Loops(func(l plane.Loop) {
		n := len(l)
		for i, q := range l {
			u, v := vecOf(q).Sub(vecOf(l[(i+n-1)%n])), vecOf(l[(i+1)%n]).Sub(vecOf(q))
			sharp = sharp || u.Cross(v) > 0 && math.Atan2(u.Cross(v), u.Dot(v)) > 2*math.Pi/3
		}
	})
	return sharp
}

// rungs is how many points lie on an outline along the width of a line: enough for lines to follow what a nozzle can lay.
const rungs = 3

// beaded lays up to so many lines along the outlines of an area, the k-th of a kind, those in the middle of strokes with it;
// those of strokes that have no other are of the kind alone.
func (b *bench) beaded(area plane.Polygon, most int, kind func(k int) Kind, alone Kind) (paths []Path, inner plane.Region, err error) {
	index := plane.NewSegmentIndex(area)
	l, err := newLadder(area, float64(b.bead)/rungs, index)
	if err != nil {
		return nil, nil, err
	}
	t := &tracer{beads: newBeads(l, float64(b.bead), most), index: index, area: plane.Region{area}, exact: math.Max(1, float64(b.step.Units(fine))/4)}
	deepest := 0
	for i := range l.nodes {
		if n := t.count[i]; n == wide {
			deepest = most
		} else {
			deepest = max(deepest, min(most, n/2))
		}
	}
	var all [][]spot
	for k := deepest - 1; k >= 0; k-- {
		b.poll.Look()
		loops := t.round(k)
		all = append(all, loops...)
		for _, loop := range loops {
			paths = b.traced(paths, loop, kind(k), true)
		}
	}
	border := t.round(most)
	if deepest < most {
		border = nil
	}
	t.lines = newLaidLines(all, border)
	b.poll.Look()
	open, rings := t.middles()
	b.poll.Look()
	middle := func(line []spot) Kind {
		if k := line[len(line)/2].beside; k > 0 {
			return kind(k)
		}
		return alone
	}
	for _, ring := range rings {
		paths = b.traced(paths, ring, middle(ring), true)
	}
	for _, line := range open {
		if long := lengthOf(line); long >= shortLine*float64(b.bead) || len(paths) == 0 {
			paths = b.traced(paths, line, middle(line), false)
		}
	}
	var loops []plane.Loop
	for _, loop := range border {
		var l plane.Loop
		for _, s := range thinnedSpots(loop, true, t.exact) {
			l = append(l, plane.Point{X: int32(math.Round(s.at.X)), Y: int32(math.Round(s.at.Y))})
		}
		loops = append(loops, l)
	}
	inner, err = plane.Fill(loops, plane.NonZero)
	return paths, inner, err
}

// evenly is by how much the width of a stretch may change from its beginning to its end, as a share of the usual width.
const evenly = 0.04

// traced adds a line as a path. Where its width changes, it is divided into stretches that have one each.
func (b *bench) traced(list []Path, line []spot, kind Kind, closed bool) []Path {
	usual := float64(b.bead)
	line = thinnedSpots(line, closed, math.Max(1, float64(b.step.Units(fine))))
	if closed && len(line) < 3 || len(line) < 2 {
		return list
	}
	p := Path{Kind: kind, Width: float32(b.step.MM(b.bead))}
	if closed {
		line = append(line, line[0])
	}
	for i, s := range line[:len(line)-1] {
		to := line[i+1]
		n := max(1, int(math.Ceil(math.Abs(to.wide-s.wide)/usual/evenly)))
		for k := range n {
			f := float64(k) / float64(n)
			q := s.at.Lerp(to.at, f)
			p.Points = append(p.Points, b.at(q.X, q.Y))
			w := s.wide + (to.wide-s.wide)*(f+0.5/float64(n))
			p.Widths = append(p.Widths, float32(b.step.MM(plane.Units(w))))
		}
	}
	if !closed {
		q := line[len(line)-1].at
		p.Points = append(p.Points, b.at(q.X, q.Y))
	}
	if closed {
		b.seam(&p)
		p.close()
	}
	return append(list, p)
}

// shortLine is how long a line between others is at least, by its usual width: less is a dot, which the melt around fills.
const shortLine = 0.7

func lengthOf(line []spot) (sum float64) {
	for i := range max(0, len(line)-1) {
		sum += line[i+1].at.Sub(line[i].at).Len()
	}
	return sum
}

// length returns how long a run of places is.
func length(line []geom.Vec) (sum float64) {
	for i := range max(0, len(line)-1) {
		sum += line[i+1].Sub(line[i]).Len()
	}
	return sum
}
