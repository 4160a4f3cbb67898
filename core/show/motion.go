package show

import (
	"math"
	"sort"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// eased returns how far one is along the way between two keys, s from 0 to 1.
func eased(ease string, s float64) float64 {
	switch ease {
	case "hold":
		return 0
	case "even":
		return s
	case "soft in":
		return s * s * (2 - s) // starts at rest, arrives at full speed
	case "soft out":
		return 1 - eased("soft in", 1-s)
	case "overshoot":
		// A cubic that starts at full speed, passes the end by a tenth and comes back to it.
		const k = 1.70158
		r := s - 1
		return r*r*((k+1)*r+k) + 1
	}
	return s * s * (3 - 2*s)
}

// valueAt returns a track's value at a frame: that of its first key before it, of its last
// after it.
func valueAt(t *recipe.Track, frame float64) float64 {
	i := sort.Search(len(t.Keys), func(i int) bool { return t.Keys[i].Frame > frame })
	switch {
	case i == 0:
		return t.Keys[0].Value
	case i == len(t.Keys):
		return t.Keys[i-1].Value
	}
	a, b := &t.Keys[i-1], &t.Keys[i]
	return a.Value + (b.Value-a.Value)*eased(a.Ease, (frame-a.Frame)/(b.Frame-a.Frame))
}

// moment is all figures that move, at one frame.
type moment map[[2]string]float64

func momentOf(m *recipe.Motion, frame float64) moment {
	out := moment{}
	for i := range m.Tracks {
		t := &m.Tracks[i]
		out[[2]string{t.Of, t.What}] += valueAt(t, frame)
	}
	return out
}

// of returns a figure, or a value where nothing moves it.
func (m moment) of(who, what string, rest float64) float64 {
	if v, ok := m[[2]string{who, what}]; ok {
		return v
	}
	return rest
}

// pose is where something has moved: first larger, then turned about its own middle, then
// carried on.
type pose struct {
	mid, by    geom.Vec3
	turn       [3]geom.Vec3 // rows of the rotation
	size       float64
	shown, out bool // out: it is where it was
}

// poseOf returns the pose of a part, or of the piece, whose middle at rest is mid.
func (m moment) poseOf(who string, mid geom.Vec3) pose {
	p := pose{mid: mid, size: m.of(who, "size", 1), shown: m.of(who, "shown", 1) >= 0.5}
	p.by = geom.Vec3{X: m.of(who, "right", 0), Y: m.of(who, "up", 0), Z: m.of(who, "ahead", 0)}
	p.turn = rotation(m.of(who, "turn", 0), m.of(who, "tilt", 0), m.of(who, "lean", 0))
	p.out = p.size == 1 && p.by == geom.Vec3{} && p.turn == rotation(0, 0, 0)
	return p
}

// rotation turns about the upright axis, after tilting forward, after leaning to the right;
// degrees.
func rotation(turn, tilt, lean float64) [3]geom.Vec3 {
	st, ct := math.Sincos(turn * math.Pi / 180)
	sx, cx := math.Sincos(tilt * math.Pi / 180)
	sz, cz := math.Sincos(-lean * math.Pi / 180)
	// The columns of Ry Rx Rz, as rows.
	return [3]geom.Vec3{
		{X: ct*cz + st*sx*sz, Y: -ct*sz + st*sx*cz, Z: st * cx},
		{X: cx * sz, Y: cx * cz, Z: -sx},
		{X: -st*cz + ct*sx*sz, Y: st*sz + ct*sx*cz, Z: ct * cx},
	}
}

func (p *pose) turned(v geom.Vec3) geom.Vec3 {
	return geom.Vec3{X: p.turn[0].Dot(v), Y: p.turn[1].Dot(v), Z: p.turn[2].Dot(v)}
}

func (p *pose) at(v geom.Vec3) geom.Vec3 {
	return p.turned(v.Sub(p.mid).Times(p.size)).Add(p.mid).Add(p.by)
}

// move carries surfaces to where they are.
func (p *pose) move(list []picture.Surface) []picture.Surface {
	if !p.shown {
		return nil
	}
	if p.out {
		return list
	}
	for i := range list {
		for k := range list[i].Corners {
			for c := range 3 {
				list[i].Corners[k][c] = p.at(list[i].Corners[k][c])
				list[i].Normals[k][c] = p.turned(list[i].Normals[k][c])
			}
		}
	}
	return list
}

// scene returns the decisions about a scene with what moves in them.
func (m moment) scene(s recipe.Scene, reach float64) recipe.Scene {
	c := &s.Camera
	if *c == (recipe.Camera{Aspect: c.Aspect}) {
		c.Turn, c.Height = fromTheSide.Turn, fromTheSide.Height
	}
	c.Turn += m.of(recipe.OfCamera, "turn", 0)
	c.Height = math.Max(-90, math.Min(90, c.Height+m.of(recipe.OfCamera, "height", 0)))
	c.Level += m.of(recipe.OfCamera, "level", 0)
	c.Focal = math.Max(8, c.Lens()+m.of(recipe.OfCamera, "focal", 0))
	s.Exposure += m.of(recipe.OfScene, "exposure", 0)
	if len(s.Lamps) == 0 {
		s.Lamps = Setting(s.Setting, reach)
	} else {
		s.Lamps = append([]recipe.Lamp(nil), s.Lamps...)
	}
	for i := range s.Lamps {
		l := &s.Lamps[i]
		l.Strength += m.of(l.Name, "strength", 0)
		for k, what := range []string{"right", "up", "ahead"} {
			l.At[k] += m.of(l.Name, what, 0)
		}
	}
	return s
}
