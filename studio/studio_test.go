package studio

import (
	"errors"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"bildhauer/store"
)

const square = `<svg xmlns="http://www.w3.org/2000/svg" width="20" height="20"><rect id="a" width="20" height="20" fill="#336699"/><rect id="b" x="5" y="5" width="5" height="5" fill="#993333"/></svg>`

func open(t *testing.T, dir string) *Studio {
	t.Helper()
	s, err := New(dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s
}

func setDepth(mm float64) func(*Doc) error {
	return func(d *Doc) error { d.Recipe.Default.Depth = mm; return nil }
}

// TestHistory goes back and forth, branches off, and finds all of it after a
// restart.
func TestHistory(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	id, err := s.Create(File{`C:\signs\pier_sign.svg`, []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	depth := func() float64 {
		t.Helper()
		p, err := s.Piece(id)
		if err != nil {
			t.Fatal(err)
		}
		return p.Doc.Recipe.Default.Depth
	}
	for i := range 5 {
		if err := s.Change(id, fmt.Sprint("Depth ", i), setDepth(float64(10+i))); err != nil {
			t.Fatal(err)
		}
	}
	for range 3 {
		if err := s.Undo(id); err != nil {
			t.Fatal(err)
		}
	}
	if d := depth(); d != 11 {
		t.Errorf("depth %g after three undos", d)
	}
	s.Redo(id)
	s.Close()
	s = open(t, dir)
	if p, _ := s.Piece(id); p.Doc.Name != "Pier sign" || depth() != 12 || p.Undo != "Depth 2" || p.Redo != "Depth 3" {
		t.Errorf("after a restart: %+v", p)
	}
	// A change after undo drops what was undone; undo stops at the start.
	if err := s.Change(id, "Other", setDepth(50)); err != nil {
		t.Fatal(err)
	}
	if p, _ := s.Piece(id); p.Redo != "" {
		t.Errorf("redo of %q after a new change", p.Redo)
	}
	for range 20 {
		s.Undo(id)
	}
	if d := depth(); d != 8 {
		t.Errorf("depth %g at the start", d)
	}
	for range 20 {
		s.Redo(id)
	}
	if d := depth(); d != 50 {
		t.Errorf("depth %g at the end", d)
	}
	// What is out of range is refused and changes nothing.
	var in *ErrInput
	if err := s.Change(id, "Bad", setDepth(-1)); !errors.As(err, &in) || depth() != 50 {
		t.Errorf("depth -1: %v", err)
	}
	if err := s.Change(id, "Nameless", func(d *Doc) error { d.Name = "  "; return nil }); !errors.As(err, &in) {
		t.Errorf("no name: %v", err)
	}
}

func TestLongHistoryIsBounded(t *testing.T) {
	s := open(t, t.TempDir())
	id, err := s.Create(File{"a.svg", []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	for i := range 620 {
		if err := s.Change(id, "Depth", setDepth(float64(i%50)+1)); err != nil {
			t.Fatal(err)
		}
	}
	undone := 0
	for ; undone < 1000; undone++ {
		p, _ := s.Piece(id)
		s.Undo(id)
		if q, _ := s.Piece(id); q.Seq == p.Seq {
			break
		}
	}
	if undone < 400 || undone > 620 {
		t.Errorf("%d steps can be undone", undone)
	}
}

func TestCopiesAndDeletion(t *testing.T) {
	s := open(t, t.TempDir())
	id, err := s.Create(File{"a.svg", []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	other, err := s.Duplicate(id)
	if err != nil {
		t.Fatal(err)
	}
	if err := s.Change(other, "Depth", setDepth(3)); err != nil {
		t.Fatal(err)
	}
	if p, _ := s.Piece(id); p.Doc.Recipe.Default.Depth != 8 {
		t.Error("a change of the copy reached the original")
	}
	if err := s.Delete(id); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Piece(id); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("deleted piece: %v", err)
	}
	if list, _ := s.Pieces(); len(list) != 1 {
		t.Errorf("%d pieces", len(list))
	}
	if err := s.Restore(id); err != nil {
		t.Fatal(err)
	}
	if p, err := s.Piece(id); err != nil || p.Doc.Name != "A" {
		t.Errorf("restored: %v", err)
	}
	if err := s.Delete("nope"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("deleting nothing: %v", err)
	}
	if _, err := s.Create(File{"bad.svg", []byte("<svg")}); err == nil || !strings.HasPrefix(err.Error(), "bad.svg") {
		t.Errorf("bad file: %v", err)
	}
}

// TestPlansAreReused holds that a depth or a bevel height needs no new plan,
// and that a bevel width does.
func TestPlansAreReused(t *testing.T) {
	s := open(t, t.TempDir())
	id, err := s.Create(File{"a.svg", []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	raise := func() *Solid {
		t.Helper()
		p, err := s.Piece(id)
		if err != nil {
			t.Fatal(err)
		}
		solid, err := s.Raise(p, "#336699")
		if err != nil {
			t.Fatal(err)
		}
		return solid
	}
	first := raise()
	for name, c := range map[string]struct {
		edit func(*Doc) error
		same bool
	}{
		"depth":        {setDepth(20), true},
		"bevel height": {func(d *Doc) error { d.Recipe.Default.Height = 3; return nil }, true},
		"bevel width":  {func(d *Doc) error { d.Recipe.Default.Width = 3; return nil }, false},
		"size":         {func(d *Doc) error { d.Recipe.Size.MM = 44; return nil }, false},
		"left out":     {func(d *Doc) error { d.Recipe.Choice["b"] = false; return nil }, false},
	} {
		if err := s.Change(id, name, c.edit); err != nil {
			t.Fatal(err)
		}
		if again := raise(); (again.Plan == first.Plan) != c.same {
			t.Errorf("%s: plan kept %v", name, again.Plan == first.Plan)
		}
		s.Undo(id)
	}
	var in *ErrInput
	p, _ := s.Piece(id)
	if _, err := s.Raise(p, "#000000"); !errors.As(err, &in) {
		t.Errorf("unknown part: %v", err)
	}
}

// TestCacheSharesWork asks for one value from many sides at once.
func TestCacheSharesWork(t *testing.T) {
	c := newCache[int](3)
	var built atomic.Int64
	var wg sync.WaitGroup
	for range 50 {
		wg.Go(func() {
			v, err := c.get("k", func() (int, error) { return int(built.Add(1)), nil })
			if v != 1 || err != nil {
				t.Errorf("got %d, %v", v, err)
			}
		})
	}
	wg.Wait()
	if _, err := c.get("bad", func() (int, error) { return 0, errors.New("no") }); err == nil {
		t.Error("error lost")
	}
	if v, err := c.get("bad", func() (int, error) { return 7, nil }); v != 7 || err != nil {
		t.Errorf("an error was kept: %d, %v", v, err)
	}
	for i := range 10 {
		c.get(fmt.Sprint(i), func() (int, error) { return i, nil })
	}
	if len(c.items) != 3 || len(c.order) != 3 {
		t.Errorf("%d values kept", len(c.items))
	}
}

// TestExchangeAndOldPieces proposes, declines and accepts a changed file, takes
// it back, and opens a piece from before there were several sheets.
func TestExchangeAndOldPieces(t *testing.T) {
	dir := t.TempDir()
	s, err := New(dir)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	id, err := s.Create(File{"sign.svg", []byte(square)}, File{"lamp.svg", []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	shapes := func() int {
		t.Helper()
		p, err := s.Piece(id)
		if err != nil {
			t.Fatal(err)
		}
		sheet, err := s.Sheet(p)
		if err != nil {
			t.Fatal(err)
		}
		return len(sheet.Shapes)
	}
	before := shapes()
	wider := strings.Replace(square, "</svg>", `<circle id="new" cx="5" cy="5" r="2"/></svg>`, 1)
	x, err := s.Propose(id, 2, File{"lamp-2.svg", []byte(wider)})
	if err != nil || len(x.Matching.New) != 1 || len(x.Matching.Gone) != 0 {
		t.Fatalf("proposal: %+v, %v", x, err)
	}
	if err := s.Decline(id, x.File); err != nil {
		t.Fatal(err)
	}
	if err := s.Accept(id, 2, x.File); err == nil {
		t.Error("a declined file was accepted")
	}
	if x, err = s.Propose(id, 2, File{"lamp-2.svg", []byte(wider)}); err != nil {
		t.Fatal(err)
	}
	if err := s.Accept(id, 2, x.File); err != nil {
		t.Fatal(err)
	}
	if got := shapes(); got != before+1 {
		t.Errorf("%d shapes after the exchange, %d before", got, before)
	}
	// What the history uses can't be dropped.
	if err := s.Decline(id, x.File); err != nil || shapes() != before+1 {
		t.Errorf("a file in use was dropped: %v", err)
	}
	if err := s.Undo(id); err != nil || shapes() != before {
		t.Errorf("undo left %d shapes: %v", shapes(), err)
	}
	if _, err := s.Propose(id, 2, File{"broken.svg", []byte("<svg")}); err == nil {
		t.Error("a broken file was proposed")
	}
	copied, err := s.Duplicate(id)
	if err != nil {
		t.Fatal(err)
	}
	if p, err := s.Piece(copied); err != nil || len(p.Doc.Sheets) != 2 {
		t.Errorf("copy: %v", err)
	}
	// A document that names no sheets has the first file of its piece.
	if err := s.Change(id, "As it was", func(d *Doc) error { d.Sheets = nil; return nil }); err != nil {
		t.Fatal(err)
	}
	if got := shapes(); got != before/2 {
		t.Errorf("an old document shows %d shapes, want %d", got, before/2)
	}
}
