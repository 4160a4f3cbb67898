package stages

import (
	"context"
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// A part that is written grows along its outlines: a wall inside them follows each from its start to its end, then
// becomes thicker until the part is full. A tube grows along its line.

// drawnBy is the share of the writing by which outlines are drawn; what is left is for filling them, which is short
// and seen less.
const drawnBy = 0.7

// nibOfStroke is how thick the wall is, as a share of how wide the part is on average: a third leaves as much free
// between two walls.
const nibOfStroke = 1.0 / 3

// WritingInput is a part of which a share is written.
type WritingInput struct {
	Region Made[plane.Region]
	Share  float64       // over 0 and below 1
	Full   float64       // how thick the wall is when it is full, steps of the grid; 0 as long as outlines are drawn
	Starts []plane.Point // where the artwork's outlines start; each loop starts at the point nearest to one of them
}

// Writing returns what is there of a part that is written.
var Writing = Stage[WritingInput, plane.Region]{
	Name: "writing",
	Run:  written,
	Size: func(r plane.Region) int64 { return 64 + 8*int64(r.Edges()) },
	// The arrangement of both sides of a stroke with its corners, some 300 bytes a point.
	Need: func(in WritingInput) int64 { return 8 * 300 * int64(in.Region.Value.Edges()) },
}

func written(ctx context.Context, in WritingInput) (plane.Region, error) {
	stop := func() bool { return ctx.Err() != nil }
	r := in.Region.Value
	thick := nib(r)
	if in.Share > drawnBy {
		thick += (in.Full - thick) * (in.Share - drawnBy) / (1 - drawnBy)
	}
	var lines []geom.Contour
	r.Loops(func(l plane.Loop) {
		share := math.Min(1, in.Share/drawnBy)
		lines = append(lines, contour(geom.Upto(points(from(l, in.Starts)), true, share)))
	})
	st := geom.StrokeStyle{Width: 2 * thick, Cap: geom.RoundCap, Join: geom.RoundJoin}
	loops := plane.Snap(geom.Stroke(lines, st, math.Max(1, thick/200)), func(v geom.Vec) (x, y float64) { return v.X, v.Y })
	wall, err := plane.Fill(loops, plane.NonZero)
	if err != nil {
		return nil, problem(Tangled, "A part that is written", err)
	}
	out, err := plane.CombineUntil(stop, r, wall, plane.Intersect)
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return nil, problem(Tangled, "A part that is written", err)
	}
	return out, nil
}

// nib is how thick the wall is while outlines are drawn, in steps of the grid: area by half the length of all outlines
// is how wide the part is on average.
func nib(r plane.Region) float64 {
	around := 0.0
	r.Loops(func(l plane.Loop) {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			around += math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y))
		}
	})
	return math.Max(2, nibOfStroke*float64(r.Area2())/math.Max(around, 1))
}

// FullnessInput is a part that will be full.
type FullnessInput struct{ Region Made[plane.Region] }

// Fullness is how thick the wall is when a part is full, in steps of the grid: the radius of the largest circle in it, to
// a hundredth.
var Fullness = Stage[FullnessInput, float64]{
	Name: "fullness",
	Run: func(ctx context.Context, in FullnessInput) (float64, error) {
		return fullness(ctx, in.Region.Value)
	},
	Size: func(float64) int64 { return 8 },
	Need: func(in FullnessInput) int64 { return 4 * 300 * int64(in.Region.Value.Edges()) },
}

func fullness(ctx context.Context, r plane.Region) (float64, error) {
	stop := func() bool { return ctx.Err() != nil }
	// A circle that is in it has no more area than it.
	lo, hi := 0.0, math.Sqrt(float64(r.Area2())/2/math.Pi)
	for hi-lo > hi/100 && hi > 2 {
		mid := (lo + hi) / 2
		left, err := r.Offset(plane.Units(-mid), plane.OffsetStyle{Join: plane.MiterJoin, Stop: stop})
		if stop() {
			return 0, ctx.Err()
		}
		if err != nil {
			return 0, problem(Tangled, "A part that is written", err)
		}
		if len(left) > 0 {
			lo = mid
		} else {
			hi = mid
		}
	}
	return hi, nil
}

// from returns a loop that starts at its point nearest to one of some.
func from(l plane.Loop, starts []plane.Point) plane.Loop {
	best, at := math.Inf(1), 0
	for i, p := range l {
		for _, s := range starts {
			if d := math.Hypot(float64(p.X)-float64(s.X), float64(p.Y)-float64(s.Y)); d < best {
				best, at = d, i
			}
		}
	}
	return append(append(plane.Loop{}, l[at:]...), l[:at]...)
}

func points(l plane.Loop) []geom.Vec {
	out := make([]geom.Vec, len(l))
	for i, p := range l {
		out[i] = geom.Vec{X: float64(p.X), Y: float64(p.Y)}
	}
	return out
}

// contour is an open polyline.
func contour(line []geom.Vec) geom.Contour {
	out := geom.Contour{Start: line[0]}
	for _, v := range line[1:] {
		out.Segs = append(out.Segs, geom.Segment{To: v})
	}
	return out
}

// starts returns where the outlines of a part's shapes start.
func (r *Regions) starts(o *Outline) []plane.Point {
	var all [][]geom.Vec
	for _, i := range o.Shapes {
		sh := &r.Sheet.Shapes[i]
		var one []geom.Vec
		for _, c := range sh.Contours {
			one = append(one, sh.Matrix.Apply(c.Start))
		}
		all = append(all, one)
	}
	grid := 1 / (r.PxPerMM * float64(r.Step))
	var out []plane.Point
	for _, l := range plane.Snap(all, func(v geom.Vec) (x, y float64) {
		return (v.X - r.Center.X) * grid, (r.Center.Y - v.Y) * grid * r.Stretch
	}) {
		out = append(out, l...)
	}
	return out
}

// begun returns a shape of which each line goes so far as a share of it says, within tol px.
func begun(sh *artwork.Shape, share, tol float64) artwork.Shape {
	out := *sh
	out.Contours = nil
	for _, c := range sh.Contours {
		line := geom.Upto(c.Flatten(tol/sh.Matrix.MaxScale(), nil), c.Closed, share)
		if len(line) > 0 {
			out.Contours = append(out.Contours, contour(line))
		}
	}
	return out
}
