package print

import (
	"fmt"
	"math"

	"bildhauer/core/plane"
	"bildhauer/core/units"
)

// Margin is what a skirt or brim takes around a print, mm: five of distance, and the lines.
const Margin = 6.5

// Layout returns the middles of copies of a piece (width and depth, mm) from the middle of the
// bed, in rows that are about as wide as deep. The error says how many would fit.
func Layout(width, depth float64, s *Setup) ([][2]float64, error) {
	room := [2]float64{s.Bed[0], s.Bed[1]}
	if s.Skirt != NoSkirt {
		room[0], room[1] = room[0]-2*Margin, room[1]-2*Margin
	}
	fit := func(room, size float64) int { return max(0, int(math.Floor((room+s.Gap)/(size+s.Gap)+1e-9))) }
	across, deep := fit(room[0], width), fit(room[1], depth)
	if across*deep == 0 {
		return nil, fmt.Errorf("%s by %s mm do not fit on a bed of %g by %g mm%s",
			units.Figure(width), units.Figure(depth), s.Bed[0], s.Bed[1], besides(s))
	}
	if across*deep < s.Copies {
		return nil, fmt.Errorf("%s on the bed%s, not %d: leave less of a gap, or print the others after them",
			units.Plural(across*deep, "copy fits", "copies fit"), besides(s), s.Copies)
	}
	best, least := 0, math.Inf(1)
	for cols := 1; cols <= min(across, s.Copies); cols++ {
		rows := (s.Copies + cols - 1) / cols
		if side := math.Max(float64(cols)*(width+s.Gap), float64(rows)*(depth+s.Gap)); rows <= deep && side < least {
			best, least = cols, side
		}
	}
	rows := (s.Copies + best - 1) / best
	out := make([][2]float64, s.Copies)
	for i := range out {
		out[i] = [2]float64{
			(float64(i%best) - float64(best-1)/2) * (width + s.Gap),
			(float64(rows-1)/2 - float64(i/best)) * (depth + s.Gap),
		}
	}
	return out, nil
}

func besides(s *Setup) string {
	if s.Skirt == NoSkirt {
		return ""
	}
	return fmt.Sprintf(" beside its %s (%g mm all round)", s.Skirt, Margin)
}

// skirtStep is the grid of skirts, mm: they may go all over a bed.
const skirtStep = 1.0 / 1024

// skirt returns the lines around the first layer of all copies: a skirt of two lines 5 mm
// away, by which the nozzle begins to flow; or a brim that lies against it, 5 mm wide, by
// which it holds. Places are mm from the middle of the bed.
func skirt(area plane.Region, step float64, middle [2]float64, places []Place, s *Setup) ([]Path, error) {
	if s.Skirt == NoSkirt || len(area) == 0 {
		return nil, nil
	}
	area, err := thinned(area, max(1, plane.Step(step).Units(rough)))
	if err != nil {
		return nil, err
	}
	var loops []plane.Loop
	area.Loops(func(l plane.Loop) {
		for _, at := range places {
			moved := make(plane.Loop, len(l))
			for i, p := range l {
				q := at.Put([2]float64{float64(p.X)*step - middle[0], float64(p.Y)*step - middle[1]})
				moved[i] = plane.Point{X: int32(math.Round(q[0] / skirtStep)), Y: int32(math.Round(q[1] / skirtStep))}
			}
			loops = append(loops, moved)
		}
	})
	all, err := plane.Fill(loops, plane.NonZero)
	if err != nil {
		return nil, err
	}
	b := newBench(skirtStep, [2]float64{}, s)
	b.style.ArcTol, b.style.Simplify = 0.05/skirtStep, 0.02/skirtStep
	kind, from, n := Skirt, 5.0, 2
	if s.Skirt == AsBrim {
		kind, from, n = Brim, 0, int(5/s.Bead())
	}
	var out []Path
	for k := n - 1; k >= 0; k-- { // towards the piece
		ring, err := all.Offset(b.step.Units(from+(float64(k)+0.5)*s.Bead()), b.style)
		if err != nil {
			return nil, err
		}
		for _, p := range ring {
			out = append(out, b.loop(p.Outer, kind))
			for _, h := range p.Holes {
				if kind == Brim {
					out = append(out, b.loop(h, kind))
				}
			}
		}
	}
	for i := range out[:max(0, len(out)-1)] { // to the next ring, or around another copy
		a, b := out[i].end(), out[i+1].Points[0]
		out[i+1].Pull = math.Hypot(float64(b[0]-a[0]), float64(b[1]-a[1])) > aroundNear
	}
	return out, nil
}

// aroundNear is up to how far from each other rings of a skirt or brim are gone over to without drawing the filament back, mm.
const aroundNear = 2.0
