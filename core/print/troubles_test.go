package print

import (
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/terms"
)

// raised is a solid over outlines (even-odd), raised by the program itself.
func raised(t testing.TB, depth float64, front raise.Bevel, outlines ...[][2]float64) *mesh.Mesh {
	t.Helper()
	return solidOf(t, regionOf(t, outlines...), raise.Form{Depth: depth, Front: front})
}

func lifted(m *mesh.Mesh, z float64) *mesh.Mesh {
	for i := range m.Verts {
		m.Verts[i][2] += grid(z)
	}
	return m
}

func turned(outline [][2]float64, degrees, x, y float64) (out [][2]float64) {
	s, c := math.Sincos(degrees * math.Pi / 180)
	for _, p := range outline {
		out = append(out, [2]float64{p[0]*c - p[1]*s + x, p[0]*s + p[1]*c + y})
	}
	return out
}

// wedge is a point of an angle and a length.
func wedge(degrees, long float64) [][2]float64 {
	half := long * math.Tan(degrees*math.Pi/360)
	return [][2]float64{{long, 0}, {0, half}, {-6, half}, {-6, -half}, {0, -half}}
}

// troubles are prepared ones, by kind: each makes one of a measure (mm, or as the kind has it)
// and turned by an angle.
var troubles = map[string]struct {
	least, most float64
	make        func(t testing.TB, measure, turn float64) *mesh.Mesh
}{
	Wall: {0.12, 0.38, func(t testing.TB, wide, turn float64) *mesh.Mesh {
		w := wide / 2
		return raised(t, 4, raise.Bevel{}, turned([][2]float64{{-15, -15}, {15, -15}, {15, -5}, {w, -5}, {w, 9}, {-w, 9}, {-w, -5}, {-15, -5}}, turn, 0, 0))
	}},
	"a thin ring": {0.12, 0.38, func(t testing.TB, wide, turn float64) *mesh.Mesh {
		return raised(t, 2, raise.Bevel{}, circle(12, 300), circle(12-wide, 300))
	}},
	"thin lettering on a plate": {0.15, 0.36, func(t testing.TB, wide, turn float64) *mesh.Mesh {
		plate := raised(t, 2, raise.Bevel{}, rect(-20, -20, 40, 40))
		return joined(plate, lifted(raised(t, 0.6, raise.Bevel{}, turned(rect(-8, -wide/2, 16, wide), turn, 0, 0)), 2))
	}},
	Gap: {0.12, 0.38, func(t testing.TB, wide, turn float64) *mesh.Mesh {
		return raised(t, 3, raise.Bevel{}, turned(rect(-15, wide/2, 30, 8), turn, 0, 0), turned(rect(-15, -8-wide/2, 30, 8), turn, 0, 0))
	}},
	"a slot": {0.12, 0.38, func(t testing.TB, wide, turn float64) *mesh.Mesh {
		return raised(t, 3, raise.Bevel{}, circle(14, 120), turned(rect(-8, -wide/2, 16, wide), turn, 0, 0))
	}},
	Hole: {0.2, 0.75, func(t testing.TB, wide, turn float64) *mesh.Mesh {
		return raised(t, 3, raise.Bevel{}, turned(rect(-10, -10, 20, 20), turn, 0, 0), circle(wide/2, 60))
	}},
	Curls: {8, 28, func(t testing.TB, degrees, turn float64) *mesh.Mesh {
		return raised(t, 3, raise.Bevel{}, turned(wedge(degrees, 3/math.Tan(degrees*math.Pi/360)), turn, 0, 0))
	}},
	Hangs: {20, 300, func(t testing.TB, area, turn float64) *mesh.Mesh {
		side := area / 20
		return joined(raised(t, 3, raise.Bevel{}, rect(0, 0, 30, 20)), lifted(raised(t, 2, raise.Bevel{}, rect(-side, 0, 30+side, 20)), 3))
	}},
	"a wide bridge": {150, 300, func(t testing.TB, area, turn float64) *mesh.Mesh {
		wide := area / 20
		return joined(raised(t, 2, raise.Bevel{}, rect(-10-wide/2, -10, 10, 20), rect(wide/2, -10, 10, 20)),
			lifted(raised(t, 2, raise.Bevel{}, rect(-10-wide/2, -10, 20+wide, 20)), 2))
	}},
	Island: {4, 100, func(t testing.TB, area, turn float64) *mesh.Mesh {
		side := math.Sqrt(area)
		return joined(raised(t, 3, raise.Bevel{}, rect(0, 0, 30, 20)), lifted(raised(t, 2, raise.Bevel{}, rect(40, 0, side, side)), 2))
	}},
	Loose: {2, 14, func(t testing.TB, area, turn float64) *mesh.Mesh {
		side := math.Sqrt(area)
		return raised(t, 2.1*area, raise.Bevel{}, turned(rect(-side/2, -side/2, side, side), turn, 0, 0))
	}},
	Tips: {1, 9, func(t testing.TB, out, turn float64) *mesh.Mesh {
		foot := 6.0
		long := 2*out + 3*foot // the middle of its mass at (foot*10*foot/2 + long*10*(long/2)) / ...
		return tipping(t, out, foot, long)
	}},
	TooLarge: {190, 400, func(t testing.TB, side, turn float64) *mesh.Mesh {
		return raised(t, 5, raise.Bevel{}, rect(-side/2, -10, side, 20))
	}},
}

// tipping is a foot with a beam on it whose middle lies so far outside the foot that all of it
// has its middle out beyond the edge.
func tipping(t testing.TB, out, foot, long float64) *mesh.Mesh {
	// Masses foot x 2 and long x 1 high: (foot*2*foot/2 + long*1*x) / (foot*2+long) = foot + out.
	x := ((foot+out)*(foot*2+long) - foot*foot) / long
	return joined(raised(t, 2, raise.Bevel{}, rect(0, 0, foot, 20)), lifted(raised(t, 1, raise.Bevel{}, rect(x-long/2, 0, long, 20)), 2))
}

// TestPreparedTroublesAreFound makes some dozens of troubles of random measure and lying: each
// is found, by its measure within 2%, at a place where it is, and where Mend can mend it that
// is said.
func TestPreparedTroublesAreFound(t *testing.T) {
	rnd := rand.New(rand.NewPCG(7, 7))
	count := 0
	for _, name := range slices.Sorted(maps.Keys(troubles)) {
		c := troubles[name]
		kind := map[string]string{"a thin ring": Wall, "thin lettering on a plate": Wall, "a slot": Gap, "a wide bridge": Hangs}[name]
		if kind == "" {
			kind = name
		}
		for range 6 {
			count++
			measure := c.least + (c.most-c.least)*rnd.Float64()
			m := c.make(t, measure, 360*rnd.Float64())
			s := Usual()
			s.Skirt = NoSkirt
			layers := sliced(t, m, s.First, s.Layer)
			r, err := Look(t.Context(), m, layers, &s)
			if err != nil {
				t.Fatal(err)
			}
			var found *Finding
			for i, f := range r.Findings {
				if f.Kind == kind && found == nil {
					found = &r.Findings[i]
				}
				if f.Text == "" || f.Way == "" || f.Layer < 0 || f.Layer > len(layers) {
					t.Errorf("%s of %.3f: %+v", name, measure, f)
				}
			}
			if found == nil {
				t.Errorf("%s of %.3f is not found: %+v", name, measure, r.Findings)
				continue
			}
			if math.Abs(found.Measure/measure-1) > 0.02 {
				t.Errorf("%s of %.4f is measured as %.4f at %.3f", name, measure, found.Measure, found.At)
			}
			if mends := kind == Wall || kind == Gap || kind == Hole || kind == Curls; mends != (found.Mend != "") {
				t.Errorf("%s: Mend calls it %q", name, found.Mend)
			}
			inside := layers[max(0, found.Layer-1)].Area.Contains(plane.Point{X: grid(found.At[0]), Y: grid(found.At[1])})
			if (kind == Wall || kind == Island) && !inside || (kind == Gap || kind == Hole) && inside {
				t.Errorf("%s of %.3f: marked at %v", name, measure, found.At)
			}
		}
	}
	if count < 60 {
		t.Errorf("only %d troubles", count)
	}
}

// TestCleanFormsTroubleNobody looks at forms that print well: bevels that run out in ridges,
// strokes and gaps a little wider than the nozzle, blunt points, pillars, cones.
func TestCleanFormsTroubleNobody(t *testing.T) {
	round := raise.Bevel{Profile: raise.Round, Width: 1, Height: 1, Segments: 8}
	chamfer := raise.Bevel{Profile: raise.Chamfer, Width: 0.8, Height: 0.8, Segments: 1}
	for name, m := range map[string]*mesh.Mesh{
		"strokes of 0.5 mm":          raised(t, 1, raise.Bevel{}, rect(-10, 0, 20, 0.5), rect(-10, 5, 20, 0.5)),
		"a stroke that is all ridge": raised(t, 3, round, rect(-10, 0, 20, 1.5)),
		"a chamfered star":           raised(t, 3, chamfer, star(8, 20, 12)),
		"a cone":                     prism(circle(12, 90), 0, 10, 0.02),
		"a gap of 0.5 mm":            raised(t, 3, raise.Bevel{}, rect(-15, 0.25, 30, 8), rect(-15, -8.25, 30, 8)),
		"a hole of 1 mm":             raised(t, 3, raise.Bevel{}, rect(-10, -10, 20, 20), circle(0.5, 60)),
		"a point of 36 degrees":      raised(t, 3, raise.Bevel{}, wedge(36, 8)),
		"a letter":                   raised(t, 3, round, letterS()),
		"a flower":                   flower(t, 400),
		"a thin plate":               raised(t, 0.4, raise.Bevel{}, rect(-30, -20, 60, 40)),
		"a ring":                     raised(t, 2, raise.Bevel{}, circle(10, 120), circle(8, 120)),
		"a bridge of 4 mm": joined(raised(t, 2, raise.Bevel{}, rect(-10, -10, 8, 20), rect(2, -10, 8, 20)),
			lifted(raised(t, 2, raise.Bevel{}, rect(-10, -10, 20, 20)), 2)),
		"steps":                       joined(raised(t, 2, raise.Bevel{}, rect(-20, -20, 40, 40)), lifted(raised(t, 2, chamfer, star(5, 15, 9)), 2)),
		"a groove that gets narrower": raised(t, 3, round, rect(-15, -15, 30, 30), rect(-10, -0.3, 20, 0.6)),
	} {
		s := Usual()
		layers := sliced(t, m, s.First, s.Layer)
		r, err := Look(t.Context(), m, layers, &s)
		if err != nil {
			t.Fatal(err)
		}
		var said []string
		for _, f := range r.Findings {
			said = append(said, fmt.Sprintf("%s in layer %d at %.2f", f.Text, f.Layer, f.At))
		}
		if len(said) > 0 {
			t.Errorf("%s: %s", name, strings.Join(said, " "))
		}
	}
}

// TestOneCauseIsOneFinding puts a comb beside a bar, so near to it that each of its teeth leaves a gap of a hundredth of a
// millimetre, and two such pairs far from each other: one finding a pair, with the number of its places.
func TestOneCauseIsOneFinding(t *testing.T) {
	pair := func(x, gap float64) [][][2]float64 {
		comb := [][2]float64{{x - 6, 30}, {x - 6, -30}}
		for y := -30.0; y < 30; y += 4 {
			comb = append(comb, [2]float64{x - gap, y}, [2]float64{x - gap, y + 2}, [2]float64{x - 3, y + 2}, [2]float64{x - 3, y + 4})
		}
		return [][][2]float64{rect(x, -30, 5, 60), comb}
	}
	for name, c := range map[string]struct {
		outlines [][][2]float64
		want     int
	}{
		"a pair":             {pair(0, 0.013), 1},
		"two pairs":          {append(pair(0, 0.013), pair(40, 0.013)...), 2},
		"of different width": {append(pair(0, 0.013), pair(14, 0.2)...), 2},
	} {
		s := Usual()
		m := raised(t, 2, raise.Bevel{}, c.outlines...)
		layers := sliced(t, m, s.First, s.Layer)
		r, err := Look(t.Context(), m, layers, &s)
		if err != nil {
			t.Fatal(err)
		}
		gaps := 0
		for _, f := range r.Findings {
			if f.Kind == Gap {
				gaps++
				if !strings.Contains(f.Text, " in 15 places.") {
					t.Errorf("%s: %s", name, f.Text)
				}
			}
		}
		if gaps != c.want {
			t.Errorf("%s: %d findings of gaps, want %d", name, gaps, c.want)
		}
	}
}

// TestKindsHaveWords compares the kinds of finding with the table of their words and units.
func TestKindsHaveWords(t *testing.T) {
	if names := terms.Names("trouble"); !slices.Equal(names, Kinds) {
		t.Errorf("the table has %q, there are %q", names, Kinds)
	}
	for _, o := range terms.Pick("trouble").Options {
		if o.Label == "" || o.Unit == "" {
			t.Errorf("%s: label %q, unit %q", o.Name, o.Label, o.Unit)
		}
	}
}
