package web

import (
	"encoding/json"
	"math"
	"os"
	"testing"
)

// TestTheUSDFilesAreReadByThree has the loader of three.js read both files that leave: all
// triangles, the parts with their names and colours, the size in metres.
func TestTheUSDFilesAreReadByThree(t *testing.T) {
	loader, err := os.ReadFile("testdata/vendor/usdloader.min.js")
	if err != nil {
		t.Fatal(err)
	}
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	var checks struct{ Parts []check }
	if err := json.Unmarshal(s.get("/pieces/"+id+"/data/checks"), &checks); err != nil {
		t.Fatal(err)
	}
	want := 0
	for _, p := range checks.Parts {
		want += p.Triangles
	}
	w := open(t, s.address+"/")
	w.wait("document.body.dataset.ready")
	w.js("(() => { " + string(loader) + "; return 0; })()")
	for _, format := range []string{"usda", "usdz"} {
		w.js(`fetch("/pieces/` + id + `/file/` + format + `").then(r => r.` + map[string]string{"usda": "text", "usdz": "arrayBuffer"}[format] +
			`()).then(d => { document.body.dataset.` + format + ` = JSON.stringify(summaryOfUSD(d)); }).catch(e => { document.body.dataset.` + format + ` = String(e); })`)
		w.wait("document.body.dataset." + format)
		var found struct {
			Meshes []struct {
				Name, Parent string
				Triangles    int
				Colors       []string
			}
			Size [3]float64
		}
		text := w.text("document.body.dataset." + format)
		if err := json.Unmarshal([]byte(text), &found); err != nil {
			t.Fatalf("%s: %s", format, text)
		}
		got := 0
		for _, m := range found.Meshes {
			got += m.Triangles
		}
		if got != want || len(found.Meshes) != 2 {
			t.Fatalf("%s: %d triangles in %d meshes, want %d in 2", format, got, len(found.Meshes), want)
		}
		for i, want := range [][2]string{{"Blue", "336699"}, {"Red", "a33333"}} {
			if m := found.Meshes[i]; m.Name != want[0] || m.Parent != "piece" || len(m.Colors) != 1 || m.Colors[0] != want[1] {
				t.Errorf("%s: part %d is %+v, want %v", format, i, m, want)
			}
		}
		for k, mm := range [3]float64{100, 50, 8} {
			if math.Abs(found.Size[k]*1000-mm) > 1e-3 {
				t.Errorf("%s: %v m", format, found.Size)
			}
		}
	}
}
