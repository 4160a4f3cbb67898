package store

import (
	"errors"
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
)

// sheets is a document that names a file.
func sheets(file string) string { return `{"sheets":{"list":[{"slot":1,"file":"` + file + `"}]}}` }

// TestWhateverIsNamedStays gives each table that holds texts, one after the other and all that there
// are, the only row that names a file, makes all old, and purges: the file stays, and one that
// nothing names goes. So it is with a table that is added here, as one of tomorrow would be.
func TestWhateverIsNamedStays(t *testing.T) {
	s := open(t, t.TempDir())
	ctx := t.Context()
	s.db.MustExec(`CREATE TABLE tomorrow (id INTEGER PRIMARY KEY, piece_id TEXT NOT NULL, wish TEXT NOT NULL);
		CREATE TABLE later (id INTEGER PRIMARY KEY, plan BLOB NOT NULL)`)
	var tables []string
	if err := s.db.Select(&tables, `SELECT DISTINCT m.name FROM sqlite_master AS m, pragma_table_info(m.name) AS c
		WHERE m.type = 'table' AND c.type IN ('TEXT', 'BLOB') AND m.name NOT IN ('files', 'goose_db_version')
		AND m.name NOT LIKE 'sqlite_%'`); err != nil || len(tables) < 9 {
		t.Fatal(tables, err)
	}
	tried := 0
	for _, table := range tables {
		var columns []struct {
			Name, Type  string
			Pk, Notnull int
			Value       *string `db:"dflt_value"`
		}
		if err := s.db.Select(&columns, `SELECT name, type, pk, "notnull", dflt_value FROM pragma_table_info(?)`, table); err != nil {
			t.Fatal(err)
		}
		for _, c := range columns {
			if c.Type != "TEXT" && c.Type != "BLOB" || c.Pk > 0 || strings.HasSuffix(c.Name, "_id") {
				continue
			}
			tried++
			piece := fmt.Sprintf("p%d", tried)
			create(t, s, piece)
			kept, gone := "kept-"+piece, "gone-"+piece
			for _, id := range []string{kept, gone} {
				if err := s.AddFile(ctx, piece, File{ID: id, Name: "b.svg", Data: []byte("b")}); err != nil {
					t.Fatal(err)
				}
			}
			row(t, s, table, piece, c.Name, sheets(kept))
			s.db.MustExec(`UPDATE files SET created_at = 0`)
			if err := s.DropFile(ctx, piece, kept); err != nil {
				t.Fatal(err)
			}
			if err := s.Purge(ctx, time.Hour); err != nil {
				t.Fatal(err)
			}
			for id, stays := range map[string]bool{kept: true, gone: false, "file-" + piece: true} {
				if _, err := s.File(ctx, piece, id); (err == nil) != stays {
					t.Errorf("%s.%s names a file: %s: %v", table, c.Name, id, err)
				}
			}
		}
	}
	if tried < 12 {
		t.Errorf("only %d columns were tried", tried)
	}
}

// row adds a row to a table with a text in one column.
func row(t *testing.T, s *Store, table, piece, column, text string) {
	t.Helper()
	var all []struct{ Name, Type string }
	err := s.db.Select(&all, `SELECT name, type FROM pragma_table_info(?)
		WHERE NOT (name = 'id' AND type = 'INTEGER') AND ("notnull" = 1 OR pk > 0 OR name = ?)`, table, column)
	if err != nil {
		t.Fatal(err)
	}
	var columns, marks []string
	var values []any
	for i, col := range all {
		c := col.Name
		columns = append(columns, `"`+c+`"`)
		var v any = i + 1000
		switch {
		case c == column:
			v = text
		case c == "piece_id":
			v = piece
		case c == "doc":
			v = sheets("file-" + piece)
		case c == "series_id":
			v = "s" + piece
			s.db.MustExec(`INSERT INTO series VALUES (?, 'r', 'stl', '{}', 1, NULL)`, v)
		case strings.HasSuffix(c, "id") || c == "name":
			v = fmt.Sprint(table, "-", piece)
		}
		marks, values = append(marks, "?"), append(values, v)
	}
	s.db.MustExec(`INSERT INTO `+table+` (`+strings.Join(columns, ", ")+`) VALUES (`+strings.Join(marks, ", ")+`)`, values...)
}

// TestWhatWaits deletes pieces, versions and recipes, brings some back, and purges: what waits is
// listed with its day, what was brought back is as it was, and a name is held by one recipe.
func TestWhatWaits(t *testing.T) {
	s := open(t, t.TempDir())
	ctx := t.Context()
	create(t, s, "p")
	create(t, s, "q")
	no := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	for _, id := range []string{"v1", "v2"} {
		no(s.AddVersion(ctx, Version{ID: id, PieceID: "p", Name: id, Doc: []byte(sheets("file-p"))}, 2))
	}
	no(s.DropVersion(ctx, "p", "v1"))
	if _, err := s.Version(ctx, "p", "v1"); !errors.Is(err, ErrNotFound) {
		t.Errorf("one that was taken away: %v", err)
	}
	no(s.AddVersion(ctx, Version{ID: "v3", PieceID: "p", Name: "v3", Doc: []byte("{}")}, 2))
	if err := s.RestoreVersion(ctx, "v1", 2); !errors.Is(err, ErrMany) {
		t.Errorf("a third of two: %v", err)
	}
	no(s.DropVersion(ctx, "p", "v3"))
	no(s.RestoreVersion(ctx, "v1", 2))
	if v, err := s.Version(ctx, "p", "v1"); err != nil || string(v.Doc) != sheets("file-p") {
		t.Errorf("brought back: %+v, %v", v, err)
	}
	if err := s.RestoreVersion(ctx, "v9", 2); !errors.Is(err, ErrNotFound) {
		t.Errorf("one that never was: %v", err)
	}

	first, err := s.Keep(ctx, Kept{Kind: ARecipe, ID: "r1", Name: "Quay", Doc: []byte("one")})
	no(err)
	instead, err := s.Keep(ctx, Kept{Kind: ARecipe, ID: "r2", Name: "Quay", Doc: []byte("two")})
	if first != "" || instead != "r1" || err != nil {
		t.Errorf("in the place of %q, then %q, %v", first, instead, err)
	}
	if instead, err = s.RestoreKept(ctx, "r1"); err != nil || instead != "r2" {
		t.Errorf("back in the place of %q, %v", instead, err)
	}
	if list, err := s.Kept(ctx, ARecipe); err != nil || len(list) != 1 || string(list[0].Doc) != "one" {
		t.Errorf("recipes: %+v, %v", list, err)
	}
	if id, err := s.Drop(ctx, ARecipe, "Quay"); err != nil || id != "r1" {
		t.Errorf("dropped %q, %v", id, err)
	}
	if _, err := s.Drop(ctx, ARecipe, "Quay"); !errors.Is(err, ErrNotFound) {
		t.Errorf("dropped twice: %v", err)
	}
	no(s.SetDeleted(ctx, "q", true))
	list, err := s.Waiting(ctx)
	no(err)
	have := map[string]bool{}
	for _, w := range list {
		have[w.Kind+" "+w.ID] = w.At > 0
	}
	if len(list) != 4 || !have["piece q"] || !have["version v3"] || !have["recipe r1"] || !have["recipe r2"] {
		t.Errorf("what waits: %+v", list)
	}
	s.db.MustExec(`UPDATE versions SET deleted_at = 1 WHERE id = 'v3'; UPDATE recipes SET deleted_at = 1 WHERE id = 'r2'`)
	no(s.Purge(ctx, time.Hour))
	if list, _ = s.Waiting(ctx); len(list) != 2 {
		t.Errorf("after a purge: %+v", list)
	}
	if _, err := s.RestoreKept(ctx, "r2"); !errors.Is(err, ErrNotFound) {
		t.Errorf("what was purged: %v", err)
	}
}

// TestSeriesAreKept over a restart, with how far each file is, and go whole.
func TestSeriesAreKept(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	ctx := t.Context()
	x := Series{ID: "s", Name: "Quay", Format: "stl", Doc: []byte("{}"), Files: []SeriesFile{
		{SeriesID: "s", N: 0, Name: "a.svg", Made: "a.stl", State: "waiting"}, {SeriesID: "s", N: 1, Name: "b.svg", Made: "b.stl", State: "waiting"},
	}}
	if err := s.AddSeries(ctx, x); err != nil {
		t.Fatal(err)
	}
	x.Files[1].State, x.Files[1].Bytes = "done", 77
	if err := s.SetSeriesFile(ctx, x.Files[1]); err != nil {
		t.Fatal(err)
	}
	if err := s.TakeSeries(ctx, "s"); err != nil {
		t.Fatal(err)
	}
	s.Close()
	s = open(t, dir)
	list, err := s.Series(ctx)
	if err != nil || len(list) != 1 || !list[0].TakenAt.Valid || len(list[0].Files) != 2 || list[0].Files[1] != x.Files[1] || list[0].Files[0] != x.Files[0] {
		t.Errorf("kept: %+v, %v", list, err)
	}
	if err := s.DropSeries(ctx, "s"); err != nil {
		t.Fatal(err)
	}
	var left int
	if err := s.db.Get(&left, `SELECT (SELECT COUNT(*) FROM series) + (SELECT COUNT(*) FROM series_files)`); err != nil || left != 0 {
		t.Errorf("%d rows left, %v", left, err)
	}
}

// TestRecipesMove brings recipes of the tables of before along.
func TestRecipesMove(t *testing.T) {
	dir := t.TempDir()
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(dir, databaseFile))
	if err != nil {
		t.Fatal(err)
	}
	db.MustExec(`CREATE TABLE goose_db_version (id INTEGER PRIMARY KEY AUTOINCREMENT, version_id INTEGER NOT NULL, is_applied INTEGER NOT NULL, tstamp TIMESTAMP DEFAULT (datetime('now')));
		INSERT INTO goose_db_version (version_id, is_applied) VALUES (0, 1)`)
	list, _ := migrations.ReadDir("migrations")
	for i, e := range list[:7] {
		raw, err := migrations.ReadFile("migrations/" + e.Name())
		if err != nil {
			t.Fatal(err)
		}
		up, _, _ := strings.Cut(string(raw), "-- +goose Down")
		db.MustExec(up)
		db.MustExec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (?, 1)`, i+1)
	}
	db.MustExec(`INSERT INTO recipes (name, doc, created_at) VALUES ('Quay', 'one', 5), ('Pier', 'two', 6)`)
	db.Close()
	s := open(t, dir)
	kept, err := s.Kept(t.Context(), ARecipe)
	if err != nil || len(kept) != 2 || kept[0].Name != "Pier" || string(kept[1].Doc) != "one" || len(kept[0].ID) != 16 || kept[0].ID == kept[1].ID {
		t.Errorf("recipes: %+v, %v", kept, err)
	}
}

// TestWritersTakeTurns has many write at once over connections that wait for nobody: each comes to it.
func TestWritersTakeTurns(t *testing.T) {
	s := open(t, t.TempDir())
	ctx := t.Context()
	const writers = 12
	s.db.SetMaxOpenConns(writers)
	s.db.SetMaxIdleConns(writers)
	var held []*sqlx.Conn
	for range writers {
		c, err := s.db.Connx(ctx)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := c.ExecContext(ctx, `PRAGMA busy_timeout = 0`); err != nil {
			t.Fatal(err)
		}
		held = append(held, c)
	}
	for _, c := range held {
		c.Close()
	}
	create(t, s, "p")
	var wg sync.WaitGroup
	for w := range writers {
		wg.Go(func() {
			for i := range 20 {
				id := fmt.Sprintf("%d-%d", w, i)
				err := s.AddFile(ctx, "p", File{ID: id, Name: "a.svg", Data: []byte("a")})
				if err == nil {
					err = s.AddOrder(ctx, Order{ID: id, PieceID: "p", Spec: []byte("{}"), Doc: []byte("{}"), State: "waiting"})
				}
				if err == nil {
					err = s.SetOrder(ctx, Order{ID: id, State: "done"})
				}
				if err != nil {
					t.Errorf("writer %d: %v", w, err)
					return
				}
			}
		})
	}
	wg.Wait()
}
