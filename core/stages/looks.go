package stages

import (
	"cmp"

	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/write"
)

// Looks returns what the faces of a part are made of, for files that carry it; nil where
// nobody has painted anything.
func Looks(s *recipe.Scene, part *Outline) []write.Look {
	if len(s.Paints) == 0 {
		return nil
	}
	out := make([]write.Look, len(mesh.Groups))
	for g := range out {
		m := show.MaterialOf(s, part.ID, show.FacesOf(mesh.Group(g)))
		out[g] = write.Look{
			Color: part.Color, Metal: m.Metal, Rough: m.Rough, Coat: m.Coat, CoatRough: m.CoatRough, Glow: m.Glow, Clear: m.Clear,
			Index: cmp.Or(m.Index, 1.5), Deep: cmp.Or(m.Deep, 5), Thin: m.Thin,
		}
		if c, ok := artwork.ParseHex(m.Color); ok {
			out[g].Color = c
		}
	}
	return out
}

// MaterialName is the name of what a part's fronts are made of, "" for none that has one.
func MaterialName(s *recipe.Scene, part string) string { return show.MaterialOf(s, part, "front").Name }
