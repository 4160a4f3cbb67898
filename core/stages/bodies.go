package stages

import (
	"context"
	"errors"
	"fmt"
	"math"

	"bildhauer/core/terms"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/units"
)

// Raised is a part as it is raised: with its place among the others worked in.
type Raised struct {
	Index   int // in Regions.Parts
	How     recipe.Measures
	Base    float64 // z of its back, or of the face that a detail begins at
	Details []int   // indices of the parts that are cut into it or raised from it
	Role    recipe.Role
	Bare    bool // a tube without a line to follow: raised as a body
}

// Arrangement tells how all parts of the regions are raised, in their order: bodies with
// what belongs to them. Parts that were left out are not in it. A detail whose host is
// gone or left out is a body of its own.
func Arrangement(r *Regions, p *recipe.Parts) []Raised {
	index := map[string]int{}
	for i := range r.Parts {
		if !p.IsOut(r.Parts[i].ID) {
			index[r.Parts[i].ID] = i
		}
	}
	var out []Raised
	at := map[int]int{} // part -> entry
	nth := 0
	levels, most := Levels(r, p)
	for i := range r.Parts {
		if _, in := index[r.Parts[i].ID]; !in {
			continue
		}
		one := Raised{Index: i, How: p.Measures(r.Parts[i].ID), Role: p.RoleOf(r.Parts[i].ID)}
		if _, hosted := index[one.Role.On]; !hosted && one.Role.OnOther() {
			one.Role = recipe.Role{}
		}
		one.Bare = one.Role.Kind == recipe.AsTube && len(r.Parts[i].Limbs) == 0
		if one.Role.Kind != recipe.Recess && one.Role.Kind != recipe.Raised {
			if one.Role.Kind != recipe.Backing {
				one.How.Depth = math.Max(terms.Of("depth").Min, one.How.Depth+p.Relief.Adds(levels[i], most, p.Default.Depth))
				one.How.Offset += float64(nth) * p.Spread
				nth++
			}
			one.round(r.Parts[i].Limbs)
			one.Base = one.How.Bottom()
		}
		at[i] = len(out)
		out = append(out, one)
	}
	ground := ground{regions: r, parts: p, list: out, at: at, index: index}
	for k := range out {
		if out[k].Role.Kind == recipe.Resting {
			out[k].Base = ground.base(k, len(out))
		}
	}
	bodies := out[:0]
	for _, one := range out {
		if one.Role.Kind == recipe.Recess || one.Role.Kind == recipe.Raised {
			host := at[index[one.Role.On]]
			out[host].Details = append(out[host].Details, one.Index)
		}
	}
	for _, one := range out {
		if one.Role.Kind != recipe.Recess && one.Role.Kind != recipe.Raised {
			bodies = append(bodies, one)
		}
	}
	return bodies
}

// BodyOf plans a body and its details.
func (l *Line) BodyOf(ctx context.Context, r *Regions, b *Raised) (BodyInput, error) {
	out := l.bodyKeys(r, b)
	plan := func(in PlanInput) (Made[*raise.Plans], error) {
		p, err := Plan.Make(ctx, l.Keep, in)
		if errors.Is(err, plane.ErrTooTangled) || errors.Is(err, plane.ErrTouching) || errors.Is(err, raise.ErrRims) {
			err = problem(Tangled, "The outlines of this part", err)
		}
		return p, err
	}
	var err error
	if out.Plan, err = plan(out.Above); err != nil {
		return out, err
	}
	for i := range out.Limbs {
		if out.Limbs[i].Plan, err = plan(out.Limbs[i].Above); err != nil {
			return out, err
		}
	}
	for i := range out.Details {
		if out.Details[i].Plan, err = plan(out.Details[i].Above); err != nil {
			return out, err
		}
	}
	out.Room, err = l.room(ctx, r, b, &out)
	return out, err
}

// bodyKeys is BodyOf with the keys of the plans alone.
func (l *Line) bodyKeys(r *Regions, b *Raised) BodyInput {
	fine := l.Recipe.Size.Tolerance
	part := &r.Parts[b.Index]
	out := BodyInput{Above: planInput(part, r.Step, b.How, fine)}
	out.Upright = uprightOf(&out.Above, b.How, b.Base)
	l.quality(&out.Above, &out.Upright)
	if b.Role.Kind == recipe.AsTube && len(part.Limbs) > 0 {
		out = limbsIn(part, r.Step, b, fine)
		l.quality(&out.Above, &out.Upright)
		for i := range out.Limbs {
			limb := &out.Limbs[i]
			l.quality(&limb.Above, &limb.Upright)
			limb.Plan.Key = Plan.Key(limb.Above)
		}
	}
	out.Plan.Key = Plan.Key(out.Above)
	for _, i := range b.Details {
		id := r.Parts[i].ID
		how, role := l.Recipe.Parts.Measures(id), l.Recipe.Parts.RoleOf(id)
		// Of a detail only the front counts.
		how.Back, how.Outward, how.Wall = recipe.Rim{}, false, 0
		d := DetailInput{
			Above: planInput(&r.Parts[i], r.Step, how, fine), Cut: role.Kind == recipe.Recess, Through: role.Through,
		}
		d.Upright = uprightOf(&d.Above, how, 0)
		l.quality(&d.Above, &d.Upright)
		d.Plan.Key = Plan.Key(d.Above)
		out.Details = append(out.Details, d)
	}
	if room := l.roomOf(r, b, &out); room != nil {
		out.Room.Key = Room.Key(room.input)
	}
	return out
}

// quality says how the mesh is made.
func (l *Line) quality(above *PlanInput, up *Upright) {
	m := &l.Recipe.Parts.Mesh
	if m.Caps != "" && m.Spacing > 0 {
		above.Caps = raise.CapGrid{Spacing: m.Spacing, Square: m.Caps == recipe.GridCaps}
	}
	if m.Crease != raise.Crease {
		up.Crease = m.Crease
	}
}

// fewer says how a body's mesh is simplified: a number of triangles is for the whole
// piece, of which each body gets a share by its nodes.
func (l *Line) fewer(r *Regions, b *Raised) Fewer {
	m := &l.Recipe.Parts.Mesh
	out := Fewer{Within: m.Simplify}
	if m.Triangles == 0 {
		return out
	}
	all, own := 0, 0
	for _, one := range Arrangement(r, &l.Recipe.Parts) {
		for _, i := range append([]int{one.Index}, one.Details...) {
			n := r.Parts[i].Region.Value.Edges()
			if all += n; one.Index == b.Index {
				own += n
			}
		}
	}
	out.Triangles = max(1, int(float64(m.Triangles)*float64(own)/float64(all)))
	return out
}

// limbsIn makes a body of a tube's limbs: the first is the body, the others are joined
// to it.
func limbsIn(part *Outline, step plane.Step, b *Raised, fine float64) BodyInput {
	widest := 0.0
	for _, l := range part.Limbs {
		widest = math.Max(widest, l.Width)
	}
	out := BodyInput{Within: part.Region}
	for i, l := range part.Limbs {
		m := tubeForm(b.How, l.Width, step)
		above := planInput(&Outline{Region: l.Region}, step, m, fine)
		base := b.Base
		if !m.Tube.Own { // the middles in one plane
			base += (widest - l.Width) / 2
		}
		up := uprightOf(&above, m, base)
		if i == 0 {
			out.Above, out.Upright = above, up
			continue
		}
		out.Limbs = append(out.Limbs, LimbInput{Above: above, Upright: up})
	}
	return out
}

// Body raises a body with its details.
func (l *Line) Body(ctx context.Context, r *Regions, b *Raised, look raise.Finish) (Made[*Solid], error) {
	in, err := l.BodyOf(ctx, r, b)
	if err != nil {
		return Made[*Solid]{}, err
	}
	return Raise.Make(ctx, l.Keep, SolidInput{in, look, l.fewer(r, b)})
}

// BodyKey returns the key of a body's solid without making it.
func (l *Line) BodyKey(r *Regions, b *Raised) Key {
	return Raise.Key(SolidInput{l.bodyKeys(r, b), raise.Shaded, l.fewer(r, b)})
}

// Fused raises all bodies as one.
func (l *Line) Fused(ctx context.Context, r *Regions, list []Raised, look raise.Finish) (Made[*Solid], error) {
	m := &l.Recipe.Parts.Mesh
	in := FuseInput{Step: r.Step, Look: look, Fewer: Fewer{m.Simplify, m.Triangles}}
	in.Bodies = make([]BodyInput, len(list))
	err := parallel.Each(len(list), func(i int) (err error) {
		in.Bodies[i], err = l.BodyOf(ctx, r, &list[i])
		return err
	})
	if err != nil {
		return Made[*Solid]{}, err
	}
	return Fuse.Make(ctx, l.Keep, in)
}

// Limits says, a sentence each without its stop, what of a body's measures could not be:
// bevels higher than the depth allows, recesses that go through, walls without room.
func (b *Raised) Limits(s Got) []string {
	var out []string
	if s.Nothing {
		return []string{"nothing is left of it: others cover it, or it is thinner than can be made; it is left out"}
	}
	if b.Bare {
		out = append(out, "it has no strokes that a tube could follow, and the tube has no width")
	} else if b.Role.Kind == recipe.AsTube && !b.How.Tube.Own {
		return nil // as high as it is wide
	}
	for _, side := range []struct {
		what      string
		rim       *recipe.Rim
		got       float64
		otherwise bool
	}{{"bevel", &b.How.Front, s.High, false}, {"bevel behind", &b.How.Back, s.Low, b.How.Wall > 0}} {
		if side.rim.On() && !side.otherwise && side.got < side.rim.Height*0.999-1e-3 {
			out = append(out, fmt.Sprintf("the %s became %s high; the depth allows no more", side.what, units.MM(side.got)))
		}
	}
	if b.How.Outward && !growsOutward(&b.How) && (b.How.Front.On() || b.How.Back.On()) {
		out = append(out, "a pillow or dome is as wide as the part; its bevels run inward")
	}
	for range s.Holes {
		out = append(out, "a recess goes through")
	}
	if s.Massive {
		out = append(out, "the walls leave no room; it is solid")
	}
	return out
}

// planInput brings the form of a part to its normal form, seen from above.
func planInput(o *Outline, step plane.Step, m recipe.Measures, fine float64) PlanInput {
	in := PlanInput{
		Region: o.Region, Step: step, Front: rimOf(m.Front), Back: rimOf(m.Back),
		Outward: growsOutward(&m), Mitred: m.Mitred && (m.Front.On() || m.Back.On()),
		Wall: m.Wall, Frame: m.Wall > 0 && m.OpenFront && m.OpenBack, Fine: fineOf(m, fine),
	}
	if in.Front.on() > 0 && m.Wall > 0 && !in.Frame {
		in.Over = math.Min(m.Front.Height, m.Depth)
	}
	return in
}

// growsOutward reports whether the walls stand outside of the artwork. What is as wide as
// the part has nowhere to grow.
func growsOutward(m *recipe.Measures) bool {
	full := m.Front.On() && m.Front.Full() || m.Back.On() && m.Back.Full()
	return m.Outward && !full && (m.Front.On() || m.Back.On())
}

// fineOf returns the tolerance of rings, which a part without bevels and walls has none of.
func fineOf(m recipe.Measures, fine float64) float64 {
	if m.Front.On() || m.Back.On() || m.Wall > 0 {
		return fine
	}
	return 0
}

func rimOf(r recipe.Rim) Rim {
	out := Rim{Profile: r.Profile, Width: r.Width, Segments: r.Segments, Curve: r.Curve}
	if r.Profile == recipe.Chamfer {
		out.Segments = 1 // more facets of one plane would change nothing
	}
	if r.Full() {
		out.Width = 0 // as wide as the part is
	}
	if r.Profile != recipe.Custom {
		out.Curve = nil
	}
	if !r.On() {
		return Rim{Profile: recipe.Chamfer, Segments: 1}
	}
	return out
}

// uprightOf takes the upright measures of a part.
func uprightOf(in *PlanInput, m recipe.Measures, base float64) Upright {
	u := Upright{Depth: m.Depth, Base: base, OpenFront: m.OpenFront, OpenBack: m.OpenBack}
	if in.Front.on() > 0 {
		u.High = m.Front.Height
	}
	if in.Back.on() > 0 {
		u.Low = m.Back.Height
	}
	return u
}
