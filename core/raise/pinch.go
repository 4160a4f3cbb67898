package raise

import (
	"math"
	"slices"

	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Where four or more areas meet in a point, two that reach a height may meet there with
// others between them that do not: an upright edge with four walls, which no solid has.
// Such a pinch is bridged by a post as wide as what else is cut apart in points (see
// gap), from the lowest to the highest that meets there. Where the sharpest of what meets
// there is a needle that stands free, a notch is cut instead, which shortens it a little:
// at the ring of a post it would be as narrow as in its tip. At the corners of a ring no
// more than three areas meet.

// post is a bridge over a pinch, or a notch.
type post struct {
	notch      bool
	at         plane.Point
	half       int32 // half its side, grid units
	top, under int32
	layer      int32 // whose face its top is
}

// ring returns the outline of the post.
func (p *post) ring() plane.Loop {
	r := p.half
	return plane.Loop{
		{X: p.at.X - r, Y: p.at.Y}, {X: p.at.X, Y: p.at.Y - r}, {X: p.at.X + r, Y: p.at.Y}, {X: p.at.X, Y: p.at.Y + r},
	}
}

// sector is what a triangle around a point reaches there.
type sector struct {
	spans [][2]int32 // from below
	angle float32    // how far it goes round the point
}

// reaches reports whether the sector is there from one height to another.
func (s *sector) reaches(lo, hi int32) bool {
	return slices.ContainsFunc(s.spans, func(z [2]int32) bool { return z[0] <= lo && z[1] >= hi })
}

// around appends what the triangles around a point reach there; nil if all reach the same.
func (o *overlay) around(v int32, room []sector) []sector {
	same := true
	o.ar.Star(v, func(k int32) {
		s := sector{}
		j := o.corner(k, v)
		for _, b := range o.over(k) {
			if n := len(s.spans); n > 0 && s.spans[n-1][1] == b.zUnder[j] {
				s.spans[n-1][1] = b.zTop[j]
			} else if b.zUnder[j] < b.zTop[j] {
				s.spans = append(s.spans, [2]int32{b.zUnder[j], b.zTop[j]})
			}
		}
		same = same && (len(room) == 0 || slices.Equal(room[0].spans, s.spans))
		room = append(room, s)
	})
	if same {
		return nil
	}
	i, at := 0, o.ar.Point(v)
	o.ar.Star(v, func(k int32) {
		room[i].angle = o.angle(k, v, at)
		i++
	})
	return room
}

// angle returns the angle of triangle k at its corner v.
func (o *overlay) angle(k, v int32, at plane.Point) float32 {
	t, _ := o.ar.Triangle(k)
	for c, u := range t {
		if u == v {
			p, q := o.ar.Point(t[(c+1)%3]), o.ar.Point(t[(c+2)%3])
			ux, uy := float64(p.X-at.X), float64(p.Y-at.Y)
			wx, wy := float64(q.X-at.X), float64(q.Y-at.Y)
			return float32(math.Atan2(ux*wy-uy*wx, ux*wx+uy*wy))
		}
	}
	return 0
}

// pinches returns the points at which something touches.
func (o *overlay) pinches(poll *progress.Poll) (list []int32) {
	for v := range o.ar.Points() {
		poll.Tick()
		if is, _ := pinched(o.around(v, nil)); is || o.touchesAt(v, &o.vicinity) {
			list = append(list, v)
		}
	}
	return list
}

// setPosts sets posts and notches at points at which something touches, or lets needles give way. Where
// one post was not enough, the next is wider: needles that part at a small angle are one for a long way,
// and each second round doubles how far is looked.
func (o *overlay) setPosts(at []int32, round int) {
	half := int32(gap) << (round / 2)
	for _, v := range at {
		if o.slimAround(v) {
			continue
		}
		layer, highest := int32(0), int32(math.MinInt32)
		free := false
		o.ar.Star(v, func(k int32) {
			list := o.over(k)
			if free = free || len(list) == 0; len(list) > 0 {
				if s := &list[len(list)-1]; s.zTop[o.corner(k, v)] > highest {
					highest, layer = s.zTop[o.corner(k, v)], s.top.layer
				}
			}
		})
		p := post{at: o.ar.Point(v), top: math.MinInt32, under: math.MaxInt32, layer: layer, half: half}
		o.about(v, func(z *int32) { p.top, p.under = max(p.top, *z), min(p.under, *z) })
		_, needle := pinched(o.around(v, nil))
		p.notch = free && needle
		o.posts = append(o.posts, p)
	}
}

// pinched reports whether at some height the sectors around a point that reach it are
// not all next to each other, and whether the narrowest run of such sectors is narrower
// than all gaps between them.
func pinched(around []sector) (is, needle bool) {
	var zs []int32
	for _, s := range around {
		for _, z := range s.spans {
			zs = append(zs, z[0], z[1])
		}
	}
	slices.Sort(zs)
	zs = slices.Compact(zs)
	for i := 1; i < len(zs); i++ {
		if runs := runsAt(around, zs[i-1], zs[i]); len(runs) > 2 {
			is = true
			narrowest := 0
			for k, r := range runs {
				if r.angle < runs[narrowest].angle {
					narrowest = k
				}
			}
			needle = needle || runs[narrowest].in
		}
	}
	return is, needle
}

// run is sectors next to each other that all reach a height, or none of them does.
type run struct {
	in    bool
	angle float32
}

// runsAt returns the runs around a point between two heights.
func runsAt(around []sector, lo, hi int32) []run {
	var out []run
	for _, s := range around {
		in := s.reaches(lo, hi)
		if n := len(out); n > 0 && out[n-1].in == in {
			out[n-1].angle += s.angle
			continue
		}
		out = append(out, run{in, s.angle})
	}
	if n := len(out); n > 1 && out[0].in == out[n-1].in {
		out[0].angle += out[n-1].angle
		out = out[:n-1]
	}
	return out
}
