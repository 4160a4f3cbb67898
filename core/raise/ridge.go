package raise

import (
	"context"
	"math"
	"slices"

	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Where the outline is narrower than twice the bevel, the rings end early and
// the triangles inside the last one have all corners at one distance: a flat
// shelf where two slopes should meet in a ridge. ridges puts points on those
// ridges, each as far from the outline as it truly is.

// ridgeTol is the share of the bevel's width by which heights may be off
// before a point is added.
const ridgeTol = 0.005

// ridgeLeast is what heights may be off by in any case, grid units: both ends of what is measured are
// rounded by up to 0.71. Where a bevel is narrower than 400 units, points beyond that would never end.
const ridgeLeast = 2

// tol is by how much distances may be off, grid units.
func (w *work) tol() float64 { return math.Max(ridgeLeast, ridgeTol*float64(w.plan.Width)) }

// steady is by how much a triangle may climb less than one walks, or more, without being looked at:
// chords of arcs differ by less from what they follow.
const steady = 0.03

// steep is how much longer than the step between its rings an edge has to be to be looked at in any
// case: what climbs as it should may still hide a ridge.
const steep = 5

func (w *work) ridges(ctx context.Context) error {
	if w.from == w.n {
		return nil // nothing is left but the plateau
	}
	index := w.index()
	if w.mitred {
		w.corners = newMitres(index, w.loops(), w.outward())
	}
	w.foot = make([]int32, len(w.dist))
	for i := range w.foot {
		w.foot[i] = -1
	}
	probes := w.shelves(nil)
	for k := range w.ar.Triangles() {
		if v, band, ok := w.sloping(k); ok && w.unsteady(v, band) {
			probes = w.slump(k, v, band, probes)
			probes = w.slants(k, v, band, false, probes)
		}
	}
	found := w.weigh(index, probes, nil)
	// An insertion changes only the triangles around the new point, and makes no
	// new chord: after the first round these are all there is to look at.
	for pass := 0; pass < ridgePasses && len(found) > 0; pass++ {
		if err := ctx.Err(); err != nil {
			return err
		}
		var set []int32
		var left []chord
		for _, c := range found {
			if n := w.setRidge(c); n >= 0 {
				set = append(set, n)
			} else if c.tries < ridgeTries {
				c.tries++
				left = append(left, c)
			}
		}
		w.plan.Ridge += len(set)
		if len(set) == 0 {
			break
		}
		found = w.weigh(index, w.around(set, probes[:0]), w.still(left))
	}
	return nil
}

// index returns where distances are measured from.
func (w *work) index() *plane.SegmentIndex {
	return plane.NewLoopIndex(w.loops())
}

// loops returns the outlines from which distances are measured.
func (w *work) loops() (list []plane.Loop) {
	from := w.out.source
	if !w.outward() {
		from = plane.Region{w.poly}
	}
	from.Loops(func(l plane.Loop) { list = append(list, l) })
	return list
}

// beyond reports whether a band lies inside the source of a bevel that runs outward:
// there distances grow again.
func (w *work) beyond(band int32) bool {
	return w.outward() && (w.levels[band]+w.levels[band+1])/2 > float64(w.out.spread)
}

// fromRim turns a distance in a band from where distances are measured into one from
// the rim.
func (w *work) fromRim(d float64, band int32) float64 {
	switch {
	case w.beyond(band):
		return float64(w.out.spread) + d
	case w.outward():
		return float64(w.out.spread) - d
	}
	return d
}

// far returns the greatest distance from where distances are measured of a place in
// a band whose distance from the rim lies between least and most.
func (w *work) far(least, most float64, band int32) float64 {
	switch {
	case w.beyond(band):
		return most - float64(w.out.spread)
	case w.outward():
		return float64(w.out.spread) - least
	}
	return most
}

// unsteady reports whether a triangle may lie across a ridge: distance grows as one walks away from the
// outline, and its corners do not, or it is long.
func (w *work) unsteady(v [3]int32, band int32) bool {
	a, b, c := w.ar.Point(v[0]), w.ar.Point(v[1]), w.ar.Point(v[2])
	bx, by, cx, cy := float64(b.X-a.X), float64(b.Y-a.Y), float64(c.X-a.X), float64(c.Y-a.Y)
	long := steep * (w.levels[band+1] - w.levels[band])
	if long *= long; bx*bx+by*by > long || cx*cx+cy*cy > long || (cx-bx)*(cx-bx)+(cy-by)*(cy-by) > long {
		return true
	}
	db, dc := float64(w.dist[v[1]]-w.dist[v[0]]), float64(w.dist[v[2]]-w.dist[v[0]])
	det := bx*cy - by*cx
	gx, gy := db*cy-dc*by, dc*bx-db*cx
	g := (gx*gx + gy*gy) / (det * det)
	return g < (1-steady)*(1-steady) || g > (1+steady)*(1+steady)
}

// probe is a place where the height may be off: what the triangulation gives
// there, and how far from the outline it can be at the most.
type probe struct {
	band    int32
	tri     int32 // the triangle it lies in
	hint    int32 // an edge of the outline that may be near, or -1
	x, y    float64
	d       float64 // distance from the rim that the triangulation gives
	bound   float64 // most that the distance from the source can be
	allowed float64 // how far it may be off
}

// chord is a place that is off, and where to put a point for it. Most are the
// middles of edges of the triangulation with both ends on one ring.
type chord struct {
	band int32
	tri  int32 // a triangle nearby
	x, y float64
	foot plane.Foot // of x, y on the outline

	ridge        bool    // a point of the ridge above the foot is known
	rx, ry, rise float64 // rise: from the rim

	tries int // how often there was no room for a point
}

// weigh appends the probes that are off by more than they may.
func (w *work) weigh(index *plane.SegmentIndex, probes []probe, out []chord) []chord {
	w.weighed = slices.Grow(w.weighed[:0], len(probes))[:len(probes)]
	all := w.weighed
	parallel.Light(len(probes), func(i int) {
		if i%64 == 0 && w.ar.Stop() {
			panic(progress.Quit{})
		}
		p := &probes[i]
		f := index.NearestFrom(p.x, p.y, w.corners.reachOf(p.bound)+1, p.hint)
		euclid := f
		f.Dist = w.corners.distance(p.x, p.y, f)
		if f.Edge < 0 || math.Abs(w.fromRim(f.Dist, p.band)-p.d) <= p.allowed {
			all[i].band = -1
			return
		}
		c := chord{band: p.band, tri: p.tri, x: p.x, y: p.y, foot: f}
		c.rx, c.ry, c.rise, c.ridge = medial(index, p.x, p.y, euclid, w.far(w.levels[p.band], w.levels[p.band+1], p.band)*1.02)
		if c.ridge && w.corners != nil {
			own := euclid // as near as what else the circle touches, which may be found in its place
			own.Dist = c.rise
			c.rise = math.Min(
				w.corners.distance(c.rx, c.ry, own),
				w.corners.distance(c.rx, c.ry, index.Nearest(c.rx, c.ry, c.rise*1.01+1)),
			)
		}
		c.rise = w.fromRim(c.rise, p.band)
		all[i] = c
	})
	for _, c := range all {
		if c.band >= 0 {
			out = append(out, c)
		}
	}
	return out
}

// ridgePasses bounds the rounds of refinement; most ridges need three.
const ridgePasses = 20

// ridgeTries is how often a place is tried again that had no room for a point:
// the ones set beside it meanwhile may have made some.
const ridgeTries = 2

// still keeps those of the places that are still off by more than the
// tolerance.
func (w *work) still(left []chord) []chord {
	tol := w.tol()
	kept := left[:0]
	for _, c := range left {
		p := plane.Point{X: int32(math.Round(c.x)), Y: int32(math.Round(c.y))}
		v, label := w.ar.Triangle(w.ar.Find(p, c.tri))
		if label == c.band+1 && math.Abs(w.level(v, c.x, c.y)-w.fromRim(c.foot.Dist, c.band)) > tol {
			kept = append(kept, c)
		}
	}
	return kept
}

// level returns the distance that triangle v gives for (x, y).
func (w *work) level(v [3]int32, x, y float64) float64 {
	a, b, c := w.ar.Point(v[0]), w.ar.Point(v[1]), w.ar.Point(v[2])
	ax, ay := float64(a.X), float64(a.Y)
	bx, by, cx, cy := float64(b.X)-ax, float64(b.Y)-ay, float64(c.X)-ax, float64(c.Y)-ay
	det := bx*cy - by*cx
	s := ((x-ax)*cy - (y-ay)*cx) / det
	t := (bx*(y-ay) - by*(x-ax)) / det
	d := float64(w.dist[v[0]])
	return d + s*(float64(w.dist[v[1]])-d) + t*(float64(w.dist[v[2]])-d)
}

// around appends the triangles around points that were just set whose centre is
// off: ends and forks of ridges, where no chord is left to tell; and the chords that are left beside them.
func (w *work) around(set []int32, out []probe) []probe {
	for len(w.seen) < int(w.ar.Triangles()) {
		w.seen = append(w.seen, 0)
	}
	w.look++
	for _, n := range set {
		w.ar.Star(n, func(k int32) {
			if w.seen[k] == w.look {
				return
			}
			w.seen[k] = w.look
			v, band, ok := w.sloping(k)
			if !ok {
				return
			}
			out = w.slump(k, v, band, out)
			for i := range 3 {
				out = w.shelf(k, i, v, band, out)
			}
			out = w.slants(k, v, band, !w.unsteady(v, band), out)
		})
	}
	return out
}

// ringSlack returns how far the ring beside a triangle may itself be from where
// it should be: points could not mend that, they would pile up along the ring.
func (w *work) ringSlack(v [3]int32) float64 {
	a, b, c := w.ring[v[0]], w.ring[v[1]], w.ring[v[2]]
	if a == b || a == c {
		b = a
	} else if b != c {
		return 0
	}
	if b < 0 {
		return 0
	}
	return w.slack[b]
}

// slump appends the centre of a triangle if it can be off by more than the
// tolerance.
func (w *work) slump(k int32, v [3]int32, band int32, out []probe) []probe {
	ar := w.ar
	tol := w.tol()
	var x, y, d float64
	for _, u := range v {
		p := ar.Point(u)
		x, y, d = x+float64(p.X)/3, y+float64(p.Y)/3, d+float64(w.dist[u])/3
	}
	// Distance changes no faster than one walks, so the true one at the centre
	// lies between least and reach.
	reach, least := math.Inf(1), 0.0
	for _, u := range v {
		p := ar.Point(u)
		dx, dy := float64(p.X)-x, float64(p.Y)-y
		far := math.Sqrt(dx*dx + dy*dy)
		reach = min(reach, float64(w.dist[u])+far)
		least = max(least, float64(w.dist[u])-far)
	}
	tol += w.ringSlack(v)
	if reach-d <= tol && d-least <= tol {
		return out
	}
	hint := max(w.foot[v[0]], w.foot[v[1]], w.foot[v[2]])
	bound := w.far(least, reach, band)
	return append(out, probe{band: band, tri: k, hint: hint, x: x, y: y, d: d, bound: bound, allowed: tol})
}

// slants appends the edges of a triangle that climb over a long way: what is right at its centre may be
// wrong there. Of a steady one it is those from the rim to a ridge: it climbs as from an edge of the
// outline, and where that ends in a corner, what lies beyond is higher.
func (w *work) slants(k int32, v [3]int32, band int32, steady bool, out []probe) []probe {
	tol := w.tol() + w.ringSlack(v)
	for i := range 3 {
		a, b := v[i], v[(i+1)%3]
		low, high := min(w.ring[a], w.ring[b]), max(w.ring[a], w.ring[b])
		if fromRim := low == -1 && high == 0; low == high || steady && !fromRim {
			continue
		}
		if _, con := w.ar.Across(k, i); con {
			continue
		}
		p, q := w.ar.Point(a), w.ar.Point(b)
		half := math.Hypot(float64(p.X-q.X), float64(p.Y-q.Y)) / 2
		da, db := float64(w.dist[a]), float64(w.dist[b])
		at, least, reach := (da+db)/2, max(da, db)-half, min(da, db)+half
		if reach-at <= tol && at-least <= tol {
			continue
		}
		x, y := (float64(p.X)+float64(q.X))/2, (float64(p.Y)+float64(q.Y))/2
		bound := w.far(max(0, least), reach, band)
		out = append(out, probe{band: band, tri: k, hint: -1, x: x, y: y, d: at, bound: bound, allowed: tol})
	}
	return out
}

// sloping returns the corners and the band of triangle k if it lies between
// the outline and the plateau.
func (w *work) sloping(k int32) (v [3]int32, band int32, ok bool) {
	w.poll.Tick()
	v, label := w.ar.Triangle(k)
	return v, label - 1, label > 0 && label <= w.n
}

// shelves appends the chords: edges of the triangulation within one band whose
// ends lie on the same ring although their middle may be farther from the
// outline, or nearer.
func (w *work) shelves(out []probe) []probe {
	for k := range w.ar.Triangles() {
		v, band, ok := w.sloping(k)
		for i := 0; ok && i < 3; i++ {
			if v[i] < v[(i+1)%3] { // else its other side does
				out = w.shelf(k, i, v, band, out)
			}
		}
	}
	return out
}

// shelf appends edge i of triangle k if it is a chord.
func (w *work) shelf(k int32, i int, v [3]int32, band int32, out []probe) []probe {
	tol := w.tol()
	a, b := v[i], v[(i+1)%3]
	if w.ring[a] < 0 || w.ring[a] != w.ring[b] {
		return out
	}
	if _, con := w.ar.Across(k, i); con {
		return out
	}
	p, q := w.ar.Point(a), w.ar.Point(b)
	x, y := (float64(p.X)+float64(q.X))/2, (float64(p.Y)+float64(q.Y))/2
	half := math.Hypot(float64(p.X-q.X), float64(p.Y-q.Y)) / 2
	if half <= tol { // distance changes no faster than one walks
		return out
	}
	at := float64(w.dist[a])
	bound := w.far(at-half, at+half, band)
	return append(out, probe{band: band, tri: k, hint: -1, x: x, y: y, d: at, bound: bound, allowed: tol})
}

// setRidge puts a point on the ridge that chord c crosses and returns its
// number, or -1 where there is no room for one.
func (w *work) setRidge(c chord) int32 {
	w.poll.Tick()
	x, y, dist := c.x, c.y, w.fromRim(c.foot.Dist, c.band)
	most := w.levels[c.band+1]
	if c.ridge {
		x, y, dist = c.rx, c.ry, c.rise
	}
	p := plane.Point{X: int32(math.Round(x)), Y: int32(math.Round(y))}
	k := w.ar.Find(p, c.tri)
	v, label := w.ar.Triangle(k)
	if label != c.band+1 {
		p = plane.Point{X: int32(math.Round(c.x)), Y: int32(math.Round(c.y))}
		dist = w.fromRim(c.foot.Dist, c.band)
		k = w.ar.Find(p, c.tri)
		if v, label = w.ar.Triangle(k); label != c.band+1 {
			return -1
		}
	}
	// Neighbouring chords often lead to the same point.
	wide := float64(w.plan.Width)
	near := math.Max(2, 0.01*wide*math.Min(1, (w.levels[c.band+1]-w.levels[c.band])/wide*4))
	if w.crowded(p, v, near) {
		p = plane.Point{X: int32(math.Round(c.x)), Y: int32(math.Round(c.y))}
		dist = w.fromRim(c.foot.Dist, c.band)
		k = w.ar.Find(p, c.tri)
		if v, label = w.ar.Triangle(k); label != c.band+1 || w.crowded(p, v, near) {
			return -1
		}
	}
	for i := range 3 { // a point on an edge of the arrangement would bend a ring
		if _, con := w.ar.Across(k, i); con &&
			plane.Orient(w.ar.Point(v[i]), w.ar.Point(v[(i+1)%3]), p) == 0 {
			return -1
		}
	}
	really := dist
	dist = math.Max(w.levels[c.band], math.Min(dist, most))
	if math.Abs(dist-really) > max(w.tol(), w.slack[c.band], w.slack[c.band+1]) {
		// Rings that are made from each other add up to more than each may be off: a point can't mend that.
		return -1
	}
	n := w.ar.Insert(p)
	if int(n) < len(w.dist) {
		return -1
	}
	w.dist = append(w.dist, float32(dist))
	w.foot = append(w.foot, c.foot.Edge)
	w.ring = append(w.ring, -1)
	return n
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
func medial(
	index *plane.SegmentIndex,
	x, y float64,
	foot plane.Foot,
	limit float64,
) (cx, cy, r float64, ok bool) {
	if foot.Dist < 1 {
		return 0, 0, 0, false
	}
	ux, uy := (x-foot.X)/foot.Dist, (y-foot.Y)/foot.Dist
	r = limit
	hint := int32(-1)
	for range 16 {
		cx, cy = foot.X+ux*r, foot.Y+uy*r
		f := index.NearestFrom(cx, cy, r*(1-1e-6), hint)
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
		r, ok, hint = n, true, f.Edge
	}
	return cx, cy, r, ok
}
