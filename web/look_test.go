package web

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/internal/browser"
)

// TestBlackKeepsItsForm looks at black lettering in its own colours: fronts, sides and tops are told apart, and edges are
// smooth once the view rests.
func TestBlackKeepsItsForm(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("black.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="80"><path fill="#000000" d="M10 10H110V30H40V70H10Z"/></svg>`)
	w := window(t, s.address+"/pieces/"+id+"/raise", browser.Width, browser.Height, sharp)
	w.wait(settled)
	w.click("[data-choice=colours]")
	w.wait("document.body.dataset.fine")
	w.js("new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r))).then(() => (document.body.dataset.seen = 1))")
	w.wait("document.body.dataset.seen")
	shot, err := chromedp.Run(w.ctx, chromedp.CaptureScreenshot())
	if err != nil {
		t.Fatal(err)
	}
	m, err := png.Decode(bytes.NewReader(shot))
	if err != nil {
		t.Fatal(err)
	}
	view := image.Rect(240, 60, 940, 680) // within the view
	// What is dark belongs to the piece; its tones are counted where they cover more than a hundredth of it.
	tones := map[int]int{}
	all := 0
	for y := view.Min.Y; y < view.Max.Y; y++ {
		for x := view.Min.X; x < view.Max.X; x++ {
			r, g, b, _ := m.At(x, y).RGBA()
			tone := int(0.2126*float64(r>>8) + 0.7152*float64(g>>8) + 0.0722*float64(b>>8))
			if tone < 150 {
				tones[tone/4]++
				all++
			}
		}
	}
	var seen []int
	for tone := range 38 {
		if tones[tone]*100 > all*2 && (len(seen) == 0 || 4*(tone-seen[len(seen)-1]) >= 8) {
			seen = append(seen, tone)
		}
	}
	// Before what it mirrors was laid over them, all tones of this piece lay within 16 of 255.
	if len(seen) < 3 || 4*(seen[len(seen)-1]-seen[0]) < 40 {
		t.Errorf("a black piece has the tones %v of %v", seen, tones)
	}
}
