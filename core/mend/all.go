package mend

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/progress"
	"bildhauer/core/recipe"
)

// rounds bounds how often findings are looked for again after their fixes: a
// fix may bring another finding about (a bridge, a slot beside it).
const rounds = 6

// Choice is which findings are taken. What raising copes with by itself is taken if its kind is named.
type Choice struct {
	Kinds   []string // none for all
	Classes []string // none for Tidy and Heal
	Leave   func(f *Finding) bool
}

// Takes reports whether a finding is among those that are chosen.
func (c *Choice) Takes(f *Finding) bool {
	classes := c.Classes
	if len(classes) == 0 {
		classes = []string{Tidy, Heal}
	}
	if len(c.Kinds) > 0 && !slices.Contains(c.Kinds, f.Kind) || len(c.Kinds) == 0 && f.Copes || f.Fails != "" {
		return false
	}
	return slices.Contains(classes, f.Class) && (c.Leave == nil || !c.Leave(f))
}

// Taken is what taking all fixes came to.
type Taken struct {
	Work  *Work
	Mends []recipe.Mend // in order, with ids
	Steps []*Work       // what each of them led to
	Left  []Finding     // that are still there
}

// TakeAll takes the proposals of the chosen findings until none is left that a fix puts right. ids gives the id
// of each mend that is taken.
//
//  1. Taking all again on the result takes nothing but what was left.
//  2. A fix that fails, or after which its finding is still there, is not taken.
//  3. A fix is taken if, on the outlines as they are by then, it changes the picture no more than a finding of
//     its class may; what was decided by hand (Decide among the classes) may change anything.
//  4. What is taken without having been decided changes no more of the picture than the findings say at first,
//     and no more than mostHealed, in all. What comes about by the fixes is healed within that, or left.
func TakeAll(ctx context.Context, w *Work, limits Limits, ids func() string, choose Choice) (Taken, error) {
	t := taking{out: Taken{Work: w}, limits: limits, ids: ids, choose: &choose, useless: map[string]bool{}, memory: newMemory()}
	found, err := find(ctx, w, limits, t.memory)
	for i := range found {
		if f := &found[i]; f.Class == Heal && t.choose.Takes(f) {
			t.most += f.Effect.Share
		}
	}
	t.most = math.Min(mostHealed, t.most+leastHealed)
	for n := 0; err == nil && n < rounds; n++ {
		progress.Set(ctx, "Taking the proposals", float64(n)/rounds)
		var took bool
		if found, took, err = t.round(ctx, found); !took {
			break
		}
	}
	t.out.Left = found
	return t.out, err
}

// taking is what is being taken.
type taking struct {
	out     Taken
	limits  Limits
	memory  *memory // what is known is not judged again, for what is taken is judged as it is then
	ids     func() string
	choose  *Choice
	ink     float64         // mm² that are covered
	spent   float64         // share of the picture that was changed without being asked
	most    float64         // of that
	useless map[string]bool // signs of findings that no fix puts right
}

// round takes what was found, looks again, and takes back what did not help. It returns what is left.
func (t *taking) round(ctx context.Context, found []Finding) (left []Finding, took bool, err error) {
	for try := range 2 {
		var list []Finding
		for i := range found {
			if f := &found[i]; !t.useless[f.sign()] && t.choose.Takes(f) {
				list = append(list, *f)
			}
		}
		if len(list) == 0 {
			return found, false, nil
		}
		spent := t.spent
		work, did, done, err := t.takeList(ctx, list)
		if err != nil {
			return found, false, err
		}
		if len(done) == 0 {
			return found, false, nil
		}
		after, err := find(ctx, work, t.limits, t.memory)
		if err != nil {
			return found, false, err
		}
		again := false
		for i := range after {
			if s := after[i].sign(); done[s] {
				t.useless[s], again = true, true
			}
		}
		if again && try == 0 { // once more without them
			t.spent = spent
			continue
		}
		t.out.Work = work
		for _, s := range did {
			s.after.Stop = work.Stop
			t.out.Mends, t.out.Steps = append(t.out.Mends, s.mend), append(t.out.Steps, s.after)
		}
		return after, true, nil
	}
	return found, false, nil
}

// takeList applies the proposals of findings and returns the signs of those that were taken.
func (t *taking) takeList(ctx context.Context, list []Finding) (*Work, []step, map[string]bool, error) {
	own := *t.out.Work
	own.Stop = func() bool { return ctx.Err() != nil }
	seen, err := newPainting(&own, t.memory)
	if err != nil {
		return nil, nil, nil, err
	}
	if t.ink == 0 {
		if t.ink, err = seen.ink(); err != nil {
			return nil, nil, nil, err
		}
	}
	w, done := &own, map[string]bool{}
	var did []step
	all := gathered(list)
	for n := range all {
		if ctx.Err() != nil {
			return nil, nil, nil, ctx.Err()
		}
		progress.Set(ctx, "Taking the proposals", float64(n)/float64(len(all)))
		next, q, more, took, err := t.takeSeveral(w, seen, list, &all[n])
		if err != nil {
			return nil, nil, nil, err
		}
		for _, k := range all[n].of {
			if took[k] {
				done[list[k].sign()] = true
			} else {
				t.useless[list[k].sign()] = true
			}
		}
		if len(took) > 0 {
			w, seen, did = next, q, append(did, more...)
		}
	}
	w.Stop = t.out.Work.Stop
	return w, did, done, nil
}

// takeSeveral takes proposals that are done together, without those that would change more than they may.
func (t *taking) takeSeveral(w *Work, seen *painting, list []Finding, g *gathering) (
	next *Work, q *painting, did []step, took map[int]bool, err error,
) {
	for len(g.of) > 0 {
		next, did, err = w.take(g.fix, t.ids)
		var no *Refusal
		if errors.As(err, &no) {
			return nil, nil, nil, nil, nil
		}
		if err != nil {
			return nil, nil, nil, nil, err
		}
		if q, err = seen.after(next); err != nil {
			return nil, nil, nil, nil, err
		}
		over, share, err := t.tooMuch(w, seen, q, list, g)
		if err != nil {
			return nil, nil, nil, nil, err
		}
		if len(over) == 0 {
			t.spent += share
			took = map[int]bool{}
			for _, k := range g.of {
				took[k] = true
			}
			return next, q, did, took, nil
		}
		*g = without(list, g, over)
	}
	return nil, nil, nil, nil, nil
}

// tooMuch returns those of proposals done together that change the picture more than they may, and the share of
// it that all of them change.
func (t *taking) tooMuch(w *Work, p, q *painting, list []Finding, g *gathering) ([]int, float64, error) {
	changes, err := p.changes(q)
	if err != nil {
		return nil, 0, err
	}
	spots, err := w.spots(changes)
	if err != nil || len(spots) == 0 || list[g.of[0]].Class == Decide {
		return nil, 0, err
	}
	share := w.effect(spots, nil, nil, t.ink).Share
	if t.spent+share > t.most {
		return g.of, 0, nil
	}
	// What is done together is of one kind and class.
	first := &list[g.of[0]]
	var over []int
	for _, s := range spots {
		if within(s.wide, first.Bound) {
			continue
		}
		blamed := slices.DeleteFunc(slices.Clone(g.of), func(k int) bool { return !list[k].Box.Overlaps(s.box) })
		if len(blamed) == 0 {
			return g.of, 0, nil // nobody knows whose it is
		}
		over = append(over, blamed...)
	}
	slices.Sort(over)
	return slices.Compact(over), share, nil
}

// without returns a gathering of those that are not among over.
func without(list []Finding, g *gathering, over []int) gathering {
	var rest []Finding
	var of []int
	for _, k := range g.of {
		if !slices.Contains(over, k) {
			rest, of = append(rest, list[k]), append(of, k)
		}
	}
	if len(rest) == 0 {
		return gathering{}
	}
	out := gathered(rest)[0]
	out.of = of
	return out
}

// gathering is the proposals of several findings in one.
type gathering struct {
	fix Fix
	of  []int // of the findings
}

// gathered puts proposals that do the same to the same shapes in several places
// into one, where the deed takes several.
func gathered(list []Finding) []gathering {
	var out []gathering
	index := map[string]int{}
	for i := range list {
		f := list[i].Fixes[0]
		m := f.Do[0]
		trims := m.Do == "subtract" && m.How == "keep" // one shape by several others
		if len(f.Do) > 1 || !deeds[m.Do].places && !trims {
			out = append(out, gathering{f, []int{i}})
			continue
		}
		shapes := m.Shapes
		if trims {
			shapes = shapes[:1]
		}
		key := fmt.Sprint(m.Do, m.How, shapes, m.MM, list[i].Class)
		k, ok := index[key]
		if !ok {
			index[key] = len(out)
			out = append(out, gathering{Fix{f.Will, []recipe.Mend{m}}, []int{i}})
			continue
		}
		one := &out[k].fix.Do[0]
		if trims {
			one.Shapes = append(slices.Clone(one.Shapes), m.Shapes[1:]...)
			one.Name = fmt.Sprintf("Trim it by %d shapes that lie on it and stay whole", len(one.Shapes)-1)
		} else {
			one.At = append(slices.Clone(one.At), m.At...)
			one.Name = fmt.Sprintf("%s, in %d places", f.Will, len(one.At))
		}
		out[k].of = append(out[k].of, i)
	}
	return out
}

// step is a deed that was done, and what it led to.
type step struct {
	mend  recipe.Mend
	after *Work
}

// take applies the deeds of a fix.
func (w *Work) take(f Fix, ids func() string) (*Work, []step, error) {
	var done []step
	for _, m := range f.Do {
		m.ID = ids()
		next, err := Apply(w, &m)
		if err != nil {
			return nil, nil, err
		}
		w = next
		done = append(done, step{m, w})
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
