package store

import (
	"context"
	"database/sql"
	"errors"
)

// Order is a picture or a clip that was ordered.
type Order struct {
	ID        string `db:"id"`
	PieceID   string `db:"piece_id"`
	Spec      []byte `db:"spec"` // what is to be made, JSON
	Doc       []byte `db:"doc"`  // the decisions that it is made by
	State     string `db:"state"`
	Note      string `db:"note"`  // why it stopped
	Done      int    `db:"done"`  // finished frames
	Total     int    `db:"total"` // of them
	Spent     int64  `db:"spent"` // on finished frames, ms
	CreatedAt int64  `db:"created_at"`
}

// AddOrder keeps a new order.
func (s *Store) AddOrder(ctx context.Context, o Order) error {
	_, err := s.execNamed(ctx, `INSERT INTO orders
		(id, piece_id, spec, doc, state, note, done, total, spent, created_at)
		VALUES (:id, :piece_id, :spec, :doc, :state, :note, :done, :total, :spent, :created_at)`, o)
	return plain(err)
}

// SetOrder keeps how far an order is. One that was removed meanwhile stays so.
func (s *Store) SetOrder(ctx context.Context, o Order) error {
	_, err := s.execNamed(ctx,
		`UPDATE orders SET state = :state, note = :note, done = :done, spent = :spent WHERE id = :id`, o)
	return plain(err)
}

// Orders returns the orders of a piece, or of all pieces, the oldest first, without their
// documents: lists are asked for often.
func (s *Store) Orders(ctx context.Context, piece string) (list []Order, err error) {
	err = s.db.SelectContext(ctx, &list, `SELECT id, piece_id, spec, x'' AS doc, state, note, done, total, spent, created_at
		FROM orders WHERE piece_id = ?1 OR ?1 = '' ORDER BY created_at, rowid`, piece)
	return list, err
}

// Order returns one order. It returns ErrNotFound for none.
func (s *Store) Order(ctx context.Context, id string) (o Order, err error) {
	err = s.db.GetContext(ctx, &o, `SELECT * FROM orders WHERE id = ?`, id)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return o, err
}

// DropOrder forgets an order.
func (s *Store) DropOrder(ctx context.Context, id string) error {
	_, err := s.exec(ctx, `DELETE FROM orders WHERE id = ?`, id)
	return plain(err)
}
