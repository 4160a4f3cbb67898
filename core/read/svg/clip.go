package svg

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// clipsOf returns the clips of an element together with those around it, and
// notes in st when a mask with half-tones lies over it. m is
// the element's own space.
func (r *reader) clipsOf(n *node, m geom.Matrix, st *style) ([]*artwork.Clip, error) {
	r.budget.Dive()
	defer r.budget.Leave()
	d := r.cascade(n)
	clips := st.clips
	add := func(c *artwork.Clip) { clips = append(clips[:len(clips):len(clips)], c) }
	if v := d["clip-path"]; v != "" && v != "none" {
		target := r.reference(v)
		if target == nil || target.name != "clipPath" || r.using[target] {
			r.sheet.Note(artwork.NoteMissingClip, n.describe())
		} else if list, err := r.clip(n, target, m, *st, 0); err != nil {
			return nil, err
		} else {
			for _, c := range list {
				add(c)
			}
			// A clip path may be clipped itself, but not by itself.
			r.using[target] = true
			more, err := r.clipsOf(target, m, &style{fontSize: st.fontSize})
			delete(r.using, target)
			if err != nil {
				return nil, err
			}
			for _, c := range more {
				add(c)
			}
		}
	}
	if v := d["mask"]; v != "" && v != "none" {
		target := r.reference(v)
		if target == nil || target.name != "mask" || r.using[target] {
			r.sheet.Note(artwork.NoteMissingMask, n.describe())
		} else if cuts, ok, err := r.mask(n, target, m, *st); err != nil {
			return nil, err
		} else if ok {
			for _, c := range cuts {
				add(c)
			}
		} else if cut, most, err := r.half(n, target, m, *st); err != nil {
			return nil, err
		} else if st.soft = true; cut != nil {
			add(cut)
			if most < 1-soft {
				st.opacity *= most
			}
			r.sheet.Note(artwork.NoteMaskHalf, n.describe())
		} else {
			r.sheet.Note(artwork.NoteSoftMask, n.describe())
		}
	}
	return clips, nil
}

func (r *reader) reference(v string) *node {
	v = strings.TrimPrefix(trim(v), "url(")
	v, _, _ = strings.Cut(v, ")")
	v = strings.Trim(trim(v), `"'`)
	if !strings.HasPrefix(v, "#") {
		return nil
	}
	return r.ids[v[1:]]
}

// unitSpace returns the space of a clip's or mask's content: the element's own
// or, for objectBoundingBox, its box.
func (r *reader) unitSpace(n, target *node, attr string, m geom.Matrix, st style) (geom.Matrix, error) {
	if target.attr(attr) != "objectBoundingBox" {
		return m, nil
	}
	box := geom.EmptyBox()
	if err := r.extent(n, geom.Identity, st, &box, 0); err != nil {
		return m, err
	}
	if box.Empty() {
		return m, nil
	}
	return m.Mul(geom.Matrix{A: box.W(), D: box.H(), E: box.Min.X, F: box.Min.Y}), nil
}

// extent grows box by the fills in an element, in the space m leads to.
func (r *reader) extent(n *node, m geom.Matrix, st style, box *geom.Box, depth int) error {
	r.budget.Dive()
	defer r.budget.Leave()
	r.budget.Visit()
	contours, ok, err := r.geometry(n, &st)
	if err != nil {
		return err
	}
	if ok {
		for _, c := range contours {
			*box = box.Union(c.Transform(m).TightBox())
		}
		return nil
	}
	if n.name == "use" {
		if t := r.reference(n.attr("href")); t != nil && depth < 20 {
			r.budget.Spend(budget.Copies, 1)
			m = m.Mul(
				geom.Translate(
					r.length(n.attr("x"), r.view.W(), &st),
					r.length(n.attr("y"), r.view.H(), &st),
				),
			)
			return r.extentIn(t, m, st, box, depth+1)
		}
		return nil
	}
	for _, k := range n.kids {
		if err := r.extentIn(k, m, st, box, depth+1); err != nil {
			return err
		}
	}
	return nil
}

func (r *reader) extentIn(n *node, m geom.Matrix, st style, box *geom.Box, depth int) error {
	if t := n.attr("transform"); t != "" {
		tm, _ := parseTransform(t)
		m = m.Mul(tm)
	}
	return r.extent(n, m, st, box, depth)
}

// mostChoices bounds the ways in which the parts of a clip path may be cut themselves.
const mostChoices = 64

// clip collects the outlines of a clip path: what lies in all of the returned clips shows.
// Parts that are cut themselves, (A and a) or (B and b), are the same as (A or B) and (A or b)
// and (a or B) and (a or b).
func (r *reader) clip(n, target *node, m geom.Matrix, st style, depth int) ([]*artwork.Clip, error) {
	m, err := r.unitSpace(n, target, "clipPathUnits", m, st)
	if err != nil {
		return nil, err
	}
	if t := target.attr("transform"); t != "" {
		tm, _ := parseTransform(t)
		m = m.Mul(tm)
	}
	base, err := r.inherited(target)
	if err != nil {
		return nil, err
	}
	base.visible = true
	whole := &artwork.Clip{}
	list := []*artwork.Clip{whole}
	for _, k := range target.kids {
		part := &artwork.Clip{}
		if err := r.clipItem(k, m, base, part, depth); err != nil {
			return nil, err
		}
		if len(part.Items) == 0 {
			continue
		}
		cuts, err := r.ownClips(k, m)
		if err != nil {
			return nil, err
		}
		if len(list)*(1+len(cuts)) > mostChoices {
			r.sheet.Note(artwork.NoteMissingClip, k.describe())
			cuts = nil
		}
		before := list
		list = nil
		for _, c := range append([]*artwork.Clip{part}, cuts...) {
			for _, b := range before {
				both := append(b.Items[:len(b.Items):len(b.Items)], c.Items...)
				r.budget.Spend(budget.Steps, len(both))
				list = append(list, &artwork.Clip{Items: both})
			}
		}
	}
	return list, nil
}

// ownClips returns what a part of a clip path is cut by itself.
func (r *reader) ownClips(n *node, m geom.Matrix) ([]*artwork.Clip, error) {
	if v := r.cascade(n)["clip-path"]; v == "" || v == "none" {
		return nil, nil
	}
	if t := n.attr("transform"); t != "" {
		tm, _ := parseTransform(t)
		m = m.Mul(tm)
	}
	cuts, err := r.clipsOf(n, m, &style{fontSize: r.base.fontSize})
	for _, c := range cuts {
		if c.Outside { // of a mask, which has no say in a clip path
			return nil, err
		}
	}
	return cuts, err
}

func (r *reader) clipItem(n *node, m geom.Matrix, st style, c *artwork.Clip, depth int) error {
	if depth > 20 {
		return nil
	}
	st, shown, err := r.styleOf(n, st)
	if err != nil || !shown || !st.visible {
		return err
	}
	if t := n.attr("transform"); t != "" {
		tm, _ := parseTransform(t)
		m = m.Mul(tm)
	}
	if n.name == "use" {
		t := r.reference(n.attr("href"))
		if t == nil || t.name == "symbol" || t.name == "g" || t.name == "use" {
			return nil // only shapes and texts themselves count
		}
		r.budget.Spend(budget.Copies, 1)
		m = m.Mul(
			geom.Translate(r.length(n.attr("x"), r.view.W(), &st), r.length(n.attr("y"), r.view.H(), &st)),
		)
		return r.clipItem(t, m, st, c, depth+1)
	}
	if n.name == "text" {
		contours, err := r.textOutline(n, st)
		if err == nil && len(contours) > 0 {
			c.Items = append(c.Items, artwork.ClipItem{Contours: contours, Matrix: m})
		}
		return err
	}
	contours, ok, err := r.geometry(n, &st)
	if err != nil || !ok {
		return err
	}
	for _, ct := range contours {
		r.budget.Spend(budget.Nodes, len(ct.Segs)+1)
		if b := ct.Box().Transform(m); !b.Min.Finite() || !b.Max.Finite() {
			return nil
		}
	}
	if len(contours) > 0 {
		c.Items = append(c.Items, artwork.ClipItem{Contours: contours, Matrix: m, EvenOdd: st.clipRule})
	}
	return nil
}

// inherited returns what the content of an element outside the drawing, such
// as a mask, inherits: the styles of the element and those around it, without
// their opacity and clips, which do not carry over.
func (r *reader) inherited(n *node) (style, error) {
	st := r.base
	if n.parent != nil {
		var err error
		if st, err = r.inherited(n.parent); err != nil {
			return st, err
		}
	}
	st, _, err := r.styleOf(n, st)
	st.opacity, st.clips = 1, nil
	return st, err
}

// mask turns a mask of light shapes, with dark ones on top, into clips; ok is
// false for masks with half-tones, gradients, light on dark on light, or
// bitmaps.
func (r *reader) mask(n, target *node, m geom.Matrix, st style) ([]*artwork.Clip, bool, error) {
	r.using[target] = true
	defer delete(r.using, target)
	own := m
	m, err := r.unitSpace(n, target, "maskContentUnits", m, st)
	if err != nil {
		return nil, false, err
	}
	base, err := r.inherited(target)
	if err != nil {
		return nil, false, err
	}
	k := masker{
		r:     r,
		light: &artwork.Clip{},
		dark:  &artwork.Clip{Outside: true},
		alpha: byAlpha(r.cascade(target)),
		plain: true,
	}
	for _, kid := range target.kids {
		if err := k.walk(kid, m, base, 0); err != nil {
			return nil, false, err
		}
	}
	cuts := []*artwork.Clip{k.light}
	if len(k.dark.Items) > 0 {
		cuts = append(cuts, k.dark)
	}
	if frame, err := r.maskFrame(n, target, own, st); err != nil {
		return nil, false, err
	} else if frame != nil {
		cuts = append(cuts, frame)
	}
	return append(cuts, k.more...), k.plain, nil
}

// masker gathers the outlines of a mask: what shows, and what is taken away
// from that again.
type masker struct {
	r     *reader
	light *artwork.Clip
	dark  *artwork.Clip
	alpha bool            // by opacity instead of lightness
	plain bool            // nothing soft, nothing light above something dark
	more  []*artwork.Clip // that all of it lies in
	full  bool            // nothing else may come
}

// within looks for a mask or clip that an element of a mask has itself. What is in it shows only
// inside that; so does the whole mask if there is nothing else in it, else it is not plain. The
// function that is returned, if any, is called when the element has been walked.
func (k *masker) within(n *node, m geom.Matrix, st *style) (end func(), err error) {
	d := k.r.cascade(n)
	has := func(name string) bool { return d[name] != "" && d[name] != "none" }
	if !has("mask") && !has("clip-path") {
		return nil, nil
	}
	st.clips, st.soft = nil, false
	cuts, err := k.r.clipsOf(n, m, st)
	if err != nil {
		return nil, err
	}
	alone := len(k.light.Items)+len(k.dark.Items)+len(k.more) == 0
	k.plain = k.plain && alone && !st.soft
	return func() {
		k.more = append(k.more, cuts...)
		k.full = true
	}, nil
}

// maxMaskDepth bounds how deep the groups of a mask are followed.
const maxMaskDepth = 20

func (k *masker) walk(n *node, m geom.Matrix, st style, depth int) error {
	if depth > maxMaskDepth {
		k.plain = false
		return nil
	}
	r := k.r
	st, shown, err := r.styleOf(n, st)
	if err != nil || !shown {
		return err
	}
	if t := n.attr("transform"); t != "" {
		tm, _ := parseTransform(t)
		m = m.Mul(tm)
	}
	if end, err := k.within(n, m, &st); err != nil {
		return err
	} else if end != nil {
		defer end()
	}
	switch n.name {
	case "g":
		for _, kid := range n.kids {
			if err := k.walk(kid, m, st, depth+1); err != nil {
				return err
			}
		}
		return nil
	case "use":
		t := r.reference(n.attr("href"))
		if t == nil {
			return nil
		}
		r.budget.Spend(budget.Copies, 1)
		x, y := r.length(n.attr("x"), r.view.W(), &st), r.length(n.attr("y"), r.view.H(), &st)
		return k.walk(t, m.Mul(geom.Translate(x, y)), st, depth+1)
	case "title", "desc", "metadata", "defs", "style":
		return nil
	}
	contours, ok, err := r.geometry(n, &st)
	if err != nil {
		return err
	}
	if !ok {
		k.plain = false
		return nil
	}
	k.put(n, &st, st.fill, st.fillAlpha, artwork.ClipItem{Contours: contours, Matrix: m, EvenOdd: st.evenOdd})
	width := r.length(st.width, r.diagonal(), &st)
	if st.stroke != "none" && width > 0 && !math.IsInf(width, 0) {
		k.put(n, &st, st.stroke, st.strokeAlpha, r.strokeItem(contours, m, &st, width))
	}
	return nil
}

// soft is how far from full or no light a part of a mask may be.
const soft = 0.05

// put adds an outline in its light (by the luminance of SVG 1.1, 14.4).
func (k *masker) put(n *node, st *style, paint string, alpha float64, it artwork.ClipItem) {
	if strings.HasPrefix(paint, "url(") {
		k.plain = false
		return
	}
	col, a, ok := k.r.paint(paint, st, n)
	if !ok {
		return
	}
	k.plain = k.plain && !k.full
	cover := a * alpha * st.opacity
	light := cover
	if !k.alpha {
		light *= (0.2125*float64(col.R) + 0.7154*float64(col.G) + 0.0721*float64(col.B)) / 255
	}
	switch {
	case light > 1-soft:
		k.plain = k.plain && len(k.dark.Items) == 0
		k.light.Items = append(k.light.Items, it)
	case light > soft || cover <= 1-soft && len(k.light.Items) > 0:
		k.plain = false
	case len(k.light.Items) > 0:
		k.dark.Items = append(k.dark.Items, it)
	}
}

// strokeItem returns the outlines of a stroke as part of a clip.
func (r *reader) strokeItem(contours []geom.Contour, m geom.Matrix, st *style, width float64) artwork.ClipItem {
	sh := artwork.Shape{Contours: contours, Matrix: geom.Identity, Stroke: r.strokeStyle(st, width)}
	it := artwork.ClipItem{Matrix: m, Contours: artwork.Straight(sh.Outline(width / 200))}
	for _, c := range it.Contours {
		r.budget.Spend(budget.Nodes, len(c.Segs)+1)
	}
	return it
}
