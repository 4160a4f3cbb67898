package stages

import (
	"maps"
	"reflect"
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
	in.By, in.Order = r.Parts.By, r.Parts.Order
	untouched := &recipe.Parts{By: r.Parts.By}
	for _, p := range r.Parts.List {
		if q, ok := untouched.Part(p.ID); ok && reflect.DeepEqual(q.Takes, p.Takes) {
			continue
		}
		in.Parts = append(in.Parts, recipe.Part{ID: p.ID, Takes: p.Takes.Sorted()})
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
	half += r.Parts.Widest()
	in := RegionsInput{Sized: s, Overlap: r.Size.Overlap, Clearance: r.Parts.Clearance}
	if r.Parts.Relief.On() {
		in.Relief = ReliefRule{On: true, Lines: r.Parts.Relief.Lines != ""}
	}
	for _, p := range r.Parts.List {
		if p.Out && in.Relief.On && !recipe.Divided(p.ID) {
			in.Relief.Out = append(in.Relief.Out, p.ID)
		}
		switch {
		case p.Role.OnOther():
			in.Over = append(in.Over, Lying{p.ID, p.Role.On, p.Role.Kind, p.Out})
		case p.Out:
		case p.Role.Kind == recipe.Backing:
			in.Behind = append(in.Behind, p.ID)
		case p.Role.Kind == recipe.AsTube:
			tube := r.Parts.Measures(p.ID).Tube
			in.Tubes = append(in.Tubes, TubeRule{p.ID, tube.Width, tube.Ends, tube.Own})
		}
	}
	slices.SortFunc(in.Over, func(a, b Lying) int { return strings.Compare(a.ID, b.ID) })
	slices.Sort(in.Behind)
	slices.Sort(in.Relief.Out)
	slices.SortFunc(in.Tubes, func(a, b TubeRule) int { return strings.Compare(a.ID, b.ID) })
	// A tube is as high as it is wide; half of that it stands out, and as far flat ends are drawn beyond.
	tube := s.Value.widestTube(in.Tubes)
	in.Step = GridStep(half+tube, tube+r.Parts.Deepest(len(s.Value.Chosen.Parts), len(s.Value.Chosen.Take)))
	return in
}
