package truth

import (
	"math"
	"slices"

	"bildhauer/core/recipe"
)

// span is a piece of the upright line over a place.
type span struct{ lo, hi float64 }

// column is the spans over a place, from below, which do not touch.
type column []span

func sortFloats(v []float64) { slices.Sort(v) }

// plus returns what is in the column or the span.
func (c column) plus(s span) column {
	if s.hi <= s.lo {
		return c
	}
	var out column
	for _, o := range c {
		if o.hi < s.lo || o.lo > s.hi {
			out = append(out, o)
		} else {
			s = span{math.Min(s.lo, o.lo), math.Max(s.hi, o.hi)}
		}
	}
	out = append(out, s)
	slices.SortFunc(out, func(a, b span) int { return int(math.Copysign(1, a.lo-b.lo)) })
	return out
}

// below returns what of the column is lower than z.
func (c column) below(z float64) (out column) {
	for _, s := range c {
		if s.hi = math.Min(s.hi, z); s.hi > s.lo {
			out = append(out, s)
		}
	}
	return out
}

func (c column) has(z float64) bool {
	return slices.ContainsFunc(c, func(s span) bool { return z > s.lo && z < s.hi })
}

// lift is a part alone.
type lift struct {
	in          region
	how         recipe.Measures
	base        float64
	front, back side
	wide        float64 // by which it stands beyond its region
}

// side is a bevel as it is made.
type side struct {
	width, height float64
	profile       knots
	dome          *swell // in place of the profile
}

// share is what the bevel has of its height at a place, which lies d within the wall.
func (s *side) share(p vec, d float64) float64 {
	switch {
	case s.width == 0:
		return 1
	case s.dome != nil:
		return s.dome.share(p)
	}
	return s.profile.at(d / s.width)
}

// liftOf returns a part alone over a region.
func liftOf(in region, how recipe.Measures, base float64) *lift {
	l := &lift{in: in, how: how, base: base, front: sideOf(&how.Front, &in), back: sideOf(&how.Back, &in)}
	full := how.Front.On() && how.Front.Full() || how.Back.On() && how.Back.Full()
	if how.Outward && !full {
		l.wide = math.Max(l.front.width, l.back.width)
	}
	if how.Wall > 0 && !l.frame() {
		l.back = side{}
	}
	if sum := l.front.height + l.back.height; sum > how.Depth {
		l.front.height *= how.Depth / sum
		l.back.height *= how.Depth / sum
	}
	return l
}

func sideOf(r *recipe.Rim, in *region) side {
	switch {
	case !r.On():
		return side{}
	case r.Profile == recipe.Dome:
		return side{width: in.widest(), height: r.Height, dome: swellOf(in)}
	case r.Full():
		return side{width: in.widest(), height: r.Height, profile: profileOf(r)}
	}
	return side{width: r.Width, height: r.Height, profile: profileOf(r)}
}

// face is the level of its face.
func (l *lift) face() float64 {
	if l.front.width == 0 || l.front.dome != nil {
		return l.base + l.how.Depth
	}
	return l.upper(vec{}, l.front.width)
}

// upper and lower are the surfaces at a place, which lies d within the wall.
func (l *lift) upper(p vec, d float64) float64 {
	return l.base + l.how.Depth - l.front.height + l.front.height*l.front.share(p, d)
}

func (l *lift) lower(p vec, d float64) float64 {
	return l.base + l.back.height - l.back.height*l.back.share(p, d)
}

// inward returns how far a place lies within the wall; less than 0 beyond it.
func (l *lift) inward(p vec) float64 {
	d := l.in.far(p)
	if l.how.Mitred {
		d = l.in.mitred(p)
	}
	if !l.in.has(p) {
		d = -d
	}
	return l.wide + d
}

// over returns the part over a place.
func (l *lift) over(p vec) column {
	d := l.inward(p)
	if d <= 0 {
		return nil
	}
	a := l.how.Wall
	if l.frame() {
		if d > a {
			return nil
		}
		d = math.Min(d, l.within(p)) // its outline runs along both sides of the wall
	}
	s := span{l.lower(p, d), l.upper(p, d)}
	if a > 0 && d > a {
		s.lo = math.Max(s.lo, l.ceiling(p, d))
	}
	return column(nil).plus(s)
}

// frame reports whether nothing but the wall stands.
func (l *lift) frame() bool { return l.how.Wall > 0 && l.how.OpenFront && l.how.OpenBack }

// within returns how far a place in the wall of a frame lies from what is left out within. In each
// direction as far is gone as there certainly is wall: distances change no faster than places do.
func (l *lift) within(p vec) float64 {
	a := l.how.Wall
	try := func(angle, least float64) float64 {
		s, c := math.Sincos(angle)
		for r := 0.0; r < least; {
			left := a - l.inward(p.plus(vec{c, s}, r))
			if left < 1e-4 {
				return r
			}
			r += left
		}
		return least
	}
	least, at := 4*a, 0.0 // farther off no bevel of a wall reaches
	const coarse = 90
	for n, step := coarse, 2*math.Pi/coarse; step > 1e-3; n, step = 10, step/5 {
		from := at - float64(n)/2*step
		for i := range n + 1 {
			if r := try(from+float64(i)*step, least); r < least {
				least, at = r, from+float64(i)*step
			}
		}
	}
	return least
}

// ceiling is how high a hollow part is hollow.
func (l *lift) ceiling(p vec, d float64) float64 {
	a, least := l.how.Wall, math.Inf(1)
	if l.front.dome != nil {
		return l.vault(p)
	}
	look := func(o float64) {
		if d+o >= 0 && math.Abs(o) <= a {
			least = math.Min(least, l.upper(p, d+o)-math.Sqrt(math.Max(0, a*a-o*o)))
		}
	}
	const steps = 400
	for i := -steps; i <= steps; i++ {
		look(a * float64(i) / steps)
	}
	for _, k := range l.front.profile { // the foot of a riser may lie on either side
		look(k.x*l.front.width - d - 1e-9)
		look(k.x*l.front.width - d + 1e-9)
	}
	return least
}

// vault is how high a part is hollow below a dome: a ball as thick as the wall rolls along it.
func (l *lift) vault(p vec) float64 {
	const round, rings = 48, 16
	a := l.how.Wall
	least := l.upper(p, 0) - a
	for k := range round * rings {
		s, c := math.Sincos(2 * math.Pi * float64(k%round) / round)
		r := float64(k/round+1) / rings
		if q := p.plus(vec{c, s}, a*r); l.in.has(q) {
			least = math.Min(least, l.upper(q, 0)-a*math.Sqrt(1-r*r))
		}
	}
	return least
}
