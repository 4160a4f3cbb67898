package recipe

import (
	"encoding/json"
	"math"
	"reflect"
	"strings"
	"testing"

	"bildhauer/core/terms"
)

// TestPrintsAreChecked sets one figure or word of a print wrong at a time.
func TestPrintsAreChecked(t *testing.T) {
	for want, spoil := range map[string]func(p *Print){
		"The bed can be 180 or 256":      func(p *Print) { p.Bed = "round" },
		"The material of a print can be": func(p *Print) { p.Material = "butter" },
		"The infill can be lines, grid":  func(p *Print) { p.Infill = "foam" },
		"The seam can be":                func(p *Print) { p.Seam = "front" },
		"The skirt can be":               func(p *Print) { p.Skirt = "long" },
		"The correction for the nozzle":  func(p *Print) { p.Holes = 0.6 },
		"The price":                      func(p *Print) { p.Price = -1 },
		"The nozzle":                     func(p *Print) { p.Nozzle = 9 },
		"The layer":                      func(p *Print) { p.Layer = 0 },
		"The tilt":                       func(p *Print) { p.Tilt = 200 },
		"The number of copies":           func(p *Print) { p.Copies = 0 },
		"The gap between copies":         func(p *Print) { p.Gap = -2 },
		"The number of perimeters":       func(p *Print) { p.Perimeters = 0 },
		"The number of solid layers":     func(p *Print) { p.Floors = 51 },
		"The density of infill":          func(p *Print) { p.Density = 1.1 },
		"The speed":                      func(p *Print) { p.FirstSpeed = 0 },
		"it would not hold":              func(p *Print) { p.First = 0.5 },
	} {
		r := New()
		spoil(&r.Print)
		if err := r.Check(); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", want, err)
		}
	}
}

// TestEveryFigureOfAPrintIsSet changes one field at a time, as pages do: the same one of the recipe
// changes, and no other; the document keeps it; what is outside of the table's limits is refused.
func TestEveryFigureOfAPrintIsSet(t *testing.T) {
	kind := reflect.TypeFor[Print]()
	for i := range kind.NumField() {
		name, _, _ := strings.Cut(kind.Field(i).Tag.Get("json"), ",")
		var value, wrong any
		if figure, ok := kind.Field(i).Tag.Lookup("figure"); ok {
			f := terms.Of(figure)
			value, wrong = math.Round(1e3*math.Min(f.Max, f.Usual+2*f.Step))/1e3, f.Max+1
		} else {
			value, wrong = terms.Names(kind.Field(i).Tag.Get("choice"))[1], "nothing of the kind"
		}
		e := edits(t, map[string]any{"kind": "print", name: value})
		next := apply(t, New(), nil, e...)
		want := newPrint()
		v := reflect.ValueOf(&want).Elem().Field(i)
		v.Set(reflect.ValueOf(value).Convert(v.Type()))
		if next.Print != want || next.Print == newPrint() {
			t.Errorf("%s: %+v", name, next.Print)
		}
		if _, err := (Change{Edits: edits(t, map[string]any{"kind": "print", name: wrong})}).Apply(New(), nil); err == nil {
			t.Errorf("%s: %v is taken", name, wrong)
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
		"":                        {By: "colours", Colours: 3, Speckle: 9, Smooth: 0.5, Threshold: 0.4, Light: true},
		"can be light or colours": {By: "weather"},
		"The threshold":           {Threshold: 2},
		"The number of colours":   {Colours: 16},
		"The size of specks":      {Speckle: -1},
		"The smoothing":           {Smooth: 21},
	} {
		r := New()
		r.Sheets.List = []Sheet{{Slot: 1, File: "a", Name: "a.png", Trace: &tr}}
		err := r.Check()
		if want == "" && err != nil || want != "" && (err == nil || !strings.Contains(err.Error(), want)) {
			t.Errorf("%q: %v", want, err)
		}
	}
}

// edits reads one edit as a page sends it.
func edits(t *testing.T, of map[string]any) []Edit {
	t.Helper()
	data, err := json.Marshal([]any{of})
	if err != nil {
		t.Fatal(err)
	}
	out, err := ParseEdits(data)
	if err != nil {
		t.Fatal(err)
	}
	return out
}
