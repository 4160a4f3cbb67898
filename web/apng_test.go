package web

import (
	"bufio"
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"runtime"
	"testing"

	"github.com/kettek/apng"
)

// framesFor writes n frames; every third is opaque all over, which PNG files say in their head, and
// every second has 16 bits a channel.
func framesFor(t *testing.T, n, w, h int) (paths []string, want []*image.NRGBA) {
	t.Helper()
	dir := t.TempDir()
	for k := range n {
		img := image.NewNRGBA64(image.Rect(0, 0, w, h))
		flat := image.NewNRGBA(img.Rect)
		for y := range h {
			for x := range w {
				a := uint8(255)
				if k%3 > 0 && (x+y+k)%5 == 0 {
					a = uint8(40 * (k % 6))
				}
				c := color.NRGBA{uint8(x * 7), uint8(y * 11), uint8(k * 40), a}
				flat.SetNRGBA(x, y, c)
				img.SetNRGBA64(x, y, color.NRGBA64{uint16(c.R) * 257, uint16(c.G) * 257, uint16(c.B) * 257, uint16(c.A) * 257})
			}
		}
		path := filepath.Join(dir, fmt.Sprintf("frame-%03d.png", k))
		f, err := os.Create(path)
		if err != nil {
			t.Fatal(err)
		}
		if k%2 == 0 {
			err = png.Encode(f, img)
		} else {
			err = png.Encode(f, flat)
		}
		if f.Close(); err != nil {
			t.Fatal(err)
		}
		paths, want = append(paths, path), append(want, flat)
	}
	return paths, want
}

// TestClipsHaveTheirFrames writes a clip and reads it with a library: the same pixels, frame by frame.
func TestClipsHaveTheirFrames(t *testing.T) {
	paths, want := framesFor(t, 9, 37, 23)
	var out bytes.Buffer
	rooms := 0
	room := func() (func(), error) {
		rooms++
		return func() { rooms-- }, nil
	}
	if err := WriteClip(bufio.NewWriter(&out), paths, 25, room); err != nil || rooms != 0 {
		t.Fatal(err, rooms)
	}
	clip, err := apng.DecodeAll(bytes.NewReader(out.Bytes()))
	if err != nil {
		t.Fatal(err)
	}
	if len(clip.Frames) != len(want) || clip.LoopCount != 0 {
		t.Fatalf("%d frames, %d times", len(clip.Frames), clip.LoopCount)
	}
	for k, f := range clip.Frames {
		if f.DelayNumerator != 1 || f.DelayDenominator != 25 || f.IsDefault {
			t.Errorf("frame %d: %d/%d, default %v", k, f.DelayNumerator, f.DelayDenominator, f.IsDefault)
		}
		for i := range 37 * 23 {
			x, y := i%37, i/37
			if got := color.NRGBAModel.Convert(f.Image.At(x, y)); got != want[k].At(x, y) {
				t.Fatalf("frame %d at %d, %d: %v, want %v", k, x, y, got, want[k].At(x, y))
			}
		}
	}
	if m, err := png.Decode(bytes.NewReader(out.Bytes())); err != nil || m.Bounds() != image.Rect(0, 0, 37, 23) {
		t.Errorf("as a plain PNG file: %v", err)
	}
	os.WriteFile(paths[4], []byte("broken"), 0o600)
	out.Reset()
	if err := WriteClip(bufio.NewWriter(&out), paths, 25, room); err == nil || rooms != 0 {
		t.Error("a broken frame is no mistake")
	}
}

// TestClipsTakeOneFrame writes a clip of as many frames as were too many for one's memory before, and
// takes what one of them takes.
func TestClipsTakeOneFrame(t *testing.T) {
	paths, _ := framesFor(t, 2, 320, 180)
	var all []string
	for range 120 {
		all = append(all, paths...)
	}
	var before, after runtime.MemStats
	most := uint64(0)
	room := func() (func(), error) {
		runtime.GC()
		runtime.ReadMemStats(&after)
		most = max(most, after.HeapAlloc)
		return func() {}, nil
	}
	runtime.GC()
	runtime.ReadMemStats(&before)
	if err := WriteClip(bufio.NewWriter(discard{}), all, 25, room); err != nil {
		t.Fatal(err)
	}
	// 240 frames have 55 MB at four bytes a pixel.
	if grown := int64(most) - int64(before.HeapAlloc); grown > 20<<20 {
		t.Errorf("%d MB beside what was there", grown>>20)
	}
}

type discard struct{}

func (discard) Write(p []byte) (int, error) { return len(p), nil }
