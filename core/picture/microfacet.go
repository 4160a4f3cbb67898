package picture

import (
	"math"
	"sync"

	"bildhauer/core/geom"
)

// Rough surfaces are small mirrors whose slopes are distributed after Trowbridge and
// Reitz (GGX; Walter and others, Microfacet models for refraction, 2007), masked after
// Smith, sampled by those that are seen (Heitz, Sampling the GGX distribution of visible
// normals, 2018). Directions are in the frame of the surface, z its normal; alpha is the
// roughness squared.

// sharpest is the least alpha: below it single precision no longer tells its peak.
const sharpest = 1e-3

// alphaOf returns alpha of a roughness from 0 to 1.
func alphaOf(rough float64) float64 { return math.Max(sharpest, rough*rough) }

// density is the distribution of normals.
func density(h geom.Vec3, alpha float64) float64 {
	c2 := h.Z * h.Z
	d := c2*(alpha*alpha-1) + 1
	return alpha * alpha / (math.Pi * d * d)
}

// lambda is Smith's auxiliary function.
func lambda(w geom.Vec3, alpha float64) float64 {
	c2 := w.Z * w.Z
	if c2 >= 1 {
		return 0
	}
	return (math.Sqrt(1+alpha*alpha*(1-c2)/c2) - 1) / 2
}

// seenNormal returns a normal as often as it is seen from wo.
func seenNormal(wo geom.Vec3, alpha, u, v float64) geom.Vec3 {
	s := geom.Vec3{X: alpha * wo.X, Y: alpha * wo.Y, Z: wo.Z}.Unit()
	t1 := geom.Vec3{X: 1}
	if l := s.X*s.X + s.Y*s.Y; l > 0 {
		t1 = geom.Vec3{X: -s.Y, Y: s.X}.Times(1 / math.Sqrt(l))
	}
	t2 := s.Cross(t1)
	r := math.Sqrt(u)
	sin, cos := math.Sincos(2 * math.Pi * v)
	p1, p2 := r*cos, r*sin
	k := (1 + s.Z) / 2
	p2 = (1-k)*math.Sqrt(math.Max(0, 1-p1*p1)) + k*p2
	n := t1.Times(p1).Plus(p2, t2).Plus(math.Sqrt(math.Max(0, 1-p1*p1-p2*p2)), s)
	return geom.Vec3{X: alpha * n.X, Y: alpha * n.Y, Z: math.Max(0, n.Z)}.Unit()
}

// seenPDF is the probability of wi as mirrored by a normal that seenNormal gives.
func seenPDF(wo, wi geom.Vec3, alpha float64) float64 {
	h := wo.Add(wi).Unit()
	return density(h, alpha) / (1 + lambda(wo, alpha)) / (4 * wo.Z)
}

// gloss is the reflection of mirrors that lose nothing, without their cosine.
func gloss(wo, wi, h geom.Vec3, alpha float64) float64 {
	return density(h, alpha) / (1 + lambda(wo, alpha) + lambda(wi, alpha)) / (4 * wo.Z * wi.Z)
}

// schlick is how much more a mirror reflects at an angle (Schlick, 1994): 0 seen from
// straight above, 1 at grazing angles.
func schlick(cos float64) float64 {
	m := math.Max(0, 1-cos)
	m2 := m * m
	return m2 * m2 * m
}

// usualIndex is the index of refraction of lacquer, glass and resins.
const usualIndex = 1.5

// plain is what clear lacquer reflects seen from straight above, at an index of 1.5.
const plain = 0.04

// fresnel is what a surface that is no metal reflects, seen from straight above and at grazing angles.
type fresnel struct{ plain, grazing float64 }

// fresnelOf returns that of an index of refraction. Near 1 nothing is reflected any more, at grazing angles
// neither: these lose it from a twenty-fifth of it on, which is that of 1.5.
func fresnelOf(index float64) fresnel {
	k := (index - 1) / (index + 1)
	return fresnel{k * k, math.Min(1, 25*k*k)}
}

// at returns the share that is reflected, by the cosine outside (Schlick, 1994).
func (f fresnel) at(cos float64) float64 { return f.plain + (f.grazing-f.plain)*schlick(cos) }

// energies holds what is reflected in all directions together, by the cosine of wo and by
// roughness: of mirrors that lose nothing, and how much of that at grazing angles. What is missing to one has met
// several small mirrors.
type energies struct {
	mirror, grazing         [energyRows][energyRows]float64
	mirrorMean, grazingMean [energyRows]float64
}

// lacquer returns what a gloss over something else reflects together.
func (e *energies) lacquer(f fresnel, z, rough float64) float64 {
	s := lookUp(&e.grazing, z, rough)
	return f.plain*(lookUp(&e.mirror, z, rough)-s) + f.grazing*s
}

func (e *energies) lacquerMean(f fresnel, rough float64) float64 {
	s := lookUpMean(&e.grazingMean, rough)
	return f.plain*(lookUpMean(&e.mirrorMean, rough)-s) + f.grazing*s
}

// energyRows is the resolution of the tables: enough for TestWhiteSurfacesLoseNothing.
const energyRows = 32

// energySamples is how many directions a figure is the mean of.
const energySamples = 512

var energyTables = sync.OnceValue(func() *energies {
	e := &energies{}
	for j := range energyRows {
		alpha := alphaOf(float64(j) / (energyRows - 1))
		for i := range energyRows {
			z := math.Max(1e-3, float64(i)/(energyRows-1))
			wo := geom.Vec3{X: math.Sqrt(1 - z*z), Z: z}
			for k := range uint32(energySamples) {
				u, v := (float64(k)+0.5)/energySamples, unit(second(k))
				h := seenNormal(wo, alpha, u, v)
				wi := h.Times(2 * wo.Dot(h)).Sub(wo)
				if wi.Z <= 0 {
					continue
				}
				g := (1 + lambda(wo, alpha)) / (1 + lambda(wo, alpha) + lambda(wi, alpha))
				e.mirror[j][i] += g / energySamples
				e.grazing[j][i] += g * schlick(wo.Dot(h)) / energySamples
			}
		}
		e.mirrorMean[j], e.grazingMean[j] = meanOver(&e.mirror[j]), meanOver(&e.grazing[j])
	}
	return e
})

// Reflected is what white facets reflect of even light, for views that do not follow light: rows by roughness from
// 0 to 1, in each by the cosine of the eye from 0 to 1, how much is reflected head-on and how much is added at
// grazing angles.
func Reflected(side int) [][][2]float64 {
	e := energyTables()
	out := make([][][2]float64, side)
	for j := range out {
		for i := range side {
			z, rough := float64(i)/float64(side-1), float64(j)/float64(side-1)
			s := lookUp(&e.grazing, z, rough)
			out[j] = append(out[j], [2]float64{lookUp(&e.mirror, z, rough) - s, s})
		}
	}
	return out
}

// meanOver returns the mean over a half sphere, weighed by the cosine.
func meanOver(row *[energyRows]float64) float64 {
	sum := 0.0
	for i := range energyRows - 1 {
		a, b := float64(i)/(energyRows-1), float64(i+1)/(energyRows-1)
		// The integral of a line times 2 z.
		f, g := row[i], row[i+1]
		sum += (b - a) * (a*(2*f+g) + b*(f+2*g)) / 3
	}
	return sum
}

// lookUp interpolates a table.
func lookUp(t *[energyRows][energyRows]float64, z, rough float64) float64 {
	x, y := z*(energyRows-1), rough*(energyRows-1)
	i, j := min(int(x), energyRows-2), min(int(y), energyRows-2)
	u, v := x-float64(i), y-float64(j)
	return (t[j][i]*(1-u)+t[j][i+1]*u)*(1-v) + (t[j+1][i]*(1-u)+t[j+1][i+1]*u)*v
}

func lookUpMean(t *[energyRows]float64, rough float64) float64 {
	y := rough * (energyRows - 1)
	j := min(int(y), energyRows-2)
	v := y - float64(j)
	return t[j]*(1-v) + t[j+1]*v
}
