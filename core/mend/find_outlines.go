package mend

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// touchingMM is the distance in mm below which ends meet: what files round away.
const touchingMM = 0.02

// dustMM is the size in mm below which nothing is worth a word: a solid has it
// or not, and nobody sees it.
const dustMM = 0.05

// findOpen finds filled contours that are not closed, and lines whose two ends
// nearly meet.
func findOpen(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		sh := l.shape(k)
		for i, c := range l.contours(k) {
			gap := l.mmLen(c.End().Sub(c.Start).Len())
			if c.Closed || len(c.Segs) < 2 || gap <= touchingMM {
				continue
			}
			if sh.Stroke != nil && (gap > l.limits.Gap || len(sh.Stroke.Dashes) > 0) {
				continue
			}
			out = append(out, l.openContour(k, i, c, gap))
		}
	}
	return out
}

func (l *look) openContour(k, i int, c geom.Contour, gap float64) Finding {
	m := recipe.Mend{Do: "close", Shapes: []string{l.key(k)}, Nodes: [][2]int{{i, 0}}}
	how := func(h string) recipe.Mend {
		m.How = h
		return m
	}
	join := fix(how("join"), "Bring both ends together in the middle of the gap")
	line := fix(how("straight"), "Close the gap by a straight line")
	f := Finding{
		Shapes: []string{l.key(k)}, At: c.Start.Lerp(c.End(), 0.5), Box: geom.EmptyBox().Grow(c.Start).Grow(c.End()),
		Measure: "gap " + mmOf(gap), Fixes: []Fix{line, join},
	}
	if gap <= l.limits.Gap {
		f.Fixes = []Fix{join, line}
	}
	if l.shape(k).Stroke == nil {
		m.MM = []float64{math.Max(l.limits.Thin, 0.1)}
		f.Fixes = append(f.Fixes, fix(how("line"), "Make the outline a line %s wide", mmOf(m.MM[0])))
	}
	return f
}

// findEnds finds ends of different open contours that nearly meet.
func findEnds(l *look) []Finding {
	type end struct {
		k, contour, last int
		at               geom.Vec
	}
	var ends []end
	for k := range l.taken {
		if s := l.shape(k).Stroke; s != nil && len(s.Dashes) > 0 {
			continue
		}
		for i, c := range l.contours(k) {
			if !c.Closed && len(c.Segs) > 0 && c.End() != c.Start {
				ends = append(ends, end{k, i, 0, c.Start}, end{k, i, 1, c.End()})
			}
		}
	}
	far := l.px(l.limits.Gap)
	cells := map[[2]int][]int{}
	cell := func(v geom.Vec) [2]int { return [2]int{int(math.Floor(v.X / far)), int(math.Floor(v.Y / far))} }
	if far > 0 {
		for i, e := range ends {
			cells[cell(e.at)] = append(cells[cell(e.at)], i)
		}
	}
	used := map[int]bool{}
	var out []Finding
	for i, e := range ends {
		best, least := -1, far
		c := cell(e.at)
		met := false
		for x := c[0] - 1; x <= c[0]+1; x++ {
			for y := c[1] - 1; y <= c[1]+1; y++ {
				for _, j := range cells[[2]int{x, y}] {
					o := ends[j]
					d := o.at.Sub(e.at).Len()
					if j == i || l.mmLen(d) > l.limits.Gap {
						continue
					}
					met = met || l.mmLen(d) <= touchingMM
					if j > i && !used[j] && d < least && (o.k != e.k || o.contour != e.contour) && l.alike(e.k, o.k) {
						best, least = j, d
					}
				}
			}
		}
		if best < 0 || met || used[i] || l.mmLen(least) <= touchingMM {
			continue
		}
		used[i], used[best] = true, true
		o := ends[best]
		m := recipe.Mend{Do: "link", Shapes: []string{l.key(e.k)}, Nodes: [][2]int{{e.contour, e.last}, {o.contour, o.last}}}
		if o.k != e.k {
			m.Shapes = append(m.Shapes, l.key(o.k))
		}
		out = append(out, Finding{
			Shapes: m.Shapes, At: e.at.Lerp(o.at, 0.5), Box: geom.EmptyBox().Grow(e.at).Grow(o.at),
			Measure: "gap " + mmOf(l.mmLen(least)), Fixes: []Fix{fix(m, "Join the two ends in the middle of the gap")},
		})
	}
	return out
}

// alike reports whether two shapes are painted the same way: both filled, or
// both lines of one width, of one colour.
func (l *look) alike(j, k int) bool {
	a, b := l.shape(j), l.shape(k)
	if l.Color[l.taken[j]] != l.Color[l.taken[k]] || (a.Stroke == nil) != (b.Stroke == nil) {
		return false
	}
	return a.Stroke == nil || math.Abs(a.Stroke.Width*a.Matrix.MaxScale()-b.Stroke.Width*b.Matrix.MaxScale()) <
		0.05*b.Stroke.Width*b.Matrix.MaxScale()
}

// findWeld finds shapes with doubled nodes, segments without length, and nodes
// in the run of a straight line.
func findWeld(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		sh := l.shape(k)
		tol := l.px(l.limits.Weld)
		lost, at := 0, geom.Vec{}
		for _, c := range l.contours(k) {
			fresh, n := welded(c, tol)
			if n > 0 && lost == 0 {
				at = missing(c, fresh)
			}
			if n > 0 && len(fresh.Segs) == 0 {
				n = 0 // a scrap, and found as one
			}
			lost += n
		}
		if lost == 0 {
			continue
		}
		m := recipe.Mend{Do: "weld", Shapes: []string{sh.Key}, MM: []float64{l.limits.Weld}}
		out = append(out, Finding{
			Shapes: []string{sh.Key}, At: at, Box: l.around(at, 1),
			Measure: units.Plural(lost, "node", "nodes"),
			Fixes:   []Fix{fix(m, "Drop %s that the outline does not need", units.Plural(lost, "node", "nodes"))},
		})
	}
	return out
}

// missing returns the first node of a contour that another lacks.
func missing(c, fresh geom.Contour) geom.Vec {
	p, q := PathOf(c), PathOf(fresh)
	have := map[geom.Vec]int{}
	for _, v := range q.At {
		have[v]++
	}
	for _, v := range p.At {
		if have[v]--; have[v] < 0 {
			return v
		}
	}
	return c.Start
}

// The nodes from which on a contour is looked at for a simpler one, and how
// many it has to save: half of them, and twelve.
const (
	manyNodes   = 30
	leastSaving = 12
)

// findNodes finds shapes whose form needs far fewer nodes.
func findNodes(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		sh := l.shape(k)
		was, is := 0, 0
		tol := l.px(l.limits.Refit) / math.Max(sh.Matrix.MaxScale(), 1e-300)
		for _, c := range sh.Contours {
			was += len(c.Segs)
			if len(c.Segs) >= manyNodes {
				c = refitted(c, tol)
			}
			is += len(c.Segs)
		}
		if was-is < leastSaving || is*2 > was {
			continue
		}
		m := recipe.Mend{Do: "refit", Shapes: []string{sh.Key}, MM: []float64{l.limits.Refit}}
		out = append(out, Finding{
			Shapes: []string{sh.Key}, At: l.box[k].Center(), Box: l.box[k], Measure: units.Count(was) + " nodes",
			Fixes: []Fix{fix(m, "Draw it anew with %s nodes, within %s", units.Count(is), mmOf(l.limits.Refit))},
		})
	}
	return out
}

// maxCrossings bounds how many crossings of a shape are looked at.
const maxCrossings = 400

// flat returns the loops of a shape, one for each contour.
func (l *look) flat(k int) []plane.Loop {
	sh := l.shape(k)
	return l.loops(sh.Contours, sh.Matrix, nil, l.tol)
}

// crossingsOf returns the crossings of a filled shape's contours that are more
// than roundings of outlines that run along each other: a tenth of a millimetre
// further on, the outlines are apart.
func (l *look) crossingsOf(k int) (loops []plane.Loop, out []plane.Crossing) {
	if l.shape(k).Stroke != nil {
		return nil, nil
	}
	loops = l.flat(k)
	if _, ok := plane.FillSimple(loops, plane.NonZero); ok {
		return loops, nil
	}
	var index map[int]*plane.SegmentIndex
	for _, c := range plane.Crossings(loops, maxCrossings) {
		if index == nil {
			index = map[int]*plane.SegmentIndex{}
		}
		if l.parting(loops, c, index) {
			out = append(out, c)
		}
	}
	return loops, out
}

// parting reports whether the outlines part behind a crossing.
func (l *look) parting(loops []plane.Loop, c plane.Crossing, index map[int]*plane.SegmentIndex) bool {
	far := l.units(2 * dustMM)
	if c.Loop[0] == c.Loop[1] {
		lp := loops[c.Loop[0]]
		return leaves(lp, c, 0, far) && leaves(lp, c, 1, far)
	}
	for side := range 2 {
		other := c.Loop[1-side]
		if index[other] == nil {
			index[other] = plane.NewLoopIndex(loops[other : other+1])
		}
		for _, back := range [2]bool{false, true} {
			p := walk(loops[c.Loop[side]], c.Edge[side], c.At, far, back)
			if d := index[other].Nearest(p.X, p.Y, math.Inf(1)).Dist; d > far/10 {
				return true
			}
		}
	}
	return false
}

// leaves reports whether one of two crossing edges of a loop is, a little
// further on both ways, away from where the other one runs.
func leaves(lp plane.Loop, c plane.Crossing, side int, far float64) bool {
	const steps = 12
	var other []geom.Vec
	for i := -steps; i <= steps; i++ {
		d := 1.5 * far * math.Abs(float64(i)) / steps
		other = append(other, walk(lp, c.Edge[1-side], c.At, d, i < 0))
	}
	for _, back := range [2]bool{false, true} {
		p := walk(lp, c.Edge[side], c.At, far, back)
		near := math.Inf(1)
		for i := 1; i < len(other); i++ {
			near = math.Min(near, geom.ToSegment(p, other[i-1], other[i]))
		}
		if near < far/12 {
			return false
		}
	}
	return true
}

// walk returns the point so far along a loop from a point of one of its edges.
func walk(l plane.Loop, edge int, from plane.Point, far float64, back bool) geom.Vec {
	n := len(l)
	at := vecOf(from)
	for range n {
		to := vecOf(l[(edge+1)%n])
		if back {
			to = vecOf(l[edge])
		}
		d := to.Sub(at).Len()
		if d >= far && d > 0 {
			return at.Lerp(to, far/d)
		}
		far -= d
		at = to
		if back {
			edge = (edge + n - 1) % n
		} else {
			edge = (edge + 1) % n
		}
	}
	return at
}

// findCrossings finds filled shapes whose outline crosses itself, but for holes
// that cross their outer contour.
func findCrossings(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		loops, list := l.crossingsOf(k)
		var own []plane.Crossing
		for _, c := range list {
			if !l.acrossHole(k, loops, c) {
				own = append(own, c)
			}
		}
		if len(own) == 0 {
			continue
		}
		box := geom.EmptyBox()
		for _, c := range own {
			box = box.Grow(l.place(c.At))
		}
		m := recipe.Mend{Do: "resolve", Shapes: []string{l.key(k)}}
		rule := "what the outline winds around stays"
		if l.shape(k).EvenOdd {
			rule = "what it crosses twice stays open"
		}
		out = append(out, Finding{
			Shapes: []string{l.key(k)}, At: l.place(own[0].At), Box: box,
			Measure: units.Plural(len(own), "crossing", "crossings"),
			Fixes:   []Fix{fix(m, "Draw it without crossings: %s", rule)},
		})
	}
	return out
}

// acrossHole reports whether a crossing is that of a hole's contour with its
// outer one: two contours that run against each other, or, where the even-odd
// rule makes holes, one much smaller than the other.
func (l *look) acrossHole(k int, loops []plane.Loop, c plane.Crossing) bool {
	if c.Loop[0] == c.Loop[1] {
		return false
	}
	a, b := loops[c.Loop[0]].Area2(), loops[c.Loop[1]].Area2()
	if l.shape(k).EvenOdd {
		small, large := min(abs64(a), abs64(b)), max(abs64(a), abs64(b))
		return small*2 < large
	}
	return (a > 0) != (b > 0)
}

func abs64(v int64) int64 { return max(v, -v) }
