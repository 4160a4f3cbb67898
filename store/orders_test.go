package store

import (
	"errors"
	"testing"
	"time"
)

// TestOrdersAreKept adds, changes and drops orders, and lets them go with their piece.
func TestOrdersAreKept(t *testing.T) {
	dir := t.TempDir()
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	ctx := t.Context()
	for _, id := range []string{"p", "q"} {
		if err := s.Create(ctx, id, []File{{ID: "f" + id, Name: "a.svg", Data: []byte("a")}}, "Begin", []byte("{}")); err != nil {
			t.Fatal(err)
		}
	}
	for i, id := range []string{"one", "two", "three"} {
		o := Order{ID: id, Spec: []byte("{}"), Doc: []byte("{}"), State: "waiting", Total: 3, CreatedAt: int64(10 - i)}
		o.PieceID = map[bool]string{true: "p", false: "q"}[i < 2]
		if err := s.AddOrder(ctx, o); err != nil {
			t.Fatal(err)
		}
	}
	list, err := s.Orders(ctx, "p")
	if err != nil || len(list) != 2 || list[0].ID != "two" {
		t.Errorf("%+v, %v", list, err)
	}
	if len(list[0].Doc) != 0 {
		t.Error("a list has the documents")
	}
	o := list[0]
	o.State, o.Done, o.Note, o.Spent = "failed", 2, "the disk is full", 77
	if err := s.SetOrder(ctx, o); err != nil {
		t.Fatal(err)
	}
	s.Close()
	if s, err = Open(dir); err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	if got, err := s.Order(ctx, "two"); err != nil || got.State != "failed" || got.Done != 2 || got.Spent != 77 || string(got.Doc) != "{}" || got.Note != o.Note {
		t.Errorf("after a restart: %+v, %v", got, err)
	}
	if err := s.DropOrder(ctx, "two"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Order(ctx, "two"); !errors.Is(err, ErrNotFound) {
		t.Errorf("dropped: %v", err)
	}
	if err := s.SetOrder(ctx, o); err != nil {
		t.Errorf("a late word about it: %v", err)
	}
	if err := s.SetDeleted(ctx, "p", true); err != nil {
		t.Fatal(err)
	}
	if err := s.Purge(ctx, -time.Second); err != nil {
		t.Fatal(err)
	}
	if list, _ = s.Orders(ctx, ""); len(list) != 1 || list[0].ID != "three" {
		t.Errorf("left: %+v", list)
	}
}
