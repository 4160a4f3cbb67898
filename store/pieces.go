package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// Piece is a project.
type Piece struct {
	ID        string        `db:"id"`
	CreatedAt int64         `db:"created_at"` // ms since 1970
	UpdatedAt int64         `db:"updated_at"`
	DeletedAt sql.NullInt64 `db:"deleted_at"`
	Head      int64         `db:"head"`     // revision in force
	LastRev   int64         `db:"last_rev"` // the highest revision ever given
}

// Create adds a piece with its files and its first state, which is revision 0.
func (s *Store) Create(ctx context.Context, id string, files []File, label string, doc []byte) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error { return insertPiece(tx, id, files, label, doc, now()) })
}

func insertPiece(tx *sqlx.Tx, id string, files []File, label string, doc []byte, t int64) error {
	if _, err := tx.Exec(`INSERT INTO pieces (id, created_at, updated_at, head) VALUES (?, ?, ?, 0)`, id, t, t); err != nil {
		return err
	}
	for _, f := range files {
		if err := insertFile(tx, id, f, t); err != nil {
			return err
		}
	}
	return insertState(tx, State{PieceID: id, Label: label, Doc: doc, CreatedAt: t})
}

// Pieces returns all pieces that are not deleted, newest change first.
func (s *Store) Pieces(ctx context.Context) ([]Piece, error) {
	var out []Piece
	err := s.db.SelectContext(
		ctx,
		&out,
		`SELECT * FROM pieces WHERE deleted_at IS NULL ORDER BY updated_at DESC, id`,
	)
	return out, err
}

// Piece returns one piece, deleted or not.
func (s *Store) Piece(ctx context.Context, id string) (Piece, error) {
	var p Piece
	err := s.db.GetContext(ctx, &p, `SELECT * FROM pieces WHERE id = ?`, id)
	if errors.Is(err, sql.ErrNoRows) {
		return p, ErrNotFound
	}
	return p, err
}

// SetDeleted marks a piece as deleted or brings it back.
func (s *Store) SetDeleted(ctx context.Context, id string, deleted bool) error {
	var at any
	if deleted {
		at = now()
	}
	return one(s.exec(ctx, `UPDATE pieces SET deleted_at = ? WHERE id = ?`, at, id))
}

// one returns ErrNotFound for a change that found no row.
func one(r sql.Result, err error) error {
	if err != nil {
		return plain(err)
	}
	if n, _ := r.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}

// Count returns how many pieces are kept.
func (s *Store) Count(ctx context.Context) (n int64, err error) {
	err = s.db.GetContext(ctx, &n, `SELECT COUNT(*) FROM pieces WHERE deleted_at IS NULL`)
	return n, plain(err)
}

// Ping writes nothing and asks for the right to write, which needs a folder that can be written.
func (s *Store) Ping(ctx context.Context) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		var n int
		return tx.Get(&n, `SELECT 1`)
	})
}
