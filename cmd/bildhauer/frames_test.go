package main

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

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
	for want, flags := range map[string][]string{
		"the frames 0 to 3, not 2 to 9": {"--from", "2", "--to", "9"},
		"a move is turntable":           {"--move", "waltz"},
		"not by time":                   {"--seconds", "1"},
	} {
		if code, errs := frames("one", flags...); code == 0 || !strings.Contains(errs, want) {
			t.Errorf("%v: %q, want %q", flags, errs, want)
		}
	}
	if code, _, errs := call(t, "frames", in, "-o", filepath.Join(dir, "x.png")); code == 0 || !strings.Contains(errs, "give a folder") {
		t.Errorf("frames into one file: %s", errs)
	}
}
