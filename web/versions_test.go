package web

import (
	"io"
	"net/http"
	"testing"

	"bildhauer/core/recipe"
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
	// Both as solids, turned together by keyboard and by mouse.
	w.wait("document.querySelector('.twins').dataset.yaw === '0.55' && !document.querySelector('.twins .hint')")
	w.js("document.querySelector('.twins canvas').focus()")
	w.key(arrowRight, 0)
	w.wait("document.querySelector('.twins').dataset.yaw === '0.67'")
	w.js("document.querySelector('.twins').scrollIntoView({ block: 'center' })")
	at := w.place("document.querySelector('.twins canvas').getBoundingClientRect()")
	w.drag(at, [2]float64{at[0] + 50, at[1]})
	w.wait("document.querySelector('.twins').dataset.yaw === '0.27'")
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
	// The message lies above the dialog, and takes it back; so does the page of all pieces.
	w.click("dialog.versions .message-line .answer")
	w.wait("document.querySelector('dialog.versions').dataset.versions === '1'")
	w.click(".versionlist .acts button:nth-child(3)")
	w.wait("document.querySelector('dialog.versions').dataset.versions === '0'")
	back := open(t, s.address+"/")
	back.wait("document.body.dataset.work !== undefined && !document.getElementById('deleted').hidden")
	back.click("#deleted summary")
	back.click("#deletedlist button")
	back.wait("document.getElementById('deleted').hidden")
	if list, err := s.studio.Versions(t.Context(), id); err != nil || len(list) != 1 {
		t.Errorf("%d versions, %v", len(list), err)
	}
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

// TestSolidsOfVersions asks for a body as a version has it and as it is: each by its own key and
// depth, and a version of another piece is none.
func TestSolidsOfVersions(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id, other := s.id("Tide clock"), s.id("Gull crest")
	c := s.client()
	v, err := s.studio.KeepVersion(t.Context(), id, "Flat")
	if err != nil {
		t.Fatal(err)
	}
	const face = "cf3ead8"
	deep := 33.0
	one := recipe.PartPatch{}
	one.Depth = &deep
	s.change(id, "Depth", &recipe.EditParts{Parts: map[string]recipe.PartPatch{face: one}})
	ask := func(version string) unpacked {
		t.Helper()
		code, text := c.post("/pieces/"+id+"/data/solids", `{"parts":["`+face+`"],"version":"`+version+`"}`)
		if code != 200 {
			t.Fatalf("version %q: %d %s", version, code, text)
		}
		return unpack(t, []byte(text))
	}
	then, now := ask(v.ID), ask("")
	if then.Key == now.Key || now.Depth != deep || then.Depth >= deep {
		t.Errorf("then %g mm, now %g", then.Depth, now.Depth)
	}
	for path, want := range map[string]int{
		"/pieces/" + id + "/versions/" + v.ID + "/state": 200, "/pieces/" + other + "/versions/" + v.ID + "/state": 404,
	} {
		if code, text := c.send("GET", path, "", nil); code != want {
			t.Errorf("%s: %d %s", path, code, text)
		}
	}
}
