package studio

import (
	"context"
	"errors"
	"fmt"

	"bildhauer/core/mend"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// Mending is what the Mend step shows of a piece.
type Mending struct {
	Work          *mend.Work // the outlines as mended
	First         *mend.Work // and as they came
	Findings      []mend.Finding
	Left          []bool // of each finding: was it left as it is?
	Steps         map[string]*stages.MendStep
	Before, After mend.Seen
	Key           stages.Key
}

// Mending looks at the outlines of a piece.
func (s *Studio) Mending(ctx context.Context, p Piece) (*Mending, error) {
	line := s.line(ctx, p)
	m, err := line.Mended(ctx)
	if err != nil {
		return nil, err
	}
	found, err := line.Findings(ctx, m)
	if err != nil {
		return nil, err
	}
	out := &Mending{Findings: found.Value, Steps: m.Steps, Key: found.Key}
	if out.Work, err = line.Work(ctx, m); err != nil {
		return nil, err
	}
	if out.Before, out.After, err = line.Seen(ctx, m); err != nil {
		return nil, err
	}
	if out.First, err = line.Unmended(ctx, m); err != nil {
		return nil, err
	}
	out.Left = leftOf(out.Findings, &p.Recipe.Mends, out.Work)
	return out, nil
}

// Mended returns the outlines of a piece as mended, without looking for findings.
func (s *Studio) Mended(ctx context.Context, p Piece) (*mend.Work, error) {
	line := s.line(ctx, p)
	m, err := line.Mended(ctx)
	if err != nil {
		return nil, err
	}
	return line.Work(ctx, m)
}

// Trial tells what some mends would do to the picture of a piece, without doing it.
func (s *Studio) Trial(ctx context.Context, p Piece, do []recipe.Mend) (*mend.Trial, error) {
	w, err := s.Mended(ctx, p)
	if err != nil {
		return nil, err
	}
	t, err := mend.Try(ctx, w, do)
	var no *mend.Refusal
	if errors.As(err, &no) {
		return nil, input("%s", sentence(no.Text))
	}
	return t, err
}

// leftOf tells which findings were left as they are.
func leftOf(found []mend.Finding, m *recipe.Mends, w *mend.Work) []bool {
	out := make([]bool, len(found))
	for i := range found {
		out[i] = stages.IsLeft(&found[i], m, w)
	}
	return out
}

// lookUpTo is up to how many nodes findings are counted without being asked for:
// some two seconds of work.
const lookUpTo = 150_000

// OpenFindings counts the findings that matter to somebody and are neither taken nor left; -1 for
// artwork so large that it is looked at only in Mend itself.
func (s *Studio) OpenFindings(ctx context.Context, p Piece) (int, error) {
	line := s.line(ctx, p)
	m, err := line.Mended(ctx)
	if err != nil {
		return 0, err
	}
	w, err := line.Work(ctx, m)
	if err != nil {
		return 0, err
	}
	if w.Sheet.Nodes() > lookUpTo {
		return -1, nil
	}
	found, err := line.Spots(ctx, m)
	if err != nil {
		return 0, err
	}
	n := 0
	for i, left := range leftOf(found, &p.Recipe.Mends, w) {
		f := &found[i]
		if k, _ := mend.KindOf(f.Kind); !left && !f.Copes && !f.Quiet && k.Matters != mend.ForNobody {
			n++
		}
	}
	return n, nil
}

// TakeAll takes the proposals of the chosen findings, but for those that were left.
func (s *Studio) TakeAll(ctx context.Context, id string, base int64, choose mend.Choice) (Piece, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return p, err
	}
	own := p
	own.Recipe = p.Recipe.Clone()
	line := s.line(ctx, own)
	line.Recipe = &own.Recipe
	joined, err := line.Joined(ctx)
	if err != nil {
		return p, err
	}
	if _, err := line.TakeAll(ctx, joined, choose); err != nil {
		return p, err
	}
	fresh := own.Recipe.Mends.List[len(p.Recipe.Mends.List):]
	if len(fresh) == 0 {
		return p, input("none of these findings can be put right by its proposal; try another way, or leave it")
	}
	label := fmt.Sprintf("Take %d findings", len(fresh))
	if len(choose.Kinds) == 1 {
		k, _ := mend.KindOf(choose.Kinds[0])
		label = "Take all: " + k.Title
	}
	return s.Change(ctx, id, base, recipe.Change{Label: label, Edits: []recipe.Edit{&recipe.AddMends{List: fresh}}})
}

// checkMends refuses a change that makes a mend which does nothing.
func (s *Studio) checkMends(ctx context.Context, p Piece, next recipe.Recipe, edits []recipe.Edit) error {
	asked := map[string]bool{}
	for _, e := range edits {
		switch e := e.(type) {
		case *recipe.AddMends:
			for i := range next.Mends.List {
				if p.Recipe.Mends.Find(next.Mends.List[i].ID) < 0 {
					asked[next.Mends.List[i].ID] = true
				}
			}
		case *recipe.EditMend:
			asked[e.ID] = e.Off == nil && e.To == nil
		}
	}
	if len(asked) == 0 {
		return nil
	}
	p.Recipe = next
	m, err := s.line(ctx, p).Mended(ctx)
	if err != nil {
		return err
	}
	for id, step := range m.Steps {
		if asked[id] && step.Refused != "" {
			return input("%s", sentence(step.Refused))
		}
	}
	return nil
}
