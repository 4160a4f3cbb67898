package artwork

import (
	"fmt"
	"testing"

	"bildhauer/core/geom"
)

func square(x, y, side float64) []geom.Contour {
	return []geom.Contour{{Start: geom.Vec{X: x, Y: y}, Closed: true, Segs: []geom.Segment{
		{To: geom.Vec{X: x + side, Y: y}}, {To: geom.Vec{X: x + side, Y: y + side}}, {To: geom.Vec{X: x, Y: y + side}},
	}}}
}

// TestShine paints one shape on a square of 10 px, on a page of 20, and holds
// whether it counts as painted light.
func TestShine(t *testing.T) {
	fading := &Gradient{Stops: []Stop{{At: 0, Opacity: 1}, {At: 1, Opacity: 0}}}
	solid := &Gradient{Stops: []Stop{{At: 0, Opacity: 1}, {At: 1, Opacity: 0.7}}}
	for name, c := range map[string]struct {
		shape Shape
		at    float64 // where it lies, 4 px large
		shine bool
	}{
		"a plain body":               {Shape{Opacity: 1}, 3, false},
		"glass, dense":               {Shape{Opacity: 0.7}, 3, false},
		"glass, thin":                {Shape{Opacity: 0.4}, 3, true},
		"glass, thin, beside":        {Shape{Opacity: 0.4}, 12, false},
		"glass, thin, half beside":   {Shape{Opacity: 0.4}, 8.5, false},
		"glass, thin, mostly on":     {Shape{Opacity: 0.4}, 7.2, true},
		"a gradient to nothing":      {Shape{Opacity: 0.7, Veil: 1, Gradient: fading}, 3, true},
		"a gradient that stays":      {Shape{Opacity: 0.8, Veil: 1, Gradient: solid}, 3, false},
		"multiplied":                 {Shape{Opacity: 1, Blend: "multiply"}, 3, true},
		"multiplied on nothing":      {Shape{Opacity: 1, Blend: "multiply"}, 14, false},
		"blended normally":           {Shape{Opacity: 1, Blend: "normal"}, 3, false},
		"through a soft mask":        {Shape{Opacity: 1, Soft: true}, 3, true},
		"hidden":                     {Shape{Opacity: 0.2, Hidden: true}, 3, false},
		"thin, on the ground alone":  {Shape{Opacity: 0.2}, 15, false},
		"a shade on a shade's place": {Shape{Opacity: 0.2, Soft: true}, 1, true},
	} {
		s := &Sheet{Page: geom.Box{Max: geom.Vec{X: 20, Y: 20}}}
		base := Shape{Opacity: 1, Veil: 1, Matrix: geom.Identity}
		ground, body, light := base, base, c.shape
		ground.Key, ground.Contours = "ground", square(0, 0, 20)
		body.Key, body.Contours = "body", square(0, 0, 10)
		light.Key, light.Matrix, light.Contours = "light", geom.Identity, square(c.at, c.at/2, 4)
		s.Shapes = []Shape{ground, body, light}
		s.Finish()
		if got := s.Shapes[2].Shine; got != c.shine {
			t.Errorf("%s: shine %v", name, got)
		}
		noted := len(s.Notes) == 1 && s.Notes[0].Kind == NoteShine && fmt.Sprint(s.Notes[0].Keys) == "[light]" &&
			len(s.Notes[0].Places) == 1
		if noted != c.shine || s.Starts(2) != (!c.shine && !c.shape.Hidden) || s.Drawn(2) == c.shape.Hidden {
			t.Errorf("%s: notes %+v, starts %v, drawn %v", name, s.Notes, s.Starts(2), s.Drawn(2))
		}
	}
}

// TestFramesOfBitmaps come where the bitmaps were, left out, and not alone.
func TestFramesOfBitmaps(t *testing.T) {
	s := &Sheet{Page: geom.Box{Max: geom.Vec{X: 20, Y: 20}}}
	s.AddBitmap(geom.Scale(5, 5), -1, false)
	s.Shapes = append(s.Shapes, Shape{Key: "a", Opacity: 1, Matrix: geom.Identity, Contours: square(0, 0, 10)})
	s.AddBitmap(geom.Translate(3, 3).Mul(geom.Rotate(0.5)), -1, true)
	s.AddBitmap(geom.Scale(0, 5), -1, false)
	s.Finish()
	keys := []string{}
	for i := range s.Shapes {
		keys = append(keys, s.Shapes[i].Key)
		if s.Shapes[i].Bitmap == s.Starts(i) {
			t.Errorf("%s starts %v", s.Shapes[i].Key, s.Starts(i))
		}
	}
	if fmt.Sprint(keys) != "[bitmap 1 a bitmap 2]" || s.Shapes[0].Box().W() != 5 {
		t.Errorf("shapes %v, the first %v wide", keys, s.Shapes[0].Box().W())
	}
	alone := &Sheet{}
	alone.AddBitmap(geom.Scale(5, 5), -1, false)
	if alone.Finish(); len(alone.Shapes) != 0 {
		t.Error("a file of bitmaps became artwork")
	}
}

// TestGround holds that every colour is seen on the ground it gets.
func TestGround(t *testing.T) {
	white, cream, black, red := Color{255, 255, 255}, Color{250, 248, 240}, Color{0, 0, 0}, Color{200, 30, 30}
	for _, colors := range [][]Color{{black}, {white}, {cream, white}, {white, black}, {white, red}, {red}, {{0xb9, 0xab, 0x99}, white}} {
		g := Ground(colors)
		for _, c := range colors {
			if Contrast(g, c) < seenAgainst {
				t.Errorf("%v on %v has a contrast of %.2f", c, g, Contrast(g, c))
			}
		}
	}
	if Ground([]Color{black, red}) != white || Ground(nil) != white {
		t.Error("dark artwork lies on paper")
	}
}
