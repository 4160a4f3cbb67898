package write

import (
	"bytes"
	"math"
	"strings"
	"testing"

	"bildhauer/core/read/panorama"
)

// TestHDRIsReadBack writes light over many stops and reads it within a 128th of the
// strongest colour, as the format keeps it; what is no panorama is refused with the reason.
func TestHDRIsReadBack(t *testing.T) {
	at := func(i int) [3]float64 {
		k := math.Exp2(float64(i%24) - 12)
		return [3]float64{k, k * float64(i%7) / 7, k / 3}
	}
	var out bytes.Buffer
	if err := HDR(&out, 64, 32, at); err != nil {
		t.Fatal(err)
	}
	p, err := panorama.Read(out.Bytes())
	if err != nil || p.W != 64 || p.H != 32 {
		t.Fatalf("%+v, %v", p, err)
	}
	for i, got := range p.Pix {
		want := at(i)
		most := max(want[0], want[1], want[2])
		for c := range want {
			if math.Abs(float64(got[c])-want[c]) > most/128 {
				t.Fatalf("pixel %d: %v, want %v", i, got, want)
			}
		}
	}
	whole := out.Bytes()
	wide := strings.Replace(string(whole), "-Y 32 +X 64", "-Y 9999 +X 99999", 1)
	square := strings.Replace(string(whole), "-Y 32 +X 64", "-Y 32 +X 32", 1)
	for want, data := range map[string]string{
		"is damaged": string(whole[:len(whole)/2]), "Make it smaller": wide, "twice as wide as high": square,
		"no Radiance HDR": "PNG whatever", "header": "#?RADIANCE\nFORMAT=\n",
	} {
		if _, err := panorama.Read([]byte(data)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", want, err)
		}
	}
}

// FuzzPanorama reads anything without falling over.
func FuzzPanorama(f *testing.F) {
	var out bytes.Buffer
	HDR(&out, 16, 8, func(i int) [3]float64 { return [3]float64{1, float64(i), 0} })
	f.Add(out.Bytes())
	f.Fuzz(func(t *testing.T, data []byte) {
		if p, err := panorama.Read(data); err == nil && len(p.Pix) != p.W*p.H {
			t.Errorf("%d pixels for %dx%d", len(p.Pix), p.W, p.H)
		}
	})
}
