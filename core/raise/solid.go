package raise

import (
	"math"

	"bildhauer/core/mesh"
)

// Spec holds the upright measures of a part, in mm.
type Spec struct {
	Depth  float64 // from back to front
	Height float64 // of the bevel; less where the depth does not allow it
	Base   float64 // z of the back
	// BackBevel bevels the back like the front.
	BackBevel bool
}

// Solid lifts a plan to a solid on a grid of step mm. It needs no new
// triangulation. Where the bevels would meet, they are lowered so that a thin
// wall remains.
func (p *Plan) Solid(spec Spec, step float64) *mesh.Mesh {
	base := int32(math.Round(spec.Base / step))
	depth := spec.depthUnits(step)
	high := p.fitHeight(spec, depth, step)
	n := int32(len(p.Pts))
	m := &mesh.Mesh{Step: step}
	tris := len(p.Tris) + len(p.Cap) + 2*len(p.Rim)
	if spec.BackBevel {
		tris += len(p.Tris) - len(p.Cap)
	}
	m.Verts = make([][3]int32, n, 2*int(n))
	m.Tris = make([][3]int32, 0, tris)
	m.Group = make([]mesh.Group, 0, tris)
	rise := make([]int32, n) // height above the rim
	for i := range rise {
		if p.Width > 0 {
			rise[i] = int32(math.Round(float64(high) * p.reach(float64(p.Dist[i])/p.Width)))
		}
	}
	for i, q := range p.Pts {
		m.Verts[i] = [3]int32{q.X, q.Y, base + depth - high + rise[i]}
	}
	plateau := uint8(len(p.Ts) - 1)
	add := func(t [3]int32, g mesh.Group) {
		m.Tris = append(m.Tris, t)
		m.Group = append(m.Group, g)
	}
	for i, t := range p.Tris {
		g := mesh.Bevel
		if p.Ring[i] == plateau {
			g = mesh.Front
		}
		add(t, g)
	}
	// The back: the whole plan mirrored, or the outline's points alone.
	back := make([]int32, n)
	if spec.BackBevel && p.Width > 0 {
		for i, q := range p.Pts {
			back[i] = n + int32(i)
			m.Verts = append(m.Verts, [3]int32{q.X, q.Y, base + high - rise[i]})
		}
		for i, t := range p.Tris {
			g := mesh.Bevel
			if p.Ring[i] == plateau {
				g = mesh.Back
			}
			add([3]int32{back[t[0]], back[t[2]], back[t[1]]}, g)
		}
	} else {
		for _, e := range p.Rim {
			back[e[0]] = int32(len(m.Verts))
			q := p.Pts[e[0]]
			m.Verts = append(m.Verts, [3]int32{q.X, q.Y, base})
		}
		for _, t := range p.Cap {
			add([3]int32{back[t[0]], back[t[2]], back[t[1]]}, mesh.Back)
		}
	}
	for _, e := range p.Rim {
		a, b := e[0], e[1]
		add([3]int32{back[a], back[b], b}, mesh.Side)
		add([3]int32{back[a], b, a}, mesh.Side)
	}
	return m
}

// thinnest is the least height of wall, in grid units, that bevels leave.
const thinnest = 32

func (p *Plan) fitHeight(spec Spec, depth int32, step float64) int32 {
	if p.Width == 0 {
		return 0
	}
	room := depth - thinnest
	if spec.BackBevel {
		room /= 2
	}
	// A height of some metres on a fine grid is beyond 32 bits: compare first.
	high := math.Min(math.Round(spec.Height/step), float64(room))
	return max(0, int32(high))
}

// depthUnits returns the depth in grid units, at least two walls of thinnest.
func (s Spec) depthUnits(step float64) int32 {
	return max(int32(math.Round(s.Depth/step)), 2*thinnest)
}

// BevelHeight returns the height in mm that the bevel has in a solid of this
// spec: less than asked for where the depth allows no more.
func (p *Plan) BevelHeight(spec Spec, step float64) float64 {
	return float64(p.fitHeight(spec, spec.depthUnits(step), step)) * step
}

// reach returns the share of the height at share t of the width, straight
// between the rings so that ridges lie on the same facets.
func (p *Plan) reach(t float64) float64 {
	for i := 1; i < len(p.Ts); i++ {
		if t <= p.Ts[i] {
			return p.Fs[i-1] + (p.Fs[i]-p.Fs[i-1])*(t-p.Ts[i-1])/(p.Ts[i]-p.Ts[i-1])
		}
	}
	return 1
}
