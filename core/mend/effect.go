package mend

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// Effect is what a change of the outlines does to the picture: to the colour that is seen at each place, in the
// order of painting. It is worked out from the areas of the shapes before and after, exactly but for what
// nobody sees.
type Effect struct {
	Area  float64 // mm² that change their colour
	Share float64 // the same of all that is covered, 0 to 1
	Wide  float64 // mm: what changes is nowhere wider, so that no outline moves farther
	Swaps []Swap  // the colours, those of the largest area first
}

// Swap is a colour that becomes another one; "" is none.
type Swap struct {
	From, To string
	Area     float64 // mm²
}

// unseenMM is up to how far, in mm, outlines may move so that nobody sees it.
const unseenMM = 0.02

// widths are the steps, in mm, in which the width of what changes is told.
var widths = []float64{0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8, 1, 1.5, 2, 3, 5, 8, 12, 20, 30, 50, 80, 120, 200, 500, 1000, 10000}

// Words says what is seen of the change.
func (e *Effect) Words() string {
	switch {
	case e.Wide == 0:
		return "changes nothing you see"
	case e.Wide <= 1:
		return fmt.Sprintf("moves an edge by %s at most", mmOf(e.Wide))
	case e.Share >= 0.001:
		return fmt.Sprintf("%s %% of the picture changes", units.Figure(units.Round(100*e.Share, 1)))
	}
	return fmt.Sprintf("%s mm² of the picture change", units.Figure(units.Round(e.Area, 2)))
}

// spot is one connected place that changes.
type spot struct {
	area, wide float64 // mm², mm
	box        geom.Box
}

// effect sums up places.
func (w *Work) effect(spots []spot, list []plane.Change, colors *paints, ink float64) Effect {
	var e Effect
	for _, s := range spots {
		e.Area += s.area
		e.Wide = math.Max(e.Wide, s.wide)
	}
	if ink > 0 {
		e.Share = e.Area / ink
	}
	if e.Wide == 0 {
		return e
	}
	sums := map[[2]string]float64{}
	for _, c := range list {
		sums[[2]string{colors.hex(c.From), colors.hex(c.To)}] += w.area(c.Where)
	}
	for pair, area := range sums {
		e.Swaps = append(e.Swaps, Swap{pair[0], pair[1], area})
	}
	slices.SortFunc(e.Swaps, func(a, b Swap) int {
		return cmp.Or(cmp.Compare(b.Area, a.Area), cmp.Compare(a.From, b.From), cmp.Compare(a.To, b.To))
	})
	return e
}

func (p *paints) hex(n int32) string {
	if n == 0 {
		return ""
	}
	p.mu.Lock() // others may be adding to it
	defer p.mu.Unlock()
	return p.colors[n-1].Hex()
}

// spots measures the places that change, but for those that nobody sees.
func (w *Work) spots(list []plane.Change) ([]spot, error) {
	var out []spot
	var all plane.Region
	for _, c := range list {
		all = append(all, c.Where...)
	}
	if len(list) > 1 { // one place where several colours change
		var err error
		if all, err = union([]plane.Region{all}); err != nil {
			return nil, err
		}
	}
	for _, p := range all {
		one := plane.Region{p}
		wide, err := w.widest(one)
		if err != nil {
			return nil, err
		}
		if wide > 0 {
			out = append(out, spot{w.area(one), wide, w.boxOf(one)})
		}
	}
	return out, nil
}

// widest returns the least of the steps that no disc in a region is wider than, in mm; 0 where nobody sees it.
func (w *Work) widest(r plane.Region) (float64, error) {
	// A disc that fits has no more area than the region, and is no larger than its box.
	lo, hi, some := r.Bounds()
	if !some {
		return 0, nil
	}
	most := math.Min(float64(min(int64(hi.X)-int64(lo.X), int64(hi.Y)-int64(lo.Y))), 2*math.Sqrt(float64(r.Area2())/2/math.Pi))
	at := 0.0
	for i, step := range steps {
		d := w.units(step/2) - at
		at += d
		if d < 1 { // finer than the grid
			continue
		}
		if 2*at < most {
			var err error
			if r, err = r.Offset(plane.Units(-d), plane.OffsetStyle{ArcTol: plane.Units(math.Max(1, d/50)), Stop: w.Stop}); err != nil {
				return 0, err
			}
			if len(r) > 0 {
				continue
			}
		}
		if i == 0 {
			return 0, nil
		}
		return step, nil
	}
	return widths[len(widths)-1], nil
}

// steps are what widths are compared with, from what nobody sees on.
var steps = append([]float64{unseenMM}, widths...)

// Trial is what some mends would do, to be looked at.
type Trial struct {
	Effect
	Changes       []plane.Change // by paint; 0 is none
	Before, After *Work
}

// Try tells what some mends would do to the picture, without doing it. Its errors are those of Apply.
func Try(ctx context.Context, w *Work, do []recipe.Mend) (*Trial, error) {
	own := *w
	own.Stop = func() bool { return ctx.Err() != nil }
	p, err := newPainting(&own, newMemory())
	if err != nil {
		return nil, err
	}
	next, _, err := own.take(Fix{Do: do}, func() string { return "tried" })
	if err != nil {
		return nil, err
	}
	q, err := p.after(next)
	if err != nil {
		return nil, err
	}
	list, err := p.changes(q)
	if err != nil {
		return nil, err
	}
	spots, err := own.spots(list)
	if err != nil {
		return nil, err
	}
	ink, err := p.ink()
	if err != nil {
		return nil, err
	}
	return &Trial{own.effect(spots, list, p.paints, ink), list, w, next}, nil
}
