package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// The history of a piece is a row of states, each the whole document of
// decisions under a revision number:
//
//  1. a number is given once: after an undo, the next change gets a new one;
//  2. one of the states is in force, the head; those with higher numbers were
//     undone and can be done again until the next change drops them;
//  3. a change names the revision it is based on and is refused when another is
//     in force (compare and swap), so that none is lost;
//  4. of very long histories the oldest states are forgotten, and undo ends at
//     the oldest that is left.

// State is one step of a piece's history.
type State struct {
	PieceID   string `db:"piece_id"`
	Rev       int64  `db:"rev"`
	Label     string `db:"label"` // what was done, such as "Depth of Gold"
	Doc       []byte `db:"doc"`
	CreatedAt int64  `db:"created_at"`
}

// Head is the state in force and where one can go from it.
type Head struct {
	State
	Undo string // label of what undo takes back, "" when there is nothing before
	Redo string // label of what redo does again, "" for nothing
}

// ErrConflict is returned for a change that is based on a revision which is not
// in force any more.
var ErrConflict = errors.New("the piece was changed meanwhile")

// keepStates bounds the history of a piece.
const keepStates = 500

func insertState(tx *sqlx.Tx, st State) error {
	_, err := tx.Exec(`INSERT INTO states (piece_id, rev, label, doc, created_at) VALUES (?, ?, ?, ?, ?)`,
		st.PieceID, st.Rev, st.Label, st.Doc, st.CreatedAt)
	return err
}

// Head returns the state in force.
func (s *Store) Head(ctx context.Context, id string) (Head, error) {
	var h Head
	err := s.db.GetContext(
		ctx,
		&h.State,
		`SELECT states.* FROM states JOIN pieces ON pieces.id = piece_id AND rev = head WHERE pieces.id = ?`,
		id,
	)
	if errors.Is(err, sql.ErrNoRows) {
		return h, ErrNotFound
	}
	if err != nil {
		return h, err
	}
	var earlier int
	if err := s.db.GetContext(ctx, &earlier, `SELECT EXISTS (SELECT 1 FROM states WHERE piece_id = ? AND rev < ?)`, id, h.Rev); err != nil {
		return h, err
	}
	if earlier > 0 {
		h.Undo = h.Label
	}
	err = s.db.GetContext(
		ctx,
		&h.Redo,
		`SELECT label FROM states WHERE piece_id = ? AND rev > ? ORDER BY rev LIMIT 1`,
		id,
		h.Rev,
	)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return h, err
}

// Push makes doc the state in force if revision base still is; what had been
// undone is dropped. It returns the new revision, or ErrConflict.
func (s *Store) Push(ctx context.Context, id string, base int64, label string, doc []byte) (int64, error) {
	var rev int64
	err := s.tx(ctx, func(tx *sqlx.Tx) error {
		var p Piece
		if err := tx.Get(&p, `SELECT * FROM pieces WHERE id = ?`, id); err != nil {
			return ErrNotFound
		}
		if p.Head != base {
			return ErrConflict
		}
		rev = p.LastRev + 1
		if _, err := tx.Exec(`DELETE FROM states WHERE piece_id = ? AND rev > ?`, id, base); err != nil {
			return err
		}
		if err := insertState(tx, State{id, rev, label, doc, now()}); err != nil {
			return err
		}
		_, err := tx.Exec(`DELETE FROM states WHERE piece_id = ?1 AND rev NOT IN
			(SELECT rev FROM states WHERE piece_id = ?1 ORDER BY rev DESC LIMIT ?2)`, id, keepStates)
		if err != nil {
			return err
		}
		_, err = tx.Exec(
			`UPDATE pieces SET head = ?1, last_rev = ?1, updated_at = ?2 WHERE id = ?3`,
			rev,
			now(),
			id,
		)
		return err
	})
	return rev, err
}

// Move goes one step back (-1) or forth (+1) in the history if revision base is
// in force; it does nothing at either end. It returns ErrConflict otherwise.
func (s *Store) Move(ctx context.Context, id string, base int64, by int) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		var p Piece
		if err := tx.Get(&p, `SELECT * FROM pieces WHERE id = ?`, id); err != nil {
			return ErrNotFound
		}
		if p.Head != base {
			return ErrConflict
		}
		query := `SELECT rev FROM states WHERE piece_id = ? AND rev < ? ORDER BY rev DESC LIMIT 1`
		if by > 0 {
			query = `SELECT rev FROM states WHERE piece_id = ? AND rev > ? ORDER BY rev LIMIT 1`
		}
		var to int64
		if err := tx.Get(&to, query, id, base); errors.Is(err, sql.ErrNoRows) {
			return nil
		} else if err != nil {
			return err
		}
		_, err := tx.Exec(`UPDATE pieces SET head = ?, updated_at = ? WHERE id = ?`, to, now(), id)
		return err
	})
}

// States lists the states of a piece without their documents, the first one first.
func (s *Store) States(ctx context.Context, id string) ([]State, error) {
	var list []State
	err := s.db.SelectContext(ctx, &list, `SELECT piece_id, rev, label, x'' AS doc, created_at FROM states WHERE piece_id = ? ORDER BY rev`, id)
	if err == nil && len(list) == 0 {
		err = ErrNotFound
	}
	return list, plain(err)
}

// StateAt returns one state of a piece.
func (s *Store) StateAt(ctx context.Context, id string, rev int64) (State, error) {
	var st State
	err := s.db.GetContext(ctx, &st, `SELECT * FROM states WHERE piece_id = ? AND rev = ?`, id, rev)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return st, plain(err)
}

// Goto puts a state of the history in force, back or forth, if revision base still is. It returns ErrConflict otherwise.
func (s *Store) Goto(ctx context.Context, id string, base, rev int64) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		var p Piece
		if err := tx.Get(&p, `SELECT * FROM pieces WHERE id = ?`, id); err != nil {
			return ErrNotFound
		}
		if p.Head != base {
			return ErrConflict
		}
		var there bool
		if err := tx.Get(&there, `SELECT EXISTS (SELECT 1 FROM states WHERE piece_id = ? AND rev = ?)`, id, rev); err != nil {
			return err
		}
		if !there {
			return ErrNotFound
		}
		_, err := tx.Exec(`UPDATE pieces SET head = ?, updated_at = ? WHERE id = ?`, rev, now(), id)
		return err
	})
}
