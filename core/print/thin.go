package print

import (
	"math"
	"slices"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// thin lays single lines along the middle of a narrow area, as wide as that is there. The
// middle is the chordal axis: the area is triangulated, and the middles of the sides that
// triangles have in common are joined (Prasad, Morphological analysis of shapes, 1997). The
// lines together cover as much as the area has.
func (b *bench) thin(area plane.Polygon) ([]Path, error) {
	area = b.sampled(area)
	ar := plane.NewArrangement()
	defer ar.Release()
	ar.AddRegion(0, plane.Region{area})
	if err := ar.Build(); err != nil {
		return nil, err
	}
	ar.Classify(&inside{})
	g := gauge.New(gauge.LoopsOf(plane.Region{area}))
	paths := b.trails(axisOf(ar), g)
	sum := 0.0
	for i := range paths {
		sum += paths[i].Covers()
	}
	if sum == 0 {
		return nil, nil
	}
	// Ends are laid a little wider instead of into their tips.
	k := float32(math.Min(1.5, b.step.Area(plane.Region{area})/sum))
	for i := range paths {
		for j := range paths[i].Widths {
			paths[i].Widths[j] *= k
		}
	}
	return paths, nil
}

// sampled returns the area with points on its outlines no farther apart than half a line.
func (b *bench) sampled(p plane.Polygon) plane.Polygon {
	most := float64(b.bead) / 2
	return plane.Region{p}.Mapped(func(l plane.Loop) (out plane.Loop) {
		for i, a := range l {
			c := l[(i+1)%len(l)]
			dx, dy := float64(c.X-a.X), float64(c.Y-a.Y)
			n := max(1, int(math.Ceil(math.Hypot(dx, dy)/most)))
			for k := range n {
				f := float64(k) / float64(n)
				q := plane.Point{X: a.X + int32(math.Round(dx*f)), Y: a.Y + int32(math.Round(dy*f))}
				out = append(out, q)
			}
		}
		return out
	})[0]
}

// inside labels the faces of one source.
type inside struct{ winding int32 }

func (r *inside) Cross(_, delta int32) { r.winding += delta }

func (r *inside) Label() int32 {
	if r.winding > 0 {
		return 1
	}
	return 0
}

// link is a stretch of an axis between two nodes.
type link struct{ a, b geom.Vec }

// axisOf returns the chordal axis of what is labelled. Triangles that end a limb have none.
func axisOf(ar *plane.Arrangement) (out []link) {
	at := func(v int32) geom.Vec {
		p := ar.Point(v)
		return geom.Vec{X: float64(p.X), Y: float64(p.Y)}
	}
	for k := range ar.Triangles() {
		t, label := ar.Triangle(k)
		if label == 0 {
			continue
		}
		var mids []geom.Vec
		for i := range 3 {
			if _, edge := ar.Across(k, i); !edge {
				// From the lower number on, so that both triangles find the same place.
				a, b := min(t[i], t[(i+1)%3]), max(t[i], t[(i+1)%3])
				mids = append(mids, at(a).Lerp(at(b), 0.5))
			}
		}
		switch len(mids) {
		case 2:
			out = append(out, link{mids[0], mids[1]})
		case 3:
			c := at(t[0]).Add(at(t[1])).Add(at(t[2])).Mul(1.0 / 3)
			for _, m := range mids {
				out = append(out, link{c, m})
			}
		}
	}
	return out
}

// trails joins links to paths as long as they go on without a fork.
func (b *bench) trails(links []link, g *gauge.Gauge) (out []Path) {
	meet := map[geom.Vec][]int{}
	for i, l := range links {
		meet[l.a] = append(meet[l.a], i)
		meet[l.b] = append(meet[l.b], i)
	}
	used := make([]bool, len(links))
	follow := func(i int, from geom.Vec) []geom.Vec {
		run := []geom.Vec{from}
		for {
			used[i] = true
			to := links[i].b
			if to == from {
				to = links[i].a
			}
			run = append(run, to)
			next := -1
			if len(meet[to]) == 2 {
				next = meet[to][0] + meet[to][1] - i
			}
			if next < 0 || used[next] {
				return run
			}
			i, from = next, to
		}
	}
	// From ends and forks first; what is left are rings.
	for _, rings := range []bool{false, true} {
		for i, l := range links {
			for _, from := range []geom.Vec{l.a, l.b} {
				if !used[i] && (rings || len(meet[from]) != 2) {
					if p, ok := b.trail(follow(i, from), g); ok {
						out = append(out, p)
					}
				}
			}
		}
	}
	return out
}

// trail makes a path of a run of places; ok is false for one that is shorter than it is wide
// by far, as forks leave them.
func (b *bench) trail(run []geom.Vec, g *gauge.Gauge) (p Path, ok bool) {
	keep := geom.Thinned(run, false, math.Max(1, float64(b.step.Units(fine*2))))
	slices.Sort(keep)
	long, wide := 0.0, 0.0
	p = Path{Kind: Thin, Width: float32(b.step.MM(b.bead))}
	for i, k := range keep {
		q := run[k]
		w := 2 * g.Nearest(q)
		p.Points = append(p.Points, b.at(q.X, q.Y))
		if i > 0 {
			long += q.Sub(run[keep[i-1]]).Len()
			p.Widths = append(p.Widths, float32(b.step.MM(plane.Units((w+wide)/2))))
		}
		wide = w
	}
	return p, long > float64(b.bead)/4
}
