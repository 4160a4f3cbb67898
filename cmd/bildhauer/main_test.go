package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/qmuntal/gltf"
)

func call(t *testing.T, args ...string) (int, string, string) {
	t.Helper()
	var out, err bytes.Buffer
	code := run(t.Context(), args, &out, &err)
	return code, out.String(), err.String()
}

const badge, clock = "../../demo/compass-badge.svg", "../../demo/tide-clock.svg"

func TestInspect(t *testing.T) {
	code, out, errs := call(t, "inspect", badge, "missing.svg", clock)
	if code != 1 || !strings.Contains(errs, "missing.svg can't be opened") {
		t.Errorf("code %d, stderr %q", code, errs)
	}
	lines := strings.Split(strings.TrimSpace(out), "\n")
	if len(lines) != 2 {
		t.Fatalf("%d lines", len(lines))
	}
	var r inspected
	if err := json.Unmarshal([]byte(lines[1]), &r); err != nil {
		t.Fatal(err)
	}
	if r.Shapes != 17 || r.Texts != 2 || r.Hidden != 2 || r.WidthMM != 95.25 || len(r.Layers) != 8 ||
		len(r.Notes) != 3 ||
		len(r.Colours) != 9 {
		t.Errorf("%+v", r)
	}
}

func TestMakeAndClean(t *testing.T) {
	dir := t.TempDir()
	bad := filepath.Join(dir, "bad.svg")
	if err := os.WriteFile(bad, []byte("<svg"), 0o644); err != nil {
		t.Fatal(err)
	}
	// One bad file does not stop the others.
	code, out, errs := call(
		t,
		"make",
		badge,
		bad,
		clock,
		"-d",
		dir,
		"--format",
		"glb",
		"--stats",
		"--width",
		"4in",
		"--depth=6mm",
		"--bevel",
		"0.8mm",
		"--profile",
		"chamfer",
		"--back",
		"bevel",
	)
	if code != 1 || !strings.Contains(errs, "bad.svg is damaged") {
		t.Errorf("code %d, stderr %q", code, errs)
	}
	lines := strings.Split(strings.TrimSpace(out), "\n")
	if len(lines) != 2 {
		t.Fatalf("stats: %q", out)
	}
	for _, l := range lines {
		var s stats
		if err := json.Unmarshal([]byte(l), &s); err != nil {
			t.Fatal(err)
		}
		if !s.Watertight || s.Crossings != 0 || s.SizeMM != [3]float64{101.6, s.SizeMM[1], 6} ||
			s.Parts < 4 ||
			s.VolumeMM3 <= 0 {
			t.Errorf("%+v", s)
		}
		doc, err := gltf.Open(s.Out)
		if err != nil || len(doc.Meshes) != s.Parts {
			t.Errorf("%s: %v", s.Out, err)
		}
	}
	obj := filepath.Join(dir, "badge.obj")
	if code, _, errs := call(t, "make", badge, "-o", obj); code != 0 {
		t.Fatalf("obj: %s", errs)
	}
	if b, err := os.ReadFile(strings.TrimSuffix(obj, "obj") + "mtl"); err != nil ||
		strings.Count(string(b), "newmtl") != 4 {
		t.Errorf("mtl: %v", err)
	}
	flat := filepath.Join(dir, "flat.svg")
	if code, _, errs := call(t, "clean", clock, "-o", flat); code != 0 {
		t.Fatalf("clean: %s", errs)
	}
	code, out, _ = call(t, "inspect", flat)
	var r inspected
	if err := json.Unmarshal([]byte(out), &r); err != nil || code != 0 || r.Strokes != 0 || r.Shapes != 15 ||
		r.Texts != 0 ||
		r.WidthMM != 95.25 {
		t.Errorf("cleaned: %+v, %v", r, err)
	}
}

func TestUsage(t *testing.T) {
	for _, args := range [][]string{{}, {"carve"}, {"make"}, {"make", badge}, {"make", badge, clock, "-o", "x.stl"}, {"make", badge, "-o", "x.xyz"},
		{
			"make",
			badge,
			"-o",
			"x.stl",
			"--depth",
			"deep",
		}, {
			"make",
			badge,
			"-o",
			"x.stl",
			"--depth",
			"-1",
		}, {
			"make",
			badge,
			"-o",
			"x.stl",
			"--profile",
			"spiky",
		}, {"clean", badge}, {"inspect"}, {"serve"}, {"demo", "x"}, {"make", badge, "-o", "x.stl", "--sparkle"}} {
		if code, _, errs := call(t, args...); code != 2 || errs == "" {
			t.Errorf("%v: code %d, %q", args, code, errs)
		}
	}
	if code, out, _ := call(t, "help"); code != 0 || !strings.Contains(out, "inspect") {
		t.Error("help")
	}
	if code, _, errs := call(t, "serve", "--data", t.TempDir(), "--listen", "0.0.0.0:1"); code != 1 ||
		!strings.Contains(errs, "this machine only") {
		t.Errorf("listening to the world: %d %q", code, errs)
	}
}

// TestPagesAndFonts reads both kinds of AI file, asks for a page that is not
// there, and lends a font.
func TestPagesAndFonts(t *testing.T) {
	dir := t.TempDir()
	code, out, _ := call(t, "inspect", "../../demo/pier-key-tag.ai", "../../demo/rope-mark.ai")
	if code != 0 || strings.Count(out, `"format":"AI"`) != 2 ||
		!strings.Contains(out, `"texts":3,"pages":1`) {
		t.Errorf("inspect: %d %s", code, out)
	}
	if code, _, errs := call(t, "inspect", "--page", "4", "../../demo/pier-key-tag.ai"); code != 1 ||
		!strings.Contains(errs, "has 1 page; there is no page 4") {
		t.Errorf("page 4: %d %s", code, errs)
	}
	sign := filepath.Join(dir, "sign.svg")
	if err := os.WriteFile(
		sign,
		[]byte(`<svg xmlns="http://www.w3.org/2000/svg" width="90" height="40"><text y="30" font-size="30" font-family="Pacifico Neu">Pier</text></svg>`),
		0o644,
	); err != nil {
		t.Fatal(err)
	}
	woff := "../../core/read/font/shipped/pacifico-latin-400-normal.woff"
	if code, out, errs := call(t, "inspect", "--font", woff, sign); code != 0 ||
		!strings.Contains(out, "not embedded") {
		t.Errorf("another family: %d %s %s", code, out, errs)
	}
	if code, _, errs := call(t, "inspect", "--font", sign, sign); code != 1 ||
		!strings.Contains(errs, "is not a font") {
		t.Errorf("no font: %d %s", code, errs)
	}
}
