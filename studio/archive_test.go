package studio

import (
	"archive/zip"
	"encoding/json"
	"io"
	"math"
	"strings"
	"testing"

	"bildhauer/core/recipe"
)

// TestAllPartsInOneArchive writes all parts by several patterns: each file is there under a
// name of its own, and the sheet of contents says what is in it.
func TestAllPartsInOneArchive(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"sign.svg", []byte(square)})
	same := "Sail"
	change(t, s, id, "Names", &recipe.EditParts{Parts: map[string]recipe.PartPatch{plate: {Name: &same}, pin: {Name: &same}}},
		&recipe.PaintFaces{Parts: []string{pin}, Material: &recipe.Material{Name: "Old copper", Rough: 0.4, Metal: 1}})
	for pattern, want := range map[string]string{
		"": "sign-01-Sail.stl sign-02-Sail.stl", "{part}": "Sail.stl Sail-2.stl", "pier 8/{n}": "pier-8-01.stl pier-8-02.stl",
	} {
		x, err := s.Archive(t.Context(), piece(t, s, id), "sign", pattern, "stl")
		if err != nil {
			t.Fatal(err)
		}
		z, err := zip.OpenReader(x.Path)
		if err != nil {
			t.Fatal(err)
		}
		var names []string
		var sheet Contents
		for _, f := range z.File {
			r, err := f.Open()
			if err != nil {
				t.Fatal(err)
			}
			data, err := io.ReadAll(r)
			if err != nil {
				t.Fatal(err)
			}
			if f.Name != "contents.json" {
				names = append(names, f.Name)
				if len(data) < 84 || (len(data)-84)%50 != 0 {
					t.Errorf("%s has %d bytes", f.Name, len(data))
				}
			} else if err := json.Unmarshal(data, &sheet); err != nil {
				t.Fatal(err)
			}
		}
		z.Close()
		if got := strings.Join(names, " "); got != want {
			t.Errorf("%q: %s, want %s", pattern, got, want)
		}
		if len(sheet.Parts) != 2 || sheet.Size[0] != 100 || sheet.Unit != "mm" || sheet.Parts[1].Material != "Old copper" ||
			sheet.Parts[0].Material != "" || sheet.Parts[1].File != names[1] || !sheet.Parts[0].Sound {
			t.Errorf("contents: %+v", sheet)
		}
		volume := 0.0
		for _, p := range sheet.Parts {
			volume += p.VolumeMM3
		}
		if math.Abs(volume-100*100*8) > 0.02*80_000 {
			t.Errorf("%g mm3 in all", volume)
		}
	}
	for want, ask := range map[string][2]string{"{part} or {n}": {"same", "stl"}, "stl, 3mf, ply or glb": {"", "exe"}} {
		if _, err := s.Archive(t.Context(), piece(t, s, id), "sign", ask[0], ask[1]); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%v: %v", ask, err)
		}
	}
}
