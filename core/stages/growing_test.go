package stages

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// growing is a line for shapes on a page 100 mm wide, of which the first one's figure runs from 0 to 1 over a hundred
// frames; into is the number of the shape that it becomes.
func growing(t *testing.T, inner, what string, into int, change func(r *recipe.Recipe, ids []string)) (*Line, *Regions) {
	t.Helper()
	r := recipe.New()
	r.Parts.By, r.Size.MM, r.Size.Tolerance = recipe.ByShape, 100, 0.002
	none := recipe.Rim{Profile: recipe.Round, Segments: 4}
	r.Parts.Default = recipe.Measures{Depth: 5, Front: none, Back: none}
	r.Sheets.List = []recipe.Sheet{{Slot: 1, File: "f", Name: "a.svg"}}
	l := &Line{Keep: Direct{}, Recipe: &r, Open: svg(inner)}
	made, err := l.Regions(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	var ids []string
	for _, p := range made.Value.Parts {
		ids = append(ids, p.ID)
	}
	track := recipe.Track{Of: ids[0], What: what, Keys: []recipe.Key{{Ease: "even"}, {Frame: 100, Value: 1}}}
	if what == recipe.Becoming {
		track.Into = ids[into]
	}
	r.Scene.Motion = recipe.Motion{Frames: 100, Tracks: []recipe.Track{track}}
	if change != nil {
		change(&r, ids)
		if made, err = l.Regions(t.Context()); err != nil {
			t.Fatal(err)
		}
	}
	return l, made.Value
}

// at raises the first part at a frame, and looks whether it is sound.
func (l *Line) at(t *testing.T, r *Regions, frame float64) *mesh.Mesh {
	t.Helper()
	shown, err := l.Shown(t.Context(), r, frame)
	if err != nil {
		t.Fatalf("frame %g: %v", frame, err)
	}
	m := shown.Bodies[0].Solid.Value.Mesh
	if report := mesh.Check(m, true); !report.Watertight() {
		t.Errorf("frame %g: %+v", frame, report)
	}
	return m
}

// covers reports whether a mesh has a front over a place.
func covers(m *mesh.Mesh, p geom.Vec) bool {
	for k, v := range m.Tris {
		if m.Group[k] != mesh.Front {
			continue
		}
		inside := true
		for i := range 3 {
			a, b := m.Pos(v[i]), m.Pos(v[(i+1)%3])
			ax, ay, bx, by := float64(a[0]), float64(a[1]), float64(b[0]), float64(b[1])
			inside = inside && (bx-ax)*(p.Y-ay)-(by-ay)*(p.X-ax) >= 0
		}
		if inside {
			return true
		}
	}
	return false
}

// area of the front, mm2.
func area(m *mesh.Mesh) (sum float64) {
	for k, v := range m.Tris {
		if m.Group[k] == mesh.Front {
			a, b, c := m.Pos(v[0]), m.Pos(v[1]), m.Pos(v[2])
			sum += (float64(b[0]-a[0])*float64(c[1]-a[1]) - float64(c[0]-a[0])*float64(b[1]-a[1])) / 2
		}
	}
	return sum
}

// nearTo returns the distance of a point from the beginning of a line, so many mm of it.
func nearTo(p geom.Vec, line []geom.Vec, long float64) float64 {
	best := p.Sub(line[0]).Len()
	for i := range len(line) - 1 {
		a, d := line[i], line[i+1].Sub(line[i])
		part := math.Min(1, long/d.Len())
		if part <= 0 {
			break
		}
		s := math.Max(0, math.Min(part, p.Sub(a).Dot(d)/d.Dot(d)))
		best = math.Min(best, p.Sub(a.Add(d.Mul(s))).Len())
		long -= d.Len()
	}
	return best
}

// TestPartsAreWrittenAlongTheirOutlines judges by points: what is there of a frame with a window is within the wall's
// thickness of what is drawn of its outlines, each from where the artwork starts it; then it fills, ever more, up to
// the whole. Every frame is watertight.
func TestPartsAreWrittenAlongTheirOutlines(t *testing.T) {
	l, r := growing(t, `<path fill-rule="evenodd" d="M0 0H100V50H0ZM30 10H70V40H30Z"/>`, recipe.Written, 0, nil)
	outer := []geom.Vec{{X: -50, Y: 25}, {X: -50, Y: -25}, {X: 50, Y: -25}, {X: 50, Y: 25}, {X: -50, Y: 25}}
	hole := []geom.Vec{{X: -20, Y: 15}, {X: 20, Y: 15}, {X: 20, Y: -15}, {X: -20, Y: -15}, {X: -20, Y: 15}}
	const wall = 2 * (100*50 - 40*30) / (300. + 140) / 3
	rnd := rand.New(rand.NewPCG(1, 26))
	for _, frame := range []float64{0.1, 3, 20, 35, 52, 69, 70} {
		m := l.at(t, r, frame)
		share := frame / 70
		judged := 0
		for range 1500 {
			p := geom.Vec{X: 110 * (rnd.Float64() - 0.5), Y: 60 * (rnd.Float64() - 0.5)}
			in := math.Abs(p.X) < 50 && math.Abs(p.Y) < 25 && !(math.Abs(p.X) < 20 && math.Abs(p.Y) < 15)
			d := math.Min(nearTo(p, outer, 300*share), nearTo(p, hole, 140*share))
			if math.Abs(d-wall) < 0.05 || math.Abs(math.Abs(p.X)-50) < 0.01 || math.Abs(math.Abs(p.Y)-25) < 0.01 {
				continue
			}
			judged++
			if want := in && d < wall; covers(m, p) != want {
				t.Fatalf("frame %g: at %v it is %v, %g mm from what is drawn", frame, p, !want, d)
			}
		}
		if judged < 1300 {
			t.Errorf("frame %g: %d points judged", frame, judged)
		}
	}
	last := area(l.at(t, r, 70))
	for frame := 74.0; frame < 100; frame += 5 {
		now := area(l.at(t, r, frame))
		if now <= last {
			t.Errorf("frame %g: %g mm2 after %g", frame, now, last)
		}
		last = now
	}
	if whole := area(l.at(t, r, 100)); math.Abs(whole-3800) > 0.1 || math.Abs(area(l.at(t, r, 99.9))-whole) > 40 {
		t.Errorf("it ends with %g mm2, of %g just before", whole, area(l.at(t, r, 99.9)))
	}
	shown, err := l.Shown(t.Context(), r, 0)
	if err != nil || shown.StillAt(0).Poses[0].Shown {
		t.Errorf("before it begins something is there: %v", err)
	}
}

// TestTubesGrowAlongTheirLines measures a tube that goes right and then up: how far it has come, its round end, and
// that what lies behind stays.
func TestTubesGrowAlongTheirLines(t *testing.T) {
	tube := func(r *recipe.Recipe, ids []string) {
		r.Parts.List = []recipe.Part{{ID: ids[0], Role: recipe.Role{Kind: recipe.AsTube}}}
	}
	l, r := growing(t, `<path fill="none" stroke="#000" stroke-width="10" stroke-linecap="round" d="M5 95H95V5"/>`, recipe.Written, 0, tube)
	for frame, want := range map[float64][2]float64{10: {18, 0}, 50: {90, 0}, 75: {90, 45}, 99: {90, 88.2}, 100: {90, 90}} {
		lo, hi := l.at(t, r, frame).Box()
		if math.Abs(lo[0]+50) > 0.01 || math.Abs(lo[1]+50) > 0.01 || math.Abs(hi[0]-(want[0]-40)) > 0.02 || math.Abs(hi[1]-(want[1]-40)) > 0.02 {
			t.Errorf("frame %g: from %v to %v", frame, lo, hi)
		}
	}
}

// TestPartsBecomeOthers turns a disc into a smaller one elsewhere: in between it is the disc between them; and shapes
// of other kinds, with holes and without, into each other: sound at every frame, the second one at the end, which
// shows itself by nothing else.
func TestPartsBecomeOthers(t *testing.T) {
	l, r := growing(t, `<circle cx="20" cy="20" r="20"/><circle cx="94" cy="60" r="6"/>`, recipe.Becoming, 1, nil)
	for _, frame := range []float64{0, 30, 60, 90, 100} {
		s := frame / 100
		lo, hi := l.at(t, r, frame).Box()
		x, y, rad := 20+74*s-50, 33-(20+40*s), 20-14*s
		for _, d := range []float64{float64(lo[0]) - (x - rad), float64(hi[0]) - (x + rad), float64(lo[1]) - (y - rad), float64(hi[1]) - (y + rad)} {
			if math.Abs(d) > 0.05 {
				t.Errorf("frame %g: from %v to %v, want about %g, %g by %g", frame, lo, hi, x, y, rad)
				break
			}
		}
		if a := area(l.at(t, r, frame)); math.Abs(a/(math.Pi*rad*rad)-1) > 0.004 {
			t.Errorf("frame %g: %g mm2", frame, a)
		}
		shown, _ := l.Shown(t.Context(), r, frame)
		if poses := shown.StillAt(frame).Poses; !poses[0].Shown || poses[1].Shown {
			t.Errorf("frame %g: %v and %v", frame, poses[0].Shown, poses[1].Shown)
		}
	}
	shapes := []string{
		`<path d="M0 0H40V40H0Z"/>`, `<path fill-rule="evenodd" d="M0 0H60V60H0ZM10 10H50V50H10Z"/>`, `<circle cx="20" cy="20" r="19"/>`,
		`<path d="M20 0L26 14L40 15L29 24L33 40L20 31L7 40L11 24L0 15L14 14Z"/>`, `<path d="M0 0H10V10H0ZM30 0H40V10H30Z"/>`,
		`<path fill-rule="evenodd" d="M0 0H50V50H0ZM5 5H20V20H5ZM30 30H45V45H30Z"/>`,
	}
	for i, a := range shapes {
		for j, b := range shapes {
			if i == j {
				continue
			}
			text := fmt.Sprintf(`%s<g transform="translate(60 8)">%s</g>`, a, b)
			l, r := growing(t, text, recipe.Becoming, 1, nil)
			for _, frame := range []float64{1, 25, 50, 80, 99} {
				l.at(t, r, frame)
			}
			want := area(raisedBy(t, l, r, 1))
			if got := area(l.at(t, r, 100)); math.Abs(got-want) > 1e-3*want {
				t.Errorf("%d into %d: it ends with %g mm2, not %g", i, j, got, want)
			}
		}
	}
}

// raisedBy raises a part at rest.
func raisedBy(t *testing.T, l *Line, r *Regions, n int) *mesh.Mesh {
	t.Helper()
	list, err := l.bodies(t.Context(), r)
	if err != nil {
		t.Fatal(err)
	}
	return list[n].Solid.Value.Mesh
}

// TestDetailsGrowWithTheirHost writes a plate that has a recess: the recess is there as far as the plate is, and masks
// keep their numbers.
func TestDetailsGrowWithTheirHost(t *testing.T) {
	recess := func(r *recipe.Recipe, ids []string) {
		how := r.Parts.Default
		how.Depth = 2
		r.Parts.List = []recipe.Part{{ID: ids[1], How: &how, Role: recipe.Role{Kind: recipe.Recess, On: ids[0]}}}
	}
	l, r := growing(t, `<rect width="100" height="60"/><rect x="2" y="20" width="90" height="20" fill="#f00"/>`, recipe.Written, 0, recess)
	rest, err := l.Shown(t.Context(), r, 100)
	if err != nil {
		t.Fatal(err)
	}
	for _, frame := range []float64{1, 12, 40, 69, 85, 99} {
		m := l.at(t, r, frame)
		shown, err := l.Shown(t.Context(), r, frame)
		if err != nil {
			t.Fatal(err)
		}
		if got, want := strings.Join(shown.MasksOf(), " "), strings.Join(rest.MasksOf(), " "); got != want {
			t.Errorf("frame %g: masks %s, want %s", frame, got, want)
		}
		inPlate, inRecess := covers(m, geom.Vec{X: -49, Y: 29}), false
		for k, v := range m.Tris {
			if p := m.Pos(v[0]); m.Group[k] == mesh.Front && math.Abs(float64(p[2])-3) < 1e-3 {
				inRecess = true
			}
		}
		if !inPlate || inRecess != (frame > 1) {
			t.Errorf("frame %g: a plate %v, a recess in it %v", frame, inPlate, inRecess)
		}
	}
}

// TestManyOutlinesFindTheirOwn matches 1,500 dots with the same ones moved a little, more than are compared pair by pair:
// each finds its own.
func TestManyOutlinesFindTheirOwn(t *testing.T) {
	dots := func(dx int32) (out []plane.Loop) {
		for i := range int32(1500) {
			x, y := 1000*(i%50)+dx, 1000*(i/50)
			out = append(out, plane.Loop{{X: x, Y: y}, {X: x + 100, Y: y}, {X: x, Y: y + 100}})
		}
		return out
	}
	pairs := matched(dots(0), dots(30), func(l plane.Loop) plane.Loop { return l })
	for _, p := range pairs {
		if len(p[0]) == 0 || len(p[1]) == 0 || p[1][0].X-p[0][0].X != 30 || p[1][0].Y != p[0][0].Y {
			t.Fatalf("%v goes to %v", p[0], p[1])
		}
	}
	if len(pairs) != 1500 {
		t.Errorf("%d pairs", len(pairs))
	}
}
