package stages

import (
	"context"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// divided is parts of which each has one label: a shape whose outlines belong to several parts is a layer
// for each of these.
type divided struct {
	parts  []ChosenPart // by their labels, from 1
	layers []plane.Layer
	of     []int      // of each layer: its shape
	shapes [][]int    // of each part
	keys   [][]string // of each part: the outlines that it was given

	// Of each part in a relief, see levels.go.
	on       [][]string // ids of those that it lies on
	levelled []bool     // it has a level
	line     []bool     // it is made of outlines
}

// regroup makes parts of layers anew, in the order in which they are painted first; id names the part of
// layer k.
func (d *divided) regroup(id func(k int) string, line func(k int) bool) {
	was := *d
	d.parts, d.shapes, d.keys = nil, nil, nil
	label := map[string]int32{}
	for k := range was.layers {
		name, from := id(k), was.layers[k].Label-1
		if label[name] == 0 {
			part := was.parts[from]
			part.ID = name
			d.parts, d.shapes, d.keys = append(d.parts, part), append(d.shapes, nil), append(d.keys, was.keys[from])
			d.on, d.levelled, d.line = append(d.on, nil), append(d.levelled, false), append(d.line, line(k))
			label[name] = int32(len(d.parts))
		}
		d.layers[k].Label = label[name]
		d.shapes[label[name]-1] = append(d.shapes[label[name]-1], was.of[k])
	}
}

// apart divides shapes whose outlines belong to several parts; whole is the regions of those, by their
// labels, before others have cut them.
func apart(c *Chosen, layers []plane.Layer, whole map[int32]plane.Region) *divided {
	out := &divided{}
	labels := map[string]int32{}
	label := func(p ChosenPart) int32 {
		if labels[p.ID] == 0 {
			out.parts, out.shapes, out.keys = append(out.parts, p), append(out.shapes, nil), append(out.keys, nil)
			labels[p.ID] = int32(len(out.parts))
		}
		return labels[p.ID]
	}
	letters := make([][]plane.Region, len(c.Parts))
	owner := func(p *ChosenPart, n int) ChosenPart {
		return ChosenPart{ID: p.assigner.Outline(p.Shape, n, p.Whole), Color: p.Color}
	}
	for i := range c.Parts {
		p := &c.Parts[i]
		if p.Shape == "" {
			label(*p)
			continue
		}
		letters[i] = Letters(whole[int32(i+1)])
		for n := range letters[i] {
			label(owner(p, n))
		}
	}
	for k, l := range layers {
		shape, p := c.Take[k], &c.Parts[l.Label-1]
		if p.Shape == "" {
			l.Label = label(*p)
			out.layers, out.of = append(out.layers, l), append(out.of, shape)
			out.shapes[l.Label-1] = append(out.shapes[l.Label-1], shape)
			continue
		}
		at := map[int32]int{} // label -> layer
		for n, r := range letters[l.Label-1] {
			own := label(owner(p, n))
			if _, have := at[own]; !have {
				at[own] = len(out.layers)
				out.layers, out.of = append(out.layers, plane.Layer{Label: own, Rule: plane.NonZero}), append(out.of, shape)
				out.shapes[own-1] = append(out.shapes[own-1], shape)
			}
			one := &out.layers[at[own]]
			r.Loops(func(loop plane.Loop) { one.Loops = append(one.Loops, loop) })
			out.keys[own-1] = append(out.keys[own-1], recipe.OutlineKey(p.Shape, n))
		}
	}
	return out
}

// outlines makes the list of parts of what is left of them.
func (d *divided) outlines(regions map[int32]plane.Region, step plane.Step) []Outline {
	var list []Outline
	for i, p := range d.parts {
		r := regions[int32(i+1)]
		if len(r) == 0 {
			continue
		}
		o := Outline{ID: p.ID, Color: p.Color, Shapes: d.shapes[i], Outlines: d.keys[i]}
		if len(d.on) > 0 {
			o.On, o.Levelled, o.Line = d.on[i], d.levelled[i], d.line[i]
		}
		o.Region = Made[plane.Region]{regionKey(r, step), r}
		slices.Sort(o.Shapes)
		o.Shapes = slices.Compact(o.Shapes)
		list = append(list, o)
	}
	return list
}

// OutlinesOf returns the keys of the outlines that a part takes: of all its shapes, or
// those that were given to it. Stage results are made where they are missing.
func (l *Line) OutlinesOf(ctx context.Context, part *Outline) ([]string, error) {
	if len(part.Outlines) > 0 {
		return part.Outlines, nil
	}
	joined, err := l.Joined(ctx)
	if err != nil {
		return nil, err
	}
	mended, err := l.MendedOf(ctx, joined)
	if err != nil {
		return nil, err
	}
	sized, err := l.sizedOf(ctx, mended)
	if err != nil {
		return nil, err
	}
	in := regionsInput(sized, l.Recipe)
	var keys []string
	for k, layer := range sized.Value.layers(in.Step, in.Tubes) {
		i := sized.Value.Chosen.Take[k]
		if !slices.Contains(part.Shapes, i) {
			continue
		}
		whole, err := plane.Stack([]plane.Layer{layer}, func() bool { return ctx.Err() != nil })
		if err != nil {
			return nil, problem(Tangled, "The outlines of this part", err)
		}
		for n := range Letters(whole[layer.Label]) {
			keys = append(keys, recipe.OutlineKey(sized.Value.Chosen.Sheet.Shapes[i].Key, n))
		}
	}
	return keys, ctx.Err()
}

// Letters divides a region into its connected areas, from left to right. What stands
// above or below another one, narrower and much smaller, belongs to it: the dot of an i,
// the dots of an ä, the point of an exclamation mark.
func Letters(r plane.Region) []plane.Region {
	type glyph struct {
		poly   plane.Polygon
		lo, hi plane.Point
		area   int64
		host   int
	}
	list := make([]glyph, len(r))
	for i, p := range r {
		lo, hi, _ := plane.Region{p}.Bounds()
		list[i] = glyph{p, lo, hi, p.Area2(), i}
	}
	for i := range list {
		dot := &list[i]
		best := int32(0)
		for j := range list {
			g := &list[j]
			if i == j || dot.area*5 > g.area*2 {
				continue
			}
			// Most of its width lies over the other one.
			over := min(dot.hi.X, g.hi.X) - max(dot.lo.X, g.lo.X)
			gap := max(dot.lo.Y-g.hi.Y, g.lo.Y-dot.hi.Y)
			if gap < 0 || 2*gap > g.hi.Y-g.lo.Y || 10*int64(over) < 6*int64(dot.hi.X-dot.lo.X) {
				continue
			}
			if dot.host == i || gap < best {
				dot.host, best = j, gap
			}
		}
	}
	order := make([]int, 0, len(list))
	for i := range list {
		for list[i].host != list[list[i].host].host { // a dot on a dot
			list[i].host = list[list[i].host].host
		}
		if list[i].host == i {
			order = append(order, i)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int {
		if d := int(list[a].lo.X) - int(list[b].lo.X); d != 0 {
			return d
		}
		return int(list[b].hi.Y) - int(list[a].hi.Y)
	})
	out := make([]plane.Region, len(order))
	for n, host := range order {
		out[n] = plane.Region{list[host].poly}
		for i := range list {
			if i != host && list[i].host == host {
				out[n] = append(out[n], list[i].poly)
			}
		}
	}
	return out
}
