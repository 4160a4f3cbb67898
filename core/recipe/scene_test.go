package recipe

import (
	"strings"
	"testing"
)

// TestScenesAreChecked sets one figure or word of a scene wrong at a time.
func TestScenesAreChecked(t *testing.T) {
	lamp := Lamp{Kind: "spot", At: [3]float64{0, 0, 100}, Angle: 30}
	good := Scene{
		Paints: []Paint{{Part: "p1", Faces: "bevel", Material: Material{Name: "Brass", Color: "#ffcc66", Metal: 1, Rough: 0.2}}},
		Lamps:  []Lamp{lamp}, Setting: "low evening", Surroundings: Surroundings{Name: "dusk", Turn: 40},
		Backdrop: Backdrop{Kind: "clear", Shadow: true}, Camera: Camera{Aspect: "9:16", Focal: 50, Turn: 30},
	}
	for want, spoil := range map[string]func(s *Scene){
		"":                             func(*Scene) {},
		"The setting of lamps can be":  func(s *Scene) { s.Setting = "disco" },
		"The surroundings can be":      func(s *Scene) { s.Surroundings.Name = "moon" },
		"The contrast can be":          func(s *Scene) { s.Contrast = "wild" },
		"a colour is written #rrggbb":  func(s *Scene) { s.Backdrop.Color = "green" },
		"The faces can be front":       func(s *Scene) { s.Paints[0].Faces = "top" },
		"The metal":                    func(s *Scene) { s.Paints[0].Material.Metal = 1.5 },
		"A lamp can be panel":          func(s *Scene) { s.Lamps[0].Kind = "torch" },
		"aim at something else":        func(s *Scene) { s.Lamps[0].Aim = s.Lamps[0].At },
		"The angle of a lamp":          func(s *Scene) { s.Lamps[0].Angle = 200 },
		"not width to height":          func(s *Scene) { s.Camera.Aspect = "wide" },
		"The ratio of width to height": func(s *Scene) { s.Camera.Aspect = "1000:1" },
		"The focal length":             func(s *Scene) { s.Camera.Focal = 1 },
		"The number of lamps":          func(s *Scene) { s.Lamps = make([]Lamp, 65) },
	} {
		r := New()
		r.Scene = good.clone()
		spoil(&r.Scene)
		err := r.Check()
		if want == "" && err != nil || want != "" && (err == nil || !strings.Contains(err.Error(), want)) {
			t.Errorf("%q: %v", want, err)
		}
	}
	// A scene survives being written, and shares nothing with its copy.
	r := New()
	r.Scene = good
	data, err := r.MarshalJSON()
	if err != nil {
		t.Fatal(err)
	}
	back, err := Open(data)
	if err != nil || back.Scene.Lamps[0] != lamp || back.Scene.Camera != good.Camera {
		t.Errorf("read back: %+v %v", back.Scene, err)
	}
	c := r.Clone()
	c.Scene.Paints[0].Part = "other"
	if r.Scene.Paints[0].Part != "p1" {
		t.Error("a copy changes its original")
	}
}
