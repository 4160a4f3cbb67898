package picture

import (
	"math"

	"bildhauer/core/geom"
)

// Light is a source beside the surroundings and what glows by itself. Each has an extent, so that mirrors show it
// and highlights of equal lamps are equal. Lengths in mm.
type Light interface {
	// toward returns, for a place and two numbers, the direction of a point of the light,
	// how far it is, what comes from there divided by the probability of the point, and
	// that probability by solid angle.
	toward(at geom.Vec3, u, v float64) (dir geom.Vec3, far float64, light RGB, pdf float64)
	// met returns what comes along a ray that meets the light, how far it is, and the
	// probability of toward for it.
	met(r *Ray) (far float64, light RGB, pdf float64, ok bool)
	// power is about how much light falls on a place that faces it, and about from where, for choosing among lights.
	power(at geom.Vec3) (much float64, from geom.Vec3)
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

func (p *Panel) power(at geom.Vec3) (float64, geom.Vec3) {
	d := p.Mid.Sub(at)
	return p.Radiance.Luma() * p.area() / (d.Dot(d) + p.area()), d.Unit()
}

// Spot is a small ball that shines into a cone, softly at its edge.
type Spot struct {
	At, Aim   geom.Vec3 // Aim: a direction of length 1
	Radius    float64   // of the ball
	Angle     float64   // from the axis to the edge, radians
	Soft      float64   // share of the angle over which it fades
	Intensity RGB       // per steradian, at a distance of 1 mm
}

// smallestBall is the least radius of a spot, as a share of the distance: a point has no mirror image.
const smallestBall = 1e-3

// cap returns what a place sees of the ball: the direction of its middle, how far that is, the cosine of the angle
// to its edge, and what comes from it; ok is false where nothing does.
func (s *Spot) cap(at geom.Vec3) (axis geom.Vec3, far, cos float64, light RGB, ok bool) {
	to := s.At.Sub(at)
	far = to.Len()
	radius := math.Max(s.Radius, smallestBall*far)
	if far <= radius {
		return axis, far, 0, light, false
	}
	axis = to.Times(1 / far)
	angle := math.Acos(math.Max(-1, math.Min(1, -axis.Dot(s.Aim))))
	k := 1.0
	if fade := s.Angle * s.Soft; angle > s.Angle-fade {
		k = math.Max(0, (s.Angle-angle)/math.Max(fade, 1e-9))
		k = k * k * (3 - 2*k)
	}
	if k <= 0 {
		return axis, far, 0, light, false
	}
	sin := radius / far
	// A ball of even radiance L has the intensity L pi r^2, whatever its size.
	return axis, far, math.Sqrt(1 - sin*sin), s.Intensity.Times(k / (math.Pi * radius * radius)), true
}

func (s *Spot) toward(at geom.Vec3, u, v float64) (geom.Vec3, float64, RGB, float64) {
	axis, far, cos, light, ok := s.cap(at)
	if !ok {
		return axis, far, RGB{}, 0
	}
	pdf := 1 / (2 * math.Pi * oneLess(cos))
	return inCap(axis, cos, u, v), far, light.Times(1 / pdf), pdf
}

func (s *Spot) met(r *Ray) (float64, RGB, float64, bool) {
	axis, far, cos, light, ok := s.cap(r.From)
	if !ok || far <= r.Near || far >= r.Far || r.Dir.Dot(axis) < cos {
		return 0, RGB{}, 0, false
	}
	return far, light, 1 / (2 * math.Pi * oneLess(cos)), true
}

func (s *Spot) power(at geom.Vec3) (float64, geom.Vec3) {
	axis, far, _, _, ok := s.cap(at)
	if !ok {
		return 0, axis
	}
	return s.Intensity.Luma() / (far * far), axis
}

// Sun is light from far away, over a small angle.
type Sun struct {
	From       geom.Vec3 // direction toward it, of length 1
	Angle      float64   // from the middle of its disc to the edge, radians
	Irradiance RGB       // on a surface that faces it
}

// smallestSun is the least angle of a sun, radians: a tenth of the true one's.
const smallestSun = 0.0005

func (s *Sun) cos() float64 { return math.Cos(math.Max(s.Angle, smallestSun)) }

// radiance is what comes from its disc; over the disc the cosine sums up to pi sin^2.
func (s *Sun) radiance() RGB {
	sin := math.Sin(math.Max(s.Angle, smallestSun))
	return s.Irradiance.Times(1 / (math.Pi * sin * sin))
}

func (s *Sun) toward(_ geom.Vec3, u, v float64) (geom.Vec3, float64, RGB, float64) {
	pdf := 1 / (2 * math.Pi * oneLess(s.cos()))
	return inCap(s.From, s.cos(), u, v), math.Inf(1), s.radiance().Times(1 / pdf), pdf
}

func (s *Sun) met(r *Ray) (float64, RGB, float64, bool) {
	if !math.IsInf(r.Far, 1) || r.Dir.Dot(s.From) < s.cos() {
		return 0, RGB{}, 0, false
	}
	return math.Inf(1), s.radiance(), 1 / (2 * math.Pi * oneLess(s.cos())), true
}

func (s *Sun) power(geom.Vec3) (float64, geom.Vec3) { return s.Irradiance.Luma(), s.From }

// oneLess returns 1 - cos, not 0 for the smallest angles.
func oneLess(cos float64) float64 { return math.Max(1-cos, 1e-12) }

// inCap returns a direction about an axis, evenly over the cap with a cosine of its edge.
func inCap(axis geom.Vec3, cos, u, v float64) geom.Vec3 {
	x, y := disc(u, v)
	r2 := x*x + y*y
	z := 1 - r2*oneLess(cos) // evenly by height, as Archimedes has it
	k := math.Sqrt(math.Max(0, 1-z*z) / math.Max(r2, 1e-300))
	s, t := axis.Frame()
	return axis.Times(z).Plus(x*k, s).Plus(y*k, t)
}
