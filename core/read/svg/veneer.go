package svg

import (
	"fmt"
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// rebuilding makes shapes of the layers that a filter leaves.
type rebuilding struct {
	r          *reader
	drawn      []artwork.Shape // what the filter was given
	m, inverse geom.Matrix     // between the element's space and the page
}

// shapes returns the shapes of layers; ok is false where shapes that would cut others are cut
// themselves.
func (b *rebuilding) shapes(layers []veneer) (out []artwork.Shape, ok bool) {
	// What is nowhere in the region shows nowhere.
	layers = slices.DeleteFunc(layers, func(v veneer) bool { return v.within != nil && v.within.Empty() || v.flood && v.box.Empty() })
	if len(layers) == 1 && layers[0].plain() {
		return b.drawn, true
	}
	for i := range layers {
		v := &layers[i]
		suffix := ""
		if i+1 < len(layers) {
			suffix = fmt.Sprintf("+f%d", i+1)
		}
		clips, ok := b.clipsOf(v)
		if !ok {
			return nil, false
		}
		for _, s := range b.layer(v) {
			s.Key += suffix
			s.Clips = append(s.Clips[:len(s.Clips):len(s.Clips)], clips...)
			v.paint(&s)
			if s.Opacity > 0 {
				b.r.budget.Spend(budget.Nodes, len(s.Contours))
				out = append(out, s)
			}
		}
	}
	return out, true
}

// plain reports whether a layer is what the filter was given.
func (v *veneer) plain() bool {
	return !v.flood && v.shapes == nil && !v.dyed && v.within == nil && len(v.tints)+len(v.cuts) == 0 && v.alpha == 1 &&
		v.dx == 0 && v.dy == 0 && v.rx == 0 && v.ry == 0
}

// move leads from the element's space to where a layer lies on the page.
func (b *rebuilding) move(v *veneer) geom.Matrix { return b.m.Mul(geom.Translate(v.dx, v.dy)) }

// layer returns the outlines of a layer.
func (b *rebuilding) layer(v *veneer) []artwork.Shape {
	if v.flood {
		s := b.drawn[0]
		s.Key, s.Name, s.Stroke, s.Gradient, s.EvenOdd = s.Key+"+flood", s.Name+" (flood)", nil, nil, false
		s.Clips, s.Opacity = nil, 1
		s.Contours, s.Matrix = rectangle(v.box.Min.X, v.box.Min.Y, v.box.W(), v.box.H(), "", "", 0, 0), b.move(v)
		if len(s.Contours) == 0 {
			return nil
		}
		return []artwork.Shape{s}
	}
	out := append([]artwork.Shape(nil), b.drawn...)
	if v.shapes != nil {
		out = append([]artwork.Shape(nil), v.shapes...)
	}
	for i := range out {
		if v.rx != 0 || v.ry != 0 {
			out[i] = b.morphed(out[i], v)
		} else {
			out[i].Matrix = b.move(v).Mul(b.inverse).Mul(out[i].Matrix)
		}
	}
	return out
}

// paint gives a shape of a layer its colours.
func (v *veneer) paint(s *artwork.Shape) {
	if v.dyed || v.flood {
		s.Color, s.Gradient = v.color, nil
	}
	s.Opacity *= v.alpha
	for _, t := range v.tints {
		c := t(rgbaOf(s.Color, s.Opacity))
		s.Color, s.Opacity = c.color()
		if s.Gradient == nil {
			continue
		}
		g := *s.Gradient
		g.Stops = between(g.Stops)
		for i, stop := range g.Stops {
			g.Stops[i].Color, g.Stops[i].Opacity = t(rgbaOf(stop.Color, stop.Opacity)).color()
		}
		s.Gradient = &g
	}
}

// between returns the stops of a gradient with more between them, whose colours a filter may
// change otherwise than those of their neighbours.
func between(stops []artwork.Stop) (out []artwork.Stop) {
	const pieces = 16
	for i, s := range stops {
		if i > 0 && len(stops) <= 2*pieces {
			a, b := rgbaOf(stops[i-1].Color, stops[i-1].Opacity), rgbaOf(s.Color, s.Opacity)
			for k := 1; k < pieces; k++ {
				t := float64(k) / pieces
				var c rgba
				for j := range c {
					c[j] = a[j] + t*(b[j]-a[j])
				}
				stop := artwork.Stop{At: stops[i-1].At + t*(s.At-stops[i-1].At)}
				stop.Color, stop.Opacity = c.color()
				out = append(out, stop)
			}
		}
		out = append(out, s)
	}
	return out
}

// clipsOf returns what a layer shows in.
func (b *rebuilding) clipsOf(v *veneer) (clips []*artwork.Clip, ok bool) {
	if w := v.within; w != nil {
		frame := artwork.ClipItem{Contours: rectangle(w.Min.X, w.Min.Y, w.W(), w.H(), "", "", 0, 0), Matrix: b.move(v)}
		clips = append(clips, &artwork.Clip{Items: []artwork.ClipItem{frame}})
	}
	for _, c := range v.cuts {
		clip := &artwork.Clip{Outside: c.outside}
		for i := range c.layers {
			for _, s := range b.layer(&c.layers[i]) {
				if len(s.Clips) > 0 {
					return nil, false
				}
				clip.Items = append(clip.Items, b.itemOf(s))
			}
		}
		clips = append(clips, clip)
	}
	return clips, true
}

// itemOf returns what a shape covers.
func (b *rebuilding) itemOf(s artwork.Shape) artwork.ClipItem {
	if s.Stroke == nil {
		return artwork.ClipItem{Contours: s.Contours, Matrix: s.Matrix, EvenOdd: s.EvenOdd}
	}
	return artwork.ClipItem{Contours: b.loops(s, geom.Identity), Matrix: geom.Identity}
}

// loops returns the outline of a shape in straight pieces, m leading there from the page.
func (b *rebuilding) loops(s artwork.Shape, m geom.Matrix) (out []geom.Contour) {
	for _, c := range artwork.Straight(s.Outline(finely(s.Box()))) {
		b.r.budget.Spend(budget.Nodes, len(c.Segs)+1)
		out = append(out, c.Transform(m))
	}
	return out
}

// finely is within what outlines are drawn as straight pieces: half of what a picture of two
// thousand pixels shows.
func finely(b geom.Box) float64 { return math.Max(math.Max(b.W(), b.H()), 1e-6) / 4000 }

// morphed returns a shape grown by a box that is moved along its outline, or thinned by what
// that covers (Filter Effects Module Level 1, feMorphology: the box reaches rx and ry).
func (b *rebuilding) morphed(s artwork.Shape, v *veneer) artwork.Shape {
	loops := b.loops(s, b.inverse)
	rx, ry := math.Abs(v.rx), math.Abs(v.ry)
	brush := artwork.ClipItem{Matrix: b.move(v)}
	own, box := geom.EmptyBox(), geom.Box{}
	for _, c := range loops {
		at := c.Start
		for i := 0; i <= len(c.Segs); i++ {
			to := c.Start
			if i < len(c.Segs) {
				to = c.Segs[i].To
			}
			if to != at || len(c.Segs) == 0 {
				brush.Contours = append(brush.Contours, swept(at, to, rx, ry))
			}
			own, at = own.Grow(to), to
		}
	}
	b.r.budget.Spend(budget.Nodes, 6*len(brush.Contours))
	if v.rx < 0 || v.ry < 0 {
		s.Matrix = b.move(v).Mul(b.inverse).Mul(s.Matrix)
		s.Clips = append(s.Clips[:len(s.Clips):len(s.Clips)], &artwork.Clip{Outside: true, Items: []artwork.ClipItem{brush}})
		return s
	}
	box = geom.Box{Min: own.Min.Sub(geom.Vec{X: rx, Y: ry}), Max: own.Max.Add(geom.Vec{X: rx, Y: ry})}
	fill := artwork.ClipItem{Contours: loops, Matrix: b.move(v), EvenOdd: s.EvenOdd && s.Stroke == nil}
	s.Clips = append(s.Clips[:len(s.Clips):len(s.Clips)], &artwork.Clip{Items: []artwork.ClipItem{fill, brush}})
	s.Contours = rectangle(box.Min.X, box.Min.Y, box.W(), box.H(), "", "", 0, 0)
	s.Matrix, s.Stroke, s.EvenOdd = b.move(v), nil, false
	return s
}

// swept returns what a box that reaches rx and ry covers on its way from p to q.
func swept(p, q geom.Vec, rx, ry float64) geom.Contour {
	if p.X > q.X {
		p, q = q, p
	}
	at := func(v geom.Vec, x, y float64) geom.Vec { return geom.Vec{X: v.X + x*rx, Y: v.Y + y*ry} }
	corners := []geom.Vec{at(p, -1, -1), at(p, 1, -1), at(q, 1, -1), at(q, 1, 1), at(q, -1, 1), at(p, -1, 1)}
	if p.Y > q.Y {
		corners = []geom.Vec{at(p, -1, -1), at(q, -1, -1), at(q, 1, -1), at(q, 1, 1), at(p, 1, 1), at(p, -1, 1)}
	}
	c := geom.Contour{Start: corners[0], Closed: true}
	for _, v := range corners[1:] {
		c.Segs = append(c.Segs, geom.Segment{To: v})
	}
	return c
}

// grown is what feMorphology makes of layers. What is thinned has to be one shape: of several
// it would be their common outline.
func (f *filtering) grown(k *node, in []veneer) (out []veneer, ok bool) {
	r := numbers(k.attr("radius"))
	if len(r) == 1 {
		r = append(r, r[0])
	}
	if len(r) != 2 || r[0] < 0 || r[1] < 0 || f.boxed {
		return nil, false
	}
	if r[0] == 0 && r[1] == 0 {
		return in, true
	}
	dilate := k.attr("operator") == "dilate"
	for _, v := range in {
		if len(v.cuts) > 0 || v.within != nil || v.rx != 0 || v.ry != 0 || !dilate && f.several {
			return nil, false
		}
		switch {
		case v.flood && dilate:
			v.box = geom.Box{Min: v.box.Min.Sub(geom.Vec{X: r[0], Y: r[1]}), Max: v.box.Max.Add(geom.Vec{X: r[0], Y: r[1]})}
		case v.flood:
			v.box = geom.Box{Min: v.box.Min.Add(geom.Vec{X: r[0], Y: r[1]}), Max: v.box.Max.Sub(geom.Vec{X: r[0], Y: r[1]})}
		case dilate:
			v.rx, v.ry = r[0], r[1]
		default:
			v.rx, v.ry = -r[0], -r[1]
		}
		out = append(out, v)
	}
	return out, true
}
