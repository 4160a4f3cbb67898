package print

import (
	"cmp"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// narrowest is up to how many lines across an area is filled along its outlines instead of by rows: rows would be short
// and meet the walls at every second turn.
const narrowest = 14.0

// rimShare is from how much of an area on it lies so near to its outlines, within half a line's width, that rows would leave
// too much of it bare or lay it twice where they end.
const rimShare = 0.06

// edgy reports whether rows would end too often in an area.
func (b *bench) edgy(p plane.Polygon) bool {
	return b.rim(p)*float64(b.bead)/2 > rimShare*float64(p.Area2())/2
}

// rim returns how long the outlines of an area are together.
func (b *bench) rim(p plane.Polygon) (sum float64) {
	plane.Region{p}.Loops(func(l plane.Loop) {
		for i, q := range l {
			sum += vecOf(l[(i+1)%len(l)]).Sub(vecOf(q)).Len()
		}
	})
	return sum
}

// solid fills an area without gaps: along its outlines where that is what was asked for or where it is narrow, or small and
// long, else by rows in a direction.
func (b *bench) solid(area plane.Region, direction float64) (out []Path, err error) {
	for _, p := range area {
		b.poll.Look()
		core, limbs, err := b.parted(p)
		if err != nil {
			return nil, err
		}
		for _, l := range limbs {
			paths, _, err := b.beaded(l, math.MaxInt16, func(int) Kind { return Solid }, Solid)
			if err != nil {
				return nil, err
			}
			out = append(out, paths...)
		}
		for _, c := range core {
			paths, err := b.rows(plane.Region{c}, Solid, float64(b.bead), direction, true)
			if err != nil {
				return nil, err
			}
			out = append(out, paths...)
		}
	}
	return out, nil
}

// parted divides an area into what is filled by rows and what is filled along its outlines.
func (b *bench) parted(p plane.Polygon) (core, limbs plane.Region, err error) {
	whole := plane.Region{p}
	switch {
	case b.setup.Infill == Concentric || b.lengthy(p):
		return nil, whole, nil
	case !b.edgy(p):
		return whole, nil, nil
	}
	if core, err = b.opened(p); err != nil || len(core) == 0 {
		return nil, whole, err
	}
	if limbs, err = plane.Combine(whole, core, plane.Subtract); err != nil {
		return nil, nil, err
	}
	limbs, err = b.stout(limbs)
	return core, limbs, err
}

// opened returns what of an area a disc as wide as rows are worth it reaches.
func (b *bench) opened(p plane.Polygon) (plane.Region, error) {
	st := b.style
	st.ArcTol, st.Simplify = b.step.Units(rough), b.step.Units(rough)/2
	r := b.bead * narrowest / 2
	core, _, err := p.Inset(r, st)
	if err != nil || len(core) == 0 {
		return nil, err
	}
	core, err = core.Offset(r, st)
	if err != nil {
		return nil, err
	}
	return plane.Combine(core, plane.Region{p}, plane.Intersect)
}

// slim reports whether an area is nowhere wider than so many lines. None of it can be farther from its outlines than its
// widest place, so that it is wider than twice its area by the length of these.
func (b *bench) slim(p plane.Polygon, lines float64) (bool, error) {
	if float64(p.Area2())/b.rim(p) > lines*float64(b.bead) {
		return false, nil
	}
	core, _, err := p.Inset(b.bead*plane.Units(lines/2), b.style)
	return len(core) == 0, err
}

// sparse fills an area as the setup asks for. What has no room for more than two lines is filled solidly.
func (b *bench) sparse(area plane.Region, turn float64) (out []Path, err error) {
	apart := float64(b.bead) / b.setup.Density
	for _, p := range area {
		slim, err := b.slim(p, 2.5)
		if err != nil {
			return nil, err
		}
		var paths, more []Path
		one := plane.Region{p}
		switch {
		case slim:
			paths, _, err = b.beaded(p, math.MaxInt16, func(int) Kind { return Infill }, Infill)
		case b.setup.Infill == Lines:
			paths, err = b.rows(one, Infill, apart, turn, false)
		case b.setup.Infill == Grid:
			if paths, err = b.rows(one, Infill, 2*apart, turn, false); err == nil {
				more, err = b.rows(one, Infill, 2*apart, turn+math.Pi/2, false)
			}
		case b.setup.Infill == Concentric:
			paths, err = b.rings(one, apart)
		}
		if err != nil {
			return nil, err
		}
		out = append(append(out, paths...), more...)
	}
	return out, nil
}

// rings fills an area with lines along its outlines, so far apart.
func (b *bench) rings(area plane.Region, apart float64) (out []Path, err error) {
	for d := apart - float64(b.bead)/2; len(area) > 0; d = apart {
		b.poll.Look()
		if area, err = area.Offset(plane.Units(-d), b.style); err != nil {
			return nil, err
		}
		area.Loops(func(l plane.Loop) { out = append(out, b.loop(l, Infill)) })
	}
	return out, nil
}

// What lines are laid along is so many times as long as wide, and no wider than that, mm.
const (
	longBy    = 2.0
	smallUpTo = 12.0
)

// lengthy reports whether an area is small and long, measured by the narrowest box around it (one side of which lies on its
// hull).
func (b *bench) lengthy(p plane.Polygon) bool {
	var pts []geom.Vec
	for _, q := range p.Outer {
		pts = append(pts, vecOf(q))
	}
	hull := geom.Hull(pts)
	least, far := math.Inf(1), 0.0
	for i, a := range hull {
		d := hull[(i+1)%len(hull)].Sub(a).Unit()
		lo, hi, deep := math.Inf(1), math.Inf(-1), 0.0
		for _, q := range hull {
			s := q.Sub(a).Dot(d)
			lo, hi, deep = math.Min(lo, s), math.Max(hi, s), math.Max(deep, math.Abs(q.Sub(a).Cross(d)))
		}
		if deep < least {
			least, far = deep, hi-lo
		}
	}
	return far >= longBy*least && b.step.MM(plane.Units(least)) <= smallUpTo
}

// end is where a row meets the outline.
type end struct {
	row, loop, edge int
	x               float64 // along the row
	at              float64 // along the outline, grid units
	other           int     // end of its piece
	before, after   int     // the ends next to it on the outline
}

// hatch is rows across an area, turned so that rows run along x, grid units.
type hatch struct {
	loops  [][]geom.Vec
	long   []float64 // of each loop
	ends   []end
	used   []bool
	walked []bool  // the outline from each end to the next one is laid along
	low    float64 // of the first row
	apart  float64
}

// rows fills an area with parallel lines, so far apart (grid units) and in a direction, joined along the outlines where they
// lie beside each other, and reaching as far over the lines around as the setup says. Fitted, they are spread so that the
// first and the last one run along its borders; else rows of all layers lie on one pattern of the plane.
func (b *bench) rows(area plane.Region, kind Kind, apart, direction float64, fitted bool) ([]Path, error) {
	area, err := area.Offset(-b.bead*plane.Units(0.5-b.setup.Overlap), b.style)
	if err != nil || len(area) == 0 {
		return nil, err
	}
	sin, cos := math.Sincos(direction)
	h := newHatch(area, apart, sin, cos, fitted)
	width := float32(b.step.MM(b.bead))
	if fitted {
		width = float32(b.step.MM(plane.Units(h.apart)))
	}
	var out []Path
	for i := range h.ends {
		b.poll.Look()
		if h.used[i] {
			continue
		}
		line := h.follow(i, math.Max(3*h.apart, 2*float64(b.bead)))
		if length(line) < float64(b.bead) {
			continue
		}
		p := Path{Kind: kind, Width: width}
		for _, q := range line {
			p.Points = append(p.Points, b.at(q.X*cos-q.Y*sin, q.X*sin+q.Y*cos))
		}
		out = append(out, p)
	}
	if !fitted || kind == Bridge {
		return out, nil
	}
	for i := range h.ends {
		for _, line := range h.slivers(i, float64(b.bead), b.setup.Overlap) {
			for k := range line {
				q := line[k].at
				line[k].at = geom.Vec{X: q.X*cos - q.Y*sin, Y: q.X*sin + q.Y*cos}
			}
			if lengthOf(line) >= shortLine*float64(b.bead) {
				out = b.traced(out, line, kind, false)
			}
		}
	}
	return out, nil
}

func newHatch(area plane.Region, apart, sin, cos float64, fitted bool) *hatch {
	h := &hatch{apart: apart}
	low, high := math.Inf(1), math.Inf(-1)
	area.Loops(func(l plane.Loop) {
		turned := make([]geom.Vec, len(l))
		for i, p := range l {
			x, y := float64(p.X), float64(p.Y)
			turned[i] = geom.Vec{X: x*cos + y*sin, Y: y*cos - x*sin}
			low, high = math.Min(low, turned[i].Y), math.Max(high, turned[i].Y)
		}
		h.loops = append(h.loops, turned)
	})
	n := 0
	if fitted {
		// The first and the last row lie on the border but for a hundredth of what is between two.
		h.low = low + apart/100
		high -= apart / 100
		n = max(1, int(math.Round((high-h.low)/apart)))
		h.apart = math.Min((high-h.low)/float64(n), apart*1.25)
	} else {
		k := math.Ceil(low/apart - 0.5)
		h.low = (k + 0.5) * apart
		n = int(math.Floor((high - h.low) / apart))
	}
	if n >= 0 {
		h.cross(n + 1)
	}
	h.used, h.walked = make([]bool, len(h.ends)), make([]bool, len(h.ends))
	return h
}

// cross finds where rows meet the outlines.
func (h *hatch) cross(n int) {
	rows := make([][]int, n)
	for k, l := range h.loops {
		sum, first := 0.0, len(h.ends)
		for i, p := range l {
			q := l[(i+1)%len(l)]
			edge := q.Sub(p).Len()
			// A row meets an edge from its lower end on and before its upper one.
			lo, hi := math.Min(p.Y, q.Y), math.Max(p.Y, q.Y)
			begin := len(h.ends)
			for row := max(0, int(math.Ceil((lo-h.low)/h.apart))); row < n; row++ {
				y := h.low + float64(row)*h.apart
				if y >= hi {
					break
				}
				f := (y - p.Y) / (q.Y - p.Y)
				h.ends = append(h.ends, end{row: row, loop: k, edge: i, x: p.X + (q.X-p.X)*f, at: sum + edge*f})
			}
			slices.SortFunc(h.ends[begin:], func(a, b end) int { return cmp.Compare(a.at, b.at) })
			sum += edge
		}
		h.long = append(h.long, sum)
		for i := first; i < len(h.ends); i++ {
			e := &h.ends[i]
			e.before, e.after = i-1, i+1
			rows[e.row] = append(rows[e.row], i)
		}
		if first < len(h.ends) {
			h.ends[first].before, h.ends[len(h.ends)-1].after = len(h.ends)-1, first
		}
	}
	for _, row := range rows {
		slices.SortFunc(row, func(a, b int) int { return cmp.Compare(h.ends[a].x, h.ends[b].x) })
		for i := 0; i+1 < len(row); i += 2 {
			h.ends[row[i]].other, h.ends[row[i+1]].other = row[i+1], row[i]
		}
	}
}

func (h *hatch) place(i int) geom.Vec {
	return geom.Vec{X: h.ends[i].x, Y: h.low + float64(h.ends[i].row)*h.apart}
}

// follow lays rows to and fro from one end on, along the outlines from each to the next as long as that is not farther
// than most.
func (h *hatch) follow(i int, most float64) (line []geom.Vec) {
	for {
		j := h.ends[i].other
		h.used[i], h.used[j] = true, true
		line = append(line, h.place(i), h.place(j))
		next, best := -1, most
		for _, k := range [2]int{h.ends[j].after, h.ends[j].before} {
			if h.used[k] || h.ends[k].row == h.ends[j].row {
				continue
			}
			if d := h.between(j, k); d < best {
				next, best = k, d
			}
		}
		if next < 0 {
			return line
		}
		line = h.walk(line, j, next)
		i = next
	}
}

// between returns how far it is along the outline from one end to one next to it.
func (h *hatch) between(j, k int) float64 {
	d := h.ends[k].at - h.ends[j].at
	if h.ends[j].after != k {
		d = -d
	}
	if d < 0 {
		d += h.long[h.ends[j].loop]
	}
	return d
}

// walk adds the corners of the outline between two ends.
func (h *hatch) walk(line []geom.Vec, j, k int) []geom.Vec {
	l := h.loops[h.ends[j].loop]
	n := len(l)
	from, to := h.ends[j].edge, h.ends[k].edge
	if h.ends[j].after == k {
		h.walked[j] = true
		if from == to && h.ends[k].at >= h.ends[j].at {
			return line
		}
		for i := from; ; {
			i = (i + 1) % n
			line = append(line, l[i])
			if i == to {
				return line
			}
		}
	}
	h.walked[k] = true
	if from == to && h.ends[k].at <= h.ends[j].at {
		return line
	}
	for i := from; ; i = (i + n - 1) % n {
		line = append(line, l[i])
		if (i+n-1)%n == to {
			return line
		}
	}
}

// arc returns the corners of the outline from an end to the next one, both ends with it.
func (h *hatch) arc(i int) []geom.Vec {
	k := h.ends[i].after
	walked := h.walked[i]
	line := append(h.walk([]geom.Vec{h.place(i)}, i, k), h.place(k))
	h.walked[i] = walked
	return line
}

// slivers returns lines for what rows leave along an outline from an end to the next one, where that runs about along them: as
// wide as what lies between the row and the outline, in its middle.
func (h *hatch) slivers(i int, usual, overlap float64) (out [][]spot) {
	k := h.ends[i].after
	if h.walked[i] || k == i {
		return nil
	}
	a, c := h.place(i), h.place(k)
	// The row that lies beside all of it.
	row := a.Y
	if beside := h.ends[h.ends[i].other].x - a.X; h.ends[i].row != h.ends[k].row && beside*(c.X-a.X) <= 0 {
		if back := h.ends[h.ends[k].other].x - c.X; back*(a.X-c.X) <= 0 {
			return nil
		}
		row = c.Y
	}
	arc := h.arc(i)
	long := math.Abs(c.X - a.X)
	n := int(long / usual * 2)
	if n < 2 || math.Abs(h.between(i, k)) > 4*long {
		return nil
	}
	var line []spot
	for s := range n + 1 {
		x := a.X + (c.X-a.X)*float64(s)/float64(n)
		off, ok := above(arc, x, row)
		free := math.Abs(off) - h.apart/2 + (0.5-overlap)*usual // from the row's edge to the outline's lines
		if !ok || free < thinnest*usual || free > 1.5*usual {
			if len(line) > 1 {
				out = append(out, line)
			}
			line = nil
			continue
		}
		y := row + math.Copysign(h.apart/2+free/2, off)
		line = append(line, spot{at: geom.Vec{X: x, Y: y}, wide: free})
	}
	if len(line) > 1 {
		out = append(out, line)
	}
	return out
}

// above returns how far a line is from a row at a place along it, the farthest if it is there more than once.
func above(line []geom.Vec, x, row float64) (off float64, ok bool) {
	for i := range len(line) - 1 {
		p, q := line[i], line[i+1]
		if (p.X <= x) == (q.X <= x) {
			continue
		}
		if y := p.Y + (q.Y-p.Y)*(x-p.X)/(q.X-p.X) - row; math.Abs(y) > math.Abs(off) {
			off = y
		}
		ok = true
	}
	return off, ok
}
