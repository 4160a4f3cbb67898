package recipe

import (
	"errors"
	"strings"

	"bildhauer/core/artwork"
)

// Choose takes shapes in or leaves them out, by key.
type Choose struct {
	Choice map[string]bool `json:"choice"`
}

// Apply is part of Edit.
func (e *Choose) Apply(r *Recipe, on *artwork.Sheet) error {
	if err := known(on, e.Choice); err != nil {
		return err
	}
	for k, v := range e.Choice {
		set(&r.Intake.Choice, k, v)
	}
	return nil
}

func set[V any](m *map[string]V, k string, v V) {
	if *m == nil {
		*m = map[string]V{}
	}
	(*m)[k] = v
}

var errGone = errors.New("a shape of this change is not in the piece any more")

// known returns errGone unless the artwork has a shape of each key.
func known[V any](on *artwork.Sheet, keys map[string]V) error {
	if on == nil || len(keys) == 0 {
		return nil
	}
	have := 0
	for i := range on.Shapes {
		if _, ok := keys[on.Shapes[i].Key]; ok {
			have++
		}
	}
	if have < len(keys) {
		return errGone
	}
	return nil
}

// EditShapes changes names, colours and groups of shapes, by key; an empty text
// takes the file's own again. Parts follow their shapes to new colours.
type EditShapes struct {
	Shapes map[string]ShapePatch `json:"shapes"`
}

// ShapePatch is what is changed about a shape; nil stays.
type ShapePatch struct {
	Name  *string `json:"name"`
	Color *string `json:"color"`
	Group *string `json:"group"`
}

// Apply is part of Edit.
func (e *EditShapes) Apply(r *Recipe, on *artwork.Sheet) error {
	if err := known(on, e.Shapes); err != nil {
		return err
	}
	before := r.Intake.Colors()
	for k, p := range e.Shapes {
		edit := r.Intake.Shapes[k]
		give(p.Name, &edit.Name)
		give(p.Color, &edit.Color)
		give(p.Group, &edit.Group)
		edit.Name = strings.TrimSpace(edit.Name)
		if c, ok := artwork.ParseHex(edit.Color); ok {
			edit.Color = c.Hex()
		}
		if edit == (ShapeEdit{}) {
			delete(r.Intake.Shapes, k)
		} else {
			set(&r.Intake.Shapes, k, edit)
		}
	}
	if on == nil {
		return nil
	}
	moved := make([]Recolored, len(on.Shapes))
	for i := range on.Shapes {
		sh := &on.Shapes[i]
		was := before[sh.Key]
		if was == "" {
			was = sh.Color.Hex()
		}
		moved[i] = Recolored{Was: was, Is: r.Intake.ColorOf(sh), In: r.Intake.Included(on, i)}
	}
	r.Parts.follow(moved)
	return nil
}

// NameGroups names groups, by key; an empty name takes the file's own again.
type NameGroups struct {
	Names map[string]string `json:"names"`
}

// Apply is part of Edit.
func (e *NameGroups) Apply(r *Recipe, on *artwork.Sheet) error {
	if on != nil {
		have := map[string]bool{}
		for _, g := range on.Groups {
			have[g.Key] = true
		}
		for k := range e.Names {
			if !have[k] && !r.Intake.made(k) {
				return errors.New("a group of this change is not in the piece any more")
			}
		}
	}
	for k, n := range e.Names {
		if n = strings.TrimSpace(n); n == "" {
			delete(r.Intake.GroupNames, k)
		} else {
			set(&r.Intake.GroupNames, k, n)
		}
	}
	return nil
}

// AddGroup makes a new group.
type AddGroup struct{ NewGroup }

// Apply is part of Edit.
func (e *AddGroup) Apply(r *Recipe, _ *artwork.Sheet) error {
	if r.Intake.made(e.Key) {
		return errors.New("a group with this key was made already")
	}
	r.Intake.NewGroups = append(r.Intake.NewGroups, e.NewGroup)
	return nil
}
