package main

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/qmuntal/gltf"

	"bildhauer/core/mend"
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
	// A bitmap inside is a frame, or outlines where that is asked for.
	m := image.NewGray(image.Rect(0, 0, 20, 20))
	for i := range m.Pix {
		m.Pix[i] = uint8(255 * (i / 10 % 2))
	}
	var picture bytes.Buffer
	png.Encode(&picture, m)
	put(t, dir, map[string]string{"photo.svg": `<svg xmlns="http://www.w3.org/2000/svg" width="90" height="40"><rect width="9" height="9"/>` +
		`<image width="40" height="40" href="data:image/png;base64,` + base64.StdEncoding.EncodeToString(picture.Bytes()) + `"/></svg>`})
	photo := filepath.Join(dir, "photo.svg")
	for want, args := range map[string][]string{
		"bitmap of 20 by 20 pixels traced": {"inspect", "--bitmaps", photo},
		`"text":"bitmap"`:                  {"inspect", photo},
		"can be light or colours, not":     {"inspect", "--trace-by", "shape", photo},
	} {
		if _, out, errs := call(t, args...); !strings.Contains(out+errs, want) {
			t.Errorf("%v says %s%s", args, out, errs)
		}
	}
	if code, _, errs := call(t, "inspect", "--font", sign, sign); code != 1 ||
		!strings.Contains(errs, "is not a font") {
		t.Errorf("no font: %d %s", code, errs)
	}
}

// faulty is a plate with a waist of 0.2 mm at a width of 100 mm, a crumb, and a
// disc that lies twice.
const faulty = `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100">` +
	`<path id="plate" fill="#336699" d="M0 0H90V49.8H110V0H200V100H110V50.2H90V100H0Z"/><rect x="30" y="120" width=".3" height=".3"/>` +
	`<circle id="one" cx="40" cy="40" r="12" fill="#a33333"/><circle id="two" cx="40" cy="40" r="12" fill="#a33333"/></svg>`

// TestMendCommand lists findings, takes some or all of them, and raises what was
// mended.
func TestMendCommand(t *testing.T) {
	dir := t.TempDir()
	file := filepath.Join(dir, "plate.svg")
	if err := os.WriteFile(file, []byte(strings.Replace(faulty, `y="120"`, `y="96" fill="#a33333"`, 1)), 0o644); err != nil {
		t.Fatal(err)
	}
	kinds := func(path string) string {
		t.Helper()
		code, out, errs := call(t, "mend", path, "--list")
		if code != 0 {
			t.Fatalf("list: %s", errs)
		}
		var list []string
		for _, line := range strings.Split(strings.TrimSpace(out), "\n") {
			var f listed
			if line == "" {
				continue
			}
			if err := json.Unmarshal([]byte(line), &f); err != nil || f.File != path || f.Fix == "" || f.Measure == "" || len(f.Shapes) == 0 ||
				f.Effect == "" || (f.WideMM == 0) != (f.Class == mend.Tidy) {
				t.Errorf("%s: %+v, %v", line, f, err)
			}
			list = append(list, f.Kind)
		}
		return strings.Join(list, " ")
	}
	if got := kinds(file); got != "twice scrap thin" {
		t.Errorf("found %q", got)
	}
	for fix, left := range map[string]string{
		"scrap": "twice thin", "scrap,twice": "thin", "all": "", "tidy": "scrap thin", "tidy,heal": "", "decide": "twice scrap thin",
	} {
		out := filepath.Join(dir, "mended.svg")
		if code, _, errs := call(t, "mend", file, "-o", out, "--fix", fix); code != 0 {
			t.Fatalf("%s: %s", fix, errs)
		}
		if got := kinds(out); got != left {
			t.Errorf("after %s there is %q, want %q", fix, got, left)
		}
	}
	code, out, _ := call(t, "inspect", file)
	var r inspected
	if err := json.Unmarshal([]byte(out), &r); err != nil || code != 0 || len(r.Findings) != 3 || r.Findings[2].Measure != "0.2 mm wide" {
		t.Errorf("inspect: %+v, %v", r.Findings, err)
	}
	volume := func(args ...string) float64 {
		t.Helper()
		args = append([]string{"make", file, "-o", filepath.Join(dir, "plate.stl"), "--stats", "--bevel", "0"}, args...)
		code, out, errs := call(t, args...)
		var st stats
		if err := json.Unmarshal([]byte(out), &st); err != nil || code != 0 || !st.Watertight {
			t.Fatalf("%v: %s %s", args, out, errs)
		}
		return st.VolumeMM3
	}
	plain, mended, dropped := volume(), volume("--mend", "all"), volume("--mend", "scrap")
	if mended <= plain+1 || dropped > plain {
		t.Errorf("volumes: %g as it came, %g mended, %g without the crumb", plain, mended, dropped)
	}
	for _, args := range [][]string{
		{"mend"}, {"mend", file}, {"mend", file, "-o", filepath.Join(dir, "x.svg"), "--fix", "tidy,thin"}, {"mend", file, "-o", filepath.Join(dir, "x.svg"), "--fix", "everything"},
		{"make", file, "-o", filepath.Join(dir, "x.stl"), "--mend", "tips"}, {"mend", file, "--list", "--width", "1e9mm"},
	} {
		if code, _, errs := call(t, args...); code != 2 || errs == "" {
			t.Errorf("%v: code %d, %q", args, code, errs)
		}
	}
	if code, _, errs := call(t, "mend", file, filepath.Join(dir, "none.svg"), "-d", filepath.Join(dir)); code != 1 ||
		!strings.Contains(errs, "none.svg can't be opened") {
		t.Errorf("a missing file: code %d, %q", code, errs)
	}
}

// TestCleanKeepsTheLight writes painted light as it was drawn, and make leaves it
// out.
func TestCleanKeepsTheLight(t *testing.T) {
	dir := t.TempDir()
	out := filepath.Join(dir, "clock.svg")
	if code, _, errs := call(t, "clean", clock, "-o", out); code != 0 {
		t.Fatal(errs)
	}
	data, err := os.ReadFile(out)
	if err != nil || strings.Count(string(data), "<path") != 15 || !strings.Contains(string(data), `fill-opacity="0.5"`) {
		t.Errorf("%d paths, %v", strings.Count(string(data), "<path"), err)
	}
	_, text, _ := call(t, "make", clock, "-o", filepath.Join(dir, "clock.stl"), "--stats")
	var st stats
	if err := json.Unmarshal([]byte(text), &st); err != nil || st.Parts != 6 {
		t.Errorf("%d parts, %v", st.Parts, err)
	}
}
