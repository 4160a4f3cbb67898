package studio

import (
	"context"
	"errors"
	"time"

	"bildhauer/core/recipe"
	"bildhauer/store"
)

// Step is a state of a piece's history.
type Step struct {
	Rev   int64
	Label string // what was done
	Made  time.Time
	Now   bool // it is in force; later ones were undone
}

// Steps lists the history of a piece, the first state first.
func (s *Studio) Steps(ctx context.Context, id string) ([]Step, error) {
	list, err := s.store.States(ctx, id)
	if err != nil {
		return nil, err
	}
	head, err := s.Revision(ctx, id)
	out := make([]Step, len(list))
	for i, st := range list {
		out[i] = Step{st.Rev, st.Label, time.UnixMilli(st.CreatedAt), st.Rev == head}
	}
	return out, err
}

// StepPiece returns a piece as it was at a revision of its history.
func (s *Studio) StepPiece(ctx context.Context, id string, rev int64) (Piece, error) {
	p, err := s.Look(ctx, id)
	if err != nil {
		return p, err
	}
	st, err := s.store.StateAt(ctx, id, rev)
	if err != nil {
		return p, err
	}
	if p.Recipe, err = recipe.Open(st.Doc); err != nil {
		return p, &ErrDamaged{err}
	}
	return p, nil
}

// GoTo goes back or forth to a step of the history from revision base, as undo and redo do one by one.
func (s *Studio) GoTo(ctx context.Context, id string, base, rev int64) error {
	err := s.store.Goto(ctx, id, base, rev)
	switch {
	case errors.Is(err, store.ErrConflict):
		return &ErrStale{"This piece was changed in another window meanwhile. Look at its history once more."}
	case errors.Is(err, store.ErrNotFound):
		return input("this step is not in the history any more")
	case err != nil:
		return err
	}
	s.bus.revision(id, rev)
	return nil
}
