package web

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"bildhauer/studio"
)

// TestHome renames, duplicates, deletes and brings back.
func TestHome(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := open(t, s.address+"/")
	w.wait(
		"document.querySelectorAll('.piececard').length === 9 && [...document.images].every(i => i.complete && i.naturalWidth)",
	)
	w.wait("document.body.dataset.work !== undefined")
	id := s.id("Compass badge")
	card := fmt.Sprintf(`document.querySelector('[data-id="%s"]')`, id)
	w.js(card + `.querySelector('[data-act=rename]').click()`)
	w.js(
		`(f => { f.value = "Badge <b>"; f.dispatchEvent(new KeyboardEvent("keydown", {key: "Enter"})); })(` + card + `.querySelector('input'))`,
	)
	w.wait(card + `.querySelector('.name')?.textContent === 'Badge <b>'`)
	w.js(card + `.querySelector('[data-act=duplicate]').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 10")
	s.id("Badge <b> (copy)")
	w.js(card + `.querySelector('[data-act=delete]').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 9")
	w.js(`[...document.querySelectorAll('.message-line button')].find(b => b.textContent === 'Undo').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 10")
	s.id("Badge <b>")
	// Long after the message is gone it is found below, with its day.
	w.js(card + `.querySelector('[data-act=delete]').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 9 && document.querySelectorAll('#deletedlist li').length === 1")
	w.do(chromedp.Reload())
	w.wait("document.body.dataset.work !== undefined && !document.getElementById('deleted').hidden")
	if got, want := w.text("document.querySelector('#deletedlist .soft').textContent"), time.Now().Add(studio.ForgetAfter).Format("2 January 2006"); got != "piece, goes on "+want {
		t.Errorf("what waits says %q", got)
	}
	w.js("document.querySelector('#deleted summary').focus()")
	w.key(enterKey, 0)
	w.js("document.querySelector('#deletedlist button').focus()")
	w.key(enterKey, 0)
	w.wait("document.querySelectorAll('.piececard').length === 10 && document.getElementById('deleted').hidden")
	s.id("Badge <b>")
	// What others made is told, to the last of them.
	w.click(".homefoot a")
	w.wait("document.querySelectorAll('.noticepage details').length > 40")
	w.js("document.querySelector('.noticepage details:last-of-type').open = true")
	w.js("document.querySelector('.noticepage').scrollTo(0, 1e6)")
	w.wait("document.querySelector('.noticepage details:last-of-type pre').getBoundingClientRect().bottom < innerHeight")
	w.do(chromedp.Navigate(s.address + "/"))
	w.wait("document.body.dataset.work !== undefined")
	// What can't be read says why, and all pieces stay.
	w.drop("notes.txt", "hello")
	w.wait(
		"document.querySelector('.message-line.bad')?.textContent.includes('notes.txt is not an SVG, EPS, AI or PDF file')",
	)
	if list, _ := s.studio.Pieces(t.Context()); len(list) != 10 {
		t.Errorf("%d pieces", len(list))
	}
}

// TestLargeUploadIsRefused sends 40 MB.
func TestLargeUploadIsRefused(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/")
	big := filepath.Join(t.TempDir(), "big.svg")
	if err := os.WriteFile(big, bytes.Repeat([]byte(" "), 40<<20), 0o644); err != nil {
		t.Fatal(err)
	}
	w.do(chromedp.SetUploadFiles(chromedp.CSS("#file"), []string{big}))
	w.wait("document.querySelector('.message-line.bad')?.textContent.includes('big.svg has 40 MB')")
}
