package stages

import (
	"context"

	"bildhauer/core/parallel"
	"bildhauer/core/raise"
	"bildhauer/core/show"
)

// Bodies raises all bodies of a piece to be shown. Errors are those of raising.
func (l *Line) Bodies(ctx context.Context, r *Regions) ([]show.Body, error) {
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
	return bodies, err
}
