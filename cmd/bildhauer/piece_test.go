package main

import (
	"bytes"
	"fmt"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"bildhauer/core/read/panorama"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/studio"
)

// TestPicturesInAllFormats writes one picture as 8 bits, as linear light, and lit by an own
// panorama, and reads each back.
func TestPicturesInAllFormats(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, map[string]string{
		"sign.svg": sign, "red.hdr": "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 2 +X 4\n" + strings.Repeat("\xc0\x10\x10\x81", 8), "bad.hdr": "JFIF",
	})
	in := filepath.Join(dir, "sign.svg")
	made := func(out string, flags ...string) []byte {
		t.Helper()
		path := filepath.Join(dir, out)
		code, _, errs := call(t, append([]string{"picture", in, "-o", path, "--size", "48x32", "--samples", "2"}, flags...)...)
		if code != 0 {
			t.Fatalf("%v: %s", flags, errs)
		}
		data, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		return data
	}
	if img, err := png.Decode(bytes.NewReader(made("a.png", "--format", "png8"))); err != nil || fmt.Sprintf("%T", img) != "*image.RGBA" {
		t.Errorf("%T %v", img, err)
	}
	light := made("a.hdr")
	// The reader takes panoramas alone, so the head is made to say that it is one.
	if _, err := panorama.Read(bytes.Replace(light, []byte("-Y 32 +X 48"), []byte("-Y 24 +X 48"), 1)); err != nil {
		t.Errorf("linear light: %v", err)
	}
	plain, lit := made("b.png"), made("c.png", "--around", filepath.Join(dir, "red.hdr"))
	if bytes.Equal(plain, lit) {
		t.Error("own surroundings light nothing")
	}
	code, _, errs := call(t, "picture", in, "-o", filepath.Join(dir, "d.png"), "--around", filepath.Join(dir, "bad.hdr"))
	if code == 0 || !strings.Contains(errs, "bad.hdr is no Radiance HDR picture") {
		t.Errorf("a photo around: %d %s", code, errs)
	}
	moved := made("e.png", "--move", "turntable", "--frame", "3", "--shutter", "1")
	if bytes.Equal(moved, made("f.png", "--move", "turntable", "--frame", "3")) {
		t.Error("an open shutter changes nothing")
	}
}

// TestPictureOfAPiece makes pictures of a piece of the application: as its page would, and
// none while that has the folder, or of a piece that there is not.
func TestPictureOfAPiece(t *testing.T) {
	dir := t.TempDir()
	s, err := studio.New(dir)
	if err != nil {
		t.Fatal(err)
	}
	id, err := s.Create(t.Context(), studio.File{Name: "sign.svg", Data: []byte(sign)})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.GiveMove(t.Context(), id, studio.Latest, show.Act{Move: "turntable"}, ""); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Change(t.Context(), id, studio.Latest, recipe.Change{Label: "Short", Edits: []recipe.Edit{&recipe.Retime{Frames: 3}}}); err != nil {
		t.Fatal(err)
	}
	out := filepath.Join(dir, "out.png")
	args := []string{"picture", "--piece", id, "--data", dir, "-o", out, "--size", "32x24", "--samples", "1"}
	if code, _, errs := call(t, args...); code == 0 || !strings.Contains(errs, "in use by") {
		t.Errorf("while it is open: %d %s", code, errs)
	}
	s.Close()
	if code, _, errs := call(t, args...); code != 0 {
		t.Fatal(errs)
	}
	if data, err := os.ReadFile(out); err != nil || !bytes.HasPrefix(data, []byte("\x89PNG")) {
		t.Error(err)
	}
	// A recipe takes the place of its scene.
	put(t, dir, map[string]string{"red.json": `{"version":4,"scene":{"backdrop":{"kind":"colour","color":"#ff0000"}}}`})
	plain, _ := os.ReadFile(out)
	if code, _, errs := call(t, append(args, "--recipe", filepath.Join(dir, "red.json"))...); code != 0 {
		t.Fatal(errs)
	}
	if red, _ := os.ReadFile(out); bytes.Equal(plain, red) {
		t.Error("another scene makes the same picture")
	}
	frames := filepath.Join(dir, "frames")
	os.Mkdir(frames, 0o755)
	code, _, errs := call(t, "frames", "--piece", id, "--data", dir, "-d", frames, "--size", "16x12", "--samples", "1")
	if list, _ := os.ReadDir(frames); code != 0 || len(list) != 3 {
		t.Errorf("%d, %d frames: %s", code, len(list), errs)
	}
	for want, bad := range map[string][]string{
		"there is no such piece":    {"picture", "--piece", "nobody", "--data", dir, "-o", out},
		"--depth goes with files":   {"picture", "--piece", id, "--data", dir, "-o", out, "--depth", "3mm"},
		"--around goes with files":  {"picture", "--piece", id, "--data", dir, "-o", out, "--around", "x.hdr"},
		"there are no pieces in":    {"picture", "--piece", id, "--data", filepath.Join(dir, "none"), "-o", out},
		"--piece takes one piece":   {"picture", "--piece", id, "-o", out},
		"the clip has the frames 0": {"frames", "--piece", id, "--data", dir, "-d", frames, "--to", "9"},
	} {
		if code, _, errs := call(t, bad...); code == 0 || !strings.Contains(errs, want) {
			t.Errorf("%v: %d %s", bad, code, errs)
		}
	}
}

// TestAKilledClipGoesOn kills the program in the middle of a clip, hard: what is finished
// is whole, and a second run makes the rest, to the bytes of one that was left alone.
func TestAKilledClipGoesOn(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, map[string]string{"sign.svg": sign})
	self, err := os.Executable()
	if err != nil {
		t.Fatal(err)
	}
	run := func(to string) *exec.Cmd {
		out := filepath.Join(dir, to)
		os.Mkdir(out, 0o755)
		c := exec.Command(self, "frames", filepath.Join(dir, "sign.svg"), "-d", out, "--size", "64x48", "--samples", "6",
			"--move", "turntable", "--frames", "8")
		c.Env = append(os.Environ(), "BILDHAUER_AS_PROGRAM=1")
		return c
	}
	names := func(to string) []string {
		list, _ := filepath.Glob(filepath.Join(dir, to, "sign-*.png"))
		return list
	}
	if out, err := run("whole").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	killed := run("killed")
	if err := killed.Start(); err != nil {
		t.Fatal(err)
	}
	for len(names("killed")) < 3 {
		if killed.ProcessState != nil {
			t.Fatal("it ended by itself")
		}
		time.Sleep(2 * time.Millisecond)
	}
	killed.Process.Kill()
	killed.Wait()
	have := len(names("killed"))
	if out, err := run("killed").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	if n := len(names("killed")); n != 8 {
		t.Fatalf("%d frames, %d before", n, have)
	}
	for _, path := range names("whole") {
		a, _ := os.ReadFile(path)
		b, _ := os.ReadFile(filepath.Join(dir, "killed", filepath.Base(path)))
		if !bytes.Equal(a, b) {
			t.Errorf("%s differs", filepath.Base(path))
		}
	}
}
