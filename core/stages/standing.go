package stages

import (
	"math"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// What rests on another part stands at a level: on the highest of the raised details that it touches,
// on the face, or, where it lies in recesses as a whole, on the highest of their floors. Bevels do not
// count (docs/meaning.md).

// Standing is what lies below a part that rests on another one.
type Standing struct {
	Raised, Recesses []string // details of the other one by their ids
	Face             bool     // and its face
}

// sliverWide is how wide, in grid units, what is left between outlines that run along each other may be
// without anything standing on it: some roundings of a crossing.
const sliverWide = 8

// standings tells of all parts that rest what lies below them.
func standings(parts []Outline, over []Lying) error {
	index := map[string]int{}
	for i := range parts {
		index[parts[i].ID] = i
	}
	for _, l := range over {
		k, in := index[l.ID]
		host, hosted := index[l.On]
		if l.Kind != recipe.Resting || !in || !hosted {
			continue
		}
		s, left := &parts[k].Stands, parts[k].Region.Value
		take := func(kind string, list *[]string) error {
			for _, d := range over {
				at, in := index[d.ID]
				if d.Kind != kind || d.On != l.On || !in || !near(left, parts[at].Region.Value, 0) {
					continue
				}
				both, err := plane.Combine(left, parts[at].Region.Value, plane.Intersect)
				if err != nil {
					return err
				}
				if !wide(both) {
					continue
				}
				*list = append(*list, d.ID)
				if left, err = plane.Combine(left, parts[at].Region.Value, plane.Subtract); err != nil {
					return err
				}
			}
			return nil
		}
		if err := take(recipe.Raised, &s.Raised); err != nil {
			return err
		}
		if err := take(recipe.Recess, &s.Recesses); err != nil {
			return err
		}
		left, err := plane.Combine(left, parts[host].Region.Value, plane.Intersect)
		if err != nil {
			return err
		}
		s.Face = wide(left)
	}
	return nil
}

// wide reports whether a region is more than what rounding leaves.
func wide(r plane.Region) bool {
	around := 0.0
	r.Loops(func(l plane.Loop) {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			around += math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y))
		}
	})
	return float64(r.Area2()) > sliverWide*around
}

// ground works out where what rests on others begins.
type ground struct {
	regions *Regions
	parts   *recipe.Parts
	list    []Raised
	at      map[int]int    // part -> entry of the list
	index   map[string]int // id -> part
}

// base returns the z at which entry k, which rests on another one, begins; left bounds how many are
// stacked.
func (g *ground) base(k, left int) float64 {
	one := &g.list[k]
	n := g.at[g.index[one.Role.On]]
	host := &g.list[n]
	face := host.Base
	if host.Role.Kind == recipe.Resting && left > 0 {
		face = g.base(n, left-1)
	}
	face += faceOf(&host.How)
	stands := &g.regions.Parts[one.Index].Stands
	levels := []float64{}
	if stands.Face {
		levels = append(levels, face)
	}
	for _, id := range stands.Raised {
		how := g.parts.Measures(id)
		levels = append(levels, face+faceOf(detailed(&how)))
	}
	for _, id := range stands.Recesses {
		how := g.parts.Measures(id)
		if through := how.Depth >= host.How.Depth && host.How.Wall == 0; !through && !g.parts.RoleOf(id).Through {
			levels = append(levels, face-faceOf(detailed(&how)))
		}
	}
	if len(levels) == 0 {
		levels = append(levels, face)
	}
	return slices.Max(levels) + one.How.Offset
}

// detailed is the measures of a detail: only depth and the bevel in front count.
func detailed(how *recipe.Measures) *recipe.Measures {
	return &recipe.Measures{Depth: how.Depth, Front: how.Front}
}

// faceOf returns how high the face lies over the back: lower than the depth where a drawn profile ends
// lower.
func faceOf(how *recipe.Measures) float64 {
	if !how.Front.On() || how.Front.Profile != recipe.Custom || len(how.Front.Curve) == 0 {
		return how.Depth
	}
	high, all := how.Front.Height, how.Front.Height
	if how.Back.On() && how.Wall == 0 {
		all += how.Back.Height
	}
	if all > how.Depth {
		high *= how.Depth / all
	}
	return how.Depth - high*(1-how.Front.Curve[len(how.Front.Curve)-1].F)
}

// round gives a round tube the depth that it has: it is as high as its widest stroke is wide.
func (b *Raised) round(limbs []Limb) {
	if b.Role.Kind != recipe.AsTube || b.How.Tube.Own || len(limbs) == 0 {
		return
	}
	b.How.Depth, b.How.Front.Profile, b.How.Front.Curve = 0, recipe.Round, nil
	for _, l := range limbs {
		b.How.Depth = math.Max(b.How.Depth, l.Width)
	}
}
