package read

import (
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"bildhauer/internal/likeness"
)

// TestFeaturesLookAsTheyShould draws small files, one feature of a format
// each, and compares them with pictures of the same files by the reference
// renderers of their formats (make references).
func TestFeaturesLookAsTheyShould(t *testing.T) {
	pictures, _ := filepath.Glob("testdata/features/*.png")
	if len(pictures) < 25 {
		t.Fatalf("only %d pictures", len(pictures))
	}
	for _, p := range pictures {
		path := strings.TrimSuffix(p, ".png")
		t.Run(filepath.Base(path), func(t *testing.T) {
			t.Parallel()
			data, err := os.ReadFile(path)
			if err != nil {
				t.Fatal(err)
			}
			s, err := Sheet(path, data)
			if err != nil {
				t.Fatal(err)
			}
			f, err := os.Open(p)
			if err != nil {
				t.Fatal(err)
			}
			defer f.Close()
			want, err := png.Decode(f)
			if err != nil {
				t.Fatal(err)
			}
			got, err := likeness.Draw(s, want.Bounds().Dx(), want.Bounds().Dy())
			if err != nil {
				t.Fatal(err)
			}
			limit := 0.01
			if strings.HasPrefix(filepath.Base(path), "text-classic") {
				limit = 0.05 // the renderer's own fonts are later cuts of the ones shipped here
			}
			if d := likeness.Differing(want, got); d > limit {
				t.Errorf("%.2f%% of the inked pixels differ; notes %v", 100*d, s.Notes)
				if dir := os.Getenv("BILDHAUER_PICTURES"); dir != "" {
					out, err := os.Create(filepath.Join(dir, filepath.Base(path)+".got.png"))
					if err == nil {
						png.Encode(out, got)
						out.Close()
					}
				}
			}
		})
	}
}
