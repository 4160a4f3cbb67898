package main

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"bildhauer/reader"
)

// TestMain is the program itself where a test shares work out to others.
func TestMain(m *testing.M) {
	reader.Main()
	if os.Getenv("BILDHAUER_AS_PROGRAM") != "" {
		main()
	}
	os.Exit(m.Run())
}

// TestFramesSharedOut makes a clip of 12 frames through GNU parallel, as docs/render-farm.md
// says, and finds the bytes of one run.
func TestFramesSharedOut(t *testing.T) {
	if _, err := exec.LookPath("parallel"); err != nil {
		t.Skip("GNU parallel is not there; make test installs it")
	}
	dir := t.TempDir()
	put(t, dir, map[string]string{"sign.svg": sign})
	self, err := os.Executable()
	if err != nil {
		t.Fatal(err)
	}
	clip := func(to string) []string {
		return []string{
			"frames", filepath.Join(dir, "sign.svg"), "-d", filepath.Join(dir, to),
			"--size", "24x16", "--samples", "1", "--move", "camera round", "--frames", "12",
		}
	}
	for _, to := range []string{"one", "many"} {
		if err := os.Mkdir(filepath.Join(dir, to), 0o755); err != nil {
			t.Fatal(err)
		}
	}
	if code, _, errs := call(t, clip("one")...); code != 0 {
		t.Fatal(errs)
	}
	args := append([]string{"--will-cite", "--jobs", "2", "--quote", self}, clip("many")...)
	args = append(append(args, "--from", "{}", "--to", "{}", ":::"), strings.Fields("0 1 2 3 4 5 6 7 8 9 10 11")...)
	cmd := exec.CommandContext(t.Context(), "parallel", args...)
	cmd.Env = append(os.Environ(), "BILDHAUER_AS_PROGRAM=1")
	if out, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	list, err := filepath.Glob(filepath.Join(dir, "one", "*.png"))
	if err != nil || len(list) != 12 {
		t.Fatalf("%d frames, %v", len(list), err)
	}
	for _, path := range list {
		a, _ := os.ReadFile(path)
		b, err := os.ReadFile(filepath.Join(dir, "many", filepath.Base(path)))
		if err != nil || !bytes.Equal(a, b) {
			t.Errorf("%s differs: %v", filepath.Base(path), err)
		}
	}
}

// TestFramesAreTheSameInPieces makes a clip in one go and frame by frame, as machines that
// share it would: the same bytes. What is finished stays as it is.
func TestFramesAreTheSameInPieces(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, map[string]string{"sign.svg": sign})
	in := filepath.Join(dir, "sign.svg")
	frames := func(to string, flags ...string) (int, string) {
		code, _, errs := call(t, append([]string{
			"frames", in, "-d", filepath.Join(dir, to), "--size", "24x16", "--samples", "1", "--move", "turntable", "--frames", "4",
		}, flags...)...)
		return code, errs
	}
	for _, to := range []string{"one", "pieces"} {
		if err := os.Mkdir(filepath.Join(dir, to), 0o755); err != nil {
			t.Fatal(err)
		}
	}
	if code, errs := frames("one"); code != 0 {
		t.Fatal(errs)
	}
	for _, n := range []string{"2", "0", "3", "1"} {
		if code, errs := frames("pieces", "--from", n, "--to", n); code != 0 {
			t.Fatal(errs)
		}
	}
	read := func(to string, n string) []byte {
		b, err := os.ReadFile(filepath.Join(dir, to, "sign-0000"+n+".png"))
		if err != nil {
			t.Fatal(err)
		}
		return b
	}
	for _, n := range []string{"0", "1", "2", "3"} {
		if !bytes.Equal(read("one", n), read("pieces", n)) {
			t.Errorf("frame %s differs", n)
		}
	}
	if bytes.Equal(read("one", "0"), read("one", "1")) {
		t.Error("nothing moves")
	}
	kept := filepath.Join(dir, "one", "sign-00002.png")
	if err := os.WriteFile(kept, []byte("mine"), 0o644); err != nil {
		t.Fatal(err)
	}
	if code, errs := frames("one"); code != 0 || string(read("one", "2")) != "mine" {
		t.Errorf("a finished frame was made again: %s", errs)
	}
	empty := filepath.Join(dir, "empty.json")
	if err := os.WriteFile(empty, []byte(`{"version":4,"name":"Still"}`), 0o644); err != nil {
		t.Fatal(err)
	}
	for want, flags := range map[string][]string{
		"the frames 0 to 3, not 2 to 9": {"--from", "2", "--to", "9"},
		"A move can be turntable":       {"--move", "waltz"},
		"contradict":                    {"--seconds", "1"},
		"no such file":                  {"--move", "gone.json"},
		"nothing moves in it":           {"--move", empty},
	} {
		if code, errs := frames("one", flags...); code == 0 || !strings.Contains(errs, want) {
			t.Errorf("%v: %q, want %q", flags, errs, want)
		}
	}
	if code, _, errs := call(t, "frames", in, "-o", filepath.Join(dir, "x.png")); code == 0 || !strings.Contains(errs, "give a folder") {
		t.Errorf("frames into one file: %s", errs)
	}
}
