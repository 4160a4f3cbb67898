// Package store keeps pieces, their artwork and their history in SQLite.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the database driver
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNotFound is returned for pieces that do not exist.
var ErrNotFound = errors.New("there is no such piece")

// Store is the database of one data folder.
type Store struct{ db *sqlx.DB }

// Piece is a project.
type Piece struct {
	ID        string        `db:"id"`
	CreatedAt int64         `db:"created_at"` // ms since 1970
	UpdatedAt int64         `db:"updated_at"`
	DeletedAt sql.NullInt64 `db:"deleted_at"`
	Head      int64         `db:"head"` // sequence number of the state in force
}

// The kinds of file.
const (
	Artwork = "artwork"
	Font    = "font"
)

// Sheet is one artwork file of a piece, or a font added to it. Files stay
// while any step of the history may need them.
type Sheet struct {
	Kind      string `db:"kind"`
	ID        string `db:"id"`
	PieceID   string `db:"piece_id"`
	Name      string `db:"name"`
	Data      []byte `db:"data"`
	CreatedAt int64  `db:"created_at"`
}

// State is one step of a piece's history: all its decisions.
type State struct {
	PieceID   string `db:"piece_id"`
	Seq       int64  `db:"seq"`
	Label     string `db:"label"` // what was done, such as "Depth of Gold"
	Doc       []byte `db:"doc"`
	CreatedAt int64  `db:"created_at"`
}

// Open opens or makes the database in dir.
func Open(dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return nil, fmt.Errorf("the data folder can't be made: %w", err)
	}
	dsn := "file:" + filepath.Join(dir, "bildhauer.db") + "?_pragma=busy_timeout(5000)&_pragma=journal_mode(WAL)&_pragma=foreign_keys(1)&_pragma=synchronous(NORMAL)&_txlock=immediate"
	db, err := sqlx.Open("sqlite", dsn)
	if err != nil {
		return nil, err
	}
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
	if err == nil {
		_, err = p.Up(context.Background())
	}
	if err != nil {
		db.Close()
		return nil, fmt.Errorf("the database in %s can't be opened: %w", dir, err)
	}
	return &Store{db}, nil
}

// Close closes the database.
func (s *Store) Close() error { return s.db.Close() }

func now() int64 { return time.Now().UnixMilli() }

// tx runs f in a transaction.
func (s *Store) tx(f func(*sqlx.Tx) error) error {
	tx, err := s.db.Beginx()
	if err != nil {
		return err
	}
	defer tx.Rollback()
	if err := f(tx); err != nil {
		return err
	}
	return tx.Commit()
}

func insert(tx *sqlx.Tx, piece string, sh Sheet, t int64) error {
	if sh.Kind == "" {
		sh.Kind = Artwork
	}
	_, err := tx.Exec(`INSERT INTO sheets (id, piece_id, name, data, created_at, kind) VALUES (?, ?, ?, ?, ?, ?)`, sh.ID, piece, sh.Name, sh.Data, t, sh.Kind)
	return err
}

// Add adds a file to a piece.
func (s *Store) Add(piece string, sh Sheet) error {
	return s.tx(func(tx *sqlx.Tx) error { return insert(tx, piece, sh, now()) })
}

// Drop removes a file that no step of the history uses.
func (s *Store) Drop(piece, id string) error {
	_, err := s.db.Exec(`DELETE FROM sheets WHERE piece_id = ?1 AND id = ?2
		AND NOT EXISTS (SELECT 1 FROM states WHERE piece_id = ?1 AND instr(doc, ?2) > 0)`, piece, id)
	return err
}

// Create adds a piece with its files and first state.
func (s *Store) Create(id string, files []Sheet, first State) error {
	t := now()
	return s.tx(func(tx *sqlx.Tx) error {
		if _, err := tx.Exec(`INSERT INTO pieces (id, created_at, updated_at, head) VALUES (?, ?, ?, 0)`, id, t, t); err != nil {
			return err
		}
		for _, f := range files {
			if err := insert(tx, id, f, t); err != nil {
				return err
			}
		}
		_, err := tx.Exec(`INSERT INTO states (piece_id, seq, label, doc, created_at) VALUES (?, 0, ?, ?, ?)`, id, first.Label, first.Doc, t)
		return err
	})
}

// Pieces returns all pieces that are not deleted, newest change first.
func (s *Store) Pieces() ([]Piece, error) {
	var out []Piece
	err := s.db.Select(&out, `SELECT * FROM pieces WHERE deleted_at IS NULL ORDER BY updated_at DESC, id`)
	return out, err
}

// Piece returns one piece, deleted or not.
func (s *Store) Piece(id string) (Piece, error) {
	var p Piece
	err := s.db.Get(&p, `SELECT * FROM pieces WHERE id = ?`, id)
	if errors.Is(err, sql.ErrNoRows) {
		return p, ErrNotFound
	}
	return p, err
}

// Sheet returns one file of a piece; an empty id asks for its first artwork.
func (s *Store) Sheet(pieceID, id string) (Sheet, error) {
	var sh Sheet
	err := s.db.Get(&sh, `SELECT * FROM sheets WHERE piece_id = ?1 AND (id = ?2 OR ?2 = '' AND kind = 'artwork') ORDER BY created_at, rowid LIMIT 1`, pieceID, id)
	if errors.Is(err, sql.ErrNoRows) {
		return sh, ErrNotFound
	}
	return sh, err
}

// Head returns the state in force and the labels of what can be undone and
// redone, empty when there is nothing.
func (s *Store) Head(id string) (st State, undo, redo string, err error) {
	err = s.db.Get(&st, `SELECT states.* FROM states JOIN pieces ON pieces.id = piece_id AND seq = head WHERE pieces.id = ?`, id)
	if errors.Is(err, sql.ErrNoRows) {
		return st, "", "", ErrNotFound
	}
	if err != nil {
		return st, "", "", err
	}
	if st.Seq > 0 {
		undo = st.Label
	}
	err = s.db.Get(&redo, `SELECT label FROM states WHERE piece_id = ? AND seq = ?`, id, st.Seq+1)
	if errors.Is(err, sql.ErrNoRows) {
		err = nil
	}
	return st, undo, redo, err
}

// keepStates bounds the history of a piece.
const keepStates = 500

// Push makes doc the state in force; what had been undone is dropped.
func (s *Store) Push(id, label string, doc []byte) error {
	t := now()
	return s.tx(func(tx *sqlx.Tx) error {
		var head int64
		if err := tx.Get(&head, `SELECT head FROM pieces WHERE id = ?`, id); err != nil {
			return ErrNotFound
		}
		if _, err := tx.Exec(`DELETE FROM states WHERE piece_id = ? AND (seq > ? OR seq BETWEEN 1 AND ?)`, id, head, head-keepStates); err != nil {
			return err
		}
		if _, err := tx.Exec(`INSERT INTO states (piece_id, seq, label, doc, created_at) VALUES (?, ?, ?, ?, ?)`, id, head+1, label, doc, t); err != nil {
			return err
		}
		_, err := tx.Exec(`UPDATE pieces SET head = ?, updated_at = ? WHERE id = ?`, head+1, t, id)
		return err
	})
}

// Move goes one step back (-1) or forth (+1) in the history; it does nothing
// at either end.
func (s *Store) Move(id string, by int) error {
	_, err := s.db.Exec(`UPDATE pieces SET head = head + ?1, updated_at = ?2 WHERE id = ?3
		AND EXISTS (SELECT 1 FROM states WHERE piece_id = ?3 AND seq = head + ?1)`, by, now(), id)
	return err
}

// SetDeleted marks a piece as deleted or brings it back.
func (s *Store) SetDeleted(id string, deleted bool) error {
	var at any
	if deleted {
		at = now()
	}
	r, err := s.db.Exec(`UPDATE pieces SET deleted_at = ? WHERE id = ?`, at, id)
	if err != nil {
		return err
	}
	if n, _ := r.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}

// Purge removes pieces deleted longer than age ago for good, and files a day
// old that no step of their piece's history names, such as changed files that
// were neither accepted nor declined. Steps of before there were several
// sheets name none; they keep all.
func (s *Store) Purge(age time.Duration) error {
	if _, err := s.db.Exec(`DELETE FROM pieces WHERE deleted_at < ?`, now()-age.Milliseconds()); err != nil {
		return err
	}
	_, err := s.db.Exec(`DELETE FROM sheets WHERE created_at < ? AND NOT EXISTS (SELECT 1 FROM states
		WHERE states.piece_id = sheets.piece_id AND (instr(doc, sheets.id) > 0 OR instr(doc, '"sheets":[') = 0))`, now()-24*time.Hour.Milliseconds())
	return err
}
