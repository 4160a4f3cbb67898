package stages

import (
	"fmt"
	"strconv"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/recipe"
)

// Names returns what the parts are called: by their own names, by those of the layer,
// group, shape or letter that they are, or by words for their colours; counted where two
// are alike.
func Names(r *recipe.Recipe, on *Regions) []string {
	n := namer{recipe: r, sheet: on.Sheet, groups: map[string]string{}, shapes: map[string]*artwork.Shape{}}
	n.letters = map[string]int{}
	if on.Sheet != nil {
		for _, g := range on.Sheet.Groups {
			n.groups[g.Key] = g.Name
		}
		for i := range on.Sheet.Shapes {
			n.shapes[on.Sheet.Shapes[i].Key] = &on.Sheet.Shapes[i]
		}
	}
	for i := range on.Parts {
		for _, k := range on.Parts[i].Outlines {
			n.letters[recipe.ShapeOfOutline(k)]++
		}
	}
	out := make([]string, len(on.Parts))
	counts := map[string]int{}
	for i := range on.Parts {
		if p := r.Parts.Find(on.Parts[i].ID); p != nil && p.Name != "" {
			out[i] = p.Name
			continue
		}
		words := n.name(&on.Parts[i])
		if out[i] = words; counts[words] > 0 {
			out[i] = fmt.Sprintf("%s %d", words, counts[words]+1)
		}
		counts[words]++
	}
	return out
}

type namer struct {
	recipe  *recipe.Recipe
	sheet   *artwork.Sheet
	groups  map[string]string
	shapes  map[string]*artwork.Shape
	letters map[string]int // of each shape: outlines that are parts
}

func (n *namer) name(o *Outline) string {
	kind, key, found := strings.Cut(o.ID, ":")
	words := ""
	switch {
	case !found:
		words = n.madeByHand(o)
	case kind == "l" || kind == "g":
		if words = n.recipe.Intake.GroupNames[key]; words == "" {
			words = n.groups[key]
		}
	case kind == "s":
		words = n.shape(key)
	case kind == "o":
		words = n.letter(key)
	}
	if words == "" {
		words = o.Color.Words()
	}
	return words
}

// madeByHand names a part that takes one shape, or one outline, and nothing else.
func (n *namer) madeByHand(o *Outline) string {
	p := n.recipe.Parts.Find(o.ID)
	if p == nil || len(p.Takes.Colors)+len(p.Takes.Groups)+len(p.Takes.Shapes)+len(p.Takes.Outlines) != 1 {
		return ""
	}
	for _, key := range p.Takes.Outlines {
		return n.letter(key)
	}
	for _, key := range p.Takes.Shapes {
		return n.shape(key)
	}
	return ""
}

func (n *namer) shape(key string) string {
	if name := n.recipe.Intake.Shapes[key].Name; name != "" {
		return name
	}
	if sh := n.shapes[key]; sh != nil {
		return sh.Name
	}
	return ""
}

// letter returns the letter that an outline of a text is, if the text has as many
// letters as outlines, else the name of its shape.
func (n *namer) letter(outline string) string {
	key := recipe.ShapeOfOutline(outline)
	sh := n.shapes[key]
	if sh == nil {
		return ""
	}
	letters := []rune(strings.Join(strings.Fields(sh.Text), ""))
	nth, err := strconv.Atoi(strings.TrimPrefix(outline, key+"#"))
	if err == nil && nth < len(letters) && len(letters) == n.letters[key] {
		return string(letters[nth])
	}
	return n.shape(key)
}
