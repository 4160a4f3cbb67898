package print

import (
	"bufio"
	"bytes"
	"fmt"
	"io"
	"math"
	"runtime"
	"runtime/debug"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
)

// rect and star are outlines in mm.
func rect(x, y, w, h float64) [][2]float64 {
	return [][2]float64{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}
}

func star(spikes int, out, in float64) (list [][2]float64) {
	for i := range 2 * spikes {
		r := out
		if i%2 == 1 {
			r = in
		}
		s, c := math.Sincos(math.Pi * float64(i) / float64(spikes))
		list = append(list, [2]float64{r * c, r * s})
	}
	return list
}

// regionOf brings outlines to the grid, even-odd.
func regionOf(t testing.TB, outlines ...[][2]float64) plane.Region {
	return regionFilled(t, plane.EvenOdd, outlines...)
}

func regionFilled(t testing.TB, rule plane.FillRule, outlines ...[][2]float64) plane.Region {
	var loops []plane.Loop
	for _, o := range outlines {
		var l plane.Loop
		for _, p := range o {
			l = append(l, plane.Point{X: grid(p[0]), Y: grid(p[1])})
		}
		loops = append(loops, l)
	}
	r, err := plane.Fill(loops, rule)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// block makes layers of one area each.
func block(r plane.Region, n int, height float64) (out []Layer) {
	for i := range n {
		out = append(out, Layer{Z: height * float64(i+1), Height: height, Area: r})
	}
	return out
}

func letterS() [][2]float64 {
	var out [][2]float64
	for side := range 2 {
		for i := range 121 {
			k := i
			if side == 1 {
				k = 120 - i
			}
			a := math.Pi * (1.5*float64(k)/120 - 0.25)
			r := 8.0
			if side == 1 {
				r = 8.0 - 1.2
			}
			s, c := math.Sincos(a)
			out = append(out, [2]float64{r * c, r * s})
		}
	}
	return out
}

// TestPerimetersStayInTheWall lays known forms: no perimeter leaves the wall by more than 5
// micrometres, all lines together have the volume of the form when it is filled, and nothing
// is laid twice.
func TestPerimetersStayInTheWall(t *testing.T) {
	ring := func(r, w float64) [][][2]float64 { return [][][2]float64{circle(r, 200), circle(r-w, 200)} }
	for name, outlines := range map[string][][][2]float64{
		"a block":           {rect(-20, -10, 40, 20)},
		"a disc":            {circle(15, 240)},
		"a star":            {star(7, 20, 9)},
		"a ring of 3 mm":    ring(15, 3),
		"a ring of 1.2 mm":  ring(15, 1.2),
		"a ring of 0.7 mm":  ring(15, 0.7),
		"a ring of 0.45 mm": ring(15, 0.45),
		"a ring of 0.3 mm":  ring(15, 0.3),
		"a letter":          {letterS()},
		"two strokes":       {rect(-20, -10, 40, 0.8), rect(-20, 5, 40, 1.6)},
		"a plate of holes":  {rect(-15, -15, 30, 30), circle(3, 60), rect(6, 6, 5, 5), rect(-12, -12, 20, 1)},
		"a wedge":           {{{-15, 0}, {15, -3}, {15, 3}}},
	} {
		region := regionOf(t, outlines...)
		s := Usual()
		s.Density, s.Perimeters = 1, 3
		layers := block(region, 4, 0.2)
		laid, err := Lay(t.Context(), layers, step, [2]float64{}, &s)
		if err != nil {
			t.Fatal(err)
		}
		want, got := plane.Step(step).Area(region)*0.2*4, 0.0
		g := gauge.New(gauge.LoopsOf(region))
		out := 0.0
		for _, l := range laid {
			for i := range l.Paths {
				p := &l.Paths[i]
				got += p.Covers() * l.Height
				if p.Kind != Outer {
					continue
				}
				for k := range p.stretches() {
					to, _, wide := p.stretch(k)
					for f := 0.0; f < 1; f += 0.25 {
						a := p.Points[k]
						at := geom.Vec{X: (float64(a[0])*(1-f) + float64(to[0])*f) / step, Y: (float64(a[1])*(1-f) + float64(to[1])*f) / step}
						if !region.Contains(plane.Point{X: int32(at.X), Y: int32(at.Y)}) {
							t.Fatalf("%s: a perimeter runs outside at %v", name, at)
						}
						out = math.Max(out, wide/2-g.Nearest(at)*step)
					}
				}
			}
		}
		if out > 0.005 {
			t.Errorf("%s: a perimeter leaves the wall by %.4f mm", name, out)
		}
		if math.Abs(got/want-1) > 0.02 {
			t.Errorf("%s: %.3f mm3 laid, the form has %.3f (%.2f%%)", name, got, want, 100*(got/want-1))
		}
	}
}

// TestSolidsAreLaidFull slices solids and lays them filled: volume within 2%.
func TestSolidsAreLaidFull(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{
		"a cone": prism(circle(15, 120), 0, 8, 0.3), "a funnel": prism(circle(10, 120), 0, 8, 1.6), "a star": prism(star(9, 20, 12), 0, 5, 0.6),
		"a flower": flower(t, 600),
	} {
		s := Usual()
		s.Density = 1
		j := jobOf(t, m, s)
		want := mesh.Check(m, false).VolumeMM3
		if got := j.Volume(); math.Abs(got/want-1) > 0.02 {
			t.Errorf("%s: %.2f mm3 laid, the solid has %.2f (%.2f%%)", name, got, want, 100*(got/want-1))
		}
	}
}

func jobOf(t testing.TB, m *mesh.Mesh, s Setup) *Job {
	t.Helper()
	layers := sliced(t, m, s.First, s.Layer)
	lo, hi := m.Box()
	laid, err := Lay(t.Context(), layers, m.Step, [2]float64{(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2}, &s)
	if err != nil {
		t.Fatal(err)
	}
	var box [2][3]float64
	for k := range 3 {
		box[0][k], box[1][k] = float64(lo[k]), float64(hi[k])
	}
	j, err := NewJob("Form", layers, laid, m.Step, box[0], box[1], []Change{{1, 0, "Tag", "#112233", 0}, {6, 1, "Top (wide); red", "#aa0000", 0}}, s)
	if err != nil {
		t.Fatal(err)
	}
	return j
}

// TestInsideIsFilledAsAsked looks at what lies within: solid below and above and under what
// opens, lines of the share that was asked for between, one seam a loop.
func TestInsideIsFilledAsAsked(t *testing.T) {
	base, tower := regionOf(t, rect(-20, -20, 40, 40)), regionOf(t, rect(-8, -8, 16, 16))
	layers := append(block(base, 10, 0.2), block(tower, 10, 0.2)...)
	for i := range layers {
		layers[i].Z = 0.2 * float64(i+1)
	}
	cover := func(l Laid, k Kind) (sum float64) {
		for i := range l.Paths {
			if l.Paths[i].Kind == k {
				sum += l.Paths[i].Covers()
			}
		}
		return sum
	}
	for _, infill := range []string{Lines, Grid, NoInfill} {
		s := Usual()
		s.Infill, s.Floors, s.Density = infill, 3, 0.25
		laid, err := Lay(t.Context(), layers, step, [2]float64{}, &s)
		if err != nil {
			t.Fatal(err)
		}
		share := map[string]float64{Lines: 0.25, Grid: 0.25, NoInfill: 0}[infill]
		inner := func(side float64) float64 { side -= 4 * s.Bead(); return side * side }
		// The tower's walls stand on what is solid, and that ends a line within the rest.
		under := 16 - 6*s.Bead()
		for i, want := range map[int][2]float64{ // areas that are solid and sparse
			0: {inner(40), 0}, 2: {inner(40), 0}, 4: {0, inner(40)},
			8: {inner(40) - under*under, under * under},
		} {
			if got := cover(laid[i], Solid); math.Abs(got-want[0]) > 0.03*inner(40) {
				t.Errorf("%s, layer %d: %.1f mm2 solid, want %.1f", infill, i, got, want[0])
			}
			// Rows are joined along the walls.
			if got := cover(laid[i], Infill); got < share*want[1]-0.02*inner(40) || got > share*want[1]+0.04*inner(40) {
				t.Errorf("%s, layer %d: %.1f mm2 of infill, want %.1f", infill, i, got, share*want[1])
			}
		}
	}
}

// spool is what a small interpreter of G-code finds: how much was pushed in by layer, mm of
// filament, and by kind; it fails on words it does not know.
type spool struct {
	layers  []float64
	kinds   map[string]float64
	lo, hi  [2]float64 // of what was laid, mm from the corner of the bed
	z       []float64
	pauses  []int // layers before which it stops
	heads   map[string]string
	seconds float64 // at the speeds asked for, without acceleration
	first   float64 // greatest speed of the first layer, mm/s
}

func interpret(t *testing.T, code []byte) *spool {
	t.Helper()
	out := &spool{kinds: map[string]float64{}, heads: map[string]string{}, lo: [2]float64{1e9, 1e9}, hi: [2]float64{-1e9, -1e9}}
	var at [3]float64
	e, f, kind := 0.0, 0.0, ""
	lines := bufio.NewScanner(bytes.NewReader(code))
	for lines.Scan() {
		line, note, _ := strings.Cut(lines.Text(), ";")
		note = strings.TrimSpace(note)
		if name, value, ok := strings.Cut(note, ": "); ok && len(out.layers) == 0 {
			out.heads[name] = value
		}
		if strings.HasPrefix(note, "layer ") {
			out.layers, out.z = append(out.layers, 0), append(out.z, 0)
		}
		if k, ok := strings.CutPrefix(note, "kind: "); ok {
			kind = k
		}
		if strings.HasPrefix(line, "(MSG,") {
			continue
		}
		words := strings.Fields(line)
		if len(words) == 0 {
			continue
		}
		value := map[byte]float64{}
		for _, w := range words[1:] {
			v, err := strconv.ParseFloat(w[1:], 64)
			if err != nil {
				t.Fatalf("%q: %v", line, err)
			}
			value[w[0]] = v
		}
		switch words[0] {
		case "G0", "G1":
			to := at
			for i, axis := range "XYZ" {
				if v, ok := value[byte(axis)]; ok {
					to[i] = v
				}
			}
			if v, ok := value['F']; ok {
				f = v / 60
			}
			long := math.Hypot(to[0]-at[0], to[1]-at[1])
			if v, ok := value['E']; ok {
				e += v
				if _, moves := value['X']; moves {
					out.layers[len(out.layers)-1] += v
					out.kinds[kind] += v
					out.z[len(out.z)-1] = to[2]
					for k := range 2 {
						out.lo[k], out.hi[k] = min(out.lo[k], at[k], to[k]), max(out.hi[k], at[k], to[k])
					}
					if len(out.layers) == 1 {
						out.first = max(out.first, f)
					}
				} else {
					out.seconds += math.Abs(v) / f
				}
			}
			if f > 0 {
				out.seconds += long / f
			}
			at = to
		case "M0":
			out.pauses = append(out.pauses, len(out.layers)+1)
		case "G21", "G90", "M83", "M140", "M104", "M190", "M109", "G28", "G92", "M106", "M107", "M2":
		default:
			t.Fatalf("a word that is not known: %q", line)
		}
	}
	return out
}

// TestGCodeIsTheSlices reads the G-code back: each layer is at its height and has what its
// area says, the header says the truth, nothing leaves the bed, the first layer is slow.
func TestGCodeIsTheSlices(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{"a cone": prism(circle(15, 120), 0, 3, 0.5), "a star": prism(star(9, 14, 9), 0, 2, 1)} {
		s := Usual()
		s.Density, s.Copies, s.First = 1, 3, 0.3
		j := jobOf(t, m, s)
		var buf bytes.Buffer
		if err := j.GCode(&buf); err != nil {
			t.Fatal(err)
		}
		got := interpret(t, buf.Bytes())
		layers := sliced(t, m, s.First, s.Layer)
		if len(got.layers) != len(layers) {
			t.Fatalf("%s: %d layers, want %d", name, len(got.layers), len(layers))
		}
		section := math.Pi / 4 * 1.75 * 1.75
		around := got.kinds["skirt"]
		for i, l := range layers {
			want := plane.Step(step).Area(l.Area) * l.Height * 3 / section
			if i == 0 {
				want += around
			}
			if math.Abs(got.layers[i]/want-1) > 0.03 || math.Abs(got.z[i]-l.Z) > 1e-3 {
				t.Errorf("%s, layer %d: %.2f mm at %g, want %.2f at %g", name, i, got.layers[i], got.z[i], want, l.Z)
			}
		}
		if math.Abs(got.first-25) > 1e-6 || fmt.Sprint(got.pauses) != "[6]" {
			t.Errorf("%s: first layer at %g mm/s, stops before %v", name, got.first, got.pauses)
		}
		all := 0.0
		for _, k := range KindNames {
			all += got.kinds[k]
		}
		if math.Abs(all-j.Filament()) > 1e-3*all || got.heads["filament"] != fmt.Sprintf("%.1f mm, %.2f g", j.Filament(), j.Mass()) {
			t.Errorf("%s: %.2f mm pushed in, the job says %.2f, the header %q", name, all, j.Filament(), got.heads["filament"])
		}
		if got.heads["change"] != "layer 6, 1 mm up, Top  wide   red, #aa0000" || got.heads["bed"] != "180 x 180 x 180 mm" {
			t.Errorf("%s: header %v", name, got.heads)
		}
		if min(got.lo[0], got.lo[1]) < 0 || max(got.hi[0], got.hi[1]) > 180 {
			t.Errorf("%s: leaves the bed: %v to %v", name, got.lo, got.hi)
		}
		// Acceleration makes it slower than the speeds alone, by less than ten times.
		if d := j.Time() / got.seconds; d < 1 || d > 10 {
			t.Errorf("%s: %g s, at even speeds %g s", name, j.Time(), got.seconds)
		}
	}
}

// TestMotion compares with times by hand.
func TestMotion(t *testing.T) {
	near := func(what string, got, want float64) {
		t.Helper()
		if math.Abs(got-want) > 1e-9*want {
			t.Errorf("%s: %.12f s, want %.12f", what, got, want)
		}
	}
	var m Motion
	m.Go([2]float64{100, 0}, 50)
	near("a long way", m.Stop(), 100.0/50+50/Accel)
	m.Go([2]float64{100, 0.5}, 1000)
	near("too short for the speed", m.Stop(), 2*math.Sqrt(0.5/Accel))
	straight := func() float64 {
		m.Go([2]float64{0, 0}, 50)
		m.Stop()
		for x := 1.0; x <= 100; x++ {
			m.Go([2]float64{x, 0}, 50)
		}
		return m.Stop()
	}
	near("in pieces", straight(), 100.0/50+50/Accel)
	// A right angle is passed at the speed of its arc.
	m.Go([2]float64{0, 0}, 50)
	m.Stop()
	m.Go([2]float64{60, 0}, 50)
	m.Go([2]float64{60, 60}, 50)
	half := math.Sqrt(0.5)
	v := math.Sqrt(Accel * Swerve * half / (1 - half))
	near("a corner", m.Stop(), 2*(60-(2*50*50-v*v)/2/Accel)/50+2*(2*50-v)/Accel)
	// There and back again it stops.
	m.Go([2]float64{0, 60}, 50)
	m.Go([2]float64{60, 60}, 50)
	near("back", m.Stop(), 2*(60.0/50+50/Accel))
}

// TestCopiesAreLaidOut puts copies on the bed: none overlap, all lie on it with a gap, and too
// many are refused with how many there can be.
func TestCopiesAreLaidOut(t *testing.T) {
	for _, n := range []int{1, 2, 3, 4, 7, 12, 16} {
		s := Usual()
		s.Copies = n
		places, err := Layout(30, 20, &s)
		if err != nil || len(places) != n {
			t.Fatalf("%d copies: %v", n, err)
		}
		for i, a := range places {
			if math.Abs(a[0])+15 > 90-Margin || math.Abs(a[1])+10 > 90-Margin {
				t.Errorf("%d copies: one at %v", n, a)
			}
			for _, b := range places[:i] {
				if math.Abs(a[0]-b[0]) < 35-1e-9 && math.Abs(a[1]-b[1]) < 25-1e-9 {
					t.Errorf("%d copies: %v and %v", n, a, b)
				}
			}
		}
	}
	s := Usual()
	s.Copies = 50
	if _, err := Layout(30, 20, &s); err == nil || !strings.Contains(err.Error(), "24 copies fit") {
		t.Errorf("50 copies: %v", err)
	}
	if _, err := Layout(175, 20, &s); err == nil || !strings.Contains(err.Error(), "beside its skirt") {
		t.Errorf("a wide one: %v", err)
	}
	// A brim lies against the piece, a skirt around it; both in one piece where copies are near.
	for kind, want := range map[string]float64{AsBrim: 0, AroundIt: 5, NoSkirt: -1} {
		s := Usual()
		s.Skirt, s.Copies = kind, 2
		j := jobOf(t, prism(rect(-10, -10, 20, 20), 0, 2, 1), s)
		near := 1e9
		for _, p := range j.Around {
			for _, q := range p.Points {
				dx, dy := math.Abs(float64(q[0]))-10, math.Abs(math.Abs(float64(q[1]))-12.5)-10
				near = min(near, math.Hypot(max(dx, 0), max(dy, 0)))
			}
		}
		if want < 0 && len(j.Around) > 0 || want >= 0 && math.Abs(near-want-s.Bead()/2) > 0.03 {
			t.Errorf("%s: %g mm from the piece", kind, near)
		}
	}
}

// TestSeams begin loops where they are to: at the sharpest corner or at the back.
func TestSeams(t *testing.T) {
	region := regionOf(t, [][2]float64{{-10, -10}, {14, -14}, {10, 10}, {-10, 10}})
	for seam, want := range map[string][2]float64{AtCorner: {13.73, -13.73}, AtBack: {9.7, 9.7}} {
		s := Usual()
		s.Seam = seam
		laid, err := Lay(t.Context(), block(region, 1, 0.2), step, [2]float64{}, &s)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range laid[0].Paths {
			if q := p.Points[0]; p.Kind == Outer && math.Hypot(float64(q[0])-want[0], float64(q[1])-want[1]) > 0.6 {
				t.Errorf("%s: begins at %v", seam, q)
			}
		}
	}
}

// BenchmarkLook examines a solid of 300,000 triangles.
func BenchmarkLook(b *testing.B) {
	m := flower(b, 62_500)
	s := Usual()
	layers := sliced(b, m, s.First, s.Layer)
	for b.Loop() {
		if _, err := Look(b.Context(), m, layers, &s); err != nil {
			b.Fatal(err)
		}
	}
}

// TestAThousandLayers slices and lays a tall solid whose layers all differ, within the memory
// that was promised for it.
func TestAThousandLayers(t *testing.T) {
	debug.FreeOSMemory()
	var most atomic.Uint64
	stop := make(chan struct{})
	var wg sync.WaitGroup
	wg.Go(func() {
		for {
			var now runtime.MemStats
			runtime.ReadMemStats(&now)
			most.Store(max(most.Load(), now.HeapInuse))
			select {
			case <-stop:
				return
			case <-time.After(20 * time.Millisecond):
			}
		}
	})
	s := Usual()
	s.Bed = Beds["256"]
	j := jobOf(t, prism(star(14, 30, 22), 0, 200, 0.5), s)
	if err := j.GCode(io.Discard); err != nil {
		t.Fatal(err)
	}
	close(stop)
	wg.Wait()
	if len(j.Laid) != 1000 || most.Load() > 600<<20 {
		t.Errorf("%d layers in %d MB", len(j.Laid), most.Load()>>20)
	}
	t.Logf("%d MB, %.1f h", most.Load()>>20, j.Time()/3600)
}

// BenchmarkLay lays a solid of 300,000 triangles: layers of 0.2 mm, two perimeters, infill.
func BenchmarkLay(b *testing.B) {
	m := flower(b, 62_500)
	s := Usual()
	for b.Loop() {
		j := jobOf(b, m, s)
		b.ReportMetric(j.Time()/60, "min")
	}
}
