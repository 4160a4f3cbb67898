package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// The kinds of file.
const (
	Artwork  = "artwork"
	Font     = "font"
	Panorama = "panorama"
)

// File is an artwork file of a piece, a font, or a picture of what is around it. Files stay while
// any step of the history may need them; their bytes never change.
type File struct {
	Kind      string `db:"kind"`
	ID        string `db:"id"`
	PieceID   string `db:"piece_id"`
	Name      string `db:"name"`
	Data      []byte `db:"data"`
	CreatedAt int64  `db:"created_at"`
	Bytes     int64  `db:"bytes"` // of a list, which has no data
}

func insertFile(tx *sqlx.Tx, piece string, f File, t int64) error {
	if f.Kind == "" {
		f.Kind = Artwork
	}
	_, err := tx.Exec(
		`INSERT INTO files (id, piece_id, name, data, created_at, kind) VALUES (?, ?, ?, ?, ?, ?)`,
		f.ID,
		piece,
		f.Name,
		f.Data,
		t,
		f.Kind,
	)
	return err
}

// AddFile adds a file to a piece.
func (s *Store) AddFile(ctx context.Context, piece string, f File) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error { return insertFile(tx, piece, f, now()) })
}

// File returns one file of a piece; an empty id asks for its first artwork.
func (s *Store) File(ctx context.Context, piece, id string) (File, error) {
	var f File
	err := s.db.GetContext(
		ctx,
		&f,
		`SELECT *, length(data) AS bytes FROM files WHERE piece_id = ?1 AND (id = ?2 OR ?2 = '' AND kind = 'artwork')
		ORDER BY created_at, rowid LIMIT 1`,
		piece,
		id,
	)
	if errors.Is(err, sql.ErrNoRows) {
		return f, ErrNotFound
	}
	return f, err
}

// Files returns the files of a piece, oldest first, without their data.
func (s *Store) Files(ctx context.Context, piece string) (out []File, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, piece_id, name, kind, created_at, length(data) AS bytes, x'' AS data
		FROM files WHERE piece_id = ? ORDER BY created_at, rowid`, piece)
	return out, plain(err)
}
