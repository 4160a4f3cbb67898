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
	Shape  *Shape        // of Mesh; nil where nobody has made it yet
	Owners []Owner       // by Mesh.Part
	Rest   [2][3]float64 // the box that it fills at rest; zero for that of Mesh
}

// Owner is a part whose faces a body has.
type Owner struct {
	ID    string
	Color artwork.Color
	Drawn func(rest geom.Vec3) picture.RGB // the gradients of its artwork; nil for none
	Mask  int                              // picture.Surface.Mask of its faces
}

// Still is a scene at a frame, but for its solids.
type Still struct {
	Scene  recipe.Scene // with what moves in it; Lamps are all that there are
	Camera picture.Camera
	Poses  []picture.Pose // of the bodies
	Middle geom.Vec3      // of the piece at rest
	Reach  float64        // half the diagonal of it at rest, mm
	Low    float64        // y of its foot at rest

	now  moment
	rest *box
}

// Clock tells of a scene at any frame; what does not depend on the frame is worked out once.
type Clock struct {
	scene   *recipe.Scene
	bodies  []Body
	rest    *box   // of the piece
	own     []*box // of the bodies
	courses []*course
}

// NewClock returns that of a scene of bodies, of which there are some.
func NewClock(s *recipe.Scene, bodies []Body) *Clock {
	c := &Clock{scene: s, bodies: bodies, rest: newBox(), own: make([]*box, len(bodies)), courses: coursesOf(&s.Motion)}
	for i := range bodies {
		corners := bodies[i].Rest
		if corners == [2][3]float64{} {
			corners[0], corners[1] = bodies[i].Mesh.Box()
		}
		c.own[i] = newBox()
		for _, p := range corners {
			c.own[i].take(p)
			c.rest.take(p)
		}
	}
	return c
}

// At returns the scene of bodies at a frame, see Clock.At.
func At(s *recipe.Scene, bodies []Body, frame float64) *Still { return NewClock(s, bodies).At(frame) }

// At returns the scene at a frame. Backdrop, lamps and the camera that fits go by the piece at rest, so that they stand
// still while it moves.
func (c *Clock) At(frame float64) *Still {
	s, bodies, rest, own := c.scene, c.bodies, c.rest, c.own
	out := &Still{Middle: rest.middle(), Reach: rest.reach(), Low: rest.lo.Y, now: momentOf(&s.Motion, c.courses, frame), rest: rest}
	whole := out.now.poseOf(recipe.OfPiece, rest)
	for i := range bodies {
		out.Poses = append(out.Poses, whole.After(out.now.poseOf(bodies[i].Owners[0].ID, own[i])))
	}
	out.Scene = out.now.scene(*s, rest.reach())
	out.Camera = camera(&out.Scene.Camera, rest)
	for i := range bodies {
		if id := bodies[i].Owners[0].ID; id == s.Camera.Look || recipe.BaseOf(id) == s.Camera.Look {
			out.Camera.Aim = out.Poses[i].At(own[i].middle())
			out.Camera.Focus = out.Camera.Aim.Sub(out.Camera.Eye).Len()
			break
		}
	}
	out.follow(s.Camera.Look != "")
	if far := out.now.of(recipe.OfCamera, "distance", 0); far != 0 {
		back := out.Camera.Eye.Sub(out.Camera.Aim)
		out.Camera.Eye = out.Camera.Aim.Plus(math.Max(0.05, 1+far/back.Len()), back)
	}
	return out
}

// follow puts the camera on its path. What faces the way looks along it, unless it looks at a part.
func (t *Still) follow(looks bool) {
	on := t.now.on(recipe.OfCamera)
	if on == nil {
		return
	}
	c := &t.Camera
	c.Eye = t.Middle.Add(on.at)
	if on.faces && !looks {
		c.Aim = c.Eye.Plus(t.Reach, on.way)
	}
	if gap := c.Aim.Sub(c.Eye); gap.Len() < 1e-6*t.Reach { // right in what it looks at
		c.Aim = c.Eye.Plus(1e-3*t.Reach, on.way)
	}
	c.Focus = c.Aim.Sub(c.Eye).Len()
}

// Spots tells where bodies are at rest.
func Spots(bodies []Body) []Spot {
	var out []Spot
	for i := range bodies {
		lo, hi := bodies[i].Mesh.Box()
		b := newBox()
		b.take(lo)
		b.take(hi)
		out = append(out, Spot{ID: bodies[i].Owners[0].ID, Lo: b.lo, Hi: b.hi})
	}
	return out
}

// Around returns the scene without the piece: lights, what lights from all around, backdrop
// and camera. own is the panorama of own surroundings, if there are any.
func (t *Still) Around(own *picture.Panorama) *picture.Scene {
	out := &picture.Scene{Lights: t.Lights(), Sky: sky(&t.Scene.Surroundings, own), Camera: t.Camera}
	backdrop(&t.Scene, t.rest, out)
	return out
}

// Floor returns the surfaces of the backdrop.
func (t *Still) Floor() []picture.Surface {
	out := &picture.Scene{}
	backdrop(&t.Scene, t.rest, out)
	return out.Surfaces
}

// Rest returns the box of the piece at rest.
func (t *Still) Rest() (lo, hi geom.Vec3) { return t.rest.lo, t.rest.hi }

// Lights returns the lights of the lamps that are on.
func (t *Still) Lights() []picture.Light { return lamps(t.Scene.Lamps, t.Middle) }

// Surrounding returns the scene around a piece that fills a box, and the middle of that.
func Surrounding(s *recipe.Scene, lo, hi geom.Vec3, own *picture.Panorama) (*picture.Scene, geom.Vec3) {
	b := &box{lo, hi}
	t := &Still{Scene: *s, Middle: b.middle(), rest: b}
	return t.Around(own), b.middle()
}

// Of returns the scene of a piece at a frame, and the light's exposure then in stops.
func Of(s *recipe.Scene, bodies []Body, own *picture.Panorama, frame float64) (*picture.Scene, float64) {
	return During(s, bodies, own, frame, 0, 1, false)
}

// During returns the scene of a piece while a shutter is open from a frame on, for a share of a frame, as it is at
// so many moments, in the middle of equal parts; ahead tells each how things stand a frame later, too. What it looks
// like is that of the frame.
func During(
	s *recipe.Scene, bodies []Body, own *picture.Panorama, frame, shutter float64, moments int, ahead bool,
) (*picture.Scene, float64) {
	clock := NewClock(s, bodies)
	t := clock.At(frame)
	out := t.Around(own)
	for i := range bodies {
		b := &bodies[i]
		shape := b.Shape
		if shape == nil {
			shape = ShapeOf(b.Mesh)
		}
		out.Bodies = append(out.Bodies, picture.Body{Form: shape.form, Looks: t.looks(b, shape)})
	}
	for k := range moments {
		now, at := t, frame
		if shutter > 0 {
			at += shutter * (float64(k) + 0.5) / float64(moments)
			now = clock.At(at)
		}
		m := now.moment(t)
		if ahead {
			later := clock.At(at + 1).moment(t)
			m.Ahead = &later
		}
		out.Moments = append(out.Moments, m)
	}
	return out, t.Scene.Exposure
}

// moment returns how things stand, for a picture of which the sky is that of another time.
func (t *Still) moment(sky *Still) picture.Moment {
	turn := (t.Scene.Surroundings.Turn - sky.Scene.Surroundings.Turn) * math.Pi / 180
	return picture.Moment{Camera: t.Camera, Lights: t.Lights(), Poses: t.poses(), Turn: turn}
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
		if (p.Part == "" || p.Part == part || p.Part == recipe.BaseOf(part)) && (p.Faces == "" || p.Faces == face) {
			m = p.Material
		}
	}
	return m
}

// Material returns what faces of a part are made of, as light has it.
func (t *Still) Material(o *Owner, face string) picture.Material {
	m := MaterialOf(&t.Scene, o.ID, face)
	out := MaterialIn(&m, o.Color)
	if m.Drawn && face == "front" && m.Color == "" {
		out.Drawn = o.Drawn
	}
	t.now.paint(o.ID, &out)
	return out
}

// scratches is how many times longer than wide the scratches of brushed surfaces are.
const scratches = 40

// MaterialIn returns a material as light has it, on a part of a colour.
func MaterialIn(m *recipe.Material, color artwork.Color) picture.Material {
	base := light(m.Color, LightOf(color))
	out := picture.Material{
		Base: base, Metal: m.Metal, Rough: m.Rough, Coat: m.Coat, CoatRough: m.CoatRough,
		Glow: base.Times(m.Glow), Clear: m.Clear, Index: m.Index, Deep: m.Deep, Thin: m.Thin, Grain: picture.Grain{Size: m.Grain},
	}
	if m.Brushed {
		sin, cos := math.Sincos(m.BrushTurn * math.Pi / 180)
		out.Grain.Along, out.Grain.Stretch = geom.Vec3{X: cos, Y: sin}, scratches
	}
	return out
}

// LightOf returns the light of an sRGB colour.
func LightOf(c artwork.Color) picture.RGB {
	return picture.RGB{
		picture.Linear(float64(c.R) / 255), picture.Linear(float64(c.G) / 255), picture.Linear(float64(c.B) / 255),
	}
}

// light returns the light of a colour #rrggbb, or another if there is none.
func light(hex string, otherwise picture.RGB) picture.RGB {
	if c, ok := artwork.ParseHex(hex); ok {
		return LightOf(c)
	}
	return otherwise
}
