package web

import (
	"strings"
	"testing"

	"github.com/prometheus/common/expfmt"
	"github.com/prometheus/common/model"

	"bildhauer/studio"
)

// TestThoseWhoWatch asks whether all is well, and for numbers: the answer is in
// Prometheus's text form, and they count what was done.
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
	parser := expfmt.NewTextParser(model.UTF8Validation)
	families, err := parser.TextToMetricFamilies(strings.NewReader(body))
	if err != nil {
		t.Errorf("it isn't the text form: %v", err)
	}
	for _, want := range []string{"bildhauer_jobs", "bildhauer_kept_bytes", "bildhauer_requests_open", "go_goroutines", "process_start_time_seconds"} {
		if families[want] == nil || families[want].GetHelp() == "" {
			t.Errorf("no %s", want)
		}
	}
	for _, want := range []string{"bildhauer_pieces 1\n", `requests_total{code="4xx"} 1` + "\n", "bildhauer_diary_entries_total 0\n", "request_seconds_count "} {
		if code != 200 || !strings.Contains(body, want) {
			t.Errorf("%d: no %q in\n%s", code, want, body)
		}
	}
}
