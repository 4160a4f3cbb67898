package web

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
)

// TestTheScriptInTheDocs runs what docs/http.md shows, as it stands there, where there is a curl: a drawing becomes a
// piece of the width and depth that were asked for, and a solid comes back.
func TestTheScriptInTheDocs(t *testing.T) {
	doc, err := os.ReadFile("../docs/http.md")
	if err != nil {
		t.Fatal(err)
	}
	s := run(t, t.TempDir(), false)
	script := ""
	for _, block := range regexp.MustCompile("(?s)```sh\n(.*?)```").FindAllSubmatch(doc, -1) {
		script += string(block[1])
	}
	here := strings.Replace(script, "http://127.0.0.1:8473", s.address, 1)
	if here == script || !strings.Contains(here, "ask ") {
		t.Fatal("the script isn't found")
	}
	if _, err := exec.LookPath("curl"); err != nil {
		t.Skip("there is no curl")
	}
	dir := t.TempDir()
	if err := os.WriteFile(filepath.Join(dir, "sign.svg"), []byte(disc), 0o600); err != nil {
		t.Fatal(err)
	}
	sh := exec.CommandContext(t.Context(), "sh", "-e", "-c", here)
	sh.Dir = dir
	if out, err := sh.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	state, err := os.ReadFile(filepath.Join(dir, "state.json"))
	if err != nil || !strings.Contains(string(state), `"undo":"Larger, deeper"`) || !strings.Contains(string(state), `"mm":240`) {
		t.Errorf("%v: the state is %.300s", err, state)
	}
	solid, err := os.ReadFile(filepath.Join(dir, "sign.stl"))
	if err != nil || len(solid) < 84+50*12 || (len(solid)-84)%50 != 0 {
		t.Errorf("%v: the solid has %d bytes", err, len(solid))
	}
}

// TestDocumentedRequestsAreThere asks the application for each request that docs/http.md lists: none is unknown.
func TestDocumentedRequestsAreThere(t *testing.T) {
	doc, err := os.ReadFile("../docs/http.md")
	if err != nil {
		t.Fatal(err)
	}
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	c := s.client()
	found := 0
	for _, m := range regexp.MustCompile("`(GET|POST) (/[^` ]*)`").FindAllStringSubmatch(string(doc), -1) {
		path := strings.NewReplacer("/pieces/ID", "/pieces/"+id, "REV", "0", "FORMAT", "svg", "/series/ID", "/series/none", "NAME", "none").Replace(m[2])
		if strings.HasSuffix(path, "/events") { // it has no end
			continue
		}
		found++
		if code, body := c.send(m[1], path, "", nil); code == 405 || code == 404 && !strings.Contains(path, "none") {
			t.Errorf("%s %s: %d %.200s", m[1], path, code, body)
		}
	}
	if found < 12 {
		t.Errorf("only %d requests are listed", found)
	}
}
