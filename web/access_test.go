package web

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"
)

// axe looks at the page as it stands by the rules of WCAG 2.2, A and AA, and returns what breaks them.
func (w *tab) axe() []string {
	w.t.Helper()
	code, err := os.ReadFile("testdata/vendor/axe.min.js")
	if err != nil {
		w.t.Fatal(err)
	}
	w.js("(() => { if (!window.axe) { " + string(code) + " } return 0; })()")
	w.js("(() => { delete window.axed; axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'], " +
		"rules: {'target-size': {enabled: true}}}).then((r) => (window.axed = JSON.stringify(r.violations.map((v) => " +
		"[v.id, v.nodes.map((n) => n.target.join(' '))])))); return 0; })()")
	w.wait("window.axed")
	var found [][2]json.RawMessage
	if err := json.Unmarshal([]byte(w.text("window.axed")), &found); err != nil {
		w.t.Fatal(err)
	}
	var out []string
	for _, f := range found {
		var where []string
		if err := json.Unmarshal(f[1], &where); err != nil {
			w.t.Fatal(err)
		}
		out = append(out, fmt.Sprintf("%s × %d: %s", f[0], len(where), strings.Join(where[:min(6, len(where))], " | ")))
	}
	return out
}

// looked is a view that is looked at: what is pressed in it when it is ready, and what is there then.
type looked struct{ name, address, ready, press, then string }

// allViews lists all views, with the dialogs and panels that are opened in them.
func allViews(s *site) []looked {
	badge := s.address + "/pieces/" + s.id("Compass badge")
	clock := s.address + "/pieces/" + s.id("Tide clock")
	const mended, lines, checked = "document.body.dataset.mended", "document.querySelector('.dimline')", "document.body.dataset.checked"
	const tabs = "document.querySelector('.showtabs [data-choice=light]') && document.querySelector('.timerows, .timeline, [data-time=move]')"
	return []looked{
		{"home", s.address, "document.body.dataset.ready", "", ""},
		{"notices", s.address + "/notices", "true", "", ""},
		{"intake", clock + "/intake", "document.querySelector('.treerow')", "", ""},
		{"mend", badge + "/mend", mended, "", ""},
		{"shapes", badge + "/mend", mended, ".modes [data-choice=shapes]", ""},
		{"nodes", badge + "/mend", mended, ".modes [data-choice=nodes]", ""},
		{"add", badge + "/mend", mended, ".modes [data-choice=add]", ""},
		{"size", badge + "/size", lines, "", ""},
		{"raise", badge + "/raise", settled, "details.group:not([open]) summary", ""},
		{"a profile", badge + "/raise", settled, "[data-profile=custom]", "document.querySelector('.profiledraw')"},
		{"colours", badge + "/raise", settled, "[data-parts=colours]", "document.body.dataset.inks"},
		{"surface", clock + "/show", tabs, "", ""},
		{"light", clock + "/show", tabs, "[data-choice=light]", "document.querySelector('.lamplist [data-lamp]')"},
		{"camera", clock + "/show", tabs, "[data-choice=camera]", ""},
		{"results", clock + "/show", tabs, "[data-choice=results]", ""},
		{"moves", clock + "/show", tabs, "[data-time=move]", "document.querySelector('.movelist')"},
		{"checks", badge + "/release", checked, "", ""},
		{"layers", badge + "/release", checked, "[data-choice=layers]", ""},
		{"printer", badge + "/release", checked, "[data-choice=printer]", ""},
		{"print", badge + "/release", checked, "[data-choice=print]", ""},
		{"keys", badge + "/size", lines, "#help", "document.querySelector('dialog.helpdialog')"},
		{"versions", badge + "/size", lines, "#versions", "document.querySelector('dialog')"},
	}
}

// TestEveryViewIsForEverybody looks at all views: nothing in them breaks a rule.
func TestEveryViewIsForEverybody(t *testing.T) {
	s := run(t, t.TempDir(), true)
	for _, v := range allViews(s) {
		t.Run(v.name, func(t *testing.T) {
			w := open(t, v.address)
			w.wait(v.ready)
			if v.press != "" {
				w.js(fmt.Sprintf("document.querySelectorAll(%q).forEach((e) => e.click())", v.press))
			}
			if v.then != "" {
				w.wait(v.then)
			}
			for _, what := range w.axe() {
				t.Error(what)
			}
		})
	}
}
