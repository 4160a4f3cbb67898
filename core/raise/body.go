package raise

import (
	"context"
	"slices"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Detail is a part that is cut into a body or raised from it, as one body with it.
type Detail struct {
	Plans   *Plans
	Form    Form // Depth: how far from the body's face; Front: its bevel
	Cut     bool // a recess
	Through bool // that leaves nothing
	Part    int32
}

// Limb is a further piece of a body, with a form of its own.
type Limb struct {
	Plans *Plans
	Form  Form
}

// Body is a part with all its details.
type Body struct {
	Plans   *Plans
	Form    Form
	Limbs   []Limb
	Within  plane.Region // what is left of the body and its limbs; nil for all
	Room    plane.Region // what is left of all, with the details; nil for all
	Details []Detail
	Part    int32
}

// plain reports whether a body is its own plans and nothing else.
func (b *Body) plain() bool {
	return len(b.Details) == 0 && len(b.Limbs) == 0 && b.Within == nil && b.Room == nil
}

// Deep reports whether a recess of this depth in mm goes through a body, so that a wall
// thinner than the grid can tell would remain.
func (b *Body) Deep(depth float64, step plane.Step) bool {
	return step.Units(depth) > step.Units(b.Form.Depth)-2*thinnest
}

// layers returns the body and its details as layers of an overlay.
func (b *Body) layers(ctx context.Context, step plane.Step, look Finish) []layer {
	f := b.Form.reaching(b.Plans.Reach)
	f.Wall = f.hollowWall()
	u := f.fit(b.Plans, step)
	upper, lower := b.Plans.surfaces(ctx, &f, step, look)
	out := []layer{{upper: upper, lower: lower, region: b.Plans.Front.outline(b.Plans.Region), part: b.Part}}
	for _, l := range b.Limbs {
		f := l.Form.reaching(l.Plans.Reach)
		upper, lower := l.Plans.surfaces(ctx, &f, step, look)
		out = append(out, layer{upper: upper, lower: lower, region: l.Plans.Front.outline(l.Plans.Region), part: b.Part})
	}
	if b.Within != nil {
		for i := range out {
			out[i].within = []plane.Region{b.Within}
		}
	}
	face := u.base + u.depth
	for _, d := range b.Details {
		out = append(out, d.layer(b, face, u.base, step, look))
	}
	if b.Room != nil {
		for i := range out {
			out[i].within = append(out[i].within, b.Room)
		}
	}
	return out
}

// layer lifts a detail over the face of its body.
func (d *Detail) layer(b *Body, face, base int32, step plane.Step, look Finish) layer {
	p := d.Plans.Front
	out := layer{region: p.outline(d.Plans.Region), kind: raised, part: d.Part}
	switch {
	case d.Cut && (d.Through || b.Deep(d.Form.Depth, step)):
		out.kind = through
		return out
	case d.Cut:
		out.kind = recess
	}
	deep := max(int32(step.Units(d.Form.Depth).Round()), thinnest)
	high := int32(0)
	if f := d.Form.reaching(d.Plans.Reach); p.Width > 0 && f.Front.On() {
		high = int32(min(step.Units(f.Front.Height).Round(), plane.Units(deep)))
	}
	l := lifting{
		zero: face + deep - high, high: high,
		slope: mesh.Bevel, plateau: mesh.Front, look: look, crease: d.Form.crease(), step: step,
	}
	if d.Cut {
		l.zero, l.high = face-deep+high, -high
	}
	out.upper = p.lift(l)
	if d.Cut && look >= Shaded { // what falls inward looks the other way
		turn(out.upper)
	}
	if !d.Cut {
		out.lower = p.flatSurface(base, mesh.Back, look, step)
	}
	return out
}

// turn mirrors the sides to which normals lean.
func turn(s *Surface) {
	for k := range s.Normal {
		for c := range 3 {
			s.Normal[k][c][0], s.Normal[k][c][1] = -s.Normal[k][c][0], -s.Normal[k][c][1]
		}
	}
}

// skinny reports whether the bevels of front and back meet, so that nothing is between them where
// their profiles are level.
func (b *Body) skinny(step plane.Step) bool {
	u := b.Form.fit(b.Plans, step)
	return u.front+u.back >= u.depth-skin
}

// Solid raises the body with its details on a grid of step mm.
func (b *Body) Solid(ctx context.Context, step plane.Step, look Finish) (*mesh.Mesh, error) {
	if b.plain() && !b.skinny(step) {
		return b.Plans.Solid(ctx, b.Form, step, look)
	}
	m, err := overlaid(ctx, b.layers(ctx, step, look), step, b.Form.crease())
	if err != nil {
		return nil, err
	}
	open(m, []Body{*b})
	return m, nil
}

// open takes the caps out that a form does not have.
func (f *Form) open(m *mesh.Mesh) { open(m, []Body{{Form: *f}}) }

// open takes the caps out that bodies do not have; triangles of one body alone may be of no part.
func open(m *mesh.Mesh, bodies []Body) {
	none := map[mesh.Group]map[int32]bool{mesh.Front: {}, mesh.Back: {}, mesh.Inside: {}}
	some := false
	for i := range bodies {
		b := &bodies[i]
		some = some || b.Form.OpenFront || b.Form.OpenBack
		parts := []int32{b.Part}
		for _, d := range b.Details {
			parts = append(parts, d.Part)
		}
		for _, p := range parts {
			none[mesh.Front][p], none[mesh.Back][p], none[mesh.Inside][p] = b.Form.OpenFront, b.Form.OpenBack, b.Form.OpenBack
		}
	}
	if !some {
		return
	}
	m.Drop(func(k int) bool {
		part := bodies[0].Part
		if m.Part != nil {
			part = m.Part[k]
		}
		return none[m.Group[k]][part]
	})
}

// Fused makes one solid of all bodies: where several cover a place it reaches from the
// lowest back to the highest front. Bodies that lie side by side are put together by
// their walls; those that overlap are overlaid first.
func Fused(ctx context.Context, bodies []Body, step plane.Step, look Finish) (*mesh.Mesh, error) {
	m, err := fused(ctx, bodies, step, look)
	if err == nil && len(bodies) > 0 {
		open(m, bodies)
	}
	return m, err
}

func fused(ctx context.Context, bodies []Body, step plane.Step, look Finish) (*mesh.Mesh, error) {
	var layers []layer
	plain := true
	for i := range bodies {
		progress.Needed(ctx)
		b := &bodies[i]
		plain = plain && b.plain() && !b.skinny(step)
		own := b.layers(ctx, step, look)
		for k := range own {
			own[k].body = int32(i)
		}
		layers = append(layers, own...)
	}
	// A part of which its own parting has left nothing has no faces.
	layers = slices.DeleteFunc(layers, func(l layer) bool { return l.kind != through && len(l.upper.Tris) == 0 })
	if len(layers) == 0 {
		return &mesh.Mesh{Step: float64(step)}, nil
	}
	if !plain || !sideBySide(ctx, layers) || len(bodies) > 1 && !constant(layers) {
		return overlaid(ctx, layers, step, bodies[0].Form.crease())
	}
	apart(layers)
	var upper, lower []*Surface
	for i := range layers {
		for _, s := range []*Surface{layers[i].upper, layers[i].lower} {
			s.Part = slices.Repeat([]int32{layers[i].part}, len(s.Tris))
		}
		upper, lower = append(upper, layers[i].upper), append(lower, layers[i].lower)
	}
	return assemble(ctx, step, upper, lower, bodies[0].Form.crease())
}

// sideBySide reports whether the layers fit together as they are: no two cover the same
// place, neighbours have all points of their common borders in common, and no more than
// three meet in a point.
func sideBySide(ctx context.Context, layers []layer) bool {
	poll := progress.NewPoll(ctx)
	ar := plane.NewArrangement()
	ar.Stop = stopOf(ctx)
	edges := map[[2]plane.Point]bool{}
	ends := map[plane.Point]int{}
	for i := range layers {
		ar.AddRegion(int32(i), layers[i].region)
		layers[i].region.Loops(func(l plane.Loop) {
			for k, p := range l {
				poll.Tick()
				if e := eitherWay(p, l[(k+1)%len(l)]); !edges[e] {
					edges[e] = true
					ends[e[0]]++
					ends[e[1]]++
				}
			}
		})
	}
	for _, n := range ends {
		if n > 3 {
			return false
		}
	}
	if ar.Build() != nil {
		return false
	}
	defer ar.Release()
	r := &onceCovered{w: make([]int32, len(layers))}
	ar.Classify(r)
	whole, n := true, 0
	ar.EachEdge(func(p, q plane.Point) {
		whole = whole && edges[eitherWay(p, q)]
		n++
	})
	return whole && n == len(edges) && !r.twice // an edge that a neighbour has divided is none any more
}

// eitherWay returns the ends of an edge in one order, whichever way it runs.
func eitherWay(p, q plane.Point) [2]plane.Point {
	if q.Less(p) {
		p, q = q, p
	}
	return [2]plane.Point{p, q}
}

// onceCovered watches for faces that two sources cover.
type onceCovered struct {
	w     []int32
	n     int
	twice bool
}

func (c *onceCovered) Cross(s, delta int32) {
	if c.w[s] > 0 {
		c.n--
	}
	if c.w[s] += delta; c.w[s] > 0 {
		c.n++
	}
}

func (c *onceCovered) Label() int32 {
	c.twice = c.twice || c.n > 1
	return int32(min(c.n, 1))
}

// constant reports whether every layer has one height along its upper border, and one
// along its lower one: then no two of them cross along an edge.
func constant(layers []layer) bool {
	for i := range layers {
		for _, s := range []*Surface{layers[i].upper, layers[i].lower} {
			if s.Rim == nil {
				continue // risers do not reach the rim
			}
			for _, e := range s.Rim {
				if s.Z[e[0]] != s.Z[s.Rim[0][0]] {
					return false
				}
			}
		}
	}
	return true
}

// apart lets no front lie at the very height of another's back: where they met, along a
// line, an edge would have four faces. The back gives way by less than can be seen.
func apart(layers []layer) {
	tops := map[int32]int{}
	for i := range layers {
		tops[layers[i].upper.RimZ]++
	}
	for j := range layers {
		under, own := layers[j].lower.RimZ, 0
		if layers[j].upper.RimZ == under {
			own = 1
		}
		if tops[under] == own {
			continue
		}
		for v, z := range layers[j].lower.Z {
			if z == under {
				layers[j].lower.Z[v] = z - thinnest
			}
		}
	}
}
