package main

import (
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// sign is a plate of 100 by 50 mm with a disc, a bar and a line in three layers.
const sign = `<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 100 50">
	<g id="ground"><rect width="100" height="50" fill="#336699"/></g>
	<g id="marks"><circle cx="25" cy="25" r="10" fill="#a33333"/><rect x="50" y="20" width="20" height="10" fill="#338855"/></g>
	<g id="lines"><path d="M80 10V40" stroke="#222222" stroke-width="4" fill="none"/></g></svg>`

// made raises the sign with some flags and returns what make says of it.
func made(t *testing.T, flags ...string) (stats, string) {
	t.Helper()
	dir := t.TempDir()
	in := filepath.Join(dir, "sign.svg")
	put(t, dir, map[string]string{"sign.svg": sign})
	args := append([]string{"make", in, "-o", filepath.Join(dir, "out.stl"), "--depth", "4mm", "--stats"}, flags...)
	if !slices.ContainsFunc(flags, func(f string) bool { return f == "--bevel" || f == "--pillow" || f == "--dome" }) {
		args = append(args, "--bevel", "0mm")
	}
	code, out, errs := call(t, args...)
	if code != 0 {
		t.Fatalf("%v: %d %s", flags, code, errs)
	}
	var s stats
	if err := json.Unmarshal([]byte(out), &s); err != nil {
		t.Fatal(err)
	}
	return s, errs
}

// TestFormsFromTheCommandLine raises a sign with each flag: how many parts, how deep and how
// much of it, told by hand.
func TestFormsFromTheCommandLine(t *testing.T) {
	const full = 100 * 50 * 4.0
	disc, bar, line := math.Pi*100, 200.0, 120.0
	inks := filepath.Join(t.TempDir(), "inks.txt")
	put(t, filepath.Dir(inks), map[string]string{"inks.txt": "#336699 Sea\n#a03030\n", "one.txt": "#336699"})
	for _, c := range []struct {
		flags  string
		parts  int
		depth  float64
		volume float64
	}{
		{"", 4, 4, full},
		{"--parts layer", 3, 4, full},
		{"--parts shape", 4, 4, full},
		{"--parts outline", 4, 4, full},
		{"--relief-step 1mm", 4, 5, full + disc + bar + line},
		{"--relief 3mm", 4, 3, 1.5 * (5000 + disc + bar + line)},
		{"--relief 3mm --outlines groove", 4, 3, 2*5000 + disc + bar - line},
		{"--spread 1mm", 4, 7, full},
		{"--colours 2", 2, 4, full},
		{"--colours-apart 35", 2, 4, full},
		{"--palette " + inks, 2, 4, full},
		{"--direction back", 4, 4, full},
		{"--direction both --apart", 4, 4, full},
		{"--offset 3mm", 4, 4, full},
		{"--bevel 1mm --profile chamfer --parts layer --overlap keep", 3, 4, 0},
		{"--wall 2mm --overlap keep", 4, 4, 0},
		{"--wall 2mm --open both --apart --parts layer", 3, 4, 0},
		{"--clearance 0.5mm", 4, 4, 0},
		{"--tube --tube-width 4mm --overlap keep --parts shape", 4, 4, 0},
		{"--pillow 2mm --parts layer", 3, 4, 0},
		{"--dome 2mm --parts layer", 3, 4, 0},
		{"--dome 2mm --wall 1mm --outward --parts layer", 3, 4, 0},
		{"--tube --tube-section own --tube-width 4mm --overlap keep --parts shape", 4, 4, 0},
		{"--mitred --bevel 1mm --profile chamfer --parts layer --outward --apart", 3, 4, 0},
		{"--caps grid --spacing 3mm", 4, 4, full},
		{"--caps even --spacing 2mm --parts layer", 3, 4, full},
		{"--fineness draft", 4, 4, full},
		{"--fineness 0.01mm", 4, 4, full},
	} {
		s, _ := made(t, strings.Fields(c.flags)...)
		if s.Parts != c.parts || !s.Watertight || s.Crossings > 0 {
			t.Errorf("%q: %+v, want %d parts", c.flags, s, c.parts)
		}
		if !strings.Contains(c.flags, "tube") && math.Abs(s.SizeMM[2]-c.depth) > 0.02 {
			t.Errorf("%q: %g mm deep, want %g", c.flags, s.SizeMM[2], c.depth)
		}
		if strings.Contains(c.flags, "keep") {
			continue // bodies overlap: what they share is counted as one of them has it
		}
		if c.volume > 0 && math.Abs(s.VolumeMM3-c.volume) > 2e-3*c.volume {
			t.Errorf("%q: %g mm3, want %g", c.flags, s.VolumeMM3, c.volume)
		}
	}
}

// TestFewerTriangles asks for a count, of one body and of several, and for a tolerance.
func TestFewerTriangles(t *testing.T) {
	bevelled := []string{"--bevel", "2mm", "--segments", "12"}
	whole, _ := made(t, bevelled...)
	for _, flags := range []string{"--triangles 1200", "--triangles 1200 --apart", "--simplify 0.05mm"} {
		s, _ := made(t, append(strings.Fields(flags), bevelled...)...)
		if s.Triangles >= whole.Triangles || !s.Watertight || s.Crossings > 0 || math.Abs(s.VolumeMM3-whole.VolumeMM3) > 0.01*whole.VolumeMM3 {
			t.Errorf("%s: %+v, was %+v", flags, s, whole)
		}
		if strings.Contains(flags, "1200") && s.Triangles > 1300 {
			t.Errorf("%s: %d triangles", flags, s.Triangles)
		}
	}
}

// TestFinerIsMore raises the sign coarsely and finely.
func TestFinerIsMore(t *testing.T) {
	last := 0
	for _, f := range terms.Finenesses {
		s, _ := made(t, "--fineness", f.Name)
		if s.Triangles <= last {
			t.Errorf("%s has %d triangles, the coarser one %d", f.Name, s.Triangles, last)
		}
		last = s.Triangles
	}
}

// TestRecipesFromTheCommandLine takes each ready recipe as a file, and says what is wrong
// with others.
func TestRecipesFromTheCommandLine(t *testing.T) {
	dir := t.TempDir()
	for _, n := range recipe.Ready() {
		doc, err := n.Document()
		if err != nil {
			t.Fatal(err)
		}
		path := filepath.Join(dir, "recipe.json")
		if err := os.WriteFile(path, doc, 0o644); err != nil {
			t.Fatal(err)
		}
		in := filepath.Join(dir, "sign.svg")
		put(t, dir, map[string]string{"sign.svg": sign})
		code, out, errs := call(t, "make", in, "-o", filepath.Join(dir, "out.stl"), "--recipe", path, "--stats")
		var s stats
		if err := json.Unmarshal([]byte(out), &s); code != 0 || err != nil || !s.Watertight {
			t.Errorf("%s: %d %s %s", n.Name, code, out, errs)
		}
	}
	for flags, want := range map[string]string{
		"--parts size":                   "can be colour, layer, group, shape or outline",
		"--triangles -5":                 "The number of triangles must be between",
		"--simplify -1mm":                "The tolerance of simplifying must be between",
		"--caps round":                   "can be few, even or grid",
		"--open sideways":                "can be front, back or both",
		"--direction up":                 "can be forward, back or both",
		"--back round":                   "The back can be flat or bevel",
		"--fineness rough":               "the fineness is draft, good, fine or a length",
		"--profile wavy":                 "The profile can be chamfer, round",
		"--profile custom":               "a custom profile needs its points",
		"--clearance -1mm":               "The clearance must be between",
		"--relief 5000m":                 "The height of the relief must be between",
		"--palette " + dir + "/none.txt": "can't be read",
		"--colours-apart 400":            "The distance between colours must be between",
		"--colours 1":                    "The number of colours must be between 2 and 64",
		"--relief-step 5000m":            "The step of the relief must be between",
		"--relief 2mm --outlines low":    "can be as-others, highest or groove",
		"--wall -2mm":                    "The thickness of the wall must be between",
		"--offset 1000m":                 "The offset must be between",
		"--tube-width -1mm":              "The width of the tube must be between",
		"--recipe " + dir + "/none.json": "can't be read",
	} {
		args := append([]string{"make", badge, "-o", filepath.Join(dir, "no.stl")}, strings.Fields(flags)...)
		if code, _, errs := call(t, args...); code == 0 || !strings.Contains(errs, want) {
			t.Errorf("%s: %d %q, want %q", flags, code, errs, want)
		}
	}
}
