package raise

import (
	"context"
	"math"

	"bildhauer/core/plane"
)

// Where the outline is narrower than twice the bevel, the rings end early and
// the triangles inside the last one have all corners at one distance: a flat
// shelf where two slopes should meet in a ridge. ridges puts points on those
// ridges, each as far from the outline as it truly is.

// ridgeTol is the share of the bevel's width by which heights may be off
// before a point is added.
const ridgeTol = 0.005

func (w *work) ridges(ctx context.Context) error {
	index := plane.NewSegmentIndex(w.poly)
	since := int32(-1)
	for pass := 0; pass < ridgePasses; pass++ {
		if err := ctx.Err(); err != nil {
			return err
		}
		found := w.slumps(index, since, w.shelves(index))
		since = w.ar.Points()
		set := 0
		for _, c := range found {
			if w.setRidge(index, c) {
				set++
			}
		}
		w.plan.Ridge += set
		if set == 0 {
			break
		}
	}
	return nil
}

// ridgePasses bounds the rounds of refinement; most ridges need three.
const ridgePasses = 20

// slumps appends the triangles that touch a ridge point numbered since or
// higher and whose centre is off by more than the tolerance: ends and forks
// of ridges, where no chord is left to tell. With since -1 it looks at the
// triangles with all corners on one ring.
func (w *work) slumps(index *plane.SegmentIndex, since int32, out []chord) []chord {
	ar := w.ar
	tol := ridgeTol * w.plan.Width
	for k := range ar.Triangles() {
		v, band, ok := w.sloping(k)
		if !ok {
			continue
		}
		if since < 0 { // triangles that are a whole ring by themselves have no chord
			if w.ring[v[0]] != w.ring[v[1]] || w.ring[v[1]] != w.ring[v[2]] {
				continue
			}
		} else if v[0] < since && v[1] < since && v[2] < since {
			continue
		}
		var x, y, d float64
		for _, u := range v {
			p := ar.Point(u)
			x, y, d = x+float64(p.X)/3, y+float64(p.Y)/3, d+float64(w.dist[u])/3
		}
		reach, most := math.Inf(1), math.Inf(1)
		for _, u := range v {
			p := ar.Point(u)
			dx, dy := float64(p.X)-x, float64(p.Y)-y
			far := math.Sqrt(dx*dx + dy*dy)
			// Distance changes no faster than one walks.
			reach = min(reach, float64(w.dist[u])+far)
			most = min(most, math.Abs(float64(w.dist[u])-d)+far)
		}
		if most <= tol {
			continue
		}
		f := index.Nearest(x, y, reach+1)
		if f.Edge < 0 || math.Abs(f.Dist-d) <= tol {
			continue
		}
		out = append(out, chord{band, x, y, f})
	}
	return out
}

// chord is an edge of the triangulation within one band whose ends lie on the
// same ring although its middle is farther from the outline, or nearer.
type chord struct {
	band int32
	x, y float64 // the middle
	foot plane.Foot
}

// sloping returns the corners and the band of triangle k if it lies between
// the outline and the plateau.
func (w *work) sloping(k int32) (v [3]int32, band int32, ok bool) {
	v, label := w.ar.Triangle(k)
	return v, label - 1, label > 0 && label <= w.n
}

// shelves finds the chords whose height is off by more than the tolerance.
func (w *work) shelves(index *plane.SegmentIndex) []chord {
	var out []chord
	ar := w.ar
	tol := ridgeTol * w.plan.Width
	for k := range ar.Triangles() {
		v, band, ok := w.sloping(k)
		if !ok {
			continue
		}
		for i := range 3 {
			a, b := v[i], v[(i+1)%3]
			if a > b || w.ring[a] < 0 || w.ring[a] != w.ring[b] {
				continue
			}
			if _, con := ar.Across(k, i); con {
				continue
			}
			p, q := ar.Point(a), ar.Point(b)
			x, y := (float64(p.X)+float64(q.X))/2, (float64(p.Y)+float64(q.Y))/2
			half := math.Hypot(float64(p.X-q.X), float64(p.Y-q.Y)) / 2
			if half <= tol { // distance changes no faster than one walks
				continue
			}
			at := float64(w.dist[a])
			f := index.Nearest(x, y, at+half+1)
			if f.Edge < 0 || math.Abs(f.Dist-at) <= tol {
				continue
			}
			out = append(out, chord{band, x, y, f})
		}
	}
	return out
}

// setRidge puts a point on the ridge that chord c crosses.
func (w *work) setRidge(index *plane.SegmentIndex, c chord) bool {
	x, y, dist := c.x, c.y, c.foot.Dist
	most := w.levels[c.band+1]
	if mx, my, r, ok := medial(index, c.x, c.y, c.foot, most*1.02); ok {
		x, y, dist = mx, my, r
	}
	p := plane.Point{X: int32(math.Round(x)), Y: int32(math.Round(y))}
	k := w.ar.Find(p)
	v, label := w.ar.Triangle(k)
	if label != c.band+1 {
		p = plane.Point{X: int32(math.Round(c.x)), Y: int32(math.Round(c.y))}
		dist = c.foot.Dist
		k = w.ar.Find(p)
		if v, label = w.ar.Triangle(k); label != c.band+1 {
			return false
		}
	}
	// Neighbouring chords often lead to the same point.
	near := math.Max(2, 0.01*w.plan.Width*math.Min(1, (w.levels[c.band+1]-w.levels[c.band])/w.plan.Width*4))
	if w.crowded(p, v, near) {
		p = plane.Point{X: int32(math.Round(c.x)), Y: int32(math.Round(c.y))}
		dist = c.foot.Dist
		k = w.ar.Find(p)
		if v, label = w.ar.Triangle(k); label != c.band+1 || w.crowded(p, v, near) {
			return false
		}
	}
	for i := range 3 { // a point on an edge of the arrangement would bend a ring
		if _, con := w.ar.Across(k, i); con && plane.Orient(w.ar.Point(v[i]), w.ar.Point(v[(i+1)%3]), p) == 0 {
			return false
		}
	}
	n := w.ar.Insert(p)
	if int(n) < len(w.dist) {
		return false
	}
	dist = math.Max(w.levels[c.band], math.Min(dist, most))
	w.dist = append(w.dist, float32(dist))
	w.ring = append(w.ring, -1)
	return true
}

// crowded reports whether a corner v lies within near of p.
func (w *work) crowded(p plane.Point, v [3]int32, near float64) bool {
	for _, u := range v {
		q := w.ar.Point(u)
		if dx, dy := float64(q.X-p.X), float64(q.Y-p.Y); dx*dx+dy*dy < near*near {
			return true
		}
	}
	return false
}

// medial finds the point of the medial axis above the foot of (x, y): the
// centre of the largest circle that touches the outline there and contains no
// other point of it, by shrinking (Ma, Bae, Choi, 3D medial axis point
// approximation using nearest neighbors and the normal field, 2012). ok is
// false when the circle grows beyond limit.
func medial(index *plane.SegmentIndex, x, y float64, foot plane.Foot, limit float64) (cx, cy, r float64, ok bool) {
	if foot.Dist < 1 {
		return 0, 0, 0, false
	}
	ux, uy := (x-foot.X)/foot.Dist, (y-foot.Y)/foot.Dist
	r = limit
	for range 16 {
		cx, cy = foot.X+ux*r, foot.Y+uy*r
		f := index.Nearest(cx, cy, r*(1-1e-6))
		if f.Edge < 0 {
			return cx, cy, r, ok
		}
		wx, wy := f.X-foot.X, f.Y-foot.Y
		along := 2 * (ux*wx + uy*wy)
		if along <= 0 {
			return 0, 0, 0, false
		}
		n := (wx*wx + wy*wy) / along
		if n > r*(1-1e-5) || n < foot.Dist*0.5 {
			return cx, cy, r, ok
		}
		r, ok = n, true
	}
	return cx, cy, r, ok
}
