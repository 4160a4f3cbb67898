package read

import (
	"fmt"
	"strings"
	"testing"

	"bildhauer/core/artwork"
)

// TestPaintedLight reads light that was painted in the ways in which drawing
// programs write it, and what only looks like it.
func TestPaintedLight(t *testing.T) {
	const body = `<rect width="80" height="80" fill="#336699"/>`
	for name, c := range map[string]struct {
		svg  string
		want string // keys of what is painted light
	}{
		"opacity":           {body + `<circle id="x" cx="40" cy="40" r="9" fill="#fff" opacity=".3"/>`, "x"},
		"fill-opacity":      {body + `<circle id="x" cx="40" cy="40" r="9" fill="#fff" fill-opacity="30%"/>`, "x"},
		"group opacity":     {body + `<g opacity=".4"><circle id="x" cx="40" cy="40" r="9"/></g>`, "x"},
		"dense":             {body + `<circle id="x" cx="40" cy="40" r="9" fill="#fff" opacity=".8"/>`, ""},
		"beside":            {body + `<circle id="x" cx="90" cy="40" r="9" fill="#fff" opacity=".3"/>`, ""},
		"multiply":          {body + `<circle id="x" cx="40" cy="40" r="9" style="mix-blend-mode:multiply"/>`, "x"},
		"a blended group":   {body + `<g style="mix-blend-mode:screen"><circle id="x" cx="40" cy="40" r="9"/></g>`, "x"},
		"a group's stroke":  {body + `<g opacity=".4"><path id="x" d="M20 40H60" fill="none" stroke="#fff" stroke-width="6"/></g>`, "x+stroke"},
		"a fading gradient": {body + fade("0") + `<circle id="x" cx="40" cy="40" r="9" fill="url(#f)"/>`, "x"},
		"a dense gradient":  {body + fade(".8") + `<circle id="x" cx="40" cy="40" r="9" fill="url(#f)"/>`, ""},
		"a soft mask": {
			body + fade("0") + `<mask id="m"><rect width="80" height="80" fill="url(#f)"/></mask><circle id="x" cx="40" cy="40" r="9" mask="url(#m)"/>`, "x",
		},
		"a hard mask": {
			body + `<mask id="m"><rect width="80" height="80" fill="#fff"/></mask><circle id="x" cx="40" cy="40" r="9" mask="url(#m)"/>`,
			"",
		},
		"light on light":   {body + `<circle id="x" cx="40" cy="40" r="9" opacity=".3"/><circle id="y" cx="40" cy="40" r="5" opacity=".3"/>`, "x y"},
		"two panes beside": {`<circle id="x" cx="30" cy="40" r="20" opacity=".5"/><circle id="y" cx="60" cy="40" r="20" opacity=".5"/>`, ""},
	} {
		s, err := Sheet("a.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="80">`+c.svg+`</svg>`))
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var got []string
		for i := range s.Shapes {
			if s.Shapes[i].Shine {
				got = append(got, s.Shapes[i].Key)
				if s.Starts(i) || !s.Drawn(i) {
					t.Errorf("%s: starts %v, drawn %v", name, s.Starts(i), s.Drawn(i))
				}
			}
		}
		if strings.Join(got, " ") != c.want {
			t.Errorf("%s: light is %v, want %q", name, got, c.want)
		}
		noted := 0
		for _, n := range s.Notes {
			if n.Kind == artwork.NoteShine {
				noted = n.Count
			}
		}
		if noted != len(got) {
			t.Errorf("%s: %d noted", name, noted)
		}
	}
}

func fade(end string) string {
	return `<linearGradient id="f"><stop offset="0" stop-color="#fff"/><stop offset="1" stop-color="#fff" stop-opacity="` + end + `"/></linearGradient>`
}

// TestFramesOfBitmapsInFiles offers bitmaps by their frames, turned as they are.
func TestFramesOfBitmapsInFiles(t *testing.T) {
	s, err := Sheet("a.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="100" height="80"><rect width="10" height="10"/>`+
		`<g transform="rotate(90 50 40)"><image id="p" x="40" y="30" width="20" height="8" href="x.png"/></g></svg>`))
	if err != nil {
		t.Fatal(err)
	}
	sh := &s.Shapes[len(s.Shapes)-1]
	b := sh.Box()
	if !sh.Bitmap || s.Starts(len(s.Shapes)-1) || fmt.Sprintf("%.3f × %.3f", b.W(), b.H()) != "8.000 × 20.000" {
		t.Errorf("%s: %v", sh.Key, b)
	}
}
