package studio

import (
	"context"
	"errors"
	"time"

	"bildhauer/store"
)

// ForgetAfter is how long what was deleted waits to be brought back.
const ForgetAfter = 30 * 24 * time.Hour

// purgePace is how often what has waited long enough is removed.
const purgePace = 24 * time.Hour

// Deleted is something that was deleted and can be brought back.
type Deleted struct {
	Kind string    `json:"kind"` // piece, version, recipe or palette
	ID   string    `json:"id"`
	Of   string    `json:"of"`   // the piece of a version, its name
	Name string    `json:"name"` // its own
	Goes time.Time `json:"goes"` // when it is removed for good
}

// Deleted lists what was deleted, the latest first.
func (s *Studio) Deleted(ctx context.Context) ([]Deleted, error) {
	list, err := s.store.Waiting(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]Deleted, 0, len(list))
	for _, w := range list {
		one := Deleted{Kind: w.Kind, ID: w.ID, Name: w.Name, Goes: time.UnixMilli(w.At).Add(ForgetAfter)}
		if w.PieceID != "" {
			name := "Damaged piece"
			if p, err := s.Look(ctx, w.PieceID); err == nil {
				name = p.Recipe.Name
			} else if errors.Is(err, store.ErrNotFound) { // purged meanwhile
				continue
			}
			if one.Of = name; w.Kind == "piece" {
				one.Of, one.Name = "", name
			}
		}
		out = append(out, one)
	}
	return out, nil
}

// Empty reports whether nobody has ever made a piece here, or it was long ago.
func (s *Studio) Empty(ctx context.Context) (bool, error) {
	pieces, err := s.store.Pieces(ctx)
	if err != nil {
		return false, err
	}
	gone, err := s.store.Waiting(ctx)
	return len(pieces)+len(gone) == 0, err
}

// BringBack takes back that something was deleted. say tells what else that did, "" for nothing.
func (s *Studio) BringBack(ctx context.Context, kind, id string) (say string, err error) {
	switch kind {
	case "piece":
		err = s.store.SetDeleted(ctx, id, false)
	case "version":
		err = s.store.RestoreVersion(ctx, id, mostVersions)
	case store.ARecipe, store.APalette, store.AMove:
		var instead string
		if instead, err = s.store.RestoreKept(ctx, id); instead != "" {
			say = "The " + kind + " that had its name waits among what was deleted."
		}
	default:
		return "", input("a piece, a version, a recipe, a palette or a move is brought back")
	}
	switch {
	case errors.Is(err, store.ErrMany):
		return "", errManyVersions
	case errors.Is(err, store.ErrNotFound):
		return "", input("this %s is not there any more: it waited for %d days", kind, int(ForgetAfter.Hours()/24))
	}
	return say, err
}

// purge removes for good what has waited long enough, now and every day.
func (s *Studio) purge() error {
	if err := s.store.Purge(s.ctx, ForgetAfter); err != nil {
		return err
	}
	s.besides.Go(func() {
		tick := time.NewTicker(purgePace)
		defer tick.Stop()
		for {
			select {
			case <-s.ctx.Done():
				return
			case <-tick.C:
				if err := s.store.Purge(s.ctx, ForgetAfter); err != nil && s.ctx.Err() == nil {
					s.diary.Write("removing what was deleted", err)
				}
			}
		}
	})
	return nil
}
