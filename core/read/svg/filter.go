package svg

import (
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
	tints   []tint    // what becomes of its colours, in order
	cuts    []cut
	rx, ry  float64         // by how much it is grown, or thinned where negative
	shapes  []artwork.Shape // that it holds instead of those that are filtered
}

// cut is what a layer shows in, or what it does not show in.
type cut struct {
	layers  []veneer
	outside bool
}

// filtering evaluates one filter.
type filtering struct {
	r       *reader
	st      *style
	own     geom.Box // of the element, in its own space
	region  geom.Box
	boxed   bool        // primitives are measured by the element's box
	m       geom.Matrix // from the element's space to the page
	key     string      // of the first shape
	several bool        // shapes were drawn
	wrong   bool        // a measure makes no sense
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
	f.m, f.key = m, r.sheet.Shapes[first].Key
	f.several = len(r.sheet.Shapes) > first+1
	drawn := r.sheet.Shapes[first:]
	for i := range drawn {
		f.own = f.own.Union(drawn[i].Box().Transform(inverse))
	}
	f.boxed = target.attr("primitiveUnits") == "objectBoundingBox"
	usual, boxed := r.view, target.attr("filterUnits") != "userSpaceOnUse"
	if boxed {
		usual = f.own
	}
	f.region = f.area(target, boxed, widened(usual))
	f.last = []veneer{{alpha: 1}}
	if f.wrong {
		note()
		return
	}
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
	b := rebuilding{r: r, drawn: append([]artwork.Shape(nil), drawn...), m: m, inverse: inverse}
	shapes, ok := b.shapes(sharp)
	if !ok {
		note()
		return
	}
	r.sheet.Shapes = append(r.sheet.Shapes[:first], shapes...)
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
		case !region.Contains(f.own) || v.rx > 0 || v.ry > 0:
			v.within = &region
		}
		if v.within != nil && !v.within.Overlaps(f.own) && v.rx <= 0 {
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
		if !known {
			return false
		}
		if out, ok = composed(orText(orText(k.attr("operator"), k.attr("mode")), "over"), in, below); !ok {
			return false
		}
	case "feColorMatrix", "feComponentTransfer":
		t, ok := f.tint(k)
		if !ok {
			return false
		}
		out = append(out, in...)
		for i := range out {
			out[i].tints = append(out[i].tints[:len(out[i].tints):len(out[i].tints)], t)
		}
	case "feImage":
		if out, ok = f.copied(k); !ok {
			return false
		}
	case "feMorphology":
		if out, ok = f.grown(k, in); !ok {
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

// copied is what feImage draws: another element of the file.
func (f *filtering) copied(k *node) ([]veneer, bool) {
	t := f.r.reference(k.attr("href"))
	if t == nil || f.r.using[t] || f.boxed {
		return nil, false
	}
	f.r.using[t] = true
	defer delete(f.r.using, t)
	base, err := f.r.inherited(t)
	if err != nil {
		return nil, false
	}
	f.r.budget.Spend(budget.Copies, 1)
	sub := f.r.apart()
	if err := sub.element(t, f.m, base, -1, false, k.name); err != nil || sub.images > 0 {
		return nil, false
	}
	out := veneer{alpha: 1, shapes: sub.sheet.Shapes}
	for _, name := range [...]string{"x", "y", "width", "height"} {
		if k.attr(name) != "" {
			region := f.area(k, false, f.region)
			out.within = &region
		}
	}
	for i := range out.shapes {
		out.shapes[i].Key = f.key + "/" + out.shapes[i].Key
	}
	return []veneer{out}, len(out.shapes) > 0
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

// composed puts a picture and the one below it together (Porter and Duff, Compositing digital
// images, 1984); ok is false for what is no question of outlines.
func composed(mode string, in, below []veneer) (out []veneer, ok bool) {
	switch mode {
	case "over", "normal":
		return append(append(out, below...), in...), true
	case "in":
		return inside(in, below)
	case "out":
		return within(in, below, true)
	case "atop":
		if out, ok = inside(in, below); ok {
			out = append(append([]veneer(nil), below...), out...)
		}
		return out, ok
	case "xor":
		one, okOne := within(in, below, true)
		two, okTwo := within(below, in, true)
		return append(two, one...), okOne && okTwo
	}
	return nil, false
}

// inside returns a picture where another one covers: a flood in shapes dyes them, shapes in a
// flood are cut to it.
func inside(in, cover []veneer) ([]veneer, bool) {
	var out []veneer
	for _, a := range in {
		whole := a.flood
		for _, c := range cover {
			whole = whole && !c.flood
		}
		switch {
		case whole && len(cover) > 0 && len(in) == 1:
			for _, c := range cover {
				c.dyed, c.color, c.alpha, c.tints = true, a.color, a.alpha*c.alpha, a.tints
				out = append(out, c)
			}
		case !a.flood && len(cover) == 1 && cover[0].flood && a.within == nil && a.rx == 0 && a.ry == 0:
			c := cover[0]
			box := c.box.Transform(geom.Translate(c.dx-a.dx, c.dy-a.dy))
			a.within, a.alpha = &box, a.alpha*c.alpha
			out = append(out, a)
		default:
			more, ok := within([]veneer{a}, cover, false)
			if !ok {
				return nil, false
			}
			out = append(out, more...)
		}
	}
	return out, true
}

// within returns layers cut to others, or to all but those; ok is false where these are cut or
// grown themselves.
func within(in, cover []veneer, outside bool) (out []veneer, ok bool) {
	for _, c := range cover {
		if len(c.cuts) > 0 || c.rx != 0 || c.ry != 0 || c.within != nil || c.blurred || len(c.tints) > 0 {
			return nil, false
		}
	}
	for _, a := range in {
		a.cuts = append(a.cuts[:len(a.cuts):len(a.cuts)], cut{cover, outside})
		out = append(out, a)
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
		} else if strings.ContainsAny(s, "mxtcin") { // a part of the box has no unit
			f.wrong = true
		}
		return origin + v*side
	}
	x := read("x", f.own.Min.X, f.own.W(), other.Min.X)
	y := read("y", f.own.Min.Y, f.own.H(), other.Min.Y)
	w := read("width", 0, f.own.W(), other.W())
	h := read("height", 0, f.own.H(), other.H())
	return geom.Box{Min: geom.Vec{X: x, Y: y}, Max: geom.Vec{X: x + w, Y: y + h}}
}
