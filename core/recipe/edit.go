package recipe

import (
	"fmt"
	"maps"

	"bildhauer/core/artwork"
)

// Edit is what was changed about one shape.
type Edit struct {
	Name  string `json:"name,omitempty"`
	Color string `json:"color,omitempty"` // #rrggbb
	Group string `json:"group,omitempty"` // key of the group it was moved to
}

// NewGroup is a group that the person made.
type NewGroup struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// Limits of edits.
const (
	maxEdits  = 200_000
	maxGroups = 10_000
	maxName   = 200
)

// Edited returns the sheet with the names, colours and groups of the recipe.
// The sheet itself stays as it is; without edits it is returned.
func (r *Recipe) Edited(s *artwork.Sheet) *artwork.Sheet {
	if len(r.Edits) == 0 && len(r.GroupNames) == 0 && len(r.NewGroups) == 0 {
		return s
	}
	out := *s
	out.Groups = append([]artwork.Group(nil), s.Groups...)
	out.Shapes = append([]artwork.Shape(nil), s.Shapes...)
	at := map[string]int{"": -1}
	for _, g := range r.NewGroups {
		out.Groups = append(out.Groups, artwork.Group{Key: g.Key, Name: g.Name, Layer: true, Parent: -1})
	}
	for i := range out.Groups {
		g := &out.Groups[i]
		at[g.Key] = i
		if n, ok := r.GroupNames[g.Key]; ok {
			g.Name = n
		}
	}
	for i := range out.Shapes {
		sh := &out.Shapes[i]
		e, ok := r.Edits[sh.Key]
		if !ok {
			continue
		}
		if e.Name != "" {
			sh.Name = e.Name
		}
		if c, ok := artwork.ParseHex(e.Color); ok {
			sh.Color, sh.Gradient = c, nil
		}
		if g, ok := at[e.Group]; ok && e.Group != "" {
			sh.Group = g
		}
	}
	return &out
}

func (r *Recipe) checkEdits() error {
	if len(r.Edits) > maxEdits || len(r.NewGroups) > maxGroups || len(r.GroupNames) > maxGroups {
		return fmt.Errorf("a piece holds at most %d edited shapes and %d groups", maxEdits, maxGroups)
	}
	for _, e := range r.Edits {
		if e.Color != "" {
			if _, ok := artwork.ParseHex(e.Color); !ok {
				return fmt.Errorf("%q is not a colour; write it like #a9492b", e.Color)
			}
		}
		if len(e.Name) > maxName {
			return fmt.Errorf("a name has at most %d letters", maxName)
		}
	}
	for _, g := range r.NewGroups {
		if len(g.Name) > maxName || g.Key == "" {
			return fmt.Errorf("a group needs a name of at most %d letters", maxName)
		}
	}
	for _, n := range r.GroupNames {
		if len(n) > maxName {
			return fmt.Errorf("a name has at most %d letters", maxName)
		}
	}
	return nil
}

// Rekeyed returns the recipe with decisions about shapes and groups moved to
// other keys. Keys that lead nowhere are dropped; keys outside the maps stay
// when keep says so.
func (r Recipe) Rekeyed(shapes, groups map[string]string, keep func(key string) bool) Recipe {
	move := func(k string, by map[string]string) (string, bool) {
		if keep(k) {
			return k, true
		}
		n, ok := by[k]
		return n, ok
	}
	choice := map[string]bool{}
	for k, v := range r.Choice {
		if n, ok := move(k, shapes); ok {
			choice[n] = v
		}
	}
	edits := map[string]Edit{}
	for k, e := range r.Edits {
		if n, ok := move(k, shapes); ok {
			if e.Group != "" && !r.made(e.Group) {
				g, ok := move(e.Group, groups)
				if !ok {
					g = ""
				}
				e.Group = g
			}
			edits[n] = e
		}
	}
	names := map[string]string{}
	for k, v := range r.GroupNames {
		if r.made(k) {
			names[k] = v
		} else if n, ok := move(k, groups); ok {
			names[n] = v
		}
	}
	r.Choice, r.Edits, r.GroupNames = choice, edits, names
	r.Parts = maps.Clone(r.Parts)
	return r
}

func (r *Recipe) made(group string) bool {
	for _, g := range r.NewGroups {
		if g.Key == group {
			return true
		}
	}
	return false
}
