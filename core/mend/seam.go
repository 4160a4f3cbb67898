package mend

import (
	"math"
	"slices"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// closeSeam closes the slit between two shapes that is narrower than MM[0]: both
// grow to the line in the middle. With At[0] only the slit there.
func closeSeam(w *Work, m *recipe.Mend) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	if len(which) != 2 {
		return refuse("choose two shapes")
	}
	src := newSources()
	list, err := w.regions(which, src)
	if err != nil {
		return err
	}
	s := &seam{a: gauge.New(gauge.LoopsOf(list[0])), b: gauge.New(gauge.LoopsOf(list[1]))}
	both, err := union(list)
	if err != nil {
		return err
	}
	width := w.units(m.MM[0])
	upper, lower := 1, 0
	if which[0] > which[1] {
		upper, lower = 0, 1
	}
	fresh := [2]plane.Region{list[0], list[1]}
	done := false
	for _, spot := range s.a.Spots(s.between(both, width), width*0.6) {
		if len(m.At) > 0 {
			x, y := w.toGrid(vec(m.At[0]))
			if nearestBall(spot, geom.Vec{X: x, Y: y}) > width*2 {
				continue
			}
		}
		gap, err := w.closing(both, spot, width)
		if err != nil {
			return err
		}
		open, err := plane.Combine(gap, both, plane.Subtract)
		if err != nil {
			return err
		}
		half, err := s.half(open, width)
		if err != nil {
			return err
		}
		if upper == 1 {
			if half, err = plane.Combine(open, half, plane.Subtract); err != nil {
				return err
			}
		}
		if half, err = w.rimmed(half); err != nil {
			return err
		}
		for k, add := range map[int]plane.Region{upper: half, lower: gap} {
			if fresh[k], err = plane.Combine(fresh[k], add, plane.Union); err != nil {
				return err
			}
		}
		done = done || len(open) > 0
	}
	if !done {
		return lost("the slit")
	}
	// The lower one is cut by the upper one as that is drawn now, so that both
	// have one border.
	w.setRegion(which[upper], fresh[upper], src)
	above, err := w.region(which[upper], src)
	if err != nil {
		return err
	}
	if fresh[lower], err = plane.Combine(fresh[lower], above, plane.Subtract); err != nil {
		return err
	}
	// What was drawn anew departs from where the gap ends by as much as curves are fitted within.
	fresh[lower] = slices.DeleteFunc(fresh[lower], func(p plane.Polygon) bool {
		return thinnerThan(p.Outer, 4*w.fitTol()/w.Grid)
	})
	w.setRegion(which[lower], fresh[lower], src)
	return nil
}

func nearestBall(spot []gauge.Ball, at geom.Vec) float64 {
	far := math.Inf(1)
	for _, b := range spot {
		far = math.Min(far, b.Middle.Sub(at).Len())
	}
	return far
}

// seam is the outlines on both sides of slits.
type seam struct{ a, b *gauge.Gauge }

// side tells on whose outline a point lies: -1 on the first, 1 on the second, 0
// on none, and which is nearer.
func (s *seam) side(p geom.Vec) (on, nearer int) {
	const close = 4 // grid units; crossings are rounded
	a := s.a.Nearest(p)
	b := s.b.Nearest(p)
	nearer = 1
	if a < b {
		nearer = -1
	}
	if math.Min(a, b) > close {
		return 0, nearer
	}
	return nearer, nearer
}

// between returns the balls of slits whose sides belong to different shapes.
func (s *seam) between(both plane.Region, width float64) []gauge.Ball {
	var out []gauge.Ball
	for _, b := range gauge.New(gauge.LoopsOf(both)).Narrow(width, true, slantOfSpots) {
		p, _ := s.side(b.At)
		q, _ := s.side(b.Across)
		if p*q < 0 {
			out = append(out, b)
		}
	}
	return out
}

// half returns the part of a gap that lies nearer to the first shape. The gap is
// triangulated between points on both sides; the middle line runs through the
// middles of the edges from one side to the other.
func (s *seam) half(gap plane.Region, width float64) (plane.Region, error) {
	if len(gap) == 0 {
		return nil, nil
	}
	ar := plane.NewArrangement()
	gap.Loops(func(l plane.Loop) { ar.AddLoop(0, s.fine(dense(l, width/8))) })
	if err := ar.Build(); err != nil {
		return nil, err
	}
	defer ar.Release()
	ar.Classify(&inside{})
	nearer := map[int32]int{}
	sideOf := func(v int32) int {
		n, ok := nearer[v]
		if !ok {
			_, n = s.side(vecOf(ar.Point(v)))
			nearer[v] = n
		}
		return n
	}
	middle := func(v, u int32) plane.Point {
		p, q := ar.Point(v), ar.Point(u)
		return plane.Point{X: (p.X + q.X) >> 1, Y: (p.Y + q.Y) >> 1}
	}
	var loops []plane.Loop
	for k := range ar.Triangles() {
		v, label := ar.Triangle(k)
		if label != 1 {
			continue
		}
		var l plane.Loop
		for i := range v {
			u := v[(i+1)%3]
			if sideOf(v[i]) < 0 {
				l = append(l, ar.Point(v[i]))
			}
			if sideOf(v[i]) != sideOf(u) {
				l = append(l, middle(v[i], u))
			}
		}
		if len(l) > 2 {
			loops = append(loops, l)
		}
	}
	return fill(loops)
}

// fine returns a loop with points close to each other where it runs from one side to the other: the middle line
// begins there.
func (s *seam) fine(l plane.Loop) plane.Loop {
	const steps = 32
	side := make([]int, len(l))
	for i, p := range l {
		_, side[i] = s.side(vecOf(p))
	}
	var out plane.Loop
	for i, p := range l {
		q := l[(i+1)%len(l)]
		if out = append(out, p); side[i] == side[(i+1)%len(l)] {
			continue
		}
		for k := 1; k < steps; k++ {
			v := vecOf(p).Lerp(vecOf(q), float64(k)/steps)
			out = append(out, plane.Point{X: int32(math.Round(v.X)), Y: int32(math.Round(v.Y))})
		}
	}
	return out
}

// inside labels what a winding number other than 0 covers.
type inside struct{ w int32 }

func (i *inside) Cross(_, delta int32) { i.w += delta }
func (i *inside) Label() int32 {
	if i.w != 0 {
		return 1
	}
	return 0
}

// dense returns a loop with points no farther apart than step.
func dense(l plane.Loop, step float64) plane.Loop {
	var out plane.Loop
	for i, p := range l {
		q := l[(i+1)%len(l)]
		a, b := vecOf(p), vecOf(q)
		n := max(1, int(math.Ceil(b.Sub(a).Len()/step)))
		for k := range n {
			v := a.Lerp(b, float64(k)/float64(n))
			out = append(out, plane.Point{X: int32(math.Round(v.X)), Y: int32(math.Round(v.Y))})
		}
	}
	return out
}
