package store

import (
	"context"
	"database/sql"
	"errors"
)

// KeepPicture keeps the little picture of a piece at a revision, unless a later one is kept.
func (s *Store) KeepPicture(ctx context.Context, piece string, rev int64, svg []byte) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO pictures (piece_id, rev, svg) VALUES (?, ?, ?)
		ON CONFLICT (piece_id) DO UPDATE SET rev = excluded.rev, svg = excluded.svg WHERE excluded.rev >= pictures.rev`, piece, rev, svg)
	return plain(err)
}

// Picture returns the picture of a piece that is kept of a revision, nil for none.
func (s *Store) Picture(ctx context.Context, piece string, rev int64) (svg []byte, err error) {
	err = s.db.GetContext(ctx, &svg, `SELECT svg FROM pictures WHERE piece_id = ? AND rev = ?`, piece, rev)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return svg, plain(err)
}
