package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// Waiting is something that was deleted and can be brought back until it is purged.
type Waiting struct {
	Kind    string `db:"kind"` // piece, version, recipe or palette
	ID      string `db:"id"`
	PieceID string `db:"piece_id"` // that a version is of
	Name    string `db:"name"`     // of a version or recipe; a piece has it in its document
	At      int64  `db:"at"`       // when it was deleted, ms since 1970
}

// Waiting returns what was deleted, the latest first. What belongs to a deleted piece comes back
// with that.
func (s *Store) Waiting(ctx context.Context) (out []Waiting, err error) {
	err = s.db.SelectContext(ctx, &out, `
		SELECT 'piece' AS kind, id, id AS piece_id, '' AS name, deleted_at AS at FROM pieces WHERE deleted_at IS NOT NULL
		UNION ALL SELECT 'version', v.id, v.piece_id, v.name, v.deleted_at FROM versions AS v JOIN pieces AS p ON p.id = v.piece_id
			WHERE v.deleted_at IS NOT NULL AND p.deleted_at IS NULL
		UNION ALL SELECT kind, id, '', name, deleted_at FROM recipes WHERE deleted_at IS NOT NULL
		ORDER BY at DESC, id`)
	return out, plain(err)
}

// RestoreVersion brings a version back, if the piece has fewer than most.
func (s *Store) RestoreVersion(ctx context.Context, id string, most int) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		var piece string
		if err := tx.Get(&piece, `SELECT piece_id FROM versions WHERE id = ?`, id); err != nil {
			return ErrNotFound
		}
		if err := roomForVersion(tx, piece, most); err != nil {
			return err
		}
		return one(tx.Exec(`UPDATE versions SET deleted_at = NULL WHERE id = ?`, id))
	})
}

// RestoreKept brings a recipe or a palette back. One that has its name now takes its place among what was
// deleted; its id is returned, "" for none.
func (s *Store) RestoreKept(ctx context.Context, id string) (instead string, err error) {
	err = s.tx(ctx, func(tx *sqlx.Tx) error {
		var k Kept
		if err := tx.Get(&k, `SELECT id, kind, name, doc FROM recipes WHERE id = ?`, id); err != nil {
			return ErrNotFound
		}
		if instead, err = setAside(tx, k.Kind, k.Name, id); err != nil {
			return err
		}
		return one(tx.Exec(`UPDATE recipes SET deleted_at = NULL WHERE id = ?`, id))
	})
	return instead, err
}
