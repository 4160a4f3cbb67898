package svg

import (
	"fmt"
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// vertex is a point of an outline with the directions in which it is reached
// and left; either may be zero.
type vertex struct{ at, in, out geom.Vec }

// vertices lists the points of all contours in order (SVG 2, 13.7.4).
func vertices(contours []geom.Contour) []vertex {
	var out []vertex
	for _, c := range contours {
		first := len(out)
		out = append(out, vertex{at: c.Start})
		for _, s := range c.Segs {
			p := &out[len(out)-1]
			ctl := []geom.Vec{s.To}
			switch s.Kind {
			case geom.Quad:
				ctl = []geom.Vec{s.C1, s.To}
			case geom.Cubic:
				ctl = []geom.Vec{s.C1, s.C2, s.To}
			}
			for _, q := range ctl { // the first control point that is elsewhere
				if d := q.Sub(p.at); d != (geom.Vec{}) {
					p.out = d.Unit()
					break
				}
			}
			v := vertex{at: s.To}
			for i := len(ctl) - 2; i >= -1; i-- {
				from := p.at
				if i >= 0 {
					from = ctl[i]
				}
				if d := s.To.Sub(from); d != (geom.Vec{}) {
					v.in = d.Unit()
					break
				}
			}
			out = append(out, v)
		}
		if c.Closed && len(out) > first+1 {
			last := &out[len(out)-1]
			if last.at != c.Start {
				d := c.Start.Sub(last.at).Unit()
				last.out = d
				out = append(out, vertex{at: c.Start, in: d})
				last = &out[len(out)-1]
			}
			last.out = out[first].out
			out[first].in = last.in
		}
	}
	return out
}

// markers draws the markers of a path, line, polyline or polygon.
func (r *reader) markers(
	n *node,
	contours []geom.Contour,
	m geom.Matrix,
	st *style,
	group int,
	hidden bool,
	key string,
) error {
	switch n.name {
	case "path", "line", "polyline", "polygon":
	default:
		return nil
	}
	if st.markers == [3]string{} {
		return nil
	}
	vs := vertices(contours)
	if len(vs) > 10_000 {
		r.sheet.Note(artwork.NoteManyMarkers, n.describe())
		return nil
	}
	for i, v := range vs {
		for k, ref := range st.markers {
			if ref == "" || ref == "none" || (k == 0) != (i == 0) && k == 0 ||
				(k == 2) != (i == len(vs)-1) && k == 2 ||
				k == 1 && (i == 0 || i == len(vs)-1) {
				continue
			}
			target := r.reference(ref)
			if target == nil || target.name != "marker" || r.using[target] {
				r.sheet.Note(artwork.NoteMissingMarker, n.describe())
				continue
			}
			r.budget.Spend(budget.Copies, 1)
			if err := r.marker(target, v, k == 0, m, st, group, hidden, fmt.Sprintf("%s/m%d.%d", key, i, k)); err != nil {
				return err
			}
		}
	}
	return nil
}

func (r *reader) marker(
	target *node,
	v vertex,
	start bool,
	m geom.Matrix,
	st *style,
	group int,
	hidden bool,
	key string,
) error {
	r.using[target] = true
	defer delete(r.using, target)
	outer := r.view
	defer func() { r.view = outer }()
	angle := 0.0
	switch orient := target.attr("orient"); orient {
	case "auto", "auto-start-reverse":
		d := v.in.Unit().Add(v.out.Unit())
		if d == (geom.Vec{}) {
			d = v.out
		}
		angle = math.Atan2(d.Y, d.X)
		if start && orient == "auto-start-reverse" {
			angle += math.Pi
		}
	default:
		p := scanner{s: orient}
		a, _ := p.number()
		angle = a * math.Pi / 180
	}
	t := m.Mul(geom.Translate(v.at.X, v.at.Y)).Mul(geom.Rotate(angle))
	if target.attr("markerUnits") != "userSpaceOnUse" {
		w := r.length(st.width, r.diagonal(), st)
		t = t.Mul(geom.Scale(w, w))
	}
	w, h := r.length(
		orText(target.attr("markerWidth"), "3"),
		1,
		st,
	), r.length(
		orText(target.attr("markerHeight"), "3"),
		1,
		st,
	)
	if !(w > 0) || !(h > 0) {
		return nil
	}
	fitted := geom.Identity
	r.view = geom.Box{Max: geom.Vec{X: w, Y: h}}
	if vb, ok := viewBox(target.attr("viewBox")); ok {
		fitted = fit(vb, w, h, target.attr("preserveAspectRatio"))
		r.view = vb
	}
	ref := fitted.Apply(
		geom.Vec{
			X: r.length(target.attr("refX"), r.view.W(), st),
			Y: r.length(target.attr("refY"), r.view.H(), st),
		},
	)
	t = t.Mul(geom.Translate(-ref.X, -ref.Y))
	inner, err := r.inherited(target)
	if err != nil {
		return err
	}
	inner.markers = [3]string{}
	inner.clips = st.clips
	inner.context = st.paints()
	if o := r.cascade(target)["overflow"]; o != "visible" && o != "auto" {
		cut := &artwork.Clip{Items: []artwork.ClipItem{{Contours: rectangle(0, 0, w, h, "", "", 0, 0), Matrix: t}}}
		inner.clips = append(inner.clips[:len(inner.clips):len(inner.clips)], cut)
	}
	t = t.Mul(fitted)
	inner.opacity *= st.opacity
	return r.children(target, t, inner, group, hidden, key)
}
