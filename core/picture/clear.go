package picture

import (
	"math"

	"bildhauer/core/geom"
)

// What lets light through is of two kinds: solid, where it is bent at the surface and takes on the colour by the
// way it goes inside, or thin, where it goes straight on.
//
// Either rays or shadow rays carry light through, never both: that of lamps and of what glows goes straight
// through to places that are lit (open), so that it is found without chance; that from all around, and whatever is
// seen through clear things, by rays that are bent (pass). Light that is gathered by a lens to a bright spot is
// spread out with that, its sum stays.

// clearness returns how much of what reaches a surface goes into it, but for its gloss.
func (m *Material) clearness() float64 { return m.Clear * (1 - m.Metal) }

// usualDeep is Material.Deep where nobody has chosen one, mm.
const usualDeep = 5

// within returns what is left of light that has gone so many mm inside.
func (m *Material) within(far float64) RGB { return m.Base.after(far, m.deep()) }

// Inside returns after how many mm of way inside light has the colour of the material; 0 where it is thin.
func (m *Material) Inside() float64 {
	if m.Thin {
		return 0
	}
	return m.deep()
}

func (m *Material) deep() float64 {
	if m.Deep > 0 {
		return m.Deep
	}
	return usualDeep
}

// after returns what is left of light after some way through something that has the colour c after the way deep
// (Beer's law).
func (c RGB) after(far, deep float64) (out RGB) {
	for i := range out {
		if b := c[i]; b >= 1 {
			out[i] = 1
		} else {
			out[i] = math.Pow(math.Max(b, 1e-6), far/deep)
		}
	}
	return out
}

// bent returns where light from wo goes behind a surface with the relative index eta, by
// Snell's law about normal h; ok is false where it is reflected wholly.
func bent(wo, h geom.Vec3, eta float64) (wi geom.Vec3, ok bool) {
	c := wo.Dot(h)
	k := 1 - (1-c*c)/(eta*eta)
	if k < 0 {
		return geom.Vec3{}, false
	}
	return h.Times(c/eta - math.Sqrt(k)).Sub(wo.Times(1 / eta)), true
}

// pass goes through a clear surface, or is thrown back into it. dir is where it goes on, in the frame of the
// surface; ok is false where it ends.
func (w *path) pass(l *layers) (dir geom.Vec3, through, ok bool) {
	m := w.at.material
	if m.Thin {
		// Both sides of a thin wall share one gloss; light on its way out is split there as on its way in.
		if w.at.inside && w.smp.one() < l.f.at(l.wo.Z) {
			return mirrored(l.wo, geom.Vec3{Z: 1}), false, true
		}
		w.through = w.through.Through(m.Base)
		return l.wo.Times(-1), true, true
	}
	u, v := w.smp.pair()
	h := seenNormal(l.wo, l.alpha, u, v)
	eta := m.index()
	if w.at.inside {
		eta = 1 / eta
	}
	wi, ok := bent(l.wo, h, eta)
	if w.at.inside && ok { // the outside has split off its own reflection before
		ok = w.smp.one() >= l.f.at(-wi.Z)
	}
	// What small slopes would send to the wrong side meets others; it goes the way of a smooth surface.
	if !ok {
		if wi = mirrored(l.wo, h); wi.Z <= 0 {
			wi = mirrored(l.wo, geom.Vec3{Z: 1})
		}
		return wi, false, true
	}
	if wi.Z >= 0 {
		if wi, ok = bent(l.wo, geom.Vec3{Z: 1}, eta); !ok {
			return mirrored(l.wo, geom.Vec3{Z: 1}), false, true
		}
	}
	// Light is denser inside, by the square of the index (Veach, 1997, 5.2).
	w.through = w.through.Times(1 / (eta * eta))
	w.dense *= eta * eta
	w.tint, w.deep = m.Base, 0
	if !w.at.inside {
		w.deep = m.deep()
	}
	return wi, true, true
}

// mostClear bounds how many surfaces a shadow ray goes through.
const mostClear = 32

// open returns how much of the light along a ray gets through: clear things colour it. It begins on a surface;
// inside what, if anything, the first surface that it meets from within tells.
func (s *Scene) open(r *Ray, m *Moment, o *searches) RGB {
	out := RGB{1, 1, 1}
	if !s.clear {
		if _, found := s.first(r, m, o, true); found {
			return RGB{}
		}
		return out
	}
	last := 0.0 // where the surface before was
	gone := 0.0
	for range mostClear {
		h, ok := s.first(r, m, o, false)
		if !ok {
			return out
		}
		p := &s.parts[h.part]
		mat := &p.looks[p.form.look(h.slot)].Material
		k := mat.clearness()
		if k <= 0 {
			return RGB{}
		}
		face := p.faceOf(&h, m)
		cos := -face.Dot(r.Dir)
		at := gone + h.Dist
		switch {
		case mat.Thin:
			out = out.Through(mat.Base).Times(k * (1 - mat.fresnel().at(math.Abs(cos))))
		case cos > 0: // into it
			out = out.Times(k * (1 - mat.fresnel().at(cos)))
		default: // out of it
			out = out.Through(mat.within(at - last)).Times(1 - mat.fresnel().at(-cos))
		}
		last = at
		from := h.Dist + s.eps
		gone += from
		r.From, r.Far = r.At(from), r.Far-from
		if r.Far <= 0 {
			return out
		}
	}
	return RGB{}
}

// faceOf returns the normal of the triangle that was met.
func (p *part) faceOf(h *met, m *Moment) geom.Vec3 {
	t := &p.form.tree.tris[h.slot]
	a := t.corner(0)
	n := t.corner(1).Sub(a).Cross(t.corner(2).Sub(a)).Unit()
	if pose := m.pose(p); pose != nil {
		return pose.Turned(n)
	}
	return n
}
