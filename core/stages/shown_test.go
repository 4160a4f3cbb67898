package stages

import (
	"bytes"
	"image/color"
	"image/png"
	"math"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

// twoTone is a plate whose paint runs from red to blue, and a second one from green to black
// above it.
const twoTone = `<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40">
	<linearGradient id="a"><stop stop-color="#f00"/><stop offset="1" stop-color="#00f"/></linearGradient>
	<linearGradient id="b" x1="0" y1="0" x2="0" y2="1"><stop stop-color="#0f0"/><stop offset="1" stop-color="#000"/></linearGradient>
	<rect id="low" width="80" height="25" y="15" fill="url(#a)"/><rect id="high" width="80" height="10" fill="url(#b)"/></svg>`

// shownOf raises a piece from an SVG text.
func shownOf(t *testing.T, text string, r *recipe.Recipe) *Shown {
	t.Helper()
	s, err := read.Sheet("a.svg", []byte(text))
	if err != nil {
		t.Fatal(err)
	}
	regions, err := regionsOf(s, r)
	if err != nil {
		t.Fatal(err)
	}
	out, err := lineOf(r).Shown(t.Context(), regions, 0)
	if err != nil {
		t.Fatal(err)
	}
	return &out
}

// TestGradientsArePaintedOnFronts looks at the fronts of plates head-on: their colours are
// those of the artwork, place by place, also when the piece has moved.
func TestGradientsArePaintedOnFronts(t *testing.T) {
	r := recipe.New()
	r.Parts.By = recipe.ByShape
	r.Scene = recipe.Scene{
		Paints: []recipe.Paint{{Material: recipe.Material{Rough: 1, Drawn: true}}}, Setting: "none",
		Surroundings: recipe.Surroundings{Name: "overcast quay"}, Backdrop: recipe.Backdrop{Kind: "clear"},
		Camera: recipe.Camera{Turn: 0.01, Focal: 300, Margin: 0.05}, Contrast: "flat",
	}
	at := func(frame float64, x, y float64) (red, green, blue float64) {
		t.Helper()
		shown := shownOf(t, twoTone, &r)
		film := picture.NewFilm(80, 44, 1)
		if _, err := Expose(t.Context(), shown, frame, film, 8, func(int) bool { return true }); err != nil {
			t.Fatal(err)
		}
		scene, _ := shown.SceneAt(frame)
		px, py := scene.Camera.On(shown.StillAt(frame).Poses[0].At(geom.Vec3{X: x, Y: y, Z: 8}), 80.0/44)
		c := film.Picture().Light[int(py*44)*80+int(px*80)]
		return c[0], c[1], c[2]
	}
	for _, frame := range []float64{0, 1} {
		r.Scene.Motion = recipe.Motion{Frames: 2, Tracks: []recipe.Track{
			{Of: recipe.OfPiece, What: "right", Keys: []recipe.Key{{Frame: 0, Ease: "hold"}, {Frame: 1, Value: 9}}},
		}}
		if red, _, blue := at(frame, -45, -10); red < 5*blue {
			t.Errorf("frame %g: on the left of the lower plate %g red, %g blue", frame, red, blue)
		}
		if red, _, blue := at(frame, 45, -10); blue < 5*red {
			t.Errorf("frame %g: on its right %g red, %g blue", frame, red, blue)
		}
		if red, green, blue := at(frame, 0, 23); green < 5*red || green < 5*blue {
			t.Errorf("frame %g: on the upper plate %g, %g, %g", frame, red, green, blue)
		}
	}
	// A colour of its own takes the place of the drawing.
	r.Scene.Paints[0].Material.Color = "#ffffff"
	if red, _, blue := at(0, -45, -10); math.Abs(red-blue) > 0.2*red {
		t.Errorf("painted white it has %g red, %g blue", red, blue)
	}
}

// TestPicturesAreWrittenInAllFormats writes one film in each, with passes where they go.
func TestPicturesAreWrittenInAllFormats(t *testing.T) {
	r := recipe.New()
	shown := shownOf(t, twoTone, &r)
	masks := shown.MasksOf()
	if len(masks) != 2 || masks[0] == masks[1] {
		t.Fatalf("masks of %v", masks)
	}
	for _, format := range PictureFormats {
		e := &Encoding{Format: format, Passes: format == "exr"}
		film := NewFilm(shown, 24, 16, 3, e)
		if len(film.Masks) != map[bool]int{true: 2}[e.Passes] {
			t.Errorf("%s: %d masks", format, len(film.Masks))
		}
		var err error
		if e.Exposure, err = Expose(t.Context(), shown, 0, film, 2, func(int) bool { return true }); err != nil {
			t.Fatal(err)
		}
		var out bytes.Buffer
		if err := e.Write(&out, film, shown); err != nil {
			t.Fatalf("%s: %v", format, err)
		}
		switch format {
		case "png", "png8":
			img, err := png.Decode(&out)
			deep := err == nil && (img.ColorModel() == color.NRGBA64Model || img.ColorModel() == color.RGBA64Model)
			if err != nil || deep != (format == "png") || img.Bounds().Dx() != 24 {
				t.Errorf("%s: %v, deep %t", format, err, deep)
			}
		case "exr":
			for _, name := range []string{"Z", "normal.X", "shadow.Y", "mask." + masks[0], "mask." + masks[1], "velocity.X", "velocity.Y"} {
				if !bytes.Contains(out.Bytes()[:1500], []byte(name+"\x00")) {
					t.Errorf("there is no channel %s", name)
				}
			}
		case "hdr":
			if !bytes.HasPrefix(out.Bytes(), []byte("#?")) {
				t.Errorf("it begins with %q", out.Bytes()[:8])
			}
		}
	}
	e := &Encoding{Format: "gif"}
	if err := e.Write(&bytes.Buffer{}, NewFilm(shown, 2, 2, 1, e), shown); err == nil || !strings.Contains(err.Error(), "png, png8, exr or hdr") {
		t.Errorf("a gif: %v", err)
	}
}

// TestAmbienceGoesByWhatIsAround keeps what comes from all around when only the piece's
// materials, camera or motion change, and makes it anew for other lamps, places or floors.
func TestAmbienceGoesByWhatIsAround(t *testing.T) {
	key := func(change func(s *recipe.Scene)) Key {
		r := recipe.New()
		change(&r.Scene)
		shown := shownOf(t, twoTone, &r)
		return Ambience.Key(shown.AmbienceInput(0))
	}
	base := key(func(*recipe.Scene) {})
	for name, c := range map[string]struct {
		change func(s *recipe.Scene)
		same   bool
	}{
		"a material":     {func(s *recipe.Scene) { s.Paints = []recipe.Paint{{Material: recipe.Material{Rough: 0.1}}} }, true},
		"the camera":     {func(s *recipe.Scene) { s.Camera.Turn = 40 }, true},
		"the exposure":   {func(s *recipe.Scene) { s.Exposure = 2 }, true},
		"other lamps":    {func(s *recipe.Scene) { s.Setting = "from above" }, false},
		"the sky turned": {func(s *recipe.Scene) { s.Surroundings.Turn = 30 }, false},
		"another floor":  {func(s *recipe.Scene) { s.Backdrop.Color = "#102030" }, false},
	} {
		if got := key(c.change); (got == base) != c.same {
			t.Errorf("%s: the same is %t", name, got == base)
		}
	}
}

// TestOwnPanoramasLight reads a panorama through the line and finds it in the scene; one
// that is damaged is said by its name.
func TestOwnPanoramasLight(t *testing.T) {
	var file bytes.Buffer
	green := func(int) [3]float64 { return [3]float64{0, 2, 0} }
	if err := write.HDR(&file, 2400, 1200, green); err != nil {
		t.Fatal(err)
	}
	r := recipe.New()
	r.Scene.Surroundings = recipe.Surroundings{Name: "moss.hdr", File: "f1"}
	data := file.Bytes()
	line := &Line{Keep: Direct{}, Recipe: &r, Open: func(id string) Source {
		return Source{ID: id, Load: func() ([]byte, error) { return data, nil }}
	}}
	s, err := read.Sheet("a.svg", []byte(twoTone))
	if err != nil {
		t.Fatal(err)
	}
	regions, err := line.RegionsOf(t.Context(), joinedOf(s))
	if err != nil {
		t.Fatal(err)
	}
	shown, err := line.Shown(t.Context(), regions.Value, 0)
	if err != nil || shown.Own.Value.W > 1024 || shown.Own.Value.W < 512 {
		t.Fatalf("%+v, %v", shown.Own.Key, err)
	}
	scene, _ := shown.SceneAt(0)
	if c := scene.Sky.Light(geom.Vec3{Y: 1}); math.Abs(c[1]-2) > 0.02 || c[0] > 0.01 {
		t.Errorf("from above comes %v", c)
	}
	data = data[:200]
	if _, err := line.Shown(t.Context(), regions.Value, 0); err == nil || !strings.Contains(err.Error(), "moss.hdr is damaged") {
		t.Errorf("half of it: %v", err)
	}
}

// TestSamplesShowTheirMaterial makes the small pictures of all ready materials: each shows
// something, none is like another.
func TestSamplesShowTheirMaterial(t *testing.T) {
	var seen []string
	for _, m := range []recipe.Material{
		{Rough: 0.1, Metal: 1}, {Rough: 0.9}, {Rough: 0.5, Glow: 5}, {Rough: 0.02, Clear: 1}, {Rough: 0.2, Metal: 1, Grain: 0.4},
	} {
		made, err := Sample.Make(t.Context(), Direct{}, SampleInput{m, 32})
		if err != nil {
			t.Fatal(err)
		}
		img, err := png.Decode(bytes.NewReader(made.Value))
		if err != nil {
			t.Fatal(err)
		}
		_, _, _, middle := img.At(16, 16).RGBA()
		_, _, _, corner := img.At(0, 0).RGBA()
		least := uint32(60_000)
		if m.Clear > 0 { // the ground is seen through it
			least = 10_000
		}
		if middle < least || m.Clear > 0 && middle > 60_000 || corner > 2000 {
			t.Errorf("%+v: alpha %d in the middle, %d in the corner", m, middle, corner)
		}
		if slices.Contains(seen, string(made.Value)) {
			t.Errorf("%+v looks like another", m)
		}
		seen = append(seen, string(made.Value))
	}
}
