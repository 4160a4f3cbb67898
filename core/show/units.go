package show

import (
	"cmp"
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// point is a pivot that somebody has picked.
const point = "point"

// unit is parts that move as one.
type unit struct {
	parts []Spot
	box   *box
	base  float64 // y that most of its parts stand on
}

func unitOf(parts []Spot) unit {
	u := unit{parts: parts, box: newBox()}
	var feet []float64
	for _, p := range parts {
		u.box.take([3]float64{p.Lo.X, p.Lo.Y, p.Lo.Z})
		u.box.take([3]float64{p.Hi.X, p.Hi.Y, p.Hi.Z})
		feet = append(feet, p.Lo.Y)
	}
	slices.Sort(feet)
	u.base = feet[len(feet)/2]
	return u
}

// spot is the unit as one thing; the first of its parts stands for all.
func (u *unit) spot() Spot { return Spot{u.parts[0].ID, u.box.lo, u.box.hi, u.parts[0].Layer} }

// unitsOf puts parts together to what moves as one, in the order of their first parts; lines from the top, words from
// the left.
func unitsOf(parts []Spot, kind string) []unit {
	if len(parts) == 0 {
		return nil
	}
	var out []unit
	switch kind {
	case "group":
		return []unit{unitOf(parts)}
	case "layer":
		var names []string
		of := map[string][]Spot{}
		for _, p := range parts {
			if of[p.Layer] == nil {
				names = append(names, p.Layer)
			}
			of[p.Layer] = append(of[p.Layer], p)
		}
		for _, l := range names {
			out = append(out, unitOf(of[l]))
		}
		return out
	case "line", "word":
		for _, l := range linesOf(parts) {
			if kind == "line" {
				out = append(out, unitOf(l))
				continue
			}
			for _, w := range wordsOf(l) {
				out = append(out, unitOf(w))
			}
		}
		return out
	}
	for _, p := range parts {
		out = append(out, unitOf([]Spot{p}))
	}
	return out
}

// linesOf finds which parts stand in a line: those of which half the height of the lower one lies beside the other.
func linesOf(parts []Spot) [][]Spot {
	sets := geom.NewSets(len(parts))
	for i, p := range parts {
		for j, q := range parts[:i] {
			both := math.Min(p.Hi.Y, q.Hi.Y) - math.Max(p.Lo.Y, q.Lo.Y)
			if both >= 0.5*math.Min(p.Hi.Y-p.Lo.Y, q.Hi.Y-q.Lo.Y) {
				sets.Join(int32(i), int32(j))
			}
		}
	}
	at := map[int32]int{}
	var out [][]Spot
	for i, p := range parts {
		k := sets.Find(int32(i))
		n, ok := at[k]
		if !ok {
			n = len(out)
			at[k] = n
			out = append(out, nil)
		}
		out[n] = append(out[n], p)
	}
	for _, l := range out {
		slices.SortStableFunc(l, func(a, b Spot) int { return cmp.Compare(a.Lo.X, b.Lo.X) })
	}
	height := func(l []Spot) float64 {
		u := unitOf(l)
		return u.box.middle().Y
	}
	slices.SortStableFunc(out, func(a, b []Spot) int { return cmp.Compare(height(b), height(a)) })
	return out
}

// How wide a gap between letters is that parts words: a quarter of their height, and twice the usual gap.
const (
	gapOfHeight = 0.25
	gapOfUsual  = 2
)

// wordsOf parts a line, sorted from the left, at its wide gaps.
func wordsOf(line []Spot) [][]Spot {
	var gaps, heights []float64
	far := line[0].Hi.X
	for i, p := range line {
		heights = append(heights, p.Hi.Y-p.Lo.Y)
		if i > 0 {
			gaps = append(gaps, math.Max(0, p.Lo.X-far))
		}
		far = math.Max(far, p.Hi.X)
	}
	if len(gaps) == 0 {
		return [][]Spot{line}
	}
	usual, high := slices.Clone(gaps), slices.Clone(heights)
	slices.Sort(usual)
	slices.Sort(high)
	wide := math.Max(gapOfHeight*high[len(high)/2], gapOfUsual*usual[(len(usual)-1)/2])
	out := [][]Spot{{line[0]}}
	for i, p := range line[1:] {
		if gaps[i] > wide {
			out = append(out, nil)
		}
		out[len(out)-1] = append(out[len(out)-1], p)
	}
	return out
}

// pivot returns the place that the unit turns and grows about.
func (u *unit) pivot(name string) geom.Vec3 {
	p := u.box.middle()
	switch name {
	case "left", "lower left", "upper left":
		p.X = u.box.lo.X
	case "right", "lower right", "upper right":
		p.X = u.box.hi.X
	}
	switch name {
	case "base line", "lower left", "lower right":
		p.Y = u.base
	case "top", "upper left", "upper right":
		p.Y = u.box.hi.Y
	}
	return p
}

// turning is what goes about a pivot.
var turning = []string{"turn", "tilt", "lean", "size"}

// share gives tracks of a unit as one thing to each of its parts: turns and sizes go about the pivot of the unit, and
// what swings about an edge turns about that of the unit. mark is the point of a pivot that was picked.
func (u *unit) share(list []recipe.Track, pivot string, mark geom.Vec3) []recipe.Track {
	if len(u.parts) == 1 && pivot == "" {
		return list
	}
	about, turns := u.pivot(pivot), false
	if pivot == point {
		about = mark
	}
	for _, t := range list {
		if t.What == "swing" && pivot == "" {
			about = u.pivot("left")
		}
		turns = turns || t.What == "swing" || slices.Contains(turning, t.What)
	}
	var out []recipe.Track
	for i, p := range u.parts {
		for _, t := range list {
			switch {
			case t.Of != u.parts[0].ID: // of a lamp or the camera
				if i == 0 {
					out = append(out, t)
				}
				continue
			case t.What == "swing":
				t.What = "turn"
			}
			t.Of, t.Keys = p.ID, slices.Clone(t.Keys)
			out = append(out, t)
		}
		if turns {
			off := about.Sub(p.Lo.Add(p.Hi).Times(0.5))
			out = append(out,
				recipe.Track{Of: p.ID, What: "pivot right", Keys: []recipe.Key{{Value: off.X}}},
				recipe.Track{Of: p.ID, What: "pivot up", Keys: []recipe.Key{{Value: off.Y}}})
		}
	}
	return out
}
