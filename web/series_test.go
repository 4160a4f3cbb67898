package web

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"

	"bildhauer/studio"
)

const square = `<svg xmlns="http://www.w3.org/2000/svg" width="60" height="60"><rect width="60" height="60" fill="#336699"/></svg>`

// TestManyFilesAtOnce drops files of which one can't be read and two have one name, chooses a
// recipe, and gets a line for each and one archive; the page may be left meanwhile.
func TestManyFilesAtOnce(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/")
	w.wait("document.body.dataset.ready")
	w.drop("quay.svg", square, "pier.svg", disc, "broken.svg", "<svg", "Quay.svg", square)
	w.wait("document.querySelector('dialog.ask')")
	w.js("[...document.querySelectorAll('.bigchoice')].find(b => b.textContent.includes('Many at once')).click()")
	w.wait("document.querySelector('[data-act=begin-series]')?.textContent === 'Raise 4 files'")
	w.pick("[data-scene=series-recipe]", "Soft badge")
	w.pick("[data-scene=series-format]", "stl")
	w.set("series.width", "5 cm")
	w.click("[data-act=begin-series]")
	w.wait("document.body.dataset.series === 'over'")
	if got := w.text("[...document.querySelectorAll('.serieslines li')].map(l => l.className).join()"); got != "done,done,failed,done" {
		t.Errorf("lines: %s", got)
	}
	if got := w.text("document.querySelector('.serieslines .failed').textContent"); !strings.Contains(got, "broken.svg") || len(got) < 40 {
		t.Errorf("the failure says %q", got)
	}
	// Left by Escape and by loading the page anew, it is found again.
	w.key(escapeKey)
	w.wait("!document.body.dataset.series && document.querySelector('[data-work=series]')")
	w.do(chromedp.Reload())
	w.wait("document.querySelector('[data-work=series]')?.textContent.includes('3 ready, 1 stopped or failed')")
	w.click("[data-work=series] .acts button")
	w.wait("document.body.dataset.series === 'over' && document.querySelectorAll('.serieslines li').length === 4")
	id := s.studio.SeriesList()[0].ID
	data := s.get("/series/" + id + "/results.zip")
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	var names []string
	for _, f := range z.File {
		names = append(names, f.Name)
	}
	if got := strings.Join(names, " "); got != "quay.stl pier.stl Quay-2.stl failed.txt" {
		t.Errorf("the archive has %s", got)
	}
	// No piece was made of them.
	w.click("[data-act=series-close]")
	w.wait("!document.body.dataset.series && document.querySelector('.empty')")
	// What was fetched is not listed any more; one that was not is, until it is removed.
	w.wait("document.body.dataset.work === '0' && document.getElementById('work').hidden")
	if code, said := s.client().upload("/series?format=svg", studio.File{Name: "a.svg", Data: []byte(square)}); code != http.StatusOK {
		t.Fatalf("%d %s", code, said)
	}
	w.do(chromedp.Reload())
	w.wait("document.querySelector('[data-work=series] .danger')")
	w.click("[data-work=series] .danger")
	w.wait("document.body.dataset.work === '0'")
	if list := s.studio.SeriesList(); len(list) != 0 {
		t.Errorf("%d series are left", len(list))
	}
	w.drop("sign.json", "{}")
	w.wait("document.getElementById('messages').textContent.includes('together with the artwork')")
}

// TestSeriesByRequest sends a recipe document along, asks for what there can't be, and cancels.
func TestSeriesByRequest(t *testing.T) {
	s := run(t, t.TempDir(), false)
	c := s.client()
	start := func(query string, files ...string) (int, string) {
		var list []studio.File
		for i := 0; i < len(files); i += 2 {
			list = append(list, studio.File{Name: files[i], Data: []byte(files[i+1])})
		}
		return c.upload("/series?"+query, list...)
	}
	for _, bad := range []struct {
		query, want string
		files       []string
	}{
		{"format=obj", "written as stl", []string{"a.svg", square}},
		{"recipe=" + url.QueryEscape("No such"), "not saved any more", []string{"a.svg", square}},
		{"width=wide", "wide", []string{"a.svg", square}},
		{"", "1 to 1000 files", []string{"sign.json", `{"version":4}`}},
		{"", "not readable", []string{"a.svg", square, "sign.json", "soup"}},
	} {
		if code, said := start(bad.query, bad.files...); code != http.StatusUnprocessableEntity || !strings.Contains(said, bad.want) {
			t.Errorf("%s: %d %s", bad.query, code, said)
		}
	}
	code, said := start("format=gcode", "a.svg", square, "sign.json", `{"version":4,"name":"Sign","parts":{"default":{"depth":3}},"print":{"layer":0.1}}`)
	var made struct{ ID string }
	if json.Unmarshal([]byte(said), &made); code != http.StatusOK || made.ID == "" {
		t.Fatalf("%d %s", code, said)
	}
	for over := false; !over; {
		x, err := s.studio.SeriesOf(made.ID)
		if err != nil {
			t.Fatal(err)
		}
		_, over = x.Lines()
	}
	data := s.get("/series/" + made.ID + "/results.zip")
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil || len(z.File) != 1 || z.File[0].Name != "a.gcode" {
		t.Fatalf("%v", err)
	}
	f, _ := z.File[0].Open()
	var code30 bytes.Buffer
	code30.ReadFrom(f)
	if n := strings.Count(code30.String(), "\n; layer "); n != 29 {
		t.Errorf("a piece 3 mm high in layers of 0.1 mm, the first 0.2 mm, has %d", n)
	}
	if code, _ := c.post("/series/"+made.ID+"/cancel", ""); code != http.StatusOK {
		t.Errorf("cancelled when it was over: %d", code)
	}
	if code, said := c.send("GET", "/series/none", "", nil); code != http.StatusUnprocessableEntity || !strings.Contains(said, "not there any more") {
		t.Errorf("%d %s", code, said)
	}
}

// TestTheSheetIsPrinted looks at the page to print: picture, measures, every part.
func TestTheSheetIsPrinted(t *testing.T) {
	was := sheetSamples
	sheetSamples = 1
	t.Cleanup(func() { sheetSamples = was })
	s := run(t, t.TempDir(), true)
	w := open(t, s.address+"/pieces/"+s.id("Pier key tag")+"/sheet")
	w.wait("document.images[0].complete && document.images[0].naturalWidth === 960")
	text := w.text("document.querySelector('.printpage').innerText.replace(/\\s+/g, ' ')")
	for _, want := range []string{"Pier key tag", "68 × 33.3 × 2.4 mm", "Lettering", "Outline", "g of PLA", "12 layers of 0.2 mm"} {
		if !strings.Contains(text, want) {
			t.Errorf("the sheet lacks %q: %s", want, text)
		}
	}
}
