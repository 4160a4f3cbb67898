package web

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"math"
	"net/http"
	"net/url"
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
	"bildhauer/core/show"
)

// pixels is a picture in figures from 0 to 255, red, green and blue in turn.
type pixels struct {
	w, h int
	v    []float64
}

// smaller returns a part of an image as so many pixels, averaged.
func smaller(img image.Image, part image.Rectangle, w, h int) pixels {
	out := pixels{w, h, make([]float64, 3*w*h)}
	for y := range h {
		for x := range w {
			n := 0.0
			for j := part.Min.Y + y*part.Dy()/h; j < part.Min.Y+(y+1)*part.Dy()/h; j++ {
				for i := part.Min.X + x*part.Dx()/w; i < part.Min.X+(x+1)*part.Dx()/w; i++ {
					r, g, b, _ := img.At(i, j).RGBA()
					for c, v := range [3]uint32{r, g, b} {
						out.v[3*(y*w+x)+c] += float64(v) / 257
					}
					n++
				}
			}
			for c := range 3 {
				out.v[3*(y*w+x)+c] /= n
			}
		}
	}
	return out
}

// calm reports whether nothing changes around a pixel by more than a step of shade: there is
// no edge, nor the border of a shadow.
func (p *pixels) calm(x, y int) bool {
	lo, hi := math.Inf(1), math.Inf(-1)
	for j := max(0, y-2); j <= min(p.h-1, y+2); j++ {
		for i := max(0, x-2); i <= min(p.w-1, x+2); i++ {
			v := p.v[3*(j*p.w+i)+1]
			lo, hi = math.Min(lo, v), math.Max(hi, v)
		}
	}
	return hi-lo < 14
}

// apart compares the live view with a traced picture of a frame, away from edges: how far they are apart of 255 on the
// piece, which fills the middle, and around it; n is how many pixels were compared on it, around it and are there.
func (w *tab) apart(s *site, id string, frame int) (on, around float64, n [3]float64) {
	t := w.t
	t.Helper()
	var r struct{ X, Y, Width, Height float64 }
	rect := w.text("JSON.stringify(document.querySelector('.showframe').getBoundingClientRect())")
	if err := json.Unmarshal([]byte(strings.ToLower(rect)), &r); err != nil {
		t.Fatal(err)
	}
	shot, err := chromedp.Run(w.ctx, chromedp.CaptureScreenshot())
	if err != nil {
		t.Fatal(err)
	}
	screen, err := png.Decode(bytes.NewReader(shot))
	if err != nil {
		t.Fatal(err)
	}
	wide, high := int(r.Width), int(r.Height)
	_, said := s.client().post("/pieces/"+id+"/data/picture", fmt.Sprintf(`{"width":%d,"height":%d,"samples":6,"frame":%d}`, wide, high, frame))
	traced, err := png.Decode(strings.NewReader(said))
	if err != nil {
		t.Fatalf("%v: %.200s", err, said)
	}
	at := image.Rect(int(r.X), int(r.Y), int(r.X)+wide, int(r.Y)+high)
	live, picture := smaller(screen, at, wide, high), smaller(traced, traced.Bounds(), wide, high)
	var sum [2]float64
	for y := range high {
		for x := range wide {
			if !live.calm(x, y) || !picture.calm(x, y) {
				continue
			}
			i := 3 * (y*wide + x)
			where := 0
			if math.Hypot(float64(2*x-wide), float64(2*y-high)) < 0.6*float64(high) {
				where = 1
			}
			for c := range 3 {
				sum[where] += math.Abs(live.v[i+c]-picture.v[i+c]) / 3
			}
			n[where]++
		}
	}
	n[2] = float64(wide * high)
	return sum[1] / n[1], sum[0] / n[0], n
}

// TestLiveViewLooksLikeThePicture compares both for every ready material on the clock of the demo: away from edges
// and shadows they differ by less than 6 of 255 in the mean, on the piece and around it.
func TestLiveViewLooksLikeThePicture(t *testing.T) {
	s := run(t, t.TempDir(), false)
	clock, err := os.ReadFile("../demo/tide-clock.svg")
	if err != nil {
		t.Fatal(err)
	}
	id := s.made("tide-clock.svg", string(clock))
	w := shown(t, s, id, sharp)
	w.click("[data-show=time]")
	for _, m := range show.Materials() {
		name := m.Name
		w.wait("document.body.dataset.shown === 'live'")
		w.click(`[data-material="` + name + `"]`)
		w.undone(name + " of all parts")
		w.wait("document.body.dataset.shown === 'live' && document.getElementById('busy').hidden && !document.querySelector('.message-line')")
		on, around, n := w.apart(s, id, 0)
		t.Logf("%s: %.1f of 255 apart on the piece (%g pixels), %.1f around it (%g)", name, on, n[1], around, n[0])
		if on >= 6 || around >= 6 || n[1] < 300 || n[0] < n[2]/4 {
			t.Errorf("%s: %.1f of 255 apart on the piece (%g pixels), %.1f around it (%g)", name, on, n[1], around, n[0])
		}
	}
}

// TestWhatTheLiveViewIsTold asks for frames, what comes from all around, gradients and
// pictures of materials.
func TestWhatTheLiveViewIsTold(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("sun.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><linearGradient id="g"><stop stop-color="#f00"/>`+
		`<stop offset="1" stop-color="#00f"/></linearGradient><rect width="40" height="20" fill="url(#g)"/></svg>`)
	s.change(id, "Motion", &recipe.SetScene{Motion: &recipe.Motion{Frames: 50, Tracks: []recipe.Track{
		{Of: "piece", What: "up", Keys: []recipe.Key{{Frame: 0, Ease: "even"}, {Frame: 40, Value: 80}}},
		{Of: "piece", What: "colour", Keys: []recipe.Key{{Frame: 0, Color: "#ffffff"}}},
		{Of: "piece", What: "depth", Keys: []recipe.Key{{Frame: 0, Value: 0.5}}},
	}}}, &recipe.PaintFaces{Material: &recipe.Material{Rough: 0.5, Drawn: true}})
	base := "/pieces/" + id + "/data/"
	var told struct {
		Bodies []string
		Frames []struct {
			Poses [][13]float64
			Looks []map[string]struct {
				Base  [3]float64
				Drawn bool
			}
			Grown map[string]show.Growth
		}
		Drawn map[string][2][3]float64
		Lamps []recipe.Lamp
	}
	if err := json.Unmarshal(s.get(base+"live?from=10&to=20"), &told); err != nil {
		t.Fatal(err)
	}
	if len(told.Frames) != 11 || len(told.Bodies) != 1 || len(told.Lamps) != 3 || len(told.Drawn) != 1 {
		t.Fatalf("%+v", told)
	}
	last := told.Frames[10]
	look := last.Looks[0][told.Bodies[0]+" front"]
	if last.Poses[0][7] != 40 || last.Poses[0][12] != 1 || look.Base != [3]float64{1, 1, 1} || last.Grown[told.Bodies[0]].Depth != 0.5 {
		t.Errorf("frame 20: %+v", last)
	}
	code, said := s.client().send("GET", base+"live?from=0&to=4000", "", nil)
	if code != http.StatusUnprocessableEntity || !strings.Contains(said, "frames are told at once") {
		t.Errorf("4,000 frames: %d %s", code, said)
	}
	a := s.get(base + "ambience")
	var head struct{ Sizes [][2]int }
	n := binary.LittleEndian.Uint32(a)
	if err := json.Unmarshal(a[4:4+n], &head); err != nil || len(head.Sizes) != 6 {
		t.Fatalf("%v, %v", head, err)
	}
	want := 4 + int(n)
	for _, s := range head.Sizes {
		want += 16 * s[0] * s[1]
	}
	if len(a) != want {
		t.Errorf("%d bytes, want %d", len(a), want)
	}
	img, err := png.Decode(bytes.NewReader(s.get(base + "drawn/" + told.Bodies[0])))
	if err != nil {
		t.Fatal(err)
	}
	left, _, _, _ := img.At(10, 100).RGBA()
	_, _, right, _ := img.At(245, 100).RGBA()
	if left>>8 < 220 || right>>8 < 220 {
		t.Errorf("the gradient runs from %d to %d", left>>8, right>>8)
	}
	// Pictures of materials: of the size, and not all the same.
	seen := map[string]bool{}
	for _, m := range []string{`{"rough":0.1,"metal":1,"color":"#ffcc66"}`, `{"rough":1}`, `{"rough":0.5,"glow":6}`} {
		data := s.get("/material?m=" + url.QueryEscape(m))
		if img, err := png.Decode(bytes.NewReader(data)); err != nil || img.Bounds().Dx() != 66 {
			t.Errorf("%s: %v", m, err)
		}
		seen[string(data)] = true
	}
	if len(seen) != 3 {
		t.Errorf("%d pictures of 3 materials", len(seen))
	}
	small := s.get("/material?px=20&m=" + url.QueryEscape(`{"rough":1}`))
	if img, err := png.Decode(bytes.NewReader(small)); err != nil || img.Bounds().Dx() != 20 {
		t.Errorf("of 20 px: %v", err)
	}
	for _, bad := range []string{"m=" + url.QueryEscape(`{"rough":7}`), "m=soap", "px=5000&m=" + url.QueryEscape(`{"rough":1}`)} {
		if code, _ := s.client().send("GET", "/material?"+bad, "", nil); code != http.StatusUnprocessableEntity {
			t.Errorf("%s: %d", bad, code)
		}
	}
}
