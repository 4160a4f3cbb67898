package studio

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"bildhauer/core/recipe"
	"bildhauer/store"
)

const square = `<svg xmlns="http://www.w3.org/2000/svg" width="20" height="20"><rect id="a" width="20" height="20" fill="#336699"/>` +
	`<rect id="b" x="5" y="5" width="5" height="5" fill="#993333"/></svg>`

func open(t *testing.T, dir string) *Studio {
	t.Helper()
	s, err := New(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

// setDepth sets the depth of the plate, the blue part of the square.
func setDepth(mm float64) recipe.Edit {
	return &recipe.EditParts{Parts: map[string]recipe.PartPatch{plate: depth(mm)}}
}

// plate is the id of the blue part of the square, pin that of the red one.
const plate, pin = "c336699", "c993333"

func change(t *testing.T, s *Studio, id, label string, edits ...recipe.Edit) Piece {
	t.Helper()
	p, err := s.Change(t.Context(), id, Latest, recipe.Change{Label: label, Edits: edits})
	if err != nil {
		t.Fatalf("%s: %v", label, err)
	}
	return p
}

func piece(t *testing.T, s *Studio, id string) Piece {
	t.Helper()
	p, err := s.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func made(t *testing.T, s *Studio, files ...File) string {
	t.Helper()
	id, err := s.Create(t.Context(), files...)
	if err != nil {
		t.Fatal(err)
	}
	return id
}

// TestHistory goes back and forth, branches off, and finds all of it after a
// restart.
func TestHistory(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	id, err := s.Create(t.Context(), File{`C:\signs\pier_sign.svg`, []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	depth := func() float64 {
		t.Helper()
		p, err := s.Piece(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		return p.Recipe.Parts.Measures(plate).Depth
	}
	for i := range 5 {
		change(t, s, id, fmt.Sprint("Depth ", i), setDepth(float64(10+i)))
	}
	for range 3 {
		if err := s.Undo(t.Context(), id, Latest); err != nil {
			t.Fatal(err)
		}
	}
	if d := depth(); d != 11 {
		t.Errorf("depth %g after three undos", d)
	}
	s.Redo(t.Context(), id, Latest)
	s.Close()
	s = open(t, dir)
	if p, _ := s.Piece(t.Context(), id); p.Recipe.Name != "Pier sign" || depth() != 12 ||
		p.Undo != "Depth 2" ||
		p.Redo != "Depth 3" {
		t.Errorf("after a restart: %+v", p)
	}
	// A change after undo drops what was undone; undo stops at the start.
	change(t, s, id, "Other", setDepth(50))
	if p, _ := s.Piece(t.Context(), id); p.Redo != "" {
		t.Errorf("redo of %q after a new change", p.Redo)
	}
	for range 20 {
		s.Undo(t.Context(), id, Latest)
	}
	if d := depth(); d != 8 {
		t.Errorf("depth %g at the start", d)
	}
	for range 20 {
		s.Redo(t.Context(), id, Latest)
	}
	if d := depth(); d != 50 {
		t.Errorf("depth %g at the end", d)
	}
	// What is out of range is refused and changes nothing.
	var in *ErrInput
	if _, err := s.Change(t.Context(), id, Latest, recipe.Change{Label: "Bad", Edits: []recipe.Edit{setDepth(-1)}}); !errors.As(
		err,
		&in,
	) ||
		depth() != 50 {
		t.Errorf("depth -1: %v", err)
	}
	if _, err := s.Change(t.Context(), id, Latest, recipe.Change{Edits: []recipe.Edit{&recipe.SetName{Name: "  "}}}); !errors.As(
		err,
		&in,
	) {
		t.Errorf("no name: %v", err)
	}
}

func TestLongHistoryIsBounded(t *testing.T) {
	s := open(t, t.TempDir())
	id, err := s.Create(t.Context(), File{"a.svg", []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	for i := range 620 {
		change(t, s, id, "Depth", setDepth(float64(i%50)+1))
	}
	undone := 0
	for ; undone < 1000; undone++ {
		p, _ := s.Piece(t.Context(), id)
		s.Undo(t.Context(), id, Latest)
		if q, _ := s.Piece(t.Context(), id); q.Rev == p.Rev {
			break
		}
	}
	if undone < 400 || undone > 620 {
		t.Errorf("%d steps can be undone", undone)
	}
}

func TestCopiesAndDeletion(t *testing.T) {
	s := open(t, t.TempDir())
	id, err := s.Create(t.Context(), File{"a.svg", []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	other, err := s.Duplicate(t.Context(), id, anyBytes)
	if err != nil {
		t.Fatal(err)
	}
	change(t, s, other, "Depth", setDepth(3))
	if p, _ := s.Piece(t.Context(), id); p.Recipe.Parts.Measures(plate).Depth != 8 {
		t.Error("a change of the copy reached the original")
	}
	if err := s.Delete(t.Context(), id); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Piece(t.Context(), id); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("deleted piece: %v", err)
	}
	if list, _ := s.Pieces(t.Context()); len(list) != 1 {
		t.Errorf("%d pieces", len(list))
	}
	if err := bringBack(s, "piece", id); err != nil {
		t.Fatal(err)
	}
	if p, err := s.Piece(t.Context(), id); err != nil || p.Recipe.Name != "A" {
		t.Errorf("restored: %v", err)
	}
	if err := s.Delete(t.Context(), "nope"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("deleting nothing: %v", err)
	}
	if _, err := s.Create(t.Context(), File{"bad.svg", []byte("<svg")}); err == nil ||
		!strings.HasPrefix(err.Error(), "bad.svg") {
		t.Errorf("bad file: %v", err)
	}
}

// TestExchange proposes, declines and accepts a changed file, and takes it back.
func TestExchange(t *testing.T) {
	dir := t.TempDir()
	s, err := New(dir)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	id, err := s.Create(t.Context(), File{"sign.svg", []byte(square)}, File{"lamp.svg", []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	shapes := func() int {
		t.Helper()
		p, err := s.Piece(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		joined, err := s.Artwork(t.Context(), p)
		if err != nil {
			t.Fatal(err)
		}
		return len(joined.Sheet.Shapes)
	}
	before := shapes()
	wider := strings.Replace(square, "</svg>", `<circle id="new" cx="5" cy="5" r="2"/></svg>`, 1)
	x, err := s.Propose(t.Context(), id, 2, File{"lamp-2.svg", []byte(wider)})
	if err != nil || len(x.Matching.New) != 1 || len(x.Matching.Gone) != 0 {
		t.Fatalf("proposal: %+v, %v", x, err)
	}
	if err := s.Decline(t.Context(), id, x.File); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Accept(t.Context(), id, Latest, 2, x.File); err == nil {
		t.Error("a declined file was accepted")
	}
	if x, err = s.Propose(t.Context(), id, 2, File{"lamp-2.svg", []byte(wider)}); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Accept(t.Context(), id, Latest, 2, x.File); err != nil {
		t.Fatal(err)
	}
	if got := shapes(); got != before+1 {
		t.Errorf("%d shapes after the exchange, %d before", got, before)
	}
	// What the history uses can't be dropped.
	if err := s.Decline(t.Context(), id, x.File); err != nil || shapes() != before+1 {
		t.Errorf("a file in use was dropped: %v", err)
	}
	if err := s.Undo(t.Context(), id, Latest); err != nil || shapes() != before {
		t.Errorf("undo left %d shapes: %v", shapes(), err)
	}
	if _, err := s.Propose(t.Context(), id, 2, File{"broken.svg", []byte("<svg")}); err == nil {
		t.Error("a broken file was proposed")
	}
	copied, err := s.Duplicate(t.Context(), id, anyBytes)
	if err != nil {
		t.Fatal(err)
	}
	if p, err := s.Piece(t.Context(), copied); err != nil || len(p.Recipe.Sheets.List) != 2 {
		t.Errorf("copy: %v", err)
	}
}

// depth is a patch of a part's depth.
func depth(mm float64) recipe.PartPatch {
	return recipe.PartPatch{MeasuresPatch: recipe.MeasuresPatch{Depth: &mm}}
}
