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
	Raised []string   // details that it touches, by their ids
	Floors [][]string // beside them: the recesses that are below it together; none for the face
}

// sliverWide is how wide, in grid units, what is left between outlines that run along each other may be
// without anything standing on it: some roundings of a crossing.
const sliverWide = 8

// standings tells of all parts that rest what lies below them.
func standings(parts []Outline, over []Lying, stop func() bool) error {
	index := map[string]*Outline{}
	for i := range parts {
		index[parts[i].ID] = &parts[i]
	}
	details := map[string][]below{} // of each part
	for _, l := range over {
		if d := index[l.ID]; l.Kind != recipe.Resting && d != nil && !l.Out {
			lo, hi, _ := d.Region.Value.Bounds()
			details[l.On] = append(details[l.On], below{l.ID, l.Kind, d.Region.Value, lo, hi})
		}
	}
	for _, l := range over {
		one, host := index[l.ID], index[l.On]
		if l.Kind != recipe.Resting || one == nil || host == nil {
			continue
		}
		if stop() {
			return plane.ErrStopped
		}
		if err := one.stand(host.Region.Value, details[l.On], stop); err != nil {
			return err
		}
	}
	return nil
}

// below is a detail by its place.
type below struct {
	id, kind string
	region   plane.Region
	lo, hi   plane.Point
}

// stand tells what of a host lies below a part.
func (o *Outline) stand(host plane.Region, details []below, stop func() bool) (err error) {
	own := o.Region.Value
	lo, hi, _ := own.Bounds()
	left := own
	type floor struct {
		region   plane.Region
		recesses []string
	}
	var recesses []below
	for _, d := range details {
		if !beside(lo, hi, d.lo, d.hi, 0) {
			continue
		}
		if d.kind == recipe.Recess {
			recesses = append(recesses, d)
			continue
		}
		both, err := plane.CombineUntil(stop, own, d.region, plane.Intersect)
		if err != nil {
			return err
		}
		if !wide(both) {
			continue
		}
		o.Stands.Raised = append(o.Stands.Raised, d.id)
		if left, err = plane.CombineUntil(stop, left, d.region, plane.Subtract); err != nil {
			return err
		}
	}
	if left, err = plane.CombineUntil(stop, left, host, plane.Intersect); err != nil {
		return err
	}
	floors := []floor{{region: left}}
	for _, d := range recesses {
		for i := range floors {
			f := floors[i]
			in, err := plane.CombineUntil(stop, f.region, d.region, plane.Intersect)
			if err != nil {
				return err
			}
			if !wide(in) {
				continue
			}
			floors = append(floors, floor{in, append(slices.Clone(f.recesses), d.id)})
			if floors[i].region, err = plane.CombineUntil(stop, f.region, d.region, plane.Subtract); err != nil {
				return err
			}
		}
	}
	for _, f := range floors {
		if wide(f.region) {
			o.Stands.Floors = append(o.Stands.Floors, f.recesses)
		}
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
	for _, id := range stands.Raised {
		how := g.parts.Measures(id)
		levels = append(levels, face+faceOf(detailed(&how)))
	}
	for _, recesses := range stands.Floors {
		levels = append(levels, g.floor(host, face, recesses))
	}
	top := math.Inf(-1)
	for _, z := range levels {
		top = math.Max(top, z)
	}
	if math.IsInf(top, -1) { // over nothing, or over a hole
		top = face
	}
	return top + one.How.Offset
}

// floor returns how high a face is below which there are recesses; minus infinity where one of them goes
// through.
func (g *ground) floor(host *Raised, face float64, recesses []string) float64 {
	z := face
	for _, id := range recesses {
		how := g.parts.Measures(id)
		if g.parts.RoleOf(id).Through || how.Depth >= host.How.Depth && host.How.Wall == 0 {
			return math.Inf(-1)
		}
		z = math.Min(z, face-faceOf(detailed(&how)))
	}
	return z
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
