package picture

import (
	"math"

	"bildhauer/core/geom"
)

// Material is how a surface treats light, in the terms of glTF's metal and roughness
// (Khronos, glTF 2.0, appendix B), with a coat of lacquer, glow, and clearness.
type Material struct {
	Base      RGB     // reflected by matt places and by metal
	Metal     float64 // 0 to 1
	Rough     float64 // 0 to 1
	Coat      float64 // of lacquer, 0 to 1
	CoatRough float64
	Glow      RGB     // light given off
	Clear     float64 // how much of what is not metal is let through, 0 to 1
	Index     float64 // of refraction; 0 for the usual one
	Deep      float64 // mm of way inside after which light that is let through has the colour Base
	Thin      bool    // walls without an inside: light goes straight on, and has the colour at once
	Grain     Grain
	Drawn     func(rest geom.Vec3) RGB // Base by place at rest; nil for the same everywhere
}

// varnish is the gloss of coats.
var varnish = fresnelOf(usualIndex)

// index returns the index of refraction.
func (m *Material) index() float64 {
	if m.Index < 1 {
		return usualIndex
	}
	return m.Index
}

func (m *Material) fresnel() fresnel { return fresnelOf(m.index()) }

// layers is a material seen from a direction wo, in the frame of the surface.
type layers struct {
	m           *Material
	wo          geom.Vec3
	alpha, coat float64 // of both glosses
	e           *energies
	f           fresnel

	// What the layers reflect seen from wo.
	overBase float64 // share that gets past the coat
	mirror   float64
	lacquer  float64
	// How often each lobe is sampled: coat, gloss, matt.
	often [3]float64
}

func (m *Material) seenFrom(wo geom.Vec3) layers {
	l := layers{m: m, wo: wo, alpha: alphaOf(m.Rough), coat: alphaOf(m.CoatRough), e: energyTables(), f: m.fresnel()}
	coated := 0.0
	if m.Coat > 0 {
		coated = m.Coat * l.e.lacquer(varnish, wo.Z, m.CoatRough)
	}
	l.overBase = 1 - coated
	l.mirror = lookUp(&l.e.mirror, wo.Z, m.Rough)
	l.lacquer = l.e.lacquer(l.f, wo.Z, m.Rough)
	solid := 1 - m.Clear
	gloss := m.Metal*math.Max(m.Base.Luma(), plain) + (1-m.Metal)*l.lacquer
	matt := (1-m.Metal)*solid*(1-l.lacquer)*math.Max(0.05, m.Base.Luma()) + m.Metal*(1-l.mirror)
	l.often = [3]float64{coated, l.overBase * gloss, l.overBase * matt}
	sum := l.often[0] + l.often[1] + l.often[2]
	for i := range l.often {
		l.often[i] /= sum
	}
	return l
}

// reflects returns the light that comes from wi and goes to wo, as a share, times the
// cosine of wi, and how probably sample gives wi.
func (l *layers) reflects(wi geom.Vec3) (f RGB, pdf float64) {
	if wi.Z <= 0 || l.wo.Z <= 0 {
		return RGB{}, 0
	}
	m := l.m
	h := l.wo.Add(wi).Unit()
	grazing := schlick(wi.Dot(h))
	g := gloss(l.wo, wi, h, l.alpha)
	// Metal: mirrors of its colour, and what met several of them (Kulla, Conty,
	// Revisiting physically based shading at Imageworks, 2017).
	mirrorIn, mean := lookUp(&l.e.mirror, wi.Z, m.Rough), lookUpMean(&l.e.mirrorMean, m.Rough)
	again := 0.0
	if mean < 1-1e-4 {
		again = (1 - l.mirror) * (1 - mirrorIn) / (math.Pi * (1 - mean))
	}
	lacquerIn, lacquerMean := l.e.lacquer(l.f, wi.Z, m.Rough), l.e.lacquerMean(l.f, m.Rough)
	matt := (1 - l.lacquer) * (1 - lacquerIn) / (math.Pi * (1 - lacquerMean)) * (1 - m.Clear)
	for i := range f {
		metal := g*(m.Base[i]+(1-m.Base[i])*grazing) + again*severalTimes(m.Base[i], mean)
		other := g*(l.f.plain+(l.f.grazing-l.f.plain)*grazing) + matt*m.Base[i]
		f[i] = m.Metal*metal + (1-m.Metal)*other
	}
	pdf = l.often[1]*seenPDF(l.wo, wi, l.alpha) + l.often[2]*wi.Z/math.Pi
	if m.Coat > 0 {
		// What is below gets all that the coat does not reflect, whatever it is: light
		// is kept, though not the same both ways.
		c := m.Coat * gloss(l.wo, wi, h, l.coat) * varnish.at(wi.Dot(h))
		f = f.Times(l.overBase).Plus(RGB{c, c, c})
		pdf += l.often[0] * seenPDF(l.wo, wi, l.coat)
	}
	return f.Times(wi.Z), pdf
}

// severalTimes returns what is left of light that met several mirrors of a colour: the sum
// of a geometric series, mean being how much of it leaves each time.
func severalTimes(base, mean float64) float64 {
	once := base + (1-base)/21 // Schlick's term, averaged over the half sphere
	return once * once * mean / (1 - once*(1-mean))
}

// sample returns a direction of reflection. What the material lets through is not in it.
func (l *layers) sample(pick, u, v float64) geom.Vec3 {
	switch {
	case pick < l.often[0]:
		return mirrored(l.wo, seenNormal(l.wo, l.coat, u, v))
	case pick < l.often[0]+l.often[1]:
		return mirrored(l.wo, seenNormal(l.wo, l.alpha, u, v))
	}
	return cosine(geom.Vec3{Z: 1}, u, v)
}

func mirrored(wo, h geom.Vec3) geom.Vec3 { return h.Times(2 * wo.Dot(h)).Sub(wo) }
