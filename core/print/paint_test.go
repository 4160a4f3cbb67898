package print

import (
	"bufio"
	"bytes"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/plane"
	"bildhauer/core/raise"
	"bildhauer/core/read/font"
)

// pixel is how finely what is laid is painted, mm: a ninth of a line.
const pixel = 0.05

// exact is how far what a print file says may be off, mm: it has five places after the point for filament.
const exact = 0.002

// painted is what one layer of a print file has laid, place by place, against the section of the solid: shares of the
// section's area.
type painted struct {
	area                 float64 // of the section, mm2
	bare, twice, outside float64
	dots, pulls          int
	travel, laid         float64 // mm
	crossing             int     // ways through the air that leave the section without a retraction
	height               float64
	maps                 *sheet
}

// sheet is a raster of a layer.
type sheet struct {
	lo   [2]float64
	w, h int
	in   []bool
	on   []uint8   // how often a place was laid over
	last []float64 // how far along everything laid it was laid last, mm
}

func newSheet(area plane.Region, step float64, off [2]float64) *sheet {
	lo, hi, _ := area.Bounds()
	s := &sheet{}
	for k, v := range [2][2]int32{{lo.X, hi.X}, {lo.Y, hi.Y}} {
		s.lo[k] = float64(v[0])*step + off[k] - 1
		n := int((float64(v[1]-v[0])*step + 2) / pixel)
		if k == 0 {
			s.w = n
		} else {
			s.h = n
		}
	}
	s.in, s.on, s.last = make([]bool, s.w*s.h), make([]uint8, s.w*s.h), make([]float64, s.w*s.h)
	// Even-odd, row by row.
	rows := make([][]float64, s.h)
	area.Loops(func(l plane.Loop) {
		for i, p := range l {
			q := l[(i+1)%len(l)]
			px, py := float64(p.X)*step+off[0], float64(p.Y)*step+off[1]
			qx, qy := float64(q.X)*step+off[0], float64(q.Y)*step+off[1]
			for y := range s.h {
				at := s.lo[1] + (float64(y)+0.5)*pixel
				if (py <= at) != (qy <= at) {
					rows[y] = append(rows[y], px+(qx-px)*(at-py)/(qy-py))
				}
			}
		}
	})
	for y, list := range rows {
		for x := range s.w {
			at := s.lo[0] + (float64(x)+0.5)*pixel
			n := 0
			for _, c := range list {
				if c < at {
					n++
				}
			}
			s.in[y*s.w+x] = n%2 == 1
		}
	}
	return s
}

// lay paints a stretch with round ends. Places that were laid within near of it are part of the same pass.
func (s *sheet) lay(a, b [2]float64, wide, along float64) {
	if long := math.Hypot(b[0]-a[0], b[1]-a[1]); long > 2 { // what lies around it is little
		m := [2]float64{(a[0] + b[0]) / 2, (a[1] + b[1]) / 2}
		s.lay(a, m, wide, along)
		s.lay(m, b, wide, along+long/2)
		return
	}
	r := wide / 2
	dx, dy := b[0]-a[0], b[1]-a[1]
	long2 := dx*dx + dy*dy
	x0, x1 := int((math.Min(a[0], b[0])-r-s.lo[0])/pixel), int((math.Max(a[0], b[0])+r-s.lo[0])/pixel)
	y0, y1 := int((math.Min(a[1], b[1])-r-s.lo[1])/pixel), int((math.Max(a[1], b[1])+r-s.lo[1])/pixel)
	for y := max(0, y0); y <= min(s.h-1, y1); y++ {
		for x := max(0, x0); x <= min(s.w-1, x1); x++ {
			px, py := s.lo[0]+(float64(x)+0.5)*pixel-a[0], s.lo[1]+(float64(y)+0.5)*pixel-a[1]
			f := 0.0
			if long2 > 0 {
				f = math.Max(0, math.Min(1, (px*dx+py*dy)/long2))
			}
			off := math.Hypot(px-f*dx, py-f*dy)
			if off > r+exact {
				continue
			}
			k := y*s.w + x
			at := along + f*math.Sqrt(long2)
			if s.on[k] == 0 || at-s.last[k] > 2*wide && off < r-exact {
				s.on[k]++
			}
			s.last[k] = at
		}
	}
}

// paint reads a print file as a nozzle would lay it and compares each layer with its section. Widths are those that the
// filament which is pushed in has at the height of the layer.
func paint(t testing.TB, code []byte, layers []Layer, step float64, middle, bed [2]float64) []painted {
	t.Helper()
	out := make([]painted, len(layers))
	off := [2]float64{bed[0]/2 - middle[0], bed[1]/2 - middle[1]}
	at := [3]float64{}
	n, along, run, wide := -1, 0.0, 0.0, 0.0
	kind, pulled := "", false
	section := math.Pi / 4 * 1.75 * 1.75
	end := func() {
		if n >= 0 && run > 0 && run < 0.3 {
			out[n].dots++
		}
		run = 0
	}
	lines := bufio.NewScanner(bytes.NewReader(code))
	for lines.Scan() {
		line, note, _ := strings.Cut(lines.Text(), ";")
		if note = strings.TrimSpace(note); strings.HasPrefix(note, "layer ") {
			end()
			if n++; n < len(layers) {
				out[n].maps = newSheet(layers[n].Area, step, off)
				out[n].height = layers[n].Height
			}
		}
		if k, ok := strings.CutPrefix(note, "kind: "); ok {
			kind = k
		}
		words := strings.Fields(line)
		if len(words) == 0 || words[0] != "G0" && words[0] != "G1" {
			continue
		}
		to, e := at, 0.0
		for _, w := range words[1:] {
			v, _ := strconv.ParseFloat(w[1:], 64)
			switch w[0] {
			case 'X', 'Y', 'Z':
				to[w[0]-'X'] = v
			case 'E':
				e = v
			}
		}
		long := math.Hypot(to[0]-at[0], to[1]-at[1])
		switch {
		case n < 0 || kind == "skirt" || kind == "brim":
		case long == 0 && e < 0:
			end()
			out[n].pulls++
			pulled = true
		case long == 0 && e > 0:
			pulled = false
		case long > 0 && e == 0:
			end()
			out[n].travel += long
			if !pulled && out[n].laid > 0 && out[n].maps.leaves(at, to) {
				out[n].crossing++
			}
		case long > 0:
			wide = e * section / out[n].height / long
			out[n].maps.lay([2]float64{at[0], at[1]}, [2]float64{to[0], to[1]}, wide, along)
			along += long
			run += long
			out[n].laid += long
		}
		if long > 0 && e == 0 {
			along += 100 // another pass
		}
		at = to
	}
	for i := range out {
		out[i].judge()
	}
	return out
}

// leaves reports whether a way leaves the section by more than what is laid could hide.
func (s *sheet) leaves(a, b [3]float64) bool {
	long := math.Hypot(b[0]-a[0], b[1]-a[1])
	out := 0.0
	for d := 0.0; d < long; d += pixel {
		x := int((a[0] + (b[0]-a[0])*d/long - s.lo[0]) / pixel)
		y := int((a[1] + (b[1]-a[1])*d/long - s.lo[1]) / pixel)
		if x < 0 || y < 0 || x >= s.w || y >= s.h || !s.in[y*s.w+x] && !s.beside(y*s.w+x) {
			out += pixel
		}
	}
	return out > 0.2
}

// beside reports whether a place touches the section: its middle lies outside by less than a place is wide.
func (s *sheet) beside(k int) bool {
	for _, d := range [8]int{-1, 1, -s.w, s.w, -s.w - 1, -s.w + 1, s.w - 1, s.w + 1} {
		if n := k + d; n >= 0 && n < len(s.in) && s.in[n] {
			return true
		}
	}
	return false
}

func (p *painted) judge() {
	if p.maps == nil {
		return
	}
	in, bare, twice, outside := 0.0, 0.0, 0.0, 0.0
	for k, on := range p.maps.on {
		if p.maps.in[k] {
			in++
			if on == 0 {
				bare++
			}
		} else if on > 0 && !p.maps.beside(k) {
			outside++
		}
		if on > 1 {
			twice++
		}
	}
	p.area = in * pixel * pixel
	if in > 0 {
		p.bare, p.twice, p.outside = bare/in, twice/in, outside/in
	}
}

func (p *painted) String() string {
	return fmt.Sprintf("%.2f%% bare, %.2f%% twice, %.2f%% outside, %d dots, %d retractions on %.2f cm2, %d ways out, travel %.0f of %.0f mm",
		100*p.bare, 100*p.twice, 100*p.outside, p.dots, p.pulls, p.area/100, p.crossing, p.travel, p.laid)
}

// laidOut slices a solid, lays it and paints its print file.
func laidOut(t testing.TB, m *mesh.Mesh, s Setup) []painted {
	t.Helper()
	j := jobOf(t, m, s)
	var buf bytes.Buffer
	if err := j.GCode(&buf); err != nil {
		t.Fatal(err)
	}
	lo, hi := m.Box()
	middle := [2]float64{(lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2}
	return paint(t, buf.Bytes(), sliced(t, m, s.First, s.Layer), m.Step, middle, [2]float64{s.Bed[0], s.Bed[1]})
}

// worst is the worst of each measure over solid layers.
func worst(list []painted) (w painted) {
	for _, p := range list {
		w.bare, w.twice, w.outside = math.Max(w.bare, p.bare), math.Max(w.twice, p.twice), math.Max(w.outside, p.outside)
		w.dots, w.pulls, w.crossing = max(w.dots, p.dots), max(w.pulls, p.pulls), max(w.crossing, p.crossing)
		w.area, w.travel, w.laid = math.Max(w.area, p.area), math.Max(w.travel, p.travel), math.Max(w.laid, p.laid)
	}
	return w
}

// fulfils reports what is wrong with a layer that is to be full. Each of its islands may need a retraction to get there,
// others only one in more than three square centimetres. Where strokes are thinner than what a nozzle lays well, fine, more of
// them is bare or laid twice.
func (p *painted) fulfils(islands int, fine bool) error {
	bare, twice := 0.015, 0.03
	if fine {
		bare, twice = 0.06, 0.05
	}
	if p.bare > bare || p.twice > twice || p.outside > 0.005 || p.dots > 0 && !fine || p.crossing > 0 ||
		float64(p.pulls-islands) > 0.3*p.area/100 && !fine {
		return fmt.Errorf("%v", p)
	}
	return nil
}

// TestWallsOfAnyWidth lays bars from 0.3 to 4 mm wide, straight and slanted.
func TestWallsOfAnyWidth(t *testing.T) {
	bar := func(w, turn float64) [][2]float64 {
		sin, cos := math.Sincos(turn)
		out := rect(-15, -w/2, 30, w)
		for i, p := range out {
			out[i] = [2]float64{p[0]*cos - p[1]*sin, p[0]*sin + p[1]*cos}
		}
		return out
	}
	for w := 0.3; w < 4.05; w += 0.1 {
		for _, turn := range []float64{0, 0.3} {
			s := Usual()
			s.Skirt = NoSkirt
			p := worst(laidOut(t, prism(bar(w, turn), 0, 0.6, 1), s))
			if err := p.fulfils(1, false); err != nil {
				t.Errorf("%.1f mm, turned by %g: %v", w, turn, err)
			}
		}
	}
}

// lettering is a line of text of a shipped font, its letters so high (mm).
func lettering(t testing.TB, family, text string, high float64) plane.Region {
	t.Helper()
	found := (&font.Library{}).Find(font.Want{Families: []string{family}, Weight: 600})
	outlines, _, missing := found.Face.SetLine(text)
	if missing != 0 {
		t.Fatalf("%s lacks %q", family, missing)
	}
	var list [][][2]float64
	scale := high / 0.7
	for _, c := range outlines {
		var l [][2]float64
		for _, v := range c.Flatten(0.01/scale, nil) {
			l = append(l, [2]float64{v.X * scale, v.Y * scale})
		}
		list = append(list, l)
	}
	return regionFilled(t, plane.NonZero, list...)
}

// forms are outlines that strain lines: strokes that taper, meet, turn and end, and what nobody thought of.
func forms(t testing.TB) map[string]plane.Region {
	out := map[string]plane.Region{}
	for w := 0.3; w < 4.05; w += 0.3 {
		out[fmt.Sprintf("a ring of %.1f mm", w)] = regionOf(t, circle(8, 200), circle(8-w, 200))
	}
	for _, angle := range []float64{8, 15, 30, 45, 60, 90} {
		half := 12 * math.Tan(angle*math.Pi/360)
		out[fmt.Sprintf("a wedge of %g degrees", angle)] = regionOf(t, [][2]float64{{0, 0}, {12, -half}, {12, half}})
	}
	out["a taper"] = regionOf(t, [][2]float64{{-20, -1}, {20, -0.15}, {20, 0.15}, {-20, 1}})
	out["a long taper"] = regionOf(t, [][2]float64{{-40, -2}, {40, -0.15}, {40, 0.15}, {-40, 2}})
	for _, w := range []float64{0.5, 0.8, 1.1, 1.6, 2.3, 3} {
		cross := regionFilled(t, plane.NonZero, rect(-10, -w/2, 20, w), rect(-w/2, -10, w, 20))
		out[fmt.Sprintf("a cross of %g mm", w)] = cross
		out[fmt.Sprintf("a fork of %g mm", w)] = regionFilled(t, plane.NonZero, rect(-10, -w/2, 20, w), rect(-w/2, -10, w, 10))
		out[fmt.Sprintf("an angle of %g mm", w)] = regionFilled(t, plane.NonZero, rect(-10, -w/2, 10+w/2, w), rect(-w/2, -10, w, 10))
	}
	for _, n := range []int{5, 9, 24} {
		out[fmt.Sprintf("a star of %d points", n)] = regionOf(t, star(n, 12, 6))
		out[fmt.Sprintf("a sharp star of %d points", n)] = regionOf(t, star(n, 14, 3))
	}
	out["an S"] = regionOf(t, letterS())
	out["a block"] = regionOf(t, rect(-20, -10, 40, 20))
	out["a bar"] = regionOf(t, rect(-10, -2, 20, 4))
	out["a wider bar"] = regionOf(t, rect(-10, -2.5, 20, 5))
	out["a disc"] = regionOf(t, circle(12, 240))
	out["a plate with holes"] = regionOf(t, rect(-15, -15, 30, 30), circle(3, 60), rect(6, 6, 5, 5), rect(-12, -12, 20, 1))
	for _, family := range []string{"DejaVu Sans", "DejaVu Serif", "Pacifico"} {
		out[family+", 24 mm"] = lettering(t, family, "Hafen&Co 8R", 24)
	}
	for _, family := range font.Shipped() {
		for _, high := range []float64{5, 10} {
			out[fmt.Sprintf("%s, %g mm", family, high)] = lettering(t, family, "Hafen&Co 8R", high)
		}
	}
	return out
}

// thinStrokes are forms with strokes that a nozzle lays badly or not at all.
var thinStrokes = []string{", 5 mm", "Chorus", "sharp star", "star of 24", "of 8 degrees"}

// TestFormsAreLaidOnce lays forms and paints them.
func TestFormsAreLaidOnce(t *testing.T) {
	list := forms(t)
	names := slices.Sorted(maps.Keys(list))
	errs := make([]error, len(names))
	parallel.Each(len(names), func(i int) error {
		s := Usual()
		s.Skirt = NoSkirt
		s.Bed = [3]float64{400, 400, 200}
		region := list[names[i]]
		fine := slices.ContainsFunc(thinStrokes, func(n string) bool { return strings.Contains(names[i], n) })
		p := worst(laidOut(t, solidOf(t, region, raise.Form{Depth: 0.6}), s))
		errs[i] = p.fulfils(len(region), fine)
		return nil
	})
	for i, err := range errs {
		if err != nil {
			t.Errorf("%s: %v", names[i], err)
		}
	}
}
