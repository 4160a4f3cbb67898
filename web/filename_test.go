package web

import (
	"net/http"
	"strings"
	"testing"

	"bildhauer/core/recipe"
)

// TestFileNamesKeepTheirLetters goes through names of pieces in many scripts, and such as no system takes.
func TestFileNamesKeepTheirLetters(t *testing.T) {
	for name, want := range map[string]string{
		"Compass badge":          "compass-badge",
		"Größe 12":               "größe-12",
		"Gro\u0308ße":            "größe", // the same letters, one of them made of two
		"港の看板":                   "港の看板",
		"Знак":                   "знак",
		"شعار":                   "شعار",
		"a/b\\c:d*e?f\"g":        "abcdefg",
		"../../etc/pass":         "etcpass",
		"  -- x __ y - ":         "x-y",
		"CON":                    "con-piece",
		"…":                      "piece",
		"\x00\n\u202e":           "piece",
		strings.Repeat("ä", 200): strings.Repeat("ä", 89),
	} {
		if got := fileName(name); got != want {
			t.Errorf("%q is %q, not %q", name, got, want)
		}
	}
}

// TestADownloadHasTheNameOfItsPiece fetches a file of a piece whose name has letters of its own: the answer tells it as
// it is, and the page hands it over so.
func TestADownloadHasTheNameOfItsPiece(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	s.change(id, "Name", &recipe.SetName{Name: "Größe 港"})
	r, err := http.Get(s.address + "/pieces/" + id + "/file/svg")
	if err != nil {
		t.Fatal(err)
	}
	r.Body.Close()
	want := `attachment; filename="gr__e-_.svg"; filename*=UTF-8''gr%C3%B6%C3%9Fe-%E6%B8%AF.svg`
	if got := r.Header.Get("Content-Disposition"); got != want {
		t.Errorf("it is %s, not %s", got, want)
	}
	w := small(t, s.address+"/pieces/"+id+"/release")
	w.showsStep("release")
	w.js("HTMLAnchorElement.prototype.click = function () { window.handed = this.download; }")
	w.click("[data-format=svg]")
	w.wait("window.handed === 'größe-港.svg'")
}
