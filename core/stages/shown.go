package stages

import (
	"context"

	"bildhauer/core/parallel"
	"bildhauer/core/picture"
	"bildhauer/core/raise"
	"bildhauer/core/show"
)

// Shown returns the scene of a piece: its bodies as they are raised, and how they are
// shown. Errors are those of raising.
func (l *Line) Shown(ctx context.Context, r *Regions) (*picture.Scene, error) {
	list := Arrangement(r, &l.Recipe.Parts)
	if len(list) == 0 {
		return nil, problem(AllLeftOut)
	}
	bodies := make([]show.Body, len(list))
	err := parallel.Each(len(list), func(i int) error {
		made, err := l.Body(ctx, r, &list[i], raise.Shaded)
		if err != nil {
			return err
		}
		b := show.Body{Mesh: made.Value.Mesh}
		for _, k := range append([]int{list[i].Index}, list[i].Details...) {
			b.Owners = append(b.Owners, show.Owner{ID: r.Parts[k].ID, Color: r.Parts[k].Color})
		}
		bodies[i] = b
		return nil
	})
	if err != nil {
		return nil, err
	}
	return show.Of(&l.Recipe.Scene, bodies), nil
}
