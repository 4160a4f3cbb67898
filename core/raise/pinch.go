package raise

import (
	"math"
	"slices"

	"bildhauer/core/plane"
)

// Where four or more areas meet in a point, two that reach a height may meet there with
// others between them that do not: an upright edge with four walls, which no solid has.
// Such a pinch is bridged by a post as wide as what else is cut apart in points (see
// gap), from the lowest to the highest that meets there. At the corners of its ring no
// more than three areas meet.

// post is a bridge over a pinch.
type post struct {
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
type sector struct{ under, top int32 }

// findPinches sets posts where they are needed and reports whether it has. Where one
// was not enough, the next is wider.
func (o *overlay) findPinches(round int) bool {
	found := false
	half := int32(gap + gap*round/3)
	var around []sector
	for v := range o.ar.Points() {
		around = around[:0]
		same := true
		layer, highest := int32(0), int32(math.MinInt32)
		o.ar.Star(v, func(k int32) {
			s := sector{0, 0}
			if _, label := o.ar.Triangle(k); label > 0 {
				s = sector{o.cornerZ(1, k, v), o.cornerZ(0, k, v)}
				if s.top > highest {
					highest, layer = s.top, o.wins[0][k]
				}
			}
			same = same && (len(around) == 0 || around[0] == s)
			around = append(around, s)
		})
		if same || !pinched(around) {
			continue
		}
		p := post{at: o.ar.Point(v), top: math.MinInt32, under: math.MaxInt32, layer: layer, half: half}
		for _, s := range around {
			if s != (sector{}) {
				p.top, p.under = max(p.top, s.top), min(p.under, s.under)
			}
		}
		o.posts = append(o.posts, p)
		found = true
	}
	return found
}

// pinched reports whether at some height the sectors around a point that reach it are
// not all next to each other.
func pinched(around []sector) bool {
	var zs []int32
	for _, s := range around {
		if s != (sector{}) {
			zs = append(zs, s.under, s.top)
		}
	}
	slices.Sort(zs)
	zs = slices.Compact(zs)
	for i := 1; i < len(zs); i++ {
		turns := 0
		for j, s := range around {
			o := around[(j+1)%len(around)]
			in := s.under <= zs[i-1] && s.top >= zs[i] && s != (sector{})
			next := o.under <= zs[i-1] && o.top >= zs[i] && o != (sector{})
			if in != next {
				turns++
			}
		}
		if turns > 2 {
			return true
		}
	}
	return false
}
