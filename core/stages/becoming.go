package stages

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// A part becomes another one by its outlines: areas and holes of both are matched, the nearest first; outlines of a
// pair are walked side by side from where they fit best, and each point goes straight to the one beside it. What has
// none to go to becomes a point in its own middle.

// BecomingInput is two parts and how much of the first has become the second; beyond 0 and 1 it goes on.
type BecomingInput struct {
	From, To Made[plane.Region]
	Share    float64
}

// Becoming returns the area between two parts.
var Becoming = Stage[BecomingInput, plane.Region]{
	Name: "becoming",
	Run:  become,
	Size: func(r plane.Region) int64 { return 64 + 8*int64(r.Edges()) },
	Need: func(in BecomingInput) int64 {
		return 2 * 300 * int64(in.From.Value.Edges()+in.To.Value.Edges())
	},
}

func become(ctx context.Context, in BecomingInput) (plane.Region, error) {
	var loops []plane.Loop
	add := func(a, b plane.Loop) { loops = append(loops, between(a, b, in.Share)) }
	outer := func(p plane.Polygon) plane.Loop { return p.Outer }
	for _, pair := range matched(in.From.Value, in.To.Value, outer) {
		a, b := pair[0], pair[1]
		add(a.Outer, b.Outer)
		for _, hole := range matched(a.Holes, b.Holes, func(l plane.Loop) plane.Loop { return l }) {
			add(hole[0], hole[1])
		}
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	out, err := plane.Fill(loops, plane.NonZero)
	if err != nil {
		return nil, problem(Tangled, "A part that becomes another one", err)
	}
	return out, nil
}

// mostPairs bounds how many pairs are compared; of more outlines the nearest in the order of their middles are taken.
const mostPairs = 1 << 18

// matched pairs things by the distance of the middles of their outlines, the nearest first. What is left over is
// paired with nothing.
func matched[T any](from, to []T, outline func(T) plane.Loop) [][2]T {
	type pair struct {
		i, j int
		far  float64
	}
	middles := func(list []T) []geom.Vec {
		out := make([]geom.Vec, len(list))
		for i := range list {
			out[i] = middleOf(outline(list[i]))
		}
		return out
	}
	a, b := middles(from), middles(to)
	var list []pair
	near := max(1, mostPairs/max(1, len(from))) // so many on both sides in the order from left to right
	sorted := make([]int, len(to))
	for j := range sorted {
		sorted[j] = j
	}
	slices.SortStableFunc(sorted, func(i, j int) int { return cmp.Compare(b[i].X, b[j].X) })
	for i := range from {
		at, _ := slices.BinarySearchFunc(sorted, a[i].X, func(j int, x float64) int { return cmp.Compare(b[j].X, x) })
		for _, j := range sorted[max(0, at-near):min(len(sorted), at+near)] {
			list = append(list, pair{i, j, a[i].Sub(b[j]).Len()})
		}
	}
	slices.SortStableFunc(list, func(p, q pair) int { return cmp.Or(cmp.Compare(p.far, q.far), p.i-q.i, p.j-q.j) })
	var out [][2]T
	was, will := make([]bool, len(from)), make([]bool, len(to))
	for _, p := range list {
		if !was[p.i] && !will[p.j] {
			was[p.i], will[p.j] = true, true
			out = append(out, [2]T{from[p.i], to[p.j]})
		}
	}
	var none T
	for i := range from {
		if !was[i] {
			out = append(out, [2]T{from[i], none})
		}
	}
	for j := range to {
		if !will[j] {
			out = append(out, [2]T{none, to[j]})
		}
	}
	return out
}

// middleOf is the middle of the box of a loop.
func middleOf(l plane.Loop) geom.Vec {
	b := geom.EmptyBox()
	for _, p := range points(l) {
		b = b.Grow(p)
	}
	return b.Center()
}

// between returns the loop between two that go round in the same direction; one that is empty stands for the middle of
// the other.
func between(a, b plane.Loop, share float64) plane.Loop {
	from, to := walkOf(a), walkOf(b)
	switch {
	case len(a) == 0:
		from = walk{at: []geom.Vec{middleOf(b)}}
	case len(b) == 0:
		to = walk{at: []geom.Vec{middleOf(a)}}
	}
	shift := fit(&from, &to)
	stops := slices.Clone(from.far)
	for _, f := range to.far {
		stops = append(stops, math.Mod(f-shift+1, 1))
	}
	slices.Sort(stops)
	var out plane.Loop
	for _, s := range stops {
		v := from.place(s).Lerp(to.place(math.Mod(s+shift, 1)), share)
		p := plane.Point{X: int32(math.Round(v.X)), Y: int32(math.Round(v.Y))}
		if len(out) == 0 || out[len(out)-1] != p {
			out = append(out, p)
		}
	}
	return out
}

// walk is a loop by the share of its length.
type walk struct {
	at  []geom.Vec
	far []float64 // of each point, from 0 to below 1
}

func walkOf(l plane.Loop) walk {
	w := walk{at: points(l)}
	sum := 0.0
	for i, p := range w.at {
		w.far = append(w.far, sum)
		sum += w.at[(i+1)%len(w.at)].Sub(p).Len()
	}
	for i := range w.far {
		w.far[i] /= sum
	}
	return w
}

// place returns the point at a share of the length.
func (w *walk) place(s float64) geom.Vec {
	if len(w.at) == 1 {
		return w.at[0]
	}
	i, found := slices.BinarySearch(w.far, s)
	if found {
		return w.at[i]
	}
	end := 1.0
	if i < len(w.far) {
		end = w.far[i]
	}
	return w.at[i-1].Lerp(w.at[i%len(w.at)], (s-w.far[i-1])/(end-w.far[i-1]))
}

// marks is at how many places two outlines are compared to find where they fit.
const marks = 192

// fit returns by how much of its length the second outline starts later than the first where points are nearest to
// those beside them, both laid with their middles on each other.
func fit(a, b *walk) float64 {
	if len(a.at) == 1 || len(b.at) == 1 {
		return 0
	}
	sample := func(w *walk) []geom.Vec {
		out := make([]geom.Vec, marks)
		box := geom.EmptyBox()
		for i := range out {
			out[i] = w.place(float64(i) / marks)
			box = box.Grow(out[i])
		}
		for i := range out {
			out[i] = out[i].Sub(box.Center())
		}
		return out
	}
	p, q := sample(a), sample(b)
	best, least := 0, math.Inf(1)
	for shift := range marks {
		sum := 0.0
		for i := range p {
			d := p[i].Sub(q[(i+shift)%marks])
			sum += d.Dot(d)
		}
		if sum < least {
			best, least = shift, sum
		}
	}
	return float64(best) / marks
}
