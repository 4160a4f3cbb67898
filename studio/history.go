package studio

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
	"bildhauer/core/recipe"
	"bildhauer/store"
)

// Latest is the base of a change that does not mind what it is applied to.
const Latest = -1

// tries bounds how often a change is applied again because others came first.
const tries = 50

// Change applies a change that was made on revision base of a piece. When
// another revision is in force, it is applied to that one if it still fits, or
// else refused with *ErrStale. A change that changes nothing adds no step. It
// returns the piece as it is afterwards.
func (s *Studio) Change(ctx context.Context, id string, base int64, c recipe.Change) (Piece, error) {
	for range tries {
		p, err := s.Piece(ctx, id)
		if err != nil {
			return p, err
		}
		on, err := s.artworkFor(ctx, p, c.Edits)
		if err != nil {
			return p, err
		}
		next, err := c.Apply(p.Recipe, on)
		if err != nil {
			if base != Latest && base != p.Rev {
				return p, stale(p, err)
			}
			return p, input("%v", err)
		}
		doc, same, err := document(p.Recipe, next)
		if err != nil || same {
			return p, err
		}
		if err := s.checkMends(ctx, p, next, c.Edits); err != nil {
			return p, err
		}
		rev, err := s.store.Push(ctx, id, p.Rev, labelOf(c.Label), doc)
		if errors.Is(err, store.ErrConflict) {
			continue
		}
		if err != nil {
			return p, err
		}
		s.bus.revision(id, rev)
		return s.Piece(ctx, id)
	}
	return Piece{}, &ErrStale{"This piece is being changed by others all the time. Try once more."}
}

// Revision returns the revision of a piece that is in force.
func (s *Studio) Revision(ctx context.Context, id string) (int64, error) {
	p, err := s.store.Piece(ctx, id)
	return p.Head, err
}

func stale(p Piece, err error) error {
	what := p.Undo
	if what == "" {
		what = "an undo"
	}
	return &ErrStale{
		fmt.Sprintf(
			"This piece was changed in another window (%s), and your change does not fit any more: %s",
			what,
			sentence(err.Error()),
		),
	}
}

// document writes a recipe and tells whether it is as before.
func document(before, after recipe.Recipe) (doc []byte, same bool, err error) {
	if doc, err = json.Marshal(after); err != nil {
		return nil, false, err
	}
	old, err := json.Marshal(before)
	return doc, bytes.Equal(old, doc), err
}

// labelOf returns a label that fits the screen.
func labelOf(s string) string {
	r := []rune(s)
	switch {
	case len(r) == 0:
		return "Change"
	case len(r) > int(terms.Of("name").Max):
		return string(r[:int(terms.Of("name").Max)-1]) + "…"
	}
	return s
}

// artworkFor returns the artwork if one of the edits is about shapes.
func (s *Studio) artworkFor(ctx context.Context, p Piece, edits []recipe.Edit) (*artwork.Sheet, error) {
	for _, e := range edits {
		switch e.(type) {
		case *recipe.Choose, *recipe.EditShapes, *recipe.NameGroups:
			j, err := s.line(ctx, p).Joined(ctx)
			if err != nil {
				return nil, err
			}
			return j.Value.Sheet, nil
		}
	}
	return nil, nil
}

// Undo goes one step back from revision base, Redo one forth. They return
// *ErrStale when another revision is in force: what would be taken back is not
// what the person saw.
func (s *Studio) Undo(ctx context.Context, id string, base int64) error {
	return s.move(ctx, id, base, -1)
}

// Redo takes the last undo back.
func (s *Studio) Redo(ctx context.Context, id string, base int64) error {
	return s.move(ctx, id, base, 1)
}

func (s *Studio) move(ctx context.Context, id string, base int64, by int) error {
	for range tries {
		at := base
		if base == Latest {
			h, err := s.store.Head(ctx, id)
			if err != nil {
				return err
			}
			at = h.Rev
		}
		err := s.store.Move(ctx, id, at, by)
		if errors.Is(err, store.ErrConflict) {
			if base == Latest {
				continue
			}
			return &ErrStale{"This piece was changed in another window meanwhile. Look at it and undo again."}
		}
		if err != nil {
			return err
		}
		h, err := s.store.Head(ctx, id)
		if err == nil {
			s.bus.revision(id, h.Rev)
		}
		return err
	}
	return store.ErrConflict
}
