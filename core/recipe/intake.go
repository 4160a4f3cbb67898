package recipe

import (
	"fmt"
	"maps"
	"slices"
	"unicode/utf8"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
)

// Intake is the section of what was decided about single shapes and groups.
// Maps go by the keys of artwork.Join.
type Intake struct {
	Choice     map[string]bool      `json:"choice,omitempty"`     // taken in or left out, where it differs from the rule
	Shapes     map[string]ShapeEdit `json:"shapes,omitempty"`     // what was changed about single shapes
	GroupNames map[string]string    `json:"groupNames,omitempty"` // of groups, by key
	NewGroups  []NewGroup           `json:"newGroups,omitempty"`  // that the person made
}

// ShapeEdit is what was changed about one shape.
type ShapeEdit struct {
	Name  string `json:"name,omitempty"`  // in place of that of the file
	Color string `json:"color,omitempty"` // #rrggbb
	Group string `json:"group,omitempty"` // key of the group it was moved to
}

// NewGroup is a group that the person made.
type NewGroup struct {
	Key  string `json:"key"`  // unlike all keys of the file
	Name string `json:"name"` // as it is shown
}

// Included reports whether shape i takes part: by choice, or by the rule that
// hidden shapes, those off the page, painted light and bitmaps start left out.
func (in *Intake) Included(s *artwork.Sheet, i int) bool {
	if c, ok := in.Choice[s.Shapes[i].Key]; ok {
		return c
	}
	return s.Starts(i)
}

// ColorOf returns the colour of a shape as #rrggbb, changed or the file's own.
func (in *Intake) ColorOf(sh *artwork.Shape) string {
	if c := in.Shapes[sh.Key].Color; c != "" {
		return c
	}
	return sh.Color.Hex()
}

// Colors returns the colours that were changed, by shape key.
func (in *Intake) Colors() map[string]string {
	out := map[string]string{}
	for k, e := range in.Shapes {
		if e.Color != "" {
			out[k] = e.Color
		}
	}
	return out
}

func (in Intake) clone() Intake {
	in.Choice = maps.Clone(in.Choice)
	in.Shapes = maps.Clone(in.Shapes)
	in.GroupNames = maps.Clone(in.GroupNames)
	in.NewGroups = slices.Clone(in.NewGroups)
	return in
}

func (in *Intake) made(group string) bool {
	return slices.ContainsFunc(in.NewGroups, func(g NewGroup) bool { return g.Key == group })
}

func (in *Intake) check() error {
	if err := terms.Of("edits").Check(float64(max(len(in.Shapes), len(in.Choice)))); err != nil {
		return err
	}
	if err := terms.Of("groups").Check(float64(max(len(in.NewGroups), len(in.GroupNames)))); err != nil {
		return err
	}
	for _, e := range in.Shapes {
		if e.Color != "" {
			if _, ok := artwork.ParseHex(e.Color); !ok {
				return fmt.Errorf("%.40q is not a colour; write it like #a9492b", e.Color)
			}
		}
		if err := checkName("A shape's name", e.Name); err != nil {
			return err
		}
	}
	for _, g := range in.NewGroups {
		if g.Key == "" || utf8.RuneCountInString(g.Key) > int(terms.Of("name").Max) {
			return fmt.Errorf("a new group needs a short key")
		}
		if err := checkName("A group's name", g.Name); err != nil {
			return err
		}
	}
	for _, n := range in.GroupNames {
		if err := checkName("A group's name", n); err != nil {
			return err
		}
	}
	return nil
}

// rekey moves decisions about shapes and groups to other keys. Keys that lead
// nowhere are dropped; those for which keep says so stay.
func (in *Intake) rekey(shapes, groups map[string]string, keep func(key string) bool) {
	move := func(k string, by map[string]string) (string, bool) {
		if keep(k) {
			return k, true
		}
		n, ok := by[k]
		return n, ok
	}
	choice, edits, names := map[string]bool{}, map[string]ShapeEdit{}, map[string]string{}
	for k, v := range in.Choice {
		if n, ok := move(k, shapes); ok {
			choice[n] = v
		}
	}
	for k, e := range in.Shapes {
		n, ok := move(k, shapes)
		if !ok {
			continue
		}
		if e.Group != "" && !in.made(e.Group) {
			e.Group, _ = move(e.Group, groups)
		}
		edits[n] = e
	}
	for k, v := range in.GroupNames {
		if in.made(k) {
			names[k] = v
		} else if n, ok := move(k, groups); ok {
			names[n] = v
		}
	}
	in.Choice, in.Shapes, in.GroupNames = choice, edits, names
}
