package plane

import (
	"math/rand/v2"
	"testing"
)

// TestChangesArePlaces compares two random stacks point by point: a change covers a point just where the topmost
// layers that hold it have the labels of the change, and is the same when all loops are cropped to a box around.
func TestChangesArePlaces(t *testing.T) {
	rnd := rand.New(rand.NewPCG(9, 2))
	for round := range 60 {
		stack := func() (out []Layer) {
			for range 2 + rnd.IntN(4) {
				var l Loop
				for range 3 + rnd.IntN(6) {
					l = append(l, Point{rnd.Int32N(2000) - 1000, rnd.Int32N(2000) - 1000})
				}
				out = append(out, Layer{Loops: []Loop{l}, Rule: RuleOf(rnd.IntN(2) == 0), Label: 1 + rnd.Int32N(3)})
			}
			return out
		}
		before := stack()
		after := append(stack()[:1], before...)
		if round%2 == 0 {
			after = append(append([]Layer{}, before[1:]...), stack()[0])
		}
		list, err := Changes(before, after, nil)
		if err != nil {
			t.Fatal(err)
		}
		lo, hi := Point{-400, -500}, Point{600, 300}
		crop := func(layers []Layer) []Layer {
			out := append([]Layer{}, layers...)
			for i := range out {
				out[i].Loops = []Loop{out[i].Loops[0].Cropped(lo, hi)}
			}
			return out
		}
		near, err := Changes(crop(before), crop(after), nil)
		if err != nil {
			t.Fatal(err)
		}
		for range 400 {
			x, y := rnd.Float64()*2200-1100, rnd.Float64()*2200-1100
			was, is := topAt(before, x, y), topAt(after, x, y)
			if onEdge(before, x, y) || onEdge(after, x, y) {
				continue
			}
			if got := changeAt(list, x, y); got != [2]int32{was, is} && (was != is || got != [2]int32{}) {
				t.Fatalf("%d: at %.1f, %.1f %d becomes %d, and %v was told", round, x, y, was, is, got)
			}
			if x < -398 || x > 598 || y < -498 || y > 298 {
				continue
			}
			if got := changeAt(near, x, y); got != [2]int32{was, is} && (was != is || got != [2]int32{}) {
				t.Fatalf("%d: cropped, at %.1f, %.1f %d becomes %d, and %v was told", round, x, y, was, is, got)
			}
		}
	}
}

func winds(l Loop, x, y float64) (n int) {
	for i, p := range l {
		q := l[(i+1)%len(l)]
		if (float64(p.Y) <= y) == (float64(q.Y) <= y) {
			continue
		}
		if float64(p.X)+(y-float64(p.Y))/float64(q.Y-p.Y)*float64(q.X-p.X) > x {
			n += map[bool]int{true: 1, false: -1}[q.Y > p.Y]
		}
	}
	return n
}

func topAt(layers []Layer, x, y float64) int32 {
	for i := len(layers) - 1; i >= 0; i-- {
		if n := winds(layers[i].Loops[0], x, y); layers[i].Rule == NonZero && n != 0 || layers[i].Rule != NonZero && n%2 != 0 {
			return layers[i].Label
		}
	}
	return 0
}

// onEdge reports whether a point is so near to an edge that rounding decides.
func onEdge(layers []Layer, x, y float64) bool {
	for _, l := range layers {
		if NewLoopIndex(l.Loops).Nearest(x, y, 2).Edge >= 0 {
			return true
		}
	}
	return false
}

func changeAt(list []Change, x, y float64) (out [2]int32) {
	for _, c := range list {
		n := 0
		c.Where.Loops(func(l Loop) { n += winds(l, x, y) })
		if n != 0 {
			out = [2]int32{c.From, c.To}
		}
	}
	return out
}
