package studio

import (
	"context"
	"errors"

	"bildhauer/store"
)

// AtWork is what goes on, or has ended and was not removed, of one kind for one piece; a series is
// of no piece.
type AtWork struct {
	Kind  string  `json:"kind"` // series, pictures or print
	ID    string  `json:"id"`   // of a series or print
	Piece string  `json:"piece"`
	Name  string  `json:"name"`  // of the piece, or of the recipe of a series
	Going int     `json:"going"` // how many wait or are at work
	Ready int     `json:"ready"` // are done
	Bad   int     `json:"bad"`   // failed or were stopped
	All   int     `json:"all"`
	Share float64 `json:"share"` // of all, 0 to 1
	State string  `json:"state"` // of a print
	Note  string  `json:"note"`  // why something does not go on
}

// AtWork lists series, orders of pictures and prints, so that they are found again from wherever one
// left them.
func (s *Studio) AtWork(ctx context.Context) ([]AtWork, error) {
	out := []AtWork{}
	for _, x := range s.SeriesList() {
		ended, done, all := x.Count()
		out = append(out, AtWork{
			Kind: "series", ID: x.ID, Name: x.Recipe, Going: all - ended, Ready: done, Bad: ended - done, All: all,
			Share: float64(ended) / float64(max(1, all)),
		})
	}
	orders, err := s.store.Orders(ctx, "")
	if err != nil {
		return nil, err
	}
	of := map[string]*AtWork{}
	var pieces []string
	for _, row := range orders {
		a := of[row.PieceID]
		if a == nil {
			a = &AtWork{Kind: "pictures", Piece: row.PieceID}
			of[row.PieceID] = a
			pieces = append(pieces, row.PieceID)
		}
		s.addOrder(a, row)
	}
	for _, id := range pieces {
		a := of[id]
		a.Share /= float64(a.All)
		if ok, err := s.nameOf(ctx, a); err != nil {
			return nil, err
		} else if ok {
			out = append(out, *a)
		}
	}
	prints, err := s.store.Prints(ctx, "")
	if err != nil {
		return nil, err
	}
	for _, p := range prints {
		a := AtWork{Kind: "print", ID: p.ID, Piece: p.PieceID, All: 1, Share: p.Share, State: p.State, Note: p.Note}
		switch {
		case !ended(p.State):
			a.Going = 1
		case p.State == Done:
			a.Ready = 1
		default:
			a.Bad = 1
		}
		if ok, err := s.nameOf(ctx, &a); err != nil {
			return nil, err
		} else if ok {
			out = append(out, a)
		}
	}
	return out, nil
}

// addOrder counts an order among those of its piece.
func (s *Studio) addOrder(a *AtWork, row store.Order) {
	o := s.orderOf(row)
	a.All++
	switch o.State {
	case Waiting, Running:
		a.Going++
		a.Share += (float64(o.Done) + o.Share) / float64(max(1, o.Total))
	case Done:
		a.Ready++
		a.Share++
	default:
		a.Bad++
		a.Share++
	}
	if o.Note != "" && o.State != Done {
		a.Note = o.Note
	}
}

// nameOf puts the name of its piece; it reports whether the piece is there and not deleted.
func (s *Studio) nameOf(ctx context.Context, a *AtWork) (bool, error) {
	p, err := s.Piece(ctx, a.Piece)
	var bad *ErrDamaged
	if errors.Is(err, store.ErrNotFound) {
		return false, nil
	}
	if errors.As(err, &bad) {
		p.Recipe.Name, err = "Damaged piece", nil
	}
	a.Name = p.Recipe.Name
	return true, err
}
