package raise

import (
	"cmp"
	"math"
	"slices"

	"bildhauer/core/plane"
)

// places is a tree of boxes over triangles in the order of a curve through their
// middles, to find the one that a place lies in.
type places struct {
	order  []int32
	boxes  []placeBox // a complete binary tree: node i has the children 2i and 2i+1
	leaves int
}

type placeBox struct{ lo, hi plane.Point }

func (b *placeBox) join(c placeBox) {
	b.lo.X, b.lo.Y = min(b.lo.X, c.lo.X), min(b.lo.Y, c.lo.Y)
	b.hi.X, b.hi.Y = max(b.hi.X, c.hi.X), max(b.hi.Y, c.hi.Y)
}

// far returns how far outside of the box a place lies, along the axes.
func (b *placeBox) far(x, y float64) float64 {
	dx := math.Max(float64(b.lo.X)-x, x-float64(b.hi.X))
	dy := math.Max(float64(b.lo.Y)-y, y-float64(b.hi.Y))
	return math.Max(0, math.Max(dx, dy))
}

// woven puts the bits of x and y in turns (Morton, 1966).
func woven(x, y int32) uint64 {
	spread := func(v uint32) uint64 {
		w := uint64(v)
		for _, s := range []struct {
			by   uint
			mask uint64
		}{{16, 0x0000ffff0000ffff}, {8, 0x00ff00ff00ff00ff}, {4, 0x0f0f0f0f0f0f0f0f}, {2, 0x3333333333333333}, {1, 0x5555555555555555}} {
			w = (w | w<<s.by) & s.mask
		}
		return w
	}
	return spread(uint32(x)^1<<31) | spread(uint32(y)^1<<31)<<1
}

func newPlaces(pts []plane.Point, tris [][3]int32) *places {
	t := &places{order: make([]int32, len(tris)), leaves: 1}
	for t.leaves < len(tris) {
		t.leaves *= 2
	}
	keys := make([]uint64, len(tris))
	for k, v := range tris {
		a, b, c := pts[v[0]], pts[v[1]], pts[v[2]]
		keys[k], t.order[k] = woven(a.X/3+b.X/3+c.X/3, a.Y/3+b.Y/3+c.Y/3), int32(k)
	}
	slices.SortFunc(t.order, func(a, b int32) int {
		return cmp.Or(cmp.Compare(keys[a], keys[b]), cmp.Compare(a, b))
	})
	const none = 1 << 30
	t.boxes = slices.Repeat([]placeBox{{plane.Point{X: none, Y: none}, plane.Point{X: -none, Y: -none}}}, 2*t.leaves)
	for i, k := range t.order {
		for _, v := range tris[k] {
			t.boxes[t.leaves+i].join(placeBox{pts[v], pts[v]})
		}
	}
	for i := t.leaves - 1; i > 0; i-- {
		t.boxes[i] = t.boxes[2*i]
		t.boxes[i].join(t.boxes[2*i+1])
	}
	return t
}

// nearest returns the triangle that (x, y) lies least outside of, by deep, which tells
// nothing beyond sharp tips, and by the triangle's box.
func (t *places) nearest(x, y float64, deep func(k int32) float64) int32 {
	best, least := int32(0), math.Inf(1)
	var look func(node int)
	look = func(node int) {
		if least == 0 || t.boxes[node].far(x, y) >= least {
			return
		}
		if i := node - t.leaves; i >= 0 {
			if i < len(t.order) {
				if d := math.Max(deep(t.order[i]), t.boxes[node].far(x, y)); d < least {
					best, least = t.order[i], d
				}
			}
			return
		}
		a, b := 2*node, 2*node+1
		if t.boxes[b].far(x, y) < t.boxes[a].far(x, y) {
			a, b = b, a
		}
		look(a)
		look(b)
	}
	look(1)
	return best
}
