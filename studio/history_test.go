package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"bildhauer/core/recipe"
	"bildhauer/internal/patience"
	"bildhauer/store"
)

// TestChangesOfTwoWindows are both kept when they fit, whatever each was based
// on, and refused with a sentence when they don't.
func TestChangesOfTwoWindows(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(square)})
	base := piece(t, s, id).Rev
	do := func(base int64, label string, e ...recipe.Edit) error {
		_, err := s.Change(t.Context(), id, base, recipe.Change{Label: label, Edits: e})
		return err
	}
	mm := 44.0
	if err := do(base, "Depth", setDepth(20)); err != nil {
		t.Fatal(err)
	}
	if err := do(base, "Width", &recipe.SetSize{MM: &mm}); err != nil {
		t.Fatal(err)
	}
	p := piece(t, s, id)
	if p.Recipe.Size.MM != 44 || p.Recipe.Parts.Measures(plate).Depth != 20 {
		t.Errorf("one of two changes was lost: %+v", p.Recipe)
	}
	// What the other window took away can't be changed any more.
	if err := do(Latest, "Add", &recipe.AddSheet{Sheet: recipe.Sheet{File: p.Recipe.Sheets.List[0].File, Name: "b.svg"}}); err != nil {
		t.Fatal(err)
	}
	seen := piece(t, s, id).Rev
	if err := do(seen, "Take a sheet out", &recipe.DropSheet{Slot: 2}); err != nil {
		t.Fatal(err)
	}
	beside := true
	err := do(seen, "Place", &recipe.EditSheet{Slot: 2, Beside: &beside})
	var old *ErrStale
	if !errors.As(err, &old) || !strings.Contains(old.Text, "another window (Take a sheet out)") ||
		!strings.Contains(old.Text, "not in the piece any more.") {
		t.Errorf("a change that does not fit: %v", err)
	}
	// The same mistake on the newest state is a plain refusal.
	var in *ErrInput
	if err := do(piece(t, s, id).Rev, "Place", &recipe.EditSheet{Slot: 2, Beside: &beside}); !errors.As(
		err,
		&in,
	) {
		t.Errorf("a change that does not fit, on the newest state: %v", err)
	}
	// Undo of what is not on the screen any more is refused.
	if err := s.Undo(t.Context(), id, seen); !errors.As(err, &old) {
		t.Errorf("undo of an old state: %v", err)
	}
	if err := s.Undo(t.Context(), id, piece(t, s, id).Rev); err != nil {
		t.Error(err)
	}
}

// TestParallelChanges holds that of many changes at once none is lost: pairs of
// two fields, sheets that come and go, undos between.
func TestParallelChanges(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(square)})
	const pairs = 15
	for i := range pairs {
		var wg sync.WaitGroup
		base := piece(t, s, id).Rev
		mm := float64(50 + i)
		for _, e := range []recipe.Edit{setDepth(float64(10 + i)), &recipe.SetSize{MM: &mm}} {
			wg.Go(func() {
				if _, err := s.Change(t.Context(), id, base, recipe.Change{Label: "x", Edits: []recipe.Edit{e}}); err != nil {
					t.Error(err)
				}
			})
		}
		wg.Go(func() {
			if _, err := s.AddSheet(t.Context(), id, base, File{fmt.Sprintf("n%d.svg", i), []byte(square)}); err != nil {
				t.Error(err)
			}
		})
		wg.Wait()
		p := piece(t, s, id)
		if p.Recipe.Size.MM != mm || p.Recipe.Parts.Measures(plate).Depth != float64(10+i) ||
			len(p.Recipe.Sheets.List) != i+2 {
			t.Fatalf("pair %d lost a change: %+v", i, p.Recipe)
		}
	}
	steps := 0
	for piece(t, s, id).Undo != "" {
		if err := s.Undo(t.Context(), id, Latest); err != nil {
			t.Fatal(err)
		}
		steps++
	}
	if steps != 3*pairs {
		t.Errorf("%d steps in the history of %d changes", steps, 3*pairs)
	}
}

// TestNothingAddsNoStep makes changes that change nothing.
func TestNothingAddsNoStep(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"a.svg", []byte(square)})
	change(t, s, id, "Depth", setDepth(20))
	before := piece(t, s, id)
	name, mm := before.Recipe.Name, before.Recipe.Size.MM
	for label, e := range map[string]recipe.Edit{
		"the same depth": setDepth(20), "the same name": &recipe.SetName{Name: " " + name + " "}, "the same size": &recipe.SetSize{MM: &mm},
		"no edits": &recipe.EditShapes{}, "nobody's choice": &recipe.Choose{},
	} {
		if p := change(t, s, id, label, e); p.Rev != before.Rev || p.Undo != "Depth" {
			t.Errorf("%s made revision %d", label, p.Rev)
		}
	}
}

// TestWindowsAreTold of each other's changes, and of progress.
func TestWindowsAreTold(t *testing.T) {
	s := open(t, t.TempDir())
	id, other := made(t, s, File{"a.svg", []byte(square)}), made(t, s, File{"b.svg", []byte(square)})
	here, there := s.Watch(id), s.Watch(other)
	defer there.Close()
	wake, gone := here.Wake()
	next := func() Events {
		t.Helper()
		select {
		case <-wake:
			return here.Take()
		case <-time.After(patience.Of(t)):
			t.Fatal("nothing was told")
			return Events{}
		}
	}
	p := change(t, s, id, "Depth", setDepth(20))
	if e := next(); !e.News || e.Rev != p.Rev {
		t.Errorf("told %+v, want revision %d", e, p.Rev)
	}
	if err := s.Undo(t.Context(), id, Latest); err != nil {
		t.Fatal(err)
	}
	if e := next(); e.Rev != 0 || !e.News {
		t.Errorf("after undo: %+v", e)
	}
	// A slow window hears the latest only.
	for i := range 20 {
		p = change(t, s, id, "Depth", setDepth(float64(30+i)))
	}
	if e := next(); e.Rev != p.Rev {
		t.Errorf("a slow window: %+v", e)
	}
	job, end := s.Begin(t.Context(), "job1", id)
	if _, err := s.Raise(job, p, plate, nil); err != nil {
		t.Fatal(err)
	}
	if e := next(); len(e.Jobs["job1"].What) == 0 {
		t.Errorf("no progress: %+v", e)
	}
	end()
	if there.Take().News {
		t.Error("the window on another piece was told")
	}
	here.Close()
	<-gone
	change(t, s, id, "Depth", setDepth(99))
	if here.Take().News {
		t.Error("a closed window was told")
	}
	s.EndWindows()
	_, gone = s.Watch(id).Wake()
	<-gone
}

// TestJobs end by their id, by their context and with the studio.
func TestJobs(t *testing.T) {
	s := open(t, t.TempDir())
	job, end := s.Begin(t.Context(), "a", "p")
	if !s.Cancel("a") || job.Err() == nil || context.Cause(job) != ErrCancelled {
		t.Errorf("cancelled: %v", context.Cause(job))
	}
	end()
	if s.Cancel("a") || s.Cancel("never") {
		t.Error("a job that is over was cancelled")
	}
	ctx, cancel := context.WithCancel(t.Context())
	job, end = s.Begin(ctx, "b", "p")
	cancel()
	<-job.Done()
	end()
	job, end = s.Begin(t.Context(), "", "p")
	s.Close()
	<-job.Done()
	end()
}

// TestDamagedPieces keep nobody from the others, and undo brings back what was
// before.
func TestDamagedPieces(t *testing.T) {
	s := open(t, t.TempDir())
	id, other := made(t, s, File{"a.svg", []byte(square)}), made(t, s, File{"b.svg", []byte(square)})
	rev := piece(t, s, id).Rev
	for _, doc := range []string{"{", `{"version":2,"size":{"mm":-4}}`, `{"version":77}`} {
		if _, err := s.store.Push(t.Context(), id, rev, "Damage", []byte(doc)); err != nil {
			t.Fatal(err)
		}
		var bad *ErrDamaged
		_, err := s.Piece(t.Context(), id)
		if !errors.As(err, &bad) ||
			strings.HasPrefix(doc, `{"version":77`) != errors.Is(err, recipe.ErrNewer) {
			t.Errorf("%s: %v", doc, err)
		}
		if _, err := s.Change(t.Context(), id, Latest, recipe.Change{Edits: []recipe.Edit{setDepth(3)}}); !errors.As(
			err,
			&bad,
		) {
			t.Errorf("%s was changed: %v", doc, err)
		}
		list, err := s.Pieces(t.Context())
		if err != nil || len(list) != 2 {
			t.Fatalf("%s: %d pieces, %v", doc, len(list), err)
		}
		for _, p := range list {
			if (p.Damage != "") != (p.ID == id) {
				t.Errorf("%s: piece %s says %q", doc, p.ID, p.Damage)
			}
		}
		if err := s.Undo(t.Context(), id, Latest); err != nil {
			t.Fatal(err)
		}
		rev = piece(t, s, id).Rev
	}
	change(t, s, other, "Depth", setDepth(9))
}

// TestOldDocumentsGoOn opens documents of version 1, changes them, and finds
// what they held.
func TestOldDocumentsGoOn(t *testing.T) {
	s := open(t, t.TempDir())
	old, err := os.ReadFile("../core/recipe/testdata/v1/first-days.json")
	if err != nil {
		t.Fatal(err)
	}
	id := newID()
	files := []store.File{{ID: newID(), Name: "pier_sign.svg", Data: []byte(square)}}
	if err := s.store.Create(t.Context(), id, files, "Artwork read", old); err != nil {
		t.Fatal(err)
	}
	solids, err := s.Solids(t.Context(), piece(t, s, id))
	if err != nil || len(solids) != 2 {
		t.Fatalf("%d solids, %v", len(solids), err)
	}
	p := change(t, s, id, "Depth", setDepth(20))
	h, err := s.store.Head(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	var doc map[string]any
	if err := json.Unmarshal(h.Doc, &doc); err != nil || doc["version"] != float64(recipe.Version) {
		t.Errorf("saved as %s", h.Doc)
	}
	if list := p.Recipe.Sheets.List; len(list) != 1 || list[0].Name != "pier_sign.svg" ||
		list[0].File != files[0].ID {
		t.Errorf("sheets %+v", list)
	}
	copied, err := s.Duplicate(t.Context(), id, anyBytes)
	if err != nil {
		t.Fatal(err)
	}
	if p := piece(t, s, copied); p.Recipe.Name != "Pier sign (copy)" ||
		p.Recipe.Parts.Measures(plate).Depth != 20 {
		t.Errorf("copy %+v", p.Recipe)
	}
}

// TestLongNames shortens files' names and refuses typed ones.
func TestLongNames(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{strings.Repeat("harbour", 4000) + ".svg", []byte(square)})
	p := piece(t, s, id)
	if n := len([]rune(p.Recipe.Sheets.List[0].Name)); n > 120 ||
		!strings.HasSuffix(p.Recipe.Sheets.List[0].Name, "….svg") {
		t.Errorf("a name of %d letters: %q", n, p.Recipe.Sheets.List[0].Name)
	}
	var in *ErrInput
	long := recipe.Change{
		Label: strings.Repeat("l", 1<<20),
		Edits: []recipe.Edit{&recipe.SetName{Name: strings.Repeat("n", 10<<20)}},
	}
	if _, err := s.Change(t.Context(), id, Latest, long); !errors.As(err, &in) || len(in.Text) > 200 {
		t.Errorf("a name of 10 MB: %.200v", err)
	}
	long.Edits = []recipe.Edit{setDepth(3)}
	if p, err := s.Change(t.Context(), id, Latest, long); err != nil || len(p.Undo) > 130 {
		t.Errorf("a label of 1 MB: %d letters, %v", len(p.Undo), err)
	}
	for _, name := range []string{"", "/", "..", "a\nb.svg", "\xff\xfe.svg"} {
		if got := cleanName(name); strings.ContainsAny(got, "\n") || strings.ToValidUTF8(got, "") != got {
			t.Errorf("%q became %q", name, got)
		}
	}
	copied, err := s.Duplicate(t.Context(), id, anyBytes)
	if err != nil {
		t.Fatal(err)
	}
	for range 3 { // copies of copies still have names
		if copied, err = s.Duplicate(t.Context(), copied, anyBytes); err != nil {
			t.Fatal(err)
		}
	}
}
