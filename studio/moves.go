package studio

import (
	"context"
	"errors"

	"bildhauer/core/recipe"
	"bildhauer/store"
)

// Moves returns the moves that were kept, by name.
func (s *Studio) Moves(ctx context.Context) ([]recipe.Move, error) {
	kept, err := s.store.Kept(ctx, store.AMove)
	out := []recipe.Move{}
	for _, k := range kept {
		if m, err := recipe.OpenMove(k.Doc); err == nil { // it was read when it was kept
			out = append(out, m)
		}
	}
	return out, err
}

// KeepMove keeps a move by its name, from its document. One of that name waits to be brought back under the id that is
// returned, "" for none.
func (s *Studio) KeepMove(ctx context.Context, doc []byte) (m recipe.Move, instead string, err error) {
	if m, err = recipe.OpenMove(doc); err != nil {
		return m, "", input("%v", err)
	}
	if doc, err = m.Document(); err != nil {
		return m, "", input("%v", err)
	}
	instead, err = s.store.Keep(ctx, store.Kept{Kind: store.AMove, ID: newID(), Name: m.Name, Doc: doc})
	return m, instead, err
}

// Move returns a move that was kept.
func (s *Studio) Move(ctx context.Context, name string) (recipe.Move, error) {
	list, err := s.Moves(ctx)
	for _, m := range list {
		if m.Name == name {
			return m, nil
		}
	}
	if err == nil {
		err = errNoMove
	}
	return recipe.Move{}, err
}

// DropMove puts a move that was kept away and returns the id under which it waits.
func (s *Studio) DropMove(ctx context.Context, name string) (string, error) {
	id, err := s.store.Drop(ctx, store.AMove, name)
	if errors.Is(err, store.ErrNotFound) {
		err = errNoMove
	}
	return id, err
}

var errNoMove error = &ErrInput{Text: "This move is not saved any more."}
