package printer

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"
)

// file is a print of so many layers, each of which takes 10 s.
func file(layers int, more string) string {
	var b strings.Builder
	b.WriteString("; piece: Pier tag\n; bed: 180 x 180 x 180 mm\nG21\nG90\nM83\nM140 S60\nM104 S210\nM190 S60\nM109 S210\nG28\nG0 X10 Y10 F6000\n")
	for i := range layers {
		fmt.Fprintf(&b, "; layer %d of %d\nG0 Z%g F6000\n; kind: solid\nG1 X110 E5 F1200\nG1 X10 E5\n", i+1, layers, 0.2*float64(i+1))
		if more != "" && i == 1 {
			b.WriteString(more + "\n")
		}
	}
	return b.String() + "M2\n"
}

type client struct {
	t   *testing.T
	url string
}

// ask returns the code of an answer and what it says.
func (c client) ask(method, path, body string) (int, Job, string) {
	c.t.Helper()
	r, _ := http.NewRequest(method, c.url+path, strings.NewReader(body))
	resp, err := http.DefaultClient.Do(r)
	if err != nil {
		return 0, Job{}, err.Error()
	}
	defer resp.Body.Close()
	raw, _ := io.ReadAll(resp.Body)
	var j Job
	var no struct{ Error string }
	json.Unmarshal(raw, &j)
	json.Unmarshal(raw, &no)
	return resp.StatusCode, j, no.Error
}

func started(t *testing.T) (*Device, client) {
	d := New("Test", [3]float64{180, 180, 180}, 1)
	s := httptest.NewServer(d.Handler())
	t.Cleanup(s.Close)
	return d, client{t, s.URL}
}

// TestAJobIsPrinted walks through a job: it heats, prints, tells its layer and the time that
// is left, waits for a change of filament, goes on, is done; sent again it is not begun again.
func TestAJobIsPrinted(t *testing.T) {
	d, c := started(t)
	code, j, _ := c.ask("PUT", "/jobs/a", file(5, "M0"))
	if code != http.StatusCreated || j.State != Heating || j.Layers != 5 || j.Left < 50+63 || j.Left > 52+63 {
		t.Fatalf("%d %+v", code, j)
	}
	pass := func(s float64) Job { d.Pass(time.Duration(s * float64(time.Second))); j, _ := d.Job("a"); return j }
	if j = pass(20); j.State != Heating || d.Status().Nozzle.Now != 81 || d.Status().Plate.Now != 51 {
		t.Errorf("after 20 s: %+v %+v", j, d.Status())
	}
	if j = pass(43 + 15); j.State != Printing || j.Layer != 2 || j.Progress < 0.28 || j.Progress > 0.32 {
		t.Errorf("after 15 s of printing: %+v", j)
	}
	if code, again, _ := c.ask("PUT", "/jobs/a", file(5, "")); code != http.StatusOK || again.Layer != 2 {
		t.Errorf("sent again: %d %+v", code, again)
	}
	if code, _, said := c.ask("PUT", "/jobs/b", file(5, "")); code != http.StatusConflict || !strings.Contains(said, "busy with \"Pier tag\"") {
		t.Errorf("another one: %d %s", code, said)
	}
	if j = pass(20); j.State != Waiting || j.Layer != 3 || !strings.Contains(j.Reason, "to be changed") {
		t.Errorf("at the change: %+v", j)
	}
	if j = pass(1000); j.State != Waiting {
		t.Errorf("without a person: %+v", j)
	}
	c.ask("POST", "/jobs/a/resume", "")
	if j = pass(5); j.State != Printing {
		t.Errorf("after the change: %+v", j)
	}
	c.ask("POST", "/jobs/a/pause", "")
	if j = pass(1000); j.State != Paused {
		t.Errorf("paused: %+v", j)
	}
	c.ask("POST", "/jobs/a/resume", "")
	if j = pass(100); j.State != Done || j.Progress != 1 || j.Left != 0 || d.Status().Nozzle.Want != room {
		t.Errorf("at the end: %+v %+v", j, d.Status())
	}
	if _, j, _ := c.ask("POST", "/jobs/a/cancel", ""); j.State != Done {
		t.Errorf("cancelled when it was done: %+v", j)
	}
}

// TestTroubles asks for each trouble, and sends what can't be printed.
func TestTroubles(t *testing.T) {
	for body, want := range map[string]string{
		"":                         "nothing to print",
		"; layer 1\nG1 X900 E1 F9": "leave the bed along x",
		"; layer 1\nG1 X1 E1":      "line 2: a way without a speed",
		"G5 X1":                    "line 1: the word \"G5\"",
		"G1 Xmuch":                 "is no figure",
		"; bed: 256 x 256 x 256 mm\n; layer 1\nG1 X9 E1 F9": "laid out for a bed of 256",
	} {
		_, c := started(t)
		if code, _, said := c.ask("PUT", "/jobs/a", body); code != http.StatusUnprocessableEntity || !strings.Contains(said, want) {
			t.Errorf("%q: %d %s", body, code, said)
		}
	}
	for kind, want := range map[string]struct {
		state  State
		reason string
	}{
		NoFilament: {Waiting, "run out"}, ColdNozzle: {Failed, "165 °C instead of 210 in layer 3"}, WrongBed: {"", "120 by 120"}, "rain": {Done, "troubles are"},
	} {
		d, c := started(t)
		_, _, no := c.ask("POST", "/troubles", `{"kind":"`+kind+`","layer":3}`)
		_, _, refused := c.ask("PUT", "/jobs/a", file(5, ""))
		d.Pass(time.Hour)
		j, _ := d.Job("a")
		if j.State != want.state || !strings.Contains(j.Reason+refused+no, want.reason) {
			t.Errorf("%s: %+v %s %s", kind, j, refused, no)
		}
	}
	// A lost connection: nothing is answered, but it prints on.
	d, c := started(t)
	c.ask("PUT", "/jobs/a", file(5, ""))
	d.Ask(Trouble{Kind: LostLine, Seconds: 3600})
	if code, _, said := c.ask("GET", "/jobs/a", ""); code != 0 {
		t.Errorf("deaf: %d %s", code, said)
	}
	d.Pass(time.Hour)
	if j, _ := d.Job("a"); j.State != Done {
		t.Errorf("deaf, but at work: %+v", j)
	}
	// What is cancelled before it comes is never begun.
	_, c = started(t)
	c.ask("POST", "/jobs/a/cancel", "")
	if code, j, _ := c.ask("PUT", "/jobs/a", file(5, "")); code != http.StatusOK || j.State != Cancelled {
		t.Errorf("late: %d %+v", code, j)
	}
	// One that was switched off since it was asked takes nothing.
	r, _ := http.NewRequest("PUT", c.url+"/jobs/b", strings.NewReader(file(2, "")))
	r.Header.Set("If-Match", "yesterday")
	if resp, err := http.DefaultClient.Do(r); err != nil || resp.StatusCode != http.StatusPreconditionFailed {
		t.Errorf("switched off in between: %v %v", resp, err)
	}
	if code, _, _ := c.ask("POST", "/jobs/none/pause", ""); code != http.StatusNotFound {
		t.Errorf("an unknown one: %d", code)
	}
}

// FuzzParse holds that no file makes the device fall over.
func FuzzParse(f *testing.F) {
	f.Add(file(3, "M0"))
	f.Add("G1 X1 Y2 E3 F-5\n; layer\nG0 Z\n(MSG")
	f.Fuzz(func(t *testing.T, text string) {
		if p, err := parse(strings.NewReader(text)); err == nil && len(p.layers) == 0 {
			t.Error("nothing to print, and no error")
		}
	})
}
