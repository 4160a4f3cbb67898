package main

import (
	"bytes"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// pictured makes a picture of the sign and returns its bytes and the picture.
func pictured(t *testing.T, flags ...string) ([]byte, image.Image) {
	t.Helper()
	dir := t.TempDir()
	put(t, dir, map[string]string{
		"sign.svg":   sign,
		"clear.json": `{"version":4,"scene":{"backdrop":{"kind":"clear"},"paints":[{"material":{"color":"#00ff00","rough":1}}]}}`,
	})
	out := filepath.Join(dir, "out.png")
	for i := range flags {
		flags[i] = strings.ReplaceAll(flags[i], "DIR", dir)
	}
	code, _, errs := call(t, append([]string{"picture", filepath.Join(dir, "sign.svg"), "-o", out}, flags...)...)
	if code != 0 {
		t.Fatalf("%v: %s", flags, errs)
	}
	data, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	img, err := png.Decode(bytes.NewReader(data))
	if err != nil {
		t.Fatal(err)
	}
	return data, img
}

// TestPicturesFromTheCommandLine makes pictures of the sign: of the size asked for, the same
// for the same seed, clear where nothing is, and in the colours of the recipe.
func TestPicturesFromTheCommandLine(t *testing.T) {
	first, img := pictured(t, "--size", "64x40", "--samples", "4")
	if img.Bounds() != image.Rect(0, 0, 64, 40) {
		t.Errorf("it is %v", img.Bounds())
	}
	if again, _ := pictured(t, "--size", "64x40", "--samples", "4"); !bytes.Equal(first, again) {
		t.Error("the same seed makes another picture")
	}
	if other, _ := pictured(t, "--size", "64x40", "--samples", "4", "--seed", "2"); bytes.Equal(first, other) {
		t.Error("another seed makes the same picture")
	}
	if raw, _ := pictured(t, "--size", "64x40", "--samples", "4", "--raw"); bytes.Equal(first, raw) {
		t.Error("unfiltered it is the same")
	}
	_, img = pictured(t, "--size", "64x40", "--samples", "8", "--recipe", "DIR/clear.json", "--depth", "4mm")
	if _, _, _, a := img.At(0, 0).RGBA(); a != 0 {
		t.Errorf("alpha %d in the corner of a clear picture", a)
	}
	r, g, b, a := img.At(32, 20).RGBA()
	if a != 0xffff || g < 2*r || g < 2*b {
		t.Errorf("a green sign looks %d %d %d %d", r, g, b, a)
	}
	if _, img = pictured(t, "--seconds", "0.05", "--size", "32x32"); img.Bounds().Dx() != 32 {
		t.Error("a picture by time failed")
	}
}

// TestLinearPictures writes the light itself, with depth and normals.
func TestLinearPictures(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, map[string]string{"sign.svg": sign})
	in := filepath.Join(dir, "sign.svg")
	size := 0
	for i, flags := range [][]string{{}, {"--passes"}} {
		out := filepath.Join(dir, strconv.Itoa(i)+".exr")
		if code, _, errs := call(t, append([]string{"picture", in, "-o", out, "--size", "40x30", "--samples", "2"}, flags...)...); code != 0 {
			t.Fatal(errs)
		}
		data, err := os.ReadFile(out)
		if err != nil || !bytes.HasPrefix(data, []byte{0x76, 0x2f, 0x31, 0x01}) || len(data) <= size {
			t.Fatalf("%v: %d bytes, %v", flags, len(data), err)
		}
		if size = len(data); bytes.Contains(data[:400], []byte("normal.X")) != (i == 1) {
			t.Errorf("%v: passes are wrong", flags)
		}
	}
}

// TestPicturesThatCantBe asks for pictures that there are not.
func TestPicturesThatCantBe(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, map[string]string{
		"sign.svg": sign, "bad.json": `{"version":4,"scene":{"backdrop":{"kind":"marble"}}}`,
		"lamp.json": `{"version":4,"scene":{"lamps":[{"kind":"panel","at":[1,1,1],"aim":[1,1,1],"strength":0}]}}`,
	})
	in, out := filepath.Join(dir, "sign.svg"), filepath.Join(dir, "out.png")
	for want, flags := range map[string][]string{
		"between 1 and 8192 pixels":    {"--size", "9000x10"},
		"width by height in pixels":    {"--size", "wide"},
		"passes go into an exr":        {"--passes"},
		"can be png, png8, exr or hdr": {"--format", "tiff"},
		"not less than 0":              {"--samples", "-3"},
		"The backdrop can be sweep":    {"--recipe", filepath.Join(dir, "bad.json")},
		"aim at something else":        {"--recipe", filepath.Join(dir, "lamp.json")},
	} {
		code, _, errs := call(t, append([]string{"picture", in, "-o", out}, flags...)...)
		if code == 0 || !strings.Contains(errs, want) {
			t.Errorf("%v: %d %q, want %q", flags, code, errs, want)
		}
		if _, err := os.Stat(out); err == nil {
			t.Errorf("%v: something was written", flags)
		}
	}
}
