package web

import (
	"bytes"
	"encoding/base64"
	"image"
	"image/color"
	"image/png"
	"io"
	"net/http"
	"testing"

	"bildhauer/studio"
)

// TestABitmapIsTraced makes a piece of a picture, traces it in other ways in Intake, and takes
// each back.
func TestABitmapIsTraced(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 120, 60))
	for y := range 60 {
		for x := range 120 {
			c := color.RGBA{255, 255, 255, 255}
			switch {
			case x > 10 && x < 60 && y > 10 && y < 50:
				c = color.RGBA{40, 60, 120, 255}
			case x > 70 && x < 110 && y > 10 && y < 50:
				c = color.RGBA{200, 90, 40, 255}
			case x >= 2 && x < 5 && y >= 2 && y < 5: // a speck of 9 px
				c = color.RGBA{40, 60, 120, 255}
			}
			m.SetRGBA(x, y, c)
		}
	}
	var file bytes.Buffer
	png.Encode(&file, m)
	s := run(t, t.TempDir(), false)
	id, err := s.studio.Create(t.Context(), studio.File{Name: "sign.png", Data: file.Bytes()})
	if err != nil {
		t.Fatal(err)
	}
	w := open(t, s.address+"/pieces/"+id+"/intake")
	rows := "document.querySelectorAll('.shaperow').length"
	w.wait(rows + " === 2 && document.querySelector('.tracing') && " + kept)
	before := s.document(id)
	w.pick("[data-scene=trace-by-1]", "light")
	w.undone("Tracing")
	w.wait(rows + " === 1")
	w.takenBack(s, id, "Tracing", before)
	w.wait(rows + " === 2")
	w.pick("[data-scene=trace-by-1]", "colours")
	w.wait("document.querySelector('[data-field=\"trace.colours\"]') && " + kept)
	w.set("trace.colours", "1")
	w.undone("Colours")
	w.wait(rows + " === 1")
	w.set("trace.colours", "99")
	w.wait("document.querySelector('.tracing .field-error:not([hidden])')?.textContent.includes('Between')")
	w.key("z", ctrlKey)
	w.wait(rows + " === 2 && " + kept)
	w.set("trace.speckle", "20")
	w.undone("Specks up to")
	w.set("trace.smooth", "1")
	w.undone("Smoothing")
	w.wait(rows + " === 2")
	w.set("trace.corner", "179")
	w.undone("Corner angle")
	// The bitmap lies beneath, as large as what was traced from it, until it is not wanted.
	beneath := "document.querySelector('svg image').getBoundingClientRect().width"
	w.wait(beneath + " > 200 && getComputedStyle(document.querySelector('.shape')).fillOpacity === '0'")
	look := func(path string) (code int, kind string, body []byte) {
		r, err := http.Get(s.address + path)
		if err != nil {
			t.Fatal(err)
		}
		defer r.Body.Close()
		body, _ = io.ReadAll(r.Body)
		return r.StatusCode, r.Header.Get("Content-Type"), body
	}
	if code, kind, body := look("/pieces/" + id + "/sheets/1/picture"); code != 200 || kind != "image/png" || !bytes.Equal(body, file.Bytes()) {
		t.Errorf("the bitmap: %d, %v, %d bytes", code, kind, len(body))
	}
	w.click("[data-field=\"trace.beneath\"]")
	w.wait(beneath + " === 0 && getComputedStyle(document.querySelector('.shape')).fillOpacity === '1'")
	w.reload()
	w.wait(rows + " === 2 && " + beneath + " === 0")
	for _, path := range []string{"/pieces/" + id + "/sheets/2/picture", "/pieces/0123456789abcdef/sheets/1/picture"} {
		if code, _, _ := look(path); code != 404 {
			t.Errorf("%s: %d", path, code)
		}
	}
}

// TestBitmapsInADrawing lets the bitmap in a drawing become outlines by mouse and by keyboard, and
// takes it back.
func TestBitmapsInADrawing(t *testing.T) {
	m := image.NewGray(image.Rect(0, 0, 40, 40))
	for i := range m.Pix {
		m.Pix[i] = uint8(255 * (i / 20 % 2))
	}
	var file bytes.Buffer
	png.Encode(&file, m)
	doc := `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100"><rect width="90" height="90" fill="#396"/>` +
		`<image x="100" width="90" height="90" href="data:image/png;base64,` + base64.StdEncoding.EncodeToString(file.Bytes()) + `"/></svg>`
	s := run(t, t.TempDir(), false)
	id, err := s.studio.Create(t.Context(), studio.File{Name: "sign.svg", Data: []byte(doc)})
	if err != nil {
		t.Fatal(err)
	}
	w := open(t, s.address+"/pieces/"+id+"/intake")
	named := "[...document.querySelectorAll('.shaperow')].map((r) => r.textContent).join()"
	w.wait(named + ".includes('Frame of bitmap 1') && document.querySelectorAll('.tracing .checkline').length === 1")
	before := s.document(id)
	w.click("[data-field=\"trace.pictures\"]")
	w.wait(named + ".includes('Bitmap 1, area 1') && " + kept + " && document.querySelector('[data-scene=trace-by-1]')")
	w.takenBack(s, id, "Bitmaps in it", before)
	w.wait(named + ".includes('Frame of bitmap 1') && document.querySelectorAll('.tracing .checkline').length === 1")
	w.js("document.querySelector('[data-field=\"trace.pictures\"]').focus()")
	w.key(" ", 0)
	w.wait(named + ".includes('Bitmap 1, area 1') && " + kept)
	r, err := http.Get(s.address + "/pieces/" + id + "/sheets/1/picture")
	if err != nil || r.StatusCode != 404 {
		t.Errorf("a drawing as a picture: %v, %v", r, err)
	}
}
