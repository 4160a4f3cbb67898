package plane

import (
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"
)

// randomLoops returns tangled loops with many coincidences: few distinct
// coordinates, repeated points, collinear runs.
func randomLoops(r *rand.Rand, size int32) []Loop {
	var loops []Loop
	for range 1 + r.IntN(3) {
		n := 3 + r.IntN(12)
		l := make(Loop, n)
		for i := range l {
			l[i] = Point{r.Int32N(2*size+1) - size, r.Int32N(2*size+1) - size}
		}
		loops = append(loops, l)
	}
	return loops
}

// checkRegion fails when a region is not what Region promises.
func checkRegion(t *testing.T, r Region) {
	t.Helper()
	var segs [][2]Point
	for _, p := range r {
		if p.Outer.Area2() <= 0 {
			t.Fatalf("outer loop runs the wrong way: %v", p.Outer)
		}
		for _, h := range p.Holes {
			if h.Area2() >= 0 {
				t.Fatalf("hole runs the wrong way: %v", h)
			}
		}
	}
	r.Loops(func(l Loop) {
		for i, p := range l {
			segs = append(segs, [2]Point{p, l[(i+1)%len(l)]})
		}
	})
	for i, s := range segs {
		for _, u := range segs[i+1:] {
			a, b := Orient(s[0], s[1], u[0]), Orient(s[0], s[1], u[1])
			c, d := Orient(u[0], u[1], s[0]), Orient(u[0], u[1], s[1])
			if (a > 0) != (b > 0) && a != 0 && b != 0 && (c > 0) != (d > 0) && c != 0 && d != 0 {
				t.Fatalf("edges cross: %v %v", s, u)
			}
		}
	}
}

func fill(t *testing.T, loops []Loop, rule FillRule) Region {
	t.Helper()
	r, err := Fill(loops, rule)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

func combine(t *testing.T, a, b Region, op Op) Region {
	t.Helper()
	r, err := Combine(a, b, op)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

func TestArrangementKeepsItsPromises(t *testing.T) {
	for seed := range uint64(1500) {
		r := rand.New(rand.NewPCG(seed, 1))
		size := []int32{3, 10, 1000, MaxCoord}[seed%4]
		ar := NewArrangement()
		for _, l := range randomLoops(r, size) {
			ar.AddLoop(0, l)
		}
		if err := ar.Build(); err != nil {
			t.Fatal(err)
		}
		if err := ar.Validate(); err != nil {
			t.Fatalf("seed %d: %v", seed, err)
		}
	}
}

func TestFillIndependentOfOrderAndDirection(t *testing.T) {
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 2))
		loops := randomLoops(r, []int32{4, 50, 1 << 24}[seed%3])
		for _, rule := range []FillRule{NonZero, EvenOdd} {
			want := fill(t, loops, rule)
			checkRegion(t, want)
			turned := make([]Loop, len(loops))
			for i, j := range r.Perm(len(loops)) {
				l := slices.Clone(loops[j])
				k := r.IntN(len(l))
				l = append(l[k:len(l):len(l)], l[:k]...)
				slices.Reverse(l)
				turned[i] = l
			}
			if got := fill(t, turned, rule); !reflect.DeepEqual(got, want) {
				t.Fatalf("seed %d rule %d: other order, other region\n%v\n%v", seed, rule, want, got)
			}
		}
	}
}

// TestBooleanAreas holds |A or B| = |A| + |B| - |A and B| and its relatives.
// Rounding a crossing moves edges by less than a grid unit, so areas may
// differ by the total length of the edges.
func TestBooleanAreas(t *testing.T) {
	for seed := range uint64(300) {
		r := rand.New(rand.NewPCG(seed, 3))
		size := []int32{20, 5000, 1 << 24}[seed%3]
		a, b := fill(t, randomLoops(r, size), NonZero), fill(t, randomLoops(r, size), EvenOdd)
		u, i := combine(t, a, b, Union), combine(t, a, b, Intersect)
		s, x := combine(t, a, b, Subtract), combine(t, a, b, Xor)
		for _, reg := range []Region{u, i, s, x} {
			checkRegion(t, reg)
		}
		slack := 0.0
		for _, reg := range []Region{a, b, u} {
			reg.Loops(func(l Loop) {
				for k, p := range l {
					q := l[(k+1)%len(l)]
					slack += 4 * (math.Hypot(float64(p.X-q.X), float64(p.Y-q.Y)) + 1)
				}
			})
		}
		near := func(name string, p, q int64) {
			if math.Abs(float64(p-q)) > slack {
				t.Fatalf("seed %d: %s: %d and %d differ by more than %g", seed, name, p, q, slack)
			}
		}
		near("union", u.Area2(), a.Area2()+b.Area2()-i.Area2())
		near("subtract", s.Area2(), a.Area2()-i.Area2())
		near("xor", x.Area2(), u.Area2()-i.Area2())
	}
}

// TestFillSimpleAgrees compares the short way with the arrangement on loops
// that do not touch, and holds that it gives up on others.
func TestFillSimpleAgrees(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	told := 0
	for range 400 {
		var loops []Loop
		if r.IntN(3) == 0 {
			loops = randomLoops(r, 40)
		} else {
			for range 1 + r.IntN(6) {
				c := Point{r.Int32N(2000) - 1000, r.Int32N(2000) - 1000}
				l := circle(20+r.Float64()*900, 5+r.IntN(20))
				for i := range l {
					l[i].X, l[i].Y = l[i].X/4+c.X/3, l[i].Y/4+c.Y/3
				}
				if r.IntN(2) == 0 {
					slices.Reverse(l)
				}
				loops = append(loops, l)
			}
		}
		for _, rule := range []FillRule{NonZero, EvenOdd} {
			got, ok := FillSimple(loops, rule)
			if !ok {
				continue
			}
			told++
			if want := fill(t, loops, rule); got.Area2() != want.Area2() || len(got) != len(want) {
				t.Fatalf("rule %v: %v, want %v of %v", rule, got, want, loops)
			}
			checkRegion(t, got)
		}
	}
	if told < 100 {
		t.Errorf("only %d of the fills were told", told)
	}
	if _, ok := FillSimple([]Loop{{{0, 0}, {10, 10}, {10, 0}, {0, 10}}}, NonZero); ok {
		t.Error("a crossing was not seen")
	}
}

func TestNesting(t *testing.T) {
	square := func(h int32) Loop { return Loop{{-h, -h}, {h, -h}, {h, h}, {-h, h}} }
	var loops []Loop
	for h := int32(90); h > 0; h -= 10 {
		loops = append(loops, square(h))
	}
	r := fill(t, loops, EvenOdd)
	if len(r) != 5 {
		t.Fatalf("%d polygons, want 5", len(r))
	}
	for _, p := range r {
		if want := 1; p.Outer[0].X != -10 && len(p.Holes) != want {
			t.Fatalf("polygon at %v has %d holes", p.Outer[0], len(p.Holes))
		}
	}
	if r = fill(t, loops, NonZero); len(r) != 1 || len(r[0].Holes) != 0 {
		t.Fatalf("nonzero: %v", r)
	}
}

func TestSeparate(t *testing.T) {
	// Two squares that touch in a corner, a hole that touches the rim, and a
	// triangle whose tip touches the middle of an edge.
	loops := []Loop{
		{{0, 0}, {1000, 0}, {1000, 1000}, {0, 1000}},
		{{1000, 1000}, {2000, 1000}, {2000, 2000}, {1000, 2000}},
		{{0, 500}, {300, 700}, {300, 300}},
		{{1500, 1000}, {1700, 500}, {1300, 500}},
	}
	r := fill(t, loops, EvenOdd)
	if !r.Touches() {
		t.Fatal("the touching points were not found")
	}
	s, err := r.Separate(10, nil)
	if err != nil {
		t.Fatal(err)
	}
	checkRegion(t, s)
	if s.Touches() {
		t.Fatal("still touching")
	}
	if d := r.Area2() - s.Area2(); d <= 0 || d > 2000 {
		t.Fatalf("area changed by %d", d)
	}
}

func circle(r float64, n int) Loop {
	l := make(Loop, n)
	for i := range l {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		l[i] = Point{int32(math.Round(r * c)), int32(math.Round(r * s))}
	}
	return l
}

func TestOffsetOfShapesWithKnownAnswers(t *testing.T) {
	sq := fill(t, []Loop{{{0, 0}, {1000, 0}, {1000, 1000}, {0, 1000}}}, NonZero)
	for _, c := range []struct {
		name  string
		r     Region
		d     float64
		st    OffsetStyle
		area  float64
		slack float64
	}{
		{"square in", sq, -100, OffsetStyle{}, 800 * 800, 1},
		{"square in beyond its middle", sq, -501, OffsetStyle{}, 0, 0},
		{"square out, mitred", sq, 100, OffsetStyle{Join: MiterJoin}, 1200 * 1200, 1},
		{"square out, round", sq, 100, OffsetStyle{ArcTol: .5}, 1000*1000 + 400*1000 + math.Pi*1e4, 600},
		{"circle in", fill(t, []Loop{circle(1e6, 3000)}, NonZero), -7.5e5, OffsetStyle{}, math.Pi * 2.5e5 * 2.5e5, 1e6},
		{"circle in beyond its middle", fill(t, []Loop{circle(1e6, 3000)}, NonZero), -1.2e6, OffsetStyle{}, 0, 0},
	} {
		got, err := c.r.Offset(Units(c.d), c.st)
		if err != nil {
			t.Fatal(err)
		}
		if a := float64(got.Area2()) / 2; math.Abs(a-c.area) > c.slack {
			t.Errorf("%s: area %.0f, want %.0f", c.name, a, c.area)
		}
	}
}

// TestOffsetDistances measures offsets of random regions with the segment
// index: all of a shrunk outline lies the distance away, points farther from
// the outline are inside, and a shrunk shrunk region nests.
func TestOffsetDistances(t *testing.T) {
	for seed := range uint64(120) {
		r := rand.New(rand.NewPCG(seed, 4))
		reg := fill(t, randomLoops(r, 100_000), NonZero)
		d := 300 + 4000*r.Float64()
		in, err := reg.Offset(Units(-d), OffsetStyle{ArcTol: 2})
		if err != nil {
			t.Fatal(err)
		}
		checkRegion(t, in)
		for _, p := range reg {
			idx := NewSegmentIndex(p)
			one, err := Region{p}.Offset(Units(-d), OffsetStyle{ArcTol: 2})
			if err != nil {
				t.Fatal(err)
			}
			one.Loops(func(l Loop) {
				for i, v := range l {
					w := l[(i+1)%len(l)]
					f := idx.Nearest(float64(v.X), float64(v.Y), 1e9)
					m := idx.Nearest((float64(v.X)+float64(w.X))/2, (float64(v.Y)+float64(w.Y))/2, 1e9)
					if math.Abs(f.Dist-d) > 6 || m.Dist < d-8 {
						t.Fatalf(
							"seed %d: shrunk by %.1f, but %v lies %.1f away and its edge %.1f",
							seed,
							d,
							v,
							f.Dist,
							m.Dist,
						)
					}
				}
			})
		}
		inner, err := in.Offset(Units(-d), OffsetStyle{ArcTol: 2})
		if err != nil {
			t.Fatal(err)
		}
		if out := combine(t, inner, in, Subtract); out.Area2() != 0 {
			t.Fatalf("seed %d: the second offset leaves the first", seed)
		}
		back, err := in.Offset(Units(d), OffsetStyle{ArcTol: 2})
		if err != nil {
			t.Fatal(err)
		}
		// Opening stays inside, up to rounding.
		grown, _ := reg.Offset(8, OffsetStyle{})
		if out := combine(t, back, grown, Subtract); out.Area2() != 0 {
			t.Fatalf("seed %d: shrinking and growing left the region by %d", seed, out.Area2())
		}
	}
}

func TestStackShowsTheTopmost(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	var layers []Layer
	for i := range 200 {
		x, y := r.Int32N(1000), r.Int32N(1000)
		w := 20 + r.Int32N(200)
		layers = append(
			layers,
			Layer{Loops: []Loop{{{x, y}, {x + w, y}, {x + w, y + w}, {x, y + w}}}, Label: int32(i%7 + 1)},
		)
	}
	got, err := Stack(layers, nil)
	if err != nil {
		t.Fatal(err)
	}
	want := map[int32]Region{}
	for _, l := range layers {
		one := fill(t, l.Loops, l.Rule)
		for k := range want {
			if k != l.Label {
				want[k] = combine(t, want[k], one, Subtract)
			}
		}
		want[l.Label] = combine(t, want[l.Label], one, Union)
	}
	for k := range want {
		var loops []Loop // without the points in straight runs that neighbours share
		got[k].Loops(func(l Loop) { loops = append(loops, l) })
		if one := fill(t, loops, NonZero); !reflect.DeepEqual(one, want[k]) {
			t.Fatalf("label %d differs: area %d, want %d", k, got[k].Area2(), want[k].Area2())
		}
	}
}

// TestGroupsComeOutAsOne stacks scattered layers, of several loops each, group by
// group and all in one arrangement: the same regions, point for point.
func TestGroupsComeOutAsOne(t *testing.T) {
	parted := 0
	for seed := range uint64(200) {
		r := rand.New(rand.NewPCG(seed, 31))
		field := float64(500 + r.IntN(20_000))
		var layers []Layer
		for range 1 + r.IntN(30) {
			l := Layer{Rule: FillRule(r.IntN(2)), Label: 1 + r.Int32N(4)}
			for range 1 + r.IntN(3) {
				x, y := field*r.Float64(), field*r.Float64()
				lp := spiky(r, x, y)
				if r.IntN(2) == 0 {
					w := int32(1 + r.IntN(90))
					q := Point{int32(x), int32(y)}
					lp = Loop{q, {q.X + w, q.Y}, {q.X + w, q.Y + w}, {q.X, q.Y + w}}
				}
				l.Loops = append(l.Loops, lp)
			}
			layers = append(layers, l)
		}
		if n := len(groupsOf(layers)); n > 1 {
			parted++
		}
		got, err := Stack(layers, nil)
		if err != nil {
			t.Fatal(err)
		}
		want, err := stackTogether(layers, nil)
		if err != nil {
			t.Fatal(err)
		}
		if len(got) != len(want) {
			t.Fatalf("seed %d: %d labels, want %d", seed, len(got), len(want))
		}
		for k := range want {
			if !reflect.DeepEqual(got[k], want[k]) {
				t.Fatalf("seed %d: label %d differs: area %d, want %d", seed, k, got[k].Area2(), want[k].Area2())
			}
		}
	}
	if parted < 100 {
		t.Errorf("only %d of 200 came in groups", parted)
	}
}

// TestClustersHangTogether compares with a plain search through all pairs of boxes.
func TestClustersHangTogether(t *testing.T) {
	for seed := range uint64(300) {
		r := rand.New(rand.NewPCG(seed, 32))
		loops := make([]Loop, 1+r.IntN(60))
		for i := range loops {
			x, y, w, h := r.Int32N(300), r.Int32N(300), 1+r.Int32N(40), 1+r.Int32N(40)
			loops[i] = Loop{{x, y}, {x + w, y + h/2}, {x, y + h}}
		}
		set, n := clusters(loops)
		plain := make([]int32, len(loops)) // the lowest number that each hangs together with
		for i := range plain {
			plain[i] = int32(i)
		}
		for range loops {
			for i := range loops {
				for j := range loops {
					a, b := boxOf(loops[i]), boxOf(loops[j])
					if !a.apart(&b) {
						plain[i] = min(plain[i], plain[j])
					}
				}
			}
		}
		sets := map[int32]bool{}
		for i := range loops {
			sets[set[i]] = true
			for j := range loops {
				if (set[i] == set[j]) != (plain[i] == plain[j]) {
					t.Fatalf("seed %d: loops %d and %d", seed, i, j)
				}
			}
		}
		if len(sets) != n {
			t.Fatalf("seed %d: %d sets, said to be %d", seed, len(sets), n)
		}
	}
}

func FuzzFill(f *testing.F) {
	f.Add([]byte{0, 0, 9, 0, 9, 9, 0, 9, 3, 3, 7, 3, 5, 200}, false)
	f.Fuzz(func(t *testing.T, b []byte, fine bool) {
		if len(b) > 120 {
			b = b[:120]
		}
		var l Loop
		for i := 0; i+1 < len(b); i += 2 {
			p := Point{int32(int8(b[i])), int32(int8(b[i+1]))}
			if fine {
				p.X, p.Y = p.X*520193, p.Y*520193+int32(b[i])
			}
			l = append(l, p)
		}
		if len(l) < 3 {
			return
		}
		ar := NewArrangement()
		ar.AddLoop(0, l)
		if len(ar.segs) == 0 {
			return
		}
		if err := ar.Build(); err != nil {
			t.Fatal(err)
		}
		if err := ar.Validate(); err != nil {
			t.Fatal(err)
		}
		ar.Classify(&fillOne{rule: EvenOdd})
		r := ar.Regions()[1]
		checkRegion(t, r)
		for _, gap := range []Units{3, 160} { // the latter is wider than most of what there is
			s, err := r.Separate(gap, nil)
			if err != nil {
				t.Fatal(err)
			}
			if s.Touches() {
				t.Fatal("still touching")
			}
		}
		in, err := r.Offset(-2, OffsetStyle{})
		if err != nil {
			t.Fatal(err)
		}
		checkRegion(t, in)
	})
}

func benchLoop(n int) Loop {
	l := make(Loop, n)
	for i := range l {
		a := 2 * math.Pi * float64(i) / float64(n)
		r := 1.2e7 * (0.8 + 0.15*math.Sin(a*float64(n)/40))
		l[i] = Point{int32(r * math.Cos(a)), int32(r * math.Sin(a))}
	}
	return l
}

func BenchmarkFill(b *testing.B) {
	for _, n := range []int{1000, 10_000, 100_000, 1_000_000} {
		l := benchLoop(n)
		b.Run(name(n), func(b *testing.B) {
			for b.Loop() {
				if _, err := Fill([]Loop{l}, NonZero); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/float64(n), "ns/edge")
		})
	}
}

func name(n int) string {
	switch {
	case n >= 1_000_000:
		return "1M"
	case n >= 1000:
		return string(
			rune('0'+n/100000%10),
		) + string(
			rune('0'+n/10000%10),
		) + string(
			rune('0'+n/1000%10),
		) + "k"
	}
	return "small"
}

// TestCrossingsDoNotRunAway has edges that part at a small angle one unit
// apart: naive rounding lets them cross again behind each crossing, hundreds
// of thousands of times.
func TestCrossingsDoNotRunAway(t *testing.T) {
	ar := NewArrangement()
	ar.AddLoop(0, Loop{{6636849, 7962149}, {6433276, 7904437}, {6433276, 8000000}})
	ar.AddLoop(0, Loop{{6636848, 7962149}, {6549205, 7889589}, {6649205, 7889589}})
	ar.AddLoop(0, Loop{{6636847, 7962150}, {6433276, 7904430}, {6549205, 7889500}})
	if err := ar.Build(); err != nil {
		t.Fatal(err)
	}
	if err := ar.Validate(); err != nil {
		t.Fatal(err)
	}
	if n := ar.Points(); n > 40 {
		t.Errorf("%d points for nine edges", n)
	}
}

// TestPartitionsAreTrivalent divides random mosaics: areas stay as Stack gives them, but
// for the squares around crowded points; at every point at most three areas meet, and
// every inner edge occurs once in each direction.
func TestPartitionsAreTrivalent(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 9))
	for round := range 60 {
		var layers []Layer
		for range 40 {
			x, y := int32(rnd.IntN(8))*100_000, int32(rnd.IntN(8))*100_000
			l := Loop{{x, y}, {x + 100_000, y}, {x + 100_000, y + 100_000}, {x, y + 100_000}}
			if round%2 == 1 {
				l[rnd.IntN(4)].X += int32(rnd.IntN(90_000)) - 45_000
			}
			layers = append(layers, Layer{Loops: []Loop{l}, Label: int32(1 + rnd.IntN(5))})
		}
		want, err := Stack(layers, nil)
		if err != nil {
			t.Fatal(err)
		}
		got, err := Partition(layers, 160, nil)
		if err != nil {
			t.Fatal(err)
		}
		edges, at := map[[2]Point]int{}, map[Point]map[Point]bool{}
		for label, r := range got {
			if d := r.Area2() - want[label].Area2(); d > 64*4*160*160 || d < -64*4*160*160 {
				t.Errorf("round %d: area %d became %d", round, want[label].Area2(), r.Area2())
			}
			r.Loops(func(l Loop) {
				for i, p := range l {
					q := l[(i+1)%len(l)]
					edges[[2]Point{p, q}]++
					for _, e := range [2][2]Point{{p, q}, {q, p}} {
						if at[e[0]] == nil {
							at[e[0]] = map[Point]bool{}
						}
						at[e[0]][e[1]] = true
					}
				}
			})
		}
		for p, to := range at {
			if len(to) > 3 {
				t.Fatalf("round %d: %d edges end in %v", round, len(to), p)
			}
		}
		for e, n := range edges {
			if n != 1 {
				t.Fatalf("round %d: the edge %v occurs %d times", round, e, n)
			}
		}
	}
}

// TestHilbertCurve holds that the curve comes to every place once, from one to the next beside it.
func TestHilbertCurve(t *testing.T) {
	const side = 64
	at := make([]Point, side*side)
	seen := make([]bool, side*side)
	for x := range uint32(side) {
		for y := range uint32(side) {
			d := hilbert(x, y)
			if d >= side*side || seen[d] {
				t.Fatalf("%d, %d is at %d", x, y, d)
			}
			at[d], seen[d] = Point{int32(x), int32(y)}, true
		}
	}
	for d := 1; d < len(at); d++ {
		p, q := at[d-1], at[d]
		if dx, dy := p.X-q.X, p.Y-q.Y; dx*dx+dy*dy != 1 {
			t.Fatalf("from %v to %v", p, q)
		}
	}
}
