package raise

import (
	"context"
	"math"
	"slices"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
)

// A dome swells over the whole part and is smooth over its ridges: its height is the
// root of the solution of Poisson's equation, laplacian h = -1 with h = 0 on the
// outline. Over a disc that is a half sphere, over a long strip half an ellipse;
// narrower places are lower. It is solved with linear finite elements on the plan,
// which has points inside for it. (The membrane of Prandtl, 1903; its root as a form
// to inflate outlines: Oh, Chen, Dorsey, Durand, Image-based modeling and photo
// editing, 2001.)

// domeParts is how many steps of the points inside lie across the widest half of a
// dome, for each facet; heights come out as TestDomesHaveTheirHeight holds.
const domeParts = 1.5

// domeMost is about how many points lie inside a dome, and how many on its outline and rings, at
// the most, whatever the outline.
const domeMost = 20_000

// domeSpacing returns the distance of the points inside a dome over a region on a grid of
// step mm, and on its rings, which are so many; 0 if the bevel is none.
func domeSpacing(b *Bevel, r plane.Region, step plane.Step, rings int) plane.Units {
	if b.Profile != Dome || !b.On() {
		return 0
	}
	area, long := float64(r.Area2())/2, 0.0
	r.Loops(func(l plane.Loop) {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			long += math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y))
		}
	})
	out := step.Units(b.Width) / plane.Units(domeParts*float64(max(b.Segments, 4)))
	return max(out, plane.Units(math.Sqrt(area/domeMost)), plane.Units(long*float64(1+rings)/domeMost))
}

// divided puts points on a ring of a dome, so that its height can change along it.
func (w *work) divided(r plane.Region) plane.Region {
	if w.plan.domed == 0 {
		return r
	}
	return dividedEdges(r, w.plan.domed)
}

// inflate sets the dome of one polygon, not yet brought to shares.
func (p *Plan) inflate(ctx context.Context) error {
	h, err := p.membrane().solve(ctx)
	if err != nil {
		return err
	}
	p.Dome = make([]float32, len(h))
	for i, v := range h {
		p.Dome[i] = float32(math.Sqrt(math.Max(0, v)))
	}
	return nil
}

// crown brings domes to shares of the height of the highest.
func (p *Plan) crown() {
	if len(p.Dome) == 0 {
		return
	}
	if top := slices.Max(p.Dome); top > 0 {
		for i := range p.Dome {
			p.Dome[i] /= top
		}
	}
}

// domedBy reports whether the plan is lifted as a dome.
func (p *Plan) domedBy(l *lifting) bool { return p.Dome != nil && l.heights == nil }

// slopes returns the gradient of heights over each triangle from a ring on, and at each point the mean of
// those around it, by area.
func (p *Plan) slopes(from Ring, height func(v int32) float64) (own, mean [][2]float64) {
	own, mean = make([][2]float64, len(p.Tris)), make([][2]float64, len(p.Pts))
	whole := make([]float64, len(p.Pts))
	for k, t := range p.Tris {
		if p.Ring[k] < from {
			continue
		}
		a, b, c := p.Pts[t[0]], p.Pts[t[1]], p.Pts[t[2]]
		area2 := float64(plane.Orient(a, b, c))
		za := height(t[0])
		zb, zc := height(t[1])-za, height(t[2])-za
		// Twice the area times the gradient; over the area it weighs by it.
		gx := zb*float64(c.Y-a.Y) - zc*float64(b.Y-a.Y)
		gy := zc*float64(b.X-a.X) - zb*float64(c.X-a.X)
		own[k] = [2]float64{gx / area2, gy / area2}
		for _, v := range t {
			mean[v][0], mean[v][1], whole[v] = mean[v][0]+gx, mean[v][1]+gy, whole[v]+area2
		}
	}
	for v, w := range whole {
		if w > 0 {
			mean[v] = [2]float64{mean[v][0] / w, mean[v][1] / w}
		}
	}
	return own, mean
}

// shadeDome returns the normals of a dome: from the slope of its square, which stays
// finite on the rim, where the dome itself is upright.
func (p *Plan) shadeDome(l *lifting) [][3][3]float32 {
	own, mean := p.slopes(0, func(v int32) float64 { return float64(p.Dome[v]) * float64(p.Dome[v]) })
	high, limit := math.Abs(float64(l.high)), math.Cos(l.crease*math.Pi/180)
	out := make([][3][3]float32, len(p.Tris))
	parallel.Light(len(p.Tris), func(k int) {
		for j, v := range p.Tris[k] {
			s, g := float64(p.Dome[v]), mean[v]
			dot := g[0]*own[k][0] + g[1]*own[k][1]
			if s == 0 && dot < limit*math.Hypot(g[0], g[1])*math.Hypot(own[k][0], own[k][1]) {
				g = own[k] // a hard corner of the outline
			}
			x, y, z := -high*g[0], -high*g[1], 2*s
			n := math.Sqrt(x*x + y*y + z*z)
			if out[k][j] = [3]float32{0, 0, 1}; n > 0 {
				out[k][j] = [3]float32{float32(x / n), float32(y / n), float32(z / n)}
			}
		}
	})
	return out
}
