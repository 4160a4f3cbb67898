package web

import (
	"image/png"
	"net/http"
	"strings"
	"testing"

	"bildhauer/core/recipe"
)

// TestShowIsChanged walks through the panel of Show: every act is kept, shows another
// picture, and is taken back to the byte.
func TestShowIsChanged(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="60">
		<rect width="120" height="60" fill="#336699"/><circle cx="40" cy="30" r="20" fill="#a33333"/></svg>`)
	w := open(t, s.address+"/pieces/"+id+"/show")
	kept := "document.getElementById('saved').textContent === 'kept'"
	w.wait("document.body.dataset.shown && !document.querySelector('.showview img').hidden")
	before := s.document(id)
	set := func(selector, value string) func() {
		return func() {
			w.js("(e => { e.value = '" + value + "'; e.dispatchEvent(new Event('input')); e.dispatchEvent(new Event('change')); })" +
				"(document.querySelector('" + selector + "'))")
		}
	}
	for _, act := range []struct {
		name string
		do   func()
		undo string
	}{
		{"a material", func() { w.click("[data-material='Polished brass']") }, "Polished brass of all parts"},
		{"roughness", set("[data-dial=rough]", "0.2"), "Roughness of all parts"},
		{"lamps", set("[data-scene=setting]", "from above"), "Lamps"},
		{"surroundings", set("[data-scene=surroundings]", "dusk"), "Surroundings"},
		{"the backdrop", set("[data-scene=backdrop]", "clear"), "Backdrop"},
		{"the camera", set("[data-dial=turn]", "30"), "Turned by"},
		{"the frame", set("[data-scene=aspect]", "1:1"), "Frame"},
		{"exposure", set("[data-dial=exposure]", "1"), "Exposure"},
	} {
		act.do()
		w.wait("document.getElementById('undo').title.startsWith('Undo: " + act.undo + "') && " + kept)
		if s.document(id) == before {
			t.Errorf("%s changed nothing", act.name)
		}
		w.click("#undo")
		w.wait("!document.getElementById('undo').title.startsWith('Undo: " + act.undo + "') && " + kept)
		if s.document(id) != before {
			t.Errorf("%s was not taken back", act.name)
		}
	}
	// A part by itself, and only its bevels; the page says what they are made of.
	w.js("[...document.querySelectorAll('.part')].find((p) => p.textContent.includes('Red')).click()")
	set("[data-scene=faces]", "bevel")()
	w.click("[data-material='Neon']")
	w.wait("document.getElementById('undo').title.startsWith('Undo: Neon of Red') && " + kept)
	w.wait("document.querySelector('[data-material=Neon]').getAttribute('aria-pressed') === 'true'")
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	if list := p.Recipe.Scene.Paints; len(list) != 1 || list[0].Part != "ca33333" || list[0].Faces != "bevel" || list[0].Material.Glow == 0 {
		t.Errorf("painted: %+v", list)
	}
	// It survives a reload.
	w.js("location.reload()")
	w.wait("document.body.dataset.shown && document.getElementById('undo').title.startsWith('Undo: Neon of Red')")
	if s.document(id) == before {
		t.Error("nothing was kept")
	}
}

// TestPicturesAreSent asks the server for pictures: of the size asked for, the same each
// time, another one for another scene, and none that there can't be.
func TestPicturesAreSent(t *testing.T) {
	s := run(t, t.TempDir(), false)
	c := s.client()
	picture := func(id, body string, want int) string {
		t.Helper()
		code, said := c.post("/pieces/"+id+"/data/picture", body)
		if code != want {
			t.Fatalf("%s: %d %.300s", body, code, said)
		}
		return said
	}
	id := s.made("plate.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="60"><rect width="120" height="60" fill="#336699"/></svg>`)
	first := picture(id, `{"width":40,"height":30,"samples":2}`, http.StatusOK)
	img, err := png.Decode(strings.NewReader(first))
	if err != nil || img.Bounds().Dx() != 40 || img.Bounds().Dy() != 30 {
		t.Fatalf("a picture of %v, %v", img, err)
	}
	if again := picture(id, `{"width":40,"height":30,"samples":2}`, http.StatusOK); first != again {
		t.Error("the same picture is another one")
	}
	setting := "from above"
	s.change(id, "Lamps", &recipe.SetScene{Setting: &setting})
	if other := picture(id, `{"width":40,"height":30,"samples":2}`, http.StatusOK); first == other {
		t.Error("other lamps make the same picture")
	}
	for body, want := range map[string]string{
		`{"width":0,"height":30,"samples":2}`:       "between 1 and 8192 pixels",
		`{"width":8192,"height":8192,"samples":2}`:  "the command line makes larger ones",
		`{"width":40,"height":30,"samples":100000}`: "between 1 and 4096 samples",
	} {
		if said := picture(id, body, http.StatusUnprocessableEntity); !strings.Contains(said, want) {
			t.Errorf("%s: %s", body, said)
		}
	}
}
