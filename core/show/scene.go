// Package show turns the decisions about how a piece is shown into a scene that pictures
// are made of: materials, lamps, surroundings, backdrop and camera.
package show

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// Body is a solid with normals: x to the right, y up, z toward the eye, mm.
type Body struct {
	Mesh   *mesh.Mesh
	Owners []Owner // by Mesh.Part
}

// Owner is a part whose faces a body has.
type Owner struct {
	ID    string
	Color artwork.Color
}

// Of returns the scene of a piece at a frame, and the light's exposure then in stops. It is
// not called without bodies. Backdrop, lamps and the camera that fits go by the piece at
// rest, so that they stand still while it moves.
func Of(s *recipe.Scene, bodies []Body, frame float64) (out *picture.Scene, exposure float64) {
	out = &picture.Scene{}
	rest := newBox()
	own := make([]*box, len(bodies))
	for i := range bodies {
		lo, hi := bodies[i].Mesh.Box()
		own[i] = newBox()
		for _, p := range [][3]float64{lo, hi} {
			own[i].take(p)
			rest.take(p)
		}
	}
	now := momentOf(&s.Motion, frame)
	whole := now.poseOf(recipe.OfPiece, rest.middle())
	for i := range bodies {
		part := now.poseOf(bodies[i].Owners[0].ID, own[i].middle())
		out.Surfaces = append(out.Surfaces, whole.move(part.move(surfaces(s, &bodies[i])))...)
	}
	moved := now.scene(*s, rest.reach())
	out.Lights = lamps(&moved, rest)
	out.Sky = sky(&moved.Surroundings)
	backdrop(&moved, rest, out)
	out.Camera = camera(&moved.Camera, rest)
	if far := now.of(recipe.OfCamera, "distance", 0); far != 0 {
		back := out.Camera.Eye.Sub(out.Camera.Aim)
		out.Camera.Eye = out.Camera.Aim.Plus(math.Max(0.05, 1+far/back.Len()), back)
	}
	return out, moved.Exposure
}

// box is what the piece fills.
type box struct{ lo, hi geom.Vec3 }

func newBox() *box {
	inf := math.Inf(1)
	return &box{geom.Vec3{X: inf, Y: inf, Z: inf}, geom.Vec3{X: -inf, Y: -inf, Z: -inf}}
}

func (b *box) take(p [3]float64) {
	b.lo = geom.Vec3{X: math.Min(b.lo.X, p[0]), Y: math.Min(b.lo.Y, p[1]), Z: math.Min(b.lo.Z, p[2])}
	b.hi = geom.Vec3{X: math.Max(b.hi.X, p[0]), Y: math.Max(b.hi.Y, p[1]), Z: math.Max(b.hi.Z, p[2])}
}

func (b *box) middle() geom.Vec3 { return b.lo.Add(b.hi).Times(0.5) }

// reach is half the diagonal.
func (b *box) reach() float64 { return b.hi.Sub(b.lo).Len() / 2 }

func (b *box) corners() (out [8]geom.Vec3) {
	for i := range out {
		p := b.lo
		if i&1 != 0 {
			p.X = b.hi.X
		}
		if i&2 != 0 {
			p.Y = b.hi.Y
		}
		if i&4 != 0 {
			p.Z = b.hi.Z
		}
		out[i] = p
	}
	return out
}

// sight is faces that look alike.
type sight struct {
	part int32
	face string
}

// surfaces returns the faces of a body, those of one part and face group together.
func surfaces(s *recipe.Scene, b *Body) []picture.Surface {
	m := b.Mesh
	at := map[sight]int{}
	var out []picture.Surface
	pos := func(v int32) geom.Vec3 {
		p := m.Pos(v)
		return geom.Vec3{X: float64(p[0]), Y: float64(p[1]), Z: float64(p[2])}
	}
	for k, t := range m.Tris {
		one := sight{face: faces[m.Group[k]]}
		if m.Part != nil {
			one.part = m.Part[k]
		}
		n, ok := at[one]
		if !ok {
			n = len(out)
			at[one] = n
			out = append(out, picture.Surface{Material: material(s, b.Owners[one.part], one.face)})
		}
		out[n].Corners = append(out[n].Corners, [3]geom.Vec3{pos(t[0]), pos(t[1]), pos(t[2])})
		var normals [3]geom.Vec3
		for c, i := range m.Corner[k] {
			v := m.Normals[i]
			normals[c] = geom.Vec3{X: float64(v[0]), Y: float64(v[1]), Z: float64(v[2])}
		}
		out[n].Normals = append(out[n].Normals, normals)
	}
	return out
}

// faces names face groups as scenes do.
var faces = map[mesh.Group]string{
	mesh.Front: "front", mesh.Bevel: "bevel", mesh.BackBevel: "bevel", mesh.Side: "side", mesh.Back: "back", mesh.Inside: "back",
}

// FacesOf names a face group as scenes do.
func FacesOf(g mesh.Group) string { return faces[g] }

// MaterialOf returns what faces of a part are made of: the last paint that fits.
func MaterialOf(s *recipe.Scene, part, face string) recipe.Material {
	m := usual
	for _, p := range s.Paints {
		if (p.Part == "" || p.Part == part) && (p.Faces == "" || p.Faces == face) {
			m = p.Material
		}
	}
	return m
}

// material returns that of a part as light has it.
func material(s *recipe.Scene, o Owner, face string) picture.Material {
	m := MaterialOf(s, o.ID, face)
	base := light(m.Color, lightOf(o.Color))
	return picture.Material{
		Base: base, Metal: m.Metal, Rough: m.Rough, Coat: m.Coat, CoatRough: m.CoatRough,
		Glow: base.Times(m.Glow), Clear: m.Clear,
	}
}

// lightOf returns the light of an sRGB colour.
func lightOf(c artwork.Color) picture.RGB {
	return picture.RGB{
		picture.Linear(float64(c.R) / 255), picture.Linear(float64(c.G) / 255), picture.Linear(float64(c.B) / 255),
	}
}

// light returns the light of a colour #rrggbb, or another if there is none.
func light(hex string, otherwise picture.RGB) picture.RGB {
	if c, ok := artwork.ParseHex(hex); ok {
		return lightOf(c)
	}
	return otherwise
}
