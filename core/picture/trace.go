package picture

import (
	"math"

	"bildhauer/core/geom"
)

// How often light is followed from surface to surface: where it is scattered, and how many clear surfaces it goes
// through beside that. What is white all around loses less than a hundredth by it.
const (
	mostScattered = 24
	mostPassed    = 48
)

// place is where a ray has met a surface.
type place struct {
	at, normal, face geom.Vec3 // face: the normal of the triangle, toward where the ray came from
	material         *Material
	inside           bool    // the ray came from within
	size             float64 // how many times as large as at rest it is
	mask             int
}

// path is one path followed backwards, and what it needs on the way. One serves many after each other.
type path struct {
	s   *Scene
	m   *Moment
	smp sampler
	ray Ray
	at  place

	searches searches
	own      Material // of the place, where it changes from place to place

	rest   geom.Vec3 // the place, before it moved
	part   int32     // that it is of
	aspect float64   // of the film, where it keeps how fast things move; else 0

	through RGB     // how much of the light counts
	dense   float64 // by how much that is less for the density of light inside what is clear
	pdf     float64 // of the direction taken; infinite from the eye and off clear surfaces
	chances []float64
	tint    RGB     // of what the ray is inside of
	deep    float64 // see Material; 0 for the open

	scattered int  // how often light was thrown back
	passed    int  // how many clear surfaces it went through
	lit       bool // lamps were aimed at on the way
	crossed   bool // since then, or since the eye, it went through something clear

	out seen
}

// seen is what one path found.
type seen struct {
	light  RGB // seen directly, or scattered once
	more   RGB // scattered more often
	alpha  float64
	hit    bool       // something was met
	base   RGB        // of what was met first, or white for what lies behind all, for the filter
	normal geom.Vec3  // of that
	depth  float64    // mm, 0 for nothing
	mask   int        // Look.Mask of that
	moves  [2]float64 // how far it moves over the film in a frame, as shares of its sides, right and up
	ground [2]float64 // light that falls on a clear ground, and that would without the piece
}

// meet finds what a ray meets first, and works out the place.
func (w *path) meet(r *Ray) (far float64, ok bool) {
	h, ok := w.s.first(r, w.m, &w.searches, false)
	if !ok {
		return math.Inf(1), false
	}
	part := &w.s.parts[h.part]
	tri := &part.form.tree.tris[h.slot]
	look := &part.looks[part.form.look(h.slot)]
	rest := tri.mixed(h.U, h.V)
	a := tri.corner(0)
	face := tri.corner(1).Sub(a).Cross(tri.corner(2).Sub(a)).Unit()
	normal := face
	if part.form.normals != nil {
		normal = part.form.normals[h.slot].mixed(h.U, h.V).Unit()
	}
	p := &w.at
	p.material, p.mask, p.inside, p.size = &look.Material, look.Mask, false, 1
	if g := &look.Material.Grain; g.Size > 0 {
		normal = g.bent(rest, normal)
	}
	if look.Material.Drawn != nil {
		w.own = look.Material
		w.own.Base = w.own.Drawn(rest)
		p.material = &w.own
	}
	w.rest, w.part = rest, h.part
	p.at, p.normal, p.face = rest, normal, face
	if pose := w.m.pose(part); pose != nil {
		p.at, p.normal, p.face, p.size = pose.At(rest), pose.Turned(normal), pose.Turned(face), pose.Size
	}
	if p.face.Dot(r.Dir) > 0 {
		p.inside = true
		p.face, p.normal = p.face.Times(-1), p.normal.Times(-1)
	}
	// A normal that looks away from the eye would show nothing: it is bent back.
	if d := p.normal.Dot(r.Dir); d > -1e-3 {
		p.normal = p.normal.Plus(-d-1e-3, r.Dir).Unit()
	}
	return h.Dist, true
}

// leave returns a ray from a place.
func (s *Scene) leave(p *place, dir geom.Vec3, far float64) Ray {
	off := s.eps
	if dir.Dot(p.face) < 0 {
		off = -off
	}
	return Ray{From: p.at.Plus(off, p.face), Dir: dir, Far: far}
}

// follow follows one path backwards; down is how far down in the picture it began, 0 to 1.
func (w *path) follow(begin Ray, down float64) *seen {
	w.ray = begin
	r := &w.ray
	w.through, w.dense, w.pdf, w.deep = RGB{1, 1, 1}, 1, math.Inf(1), 0
	w.scattered, w.passed, w.lit, w.crossed = 0, 0, false, false
	w.out = seen{}
	for {
		far, ok := w.meet(r)
		r.Far = far
		if w.deep > 0 && ok {
			w.through = w.through.Through(w.tint.after(far, w.deep))
		}
		w.lamps(r)
		if !ok {
			w.beyond(r, down)
			return &w.out
		}
		w.first(far)
		w.glow(r, far)
		if w.scattered == mostScattered || w.passed == mostPassed {
			w.out.alpha = 1
			return &w.out
		}
		before := w.scattered + w.passed
		next, ok := w.scatter(r)
		if !ok || !w.goesOn(before) {
			w.out.alpha = 1
			return &w.out
		}
		*r = next
	}
}

// first notes what is seen first.
func (w *path) first(far float64) {
	if w.out.hit {
		return
	}
	o, p := &w.out, &w.at
	o.moves = w.moves()
	o.hit, o.depth, o.normal, o.base, o.mask = true, far, p.normal, p.material.Base, p.mask
	if p.material.clearness() > 0 && w.deep == 0 {
		// What is seen through it has colours of its own.
		o.base = o.base.Mix(RGB{1, 1, 1}, p.material.clearness())
	}
}

// moves returns how far over the film the place goes until a frame later.
func (w *path) moves() (out [2]float64) {
	next := w.m.Ahead
	if w.aspect == 0 || next == nil {
		return out
	}
	then := w.rest
	if pose := next.pose(&w.s.parts[w.part]); pose != nil {
		then = pose.At(then)
	}
	x, y := w.m.Camera.On(w.at.at, w.aspect)
	u, v := next.Camera.On(then, w.aspect)
	return [2]float64{u - x, y - v}
}

// goesOn follows what carries little seldom.
func (w *path) goesOn(before int) bool {
	if before < 1 {
		return true
	}
	q := math.Min(0.95, w.through.Max()*w.dense)
	if w.smp.one() >= q {
		return false
	}
	w.through = w.through.Times(1 / q)
	return true
}

// add adds light that was scattered so often.
func (w *path) add(c RGB, scattered int) {
	if scattered <= 1 {
		w.out.light = w.out.light.Plus(c)
	} else {
		w.out.more = w.out.more.Plus(c)
	}
}

// lamps adds the light of lamps that the ray meets.
func (w *path) lamps(r *Ray) {
	if w.scattered == 0 || w.lit && w.crossed {
		return // lamps stay unseen; or it was carried by shadow rays
	}
	for i, l := range w.m.Lights {
		if _, c, other, ok := l.met(r); ok {
			w.add(w.through.Through(c).Times(w.weight(i, other)), w.scattered)
		}
	}
}

// weight is that of light that was found by chance, and could have been found as lamp i with a probability.
func (w *path) weight(i int, other float64) float64 {
	if math.IsInf(w.pdf, 1) {
		return 1
	}
	return weight(w.pdf, other*w.chances[i])
}

// glow adds the light that what was met gives off.
func (w *path) glow(r *Ray, far float64) {
	m := w.at.material
	if w.at.inside || m.Glow.Dark() || w.lit && w.crossed {
		return
	}
	c := w.through.Through(m.Glow)
	if l := w.m.shining; l != nil && !math.IsInf(w.pdf, 1) {
		cos := -r.Dir.Dot(w.at.face)
		c = c.Times(w.weight(len(w.m.Lights)-1, l.pdf(m.Glow.Luma(), w.at.size, far, cos)))
	}
	w.add(c, w.scattered)
}

// beyond adds what lies behind everything.
func (w *path) beyond(r *Ray, down float64) {
	s, o := w.s, &w.out
	if w.scattered > 0 {
		o.alpha = 1
		if s.Sky != nil {
			c, other := s.Sky.met(r.Dir, w.m.Turn)
			k := 1.0
			if !math.IsInf(w.pdf, 1) {
				k = weight(w.pdf, other)
			}
			w.add(w.through.Through(c).Times(k), w.scattered)
		}
		return
	}
	// Nothing was met but what is clear: what lies behind is seen through it.
	if !o.hit && (s.Solid || s.SkySeen && s.Sky != nil) {
		o.base = RGB{1, 1, 1}
	}
	switch {
	case s.SkySeen && s.Sky != nil:
		c, _ := s.Sky.met(r.Dir, w.m.Turn)
		o.light, o.alpha = o.light.Plus(w.through.Through(c)), 1
	case s.Solid:
		c := s.Backdrop
		if !s.Foot.Dark() {
			c = c.Mix(s.Foot, math.Max(0, math.Min(1, down)))
		}
		o.light, o.alpha = o.light.Plus(w.through.Through(c)), 1
	default:
		o.alpha = 1 - w.through.Luma()
	}
	if s.Catch && r.Dir.Y < 0 && r.From.Y > s.Floor {
		p := place{at: r.At((s.Floor - r.From.Y) / r.Dir.Y), face: geom.Vec3{Y: 1}, normal: geom.Vec3{Y: 1}}
		o.ground = w.falls(&p)
	}
}

// falls returns the light that falls on a place from the sky and each lamp, and what would
// fall there if nothing were in between; from one direction of each.
func (w *path) falls(p *place) (out [2]float64) {
	add := func(d geom.Vec3, far float64, c RGB) {
		k := c.Luma() * d.Y
		if !(k > 0) {
			return
		}
		out[1] += k
		ray := w.s.leave(p, d, far*(1-1e-4))
		out[0] += k * w.s.open(&ray, w.m, &w.searches).Luma()
	}
	if w.s.Sky.shines() {
		u, v := w.smp.pair()
		if d, pdf, light := w.s.Sky.sample(u, v, w.m.Turn); pdf > 0 {
			add(d, math.Inf(1), light.Times(1/pdf))
		}
	}
	for _, l := range w.m.Lights {
		u, v := w.smp.pair()
		d, far, c, _ := l.toward(p.at, u, v)
		add(d, far, c)
	}
	return out
}

// weight is the power heuristic for light that was found by chance with probability pdf
// and could have been found as a lamp with probability other (Veach, 1997).
func weight(pdf, other float64) float64 { return pdf * pdf / (pdf*pdf + other*other) }

// leastFacing is how much lamps count, for choosing, that a surface hardly faces: they are large, and rough
// surfaces scatter far.
const leastFacing = 0.1

// choose works out how often each lamp is chosen at the place.
func (w *path) choose() (some bool) {
	w.chances = w.chances[:0]
	sum := 0.0
	for _, l := range w.m.Lights {
		much, from := l.power(w.at.at)
		if w.at.normal != (geom.Vec3{}) {
			much *= math.Max(leastFacing, from.Dot(w.at.normal)+1-from.Len())
		}
		w.chances = append(w.chances, much)
		sum += much
	}
	if sum <= 0 {
		return false
	}
	for i := range w.chances {
		w.chances[i] /= sum
	}
	return true
}

// surfaceFrame turns directions into the frame of a surface and back.
type surfaceFrame struct{ t, b, n geom.Vec3 }

func (f *surfaceFrame) into(d geom.Vec3) geom.Vec3 {
	return geom.Vec3{X: d.Dot(f.t), Y: d.Dot(f.b), Z: d.Dot(f.n)}
}

func (f *surfaceFrame) from(d geom.Vec3) geom.Vec3 {
	return f.t.Times(d.X).Plus(d.Y, f.b).Plus(d.Z, f.n)
}

// scatter adds the light that falls on a place and chooses where to go on.
func (w *path) scatter(r *Ray) (next Ray, ok bool) {
	p := &w.at
	frame := surfaceFrame{n: p.normal}
	frame.t, frame.b = p.normal.Frame()
	l := p.material.seenFrom(frame.into(r.Dir.Times(-1)))
	if c := p.material.clearness(); c > 0 {
		q := l.overBase * (1 - l.lacquer) * c
		if p.inside || w.smp.one() < q {
			return w.on(&frame, &l)
		}
		w.through = w.through.Times(1 / (1 - q))
	}
	w.light(&frame, &l)
	pick := w.smp.one()
	u, v := w.smp.pair()
	wi := l.sample(pick, u, v)
	dir := frame.from(wi)
	f, probability := l.reflects(wi)
	if probability <= 0 || dir.Dot(p.face) <= 0 {
		return next, false
	}
	w.through = w.through.Through(f.Times(1 / probability))
	w.pdf = probability
	w.scattered++
	w.lit, w.crossed = true, false
	return w.s.leave(p, dir, math.Inf(1)), !w.through.Dark()
}

// on goes on through a clear surface or, thrown back, inside of it.
func (w *path) on(frame *surfaceFrame, l *layers) (next Ray, ok bool) {
	dir, through, ok := w.pass(l)
	if !ok {
		return next, false
	}
	if w.passed++; through {
		w.crossed = true
	} else if !w.lit {
		w.scattered = max(w.scattered, 1) // by now lamps may be seen
	}
	w.pdf = math.Inf(1)
	return w.s.leave(&w.at, frame.from(dir), math.Inf(1)), true
}

// light adds the light that falls on the place from a lamp and from all around, each aimed at once.
func (w *path) light(frame *surfaceFrame, l *layers) {
	// Drawn whether it is needed or not: each decision keeps its own numbers, which fill their range evenly.
	var seldom [2]float64
	seldom[0], seldom[1] = w.smp.pair()
	if w.s.Sky.shines() {
		u, v := w.smp.pair()
		if d, pdf, c := w.s.Sky.sample(u, v, w.m.Turn); pdf > 0 {
			w.aimed(frame, l, d, math.Inf(1), c.Times(1/pdf), pdf, seldom[0], false)
		}
	}
	if !w.choose() {
		return
	}
	pick := w.smp.one()
	u, v := w.smp.pair()
	i := 0
	for i+1 < len(w.chances) && pick >= w.chances[i] {
		pick -= w.chances[i]
		i++
	}
	q := w.chances[i]
	if q <= 0 {
		return
	}
	if d, far, c, pdf := w.m.Lights[i].toward(w.at.at, u, v); pdf > 0 {
		w.aimed(frame, l, d, far, c.Times(1/q), pdf*q, seldom[1], true)
	}
}

// hardlySeen is light, as a share of white, of which less is looked for seldom, and counts as much then.
const hardlySeen = 0.01

// aimed adds light that was aimed at, with the probability of its direction; seldom is a number that decides whether
// little is looked for. Lamps shine through what is clear.
func (w *path) aimed(frame *surfaceFrame, l *layers, d geom.Vec3, far float64, c RGB, pdf, seldom float64, lamp bool) {
	wi := frame.into(d)
	if c.Dark() || wi.Z <= 0 || d.Dot(w.at.face) <= 0 {
		return
	}
	f, other := l.reflects(wi)
	if f = f.Times(weight(pdf, other)).Through(c); f.Dark() {
		return
	}
	f = w.through.Through(f)
	if v := f.Luma(); v < hardlySeen { // it is not worth a ray each time
		if seldom*hardlySeen >= v {
			return
		}
		f = f.Times(hardlySeen / v)
	}
	ray := w.s.leave(&w.at, d, far*(1-1e-4))
	if lamp {
		f = f.Through(w.s.open(&ray, w.m, &w.searches))
	} else if _, found := w.s.first(&ray, w.m, &w.searches, true); found {
		return
	}
	w.add(f, w.scattered+1)
}
