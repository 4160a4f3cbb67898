package web

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// TestHome renames, duplicates, deletes and brings back.
func TestHome(t *testing.T) {
	s := run(t, t.TempDir(), true)
	w := open(t, s.address+"/")
	w.wait(
		"document.querySelectorAll('.piececard').length === 5 && [...document.images].every(i => i.complete && i.naturalWidth)",
	)
	id := s.id("Compass badge")
	card := fmt.Sprintf(`document.querySelector('[data-id="%s"]')`, id)
	w.js(card + `.querySelector('[data-act=rename]').click()`)
	w.js(
		`(f => { f.value = "Badge <b>"; f.dispatchEvent(new KeyboardEvent("keydown", {key: "Enter"})); })(` + card + `.querySelector('input'))`,
	)
	w.wait(card + `.querySelector('.name')?.textContent === 'Badge <b>'`)
	w.js(card + `.querySelector('[data-act=duplicate]').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 6")
	s.id("Badge <b> (copy)")
	w.js(card + `.querySelector('[data-act=delete]').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 5")
	w.js(`[...document.querySelectorAll('.message-line button')].find(b => b.textContent === 'Undo').click()`)
	w.wait("document.querySelectorAll('.piececard').length === 6")
	s.id("Badge <b>")
	// What can't be read says why, and all pieces stay.
	w.drop("notes.txt", "hello")
	w.wait(
		"document.querySelector('.message-line.bad')?.textContent.includes('notes.txt is not an SVG, EPS, AI or PDF file')",
	)
	if list, _ := s.studio.Pieces(t.Context()); len(list) != 6 {
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
