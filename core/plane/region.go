package plane

// Loop is a closed run of points without a repeated last point.
type Loop []Point

// Polygon is one connected area: an outer loop, counter-clockwise, and its
// holes, clockwise. What lies inside a hole is another Polygon.
type Polygon struct {
	Outer Loop
	Holes []Loop
}

// Region is a set of polygons with disjoint interiors.
type Region []Polygon

// Area2 returns twice the signed area.
func (l Loop) Area2() int64 {
	var a int64
	for i, p := range l {
		q := l[(i+1)%len(l)]
		a += int64(p.X)*int64(q.Y) - int64(q.X)*int64(p.Y)
	}
	return a
}

// Area2 returns twice the area covered.
func (r Region) Area2() int64 {
	var a int64
	for _, p := range r {
		a += p.Area2()
	}
	return a
}

// Area2 returns twice the area covered.
func (p Polygon) Area2() int64 {
	a := p.Outer.Area2()
	for _, h := range p.Holes {
		a += h.Area2()
	}
	return a
}

// Edges returns the number of edges of all loops.
func (r Region) Edges() int {
	n := 0
	r.Loops(func(l Loop) { n += len(l) })
	return n
}

// Mapped returns the region with f of each loop in its place.
func (r Region) Mapped(f func(Loop) Loop) Region {
	out := make(Region, len(r))
	for i, p := range r {
		out[i].Outer = f(p.Outer)
		for _, h := range p.Holes {
			out[i].Holes = append(out[i].Holes, f(h))
		}
	}
	return out
}

// Loops calls f for every loop.
func (r Region) Loops(f func(Loop)) {
	for _, p := range r {
		f(p.Outer)
		for _, h := range p.Holes {
			f(h)
		}
	}
}

// Bounds returns the smallest box around the region; ok is false when it is
// empty.
func (r Region) Bounds() (lo, hi Point, ok bool) {
	lo, hi = Point{1 << 30, 1 << 30}, Point{-1 << 30, -1 << 30}
	for _, p := range r {
		for _, q := range p.Outer {
			lo.X, lo.Y = min(lo.X, q.X), min(lo.Y, q.Y)
			hi.X, hi.Y = max(hi.X, q.X), max(hi.Y, q.Y)
			ok = true
		}
	}
	return lo, hi, ok
}
