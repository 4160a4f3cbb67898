package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// Kept is a recipe that was kept by a name.
type Kept struct {
	ID   string `db:"id"`
	Name string `db:"name"`
	Doc  []byte `db:"doc"`
}

// KeepRecipe keeps a recipe by its name. One of that name goes among what was deleted; its id is
// returned, "" for none.
func (s *Store) KeepRecipe(ctx context.Context, k Kept) (instead string, err error) {
	err = s.tx(ctx, func(tx *sqlx.Tx) (err error) {
		if instead, err = setAside(tx, k.Name, k.ID); err != nil {
			return err
		}
		_, err = tx.Exec(`INSERT INTO recipes (id, name, doc, created_at) VALUES (?, ?, ?, ?)`, k.ID, k.Name, k.Doc, now())
		return err
	})
	return instead, err
}

// setAside deletes the recipe of a name, but for one id, and returns which that was.
func setAside(tx *sqlx.Tx, name, but string) (id string, err error) {
	err = tx.Get(&id, `SELECT id FROM recipes WHERE name = ? AND deleted_at IS NULL AND id <> ?`, name, but)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	_, err = tx.Exec(`UPDATE recipes SET deleted_at = ? WHERE id = ?`, now(), id)
	return id, err
}

// Recipes returns the recipes that are kept, by name.
func (s *Store) Recipes(ctx context.Context) (list []Kept, err error) {
	err = s.db.SelectContext(ctx, &list, `SELECT id, name, doc FROM recipes WHERE deleted_at IS NULL ORDER BY name`)
	return list, err
}

// DropRecipe deletes a recipe and returns its id, or ErrNotFound.
func (s *Store) DropRecipe(ctx context.Context, name string) (id string, err error) {
	err = s.tx(ctx, func(tx *sqlx.Tx) (err error) {
		if id, err = setAside(tx, name, ""); err == nil && id == "" {
			err = ErrNotFound
		}
		return err
	})
	return id, err
}
