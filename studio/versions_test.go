package studio

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"path/filepath"
	"reflect"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"

	"bildhauer/core/recipe"
)

const plainSign = `<svg xmlns="http://www.w3.org/2000/svg" width="60" height="60"><rect width="40" height="40"/></svg>`

// versioned is a studio with a piece of which two states were kept.
func versioned(t *testing.T) (s *Studio, id string, first Version) {
	t.Helper()
	s, err := New(filepath.Join(t.TempDir(), "data"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	if id, err = s.Create(t.Context(), File{Name: "sign.svg", Data: []byte(plainSign)}); err != nil {
		t.Fatal(err)
	}
	for i, mm := range []float64{30, 40} {
		wide(t, s, id, mm)
		v, err := s.KeepVersion(t.Context(), id, fmt.Sprintf("%g mm wide", mm))
		if err != nil {
			t.Fatal(err)
		}
		if i == 0 {
			first = v
		}
	}
	return s, id, first
}

func wide(t *testing.T, s *Studio, id string, mm float64) {
	t.Helper()
	by := "width"
	edits := []recipe.Edit{&recipe.SetSize{By: &by, MM: &mm}}
	if _, err := s.Change(t.Context(), id, Latest, recipe.Change{Label: "Width", Edits: edits}); err != nil {
		t.Fatal(err)
	}
}

// TestVersionsStay keeps states, changes the piece until its history has forgotten them, compares
// and goes back; undo leads to where one was before.
func TestVersionsStay(t *testing.T) {
	s, id, first := versioned(t)
	for i := range 520 {
		wide(t, s, id, 50+float64(i)/100)
	}
	list, err := s.Versions(t.Context(), id)
	if err != nil || len(list) != 2 || list[0].Name != "40 mm wide" {
		t.Fatalf("versions %v, %v", list, err)
	}
	found, all, err := s.Compare(t.Context(), id, first.ID)
	if err != nil || all != 1 || found[0].Then != "30" || found[0].Now != "55.19" || !strings.HasPrefix(found[0].Path, "size") {
		t.Errorf("what differs: %+v, %d, %v", found, all, err)
	}
	p, err := s.GoBack(t.Context(), id, first.ID)
	if err != nil || p.Recipe.Size.MM != 30 || p.Undo != "Back to 30 mm wide" {
		t.Errorf("back: %g mm, undo %q, %v", p.Recipe.Size.MM, p.Undo, err)
	}
	if found, all, _ := s.Compare(t.Context(), id, first.ID); all != 0 || found != nil {
		t.Errorf("it differs from itself: %v", found)
	}
	if again, err := s.GoBack(t.Context(), id, first.ID); err != nil || again.Rev != p.Rev {
		t.Errorf("back to where it is: revision %d, %v", again.Rev, err)
	}
	if err := s.Undo(t.Context(), id, p.Rev); err != nil {
		t.Fatal(err)
	}
	if p, _ = s.Piece(t.Context(), id); p.Recipe.Size.MM != 55.19 {
		t.Errorf("undone: %g mm", p.Recipe.Size.MM)
	}
	for name, want := range map[string]string{"  ": "name", strings.Repeat("x", 200): "name"} {
		if _, err := s.KeepVersion(t.Context(), id, name); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("a version %q: %v", name, err)
		}
	}
	if err := s.DropVersion(t.Context(), id, first.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.GoBack(t.Context(), id, first.ID); err == nil {
		t.Error("back to what was taken away")
	}
	if err := bringBack(s, "version", first.ID); err != nil {
		t.Fatal(err)
	}
	if p, err = s.GoBack(t.Context(), id, first.ID); err != nil || p.Recipe.Size.MM != 30 {
		t.Errorf("back to what was brought back: %v", err)
	}
}

// TestVersionsKeepTheirArtwork brings a piece in whose version names another sheet, lets it become
// old, and starts again: the version's artwork is there.
func TestVersionsKeepTheirArtwork(t *testing.T) {
	s, id, first := versioned(t)
	other := File{Name: "other.svg", Data: []byte(strings.Replace(plainSign, "40", "20", 1))}
	x, err := s.Propose(t.Context(), id, 1, other)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Accept(t.Context(), id, Latest, 1, x.File); err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	bundleInto(t, s, id, &b)
	to, err := New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer to.Close()
	made, err := unbundle(to, b.Bytes())
	if err != nil {
		t.Fatal(err)
	}
	old(t, to)
	if err := to.store.Purge(t.Context(), ForgetAfter); err != nil {
		t.Fatal(err)
	}
	list, err := to.Versions(t.Context(), made)
	if err != nil || len(list) != 2 || list[1].Name != first.Name {
		t.Fatal(list, err)
	}
	p, err := to.GoBack(t.Context(), made, list[1].ID)
	if err != nil {
		t.Fatal(err)
	}
	if view, err := to.View(t.Context(), p); err != nil || view.Problem != nil {
		t.Errorf("the artwork of the version: %v", err)
	}
}

// old makes all that a studio holds 20 days older, in its database.
func old(t *testing.T, s *Studio) {
	t.Helper()
	behind(t, s, `UPDATE files SET created_at = created_at - 1728000000`)
}

// behind changes the database of a studio behind its back.
func behind(t *testing.T, s *Studio, query string) {
	t.Helper()
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(s.home, "bildhauer.db")+"?_pragma=busy_timeout(5000)")
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	db.MustExec(query)
}

// TestPiecesAsFiles writes a piece as one file and brings it back, here and in another data
// folder: artwork, decisions and versions are the same. Files that are something else, cut off or
// changed leave nothing behind.
func TestPiecesAsFiles(t *testing.T) {
	s, id, _ := versioned(t)
	var b bytes.Buffer
	bundleInto(t, s, id, &b)
	other, err := New(filepath.Join(t.TempDir(), "other"))
	if err != nil {
		t.Fatal(err)
	}
	defer other.Close()
	before, _ := s.Piece(t.Context(), id)
	for _, to := range []*Studio{s, other} {
		made, err := unbundle(to, b.Bytes())
		if err != nil {
			t.Fatal(err)
		}
		p, err := to.Piece(t.Context(), made)
		if err != nil {
			t.Fatal(err)
		}
		if view, err := to.View(t.Context(), p); err != nil || view.Regions.Width != 40 {
			t.Errorf("brought back: %v", err)
		}
		p.Recipe.Sheets, before.Recipe.Sheets = recipe.Sheets{}, recipe.Sheets{}
		if !reflect.DeepEqual(p.Recipe, before.Recipe) {
			t.Errorf("the decisions are others: %+v", p.Recipe)
		}
		list, err := to.Versions(t.Context(), made)
		if err != nil || len(list) != 2 || list[1].Name != "30 mm wide" {
			t.Fatalf("versions %v, %v", list, err)
		}
		if back, err := to.GoBack(t.Context(), made, list[1].ID); err != nil || back.Recipe.Size.MM != 30 {
			t.Errorf("back in what was brought: %v", err)
		}
		if v, err := to.View(t.Context(), p); err != nil || v.Problem != nil {
			t.Errorf("its artwork: %v", err)
		}
	}
	count := func() int {
		list, err := other.Pieces(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		return len(list)
	}
	n := count()
	for i := range 40 {
		if _, err := unbundle(other, b.Bytes()[:b.Len()*i/40]); err == nil || !strings.Contains(err.Error(), "is not a piece") {
			t.Errorf("cut off at %d of 40: %v", i, err)
		}
	}
	for name, c := range map[string]struct {
		change func(name string, data []byte) (string, []byte)
		want   string
	}{
		"of something else":  {only("piece.json", `{"kind":"letter"}`), "says something else"},
		"of a newer program": {only("piece.json", `{"kind":"bildhauer piece","version":9}`), "newer Bildhauer"},
		"without decisions":  {renamedTo("recipe.json", "x.json"), "recipe.json is missing"},
		"with odd decisions": {only("recipe.json", `{"version":1e9}`), "recipe.json"},
		"without artwork":    {only("piece.json", `{"kind":"bildhauer piece","version":1}`), "artwork sign.svg is missing"},
		"with a way out":     {only("piece.json", `{"kind":"bildhauer piece","version":1,"files":[{"id":"../../passwd"}]}`), "no proper name"},
		"with a word as id":  {only("piece.json", `{"kind":"bildhauer piece","version":1,"files":[{"id":"surroundings"}]}`), "no proper name"},
		"of much":            {only("recipe.json", strings.Repeat(" ", mostDocument+1)), "too large"},
	} {
		if _, err := unbundle(other, rezipped(t, b.Bytes(), c.change)); err == nil || !strings.Contains(err.Error(), c.want) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if got := count(); got != n {
		t.Errorf("%d pieces were left behind", got-n)
	}
}

func bundleInto(t testing.TB, s *Studio, id string, w io.Writer) {
	t.Helper()
	write, err := s.Bundle(t.Context(), id)
	if err == nil {
		err = write(w)
	}
	if err != nil {
		t.Fatal(err)
	}
}

// anyBytes admits as much as one likes.
func anyBytes(int64) error { return nil }

func unbundle(s *Studio, data []byte) (string, error) {
	return s.Unbundle(context.Background(), "sign.zip", bytes.NewReader(data), int64(len(data)), anyBytes)
}

func bringBack(s *Studio, kind, id string) error {
	_, err := s.BringBack(context.Background(), kind, id)
	return err
}

func only(which, text string) func(string, []byte) (string, []byte) {
	return func(name string, data []byte) (string, []byte) {
		if name == which {
			return name, []byte(text)
		}
		return name, data
	}
}

func renamedTo(which, to string) func(string, []byte) (string, []byte) {
	return func(name string, data []byte) (string, []byte) {
		if name == which {
			name = to
		}
		return name, data
	}
}

func rezipped(t *testing.T, data []byte, change func(name string, data []byte) (string, []byte)) []byte {
	t.Helper()
	in, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	out := zip.NewWriter(&b)
	for _, f := range in.File {
		r, _ := f.Open()
		text, _ := io.ReadAll(r)
		name, text := change(f.Name, text)
		w, _ := out.Create(name)
		w.Write(text)
	}
	out.Close()
	return b.Bytes()
}
