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
	count := func(words string) string {
		if counts[words]++; counts[words] > 1 {
			return fmt.Sprintf("%s %d", words, counts[words])
		}
		return words
	}
	levels := n.levels(on)
	words := map[string]string{} // of what was divided, by the part that it was divided from
	for i := range on.Parts {
		o := &on.Parts[i]
		base := recipe.BaseOf(o.ID)
		if p := r.Parts.Find(o.ID); p != nil && p.Name != "" && (base != o.ID || levels[i] == "") {
			out[i] = p.Name
			continue
		}
		if levels[i] == "" {
			out[i] = count(n.name(o))
			continue
		}
		if words[base] == "" {
			if p := r.Parts.Find(base); p != nil && p.Name != "" {
				words[base] = p.Name
			} else {
				words[base] = count(n.name(o))
			}
		}
		out[i] = count(words[base] + ", " + levels[i])
	}
	return out
}

// levels words the levels of parts that a relief divided, "" of others; outlines are named so.
func (n *namer) levels(on *Regions) []string {
	levels, _ := Levels(on, &n.recipe.Parts)
	pieces := map[string]int{}
	for i := range on.Parts {
		pieces[recipe.BaseOf(on.Parts[i].ID)]++
	}
	out := make([]string, len(on.Parts))
	for i := range on.Parts {
		switch o := &on.Parts[i]; {
		case pieces[recipe.BaseOf(o.ID)] < 2 || levels[i] == 0:
		case o.Line:
			out[i] = "outlines"
		default:
			out[i] = fmt.Sprintf("level %d", levels[i])
		}
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
