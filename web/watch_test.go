package web

import (
	"regexp"
	"strings"
	"testing"

	"bildhauer/studio"
)

// TestThoseWhoWatch asks whether all is well, and for numbers: each line is one of Prometheus's
// text form, and they count what was done.
func TestThoseWhoWatch(t *testing.T) {
	s := run(t, t.TempDir(), false)
	c := s.client()
	if code, body := c.send("GET", "/healthz", "", nil); code != 200 || !strings.Contains(body, "true") {
		t.Errorf("health: %d %s", code, body)
	}
	if _, err := s.studio.Create(t.Context(), studio.File{Name: "sign.svg", Data: []byte(square)}); err != nil {
		t.Fatal(err)
	}
	c.send("GET", "/nowhere", "", nil)
	code, body := c.send("GET", "/metrics", "", nil)
	line := regexp.MustCompile(`^(# (HELP|TYPE) bildhauer_[a-z_]+ .+|bildhauer_[a-z_]+(\{[a-z]+="[^"]*"\})? [0-9.e+-]+)$`)
	for _, l := range strings.Split(strings.TrimSpace(body), "\n") {
		if !line.MatchString(l) {
			t.Errorf("a line is %q", l)
		}
	}
	for _, want := range []string{"bildhauer_pieces 1\n", `requests_total{code="4xx"} 1` + "\n", "bildhauer_diary_entries_total 0\n", "request_seconds_count "} {
		if code != 200 || !strings.Contains(body, want) {
			t.Errorf("%d: no %q in\n%s", code, want, body)
		}
	}
}
