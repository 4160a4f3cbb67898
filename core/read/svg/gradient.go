package svg

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

// gradient reads a gradient element for a shape whose fill has the given box
// in its own space m. It returns nil for one without stops.
func (r *reader) gradient(n *node, st *style, m geom.Matrix, box geom.Box) *artwork.Gradient {
	// Attributes and stops come from the first along the chain that has them.
	var chain []*node
	for g, hops := n, 0; g != nil && hops < 20; hops++ {
		chain = append(chain, g)
		g = r.reference(g.attr("href"))
	}
	get := func(name, other string) string {
		for _, g := range chain {
			if v := g.attr(name); v != "" {
				return v
			}
		}
		return other
	}
	out := &artwork.Gradient{Radial: n.name == "radialGradient", Spread: get("spreadMethod", "pad")}
	for _, g := range chain {
		if out.Stops = r.stops(g, st); len(out.Stops) > 0 {
			break
		}
	}
	if len(out.Stops) == 0 {
		return nil
	}
	w, h, diag := r.view.W(), r.view.H(), r.diagonal()
	own := get("gradientUnits", "objectBoundingBox") != "userSpaceOnUse"
	if own {
		w, h, diag = 1, 1, 1
		m = m.Mul(geom.Matrix{A: box.W(), D: box.H(), E: box.Min.X, F: box.Min.Y})
	}
	if t := get("gradientTransform", ""); t != "" {
		tm, _ := parseTransform(t)
		m = m.Mul(tm)
	}
	out.Matrix = m
	x := func(name, other string) float64 { return r.length(get(name, other), w, st) }
	y := func(name, other string) float64 { return r.length(get(name, other), h, st) }
	if !out.Radial {
		out.P = geom.Vec{X: x("x1", "0%"), Y: y("y1", "0%")}
		out.Q = geom.Vec{X: x("x2", "100%"), Y: y("y2", "0%")}
		return out
	}
	out.Q = geom.Vec{X: x("cx", "50%"), Y: y("cy", "50%")}
	out.R = r.length(get("r", "50%"), diag, st)
	out.FR = r.length(get("fr", "0"), diag, st)
	out.P = out.Q
	if v := get("fx", ""); v != "" {
		out.P.X = r.length(v, w, st)
	}
	if v := get("fy", ""); v != "" {
		out.P.Y = r.length(v, h, st)
	}
	// A focus outside the circle moves to its rim.
	if d := out.P.Sub(out.Q); d.Len() > out.R*0.999 {
		out.P = out.Q.Add(d.Unit().Mul(out.R * 0.999))
	}
	return out
}

// stopValue returns a property of a stop. It is not inherited, unless the file says that it is.
func (r *reader) stopValue(n *node, name string) string {
	v := r.cascade(n)[name]
	if v == "inherit" && n.parent != nil {
		return r.stopValue(n.parent, name)
	}
	return v
}

func (r *reader) stops(g *node, st *style) []artwork.Stop {
	var stops []artwork.Stop
	last := 0.0
	for _, k := range g.kids {
		if k.name != "stop" {
			continue
		}
		col, opacity := r.stopValue(k, "stop-color"), r.stopValue(k, "stop-opacity")
		if strings.EqualFold(col, "currentcolor") {
			col = st.color
			if own, err := r.inherited(k); err == nil {
				col = own.color
			}
		}
		c, a, ok := parseColor(col)
		if !ok {
			c, a = artwork.Color{}, 1
		}
		if opacity != "" {
			a *= alpha(opacity)
		}
		last = math.Max(last, alpha(orText(k.attr("offset"), "0")))
		stops = append(stops, artwork.Stop{At: last, Color: c, Opacity: a})
	}
	return stops
}

func orText(s, other string) string {
	if s == "" {
		return other
	}
	return s
}
