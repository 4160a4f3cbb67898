package stages

import (
	"strings"

	"bildhauer/core/recipe"
)

// idleOf says, a sentence each without its stop, which measures of a part are set and change nothing, by
// what it is (docs/meaning.md). A bare tube has no strokes and is raised as a body.
func idleOf(how recipe.Measures, role recipe.Role, bare bool) []string {
	detail := role.Kind == recipe.Recess || role.Kind == recipe.Raised
	round := role.Kind == recipe.AsTube && !bare && !how.Tube.Own
	frame := how.Wall > 0 && how.OpenFront && how.OpenBack
	var words []string
	idle := func(word string, set, without bool) {
		if set && without {
			words = append(words, word)
		}
	}
	bevelled := how.Front.On() || how.Back.On()
	idle("the bevel in front", how.Front.On(), round)
	idle("the bevel behind", how.Back.On(), detail || round || how.Wall > 0 && !frame)
	idle("outward", how.Outward, detail || round || !bevelled)
	idle("mitred", how.Mitred, round || !bevelled)
	idle("the wall", how.Wall > 0, detail || round)
	idle("open", how.OpenFront || how.OpenBack, detail || round)
	idle("direction", how.Direction != "", detail || role.Kind == recipe.Resting)
	idle("offset", how.Offset != 0, detail)
	if len(words) == 0 {
		return nil
	}
	what := "a hollow part"
	switch {
	case role.Kind == recipe.Recess:
		what = "a recess"
	case role.Kind == recipe.Raised:
		what = "a raised detail"
	case round:
		what = "a round tube"
	case role.Kind == recipe.Resting && words[0] == "direction":
		what = "a part that rests on another"
	case how.Wall == 0:
		what = "a part without bevels"
	}
	verb := " change nothing"
	if len(words) == 1 {
		verb = " changes nothing"
	}
	return []string{"on " + what + " " + list(words) + verb}
}

// list joins words with commas and an and.
func list(words []string) string {
	n := len(words) - 1
	if n == 0 {
		return words[0]
	}
	return strings.Join(words[:n], ", ") + " and " + words[n]
}

// Idle says which measures of a body and its details change nothing; names are those of the parts.
// Measures that a detail has in common with all parts are meant for the others.
func (b *Raised) Idle(p *recipe.Parts, on *Regions, names []string) []string {
	out := idleOf(b.How, b.Role, b.Bare)
	for _, i := range b.Details {
		id := on.Parts[i].ID
		if q := p.Find(id); q == nil || q.How == nil {
			continue
		}
		for _, text := range idleOf(p.Measures(id), p.RoleOf(id), false) {
			out = append(out, names[i]+": "+text)
		}
	}
	return out
}
