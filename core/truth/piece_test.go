package truth

import (
	"math"
	"slices"

	"bildhauer/core/recipe"
)

// drawnPart is a part of a drawing: its shape, which lies on those before it, and its decisions.
type drawnPart struct {
	color string // #rrggbb; the part's id is made of it
	shape shape
	how   recipe.Measures
	role  recipe.Role
	wire  *wire // of a tube, in place of a shape
	named string
}

func (p *drawnPart) id() string {
	if p.named != "" {
		return p.named
	}
	return "c" + p.color[1:]
}

// drawing is a piece to be made, its parts in the order of painting.
type drawing struct {
	parts     []drawnPart
	cut       bool // overlaps are cut
	relief    recipe.Relief
	spread    float64
	rest      float64 // depth of parts without measures of their own, by which a relief counts
	given     []int   // levels of parts, where they are not worked out
	clearance float64
}

// body is a part that is none of another one, with what belongs to it.
type body struct {
	id       string
	own      *lift
	recesses []*lift
	through  []bool
	raised   []*lift
	wire     *wire
	base     float64 // of the wire
	covering []*body // what is painted above it and takes from it where walls stand outside
}

func detail(r recipe.Role) bool { return r.Kind == recipe.Recess || r.Kind == recipe.Raised }

// standsOn reports whether p rests on or belongs to on, or to what does.
func (d *drawing) standsOn(p, on *drawnPart) bool {
	for i := range d.parts {
		if p.role.On != "" && d.parts[i].id() == p.role.On {
			return &d.parts[i] == on || d.standsOn(&d.parts[i], on)
		}
	}
	return false
}

// regionOf returns what is left of part k where those above it count.
func (d *drawing) regionOf(k int) region {
	own := &d.parts[k]
	var above []shape
	for i := k + 1; i < len(d.parts) && d.cut; i++ {
		q := &d.parts[i]
		switch {
		case q.role.Kind == recipe.Backing || own.role.Kind == recipe.Backing:
		case d.standsOn(q, own):
		case own.role.OnOther() && (own.role.Kind == recipe.Resting || q.role.Kind != recipe.Resting):
			above = append(above, q.shape)
		case own.role.OnOther() || q.role.Kind == recipe.Recess || q.role.Kind == recipe.Resting || q.role.On == own.id():
		default:
			above = append(above, q.shape)
		}
	}
	has := func(p vec) bool {
		if !own.shape.has(p) {
			return false
		}
		for _, s := range above {
			if s.has(p) {
				return false
			}
		}
		return true
	}
	return regionOf(has, append([]shape{own.shape}, above...)...)
}

// bodies works out what the drawing means.
func (d *drawing) bodies() []*body {
	own := *d
	own.parts = slices.Clone(d.parts)
	d = &own // depths and offsets are changed
	var out []*body
	made := map[string]*body{}
	var resting []int
	nth := 0.0
	levels, most, _ := d.levels()
	for k := range d.parts {
		p := &d.parts[k]
		if !detail(p.role) && p.role.Kind != recipe.Backing {
			switch level := float64(levels[k]); {
			case level == 0:
			case d.relief.Total != 0:
				p.how.Depth += d.relief.Total*level/float64(most) - d.rest
			default:
				p.how.Depth += d.relief.Step * (level - 1)
			}
			p.how.Depth = math.Max(p.how.Depth, 0.01)
			p.how.Offset += nth * d.spread
			nth++
		}
		switch {
		case detail(p.role):
		case p.wire != nil:
			how := p.how
			how.Depth = p.wire.width
			made[p.id()] = &body{id: p.id(), wire: p.wire, base: how.Bottom(), own: &lift{how: how}}
		case p.role.Kind == recipe.Resting:
			resting = append(resting, k)
		default:
			made[p.id()] = d.bodyOf(k, p.how.Bottom())
		}
	}
	for len(resting) > 0 { // what rests on something that rests comes after that
		k := resting[0]
		resting = resting[1:]
		p := &d.parts[k]
		host := made[p.role.On]
		if host == nil {
			resting = append(resting, k)
			continue
		}
		made[p.id()] = d.bodyOf(k, p.how.Offset+host.level(d.regionOf(k)))
	}
	for k := range d.parts {
		b := made[d.parts[k].id()]
		if b == nil {
			continue
		}
		out = append(out, b)
		for i := k + 1; i < len(d.parts) && d.cut; i++ {
			p, q := &d.parts[k], &d.parts[i]
			o := made[q.id()]
			if o != nil && !d.standsOn(q, p) && (q.role.Kind != recipe.Resting || p.role.Kind == recipe.Resting) && b.own.wide+o.own.wide > 0 {
				b.covering = append(b.covering, o)
			}
		}
	}
	return out
}

// covers reports whether some of the body may be over a place.
func (b *body) covers(p vec) bool {
	over := b.own.inward(p) > 0
	for _, r := range b.raised {
		over = over || r.inward(p) > 0
	}
	return over
}

func (d *drawing) bodyOf(k int, base float64) *body {
	p := &d.parts[k]
	b := &body{id: p.id(), own: liftOf(d.regionOf(k), p.how, base)}
	for i := range d.parts {
		q := &d.parts[i]
		if !detail(q.role) || q.role.On != p.id() {
			continue
		}
		how := recipe.Measures{Depth: q.how.Depth, Front: q.how.Front}
		l := liftOf(d.regionOf(i), how, b.own.face()) // its heights count from the face
		if q.role.Kind == recipe.Raised {
			b.raised = append(b.raised, l)
			continue
		}
		b.recesses = append(b.recesses, l)
		b.through = append(b.through, q.role.Through || p.how.Wall == 0 && how.Depth >= p.how.Depth)
	}
	return b
}

// over returns what the body has over a place.
func (b *body) over(p vec) column {
	if b.wire != nil {
		rim := b.own.how.Front
		rim.Profile, rim.Segments = recipe.Round, max(rim.Segments, 4)
		return b.wire.over(p, b.base, profileOf(&rim))
	}
	for _, o := range b.covering {
		if o.covers(p) {
			return nil
		}
	}
	out := b.own.over(p)
	for i, r := range b.recesses {
		d := r.inward(p)
		switch {
		case d <= 0:
		case b.through[i]:
			out = nil
		default: // as a raised detail would rise, it falls
			out = out.below(2*b.own.face() - r.upper(p, d))
		}
	}
	for _, r := range b.raised {
		d := r.inward(p)
		if d <= 0 {
			continue
		}
		from := b.own.base
		if len(out) > 0 {
			from = out[len(out)-1].hi
		}
		out = out.plus(span{from, r.upper(p, d)})
	}
	return out
}

// level returns the level at which something over a region stands on the body.
func (b *body) level(r region) float64 {
	lo, hi := r.box()
	top := math.Inf(-1)
	const n = 120
	for i := range n * n {
		p := vec{lo.x + (hi.x-lo.x)*(float64(i%n)+0.5)/n, lo.y + (hi.y-lo.y)*(float64(i/n)+0.5)/n}
		if !r.has(p) {
			continue
		}
		z := math.Inf(-1)
		if b.own.in.has(p) {
			z = b.own.face()
		}
		for i, c := range b.recesses {
			if c.in.has(p) {
				z = math.Min(z, 2*b.own.face()-c.face())
				if b.through[i] {
					z = math.Inf(-1)
				}
			}
		}
		for _, c := range b.raised {
			if c.in.has(p) {
				z = math.Max(z, c.face())
			}
		}
		top = math.Max(top, z)
	}
	if math.IsInf(top, -1) {
		return b.own.face()
	}
	return top
}
