package svg

import (
	"fmt"
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
	"bildhauer/core/read/font"
	"bildhauer/core/read/trace"
)

// style is what an element inherits.
type style struct {
	blend                  string // of the element or a group around it
	soft                   bool   // a mask with half-tones lies over it
	fill, stroke           string
	fillAlpha, strokeAlpha float64
	evenOdd                bool
	width                  string
	cap, join              string
	miter                  float64
	dashes, dashOffset     string
	color                  string
	visible                bool
	strokeFirst            bool
	opacity                float64 // of all groups around, multiplied
	fontSize               float64
	fixedStroke            bool            // the stroke's width is in px of the page
	clips                  []*artwork.Clip // of all elements around
	clipRule               bool            // even-odd, inside clip paths
	markers                [3]string       // at the start, the middle points and the end

	family, anchor, decoration, letterCase string
	weight                                 int
	italic, pre, smallCaps                 bool
	letterSpacing, wordSpacing, rise       float64
	context                                *[2]string // fill and stroke of what a marker or copy belongs to
	rightToLeft, override                  bool       // of letters
	vertical, upright, sideways            bool       // lines run down; letters stand or lie in them
}

type reader struct {
	sheet   *artwork.Sheet
	root    *node
	ids     map[string]*node
	rules   []rule
	view    geom.Box // of the nearest svg element, for percentages
	port    geom.Box // of the whole page, px
	using   map[*node]bool
	images  int
	away    string // the first picture that lies in another file
	tracing trace.Settings
	keys    map[string]int
	base    style // what nothing has set
	styled  *node // the last element that was styled, and
	style   map[string]string
	fonts   *font.Library
	budget  *budget.Budget
}

// Read returns the sheet of an SVG file. Text is set in the fonts that were
// added, in those embedded in the file, or in shipped ones.
func Read(
	name string,
	data []byte,
	fonts *font.Library,
	tracing trace.Settings,
	b *budget.Budget,
) (*artwork.Sheet, error) {
	root, err := parseDocument(data, b)
	if err != nil {
		return nil, err
	}
	r := &reader{
		budget:  b,
		tracing: tracing,
		fonts:   &font.Library{},
		root:    root,
		ids:     map[string]*node{},
		using:   map[*node]bool{},
		keys:    map[string]int{},
		sheet: &artwork.Sheet{
			Name:          name,
			Format:        "SVG",
			SourceWidth:   root.attr("width"),
			SourceHeight:  root.attr("height"),
			SourceViewBox: root.attr("viewBox"),
			SourceAspect:  root.attr("preserveAspectRatio"),
		},
	}
	if fonts != nil {
		r.fonts.Added = append(r.fonts.Added, fonts.Added...)
	}
	var css strings.Builder
	r.index(root, &css)
	var skipped int
	if css.Len() > 0 {
		var embedded []fontFace
		r.rules, embedded, skipped = styleSheet(css.String())
		r.embed(embedded)
	}
	for range skipped {
		r.sheet.Note(artwork.NoteStyleRule, "")
	}
	base := style{
		fill:        "black",
		stroke:      "none",
		fillAlpha:   1,
		strokeAlpha: 1,
		width:       "1",
		cap:         "butt",
		join:        "miter",
		miter:       4,
		color:       "black",
		visible:     true,
		opacity:     1,
		fontSize:    16,
		dashOffset:  "0",
		weight:      400,
		family:      "Times",
	}
	r.base = base
	m, view := r.rootView()
	r.sheet.Page = geom.Box{Min: m.Apply(view.Min), Max: m.Apply(view.Max)}
	r.view, r.port = view, geom.Box{Max: geom.Vec{X: r.sheet.Page.W(), Y: r.sheet.Page.H()}}
	r.sheet.SourceUnits = m
	if err := r.drawnFonts(root); err != nil {
		return nil, err
	}
	st, shown, err := r.styleOf(root, base)
	if err != nil {
		return nil, err
	}
	if err := r.children(root, m, st, -1, !shown, ""); err != nil {
		return nil, err
	}
	if len(r.sheet.Shapes) == 0 && r.away != "" {
		const text = "holds only pictures that lie in other files (%s). Drop those themselves: bitmaps are traced"
		return nil, fault.New(text, r.away)
	}
	if len(r.sheet.Shapes) == 0 {
		return nil, fault.Empty(
			r.sheet,
			r.images,
			"holds no shapes. Check that the artwork was saved into it",
		)
	}
	return r.sheet, nil
}

func (r *reader) index(n *node, css *strings.Builder) {
	if id := n.attr("id"); id != "" && r.ids[id] == nil {
		r.ids[id] = n
	}
	if n.name == "style" {
		css.WriteString(n.text)
		css.WriteByte('\n')
	}
	for _, k := range n.kids {
		r.index(k, css)
	}
}

// rootView returns the map from user space to the page in px and the view in
// user space.
func (r *reader) rootView() (geom.Matrix, geom.Box) {
	vb, hasBox := viewBox(r.root.attr("viewBox"))
	w, okW := absolute(r.root.attr("width"))
	h, okH := absolute(r.root.attr("height"))
	switch {
	case !hasBox && (!okW || !okH):
		w, h = orElse(w, okW, 300), orElse(h, okH, 150)
		return geom.Identity, geom.Box{Max: geom.Vec{X: w, Y: h}}
	case !hasBox:
		return geom.Identity, geom.Box{Max: geom.Vec{X: w, Y: h}}
	case !okW && !okH:
		w, h = vb.W(), vb.H()
	case !okW:
		w = h * vb.W() / vb.H()
	case !okH:
		h = w * vb.H() / vb.W()
	}
	return fit(vb, w, h, r.root.attr("preserveAspectRatio")), vb
}

func orElse(v float64, ok bool, other float64) float64 {
	if ok {
		return v
	}
	return other
}

func viewBox(s string) (geom.Box, bool) {
	v := numbers(s)
	if len(v) != 4 || !(v[2] > 0) || !(v[3] > 0) || math.IsInf(v[0]+v[1]+v[2]+v[3], 0) {
		return geom.Box{}, false
	}
	return geom.Box{Min: geom.Vec{X: v[0], Y: v[1]}, Max: geom.Vec{X: v[0] + v[2], Y: v[1] + v[3]}}, true
}

// fit maps a view box into a viewport of w by h at the origin, after SVG's
// preserveAspectRatio.
func fit(vb geom.Box, w, h float64, how string) geom.Matrix {
	sx, sy := w/vb.W(), h/vb.H()
	if strings.HasPrefix(trim(how), "none") {
		return geom.Scale(sx, sy).Mul(geom.Translate(-vb.Min.X, -vb.Min.Y))
	}
	s := math.Min(sx, sy)
	if strings.Contains(how, "slice") {
		s = math.Max(sx, sy)
	}
	place := func(free float64, min, max string) float64 {
		switch {
		case strings.Contains(how, min):
			return 0
		case strings.Contains(how, max):
			return free
		}
		return free / 2
	}
	tx := place(w-s*vb.W(), "xMin", "xMax")
	ty := place(h-s*vb.H(), "YMin", "YMax")
	return geom.Translate(tx, ty).Mul(geom.Scale(s, s)).Mul(geom.Translate(-vb.Min.X, -vb.Min.Y))
}

var unitPx = map[string]float64{
	"":   1,
	"px": 1,
	"pt": 96.0 / 72,
	"pc": 16,
	"mm": 96 / 25.4,
	"cm": 96 / 2.54,
	"in": 96,
	"q":  96 / 101.6,
}

// absolute reads a length that needs no context, in px.
func absolute(s string) (float64, bool) {
	p := scanner{s: s}
	v, ok := p.number()
	if !ok {
		return 0, false
	}
	u, known := unitPx[strings.ToLower(trim(s[p.i:]))]
	if !known || !(v*u > 0) || math.IsInf(v, 0) {
		return 0, false
	}
	return v * u, true
}

// length reads a length in user units; per is what 100% means.
func (r *reader) length(s string, per float64, st *style) float64 {
	p := scanner{s: s}
	v, ok := p.number()
	if !ok {
		return 0
	}
	switch u := strings.ToLower(trim(s[p.i:])); u {
	case "%":
		return v / 100 * per
	case "em":
		return v * st.fontSize
	case "rem":
		return v * r.rootFont()
	case "ex":
		return v * st.fontSize / 2
	case "ch":
		return v * r.zeroWidth(st)
	case "vw":
		return v / 100 * r.port.W()
	case "vh":
		return v / 100 * r.port.H()
	case "vmin":
		return v / 100 * math.Min(r.port.W(), r.port.H())
	case "vmax":
		return v / 100 * math.Max(r.port.W(), r.port.H())
	default:
		if f, known := unitPx[u]; known {
			return v * f
		}
	}
	return v
}

// rootFont returns the font size of the outermost element, px.
func (r *reader) rootFont() float64 {
	p := scanner{s: r.cascade(r.root)["font-size"]}
	if v, ok := p.number(); ok && v > 0 {
		if f, known := unitPx[strings.ToLower(trim(p.s[p.i:]))]; known {
			return v * f
		}
	}
	return r.base.fontSize
}

// zeroWidth returns how wide the figure 0 is.
func (r *reader) zeroWidth(st *style) float64 {
	f := r.fonts.Find(font.Want{Families: strings.Split(st.family, ","), Weight: st.weight, Italic: st.italic}).Face
	return f.Glyph(f.ByRune('0')).Advance * st.fontSize
}

func (r *reader) diagonal() float64 {
	return math.Hypot(r.view.W(), r.view.H()) / math.Sqrt2
}

// styleOf returns the style of an element and whether it is displayed at all.
func (r *reader) styleOf(n *node, st style) (style, bool, error) {
	d := r.cascade(n)
	set := func(name string, f func(v string)) {
		if v, ok := d[name]; ok && v != "inherit" {
			f(v)
		}
	}
	set("color", func(v string) { st.color = v })
	set("fill", func(v string) { st.fill = v })
	set("stroke", func(v string) { st.stroke = v })
	set("fill-opacity", func(v string) { st.fillAlpha = alpha(v) })
	set("stroke-opacity", func(v string) { st.strokeAlpha = alpha(v) })
	set("opacity", func(v string) { st.opacity *= alpha(v) })
	set("fill-rule", func(v string) { st.evenOdd = v == "evenodd" })
	set("stroke-width", func(v string) { st.width = v })
	set("stroke-linecap", func(v string) { st.cap = v })
	set("stroke-linejoin", func(v string) { st.join = v })
	set("stroke-miterlimit", func(v string) { st.miter = r.length(v, 1, &st) })
	set("stroke-dasharray", func(v string) { st.dashes = v })
	set("stroke-dashoffset", func(v string) { st.dashOffset = v })
	set("visibility", func(v string) { st.visible = v == "visible" })
	if v, ok := d["font"]; ok {
		fontShorthand(v, d)
	}
	outer := st.fontSize
	set("font-size", func(v string) {
		if l := r.fontSize(v, &st); l > 0 && l < 1e6 {
			st.fontSize = l
		}
	})
	set("font-family", func(v string) { st.family = v })
	set("font-weight", func(v string) { st.weight = fontWeight(v, st.weight) })
	set(
		"font-style",
		func(v string) { st.italic = strings.HasPrefix(v, "italic") || strings.HasPrefix(v, "oblique") },
	)
	set("text-anchor", func(v string) { st.anchor = v })
	for _, name := range [...]string{"font-variant", "font-variant-caps"} {
		set(name, func(v string) { st.smallCaps = strings.Contains(v, "small-caps") })
	}
	set("direction", func(v string) { st.rightToLeft = v == "rtl" })
	if v, ok := d["unicode-bidi"]; ok {
		st.override = strings.HasSuffix(v, "override")
	}
	set("writing-mode", func(v string) { st.vertical = strings.HasPrefix(v, "tb") || strings.HasPrefix(v, "vertical") })
	set("text-orientation", func(v string) { st.upright, st.sideways = v == "upright", v == "sideways" })
	set("glyph-orientation-vertical", func(v string) {
		st.upright, st.sideways = strings.Trim(v, "deg") == "0", strings.Trim(v, "deg") == "90"
	})
	set("text-transform", func(v string) { st.letterCase = v })
	set("white-space", func(v string) { st.pre = strings.HasPrefix(v, "pre") })
	set("letter-spacing", func(v string) { st.letterSpacing = r.length(v, st.fontSize, &st) })
	set("word-spacing", func(v string) { st.wordSpacing = r.length(v, st.fontSize, &st) })
	for _, name := range [...]string{"text-decoration", "text-decoration-line"} {
		set(name, func(v string) {
			if st.decoration = v; v == "none" {
				st.decoration = ""
			}
		})
	}
	if n.name == "tspan" || n.name == "text" || n.name == "textPath" || n.name == "a" {
		r.baseline(d, &st, outer)
	}
	set("paint-order", func(v string) { st.strokeFirst = strings.HasPrefix(v, "stroke") })
	set("clip-rule", func(v string) { st.clipRule = v == "evenodd" })
	if v, ok := d["mix-blend-mode"]; ok && v != "normal" {
		r.sheet.Note(artwork.NoteBlend, n.describe(), v)
		st.blend = v
	}
	st.fixedStroke = d["vector-effect"] == "non-scaling-stroke"
	set("marker", func(v string) { st.markers = [3]string{v, v, v} })
	for i, name := range [...]string{"marker-start", "marker-mid", "marker-end"} {
		set(name, func(v string) { st.markers[i] = v })
	}
	return st, d["display"] != "none", nil
}

func alpha(v string) float64 {
	p := scanner{s: v}
	a, ok := p.number()
	if !ok {
		return 1
	}
	if strings.HasSuffix(trim(v), "%") {
		a /= 100
	}
	return clamp(a)
}

func (r *reader) children(n *node, m geom.Matrix, st style, group int, hidden bool, key string) error {
	for i, k := range n.kids {
		if err := r.element(k, m, st, group, hidden, fmt.Sprintf("%s/%d", key, i)); err != nil {
			return err
		}
	}
	return nil
}

// notDrawn are the elements that only others refer to, or that say something
// about the drawing.
var notDrawn = map[string]bool{
	"defs": true, "symbol": true, "clipPath": true, "mask": true, "marker": true, "pattern": true,
	"linearGradient": true, "radialGradient": true, "filter": true, "style": true, "title": true, "desc": true,
	"metadata": true, "view": true, "font": true, "font-face": true, "glyph": true, "missing-glyph": true, "hkern": true,
}

// element reads one element and what is in it. key is its place in the tree.
func (r *reader) element(n *node, m geom.Matrix, st style, group int, hidden bool, key string) (failed error) {
	r.budget.Dive()
	defer r.budget.Leave()
	if notDrawn[n.name] {
		return nil
	}
	if n.name == "script" {
		r.sheet.Note(artwork.NoteScript, n.describe())
		return nil
	}
	if strings.HasSuffix(n.name, ":include") { // XInclude
		r.sheet.Note(artwork.NoteForeignCopy, n.describe(), fileOf(n.attr("href")))
		return nil
	}
	if strings.Contains(n.name, ":") || n.name == "#text" { // an editor's own data
		return nil
	}
	st, shown, err := r.styleOf(n, st)
	if err != nil {
		return err
	}
	hidden = hidden || !shown
	if t := n.attr("transform"); t != "" {
		tm, ok := parseTransform(t)
		if !ok {
			r.sheet.Note(artwork.NotePartTransform, n.describe())
		}
		m = m.Mul(tm)
		if !m.Finite() {
			r.sheet.Note(artwork.NoteBadTransform, n.describe())
			return nil
		}
	}
	if st.clips, err = r.clipsOf(n, m, &st); err != nil {
		return err
	}
	if f := r.cascade(n)["filter"]; f != "" && f != "none" {
		first := len(r.sheet.Shapes)
		defer func() {
			if failed == nil {
				r.filter(n, f, m, &st, first)
			}
		}()
	}
	switch n.name {
	case "g", "a":
		return r.children(n, m, st, r.group(n, group, hidden), hidden, key)
	case "switch":
		return r.firstOf(n, m, st, r.group(n, group, hidden), hidden, key)
	case "svg":
		return r.nested(n, n, m, st, r.group(n, group, hidden), hidden, key)
	case "use":
		return r.use(n, m, st, group, hidden, key)
	case "image":
		return r.image(n, m, st, group, hidden, key)
	case "text":
		return r.text(n, m, st, group, hidden, key)
	case "foreignObject":
		r.sheet.Note(artwork.NoteForeignContent, n.describe())
		return nil
	}
	contours, ok, err := r.geometry(n, &st)
	if err != nil {
		return err
	}
	if !ok {
		r.sheet.Note(artwork.NoteUnknownElement, n.describe(), n.name)
		return nil
	}
	if err := r.shape(n, contours, m, &st, group, hidden, key); err != nil {
		return err
	}
	return r.markers(n, contours, m, &st, group, hidden, key)
}

// firstOf reads the first branch of a switch that may be taken.
func (r *reader) firstOf(n *node, m geom.Matrix, st style, group int, hidden bool, key string) error {
	for i, k := range n.kids {
		if speaks(k.attr("systemLanguage"), k) && k.attr("requiredExtensions") == "" &&
			features(k.attr("requiredFeatures")) && k.name != "foreignObject" && k.name != "#text" && !notDrawn[k.name] {
			return r.element(k, m, st, group, hidden, fmt.Sprintf("%s/%d", key, i))
		}
	}
	return nil
}

// speaks reports whether a branch of a switch may be taken by its languages;
// English ones are, and those without.
func speaks(languages string, n *node) bool {
	if _, has := n.attrs["systemLanguage"]; !has {
		return true
	}
	for _, l := range strings.Split(languages, ",") {
		if l = strings.ToLower(trim(l)); l == "en" || strings.HasPrefix(l, "en-") {
			return true
		}
	}
	return false
}

// features reports whether a branch of a switch asks for nothing but parts of SVG 1.1: they
// are read as far as a still drawing can have them.
func features(list string) bool {
	for _, f := range strings.Fields(list) {
		name, ok := strings.CutPrefix(f, "http://www.w3.org/TR/SVG11/feature#")
		if !ok || strings.Contains(name, "DOM") || strings.Contains(name, "nimation") || strings.Contains(name, "Script") {
			return false
		}
	}
	return true
}

func (n *node) allText() string {
	s := n.text
	for _, k := range n.kids {
		s += k.allText()
	}
	return s
}

func (r *reader) group(n *node, parent int, hidden bool) int {
	name := n.label
	if name == "" {
		name = n.attr("id")
	}
	r.sheet.Groups = append(
		r.sheet.Groups,
		artwork.Group{Name: name, Layer: n.layer || parent < 0 && name != "", Hidden: hidden, Parent: parent},
	)
	return len(r.sheet.Groups) - 1
}

// nested opens the viewport of an inner svg or of a symbol; size gives the
// width and height (the use element for symbols).
func (r *reader) nested(n, size *node, m geom.Matrix, st style, group int, hidden bool, key string) error {
	outer := r.view
	defer func() { r.view = outer }()
	w, h := outer.W(), outer.H()
	if v := size.attr("width"); v != "" && v != "auto" {
		w = r.length(v, outer.W(), &st)
	}
	if v := size.attr("height"); v != "" && v != "auto" {
		h = r.length(v, outer.H(), &st)
	}
	if n.name == "svg" {
		m = m.Mul(
			geom.Translate(r.length(n.attr("x"), outer.W(), &st), r.length(n.attr("y"), outer.H(), &st)),
		)
	}
	if vb, ok := viewBox(n.attr("viewBox")); ok {
		if !(w > 0) || !(h > 0) {
			return nil
		}
		m = m.Mul(fit(vb, w, h, n.attr("preserveAspectRatio")))
		r.view = vb
	} else {
		r.view = geom.Box{Max: geom.Vec{X: w, Y: h}}
	}
	// What leaves the viewport does not show, unless the file says it does.
	if o := r.cascade(n)["overflow"]; o != "visible" && o != "auto" && r.view.W() > 0 && r.view.H() > 0 {
		v := r.view
		if _, ok := viewBox(n.attr("viewBox")); ok &&
			!strings.HasPrefix(trim(n.attr("preserveAspectRatio")), "none") {
			// The viewport is larger than the view box where their ratios differ.
			inv := fit(v, w, h, n.attr("preserveAspectRatio")).Inverse()
			v = geom.Box{Min: inv.Apply(geom.Vec{}), Max: inv.Apply(geom.Vec{X: w, Y: h})}
		}
		cut := &artwork.Clip{
			Items: []artwork.ClipItem{
				{Contours: rectangle(v.Min.X, v.Min.Y, v.W(), v.H(), "", "", 0, 0), Matrix: m},
			},
		}
		st.clips = append(st.clips[:len(st.clips):len(st.clips)], cut)
	}
	return r.children(n, m, st, group, hidden, key)
}

func (r *reader) use(n *node, m geom.Matrix, st style, group int, hidden bool, key string) error {
	href := n.attr("href")
	target := r.ids[strings.TrimPrefix(href, "#")]
	if !strings.HasPrefix(href, "#") {
		sub, found := r.elsewhere(href)
		if sub == nil {
			r.sheet.Note(artwork.NoteForeignCopy, n.describe(), fileOf(href))
			return nil
		}
		outer := r
		defer func() { outer.images = sub.images }()
		r, target = sub, found
	}
	if target == nil || r.using[target] {
		r.sheet.Note(artwork.NoteMissingCopy, n.describe())
		return nil
	}
	r.budget.Spend(budget.Copies, 1)
	r.using[target] = true
	defer delete(r.using, target)
	m = m.Mul(geom.Translate(r.length(n.attr("x"), r.view.W(), &st), r.length(n.attr("y"), r.view.H(), &st)))
	st.context = st.paints()
	g := r.group(n, group, hidden)
	if target.name == "symbol" {
		ts, shown, err := r.styleOf(target, st)
		if err != nil {
			return err
		}
		return r.nested(target, n, m, ts, g, hidden || !shown, key)
	}
	return r.element(target, m, st, g, hidden, key+"/u")
}

// fileOf returns what an address says for a person: the file that it names.
func fileOf(href string) string {
	name, _, _ := strings.Cut(href, "#")
	if i := strings.LastIndexByte(name, '/'); i >= 0 {
		name = name[i+1:]
	}
	if strings.HasPrefix(name, "data:") || name == "" {
		return "an address"
	}
	return shorten(name)
}

// geometry returns the contours of a basic shape or path in its own space.
func (r *reader) geometry(n *node, st *style) ([]geom.Contour, bool, error) {
	w, h := r.view.W(), r.view.H()
	x := func(name string) float64 { return r.length(n.attr(name), w, st) }
	y := func(name string) float64 { return r.length(n.attr(name), h, st) }
	switch n.name {
	case "path":
		c, whole := parsePath(n.attr("d"), r.budget)
		if !whole {
			r.sheet.Note(artwork.NotePartPath, n.describe())
		}
		return c, true, nil
	case "rect":
		return rectangle(
			x("x"),
			y("y"),
			x("width"),
			y("height"),
			n.attr("rx"),
			n.attr("ry"),
			x("rx"),
			y("ry"),
		), true, nil
	case "circle":
		return ellipse(
			x("cx"),
			y("cy"),
			r.length(n.attr("r"), r.diagonal(), st),
			r.length(n.attr("r"), r.diagonal(), st),
		), true, nil
	case "ellipse":
		rx, ry := x("rx"), y("ry")
		if n.attr("rx") == "" || n.attr("rx") == "auto" {
			rx = ry
		}
		if n.attr("ry") == "" || n.attr("ry") == "auto" {
			ry = rx
		}
		return ellipse(x("cx"), y("cy"), rx, ry), true, nil
	case "line":
		return []geom.Contour{
			{
				Start: geom.Vec{X: x("x1"), Y: y("y1")},
				Segs:  []geom.Segment{{To: geom.Vec{X: x("x2"), Y: y("y2")}}},
			},
		}, true, nil
	case "polyline", "polygon":
		v := numbers(n.attr("points"))
		if len(v) < 4 {
			return nil, true, nil
		}
		c := geom.Contour{Start: geom.Vec{X: v[0], Y: v[1]}, Closed: n.name == "polygon"}
		for i := 2; i+1 < len(v); i += 2 {
			c.Segs = append(c.Segs, geom.Segment{To: geom.Vec{X: v[i], Y: v[i+1]}})
		}
		return []geom.Contour{c}, true, nil
	}
	return nil, false, nil
}

func rectangle(x, y, w, h float64, hasRx, hasRy string, rx, ry float64) []geom.Contour {
	if !(w > 0) || !(h > 0) {
		return nil
	}
	auto := func(s string) bool { return s == "" || s == "auto" }
	if auto(hasRx) {
		rx = ry
	}
	if auto(hasRy) {
		ry = rx
	}
	rx, ry = math.Max(0, math.Min(rx, w/2)), math.Max(0, math.Min(ry, h/2))
	line := func(x, y float64) geom.Segment { return geom.Segment{To: geom.Vec{X: x, Y: y}} }
	if rx == 0 || ry == 0 {
		return []geom.Contour{
			{
				Start:  geom.Vec{X: x, Y: y},
				Segs:   []geom.Segment{line(x+w, y), line(x+w, y+h), line(x, y+h)},
				Closed: true,
			},
		}
	}
	c := geom.Contour{Start: geom.Vec{X: x + rx, Y: y}, Closed: true}
	corner := func(cx, cy, a float64) {
		c.Segs = append(c.Segs, geom.UnitArc(geom.Matrix{A: rx, D: ry, E: cx, F: cy}, a, math.Pi/2)...)
	}
	c.Segs = append(c.Segs, line(x+w-rx, y))
	corner(x+w-rx, y+ry, -math.Pi/2)
	c.Segs = append(c.Segs, line(x+w, y+h-ry))
	corner(x+w-rx, y+h-ry, 0)
	c.Segs = append(c.Segs, line(x+rx, y+h))
	corner(x+rx, y+h-ry, math.Pi/2)
	c.Segs = append(c.Segs, line(x, y+ry))
	corner(x+rx, y+ry, math.Pi)
	return []geom.Contour{c}
}

func ellipse(cx, cy, rx, ry float64) []geom.Contour {
	if !(rx > 0) || !(ry > 0) {
		return nil
	}
	m := geom.Matrix{A: rx, D: ry, E: cx, F: cy}
	return []geom.Contour{
		{Start: geom.Vec{X: cx + rx, Y: cy}, Segs: geom.UnitArc(m, 0, 2*math.Pi), Closed: true},
	}
}

// paints returns the fill and the stroke of a style, for what belongs to its element.
func (st *style) paints() *[2]string {
	out := [2]string{st.contextual(st.fill), st.contextual(st.stroke)}
	for i, v := range out {
		if strings.EqualFold(v, "currentcolor") {
			out[i] = st.color
		}
	}
	return &out
}

// contextual returns the paint that a word stands for (SVG 2, 13.2).
func (st *style) contextual(v string) string {
	if v != "context-fill" && v != "context-stroke" {
		return v
	}
	switch {
	case st.context == nil:
		return "none"
	case v == "context-fill":
		return st.context[0]
	}
	return st.context[1]
}

// shape adds the fill and the stroke of an element.
func (r *reader) shape(
	n *node,
	contours []geom.Contour,
	m geom.Matrix,
	st *style,
	group int,
	hidden bool,
	key string,
) error {
	if len(contours) == 0 {
		r.sheet.Note(artwork.NoteNoExtent, n.describe())
		return nil
	}
	for i := range contours {
		r.budget.Spend(budget.Nodes, len(contours[i].Segs)+1)
		if b := contours[i].Box().Transform(m); !b.Min.Finite() || !b.Max.Finite() ||
			math.Max(b.W(), b.H()) > maxNumber {
			r.sheet.Note(artwork.NoteBadNumbers, n.describe())
			return nil
		}
	}
	if math.Abs(m.Det()) < 1e-18 {
		r.sheet.Note(artwork.NoteFlat, n.describe())
		return nil
	}
	hidden = hidden || !st.visible
	if id := n.attr("id"); id != "" {
		key = id
	}
	// Copies of one element share its id.
	if r.keys[key]++; r.keys[key] > 1 {
		key = fmt.Sprintf("%s~%d", key, r.keys[key])
	}
	box, own := geom.EmptyBox(), geom.EmptyBox()
	for _, c := range contours {
		box = box.Union(c.Box().Transform(m))
		own = own.Union(c.TightBox())
	}
	var clips []*artwork.Clip
	for _, c := range st.clips {
		if !c.Rectangle().Contains(box) || box.Empty() { // else it cuts nothing off a fill
			clips = append(clips, c)
		}
	}
	base := artwork.Shape{
		Clips:    clips,
		Key:      key,
		Name:     n.title(len(r.sheet.Shapes) + 1),
		Group:    group,
		Hidden:   hidden,
		Contours: contours,
		Matrix:   m,
		EvenOdd:  st.evenOdd,
		Blend:    st.blend,
		Soft:     st.soft,
	}
	var failed error
	fill := func() {
		paint := r.usable(st.contextual(st.fill))
		area := false
		for _, c := range contours {
			area = area || len(c.Segs) > 1 || len(c.Segs) == 1 && c.Segs[0].Kind != geom.Line
		}
		s := base
		if area && n.name != "line" {
			if done, err := r.pattern(s, paint, st, m, own, st.fillAlpha*st.opacity, hidden, key); done ||
				err != nil {
				failed = err
				return
			}
		}
		if area && n.name != "line" && r.setPaint(&s, paint, st, n, m, own, st.fillAlpha*st.opacity) {
			r.sheet.Shapes = append(r.sheet.Shapes, s)
		}
	}
	stroke := func() {
		width := r.length(st.width, r.diagonal(), st)
		paint := r.usable(st.contextual(st.stroke))
		if paint == "none" || !(width > 0) || math.IsInf(width, 0) {
			return
		}
		s := base
		s.Key += "+stroke"
		s.Name += " (stroke)"
		s.EvenOdd = false
		s.Stroke = r.strokeStyle(st, width)
		s.Clips = st.clips
		if st.fixedStroke { // drawn on the page rather than in the shape's own space
			s.Contours = make([]geom.Contour, len(contours))
			for i, c := range contours {
				s.Contours[i] = c.Transform(m)
			}
			s.Matrix = geom.Identity
		}
		if t := r.reference(paint); t != nil && t.name == "pattern" { // the outline of the stroke is filled
			filled := s
			filled.Contours, filled.Stroke = r.strokeItem(s.Contours, s.Matrix, st, width).Contours, nil
			if done, err := r.pattern(filled, paint, st, m, own, st.strokeAlpha*st.opacity, hidden, s.Key); done || err != nil {
				failed = err
				return
			}
		}
		if r.setPaint(&s, paint, st, n, m, own, st.strokeAlpha*st.opacity) {
			r.sheet.Shapes = append(r.sheet.Shapes, s)
		}
	}
	before := len(r.sheet.Shapes)
	if st.strokeFirst {
		stroke()
		fill()
	} else {
		fill()
		stroke()
	}
	if failed != nil {
		return failed
	}
	if len(r.sheet.Shapes) == before && st.markers == [3]string{} {
		r.sheet.NoteAt(artwork.NoteNoPaint, n.describe(), box)
	}
	return nil
}

// strokeStyle returns the stroke of a style with the given width.
func (r *reader) strokeStyle(st *style, width float64) *geom.StrokeStyle {
	out := &geom.StrokeStyle{Width: width, MiterLimit: st.miter,
		Cap:  map[string]geom.Cap{"round": geom.RoundCap, "square": geom.SquareCap}[st.cap],
		Join: map[string]geom.Join{"round": geom.RoundJoin, "bevel": geom.BevelJoin}[st.join]}
	if st.dashes != "" && st.dashes != "none" {
		r.budget.Spend(budget.Steps, len(st.dashes))
		r.budget.Spend(budget.Memory, len(st.dashes)/2)
		for _, f := range strings.FieldsFunc(st.dashes, func(c rune) bool { return c == ',' || c == ' ' }) {
			out.Dashes = append(out.Dashes, r.length(f, r.diagonal(), st))
		}
		out.DashOffset = r.length(st.dashOffset, r.diagonal(), st)
	}
	return out
}

// setPaint gives a shape its colour or gradient; m and box are the space and
// the box of the fill that gradients refer to. ok is false for no paint.
func (r *reader) setPaint(
	s *artwork.Shape,
	v string,
	st *style,
	n *node,
	m geom.Matrix,
	box geom.Box,
	opacity float64,
) bool {
	if t := r.reference(v); strings.HasPrefix(v, "url(") && t != nil &&
		strings.HasSuffix(t.name, "Gradient") {
		g := r.gradient(t, st, m, box)
		if g == nil {
			return false // a gradient without stops paints nothing
		}
		if len(g.Stops) > 1 {
			s.Gradient, s.Veil = g, opacity
			r.sheet.Note(artwork.NoteMeanColor, n.describe())
		}
		r.budget.Spend(budget.Steps, 40*len(g.Stops)) // its mean is looked for
		r.budget.Spend(budget.Memory, 2*len(g.Stops))
		tol := math.Max(box.W()+box.H(), 1e-6) / 100
		s.Color, s.Opacity = g.Mean(s.Outline(tol * m.MaxScale()))
		s.Opacity *= opacity
		return s.Opacity > 0
	}
	c, a, ok := r.paint(v, st, n)
	s.Color, s.Opacity = c, a*opacity
	return ok && s.Opacity > 0
}

// paint resolves a fill or stroke to a colour; ok is false for none.
func (r *reader) paint(v string, st *style, n *node) (c artwork.Color, a float64, ok bool) {
	switch {
	case v == "none" || v == "" || v == "transparent":
		return c, 0, false
	case strings.EqualFold(v, "currentcolor"):
		v = st.color
	}
	if rest, found := strings.CutPrefix(v, "url("); found {
		ref, fallback, _ := strings.Cut(rest, ")")
		ref = strings.Trim(trim(ref), `"'`)
		target := r.ids[strings.TrimPrefix(ref, "#")]
		if target != nil && target.name == "pattern" {
			r.sheet.Note(artwork.NotePatternGrey, n.describe())
			return artwork.Color{R: 128, G: 128, B: 128}, 1, true
		}
		if f := trim(fallback); f != "" {
			return r.paint(f, st, n)
		}
		r.sheet.Note(artwork.NoteMissingPaint, n.describe())
		return c, 0, false
	}
	if c, a, ok = parseColor(v); !ok {
		r.sheet.Note(artwork.NoteUnknownColor, n.describe(), v)
		return artwork.Color{}, 1, true
	}
	return c, a, true
}
