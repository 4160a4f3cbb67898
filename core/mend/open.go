package mend

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// touchingMM is the distance in mm below which ends meet: what files round away.
const touchingMM = 0.02

// findOpen finds filled contours that are not closed, and lines whose two ends
// nearly meet.
func findOpen(l *look) []Finding {
	var out []Finding
	for k := range l.taken {
		l.needed()
		sh := l.shape(k)
		for i, c := range l.contours(k) {
			gap := l.mmLen(c.End().Sub(c.Start).Len())
			if c.Closed || len(c.Segs) < 2 || gap <= touchingMM {
				continue
			}
			if sh.Stroke != nil && (gap > l.limits.Gap || len(sh.Stroke.Dashes) > 0 || l.along(k)) {
				continue
			}
			out = append(out, l.openContour(k, i, c, gap))
		}
	}
	return out
}

// along reports whether a stroke runs along a filled shape below it, of the same contours: open on purpose, as
// the filling closes its own by itself.
func (l *look) along(k int) bool {
	if k == 0 || l.shape(k-1).Stroke != nil {
		return false
	}
	return sameContours(l.shape(k-1).Contours, l.shape(k).Contours)
}

func sameContours(a, b []geom.Contour) bool {
	return slices.EqualFunc(a, b, func(c, d geom.Contour) bool {
		return c.Start == d.Start && slices.Equal(c.Segs, d.Segs)
	})
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
	if l.shape(k).Stroke == nil {
		f.Copes = true // what is filled is closed by a straight line
	} else {
		f.Fixes = []Fix{join, line}
	}
	if _, ok := meeting(c); ok {
		f.Fixes = append(f.Fixes, fix(how("extend"), "Let both ends run on straight until they meet"))
	}
	if l.shape(k).Stroke == nil {
		m.MM = []float64{math.Max(l.limits.Thin, 0.1)}
		f.Fixes = append(f.Fixes, fix(how("line"), "Make the outline a line %s wide", mmOf(m.MM[0])))
	}
	return f
}

// closeContours closes the open contours of a shape, or those that Nodes names.
// How tells the way: "join" brings both ends to the middle between them,
// "straight" joins them by a line, "extend" lets both run on straight until they
// meet, "line" makes the shape a line of the width
// MM[0].
func closeContours(w *Work, m *recipe.Mend) error {
	i, err := w.first(m)
	if err != nil {
		return err
	}
	sh := w.Sheet.Shapes[i]
	if m.How == "line" {
		if len(m.MM) == 0 || !(m.MM[0] > 0) {
			return refuse("a line needs a width")
		}
		w.Sheet.Shapes[i].Stroke = &geom.StrokeStyle{
			Width: w.px(m.MM[0]) / sh.Matrix.MaxScale(), Cap: geom.RoundCap, Join: geom.RoundJoin, MiterLimit: 4,
		}
		return nil
	}
	list := slices.Clone(sh.Contours)
	named := contoursNamed(m)
	done := 0
	for k := range list {
		if list[k].Closed || len(list[k].Segs) == 0 || len(named) > 0 && !named[k] {
			continue
		}
		if m.How == "extend" {
			at, ok := meeting(list[k])
			if !ok {
				return refuse("the ends of %s do not run towards each other", nameOf(&sh))
			}
			list[k] = list[k].Clone()
			list[k].Closed = true
			list[k].Segs = append(list[k].Segs, geom.Segment{To: at}, geom.Segment{To: list[k].Start})
		} else {
			list[k] = closed(list[k], m.How != "straight")
		}
		done++
	}
	if done == 0 {
		return lost("an open contour of " + nameOf(&sh))
	}
	w.Sheet.Shapes[i].Contours = list
	return nil
}

// meeting returns where the two ends of an open contour meet when they run on
// straight: ahead of both, and no farther than the contour is long.
func meeting(c geom.Contour) (geom.Vec, bool) {
	n := len(c.Segs) - 1
	on := c.Segs[n].Speed(c.From(n), 1).Unit()
	back := c.Segs[0].Speed(c.Start, 0).Unit().Mul(-1)
	den := on.Cross(back)
	if math.Abs(den) < 0.02 { // nearly along each other
		return geom.Vec{}, false
	}
	d := c.Start.Sub(c.End())
	a, b := d.Cross(back)/den, d.Cross(on)/den
	box := c.TightBox()
	most := math.Max(box.W(), box.H())
	return c.End().Add(on.Mul(a)), a >= 0 && b >= 0 && a <= most && b <= most
}

// closed returns a contour closed, its ends brought together in the middle or
// joined by a line.
func closed(c geom.Contour, together bool) geom.Contour {
	c = c.Clone()
	c.Closed = true
	if c.End() == c.Start {
		return c
	}
	if !together || len(c.Segs) < 2 {
		c.Segs = append(c.Segs, geom.Segment{Kind: geom.Line, To: c.Start})
		return c
	}
	mid := c.Start.Lerp(c.End(), 0.5)
	moveEnd(&c, false, mid)
	moveEnd(&c, true, mid)
	return c
}

// moveEnd moves an end of an open contour with its handle.
func moveEnd(c *geom.Contour, last bool, to geom.Vec) {
	n := len(c.Segs) - 1
	if last {
		s := &c.Segs[n]
		by := to.Sub(s.To)
		if s.Kind == geom.Cubic {
			s.C2 = s.C2.Add(by)
		}
		s.To = to
		return
	}
	by := to.Sub(c.Start)
	if c.Segs[0].Kind == geom.Cubic {
		c.Segs[0].C1 = c.Segs[0].C1.Add(by)
	}
	c.Start = to
}
