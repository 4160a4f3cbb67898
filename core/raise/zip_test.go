package raise

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// ringOf is a regular loop, counter-clockwise for n > 0.
func ringOf(cx, cy, r float64, n int) plane.Loop {
	l := make(plane.Loop, max(n, -n))
	for k := range l {
		s, c := math.Sincos(2 * math.Pi * float64(k) / float64(n))
		l[k] = mm(cx+r*c, cy+r*s)
	}
	return l
}

// TestZippedBandsCoverTheRing insets random outlines with holes and closes the
// bands: every triangle turns the same way, areas add up to the millionth of
// nothing, and each border edge occurs once.
func TestZippedBandsCoverTheRing(t *testing.T) {
	rnd := rand.New(rand.NewPCG(5, 8))
	closed := 0
	for round := range 300 {
		waves, depth := 3+rnd.IntN(12), 6*rnd.Float64()
		outer := make(plane.Loop, 20+rnd.IntN(400))
		for k := range outer {
			a := 2 * math.Pi * float64(k) / float64(len(outer))
			d := 36 + depth*math.Sin(a*float64(waves)) + 0.02*rnd.Float64()
			outer[k] = mm(d*math.Cos(a), d*math.Sin(a))
		}
		loops := []plane.Loop{outer}
		for k := range rnd.IntN(4) {
			loops = append(
				loops,
				ringOf(
					16*math.Cos(float64(k)*1.6),
					16*math.Sin(float64(k)*1.6),
					2+3*rnd.Float64(),
					-(5+rnd.IntN(60)),
				),
			)
		}
		for _, poly := range region(t, loops) {
			z := newZipped(poly)
			at := poly
			for range 4 {
				d := plane.Units((0.1 + 0.6*rnd.Float64()) / testStep)
				st := plane.OffsetStyle{ArcTol: 2000, Simplify: 2000}
				in, whole, err := at.Inset(d, st)
				if err != nil {
					t.Fatal(err)
				}
				if off, _ := (plane.Region{at}).Offset(-d, st); !alike(in, off) {
					t.Fatalf("round %d: inset and offset differ", round)
				}
				if !whole || !z.add(in[0], float64(d), ridgeTol*3/testStep) {
					break
				}
				at = in[0]
			}
			from := 0
			for r, end := range z.ends {
				closed++
				checkBand(t, round, &z.rings[r], &z.rings[r+1], z.tris[from:end], z.pts)
				from = end
			}
		}
	}
	if closed < 600 {
		t.Errorf("only %d bands were closed", closed)
	}
}

// alike reports whether two regions have as many polygons and, but for what
// simplifying takes away, the same area.
func alike(a, b plane.Region) bool {
	sum := func(r plane.Region) (area, around float64) {
		r.Loops(func(l plane.Loop) {
			area += float64(l.Area2()) / 2
			for i, p := range l {
				q := l[(i+1)%len(l)]
				around += math.Hypot(float64(q.X-p.X), float64(q.Y-p.Y))
			}
		})
		return area, around
	}
	x, around := sum(a)
	y, _ := sum(b)
	return len(a) == len(b) && math.Abs(x-y) <= 2000*around
}

func checkBand(t *testing.T, round int, a, b *plane.Polygon, tris [][3]int32, pts []plane.Point) {
	t.Helper()
	var area int64
	edges := map[[2]int32]int{}
	for _, tri := range tris {
		twice := plane.Orient(pts[tri[0]], pts[tri[1]], pts[tri[2]])
		if twice <= 0 {
			t.Fatalf("round %d: a triangle of area %d", round, twice)
		}
		area += twice
		for i := range tri {
			edges[[2]int32{tri[i], tri[(i+1)%3]}]++
		}
	}
	if want := a.Area2() - b.Area2(); area != want {
		t.Fatalf("round %d: a band of area %d is covered with %d", round, want, area)
	}
	border := 0
	for e, n := range edges {
		if n != 1 {
			t.Fatalf("round %d: an edge is used %d times", round, n)
		}
		border += 1 - edges[[2]int32{e[1], e[0]}]
	}
	if want := (plane.Region{*a}).Edges() + (plane.Region{*b}).Edges(); border != want {
		t.Fatalf("round %d: %d border edges, want %d", round, border, want)
	}
}

// TestZippedAndTriangulatedPlansAgree plans the same outlines both ways: the
// solids are sound and enclose the same volume within what the rings allow.
func TestZippedAndTriangulatedPlansAgree(t *testing.T) {
	for name, loops := range map[string][]plane.Loop{
		"a disc":            {ringOf(0, 0, 40, 200)},
		"a square":          {{mm(-30, -30), mm(30, -30), mm(30, 30), mm(-30, 30)}},
		"a ring with holes": {ringOf(0, 0, 40, 90), ringOf(0, 0, 20, -70), ringOf(30, 0, 3, -20)},
		"a blossom":         blossom(600, 7)[0:1],
	} {
		for _, b := range []Bevel{bevel(Round, 2, 2, 5), bevel(Chamfer, 3, 1, 1)} {
			r := region(t, loops)
			if len(r) != 1 {
				t.Fatalf("%s: %d polygons", name, len(r))
			}
			var volumes [2]float64
			for i, zip := range []bool{true, false} {
				p := &Plan{Width: plane.Step(testStep).Units(b.Width)}
				p.Facets, p.Top = b.facetsFor(float64(minStep / p.Width))
				w := p.workOn(r[0])
				p = w.plan
				whole, err := w.run(context.Background(), zip)
				if err != nil || !whole {
					t.Fatalf("%s: %v %v", name, whole, err)
				}
				// A band in which edges are lost that a slope would miss is triangulated.
				if lost := name == "a blossom" && w.n == 1; zip != (w.from == w.n) && !lost {
					t.Errorf("%s: %d of %d bands were zipped", name, w.from, w.n)
				}
				for _, back := range []bool{false, true} {
					f, plans := Form{Depth: 8, Front: b}, &Plans{Front: p}
					if back {
						f.Back, plans.Back = b, p
					}
					m, err := plans.Solid(t.Context(), f, testStep, Plain)
					if err != nil {
						t.Fatal(err)
					}
					rep := mesh.Check(m, true)
					if !rep.Sound() {
						t.Errorf("%s, zipped %v, back %v: %+v", name, zip, back, rep)
					}
					volumes[i] = rep.VolumeMM3
				}
			}
			if math.Abs(volumes[0]-volumes[1]) > 2e-4*volumes[1] {
				t.Errorf("%s: %g mm3 zipped, %g triangulated", name, volumes[0], volumes[1])
			}
		}
	}
}

// TestBandsThatCantBeZipped are triangulated: where bevels meet from some ring
// on, the bands before are still zipped.
func TestBandsThatCantBeZipped(t *testing.T) {
	// Two discs that a narrow bridge joins: the bridge is 1.2 mm wide.
	loops := []plane.Loop{
		{mm(-30, -0.6), mm(30, -0.6), mm(30, 0.6), mm(-30, 0.6)},
		ringOf(-30, 0, 12, 80),
		ringOf(30, 0, 12, 80),
	}
	r, err := plane.Fill(loops, plane.NonZero)
	if err != nil || len(r) != 1 {
		t.Fatal(len(r), err)
	}
	p := &Plan{Width: 2 / testStep}
	b := bevel(Round, 2, 2, 6)
	p.Facets, p.Top = b.facetsFor(float64(minStep / p.Width))
	w := p.workOn(r[0])
	p = w.plan
	if whole, err := w.run(context.Background(), true); err != nil || !whole {
		t.Fatal(whole, err)
	}
	if w.from < 1 || w.from >= w.n {
		t.Errorf("%d of %d bands were zipped", w.from, w.n)
	}
	if p.Ridge == 0 {
		t.Error("there is no ridge on the bridge")
	}
	m, err := (&Plans{Front: p}).Solid(t.Context(), Form{Depth: 6, Front: b}, testStep, Plain)
	if err != nil {
		t.Fatal(err)
	}
	if rep := mesh.Check(m, true); !rep.Sound() {
		t.Errorf("%+v", rep)
	}
	for i, q := range p.Pts { // heights on the bridge are those of its middle
		if x := float64(q.X) * testStep; math.Abs(x) < 10 && float64(p.Dist[i])*testStep > 0.61 {
			t.Fatalf("a point of the bridge is %g mm from the outline", float64(p.Dist[i])*testStep)
		}
	}
}
