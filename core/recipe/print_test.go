package recipe

import (
	"reflect"
	"strings"
	"testing"
)

// TestPrintsAreChecked sets one figure or word of a print wrong at a time.
func TestPrintsAreChecked(t *testing.T) {
	for want, spoil := range map[string]func(p *Print){
		"the bed of a print can't be \"round\"":         func(p *Print) { p.Bed = "round" },
		"the material of a print can't be":              func(p *Print) { p.Material = "butter" },
		"there are \"lines\", \"grid\", \"concentric\"": func(p *Print) { p.Infill = "foam" },
		"the seam of a print":                           func(p *Print) { p.Seam = "front" },
		"the skirt of a print":                          func(p *Print) { p.Skirt = "long" },
		"The correction for the nozzle":                 func(p *Print) { p.Holes = 0.6 },
		"The price":                                     func(p *Print) { p.Price = -1 },
		"The nozzle":                                    func(p *Print) { p.Nozzle = 9 },
		"The layer":                                     func(p *Print) { p.Layer = 0 },
		"The lean":                                      func(p *Print) { p.Tilt = 200 },
		"The number of copies":                          func(p *Print) { p.Copies = 0 },
		"The gap between copies":                        func(p *Print) { p.Gap = -2 },
		"The number of perimeters":                      func(p *Print) { p.Perimeters = 0 },
		"The number of solid layers":                    func(p *Print) { p.Floors = 51 },
		"The share":                                     func(p *Print) { p.Density = 1.1 },
		"The speed":                                     func(p *Print) { p.FirstSpeed = 0 },
		"it would not hold":                             func(p *Print) { p.First = 0.5 },
	} {
		r := New()
		spoil(&r.Print)
		if err := r.Check(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", want, err)
		}
	}
}

// TestEveryFigureOfAPrintIsSet changes one field of the edit at a time: the same one of the
// recipe changes, and no other; the document keeps it.
func TestEveryFigureOfAPrintIsSet(t *testing.T) {
	word := map[string]string{"Bed": "256", "Material": "ABS", "Infill": "grid", "Skirt": "brim", "Seam": "back"}
	kind := reflect.TypeFor[SetPrint]()
	for i := range kind.NumField() {
		name := kind.Field(i).Name
		e := &SetPrint{}
		v := reflect.New(kind.Field(i).Type.Elem())
		switch v.Elem().Kind() {
		case reflect.String:
			v.Elem().SetString(word[name])
		case reflect.Int:
			v.Elem().SetInt(7)
		default:
			v.Elem().SetFloat(0.3)
		}
		if strings.HasSuffix(name, "Speed") {
			v.Elem().SetFloat(33)
		}
		reflect.ValueOf(e).Elem().Field(i).Set(v)
		next := apply(t, New(), nil, e)
		want := newPrint()
		reflect.ValueOf(&want).Elem().FieldByName(name).Set(v.Elem())
		if next.Print != want || next.Print == newPrint() {
			t.Errorf("%s: %+v", name, next.Print)
		}
		raw, err := next.MarshalJSON()
		if err != nil {
			t.Fatal(err)
		}
		if back, err := Open(raw); err != nil || back.Print != want {
			t.Errorf("%s read back: %+v %v", name, back.Print, err)
		}
	}
	// What was not decided is not written, and what a document does not say is as usual.
	if raw, _ := New().MarshalJSON(); strings.Contains(string(raw), "print") {
		t.Errorf("%s", raw)
	}
	r, err := Open([]byte(`{"version":4,"print":{"layer":0.1}}`))
	if err != nil || r.Print.Layer != 0.1 || r.Print.Nozzle != 0.4 || r.Print.Copies != 1 {
		t.Errorf("%+v %v", r.Print, err)
	}
}

// TestTracingsAreChecked sets one figure or word of a tracing wrong at a time.
func TestTracingsAreChecked(t *testing.T) {
	for want, tr := range map[string]Tracing{
		"":                       {By: "colours", Colours: 3, Speckle: 9, Smooth: 0.5, Threshold: 0.4, Light: true},
		"by light or by colours": {By: "weather"},
		"The share":              {Threshold: 2},
		"The number of colours":  {Colours: 16},
		"The size of specks":     {Speckle: -1},
		"The smoothness":         {Smooth: 21},
	} {
		r := New()
		r.Sheets.List = []Sheet{{Slot: 1, File: "a", Name: "a.png", Trace: &tr}}
		err := r.Check()
		if want == "" && err != nil || want != "" && (err == nil || !strings.Contains(err.Error(), want)) {
			t.Errorf("%q: %v", want, err)
		}
	}
}
