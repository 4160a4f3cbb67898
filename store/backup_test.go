package store

import (
	"archive/zip"
	"bytes"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// filled makes a data folder with a piece, a result and a half-written file.
func filled(t *testing.T) (dir string, s *Store) {
	t.Helper()
	dir = filepath.Join(t.TempDir(), "data")
	s, err := Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	if err := s.Create(t.Context(), "p1", []File{{ID: "f1", Name: "a.svg", Data: bytes.Repeat([]byte("drawing "), 5000)}}, "first", []byte("{}")); err != nil {
		t.Fatal(err)
	}
	for name, text := range map[string]string{"results/o1/frame-1.png": "picture", "prints/x.gcode": "G1", "cache/y": "no", "results/o1/.half": "no"} {
		path := filepath.Join(dir, name)
		os.MkdirAll(filepath.Dir(path), 0o700)
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	return dir, s
}

// TestBackups copies a data folder while it is in use, makes another of the copy, and finds all
// that belongs to pieces, and nothing else.
func TestBackups(t *testing.T) {
	dir, _ := filled(t)
	to := filepath.Join(t.TempDir(), "copy.zip")
	if err := Backup(t.Context(), dir, to); err != nil {
		t.Fatal(err)
	}
	again := filepath.Join(t.TempDir(), "again")
	if err := Restore(t.Context(), to, again); err != nil {
		t.Fatal(err)
	}
	s, err := Open(again)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	f, err := s.File(t.Context(), "p1", "f1")
	if err != nil || len(f.Data) != 40_000 {
		t.Errorf("the artwork: %d bytes, %v", len(f.Data), err)
	}
	if got, _ := os.ReadFile(filepath.Join(again, "results/o1/frame-1.png")); string(got) != "picture" {
		t.Errorf("the result is %q", got)
	}
	for _, gone := range []string{"cache", "results/o1/.half", "bildhauer.db-journal"} {
		if _, err := os.Stat(filepath.Join(again, gone)); err == nil {
			t.Errorf("%s was copied", gone)
		}
	}
	whole, _ := os.ReadFile(to)
	bad := filepath.Join(t.TempDir(), "bad.zip")
	for name, c := range map[string]struct {
		do   func() error
		want string
	}{
		"onto a file":          {func() error { return Backup(t.Context(), dir, to) }, "is there already"},
		"of nothing":           {func() error { return Backup(t.Context(), t.TempDir(), to+"2") }, "no data of Bildhauer"},
		"into a folder in use": {func() error { return Restore(t.Context(), to, dir) }, "is not empty"},
		"of something else":    {func() error { os.WriteFile(bad, []byte("text"), 0o600); return Restore(t.Context(), bad, again+"2") }, "is no backup"},
		"cut off": {func() error {
			os.WriteFile(bad, whole[:len(whole)/2], 0o600)
			return Restore(t.Context(), bad, again+"2")
		}, "is no backup"},
		"of a damaged database": {func() error {
			zipped(t, bad, databaseFile, "SQLite format 3\x00"+strings.Repeat("x", 9000))
			return Restore(t.Context(), bad, again+"2")
		}, "damaged"},
		"that leaves the folder": {func() error { zipped(t, bad, "../"+databaseFile, "x"); return Restore(t.Context(), bad, again+"2") }, "is no backup"},
		"without a database":     {func() error { zipped(t, bad, "results/a", "x"); return Restore(t.Context(), bad, again+"2") }, "is no backup"},
	} {
		if err := c.do(); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if list, _ := filepath.Glob(again + "2*"); len(list) > 0 {
		t.Errorf("left behind: %v", list)
	}
}

func zipped(t *testing.T, path, name, text string) {
	t.Helper()
	f, err := os.Create(path)
	if err != nil {
		t.Fatal(err)
	}
	z := zip.NewWriter(f)
	w, _ := z.Create(name)
	w.Write([]byte(text))
	if err := errors.Join(z.Close(), f.Close()); err != nil {
		t.Fatal(err)
	}
}

// TestWeeklyCopies keeps a copy a week, and the last four.
func TestWeeklyCopies(t *testing.T) {
	dir, _ := filled(t)
	day := time.Date(2031, 3, 1, 12, 0, 0, 0, time.UTC)
	made := 0
	for i := range 60 {
		ok, err := KeepCopy(t.Context(), dir, day.AddDate(0, 0, i))
		if err != nil {
			t.Fatal(err)
		}
		if ok {
			made++
		}
	}
	if names := copyNames(dir); made != 9 || len(names) != 4 || names[3] != "bildhauer-2031-04-26.zip" {
		t.Errorf("%d made, %v kept", made, names)
	}
	if err := Restore(t.Context(), newestCopy(dir), filepath.Join(t.TempDir(), "new")); err != nil {
		t.Error(err)
	}
}

// TestDamagedDatabases opens data folders whose database lost or changed bytes: either nothing of
// it matters, or it is said, with the way out, and the file stays as it was.
func TestDamagedDatabases(t *testing.T) {
	dir, s := filled(t)
	if _, err := KeepCopy(t.Context(), dir, time.Now()); err != nil {
		t.Fatal(err)
	}
	s.Close()
	path := filepath.Join(dir, databaseFile)
	whole, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	said := 0
	for i := range 24 {
		data := append([]byte(nil), whole...)
		if at := len(data) * i / 24; i%2 == 0 {
			copy(data[at:], bytes.Repeat([]byte{0xa5}, min(3000, len(data)-at)))
		} else {
			data = data[:at]
		}
		os.WriteFile(path, data, 0o600)
		s, err := Open(dir)
		if err == nil {
			s.Close()
			continue
		}
		said++
		if text := err.Error(); !strings.Contains(text, "damaged") || !strings.Contains(text, "restore") || !strings.Contains(text, "copies") {
			t.Errorf("damage %d: %v", i, err)
		}
		if now, _ := os.ReadFile(path); !bytes.Equal(now, data) {
			t.Errorf("damage %d: the file was changed", i)
		}
	}
	if said < 12 {
		t.Errorf("only %d were noticed", said)
	}
}
