package picture

import (
	"math"

	"bildhauer/core/geom"
)

// Grain is a fine relief of a surface, by formula and in mm: noise that bends its normals.
type Grain struct {
	Size    float64   // of a grain, mm; 0 for none
	Along   geom.Vec3 // the direction of scratches, of length 1; zero for grains
	Stretch float64   // how many times longer than wide scratches are
}

// grainSteep is the steepest slope of grains: what brings a roughness of 0.2 to some 0.35.
const grainSteep = 0.16

// bent returns a normal bent by the grain at a place at rest.
func (g *Grain) bent(at, normal geom.Vec3) geom.Vec3 {
	if g.Along != (geom.Vec3{}) { // scratches: the same for a long way along them
		at = at.Plus(g.Along.Dot(at)*(1/g.Stretch-1), g.Along)
	}
	at = at.Times(1 / g.Size)
	const d = 0.35
	here := noise(at)
	slope := geom.Vec3{
		X: noise(at.Add(geom.Vec3{X: d})) - here, Y: noise(at.Add(geom.Vec3{Y: d})) - here, Z: noise(at.Add(geom.Vec3{Z: d})) - here,
	}.Times(grainSteep / d)
	slope = slope.Plus(-slope.Dot(normal), normal)
	if g.Along != (geom.Vec3{}) {
		slope = slope.Plus(-slope.Dot(g.Along), g.Along)
	}
	return normal.Sub(slope).Unit()
}

// noise is smooth noise from -1 to 1: values at whole places, mixed between them (value
// noise; Ebert and others, Texturing and modeling, 2003, chapter 2).
func noise(p geom.Vec3) float64 {
	x, y, z := math.Floor(p.X), math.Floor(p.Y), math.Floor(p.Z)
	u, v, w := smooth(p.X-x), smooth(p.Y-y), smooth(p.Z-z)
	at := func(i, j, k int32) float64 { return lattice(int32(x)+i, int32(y)+j, int32(z)+k) }
	row := func(j, k int32) float64 { return at(0, j, k)*(1-u) + at(1, j, k)*u }
	layer := func(k int32) float64 { return row(0, k)*(1-v) + row(1, k)*v }
	return layer(0)*(1-w) + layer(1)*w
}

func smooth(t float64) float64 { return t * t * (3 - 2*t) }

// lattice is a number from -1 to 1 for a whole place.
func lattice(x, y, z int32) float64 {
	h := uint32(x)*0x8da6b343 ^ uint32(y)*0xd8163841 ^ uint32(z)*0xcb1ab31f
	h ^= h >> 16
	h *= 0x7feb352d
	h ^= h >> 15
	h *= 0x846ca68b
	h ^= h >> 16
	return float64(h)/(1<<31) - 1
}
