package picture

import (
	"math"

	"bildhauer/core/geom"
)

// bounces is how often light is followed from surface to surface.
const bounces = 8

// place is where a ray has met a surface.
type place struct {
	at, normal, face geom.Vec3 // face: the normal of the triangle, toward where the ray came from
	material         *Material
	inside           bool // the ray came from within
	id               int32
	mask             int
}

// meet returns what a ray meets first.
func (s *Scene) meet(r *Ray) (p place, far float64, ok bool) {
	h, ok := s.tree.First(r)
	if !ok {
		return p, math.Inf(1), false
	}
	surf, k := &s.Surfaces[s.owner[h.ID]], s.local[h.ID]
	c := &surf.Corners[k]
	w := 1 - h.U - h.V
	p.at = c[0].Times(w).Plus(h.U, c[1]).Plus(h.V, c[2])
	p.face = c[1].Sub(c[0]).Cross(c[2].Sub(c[0])).Unit()
	p.normal = p.face
	if surf.Normals != nil {
		n := &surf.Normals[k]
		p.normal = n[0].Times(w).Plus(h.U, n[1]).Plus(h.V, n[2]).Unit()
	}
	p.material, p.id, p.mask = &surf.Material, h.ID, surf.Mask
	if m := p.material; m.Drawn != nil || m.Grain.Size > 0 {
		surf.detail(&p)
	}
	if p.face.Dot(r.Dir) > 0 {
		p.inside = true
		p.face, p.normal = p.face.Times(-1), p.normal.Times(-1)
	}
	// A normal that looks away from the eye would show nothing: it is bent back.
	if d := p.normal.Dot(r.Dir); d > -1e-3 {
		p.normal = p.normal.Plus(-d-1e-3, r.Dir).Unit()
	}
	return p, h.Dist, true
}

// detail works out what changes from place to place: the drawn colour and the grain.
func (f *Surface) detail(p *place) {
	rest, normal := p.at, p.normal
	if f.Rest != nil {
		rest, normal = f.Rest.Back(p.at), f.Rest.TurnedBack(p.normal)
	}
	if g := &f.Material.Grain; g.Size > 0 {
		normal = g.bent(rest, normal)
		if p.normal = normal; f.Rest != nil {
			p.normal = f.Rest.Turned(normal)
		}
	}
	if f.Material.Drawn != nil {
		own := f.Material
		own.Base = own.Drawn(rest)
		p.material = &own
	}
}

// leave returns a ray from a place.
func (s *Scene) leave(p *place, dir geom.Vec3, far float64) Ray {
	off := s.eps
	if dir.Dot(p.face) < 0 {
		off = -off
	}
	return Ray{From: p.at.Plus(off, p.face), Dir: dir, Far: far}
}

// seen is what one path found.
type seen struct {
	light  RGB
	alpha  float64
	base   RGB        // of what was met first, for the filter
	normal geom.Vec3  // of that
	depth  float64    // mm, 0 for nothing
	mask   int        // Surface.Mask of that
	ground [2]float64 // light that falls on a clear ground, and that would without the piece
}

// follow follows one path backwards; down is how far down in the picture it began, 0 to 1.
func (s *Scene) follow(r Ray, down float64, smp *sampler) (out seen) {
	through := RGB{1, 1, 1}
	pdf := math.Inf(1) // of the direction taken; infinite from the eye and through mirrors
	clear := true      // nothing was met yet but what is clear
	for bounce := 0; ; bounce++ {
		p, far, ok := s.meet(&r)
		r.Far = far
		s.lamps(&r, pdf, through, bounce, &out)
		if !ok {
			s.beyond(&r, pdf, through, clear, down, &out, smp)
			return out
		}
		m := p.material
		if clear {
			out.alpha = 1
			if out.depth == 0 {
				out.depth, out.normal, out.base, out.mask = far, p.normal, m.Base, p.mask
			}
		}
		if !p.inside && !m.Glow.Dark() {
			c := through.Through(m.Glow)
			if bounce > 0 && s.glow != nil {
				cos := -r.Dir.Dot(p.face)
				c = c.Times(weight(pdf, s.glow.pdf(p.id, far, cos)*s.chance(s.glow, r.From, s.power(r.From))))
			}
			out.light = out.light.Plus(c)
		}
		if bounce == bounces {
			return out
		}
		next, ok := s.scatter(&r, &p, smp, &through, &pdf, &out)
		if !ok {
			return out
		}
		clear = false
		if bounce >= 1 { // what carries little is followed seldom
			q := math.Min(0.95, through.Max())
			if smp.one() >= q {
				return out
			}
			through = through.Times(1 / q)
		}
		r = next
	}
}

// lamps adds the light of lamps that the ray meets.
func (s *Scene) lamps(r *Ray, pdf float64, through RGB, bounce int, out *seen) {
	if bounce == 0 {
		return // lamps stay unseen
	}
	for _, l := range s.Lights {
		if _, c, other, ok := l.met(r); ok {
			chance := s.chance(l, r.From, s.power(r.From))
			out.light = out.light.Plus(through.Through(c).Times(weight(pdf, other*chance)))
		}
	}
}

// beyond adds what lies behind everything.
func (s *Scene) beyond(r *Ray, pdf float64, through RGB, clear bool, down float64, out *seen, smp *sampler) {
	if !clear {
		if s.Sky != nil {
			c, other := s.Sky.met(r.Dir)
			out.light = out.light.Plus(through.Through(c).Times(weight(pdf, other*s.skyChance())))
		}
		return
	}
	switch {
	case s.SkySeen && s.Sky != nil:
		out.light, out.alpha = out.light.Plus(s.Sky.Light(r.Dir)), 1
	case s.Solid:
		c := s.Backdrop
		if !s.Foot.Dark() {
			c = c.Mix(s.Foot, math.Max(0, math.Min(1, down)))
		}
		out.light, out.alpha = out.light.Plus(c), 1
	}
	if s.Catch && r.Dir.Y < 0 && r.From.Y > s.Floor {
		p := place{at: r.At((s.Floor - r.From.Y) / r.Dir.Y), face: geom.Vec3{Y: 1}, normal: geom.Vec3{Y: 1}}
		out.ground = s.falls(&p, smp)
	}
}

// falls returns the light that falls on a place from the sky and each lamp, and what would
// fall there if nothing were in between; from one direction of each.
func (s *Scene) falls(p *place, smp *sampler) (out [2]float64) {
	add := func(d geom.Vec3, far float64, c RGB) {
		w := c.Luma() * d.Y
		if !(w > 0) {
			return
		}
		out[1] += w
		if ray := s.leave(p, d, far*(1-1e-4)); !s.tree.Any(&ray) {
			out[0] += w
		}
	}
	if s.skyChance() > 0 {
		if d, pdf, light := s.Sky.sample(smp.pair()); pdf > 0 {
			add(d, math.Inf(1), light.Times(1/pdf))
		}
	}
	for _, l := range s.Lights {
		u, v := smp.pair()
		d, far, c, _ := l.toward(p.at, u, v)
		add(d, far, c)
	}
	return out
}

// weight is the power heuristic for light that was found by chance with probability pdf
// and could have been found as a lamp with probability other (Veach, 1997).
func weight(pdf, other float64) float64 {
	if math.IsInf(pdf, 1) {
		return 1
	}
	return pdf * pdf / (pdf*pdf + other*other)
}

// skyChance is how often the sky is chosen among the lights.
func (s *Scene) skyChance() float64 {
	switch {
	case s.Sky == nil || s.Sky.sum <= 0:
		return 0
	case len(s.Lights) == 0:
		return 1
	}
	return 0.5
}

// power is that of all lamps at a place.
func (s *Scene) power(at geom.Vec3) (sum float64) {
	for _, l := range s.Lights {
		sum += l.power(at)
	}
	return sum
}

// chance is how often a lamp is chosen at a place where all have the power sum.
func (s *Scene) chance(l Light, at geom.Vec3, sum float64) float64 {
	if sum <= 0 {
		return (1 - s.skyChance()) / float64(len(s.Lights))
	}
	return (1 - s.skyChance()) * l.power(at) / sum
}

// someLight chooses a light: its direction and distance, what comes from there divided by
// the probability of all choices, and that probability; infinite for lights without extent.
func (s *Scene) someLight(at geom.Vec3, smp *sampler) (dir geom.Vec3, far float64, c RGB, pdf float64) {
	pick := smp.one()
	u, v := smp.pair()
	if q := s.skyChance(); pick < q {
		d, pdf, light := s.Sky.sample(u, v)
		if pdf <= 0 {
			return d, 0, RGB{}, 0
		}
		return d, math.Inf(1), light.Times(1 / (pdf * q)), pdf * q
	}
	pick -= s.skyChance()
	sum := s.power(at)
	for i, l := range s.Lights {
		q := s.chance(l, at, sum)
		if pick >= q && i+1 < len(s.Lights) {
			pick -= q
			continue
		}
		if q <= 0 {
			break
		}
		d, far, c, pdf := l.toward(at, u, v)
		return d, far, c.Times(1 / q), pdf * q
	}
	return dir, 0, RGB{}, 0
}

// scatter adds the light that falls on a place and chooses where to go on.
func (s *Scene) scatter(r *Ray, p *place, smp *sampler, through *RGB, pdf *float64, out *seen) (next Ray, ok bool) {
	t, b := p.normal.Frame()
	into := func(d geom.Vec3) geom.Vec3 { return geom.Vec3{X: d.Dot(t), Y: d.Dot(b), Z: d.Dot(p.normal)} }
	from := func(d geom.Vec3) geom.Vec3 { return t.Times(d.X).Plus(d.Y, b).Plus(d.Z, p.normal) }
	wo := into(r.Dir.Times(-1))
	l := p.material.seenFrom(wo)
	if c := p.material.Clear * (1 - p.material.Metal); c > 0 || p.inside {
		if q := l.overBase * (1 - l.lacquer) * c; p.inside || smp.one() < q {
			return s.pass(r, p, &l, smp, from, through, pdf)
		}
		*through = through.Times(1 / (1 - l.overBase*(1-l.lacquer)*c))
	}
	d, far, c, probable := s.someLight(p.at, smp)
	if wi := into(d); !c.Dark() && wi.Z > 0 && d.Dot(p.face) > 0 {
		f, other := l.reflects(wi)
		if !math.IsInf(probable, 1) {
			f = f.Times(weight(probable, other))
		}
		if f = f.Through(c); !f.Dark() {
			ray := s.leave(p, d, far*(1-1e-4))
			out.light = out.light.Plus(through.Through(f).Through(s.open(&ray)))
		}
	}
	pick := smp.one()
	u, v := smp.pair()
	wi := l.sample(pick, u, v)
	dir := from(wi)
	f, probability := l.reflects(wi)
	if probability <= 0 || dir.Dot(p.face) <= 0 {
		return next, false
	}
	*through = through.Through(f.Times(1 / probability))
	*pdf = probability
	return s.leave(p, dir, math.Inf(1)), !through.Dark()
}

// pass goes through a clear surface, or is thrown back into it.
func (s *Scene) pass(
	r *Ray, p *place, l *layers, smp *sampler, from func(geom.Vec3) geom.Vec3, through *RGB, pdf *float64,
) (Ray, bool) {
	const index = 1.5
	u, v := smp.pair()
	h := seenNormal(l.wo, l.alpha, u, v)
	eta := index
	if p.inside {
		eta = 1 / index
	}
	*pdf = math.Inf(1)
	wi, ok := bent(l.wo, h, eta)
	if p.inside && ok { // the outside has split off its own reflection before
		cos := -wi.Z
		ok = smp.one() >= plain+(1-plain)*schlick(cos)
	}
	if !ok {
		wi = mirrored(l.wo, h)
		if wi.Z <= 0 {
			return Ray{}, false
		}
		return s.leave(p, from(wi), math.Inf(1)), true
	}
	if wi.Z >= 0 {
		return Ray{}, false
	}
	if !p.inside {
		*through = through.Through(p.material.Base)
	}
	return s.leave(p, from(wi), math.Inf(1)), true
}

// open returns how much of the light along a ray gets through: clear things colour it.
func (s *Scene) open(r *Ray) RGB {
	out := RGB{1, 1, 1}
	if !s.clear {
		if s.tree.Any(r) {
			return RGB{}
		}
		return out
	}
	for range 16 {
		h, ok := s.tree.First(r)
		if !ok {
			return out
		}
		m := &s.Surfaces[s.owner[h.ID]].Material
		k := m.Clear * (1 - m.Metal)
		if k <= 0 {
			return RGB{}
		}
		for i := range out { // once on the way in and once on the way out
			out[i] *= k * math.Sqrt(m.Base[i]) * (1 - plain)
		}
		from := h.Dist + s.eps
		r.From, r.Far = r.At(from), r.Far-from
	}
	return RGB{}
}
