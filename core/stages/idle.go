package stages

import (
	"maps"
	"slices"
	"strings"

	"bildhauer/core/recipe"
)

// idleOf says, a sentence each without its stop, which measures of a part are set and change nothing, by
// what it is (docs/meaning.md). A bare tube has no strokes and is raised as a body.
func idleOf(how recipe.Measures, role recipe.Role, bare bool) (out []string) {
	round := role.Kind == recipe.AsTube && !bare && !how.Tube.Own
	frame := how.OpenFront && how.OpenBack
	detail, as := false, "on a round tube"
	switch role.Kind {
	case recipe.Recess:
		detail, as = true, "on a recess"
	case recipe.Raised:
		detail, as = true, "on a raised detail"
	}
	const hollow, flat = "on a hollow part", "without a bevel"
	words := map[string][]string{}
	idle := func(word string, set bool, why string, without bool) bool {
		if set && without {
			words[why] = append(words[why], word)
		}
		return set && without
	}
	bevelled := how.Front.On() || how.Back.On()
	if !idle("the bevel in front", how.Front.On(), as, round) {
		idle("the bevel in front", how.Front.On(), "on a recess that goes all the way", role.Kind == recipe.Recess && role.Through)
	}
	if !idle("the bevel behind", how.Back.On(), as, detail || round) {
		idle("the bevel behind", how.Back.On(), hollow, how.Wall > 0 && !frame)
	}
	if !idle("outward", how.Outward, as, detail || round) {
		idle("outward", how.Outward, flat, !bevelled)
	}
	if !idle("mitred", how.Mitred, as, round) {
		idle("mitred", how.Mitred, flat, !bevelled)
	}
	idle("the wall", how.Wall > 0, as, detail || round)
	idle("open", how.OpenFront || how.OpenBack, as, detail || round)
	if !idle("direction", how.Direction != "", as, detail) {
		idle("direction", how.Direction != "", "where a part rests on another", role.Kind == recipe.Resting)
	}
	idle("offset", how.Offset != 0, as, detail)
	for _, why := range slices.Sorted(maps.Keys(words)) {
		verb := " change nothing"
		if len(words[why]) == 1 {
			verb = " changes nothing"
		}
		out = append(out, why+" "+list(words[why])+verb)
	}
	return out
}

// list joins words with commas and an and.
func list(words []string) string {
	n := len(words) - 1
	if n == 0 {
		return words[0]
	}
	return strings.Join(words[:n], ", ") + " and " + words[n]
}

// Words says, a sentence each without its stop, what of a body's measures could not be and which change
// nothing; names are those of the parts.
func (b *Raised) Words(s Got, p *recipe.Parts, on *Regions, names []string) []string {
	out := b.Limits(s)
	if s.Nothing {
		return out
	}
	return append(out, b.idle(p, on, names)...)
}

// idle says which measures of a body and its details change nothing.
// Measures that a detail has in common with all parts are meant for the others.
func (b *Raised) idle(p *recipe.Parts, on *Regions, names []string) []string {
	out := idleOf(b.How, b.Role, b.Bare)
	said := map[string][]string{} // of which details
	var order []string
	for _, i := range b.Details {
		id := on.Parts[i].ID
		if q := p.Find(id); q == nil || q.How == nil {
			continue
		}
		for _, text := range idleOf(p.Measures(id), p.RoleOf(id), false) {
			if said[text] == nil {
				order = append(order, text)
			}
			said[text] = append(said[text], names[i])
		}
	}
	for _, text := range order {
		out = append(out, list(said[text])+": "+text)
	}
	return out
}
