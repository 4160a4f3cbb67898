package raise

import (
	"math"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Finish is what a solid has beyond its form.
type Finish uint8

// The finishes, each with what those before have.
const (
	Plain    Finish = iota
	Shaded          // normals
	Unrolled        // texture coordinates
)

// Surface is a height over a part of the plane: one side of a solid. It is a
// valid triangulation whose vertices stand on its points, several on a point
// where the height jumps.
type Surface struct {
	Pts    []plane.Point
	At     []int32         // of each vertex: its point; nil for one vertex a point
	Z      []int32         // of each vertex, grid units
	Tris   [][3]int32      // vertices, counter-clockwise seen from above
	Rim    [][2]int32      // the border, where it is known and every point has one vertex; else nil
	RimZ   int32           // height along the border of a lifted plan
	Group  []mesh.Group    // of each triangle
	Part   []int32         // of each triangle: whose face it is; nil when all are of part 0
	Normal [][3][3]float32 // of each corner, for shading; nil when not asked for
	UV     [][3][2]float32 // of each corner, mm; nil when not asked for
}

// point returns the number of the point that vertex v stands on.
func (s *Surface) point(v int32) int32 {
	if s.At == nil {
		return v
	}
	return s.At[v]
}

// partOf returns whose face triangle k is.
func (s *Surface) partOf(k int) int32 {
	if s.Part == nil {
		return 0
	}
	return s.Part[k]
}

// lifting says how a plan is lifted.
type lifting struct {
	zero    int32 // z of the rim, grid units
	high    int32 // what a share of 1 of the profile adds to it: negative for a back
	slope   mesh.Group
	plateau mesh.Group
	look    Finish
	crease  float64 // degrees
	step    plane.Step
	heights []rise // in place of the profile's own; nil for those
	top     float64
	poll    *progress.Poll
	below   *Surface // of the same plan, which stays higher; nil for none

	vault     []int32 // of each point: the height from ring vaultFrom on, in place of any profile's; nil for none
	vaultFrom Ring
}

// rise is what a facet climbs, as shares of the height.
type rise struct{ from, to float64 }

// rises returns the shares of the height at the ends of each facet, and beyond them.
func (p *Plan) rises(l *lifting) (list []rise, top float64) {
	if l.heights != nil {
		return l.heights, l.top
	}
	list = make([]rise, len(p.Facets))
	for i, f := range p.Facets {
		list[i] = rise{f.f0, f.f1}
	}
	return list, p.Top
}

// lift gives the plan its heights.
func (p *Plan) lift(l lifting) *Surface {
	s := &Surface{Pts: p.Pts, Group: make([]mesh.Group, len(p.Tris))}
	heights, top := p.rises(&l)
	s.RimZ = l.zero + int32(math.Round(float64(l.high)*top))
	if len(heights) > 0 {
		s.RimZ = l.zero + int32(math.Round(float64(l.high)*heights[0].from))
	}
	jumps := false
	for i, h := range heights {
		next := top
		if i+1 < len(heights) {
			next = heights[i+1].from
		}
		jumps = jumps || h.to != next
		if p.Facets[i].t0 == 0 && i > 0 {
			jumps = true
		}
	}
	plateau, dome := Ring(len(p.Facets)), p.domedBy(&l)
	z := func(k int, corner int) int32 {
		share := top
		if l.vault != nil && p.Ring[k] >= l.vaultFrom {
			return min(l.zero+l.vault[p.Tris[k][corner]], l.below.Z[l.below.Tris[k][corner]]-thinnest)
		}
		if dome {
			share = float64(p.Dome[p.Tris[k][corner]])
		} else if ring := p.Ring[k]; ring < plateau {
			h := heights[ring]
			share = h.from + (h.to-h.from)*p.share(p.Tris[k][corner], ring)
		}
		high := l.zero + int32(math.Round(float64(l.high)*share))
		if l.below != nil {
			high = min(high, l.below.Z[l.below.Tris[k][corner]]-thinnest)
		}
		return high
	}
	if jumps || l.below != nil {
		s.split(p, z)
	} else {
		s.Rim, s.Tris, s.Z = p.Rim, p.Tris, make([]int32, len(p.Pts))
		done := make([]bool, len(p.Pts))
		for k, t := range p.Tris {
			l.poll.Tick()
			for j, v := range t {
				if !done[v] {
					s.Z[v], done[v] = z(k, j), true
				}
			}
		}
	}
	l.poll.Look()
	for i, r := range p.Ring {
		s.Group[i] = l.slope
		if r >= plateau {
			s.Group[i] = l.plateau
		}
	}
	if l.look >= Shaded {
		switch {
		case l.vault != nil:
			s.Normal = p.shadeVault(&l)
		case dome:
			s.Normal = p.shadeDome(&l)
		default:
			s.Normal = p.shade(&l)
		}
	}
	l.poll.Look()
	if l.look >= Unrolled {
		if dome || l.vault != nil {
			s.UV = s.flatUV(l.step)
		} else {
			s.UV = p.unroll(&l, l.step)
		}
	}
	return s
}

// share returns how far along a facet, from 0 to 1, a point lies.
func (p *Plan) share(v int32, ring Ring) float64 {
	f := &p.Facets[ring]
	s := (float64(p.Dist[v])/float64(p.Width) - f.t0) / (f.t1 - f.t0)
	return math.Max(0, math.Min(1, s))
}

// split makes a vertex for each height that a point has.
func (s *Surface) split(p *Plan, z func(k, corner int) int32) {
	first := make([]int32, len(p.Pts)) // vertex of a point, +1
	next := make([]int32, 0, len(p.Pts))
	s.Tris = make([][3]int32, len(p.Tris))
	for i, t := range p.Tris {
		for j, v := range t {
			h := z(i, j)
			at := first[v]
			for at != 0 && s.Z[at-1] != h {
				at = next[at-1]
			}
			if at == 0 {
				s.Z, s.At, next = append(s.Z, h), append(s.At, v), append(next, first[v])
				at = int32(len(s.Z))
				first[v] = at
			}
			s.Tris[i][j] = at - 1
		}
	}
}

// flat is the outline alone at one height.
func (p *Plan) flatSurface(z int32, g mesh.Group, look Finish, step plane.Step) *Surface {
	num := make([]int32, len(p.Pts))
	s := &Surface{RimZ: z, Tris: make([][3]int32, len(p.Cap)), Group: make([]mesh.Group, len(p.Cap))}
	for _, e := range p.Rim {
		s.Pts = append(s.Pts, p.Pts[e[0]])
		s.Z = append(s.Z, z)
		num[e[0]] = int32(len(s.Pts)) - 1
	}
	s.Rim = make([][2]int32, len(p.Rim))
	for i, e := range p.Rim {
		s.Rim[i] = [2]int32{num[e[0]], num[e[1]]}
	}
	for i, t := range p.Cap {
		for j, v := range t {
			if num[v] == 0 && (len(p.Rim) == 0 || v != p.Rim[0][0]) { // inside of the cap
				s.Pts, s.Z = append(s.Pts, p.Pts[v]), append(s.Z, z)
				num[v] = int32(len(s.Pts)) - 1
			}
			s.Tris[i][j] = num[v]
		}
		s.Group[i] = g
	}
	if look >= Shaded {
		level := [3]float32{0, 0, 1}
		s.Normal = make([][3][3]float32, len(p.Cap))
		for i := range s.Normal {
			s.Normal[i] = [3][3]float32{level, level, level}
		}
	}
	if look >= Unrolled {
		s.UV = s.flatUV(step)
	}
	return s
}
