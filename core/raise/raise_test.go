package raise

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"runtime"
	"slices"
	"strconv"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
	"bildhauer/internal/worktime"
)

const testStep = 1.0 / (1 << 17) // 100 mm over about 2^24

func mm(x, y float64) plane.Point {
	return plane.Point{X: int32(math.Round(x / testStep)), Y: int32(math.Round(y / testStep))}
}

// nasty returns outline number i of a generated set: stars, combs, spirals,
// touching rings, crescents, spikes and noise, about 80 mm across.
func nasty(i int) (string, []plane.Loop) {
	r := rand.New(rand.NewPCG(uint64(i), 77))
	turn := func(n int, f func(k int, a float64) float64) plane.Loop {
		l := make(plane.Loop, n)
		for k := range l {
			a := 2 * math.Pi * float64(k) / float64(n)
			d := f(k, a)
			l[k] = mm(d*math.Cos(a), d*math.Sin(a))
		}
		return l
	}
	ring := func(cx, cy, rad float64, n int) plane.Loop {
		l := make(plane.Loop, n)
		for k := range l {
			s, c := math.Sincos(2 * math.Pi * float64(k) / float64(n))
			l[k] = mm(cx+rad*c, cy+rad*s)
		}
		return l
	}
	switch i % 10 {
	case 0:
		return "star", []plane.Loop{turn(2*(3+r.IntN(30)), func(k int, _ float64) float64 {
			if k%2 == 0 {
				return 40
			}
			return 1 + 20*r.Float64()
		})}
	case 1:
		n := 5 + r.IntN(60)
		l := plane.Loop{mm(-40, -10)}
		for k := range n {
			x := -40 + 80*float64(k)/float64(n)
			w := 80 / float64(n) * (0.1 + 0.8*r.Float64())
			l = append(l, mm(x+w, -10), mm(x+w/2, 10+20*r.Float64()))
		}
		return "comb", []plane.Loop{append(l, mm(40, -12), mm(-40, -12))}
	case 2:
		n := 60 + r.IntN(300)
		turns, w := 2+4*r.Float64(), 0.2+2.5*r.Float64()
		var in, out plane.Loop
		for k := range n {
			a := turns * 2 * math.Pi * float64(k) / float64(n)
			d := 5 + 33*float64(k)/float64(n)
			in = append(in, mm(d*math.Cos(a), d*math.Sin(a)))
			out = append(out, mm((d+w)*math.Cos(a), (d+w)*math.Sin(a)))
		}
		for k := len(out) - 1; k >= 0; k-- {
			in = append(in, out[k])
		}
		return "spiral", []plane.Loop{in}
	case 3:
		n := 24 + r.IntN(200)
		rad := 10 + 5*r.Float64()
		return "touching rings", []plane.Loop{
			ring(-rad, 0, rad, n),
			ring(rad, 0, rad, n),
			ring(-rad, 0, rad-2, n),
			ring(2-rad, 0, 4, n),
			ring(0, rad, rad/2, 7),
		}
	case 4:
		n := 40 + r.IntN(300)
		return "crescent", []plane.Loop{
			ring(0, 0, 40, n),
			ring(0.1+3*r.Float64(), 0, 39.9-r.Float64(), n+r.IntN(3)),
		}
	case 5:
		return "noise", []plane.Loop{
			turn(100+r.IntN(500), func(int, float64) float64 { return 30 + 10*r.Float64() }),
		}
	case 6:
		var ls []plane.Loop
		for range 3 + r.IntN(8) {
			a, b := 2*math.Pi*r.Float64(), 0.01+0.1*r.Float64()
			ls = append(
				ls,
				plane.Loop{
					mm(0, 0),
					mm(40*math.Cos(a), 40*math.Sin(a)),
					mm(40*math.Cos(a+b), 40*math.Sin(a+b)),
				},
			)
		}
		return "spikes in a point", ls
	case 7: // grid of squares that share corners and edges, with holes
		var ls []plane.Loop
		for range 30 {
			x, y := float64(r.IntN(8)*10-40), float64(r.IntN(8)*10-40)
			ls = append(ls, plane.Loop{mm(x, y), mm(x+10, y), mm(x+10, y+10), mm(x, y+10)})
		}
		return "checkers", ls
	case 8:
		l := make(plane.Loop, 20+r.IntN(60))
		for k := range l {
			l[k] = mm(80*r.Float64()-40, 80*r.Float64()-40)
		}
		return "tangle", []plane.Loop{l}
	}
	n := 3 + r.IntN(2000)
	return "round with holes near the rim", []plane.Loop{
		ring(0, 0, 40, n),
		ring(39-5*r.Float64()-r.Float64(), 0, r.Float64(), 3+n/10),
		ring(0, 0, 35*r.Float64(), n),
	}
}

func region(t testing.TB, loops []plane.Loop) plane.Region {
	t.Helper()
	r, err := plane.Fill(loops, plane.EvenOdd)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

func bevel(p Profile, width, height float64, segments int) Bevel {
	return Bevel{Profile: p, Width: width, Height: height, Segments: segments}
}

var nastyBevels = []Bevel{
	bevel(Round, 0.3, 0.3, 4), bevel(Chamfer, 1, 1, 1), bevel(Round, 2, 3, 6), bevel(Round, 8, 4, 4),
	bevel(Chamfer, 30, 5, 1), bevel(Round, 100, 6, 8), {},
}

// TestNastyOutlinesStaySound raises a generated set of outlines and the
// letters of the shipped fonts, at bevels from fine to far beyond their width,
// and checks every solid exactly. BILDHAUER_NASTY sets how many.
func TestNastyOutlinesStaySound(t *testing.T) {
	count := 60
	if n, err := strconv.Atoi(os.Getenv("BILDHAUER_NASTY")); err == nil {
		count = n
	}
	abc := alphabet(t)
	var bad, done atomic.Int64
	var wg sync.WaitGroup
	next := make(chan int)
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for i := range next {
				name, loops := "letter", abc[(i/4*7)%len(abc)]
				if i%4 != 0 {
					name, loops = nasty(i)
				}
				if !raiseAndCheck(
					t,
					fmt.Sprintf("%s %d", name, i),
					loops,
					nastyBevels[(i/10+i)%len(nastyBevels)],
					i%3 == 0,
				) {
					bad.Add(1)
				}
				done.Add(1)
			}
		})
	}
	for i := range count {
		next <- i
	}
	close(next)
	wg.Wait()
	t.Logf("%d of %d solids sound", done.Load()-bad.Load(), done.Load())
}

// build raises a region.
func build(r plane.Region, f Form, look Finish) (*mesh.Mesh, error) {
	p, err := NewPlans(context.Background(), r, f, testStep)
	if err != nil {
		return nil, err
	}
	return p.Solid(context.Background(), f, testStep, look)
}

func raiseAndCheck(t *testing.T, name string, loops []plane.Loop, b Bevel, back bool) bool {
	r, err := plane.Fill(loops, plane.EvenOdd)
	if err != nil {
		t.Errorf("%s: %v", name, err)
		return false
	}
	f := Form{Depth: 5, Front: b}
	if back {
		f.Back = b
	}
	m, err := build(r, f, Plain)
	if err != nil {
		t.Errorf("%s, bevel %+v: %v", name, b, err)
		return false
	}
	rep := mesh.Check(m, true)
	rep.Crossing = max(rep.Crossing, mesh.Crossings(m, 10)) // by pairs too, not by proof alone
	if len(r) > 0 && !rep.Sound() {
		t.Errorf("%s, bevel %+v: %+v", name, b, rep)
		return false
	}
	// The volume lies between nothing and the region's area at full depth.
	if full := float64(r.Area2()) / 2 * testStep * testStep * 5; rep.VolumeMM3 > full*1.0001 ||
		len(r) > 0 && rep.VolumeMM3 <= 0 {
		t.Errorf("%s: volume %g of %g", name, rep.VolumeMM3, full)
		return false
	}
	return true
}

// TestCancelledPlanStopsSoon cancels the plan of an outline that takes long.
func TestCancelledPlanStopsSoon(t *testing.T) {
	loops := blossom(400_000, 4000)
	r := region(t, loops)
	ctx, cancel := context.WithCancel(context.Background())
	time.AfterFunc(200*time.Millisecond, cancel)
	start := worktime.Spent()
	plan := func() (err error) {
		defer func() { // deep work ends by a panic, which stages turn into the context's error
			if p := recover(); p != nil && progress.Caught(p) {
				err = context.Canceled
			} else if p != nil {
				panic(p)
			}
		}()
		_, err = NewPlan(ctx, r, bevel(Round, 1, 1, 4), testStep)
		return err
	}
	if err := plan(); !errors.Is(err, context.Canceled) {
		t.Errorf("returned %v", err)
	}
	if d := worktime.Spent() - start; d > 4*time.Second {
		t.Errorf("went on for %v", d)
	}
}

// TestPlansDoNotDependOnCores makes the same plans on one processor and on four.
func TestPlansDoNotDependOnCores(t *testing.T) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(0))
	for i := range 30 {
		name, loops := nasty(i)
		r := region(t, loops)
		var plans [2]*Plan
		var dirs [2][][3]dir
		for k, cores := range []int{1, 4} {
			runtime.GOMAXPROCS(cores)
			var err error
			if plans[k], err = NewPlan(context.Background(), r, bevel(Round, 3, 3, 4), testStep); err != nil {
				t.Fatal(err)
			}
			dirs[k] = plans[k].directions(math.Cos(Crease*math.Pi/180), nil)
		}
		a, b := plans[0], plans[1]
		if !slices.Equal(a.Pts, b.Pts) || !slices.Equal(a.Dist, b.Dist) || !slices.Equal(a.Tris, b.Tris) ||
			!slices.Equal(a.Cap, b.Cap) || !slices.Equal(a.Rim, b.Rim) || !slices.Equal(dirs[0], dirs[1]) {
			t.Errorf("%d, %s: one processor gives %d points, four %d", i, name, len(a.Pts), len(b.Pts))
		}
	}
}

// TestRidgeHeights compares heights over random points with the distance from
// the outline measured directly.
func TestRidgeHeights(t *testing.T) {
	for _, c := range []struct {
		b   Bevel
		rms float64 // of the width
	}{
		{bevel(Chamfer, 4, 4, 1), 0.0026},
		{bevel(Round, 4, 4, 4), 0.0023},
		{bevel(Round, 4, 4, 8), 0.0018},
	} {
		var sum, worst float64
		n := 0
		for i := range 100 {
			if i%10 == 5 || i%10 == 8 {
				continue // noise finer than the samples
			}
			heightErrors(t, i, c.b, func(e float64) {
				sum += e * e
				worst = math.Max(worst, e)
				n++
			})
		}
		rms := math.Sqrt(sum / float64(n))
		t.Logf("%v: rms error %.3f%%, worst %.2f%% of the bevel width", c.b, 100*rms, 100*worst)
		if rms > c.rms || worst > 0.08 {
			t.Errorf("%v: rms error %.3f%%, worst %.2f%% of the bevel width", c.b, 100*rms, 100*worst)
		}
	}
}

// heightErrors tells how far, as a share of the width, the plan of artwork i is
// off at 300 places of as many triangles.
func heightErrors(t *testing.T, i int, b Bevel, tell func(float64)) {
	t.Helper()
	_, loops := nasty(i)
	r, err := region(t, loops).Separate(gap, nil)
	if err != nil {
		t.Fatal(err)
	}
	p, err := NewPlan(context.Background(), r, b, testStep)
	if err != nil {
		t.Fatal(err)
	}
	var idx []*plane.SegmentIndex
	for _, poly := range r {
		idx = append(idx, plane.NewSegmentIndex(poly))
	}
	rnd := rand.New(rand.NewPCG(uint64(i), 9))
	for range 300 {
		tr := p.Tris[rnd.IntN(len(p.Tris))]
		u, v := rnd.Float64(), rnd.Float64()
		if u+v > 1 {
			u, v = 1-u, 1-v
		}
		w := 1 - u - v
		at := func(f func(int32) float64) float64 { return u*f(tr[0]) + v*f(tr[1]) + w*f(tr[2]) }
		x := at(func(k int32) float64 { return float64(p.Pts[k].X) })
		y := at(func(k int32) float64 { return float64(p.Pts[k].Y) })
		d := at(func(k int32) float64 { return float64(p.Dist[k]) })
		true := math.Inf(1)
		for _, s := range idx {
			true = math.Min(true, s.Nearest(x, y, float64(p.Width)).Dist)
		}
		tell(math.Abs(d-true) / float64(p.Width))
	}
}

// TestKnownVolumes compares solids with their formulas.
func TestKnownVolumes(t *testing.T) {
	box := []plane.Loop{{mm(-10, -10), mm(10, -10), mm(10, 10), mm(-10, 10)}}
	slim := []plane.Loop{{mm(-20, -1), mm(20, -1), mm(20, 1), mm(-20, 1)}}
	for _, c := range []struct {
		name  string
		loops []plane.Loop
		f     Form
		want  float64
	}{
		{"plain box", box, Form{Depth: 5}, 20 * 20 * 5},
		{"chamfered box", box, Form{Depth: 5, Front: bevel(Chamfer, 2, 2, 1)}, 20*20*3 + 2.0/3*(400+16*16+20*16)},
		{"both sides", box, Form{Depth: 5, Front: bevel(Chamfer, 2, 2, 1), Back: bevel(Chamfer, 2, 2, 1)}, 20*20 + 2*2.0/3*(400+16*16+20*16)},
		// A hipped roof: a prism over 38 mm and two half pyramids.
		{"hipped roof", slim, Form{Depth: 6, Front: bevel(Chamfer, 5, 5, 1)}, 40*2*1 + (38*1 + 4.0/3)},
	} {
		m, err := build(region(t, c.loops), c.f, Unrolled)
		if err != nil {
			t.Fatal(err)
		}
		rep := mesh.Check(m, true)
		if !rep.Sound() || math.Abs(rep.VolumeMM3-c.want) > c.want*1e-3 {
			t.Errorf("%s: %+v, want volume %g", c.name, rep, c.want)
		}
		checkNormals(t, m)
	}
}

// checkLeaning fails when many normals look away from their own side: those of slivers beside ridges may.
func checkLeaning(t *testing.T, m *mesh.Mesh) {
	t.Helper()
	all, away := map[mesh.Group]float64{}, map[mesh.Group]float64{}
	for i, tr := range m.Tris {
		n := cross(m.Pos(tr[0]), m.Pos(tr[1]), m.Pos(tr[2]))
		area := math.Sqrt(dot(n, n))
		for _, k := range m.Corner[i] {
			s := m.Normals[k]
			all[m.Group[i]] += area
			if dot(n, [3]float64{float64(s[0]), float64(s[1]), float64(s[2])}) < 0 {
				away[m.Group[i]] += area
			}
		}
	}
	for g, a := range away {
		if a > 0.01*all[g] {
			t.Errorf("%s: normals look away over %.1f%% of it", mesh.Groups[g], 100*a/all[g])
		}
	}
}

// cross returns the normal of a triangle, as long as twice its area.
func cross(a, b, c [3]float32) [3]float64 {
	var u, v [3]float64
	for k := range 3 {
		u[k], v[k] = float64(b[k]-a[k]), float64(c[k]-a[k])
	}
	return [3]float64{u[1]*v[2] - u[2]*v[1], u[2]*v[0] - u[0]*v[2], u[0]*v[1] - u[1]*v[0]}
}

func dot(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }

// checkNormals fails when a normal points away from its triangle's own side.
func checkNormals(t *testing.T, m *mesh.Mesh) {
	t.Helper()
	for i, tr := range m.Tris {
		n := cross(m.Pos(tr[0]), m.Pos(tr[1]), m.Pos(tr[2]))
		l := math.Sqrt(dot(n, n))
		for _, k := range m.Corner[i] {
			s := m.Normals[k]
			if d := dot(n, [3]float64{float64(s[0]), float64(s[1]), float64(s[2])}) / l; d < 0.5 {
				t.Fatalf(
					"triangle %d (%s): normal %v is %.2f from its face",
					i,
					mesh.Groups[m.Group[i]],
					s,
					d,
				)
			}
		}
	}
}

func FuzzSound(f *testing.F) {
	f.Add([]byte{0, 0, 90, 0, 90, 90, 0, 90, 30, 30, 70, 30, 50, 200}, uint8(1))
	f.Fuzz(func(t *testing.T, data []byte, kind uint8) {
		var l plane.Loop
		for i := 0; i+1 < min(len(data), 100); i += 2 {
			l = append(l, mm(float64(int8(data[i]))/3, float64(int8(data[i+1]))/3))
		}
		if len(l) < 3 {
			return
		}
		r := region(t, []plane.Loop{l})
		b := nastyBevels[int(kind)%len(nastyBevels)]
		f := Form{Depth: 5, Front: b}
		if kind > 127 {
			f.Back = b
		}
		m, err := build(r, f, Plain)
		if err != nil {
			t.Fatal(err)
		}
		if rep := mesh.Check(m, true); len(m.Tris) > 0 && !rep.Sound() {
			t.Fatalf("not sound: %+v", rep)
		}
	})
}

// blossom is an outline of n edges with the given number of waves.
func blossom(n int, waves float64) []plane.Loop {
	l := make(plane.Loop, n)
	for k := range l {
		a := 2 * math.Pi * float64(k) / float64(n)
		d := 40 + 8*math.Sin(a*waves)
		l[k] = mm(d*math.Cos(a), d*math.Sin(a))
	}
	return []plane.Loop{l}
}
