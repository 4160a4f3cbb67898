package svg

import (
	"bytes"
	"fmt"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/trace"
)

// image reads an image element: a drawing inside becomes part of this one, a bitmap shapes if
// bitmaps are traced; else it is counted, and its frame offered.
func (r *reader) image(n *node, m geom.Matrix, st style, group int, hidden bool, key string) error {
	w, h := r.length(n.attr("width"), r.view.W(), &st), r.length(n.attr("height"), r.view.H(), &st)
	at := geom.Vec{X: r.length(n.attr("x"), r.view.W(), &st), Y: r.length(n.attr("y"), r.view.H(), &st)}
	data, inside := dataOf(n.attr("href"))
	if inside && drawing(data) {
		return r.inner(n, data, m, st, group, hidden, key)
	}
	if !inside {
		if r.away == "" {
			r.away = fileOf(n.attr("href"))
		}
		r.sheet.Note(artwork.NotePictureElsewhere, n.describe(), fileOf(n.attr("href")))
		r.sheet.AddBitmap(m.Mul(geom.Translate(at.X, at.Y)).Mul(geom.Scale(w, h)), group, hidden)
		return nil
	}
	r.images++
	m = m.Mul(geom.Translate(at.X, at.Y))
	if r.tracing.Pictures && st.visible {
		if done, err := r.trace(n, data, m, geom.Vec{X: w, Y: h}, &st, group, hidden); done || err != nil {
			return err
		}
	} else {
		r.sheet.Pictures++
	}
	place := geom.Box{Min: at, Max: at.Add(geom.Vec{X: w, Y: h})}
	r.sheet.NoteAt(artwork.NoteBitmap, n.describe(), place.Transform(m.Mul(geom.Translate(-at.X, -at.Y))))
	r.sheet.AddBitmap(m.Mul(geom.Scale(w, h)), group, hidden)
	return nil
}

// trace makes shapes of a bitmap, m leading from its upper left corner; size is that of its
// viewport, or 0 by 0 for a bitmap as large as it is.
func (r *reader) trace(n *node, data []byte, m geom.Matrix, size geom.Vec, st *style, group int, hidden bool) (bool, error) {
	px, ok := trace.Size(data)
	if !ok {
		return false, nil
	}
	if !(size.X > 0) {
		size.X = px.W()
	}
	if !(size.Y > 0) {
		size.Y = px.H()
	}
	clips := st.clips
	aspect := n.attr("preserveAspectRatio")
	if strings.Contains(aspect, "slice") {
		frame := artwork.ClipItem{Contours: rectangle(0, 0, size.X, size.Y, "", "", 0, 0), Matrix: m}
		clips = append(clips[:len(clips):len(clips)], &artwork.Clip{Items: []artwork.ClipItem{frame}})
	}
	return trace.Inside(r.sheet, trace.Placed{
		Data:   data,
		Matrix: m.Mul(fit(px, size.X, size.Y, aspect)).Mul(geom.Scale(px.W(), px.H())),
		Like:   artwork.Shape{Group: group, Hidden: hidden, Opacity: st.opacity, Blend: st.blend, Soft: st.soft, Clips: clips},
	}, r.tracing, r.budget)
}

// drawing reports whether the bytes of an image are SVG.
func drawing(data []byte) bool {
	head := bytes.TrimLeft(data[:min(len(data), 1024)], " \t\r\n\xef\xbb\xbf")
	return bytes.HasPrefix(head, []byte("<")) && bytes.Contains(data, []byte("<svg"))
}

// document opens SVG that stands in an address within this file.
func (r *reader) document(data []byte) (*reader, error) {
	root, err := parseDocument(data, r.budget)
	if err != nil || root.name != "svg" {
		return nil, err
	}
	sub := *r
	sub.root, sub.ids, sub.using, sub.styled = root, map[string]*node{}, map[*node]bool{}, nil
	sub.rules = nil
	var css strings.Builder
	sub.index(root, &css)
	var skipped int
	sub.rules, _, skipped = styleSheet(css.String())
	for range skipped {
		r.sheet.Note(artwork.NoteStyleRule, "")
	}
	return &sub, nil
}

// inner draws SVG inside an image element, as a viewport of its own.
func (r *reader) inner(n *node, data []byte, m geom.Matrix, st style, group int, hidden bool, key string) error {
	r.budget.Dive()
	defer r.budget.Leave()
	sub, err := r.document(data)
	if err != nil || sub == nil {
		r.sheet.Note(artwork.NoteForeignContent, n.describe())
		return nil
	}
	own := r.base
	own.opacity, own.clips, own.soft, own.blend = st.opacity, st.clips, st.soft, st.blend
	own.visible = st.visible
	// The image element gives the place, and the size where it has one.
	frame := &node{name: "svg", attrs: map[string]string{}, parent: nil}
	for _, name := range [...]string{"width", "height"} {
		if frame.attrs[name] = n.attr(name); frame.attrs[name] == "" {
			frame.attrs[name] = sub.root.attr(name)
		}
	}
	m = m.Mul(geom.Translate(r.length(n.attr("x"), r.view.W(), &st), r.length(n.attr("y"), r.view.H(), &st)))
	root := *sub.root
	root.attrs = map[string]string{}
	for k, v := range sub.root.attrs {
		root.attrs[k] = v
	}
	delete(root.attrs, "x")
	delete(root.attrs, "y")
	if _, ok := viewBox(root.attr("viewBox")); !ok {
		w, okW := absolute(root.attr("width"))
		h, okH := absolute(root.attr("height"))
		if okW && okH {
			root.attrs["viewBox"] = fmt.Sprintf("0 0 %g %g", w, h)
		}
	}
	if a := n.attr("preserveAspectRatio"); a != "" {
		root.attrs["preserveAspectRatio"] = a
	}
	sub.view = r.view
	own, shown, err := sub.styleOf(&root, own)
	if err != nil {
		return err
	}
	err = sub.nested(&root, frame, m, own, r.group(n, group, hidden), hidden || !shown, key)
	r.images = sub.images
	return err
}

// elsewhere finds an element by an address that is not of this document: one that stands in the
// address itself.
func (r *reader) elsewhere(href string) (*reader, *node) {
	address, id, _ := strings.Cut(href, "#")
	data, ok := dataOf(address)
	if !ok || !drawing(data) {
		return nil, nil
	}
	sub, err := r.document(data)
	if err != nil || sub == nil {
		return nil, nil
	}
	if id == "" {
		return sub, sub.root
	}
	return sub, sub.ids[id]
}
