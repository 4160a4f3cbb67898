package show

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// still is the pose of what has not moved.
var still = picture.Pose{Rows: rotation(0, 0, 0), Size: 1, Shown: true}

// about is a rotation about a place.
func about(rows [3]geom.Vec3, mid geom.Vec3, size float64) picture.Pose {
	p := picture.Pose{Rows: rows, Size: size, Shown: true}
	p.By = mid.Sub(p.At(mid))
	return p
}

// poseOf returns the pose of a part, or of the piece, that fills a box at rest: first
// larger and turned about its own middle or its pivot, then swung about its left edge, then carried on.
func (m moment) poseOf(who string, b *box) picture.Pose {
	turn := rotation(m.of(who, "turn", 0), m.of(who, "tilt", 0), m.of(who, "lean", 0))
	pivot := b.middle().Add(geom.Vec3{X: m.of(who, "pivot right", 0), Y: m.of(who, "pivot up", 0)})
	p := about(turn, pivot, math.Max(0, m.of(who, "size", 1)))
	if a := m.of(who, "swing", 0); a != 0 {
		p = about(rotation(a, 0, 0), geom.Vec3{X: b.lo.X, Y: b.middle().Y, Z: b.middle().Z}, 1).After(p)
	}
	if on := m.on(who); on != nil {
		if on.faces {
			p = about(on.facing().Rows, b.middle(), 1).After(p)
		}
		p.By = p.By.Add(on.at)
	}
	p.By = p.By.Add(geom.Vec3{X: m.of(who, "right", 0), Y: m.of(who, "up", 0), Z: m.of(who, "ahead", 0)})
	p.Shown = m.of(who, "shown", 1) >= 0.5 && p.Size > 1e-6 && m.of(who, recipe.Written, 1) > 0 && !m.absent[who]
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

// scene returns the decisions about a scene with what moves in them.
func (m moment) scene(s recipe.Scene, reach float64) recipe.Scene {
	c := &s.Camera
	if c.Unmoved() {
		c.Turn, c.Height = fromTheSide.Turn, fromTheSide.Height
	}
	c.Turn += m.of(recipe.OfCamera, "turn", 0)
	c.Height = math.Max(-90, math.Min(90, c.Height+m.of(recipe.OfCamera, "height", 0)))
	c.Level += m.of(recipe.OfCamera, "level", 0)
	c.Focal = math.Max(8, c.Lens()+m.of(recipe.OfCamera, "focal", 0))
	s.Exposure += m.of(recipe.OfScene, "exposure", 0)
	s.Surroundings.Turn += m.of(recipe.OfScene, "around", 0)
	s.Lamps = LampsOf(&s, reach)
	for i := range s.Lamps {
		l := &s.Lamps[i]
		l.Strength += m.of(l.Name, "strength", 0)
		if on := m.on(l.Name); on != nil {
			l.At = [3]float64{on.at.X, on.at.Y, on.at.Z}
		}
		for k, what := range []string{"right", "up", "ahead"} {
			l.At[k] += m.of(l.Name, what, 0)
			l.Aim[k] += m.of(l.Name, "aim "+what, 0)
		}
	}
	return s
}

// paint changes a material by what moves of the part that has it, and of the piece.
func (m moment) paint(part string, out *picture.Material) {
	for _, who := range []string{recipe.OfPiece, recipe.BaseOf(part), part} {
		if c, ok := m.colors[who]; ok {
			out.Base, out.Drawn = c, nil
		}
	}
	glow := m.of(recipe.OfPiece, "glow", 0) + m.of(part, "glow", 0)
	if glow != 0 {
		out.Glow = out.Glow.Plus(out.Base.Times(glow))
		for i := range out.Glow {
			out.Glow[i] = math.Max(0, out.Glow[i])
		}
	}
}
