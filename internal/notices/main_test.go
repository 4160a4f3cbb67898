package main

import (
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"bildhauer/notices"
)

// known tells works with their texts in full; of the language only its name, for its version is
// that of whoever builds.
func known(l notices.List) (out []string) {
	for _, w := range l.Works {
		say := fmt.Sprintln(w.Name, w.Version, w.Source)
		for _, t := range w.Texts {
			if w.Name != "Go" {
				say += l.Texts[t]
			}
		}
		out = append(out, say)
	}
	return out
}

// TestNothingIsForgotten collects the licences anew: those in the program are the same. A new module
// or a new embedded file fails here until `make notices` has been run and its licence is there.
func TestNothingIsForgotten(t *testing.T) {
	root, err := exec.Command("go", "list", "-m", "-f", "{{.Dir}}").Output()
	if err != nil {
		t.Fatal(err)
	}
	top := strings.TrimSpace(string(root))
	data, err := collect(top)
	if err != nil {
		t.Fatal(err)
	}
	var now notices.List
	if err := json.Unmarshal(data, &now); err != nil {
		t.Fatal(err)
	}
	in, err := notices.Read()
	if err != nil {
		t.Fatal(err)
	}
	want, have := known(now), known(in)
	for _, w := range want {
		if !slices.Contains(have, w) {
			t.Errorf("not among the notices (make notices): %.80s", w)
		}
	}
	if len(have) != len(want) || len(have) < 40 {
		t.Errorf("%d works are noted, %d are in the program", len(have), len(want))
	}
	for _, w := range in.Works {
		if len(w.Texts) == 0 || len(in.Texts[w.Texts[0]]) < 400 {
			t.Errorf("%s has no licence text", w.Name)
		}
	}
	var out strings.Builder
	if err := in.Write(&out); err != nil || !strings.Contains(out.String(), "Mozilla Public License") ||
		!strings.Contains(out.String(), "the tag v1.61.0") || strings.Contains(out.String(), top) {
		t.Error("the source of what is under the Mozilla licence is not told")
	}
}

// TestUnknownFilesAreRefused embeds a file that nobody has named.
func TestUnknownFilesAreRefused(t *testing.T) {
	dir := t.TempDir()
	var p pkg
	raw := `{"Dir": "` + filepath.ToSlash(filepath.Join(dir, "web")) + `", "EmbedFiles": ["static/vendor/new.min.js"], "Module": {"Path": "x", "Main": true}}`
	if err := json.Unmarshal([]byte(raw), &p); err != nil {
		t.Fatal(err)
	}
	c := &collector{place: map[string]int{}}
	ship := &shipped{Own: []string{"web/static/js/*"}}
	if err := c.addShipped(dir, ship, []pkg{p}); err == nil || !strings.Contains(err.Error(), "web/static/vendor/new.min.js is embedded") {
		t.Errorf("a file of others: %v", err)
	}
	p.EmbedFiles = []string{"static/js/lib/page.js"}
	if err := c.addShipped(dir, ship, []pkg{p}); err != nil {
		t.Errorf("a file of our own: %v", err)
	}
	raw = `{"Shipped": [{"Name": "gone", "Files": ["x/*"], "Licence": "none"}]}`
	json.Unmarshal([]byte(raw), ship)
	if err := c.addShipped(dir, ship, nil); err == nil || !strings.Contains(err.Error(), "not in the program") {
		t.Errorf("one that went: %v", err)
	}
	// A module without a licence.
	os.MkdirAll(filepath.Join(dir, "m"), 0o700)
	raw = `{"Dir": "` + filepath.ToSlash(filepath.Join(dir, "m")) + `", "Module": {"Path": "x.org/m", "Dir": "` + filepath.ToSlash(filepath.Join(dir, "m")) + `"}}`
	var m pkg
	if err := json.Unmarshal([]byte(raw), &m); err != nil {
		t.Fatal(err)
	}
	if err := c.addModules([]pkg{m}); err == nil || !strings.Contains(err.Error(), "x.org/m has no licence text") {
		t.Errorf("a module without: %v", err)
	}
}
