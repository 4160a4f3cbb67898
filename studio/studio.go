// Package studio is the application without its pages: pieces and what is
// done to them, with caches of what their artwork comes to.
package studio

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/store"
)

// Studio serves the pieces of one data folder.
type Studio struct {
	store  *store.Store
	sheets *cache[*artwork.Sheet] // single files, and pieces put together
	preps  *cache[*recipe.Prepared]
	plans  *cache[*raise.Plan]

	mu      sync.Mutex
	running map[string]*build // by piece and part
	work    chan struct{}     // one slot for each build at a time
}

// Doc is what the history of a piece keeps at each step.
type Doc struct {
	Name   string        `json:"name"`
	Recipe recipe.Recipe `json:"recipe"`
	Sheets []SheetRef    `json:"sheets,omitempty"` // empty in old documents: the first file
	Fonts  []FontRef     `json:"fonts,omitempty"`
}

// Piece is a piece with its decisions in force.
type Piece struct {
	ID      string
	Doc     Doc
	Undo    string // what undo would take back, empty for nothing
	Redo    string
	Updated time.Time
	Seq     int64
}

// build is a build that is running.
type build struct{ cancel context.CancelFunc }

// buildTime bounds one build.
const buildTime = 3 * time.Minute

// New opens the studio on a data folder.
func New(dir string) (*Studio, error) {
	st, err := store.Open(dir)
	if err != nil {
		return nil, err
	}
	if err := st.Purge(30 * 24 * time.Hour); err != nil {
		return nil, err
	}
	return &Studio{store: st, sheets: newCache[*artwork.Sheet](16), preps: newCache[*recipe.Prepared](8), plans: newCache[*raise.Plan](64),
		running: map[string]*build{}, work: make(chan struct{}, 2)}, nil
}

// Close closes the data folder.
func (s *Studio) Close() error { return s.store.Close() }

func newID() string {
	var b [8]byte
	rand.Read(b[:]) // never fails on supported systems
	return hex.EncodeToString(b[:])
}

func pieceName(file string) string {
	name := strings.TrimSuffix(file, filepath.Ext(file))
	name = strings.TrimSpace(strings.NewReplacer("_", " ", "-", " ").Replace(name))
	if name == "" {
		return "Untitled"
	}
	r := []rune(name)
	return strings.ToUpper(string(r[:1])) + string(r[1:min(len(r), 80)])
}

// Pieces returns all pieces, newest change first.
func (s *Studio) Pieces() ([]Piece, error) {
	list, err := s.store.Pieces()
	if err != nil {
		return nil, err
	}
	out := make([]Piece, 0, len(list))
	for _, p := range list {
		piece, err := s.Piece(p.ID)
		if err != nil {
			return nil, err
		}
		out = append(out, piece)
	}
	return out, nil
}

// Piece returns one piece. It returns store.ErrNotFound for none and for
// deleted ones.
func (s *Studio) Piece(id string) (Piece, error) {
	p, err := s.store.Piece(id)
	if err != nil {
		return Piece{}, err
	}
	if p.DeletedAt.Valid {
		return Piece{}, store.ErrNotFound
	}
	return s.Look(id)
}

// Look returns one piece even when it is deleted, for pictures of it.
func (s *Studio) Look(id string) (Piece, error) {
	p, err := s.store.Piece(id)
	if err != nil {
		return Piece{}, err
	}
	st, undo, redo, err := s.store.Head(id)
	if err != nil {
		return Piece{}, err
	}
	out := Piece{ID: id, Undo: undo, Redo: redo, Updated: time.UnixMilli(p.UpdatedAt), Seq: st.Seq}
	out.Doc.Recipe = recipe.New()
	if err := json.Unmarshal(st.Doc, &out.Doc); err != nil {
		return Piece{}, fmt.Errorf("the decisions of this piece are damaged: %w", err)
	}
	return out, nil
}

// ErrInput marks what the person at the screen can put right.
type ErrInput struct{ Text string }

func (e *ErrInput) Error() string { return e.Text }

// Change edits a piece's decisions under a label for undo.
func (s *Studio) Change(id, label string, edit func(*Doc) error) error {
	p, err := s.Piece(id)
	if err != nil {
		return err
	}
	if err := edit(&p.Doc); err != nil {
		return err
	}
	if err := p.Doc.Recipe.Check(); err != nil {
		return &ErrInput{sentence(err.Error())}
	}
	if p.Doc.Name = strings.TrimSpace(p.Doc.Name); p.Doc.Name == "" {
		return &ErrInput{"A piece needs a name."}
	}
	raw, err := json.Marshal(p.Doc)
	if err != nil {
		return err
	}
	return s.store.Push(id, label, raw)
}

func sentence(s string) string {
	if s == "" {
		return s
	}
	s = strings.ToUpper(s[:1]) + s[1:]
	if !strings.HasSuffix(s, ".") {
		s += "."
	}
	return s
}

// Undo and Redo move through the history.
func (s *Studio) Undo(id string) error { return s.store.Move(id, -1) }

// Redo takes the last undo back.
func (s *Studio) Redo(id string) error { return s.store.Move(id, 1) }

// Delete puts a piece away; Restore brings it back for 30 days.
func (s *Studio) Delete(id string) error { return s.store.SetDeleted(id, true) }

// Restore brings a deleted piece back.
func (s *Studio) Restore(id string) error { return s.store.SetDeleted(id, false) }

// Prepared returns the parts of a piece at their size.
func (s *Studio) Prepared(ctx context.Context, p Piece) (*recipe.Prepared, error) {
	sheet, err := s.Sheet(p)
	if err != nil {
		return nil, err
	}
	return s.preps.get(prepKey(p), func() (*recipe.Prepared, error) { return recipe.Apply(ctx, sheet, &p.Doc.Recipe) })
}

// prepKey names what the outlines of a piece depend on.
func prepKey(p Piece) string {
	r := p.Doc.Recipe
	r.Default.Name = ""
	names := map[string]string{}
	deepest := r.Default.Depth
	for id, part := range r.Parts {
		names[id] = part.Name
		deepest = max(deepest, part.Depth)
	}
	// The depth matters only where it makes the grid coarser than the size does.
	colors := map[string]string{}
	for k, e := range r.Edits {
		if e.Color != "" {
			colors[k] = e.Color
		}
	}
	raw, _ := json.Marshal([]any{sheetKey(p), r.Size, r.Tolerance, r.Overlap, r.Choice, colors, names, recipe.GridStep(r.Size.MM/2, deepest)})
	sum := sha256.Sum256(raw)
	return hex.EncodeToString(sum[:12])
}

// Solid is one part raised.
type Solid struct {
	Part *recipe.Part2D
	How  recipe.Part
	Plan *raise.Plan
	Mesh *mesh.Mesh
	MS   float64 // what it took
}

// Raise builds one part of a piece as its recipe says, with normals. An
// earlier build of the same part that is still running is cancelled.
func (s *Studio) Raise(p Piece, partID string) (*Solid, error) {
	ctx, cancel := context.WithTimeout(context.Background(), buildTime)
	defer cancel()
	key := p.ID + "/" + partID
	mine := &build{cancel}
	s.mu.Lock()
	if old := s.running[key]; old != nil {
		old.cancel()
	}
	s.running[key] = mine
	s.mu.Unlock()
	defer func() {
		s.mu.Lock()
		if s.running[key] == mine {
			delete(s.running, key)
		}
		s.mu.Unlock()
	}()
	select {
	case s.work <- struct{}{}:
		defer func() { <-s.work }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	start := time.Now()
	prep, err := s.Prepared(ctx, p)
	if err != nil {
		return nil, err
	}
	for i := range prep.Parts {
		part := &prep.Parts[i]
		if part.ID != partID {
			continue
		}
		how := p.Doc.Recipe.Of(partID)
		b := how.Bevel()
		if how.Profile == raise.Chamfer {
			b.Segments = 1
		}
		planKey := fmt.Sprintf("%s/%s/%g/%s/%d/%t", prepKey(p), partID, b.Width, b.Profile, b.Segments, b.On())
		plan, err := s.plans.get(planKey, func() (*raise.Plan, error) { return raise.NewPlan(ctx, part.Region, b, prep.Step) })
		if err != nil {
			return nil, buildError(part.Name, err)
		}
		m := plan.Solid(how.Spec(), prep.Step)
		plan.Shade(m, how.Spec(), b, raise.Crease)
		return &Solid{part, how, plan, m, float64(time.Since(start).Microseconds()) / 1000}, nil
	}
	return nil, &ErrInput{"This part is not in the artwork any more."}
}

// Cancel stops the builds of a piece that are running.
func (s *Studio) Cancel(id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for k, b := range s.running {
		if strings.HasPrefix(k, id+"/") {
			b.cancel()
		}
	}
}

func buildError(part string, err error) error {
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		return &ErrInput{fmt.Sprintf("%s took longer than %d minutes. Raise the tolerance in Size, or use fewer segments.", part, int(buildTime.Minutes()))}
	case errors.Is(err, plane.ErrTooTangled):
		return &ErrInput{fmt.Sprintf("%s: %v. Raise the tolerance in Size, or narrow the bevel.", part, err)}
	}
	return err
}

// Solids builds all parts that are not left out.
func (s *Studio) Solids(p Piece) ([]*Solid, error) {
	prep, err := s.Prepared(context.Background(), p)
	if err != nil {
		return nil, err
	}
	var out []*Solid
	for i := range prep.Parts {
		if p.Doc.Recipe.Of(prep.Parts[i].ID).Out {
			continue
		}
		solid, err := s.Raise(p, prep.Parts[i].ID)
		if err != nil {
			return nil, err
		}
		out = append(out, solid)
	}
	if len(out) == 0 {
		return nil, &ErrInput{"Every part is left out. Take at least one in."}
	}
	return out, nil
}
