package recipe

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"bildhauer/core/artwork"
)

// prefixes begin the ids of parts that are not in the list and were not made by
// colour, before a colon and the key of what they take.
var prefixes = map[string]string{ByLayer: "l", ByGroup: "g", ByShape: "s", ByOutline: "o"}

// noGroup stands for the key of a group where there is none.
const noGroup = "-"

// ruleFor returns what an untouched part takes.
func ruleFor(grouping, key string) Rule {
	switch grouping {
	case ByShape:
		return Rule{Shapes: []string{key}}
	case ByOutline:
		return Rule{Outlines: []string{key}}
	}
	return Rule{Groups: []string{key}}
}

// OutlineKey names outline n, from 0, of a shape.
func OutlineKey(shape string, n int) string { return shape + "#" + strconv.Itoa(n) }

// ShapeOfOutline returns the key of the shape that an outline belongs to.
func ShapeOfOutline(outline string) string {
	if i := strings.LastIndexByte(outline, '#'); i >= 0 {
		return outline[:i]
	}
	return outline
}

// Assigner tells which part takes a shape. Rules for single shapes come first, then
// those for groups, the innermost first, then colours, then what parts are made of
// where there is no rule. Parts of the list that were made by another grouping than
// the one in force rest; parts made by hand always count.
type Assigner struct {
	sheet    *artwork.Sheet
	parts    *Parts
	shapes   map[string]string // key -> part
	groups   map[string]string
	colors   map[string]string
	outlines map[string]string // key of a shape's outline -> part
	split    map[string]bool   // shapes of which some outline has a rule
}

// Assigner returns the one for a sheet.
func (p *Parts) Assigner(s *artwork.Sheet) *Assigner {
	a := &Assigner{
		sheet: s, parts: p, shapes: map[string]string{}, groups: map[string]string{}, colors: map[string]string{},
		outlines: map[string]string{}, split: map[string]bool{},
	}
	for i := range p.List {
		q := &p.List[i]
		if !p.counts(q.ID) {
			continue
		}
		put := func(m map[string]string, keys []string) {
			for _, k := range keys {
				m[k] = q.ID
			}
		}
		put(a.shapes, q.Takes.Shapes)
		put(a.groups, q.Takes.Groups)
		put(a.colors, q.Takes.Colors)
		put(a.outlines, q.Takes.Outlines)
		for _, k := range q.Takes.Outlines {
			a.split[ShapeOfOutline(k)] = true
		}
	}
	return a
}

// counts reports whether a part of the list is in force: made by hand, or by the
// grouping there is.
func (p *Parts) counts(id string) bool {
	by, _, found := strings.Cut(id, ":")
	if !found {
		return p.By == ByColour || !strings.HasPrefix(id, untouched)
	}
	return prefixes[p.By] == by
}

// Of returns the part that takes shape i, whose colour is hex; "" where its outlines
// are parts of their own. With apart some outline of it has a rule: see Outline.
func (a *Assigner) Of(i int, hex string) (id string, apart bool) {
	id = a.whole(i, hex)
	return id, id == "" || a.split[a.sheet.Shapes[i].Key]
}

// whole returns the part that takes shape i but for outlines with rules.
func (a *Assigner) whole(i int, hex string) string {
	sh := &a.sheet.Shapes[i]
	if id, ok := a.shapes[sh.Key]; ok {
		return id
	}
	for g := sh.Group; g >= 0; g = a.sheet.Groups[g].Parent {
		if id, ok := a.groups[a.sheet.Groups[g].Key]; ok {
			return id
		}
	}
	if id, ok := a.colors[hex]; ok {
		return id
	}
	switch a.parts.By {
	case ByLayer:
		return prefixes[ByLayer] + ":" + a.layer(sh.Group)
	case ByGroup:
		return prefixes[ByGroup] + ":" + a.group(sh.Group)
	case ByShape:
		return prefixes[ByShape] + ":" + sh.Key
	case ByOutline:
		return ""
	}
	return a.parts.Taking(hex).ID
}

// Outline returns the part that takes outline n of a shape; whole is the part that
// takes what has no rule.
func (a *Assigner) Outline(shape string, n int, whole string) string {
	key := OutlineKey(shape, n)
	if id, ok := a.outlines[key]; ok {
		return id
	}
	if whole != "" {
		return whole
	}
	return prefixes[ByOutline] + ":" + key
}

// layer returns the key of the outermost layer of a group, or of its outermost group.
func (a *Assigner) layer(g int) string {
	key := noGroup
	for ; g >= 0; g = a.sheet.Groups[g].Parent {
		key = a.sheet.Groups[g].Key
	}
	return key
}

func (a *Assigner) group(g int) string {
	if g < 0 {
		return noGroup
	}
	return a.sheet.Groups[g].Key
}

// Sorted returns the indices of parts, given by their ids in the order of painting,
// in the order that the recipe gives them: those it names first.
func (p *Parts) Sorted(ids []string) []int {
	rank := map[string]int{}
	for i, id := range p.Order {
		rank[id] = i + 1
	}
	out := make([]int, len(ids))
	for i := range out {
		out[i] = i
	}
	place := func(i int) int {
		if r := cmp.Or(rank[ids[i]], rank[BaseOf(ids[i])]); r > 0 {
			return r
		}
		return len(p.Order) + 1 + i
	}
	slices.SortStableFunc(out, func(a, b int) int { return place(a) - place(b) })
	return out
}
