package mend

import (
	"errors"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
)

// Findings are of three classes, by what their proposals do to the picture.
const (
	Tidy   = "tidy"   // what is seen stays, within unseenMM
	Heal   = "heal"   // what is seen changes as little as the trouble demands, within the finding's Bound
	Decide = "decide" // what was meant is a guess, or more would change: it is never taken without being asked
)

// Classes are all of them.
var Classes = []string{Tidy, Heal, Decide}

// For whom a kind of finding matters.
const (
	ForPicture = "picture"
	ForPrint   = "print"
	ForNobody  = "nobody"
)

func (l Limits) scrap() float64 { return l.Scrap }
func (l Limits) gap() float64   { return l.Gap }
func (l Limits) thin() float64  { return l.Thin }
func (l Limits) slot() float64  { return l.Slot }
func (l Limits) tip() float64   { return 2 * tipRadius(l) }
func (l Limits) refit() float64 { return 2 * l.Refit }

// boundOf returns how wide what a proposal changes may be, in mm, beyond the least step in which that is told.
func (k *Kind) boundOf(l Limits) float64 {
	if k.bound == nil {
		return 0
	}
	return k.bound(l)
}

// within reports whether what changes is no more than a bound allows. Widths are told in steps; the next one
// above the bound may be what just fits.
func within(wide, bound float64) bool {
	if wide == 0 {
		return true
	}
	i := slices.IndexFunc(widths, func(w float64) bool { return w >= bound*(1-1e-9) })
	return bound > 0 && i >= 0 && wide <= widths[i]
}

// judge works out what each proposal does to the picture, and of which class it is.
func (l *look) judge(found []Finding) error {
	p := l.painting()
	ink := l.area(l.all)
	var fresh []int
	var todo []Finding
	for i := range found {
		f := &found[i]
		if was, have := l.memory.known[f.sign()]; have {
			f.Class, f.Effect, f.Bound, f.Together, f.Fails = was.Class, was.Effect, was.Bound, was.Together, was.Fails
			continue
		}
		fresh, todo = append(fresh, i), append(todo, *f)
	}
	if err := l.judgeAll(p, ink, todo); err != nil {
		return err
	}
	for n, i := range fresh {
		found[i] = todo[n]
	}
	sparing(found)
	for _, f := range found {
		l.memory.known[f.sign()] = f
	}
	return nil
}

// mostHealed is how much of the picture all that heals may change together, as a share. Beyond that it is
// another drawing, and kinds of which much would change are asked for.
const mostHealed = 0.006

// leastHealed is how much more than was said may change, as a share: nobody sees it.
const leastHealed = 0.0002

// sparing makes the kinds that would change most of the picture matters to decide, until the others together
// stay within what may be healed.
func sparing(found []Finding) {
	sums := map[string]float64{}
	all := 0.0
	for i := range found {
		if f := &found[i]; f.Class == Heal {
			sums[f.Kind] += f.Effect.Share
			all += f.Effect.Share
		}
	}
	for all > mostHealed {
		most := ""
		for _, k := range Kinds {
			if sums[k.Name] > sums[most] {
				most = k.Name
			}
		}
		for i := range found {
			if f := &found[i]; f.Class == Heal && f.Kind == most {
				f.Class, f.Together = Decide, sums[most]
			}
		}
		all -= sums[most]
		delete(sums, most)
	}
}

func (l *look) judgeAll(p *painting, ink float64, found []Finding) error {
	list := slices.DeleteFunc(gathered(found), func(g gathering) bool { return found[g.of[0]].Copes })
	err := parallel.Each(len(list), func(i int) error {
		if l.stop() {
			return l.ctx.Err()
		}
		return l.foresee(p, ink, found, &list[i])
	})
	if err != nil {
		return err
	}
	for i := range found {
		f := &found[i]
		k, _ := KindOf(f.Kind)
		f.Bound = k.boundOf(l.limits)
		switch {
		case f.Fails != "" || k.guess || !within(f.Effect.Wide, f.Bound):
			f.Class = Decide
		case f.Effect.Wide == 0:
			f.Class = Tidy
		default:
			f.Class = Heal
		}
	}
	return nil
}

// foresee works out what proposals that are done together do.
func (l *look) foresee(p *painting, ink float64, found []Finding, g *gathering) error {
	next, _, err := l.take(g.fix, func() string { return "foreseen" })
	var no *Refusal
	if errors.As(err, &no) {
		if l.stop() {
			return l.ctx.Err()
		}
		for _, k := range g.of {
			found[k].Fails = no.Text
		}
		return nil
	}
	if err != nil {
		return err
	}
	q, err := p.after(next)
	if err != nil {
		return err
	}
	list, err := p.changes(q)
	if err != nil {
		return err
	}
	spots, err := l.spots(list)
	if err != nil {
		return err
	}
	for _, k := range g.of {
		own := spots
		part := list
		if len(g.of) > 1 {
			own, part = spotsOf(spots, found[k].Box), nearTo(l.Work, list, found[k].Box)
		}
		found[k].Effect = l.effect(own, part, p.paints, ink)
	}
	return nil
}

// spotsOf returns the places that meet a box: of several proposals that are done together, those of one.
func spotsOf(spots []spot, box geom.Box) []spot {
	return slices.DeleteFunc(slices.Clone(spots), func(s spot) bool { return !s.box.Overlaps(box) })
}

func nearTo(w *Work, list []plane.Change, box geom.Box) []plane.Change {
	var out []plane.Change
	for _, c := range list {
		c.Where = slices.DeleteFunc(slices.Clone(c.Where), func(p plane.Polygon) bool {
			return !w.boxOf(plane.Region{p}).Overlaps(box)
		})
		if len(c.Where) > 0 {
			out = append(out, c)
		}
	}
	return out
}
