package store

import (
	"context"
	"database/sql"
	"errors"
)

// Print is one that was sent to a printer.
type Print struct {
	ID        string  `db:"id"`
	PieceID   string  `db:"piece_id"`
	Name      string  `db:"name"`
	State     string  `db:"state"`
	Wish      string  `db:"wish"` // what a person asked for and the printer has not heard yet
	Note      string  `db:"note"` // why it waits or has failed
	Boot      string  `db:"boot"` // of the printer when it was sent and no answer came yet
	Layer     int     `db:"layer"`
	Layers    int     `db:"layers"`
	Share     float64 `db:"share"`     // of its time that is done
	Remaining float64 `db:"remaining"` // s
	CreatedAt int64   `db:"created_at"`
}

// AddPrint keeps a new print.
func (s *Store) AddPrint(ctx context.Context, p Print) error {
	_, err := s.execNamed(ctx, `INSERT INTO prints
		(id, piece_id, name, state, wish, note, boot, layer, layers, share, remaining, created_at)
		VALUES (:id, :piece_id, :name, :state, :wish, :note, :boot, :layer, :layers, :share, :remaining, :created_at)`, p)
	return plain(err)
}

// SetPrint keeps how far a print is, but not what was wished for.
func (s *Store) SetPrint(ctx context.Context, p Print) error {
	_, err := s.execNamed(ctx, `UPDATE prints SET state = :state, note = :note, boot = :boot, layer = :layer, layers = :layers,
		share = :share, remaining = :remaining WHERE id = :id`, p)
	return plain(err)
}

// WishPrint keeps what is wished for; with was it does so only if that was the wish.
func (s *Store) WishPrint(ctx context.Context, id, wish string, was ...string) error {
	before := ""
	if len(was) > 0 {
		before = was[0]
	}
	_, err := s.exec(ctx, `UPDATE prints SET wish = ? WHERE id = ? AND (? = '' OR wish = ?)`, wish, id, before, before)
	return plain(err)
}

// Prints returns the prints of a piece, or of all pieces, the newest first.
func (s *Store) Prints(ctx context.Context, piece string) (list []Print, err error) {
	err = s.db.SelectContext(ctx, &list, `SELECT * FROM prints WHERE piece_id = ?1 OR ?1 = '' ORDER BY created_at DESC, rowid DESC`, piece)
	return list, err
}

// Print returns one print. It returns ErrNotFound for none.
func (s *Store) Print(ctx context.Context, id string) (p Print, err error) {
	err = s.db.GetContext(ctx, &p, `SELECT * FROM prints WHERE id = ?`, id)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return p, err
}

// DropPrint forgets a print.
func (s *Store) DropPrint(ctx context.Context, id string) error {
	_, err := s.exec(ctx, `DELETE FROM prints WHERE id = ?`, id)
	return plain(err)
}
