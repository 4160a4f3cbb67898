package svg

import (
	"fmt"
	"slices"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// Filters as far as they are geometry (Filter Effects Module Level 1): what moves, recolours,
// repeats or frames shapes. What is blurred is shine and shade, and is left out.

// veneer is a layer of a filter's picture: the shapes themselves, or a plain rectangle.
type veneer struct {
	flood   bool
	box     geom.Box // of a flood, in the element's space
	color   artwork.Color
	alpha   float64
	dyed    bool // color takes the place of the shapes' own
	dx, dy  float64
	blurred bool
	within  *geom.Box // shows only there
}

// filtering evaluates one filter.
type filtering struct {
	r       *reader
	st      *style
	own     geom.Box // of the element, in its own space
	region  geom.Box
	boxed   bool // primitives are measured by the element's box
	results map[string][]veneer
	last    []veneer
}

// filter applies the filter of an element to the shapes that it has drawn, those from number
// first on. What it can't is noted, and the shapes stay as they are.
func (r *reader) filter(n *node, ref string, m geom.Matrix, st *style, first int) {
	note := func() { // about the shapes that were drawn
		all := r.sheet.Shapes
		r.sheet.Shapes = all[:first]
		r.sheet.Note(artwork.NoteFilter, n.describe())
		r.sheet.Shapes = all
	}
	target := r.reference(ref)
	inverse := m.Inverse()
	if target == nil || target.name != "filter" || len(r.sheet.Shapes) == first || m.Det() == 0 {
		note()
		return
	}
	f := &filtering{r: r, st: st, own: geom.EmptyBox(), results: map[string][]veneer{}}
	drawn := r.sheet.Shapes[first:]
	for i := range drawn {
		f.own = f.own.Union(drawn[i].Box().Transform(inverse))
	}
	f.boxed = target.attr("primitiveUnits") == "objectBoundingBox"
	usual, boxed := r.view, target.attr("filterUnits") != "userSpaceOnUse"
	if boxed {
		usual = f.own
	}
	f.region = f.area(target, boxed, geom.Box{ // a tenth beyond it on all sides
		Min: geom.Vec{X: usual.Min.X - 0.1*usual.W(), Y: usual.Min.Y - 0.1*usual.H()},
		Max: geom.Vec{X: usual.Max.X + 0.1*usual.W(), Y: usual.Max.Y + 0.1*usual.H()},
	})
	f.last = []veneer{{alpha: 1}}
	if len(target.kids) == 0 {
		note()
	}
	for _, k := range target.kids {
		if strings.HasPrefix(k.name, "fe") && !f.primitive(k) {
			note()
			return
		}
	}
	var sharp []veneer
	for _, v := range f.last {
		if !v.blurred {
			sharp = append(sharp, v)
		}
	}
	if len(sharp) < len(f.last) {
		note()
		if len(sharp) == 0 {
			return // a blur of all of it: the shapes are shown plainly
		}
	}
	f.cut(sharp)
	r.rebuild(sharp, m, inverse, first)
}

// cut keeps layers within the filter's region.
func (f *filtering) cut(list []veneer) {
	for i := range list {
		v := &list[i]
		region := f.region.Transform(geom.Translate(-v.dx, -v.dy)) // as the layer has it before it is moved
		switch {
		case v.flood:
			v.box = v.box.Intersect(region)
		case v.within != nil:
			both := v.within.Intersect(region)
			v.within = &both
		case !region.Contains(f.own):
			v.within = &region
		}
		if v.within != nil && !v.within.Overlaps(f.own) {
			none := geom.EmptyBox()
			v.within = &none
		}
	}
}

// primitive evaluates a step; ok is false for one that is no geometry.
func (f *filtering) primitive(k *node) (ok bool) {
	var out []veneer
	in, known := f.input(k.attr("in"))
	if !known {
		return false
	}
	switch k.name {
	case "feOffset":
		dx, dy := f.length(k.attr("dx"), f.own.W()), f.length(k.attr("dy"), f.own.H())
		out = f.moved(in, dx, dy)
	case "feFlood":
		c, a, ok := parseColor(f.flood(k))
		if !ok {
			return false
		}
		d := f.r.cascade(k)
		if o := d["flood-opacity"]; o != "" {
			a *= alpha(o)
		}
		out = []veneer{{flood: true, box: f.area(k, f.boxed, f.region), color: c, alpha: a}}
	case "feMerge":
		for _, node := range k.kids {
			if node.name == "feMergeNode" {
				part, known := f.input(node.attr("in"))
				if !known {
					return false
				}
				out = append(out, part...)
			}
		}
	case "feComposite", "feBlend":
		below, known := f.input(k.attr("in2"))
		mode := orText(orText(k.attr("operator"), k.attr("mode")), "over")
		switch {
		case !known:
			return false
		case mode == "over" || mode == "normal":
			out = append(append(out, below...), in...)
		case mode == "in":
			if out, ok = inside(in, below); !ok {
				return false
			}
		default:
			return false
		}
	case "feGaussianBlur":
		out = append(out, in...)
		if strings.Trim(k.attr("stdDeviation"), "0., ") != "" {
			for i := range out {
				out[i].blurred = true
			}
		}
	case "feDropShadow":
		out = f.shadow(k, in)
	default:
		return false
	}
	f.r.budget.Spend(budget.Copies, len(out))
	f.last = out
	if name := k.attr("result"); name != "" {
		f.results[name] = out
	}
	return true
}

// input returns the picture that a name stands for; without one it is the last.
func (f *filtering) input(name string) ([]veneer, bool) {
	switch name {
	case "":
		return f.last, true
	case "SourceGraphic":
		return []veneer{{alpha: 1}}, true
	case "SourceAlpha":
		return []veneer{{alpha: 1, dyed: true}}, true
	}
	v, ok := f.results[name]
	return v, ok
}

func (f *filtering) length(s string, side float64) float64 {
	v := f.r.length(s, side, f.st)
	if f.boxed && !strings.HasSuffix(s, "%") {
		v *= side
	}
	return v
}

func (f *filtering) moved(list []veneer, dx, dy float64) []veneer {
	out := append([]veneer(nil), list...)
	for i := range out {
		out[i].dx, out[i].dy = out[i].dx+dx, out[i].dy+dy
	}
	return out
}

func (f *filtering) flood(k *node) string {
	c := orText(f.r.cascade(k)["flood-color"], "black")
	if strings.EqualFold(c, "currentcolor") {
		return f.st.color
	}
	return c
}

// shadow is what feDropShadow stands for: the shapes in one colour, moved and blurred, and the
// shapes on top.
func (f *filtering) shadow(k *node, in []veneer) []veneer {
	c, a, _ := parseColor(f.flood(k))
	if o := f.r.cascade(k)["flood-opacity"]; o != "" {
		a *= alpha(o)
	}
	dx, dy := f.length(orText(k.attr("dx"), "2"), f.own.W()), f.length(orText(k.attr("dy"), "2"), f.own.H())
	out := f.moved(in, dx, dy)
	blurred := strings.Trim(orText(k.attr("stdDeviation"), "2"), "0., ") != ""
	for i := range out {
		out[i].dyed, out[i].color, out[i].alpha, out[i].blurred = true, c, a, out[i].blurred || blurred
	}
	return append(out, in...)
}

// inside returns a picture where another one covers: a flood in shapes dyes them, shapes in a
// flood are cut to it.
func inside(in, cover []veneer) ([]veneer, bool) {
	if len(in) != 1 || len(cover) == 0 {
		return nil, false
	}
	a := in[0]
	var out []veneer
	for _, c := range cover {
		switch {
		case a.flood && !c.flood:
			c.dyed, c.color, c.alpha = true, a.color, a.alpha*c.alpha
			out = append(out, c)
		case !a.flood && c.flood && len(cover) == 1 && a.within == nil:
			box := c.box.Transform(geom.Translate(c.dx-a.dx, c.dy-a.dy))
			a.within, a.alpha = &box, a.alpha*c.alpha
			out = append(out, a)
		default:
			return nil, false
		}
	}
	return out, true
}

// area reads x, y, width and height of a filter or of a step, with another box for what is not
// said.
func (f *filtering) area(n *node, boxed bool, other geom.Box) geom.Box {
	read := func(name string, origin, side, usual float64) float64 {
		s := n.attr(name)
		if s == "" {
			return usual
		}
		if !boxed {
			return f.r.length(s, side, f.st)
		}
		v := orNumber(s, 0)
		if strings.HasSuffix(s, "%") {
			v /= 100
		}
		return origin + v*side
	}
	x := read("x", f.own.Min.X, f.own.W(), other.Min.X)
	y := read("y", f.own.Min.Y, f.own.H(), other.Min.Y)
	w := read("width", 0, f.own.W(), other.W())
	h := read("height", 0, f.own.H(), other.H())
	return geom.Box{Min: geom.Vec{X: x, Y: y}, Max: geom.Vec{X: x + w, Y: y + h}}
}

// rebuild puts layers in the place of the shapes from number first on.
func (r *reader) rebuild(layers []veneer, m, inverse geom.Matrix, first int) {
	// What is nowhere in the region shows nowhere.
	layers = slices.DeleteFunc(layers, func(v veneer) bool { return v.within != nil && v.within.Empty() || v.flood && v.box.Empty() })
	plain := len(layers) == 1 && !layers[0].flood && !layers[0].dyed && layers[0].within == nil && layers[0].dx == 0 && layers[0].dy == 0
	if plain {
		return
	}
	drawn := append([]artwork.Shape(nil), r.sheet.Shapes[first:]...)
	r.sheet.Shapes = r.sheet.Shapes[:first]
	for i, v := range layers {
		move := m.Mul(geom.Translate(v.dx, v.dy))
		suffix := ""
		if i+1 < len(layers) {
			suffix = fmt.Sprintf("+f%d", i+1)
		}
		if v.flood {
			s := drawn[0]
			b := v.box
			s.Key, s.Name, s.Stroke, s.Gradient, s.EvenOdd = s.Key+suffix+"+flood", s.Name+" (flood)", nil, nil, false
			s.Contours, s.Matrix = rectangle(b.Min.X, b.Min.Y, b.W(), b.H(), "", "", 0, 0), move
			s.Color, s.Opacity = v.color, v.alpha
			if len(s.Contours) > 0 && s.Opacity > 0 {
				r.sheet.Shapes = append(r.sheet.Shapes, s)
			}
			continue
		}
		for _, s := range drawn {
			s.Key += suffix
			s.Matrix = move.Mul(inverse).Mul(s.Matrix)
			s.Opacity *= v.alpha
			if v.dyed {
				s.Color, s.Gradient = v.color, nil
			}
			if b := v.within; b != nil {
				cut := &artwork.Clip{Items: []artwork.ClipItem{{Contours: rectangle(b.Min.X, b.Min.Y, b.W(), b.H(), "", "", 0, 0), Matrix: move}}}
				s.Clips = append(s.Clips[:len(s.Clips):len(s.Clips)], cut)
			}
			r.budget.Spend(budget.Nodes, len(s.Contours))
			r.sheet.Shapes = append(r.sheet.Shapes, s)
		}
	}
}
