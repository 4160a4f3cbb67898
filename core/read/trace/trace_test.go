package trace

import (
	"context"
	"image"
	"image/color"
	"image/draw"
	"math"
	"testing"
	"time"

	"golang.org/x/image/vector"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
)

// outline is a form that tests draw: places in px.
type outline [][]geom.Vec

func ring(x, y, r float64, n int) (out []geom.Vec) {
	for i := range n {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		out = append(out, geom.Vec{X: x + r*c, Y: y + r*s})
	}
	return out
}

func spikes(x, y, out, in float64, n int) (list []geom.Vec) {
	for i := range 2 * n {
		r := out
		if i%2 == 1 {
			r = in
		}
		s, c := math.Sincos(math.Pi * (float64(i)/float64(n) + 0.1))
		list = append(list, geom.Vec{X: x + r*c, Y: y + r*s})
	}
	return list
}

func backwards(l []geom.Vec) (out []geom.Vec) {
	for i := range l {
		out = append(out, l[len(l)-1-i])
	}
	return out
}

// paint draws forms with smooth edges, each in its colour.
func paint(w, h int, ground color.Color, forms []outline, colors []color.Color) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(m, m.Bounds(), image.NewUniform(ground), image.Point{}, draw.Src)
	for i, f := range forms {
		z := vector.NewRasterizer(w, h)
		for _, l := range f {
			z.MoveTo(float32(l[0].X), float32(l[0].Y))
			for _, p := range l[1:] {
				z.LineTo(float32(p.X), float32(p.Y))
			}
			z.ClosePath()
		}
		z.Draw(m, m.Bounds(), image.NewUniform(colors[i]), image.Point{})
	}
	return m
}

func traced(t testing.TB, m image.Image, s Settings) []Area {
	t.Helper()
	areas, err := budget.Within(context.Background(), func(b *budget.Budget) ([]Area, error) { return Trace(m, s, b) })
	if err != nil {
		t.Fatal(err)
	}
	return areas
}

// farthest returns how far a traced outline departs from the one that was drawn.
func farthest(contours []geom.Contour, drawn outline) (far float64) {
	for _, c := range contours {
		for _, p := range c.Flatten(0.02, nil) {
			best := math.Inf(1)
			for _, l := range drawn {
				for i, a := range l {
					best = math.Min(best, geom.ToSegment(p, a, l[(i+1)%len(l)]))
				}
			}
			far = math.Max(far, best)
		}
	}
	return far
}

// TestTracedOutlinesAreWhatWasDrawn draws forms and traces them: no outline departs from the
// drawn one by more than 0.7 px, corners and holes stay.
func TestTracedOutlinesAreWhatWasDrawn(t *testing.T) {
	for name, form := range map[string]outline{
		"a disc":        {ring(100, 100, 70, 200)},
		"a ring":        {ring(100, 100, 80, 200), backwards(ring(100, 100, 55, 200))},
		"a star":        {spikes(100, 100, 90, 40, 6)},
		"a slanted bar": {{{X: 20, Y: 150}, {X: 160, Y: 30}, {X: 172, Y: 46}, {X: 32, Y: 166}}},
		"two":           {ring(50, 60, 30, 90), spikes(140, 130, 50, 30, 5)},
	} {
		m := paint(200, 200, color.White, []outline{form}, []color.Color{color.Black})
		for _, s := range []Settings{{}, {By: ByColour}, {By: ByLight, Threshold: 0.5}} {
			areas := traced(t, m, s)
			if len(areas) != 1 || len(areas[0].Contours) != len(form) {
				t.Fatalf("%s by %q: %d areas", name, s.By, len(areas))
			}
			if far := farthest(areas[0].Contours, form); far > 0.7 {
				t.Errorf("%s by %q departs by %.2f px", name, s.By, far)
			}
			if c := areas[0].Color; int(c.R)+int(c.G)+int(c.B) > 30 {
				t.Errorf("%s by %q is %v", name, s.By, c)
			}
		}
	}
}

// TestColoursLieOnEachOther traces a badge of three colours on a fourth: each is found with its
// outline, the larger below the smaller, without threads along the edges.
func TestColoursLieOnEachOther(t *testing.T) {
	blue, sand, red := color.RGBA{36, 64, 79, 255}, color.RGBA{239, 226, 188, 255}, color.RGBA{169, 73, 43, 255}
	forms := []outline{{ring(150, 150, 130, 300)}, {ring(150, 150, 90, 300)}, {spikes(150, 150, 70, 30, 5)}}
	m := paint(300, 300, color.White, forms, []color.Color{blue, sand, red})
	areas := traced(t, m, Settings{})
	if len(areas) != 3 {
		t.Fatalf("%d areas", len(areas))
	}
	want := map[artwork.Color]int{{R: 36, G: 64, B: 79}: 0, {R: 239, G: 226, B: 188}: 1, {R: 169, G: 73, B: 43}: 2}
	for i, a := range areas {
		k, ok := -1, false
		for c, n := range want {
			if max(absInt(c.R, a.Color.R), absInt(c.G, a.Color.G), absInt(c.B, a.Color.B)) <= 4 {
				k, ok = n, true
			}
		}
		if !ok {
			t.Errorf("area %d has the colour %v", i, a.Color)
			continue
		}
		if len(a.Contours) == 0 || farthest(a.Contours[:1], outline{forms[0][0], forms[1][0], forms[2][0]}) > 0.9 {
			t.Errorf("area %d (form %d) departs by %.2f px", i, k, farthest(a.Contours[:1], outline{forms[0][0], forms[1][0], forms[2][0]}))
		}
	}
	// Fewer, by wish; what is clear is no ground.
	if got := traced(t, m, Settings{By: ByColour, Colours: 1}); len(got) != 1 {
		t.Errorf("one colour: %d areas", len(got))
	}
	clear := paint(300, 300, color.Transparent, forms[:1], []color.Color{color.White})
	if got := traced(t, clear, Settings{By: ByColour}); len(got) != 1 || got[0].Color != (artwork.Color{R: 255, G: 255, B: 255}) {
		t.Errorf("white on clear: %v", got)
	}
}

func absInt(a, b uint8) int { return max(int(a)-int(b), int(b)-int(a)) }

// corners counts where a contour turns by more than 25 degrees in a point.
func corners(c geom.Contour) (n int) {
	line := c.Flatten(0.001, nil)
	if last := len(line) - 1; line[0].Sub(line[last]).Len() < 1e-9 {
		line = line[:last]
	}
	for i, p := range line {
		a, b := line[(i+len(line)-1)%len(line)], line[(i+1)%len(line)]
		in, out := p.Sub(a), b.Sub(p)
		if math.Abs(math.Atan2(in.Cross(out), in.Dot(out))) > 25*math.Pi/180 {
			n++
		}
	}
	return n
}

// TestSettingsOfTracing leaves specks out, draws what is light, and refuses what is too large.
func TestSettingsOfTracing(t *testing.T) {
	forms := []outline{{ring(60, 60, 30, 90)}, {ring(10, 10, 1.6, 20)}, {ring(110, 20, 5, 30)}}
	black := []color.Color{color.Black, color.Black, color.Black}
	m := paint(120, 120, color.White, forms, black)
	for specks, want := range map[float64]int{1: 3, 20: 2, 200: 1} {
		if got := traced(t, m, Settings{By: ByLight, Speckle: specks}); len(got) != 1 || len(got[0].Contours) != want {
			t.Errorf("specks up to %g px2: %d outlines, want %d", specks, len(got[0].Contours), want)
		}
	}
	light := traced(t, m, Settings{By: ByLight, Light: true})
	if len(light) != 1 || len(light[0].Contours) != 4 || light[0].Color.R < 250 {
		t.Errorf("what is light: %v", light)
	}
	fine, rough := traced(t, m, Settings{Smooth: 0.05}), traced(t, m, Settings{Smooth: 2})
	if a, b := len(fine[0].Contours[0].Segs), len(rough[0].Contours[0].Segs); a < b {
		t.Errorf("smoother outlines have more pieces: %d and %d", a, b)
	}
	if n := len(traced(t, m, Settings{})[0].Contours[0].Segs); n > 16 {
		t.Errorf("a disc has %d pieces", n)
	}
	star := paint(120, 120, color.White, []outline{{spikes(60, 60, 55, 25, 5)}}, black)
	if n := corners(traced(t, star, Settings{})[0].Contours[0]); n != 10 {
		t.Errorf("a star has %d corners: %v", n, traced(t, star, Settings{})[0].Contours[0])
	}
	if n := corners(traced(t, star, Settings{Corner: 179})[0].Contours[0]); n > 4 {
		t.Errorf("a star without corners has %d", n)
	}
	if got := traced(t, image.NewGray(image.Rect(0, 0, 50, 50)), Settings{By: ByColour}); len(got) != 0 {
		t.Errorf("one plain colour: %d areas", len(got))
	}
	huge := image.NewUniform(color.Black)
	if _, err := budget.Within(context.Background(), func(b *budget.Budget) ([]Area, error) { return Trace(huge, Settings{}, b) }); err == nil {
		t.Error("a picture without end was traced")
	}
}

// BenchmarkTrace traces a drawing of 2,000 by 2,000 px.
func BenchmarkTrace(b *testing.B) {
	var forms []outline
	var black []color.Color
	for i := range 60 {
		x, y := 120+250*float64(i%8), 120+250*float64(i/8)
		forms = append(forms, outline{ring(x, y, 100, 200), backwards(spikes(x, y, 70, 40, 9))})
		black = append(black, color.Black)
	}
	m := paint(2000, 2000, color.White, forms, black)
	for b.Loop() {
		begun := time.Now()
		traced(b, m, Settings{})
		b.ReportMetric(time.Since(begun).Seconds(), "s")
	}
}
