package pdf

import (
	"fmt"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
)

// veiled is what a soft mask leaves: the area where half of what shows most shows, and how
// much shows there.
type veiled struct {
	cut  *artwork.Clip // nil for a mask that can't be drawn
	most float64
}

// softMask sets or takes off the soft mask of the state (ISO 32000-1, 11.6.5.3): its group is
// drawn by itself, and its edge taken where half shows.
func (c *run) softMask(o types.Object) {
	g := c.g
	g.soft, g.veil, g.veilMost = false, nil, 1
	d := c.r.dict(o)
	if d == nil { // None
		return
	}
	g.soft = true
	key := fmt.Sprint(id(o), id(d["G"]), g.ctm)
	v, known := c.r.veils[key]
	if !known || id(d["G"]) == "" {
		v = c.veilOf(d)
		c.r.veils[key] = v
	}
	if v.cut == nil {
		c.r.sheet.Note(artwork.NoteSoftMaskIgnored, "")
		return
	}
	c.r.sheet.Note(artwork.NoteMaskHalf, "")
	g.veil, g.veilMost = v.cut, v.most
}

// veilOf draws the group of a soft mask.
func (c *run) veilOf(d types.Dict) veiled {
	r := c.r
	group := r.dict(d["G"])
	sd := r.stream(d["G"])
	key := id(d["G"])
	if group == nil || sd == nil || r.running[key] || c.depth > maxForms {
		return veiled{}
	}
	r.running[key] = true
	defer delete(r.running, key)
	r.budget.Spend(budget.Copies, 1)
	sub := *r
	sub.sheet = &artwork.Sheet{Page: r.sheet.Page}
	sub.layers, sub.images = map[layerKey]int{}, 0
	g := newState()
	g.ctm = c.g.ctm.Mul(r.matrix(group["Matrix"]))
	g.patternBase = g.ctm
	res := r.dict(group["Resources"])
	if res == nil {
		res = c.res
	}
	if b := r.rect(group["BBox"]); !b.Empty() {
		box := artwork.ClipItem{Contours: []geom.Contour{rectangle(b)}, Matrix: r.flip.Mul(g.ctm)}
		g.clips = []*artwork.Clip{{Items: []artwork.ClipItem{box}}}
	}
	in := &run{r: &sub, g: g, res: res, group: -1}
	if err := in.stream(sd.Content, c.depth+1); err != nil || sub.images > 0 {
		return veiled{}
	}
	v := ink.Veil{Shapes: sub.sheet.Shapes, Alpha: r.nameOf(d["S"]) == "Alpha", Box: geom.EmptyBox()}
	for i := range v.Shapes {
		v.Box = v.Box.Union(v.Shapes[i].Box())
	}
	if f := r.function(d["TR"], 0); f != nil {
		v.Curve = func(x float64) float64 {
			if y := f.Eval([]float64{x}); len(y) > 0 {
				return y[0]
			}
			return x
		}
	}
	v.Ground = r.ground(d, group, res)
	if ground := v.Ground; !v.Alpha && (ground > 0 || v.Curve != nil) {
		v.Box = r.sheet.Page
	}
	v.Box = v.Box.Intersect(r.sheet.Page)
	area, most, err := v.Half(r.budget)
	if err != nil {
		return veiled{}
	}
	return veiled{&artwork.Clip{Items: []artwork.ClipItem{area}}, most}
}

// ground returns the light of a mask where its group draws nothing.
func (r *reader) ground(d, group, res types.Dict) float64 {
	back := r.nums(d["BC"])
	if len(back) == 0 {
		return 0
	}
	space := grayColors
	if cs := r.dict(group["Group"])["CS"]; cs != nil {
		space = r.space(cs, res, 0)
	}
	c := space.at(back)
	return (0.3*float64(c.R) + 0.59*float64(c.G) + 0.11*float64(c.B)) / 255
}

// clips returns what all that is painted shows in.
func (c *run) clips() []*artwork.Clip {
	list := c.g.clips[:len(c.g.clips):len(c.g.clips)]
	for _, v := range [...]*artwork.Clip{c.g.veil, c.g.groupVeil} {
		if v != nil {
			list = append(list, v)
		}
	}
	return list
}
