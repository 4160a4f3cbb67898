package picture

import (
	"math"

	"bildhauer/core/geom"
)

// Light is a source beside the surroundings and what glows by itself. Lengths in mm.
type Light interface {
	// toward returns, for a place and two numbers, the direction of a point of the light,
	// how far it is, what comes from there divided by the probability of the point, and
	// that probability by solid angle; infinite for a light without extent.
	toward(at geom.Vec3, u, v float64) (dir geom.Vec3, far float64, light RGB, pdf float64)
	// met returns what comes along a ray that meets the light, how far it is, and the
	// probability of toward for it.
	met(r *Ray) (far float64, light RGB, pdf float64, ok bool)
	// power is about how much of all light comes from it, for choosing among lights.
	power(at geom.Vec3) float64
}

// Toward returns the direction in which a point of a light lies, u and v from 0 to 1
// choosing it, and what falls from there on a surface that faces it; its mean over u and v
// is all that falls.
func Toward(l Light, at geom.Vec3, u, v float64) (dir geom.Vec3, light RGB) {
	dir, _, light, _ = l.toward(at, u, v)
	return dir, light
}

// Panel is a rectangle that shines from one side.
type Panel struct {
	Mid, Across, Up geom.Vec3 // Across and Up: from the middle to two sides, upright on each other
	Radiance        RGB
}

func (p *Panel) normal() geom.Vec3 { return p.Across.Cross(p.Up).Unit() }

func (p *Panel) area() float64 { return 4 * p.Across.Cross(p.Up).Len() }

func (p *Panel) toward(at geom.Vec3, u, v float64) (geom.Vec3, float64, RGB, float64) {
	to := p.Mid.Plus(2*u-1, p.Across).Plus(2*v-1, p.Up).Sub(at)
	far := to.Len()
	d := to.Times(1 / far)
	cos := -d.Dot(p.normal())
	if cos <= 0 {
		return d, far, RGB{}, 0
	}
	pdf := far * far / (cos * p.area())
	return d, far, p.Radiance.Times(1 / pdf), pdf
}

func (p *Panel) met(r *Ray) (float64, RGB, float64, bool) {
	n := p.normal()
	cos := -r.Dir.Dot(n)
	if cos <= 0 {
		return 0, RGB{}, 0, false
	}
	far := r.From.Sub(p.Mid).Dot(n) / cos
	if far <= r.Near || far >= r.Far {
		return 0, RGB{}, 0, false
	}
	at := r.At(far).Sub(p.Mid)
	if math.Abs(at.Dot(p.Across)) > p.Across.Dot(p.Across) || math.Abs(at.Dot(p.Up)) > p.Up.Dot(p.Up) {
		return 0, RGB{}, 0, false
	}
	return far, p.Radiance, far * far / (cos * p.area()), true
}

func (p *Panel) power(at geom.Vec3) float64 {
	d := p.Mid.Sub(at)
	return p.Radiance.Luma() * p.area() / (d.Dot(d) + p.area())
}

// Spot is a small ball that shines into a cone, softly at its edge.
type Spot struct {
	At, Aim   geom.Vec3 // Aim: a direction of length 1
	Radius    float64   // of the ball, for soft shadows
	Angle     float64   // from the axis to the edge, radians
	Soft      float64   // share of the angle over which it fades
	Intensity RGB       // per steradian, at a distance of 1 mm
}

func (s *Spot) toward(at geom.Vec3, u, v float64) (geom.Vec3, float64, RGB, float64) {
	axis := s.At.Sub(at).Unit()
	p, q := axis.Frame()
	x, y := disc(u, v)
	to := s.At.Plus(s.Radius*x, p).Plus(s.Radius*y, q).Sub(at)
	far := to.Len()
	d := to.Times(1 / far)
	angle := math.Acos(math.Max(-1, math.Min(1, -axis.Dot(s.Aim))))
	k := 1.0
	if fade := s.Angle * s.Soft; angle > s.Angle-fade {
		k = math.Max(0, (s.Angle-angle)/math.Max(fade, 1e-9))
		k = k * k * (3 - 2*k)
	}
	return d, far, s.Intensity.Times(k / (far * far)), math.Inf(1)
}

func (s *Spot) met(*Ray) (float64, RGB, float64, bool) { return 0, RGB{}, 0, false }

func (s *Spot) power(at geom.Vec3) float64 {
	_, _, c, _ := s.toward(at, 0.5, 0.5)
	return c.Luma()
}

// Sun is light from far away, over a small angle.
type Sun struct {
	From       geom.Vec3 // direction toward it, of length 1
	Angle      float64   // from the middle of its disc to the edge, radians
	Irradiance RGB       // on a surface that faces it
}

func (s *Sun) toward(_ geom.Vec3, u, v float64) (geom.Vec3, float64, RGB, float64) {
	p, q := s.From.Frame()
	x, y := disc(u, v)
	k := math.Tan(s.Angle)
	return s.From.Plus(k*x, p).Plus(k*y, q).Unit(), math.Inf(1), s.Irradiance, math.Inf(1)
}

func (s *Sun) met(*Ray) (float64, RGB, float64, bool) { return 0, RGB{}, 0, false }

func (s *Sun) power(geom.Vec3) float64 { return s.Irradiance.Luma() }
