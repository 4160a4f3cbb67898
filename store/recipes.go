package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// What is kept by names.
const (
	ARecipe  = "recipe"
	APalette = "palette"
	AMove    = "move"
)

// Kept is a recipe, a palette or a move that was kept by a name.
type Kept struct {
	Kind string `db:"kind"` // ARecipe, APalette or AMove
	ID   string `db:"id"`
	Name string `db:"name"`
	Doc  []byte `db:"doc"`
}

// Keep keeps something by its name. One of its kind and name goes among what was deleted; its id is
// returned, "" for none.
func (s *Store) Keep(ctx context.Context, k Kept) (instead string, err error) {
	err = s.tx(ctx, func(tx *sqlx.Tx) (err error) {
		if instead, err = setAside(tx, k.Kind, k.Name, k.ID); err != nil {
			return err
		}
		_, err = tx.Exec(`INSERT INTO recipes (id, kind, name, doc, created_at) VALUES (?, ?, ?, ?, ?)`, k.ID, k.Kind, k.Name, k.Doc, now())
		return err
	})
	return instead, err
}

// setAside deletes what of a kind has a name, but for one id, and returns which that was.
func setAside(tx *sqlx.Tx, kind, name, but string) (id string, err error) {
	err = tx.Get(&id, `SELECT id FROM recipes WHERE kind = ? AND name = ? AND deleted_at IS NULL AND id <> ?`, kind, name, but)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	_, err = tx.Exec(`UPDATE recipes SET deleted_at = ? WHERE id = ?`, now(), id)
	return id, err
}

// Kept returns what is kept of a kind, by name.
func (s *Store) Kept(ctx context.Context, kind string) (list []Kept, err error) {
	err = s.db.SelectContext(ctx, &list, `SELECT id, kind, name, doc FROM recipes WHERE kind = ? AND deleted_at IS NULL ORDER BY name`, kind)
	return list, err
}

// Drop deletes what of a kind has a name and returns its id, or ErrNotFound.
func (s *Store) Drop(ctx context.Context, kind, name string) (id string, err error) {
	err = s.tx(ctx, func(tx *sqlx.Tx) (err error) {
		if id, err = setAside(tx, kind, name, ""); err == nil && id == "" {
			err = ErrNotFound
		}
		return err
	})
	return id, err
}
