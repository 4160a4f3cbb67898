// Package picture makes pictures of solids by following light backwards from the eye: a
// path tracer. Lengths are in mm, y is up, light is linear. It is deterministic: a picture
// depends on the scene and the seed, not on how many cores there are.
package picture

import (
	"math"

	"bildhauer/core/geom"
)

// Scene is what a picture is made of.
type Scene struct {
	Surfaces []Surface
	Lights   []Light
	Sky      *Sky // nil for none
	SkySeen  bool // behind everything, not only in reflections
	Backdrop RGB  // behind everything, unless the sky is seen; used where Solid
	Foot     RGB  // of the backdrop, at the picture's lower edge; zero for no gradient
	Solid    bool // false leaves the background clear
	Catch    bool // a clear floor that shadows fall on
	Floor    float64
	Camera   Camera

	tree  *Tree
	owner []int32 // of each triangle: its surface
	local []int32 // its number there
	eps   float64 // how far from a surface rays begin
	clear bool    // some material lets light through
	glow  *shining
}

// Surface is triangles of one material.
type Surface struct {
	Corners  [][3]geom.Vec3
	Normals  [][3]geom.Vec3 // nil: flat
	Material Material
	Rest     *Pose // from where it has moved; nil for nowhere
	Mask     int   // the channel of Film.Masks that it is seen in, from 1; 0 for none
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

// ready builds what rays need.
func (s *Scene) ready() {
	var all [][3]geom.Vec3
	far := 0.0
	for i := range s.Surfaces {
		s.clear = s.clear || s.Surfaces[i].Material.Clear > 0
		for k, c := range s.Surfaces[i].Corners {
			all = append(all, c)
			s.owner, s.local = append(s.owner, int32(i)), append(s.local, int32(k))
			for _, v := range c {
				far = max(far, math.Abs(v.X), math.Abs(v.Y), math.Abs(v.Z))
			}
		}
	}
	s.tree = NewTree(all)
	if s.glow = newShining(s); s.glow != nil {
		s.Lights = append(s.Lights, s.glow)
	}
	// Some sixteen units in the last place of 24 bits, at the farthest corner.
	s.eps = math.Max(1e-6, far*16/(1<<24))
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
