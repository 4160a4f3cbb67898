package mend

import (
	"context"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// Seen is what mended artwork comes to, for people to look at.
type Seen struct {
	Contours, Nodes int     // of what takes part
	AreaMM2         float64 // covered
	Pieces          int     // that hang together
	Loops           []SeenLoop
}

// SeenLoop is one outline of all that takes part together. Depth counts the
// outlines around it: even ones are solid inside, odd ones are holes.
type SeenLoop struct {
	Points []geom.Vec // px of the page
	Depth  int
}

// See looks at the artwork as a whole.
func See(ctx context.Context, w *Work) (out Seen, err error) {
	defer quit(ctx, &err)
	l, err := newLook(ctx, w, Limits{}, newMemory())
	if err != nil {
		return out, err
	}
	for _, i := range l.taken {
		out.Contours += len(w.Sheet.Shapes[i].Contours)
		out.Nodes += w.Sheet.Shapes[i].Nodes()
	}
	out.AreaMM2, out.Pieces = w.area(l.all), len(l.all)
	// What lies within another piece lies in one of its holes.
	var holed []int
	lo, hi := make([]plane.Point, len(l.all)), make([]plane.Point, len(l.all))
	for i, p := range l.all {
		if lo[i], hi[i], _ = (plane.Region{p}).Bounds(); len(p.Holes) > 0 {
			holed = append(holed, i)
		}
	}
	for i, p := range l.all {
		l.needed()
		depth := 0
		for _, j := range holed {
			in := lo[j].X <= lo[i].X && lo[j].Y <= lo[i].Y && hi[j].X >= hi[i].X && hi[j].Y >= hi[i].Y
			if in && i != j && l.all[j].Outer.Contains(p.Outer[0]) {
				depth++
			}
		}
		out.Loops = append(out.Loops, SeenLoop{w.Points(p.Outer), 2 * depth})
		for _, h := range p.Holes {
			out.Loops = append(out.Loops, SeenLoop{w.Points(h), 2*depth + 1})
		}
	}
	return out, nil
}

// Points returns the places of a loop on the grid, px of the page.
func (w *Work) Points(l plane.Loop) []geom.Vec {
	out := make([]geom.Vec, len(l))
	for i, p := range l {
		out[i] = w.place(p)
	}
	return out
}
