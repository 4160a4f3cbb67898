package picture

import (
	"math"
	"sort"

	"bildhauer/core/geom"
)

// shining is all triangles that give off light, as one lamp: triangles are chosen by how
// much they give off (Pharr, Jakob, Humphreys, Physically based rendering, 2016, 14.3).
type shining struct {
	scene *Scene
	ids   []int32   // of the triangles
	sums  []float64 // of their light, cumulative, from 0
	mid   geom.Vec3
	reach float64
}

// newShining returns the lamp of what glows; nil when nothing does.
func newShining(s *Scene) *shining {
	out := &shining{scene: s, sums: []float64{0}}
	lo, hi := geom.Vec3{X: math.Inf(1), Y: math.Inf(1), Z: math.Inf(1)}, geom.Vec3{X: math.Inf(-1), Y: math.Inf(-1), Z: math.Inf(-1)}
	for id := range s.owner {
		m := &s.Surfaces[s.owner[id]].Material
		if m.Glow.Dark() {
			continue
		}
		c := s.corners(int32(id))
		power := m.Glow.Luma() * c[1].Sub(c[0]).Cross(c[2].Sub(c[0])).Len() / 2
		if power <= 0 {
			continue
		}
		out.ids, out.sums = append(out.ids, int32(id)), append(out.sums, out.sums[len(out.sums)-1]+power)
		for _, v := range c {
			lo = geom.Vec3{X: min(lo.X, v.X), Y: min(lo.Y, v.Y), Z: min(lo.Z, v.Z)}
			hi = geom.Vec3{X: max(hi.X, v.X), Y: max(hi.Y, v.Y), Z: max(hi.Z, v.Z)}
		}
	}
	if len(out.ids) == 0 {
		return nil
	}
	out.mid, out.reach = lo.Add(hi).Times(0.5), hi.Sub(lo).Len()/2
	return out
}

func (s *Scene) corners(id int32) *[3]geom.Vec3 { return &s.Surfaces[s.owner[id]].Corners[s.local[id]] }

// pdf is how probable toward is to give a point of a triangle seen from far away so far, by
// solid angle: light is chosen by luma and area, so the area's probability is luma / sum.
func (l *shining) pdf(id int32, far, cos float64) float64 {
	luma := l.scene.Surfaces[l.scene.owner[id]].Material.Glow.Luma()
	if cos <= 0 || luma <= 0 {
		return 0
	}
	return luma / l.sums[len(l.sums)-1] * far * far / cos
}

func (l *shining) toward(at geom.Vec3, u, v float64) (geom.Vec3, float64, RGB, float64) {
	pick := u * l.sums[len(l.sums)-1]
	n := sort.Search(len(l.ids)-1, func(i int) bool { return l.sums[i+1] > pick })
	u = math.Min(1, (pick-l.sums[n])/(l.sums[n+1]-l.sums[n])) // what is left of the number is one again
	id := l.ids[n]
	c := l.scene.corners(id)
	k := math.Sqrt(u)
	to := c[0].Times(1-k).Plus(k*(1-v), c[1]).Plus(k*v, c[2]).Sub(at)
	far := to.Len()
	d := to.Times(1 / far)
	cos := -d.Dot(c[1].Sub(c[0]).Cross(c[2].Sub(c[0])).Unit())
	pdf := l.pdf(id, far, cos)
	if pdf <= 0 {
		return d, far, RGB{}, 0
	}
	return d, far, l.scene.Surfaces[l.scene.owner[id]].Material.Glow.Times(1 / pdf), pdf
}

// met is never asked: what glows is met as a surface.
func (l *shining) met(*Ray) (float64, RGB, float64, bool) { return 0, RGB{}, 0, false }

func (l *shining) power(at geom.Vec3) float64 {
	d := l.mid.Sub(at)
	return math.Pi * l.sums[len(l.sums)-1] / (d.Dot(d) + l.reach*l.reach)
}
