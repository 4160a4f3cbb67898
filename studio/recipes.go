package studio

import (
	"context"
	"errors"
	"strings"

	"bildhauer/core/recipe"
	"bildhauer/store"
)

// Recipes returns the recipes for any piece: those that come with the program, then those
// that were kept.
func (s *Studio) Recipes(ctx context.Context) ([]recipe.Named, error) {
	list := recipe.Ready()
	kept, err := s.store.Kept(ctx, store.ARecipe)
	if err != nil {
		return nil, err
	}
	for _, k := range kept {
		if n, err := recipe.OpenNamed(k.Doc); err == nil { // it was read when it was kept
			list = append(list, n)
		}
	}
	return list, nil
}

// KeepRecipe keeps a recipe document by its name. One of that name waits to be brought back under
// the id that is returned, "" for none. A name that comes with the program is refused.
func (s *Studio) KeepRecipe(ctx context.Context, doc []byte) (n recipe.Named, instead string, err error) {
	n, err = recipe.OpenNamed(doc)
	if err != nil {
		return n, "", input("%s", strings.TrimPrefix(err.Error(), "input: "))
	}
	for _, r := range recipe.Ready() {
		if strings.EqualFold(r.Name, n.Name) {
			return n, "", input("%s comes with the program. Choose another name", r.Name)
		}
	}
	doc, err = n.Document()
	if err != nil {
		return n, "", input("%v", err)
	}
	instead, err = s.store.Keep(ctx, store.Kept{Kind: store.ARecipe, ID: newID(), Name: n.Name, Doc: doc})
	return n, instead, err
}

// Recipe returns one recipe for any piece by its name.
func (s *Studio) Recipe(ctx context.Context, name string) (recipe.Named, error) {
	list, err := s.Recipes(ctx)
	if err != nil {
		return recipe.Named{}, err
	}
	for _, n := range list {
		if n.Name == name {
			return n, nil
		}
	}
	return recipe.Named{}, errNoRecipe
}

// DropRecipe puts a recipe that was kept away and returns the id under which it waits.
func (s *Studio) DropRecipe(ctx context.Context, name string) (string, error) {
	id, err := s.store.Drop(ctx, store.ARecipe, name)
	if errors.Is(err, store.ErrNotFound) {
		err = errNoRecipe
	}
	return id, err
}

var errNoRecipe error = &ErrInput{Text: "This recipe is not saved any more."}
