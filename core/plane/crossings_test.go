package plane

import (
	"math"
	"math/rand/v2"
	"testing"
)

// TestCrossings counts the crossings of loops against looking at every pair.
func TestCrossings(t *testing.T) {
	for seed := range uint64(80) {
		rnd := rand.New(rand.NewPCG(seed, 8))
		var loops []Loop
		for range 1 + rnd.IntN(4) {
			l := make(Loop, 3+rnd.IntN(30))
			for i := range l {
				l[i] = Point{rnd.Int32N(2000), rnd.Int32N(2000)}
			}
			loops = append(loops, l)
		}
		type edge struct{ a, b Point }
		var edges []edge
		for _, l := range loops {
			for i := range l {
				edges = append(edges, edge{l[i], l[(i+1)%len(l)]})
			}
		}
		want := 0
		for i, e := range edges {
			for _, f := range edges[:i] {
				p, q := Orient(e.a, e.b, f.a), Orient(e.a, e.b, f.b)
				r, s := Orient(f.a, f.b, e.a), Orient(f.a, f.b, e.b)
				if (p > 0) != (q > 0) && p != 0 && q != 0 && (r > 0) != (s > 0) && r != 0 && s != 0 {
					want++
				}
			}
		}
		got := Crossings(loops, 1<<30)
		if len(got) != want {
			t.Errorf("%d: %d crossings, want %d", seed, len(got), want)
		}
		for _, c := range got {
			for side := range 2 {
				l := loops[c.Loop[side]]
				a, b := l[c.Edge[side]], l[(c.Edge[side]+1)%len(l)]
				d := math.Abs(float64(Orient(a, b, c.At))) / math.Max(1, math.Hypot(float64(b.X-a.X), float64(b.Y-a.Y)))
				if d > 1.5 {
					t.Fatalf("%d: %v lies %.1f beside its edge", seed, c.At, d)
				}
			}
		}
		if few := Crossings(loops, 2); want > 2 && len(few) < 2 {
			t.Errorf("%d: asked for two of %d and got %d", seed, want, len(few))
		}
	}
	if Crossings(nil, 5) != nil {
		t.Error("nothing crosses")
	}
}

// TestNeedles drops spikes without width and nothing else.
func TestNeedles(t *testing.T) {
	square := Loop{{0, 0}, {1000, 0}, {1000, 1000}, {0, 1000}}
	for name, c := range map[string]struct {
		loop Loop
		want int
	}{
		"a square":             {square, 4},
		"a needle outwards":    {Loop{{0, 0}, {1000, 0}, {1000, 500}, {9000, 501}, {1000, 502}, {1000, 1000}, {0, 1000}}, 4},
		"a needle inwards":     {Loop{{0, 0}, {1000, 0}, {1000, 500}, {300, 501}, {1000, 502}, {1000, 1000}, {0, 1000}}, 4},
		"a thin tip":           {Loop{{0, 0}, {1000, 0}, {1000, 450}, {9000, 500}, {1000, 550}, {1000, 1000}, {0, 1000}}, 7},
		"a needle at the seam": {Loop{{9000, 1}, {1000, 2}, {1000, 1000}, {0, 1000}, {0, 0}, {1000, 0}}, 5},
		"a small step":         {Loop{{0, 0}, {1000, 0}, {1000, 3}, {1003, 4}, {1003, 1000}, {0, 1000}}, 6},
	} {
		out, err := Region{{Outer: c.loop}}.withoutNeedles(nil)
		if err != nil || len(out) != 1 {
			t.Fatalf("%s: %v, %v", name, out, err)
		}
		if got := len(out[0].Outer); got > c.want || got < c.want-1 {
			t.Errorf("%s: %d points, want about %d", name, got, c.want)
		}
		if d := math.Abs(float64(out.Area2() - c.loop.Area2())); d > 40_000 {
			t.Errorf("%s: the area changed by %g", name, d/2)
		}
		again, err := out.withoutNeedles(nil)
		if err != nil || again.Area2() != out.Area2() {
			t.Errorf("%s: something was left for a second time (%v)", name, err)
		}
	}
	if out, err := (Region{{Outer: Loop{{0, 0}, {5000, 0}, {5000, 1}}}}).withoutNeedles(nil); err != nil || len(out) > 1 {
		t.Errorf("a lone needle became %v, %v", out, err)
	}
}

// TestLoopIndexNumbers finds for points of edges the edge they lie on.
func TestLoopIndexNumbers(t *testing.T) {
	rnd := rand.New(rand.NewPCG(5, 5))
	var loops []Loop
	var mids [][2]float64
	for k := range 20 {
		l := make(Loop, 5+rnd.IntN(20))
		for i := range l {
			a := 2 * math.Pi * float64(i) / float64(len(l))
			l[i] = Point{int32(k*3000) + int32(1000*math.Cos(a)), int32(1000 * math.Sin(a))}
		}
		for i, p := range l {
			q := l[(i+1)%len(l)]
			mids = append(mids, [2]float64{float64(p.X+q.X) / 2, float64(p.Y+q.Y) / 2})
		}
		loops = append(loops, l)
	}
	index := NewLoopIndex(loops)
	for n, m := range mids {
		f := index.Nearest(m[0], m[1], 10)
		if f.Edge < 0 || index.Number(f.Edge) != int32(n) {
			t.Fatalf("the middle of edge %d lies on %d", n, f.Edge)
		}
	}
}
