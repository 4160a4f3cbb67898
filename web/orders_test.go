package web

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"image/png"
	"net/http"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/core/recipe"
)

// turning gives a piece a short turn.
func (s *site) turning(id string, frames int) {
	s.change(id, "Motion", &recipe.SetScene{Motion: &recipe.Motion{Frames: frames, Tracks: []recipe.Track{
		{Of: "piece", What: "turn", Keys: []recipe.Key{{Frame: 0, Ease: "even"}, {Frame: float64(frames), Value: 360}}},
	}}})
}

// TestResultsInThePage orders a picture and a clip, finds them after a reload, saves them in
// all ways, goes back to the scene of one, and removes them.
func TestResultsInThePage(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	s.turning(id, 6)
	w := showing(t, s, id)
	w.choose("What is shown beside", "results")
	w.wait("document.querySelector('.orders').textContent.includes('Nothing has been made')")
	w.set("side", "96 px")
	w.pick("[data-scene=quality]", "draft")
	w.key("\r", ctrlKey)
	w.wait("document.body.dataset.orders === '[\"done\"]' && document.querySelector('.order img').naturalWidth === 96")
	w.click("[data-act=make-frames]")
	w.wait("document.body.dataset.orders === '[\"done\",\"done\"]'")
	w.reload()
	w.wait("document.body.dataset.lit && document.body.dataset.orders === '[\"done\",\"done\"]'")
	w.wait("document.querySelector('.order').textContent.includes('6 frames')")

	hrefs := w.text("JSON.stringify([...document.querySelectorAll('.order a')].map(a => a.getAttribute('href')))")
	var links []string
	if err := json.Unmarshal([]byte(hrefs), &links); err != nil || len(links) != 3 {
		t.Fatalf("%s, %v", hrefs, err)
	}
	for _, link := range links {
		data := s.get(link)
		switch {
		case strings.HasSuffix(link, "frames.zip"):
			z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
			if err != nil || len(z.File) != 6 || z.File[5].Name != "frame-00005.png" {
				t.Errorf("the archive: %v", err)
			}
		case strings.HasSuffix(link, "clip.png"):
			if !bytes.Contains(data, []byte("acTL")) || bytes.Count(data, []byte("fcTL")) != 6 {
				t.Error("the APNG does not have six frames")
			}
			if img, err := png.Decode(bytes.NewReader(data)); err != nil || img.Bounds().Dx() != 96 {
				t.Errorf("as a still: %v", err)
			}
		default:
			if img, err := png.Decode(bytes.NewReader(data)); err != nil || img.Bounds().Dy() != 54 {
				t.Errorf("%s: %v", link, err)
			}
		}
	}
	if r, err := http.Get(s.address + links[2]); err != nil || !strings.Contains(r.Header.Get("Content-Disposition"), "plate.png") {
		t.Errorf("saved as %v, %v", r.Header, err)
	}
	// Finished frames become a clip in the browser.
	w.click("[data-order=clip]")
	w.wait("Number(document.body.dataset.clip) > 500")
	w.js("delete document.body.dataset.clip")
	w.click("[data-act=test-clip]")
	w.wait("Number(document.body.dataset.clip) > 500")
	// Back to the scene that it was made by, and that taken back.
	s.change(id, "Red", &recipe.PaintFaces{Material: &recipe.Material{Color: "#ff0000", Rough: 0.4}})
	w.undone("Red")
	painted := s.document(id)
	w.click("[data-order=use]")
	w.undone("Scene of a result")
	if p := s.recipe(id).Scene.Paints; len(p) != 0 {
		t.Errorf("painted: %v", p)
	}
	w.takenBack(s, id, "Scene of a result", painted)
	for range 2 {
		n := w.text("document.querySelectorAll('.order').length")
		w.click("[data-order=remove]")
		w.wait("document.querySelectorAll('.order').length < " + n)
	}
	w.wait("document.querySelector('.orders').textContent.includes('Nothing has been made')")
	// One that would take for ever is kept as it is, or ended.
	w.set("side", "400")
	w.pick("[data-scene=quality]", "final")
	w.click("[data-act=make-picture]")
	w.wait("document.querySelector('.order progress')?.value > 0")
	w.click("[data-order=stop]")
	w.wait("document.body.dataset.orders === '[\"done\"]' && document.querySelector('.order').textContent.includes('samples a pixel')")
}

// TestOrdersAreRefused asks for what there can't be, by way of the server.
func TestOrdersAreRefused(t *testing.T) {
	s := run(t, t.TempDir(), false)
	c := s.client()
	id := s.made("plate.svg", disc)
	base := "/pieces/" + id + "/orders"
	for body, want := range map[string]string{
		`{"width":10000,"height":10,"samples":1}`:           "between 1 and 8192 pixels",
		`{"width":10,"height":10,"samples":1,"clip":true}`:  "does not move yet",
		`{"width":10,"height":10,"samples":1,"format":"x"}`: "Pictures are written as png",
	} {
		if code, said := c.post(base, body); code != http.StatusUnprocessableEntity || !strings.Contains(said, want) {
			t.Errorf("%s: %d %s", body, code, said)
		}
	}
	for path, want := range map[string]int{
		base + "/none/stop": 422, base + "/none/dance": 404, base + "/none/use": 422, "/pieces/" + id + "/move": 422,
	} {
		if code, said := c.post(path, `{"move":"waltz"}`); code != want {
			t.Errorf("%s: %d %s", path, code, said)
		}
	}
	for _, path := range []string{base + "/none/0", base + "/none/look", base + "/none/frames.zip", base + "/none/clip.png"} {
		if code, _ := c.send("GET", path, "", nil); code != 422 && code != 404 && code != 204 {
			t.Errorf("%s: %d", path, code)
		}
	}
	code, said := c.post(base, `{"width":8,"height":8,"samples":1}`)
	if code != http.StatusOK {
		t.Fatalf("%d %s", code, said)
	}
	w := open(t, s.address+"/pieces/"+id+"/show")
	w.wait("document.body.dataset.orders === '[\"done\"]'")
	var made struct{ ID string }
	json.Unmarshal([]byte(said), &made)
	if code, _ := c.send("GET", fmt.Sprintf("%s/%s/1", base, made.ID), "", nil); code != 404 {
		t.Errorf("a second file: %d", code)
	}
	// Of another piece it can't be had.
	other := s.made("other.svg", disc)
	if code, _ := c.send("GET", "/pieces/"+other+"/orders/"+made.ID+"/0", "", nil); code != 422 {
		t.Errorf("from another piece: %d", code)
	}
	w.do(chromedp.Reload())
	w.wait("document.body.dataset.orders === '[\"done\"]'")
}

// clipAlpha plays the last frame of a clip in a page that has nothing else: the alpha in its corner and in its middle.
// A busy browser says that it has sought before it has the frame to draw: it is drawn until there is something in it.
const clipAlpha = `((address) => {
	delete document.body.dataset.alpha;
	const video = document.createElement("video");
	video.muted = true;
	video.src = address;
	video.onloadeddata = () => { video.currentTime = 0.05; };
	video.onseeked = () => {
		const canvas = document.createElement("canvas");
		[canvas.width, canvas.height] = [video.videoWidth, video.videoHeight];
		const pen = canvas.getContext("2d");
		const at = (x, y) => pen.getImageData(x * canvas.width, y * canvas.height, 1, 1).data[3];
		const look = () => {
			pen.drawImage(video, 0, 0);
			if (at(0.5, 0.3) === 0) return setTimeout(look, 20);
			document.body.dataset.alpha = [at(0.02, 0.02), at(0.5, 0.3)].join(" ");
		};
		look();
	};
})`

// TestClipsKeepTheirAlpha makes clips of a disc on a clear ground and on a sweep, from frames and of the live view, and
// plays them: as WebM the ground stays clear, as MP4 and on a sweep nothing is.
func TestClipsKeepTheirAlpha(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	s.turning(id, 3)
	s.change(id, "Head on", &recipe.SetScene{Camera: &recipe.Camera{Turn: 0.1}})
	player := open(t, "about:blank")
	for n, kind := range []string{"clear", "sweep"} {
		s.change(id, kind, &recipe.SetScene{Backdrop: &recipe.Backdrop{Kind: kind}})
		w := shown(t, s, id, sharp)
		w.js(`(() => { const was = URL.createObjectURL; URL.createObjectURL = (b) => { if (b.type.startsWith("video")) {
			const r = new FileReader(); r.onload = () => { document.body.dataset.handed = r.result; }; r.readAsDataURL(b); } return was(b); }; })()`)
		w.choose("What is shown beside", "results")
		w.set("side", "96 px")
		w.pick("[data-scene=quality]", "draft")
		w.click("[data-act=make-frames]")
		w.wait("document.body.dataset.orders === JSON.stringify(Array(" + strconv.Itoa(n+1) + ").fill('done'))")
		clear := "0 255"
		if kind == "sweep" {
			clear = "255 255"
		}
		for _, c := range []struct{ ending, button, want string }{
			{"webm", "[data-order=clip]", clear}, {"webm", "[data-act=test-clip]", clear}, {"mp4", "[data-order=clip]", "255 255"},
		} {
			w.pick("[data-scene=clip-kind]", c.ending)
			w.js("delete document.body.dataset.handed")
			w.click(c.button)
			w.wait("document.body.dataset.handed")
			player.js(clipAlpha + "('" + w.text("document.body.dataset.handed") + "')")
			player.wait("document.body.dataset.alpha")
			if got := player.text("document.body.dataset.alpha"); got != c.want {
				t.Errorf("%s by %s on a %s ground: alpha %s, want %s", c.ending, c.button, kind, got, c.want)
			}
		}
	}
}

// TestABrowserThatEncodesNothing gets quick frames from the server instead of a test clip,
// and is told so; and a clip longer than what is told at once is played to its end.
func TestABrowserThatEncodesNothing(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	s.turning(id, 3)
	w := showing(t, s, id)
	w.choose("What is shown beside", "results")
	w.js("delete window.VideoEncoder")
	w.click("[data-act=test-clip]")
	w.wait("document.getElementById('messages').textContent.includes('saved as an APNG')")
	w.wait("document.body.dataset.orders === '[\"done\"]' && document.querySelector('.order').textContent.includes('3 frames')")
	// Its frames can't become a clip here either.
	w.click("[data-order=clip]")
	w.wait("document.getElementById('messages').textContent.includes('ZIP or an APNG')")

	s.turning(id, 700)
	w.undone("Motion")
	w.wait("document.querySelector('[data-time=seconds]').value === '28'")
	w.js("(f => { f.value = '650'; f.dispatchEvent(new Event('change')); })(document.querySelector('[data-time=frame]'))")
	w.wait("document.body.dataset.frame === '650'")
	// The frame is another one than the last that was told at first.
	w.wait("performance.getEntriesByType('resource').some(e => e.name.includes('live?from=600'))")
	// Without the loop it stops by itself, however slowly it is drawn.
	w.click("[data-time=loop]")
	w.key(" ")
	w.wait("!document.body.dataset.playing && document.body.dataset.frame === '699'")
	// The page says what there can't be.
	w.set("to", "5000")
	w.click("[data-act=make-frames]")
	w.wait("document.getElementById('messages').textContent.includes('The clip has the frames 0 to 699')")
}
