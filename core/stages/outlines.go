package stages

import (
	"context"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// outlines makes the list of parts from the regions of what was chosen. Shapes whose
// outlines belong to several parts are divided here, where their areas are known: whole
// holds those of such shapes before others have cut them.
func outlines(
	parts []ChosenPart,
	shapes [][]int,
	regions, whole map[int32]plane.Region,
	step float64,
) []Outline {
	var list []Outline
	at := map[string]int{}
	add := func(id string, from ChosenPart, shapes []int, r plane.Region, outline string) {
		n, ok := at[id]
		if !ok {
			n = len(list)
			at[id] = n
			list = append(list, Outline{ID: id, Color: from.Color})
		}
		o := &list[n]
		o.Shapes = append(o.Shapes, shapes...)
		o.Region.Value = append(o.Region.Value, r...)
		if outline != "" {
			o.Outlines = append(o.Outlines, outline)
		}
	}
	for i, p := range parts {
		r := regions[int32(i+1)]
		if len(r) == 0 {
			continue
		}
		if p.Shape == "" {
			add(p.ID, p, shapes[i], r, "")
			continue
		}
		for n, c := range divided(r, Letters(whole[int32(i+1)])) {
			if len(c) > 0 {
				add(p.assigner.Outline(p.Shape, n, p.Whole), p, shapes[i], c, recipe.OutlineKey(p.Shape, n))
			}
		}
	}
	for i := range list {
		o := &list[i]
		slices.Sort(o.Shapes)
		o.Shapes = slices.Compact(o.Shapes)
		o.Region.Key = regionKey(o.Region.Value, step)
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

// divided gives each polygon of a region to the letter that it is a piece of.
func divided(r plane.Region, letters []plane.Region) []plane.Region {
	out := make([]plane.Region, len(letters))
	for _, p := range r {
		at := p.Within()
		n := slices.IndexFunc(letters, func(l plane.Region) bool { return l.Contains(at) })
		if n < 0 && len(letters) > 0 {
			n = 0 // less than the grid can tell
		}
		if n >= 0 {
			out[n] = append(out[n], p)
		}
	}
	return out
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
