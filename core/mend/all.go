package mend

import (
	"context"
	"fmt"
	"slices"

	"bildhauer/core/recipe"
)

// rounds bounds how often findings are looked for again after their fixes: a
// fix may bring another finding about (a bridge, a slot beside it).
const rounds = 6

// Taken is what taking all fixes came to.
type Taken struct {
	Work  *Work
	Mends []recipe.Mend // in order, with ids
	Left  []Finding     // that no fix puts right
}

// TakeAll takes the proposals of all findings of the given kinds, all if none is
// given, until none is left that a fix puts right. ids gives the id of each mend
// that is taken.
//
//  1. Taking all again on the result takes nothing.
//  2. A fix that fails, or after which its finding is still there, is not taken.
func TakeAll(ctx context.Context, w *Work, limits Limits, ids func() string, kinds ...string) (Taken, error) {
	out := Taken{Work: w}
	refused := map[string]bool{}
	for range rounds {
		before := len(out.Mends)
		for _, k := range Kinds {
			if len(kinds) > 0 && !slices.Contains(kinds, k.Name) {
				continue
			}
			if err := out.takeKind(ctx, limits, k.Name, ids, refused); err != nil {
				return out, err
			}
		}
		if len(out.Mends) == before {
			break
		}
	}
	var err error
	out.Left, err = Find(ctx, out.Work, limits, kinds...)
	return out, err
}

// takeKind takes the proposals of one kind and takes those back that did not
// help.
func (t *Taken) takeKind(ctx context.Context, limits Limits, kind string, ids func() string, refused map[string]bool) error {
	for range rounds {
		found, err := Find(ctx, t.Work, limits, kind)
		if err != nil {
			return err
		}
		took := 0
		for _, f := range found {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if refused[f.sign()] {
				continue
			}
			// Tried once; if it is there again, it was no help.
			refused[f.sign()] = true
			next, mends, err := t.Work.take(f.Fixes[0], ids)
			if err != nil {
				continue
			}
			t.Work, t.Mends = next, append(t.Mends, mends...)
			took++
		}
		if took == 0 {
			return nil
		}
	}
	return nil
}

// take applies the deeds of a fix.
func (w *Work) take(f Fix, ids func() string) (*Work, []recipe.Mend, error) {
	var done []recipe.Mend
	for _, m := range f.Do {
		m.ID = ids()
		next, err := Apply(w, &m)
		if err != nil {
			return nil, nil, err
		}
		w = next
		done = append(done, m)
	}
	return w, done, nil
}

// sign tells findings apart from one look to the next.
func (f *Finding) sign() string { return fmt.Sprint(f.Kind, f.Shapes, pair(f.At)) }

// Near reports whether a finding is the one that was left: of that kind, about
// those shapes, within far px.
func (f *Finding) Near(l recipe.Leave, far float64) bool {
	return f.Kind == l.Kind && slices.Equal(f.Shapes, l.Shapes) && f.At.Sub(vec(l.At)).Len() <= far
}
