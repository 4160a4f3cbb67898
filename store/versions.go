package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// Version is a state of a piece that is kept under a name, whatever becomes of its history.
type Version struct {
	ID        string `db:"id"`
	PieceID   string `db:"piece_id"`
	Name      string `db:"name"`
	Doc       []byte `db:"doc"`
	CreatedAt int64  `db:"created_at"`

	DeletedAt sql.NullInt64 `db:"deleted_at"`
}

// ErrMany is returned for a version more than a piece may have.
var ErrMany = errors.New("the piece has as many versions as it may have")

// AddVersion keeps a version, if the piece has fewer than most.
func (s *Store) AddVersion(ctx context.Context, v Version, most int) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error { return insertVersion(tx, v, most) })
}

func insertVersion(tx *sqlx.Tx, v Version, most int) error {
	if err := roomForVersion(tx, v.PieceID, most); err != nil {
		return err
	}
	if v.CreatedAt == 0 {
		v.CreatedAt = now()
	}
	_, err := tx.NamedExec(`INSERT INTO versions (id, piece_id, name, doc, created_at) VALUES (:id, :piece_id, :name, :doc, :created_at)`, v)
	return err
}

// roomForVersion returns ErrMany for a piece that has as many as it may.
func roomForVersion(tx *sqlx.Tx, piece string, most int) error {
	var n int
	err := tx.Get(&n, `SELECT COUNT(*) FROM versions WHERE piece_id = ? AND deleted_at IS NULL`, piece)
	if err == nil && n >= most {
		err = ErrMany
	}
	return err
}

// Versions returns those of a piece, newest first.
func (s *Store) Versions(ctx context.Context, piece string) (out []Version, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT * FROM versions WHERE piece_id = ? AND deleted_at IS NULL ORDER BY created_at DESC, rowid DESC`, piece)
	return out, plain(err)
}

// Version returns one of a piece, or ErrNotFound.
func (s *Store) Version(ctx context.Context, piece, id string) (v Version, err error) {
	err = s.db.GetContext(ctx, &v, `SELECT * FROM versions WHERE piece_id = ? AND id = ? AND deleted_at IS NULL`, piece, id)
	if errors.Is(err, sql.ErrNoRows) {
		return v, ErrNotFound
	}
	return v, plain(err)
}

// DropVersion takes one away, to where it can be brought back from for a while.
func (s *Store) DropVersion(ctx context.Context, piece, id string) error {
	_, err := s.exec(ctx, `UPDATE versions SET deleted_at = ? WHERE piece_id = ? AND id = ? AND deleted_at IS NULL`,
		now(), piece, id)
	return plain(err)
}

// Bring adds a piece with its files, its first state and its versions, all or nothing.
func (s *Store) Bring(ctx context.Context, id string, files []File, label string, doc []byte, versions []Version) error {
	t := now()
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		if err := insertPiece(tx, id, files, label, doc, t); err != nil {
			return err
		}
		for _, v := range versions {
			v.PieceID = id
			if err := insertVersion(tx, v, len(versions)); err != nil {
				return err
			}
		}
		return nil
	})
}
