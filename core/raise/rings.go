package raise

import (
	"context"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// bandRule labels faces: 0 outside the ring from, else 1 + the innermost ring
// around them.
type bandRule struct {
	w    []int32
	from int32
}

func (b *bandRule) Cross(s, delta int32) { b.w[s] += delta }
func (b *bandRule) Label() int32 {
	if b.w[b.from] <= 0 {
		return 0
	}
	for i := len(b.w) - 1; i > int(b.from); i-- {
		if b.w[i] > 0 {
			return int32(i) + 1
		}
	}
	return b.from + 1
}

func (w *work) classify() { w.ar.Classify(&bandRule{make([]int32, w.n+1), w.from}) }

// rings insets the outline for each facet. The bands that can be zipped are, and
// all rings from there on are triangulated together. Each ring is woven into the
// triangulation while the next one is made.
func (w *work) rings(ctx context.Context, zip bool) error {
	p := w.plan
	w.levels = append(w.levels, 0)
	for _, f := range p.Facets {
		w.levels = append(w.levels, f.t1*float64(p.Width))
	}
	w.ar = plane.NewArrangement()
	w.ar.Stop = stopOf(ctx)
	w.poll = progress.NewPoll(ctx)
	w.slack = make([]float64, w.n+1)
	w.slack[0] = float64(w.out.detail)
	w.zip = newZipped(w.poly)
	made := make(chan ring, w.n+1) // room for all, so that nobody waits for good
	err := parallel.Do(
		func() error {
			defer close(made)
			if w.outward() {
				return w.outset(ctx, made)
			}
			return w.inset(ctx, made, zip)
		},
		func() error { return w.weave(made) },
		func() error {
			if w.n == 0 {
				return nil
			}
			return w.flat(func(ar *plane.Arrangement) { ar.AddRegion(0, plane.Region{w.poly}) })
		},
	)
	if err != nil {
		return err
	}
	w.classify()
	w.ring = w.ar.LowestSource()
	w.dist = make([]float32, len(w.ring))
	for v, r := range w.ring {
		if r > 0 {
			w.dist[v] = float32(w.levels[r])
		}
	}
	return nil
}

// riser reports whether the height may jump at ring i.
func (w *work) riser(i int32) bool {
	if i == 0 || i == w.n {
		return i == w.n && (w.n == 0 || w.plan.Facets[i-1].f1 != w.plan.Top || w.plan.ceiled)
	}
	return w.plan.Facets[i-1].f1 != w.plan.Facets[i].f0 || w.plan.ceiled
}

// weave triangulates the rings as they come. Where walls will stand on a ring it must
// not touch itself.
func (w *work) weave(made <-chan ring) error {
	for r := range made {
		if r.level > 0 && w.riser(r.level) {
			var err error
			if r.region, err = r.region.Separate(gap, w.ar.Stop); err != nil {
				return err
			}
		}
		w.ar.AddRegion(r.level, r.region)
		if err := w.ar.Build(); err != nil {
			return err
		}
	}
	return nil
}

// ring is one of the rings that are triangulated together.
type ring struct {
	level  int32
	region plane.Region
}

// Each ring may depart from its distance by 1/ringDetail of the step to its
// neighbours, from which it must stay apart: a wider step allows for a coarser
// ring, but for no coarser one than the form does. Its arcs may depart by about as much.
// Both are set so that heights beside ridges come out within a quarter of a per cent of the
// width (rms), see TestRidgeHeights.
const (
	ringDetail = 24
	arcDetail  = 23
)

// inset makes the rings and hands on those that are triangulated, first the one
// at which the zipped bands end. Each is made from the one before: erosions add up
// exactly, and the rounding of at most a grid unit a ring is far below a step.
func (w *work) inset(ctx context.Context, made chan<- ring, zip bool) error {
	least := w.plan.Width
	for i := range w.n {
		least = min(least, plane.Units(w.levels[i+1]-w.levels[i]))
	}
	in := plane.Region{w.poly}
	if w.n > 0 { // detail far finer than the first step costs much and changes nothing
		in = in.Simplify(max(1, w.finer(least/32)) / 2)
		if len(in) != 1 || len(in[0].Holes) != len(w.poly.Holes) { // but for a needle, which may be long
			in = plane.Region{w.poly}
		}
	}
	outermost := func() { made <- ring{w.from, plane.Region{w.zip.rings[w.from]}} }
	if !zip {
		outermost()
	}
	for i := int32(1); i <= w.n && len(in) > 0; i++ {
		by, st := w.style(i)
		var whole bool
		var err error
		if zip {
			in, whole, err = in[0].Inset(by, st)
		} else {
			in, err = in.Offset(-by, st)
		}
		if err != nil {
			return err
		}
		if whole && w.zip.add(in[0], float64(by), w.tol()+w.slack[i]+w.slack[i-1]) {
			w.from = i
			continue
		}
		if zip {
			zip = false
			outermost()
		}
		made <- ring{i, w.divided(in)}
	}
	if zip {
		outermost()
	}
	return ctx.Err()
}

// outset makes the rings of a bevel that runs outward: the source, grown until it is
// the outline; rings that lie inside the source are insets of it. Each is made from
// the source: growing adds up only but for what simplifying takes away.
func (w *work) outset(ctx context.Context, made chan<- ring) error {
	made <- ring{0, plane.Region{w.poly}}
	for i := int32(1); i <= w.n; i++ {
		_, st := w.style(i)
		st.ArcRadius = max(st.ArcRadius, w.out.spread)
		r, err := w.out.source, error(nil)
		if by := w.out.spread - plane.Units(w.levels[i]); max(by, -by) >= 1 { // else it is the source itself
			r, err = r.Offset(by, st)
		}
		if err != nil {
			return err
		}
		made <- ring{i, r}
	}
	return ctx.Err()
}

// style returns how far ring i is from the one before, and how it is drawn.
func (w *work) style(i int32) (by plane.Units, st plane.OffsetStyle) {
	by = plane.Units(w.levels[i] - w.levels[i-1])
	step := by
	if i < w.n {
		step = min(step, plane.Units(w.levels[i+1]-w.levels[i]))
	}
	slack := max(1, w.finer(step/ringDetail))
	w.slack[i] = float64(slack)
	return by, plane.OffsetStyle{
		ArcRadius:  w.plan.Width,
		ArcTol:     max(1, w.finer(step/arcDetail)),
		Simplify:   slack,
		Stop:       w.ar.Stop,
		Join:       w.join(),
		MiterLimit: mitreLimit,
	}
}

// finer returns how far a ring may be from its distance that may be as far as detail for its bevel.
func (w *work) finer(detail plane.Units) plane.Units {
	if w.plan.fine > 0 {
		return min(detail, w.plan.fine)
	}
	return detail
}

func (w *work) join() plane.Join {
	if w.mitred {
		return plane.MiterOrRound
	}
	return plane.RoundJoin
}
