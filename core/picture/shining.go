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
	parts []int32   // of each triangle
	slots []int32   // and where the part's form keeps it
	sums  []float64 // of their light at rest, cumulative, from 0
	power []float64 // of each part at rest
}

// shiningNow is that at a moment.
type shiningNow struct {
	*shining
	m     *Moment
	mid   geom.Vec3
	reach float64
	all   float64 // of the light, as large as things are by now
}

// newShining returns the lamp of what glows; nil when nothing does.
func newShining(s *Scene) *shining {
	out := &shining{scene: s, sums: []float64{0}, power: make([]float64, len(s.parts))}
	for i := range s.parts {
		p := &s.parts[i]
		for slot := range p.form.tree.tris {
			power := out.luma(int32(i), int32(slot)) * p.form.tree.tris[slot].area()
			if power <= 0 {
				continue
			}
			out.power[i] += power
			out.parts, out.slots = append(out.parts, int32(i)), append(out.slots, int32(slot))
			out.sums = append(out.sums, out.sums[len(out.sums)-1]+power)
		}
	}
	if len(out.slots) == 0 {
		return nil
	}
	return out
}

// at returns the lamp as it is at a moment. For choosing among lamps the boxes of what glows are enough.
func (l *shining) at(m *Moment) *shiningNow {
	out := &shiningNow{shining: l, m: m}
	all := noBounds
	for i, power := range l.power {
		p := &l.scene.parts[i]
		size := 1.0
		if pose := m.pose(p); pose != nil {
			if size = pose.Size; !pose.Shown {
				continue
			}
		}
		if power > 0 {
			box := p.boxAt(m)
			all.join(&box)
			out.all += power * size * size
		}
	}
	if out.all > 0 {
		lo := geom.Vec3{X: float64(all[0]), Y: float64(all[1]), Z: float64(all[2])}
		hi := geom.Vec3{X: float64(all[3]), Y: float64(all[4]), Z: float64(all[5])}
		out.mid, out.reach = lo.Add(hi).Times(0.5), hi.Sub(lo).Len()/2
	}
	return out
}

func (l *shining) luma(part, slot int32) float64 {
	p := &l.scene.parts[part]
	return p.looks[p.form.look(slot)].Material.Glow.Luma()
}

// corners returns those of a triangle, how many times larger than at rest it is, and whether it is there at all.
func (l *shiningNow) corners(n int) (c [3]geom.Vec3, size float64, shown bool) {
	p := &l.scene.parts[l.parts[n]]
	tri := &p.form.tree.tris[l.slots[n]]
	pose := l.m.pose(p)
	for i := range c {
		if c[i] = tri.corner(i); pose != nil {
			c[i] = pose.At(c[i])
		}
	}
	if pose == nil {
		return c, 1, true
	}
	return c, pose.Size, pose.Shown
}

// pdf is how probable toward is to give a point of a triangle seen from so far, by
// solid angle: light is chosen by luma and area at rest, so the area's probability is luma / sum then.
func (l *shiningNow) pdf(luma, size, far, cos float64) float64 {
	if cos <= 0 || luma <= 0 {
		return 0
	}
	return luma / (l.sums[len(l.sums)-1] * size * size) * far * far / cos
}

func (l *shiningNow) toward(at geom.Vec3, u, v float64) (geom.Vec3, float64, RGB, float64) {
	pick := u * l.sums[len(l.sums)-1]
	n := sort.Search(len(l.slots)-1, func(i int) bool { return l.sums[i+1] > pick })
	u = math.Min(1, (pick-l.sums[n])/(l.sums[n+1]-l.sums[n])) // what is left of the number is one again
	c, size, shown := l.corners(n)
	k := math.Sqrt(u)
	to := c[0].Times(1-k).Plus(k*(1-v), c[1]).Plus(k*v, c[2]).Sub(at)
	far := to.Len()
	d := to.Times(1 / far)
	cos := -d.Dot(c[1].Sub(c[0]).Cross(c[2].Sub(c[0])).Unit())
	pdf := l.pdf(l.luma(l.parts[n], l.slots[n]), size, far, cos)
	if pdf <= 0 || !shown {
		return d, far, RGB{}, 0
	}
	p := &l.scene.parts[l.parts[n]]
	return d, far, p.looks[p.form.look(l.slots[n])].Material.Glow.Times(1 / pdf), pdf
}

// met is never asked: what glows is met as a surface.
func (l *shiningNow) met(*Ray) (float64, RGB, float64, bool) { return 0, RGB{}, 0, false }

func (l *shiningNow) power(at geom.Vec3) (float64, geom.Vec3) {
	d := l.mid.Sub(at)
	far := d.Len()
	// Within its reach it is all around.
	return math.Pi * l.all / (far*far + l.reach*l.reach), d.Times(1 / math.Max(far, l.reach))
}
