package raise

import (
	"math"
	"slices"

	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// located is a surface in which places are found.
type located struct {
	s     *Surface
	tris  [][3]int32 // as points
	twins []int32
	patch []int32 // of each triangle: a number that all share that hang together without a jump

	places *places // made when something is searched for

	tri    []int32 // of each triangle of the overlay: the one here that it lies in, -1 outside
	single bool    // there is one patch
	told   []int32 // heights at the points of the overlay, when there is one patch
	known  map[patchPoint]int32
}

// patchPoint is a point of the overlay as part of a patch.
type patchPoint struct{ patch, v int32 }

// locate prepares a surface; nil stays nil inside.
func locate(s *Surface) *located {
	l := &located{s: s}
	if s == nil {
		return l
	}
	l.tris = s.Tris
	if s.At != nil {
		l.tris = make([][3]int32, len(s.Tris))
		for k, t := range s.Tris {
			l.tris[k] = [3]int32{s.At[t[0]], s.At[t[1]], s.At[t[2]]}
		}
	}
	l.twins = mesh.Twins(len(s.Pts), l.tris)
	sets := geom.NewSets(len(s.Tris))
	for side, o := range l.twins {
		if o > int32(side) && !l.jumps(int32(side), o) {
			sets.Join(int32(side)/3, o/3)
		}
	}
	l.patch, l.single = make([]int32, len(s.Tris)), true
	for k := range l.patch {
		l.patch[k] = sets.Find(int32(k))
		l.single = l.single && l.patch[k] == l.patch[0]
	}
	return l
}

// jumps reports whether the heights differ on both sides of an edge.
func (l *located) jumps(side, o int32) bool {
	k, n := side/3, o/3
	return l.s.Tris[k][side%3] != l.s.Tris[n][(o%3+1)%3] || l.s.Tris[k][(side%3+1)%3] != l.s.Tris[n][o%3]
}

// level reports whether triangle k is.
func (l *located) flatAt(k int32) (int32, bool) {
	t := l.s.Tris[k]
	a := l.s.Z[t[0]]
	return a, a == l.s.Z[t[1]] && a == l.s.Z[t[2]]
}

// bends calls f for the inner edges in which the surface bends or jumps: all but those
// between two level triangles of one height.
func (l *located) bends(f func(p, q plane.Point)) {
	if l.s == nil {
		return
	}
	for side, o := range l.twins {
		if o <= int32(side) {
			continue
		}
		a, level := l.flatAt(int32(side) / 3)
		b, also := l.flatAt(o / 3)
		if level && also && a == b && l.s.Group[side/3] == l.s.Group[o/3] {
			continue
		}
		t := l.tris[side/3]
		f(l.s.Pts[t[side%3]], l.s.Pts[t[(side%3+1)%3]])
	}
}

// spread finds, for every triangle of the overlay that layer i covers, the triangle
// here that it lies in: from one to its neighbours, by way of the middle of their edge,
// which both contain.
func (l *located) spread(o *overlay, i int32) {
	if l.s == nil {
		return
	}
	n := o.ar.Triangles()
	l.tri = slices.Repeat([]int32{-1}, int(n))
	if l.single {
		l.told = slices.Repeat([]int32{untold}, int(o.ar.Points()))
	} else {
		l.known = map[patchPoint]int32{}
	}
	covered := func(k int32) bool {
		_, label := o.ar.Triangle(k)
		if label <= 0 || label >= firstPost {
			return false
		}
		_, in := slices.BinarySearch(o.covers[label-1], i)
		return in
	}
	var flood []int32
	for k := range n {
		if l.tri[k] >= 0 || !covered(k) {
			continue
		}
		x, y := o.middle(k)
		l.tri[k] = l.search(x, y)
		flood = append(flood[:0], k)
		for len(flood) > 0 {
			k := flood[len(flood)-1]
			flood = flood[:len(flood)-1]
			v, _ := o.ar.Triangle(k)
			x, y := o.middle(k)
			for c := range 3 {
				m, _ := o.ar.Across(k, c)
				if m < 0 || l.tri[m] >= 0 || !covered(m) {
					continue
				}
				p, q := o.ar.Point(v[c]), o.ar.Point(v[(c+1)%3])
				hx, hy := (float64(p.X)+float64(q.X))/2, (float64(p.Y)+float64(q.Y))/2
				mx, my := o.middle(m)
				at := l.walk(l.tri[k], x, y, hx, hy)
				l.tri[m] = l.walk(at, hx, hy, mx, my)
				flood = append(flood, m)
			}
		}
	}
}

// outside returns by how much, as a doubled area, (x, y) lies beyond side c of
// triangle k; negative inside.
func (l *located) outside(k int32, c int, x, y float64) float64 {
	p, q := l.s.Pts[l.tris[k][c]], l.s.Pts[l.tris[k][(c+1)%3]]
	px, py := float64(p.X), float64(p.Y)
	return -((float64(q.X)-px)*(y-py) - (float64(q.Y)-py)*(x-px))
}

// walk goes from triangle k, which holds (x, y), straight to (tx, ty).
func (l *located) walk(k int32, x, y, tx, ty float64) int32 {
	from := int32(-1)
	for range len(l.tris) + 3 {
		// Leave by the side that the way crosses: of those that the target lies
		// beyond, the one that is met first.
		best, at := -1, math.Inf(1)
		for c := range 3 {
			b := l.outside(k, c, tx, ty)
			if b <= 0 || int32(3*int(k)+c) == from {
				continue
			}
			a := l.outside(k, c, x, y)
			if s := -a / (b - a); s < at {
				best, at = c, s
			}
		}
		if best < 0 {
			return k
		}
		o := l.twins[3*int(k)+best]
		if o < 0 { // rounding at the border, or a way round a corner
			if l.beside(k, tx, ty) < 2*sliver {
				return k
			}
			return l.search(tx, ty)
		}
		k, from = o/3, o
	}
	return l.search(tx, ty)
}

// search returns the triangle that (x, y) lies in, or the one that it is least outside
// of.
func (l *located) search(x, y float64) int32 {
	if l.places == nil {
		l.places = newPlaces(l.s.Pts, l.tris)
	}
	return l.places.nearest(x, y, func(k int32) float64 { return l.beside(k, x, y) })
}

// weights returns the barycentric weights of (x, y) in triangle k, brought inside.
func (l *located) weights(k int32, x, y float64) [3]float64 {
	var w [3]float64
	sum := 0.0
	for c := range 3 {
		w[(c+2)%3] = math.Max(0, -l.outside(k, c, x, y))
		sum += w[(c+2)%3]
	}
	if sum == 0 {
		return [3]float64{1, 0, 0}
	}
	for c := range w {
		w[c] /= sum
	}
	return w
}

// level returns the height of triangle t at (x, y).
func (l *located) level(t int32, x, y float64) float64 {
	w := l.weights(t, x, y)
	z := 0.0
	for c, v := range l.s.Tris[t] {
		z += w[c] * float64(l.s.Z[v])
	}
	return z
}

// height returns the height at point v of the overlay, as triangle k of it sees it: the
// same for all triangles that lie in one patch.
func (l *located) height(k, v int32, p plane.Point) int32 {
	if l.single {
		if l.told[v] == untold {
			l.told[v] = l.heightAt(k, p)
		}
		return l.told[v]
	}
	key := patchPoint{l.patch[l.tri[k]], v}
	z, ok := l.known[key]
	if !ok {
		z = l.heightAt(k, p)
		l.known[key] = z
	}
	return z
}

// untold marks heights that nobody has asked for.
const untold = math.MinInt32

func (l *located) heightAt(k int32, p plane.Point) (z int32) {
	t := l.tri[k]
	exact := false
	for c, u := range l.tris[t] {
		if l.s.Pts[u] == p {
			z, exact = l.s.Z[l.s.Tris[t][c]], true
		}
	}
	if !exact {
		x, y := float64(p.X), float64(p.Y)
		z = int32(math.Round(l.level(l.around(t, x, y), x, y)))
	}
	return z
}

// around returns the triangle of the patch of triangle t that holds (x, y), a corner of something that lies
// in t but for rounding: of what is no thicker than that, a corner may lie far beyond.
func (l *located) around(t int32, x, y float64) int32 {
	off := l.beside(t, x, y)
	if off <= 2*sliver {
		return t
	}
	var mx, my float64
	for _, v := range l.tris[t] {
		mx, my = mx+float64(l.s.Pts[v].X)/3, my+float64(l.s.Pts[v].Y)/3
	}
	if o := l.walk(t, mx, my, x, y); l.patch[o] == l.patch[t] && l.beside(o, x, y) < off {
		return o
	}
	return t
}

// beside returns how far, in grid units, (x, y) lies beside triangle k; 0 within. How far it is outside of a
// side would not do: beyond the tip of a needle that is next to nothing.
func (l *located) beside(k int32, x, y float64) float64 {
	least, within := math.Inf(1), true
	for c := range 3 {
		within = within && l.outside(k, c, x, y) <= 0
		p, q := l.s.Pts[l.tris[k][c]], l.s.Pts[l.tris[k][(c+1)%3]]
		px, py, dx, dy := float64(p.X), float64(p.Y), float64(q.X-p.X), float64(q.Y-p.Y)
		along := math.Max(0, math.Min(1, ((x-px)*dx+(y-py)*dy)/(dx*dx+dy*dy)))
		least = math.Min(least, math.Hypot(px+along*dx-x, py+along*dy-y))
	}
	if within {
		return 0
	}
	return least
}

// looks returns the normal and the texture coordinates of triangle k at (x, y).
func (l *located) looks(k int32, x, y float64) ([3]float32, [2]float32) {
	w := l.weights(k, x, y)
	var uv [2]float32
	for c := range 3 {
		for a := range uv {
			if l.s.UV == nil {
				break
			}
			uv[a] += float32(w[c]) * l.s.UV[k][c][a]
		}
	}
	var n [3]float64
	for c := range 3 {
		for a := range 3 {
			n[a] += w[c] * float64(l.s.Normal[k][c][a])
		}
	}
	d := math.Sqrt(n[0]*n[0] + n[1]*n[1] + n[2]*n[2])
	if d == 0 {
		return [3]float32{0, 0, 1}, uv
	}
	return [3]float32{float32(n[0] / d), float32(n[1] / d), float32(n[2] / d)}, uv
}
