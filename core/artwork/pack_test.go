package artwork

import (
	"math"
	"reflect"
	"testing"

	"bildhauer/core/geom"
)

// packed is a sheet that has one of everything.
func packed() *Sheet {
	clip := &Clip{Outside: true, Items: []ClipItem{{
		Contours: []geom.Contour{{Start: geom.Vec{X: 1}, Closed: true, Segs: []geom.Segment{{To: geom.Vec{Y: 2}}, {Kind: geom.Quad, C1: geom.Vec{X: 3}, To: geom.Vec{X: 4}}}}},
		Matrix:   geom.Scale(2, 3), EvenOdd: true,
	}}}
	g := &Gradient{Radial: true, P: geom.Vec{X: 1}, Q: geom.Vec{Y: 1}, R: 5, FR: 1, Spread: "reflect", Matrix: geom.Identity,
		Stops: []Stop{{At: 0, Color: Color{1, 2, 3}, Opacity: 0.5}, {At: 1, Opacity: 1}}}
	s := &Sheet{
		Name: "a.svg", Format: "SVG", Page: geom.Box{Max: geom.Vec{X: 9, Y: 8}},
		Groups: []Group{{Key: "g0", Name: "Layer", Layer: true, Parent: -1}, {Key: "g1", Hidden: true, Parent: 0}},
		Shapes: []Shape{
			{Key: "a", Name: "A", Group: -1, Color: Color{9, 8, 7}, Opacity: 1, Gradient: g, Veil: 0.25, Clips: []*Clip{clip}, Matrix: geom.Identity, EvenOdd: true,
				Contours: []geom.Contour{{Start: geom.Vec{X: math.Inf(1)}, Segs: []geom.Segment{{Kind: geom.Cubic, C1: geom.Vec{X: 1}, C2: geom.Vec{X: 2}, To: geom.Vec{X: 3}}}}}},
			{Key: "b", Text: "words", Group: 1, Hidden: true, Soft: true, Shine: true, Bitmap: true, Blend: "multiply", Gradient: g, Clips: []*Clip{clip, clip}, Matrix: geom.Identity,
				Stroke: &geom.StrokeStyle{Width: 2, Cap: geom.RoundCap, Join: geom.BevelJoin, MiterLimit: 4, Dashes: []float64{1, 2}, DashOffset: 3, Beyond: 1}},
		},
		Pages: 3, PageNumber: 2, Bitmap: true, Pictures: 4,
		SourceWidth: "9", SourceHeight: "8", SourceViewBox: "0 0 9 8", SourceAspect: "none", SourceUnits: geom.Scale(4, 5),
	}
	s.Note(NoteTraced, "", 20, 30)
	s.NoteAt(NoteUnknownElement, "<x>", geom.Box{Max: geom.Vec{X: 1, Y: 1}}, "x")
	for i := range s.Notes {
		s.Notes[i].before = nil
	}
	s.noted = nil
	s.settleClips()
	return s
}

// TestPackedSheetsComeBack packs a sheet and unpacks it: nothing is lost, and what was shared is
// shared still.
func TestPackedSheetsComeBack(t *testing.T) {
	s := packed()
	got, err := Unpack(s.Pack())
	if err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(got, s) {
		t.Errorf("came back as\n%+v\nwas\n%+v", got, s)
	}
	if got.Shapes[0].Clips[0] != got.Shapes[1].Clips[1] || got.Shapes[0].Gradient != got.Shapes[1].Gradient {
		t.Error("what shapes shared is not shared any more")
	}
	for i := range got.Notes {
		if got.Notes[i].Text() != s.Notes[i].Text() {
			t.Errorf("note %q became %q", s.Notes[i].Text(), got.Notes[i].Text())
		}
	}
	empty, err := Unpack((&Sheet{}).Pack())
	if err != nil || !reflect.DeepEqual(empty, &Sheet{}) {
		t.Errorf("an empty one: %+v, %v", empty, err)
	}
}

// FuzzUnpack gives bytes that nobody packed, and cuts off and changes those that somebody did.
func FuzzUnpack(f *testing.F) {
	whole := packed().Pack()
	f.Add(whole)
	for i := range whole {
		f.Add(whole[:i])
		changed := append([]byte(nil), whole...)
		changed[i] ^= 0xff
		f.Add(changed)
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		s, err := Unpack(b)
		if err != nil {
			return
		}
		if again, err := Unpack(s.Pack()); err != nil || len(again.Shapes) != len(s.Shapes) {
			t.Errorf("packed once more: %v", err)
		}
	})
}
