package store

import (
	"context"
	"time"
)

// Kept is a recipe that was kept by a name.
type Kept struct {
	Name string `db:"name"`
	Doc  []byte `db:"doc"`
}

// KeepRecipe keeps a recipe by its name, in the place of one of that name.
func (s *Store) KeepRecipe(ctx context.Context, k Kept) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO recipes (name, doc, created_at) VALUES (?, ?, ?)
		ON CONFLICT (name) DO UPDATE SET doc = excluded.doc`, k.Name, k.Doc, time.Now().UnixMilli())
	return err
}

// Recipes returns the recipes that were kept, by name.
func (s *Store) Recipes(ctx context.Context) (list []Kept, err error) {
	err = s.db.SelectContext(ctx, &list, `SELECT name, doc FROM recipes ORDER BY name`)
	return list, err
}

// DropRecipe forgets a recipe and reports whether there was one.
func (s *Store) DropRecipe(ctx context.Context, name string) (bool, error) {
	r, err := s.db.ExecContext(ctx, `DELETE FROM recipes WHERE name = ?`, name)
	if err != nil {
		return false, err
	}
	n, err := r.RowsAffected()
	return n > 0, err
}
