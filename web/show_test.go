package web

import (
	"image/png"
	"net/http"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
)

const disc = `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="60">
	<rect width="120" height="60" fill="#336699"/><circle cx="40" cy="30" r="20" fill="#a33333"/></svg>`

const kept = "document.getElementById('saved').textContent === 'Saved'"

// showing opens a piece in Show with the live view alone, and waits for it.
func showing(t *testing.T, s *site, id string) *tab {
	t.Helper()
	return shown(t, s, id, roughly)
}

// shown does so with a number of pixels drawn for one of the page.
func shown(t *testing.T, s *site, id string, scale float64) *tab {
	t.Helper()
	w := window(t, s.address+"/pieces/"+id+"/show", 960, 560, scale) // a smaller view is drawn sooner
	w.wait("document.body.dataset.lit")
	w.click("[data-choice=live]")
	w.wait("document.body.dataset.shown === 'live'")
	return w
}

// reload loads the page again, and waits until the old one is gone.
func (w *tab) reload() {
	w.t.Helper()
	w.js("window.left = true")
	w.do(chromedp.Reload())
	w.wait("!window.left")
}

// takenBack waits for an act that undo names by words, takes it back by key, and finds the
// document of before.
func (w *tab) takenBack(s *site, id, words, before string) {
	w.t.Helper()
	w.undone(words)
	if s.document(id) == before {
		w.t.Errorf("%s changed nothing", words)
	}
	w.key("z", ctrlKey)
	w.wait("!document.getElementById('undo').title.startsWith('Undo: " + words + "') && " + kept)
	if s.document(id) != before {
		w.t.Errorf("%s was not taken back", words)
	}
}

// TestShowIsChanged walks through the panels of Show: every act is kept, shows another
// picture, and is taken back to the byte.
func TestShowIsChanged(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := showing(t, s, id)
	before := s.document(id)
	pick := func(name, value string) func() { return func() { w.pick("[data-scene="+name+"]", value) } }
	figure := func(name, value string) func() { return func() { w.set(name, value) } }
	press := func(selector string) func() { return func() { w.click(selector) } }
	check := func(name string) func() {
		return func() { w.js("document.querySelector('[data-scene=" + name + "]').click()") }
	}
	name := func(field, text, act string) func() {
		return func() {
			w.js("document.querySelector('[data-scene=" + field + "]').value = '" + text + "'")
			w.click("[data-act=" + act + "]")
		}
	}
	for _, act := range []struct {
		tab  string
		do   func()
		undo string
	}{
		{"surface", press("[data-material='Polished brass']"), "Polished brass of all parts"},
		{"surface", figure("rough", "20 %"), "Roughness of all parts"},
		{"surface", figure("grain", "0.1+0.2"), "Grain of all parts"},
		{"surface", check("drawn"), "Gradients of all parts"},
		{"surface", pick("color", "#00ff88"), "Colour of all parts"},
		{"light", pick("setting", "from above"), "Lamps"},
		{"light", figure("lamp.strength", "1.5 stops"), "Strength of Key"},
		{"light", figure("lamp.kelvin", "3000"), "Temperature of Key"},
		{"light", figure("lamp.at.1", "4cm"), "Y of Key"},
		{"light", press("[data-act=add-spot]"), "Add Spot"},
		{"light", press("[data-act=copy-lamp]"), "Copy Key"},
		{"light", press("[data-act=drop-lamp]"), "Delete Key"},
		{"light", func() { w.key(deleteKey) }, "Delete Key"},
		{"light", pick("lamp-name", "Window"), "Name of Window"},
		{"light", pick("lamp-color", "#ffd0a0"), "Colour of Key"},
		{"light", figure("lamp.size.0", "12cm"), "Width of Key"},
		{"light", figure("lamp.aim.2", "10+5"), "Aim Z of Key"},
		{"light", figure("sky.strength", "-1"), "Strength of the surroundings"},
		{"light", press(".lamplist input"), "Lamp off of Key"},
		{"light", pick("surroundings", "dusk"), "Surroundings"},
		{"light", figure("sky.turn", "30°"), "Rotation of the surroundings"},
		{"light", pick("backdrop", "gradient"), "Backdrop"},
		{"light", pick("backdrop-color", "#112233"), "Colour"},
		{"light", figure("exposure", "1"), "Exposure"},
		{"light", pick("contrast", "strong"), "Contrast"},
		{"camera", pick("aspect", "1:1"), "Frame"},
		{"camera", figure("focal", "35"), "Focal length"},
		{"camera", func() {
			w.js("(s => { s.selectedIndex = 1; s.dispatchEvent(new Event('change')); })(document.querySelector('[data-scene=look]'))")
		}, "Looks at"},
		{"camera", figure("turn", "30"), "Rotation"},
		{"camera", figure("shift.0", "10 %"), "Shift X"},
		{"camera", figure("blur", "2"), "Aperture"},
		{"camera", figure("distance", "3m"), "Distance"},
		{"camera", figure("level", "-4°"), "Roll"},
		{"camera", pick("own-aspect", "2.39:1"), "Frame"},
		{"camera", press("[data-act=fit-camera]"), "Fit the camera"},
		{"camera", name("camera-name", "Low", "keep-camera"), "Save the camera Low"},
	} {
		w.choose("What is shown beside", act.tab)
		w.js("document.activeElement.blur()")
		if act.tab == "light" { // the first lamp is chosen, when those of the setting are known again
			w.wait("document.querySelectorAll('[data-lamp]').length === 3 && document.querySelector('[data-lamp]').dataset.lamp === 'Key'")
			w.js("document.querySelector('[data-lamp]').click()")
		}
		act.do()
		w.takenBack(s, id, act.undo, before)
	}
	// A part by itself, and only its bevels; the page says what they are made of, and keeps
	// it by a name.
	w.choose("What is shown beside", "surface")
	w.js("[...document.querySelectorAll('.part')].find((p) => p.textContent.includes('Red')).click()")
	w.pick("[data-scene=faces]", "bevel")
	w.click("[data-material='Neon']")
	w.undone("Neon of Red")
	w.wait("document.querySelector('[data-material=Neon]').getAttribute('aria-pressed') === 'true'")
	name("material-name", "Harbour light", "keep-material")()
	w.undone("Save Harbour light")
	w.wait("document.querySelector(`[data-material='Harbour light'] img`).complete")
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	list, own := p.Recipe.Scene.Paints, p.Recipe.Scene.Own
	if len(list) != 1 || list[0].Part != "ca33333" || list[0].Faces != "bevel" || list[0].Material.Glow == 0 {
		t.Errorf("painted: %+v", list)
	}
	if len(own) != 1 || own[0].Glow != list[0].Material.Glow || own[0].Name != "Harbour light" {
		t.Errorf("kept: %+v", own)
	}
	// It survives a reload, and the picture is traced over the live view.
	w.reload()
	w.wait("document.body.dataset.lit && document.getElementById('undo').title.startsWith('Undo: Save Harbour light')")
	w.click("[data-choice=picture]")
	w.wait("document.body.dataset.shown === 'rough' || document.body.dataset.shown === 'fine'")
	w.wait("document.querySelector('.showframe img').style.visibility === 'visible'")
	// Figures that there can't be are refused beside their field.
	w.choose("What is shown beside", "camera")
	w.set("focal", "2 mm")
	w.wait("document.querySelector('[data-field=focal]').closest('.field-row').textContent.includes('Between 8 mm and 2000 mm')")
}

// TestTheSceneIsTakenHoldOf drags the camera in the picture, lamps in the picture and on the
// plan, and does the same by keys.
func TestTheSceneIsTakenHoldOf(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := showing(t, s, id)
	w.choose("What is shown beside", "light")
	before := s.document(id)
	box := func(selector string) [2]float64 {
		t.Helper()
		w.wait("document.querySelector(`" + selector + "`)")
		return w.place("document.querySelector(`" + selector + "`).getBoundingClientRect()")
	}
	by := func(selector string, dx, dy float64) func() {
		return func() {
			t.Helper()
			at := box(selector)
			w.drag(at, [2]float64{at[0] + dx, at[1] + dy})
		}
	}
	// keyed presses a key on something that has the focus.
	keyed := func(selector, key string) func() {
		return func() {
			w.js("document.querySelector(`" + selector + "`).focus()")
			w.key(key)
		}
	}
	scene := func() recipe.Scene { return s.recipe(id).Scene }
	for _, act := range []struct {
		name  string
		do    func()
		undo  string
		moved func(c recipe.Camera, lamps []recipe.Lamp) bool
	}{
		{"the camera dragged", by(".showframe canvas", 60, 0), "Camera", func(c recipe.Camera, _ []recipe.Lamp) bool {
			return c.Turn < -30 && c.Distance == 0
		}},
		{"the camera by key", keyed(".showframe canvas", arrowRight), "Camera", func(c recipe.Camera, _ []recipe.Lamp) bool { return c.Turn == -19 }},
		{"nearer by key", keyed(".showframe canvas", "+"), "Camera", func(c recipe.Camera, _ []recipe.Lamp) bool { return c.Distance > 0 }},
		{"the camera on the plan", by("[data-plan=camera]", 40, 0), "Camera", func(c recipe.Camera, _ []recipe.Lamp) bool { return c.Turn > -15 }},
		{"a lamp on the plan", by("[data-plan=Key]", 20, 10), "Place of Key", func(_ recipe.Camera, l []recipe.Lamp) bool {
			return len(l) == 3 && l[0].At[0] > -160 && l[0].At[2] > 150
		}},
		{"its aim on the plan", by(".plan .aim", 12, 0), "Place of Key", func(_ recipe.Camera, l []recipe.Lamp) bool {
			return len(l) == 3 && l[0].Aim[0] > 5
		}},
		{"a lamp by key", keyed("[data-plan=Fill]", arrowLeft), "Place of Fill", func(_ recipe.Camera, l []recipe.Lamp) bool {
			return len(l) == 3 && l[1].At[0] < 200
		}},
	} {
		act.do()
		w.undone(act.undo)
		if sc := scene(); !act.moved(sc.Camera, sc.Lamps) {
			t.Errorf("%s: %+v %+v", act.name, sc.Camera, sc.Lamps)
		}
		w.takenBack(s, id, act.undo, before)
		w.wait("document.body.dataset.shown === 'live' && !document.querySelector('.planbox').hidden")
	}
	// A lamp in the picture: one that is seen.
	lamps := []recipe.Lamp{{Kind: "panel", Name: "Low", At: [3]float64{20, 20, 10}, Size: [2]float64{30, 30}, Strength: 0}}
	s.change(id, "A lamp in sight", &recipe.SetScene{Lamps: &lamps})
	w.wait("document.querySelector('[data-mark=Low]')")
	before = s.document(id)
	at := box("[data-mark=Low] circle")
	w.drag(at, [2]float64{at[0] - 30, at[1]})
	w.undone("Place of Low")
	if l := scene().Lamps[0]; l.At[0] > 15 || l.At == lamps[0].At {
		t.Errorf("dragged to %v", l.At)
	}
	w.takenBack(s, id, "Place of Low", before)
	w.choose("What is shown beside", "camera")
	w.click("[data-scene=margins]")
	w.wait("document.querySelectorAll('.over .safe').length === 2")
	// A panorama is dropped on the page.
	w.js(`(() => {
		const head = "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 2 +X 4\n";
		const d = new DataTransfer();
		d.items.add(new File([head, new Uint8Array(32).fill(129)], "quay.hdr"));
		document.body.dispatchEvent(new DragEvent("drop", {dataTransfer: d, bubbles: true, cancelable: true}));
	})()`)
	w.undone("Surroundings quay.hdr")
	w.takenBack(s, id, "Surroundings quay.hdr", before)
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
