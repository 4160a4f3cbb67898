package studio

import (
	"archive/zip"
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"bildhauer/core/recipe"
)

// TestSeriesOutliveARestart ends the program in the middle of a series: what was done is there, the
// rest is raised after the start, each result once; it stays until it was fetched a day ago.
func TestSeriesOutliveARestart(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	var files []File
	for i := range 30 {
		files = append(files, File{Name: fmt.Sprintf("sign %d.svg", i), Data: []byte(plainSign)})
	}
	files[7].Data = []byte("<svg")
	x, err := s.StartSeries(t.Context(), files, recipe.New(), "stl")
	if err != nil {
		t.Fatal(err)
	}
	for {
		if _, done, _ := x.Count(); done > 0 {
			break
		}
		time.Sleep(time.Millisecond) // a look, not a time that anything must take
	}
	s.Close()
	before, _ := x.Lines()
	s = open(t, dir)
	list := s.SeriesList()
	if len(list) != 1 || list[0].ID != x.ID || list[0].Recipe != x.Recipe || list[0].Format != "stl" {
		t.Fatalf("after the restart: %+v", list)
	}
	x = list[0]
	<-x.over
	lines, _ := x.Lines()
	for i, l := range lines {
		want := "done"
		if i == 7 {
			want = "failed"
		}
		if l.State != want || l.Name != files[i].Name || before[i].State == "done" && before[i] != l {
			t.Errorf("line %d: %+v, before %+v", i, l, before[i])
		}
	}
	var b bytes.Buffer
	if err := x.Zip(&b); err != nil {
		t.Fatal(err)
	}
	if z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len())); err != nil || len(z.File) != 30 {
		t.Errorf("the archive: %v", err)
	}
	if left, _ := filepath.Glob(filepath.Join(x.dir, "*.in")); len(left) > 0 {
		t.Errorf("artwork that is not needed any more: %v", left)
	}
	s.TakenSeries(x)
	if list := s.SeriesList(); len(list) != 0 {
		t.Error("one that was fetched is listed")
	}
	if _, err := s.SeriesOf(x.ID); err != nil {
		t.Errorf("fetched once more within the day: %v", err)
	}
	behind(t, s, `UPDATE series SET taken_at = 1`)
	s.Close()
	s = open(t, dir)
	if _, err := s.SeriesOf(x.ID); err == nil {
		t.Error("a day later it is there")
	}
	if _, err := os.Stat(s.seriesDir(x.ID)); err == nil {
		t.Error("a day later its files are there")
	}
	// One is removed while it works.
	if x, err = s.StartSeries(t.Context(), files, recipe.New(), "stl"); err != nil {
		t.Fatal(err)
	}
	if err := s.RemoveSeries(x.ID); err != nil {
		t.Fatal(err)
	}
	if left, _ := os.ReadDir(s.seriesDir("")); len(left) > 0 || len(s.SeriesList()) > 0 {
		t.Errorf("removed, yet %v are left", left)
	}
}
