// Package picture makes pictures of solids by following light backwards from the eye: a
// path tracer. Lengths are in mm, y is up, light is linear. It is deterministic: a picture
// depends on the scene and the seed, not on how many cores there are.
package picture

import (
	"math"
	"slices"

	"bildhauer/core/geom"
)

// Scene is what a picture is made of.
type Scene struct {
	Bodies   []Body
	Surfaces []Surface // beside the bodies; they do not move
	Lights   []Light
	Sky      *Sky // nil for none
	SkySeen  bool // behind everything, not only in reflections
	Backdrop RGB  // behind everything, unless the sky is seen; used where Solid
	Foot     RGB  // of the backdrop, at the picture's lower edge; zero for no gradient
	Solid    bool // false leaves the background clear
	Catch    bool // a clear floor that shadows fall on
	Floor    float64
	Camera   Camera

	// Moments are how things stand while the shutter is open, one as long as the other; none for one moment, with
	// the Lights and the Camera above and Bodies at their Pose.
	Moments []Moment

	parts []part
	top   []four // over the parts
	order []int32
	plain bool    // no moments were given
	eps   float64 // how far from a surface rays begin
	clear bool    // some material lets light through
}

// Body is a form and what its triangles look like.
type Body struct {
	Form  *Form
	Looks []Look // by the numbers in the form
	Pose  *Pose  // where it has moved; nil for nowhere
}

// Look is what triangles look like.
type Look struct {
	Material Material
	Mask     int // the channel of Film.Masks that they are seen in, from 1; 0 for none
}

// Surface is triangles of one material.
type Surface struct {
	Corners  [][3]geom.Vec3
	Normals  [][3]geom.Vec3 // nil: flat
	Material Material
	Mask     int // see Look
}

// Moment is how things stand at a moment.
type Moment struct {
	Camera Camera
	Lights []Light
	Poses  []*Pose // of the bodies; nil for one that has not moved
	Turn   float64 // of the sky beyond its own, radians
	Ahead  *Moment // how things stand a frame later, for films that keep how fast they move; nil for no other

	shining *shiningNow
}

// Camera is a lens in front of a film.
type Camera struct {
	Eye      geom.Vec3  `json:"eye"`
	Aim      geom.Vec3  `json:"aim"`
	Roll     float64    `json:"roll"`     // radians
	Focal    float64    `json:"focal"`    // mm, of a film 36 mm wide
	Shift    [2]float64 `json:"shift"`    // of the picture's width, right and up
	Aperture float64    `json:"aperture"` // diameter of the opening, mm; 0 for all sharp
	Focus    float64    `json:"focus"`    // distance, mm; 0 for that of Aim
}

// part is something with a form, of the bodies or of the surfaces.
type part struct {
	form  *Form
	looks []Look
	body  int // of the bodies; -1 for what does not move
}

// ready builds what rays need.
func (s *Scene) ready() {
	if s.parts != nil {
		if s.plain {
			s.Moments[0].Camera = s.Camera
		}
		return
	}
	if s.Moments == nil {
		one := Moment{Camera: s.Camera, Lights: s.Lights}
		for i := range s.Bodies {
			one.Poses = append(one.Poses, s.Bodies[i].Pose)
		}
		s.Moments, s.plain = []Moment{one}, true
	}
	s.parts = []part{}
	var still []part
	for i := range s.Bodies {
		p := part{s.Bodies[i].Form, s.Bodies[i].Looks, i}
		if s.moves(&p) {
			s.parts = append(s.parts, p)
		} else {
			still = append(still, p)
		}
	}
	for i := range s.Surfaces {
		f := &s.Surfaces[i]
		still = append(still, part{NewForm(f.Corners, f.Normals, nil), []Look{{f.Material, f.Mask}}, -1})
	}
	s.parts = append(s.parts, united(still)...)
	far := 0.0
	boxes := make([]bounds, len(s.parts))
	for i := range s.parts {
		p := &s.parts[i]
		for k := range p.looks {
			s.clear = s.clear || p.looks[k].Material.Clear > 0
		}
		boxes[i] = noBounds
		for k := range s.Moments {
			b := p.boxAt(&s.Moments[k])
			boxes[i].join(&b)
		}
		for a := range 3 {
			if boxes[i][a] <= boxes[i][a+3] {
				far = max(far, float64(-boxes[i][a]), float64(boxes[i][a+3]))
			}
		}
	}
	s.top, s.order = foursOver(boxes, 1)
	if glow := newShining(s); glow != nil {
		for k := range s.Moments {
			m := &s.Moments[k]
			m.shining = glow.at(m)
			m.Lights = append(slices.Clip(m.Lights), m.shining)
		}
	}
	// Some sixteen units in the last place of 24 bits, at the farthest corner.
	s.eps = math.Max(1e-6, far*16/(1<<24))
}

// moves reports whether a part is elsewhere than at rest at any moment.
func (s *Scene) moves(p *part) bool {
	for k := range s.Moments {
		m := &s.Moments[k]
		if m.pose(p) != nil || m.Ahead != nil && m.Ahead.pose(p) != nil {
			return true
		}
	}
	return false
}

// pose returns where a part has moved; nil for nowhere.
func (m *Moment) pose(p *part) *Pose {
	if p.body < 0 || p.body >= len(m.Poses) {
		return nil
	}
	return m.Poses[p.body]
}

// boxAt returns the box that a part fills at a moment.
func (p *part) boxAt(m *Moment) bounds {
	pose := m.pose(p)
	if pose == nil || p.form.box[0] > p.form.box[3] {
		return p.form.box
	}
	out := noBounds
	if !pose.Shown {
		return out
	}
	for i := range 8 {
		var v geom.Vec3
		for a, to := range [3]*float64{&v.X, &v.Y, &v.Z} {
			*to = float64(p.form.box[a+3*(i>>a&1)])
		}
		v = pose.At(v)
		out.take([3]float32{float32(v.X), float32(v.Y), float32(v.Z)})
	}
	// What is rounded on the way to single precision stays within.
	for a := range 3 {
		slack := 1e-6 * max(-out[a], out[a+3], out[a+3]-out[a])
		out[a], out[a+3] = out[a]-slack, out[a+3]+slack
	}
	return out
}

// met is what a ray has met: a triangle of a part.
type met struct {
	Hit
	part int32
}

// searches is the memory that looking for what a ray meets takes, over the parts and within one.
type searches struct {
	over, within ways
	rays         int // that were followed so far
}

// first finds what a ray meets first at a moment; any tells that the first that is found will do.
func (s *Scene) first(r *Ray, m *Moment, o *searches, any bool) (out met, found bool) {
	o.rays++
	if len(s.top) == 0 {
		return out, false
	}
	w := newWalker(r)
	c, top := descend(s.top, &w, &o.over, 0, 0)
	for c < 0 {
		if s.firstOf(r, &w, m, s.order[^c>>leafBits], &o.within, &out, any) {
			if found = true; any {
				break
			}
		}
		c, top = descend(s.top, &w, &o.over, top, -1)
	}
	return out, found
}

// firstOf looks into one part; w is the ray as the tree over the parts wants it.
func (s *Scene) firstOf(r *Ray, w *walker, m *Moment, k int32, open *ways, out *met, any bool) bool {
	p := &s.parts[k]
	pose := m.pose(p)
	if pose == nil {
		if p.form.tree.walk(w, open, &out.Hit, any) {
			out.part = k
			return true
		}
		return false
	}
	if !pose.Shown {
		return false
	}
	own := newWalker(&Ray{
		From: pose.Back(r.From), Dir: pose.TurnedBack(r.Dir).Times(1 / pose.Size), Near: r.Near, Far: float64(w.far),
	})
	if !p.form.tree.walk(&own, open, &out.Hit, any) {
		return false
	}
	out.part, w.far = k, own.far
	return true
}

// axes returns the directions of the camera: ahead, to the right and up, and how far Aim is.
func (c *Camera) axes() (ahead, right, up geom.Vec3, far float64) {
	ahead = c.Aim.Sub(c.Eye)
	far = ahead.Len()
	ahead = ahead.Times(1 / far)
	up = geom.Vec3{Y: 1}
	if math.Abs(ahead.Y) > 0.9999 {
		up = geom.Vec3{Z: -1}
	}
	right = ahead.Cross(up).Unit()
	up = right.Cross(ahead)
	if c.Roll != 0 {
		sin, cos := math.Sincos(c.Roll)
		right, up = right.Times(cos).Plus(sin, up), up.Times(cos).Plus(-sin, right)
	}
	return ahead, right, up, far
}

// Axes returns the directions ahead, to the right and up in the picture.
func (c *Camera) Axes() (ahead, right, up geom.Vec3) {
	ahead, right, up, _ = c.axes()
	return ahead, right, up
}

// On returns where on the film a place is seen, from 0 to 1 across and down.
func (c *Camera) On(p geom.Vec3, aspect float64) (x, y float64) {
	ahead, right, up, _ := c.axes()
	d := p.Sub(c.Eye)
	half := 18 / c.Focal * d.Dot(ahead)
	return (d.Dot(right)/half + 1 - 2*c.Shift[0]) / 2, (1 + 2*c.Shift[1] - d.Dot(up)/half*aspect) / 2
}

// ray returns the ray through a place of the film, from 0 to 1 across and down.
func (c *Camera) ray(x, y, aspect, u, v float64) Ray {
	ahead, right, up, far := c.axes()
	half := 18 / c.Focal
	d := ahead.Plus((2*x-1+2*c.Shift[0])*half, right).Plus((1-2*y+2*c.Shift[1])*half/aspect, up)
	r := Ray{From: c.Eye, Dir: d.Unit(), Far: math.Inf(1)}
	if c.Aperture > 0 {
		focus := c.Focus
		if focus <= 0 {
			focus = far
		}
		at := c.Eye.Plus(focus, d)
		lx, ly := disc(u, v)
		r.From = c.Eye.Plus(lx*c.Aperture/2, right).Plus(ly*c.Aperture/2, up)
		r.Dir = at.Sub(r.From).Unit()
	}
	return r
}
