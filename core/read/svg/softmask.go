package svg

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/ink"
)

// apart returns a reader of the same document whose shapes are no part of the sheet.
func (r *reader) apart() *reader {
	sub := *r
	sub.sheet = &artwork.Sheet{Page: r.sheet.Page}
	sub.keys, sub.images, sub.styled = map[string]int{}, 0, nil
	return &sub
}

// half is the area in which at least half as much shows through a mask with half-tones as where
// most does, and how much that is; cut is nil for a mask of bitmaps.
func (r *reader) half(n, target *node, m geom.Matrix, st style) (cut *artwork.Clip, most float64, err error) {
	r.budget.Dive()
	defer r.budget.Leave()
	own, err := r.extentOf(n, st)
	if err != nil {
		return nil, 0, err
	}
	region := r.maskRegion(target, own, &st)
	space, err := r.unitSpace(n, target, "maskContentUnits", m, st)
	if err != nil {
		return nil, 0, err
	}
	base, err := r.inherited(target)
	if err != nil {
		return nil, 0, err
	}
	r.using[target] = true
	drawn := r.apart()
	err = drawn.children(target, space, base, -1, false, "mask")
	delete(r.using, target)
	if err != nil || drawn.images > 0 {
		return nil, 0, err
	}
	box := geom.EmptyBox()
	for i := range drawn.sheet.Shapes {
		box = box.Union(drawn.sheet.Shapes[i].Box())
	}
	v := ink.Veil{
		Shapes: drawn.sheet.Shapes,
		Alpha:  byAlpha(r.cascade(target)),
		Linear: r.cascade(target)["color-interpolation"] == "linearRGB",
		Box:    box.Intersect(region.Transform(m)),
	}
	area, most, err := v.Half(r.budget)
	return &artwork.Clip{Items: []artwork.ClipItem{area}}, most, err
}

// byAlpha reports whether a mask goes by cover instead of light.
func byAlpha(d map[string]string) bool { return d["mask-type"] == "alpha" }

// extentOf returns the box of the fills of an element, in its own space.
func (r *reader) extentOf(n *node, st style) (geom.Box, error) {
	box := geom.EmptyBox()
	err := r.extent(n, geom.Identity, st, &box, 0)
	return box, err
}

// maskRegion returns the area beyond which a mask lets nothing show, in the space of the
// element that it lies over (SVG 1.1, 14.4); by itself it reaches a tenth beyond the element.
func (r *reader) maskRegion(target *node, own geom.Box, st *style) geom.Box {
	f := &filtering{r: r, st: st, own: own}
	boxed := target.attr("maskUnits") != "userSpaceOnUse"
	usual := r.view
	if boxed {
		usual = own
	}
	return f.area(target, boxed, widened(usual))
}

// widened returns a box with a tenth of its sides added on all of them.
func widened(b geom.Box) geom.Box {
	dx, dy := 0.1*b.W(), 0.1*b.H()
	return geom.Box{Min: geom.Vec{X: b.Min.X - dx, Y: b.Min.Y - dy}, Max: geom.Vec{X: b.Max.X + dx, Y: b.Max.Y + dy}}
}

// maskFrame returns the region of a mask as a clip, nil where it cuts nothing off a fill.
func (r *reader) maskFrame(n, target *node, m geom.Matrix, st style) (*artwork.Clip, error) {
	own, err := r.extentOf(n, st)
	if err != nil || own.Empty() {
		return nil, err
	}
	b := r.maskRegion(target, own, &st)
	if b.Contains(own) || math.IsNaN(b.W()+b.H()) {
		return nil, nil
	}
	frame := artwork.ClipItem{Contours: rectangle(b.Min.X, b.Min.Y, b.W(), b.H(), "", "", 0, 0), Matrix: m}
	return &artwork.Clip{Items: []artwork.ClipItem{frame}}, nil
}
