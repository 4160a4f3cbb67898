package raise

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// TestPinchedColumns tells which columns need a post.
func TestPinchedColumns(t *testing.T) {
	out := sector{angle: 1}
	at := func(under, top int32) sector { return sector{[][2]int32{{under, top}}, 1} }
	fine := func(s sector) sector { s.angle = 1e-4; return s }
	for _, c := range []struct {
		around []sector
		want   bool
		needle bool
	}{
		{[]sector{at(0, 5), at(0, 5), at(0, 5)}, false, false},
		{[]sector{at(0, 5), out, out}, false, false},
		{[]sector{at(0, 5), at(0, 3), at(0, 4)}, false, false},                     // three never are
		{[]sector{at(0, 5), out, at(0, 4), out, out}, true, true},                  // touching in a point
		{[]sector{at(0, 5), fine(out), at(0, 4), out}, true, false},                // along a crack
		{[]sector{at(0, 5), out, fine(at(0, 4)), out}, true, true},                 // with a needle
		{[]sector{at(0, 5), at(0, 3), at(0, 4), fine(at(0, 2))}, true, false},      // two peaks
		{[]sector{at(0, 5), at(0, 4), at(0, 3), at(0, 4)}, false, false},           // one
		{[]sector{at(0, 5), at(0, 3), at(6, 9), at(0, 2)}, false, false},           // at no height both
		{[]sector{at(0, 5), fine(at(1, 5)), at(0, 5), at(1, 5)}, true, false},      // below
		{[]sector{at(0, 5), at(0, 5), out, out, at(0, 5), at(0, 5)}, false, false}, // the ends meet
	} {
		if is, needle := pinched(c.around); is != c.want || needle != c.needle {
			t.Errorf("%v: %v, needle %v", c.around, is, needle)
		}
	}
}

// TestCheckersOfHeights fuses boards of squares at random heights and depths, in which four
// meet in nearly every corner: one sound body of the right volume, but for the posts.
func TestCheckersOfHeights(t *testing.T) {
	for round := range 12 {
		r := rand.New(rand.NewPCG(uint64(round), 8))
		var bodies []Body
		want := 0.0
		for i := range 4 {
			for j := range 4 {
				f := Form{Depth: 1 + float64(r.IntN(4)), Base: float64(r.IntN(2))}
				if round%3 == 0 {
					f.Front = bevel(Chamfer, 0.5, 0.5, 1)
				}
				x, y := float64(10*i-20), float64(10*j-20)
				bodies = append(bodies, Body{Plans: plansOf(t, square(x, y, x+10, y+10), f), Form: f, Part: int32(4*i + j)})
				m, err := bodies[len(bodies)-1].Solid(t.Context(), testStep, Plain)
				if err != nil {
					t.Fatal(err)
				}
				want += mesh.Check(m, false).VolumeMM3
			}
		}
		m, err := Fused(t.Context(), bodies, testStep, Plain)
		if err != nil {
			t.Fatal(err)
		}
		rep, welded := mesh.Check(m, true), mesh.Check(m.Weld(), true)
		if !rep.Sound() || !welded.Sound() || math.Abs(rep.VolumeMM3-want) > 1e-4*want {
			t.Errorf("round %d: %+v, welded %+v, want %g mm3", round, rep, welded, want)
		}
		parts := map[int32]bool{}
		for _, p := range m.Part {
			parts[p] = true
		}
		if len(parts) != len(bodies) {
			t.Errorf("round %d: faces of %d parts, want %d", round, len(parts), len(bodies))
		}
	}
}

// TestPartsWithoutAreaAreNoTrouble fuses a plate with a needle that has no width.
func TestPartsWithoutAreaAreNoTrouble(t *testing.T) {
	f := Form{Depth: 4, Front: bevel(Step, 20, 20, 4)}
	needle := plane.Region{{Outer: plane.Loop{mm(20, 0), mm(30, 0), {X: mm(30, 0).X, Y: 1}}}}
	thin, err := NewPlans(t.Context(), needle, f, testStep)
	if err != nil {
		t.Fatal(err)
	}
	bodies := []Body{{Plans: thin, Form: f}, {Plans: plansOf(t, square(-10, -10, 10, 10), f), Form: f, Part: 1}}
	for n := range 3 {
		m, err := Fused(t.Context(), bodies[:n], testStep, Shaded)
		if err != nil {
			t.Fatal(err)
		}
		if rep := mesh.Check(m, true); n == 2 && !rep.Sound() || n < 2 && rep.Triangles > 0 {
			t.Errorf("%d bodies: %+v", n, rep)
		}
	}
}

// TestPlacesAreFound looks for random places in lifted plans by walking and by searching.
func TestPlacesAreFound(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 6))
	p, err := NewPlan(t.Context(), region(t, blossom(300, 9)), bevel(Round, 3, 3, 4), testStep)
	if err != nil {
		t.Fatal(err)
	}
	l := locate(p.lift(lifting{high: 1000, slope: mesh.Bevel, plateau: mesh.Front}))
	center := func(k int32) (x, y float64) {
		for _, v := range l.tris[k] {
			x, y = x+float64(l.s.Pts[v].X)/3, y+float64(l.s.Pts[v].Y)/3
		}
		return x, y
	}
	for range 300 {
		from, to := int32(r.IntN(len(l.tris))), int32(r.IntN(len(l.tris)))
		x, y := center(from)
		tx, ty := center(to)
		if got := l.walk(from, x, y, tx, ty); got != to {
			t.Errorf("the way from %d to %d ended in %d", from, to, got)
		}
		if got := l.search(tx, ty); got != to {
			t.Errorf("the search for %d found %d", to, got)
		}
		w := l.weights(to, tx, ty)
		if math.Abs(w[0]-1.0/3) > 1e-3 || math.Abs(w[1]-1.0/3) > 1e-3 {
			t.Errorf("the middle has the weights %v", w)
		}
	}
}

// TestOutwardHeights compares the heights of outward bevels with the distance from the
// artwork's outline measured directly.
func TestOutwardHeights(t *testing.T) {
	var sum, worst float64
	n := 0
	for i := range 60 {
		if i%10 == 5 || i%10 == 8 {
			continue // noise finer than the samples
		}
		_, loops := nasty(i)
		source, err := region(t, loops).Separate(gap, nil)
		if err != nil {
			t.Fatal(err)
		}
		f := Form{Depth: 5, Front: bevel(Round, 4, 4, 4), Outward: true}
		plans, err := NewPlans(t.Context(), source, f, testStep)
		if err != nil {
			t.Fatal(err)
		}
		var all []plane.Loop
		source.Loops(func(l plane.Loop) { all = append(all, l) })
		index, p := plane.NewLoopIndex(all), plans.Front
		rnd := rand.New(rand.NewPCG(uint64(i), 9))
		for range 200 {
			k := rnd.IntN(len(p.Tris))
			if int(p.Ring[k]) == len(p.Facets) {
				continue
			}
			u, v := rnd.Float64(), rnd.Float64()
			if u+v > 1 {
				u, v = 1-u, 1-v
			}
			at := func(f func(int32) float64) float64 {
				tr := p.Tris[k]
				return u*f(tr[0]) + v*f(tr[1]) + (1-u-v)*f(tr[2])
			}
			x := at(func(k int32) float64 { return float64(p.Pts[k].X) })
			y := at(func(k int32) float64 { return float64(p.Pts[k].Y) })
			d := at(func(k int32) float64 { return float64(p.Dist[k]) })
			e := math.Abs(1 - (index.Nearest(x, y, 2*float64(p.Width)).Dist+d)/float64(p.Width))
			sum, worst, n = sum+e*e, math.Max(worst, e), n+1
		}
	}
	rms := math.Sqrt(sum / float64(n))
	t.Logf("rms error %.3f%%, worst %.2f%% of the bevel width, %d places", 100*rms, 100*worst, n)
	if rms > 0.003 || worst > 0.1 {
		t.Errorf("rms error %.3f%%, worst %.2f%% of the bevel width", 100*rms, 100*worst)
	}
}

// FuzzBody raises outlines with a detail cut into them or raised from them.
func FuzzBody(f *testing.F) {
	f.Add([]byte{0, 0, 90, 0, 90, 90, 0, 90}, []byte{30, 30, 120, 30, 60, 60}, uint8(1))
	f.Add([]byte{0, 0, 90, 0, 90, 90, 0, 90, 30, 30}, []byte{0, 0, 90, 0, 45, 45}, uint8(77))
	f.Fuzz(func(t *testing.T, host, detail []byte, kind uint8) {
		outline := func(data []byte) []plane.Loop {
			var l plane.Loop
			for i := 0; i+1 < min(len(data), 60); i += 2 {
				l = append(l, mm(float64(int8(data[i]))/3, float64(int8(data[i+1]))/3))
			}
			return []plane.Loop{l}
		}
		if len(host) < 6 || len(detail) < 6 {
			return
		}
		b := Body{Form: Form{Depth: 5, Front: nastyBevels[int(kind)%len(nastyBevels)]}}
		if kind&64 != 0 {
			b.Form.Back = b.Form.Front
		}
		b.Plans = plansOf(t, outline(host), b.Form)
		d := Detail{Form: Form{Depth: 1 + float64(kind&3), Front: nastyBevels[int(kind/7)%len(nastyBevels)]}, Cut: kind&32 != 0, Part: 1}
		d.Plans = plansOf(t, outline(detail), d.Form)
		b.Details = []Detail{d}
		if len(b.Plans.Region) == 0 || len(d.Plans.Region) == 0 {
			return
		}
		m, err := b.Solid(t.Context(), testStep, Finish(kind%3))
		if err != nil {
			t.Fatal(err)
		}
		if rep := mesh.Check(m, true); len(m.Tris) > 0 && !rep.Sound() {
			t.Fatalf("not sound: %+v", rep)
		}
	})
}

// TestSideBySide tells neighbours that share all points of their borders from others.
func TestSideBySide(t *testing.T) {
	at := func(p ...int32) (l plane.Loop) {
		for i := 0; i < len(p); i += 2 {
			l = append(l, plane.Point{X: 1000 * p[i], Y: 1000 * p[i+1]})
		}
		return l
	}
	left := at(0, 0, 10, 0, 10, 10, 0, 10)
	around := at(-10, -10, 20, -10, 20, 20, -10, 20)
	for name, c := range map[string]struct {
		other plane.Polygon
		want  bool
	}{
		"a common border":              {plane.Polygon{Outer: at(10, 0, 20, 0, 20, 10, 10, 10)}, true},
		"apart":                        {plane.Polygon{Outer: at(12, 0, 20, 0, 20, 10, 12, 10)}, true},
		"a border shared partly":       {plane.Polygon{Outer: at(10, 2, 20, 0, 20, 10, 10, 8)}, false},
		"over each other":              {plane.Polygon{Outer: at(9, 0, 20, 0, 20, 10, 9, 10)}, false},
		"in a hole":                    {plane.Polygon{Outer: around, Holes: []plane.Loop{at(0, 0, 0, 10, 10, 10, 10, 0)}}, true},
		"in a hole with a corner more": {plane.Polygon{Outer: around, Holes: []plane.Loop{at(0, 0, 0, 10, 10, 10, 10, 5, 10, 0)}}, false},
	} {
		layers := []layer{{region: plane.Region{{Outer: left}}}, {region: plane.Region{c.other}}}
		if got := sideBySide(t.Context(), layers); got != c.want {
			t.Errorf("%s: %v", name, got)
		}
	}
}
