package stages

import (
	"maps"
	"slices"
	"strings"

	"bildhauer/core/recipe"
)

// The functions of this file take from a recipe what a stage looks at, in a
// normal form: what changes nothing leaves the key as it was.

// chooseInput leaves out choices and colours that are what they would be anyway
// and parts that take only the colour they were made for.
func chooseInput(j Made[*Joined], r *recipe.Recipe) ChooseInput {
	in := ChooseInput{Joined: j, Choice: map[string]bool{}, Colors: r.Intake.Colors()}
	maps.Copy(in.Choice, r.Intake.Choice)
	s := j.Value.Sheet
	rule := recipe.Intake{}
	for i := range s.Shapes {
		k := s.Shapes[i].Key
		if recipe.Mended(k) { // made to take part, on the page or off it
			in.Choice[k] = true
		}
		if c, ok := in.Choice[k]; ok && c == rule.Included(s, i) {
			delete(in.Choice, k)
		}
		if in.Colors[k] == s.Shapes[i].Color.Hex() {
			delete(in.Colors, k)
		}
	}
	for _, p := range r.Parts.List {
		if len(p.Takes.Colors) == 1 && p.ID == (&recipe.Parts{}).Taking(p.Takes.Colors[0]).ID {
			continue
		}
		in.Parts = append(
			in.Parts,
			recipe.Part{ID: p.ID, Takes: recipe.Rule{Colors: slices.Sorted(slices.Values(p.Takes.Colors))}},
		)
	}
	slices.SortFunc(in.Parts, func(a, b recipe.Part) int { return strings.Compare(a.ID, b.ID) })
	return in
}

// regionsInput chooses the grid.
func regionsInput(s Made[*Sized], r *recipe.Recipe) RegionsInput {
	half := max(s.Value.Width, s.Value.Height) / 2
	if r.Size.Posed() { // it may leave with its origin at an end
		half *= 2
	}
	return RegionsInput{Sized: s, Overlap: r.Size.Overlap, Step: GridStep(half, r.Parts.Deepest())}
}

// solidInput takes the upright measures of a part.
func solidInput(from PlanInput, m recipe.Measures, shaded bool) SolidInput {
	in := SolidInput{
		Bevel:  from,
		Depth:  m.Depth,
		Height: m.BevelHeight,
		Back:   m.Back == recipe.Bevelled,
		Shaded: shaded,
	}
	if from.Width == 0 {
		in.Height, in.Back = 0, false
	}
	return in
}
