package printer

import (
	"bytes"
	"math"
	"testing"

	"bildhauer/core/plane"
	"bildhauer/core/print"
)

// layered is layers of one area, mm.
func layered(t *testing.T, n int, loops ...[][2]float64) []print.Layer {
	var list []plane.Loop
	for _, o := range loops {
		var l plane.Loop
		for _, p := range o {
			l = append(l, plane.Point{X: int32(math.Round(p[0] / step)), Y: int32(math.Round(p[1] / step))})
		}
		list = append(list, l)
	}
	r, err := plane.Fill(list, plane.EvenOdd)
	if err != nil {
		t.Fatal(err)
	}
	out := make([]print.Layer, n)
	for i := range out {
		out[i] = print.Layer{Z: 0.2 * float64(i+1), Height: 0.2, Area: r}
	}
	return out
}

const step = 1.0 / (1 << 16)

func circle(x, y, r float64, n int) (out [][2]float64) {
	for i := range n {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		out = append(out, [2]float64{x + r*cos, y + r*sin})
	}
	return out
}

func square(x, y, w, h float64) [][2]float64 {
	return [][2]float64{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}
}

// TestJobsTakeAsLongAsTheySay prints files of many kinds: layer by layer and as a whole, with heating, the printer takes as
// long as the job said, within one in a hundred.
func TestJobsTakeAsLongAsTheySay(t *testing.T) {
	var many [][][2]float64
	for i := range 40 {
		many = append(many, circle(float64(i%8)*9-32, float64(i/8)*9-18, 3, 40))
	}
	for name, loops := range map[string][][][2]float64{
		"a block": {square(-20, -20, 40, 40)}, "a wall": {square(-20, -0.3, 40, 0.6)}, "a ring": {circle(0, 0, 20, 200), circle(0, 0, 18.8, 200)},
		"a small block": {square(-3, -3, 6, 6)}, "islands": many, "a plate with holes": append(many[:12:12], square(-45, -30, 90, 60)),
	} {
		for k, s := range []print.Setup{print.Usual(), print.Usual(), print.Usual()} {
			var changes []print.Change
			switch k {
			case 1:
				s.Copies, s.Skirt, s.Infill = 2, print.AsBrim, print.Grid
				s.Bed = print.Beds["256"]
			case 2:
				s.Skirt, s.Perimeters, s.Material = print.NoSkirt, 3, print.Materials["ABS"]
				changes = []print.Change{{Layer: 1, Name: "A", Color: "#111111"}, {Layer: 6, Z: 1, Name: "B", Color: "#222222"}}
			}
			layers := layered(t, 12, loops...)
			lo, hi, _ := layers[0].Area.Bounds()
			box := [2][3]float64{{float64(lo.X) * step, float64(lo.Y) * step, 0}, {float64(hi.X) * step, float64(hi.Y) * step, 2.4}}
			laid, err := print.Lay(t.Context(), layers, step, [2]float64{(box[0][0] + box[1][0]) / 2, (box[0][1] + box[1][1]) / 2}, &s)
			if err != nil {
				t.Fatal(err)
			}
			j, err := print.NewJob(name, layers, laid, step, box[0], box[1], changes, s)
			if err != nil {
				t.Fatal(err)
			}
			var code bytes.Buffer
			if err := j.GCode(&code); err != nil {
				t.Fatal(err)
			}
			d, c := started(t)
			d.status.Bed = s.Bed
			if status, _, said := c.ask("PUT", "/jobs/a", code.String()); status != 201 {
				t.Fatalf("%s: %s", name, said)
			}
			if said, is := j.Time(), d.Status().Job.Left; math.Abs(said/is-1) > 0.005 {
				t.Errorf("%s, %d: %.1f s said, the printer takes %.1f", name, k, said, is)
			}
			p, err := parse(&code)
			if err != nil {
				t.Fatal(err)
			}
			for i, is := range p.layers {
				if said := j.Times()[i]; math.Abs(said-is) > 0.01*is+0.05 {
					t.Errorf("%s, %d: layer %d is to take %.2f s, the printer takes %.2f", name, k, i+1, said, is)
				}
			}
		}
	}
}
