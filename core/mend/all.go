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
	useless := map[string]bool{}
	for range rounds {
		before := len(out.Mends)
		for _, k := range Kinds {
			if len(kinds) > 0 && !slices.Contains(kinds, k.Name) {
				continue
			}
			if err := out.takeKind(ctx, limits, k.Name, ids, useless); err != nil {
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

// takeKind takes the proposals of one kind. Those after which the same finding
// is there again are taken back, and noted as useless.
func (t *Taken) takeKind(
	ctx context.Context,
	limits Limits,
	kind string,
	ids func() string,
	useless map[string]bool,
) error {
	failed := map[string]bool{}
	found, err := Find(ctx, t.Work, limits, kind)
	if err != nil {
		return err
	}
	for range rounds {
		var list []Finding
		for _, f := range found {
			if !useless[f.sign()] && !failed[f.sign()] {
				list = append(list, f)
			}
		}
		if len(list) == 0 {
			return nil
		}
		work, mends, took := t.Work.takeList(ctx, list, ids, failed)
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if took == 0 {
			return nil
		}
		after, err := Find(ctx, work, limits, kind)
		if err != nil {
			return err
		}
		again := false
		for _, f := range after {
			for _, g := range list {
				if s := f.sign(); s == g.sign() && !failed[s] {
					useless[s], again = true, true
				}
			}
		}
		if again { // once more without them
			continue
		}
		t.Work, t.Mends, found = work, append(t.Mends, mends...), after
	}
	return nil
}

// takeList applies the proposals of findings; those that fail are noted.
func (w *Work) takeList(
	ctx context.Context,
	list []Finding,
	ids func() string,
	failed map[string]bool,
) (*Work, []recipe.Mend, int) {
	var mends []recipe.Mend
	took := 0
	for _, g := range gathered(list) {
		if ctx.Err() != nil {
			break
		}
		next, more, err := w.take(g.fix, ids)
		if err != nil {
			for _, s := range g.of {
				failed[s] = true
			}
			continue
		}
		w, mends = next, append(mends, more...)
		took++
	}
	return w, mends, took
}

// gathering is the proposals of several findings in one.
type gathering struct {
	fix Fix
	of  []string // signs of the findings
}

// gathered puts proposals that do the same to the same shapes in several places
// into one, where the deed takes several.
func gathered(list []Finding) []gathering {
	var out []gathering
	index := map[string]int{}
	for i := range list {
		f, s := list[i].Fixes[0], list[i].sign()
		m := f.Do[0]
		if len(f.Do) > 1 || !deeds[m.Do].places {
			out = append(out, gathering{f, []string{s}})
			continue
		}
		key := fmt.Sprint(m.Do, m.How, m.Shapes, m.MM)
		k, ok := index[key]
		if !ok {
			index[key] = len(out)
			out = append(out, gathering{Fix{f.Will, []recipe.Mend{m}}, []string{s}})
			continue
		}
		one := &out[k].fix.Do[0]
		one.At = append(slices.Clone(one.At), m.At...)
		one.Name = fmt.Sprintf("%s, in %d places", f.Will, len(one.At))
		out[k].of = append(out[k].of, s)
	}
	return out
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
