package web

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
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
	w.undone("Smooth by")
	w.wait(rows + " === 2")
}
