package web

import (
	"io"
	"net/http"
	"testing"

	"bildhauer/studio"
)

// TestVersionsInThePage keeps states by mouse and by keyboard, compares, goes back, takes that back
// and takes a version away; the piece as one file comes back as a new piece.
func TestVersionsInThePage(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id, err := s.studio.Create(t.Context(), studio.File{Name: "sign.svg", Data: []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	w := open(t, s.address+"/pieces/"+id+"/size")
	w.showsStep("size")
	w.click("#versions")
	w.wait("document.querySelector('dialog.versions')?.dataset.versions === '0'")
	w.js("document.querySelector('.versionform input').value = 'As it came'")
	w.click(".versionform button")
	w.wait("document.querySelector('dialog.versions').dataset.versions === '1'")
	w.js("document.querySelector('dialog.versions').close()")
	before := s.document(id)
	w.js("(() => { const n = document.getElementById('piecename'); n.value = 'Another name'; n.dispatchEvent(new Event('change')); })()")
	w.undone("Name")
	changed := s.document(id)
	w.js("document.getElementById('versions').focus()")
	w.key(enterKey, 0)
	w.wait("document.querySelectorAll('.versionlist img').length === 1 && document.querySelector('.versionlist img').complete")
	w.click(".versionlist .acts button:nth-child(1)")
	w.wait("document.querySelectorAll('.apart tbody tr').length === 1 && document.querySelector('.apart td.now').textContent && " +
		"document.querySelectorAll('.overeach img').length === 2")
	if got := w.text("document.querySelector('.apart tbody td.now').textContent"); got != "Another name" {
		t.Errorf("what differs is %q", got)
	}
	w.click(".versionlist .acts button:nth-child(2)")
	w.undone("Back to As it came")
	w.wait("!document.querySelector('dialog.versions')")
	if got := s.document(id); got != before {
		t.Errorf("back is %s", got)
	}
	w.takenBack(s, id, "Back to As it came", changed)
	w.click("#versions")
	w.wait("document.querySelectorAll('.versionlist img').length === 1")
	w.click(".versionlist .acts button:nth-child(3)")
	w.wait("document.querySelector('dialog.versions').dataset.versions === '0' && document.querySelector('.versionlist .hint')")
	r, err := http.Get(s.address + "/pieces/" + id + "/piece.zip")
	if err != nil {
		t.Fatal(err)
	}
	data, _ := io.ReadAll(r.Body)
	if code, body := s.client().upload("/pieces", studio.File{Name: "sign.zip", Data: data}); code != 200 {
		t.Errorf("brought back: %d %s", code, body)
	}
	if list, _ := s.studio.Pieces(t.Context()); len(list) != 2 || list[0].Recipe.Name != "Another name" {
		t.Errorf("%d pieces", len(list))
	}
}
