package stages

import (
	"cmp"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/plane"
)

// Slab is where a straight cut from left to right passes one body, bevels left out; mm.
type Slab struct {
	Color     artwork.Color
	From, To  float64 // across the piece, from its middle
	Low, High float64 // over the plane that parts start from
}

// acrossTried is how many heights a cut is tried at: enough to meet a thing of a thirtieth of the height.
const acrossTried = 31

// Across cuts the bodies of a piece straight from left to right, where most different heights are met, and
// returns what the cut passes, from left to right.
func Across(r *Regions, list []Raised) []Slab {
	var best []Slab
	most := -1.0
	for n := range acrossTried {
		y := r.Height * ((float64(n)+0.5)/acrossTried - 0.5)
		slabs := across(r, list, y)
		heights, long := map[float64]bool{}, 0.0
		for _, s := range slabs {
			heights[s.High] = true
			long += s.To - s.From
		}
		if score := float64(len(heights)) + long/(r.Width+1); score > most {
			best, most = slabs, score
		}
	}
	return best
}

// across cuts the bodies at a height y of the artwork.
func across(r *Regions, list []Raised, y float64) []Slab {
	var out []Slab
	at := int32(r.Step.Units(y))
	for k := range list {
		b := &list[k]
		o := &r.Parts[b.Index]
		var xs []float64
		o.Region.Value.Loops(func(l plane.Loop) {
			p := l[len(l)-1]
			for _, q := range l {
				if (p.Y > at) != (q.Y > at) {
					share := (float64(at) - float64(p.Y)) / (float64(q.Y) - float64(p.Y))
					xs = append(xs, (float64(p.X)+share*(float64(q.X)-float64(p.X)))*float64(r.Step))
				}
				p = q
			}
		})
		slices.Sort(xs)
		for i := 0; i+1 < len(xs); i += 2 {
			out = append(out, Slab{o.Color, xs[i], xs[i+1], b.Base, b.Base + b.How.Depth})
		}
	}
	slices.SortStableFunc(out, func(a, b Slab) int { return cmp.Or(cmp.Compare(a.From, b.From), cmp.Compare(a.High, b.High)) })
	return out
}
