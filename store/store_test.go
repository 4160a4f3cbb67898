package store

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
)

func open(t *testing.T, dir string) *Store {
	t.Helper()
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func create(t *testing.T, s *Store, id string) {
	t.Helper()
	file := File{ID: "file-" + id, Name: "a.svg", Data: []byte("art")}
	if err := s.Create(t.Context(), id, []File{file}, "Artwork read", []byte(`{"sheets":{"list":[{"file":"file-`+id+`"}]}}`)); err != nil {
		t.Fatal(err)
	}
}

func head(t *testing.T, s *Store, id string) Head {
	t.Helper()
	h, err := s.Head(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

func push(t *testing.T, s *Store, id, label string) int64 {
	t.Helper()
	rev, err := s.Push(t.Context(), id, head(t, s, id).Rev, label, []byte(label))
	if err != nil {
		t.Fatal(err)
	}
	return rev
}

// TestRevisionsAreNeverReused undoes and goes on another way.
func TestRevisionsAreNeverReused(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "p")
	seen := map[int64]string{0: "Artwork read"}
	for round := range 5 {
		for i := range 4 {
			label := fmt.Sprint("change ", round, ".", i)
			rev := push(t, s, "p", label)
			if old, ok := seen[rev]; ok {
				t.Fatalf("revision %d of %q was that of %q", rev, label, old)
			}
			seen[rev] = label
		}
		for range 3 {
			if err := s.Move(t.Context(), "p", head(t, s, "p").Rev, -1); err != nil {
				t.Fatal(err)
			}
		}
		if h := head(t, s, "p"); h.Label != fmt.Sprint("change ", round, ".0") ||
			h.Redo != fmt.Sprint("change ", round, ".1") {
			t.Errorf("after three undos: %q, redo %q", h.Label, h.Redo)
		}
	}
}

// TestEndsOfTheHistory go no further and offer nothing there.
func TestEndsOfTheHistory(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "p")
	if h := head(t, s, "p"); h.Undo != "" || h.Redo != "" {
		t.Errorf("a new piece offers %q and %q", h.Undo, h.Redo)
	}
	for range 2 {
		if err := s.Move(t.Context(), "p", 0, -1); err != nil || head(t, s, "p").Rev != 0 {
			t.Errorf("before the beginning: %v", err)
		}
		if err := s.Move(t.Context(), "p", 0, 1); err != nil || head(t, s, "p").Rev != 0 {
			t.Errorf("behind the end: %v", err)
		}
	}
	// A long history forgets its oldest states, and undo ends at the oldest left.
	for i := range keepStates + 80 {
		push(t, s, "p", fmt.Sprint("change ", i))
	}
	steps := 0
	for ; ; steps++ {
		h := head(t, s, "p")
		if err := s.Move(t.Context(), "p", h.Rev, -1); err != nil {
			t.Fatal(err)
		}
		moved := head(t, s, "p").Rev != h.Rev
		if moved != (h.Undo != "") {
			t.Fatalf("revision %d offers the undo %q, and it moved: %v", h.Rev, h.Undo, moved)
		}
		if !moved {
			break
		}
	}
	if steps != keepStates-1 {
		t.Errorf("%d steps can be undone", steps)
	}
}

// TestConflictsAreRefused pushes on what is not in force any more.
func TestConflictsAreRefused(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "p")
	push(t, s, "p", "one")
	for _, base := range []int64{0, 7, -1} {
		if _, err := s.Push(t.Context(), "p", base, "late", []byte("late")); !errors.Is(err, ErrConflict) {
			t.Errorf("pushed on %d: %v", base, err)
		}
		if err := s.Move(t.Context(), "p", base, -1); !errors.Is(err, ErrConflict) {
			t.Errorf("moved from %d: %v", base, err)
		}
	}
	if h := head(t, s, "p"); h.Label != "one" {
		t.Errorf("in force is %q", h.Label)
	}
	for _, f := range []func() error{
		func() error { _, err := s.Push(t.Context(), "q", 0, "x", nil); return err },
		func() error { return s.Move(t.Context(), "q", 0, -1) },
		func() error { _, err := s.Head(t.Context(), "q"); return err },
		func() error { _, err := s.Piece(t.Context(), "q"); return err },
		func() error { _, err := s.File(t.Context(), "q", ""); return err },
		func() error { return s.SetDeleted(t.Context(), "q", true) },
	} {
		if err := f(); !errors.Is(err, ErrNotFound) {
			t.Errorf("of no piece: %v", err)
		}
	}
}

// TestParallelPushes holds that of changes that race on one revision exactly
// one comes through, so that all can in the end.
func TestParallelPushes(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "p")
	const writers, each = 8, 12
	var wg sync.WaitGroup
	for w := range writers {
		wg.Go(func() {
			for i := range each {
				for {
					h, err := s.Head(t.Context(), "p")
					if err != nil {
						t.Error(err)
						return
					}
					_, err = s.Push(t.Context(), "p", h.Rev, fmt.Sprint(w, ".", i), []byte("x"))
					if err == nil {
						break
					}
					if !errors.Is(err, ErrConflict) {
						t.Error(err)
						return
					}
				}
			}
		})
	}
	wg.Wait()
	labels := map[string]bool{}
	for {
		h := head(t, s, "p")
		if h.Undo == "" {
			break
		}
		labels[h.Label] = true
		if err := s.Move(t.Context(), "p", h.Rev, -1); err != nil {
			t.Fatal(err)
		}
	}
	if len(labels) != writers*each {
		t.Errorf("%d of %d changes came through", len(labels), writers*each)
	}
}

// TestFiles keeps those that a step needs and forgets the others.
func TestFiles(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "p")
	ctx := t.Context()
	if err := s.AddFile(ctx, "p", File{ID: "font", Kind: Font, Name: "f.ttf", Data: []byte("f")}); err != nil {
		t.Fatal(err)
	}
	if err := s.AddFile(ctx, "p", File{ID: "spare", Name: "b.svg", Data: []byte("b")}); err != nil {
		t.Fatal(err)
	}
	if f, err := s.File(ctx, "p", ""); err != nil || f.ID != "file-p" || f.Kind != Artwork {
		t.Errorf("the first artwork is %+v, %v", f, err)
	}
	if _, err := s.File(ctx, "other", "font"); !errors.Is(err, ErrNotFound) {
		t.Errorf("another piece's file: %v", err)
	}
	for id, stays := range map[string]bool{"file-p": true, "spare": false} {
		if err := s.DropFile(ctx, "p", id); err != nil {
			t.Fatal(err)
		}
		if _, err := s.File(ctx, "p", id); (err == nil) != stays {
			t.Errorf("%s: %v", id, err)
		}
	}
	// A day later, what nothing names is gone; pieces deleted long ago as well.
	create(t, s, "old")
	if err := s.SetDeleted(ctx, "old", true); err != nil {
		t.Fatal(err)
	}
	if _, err := s.db.Exec(`UPDATE files SET created_at = 0; UPDATE pieces SET deleted_at = 1 WHERE id = 'old'`); err != nil {
		t.Fatal(err)
	}
	if err := s.Purge(ctx, time.Hour); err != nil {
		t.Fatal(err)
	}
	for id, stays := range map[string]bool{"file-p": true, "font": false} {
		if _, err := s.File(ctx, "p", id); (err == nil) != stays {
			t.Errorf("after a day, %s: %v", id, err)
		}
	}
	if _, err := s.Piece(ctx, "old"); !errors.Is(err, ErrNotFound) {
		t.Errorf("a piece deleted long ago: %v", err)
	}
	if _, err := s.Head(ctx, "old"); !errors.Is(err, ErrNotFound) {
		t.Errorf("its history: %v", err)
	}
}

// TestOneProgramAFolder holds the folder, and says who has it.
func TestOneProgramAFolder(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	if _, err := Open(dir); err == nil ||
		!strings.Contains(err.Error(), fmt.Sprintf("in use by process %d", os.Getpid())) {
		t.Errorf("a second program: %v", err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	open(t, dir)
}

// TestOthersCantRead looks at the modes of all that is made.
func TestOthersCantRead(t *testing.T) {
	if runtime.GOOS == "windows" {
		t.Skip("no modes")
	}
	dir := filepath.Join(t.TempDir(), "data")
	s := open(t, dir)
	create(t, s, "p")
	check := func() {
		t.Helper()
		filepath.Walk(dir, func(path string, st os.FileInfo, err error) error {
			if err != nil || st.Mode().Perm()&0o077 != 0 {
				t.Errorf("%s: %v %v", filepath.Base(path), st.Mode(), err)
			}
			return nil
		})
	}
	check()
	// A database from before is closed to others when it is opened.
	s.Close()
	if err := os.Chmod(filepath.Join(dir, "bildhauer.db"), 0o644); err != nil {
		t.Fatal(err)
	}
	s = open(t, dir)
	create(t, s, "q")
	check()
}

// TestAnyFolderName opens folders whose names mean something in addresses.
func TestAnyFolderName(t *testing.T) {
	for _, name := range []string{"plain", "pier #7", "what?mode=ro", "50%20", "a&b=c", "Hafen Süd", "semi;colon"} {
		dir := filepath.Join(t.TempDir(), name)
		s := open(t, dir)
		create(t, s, "p")
		if _, err := os.Stat(filepath.Join(dir, "bildhauer.db")); err != nil {
			t.Errorf("%q: %v", name, err)
		}
		s.Close()
		if again := open(t, dir); head(t, again, "p").Label != "Artwork read" {
			t.Errorf("%q: the piece is not there again", name)
		}
	}
}

// TestNewerDatabase is refused with a sentence and stays as it is.
func TestNewerDatabase(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "p")
	if _, err := s.db.Exec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (99, 1)`); err != nil {
		t.Fatal(err)
	}
	s.Close()
	if _, err := Open(dir); err == nil ||
		!strings.Contains(err.Error(), "newer Bildhauer (version 99, this one knows 10)") {
		t.Errorf("a newer database: %v", err)
	}
	// And the folder is free again after the refusal.
	if _, err := Open(dir); err == nil || strings.Contains(err.Error(), "in use") {
		t.Errorf("asked once more: %v", err)
	}
}

// TestOldDatabases brings the tables of the first days up to date.
func TestOldDatabases(t *testing.T) {
	dir := t.TempDir()
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(dir, "bildhauer.db"))
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"00001_pieces.sql", "00002_kinds.sql"} {
		raw, err := migrations.ReadFile("migrations/" + name)
		if err != nil {
			t.Fatal(err)
		}
		up, _, _ := strings.Cut(string(raw), "-- +goose Down")
		db.MustExec(up)
	}
	db.MustExec(
		`CREATE TABLE goose_db_version (id INTEGER PRIMARY KEY AUTOINCREMENT, version_id INTEGER NOT NULL, is_applied INTEGER NOT NULL, tstamp TIMESTAMP DEFAULT (datetime('now')));
		INSERT INTO goose_db_version (version_id, is_applied) VALUES (0, 1), (1, 1), (2, 1);
		INSERT INTO pieces (id, created_at, updated_at, head) VALUES ('p', 1, 2, 3);
		INSERT INTO sheets (id, piece_id, name, data, created_at) VALUES ('f', 'p', 'a.svg', 'art', 1);
		INSERT INTO states (piece_id, seq, label, doc, created_at) VALUES ('p', 0, 'Artwork read', '{}', 1), ('p', 3, 'Depth', '{}', 2), ('p', 4, 'Undone', '{}', 3)`,
	)
	db.Close()
	s := open(t, dir)
	if h := head(t, s, "p"); h.Rev != 3 || h.Undo != "Depth" || h.Redo != "Undone" {
		t.Errorf("head %+v", h)
	}
	if rev := push(t, s, "p", "Next"); rev != 5 {
		t.Errorf("the next revision is %d, want 5", rev)
	}
	if f, err := s.File(t.Context(), "p", ""); err != nil || f.ID != "f" {
		t.Errorf("file %+v, %v", f, err)
	}
}

// TestFullDisk names it.
func TestFullDisk(t *testing.T) {
	s := open(t, t.TempDir())
	create(t, s, "p")
	s.db.SetMaxOpenConns(1)
	if _, err := s.db.Exec(`PRAGMA max_page_count = 40`); err != nil {
		t.Fatal(err)
	}
	big := File{ID: "big", Name: "b.svg", Data: make([]byte, 1<<20)}
	if err := s.AddFile(t.Context(), "p", big); !errors.Is(err, ErrFull) {
		t.Errorf("a full disk: %v", err)
	}
	if h := head(t, s, "p"); h.Rev != 0 {
		t.Errorf("something of it was kept: %+v", h)
	}
}
